import { eachAttached } from '../lsdb/attached-prefixes';
import type { AreaGraph } from '../lsdb/area-graph';
import type { PrefixBook } from '../prefix/prefix-book';
import { allDistances, noWay } from './all-distances';
import type { HopCode, HopSlots } from './hop-slots';
import { Offers, type RootRows } from './offers';

export { noWay } from './all-distances';

/** Prefixes attached to the vertices of an area: network `i` is offered by those who bring it. */
export class AreaNetworks extends Offers {
  /**
   * @param ids    prefix of each network
   * @param link   by offer: place of the link in the vertex's router-LSA; -1 where the vertex is the transit network itself
   * @param place  network of each prefix named so far, -1 without
   */
  constructor(
    offers: Offers,
    readonly ids: Int32Array,
    readonly link: Int32Array,
    readonly place: Int32Array,
  ) {
    super(offers.first, offers.vertex, offers.cost, offers.own);
  }

  /** The same at costs of their own, which may change. */
  atOwnCosts(): AreaNetworks {
    return new AreaNetworks(new Offers(this.first, this.vertex, this.cost.slice(), this.own), this.ids, this.link, this.place);
  }
}

/** What is attached to an area's vertices, as offers of its networks. */
export function areaNetworks(graph: AreaGraph, prefixes: PrefixBook): AreaNetworks {
  let size = graph.networks.length;
  for (const r of graph.routers) size += r.end - r.first;
  // What brings which network, in the order found: `of` is the place of the network.
  const [of, vertex, cost, link] = [new Int32Array(size), new Int32Array(size), new Int32Array(size), new Int32Array(size)];
  let found = 0;
  const [ids, counts] = [new Int32Array(size), new Int32Array(size)];
  let named = 0;
  const local = new Int32Array(prefixes.size + size).fill(-1);
  const add = (v: number, id: number, c: number, l: number): void => {
    let n = local[id] ?? -1;
    if (n < 0) {
      n = named++;
      local[id] = n;
      ids[n] = id;
    }
    counts[n] = counts[n]! + 1;
    of[found] = n;
    vertex[found] = v;
    cost[found] = c;
    link[found++] = l;
  };
  eachAttached(graph, add, prefixes);
  const first = new Int32Array(named + 1);
  for (let n = 0; n < named; n++) first[n + 1] = first[n]! + counts[n]!;
  const at = first.slice();
  const out = { vertex: new Int32Array(found), cost: new Int32Array(found), link: new Int32Array(found) };
  for (let e = 0; e < found; e++) {
    const n = of[e]!;
    const place = at[n]!;
    at[n] = place + 1;
    out.vertex[place] = vertex[e]!;
    out.cost[place] = cost[e]!;
    out.link[place] = link[e]!;
  }
  const own = (e: number, slots: HopSlots): HopCode => {
    const port = graph.routers[out.vertex[e]!]?.portOf(out.link[e]!);
    return port ? slots.single(slots.place(port, undefined)) : 0;
  };
  return new AreaNetworks(new Offers(first, out.vertex, out.cost, own), ids.slice(0, named), out.link, local.subarray(0, prefixes.size));
}

/** Above this many vertices a row is computed when it is asked for, one by one. */
const togetherUpTo = 700;

/** Distances from every vertex of an area to every other, a row for each: `noWay` where there is none (RFC 2328 §16.1). */
export class AreaDistances {
  readonly size: number;
  private readonly rows: (Int32Array | undefined)[];
  /** A router edge that costs nothing: first hops cannot be told from distances alone. */
  readonly hasFreeEdge: boolean;

  constructor(readonly graph: AreaGraph) {
    this.size = graph.first.length - 1;
    this.rows = new Array<Int32Array | undefined>(this.size);
    let free = false;
    const routerEdges = graph.first[graph.routers.length]!;
    for (let e = 0; e < routerEdges; e++) free ||= graph.metric[e] === 0;
    this.hasFreeEdge = free;
  }

  /** Distances from a vertex. */
  row(v: number): Int32Array {
    const known = this.rows[v];
    if (known) return known;
    if (this.size <= togetherUpTo) {
      this.allRows();
      return this.rows[v] ?? new Int32Array(0);
    }
    const made = distancesFrom(this.graph, v);
    this.rows[v] = made;
    return made;
  }

  private allRows(): void {
    const { size: n } = this;
    const all = allDistances(this.graph);
    for (let v = 0; v < n; v++) this.rows[v] = new Int32Array(all.buffer, v * n * Int32Array.BYTES_PER_ELEMENT, n);
  }
}

/** Distances from one vertex over a heap of numbers. */
export function distancesFrom(graph: AreaGraph, root: number): Int32Array {
  const { first, to, metric } = graph;
  const n = first.length - 1;
  const distance = new Int32Array(n).fill(noWay);
  const keys: number[] = [];
  const vertices: number[] = [];
  const push = (key: number, vertex: number): void => {
    let i = keys.length;
    keys.push(key);
    vertices.push(vertex);
    while (i > 0) {
      const up = (i - 1) >> 1;
      const k = keys[up]!;
      if (k <= key) break;
      keys[i] = k;
      vertices[i] = vertices[up]!;
      i = up;
    }
    keys[i] = key;
    vertices[i] = vertex;
  };
  const sink = (key: number, vertex: number): void => {
    const size = keys.length;
    let i = 0;
    for (let child = 1; child < size; child = 2 * i + 1) {
      if (child + 1 < size && keys[child + 1]! < keys[child]!) child++;
      if (keys[child]! >= key) break;
      keys[i] = keys[child]!;
      vertices[i] = vertices[child]!;
      i = child;
    }
    keys[i] = key;
    vertices[i] = vertex;
  };
  distance[root] = 0;
  push(0, root);
  while (keys.length > 0) {
    const d = keys[0]!;
    const v = vertices[0]!;
    const key = keys.pop() ?? 0;
    const vertex = vertices.pop() ?? 0;
    if (keys.length > 0) sink(key, vertex);
    if (d > distance[v]!) continue;
    for (let e = first[v]!; e < first[v + 1]!; e++) {
      const w = to[e]!;
      const next = d + metric[e]!;
      if (next < distance[w]!) {
        distance[w] = next;
        push(next, w);
      }
    }
  }
  return distance;
}

/** What a router reaches inside one of its areas, one after the other. */
export interface Part {
  readonly root: RootRows;
  /** Those of the area's networks themselves, where all are reached. */
  readonly ids: Int32Array;
  readonly cost: Int32Array;
  readonly hops: Int32Array;
  /** Place of the range that takes each, -1 without; empty where the router has no ranges for the area. */
  readonly range: Int32Array;
  /** Prefixes of these ranges. */
  readonly own: readonly number[];
}

/** One area as arrays: its networks, its distances, and what each of its routers makes of them. It stands on its graph alone. */
export class AreaArrays {
  readonly areaId: number;
  readonly networks: AreaNetworks;
  readonly distances: AreaDistances;
  /** By vertex of the router; made when asked for. */
  readonly roots: (RootRows | undefined)[];
  /** What border routers reach inside, by vertex. */
  readonly parts: (Part | undefined)[];

  constructor(
    /** Index of its database. */
    readonly index: number,
    readonly graph: AreaGraph,
    prefixes: PrefixBook,
  ) {
    this.areaId = graph.areaId;
    this.networks = areaNetworks(graph, prefixes);
    this.distances = new AreaDistances(graph);
    this.roots = Array.from({ length: graph.routers.length });
    this.parts = Array.from({ length: graph.routers.length });
  }
}

/** Whether a network is brought by the same vertices at the same costs. */
export function sameOffers(a: AreaNetworks, x: number, b: AreaNetworks, y: number): boolean {
  if (y < 0) return false;
  const [from, to] = [a.first[x]!, b.first[y]!];
  const n = a.first[x + 1]! - from;
  if (b.first[y + 1]! - to !== n) return false;
  for (let e = 0; e < n; e++) if (a.vertex[from + e] !== b.vertex[to + e] || a.cost[from + e] !== b.cost[to + e]) return false;
  return true;
}
