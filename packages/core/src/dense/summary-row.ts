import type { SummaryReason } from '../lsdb/lsa';
import type { Ipv4 } from '../prefix/ipv4';
import { noWay } from './area-rows';
import type { Imports } from './imports';
import type { IntPool } from './int-pool';

/** Reasons of type 3 entries by number, as `RowEntries.reason` holds them. */
export const rowReasons = ['intra-area', 'inter-area', 'range', 'stub-default'] as const satisfies readonly SummaryReason[];
const toldReason = rowReasons.indexOf('inter-area');

/** Entries of a row as arrays: entry `i` is `ids[i]` at `cost[i]`. */
export interface RowEntries {
  readonly ids: Int32Array;
  readonly cost: Int32Array;
  readonly reason: Int32Array;
  /** Index of the database each destination comes from. */
  readonly from: Int32Array;
  /** Prefixes folded into a range, by the place of its entry. */
  readonly parts: ReadonlyMap<number, readonly number[]>;
}

/**
 * What a border router tells on of all that it is told in the backbone: every class at what it costs there, but for the
 * prefixes that stand in the row itself and those that it has itself.
 */
export interface Onward {
  /** What the backbone's border routers say. */
  readonly source: Imports;
  /** Index of the backbone's database. */
  readonly from: number;
  /** This router's cost to each class, `noWay` without a way. */
  readonly cost: Int32Array;
  /** Prefixes that it has itself, list by list: the networks of each of its areas, and its own ranges in force. */
  readonly except: readonly Int32Array[];
}

/** The types 3 that one border router writes into one area. */
export interface SummaryRow {
  readonly speaker: number;
  readonly adv: Ipv4;
  /** Vertex of the border router in the area's graph; -1 when it has none. */
  readonly vertex: number;
  /** What stands in the row one by one. */
  readonly own: RowEntries;
  readonly onward?: Onward;
}

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

/** Every entry of a row one by one, what is told on behind what stands in the row itself. */
export function writtenOut(row: SummaryRow): RowEntries {
  const { own, onward } = row;
  if (!onward) return own;
  const known = new Set([own.ids, ...onward.except].flatMap((list) => Array.from(list)));
  const all = onward.source.entries;
  const ids: number[] = [];
  const cost: number[] = [];
  for (let i = 0; i < all.ids.length; i++) {
    const id = all.ids[i] ?? 0;
    const base = onward.cost[all.classOf[i] ?? 0] ?? noWay;
    if (base >= noWay || known.has(id)) continue;
    ids.push(id);
    cost.push(base + (all.offset[i] ?? 0));
  }
  const n = own.ids.length;
  const total = n + ids.length;
  const out = {
    ids: new Int32Array(total),
    cost: new Int32Array(total),
    reason: new Int32Array(total).fill(toldReason),
    from: new Int32Array(total),
  };
  out.ids.set(own.ids);
  out.ids.set(ids, n);
  out.cost.set(own.cost);
  out.cost.set(cost, n);
  out.reason.set(own.reason);
  out.from.fill(onward.from).set(own.from);
  return { ...out, parts: own.parts };
}

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
        this.set(n, this.ids[i] ?? 0, this.cost[i] ?? 0, this.reason[i] ?? 0, this.from[i] ?? 0);
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
      for (let i = 0; i < n; i++) out[i] = list[i] ?? 0;
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
