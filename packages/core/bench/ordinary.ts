import { settleAdjacencies } from '../src/adjacency/settle';
import type { Speaker } from '../src/adjacency/speakers';
import { backbone, type AreaRange, type Design } from '../src/design/design';
import { noOutage } from '../src/failures/outage';
import { areaDatabases, type AreaDatabase } from '../src/lsdb/area-database';
import type { SummaryLsa } from '../src/lsdb/lsa';
import type { RouterLink } from '../src/lsdb/router-links';
import { boundarySummaries, mayEnter, rangeCost, rangeFor } from '../src/lsdb/summary-lsa';
import type { Ipv4 } from '../src/prefix/ipv4';
import { preferredPath } from '../src/routes/exit-preference';
import { externalRoutes } from '../src/routes/external';
import { addInterAreaRoutes, boundaryPaths } from '../src/routes/inter-area';
import { addIntraAreaRoutes } from '../src/routes/intra-area';
import type { Route, RouterPath, Table } from '../src/routes/route';
import { Routing } from '../src/routes/settle-routing';
import { findSegments } from '../src/segments/segments';
import { areaGraph, type AreaGraph } from '../src/spf/area-graph';
import { HopList, joinHops, type HopSet, type Tree } from '../src/spf/shortest-path-tree';

/** A priority queue as one would take it from a shelf: any items, any order. */
class PriorityQueue<T> {
  private readonly items: T[] = [];
  constructor(private readonly compare: (a: T, b: T) => number) {}
  get size(): number {
    return this.items.length;
  }
  push(item: T): void {
    this.items.push(item);
    for (let i = this.items.length - 1; i > 0;) {
      const up = (i - 1) >> 1;
      if (this.compare(this.at(up), this.at(i)) <= 0) break;
      [this.items[up], this.items[i]] = [this.at(i), this.at(up)];
      i = up;
    }
  }
  pop(): T {
    const top = this.at(0);
    const last = this.items.pop() as T;
    if (this.items.length === 0) return top;
    this.items[0] = last;
    for (let i = 0; ;) {
      let least = i;
      for (const child of [2 * i + 1, 2 * i + 2]) if (child < this.items.length && this.compare(this.at(child), this.at(least)) < 0) least = child;
      if (least === i) return top;
      [this.items[least], this.items[i]] = [this.at(i), this.at(least)];
      i = least;
    }
  }
  private at(i: number): T {
    return this.items[i] as T;
  }
}

/** Dijkstra from one root, with a set of hops for each vertex. */
function treeOf(graph: AreaGraph, root: number, hopList: HopList): Tree {
  const distance = new Float64Array(graph.first.length - 1).fill(Infinity);
  const hops = new Map<number, HopSet>();
  const done = new Set<number>();
  const routerCount = graph.routers.length;
  const queue = new PriorityQueue<{ vertex: number; distance: number }>(
    (a, b) => a.distance - b.distance || Number(a.vertex < routerCount) - Number(b.vertex < routerCount),
  );
  distance[root] = 0;
  queue.push({ vertex: root, distance: 0 });
  while (queue.size > 0) {
    const { vertex: v } = queue.pop();
    if (done.has(v)) continue;
    done.add(v);
    for (let e = graph.first[v] ?? 0; e < (graph.first[v + 1] ?? 0); e++) {
      const w = graph.to[e] ?? 0;
      const d = (distance[v] ?? 0) + (graph.metric[e] ?? 0);
      if (done.has(w) || d > (distance[w] ?? Infinity)) continue;
      let through: HopSet = hops.get(v) ?? [];
      if (v === root) {
        const link: RouterLink | undefined = graph.routers[root]?.links[graph.detail[e] ?? 0];
        through = link?.port ? [hopList.place(link.port, link.kind === 'transit' ? undefined : link.nextHop)] : [];
      } else if (v >= routerCount)
        through = through.map((h) => {
          const hop = hopList.hops[h];
          return hop && hop.address === undefined ? hopList.place(hop.port, graph.detail[e]) : h;
        });
      hops.set(w, d < (distance[w] ?? Infinity) ? through : joinHops(hops.get(w) ?? [], through));
      if (d < (distance[w] ?? Infinity)) queue.push({ vertex: w, distance: d });
      distance[w] = d;
    }
  }
  return { graph, root, hopList, distance, hops: (v) => hops.get(v) ?? [], parents: () => [] };
}

/**
 * The whole prediction as one would write it first: a queue of objects, an object for each route of each router, summaries
 * as objects. Neighbours, types 1, 2, 5 and 7 are those of the product; no virtual links and no summary policies.
 */
export function ordinaryTables(design: Design): { readonly tables: readonly Table[]; readonly readable: Routing } {
  const adj = settleAdjacencies(design, findSegments(design), noOutage);
  const readable = new Routing(design, noOutage, adj);
  const bits = (s: Speaker, a: number): { b: boolean; e: boolean; v: boolean; nt: boolean } =>
    readable.database(s, a)?.routers.get(s.routerId)?.bits ?? { b: false, e: false, v: false, nt: false };
  const databases = areaDatabases(adj, [], bits);
  const graphs = databases.map(areaGraph);
  const dbOf = (s: Speaker, a: number): AreaDatabase | undefined => databases.find((d) => d.areaId === a && d.speakers.includes(s.index));
  const hopLists = adj.speakers.map(() => new HopList());
  const trees = new Map<string, Tree | undefined>();
  const tree = (s: Speaker, a: number): Tree | undefined => {
    const key = `${s.index} ${a}`;
    if (!trees.has(key)) {
      const db = dbOf(s, a);
      const graph = db && graphs[db.index];
      const root = graph?.vertexOfRouter.get(s.routerId);
      trees.set(key, graph && root !== undefined ? treeOf(graph, root, hopLists[s.index] ?? new HopList()) : undefined);
    }
    return trees.get(key);
  };
  const internal = (s: Speaker): Table => {
    const table: Table = new Map();
    for (const a of readable.areasOf(s)) {
      const t = tree(s, a);
      if (t) addIntraAreaRoutes(table, t, t.hopList);
    }
    const ranges = new Set(readable.activeRanges(s, table).keys());
    for (const a of readable.summaryAreas(s)) {
      const t = tree(s, a);
      if (t) addInterAreaRoutes(table, t, s.routerId, ranges, readable.takesDefault(s, a));
    }
    return table;
  };
  const boundary = (s: Speaker): Map<Ipv4, RouterPath[]> => {
    const out = new Map<Ipv4, RouterPath[]>();
    for (const a of readable.areasOf(s)) {
      const t = tree(s, a);
      for (const p of t ? boundaryPaths(t, s.routerId, readable.summaryAreas(s).includes(a)) : [])
        out.set(p.router, [...(out.get(p.router) ?? []), p]);
    }
    return out;
  };
  for (const phase of [(a: number) => a === backbone, (a: number) => a !== backbone]) {
    const said = new Map<AreaDatabase, { speaker: number; networks: SummaryLsa[]; boundaries: SummaryLsa[] }[]>();
    for (const s of adj.speakers.filter((x) => readable.isBorderRouter(x))) {
      const table = internal(s);
      const exits = [...boundary(s).values()].flatMap((ps) => preferredPath(ps, s.instance.rfc1583Compatible) ?? []);
      for (const a of readable.areasOf(s).filter(phase)) {
        const db = dbOf(s, a);
        const hopList = hopLists[s.index] ?? new HopList();
        const source = { speaker: s.index, routerId: s.routerId, hopList, areaOf: (x: number) => readable.areaOf(s, x) };
        if (db)
          said.set(db, [
            ...(said.get(db) ?? []),
            { speaker: s.index, networks: summariesInto(readable, s, table, a), boundaries: boundarySummaries(source, readable.areaOf(s, a), exits) },
          ]);
      }
    }
    for (const [db, list] of said)
      db.publish(() => ({
        networks: list.map((x) => ({ speaker: x.speaker, made: () => x.networks })),
        boundaries: new Map(list.map((x) => [x.speaker, x.boundaries])),
      }));
  }
  const tables = adj.speakers.map((s) => {
    const table = internal(s);
    const nssa = readable
      .areasOf(s)
      .filter((a) => readable.areaOf(s, a).type === 'nssa')
      .map((area) => ({ area, lsas: readable.database(s, area)?.nssa ?? [] }));
    const context = {
      self: s.routerId,
      rfc1583Compatible: s.instance.rfc1583Compatible,
      isBorderRouter: readable.isBorderRouter(s),
      hopList: hopLists[s.index] ?? new HopList(),
      boundary: boundary(s),
      takesSummaries: (a: number) => readable.areaOf(s, a).summary,
    };
    for (const [key, r] of externalRoutes((k) => table.get(k), readable.externals(s), nssa, context)) table.set(key, r);
    return table;
  });
  return { tables, readable };
}

/** Types 3 of one border router into one area. */
function summariesInto(readable: Routing, s: Speaker, table: Table, into: number): SummaryLsa[] {
  const area = readable.areaOf(s, into);
  const lsa = (r: Pick<Route, 'bits' | 'length'>, metric: number, fromArea: number): SummaryLsa => ({
    type: 3,
    adv: s.routerId,
    id: r.bits,
    speaker: s.index,
    bits: r.bits,
    length: r.length,
    metric,
    reason: 'inter-area',
    fromArea,
  });
  const out: SummaryLsa[] = [];
  const folded = new Map<AreaRange, Route[]>();
  if (area.type === 'normal' || area.summary)
    for (const r of table.values()) {
      if (!mayEnter(r.type === 'intra-area', r.area, r.metric, into)) continue;
      const range = r.type === 'intra-area' ? rangeFor(readable.areaOf(s, r.area), r) : undefined;
      if (range) folded.set(range, [...(folded.get(range) ?? []), r]);
      else out.push(lsa(r, r.metric, r.area));
    }
  for (const [range, parts] of folded)
    if (range.advertise)
      out.push(
        lsa(
          range.prefix,
          rangeCost(
            range,
            parts.map((p) => p.metric),
            s.instance.rangeCost,
          ),
          parts[0]?.area ?? 0,
        ),
      );
  if (area.type === 'stub' || (area.type === 'nssa' && !area.summary))
    return [...out.filter((l) => l.length > 0), lsa({ bits: 0, length: 0 }, area.defaultCost, backbone)];
  return out;
}
