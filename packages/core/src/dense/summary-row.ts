import type { SummaryReason } from '../lsdb/lsa';
import type { Ipv4 } from '../prefix/ipv4';

/** Reasons of type 3 entries by number, as `SummaryRow.reason` holds them. */
export const rowReasons = ['intra-area', 'inter-area', 'range', 'stub-default'] as const satisfies readonly SummaryReason[];

/** The types 3 that one border router writes into one area, as arrays: entry `i` is `ids[i]` at `cost[i]`. */
export interface SummaryRow {
  readonly speaker: number;
  readonly adv: Ipv4;
  /** Vertex of the border router in the area's graph; -1 when it has none. */
  readonly vertex: number;
  readonly ids: Int32Array;
  readonly cost: Int32Array;
  readonly reason: Uint8Array;
  /** Index of the database each destination comes from. */
  readonly from: Int32Array;
  /** Prefixes folded into a range, by the place of its entry. */
  readonly parts: ReadonlyMap<number, readonly number[]>;
}

/** True when two rows say the same. */
export function sameRow(a: SummaryRow, b: SummaryRow): boolean {
  const n = a.ids.length;
  if (a === b) return true;
  if (b.ids.length !== n) return false;
  for (let i = 0; i < n; i++) if (a.ids[i] !== b.ids[i] || a.cost[i] !== b.cost[i]) return false;
  return true;
}

/** A row while it is written, in buffers that serve one row after the other. */
export class RowDraft {
  count = 0;
  readonly ids: Int32Array;
  readonly cost: Int32Array;
  readonly reason: Uint8Array;
  readonly from: Int32Array;
  readonly parts = new Map<number, readonly number[]>();

  /** @param size  entries that a row can have at most */
  constructor(size: number) {
    this.ids = new Int32Array(size);
    this.cost = new Int32Array(size);
    this.reason = new Uint8Array(size);
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

  /** The finished row. */
  row(speaker: number, adv: Ipv4, vertex: number): SummaryRow {
    const n = this.count;
    return {
      speaker,
      adv,
      vertex,
      ids: this.ids.slice(0, n),
      cost: this.cost.slice(0, n),
      reason: this.reason.slice(0, n),
      from: this.from.slice(0, n),
      parts: new Map(this.parts),
    };
  }
}
