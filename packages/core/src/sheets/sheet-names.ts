/** The tables that an engineer would otherwise keep in a spreadsheet. */
export const sheetNames = ['routers', 'interfaces', 'links', 'plan', 'statics', 'families'] as const;
export type SheetName = (typeof sheetNames)[number];
