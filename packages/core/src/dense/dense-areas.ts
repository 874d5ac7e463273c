import type { Port, Speaker } from '../adjacency/speakers';
import type { AreaDatabase } from '../lsdb/area-database';
import type { Domain } from '../lsdb/domain';
import { stubLink, transitLink } from '../lsdb/router-links';
import type { Ipv4 } from '../prefix/ipv4';
import { prefixBook } from '../prefix/prefix-book';
import type { HopList, HopSet, Tree } from '../spf/shortest-path-tree';
import { AreaArrays, noWay } from './area-rows';
import { FirstHops } from './first-hops';
import { HopSlots, type HopCode } from './hop-slots';
import { IntPool } from './int-pool';
import { RootRows } from './offers';

/** What the arrays are computed from. */
export interface Ground {
  readonly domain: Domain;
  /** The readable tree, for areas with edges that cost nothing: first hops cannot be told from distances there. */
  treeThrough(s: Speaker, areaId: number): Tree | undefined;
  /** A router's readable next hops; states that are computed from one another share them. */
  hopList(s: Speaker): HopList;
}

/**
 * Areas as arrays, and what every router makes of distances inside them (RFC 2328 §16.1): the boundary between readable
 * advertisements and the hot path. Prefixes and hops are numbers, and nothing is made per route. What an area's arrays stand
 * on is its graph alone, so states that have it in common have the arrays in common.
 */
export class DenseAreas {
  readonly prefixes = prefixBook;
  /** By index of the database. */
  readonly areas: readonly AreaArrays[];
  readonly ports: readonly Port[];
  private readonly slots: (HopSlots | undefined)[];
  private readonly rootLists: (readonly RootRows[] | undefined)[];
  /** Where rows come from. What a later state takes over keeps pieces of it in memory: those of a few changes are small. */
  readonly pool: IntPool;

  /** @param before  a state in which the same processes stand in the same areas: next hops keep their numbers */
  constructor(
    readonly ground: Ground,
    before?: DenseAreas,
  ) {
    const { databases, ports } = ground.domain;
    this.ports = ports;
    this.pool = new IntPool(before ? 8192 : 32768);
    this.slots = before?.slots ?? [];
    this.areas = databases.map(({ index, graph }) =>
      before?.areas[index]?.graph === graph ? before.areas[index] : new AreaArrays(index, graph, prefixBook),
    );
    this.rootLists = before?.rootLists.slice() ?? [];
    for (const db of databases)
      if (before && before.areas[db.index] !== this.areas[db.index]) for (const s of db.speakers) this.rootLists[s] = undefined;
  }

  /** States that share this were computed from one another: hops have the same numbers in all of them. */
  get lineage(): unknown {
    return this.slots;
  }

  areaOf(database: AreaDatabase): AreaArrays {
    return this.areas[database.index]!;
  }

  /** The router's ways out, over all of its areas. */
  slotsOf(s: Speaker): HopSlots {
    const known = this.slots[s.index];
    if (known) return known;
    const made = new HopSlots(this.ports);
    this.slots[s.index] = made;
    for (const areaId of this.ground.domain.areasOf(s)) this.placeHops(s, areaId, made);
    return made;
  }

  private placeHops(s: Speaker, areaId: number, slots: HopSlots): void {
    const db = this.ground.domain.database(s, areaId);
    const graph = db && this.areas[db.index]?.graph;
    const root = graph?.vertexOfRouter.get(s.routerId);
    if (!graph || root === undefined) return;
    const lsa = graph.routers[root];
    if (!lsa) return;
    const { kind, port, nextHop } = lsa.columns;
    for (let n = lsa.first; n < lsa.end; n++) {
      const p = kind[n] === stubLink ? port[n] : undefined;
      if (p) slots.place(p, undefined);
    }
    if (this.areas[db.index]?.distances.hasFreeEdge) {
      const tree = this.ground.treeThrough(s, areaId);
      for (let v = 0; tree && v < tree.distance.length; v++)
        for (const h of tree.hops(v)) {
          const hop = tree.hopList.hops[h];
          if (hop) slots.place(hop.port, hop.address);
        }
      return;
    }
    for (let e = graph.first[root]!; e < graph.first[root + 1]!; e++) {
      const n = lsa.first + graph.detail[e]!;
      const w = graph.to[e]!;
      const p = port[n];
      if (!p) continue;
      if (kind[n] !== transitLink) slots.place(p, nextHop[n]);
      else {
        slots.place(p, undefined);
        for (let f = graph.first[w]!; f < graph.first[w + 1]!; f++) if (graph.to[f] !== root) slots.place(p, graph.detail[f]);
      }
    }
  }

  /** Adds the first hops of a root, with what each costs. */
  firstHops(s: Speaker, area: AreaArrays, root: number, out: FirstHops): void {
    const { graph } = area;
    const slots = this.slotsOf(s);
    const lsa = graph.routers[root];
    if (!lsa) return;
    const { kind, id, port, nextHop } = lsa.columns;
    for (let e = graph.first[root]!; e < graph.first[root + 1]!; e++) {
      const n = lsa.first + graph.detail[e]!;
      const vertex = graph.to[e]!;
      const cost = graph.metric[e]!;
      const p = port[n];
      if (!p) out.add(vertex, e, -1, cost, 0, this.virtualHops(s, id[n]!));
      else if (kind[n] !== transitLink) out.add(vertex, e, -1, cost, 0, slots.single(slots.place(p, nextHop[n])));
      else {
        out.add(vertex, e, -1, cost, 1, slots.single(slots.place(p, undefined)));
        for (let f = graph.first[vertex]!; f < graph.first[vertex + 1]!; f++) {
          const other = graph.to[f]!;
          if (other !== root) out.add(other, e, f, cost, 0, slots.single(slots.place(p, graph.detail[f])));
        }
      }
    }
  }

  /** A set of next hops as places in the router's readable list. */
  listed(s: Speaker, code: HopCode): HopSet {
    return this.slotsOf(s).listed(code, this.ground.hopList(s));
  }

  private virtualHops(s: Speaker, peer: Ipv4): HopCode {
    const v = this.ground.domain.virtuals.find((x) => x.speaker === s.index && x.peerId === peer);
    const through = v && this.ground.domain.database(s, v.transitArea);
    const rows = through && this.root(s, through);
    const at = rows && this.areas[rows.index]?.graph.vertexOfRouter.get(peer);
    return at === undefined ? 0 : (rows?.hops[at] ?? 0);
  }

  /** A speaker's rows in one of its areas; `undefined` when it has no router-LSA there. */
  root(s: Speaker, database: AreaDatabase): RootRows | undefined {
    const area = this.areaOf(database);
    const root = area.graph.vertexOfRouter.get(s.routerId);
    if (root === undefined) return undefined;
    // Of two routers with one id the first stands for both in the area; the other has its own ways out of its own ports.
    const stands = area.graph.routers[root]?.speaker === s.index;
    const known = stands ? area.roots[root] : undefined;
    if (known) return known;
    const distance = area.distances.row(root);
    const hops = area.distances.hasFreeEdge ? this.hopsOfTree(s, area, distance.length) : this.hopsOf(s, area, root, distance);
    const made = new RootRows(area.index, root, area.graph.six ? area.distances.size : area.graph.routers.length, distance, hops);
    if (stands) area.roots[root] = made;
    return made;
  }

  /** A speaker's rows in each of its areas, by ascending id; the same list at every call. */
  rootsOf(s: Speaker): readonly RootRows[] {
    return (this.rootLists[s.index] ??= this.findRoots(s));
  }

  private findRoots(s: Speaker): readonly RootRows[] {
    const { domain } = this.ground;
    const areas = domain.areasOf(s);
    const rootIn = (areaId: number): RootRows | undefined => {
      const db = domain.database(s, areaId);
      return db && this.root(s, db);
    };
    if (areas.length > 1) return areas.map(rootIn).filter((r) => r !== undefined);
    const only = areas.length === 1 ? rootIn(areas[0]!) : undefined;
    return only ? Array.of(only) : [];
  }

  /** First hops of one root after the other; while it is in use, by a root whose virtual links look at another one, there is none. */
  private spareHops: FirstHops | undefined;

  /** A first hop leads towards a vertex where its cost and the distance from there add up to one's own (RFC 2328 §16.1.1). */
  private hopsOf(s: Speaker, area: AreaArrays, root: number, distance: Int32Array): Int32Array {
    const slots = this.slotsOf(s);
    const hops = this.pool.take(distance.length);
    const ways = this.spareHops ?? new FirstHops();
    this.spareHops = undefined;
    this.firstHops(s, area, root, ways);
    for (let i = 0; i < ways.count; i++) {
      const code = ways.code[i]!;
      const vertex = ways.vertex[i]!;
      const cost = ways.cost[i]!;
      if (code === 0) continue;
      if (ways.network[i] === 1) {
        if (distance[vertex] === cost) hops[vertex] = slots.join(hops[vertex]!, code);
      } else if (slots.wide) markWide(hops, distance, area.distances.row(vertex), cost, code, slots);
      else markHops(hops, distance, area.distances.row(vertex), cost, code);
    }
    ways.count = 0;
    this.spareHops = ways;
    hops[root] = 0;
    return hops;
  }

  private hopsOfTree(s: Speaker, { areaId }: AreaArrays, size: number): Int32Array {
    const slots = this.slotsOf(s);
    const hops = new Int32Array(size);
    const tree = this.ground.treeThrough(s, areaId);
    for (let v = 0; tree && v < size; v++)
      for (const h of tree.hops(v)) {
        const hop = tree.hopList.hops[h];
        if (hop) hops[v] = slots.join(hops[v]!, slots.single(slots.place(hop.port, hop.address)));
      }
    return hops;
  }
}

function markHops(hops: Int32Array, distance: Int32Array, from: Int32Array, cost: number, code: number): void {
  for (let v = 0; v < hops.length; v++) {
    const d = distance[v]!;
    if (from[v]! + cost === d && d < noWay) hops[v] = hops[v]! | code;
  }
}

function markWide(hops: Int32Array, distance: Int32Array, from: Int32Array, cost: number, code: HopCode, slots: HopSlots): void {
  for (let v = 0; v < hops.length; v++) {
    const d = distance[v]!;
    if (from[v]! + cost === d && d < noWay) hops[v] = slots.join(hops[v]!, code);
  }
}
