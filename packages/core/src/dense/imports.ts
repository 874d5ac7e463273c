import { lsInfinity } from '../lsdb/lsa';
import { noWay } from './area-rows';
import type { HopSlots } from './hop-slots';
import type { AreaArrays, RootRows } from './internal-rows';
import type { SummaryRow } from './summary-row';

/**
 * What border routers tell one area, as a whole: entry `i` is prefix `ids[i]` and costs, at each border router, its
 * `offset[i]` more than its class. Prefixes whose costs at the border routers differ by the same amounts choose alike in
 * every router of the area: a campus of thousands of prefixes has a few classes.
 */
export interface Imports {
  readonly rows: readonly SummaryRow[];
  readonly ids: Int32Array;
  readonly classOf: Int32Array;
  readonly offset: Int32Array;
  /** Entries that the area has inside as well: there the route inside wins where it exists. */
  readonly insideToo: Uint8Array;
  readonly classCount: number;
  /** Entries of each class. */
  readonly counts: Int32Array;
  /** Cost of class `k` at border router `j` is `costs[k * rows.length + j]`; its least is 0, `noWay` where it says nothing. */
  readonly costs: Int32Array;
  /** What it was made from, when only few prefixes moved: these have classes of their own, and all others stay. */
  readonly patch?: { readonly from: Imports; readonly ids: readonly number[] };
  /** Entry of each prefix, -1 without. */
  readonly place: Int32Array;
}

/** Classes by their cost vectors, in a table with open addressing. */
class Classes {
  count = 0;
  private table = new Int32Array(512).fill(-1);
  private vectors = new Int32Array(256);

  constructor(private readonly width: number) {}

  private hash(v: Int32Array, start: number): number {
    let h = 7;
    for (let j = start; j < start + this.width; j++) {
      const x = v[j] ?? 0;
      h = Math.imul(h ^ x, 0x9e3779b1);
      h ^= h >>> 15;
    }
    return h;
  }

  /** True when a class has this vector. */
  isAt(n: number, v: Int32Array, start: number): boolean {
    const { vectors, width } = this;
    for (let j = 0; j < width; j++) if (vectors[n * width + j] !== v[start + j]) return false;
    return true;
  }

  /** The class of the vector that begins at a place of an array; a new one when it was not there. */
  of(v: Int32Array, start: number): number {
    const mask = this.table.length - 1;
    let i = this.hash(v, start) & mask;
    for (let n = this.table[i] ?? -1; n >= 0; n = this.table[i] ?? -1) {
      if (this.isAt(n, v, start)) return n;
      i = (i + 1) & mask;
    }
    const made = this.count++;
    this.table[i] = made;
    if ((made + 1) * this.width > this.vectors.length) {
      const wider = new Int32Array(this.vectors.length * 2 + this.width);
      wider.set(this.vectors);
      this.vectors = wider;
    }
    for (let j = 0; j < this.width; j++) this.vectors[made * this.width + j] = v[start + j] ?? noWay;
    if (this.count * 2 > this.table.length) this.rehash();
    return made;
  }

  private rehash(): void {
    this.table = new Int32Array(this.table.length * 2).fill(-1);
    const mask = this.table.length - 1;
    for (let n = 0; n < this.count; n++) {
      let i = this.hash(this.vectors, n * this.width) & mask;
      while ((this.table[i] ?? -1) >= 0) i = (i + 1) & mask;
      this.table[i] = n;
    }
  }

  all(): Int32Array {
    return this.vectors.slice(0, this.count * this.width);
  }
}

/** Buffers that serve one area after the other. */
export interface ImportScratch {
  readonly ids: Int32Array;
  costs: Int32Array;
}

/** Brings the rows of an area's border routers together. */
export function importsOf(area: AreaArrays, said: readonly SummaryRow[], prefixCount: number, scratch: ImportScratch): Imports {
  const rows = said.filter((r) => r.vertex >= 0 && area.graph.routers[r.vertex]?.bits.b);
  const width = rows.length;
  const place = new Int32Array(prefixCount).fill(-1);
  const { ids } = scratch;
  if (scratch.costs.length < prefixCount * width) scratch.costs = new Int32Array(prefixCount * width);
  const { costs } = scratch;
  let n = 0;
  rows.forEach((row, j) => {
    n = placeRow(row.ids, row.cost, j, width, n, place, ids, costs);
  });
  const classes = new Classes(width);
  const classOf = new Int32Array(n);
  const offset = new Int32Array(n);
  classify(n, width, costs, classes, classOf, offset);
  const insideToo = new Uint8Array(n);
  const inside = area.networks.ids;
  for (let i = 0; i < inside.length; i++) {
    const at = place[inside[i] ?? 0] ?? -1;
    if (at >= 0) insideToo[at] = 1;
  }
  const counts = new Int32Array(classes.count);
  for (let i = 0; i < n; i++) {
    const k = classOf[i] ?? 0;
    counts[k] = (counts[k] ?? 0) + 1;
  }
  return { rows, ids: ids.slice(0, n), classOf, offset, insideToo, classCount: classes.count, counts, costs: classes.all(), place };
}

/** Writes the costs of border router `j` beside those of the others; gives the number of prefixes so far. Small, and of steady types. */
function placeRow(
  said: Int32Array,
  cost: Int32Array,
  j: number,
  width: number,
  before: number,
  place: Int32Array,
  ids: Int32Array,
  costs: Int32Array,
): number {
  let n = before;
  for (let i = 0; i < said.length; i++) {
    const c = cost[i] ?? 0;
    if (c >= lsInfinity) continue;
    const id = said[i] ?? 0;
    let at = place[id] ?? -1;
    if (at < 0) {
      at = n++;
      place[id] = at;
      ids[at] = id;
      for (let other = at * width; other < at * width + width; other++) costs[other] = noWay;
    }
    costs[at * width + j] = c;
  }
  return n;
}

/** Takes the least cost of each prefix off as its offset and finds the class of what is left; prefixes of one place stand together. */
function classify(n: number, width: number, costs: Int32Array, classes: Classes, classOf: Int32Array, offset: Int32Array): void {
  let last = -1;
  for (let i = 0; i < n; i++) {
    const start = i * width;
    let least = noWay;
    for (let j = start; j < start + width; j++) least = Math.min(least, costs[j] ?? noWay);
    for (let j = start; j < start + width; j++) {
      const c = costs[j] ?? noWay;
      if (c < noWay) costs[j] = c - least;
    }
    offset[i] = least;
    if (last < 0 || !classes.isAt(last, costs, start)) last = classes.of(costs, start);
    classOf[i] = last;
  }
}

/** What one router chooses for each class: cost to add to an entry's offset, `noWay` without a way, and next hops. */
export interface ClassChoice {
  readonly cost: Int32Array;
  readonly hops: Int32Array;
}

/** Chooses for every class from `start` on among the border routers (RFC 2328 §16.2 (5) and (6)). */
export function chooseClasses(out: ClassChoice, imports: Imports, distance: Int32Array, hops: RootRows['hops'], slots: HopSlots, start = 0): void {
  const { rows, costs, classCount } = imports;
  const width = rows.length;
  out.cost.fill(noWay, start, classCount);
  for (let j = 0; j < width; j++) {
    const v = rows[j]?.vertex ?? 0;
    const base = distance[v] ?? noWay;
    const through = hops[v] ?? 0;
    if (base >= noWay) continue;
    for (let k = start; k < classCount; k++) {
      const d = base + (costs[k * width + j] ?? noWay);
      const best = out.cost[k] ?? noWay;
      if (d > best || d >= noWay) continue;
      out.hops[k] = d < best ? through : slots.join(out.hops[k] ?? 0, through);
      out.cost[k] = d;
    }
  }
}
