import type { Speaker } from '../adjacency/speakers';
import type { AreaDatabase, VirtualAdjacency } from '../lsdb/area-database';
import { lsInfinity } from '../lsdb/lsa';
import { backbone, type Area, type AreaRange } from '../design/design';
import { rangeFor } from '../lsdb/summary-lsa';
import type { Ipv4 } from '../prefix/ipv4';
import type { AreaGraph } from '../spf/area-graph';
import type { HopList, Tree } from '../spf/shortest-path-tree';
import { AreaDistances, areaNetworks, noWay, type AreaNetworks } from './area-rows';
import { HopSlots, type HopCode } from './hop-slots';
import { PrefixIds } from '../prefix/prefix-ids';
import { hopsOfNearest, nearest } from './nearest';
import { importsOf, type Imports, type ImportScratch } from './imports';
import { patchedImports, rowDelta, type RowDelta } from './row-delta';
import type { SummaryRow } from './summary-row';

/** What the arrays are computed from: the readable rooms. */
export interface InternalNetwork {
  readonly speakers: readonly Speaker[];
  readonly virtuals: readonly VirtualAdjacency[];
  readonly databases: readonly AreaDatabase[];
  readonly graphs: readonly AreaGraph[];
  areasOf(s: Speaker): readonly number[];
  areaOf(s: Speaker, areaId: number): Area;
  isBorderRouter(s: Speaker): boolean;
  summaryAreas(s: Speaker): readonly number[];
  database(s: Speaker, areaId: number): AreaDatabase | undefined;
  tree(s: Speaker, areaId: number): Tree | undefined;
}

/** Kinds of an entry in a router's rows. */
export const noRoute = 0;
export const intraArea = 1;
export const interArea = 2;
const ownRange = 3;

/** A way out of a root into its area: towards a router or an attached network, at a cost. */
interface FirstHop {
  readonly vertex: number;
  readonly cost: number;
  readonly network: boolean;
  readonly code: HopCode;
}

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
 * A router's routes inside the system, by the number of their prefix. One object serves one router after the other;
 * `filled` entries stand in `touched`.
 */
export interface InternalRows {
  filled: number;
  touched: Int32Array;
  kind: Uint8Array;
  cost: Int32Array;
  hops: Int32Array;
  /** Index of the database it came through. */
  database: Int32Array;
  /** Prefixes of own ranges in force. */
  own?: readonly number[];
  /** Rows that these differ from in a few prefixes only. */
  patch?: { readonly from: InternalRows; readonly ids: readonly number[] };
}

/**
 * Routes inside the system as arrays (RFC 2328 §16.1 to §16.3): the boundary between readable advertisements and the hot
 * path. Prefixes and hops are numbers, and nothing is made per route.
 */
export class InternalArrays {
  readonly prefixes: PrefixIds;
  readonly areas: readonly AreaArrays[];
  /** Types 3 by border router, by index of the database. */
  readonly rows: (readonly SummaryRow[])[];
  private readonly slots: (HopSlots | undefined)[];
  private readonly roots: RootRows[][] = [];

  /** @param before  arrays of the state before, whose areas other than the touched ones are used again; numbers stay the same */
  constructor(
    readonly network: InternalNetwork,
    private readonly before?: { readonly arrays: InternalArrays; readonly touched: ReadonlySet<number> },
  ) {
    this.prefixes = before?.arrays.prefixes ?? new PrefixIds(network.speakers.length * 8);
    this.slots = before?.arrays.slots ?? [];
    this.areas = network.databases.map((database, i): AreaArrays => {
      const graph = network.graphs[i];
      if (!graph) throw new Error('a database without its graph');
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

  /** The router's ways out, over all of its areas. */
  slotsOf(s: Speaker): HopSlots {
    const known = this.slots[s.index];
    if (known) return known;
    const made = new HopSlots();
    this.slots[s.index] = made;
    for (const areaId of this.network.areasOf(s)) this.placeHops(s, areaId, made);
    return made;
  }

  private placeHops(s: Speaker, areaId: number, slots: HopSlots): void {
    const db = this.network.database(s, areaId);
    const graph = db && this.areas[db.index]?.graph;
    const root = graph?.vertexOfRouter.get(s.routerId);
    if (!graph || root === undefined) return;
    const links = graph.routers[root]?.links ?? [];
    for (const l of links) if (l.kind === 'stub' && l.port) slots.place(l.port, undefined);
    if (this.areas[db.index]?.distances.hasFreeEdge) {
      const tree = this.network.tree(s, areaId);
      for (let v = 0; tree && v < tree.distance.length; v++)
        for (const h of tree.hops(v)) {
          const hop = tree.hopList.hops[h];
          if (hop) slots.place(hop.port, hop.address);
        }
      return;
    }
    for (let e = graph.first[root] ?? 0; e < (graph.first[root + 1] ?? 0); e++) {
      const link = links[graph.detail[e] ?? 0];
      const w = graph.to[e] ?? 0;
      if (!link?.port) continue;
      if (link.kind !== 'transit') slots.place(link.port, link.nextHop);
      else {
        slots.place(link.port, undefined);
        for (let f = graph.first[w] ?? 0; f < (graph.first[w + 1] ?? 0); f++) if (graph.to[f] !== root) slots.place(link.port, graph.detail[f]);
      }
    }
  }

  /** First hops of a root with what each costs. */
  private firstHops(s: Speaker, area: AreaArrays, root: number): FirstHop[] {
    const { graph } = area;
    const slots = this.slotsOf(s);
    const links = graph.routers[root]?.links ?? [];
    const out: FirstHop[] = [];
    for (let e = graph.first[root] ?? 0; e < (graph.first[root + 1] ?? 0); e++) {
      const link = links[graph.detail[e] ?? 0];
      const vertex = graph.to[e] ?? 0;
      const cost = graph.metric[e] ?? 0;
      if (!link) continue;
      if (link.kind === 'virtual') out.push({ vertex, cost, network: false, code: this.virtualHops(s, link.id) });
      else if (link.port && link.kind !== 'transit')
        out.push({ vertex, cost, network: false, code: slots.single(slots.place(link.port, link.nextHop)) });
      else if (link.port) {
        out.push({ vertex, cost, network: true, code: slots.single(slots.place(link.port, undefined)) });
        for (let f = graph.first[vertex] ?? 0; f < (graph.first[vertex + 1] ?? 0); f++) {
          const behind = graph.to[f] ?? 0;
          if (behind !== root) out.push({ vertex: behind, cost, network: false, code: slots.single(slots.place(link.port, graph.detail[f])) });
        }
      }
    }
    return out;
  }

  private virtualHops(s: Speaker, peer: Ipv4): HopCode {
    const v = this.network.virtuals.find((x) => x.speaker === s.index && this.network.speakers[x.peer]?.routerId === peer);
    const through = v && this.network.database(s, v.transitArea);
    const rows = through && this.root(s, through);
    const at = rows && this.areas[rows.index]?.graph.vertexOfRouter.get(peer);
    return at === undefined ? 0 : (rows?.hops[at] ?? 0);
  }

  /** A speaker's rows in one of its areas; `undefined` when it has no router-LSA there. */
  root(s: Speaker, database: AreaDatabase): RootRows | undefined {
    const own = (this.roots[s.index] ??= []);
    const known = own.find((r) => r.index === database.index);
    if (known) return known;
    if (this.before && !this.before.touched.has(database.areaId)) return this.before.arrays.root(s, database);
    const area = this.areas[database.index];
    const root = area?.graph.vertexOfRouter.get(s.routerId);
    if (!area || root === undefined) return undefined;
    const distance = area.distances.row(root);
    const hops = area.distances.hasFreeEdge ? this.hopsOfTree(s, database.areaId, distance.length) : this.hopsOf(s, area, root, distance);
    const made = { index: database.index, root, distance, hops };
    own.push(made);
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
      distance: Float64Array.from(rows.distance, (d) => (d < noWay ? d : Infinity)),
      hops: (v) => slots.listed(rows.hops[v] ?? 0, hopList),
      parents: (v) => parentsOf(area.graph, rows.distance, rows.root, v),
    };
  }

  /** A first hop leads towards a vertex where its cost and the distance from there add up to one's own (RFC 2328 §16.1.1). */
  private hopsOf(s: Speaker, area: AreaArrays, root: number, distance: Int32Array): Int32Array {
    const slots = this.slotsOf(s);
    const hops = new Int32Array(distance.length);
    for (const first of this.firstHops(s, area, root)) {
      if (first.code === 0) continue;
      if (first.network) {
        if (distance[first.vertex] === first.cost) hops[first.vertex] = slots.join(hops[first.vertex] ?? 0, first.code);
      } else if (slots.wide) markWide(hops, distance, area.distances.row(first.vertex), first, slots);
      else markHops(hops, distance, area.distances.row(first.vertex), first.cost, first.code);
    }
    hops[root] = 0;
    return hops;
  }

  private hopsOfTree(s: Speaker, areaId: number, size: number): Int32Array {
    const slots = this.slotsOf(s);
    const hops = new Int32Array(size);
    const tree = this.network.tree(s, areaId);
    for (let v = 0; tree && v < size; v++)
      for (const h of tree.hops(v)) {
        const hop = tree.hopList.hops[h];
        if (hop) hops[v] = slots.join(hops[v] ?? 0, slots.single(slots.place(hop.port, hop.address)));
      }
    return hops;
  }

  /** Empty rows, wide enough for every prefix named so far. */
  emptyRows(): InternalRows {
    const n = this.prefixes.size;
    return {
      filled: 0,
      touched: new Int32Array(n),
      kind: new Uint8Array(n),
      cost: new Int32Array(n),
      hops: new Int32Array(n),
      database: new Int32Array(n),
    };
  }

  private readonly importsBy: { readonly said: readonly SummaryRow[]; readonly imports: Imports }[] = [];
  private readonly deltas: { readonly said: readonly SummaryRow[]; readonly delta: RowDelta | undefined }[] = [];
  private scratch: ImportScratch | undefined;

  /** What border routers tell an area now, by index of its database. */
  imports(index: number): Imports {
    const said = this.rows[index] ?? [];
    const known = this.importsBy[index];
    if (known?.said === said) return known.imports;
    const area = this.areas[index];
    if (!area) throw new RangeError(`no database ${index}`);
    const { size } = this.prefixes;
    this.scratch ??= { ids: new Int32Array(size), costs: new Int32Array(size * 2) };
    const imports = this.importsFromBefore(index) ?? importsOf(area, said, size, this.scratch);
    this.importsBy[index] = { said, imports };
    return imports;
  }

  private importsFromBefore(index: number): Imports | undefined {
    const delta = this.delta(index);
    const old = delta && this.before?.arrays.imports(index);
    if (!old) return undefined;
    const imports = delta.ids.length === 0 ? old : patchedImports(old, delta);
    // What is inside the area may have grown by something that it is told as well.
    const missing = (id: number): boolean => {
      const at = old.place[id] ?? -1;
      return at >= 0 && old.insideToo[at] !== 1;
    };
    return this.areas[index]?.networks.ids.some(missing) ? undefined : imports;
  }

  /** In what few prefixes an area is told something else than in the state before; `undefined` without such a state, or when it is much. */
  delta(index: number): RowDelta | undefined {
    const said = this.rows[index] ?? [];
    const known = this.deltas[index];
    if (known?.said === said) return known.delta;
    const old = this.before?.arrays;
    const delta = old && rowDelta(old.imports(index), old.rows[index] ?? [], said);
    this.deltas[index] = { said, delta };
    return delta;
  }

  /**
   * The rows of a border router whose own areas are as they were, from its rows before: only what it is told otherwise is
   * looked at. `undefined` where that does not do.
   */
  patched(old: InternalRows, s: Speaker): InternalRows | undefined {
    const reads = this.network.summaryAreas(s);
    const db = reads.length === 1 ? this.network.database(s, reads[0] ?? 0) : undefined;
    const root = db && this.root(s, db);
    const delta = db && this.delta(db.index);
    if (!root || !delta || !old.own || this.network.virtuals.length > 0 || delta.ids.some((id) => id >= old.kind.length)) return undefined;
    const slots = this.slotsOf(s);
    const out = { ...old, kind: old.kind.slice(), cost: old.cost.slice(), hops: old.hops.slice(), touched: old.touched.slice() };
    const ids: number[] = [];
    const width = delta.rows.length;
    delta.ids.forEach((id, i) => {
      if (out.kind[id] === intraArea || old.own?.includes(id)) return;
      let best = noWay;
      let through = 0;
      for (let j = 0; j < width; j++) {
        const row = delta.rows[j];
        const d = (root.distance[row?.vertex ?? -1] ?? noWay) + (delta.costs[i * width + j] ?? noWay);
        if (!row || row.adv === s.routerId || d >= noWay || d > best) continue;
        const h = root.hops[row.vertex] ?? 0;
        through = d < best ? h : slots.join(through, h);
        best = d;
      }
      ids.push(id);
      if (best < noWay) {
        if (out.kind[id] === noRoute) {
          out.touched[out.filled++] = id;
          out.database = out.database.slice();
          out.database[id] = root.index;
        }
        out.kind[id] = interArea;
        out.cost[id] = best;
        out.hops[id] = through;
      } else if (out.kind[id] !== noRoute) {
        out.kind[id] = noRoute;
        const place = out.touched.indexOf(id);
        out.touched.copyWithin(place, place + 1, out.filled);
        out.filled--;
      }
    });
    out.patch = { from: old, ids };
    return out;
  }

  /**
   * Puts a router's routes inside the system into rows.
   *
   * @param insideOnly  leaves out what summaries bring
   */
  fill(rows: InternalRows, s: Speaker, insideOnly: boolean): void {
    for (let i = 0; i < rows.filled; i++) rows.kind[rows.touched[i] ?? 0] = noRoute;
    rows.filled = 0;
    const slots = this.slotsOf(s);
    for (const a of this.network.areasOf(s)) {
      const db = this.network.database(s, a);
      const root = db && this.root(s, db);
      const area = db && this.areas[db.index];
      if (root && area) this.addInside(rows, area, root, slots);
    }
    if (insideOnly) return;
    // Own ranges in force: their type 3 from others is not used (RFC 2328 §16.2 (3)).
    const own = this.network.isBorderRouter(s) ? [...this.activeRanges(rows, s).keys()] : [];
    rows.own = own;
    for (const id of own) if (rows.kind[id] === noRoute) rows.kind[id] = ownRange;
    for (const a of this.network.summaryAreas(s)) {
      const db = this.network.database(s, a);
      const root = db && this.root(s, db);
      if (!root) continue;
      for (const row of this.readable(root, s)) addSummaries(rows, root, row, slots);
    }
    for (const id of own) if (rows.kind[id] === ownRange) rows.kind[id] = noRoute;
    for (const v of this.network.virtuals) {
      const db = v.speaker === s.index ? this.network.database(s, v.transitArea) : undefined;
      const root = db && this.root(s, db);
      if (root) for (const row of this.readable(root, s)) this.improve(rows, root, row, slots);
    }
  }

  /** Rows of an area that a router can use: of border routers that it reaches there (RFC 2328 §16.2 (1) and (2)). */
  readable(root: RootRows, s: Speaker): SummaryRow[] {
    const { graph } = this.areas[root.index] ?? {};
    return (this.rows[root.index] ?? []).filter(
      (r) => r.adv !== s.routerId && r.vertex >= 0 && (root.distance[r.vertex] ?? noWay) < noWay && graph?.routers[r.vertex]?.bits.b,
    );
  }

  /**
   * Own ranges in force in a border router's rows, with the first part that brings each: those of areas where a part is
   * reachable inside (RFC 2328 §12.4.3).
   */
  activeRanges(rows: InternalRows, s: Speaker): Map<number, AreaRange> {
    const out = new Map<number, AreaRange>();
    const areas = this.areas.map((a) => this.network.areaOf(s, a.database.areaId));
    if (areas.every((a) => a.ranges.length === 0)) return out;
    for (let i = 0; i < rows.filled; i++) {
      const id = rows.touched[i] ?? 0;
      const area = rows.kind[id] === intraArea ? areas[rows.database[id] ?? 0] : undefined;
      const range = area && area.ranges.length > 0 ? rangeFor(area, this.prefixes.prefix(id)) : undefined;
      if (range) out.set(this.prefixes.id(range.prefix.bits, range.prefix.length), range);
    }
    return out;
  }

  private addInside(rows: InternalRows, area: AreaArrays, root: RootRows, slots: HopSlots): void {
    const { networks } = area;
    const { index } = area.database;
    for (let n = 0; n < networks.ids.length; n++) {
      const best = nearest(networks, n, root, slots, area);
      if (best >= noWay) continue;
      const through = hopsOfNearest();
      const id = networks.ids[n] ?? 0;
      if (rows.kind[id] === noRoute) {
        rows.touched[rows.filled++] = id;
        rows.kind[id] = intraArea;
      } else if (best > (rows.cost[id] ?? 0)) continue;
      else if (best === rows.cost[id]) {
        rows.hops[id] = slots.join(rows.hops[id] ?? 0, through);
        continue;
      }
      rows.cost[id] = best;
      rows.hops[id] = through;
      rows.database[id] = index;
    }
  }

  /** A shorter way through a transit area to what the backbone brings (RFC 2328 §16.3). */
  private improve(rows: InternalRows, root: RootRows, row: SummaryRow, slots: HopSlots): void {
    const base = root.distance[row.vertex] ?? noWay;
    const through = root.hops[row.vertex] ?? 0;
    for (let i = 0; i < row.ids.length; i++) {
      const id = row.ids[i] ?? 0;
      const written = row.cost[i] ?? 0;
      const d = base + written;
      if (written >= lsInfinity || rows.kind[id] === noRoute || d > (rows.cost[id] ?? 0)) continue;
      if (this.network.databases[rows.database[id] ?? 0]?.areaId !== backbone || slots.attached(rows.hops[id] ?? 0)) continue;
      if (d < (rows.cost[id] ?? 0)) {
        rows.cost[id] = d;
        rows.hops[id] = through;
      } else rows.hops[id] = slots.join(rows.hops[id] ?? 0, through);
    }
  }
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

function markWide(hops: Int32Array, distance: Int32Array, from: Int32Array, first: FirstHop, slots: HopSlots): void {
  for (let v = 0; v < hops.length; v++) {
    const d = distance[v] ?? noWay;
    if ((from[v] ?? noWay) + first.cost === d && d < noWay) hops[v] = slots.join(hops[v] ?? 0, first.code);
  }
}

/** Routes from the summaries of one border router (RFC 2328 §16.2 (3) to (6)); intra-area routes stay. */
function addSummaries(rows: InternalRows, root: RootRows, row: SummaryRow, slots: HopSlots): void {
  const { kind, cost, hops, touched, database } = rows;
  const { ids, cost: written } = row;
  const base = root.distance[row.vertex] ?? noWay;
  const through = root.hops[row.vertex] ?? 0;
  const { index } = root;
  const { wide } = slots;
  let { filled } = rows;
  for (let i = 0; i < ids.length; i++) {
    const id = ids[i] ?? 0;
    const w = written[i] ?? 0;
    const known = kind[id] ?? noRoute;
    if (known === intraArea || known === ownRange || w >= lsInfinity) continue;
    const d = base + w;
    if (known === noRoute) {
      touched[filled++] = id;
      kind[id] = interArea;
    } else if (d > (cost[id] ?? 0)) continue;
    else if (d === cost[id]) {
      hops[id] = wide ? slots.join(hops[id] ?? 0, through) : (hops[id] ?? 0) | through;
      continue;
    }
    cost[id] = d;
    hops[id] = through;
    database[id] = index;
  }
  rows.filled = filled;
}
