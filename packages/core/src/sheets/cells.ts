import Papa from 'papaparse';
import { formatPrefix } from '../prefix/address';
import type { Prediction } from '../predict';
import { sheetColumns, type SheetName, type SheetRow } from './sheet';

/** What typing a value into a cell means: lines of quick entry, or why it cannot be changed there. */
export type CellWish = { readonly lines: readonly string[] } | { readonly refused: string };

const quoted = (name: string): string => (/\s/.test(name) ? `"${name}"` : name);

const set = (parameter: string, value: string, ...places: readonly string[]): CellWish => ({
  lines: [`${value === '' ? `clear ${parameter}` : `set ${parameter} ${quoted(value)}`} on ${places.map(quoted).join(' ')}`],
});

/** All ends of the wire that an interface is on, that interface first, as `ROUTER/INTERFACE`. */
function endsOf(p: Prediction, key: string): string[] {
  const place = (m: { router: number; iface: number }): string => {
    const r = p.design.routers[m.router];
    return `${r?.name ?? ''}/${r?.interfaces[m.iface]?.name ?? ''}`;
  };
  const segment = p.segments.list.find((s) => s.members.some((m) => place(m) === key));
  const ends = (segment?.members ?? []).map(place);
  return [key, ...ends.filter((e) => e !== key)];
}

/** An address as it was typed; one without a length keeps the length that stands there, or that loopbacks have. */
const withLength = (value: string, before: string): string =>
  /[/\s]/.test(value) ? value : `${value}/${before.split(/[/ ]/)[1] ?? (value.includes(':') ? '128' : '32')}`;

function routerWish(p: Prediction, row: SheetRow, column: string, value: string): CellWish {
  const name = quoted(row.router);
  switch (column) {
    case 'router':
      return value === ''
        ? { refused: 'A router needs a name; to take it away, type "delete router".' }
        : { lines: [`rename ${name} as ${quoted(value)}`] };
    case 'loopback': {
      const r = p.design.routers.find((x) => x.name === row.router);
      const loopback = r?.interfaces.find((i) => i.kind === 'loopback');
      if (!loopback) return { refused: `${row.router} has no loopback interface to hold an address.` };
      const place = quoted(`${row.router}/${loopback.name}`);
      return { lines: [value === '' ? `address ${place} off` : `address ${place} as ${withLength(value, '')}`] };
    }
    default:
      return set(column, value, row.router);
  }
}

function interfaceWish(row: SheetRow, column: string, value: string): CellWish {
  const place = quoted(row.key);
  const before = row.cells[sheetColumns.interfaces.findIndex((c) => c.id === 'address')] ?? '';
  if (column === 'address') return { lines: [value === '' ? `address ${place} off` : `address ${place} as ${withLength(value, before)}`] };
  if (column === 'area') return { lines: [value === '' ? `leave ${place}` : `join ${place} area ${value}`] };
  return set(column, value, row.key);
}

function linkWish(p: Prediction, row: SheetRow, column: string, value: string): CellWish {
  const ends = endsOf(p, row.key);
  switch (column) {
    case 'subnet':
      return value === ''
        ? { refused: 'A link needs a subnet; to take it away, type "delete link".' }
        : { lines: [`renumber ${quoted(row.key)} as ${value}`] };
    case 'area':
      return { lines: ends.map((e) => (value === '' ? `leave ${quoted(e)}` : `join ${quoted(e)} area ${value}`)) };
    case 'cost':
      return set('cost', value, row.key);
    case 'cost-back':
      return ends.length === 2
        ? set('cost', value, ends[1] ?? '')
        : { refused: 'On a LAN every router has its own cost: set it in the table of interfaces.' };
    default:
      return set(column, value, ...ends);
  }
}

function planWish(row: SheetRow, value: string): CellWish {
  const cell = (id: string): string => row.cells[sheetColumns.plan.findIndex((c) => c.id === id)] ?? '';
  const [kind, old, area] = [cell('kind'), cell('prefix'), cell('area')];
  if (value === '') return { refused: 'What stands in the plan is taken away where it is used.' };
  if (kind === 'summary') return { lines: [`range ${old} area ${area} off`, `range ${value} area ${area}`] };
  if (kind.startsWith('pool')) return { refused: 'A pool is changed in the settings document; type "pool" to add one.' };
  return { lines: [`renumber ${quoted(row.key)} as ${withLength(value, old)}`] };
}

function staticWish(p: Prediction, row: SheetRow, column: string, value: string): CellWish {
  const cell = (id: string): string => row.cells[sheetColumns.statics.findIndex((c) => c.id === id)] ?? '';
  const route = p.design.routers.find((r) => r.name === row.router)?.staticRoutes.find((s) => formatPrefix(s.prefix) === cell('prefix'));
  if ((route?.nextHops.length ?? 0) > 1) return { refused: 'This route has several next hops: change it in the router’s document.' };
  const [prefix, hop, preference] = [cell('prefix'), cell('next-hop'), cell('preference')];
  const line = (to: { prefix?: string; hop?: string; preference?: string }): string => {
    const h = to.hop ?? hop;
    const pref = to.preference ?? preference;
    return `static ${to.prefix ?? prefix} on ${quoted(row.router)} ${h === 'discard' ? 'discard' : `via ${h}`}${pref === '' ? '' : ` preference ${pref}`}`;
  };
  if (column === 'prefix') return { lines: [`static ${prefix} on ${quoted(row.router)} off`, ...(value === '' ? [] : [line({ prefix: value })])] };
  if (column === 'next-hop') return value === '' ? { refused: 'A static route needs a next hop, or "discard".' } : { lines: [line({ hop: value })] };
  return { lines: [line({ preference: value })] };
}

/**
 * What typing a value into a cell of a sheet means.
 *
 * @param value  what was typed; empty takes the value out, so that its default holds
 */
export function cellWish(name: SheetName, p: Prediction, row: SheetRow, column: string, value: string): CellWish {
  const c = sheetColumns[name].find((x) => x.id === column);
  if (!c?.typed) return { refused: `“${c?.name ?? column}” is worked out and cannot be typed over.` };
  const wish = wishOf(name, p, row, column, value.trim());
  if ('refused' in wish || p.family !== 6) return wish;
  return { lines: wish.lines.map((line) => (line.startsWith('rename ') ? line : `v3 ${line}`)) };
}

function wishOf(name: SheetName, p: Prediction, row: SheetRow, column: string, v: string): CellWish {
  switch (name) {
    case 'routers':
      return routerWish(p, row, column, v);
    case 'interfaces':
      return interfaceWish(row, column, v);
    case 'links':
      return linkWish(p, row, column, v);
    case 'plan':
      return planWish(row, v);
    case 'statics':
      return staticWish(p, row, column, v);
    case 'families':
      return { refused: 'Both families are laid side by side here; change them in their own tables.' };
  }
}

/** A cell that is to become another value. */
export interface CellChange {
  readonly row: SheetRow;
  readonly column: string;
  readonly value: string;
  /** Where it stood in what was pasted, from 1. */
  readonly at: { readonly row: number; readonly column: number };
}
export interface Pasted {
  readonly changes: readonly CellChange[];
  /** What has no place in the table, in words. */
  readonly faults: readonly string[];
}

/** Columns that name a row, where what is pasted brings its own header. */
const keyColumns: Readonly<Record<SheetName, readonly string[]>> = {
  routers: ['router'],
  interfaces: ['router', 'interface'],
  links: ['router', 'interface'],
  plan: ['prefix'],
  statics: ['router', 'prefix'],
  families: ['router', 'interface'],
};

/** Cells of a text that a spreadsheet gave: tabs between, lines below, quotes around what holds either. */
export const cellsOf = (text: string): string[][] => Papa.parse<string[]>(text.replace(/\r\n?/g, '\n').replace(/\n$/, ''), { delimiter: '\t' }).data;

/**
 * Lays pasted cells over a sheet. With a header line of its own, rows are found by the columns that name them, in any order;
 * without one they are laid from a cell on, downwards and to the right. What equals what stands there changes nothing.
 *
 * @param rows  the rows as they are shown, in their order
 * @param from  place among the rows and columns where the first cell goes
 * @param all  every row of the table, also those that are not shown: what brings its header is found among these
 */
export function pasteOver(name: SheetName, rows: readonly SheetRow[], text: string, from: { row: number; column: number }, all = rows): Pasted {
  const columns = sheetColumns[name];
  const block = cellsOf(text);
  const [head = []] = block;
  const named = head.map((h) => columns.findIndex((c) => c.name === h.trim() || c.id === h.trim()));
  const keys = keyColumns[name].map((k) => named.findIndex((n) => columns[n]?.id === k));
  const headed = head.length > 1 && named.every((n) => n >= 0) && keys.every((k) => k >= 0);
  const faults: string[] = [];
  const changes: CellChange[] = [];
  const take = (row: SheetRow, n: number, value: string, at: { row: number; column: number }): void => {
    const c = columns[n];
    if (c && (row.cells[n] ?? '') !== value.trim()) changes.push({ row, column: c.id, value, at });
  };
  if (headed) {
    const keyOf = (cells: readonly string[], places: readonly number[]): string => places.map((k) => cells[k]?.trim() ?? '').join('\t');
    const own = keyColumns[name].map((k) => columns.findIndex((c) => c.id === k));
    const known = new Map(all.map((r) => [keyOf(r.cells, own), r]));
    block.slice(1).forEach((cells, i) => {
      const row = known.get(keyOf(cells, keys));
      if (!row) faults.push(`Line ${i + 2}: the table has no row for ${keyOf(cells, keys).replaceAll('\t', ', ')}.`);
      else cells.forEach((v, j) => keys.includes(j) || take(row, named[j] ?? -1, v, { row: i + 2, column: j + 1 }));
    });
    return { changes, faults };
  }
  block.forEach((cells, i) => {
    const row = rows[from.row + i];
    if (!row) return;
    cells.forEach((v, j) => take(row, from.column + j, v, { row: i + 1, column: j + 1 }));
  });
  const over = from.row + block.length - rows.length;
  if (over > 0) faults.push(`${over} ${over === 1 ? 'line has' : 'lines have'} no row left below: new rows are made by quick entry or by CSV files.`);
  const wide = Math.max(...block.map((b) => b.length)) + from.column - columns.length;
  if (wide > 0) faults.push(`${wide} ${wide === 1 ? 'column has' : 'columns have'} no place to the right.`);
  return { changes, faults };
}

/** Cells as text for a spreadsheet, with the header: tabs between, CRLF after each line; nothing in it can run as a formula. */
export function copyOut(name: SheetName, rows: readonly SheetRow[]): string {
  return Papa.unparse(
    { fields: sheetColumns[name].map((c) => c.name), data: rows.map((r) => [...r.cells]) },
    { delimiter: '\t', newline: '\r\n', escapeFormulae: /^[=+\-@\t\r]|^\s+[=+\-@]/ },
  );
}
