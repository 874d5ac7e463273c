import { noWay } from '../dense/area-rows';
import type { ClassChoice } from '../dense/choosers';
import type { HopCode, HopSlots } from '../dense/hop-slots';
import { Offers } from '../dense/offers';
import { wider } from '../segments/number-lists';

/** A router as it reads what border routers tell one area, and what it chose before. */
export interface Reader {
  /** Index of its process. */
  readonly speaker: number;
  readonly vertex: number;
  readonly choice: ClassChoice;
  readonly slots: HopSlots;
  /** Whether its sets of next hops are numbered. */
  readonly wide: boolean;
  /** Equal ways it uses at most. */
  readonly limit: number;
}

/** The readers of one area side by side, with what each chose before for every class. */
export class ReaderTable {
  readonly speaker: Int32Array;
  readonly vertex: Int32Array;
  /** By reader and class. */
  readonly cost: Int32Array;
  readonly hops: Int32Array;
  /** While moves are counted: routes of each reader. */
  readonly lost: Int32Array;
  readonly changed: Int32Array;

  constructor(
    readonly list: readonly Reader[],
    readonly classes: number,
  ) {
    this.speaker = Int32Array.from(list, (r) => r.speaker);
    this.vertex = Int32Array.from(list, (r) => r.vertex);
    this.cost = new Int32Array(list.length * classes);
    this.hops = new Int32Array(list.length * classes);
    list.forEach(({ choice }, i) => {
      this.cost.set(choice.cost.subarray(0, classes), i * classes);
      this.hops.set(choice.hops.subarray(0, classes), i * classes);
    });
    this.lost = new Int32Array(list.length);
    this.changed = new Int32Array(list.length);
  }
}

/** Whether two sets of next hops differ within a limit of ways. */
export const otherHops = (slots: HopSlots, limit: number, a: HopCode, b: HopCode): boolean =>
  a !== b && slots.limited(a, limit) !== slots.limited(b, limit);

/** Where counts of other routes go. */
export interface Tally {
  add(speaker: number, lost: number, changed: number): void;
}

const buckets = 128;

/**
 * Prefixes of one area that border routers tell at other costs than before: move `m` is of `entries[m]` prefixes that were
 * of class `classOf[m]`, and are now told by the border routers at `vertex[e]` at `cost[e]` more than the class's offset
 * was, for `e` from `first[m]` to `first[m + 1] - 1`. Prefixes that move alike are one move.
 */
export class Moves extends Offers {
  count = 0;
  classOf = new Int32Array(64);
  entries = new Int32Array(64);
  /** Processes that do not read it: they have the prefix themselves. */
  readonly except: (ReadonlySet<number> | undefined)[] = [];
  private chain = new Int32Array(64);
  private bucket = new Int32Array(64);
  private readonly heads = new Int32Array(buckets).fill(-1);
  /** Where the move that is being written ends. */
  private end = 0;
  private readonly byId = new Map<number, number>();
  private readonly through = new Map<number, number>();
  private readonly byClass = new Map<number, number>();

  constructor() {
    super(new Int32Array(65), new Int32Array(256), new Int32Array(256));
  }

  clear(): void {
    this.end = 0;
    if (this.count === 0) return;
    for (let m = 0; m < this.count; m++) this.heads[this.bucket[m]!] = -1;
    this.count = 0;
    this.except.length = 0;
    for (const names of [this.byId, this.through, this.byClass]) if (names.size > 0) names.clear();
  }

  /** Appends a border router to the move that is being written. */
  tell(vertex: number, cost: number): void {
    if (this.end === this.vertex.length) [this.vertex, this.cost] = [wider(this.vertex), wider(this.cost)];
    this.vertex[this.end] = vertex;
    this.cost[this.end++] = cost;
  }

  /** Leaves out what was written since the last move. */
  drop(): void {
    this.end = this.first[this.count]!;
  }

  /** Ends the move that was written; gives its number, that of an equal one where there is one. */
  close(classOf: number, entries: number, except?: ReadonlySet<number>): number {
    const { first, vertex, cost, end } = this;
    const start = first[this.count]!;
    let h = classOf;
    for (let e = start; e < end; e++) h = Math.imul(h ^ cost[e]! ^ (vertex[e]! << 12), 0x9e3779b1);
    const bucket = (h ^ (h >>> 15)) & (buckets - 1);
    for (let m = this.heads[bucket] ?? -1; m >= 0; m = this.chain[m] ?? -1)
      if (this.classOf[m] === classOf && this.except[m] === except && this.isAt(m, start, end)) {
        this.entries[m] = this.entries[m]! + entries;
        this.end = start;
        return m;
      }
    const m = this.count++;
    if (m === this.classOf.length) {
      [this.classOf, this.entries, this.chain] = [wider(this.classOf), wider(this.entries), wider(this.chain)];
      [this.first, this.bucket] = [wider(this.first), wider(this.bucket)];
    }
    this.classOf[m] = classOf;
    this.entries[m] = entries;
    this.except.push(except);
    this.first[m + 1] = end;
    this.chain[m] = this.heads[bucket] ?? -1;
    this.heads[bucket] = m;
    this.bucket[m] = bucket;
    return m;
  }

  private isAt(m: number, start: number, end: number): boolean {
    const { first, vertex, cost } = this;
    const from = first[m]!;
    if (first[m + 1]! - from !== end - start) return false;
    for (let e = start; e < end; e++) if (vertex[from + e - start] !== vertex[e] || cost[from + e - start] !== cost[e]) return false;
    return true;
  }

  /** Notes the move of one prefix; of a move of the backbone; of a class of the backbone. */
  name(id: number, move: number): void {
    this.byId.set(id, move);
  }
  tellsOn(backbone: number, move: number): void {
    this.through.set(backbone, move);
  }
  tellsOnClass(backbone: number, move: number): void {
    this.byClass.set(backbone, move);
  }

  /** The move of a prefix, where it was noted; of what tells on a move or a class of the backbone. */
  named(id: number): number | undefined {
    return this.byId.get(id);
  }
  tellingOn(backbone: number): number | undefined {
    return this.through.get(backbone);
  }
  tellingOnClass(backbone: number): number | undefined {
    return this.byClass.get(backbone);
  }

  /** Counts what the moves change for every router that reads them. */
  tallyFor(readers: ReaderTable, size: number, distance: Int32Array, hops: Int32Array, tally: Tally): void {
    for (let m = 0; m < this.count; m++)
      if (this.first[m] === this.first[m + 1]) this.tallyGone(m, readers);
      else this.tallyMove(m, readers, size, distance, hops);
    const { speaker, lost, changed } = readers;
    for (let i = 0; i < speaker.length; i++) {
      const l = lost[i]!;
      const c = changed[i]!;
      if (l + c === 0) continue;
      tally.add(speaker[i]!, l, c);
      lost[i] = changed[i] = 0;
    }
  }

  /** What nobody tells any more. */
  private tallyGone(m: number, { speaker, cost, classes, lost }: ReaderTable): void {
    const k = this.classOf[m] ?? -1;
    const n = this.entries[m]!;
    const except = this.except[m];
    if (k < 0) return;
    for (let i = 0, at = k; i < speaker.length; i++, at += classes) if (cost[at]! < noWay && !except?.has(speaker[i]!)) lost[i] = lost[i]! + n;
  }

  /** What is told at other costs. Small, and of steady types: it runs for every router of an area. */
  private tallyMove(m: number, readers: ReaderTable, size: number, distance: Int32Array, hops: Int32Array): void {
    const { speaker, vertex, cost, hops: ways, classes, lost, changed, list } = readers;
    const { vertex: tellers, cost: told } = this;
    const start = this.first[m]!;
    const end = this.first[m + 1]!;
    const k = this.classOf[m] ?? -1;
    const n = this.entries[m]!;
    const except = this.except[m];
    for (let i = 0; i < speaker.length; i++) {
      const row = vertex[i]! * size;
      let best = noWay;
      let through = 0;
      for (let e = start; e < end; e++) {
        const at = row + tellers[e]!;
        const base = distance[at]!;
        const d = base + told[e]!;
        if (base >= noWay || d > best) continue;
        const h = hops[at]!;
        through = d < best || through === h ? h : joined(list[i], through, h);
        best = d;
      }
      const had = k < 0 ? noWay : cost[i * classes + k]!;
      const old = k < 0 ? 0 : ways[i * classes + k]!;
      if (best === had && (best >= noWay || through === old || !differ(list[i], old, through))) continue;
      if (except?.has(speaker[i]!)) continue;
      if (best >= noWay) lost[i] = lost[i]! + n;
      else changed[i] = changed[i]! + n;
    }
  }
}

const joined = (r: Reader | undefined, a: HopCode, b: HopCode): HopCode => (r?.wide ? r.slots.join(a, b) : a | b);
const differ = (r: Reader | undefined, a: HopCode, b: HopCode): boolean => r !== undefined && otherHops(r.slots, r.limit, a, b);
