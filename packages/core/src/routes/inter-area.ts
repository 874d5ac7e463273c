import { prefixId } from '../prefix/prefix-book';
import type { AreaDatabase } from '../lsdb/area-database';
import type { Ipv4 } from '../prefix/ipv4';
import { lsInfinity, type SummaryLsa } from '../lsdb/lsa';
import { joinHops, type HopSet, type Tree } from '../spf/shortest-path-tree';
import type { RouterPath, Table } from './route';

/** Own ranges that are in force: their type 3 from others is not used (RFC 2328 §16.2 (3)). */
export type ActiveRanges = ReadonlySet<number>;

/** Calls back for every usable summary among those that border routers of an area wrote, with the distance (RFC 2328 §16.2 (1) to (5)). */
function eachSummary(
  tree: Tree,
  self: Ipv4,
  said: Iterable<readonly SummaryLsa[]>,
  use: (lsa: SummaryLsa, cost: number, hops: HopSet) => void,
): void {
  const { graph } = tree;
  for (const lsas of said) {
    const adv = lsas[0]?.adv;
    if (adv === undefined || adv === self) continue;
    const v = graph.vertexOfRouter.get(adv);
    if (v === undefined || !graph.routers[v]?.bits.b) continue;
    const d = tree.distance[v] ?? Infinity;
    if (d === Infinity) continue;
    const hops = tree.hops(v);
    for (const lsa of lsas) if (lsa.metric < lsInfinity) use(lsa, d + lsa.metric, hops);
  }
}

/**
 * Adds inter-area routes from the summaries of one area (RFC 2328 §16.2). Intra-area routes stay.
 *
 * @param takesDefault  false: a default is left out
 */
export function addInterAreaRoutes(
  table: Table,
  tree: Tree,
  database: AreaDatabase,
  self: Ipv4,
  ownRanges: ActiveRanges,
  takesDefault: boolean,
): void {
  const area = tree.graph.areaId;
  eachSummary(tree, self, database.networksSaid(), (lsa, cost, hops) => {
    const key = prefixId(lsa.bits, lsa.length);
    if (ownRanges.has(key) || (lsa.length === 0 && !takesDefault)) return;
    const old = table.get(key);
    if (old && (old.type === 'intra-area' || old.metric < cost)) return;
    if (old?.metric === cost) {
      table.set(key, { ...old, hops: joinHops(old.hops, hops), sources: [...old.sources, lsa] });
      return;
    }
    table.set(key, {
      key,
      bits: lsa.bits,
      length: lsa.length,
      type: 'inter-area',
      metric: cost,
      forwardMetric: undefined,
      tag: 0,
      hops,
      area,
      sources: [lsa],
      rule: 'RFC 2328 §16.2',
      attached: false,
    });
  });
}

/**
 * Looks whether a transit area has a shorter way to what the backbone brings (RFC 2328 §16.3): summaries of the
 * transit area may replace the next hops of backbone routes, or add to them at equal cost.
 */
export function improveThroughTransitArea(table: Table, tree: Tree, database: AreaDatabase, self: Ipv4): void {
  eachSummary(tree, self, database.networksSaid(), (lsa, cost, hops) => {
    const key = prefixId(lsa.bits, lsa.length);
    const old = table.get(key);
    if (!old || old.area !== 0 || old.attached || (old.type !== 'intra-area' && old.type !== 'inter-area') || cost > old.metric) return;
    const rule = 'RFC 2328 §16.3';
    if (cost < old.metric) table.set(key, { ...old, metric: cost, hops, sources: [lsa], rule });
    else table.set(key, { ...old, hops: joinHops(old.hops, hops), sources: [...old.sources, lsa] });
  });
}

/** Ways to boundary routers that one area shows: in its tree, and by type 4 (RFC 2328 §16.1 (4), §16.2). */
export function boundaryPaths(tree: Tree, database: AreaDatabase, self: Ipv4, useSummaries: boolean): RouterPath[] {
  const { graph, distance } = tree;
  const area = graph.areaId;
  const out: RouterPath[] = [];
  graph.routers.forEach((r, v) => {
    const cost = distance[v] ?? Infinity;
    if (r.bits.e && v !== tree.root && cost < Infinity) out.push({ router: r.adv, type: 'intra-area', area, cost, hops: tree.hops(v), source: r });
  });
  if (useSummaries) {
    const best = new Map<Ipv4, RouterPath>();
    eachSummary(tree, self, database.boundariesSaid.values(), (lsa, cost, hops) => {
      // A way to oneself around through another border router is not excluded (RFC 2328 §16.2), and is announced on.
      const old = best.get(lsa.bits);
      if (!old || cost < old.cost) best.set(lsa.bits, { router: lsa.bits, type: 'inter-area', area, cost, hops, source: lsa });
      else if (cost === old.cost) best.set(lsa.bits, { ...old, hops: joinHops(old.hops, hops) });
    });
    for (const p of best.values()) if (!out.some((o) => o.router === p.router)) out.push(p);
  }
  return out;
}
