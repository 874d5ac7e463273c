import type { Adjacencies } from '../adjacency/settle';
import type { Speaker } from '../adjacency/speakers';
import { plainArea } from '../design/plain';
import { backbone, type Area, type Design } from '../design/design';
import { interfaceUp, type Outage } from '../failures/outage';
import { prefixKey, type Ipv4 } from '../prefix/ipv4';
import { areaDatabases, attachedAreas, portsInArea, type AreaDatabase, type VirtualAdjacency } from '../lsdb/area-database';
import { externalLsas, foldExternal, imports, importedRoutes, nssaLsas } from '../lsdb/external-lsa';
import type { ExternalLsa, RouterBits, RouterLink } from '../lsdb/lsa';
import { translatedLsas, translates } from '../lsdb/nssa-translation';
import { rangeFor } from '../lsdb/summary-lsa';
import { areaGraph, type AreaGraph } from '../spf/area-graph';
import { HopList, noHops, shortestPathTree, type HopSet, type Tree } from '../spf/shortest-path-tree';
import { preferredPath } from './exit-preference';
import { addExternalRoutes } from './external';
import { addInterAreaRoutes, boundaryPaths, improveThroughTransitArea } from './inter-area';
import { addIntraAreaRoutes } from './intra-area';
import { directRoutes, otherRoutes, prefixesInOspf, staticRoutes, type LocalRoute } from './local-routes';
import { SummaryWriting, type SummaryWriter } from './summary-writing';
import type { RouterPath, Table } from './route';
import { reachableVirtualLinks } from './virtual-links';

/** Something that looked back and did not come to rest within its bound. */
export type Unsettled = 'virtual-links' | 'summaries' | 'externals';

const bound = 24;

/**
 * The settled databases and tables of the whole design. Tables of routers that nobody depends on are made when asked
 * for; what looks back (virtual links, translators, imported routes that lose to OSPF) is settled by repetition.
 */
export class Routing {
  readonly unsettled: Unsettled[] = [];
  virtuals: VirtualAdjacency[] = [];
  databases: AreaDatabase[] = [];
  private graphs: AreaGraph[] = [];
  private dbOf: Map<number, AreaDatabase>[] = [];
  private hopLists: HopList[] = [];
  private trees: Map<number, Tree>[] = [];
  private tables: (Table | undefined)[] = [];
  private locals: (LocalRoute[] | undefined)[] = [];
  private readonly attached: (readonly number[] | undefined)[] = [];
  private externalOf = new Map<number, readonly ExternalLsa[]>();
  private nssaOf = new Map<string, readonly ExternalLsa[]>();
  private translating = new Set<number>();
  private scopeOf: number[] = [];
  private readonly writing = new SummaryWriting();

  constructor(
    readonly design: Design,
    readonly outage: Outage,
    readonly adjacencies: Adjacencies,
  ) {
    this.settleVirtualLinks();
    this.settleSummaries();
    this.settleExternals();
  }

  get speakers(): readonly Speaker[] {
    return this.adjacencies.speakers;
  }

  /** Settings of an area in one router; a plain area where it names none. */
  areaOf(s: Speaker, areaId: number): Area {
    return s.instance.areas.find((a) => a.id === areaId) ?? plainArea(areaId, s.router.defaults);
  }

  /** Areas that a router takes part in, the backbone by virtual link among them. */
  areasOf(s: Speaker): readonly number[] {
    const attached = (this.attached[s.index] ??= attachedAreas(s));
    return !attached.includes(backbone) && this.virtuals.some((v) => v.speaker === s.index) ? [backbone, ...attached] : attached;
  }

  /** An area border router by its border model (RFC 3509 §2, RFC 2328 §3.3). */
  isBorderRouter(s: Speaker): boolean {
    const areas = this.areasOf(s);
    if (areas.length < 2) return false;
    return s.instance.borderModel === 'rfc2328' || areas.includes(backbone);
  }

  /** An AS boundary router: it imports, or translates, and an attached area can carry it. */
  isBoundaryRouter(s: Speaker): boolean {
    if (this.translating.has(s.index)) return true;
    return imports(s) && this.areasOf(s).some((a) => this.areaOf(s, a).type !== 'stub');
  }

  private hasActiveBackbone(s: Speaker): boolean {
    if (this.virtuals.some((v) => v.speaker === s.index)) return true;
    return portsInArea(s, backbone).some((p) => this.adjacencies.views[p.index]?.some((v) => v.state === 'full'));
  }

  private bits(s: Speaker, areaId: number): RouterBits {
    const area = this.areaOf(s, areaId);
    const b = this.isBorderRouter(s);
    return {
      b,
      e: this.isBoundaryRouter(s) && area.type !== 'stub',
      v: this.virtuals.some((v) => v.speaker === s.index && v.transitArea === areaId),
      nt: b && area.type === 'nssa' && area.translatorAlways,
    };
  }

  // ---- virtual links (RFC 2328 §15) ----

  private settleVirtualLinks(): void {
    for (let round = 0; round < bound; round++) {
      this.databases = areaDatabases(this.adjacencies, this.virtuals, (s, a) => this.bits(s, a));
      this.graphs = this.databases.map(areaGraph);
      this.dbOf = this.speakers.map(() => new Map<number, AreaDatabase>());
      for (const db of this.databases) for (const s of db.speakers) this.dbOf[s]?.set(db.areaId, db);
      this.hopLists = this.speakers.map(() => new HopList());
      this.trees = this.speakers.map(() => new Map<number, Tree>());
      const next = reachableVirtualLinks(this);
      const same = next.length === this.virtuals.length && next.every((v, i) => JSON.stringify(v) === JSON.stringify(this.virtuals[i]));
      if (same) break;
      if (round === bound - 1) this.unsettled.push('virtual-links');
      this.virtuals = next;
    }
    this.scopeOf = this.externalScopes();
  }

  // ---- trees ----

  hopList(s: Speaker): HopList {
    return this.hopLists[s.index] ?? new HopList();
  }

  /** The speaker's tree through one of its areas, made once. */
  tree(s: Speaker, areaId: number): Tree | undefined {
    const own = this.trees[s.index];
    const known = own?.get(areaId);
    if (known) return known;
    const db = this.dbOf[s.index]?.get(areaId);
    const graph = db && this.graphs[db.index];
    const root = graph?.vertexOfRouter.get(s.routerId);
    if (!graph || root === undefined) return undefined;
    const tree = shortestPathTree(graph, root, this.hopList(s), (link) => this.virtualHops(s, link));
    own?.set(areaId, tree);
    return tree;
  }

  private virtualHops(s: Speaker, link: RouterLink): HopSet {
    const v = this.virtuals.find((x) => x.speaker === s.index && this.speakers[x.peer]?.routerId === link.id);
    const tree = v && this.tree(s, v.transitArea);
    const at = tree?.graph.vertexOfRouter.get(link.id);
    return (at === undefined ? undefined : tree?.hops[at]) ?? noHops;
  }

  database(s: Speaker, areaId: number): AreaDatabase | undefined {
    return this.dbOf[s.index]?.get(areaId);
  }

  // ---- inside the system ----

  /** Areas whose summaries a router reads (RFC 2328 §16.2, RFC 3509 §2.2). */
  private summaryAreas(s: Speaker): readonly number[] {
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
      if (tree) addInterAreaRoutes(table, tree, s.routerId, ranges);
    }
    for (const v of this.virtuals) {
      const tree = v.speaker === s.index ? this.tree(s, v.transitArea) : undefined;
      if (tree) improveThroughTransitArea(table, tree, s.routerId);
    }
    return table;
  }

  /** Ways to every boundary router. */
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
    // Inside beats across areas (RFC 2328 §16.2 (6)).
    for (const [id, list] of out)
      if (list.some((p) => p.type === 'intra-area'))
        out.set(
          id,
          list.filter((p) => p.type === 'intra-area'),
        );
    return out;
  }

  /**
   * Border routers write summaries until none of them changes: first into the backbone, which takes only what areas have
   * inside, then into the others. Who reads nothing new writes nothing again.
   */
  private settleSummaries(): void {
    const borders = this.speakers.filter((s) => this.isBorderRouter(s));
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

  private summaryWriter(s: Speaker): SummaryWriter {
    const areas = this.areasOf(s);
    const transit = (a: number): boolean => this.virtuals.some((v) => v.speaker === s.index && v.transitArea === a);
    return {
      speaker: s,
      areas: areas.flatMap((a) => this.database(s, a) ?? []),
      reads: areas.filter((a) => this.summaryAreas(s).includes(a) || transit(a)).flatMap((a) => this.database(s, a) ?? []),
      hopList: this.hopList(s),
      areaOf: (a) => this.areaOf(s, a),
      isTransit: transit,
      table: () => this.internalTable(s),
      boundary: () => [...this.boundary(s).values()].flatMap((ps) => preferredPath(ps, s.instance.rfc1583Compatible) ?? []),
    };
  }

  // ---- externals ----

  /** Where type 5 floods: speakers joined through areas that carry it. -1: none of its areas does. */
  private externalScopes(): number[] {
    const parent = this.databases.map((_, i) => i);
    const find = (i: number): number => {
      let r = i;
      while (parent[r] !== r) r = parent[r] ?? r;
      return r;
    };
    const carrying = (s: Speaker): AreaDatabase[] =>
      [...(this.dbOf[s.index]?.values() ?? [])].filter((db) => this.areaOf(s, db.areaId).type === 'normal');
    for (const s of this.speakers) {
      const own = carrying(s);
      for (const db of own.slice(1)) parent[find(db.index)] = find(own[0]?.index ?? db.index);
    }
    return this.speakers.map((s) => {
      const first = carrying(s)[0];
      return first ? find(first.index) : -1;
    });
  }

  /** Type 5 advertisements that a router holds. */
  externals(s: Speaker): ExternalLsa[] {
    const scope = this.scopeOf[s.index] ?? -1;
    if (scope < 0) return [];
    return [...this.externalOf].flatMap(([o, lsas]) => (this.scopeOf[o] === scope ? lsas : []));
  }

  private readonly heldIn = new Map<number, readonly ExternalLsa[]>();

  /** The same once everything has settled: one list for all routers of a flooding scope. */
  externalsHeld(s: Speaker): readonly ExternalLsa[] {
    const scope = this.scopeOf[s.index] ?? -1;
    let held = this.heldIn.get(scope);
    if (!held) {
      held = this.externals(s);
      this.heldIn.set(scope, held);
    }
    return held;
  }

  private nssaAreas(s: Speaker): { area: number; lsas: readonly ExternalLsa[] }[] {
    return this.areasOf(s).flatMap((a) => {
      const db = this.database(s, a);
      return db && this.areaOf(s, a).type === 'nssa' ? [{ area: a, lsas: db.nssa }] : [];
    });
  }

  private fullTable(s: Speaker): Table {
    const table = this.internalTable(s);
    addExternalRoutes(table, this.externals(s), this.nssaAreas(s), {
      self: s.routerId,
      rfc1583Compatible: s.instance.rfc1583Compatible,
      isBorderRouter: this.isBorderRouter(s),
      hopList: this.hopList(s),
      boundary: this.boundary(s),
      takesSummaries: (a) => this.areaOf(s, a).summary,
    });
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

  /** Local routes that win against each other and, where their preference is worse, against OSPF. */
  private selectedLocals(s: Speaker, table: Table | undefined): LocalRoute[] {
    const best = new Map<number, LocalRoute>();
    for (const r of this.localRoutes(s)) {
      const old = best.get(r.key);
      if (!old || r.preference < old.preference) best.set(r.key, r);
    }
    const p = s.instance.preference;
    return [...best.values()].filter((r) => {
      const ospf = table?.get(r.key);
      if (!ospf) return true;
      const preference = ospf.type === 'intra-area' ? p.intra : ospf.type === 'inter-area' ? p.inter : p.external;
      return r.preference <= preference;
    });
  }

  private needsTable(s: Speaker): boolean {
    return this.localRoutes(s).some(
      (r) =>
        r.source !== 'direct' && r.preference > Math.min(s.instance.preference.external, s.instance.preference.inter, s.instance.preference.intra),
    );
  }

  /** Boundary routers announce, translators translate, until nothing moves; one router after the other, so that a tie breaks. */
  private settleExternals(): void {
    const importing = this.speakers.filter((s) => imports(s));
    const nssaBorders = this.speakers.filter((s) => this.isBorderRouter(s) && this.areasOf(s).some((a) => this.areaOf(s, a).type === 'nssa'));
    if (importing.length === 0 && nssaBorders.length === 0) return;
    for (let round = 0; round < bound; round++) {
      const before = this.externalWords();
      for (const s of importing) this.announce(s);
      for (const s of nssaBorders) {
        this.announceNssaDefaults(s);
        this.translate(s);
      }
      this.refreshNssa();
      if (this.externalWords() === before) return;
    }
    this.unsettled.push('externals');
  }

  private externalWords(): string {
    const word = (l: ExternalLsa): string =>
      `${l.type} ${l.adv} ${l.bits}/${l.length} ${l.metric} ${l.metricType} ${l.forwarding} ${l.tag} ${String(l.propagate)}`;
    return [...this.externalOf.values(), ...this.nssaOf.values()].flat().map(word).sort().join();
  }

  private announce(s: Speaker): void {
    const table = this.needsTable(s) ? this.fullTable(s) : undefined;
    const items = foldExternal(importedRoutes(s, this.selectedLocals(s, table), prefixesInOspf(s)), s.instance.externalRanges, false);
    const border = this.isBorderRouter(s);
    const outside = this.areasOf(s).some((a) => this.areaOf(s, a).type === 'normal');
    const kept = (this.externalOf.get(s.index) ?? []).filter((l) => l.reason === 'translated');
    this.externalOf.set(s.index, outside ? [...externalLsas(s, items), ...kept] : []);
    for (const a of this.areasOf(s)) if (this.areaOf(s, a).type === 'nssa') this.nssaOf.set(`${s.index}/${a}/own`, nssaLsas(s, a, items, border));
    this.refreshNssa();
  }

  /** RFC 3101 §2.7: a type 7 default from a border router that is asked for one; never with the P bit. */
  private announceNssaDefaults(s: Speaker): void {
    for (const a of this.areasOf(s)) {
      const area = this.areaOf(s, a);
      if (area.type !== 'nssa' || !area.nssaDefault) continue;
      const old = this.nssaOf.get(`${s.index}/${a}/own`)?.some((l) => l.length === 0);
      if (!old)
        this.nssaOf.set(`${s.index}/${a}/default`, [
          {
            type: 7,
            adv: s.routerId,
            id: 0,
            speaker: s.index,
            bits: 0,
            length: 0,
            metric: area.defaultCost,
            metricType: area.nssaDefaultType,
            forwarding: 0,
            tag: 0,
            propagate: false,
            reason: 'nssa-default',
          },
        ]);
    }
    this.refreshNssa();
  }

  private refreshNssa(): void {
    const carrying = new Set([...this.nssaOf.keys()].map((key) => Number(key.split('/')[1])));
    for (const db of this.databases)
      if (db.areaId !== backbone && carrying.has(db.areaId))
        db.nssa = db.speakers.flatMap((s) => [
          ...(this.nssaOf.get(`${s}/${db.areaId}/own`) ?? []),
          ...(this.nssaOf.get(`${s}/${db.areaId}/default`) ?? []),
        ]);
  }

  private translate(s: Speaker): void {
    let active = false;
    const made: ExternalLsa[] = [];
    const own = new Set((this.externalOf.get(s.index) ?? []).filter((l) => l.reason !== 'translated').map((l) => prefixKey(l.bits, l.length)));
    const outside = (id: Ipv4): boolean => this.reachedOutside(s, id);
    for (const { area, lsas } of this.nssaAreas(s)) {
      const tree = this.tree(s, area);
      if (!tree || !translates(s, tree, this.areaOf(s, area).translatorAlways, outside)) continue;
      active = true;
      made.push(...translatedLsas(s, lsas, this.fullTable(s), own));
    }
    const was = this.translating.has(s.index);
    if (active) this.translating.add(s.index);
    else this.translating.delete(s.index);
    const mine = (this.externalOf.get(s.index) ?? []).filter(
      (l) => l.reason !== 'translated' && !(l.reason === 'external-range' && made.some((m) => m.bits === l.bits && m.length === l.length)),
    );
    this.externalOf.set(s.index, [...mine, ...made.map((m): ExternalLsa => ({ ...m, reason: 'translated' }))]);
    if (was !== active) {
      // The boundary bit of its router-LSA moves, and with it the type 4 that others write about it.
      for (const db of this.databases) {
        const lsa = db.routers.get(s.routerId);
        if (lsa?.speaker !== s.index) continue;
        lsa.bits = this.bits(s, db.areaId);
        this.writing.bitsMoved(db);
      }
      this.settleSummaries();
    }
  }

  /** True when a router is reached through an area other than an NSSA. */
  private reachedOutside(s: Speaker, id: Ipv4): boolean {
    return this.areasOf(s).some((a) => {
      if (this.areaOf(s, a).type === 'nssa') return false;
      const tree = this.tree(s, a);
      const v = tree?.graph.vertexOfRouter.get(id);
      return v !== undefined && (tree?.distance[v] ?? Infinity) < Infinity;
    });
  }

  // ---- results ----

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
