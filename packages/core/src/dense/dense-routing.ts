import type { Resettled, Adjacencies } from '../adjacency/settle';
import type { Speaker } from '../adjacency/speakers';
import { backbone, type Area, type Design } from '../design/design';
import type { Outage } from '../failures/outage';
import { networkOf, type Ipv4, type Ipv4Prefix } from '../prefix/ipv4';
import { areaDatabases, attachedAreas, databaseAfter, type AreaDatabase } from '../lsdb/area-database';
import { Domain, hasFullNeighbor } from '../lsdb/domain';
import { imports } from '../lsdb/external-lsa';
import type { ExternalLsa } from '../lsdb/lsa';
import type { VirtualAdjacency } from '../lsdb/originate';
import type { RouterLsa } from '../lsdb/router-links';
import { preferredPath } from '../routes/exit-preference';
import { Externals } from '../routes/external-settling';
import { boundaryPaths } from '../routes/inter-area';
import type { RouterPath } from '../routes/route';
import { linksVirtually, mostRounds, ownState, Routing, type Unsettled } from '../routes/routing';
import { externalContext, treesOf } from '../routes/routing-table';
import { reachableVirtualLinks } from '../routes/virtual-links';
import { HopList, type Tree } from '../spf/shortest-path-tree';
import { noWay } from './area-rows';
import { InternalArrays, type InternalNetwork } from './internal-rows';
import { lookupIn } from './internal-lookup';
import { SummaryWriting, type SummaryWriter } from './summary-writing';
import { TableRows } from './table-rows';

/** So many states computed from one another are kept in memory: then the last one takes over what it needs, and the earlier ones are let go. */
const chained = 8;
/** After so many everything is computed again: classes and prefixes that nothing is of any more are let go too. */
const longest = 150;
const noSpeakers: ReadonlySet<number> = new Set();

/** What a state is computed from, where it is not computed from nothing. */
interface Before {
  readonly routing: DenseRouting;
  readonly change: Resettled;
}

/**
 * The fast road: the same answers as the plain one for a thousand routers in milliseconds, and from one state to the next
 * only what a change touches. Routes inside the system are arrays; readable tables are made of the databases when asked for.
 */
export class DenseRouting extends Routing implements InternalNetwork {
  readonly domain: Domain;
  readonly unsettled: Unsettled[] = [];
  /** Routes inside the system as arrays. */
  readonly arrays: InternalArrays;
  private readonly outside: Externals;
  private readonly writing: SummaryWriting;
  private readonly writers: (SummaryWriter | undefined)[] = [];
  private linksVirtually: boolean | undefined;
  /** States that this one was computed from, one after the other. */
  private readonly depth: number;
  /** How many of these it keeps in memory. */
  private keeps: number;

  constructor(
    design: Design,
    outage: Outage,
    readonly adjacencies: Adjacencies,
    private cameFrom?: Before,
  ) {
    super(design, outage, cameFrom?.routing.hopLists);
    const before = cameFrom?.routing;
    this.depth = before ? before.depth + 1 : 0;
    this.keeps = before ? before.keeps + 1 : 0;
    if (cameFrom && before) {
      this.domain = this.follow(before, cameFrom.change);
      this.outside = before.outside;
      this.arrays = new InternalArrays(this, { arrays: before.arrays, touched: cameFrom.change.areas });
      this.linksVirtually = before.linksVirtually;
      this.writing = new SummaryWriting(this.arrays, { writing: before.writing, touched: cameFrom.change.areas });
      this.settleSummaries();
      return;
    }
    this.domain = this.settleVirtualLinks();
    this.outside = new Externals(this.domain);
    this.arrays = new InternalArrays(this);
    this.writing = new SummaryWriting(this.arrays);
    this.settleSummaries();
    const settled = this.outside.settle({
      domain: this.domain,
      localRoutes: (s) => this.localRoutes(s),
      inside: (s) => {
        const hopList = this.hopList(s);
        const context = externalContext(ownState(this.domain, s, []), { hopList, boundary: this.waysOut(s) });
        return { lookup: lookupIn(this.arrays, s, hopList), context };
      },
      reachedIn: (s, db) => this.reachedIn(s, db),
      boundariesMoved: (moved) => {
        this.boundariesMoved(moved);
      },
    });
    if (!settled) this.unsettled.push('externals');
  }

  get speakers(): readonly Speaker[] {
    return this.domain.speakers;
  }

  get ports(): Domain['ports'] {
    return this.domain.ports;
  }

  summaryAreas(s: Speaker): readonly number[] {
    return this.domain.summaryAreas(s);
  }

  isTransit(s: Speaker, areaId: number): boolean {
    return this.domain.isTransit(s, areaId);
  }

  takesDefault(s: Speaker, areaId: number): boolean {
    return this.areaOf(s, areaId).type === 'normal' || !this.isBorderRouter(s);
  }

  treeThrough(s: Speaker, areaId: number): Tree | undefined {
    return treesOf(ownState(this.domain, s, []), this.hopList(s)).get(areaId);
  }

  externals(s: Speaker): readonly ExternalLsa[] {
    return this.outside.held(s);
  }

  private reachedIn(s: Speaker, db: AreaDatabase): RouterLsa[] {
    const root = this.arrays.root(s, db);
    const graph = this.arrays.areas[db.index]?.graph;
    if (!root || !graph) return [];
    return graph.routers.filter((_, v) => v !== root.root && (root.distance[v] ?? noWay) < noWay);
  }

  private settleVirtualLinks(): Domain {
    let virtuals: readonly VirtualAdjacency[] = [];
    for (let round = 1; ; round++) {
      const domain = new Domain(this.adjacencies, virtuals);
      domain.hold(
        areaDatabases(
          this.adjacencies,
          virtuals,
          (s, a) => domain.bits(s, a),
          (s) => domain.attachedOf(s),
        ),
      );
      const next = reachableVirtualLinks(domain);
      if (JSON.stringify(next) === JSON.stringify(virtuals)) return domain;
      if (round === mostRounds) {
        this.unsettled.push('virtual-links');
        return domain;
      }
      virtuals = next;
    }
  }

  // ---- after a change ----

  /** Takes over from the state before what a change of some areas leaves as it is: who stands where is the same (`canFollow`). */
  private follow(before: DenseRouting, change: Resettled): Domain {
    const domain = new Domain(this.adjacencies, [], before.domain.translating, before.domain);
    domain.hold(
      before.databases.map((db) =>
        databaseAfter(db, this.adjacencies, change.areas.has(db.areaId) ? change.touched : noSpeakers, (s, a) => domain.bits(s, a)),
      ),
      true,
    );
    return domain;
  }

  /**
   * The state after ports went down or fell silent, or after an edit of a router, computed from this one: areas that are not touched are used again.
   * `undefined` where that cannot be told to give the same as computing everything (virtual links, an area that falls
   * apart or is left, imports that change): then everything is to be computed.
   */
  after(outage: Outage, change: Resettled, design = this.design): DenseRouting | undefined {
    if (this.depth >= longest || !this.canFollow(change)) return undefined;
    if (this.keeps >= chained) this.standAlone();
    const next = new DenseRouting(design, outage, change.adjacencies, { routing: this, change });
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
    this.linksVirtually ??= this.speakers.some(linksVirtually);
    return this.unsettled.length === 0 && !this.linksVirtually && !this.outside.looksBack((s) => this.localRoutes(s));
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
      return hasFullNeighbor(this.adjacencies, old, backbone) === hasFullNeighbor(change.adjacencies, now, backbone);
    });
  }

  /** Whether every touched area still reaches itself, as it did, and what is imported is the same. */
  private holdsTogether(before: DenseRouting, change: Resettled): boolean {
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
      const moved = old.ports.filter((p) => now.ports.find((x) => x.index === p.index)?.up !== p.up);
      if (moved.some((p) => p.iface.addresses.some((a) => forwarding.some((f) => networkOf(f, a.length) === networkOf(a.bits, a.length)))))
        return false;
      const words = (r: DenseRouting, s: Speaker): string =>
        r
          .localRoutes(s)
          .filter((x) => x.source !== 'direct')
          .map((x) => `${x.key} ${x.preference} ${x.nextHop ?? ''}`)
          .join();
      if (moved.length > 0 && old.instance.redistribution.some((x) => x.source === 'direct')) return false;
      if (imports(old) && words(before, old) !== words(this, now)) return false;
    }
    return true;
  }

  /** Ways of a router to every boundary router, area by area. */
  waysOut(s: Speaker): Map<Ipv4, RouterPath[]> {
    const out = new Map<Ipv4, RouterPath[]>();
    const reads = this.domain.summaryAreas(s);
    for (const a of this.areasOf(s)) {
      const db = this.database(s, a);
      const tree = db && (this.arrays.treeFrom(s, db, this.hopList(s)) ?? this.treeThrough(s, a));
      if (!tree) continue;
      for (const p of boundaryPaths(tree, db, s.routerId, reads.includes(a))) {
        const list = out.get(p.router);
        if (list) list.push(p);
        else out.set(p.router, [p]);
      }
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
   * Border routers write summaries until none of them changes: first into the backbone, which takes only what areas have
   * inside, then into the others. Who reads nothing new writes nothing again.
   */
  private settleSummaries(): void {
    const borders = this.domain.borderRouters;
    for (let round = 0; round < mostRounds; round++) {
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
    return (this.writers[s.index] ??= this.makeWriter(s));
  }

  private makeWriter(s: Speaker): SummaryWriter {
    const areas: AreaDatabase[] = [];
    const reads: AreaDatabase[] = [];
    const read = this.domain.summaryAreas(s);
    for (const a of this.areasOf(s)) {
      const db = this.database(s, a);
      if (!db) continue;
      areas.push(db);
      if (read.includes(a) || this.isTransit(s, a)) reads.push(db);
    }
    return new RoutingWriter(this, s, areas, reads);
  }

  /** The boundary bits of router-LSAs moved, and with them the types 4 that others write about these routers. */
  private boundariesMoved(moved: readonly Speaker[]): void {
    for (const s of moved)
      for (const a of this.areasOf(s)) {
        const db = this.database(s, a);
        const lsa = db?.routers.get(s.routerId);
        if (!db || lsa?.speaker !== s.index) continue;
        lsa.bits = this.domain.bits(s, a);
        this.writing.bitsMoved(db);
      }
    this.settleSummaries();
  }

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
}

/** A border router of a state as it writes summaries. */
class RoutingWriter implements SummaryWriter {
  constructor(
    private readonly routing: DenseRouting,
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
    return this.routing.isTransit(this.speaker, areaId);
  }

  boundary(): readonly RouterPath[] {
    const out: RouterPath[] = [];
    for (const paths of this.routing.waysOut(this.speaker).values()) {
      const best = preferredPath(paths, this.speaker.instance.rfc1583Compatible);
      if (best) out.push(best);
    }
    return out;
  }
}
