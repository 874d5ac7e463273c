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
  /** Cost of class `k` at border router `j` is `costs[k * rows.length + j]`; its least is 0, `noWay` where it says nothing. */
  readonly costs: Int32Array;
  /** Entry of each prefix, -1 without. */
  readonly place: Int32Array;
}

/** Classes by their cost vectors, in a table with open addressing. */
class Classes {
  count = 0;
  private table = new Int32Array(512).fill(-1);
  private vectors = new Int32Array(256);

  constructor(private readonly width: number) {}

  private hash(v: Int32Array): number {
    let h = 7;
    for (let j = 0; j < this.width; j++) {
      const x = v[j] ?? 0;
      h = Math.imul(h ^ x, 0x9e3779b1);
      h ^= h >>> 15;
    }
    return h;
  }

  private isAt(n: number, v: Int32Array): boolean {
    for (let j = 0; j < this.width; j++) if (this.vectors[n * this.width + j] !== v[j]) return false;
    return true;
  }

  /** The class of a vector; a new one when it was not there. */
  of(v: Int32Array): number {
    const mask = this.table.length - 1;
    let i = this.hash(v) & mask;
    for (let n = this.table[i] ?? -1; n >= 0; n = this.table[i] ?? -1) {
      if (this.isAt(n, v)) return n;
      i = (i + 1) & mask;
    }
    const made = this.count++;
    this.table[i] = made;
    if ((made + 1) * this.width > this.vectors.length) {
      const wider = new Int32Array(this.vectors.length * 2 + this.width);
      wider.set(this.vectors);
      this.vectors = wider;
    }
    this.vectors.set(v, made * this.width);
    if (this.count * 2 > this.table.length) this.rehash();
    return made;
  }

  private rehash(): void {
    this.table = new Int32Array(this.table.length * 2).fill(-1);
    const mask = this.table.length - 1;
    for (let n = 0; n < this.count; n++) {
      let i = this.hash(this.vectors.subarray(n * this.width, (n + 1) * this.width)) & mask;
      while ((this.table[i] ?? -1) >= 0) i = (i + 1) & mask;
      this.table[i] = n;
    }
  }

  all(): Int32Array {
    return this.vectors.slice(0, this.count * this.width);
  }
}

/** Brings the rows of an area's border routers together. */
export function importsOf(area: AreaArrays, said: readonly SummaryRow[], prefixCount: number): Imports {
  const rows = said.filter((r) => r.vertex >= 0 && area.graph.routers[r.vertex]?.bits.b);
  const width = rows.length;
  const place = new Int32Array(prefixCount).fill(-1);
  const ids = new Int32Array(Math.max(...rows.map((r) => r.ids.length), 0) + prefixCount);
  const costs = new Int32Array(ids.length * width).fill(noWay);
  let n = 0;
  rows.forEach((row, j) => {
    for (let i = 0; i < row.ids.length; i++) {
      const id = row.ids[i] ?? 0;
      const cost = row.cost[i] ?? 0;
      if (cost >= lsInfinity) continue;
      let at = place[id] ?? -1;
      if (at < 0) {
        at = n++;
        place[id] = at;
        ids[at] = id;
      }
      costs[at * width + j] = cost;
    }
  });
  const classes = new Classes(width);
  const classOf = new Int32Array(n);
  const offset = new Int32Array(n);
  const vector = new Int32Array(width);
  for (let i = 0; i < n; i++) {
    let least = noWay;
    for (let j = 0; j < width; j++) least = Math.min(least, costs[i * width + j] ?? noWay);
    for (let j = 0; j < width; j++) {
      const c = costs[i * width + j] ?? noWay;
      vector[j] = c < noWay ? c - least : noWay;
    }
    offset[i] = least;
    classOf[i] = classes.of(vector);
  }
  const insideToo = new Uint8Array(n);
  const inside = area.networks.ids;
  for (let i = 0; i < inside.length; i++) {
    const at = place[inside[i] ?? 0] ?? -1;
    if (at >= 0) insideToo[at] = 1;
  }
  return { rows, ids: ids.slice(0, n), classOf, offset, insideToo, classCount: classes.count, costs: classes.all(), place };
}

/** What one router chooses for each class: cost to add to an entry's offset, `noWay` without a way, and next hops. */
export interface ClassChoice {
  readonly cost: Int32Array;
  readonly hops: Int32Array;
}

/** Chooses for every class among the border routers (RFC 2328 §16.2 (5) and (6)). */
export function chooseClasses(out: ClassChoice, imports: Imports, distance: Int32Array, hops: RootRows['hops'], slots: HopSlots): void {
  const { rows, costs, classCount } = imports;
  const width = rows.length;
  out.cost.fill(noWay, 0, classCount);
  for (let j = 0; j < width; j++) {
    const v = rows[j]?.vertex ?? 0;
    const base = distance[v] ?? noWay;
    const through = hops[v] ?? 0;
    if (base >= noWay) continue;
    for (let k = 0; k < classCount; k++) {
      const d = base + (costs[k * width + j] ?? noWay);
      const best = out.cost[k] ?? noWay;
      if (d > best || d >= noWay) continue;
      out.hops[k] = d < best ? through : slots.join(out.hops[k] ?? 0, through);
      out.cost[k] = d;
    }
  }
}
