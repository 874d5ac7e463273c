import { fateOfBits } from '@gentle-compass/core/reach/fates';
import { cellAt, type Cell } from '@gentle-compass/core/reach/matrix-cells';
import type { MatrixEnd, MatrixView } from '../model/reach-view';
import { byName } from '../parts/words';

/** By what rows and columns stand together. */
export type Grouping = 'area' | 'site' | 'none';

/** What is told of a pair in one sign. */
export const kinds = ['both', 'lopsided', 'oneway', 'partly', 'leaves', 'dropped', 'looping'] as const;
export type CellKind = (typeof kinds)[number];

export const kindWords: Readonly<Record<CellKind, { readonly sign: string; readonly title: string; readonly words: string }>> = {
  both: { sign: '7', title: 'Both ways', words: 'It arrives, and the answer comes back over the same routers.' },
  lopsided: { sign: '7~', title: 'Back over others', words: 'It arrives, and the answer comes back over other routers.' },
  oneway: { sign: '→', title: 'One way only', words: 'It arrives, and the answer does not.' },
  partly: { sign: '÷', title: 'On some ways only', words: 'Not every equal way arrives.' },
  leaves: { sign: '↗', title: 'Leaves the design', words: 'It goes to a next hop that is no router of the design.' },
  dropped: { sign: '×', title: 'Dropped', words: 'It does not arrive.' },
  looping: { sign: '↻', title: 'In a circle', words: 'It comes back to a router that it passed.' },
};

/** One cell, with what is told of it in one sign. */
export interface CellView extends Cell {
  readonly kind: CellKind;
}

/** What is told of a cell in one sign, by its place. */
function kindAt(m: MatrixView, n: number): CellKind {
  const there = fateOfBits(m.there[n] ?? 2);
  if (there !== 'delivered') return there;
  return m.back[n] !== 1 ? 'oneway' : m.lopsided[n] === 1 ? 'lopsided' : 'both';
}

export const cellOf = (m: MatrixView, row: number, column: number): CellView => ({
  ...cellAt(m, row, column),
  kind: kindAt(m, row * m.columns.length + column),
});

/** What stands in a cell: the cost where it arrives both ways, else a sign. Of the same address nothing. */
export function cellText(m: MatrixView, row: number, column: number): string {
  if (m.rows[row]?.address === m.columns[column]?.address) return '·';
  const c = cellOf(m, row, column);
  if (c.kind === 'both') return String(c.cost ?? '✓');
  if (c.kind === 'lopsided') return `${c.cost ?? '✓'}~`;
  return kindWords[c.kind].sign;
}

/** Rows and columns in the order in which they stand, with where each group begins. */
export interface MatrixOrder {
  readonly rows: readonly number[];
  readonly columns: readonly number[];
  readonly rowGroups: readonly string[];
  readonly columnGroups: readonly string[];
}

/** Groups beside each other, names in their order; of a block only its own. */
export function orderOf(m: Pick<MatrixView, 'rows' | 'columns'>, grouping: Grouping, block?: readonly [string, string]): MatrixOrder {
  const groupOf = (e: MatrixEnd): string => (grouping === 'area' ? e.area : grouping === 'site' ? e.site : '');
  const sorted = (ends: readonly MatrixEnd[], only: string | undefined): number[] =>
    ends
      .map((e, n) => ({ e, n }))
      .filter(({ e }) => only === undefined || groupOf(e) === only)
      .sort((a, b) => byName(groupOf(a.e), groupOf(b.e)) || byName(a.e.router, b.e.router) || byName(a.e.address, b.e.address))
      .map(({ n }) => n);
  const [rows, columns] = [sorted(m.rows, block?.[0]), sorted(m.columns, block?.[1])];
  const of = (ends: readonly MatrixEnd[], n: number): string => {
    const e = ends[n];
    return e ? groupOf(e) : '';
  };
  return { rows, columns, rowGroups: rows.map((n) => of(m.rows, n)), columnGroups: columns.map((n) => of(m.columns, n)) };
}

/** How many pairs there are of each kind; an address with itself is no pair. */
export function sizesOf(m: MatrixView, order: Pick<MatrixOrder, 'rows' | 'columns'>): Record<CellKind, number> {
  const out: Record<CellKind, number> = { both: 0, lopsided: 0, oneway: 0, partly: 0, leaves: 0, dropped: 0, looping: 0 };
  const of = m.columns.length;
  for (const r of order.rows) {
    const own = m.rows[r]?.address;
    for (const c of order.columns) if (m.columns[c]?.address !== own) out[kindAt(m, r * of + c)]++;
  }
  return out;
}

/** How many pairs of two groups reach each other both ways. */
export interface Block {
  readonly from: string;
  readonly to: string;
  readonly both: number;
  readonly all: number;
}

/** Pairs of groups, those in which not all reach each other first; an address with itself is no pair. Counted in numbers: there may be a million cells. */
export function blocksOf(m: MatrixView, grouping: 'area' | 'site'): { readonly names: readonly string[]; readonly rows: readonly Block[] } {
  const of = (e: MatrixEnd): string => (grouping === 'area' ? e.area : e.site);
  const names = [...new Set([...m.rows, ...m.columns].map(of))];
  const place = new Map(names.map((n, i) => [n, i]));
  const [rows, columns] = [m.rows, m.columns].map((ends) => ends.map((e) => place.get(of(e)) ?? 0));
  const [both, all] = [new Int32Array(names.length ** 2), new Int32Array(names.length ** 2)];
  const width = m.columns.length;
  m.rows.forEach((r, i) => {
    for (let j = 0; j < width; j++) {
      if (m.columns[j]?.address === r.address) continue;
      const n = (rows?.[i] ?? 0) * names.length + (columns?.[j] ?? 0);
      all[n] = (all[n] ?? 0) + 1;
      if (m.there[i * width + j] === 1 && m.back[i * width + j] === 1) both[n] = (both[n] ?? 0) + 1;
    }
  });
  const blocks = [...all.keys()].flatMap((n): Block[] => {
    const count = all[n] ?? 0;
    return count === 0
      ? []
      : [{ from: names[Math.floor(n / names.length)] ?? '', to: names[n % names.length] ?? '', both: both[n] ?? 0, all: count }];
  });
  blocks.sort((a, b) => a.both / a.all - b.both / b.all || byName(a.from, b.from) || byName(a.to, b.to));
  return { names, rows: blocks };
}
