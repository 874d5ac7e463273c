import { wider } from '../segments/number-lists';
import { noWay } from './all-distances';
import { Offers } from './offers';

/** What border routers cost apart from one another, for classes of prefixes: class `k` is offered by them, the least cost being 0. */
export type ClassVectors = Offers;

/** Finds the class of one vector after the other: `add` its costs, then `close` it. Equal vectors share a class. */
export class ClassBuilder {
  count = 0;
  /** The least cost of the vector closed last. */
  least = 0;
  private table: Int32Array = new Int32Array(128).fill(-1);
  private first: Int32Array = new Int32Array(65);
  private vertex: Int32Array = new Int32Array(192);
  private cost: Int32Array = new Int32Array(192);
  /** Where the vector that is being written begins and ends: behind those of all classes. */
  private start = 0;
  private end = 0;
  private last = -1;

  /** @param seed  classes that keep their numbers: of an earlier state, whether anything is of them still or not */
  constructor(seed?: ClassVectors) {
    if (!seed) return;
    this.count = seed.things;
    this.first = wider(seed.first, seed.things + 65);
    this.vertex = wider(seed.vertex, seed.vertex.length + 64);
    this.cost = wider(seed.cost, seed.cost.length + 64);
    this.start = this.end = seed.vertex.length;
    let size = this.table.length;
    while (seed.things * 2 > size) size *= 2;
    this.rehash(size);
  }

  add(vertex: number, cost: number): void {
    if (this.end === this.vertex.length) {
      this.vertex = wider(this.vertex, this.end + 1);
      this.cost = wider(this.cost, this.end + 1);
    }
    this.vertex[this.end] = vertex;
    this.cost[this.end++] = cost;
  }

  /** The class of the vector that was added; -1 for an empty one. Its least cost stands in `least`. */
  close(): number {
    const { start, end, cost } = this;
    if (end === start) return -1;
    let least = noWay;
    for (let e = start; e < end; e++) if (cost[e]! < least) least = cost[e]!;
    for (let e = start; e < end; e++) cost[e] = cost[e]! - least;
    this.least = least;
    this.end = start;
    // Prefixes of one place stand together.
    if (this.last >= 0 && this.isAt(this.last, start, end)) return this.last;
    const mask = this.table.length - 1;
    let i = this.hash(start, end) & mask;
    for (let n = this.table[i] ?? -1; n >= 0; n = this.table[i] ?? -1) {
      if (this.isAt(n, start, end)) {
        this.last = n;
        return n;
      }
      i = (i + 1) & mask;
    }
    return this.keep(i, end);
  }

  /** What was written last becomes a class. */
  private keep(place: number, end: number): number {
    const made = this.count++;
    this.table[place] = made;
    if (this.count === this.first.length) this.first = wider(this.first, this.count + 1);
    this.first[this.count] = end;
    this.start = end;
    this.end = end;
    this.last = made;
    if (this.count * 2 > this.table.length) this.rehash(this.table.length * 2);
    return made;
  }

  private hash(start: number, end: number): number {
    const { vertex, cost } = this;
    let h = end - start;
    for (let e = start; e < end; e++) {
      h = Math.imul(h ^ cost[e]! ^ (vertex[e]! << 20), 0x9e3779b1);
      h ^= h >>> 15;
    }
    return h;
  }

  private isAt(n: number, start: number, end: number): boolean {
    const { first, vertex, cost } = this;
    const at = first[n]!;
    if (first[n + 1]! - at !== end - start) return false;
    for (let e = start; e < end; e++) if (vertex[at + e - start] !== vertex[e] || cost[at + e - start] !== cost[e]) return false;
    return true;
  }

  private rehash(size: number): void {
    this.table = new Int32Array(size).fill(-1);
    const mask = this.table.length - 1;
    for (let n = 0; n < this.count; n++) {
      let i = this.hash(this.first[n]!, this.first[n + 1]!) & mask;
      while ((this.table[i] ?? -1) >= 0) i = (i + 1) & mask;
      this.table[i] = n;
    }
  }

  /** All classes found. */
  vectors(): ClassVectors {
    return new Offers(this.first.slice(0, this.count + 1), this.vertex.slice(0, this.start), this.cost.slice(0, this.start));
  }
}

const beginsWith = (a: Int32Array, b: Int32Array): boolean => {
  if (a.length < b.length) return false;
  for (let i = 0; i < b.length; i++) if (a[i] !== b[i]) return false;
  return true;
};

/** True when a state has all classes of another under the same numbers, with or without more behind them. */
export const extend = (now: ClassVectors, old: ClassVectors): boolean =>
  now === old || (beginsWith(now.first, old.first) && beginsWith(now.vertex, old.vertex) && beginsWith(now.cost, old.cost));
