import type { SummaryReason } from '../lsdb/lsa';
import type { Ipv4 } from '../prefix/ipv4';
import { noWay, type AreaNetworks } from './area-rows';
import type { ClassVectors } from './class-vectors';

/** Reasons of type 3 entries by number, as `RowEntries.reason` holds them. */
export const rowReasons = ['intra-area', 'inter-area', 'range', 'stub-default'] as const satisfies readonly SummaryReason[];
const toldReason = rowReasons.indexOf('inter-area');

/** Prefixes that an area is told of: entry `i` is prefix `ids[i]` and costs, at each border router, its `offset[i]` more than its class. */
export interface Entries {
  readonly ids: Int32Array;
  readonly classOf: Int32Array;
  readonly offset: Int32Array;
}

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

/** Entries that are those of other imports: class `q` there is class `classOf[q]` here (-1: nobody tells it on), at `offset[q]` more. */
interface ToldOn {
  readonly source: Imports;
  readonly classOf: Int32Array;
  readonly offset: Int32Array;
  /** Prefixes that stand by themselves here, or that somebody does not tell on: lists that may name one more than once. */
  readonly hidden: readonly Int32Array[];
}

/** The class of a prefix, and how much more it costs than that. */
export interface ToldAs {
  readonly class: number;
  readonly offset: number;
}

/**
 * What border routers tell one area, as a whole. Prefixes whose costs at the border routers differ by the same amounts
 * choose alike in every router of the area: a campus of thousands of prefixes has a few classes. What all border routers
 * tell on from the backbone is not written out prefix by prefix, but class by class.
 */
export class Imports {
  private all: Entries | undefined;
  private places: Int32Array | undefined;
  private dearest: number | undefined;

  constructor(
    /** The rows of border routers that can be used, by the places that vectors name. */
    readonly rows: readonly SummaryRow[],
    readonly vectors: ClassVectors,
    /** Entries of each class. */
    readonly counts: Int32Array,
    /** What is not told on as a class. */
    readonly own: Entries,
    readonly told: ToldOn | undefined,
    /** Entries that the area has inside as well: there the route inside wins where it exists. */
    readonly insideToo: readonly number[],
    /** The networks that the area has itself. */
    readonly networks: AreaNetworks,
    readonly prefixCount: number,
  ) {}

  get classCount(): number {
    return this.vectors.things;
  }

  /** Every entry one by one. */
  get entries(): Entries {
    return (this.all ??= this.told ? this.writeOut(this.told) : this.own);
  }

  private writeOut(told: ToldOn): Entries {
    const { source, hidden } = told;
    const from = source.entries;
    const size = this.own.ids.length + from.ids.length;
    const [ids, classOf, offset] = [new Int32Array(size), new Int32Array(size), new Int32Array(size)];
    ids.set(this.own.ids);
    classOf.set(this.own.classOf);
    offset.set(this.own.offset);
    const skip = new Uint8Array(this.prefixCount);
    for (const list of hidden) for (let i = 0; i < list.length; i++) skip[list[i]!] = 1;
    let n = this.own.ids.length;
    for (let i = 0; i < from.ids.length; i++) {
      const id = from.ids[i]!;
      const q = from.classOf[i]!;
      const k = told.classOf[q] ?? -1;
      if (k < 0 || skip[id] === 1) continue;
      ids[n] = id;
      classOf[n] = k;
      offset[n++] = from.offset[i]! + told.offset[q]!;
    }
    return { ids: ids.subarray(0, n), classOf: classOf.subarray(0, n), offset: offset.subarray(0, n) };
  }

  /** The dearest offset of any entry. */
  get dearestOffset(): number {
    if (this.dearest === undefined) {
      let most = 0;
      for (const o of this.entries.offset) if (o > most) most = o;
      this.dearest = most;
    }
    return this.dearest;
  }

  /** Where a prefix belongs; `undefined` for one that the area is not told of. */
  find(id: number): ToldAs | undefined {
    const k = this.classAt(id);
    return k < 0 ? undefined : { class: k, offset: this.offsetAt(id) };
  }

  /** The class of a prefix, -1 for one that the area is not told of; and its offset there, for those who ask often. */
  classAt(id: number): number {
    const at = (this.places ??= this.findPlaces())[id] ?? notTold;
    if (at >= 0) return this.own.classOf[at]!;
    const there = at === notTold || !this.told ? -1 : this.told.source.classAt(id);
    return there < 0 ? -1 : (this.told!.classOf[there] ?? -1);
  }
  private offsetAt(id: number): number {
    const at = this.places![id]!;
    if (at >= 0) return this.own.offset[at]!;
    const { source, offset } = this.told!;
    return source.offsetAt(id) + offset[source.classAt(id)]!;
  }

  private readonly known = new WeakMap<Int32Array, Entries>();

  /** Those of a list that stand in these imports. The answer is kept: border routers of one area ask for the same lists. */
  among(list: Int32Array): Entries {
    let found = this.known.get(list);
    if (!found) {
      const [ids, classOf, offset] = [new Int32Array(list.length), new Int32Array(list.length), new Int32Array(list.length)];
      let n = 0;
      for (let i = 0; i < list.length; i++) {
        const id = list[i]!;
        const k = this.classAt(id);
        if (k < 0) continue;
        ids[n] = id;
        classOf[n] = k;
        offset[n++] = this.offsetAt(id);
      }
      found = { ids: ids.subarray(0, n), classOf: classOf.subarray(0, n), offset: offset.subarray(0, n) };
      this.known.set(list, found);
    }
    return found;
  }

  /** Prefixes that are of another class than in earlier imports, or cost something else, or came or went; classes have the same numbers. */
  movedSince(old: Imports): readonly number[] {
    const out: number[] = [];
    const { ids, classOf, offset } = this.entries;
    for (let i = 0; i < ids.length; i++) {
      const id = ids[i]!;
      if (old.classAt(id) !== classOf[i] || old.offsetAt(id) !== offset[i]) out.push(id);
    }
    for (const id of old.entries.ids) if (this.classAt(id) < 0) out.push(id);
    return out;
  }

  /** Prefixes that are no part of what is told on as a class. */
  setApart(): number[] {
    const out = new Set<number>();
    for (const list of this.told?.hidden ?? []) for (let i = 0; i < list.length; i++) out.add(list[i]!);
    return [...out];
  }

  /** True for a prefix that is no part of what is told on as a class. */
  standsApart(id: number): boolean {
    return (this.places ??= this.findPlaces())[id] !== maybeTold;
  }

  /** By prefix: its place among the own entries, or whether it may stand in the source. */
  private findPlaces(): Int32Array {
    const { own, told } = this;
    const places = new Int32Array(this.prefixCount).fill(told ? maybeTold : notTold);
    for (const list of told?.hidden ?? []) for (let i = 0; i < list.length; i++) places[list[i]!] = notTold;
    for (let i = 0; i < own.ids.length; i++) places[own.ids[i]!] = i;
    return places;
  }
}

const notTold = -1;
const maybeTold = -2;

/** Every entry of a row one by one, what is told on behind what stands in the row itself. */
export function writtenOut(row: SummaryRow): RowEntries {
  const { own, onward } = row;
  if (!onward) return own;
  const known = new Set([own.ids, ...onward.except].flatMap((list) => Array.from(list)));
  const all = onward.source.entries;
  const ids: number[] = [];
  const cost: number[] = [];
  for (let i = 0; i < all.ids.length; i++) {
    const id = all.ids[i]!;
    const base = onward.cost[all.classOf[i]!]!;
    if (base >= noWay || known.has(id)) continue;
    ids.push(id);
    cost.push(base + all.offset[i]!);
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
