import { wider } from '../segments/number-lists';
import { noWay } from './area-rows';

/**
 * What border routers cost apart from one another, for classes of prefixes: class `k` is told of by the border routers
 * `row[e]` at `cost[e]`, for `e` from `first[k]` to `first[k + 1] - 1`. Places of border routers ascend, the least cost is 0.
 */
export interface ClassVectors {
  readonly count: number;
  readonly first: Int32Array;
  readonly row: Int32Array;
  readonly cost: Int32Array;
}

/** Finds the class of one vector after the other: `add` its costs, then `close` it. Equal vectors share a class. */
export class ClassBuilder {
  count = 0;
  /** The least cost of the vector closed last. */
  least = 0;
  private table: Int32Array = new Int32Array(128).fill(-1);
  private first: Int32Array = new Int32Array(65);
  private row: Int32Array = new Int32Array(192);
  private cost: Int32Array = new Int32Array(192);
  /** Where the vector that is being written begins and ends: behind those of all classes. */
  private start = 0;
  private end = 0;
  private last = -1;

  /** @param seed  classes that keep their numbers: of an earlier state, whether anything is of them still or not */
  constructor(seed?: ClassVectors) {
    if (!seed) return;
    this.count = seed.count;
    this.first = wider(seed.first, seed.count + 65);
    this.row = wider(seed.row, seed.row.length + 64);
    this.cost = wider(seed.cost, seed.cost.length + 64);
    this.start = this.end = seed.row.length;
    let size = this.table.length;
    while (seed.count * 2 > size) size *= 2;
    this.rehash(size);
  }

  add(row: number, cost: number): void {
    if (this.end === this.row.length) {
      this.row = wider(this.row, this.end + 1);
      this.cost = wider(this.cost, this.end + 1);
    }
    this.row[this.end] = row;
    this.cost[this.end++] = cost;
  }

  /** The class of the vector that was added; -1 for an empty one. Its least cost stands in `least`. */
  close(): number {
    const { start, end, cost } = this;
    if (end === start) return -1;
    let least = noWay;
    for (let e = start; e < end; e++) if ((cost[e] ?? 0) < least) least = cost[e] ?? 0;
    for (let e = start; e < end; e++) cost[e] = (cost[e] ?? 0) - least;
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
    const { row, cost } = this;
    let h = end - start;
    for (let e = start; e < end; e++) {
      h = Math.imul(h ^ (cost[e] ?? 0) ^ ((row[e] ?? 0) << 20), 0x9e3779b1);
      h ^= h >>> 15;
    }
    return h;
  }

  private isAt(n: number, start: number, end: number): boolean {
    const { first, row, cost } = this;
    const at = first[n] ?? 0;
    if ((first[n + 1] ?? 0) - at !== end - start) return false;
    for (let e = start; e < end; e++) if (row[at + e - start] !== row[e] || cost[at + e - start] !== cost[e]) return false;
    return true;
  }

  private rehash(size: number): void {
    this.table = new Int32Array(size).fill(-1);
    const mask = this.table.length - 1;
    for (let n = 0; n < this.count; n++) {
      let i = this.hash(this.first[n] ?? 0, this.first[n + 1] ?? 0) & mask;
      while ((this.table[i] ?? -1) >= 0) i = (i + 1) & mask;
      this.table[i] = n;
    }
  }

  /** All classes found. */
  vectors(): ClassVectors {
    return {
      count: this.count,
      first: this.first.slice(0, this.count + 1),
      row: this.row.slice(0, this.start),
      cost: this.cost.slice(0, this.start),
    };
  }
}

const beginsWith = (a: Int32Array, b: Int32Array): boolean => {
  if (a.length < b.length) return false;
  for (let i = 0; i < b.length; i++) if (a[i] !== b[i]) return false;
  return true;
};

/** True when a state has all classes of another under the same numbers, with or without more behind them. */
export const extend = (now: ClassVectors, old: ClassVectors): boolean =>
  now === old || (beginsWith(now.first, old.first) && beginsWith(now.row, old.row) && beginsWith(now.cost, old.cost));
