import type { IntPool } from './int-pool';
import type { Onward, RowEntries, SummaryRow } from './told';

const sameNumbers = (a: Int32Array, b: Int32Array): boolean => {
  if (a === b) return true;
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
};

/** True when two lists of lists are the same, list by list. */
export const sameLists = (a: readonly Int32Array[], b: readonly Int32Array[]): boolean =>
  a === b || (a.length === b.length && a.every((list, i) => sameNumbers(list, b[i] ?? noNumbers)));

const noNumbers = new Int32Array(0);
const noParts: RowEntries['parts'] = new Map();

const sameOnward = (a: Onward | undefined, b: Onward | undefined): boolean =>
  a === b ||
  (a !== undefined && b !== undefined && a.source === b.source && a.from === b.from && sameNumbers(a.cost, b.cost) && sameLists(a.except, b.except));

/** True when two rows say the same; rows that tell on what two states of the backbone say count as different ones. */
export const sameRow = (a: SummaryRow, b: SummaryRow): boolean =>
  a === b || (sameNumbers(a.own.ids, b.own.ids) && sameNumbers(a.own.cost, b.own.cost) && sameOnward(a.onward, b.onward));

/** A row while it is written, in buffers that serve one row after the other. */
export class RowDraft {
  count = 0;
  readonly ids: Int32Array;
  readonly cost: Int32Array;
  readonly reason: Int32Array;
  readonly from: Int32Array;
  readonly parts = new Map<number, readonly number[]>();

  /** @param size  entries that a row can have at most */
  constructor(size: number) {
    this.ids = new Int32Array(size);
    this.cost = new Int32Array(size);
    this.reason = new Int32Array(size);
    this.from = new Int32Array(size);
  }

  clear(): void {
    this.count = 0;
    this.parts.clear();
  }

  add(id: number, cost: number, reason: number, from: number): number {
    const place = this.count++;
    this.set(place, id, cost, reason, from);
    return place;
  }

  set(place: number, id: number, cost: number, reason: number, from: number): void {
    this.ids[place] = id;
    this.cost[place] = cost;
    this.reason[place] = reason;
    this.from[place] = from;
  }

  /** Leaves only the entries that the test takes, in their order. */
  keep(test: (place: number) => boolean): void {
    let n = 0;
    for (let i = 0; i < this.count; i++) {
      if (!test(i)) {
        this.parts.delete(i);
        continue;
      }
      if (n !== i) {
        this.set(n, this.ids[i]!, this.cost[i]!, this.reason[i]!, this.from[i]!);
        const parts = this.parts.get(i);
        this.parts.delete(i);
        if (parts) this.parts.set(n, parts);
      }
      n++;
    }
    this.count = n;
  }

  /** What stands in the draft, as arrays of its own out of a pool. */
  entries(pool: IntPool): RowEntries {
    const n = this.count;
    const kept = (list: Int32Array): Int32Array => {
      const out = pool.take(n);
      for (let i = 0; i < n; i++) out[i] = list[i]!;
      return out;
    };
    return {
      ids: kept(this.ids),
      cost: kept(this.cost),
      reason: kept(this.reason),
      from: kept(this.from),
      parts: this.parts.size === 0 ? noParts : new Map(this.parts),
    };
  }
}
