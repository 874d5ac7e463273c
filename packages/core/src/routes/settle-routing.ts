import type { Adjacencies, Resettled } from '../adjacency/settle';
import type { Port, Speaker } from '../adjacency/speakers';
import { plainArea } from '../design/plain';
import { backbone, type Area, type Design } from '../design/design';
import { interfaceUp, type Outage } from '../failures/outage';
import { networkOf, prefixKey, type Ipv4, type Ipv4Prefix } from '../prefix/ipv4';
import { noWay } from '../dense/area-rows';
import { areaDatabases, attachedAreas, databaseAfter, type AreaDatabase } from '../lsdb/area-database';
import { portsInArea, type VirtualAdjacency } from '../lsdb/originate';
import { imports } from '../lsdb/external-lsa';
import type { ExternalLsa } from '../lsdb/lsa';
import { routerBits, type RouterBits, type RouterLink } from '../lsdb/router-links';
import { rangeFor } from '../lsdb/summary-lsa';
import { areaGraph, type AreaGraph } from '../spf/area-graph';
import { HopList, noHops, shortestPathTree, type HopSet, type Tree } from '../spf/shortest-path-tree';
import { preferredPath } from './exit-preference';
import { externalRoutes } from './external';
import { addInterAreaRoutes, boundaryPaths, improveThroughTransitArea } from './inter-area';
import { addIntraAreaRoutes } from './intra-area';
import { directRoutes, otherRoutes, staticRoutes, type LocalRoute } from './local-routes';
import { InternalArrays } from '../dense/internal-rows';
import { ExternalSettling } from './settle-externals';
import { TableRows } from '../dense/table-rows';
import { SummaryWriting, type SummaryWriter } from '../dense/summary-writing';
import type { RouterPath, Table } from './route';
import { reachableVirtualLinks } from './virtual-links';

/** Something that looked back and did not come to rest within its bound. */
export type Unsettled = 'virtual-links' | 'summaries' | 'externals';

const bound = 24;
/** So many states computed from one another are kept in memory: then the last one takes over what it needs, and the earlier ones are let go. */
const chained = 8;
/** After so many everything is computed again: classes and prefixes that nothing is of any more are let go too. */
const longest = 150;
const noSpeakers: ReadonlySet<number> = new Set();

/** Indexes of the databases that each speaker has a part in; speakers of one area alone share a list. */
function databasesOf(databases: readonly AreaDatabase[], speakers: number): (readonly number[])[] {
  const out = new Array<readonly number[]>(speakers).fill([]);
  for (const db of databases) {
    const alone = [db.index];
    for (const s of db.speakers) {
      const before = out[s];
      out[s] = before && before.length > 0 ? [...before, db.index] : alone;
    }
  }
  return out;
}

/** Whether a router has a full neighbour in an area. */
const fullIn = (adj: Adjacencies, s: Speaker, areaId: number): boolean =>
  portsInArea(s, areaId).some((p) => adj.views[p.index]?.some((v) => v.state === 'full') ?? false);

/**
 * The settled databases and tables of the whole design. Tables of routers that nobody depends on are made when asked
 * for; what looks back (virtual links, translators, imported routes that lose to OSPF) is settled by repetition.
 */
export class Routing {
  readonly unsettled: Unsettled[] = [];
  virtuals: VirtualAdjacency[] = [];
  databases: AreaDatabase[] = [];
  graphs: AreaGraph[] = [];
  /** Indexes of the databases that each speaker has a part in. */
  private dbOf: (readonly number[])[] = [];
  private borders: readonly Speaker[] | undefined;
  private backboneOf: (boolean | undefined)[] = [];
  private linksVirtually: boolean | undefined;
  private hopLists: (HopList | undefined)[] = [];
  private trees: (Map<number, Tree> | undefined)[] = [];
  private tables: (Table | undefined)[] = [];
  private locals: (LocalRoute[] | undefined)[] = [];
  private attached: (readonly number[] | undefined)[] = [];
  private readonly outside = new ExternalSettling(this);
  /** Routes inside the system as arrays. */
  readonly arrays: InternalArrays;
  /** The same, once virtual links have settled. */
  private readonly settledArrays: InternalArrays | undefined;
  private readonly writing: SummaryWriting;
  /** States that this one was computed from, one after the other. */
  private readonly depth: number;
  /** How many of these it keeps in memory. */
  private keeps: number;
  private cameFrom: { readonly routing: Routing; readonly change: Resettled } | undefined;

  constructor(
    readonly design: Design,
    readonly outage: Outage,
    readonly adjacencies: Adjacencies,
    before?: { readonly routing: Routing; readonly change: Resettled },
  ) {
    this.cameFrom = before;
    this.depth = before ? before.routing.depth + 1 : 0;
    this.keeps = before ? before.routing.keeps + 1 : 0;
    if (before) {
      this.arrays = this.follow(before.routing, before.change);
      this.settledArrays = this.arrays;
      this.writing = new SummaryWriting(this.arrays, { writing: before.routing.writing, touched: before.change.areas });
      this.settleSummaries();
      return;
    }
    this.settleVirtualLinks();
    this.arrays = new InternalArrays(this);
    this.settledArrays = this.arrays;
    this.trees = [];
    this.writing = new SummaryWriting(this.arrays);
    this.settleSummaries();
    if (!this.outside.settle()) this.unsettled.push('externals');
  }

  get speakers(): readonly Speaker[] {
    return this.adjacencies.speakers;
  }

  get ports(): readonly Port[] {
    return this.adjacencies.ports;
  }

  /** Settings of an area in one router; a plain area where it names none. */
  areaOf(s: Speaker, areaId: number): Area {
    const { areas } = s.instance;
    for (let i = 0; i < areas.length; i++) {
      const a = areas[i];
      if (a?.id === areaId) return a;
    }
    return plainArea(areaId, s.router.defaults);
  }

  private attachedOf(s: Speaker): readonly number[] {
    return (this.attached[s.index] ??= attachedAreas(s));
  }

  /** Areas that a router takes part in, the backbone by virtual link among them. */
  areasOf(s: Speaker): readonly number[] {
    const attached = this.attachedOf(s);
    return this.virtuals.length === 0 || attached.includes(backbone) || !this.endsVirtualLink(s) ? attached : [backbone, ...attached];
  }

  /** Whether a virtual link that is up ends here. @param through  only one through this transit area */
  endsVirtualLink(s: Speaker, through?: number): boolean {
    return this.virtuals.some((v) => v.speaker === s.index && (through === undefined || v.transitArea === through));
  }

  /** An area border router by its border model (RFC 3509 §2, RFC 2328 §3.3). */
  isBorderRouter(s: Speaker): boolean {
    const areas = this.areasOf(s);
    if (areas.length < 2) return false;
    return s.instance.borderModel === 'rfc2328' || areas.includes(backbone);
  }

  /** An AS boundary router: it imports, or translates, and an attached area can carry it. */
  isBoundaryRouter(s: Speaker): boolean {
    return this.outside.isTranslating(s) || (imports(s) && this.takesExternals(s));
  }

  private takesExternals(s: Speaker): boolean {
    return this.areasOf(s).some((a) => this.areaOf(s, a).type !== 'stub');
  }

  private hasActiveBackbone(s: Speaker): boolean {
    if (this.virtuals.length > 0 && this.endsVirtualLink(s)) return true;
    return (this.backboneOf[s.index] ??= fullIn(this.adjacencies, s, backbone));
  }

  /** Area border routers in the order of their speakers. */
  private get borderRouters(): readonly Speaker[] {
    return (this.borders ??= this.speakers.filter((s) => this.isBorderRouter(s)));
  }

  private bits(s: Speaker, areaId: number): RouterBits {
    const area = this.areaOf(s, areaId);
    const b = this.isBorderRouter(s);
    return routerBits(
      b,
      area.type !== 'stub' && this.isBoundaryRouter(s),
      this.virtuals.length > 0 && this.endsVirtualLink(s, areaId),
      b && area.type === 'nssa' && area.translatorAlways,
    );
  }

  // ---- virtual links (RFC 2328 §15) ----

  private settleVirtualLinks(): void {
    for (let round = 0; round < bound; round++) {
      this.databases = areaDatabases(
        this.adjacencies,
        this.virtuals,
        (s, a) => this.bits(s, a),
        (s) => this.attachedOf(s),
      );
      this.graphs = this.databases.map(areaGraph);
      this.dbOf = databasesOf(this.databases, this.speakers.length);
      this.hopLists = [];
      this.trees = [];
      const next = reachableVirtualLinks(this);
      const same = next.length === this.virtuals.length && next.every((v, i) => JSON.stringify(v) === JSON.stringify(this.virtuals[i]));
      if (same) break;
      if (round === bound - 1) this.unsettled.push('virtual-links');
      this.virtuals = next;
    }
  }

  // ---- after a change ----

  /** Takes over from the state before what a change of some areas leaves as it is. */
  private follow(before: Routing, change: Resettled): InternalArrays {
    this.outside.follow(before.outside);
    this.databases = before.databases.map((db) =>
      databaseAfter(db, this.adjacencies, change.areas.has(db.areaId) ? change.touched : noSpeakers, (s, a) => this.bits(s, a)),
    );
    this.graphs = this.databases.map((db, i) => {
      const known = change.areas.has(db.areaId) ? undefined : before.graphs[i];
      return known ? { ...known, database: db } : areaGraph(db);
    });
    this.dbOf = before.dbOf;
    // Which areas a router has a part in and whether it speaks in the backbone is the same (`canFollow`); its settings may not be.
    this.attached = before.attached;
    this.backboneOf = before.backboneOf;
    this.linksVirtually = before.linksVirtually;
    const borders = before.borderRouters.filter((s) => !change.touched.has(s.index));
    const again = [...change.touched].flatMap((n) => this.speakers[n] ?? []).filter((s) => this.isBorderRouter(s));
    this.borders = again.length === 0 ? borders : [...borders, ...again].sort((a, b) => a.index - b.index);
    this.hopLists = before.hopLists;
    return new InternalArrays(this, { arrays: before.arrays, touched: change.areas });
  }

  /**
   * The state after ports went down or fell silent, or after an edit of a router, computed from this one: areas that are not touched are used again.
   * `undefined` where that cannot be told to give the same as computing everything (virtual links, an area that falls
   * apart or is left, imports that change): then everything is to be computed.
   */
  after(outage: Outage, change: Resettled, design = this.design): Routing | undefined {
    if (this.depth >= longest || !this.canFollow(change)) return undefined;
    if (this.keeps >= chained) this.standAlone();
    const next = new Routing(design, outage, change.adjacencies, { routing: this, change });
    return next.unsettled.length === 0 && next.holdsTogether(this, change) ? next : undefined;
  }

  /** Takes over all that is still to come from the states before, and lets these go. */
  private standAlone(): void {
    this.rows.prepare();
    this.arrays.standAlone();
    this.rows.external.standAlone();
    this.cameFrom = undefined;
    this.keeps = 0;
  }

  /** Whether nothing looks back: no virtual links, and no imports that OSPF may beat. What an area cannot reach by a change hangs on that area alone. */
  get looksAheadOnly(): boolean {
    this.linksVirtually ??= this.speakers.some((s) => s.instance.areas.some((a) => a.virtualLinks.length > 0));
    return this.unsettled.length === 0 && !this.linksVirtually && !this.outside.looksBack;
  }

  /** Forwarding addresses that are named anywhere. */
  get forwarding(): ReadonlySet<Ipv4> {
    return this.outside.forwarding;
  }

  private canFollow(change: Resettled): boolean {
    if (!this.looksAheadOnly) return false;
    return [...change.touched].every((n) => {
      const [old, now] = [this.speakers[n], change.adjacencies.speakers[n]];
      if (!old || !now) return false;
      if (attachedAreas(old).join() !== attachedAreas(now).join()) return false;
      return fullIn(this.adjacencies, old, backbone) === fullIn(change.adjacencies, now, backbone);
    });
  }

  /** Whether every touched area still reaches itself, as it did, and what is imported is the same. */
  private holdsTogether(before: Routing, change: Resettled): boolean {
    for (const { database, graph, distances } of this.arrays.areas) {
      if (!change.areas.has(database.areaId)) continue;
      if (distances.hasFreeEdge || database.routers.size !== database.speakers.length) return false;
      const row = distances.row(0);
      for (let v = 0; v < graph.routers.length; v++) if ((row[v] ?? noWay) >= noWay) return false;
    }
    const forwarding = [...before.outside.forwarding];
    for (const n of change.touched) {
      const [old, now] = [before.speakers[n], this.speakers[n]];
      if (!old || !now) return false;
      const gone = old.ports.filter((p) => !now.ports.find((x) => x.index === p.index)?.up && p.up);
      if (gone.some((p) => p.iface.addresses.some((a) => forwarding.some((f) => networkOf(f, a.length) === networkOf(a.bits, a.length)))))
        return false;
      const words = (r: Routing, s: Speaker): string =>
        r
          .localRoutes(s)
          .filter((x) => x.source !== 'direct')
          .map((x) => `${x.key} ${x.preference} ${x.nextHop ?? ''}`)
          .join();
      if (gone.length > 0 && old.instance.redistribution.some((x) => x.source === 'direct')) return false;
      if (imports(old) && words(before, old) !== words(this, now)) return false;
    }
    return true;
  }

  // ---- trees ----

  hopList(s: Speaker): HopList {
    return (this.hopLists[s.index] ??= new HopList());
  }

  /** The speaker's tree through one of its areas, made once. */
  tree(s: Speaker, areaId: number): Tree | undefined {
    const own = (this.trees[s.index] ??= new Map<number, Tree>());
    const known = own.get(areaId);
    if (known) return known;
    const db = this.database(s, areaId);
    const graph = db && this.graphs[db.index];
    const root = graph?.vertexOfRouter.get(s.routerId);
    if (!graph || root === undefined) return undefined;
    const rows = this.settledArrays?.treeFrom(s, db, this.hopList(s));
    const tree = rows ?? shortestPathTree(graph, root, this.hopList(s), (link) => this.virtualHops(s, link));
    own.set(areaId, tree);
    return tree;
  }

  private virtualHops(s: Speaker, link: RouterLink): HopSet {
    const v = this.virtuals.find((x) => x.speaker === s.index && this.speakers[x.peer]?.routerId === link.id);
    const tree = v && this.tree(s, v.transitArea);
    const at = tree?.graph.vertexOfRouter.get(link.id);
    return (at === undefined ? undefined : tree?.hops(at)) ?? noHops;
  }

  database(s: Speaker, areaId: number): AreaDatabase | undefined {
    const own = this.dbOf[s.index];
    for (let i = 0; own && i < own.length; i++) {
      const db = this.databases[own[i] ?? -1];
      if (db?.areaId === areaId) return db;
    }
    return undefined;
  }

  // ---- inside the system ----

  /** Areas whose summaries a router reads (RFC 2328 §16.2, RFC 3509 §2.2). */
  summaryAreas(s: Speaker): readonly number[] {
    const areas = this.areasOf(s);
    if (!this.isBorderRouter(s)) return areas;
    if (this.hasActiveBackbone(s)) return [backbone];
    return s.instance.borderModel === 'rfc3509' ? areas : areas.filter((a) => a === backbone);
  }

  /** Prefixes of own ranges in force, of areas where a part is reachable inside. */
  activeRanges(s: Speaker, table: Table): Map<number, { area: number; advertise: boolean; cost: number }> {
    const out = new Map<number, { area: number; advertise: boolean; cost: number }>();
    if (!this.isBorderRouter(s)) return out;
    for (const r of table.values()) {
      if (r.type !== 'intra-area') continue;
      const range = rangeFor(this.areaOf(s, r.area), r);
      if (range) out.set(prefixKey(range.prefix.bits, range.prefix.length), { area: r.area, advertise: range.advertise, cost: r.metric });
    }
    return out;
  }

  /** Prefixes that a router reaches inside one of its areas. */
  insideOf(s: Speaker, areaId: number): Ipv4Prefix[] {
    const { ids, database } = this.arrays.choosers.inside(s);
    const out: Ipv4Prefix[] = [];
    for (let i = 0; i < ids.length; i++)
      if (this.arrays.areas[database[i] ?? 0]?.database.areaId === areaId) out.push(this.arrays.prefixes.prefix(ids[i] ?? 0));
    return out;
  }

  /**
   * Whether a router uses the type 3 default that stands in an area. A border router of a stub area or NSSA does not, also
   * while it reads the area's summaries (RFC 3509 §2.2): its own default there and this one would send packets in a circle.
   */
  takesDefault(s: Speaker, areaId: number): boolean {
    return this.areaOf(s, areaId).type === 'normal' || !this.isBorderRouter(s);
  }

  private internalTable(s: Speaker): Table {
    const table: Table = new Map();
    const hopList = this.hopList(s);
    for (const a of this.areasOf(s)) {
      const tree = this.tree(s, a);
      if (tree) addIntraAreaRoutes(table, tree, hopList);
    }
    const ranges = new Set(this.activeRanges(s, table).keys());
    for (const a of this.summaryAreas(s)) {
      const tree = this.tree(s, a);
      if (tree) addInterAreaRoutes(table, tree, s.routerId, ranges, this.takesDefault(s, a));
    }
    for (const v of this.virtuals) {
      const tree = v.speaker === s.index ? this.tree(s, v.transitArea) : undefined;
      if (tree) improveThroughTransitArea(table, tree, s.routerId);
    }
    return table;
  }

  /** Ways to every boundary router, area by area: which of them is used, RFC 2328 §16.4.1 says. */
  boundary(s: Speaker): Map<Ipv4, RouterPath[]> {
    const out = new Map<Ipv4, RouterPath[]>();
    const reads = this.summaryAreas(s);
    for (const a of this.areasOf(s)) {
      const tree = this.tree(s, a);
      if (!tree) continue;
      for (const p of boundaryPaths(tree, s.routerId, reads.includes(a))) {
        const list = out.get(p.router);
        if (list) list.push(p);
        else out.set(p.router, [p]);
      }
    }
    return out;
  }

  /**
   * Border routers write summaries until none of them changes: first into the backbone, which takes only what areas have
   * inside, then into the others. Who reads nothing new writes nothing again.
   */
  private settleSummaries(): void {
    const borders = this.borderRouters;
    for (let round = 0; round < bound; round++) {
      const first = this.writeSummaries(borders, (a) => a === backbone);
      const then = this.writeSummaries(borders, (a) => a !== backbone);
      if (!first && !then) return;
    }
    this.unsettled.push('summaries');
  }

  /** What each border router says into some areas now; true when anything changed. */
  private writeSummaries(borders: readonly Speaker[], into: (areaId: number) => boolean): boolean {
    const touched = new Set<AreaDatabase>();
    for (const s of borders)
      for (const a of this.areasOf(s)) {
        const db = into(a) ? this.database(s, a) : undefined;
        if (db && this.writing.write(this.summaryWriter(s), db)) touched.add(db);
      }
    for (const db of touched) this.writing.publish(db);
    return touched.size > 0;
  }

  private readonly writers: (SummaryWriter | undefined)[] = [];

  private summaryWriter(s: Speaker): SummaryWriter {
    return (this.writers[s.index] ??= this.makeWriter(s));
  }

  private makeWriter(s: Speaker): SummaryWriter {
    const areas: AreaDatabase[] = [];
    const reads: AreaDatabase[] = [];
    const read = this.summaryAreas(s);
    for (const a of this.areasOf(s)) {
      const db = this.database(s, a);
      if (!db) continue;
      areas.push(db);
      if (read.includes(a) || this.endsVirtualLink(s, a)) reads.push(db);
    }
    return new RoutingWriter(this, s, areas, reads);
  }

  // ---- externals ----

  /** Type 5 advertisements that a router holds. */
  externals(s: Speaker): ExternalLsa[] {
    return this.outside.held(s);
  }

  /** The same once everything has settled: one list for all routers of a flooding scope. */
  externalsHeld(s: Speaker): readonly ExternalLsa[] {
    return this.outside.heldTogether(s);
  }

  /** The boundary bits of router-LSAs moved, and with them the types 4 that others write about these routers. */
  boundariesMoved(moved: readonly Speaker[]): void {
    for (const s of moved)
      for (const a of this.areasOf(s)) {
        const db = this.database(s, a);
        const lsa = db?.routers.get(s.routerId);
        if (!db || lsa?.speaker !== s.index) continue;
        lsa.bits = this.bits(s, a);
        this.writing.bitsMoved(db);
      }
    this.settleSummaries();
  }

  private fullTable(s: Speaker): Table {
    const table = this.internalTable(s);
    const external = externalRoutes((key) => table.get(key), this.externalsHeld(s), this.outside.nssaAreas(s), this.outside.contextOf(s));
    for (const [key, r] of external) table.set(key, r);
    const limit = s.instance.paths;
    const hopList = this.hopList(s);
    for (const [key, r] of table)
      if (r.hops.length > limit) {
        const order = [...r.hops].sort((a, b) => (hopList.hops[a]?.address ?? 0) - (hopList.hops[b]?.address ?? 0));
        table.set(key, { ...r, hops: order.slice(0, limit).sort((a, b) => a - b) });
      }
    return table;
  }

  /** Routes of a router that are not from OSPF: direct, valid static, other. */
  localRoutes(s: Speaker): readonly LocalRoute[] {
    const known = this.locals[s.index];
    if (known) return known;
    const direct = directRoutes(this.design, this.outage, s.routerIndex);
    const up = (name: string): boolean =>
      interfaceUp(
        this.design,
        this.outage,
        s.routerIndex,
        s.router.interfaces.findIndex((i) => i.name === name),
      );
    const made = [...direct, ...staticRoutes(s.router, direct, up), ...otherRoutes(s, direct)];
    this.locals[s.index] = made;
    return made;
  }

  // ---- results ----

  private rowsOfTables: TableRows | undefined;

  /** Every route of every router as numbers. */
  get rows(): TableRows {
    return (this.rowsOfTables ??= new TableRows(
      this.arrays,
      this,
      this.outside,
      this.cameFrom && { rows: this.cameFrom.routing.rows, ...this.cameFrom.change },
    ));
  }

  /** Every route that OSPF computed in a router: made on first use. */
  table(s: Speaker): Table {
    const known = this.tables[s.index];
    if (known) return known;
    const table = this.fullTable(s);
    this.tables[s.index] = table;
    return table;
  }

  /** The same table, made for one look and not kept, unless it is kept already. */
  tableOnce(s: Speaker): Table {
    return this.tables[s.index] ?? this.fullTable(s);
  }
}

/** A border router of a state as it writes summaries. */
class RoutingWriter implements SummaryWriter {
  constructor(
    private readonly routing: Routing,
    readonly speaker: Speaker,
    readonly areas: readonly AreaDatabase[],
    readonly reads: readonly AreaDatabase[],
  ) {}

  get hopList(): HopList {
    return this.routing.hopList(this.speaker);
  }

  areaOf(areaId: number): Area {
    return this.routing.areaOf(this.speaker, areaId);
  }

  isTransit(areaId: number): boolean {
    return this.routing.endsVirtualLink(this.speaker, areaId);
  }

  boundary(): readonly RouterPath[] {
    const out: RouterPath[] = [];
    for (const paths of this.routing.boundary(this.speaker).values()) {
      const best = preferredPath(paths, this.speaker.instance.rfc1583Compatible);
      if (best) out.push(best);
    }
    return out;
  }
}
