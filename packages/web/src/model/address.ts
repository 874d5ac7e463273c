import type { Family } from '@gentle-compass/core/design/family';
import { sheetNames, type SheetName } from '@gentle-compass/core/sheets/sheet-names';

/** The stages of the work that can be entered, in their order. */
export const stages = ['layout', 'neighbours', 'areas', 'summaries', 'routes', 'failures', 'changes'] as const;
export type Stage = (typeof stages)[number];

/** Views of the neighbours stage. */
export const meetings = ['pairs', 'leading', 'part', 'keys', 'alike', 'costs'] as const;
export type Meeting = (typeof meetings)[number];

/** What of an opened pair is looked at: its values, or how it comes up. */
export const faces = ['values', 'up'] as const;
export type Face = (typeof faces)[number];

/** Views of the areas stage. */
export const areaShows = ['glance', 'types', 'databases', 'reach', 'outside', 'filters'] as const;
export type AreaShow = (typeof areaShows)[number];

/** Views of the summaries stage. */
export const summaryParts = ['ruler', 'outside', 'cost', 'dangers'] as const;
export type SummaryPart = (typeof summaryParts)[number];

/** Views of the routes stage. */
export const routeLooks = ['tables', 'beside', 'prefix', 'tree', 'trace', 'matrix', 'expected'] as const;
export type RouteLook = (typeof routeLooks)[number];

/** What of failures is looked at: what is lost, how long it takes, every failure one after the other, what links would carry, what routers could do at once. */
export const tellings = ['lost', 'time', 'every', 'load', 'repair'] as const;
export type Telling = (typeof tellings)[number];

/** Where the user is: what the address bar holds. */
export interface Address {
  /** The family that is looked at: IPv6 only where it is asked for. */
  readonly family: Family;
  readonly stage: Stage;
  readonly router: string | undefined;
  readonly segment: number | undefined;
  readonly pair: string | undefined;
  /** What of the neighbours is looked at, and what of an opened pair. */
  readonly meet: Meeting;
  readonly face: Face;
  /** The chosen line of a table, as it is written: `10.96.64.0/18`. */
  readonly prefix: string | undefined;
  readonly fail: readonly string[];
  readonly tell: Telling;
  /** What happens after the first moment, each as `MS KIND WHAT`. */
  readonly then: readonly string[];
  /** Pairs that are followed in time, each as `FROM TO`; none: some that a failure touches. */
  readonly watch: readonly string[];
  /** The chosen area, as a number. */
  readonly area: number | undefined;
  /** What of the areas is looked at. */
  readonly show: AreaShow;
  /** What of the summaries is looked at. */
  readonly part: SummaryPart;
  /** What of the routes is looked at. */
  readonly look: RouteLook;
  /** Where packets begin and end, in a trace or a matrix: an address, a router, a group. */
  readonly from: string | undefined;
  readonly to: string | undefined;
  /** The chosen advertisement, by its key. */
  readonly lsa: string | undefined;
  /** The router whose database or table is laid beside that of the chosen one; of tables several, with commas between. */
  readonly beside: string | undefined;
  /** The table that stands in the place of the map. */
  readonly table: SheetName | undefined;
}

/** A prefix of either family as a table writes it; whether the table has it is another question. */
const prefixText = (text: string | null): string | undefined => (text !== null && /^[0-9a-f.:]{2,39}\/\d{1,3}$/.test(text) ? text : undefined);

/** Reads an address from a query; what it does not know is left out. */
export function parseAddress(query: string): Address {
  const q = new URLSearchParams(query);
  const number = (name: string): number | undefined => {
    const text = q.get(name);
    return text !== null && /^\d{1,15}$/.test(text) ? Number(text) : undefined;
  };
  return {
    family: q.get('family') === '6' ? 6 : 4,
    stage: stages.find((s) => s === q.get('stage')) ?? 'layout',
    router: q.get('router') ?? undefined,
    segment: number('segment'),
    pair: q.get('pair') ?? undefined,
    meet: meetings.find((m) => m === q.get('meet')) ?? 'pairs',
    face: faces.find((f) => f === q.get('face')) ?? 'values',
    prefix: prefixText(q.get('prefix')),
    fail: q.getAll('fail'),
    tell: tellings.find((t) => t === q.get('tell')) ?? 'lost',
    then: q.getAll('then'),
    watch: q.getAll('watch'),
    area: number('area'),
    show: areaShows.find((s) => s === q.get('show')) ?? 'glance',
    part: summaryParts.find((s) => s === q.get('part')) ?? 'ruler',
    look: routeLooks.find((s) => s === q.get('look')) ?? 'tables',
    from: q.get('from') ?? undefined,
    to: q.get('to') ?? undefined,
    lsa: q.get('lsa') ?? undefined,
    beside: q.get('beside') ?? undefined,
    table: sheetNames.find((t) => t === q.get('table')),
  };
}

/** Writes an address as a query. */
export function formatAddress(a: Address): string {
  const q = new URLSearchParams();
  if (a.family === 6) q.set('family', '6');
  if (a.stage !== 'layout') q.set('stage', a.stage);
  if (a.router !== undefined) q.set('router', a.router);
  if (a.segment !== undefined) q.set('segment', String(a.segment));
  if (a.pair !== undefined) q.set('pair', a.pair);
  if (a.meet !== 'pairs') q.set('meet', a.meet);
  if (a.face !== 'values') q.set('face', a.face);
  if (a.prefix !== undefined) q.set('prefix', a.prefix);
  if (a.table !== undefined) q.set('table', a.table);
  if (a.area !== undefined) q.set('area', String(a.area));
  if (a.show !== 'glance') q.set('show', a.show);
  if (a.part !== 'ruler') q.set('part', a.part);
  if (a.look !== 'tables') q.set('look', a.look);
  if (a.from !== undefined) q.set('from', a.from);
  if (a.to !== undefined) q.set('to', a.to);
  if (a.lsa !== undefined) q.set('lsa', a.lsa);
  if (a.beside !== undefined) q.set('beside', a.beside);
  for (const f of a.fail) q.append('fail', f);
  if (a.tell !== 'lost') q.set('tell', a.tell);
  for (const t of a.then) q.append('then', t);
  for (const w of a.watch) q.append('watch', w);
  const text = q.toString();
  return text === '' ? '/' : `/?${text}`;
}

export const readAddress = (): Address => parseAddress(window.location.search);

/** Puts an address into the address bar as a new entry of its history, unless it stands there already. */
export function writeAddress(a: Address): void {
  const text = formatAddress(a);
  if (text !== window.location.pathname + window.location.search) window.history.pushState(null, '', text);
}
