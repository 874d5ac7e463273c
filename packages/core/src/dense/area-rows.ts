import { lengthOfMask, networkOf } from '../prefix/ipv4';
import type { AreaGraph } from '../spf/area-graph';
import type { PrefixIds } from '../prefix/prefix-ids';

/** Distance where there is no way; two of them add up within 32 bits. */
export const noWay = 0x3fff_ffff;

/** Networks inside an area and who brings them, as arrays: those of network `i` are entries `first[i]` to `first[i + 1] - 1`. */
export interface AreaNetworks {
  /** Prefix of each network. */
  readonly ids: Int32Array;
  readonly first: Int32Array;
  readonly vertex: Int32Array;
  readonly cost: Int32Array;
  /** Place of the link in the vertex's router-LSA; -1 where the vertex is the transit network itself. */
  readonly link: Int32Array;
  /** Network of each prefix named so far, -1 without. */
  readonly place: Int32Array;
}

/**
 * The networks of an area. Transit networks stand before stubs, and those of one prefix by descending link state id: so
 * the first of equal cost is the one that RFC 2328 §16.1 (4) takes.
 */
export function areaNetworks(graph: AreaGraph, prefixes: PrefixIds): AreaNetworks {
  const routerCount = graph.routers.length;
  let size = graph.networkIds.length;
  for (const r of graph.routers) size += r.links.length;
  // What brings which network, in the order found: `of` is the place of the network.
  const [of, vertex, cost, link] = [new Int32Array(size), new Int32Array(size), new Int32Array(size), new Int32Array(size)];
  let found = 0;
  const ids: number[] = [];
  const counts: number[] = [];
  const local = new Int32Array(prefixes.size + size).fill(-1);
  const add = (id: number, v: number, c: number, l: number): void => {
    let n = local[id] ?? -1;
    if (n < 0) {
      n = ids.length;
      local[id] = n;
      ids.push(id);
      counts.push(0);
    }
    counts[n] = (counts[n] ?? 0) + 1;
    of[found] = n;
    vertex[found] = v;
    cost[found] = c;
    link[found++] = l;
  };
  const transit = graph.networkIds.map((id, i) => ({ id, v: routerCount + i })).sort((a, b) => b.id - a.id);
  for (const { id, v } of transit) {
    const length = graph.database.networks.get(id)?.length ?? 32;
    // RFC 6860 §2.2.2: a host mask says that the network is hidden; it carries traffic and brings no route.
    if (length < 32) add(prefixes.id(networkOf(id, length), length), v, 0, -1);
  }
  graph.routers.forEach((r, v) => {
    const { links } = r;
    for (let n = 0; n < links.length; n++) {
      const l = links[n];
      if (l?.kind === 'stub') add(prefixes.id(l.id, lengthOfMask(l.data) ?? 32), v, l.metric, n);
    }
  });
  const first = new Int32Array(ids.length + 1);
  for (let n = 0; n < ids.length; n++) first[n + 1] = (first[n] ?? 0) + (counts[n] ?? 0);
  const at = first.slice();
  const out = { vertex: new Int32Array(found), cost: new Int32Array(found), link: new Int32Array(found) };
  for (let e = 0; e < found; e++) {
    const n = of[e] ?? 0;
    const place = at[n] ?? 0;
    at[n] = place + 1;
    out.vertex[place] = vertex[e] ?? 0;
    out.cost[place] = cost[e] ?? 0;
    out.link[place] = link[e] ?? 0;
  }
  return { ids: Int32Array.from(ids), first, ...out, place: local.subarray(0, prefixes.size) };
}

/** Above this many vertices a row is computed when it is asked for, one by one. */
const togetherUpTo = 700;

/** Lowers `a` to what leads over `b` at a further cost; true when anything moved. */
function relax(a: Int32Array, b: Int32Array, cost: number): boolean {
  let moved = false;
  for (let i = 0; i < a.length; i++) {
    const d = ((b[i] ?? 0) + cost) | 0;
    if (d < (a[i] ?? 0)) {
      a[i] = d;
      moved = true;
    }
  }
  return moved;
}

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
    const routerEdges = graph.first[graph.routers.length] ?? 0;
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

  /** All rows at once, each from its neighbours' rows until nothing moves. */
  private allRows(): void {
    const { size: n, graph } = this;
    const { first, to, metric } = graph;
    const rows: Int32Array[] = [];
    const buffer = new Int32Array(n * n).fill(noWay);
    for (let v = 0; v < n; v++) {
      const row = buffer.subarray(v * n, (v + 1) * n);
      rows.push(row);
      row[v] = 0;
      for (let e = first[v] ?? 0; e < (first[v + 1] ?? 0); e++) {
        const w = to[e] ?? 0;
        row[w] = Math.min(row[w] ?? noWay, metric[e] ?? noWay);
      }
    }
    const changed = new Int32Array(n).fill(1);
    const looked = new Int32Array(n);
    let clock = 1;
    for (let pass = 0, more = true; more; pass++) {
      more = false;
      for (let q = 0; q < n; q++) {
        const v = pass % 2 === 1 ? n - 1 - q : q;
        const row = rows[v];
        if (!row) continue;
        const since = looked[v] ?? 0;
        looked[v] = ++clock;
        let moved = false;
        for (let e = first[v] ?? 0; e < (first[v + 1] ?? 0); e++) {
          const w = to[e] ?? 0;
          const other = rows[w];
          if (other && (changed[w] ?? 0) > since && relax(row, other, metric[e] ?? noWay)) moved = true;
        }
        if (moved) {
          changed[v] = ++clock;
          looked[v] = clock;
          more = true;
        }
      }
    }
    for (let v = 0; v < n; v++) this.rows[v] = rows[v];
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
      const k = keys[up] ?? 0;
      if (k <= key) break;
      keys[i] = k;
      vertices[i] = vertices[up] ?? 0;
      i = up;
    }
    keys[i] = key;
    vertices[i] = vertex;
  };
  const sink = (key: number, vertex: number): void => {
    const size = keys.length;
    let i = 0;
    for (let child = 1; child < size; child = 2 * i + 1) {
      if (child + 1 < size && (keys[child + 1] ?? 0) < (keys[child] ?? 0)) child++;
      if ((keys[child] ?? 0) >= key) break;
      keys[i] = keys[child] ?? 0;
      vertices[i] = vertices[child] ?? 0;
      i = child;
    }
    keys[i] = key;
    vertices[i] = vertex;
  };
  distance[root] = 0;
  push(0, root);
  while (keys.length > 0) {
    const d = keys[0] ?? 0;
    const v = vertices[0] ?? 0;
    const key = keys.pop() ?? 0;
    const vertex = vertices.pop() ?? 0;
    if (keys.length > 0) sink(key, vertex);
    if (d > (distance[v] ?? 0)) continue;
    for (let e = first[v] ?? 0; e < (first[v + 1] ?? 0); e++) {
      const w = to[e] ?? 0;
      const next = d + (metric[e] ?? 0);
      if (next < (distance[w] ?? 0)) {
        distance[w] = next;
        push(next, w);
      }
    }
  }
  return distance;
}
