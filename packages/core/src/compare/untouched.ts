import { routersHit } from '../failures/outage';
import { routeChanges, sharesNumbers } from './route-changes';
import type { AreaDatabase } from '../lsdb/area-database';
import type { ExternalLsa, NetworkLsa, SummaryLsa } from '../lsdb/lsa';
import type { RouterLink, RouterLsa } from '../lsdb/router-links';
import type { Prediction } from '../predict';
import { learns } from '../routes/local-routes';

const sameLink = (a: RouterLink, b: RouterLink | undefined): boolean =>
  b !== undefined && a.kind === b.kind && a.id === b.id && a.data === b.data && a.metric === b.metric && a.nextHop === b.nextHop;

const sameRouterLsa = (a: RouterLsa, b: RouterLsa | undefined): boolean =>
  b !== undefined &&
  a.bits.b === b.bits.b &&
  a.bits.e === b.bits.e &&
  a.bits.v === b.bits.v &&
  a.bits.nt === b.bits.nt &&
  a.links.length === b.links.length &&
  a.links.every((l, i) => sameLink(l, b.links[i]));

const sameNetworkLsa = (a: NetworkLsa, b: NetworkLsa | undefined): boolean =>
  b !== undefined &&
  a.adv === b.adv &&
  a.length === b.length &&
  a.routers.length === b.routers.length &&
  a.routers.every((r, i) => r === b.routers[i]);

const sameSummary = (a: SummaryLsa, b: SummaryLsa | undefined): boolean =>
  b !== undefined && a.type === b.type && a.bits === b.bits && a.length === b.length && a.metric === b.metric && a.id === b.id;

const sameExternal = (a: ExternalLsa, b: ExternalLsa | undefined): boolean =>
  b !== undefined &&
  a.adv === b.adv &&
  a.bits === b.bits &&
  a.length === b.length &&
  a.id === b.id &&
  a.metric === b.metric &&
  a.metricType === b.metricType &&
  a.forwarding === b.forwarding &&
  a.tag === b.tag &&
  a.propagate === b.propagate;

function sameMap<K, V>(a: ReadonlyMap<K, V>, b: ReadonlyMap<K, V>, same: (x: V, y: V | undefined) => boolean): boolean {
  if (a.size !== b.size) return false;
  for (const [k, v] of a) if (!same(v, b.get(k))) return false;
  return true;
}

const sameList = <T>(a: readonly T[], b: readonly T[], same: (x: T, y: T | undefined) => boolean): boolean =>
  a === b || (a.length === b.length && a.every((x, i) => same(x, b[i])));

/** Summaries by the router id of who wrote them: speakers are counted anew in each prediction. */
const byAdvertiser = (db: AreaDatabase): Map<number, readonly SummaryLsa[]> => {
  const out = new Map<number, readonly SummaryLsa[]>();
  for (const lsas of db.summaries.values()) if (lsas[0]) out.set(lsas[0].adv, lsas);
  return out;
};

const sameDatabase = (a: AreaDatabase, b: AreaDatabase): boolean =>
  a.areaId === b.areaId &&
  sameMap(a.routers, b.routers, sameRouterLsa) &&
  sameMap(a.networks, b.networks, sameNetworkLsa) &&
  sameMap(byAdvertiser(a), byAdvertiser(b), (x, y) => y !== undefined && sameList(x, y, sameSummary)) &&
  sameList(a.nssa, b.nssa, sameExternal);

/** Same answer for a pair of objects, found once. */
function remembered<A extends object, B extends object>(same: (a: A, b: B) => boolean): (a: A, b: B) => boolean {
  const known = new Map<A, Map<B, boolean>>();
  return (a, b) => {
    const of = known.get(a) ?? new Map<B, boolean>();
    known.set(a, of);
    let answer = of.get(b);
    if (answer === undefined) {
      answer = same(a, b);
      of.set(b, answer);
    }
    return answer;
  };
}

/**
 * Routers whose tables cannot differ between two predictions, by their index: their document is the same object, nothing
 * of their own went down or came up, and every database that they compute from holds the same. No table is made for it.
 */
export function untouchedRouters(before: Prediction, after: Prediction): ReadonlySet<number> {
  const out = new Set<number>();
  const [a, b] = [before.routing, after.routing];
  const { routers } = after.design;
  if (before.design.routers.length !== routers.length || JSON.stringify(a.virtuals.map(bare)) !== JSON.stringify(b.virtuals.map(bare))) return out;
  const hit = routersHit(before.outage, after.outage);
  if (sharesNumbers(before, after)) {
    const moved = new Set<number>();
    for (const { speaker, count } of routeChanges(before, after)) if (count.lost + count.gained + count.changed > 0) moved.add(speaker.routerIndex);
    routers.forEach((router, i) => {
      // An edited router may take other things into its own table, whatever OSPF computes in it.
      if (before.design.routers[i] === router && !hit.has(i) && !moved.has(i) && !after.speakersOf(i).some(learns)) out.add(i);
    });
    return out;
  }
  const databases = remembered(sameDatabase);
  const externals = remembered((x: readonly ExternalLsa[], y: readonly ExternalLsa[]) => sameList(x, y, sameExternal));
  routers.forEach((router, i) => {
    if (before.design.routers[i] !== router || hit.has(i)) return;
    const [mine, theirs] = [after.speakersOf(i), before.speakersOf(i)];
    const same = sameList(mine, theirs, (s, old) => {
      // What another router hands over is up to that one's table.
      if (!old || learns(s) || s.routerId !== old.routerId || s.instance !== old.instance) return false;
      const areas = b.areasOf(s);
      if (areas.join() !== a.areasOf(old).join()) return false;
      // Whether the backbone lives decides whose summaries are read (RFC 3509 §2.2).
      const full = (p: Prediction, ports: typeof s.ports): number =>
        ports.reduce((n, x) => n + (p.adjacencies.views[x.index]?.filter((v) => v.state === 'full').length ?? 0), 0);
      if (full(after, s.ports) !== full(before, old.ports)) return false;
      for (const area of areas) {
        const [x, y] = [a.database(old, area), b.database(s, area)];
        if (x === undefined || y === undefined ? x !== y : !databases(x, y)) return false;
      }
      return externals(a.externals(old), b.externals(s));
    });
    if (same) out.add(i);
  });
  return out;
}

const bare = (v: { transitArea: number; cost: number; address: number; peerAddress: number }): number[] => [
  v.transitArea,
  v.cost,
  v.address,
  v.peerAddress,
];

/**
 * Whether some router that stands still reaches a prefix. Routers of the same areas hold the same prefixes: of those that
 * nothing touched one of each kind is asked, border routers and routers with a policy of their own each by itself.
 *
 * @param reached    keys that touched routers reach
 * @param untouched  indexes of the routers that are asked only when a key is not among those
 */
export function reachers(p: Prediction, reached: ReadonlySet<number>, untouched: ReadonlySet<number>): (key: number) => boolean {
  let others: Set<number> | undefined;
  const ask = (): Set<number> => {
    const keys = new Set<number>();
    const seen = new Set<string>();
    for (const i of untouched) {
      if (p.outage.routers.has(i)) continue;
      for (const r of p.localRoutes(i)) if (r.hops.length > 0) keys.add(r.key);
      const kind = p
        .speakersOf(i)
        .map((s) => {
          const alone = p.routing.isBorderRouter(s) || s.instance.ribPolicy.length > 0;
          return alone
            ? `alone ${i}`
            : p.routing
                .areasOf(s)
                .map((area) => p.routing.database(s, area)?.index ?? '')
                .join();
        })
        .join(' ');
      if (seen.has(kind)) continue;
      seen.add(kind);
      for (const r of p.ribOnce(i)) if (r.hops.length > 0) keys.add(r.key);
    }
    return keys;
  };
  return (key) => {
    if (reached.has(key)) return true;
    others ??= ask();
    return others.has(key);
  };
}
