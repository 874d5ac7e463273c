import { fateOfBits } from './fates';
import type { Fate } from './trace';

/**
 * Every source against every destination, row by row: cell (r, c) stands at place r · columns + c. What packets come to is
 * given as the bits of `fateOfBits`.
 */
export interface MatrixOf<End> {
  readonly rows: readonly End[];
  readonly columns: readonly End[];
  readonly there: Uint8Array;
  readonly back: Uint8Array;
  /** Routers after the first on the longest way there; -1: no router takes the packet. */
  readonly hops: Int16Array;
  /** Metric of the source router's OSPF route; -1 where OSPF does not bring it. */
  readonly cost: Int32Array;
  /** 1: both ways arrive, and not over the same routers. */
  readonly lopsided: Uint8Array;
}

/** One cell in words and numbers. */
export interface Cell {
  readonly there: Fate;
  readonly back: Fate;
  readonly hops: number | null;
  readonly cost: number | null;
  readonly lopsided: boolean;
}

/** The cell of a row and a column, by their places. */
export function cellAt<End>(m: MatrixOf<End>, row: number, column: number): Cell {
  const at = row * m.columns.length + column;
  const known = (n: number | undefined): number | null => (n === undefined || n < 0 ? null : n);
  return {
    there: fateOfBits(m.there[at] ?? 0),
    back: fateOfBits(m.back[at] ?? 0),
    hops: known(m.hops[at]),
    cost: known(m.cost[at]),
    lopsided: m.lopsided[at] === 1,
  };
}
