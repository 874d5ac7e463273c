/** Tables that can be written as CSV. */
export const csvTables = ['routers', 'interfaces', 'links', 'addresses', 'neighbours', 'routes', 'findings'] as const;
export type CsvTable = (typeof csvTables)[number];
