import type { Port, Speaker } from '../adjacency/speakers';
import type { AreaDatabase } from '../lsdb/area-database';
import type { VirtualAdjacency } from '../lsdb/originate';
import { stubLink, transitLink } from '../lsdb/router-links';
import type { Area } from '../design/design';
import type { Ipv4 } from '../prefix/ipv4';
import { graphOf, type AreaGraph } from '../spf/area-graph';
import type { HopList, Tree } from '../spf/shortest-path-tree';
import { AreaDistances, areaNetworks, noWay, type AreaNetworks } from './area-rows';
import { FirstHops } from './first-hops';
import { HopSlots, type HopCode } from './hop-slots';
import { IntPool } from './int-pool';
import { prefixBook } from '../prefix/prefix-book';
import { Choosers } from './choosers';
import { ImportScratch, importsOf, type Imports } from './imports';
import { RowFilling, rootsOf } from './row-filling';
import type { SummaryRow } from './summary-row';

/** What the arrays are computed from: the readable rooms. */
export interface InternalNetwork {
  readonly speakers: readonly Speaker[];
  /** Ports of all speakers, by number. */
  readonly ports: readonly Port[];
  readonly virtuals: readonly VirtualAdjacency[];
  readonly databases: readonly AreaDatabase[];
  areasOf(s: Speaker): readonly number[];
  areaOf(s: Speaker, areaId: number): Area;
  isBorderRouter(s: Speaker): boolean;
  summaryAreas(s: Speaker): readonly number[];
  takesDefault(s: Speaker, areaId: number): boolean;
  database(s: Speaker, areaId: number): AreaDatabase | undefined;
  isTransit(s: Speaker, areaId: number): boolean;
  /** The readable tree, for areas with edges that cost nothing. */
  treeThrough(s: Speaker, areaId: number): Tree | undefined;
}

/** Kinds of an entry in a router's rows. */
export const noRoute = 0;
export const intraArea = 1;
export const interArea = 2;
export const ownRange = 3;

/** One speaker in one area: its vertex, distances and, for each vertex, the set of next hops. */
export interface RootRows {
  /** Index of the area's database. */
  readonly index: number;
  readonly root: number;
  readonly distance: Int32Array;
  readonly hops: Int32Array;
}

/** One area as arrays. */
export interface AreaArrays {
  readonly database: AreaDatabase;
  readonly graph: AreaGraph;
  readonly networks: AreaNetworks;
  readonly distances: AreaDistances;
}

/**
 * Routes inside the system as arrays (RFC 2328 §16.1 to §16.3): the boundary between readable advertisements and the hot
 * path. Prefixes and hops are numbers, and nothing is made per route.
 */
export class InternalArrays {
  readonly prefixes = prefixBook;
  readonly areas: readonly AreaArrays[];
  /** Types 3 by border router, by index of the database. */
  readonly rows: (readonly SummaryRow[])[];
  private readonly slots: (HopSlots | undefined)[];
  private readonly roots: (RootRows[] | undefined)[] = [];
  /** What routers choose of all that they are told. */
  readonly choosers: Choosers;
  readonly filling: RowFilling;
  /** Where rows of this state come from. What a later state takes over keeps pieces of it in memory: those of a few changes are small. */
  readonly pool: IntPool;

  /** @param before  arrays of the state before, whose areas other than the touched ones are used again; numbers stay the same */
  constructor(
    readonly network: InternalNetwork,
    private before?: { readonly arrays: InternalArrays; readonly touched: ReadonlySet<number> },
  ) {
    this.pool = new IntPool(before ? 8192 : 32768);
    this.choosers = new Choosers(this, before && { choosers: before.arrays.choosers, touched: before.touched });
    this.filling = before?.arrays.filling.after(this) ?? new RowFilling(this);
    this.slots = before?.arrays.slots ?? [];
    this.areas = network.databases.map((database, i): AreaArrays => {
      const graph = graphOf(database);
      const known = before?.touched.has(database.areaId) ? undefined : before?.arrays.areas[i];
      if (known) return { ...known, database, graph };
      return { database, graph, networks: areaNetworks(graph, this.prefixes), distances: new AreaDistances(graph) };
    });
    this.rows = network.databases.map((_, i) => before?.arrays.rows[i] ?? []);
    this.prefixes.id(0, 0);
    network.speakers.forEach((s, n) => {
      // Numbers stay the same: only who is another one than before can bring new ones.
      if (before?.arrays.network.speakers[n] === s) return;
      for (const a of s.instance.areas) for (const r of a.ranges) this.prefixes.id(r.prefix.bits, r.prefix.length);
    });
  }

  /** Takes over all that is still to come from the state before, and lets that go. */
  standAlone(): void {
    if (!this.before) return;
    this.areas.forEach((_, i) => this.imports(i));
    for (const s of this.network.speakers) {
      const roots = rootsOf(this, s);
      this.roots[s.index] = roots;
      this.choosers.of(s);
    }
    this.importScratch();
    this.choosers.standAlone();
    this.before = undefined;
  }

  /** States that share this were computed from one another: hops have the same numbers in all of them. */
  get lineage(): unknown {
    return this.slots;
  }

  /** The router's ways out, over all of its areas. */
  slotsOf(s: Speaker): HopSlots {
    const known = this.slots[s.index];
    if (known) return known;
    const made = new HopSlots(this.network.ports);
    this.slots[s.index] = made;
    for (const areaId of this.network.areasOf(s)) this.placeHops(s, areaId, made);
    return made;
  }

  private placeHops(s: Speaker, areaId: number, slots: HopSlots): void {
    const db = this.network.database(s, areaId);
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
      const tree = this.network.treeThrough(s, areaId);
      for (let v = 0; tree && v < tree.distance.length; v++)
        for (const h of tree.hops(v)) {
          const hop = tree.hopList.hops[h];
          if (hop) slots.place(hop.port, hop.address);
        }
      return;
    }
    for (let e = graph.first[root] ?? 0; e < (graph.first[root + 1] ?? 0); e++) {
      const n = lsa.first + (graph.detail[e] ?? 0);
      const w = graph.to[e] ?? 0;
      const p = port[n];
      if (!p) continue;
      if (kind[n] !== transitLink) slots.place(p, nextHop[n]);
      else {
        slots.place(p, undefined);
        for (let f = graph.first[w] ?? 0; f < (graph.first[w + 1] ?? 0); f++) if (graph.to[f] !== root) slots.place(p, graph.detail[f]);
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
    for (let e = graph.first[root] ?? 0; e < (graph.first[root + 1] ?? 0); e++) {
      const n = lsa.first + (graph.detail[e] ?? 0);
      const vertex = graph.to[e] ?? 0;
      const cost = graph.metric[e] ?? 0;
      const p = port[n];
      if (!p) out.add(vertex, e, -1, cost, 0, this.virtualHops(s, id[n] ?? 0));
      else if (kind[n] !== transitLink) out.add(vertex, e, -1, cost, 0, slots.single(slots.place(p, nextHop[n])));
      else {
        out.add(vertex, e, -1, cost, 1, slots.single(slots.place(p, undefined)));
        for (let f = graph.first[vertex] ?? 0; f < (graph.first[vertex + 1] ?? 0); f++) {
          const other = graph.to[f] ?? 0;
          if (other !== root) out.add(other, e, f, cost, 0, slots.single(slots.place(p, graph.detail[f])));
        }
      }
    }
  }

  private virtualHops(s: Speaker, peer: Ipv4): HopCode {
    const v = this.network.virtuals.find((x) => x.speaker === s.index && x.peerId === peer);
    const through = v && this.network.database(s, v.transitArea);
    const rows = through && this.root(s, through);
    const at = rows && this.areas[rows.index]?.graph.vertexOfRouter.get(peer);
    return at === undefined ? 0 : (rows?.hops[at] ?? 0);
  }

  /** A speaker's rows by index of the database, if this state has made them. */
  known(s: Speaker, index: number): RootRows | undefined {
    return this.roots[s.index]?.find((r) => r.index === index);
  }

  /** A speaker's rows in one of its areas; `undefined` when it has no router-LSA there. */
  root(s: Speaker, database: AreaDatabase): RootRows | undefined {
    const own = this.roots[s.index];
    for (let i = 0; own && i < own.length; i++) {
      const known = own[i];
      if (known?.index === database.index) return known;
    }
    if (this.before && !this.before.touched.has(database.areaId)) return this.before.arrays.root(s, database);
    const area = this.areas[database.index];
    const root = area?.graph.vertexOfRouter.get(s.routerId);
    if (!area || root === undefined) return undefined;
    const distance = area.distances.row(root);
    const hops = area.distances.hasFreeEdge ? this.hopsOfTree(s, database.areaId, distance.length) : this.hopsOf(s, area, root, distance);
    const made = { index: database.index, root, distance, hops };
    // Most have one, and a list as long as that. Ways through virtual links may have made others meanwhile.
    const now = this.roots[s.index];
    if (now) now.push(made);
    else this.roots[s.index] = [made];
    return made;
  }

  /** The rows of a root as a readable tree; `undefined` where first hops cannot be told from distances. */
  treeFrom(s: Speaker, database: AreaDatabase, hopList: HopList): Tree | undefined {
    const area = this.areas[database.index];
    const rows = area && !area.distances.hasFreeEdge ? this.root(s, database) : undefined;
    if (!rows || !area) return undefined;
    const slots = this.slotsOf(s);
    return {
      graph: area.graph,
      root: rows.root,
      hopList,
      distance: widened(rows.distance),
      hops: (v) => slots.listed(rows.hops[v] ?? 0, hopList),
      parents: (v) => parentsOf(area.graph, rows.distance, rows.root, v),
    };
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
      const code = ways.code[i] ?? 0;
      const vertex = ways.vertex[i] ?? 0;
      const cost = ways.cost[i] ?? 0;
      if (code === 0) continue;
      if (ways.network[i] === 1) {
        if (distance[vertex] === cost) hops[vertex] = slots.join(hops[vertex] ?? 0, code);
      } else if (slots.wide) markWide(hops, distance, area.distances.row(vertex), cost, code, slots);
      else markHops(hops, distance, area.distances.row(vertex), cost, code);
    }
    ways.count = 0;
    this.spareHops = ways;
    hops[root] = 0;
    return hops;
  }

  private hopsOfTree(s: Speaker, areaId: number, size: number): Int32Array {
    const slots = this.slotsOf(s);
    const hops = new Int32Array(size);
    const tree = this.network.treeThrough(s, areaId);
    for (let v = 0; tree && v < size; v++)
      for (const h of tree.hops(v)) {
        const hop = tree.hopList.hops[h];
        if (hop) hops[v] = slots.join(hops[v] ?? 0, slots.single(slots.place(hop.port, hop.address)));
      }
    return hops;
  }

  private scratch: ImportScratch | undefined;
  private importsBy: { readonly said: readonly SummaryRow[]; readonly imports: Imports }[] = [];

  /** What border routers tell an area now, by index of its database. */
  imports(index: number): Imports {
    const said = this.rows[index] ?? [];
    const known = this.importsBy[index];
    if (known?.said === said) return known.imports;
    const area = this.areas[index];
    if (!area) throw new RangeError(`no database ${index}`);
    const imports = this.importsBefore(area, said) ?? importsOf(area, said, this.importScratch(), this.pool, this.seed(index));
    this.importsBy[index] = { said, imports };
    return imports;
  }

  /** Those of the state before, where the same is said in an area that is the same. */
  private importsBefore(area: AreaArrays, said: readonly SummaryRow[]): Imports | undefined {
    const { database } = area;
    if (!this.before || this.before.touched.has(database.areaId)) return undefined;
    const known = this.before.arrays.importsBy[database.index];
    return known?.said.length === said.length && said.every((r, i) => r === known.said[i]) ? known.imports : undefined;
  }

  /** Imports of the state before, as it came to rest, and the networks of the area there. */
  private seed(index: number): { readonly imports: Imports; readonly networks: AreaNetworks } | undefined {
    const old = this.before?.arrays;
    const imports = old?.importsBy[index]?.imports;
    const networks = old?.areas[index]?.networks;
    return imports && networks ? { imports, networks } : undefined;
  }

  private importScratch(): ImportScratch {
    this.scratch ??= this.before?.arrays.scratch;
    if (!this.scratch || this.scratch.prefixCount < this.prefixes.size) this.scratch = new ImportScratch(this.prefixes.size);
    return this.scratch;
  }
}

function widened(distance: Int32Array): Float64Array {
  const out = new Float64Array(distance.length);
  for (let v = 0; v < out.length; v++) {
    const d = distance[v] ?? noWay;
    out[v] = d < noWay ? d : Infinity;
  }
  return out;
}

/** Vertices before a vertex on its shortest paths, the nearest to the root first. */
function parentsOf(graph: AreaGraph, distance: Int32Array, root: number, v: number): number[] {
  const out: number[] = [];
  const d = distance[v] ?? noWay;
  if (v === root || d >= noWay) return out;
  const size = graph.first.length - 1;
  for (let u = 0; u < size; u++)
    for (let e = graph.first[u] ?? 0; e < (graph.first[u + 1] ?? 0); e++)
      if (graph.to[e] === v && (distance[u] ?? noWay) + (graph.metric[e] ?? 0) === d && !out.includes(u)) out.push(u);
  return out.sort((a, b) => (distance[a] ?? 0) - (distance[b] ?? 0));
}

function markHops(hops: Int32Array, distance: Int32Array, from: Int32Array, cost: number, code: number): void {
  for (let v = 0; v < hops.length; v++) {
    const d = distance[v] ?? noWay;
    if ((from[v] ?? noWay) + cost === d && d < noWay) hops[v] = (hops[v] ?? 0) | code;
  }
}

function markWide(hops: Int32Array, distance: Int32Array, from: Int32Array, cost: number, code: HopCode, slots: HopSlots): void {
  for (let v = 0; v < hops.length; v++) {
    const d = distance[v] ?? noWay;
    if ((from[v] ?? noWay) + cost === d && d < noWay) hops[v] = slots.join(hops[v] ?? 0, code);
  }
}
