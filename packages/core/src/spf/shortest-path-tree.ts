import type { Port } from '../adjacency/speakers';
import type { Ipv4 } from '../prefix/ipv4';
import type { RouterLink } from '../lsdb/router-links';
import type { AreaGraph } from '../lsdb/area-graph';

/** Where a packet is sent: out of a port, to an address; to none when the destination is attached there. */
export interface Hop {
  readonly port: Port;
  readonly address: Ipv4 | undefined;
}

/** Hops of one root, each kept once, so that sets of them are small lists of numbers. */
export class HopList {
  readonly hops: Hop[] = [];
  private places: Map<string, number> | undefined;
  place(port: Port, address: Ipv4 | undefined): number {
    const key = `${port.index}:${address ?? ''}`;
    this.places ??= new Map();
    let n = this.places.get(key);
    if (n === undefined) {
      n = this.hops.length;
      this.hops.push({ port, address });
      this.places.set(key, n);
    }
    return n;
  }
}

/** A set of hops: places in the root's hop list, ascending. Sets are never changed in place, so they can be shared. */
export type HopSet = readonly number[];
export const noHops: HopSet = [];

/** Joins two hop sets; gives one of them back when it holds the other. */
export function joinHops(a: HopSet, b: HopSet): HopSet {
  if (a === b || b.length === 0) return a;
  if (a.length === 0) return b;
  if (b.every((h) => a.includes(h))) return a;
  return [...new Set([...a, ...b])].sort((x, y) => x - y);
}

/** The tree from one router through one area (RFC 2328 §16.1). */
export interface Tree {
  readonly graph: AreaGraph;
  readonly root: number;
  /** The list that `hops` are places of. */
  readonly hopList: HopList;
  /** Distance to each vertex; Infinity where there is no way. */
  readonly distance: Float64Array;
  readonly hops: (v: number) => HopSet;
  /** Vertices before each vertex on its shortest paths. */
  readonly parents: (v: number) => readonly number[];
}

/** A heap of vertices by distance; at the same distance networks come before routers (RFC 2328 §16.1 (3)). */
class VertexHeap {
  private readonly keys: number[] = [];
  private readonly vertices: number[] = [];
  get size(): number {
    return this.keys.length;
  }
  push(key: number, vertex: number): void {
    let i = this.keys.length;
    this.keys.push(key);
    this.vertices.push(vertex);
    while (i > 0) {
      const up = (i - 1) >> 1;
      if ((this.keys[up] ?? 0) <= key) break;
      this.keys[i] = this.keys[up] ?? 0;
      this.vertices[i] = this.vertices[up] ?? 0;
      i = up;
    }
    this.keys[i] = key;
    this.vertices[i] = vertex;
  }
  pop(): number {
    const top = this.vertices[0] ?? 0;
    const key = this.keys.pop() ?? 0;
    const vertex = this.vertices.pop() ?? 0;
    const n = this.keys.length;
    if (n === 0) return top;
    let i = 0;
    for (;;) {
      let child = 2 * i + 1;
      if (child >= n) break;
      if (child + 1 < n && (this.keys[child + 1] ?? 0) < (this.keys[child] ?? 0)) child++;
      if ((this.keys[child] ?? 0) >= key) break;
      this.keys[i] = this.keys[child] ?? 0;
      this.vertices[i] = this.vertices[child] ?? 0;
      i = child;
    }
    this.keys[i] = key;
    this.vertices[i] = vertex;
    return top;
  }
}

/**
 * Computes the tree with every equal-cost path (RFC 2328 §16.1, next hops by §16.1.1).
 *
 * @param root         vertex of the calculating router; it must have a router-LSA in the graph
 * @param hopList      the root's hops, shared by its trees in all areas
 * @param virtualHops  the way to the far end of a virtual link, through its transit area
 */
export function shortestPathTree(graph: AreaGraph, root: number, hopList: HopList, virtualHops: (link: RouterLink) => HopSet): Tree {
  const n = graph.first.length - 1;
  const routerCount = graph.routers.length;
  const distance = new Float64Array(n).fill(Infinity);
  const hops = new Array<HopSet>(n).fill(noHops);
  const parents: number[][] = Array.from({ length: n }, () => []);
  const done = new Uint8Array(n);
  const heap = new VertexHeap();
  distance[root] = 0;
  heap.push(1, root);
  while (heap.size > 0) {
    const v = heap.pop();
    if (done[v]) continue;
    done[v] = 1;
    const base = distance[v] ?? 0;
    for (let e = graph.first[v] ?? 0; e < (graph.first[v + 1] ?? 0); e++) {
      const w = graph.to[e] ?? 0;
      if (done[w]) continue;
      const d = base + (graph.metric[e] ?? 0);
      const known = distance[w] ?? Infinity;
      if (d > known) continue;
      const through = hopsThrough(graph, root, v, e, hops[v] ?? noHops, hopList, virtualHops);
      if (d < known) {
        distance[w] = d;
        hops[w] = through;
        parents[w] = [v];
        heap.push(d * 2 + (w < routerCount ? 1 : 0), w);
      } else {
        hops[w] = joinHops(hops[w] ?? noHops, through);
        if (!parents[w]?.includes(v)) parents[w]?.push(v);
      }
    }
  }
  return { graph, root, hopList, distance, hops: (v) => hops[v] ?? noHops, parents: (v) => parents[v] ?? [] };
}

/** Next hops towards the far end of edge `e` out of `v` (RFC 2328 §16.1.1). */
function hopsThrough(
  graph: AreaGraph,
  root: number,
  v: number,
  e: number,
  hopsOfV: HopSet,
  hopList: HopList,
  virtualHops: (link: RouterLink) => HopSet,
): HopSet {
  if (v === root) {
    const link = graph.routers[root]?.links[graph.detail[e] ?? 0];
    if (!link) return noHops;
    if (link.kind === 'virtual') return virtualHops(link);
    if (!link.port) return noHops;
    return [hopList.place(link.port, link.kind === 'transit' ? undefined : link.nextHop)];
  }
  if (v < graph.routers.length) return hopsOfV;
  // From a network: where the root is attached to it, the router behind is addressed directly.
  if (hopsOfV.every((h) => hopList.hops[h]?.address !== undefined)) return hopsOfV;
  const out = hopsOfV.map((h) => {
    const hop = hopList.hops[h];
    return hop?.address === undefined && hop ? hopList.place(hop.port, graph.detail[e]) : h;
  });
  return [...new Set(out)].sort((a, b) => a - b);
}
