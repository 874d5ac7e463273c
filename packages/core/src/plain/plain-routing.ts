import type { Adjacencies } from '../adjacency/settle';
import type { Speaker } from '../adjacency/speakers';
import { backbone, type Design } from '../design/design';
import type { Outage } from '../failures/outage';
import type { AreaDatabase } from '../lsdb/area-database';
import type { Domain } from '../lsdb/domain';
import type { ExternalLsa, SummaryLsa } from '../lsdb/lsa';
import type { RouterLsa } from '../lsdb/router-links';
import { boundarySummaries, networkSummaries, type SummaryWriter } from '../lsdb/summary-lsa';
import type { Ipv4Prefix } from '../prefix/ipv4';
import { preferredPath } from '../routes/exit-preference';
import { Externals } from '../routes/external-settling';
import { insideArea, ownState, Routing, type Unsettled } from '../routes/routing';
import { mostRounds } from '../routes/rounds';
import { externalContext, insideRoutes, type InsideRoutes } from '../routes/routing-table';
import { settledDomain } from '../routes/virtual-links';
import { HopList, shortestPathTree } from '../spf/shortest-path-tree';

/** What one border router says into one area. */
export interface Said {
  readonly networks: readonly SummaryLsa[];
  readonly boundaries: readonly SummaryLsa[];
}

const word = (l: SummaryLsa): string => `${l.type} ${l.id} ${l.length} ${l.metric}`;
const sameSaid = (a: Said | undefined, b: Said): boolean =>
  a !== undefined && [...a.networks, ...a.boundaries].map(word).join() === [...b.networks, ...b.boundaries].map(word).join();

/**
 * The plain road: the standard's text as code, stage after stage and router by router, slow and obvious. Virtual links,
 * summaries and externals look back at what stands on them, and are settled by repeating the stages until nothing moves.
 */
export class PlainRouting extends Routing {
  readonly domain: Domain;
  readonly unsettled: Unsettled[] = [];
  private readonly externalsSaid: Externals;
  /** By database, then speaker. */
  private readonly said = new Map<AreaDatabase, Map<number, Said>>();

  constructor(design: Design, outage: Outage, adjacencies: Adjacencies) {
    super(design, outage);
    const { domain, settled: linked } = settledDomain(adjacencies);
    if (!linked) this.unsettled.push('virtual-links');
    this.domain = domain;
    this.externalsSaid = new Externals(this.domain);
    this.settleSummaries();
    const settled = this.externalsSaid.settle({
      domain: this.domain,
      localRoutes: (s) => this.localRoutes(s),
      inside: (s) => {
        const own = ownState(this.domain, s, []);
        const inside = insideRoutes(own);
        return { lookup: (key) => inside.table.get(key), context: externalContext(own, inside.hopList, (id) => inside.boundary.get(id) ?? []) };
      },
      reachedIn: (s, db) => reachedIn(s, db),
      boundariesMoved: (moved) => {
        this.moveBits(moved);
        this.settleSummaries();
      },
    });
    if (!settled) this.unsettled.push('externals');
  }

  /**
   * Border routers write summaries until none of them changes: first into the backbone, which takes only what areas have
   * inside, then into the others (RFC 2328 §12.4.3).
   */
  private settleSummaries(): void {
    for (let round = 0; round < mostRounds; round++) {
      const first = this.writeSummaries((a) => a === backbone);
      const then = this.writeSummaries((a) => a !== backbone);
      if (!first && !then) return;
    }
    this.unsettled.push('summaries');
  }

  /** What each border router says into some areas now; true when anything changed. All read what stood before. */
  private writeSummaries(into: (areaId: number) => boolean): boolean {
    const { domain } = this;
    const news: { readonly db: AreaDatabase; readonly s: Speaker; readonly said: Said }[] = [];
    for (const s of domain.borderRouters) {
      const areas = domain.areasOf(s).filter(into);
      if (areas.length === 0) continue;
      const telling = summariesOf(domain, s, insideRoutes(ownState(domain, s, [])));
      for (const a of areas) {
        const db = domain.database(s, a);
        if (!db) continue;
        const said = telling(a);
        if (!sameSaid(this.said.get(db)?.get(s.index), said)) news.push({ db, s, said });
      }
    }
    for (const { db, s, said } of news) {
      const all = new Map([...(this.said.get(db) ?? []), [s.index, said] as const].sort(([x], [y]) => x - y));
      this.said.set(db, all);
      db.publish(() => ({
        networks: [...all].map(([speaker, x]) => ({ speaker, made: () => x.networks })),
        boundaries: new Map([...all].map(([speaker, x]) => [speaker, x.boundaries])),
      }));
    }
    return news.length > 0;
  }

  private moveBits(moved: readonly Speaker[]): void {
    for (const s of moved)
      for (const a of this.domain.areasOf(s)) {
        const lsa = this.domain.database(s, a)?.routers.get(s.routerId);
        if (lsa?.speaker === s.index) lsa.bits = this.domain.bits(s, a);
      }
  }

  externals(s: Speaker): readonly ExternalLsa[] {
    return this.externalsSaid.held(s);
  }

  insideOf(s: Speaker, areaId: number): Ipv4Prefix[] {
    return insideArea(this.table(s), areaId);
  }
}

/** What a border router says into an area, by what it knows inside the system (RFC 2328 §12.4.3). */
export function summariesOf(domain: Domain, s: Speaker, inside: InsideRoutes): (areaId: number) => Said {
  const writer: SummaryWriter = {
    speaker: s.index,
    routerId: s.routerId,
    six: domain.six,
    policies: s.router.policies,
    rangeCost: s.instance.rangeCost,
    areaOf: (a) => domain.areaOf(s, a),
    isTransit: (a) => domain.isTransit(s, a),
    leadsInto: (hops, a) => hops.some((h) => inside.hopList.hops[h]?.port.area.id === a),
  };
  const ways = [...inside.boundary.values()].flatMap((paths) => preferredPath(paths, s.instance.rfc1583Compatible) ?? []);
  return (a) => {
    const settings = domain.areaOf(s, a);
    return { networks: networkSummaries(writer, settings, inside.table.values()), boundaries: boundarySummaries(writer, settings, ways) };
  };
}

/** Other routers that one reaches inside its part of an area. */
export function reachedIn(s: Speaker, db: AreaDatabase): RouterLsa[] {
  const graph = db.graph;
  const root = graph.vertexOfRouter.get(s.routerId);
  if (root === undefined) return [];
  const { distance } = shortestPathTree(graph, root, new HopList(), () => []);
  return graph.routers.filter((_, v) => v !== root && distance[v] !== Infinity);
}
