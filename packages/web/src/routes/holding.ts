import { prefixNumber } from '@gentle-compass/core/documents/leaf-types';
import { holds, parseAddress } from '@gentle-compass/core/prefix/address';
import type { RouteRow } from '../model/view';

/** What a table does with packets for one host. */
export interface Holding {
  /** Lines that hold its address, the most exact first: that one takes the packets. */
  readonly lines: readonly RouteRow[];
  readonly words: string;
}

/** The lines of a table that hold a host's address; `undefined` where the text is no whole address. Lost lines hold nothing. */
export function holdingOf(rows: readonly RouteRow[], text: string): Holding | undefined {
  const host = parseAddress(text.trim());
  if (host === undefined) return undefined;
  const lines = rows
    .filter((r) => r.change !== 'lost')
    .flatMap((row) => {
      const p = prefixNumber.read(row.prefix);
      return p && holds(p, host) ? [{ row, length: p.length }] : [];
    })
    .sort((a, b) => b.length - a.length)
    .map((x) => x.row);
  const [first, ...others] = lines;
  const also = others.length === 0 ? '' : others.length === 1 ? '; 1 more holds it' : `; ${others.length} more hold it`;
  return { lines, words: first ? `the first line takes ${text.trim()}${also}` : `no line holds ${text.trim()}: dropped` };
}
