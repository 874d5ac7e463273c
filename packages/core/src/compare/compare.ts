import { neighborStates, type NeighborState } from '../adjacency/neighbor-state';
import { formatIpv4, holds, type Ipv4Prefix } from '../prefix/ipv4';
import type { Prediction } from '../predict';
import type { RibRoute } from '../routes/rib';
import { reachers, untouchedRouters } from './untouched';

/** What became of one route of one router between two states. */
export interface RouteChange extends Ipv4Prefix {
  readonly key: number;
  readonly change: 'lost' | 'gained' | 'changed';
  readonly before: RibRoute | undefined;
  readonly after: RibRoute | undefined;
  /** For a lost route: others still reach the prefix, and here no route holds it any more, or only one that drops. */
  readonly unreachable: boolean;
  /** For a lost route: nobody has it any more; it went down with what failed. */
  readonly vanished: boolean;
}

export interface RouterChanges {
  readonly router: string;
  /** The router itself is gone. */
  readonly gone: boolean;
  readonly routes: readonly RouteChange[];
}

export interface NeighborChange {
  readonly router: string;
  readonly iface: string;
  readonly peer: string;
  readonly peerId: string;
  readonly before: NeighborState;
  readonly after: NeighborState;
}

export interface Comparison {
  readonly routers: readonly RouterChanges[];
  readonly neighbors: readonly NeighborChange[];
  readonly lost: number;
  readonly gained: number;
  readonly changed: number;
  /** Pairs of a router that stands and a prefix that it cannot reach any more. */
  readonly unreachable: number;
}

/** What makes a route another one for the packets and the engineer: source, kind, metric, next hops. */
export function routeWords(r: RibRoute): string {
  const hops = r.hops.map((h) => `${h.iface} ${h.address ?? ''}`).sort();
  return `${r.source} ${r.route?.type ?? ''} ${r.route?.metric ?? ''} ${r.route?.forwardMetric ?? ''} ${hops.join(',')}`;
}

/** True when two routes to one prefix are the same for the packets and the engineer. */
function sameRoute(a: RibRoute, b: RibRoute): boolean {
  if (a === b) return true;
  const [x, y] = [a.route, b.route];
  if (a.source !== b.source || x?.type !== y?.type || x?.metric !== y?.metric || x?.forwardMetric !== y?.forwardMetric) return false;
  if (a.hops === b.hops) return true;
  if (a.hops.length !== b.hops.length) return false;
  if (a.hops.every((h, i) => h.iface === b.hops[i]?.iface && h.address === b.hops[i].address)) return true;
  return routeWords(a) === routeWords(b); // the same hops in another order
}

/** The longest route of a table that holds a prefix whole. */
export function coveringRoute(rib: readonly RibRoute[], p: Ipv4Prefix): RibRoute | undefined {
  let best: RibRoute | undefined;
  for (const r of rib) if (r.length <= p.length && holds(r, p.bits) && (!best || r.length > best.length)) best = r;
  return best;
}

const drops = (r: RibRoute | undefined): boolean => r === undefined || r.hops.length === 0;

/**
 * What changed in one router's table.
 *
 * @param alive  whether at least one standing router still reaches a prefix, by its key
 */
export function compareTables(before: readonly RibRoute[], after: readonly RibRoute[], alive: (key: number) => boolean): RouteChange[] {
  const out: RouteChange[] = [];
  // Both tables are in the order of their keys.
  let n = 0;
  const lose = (b: RibRoute): void => {
    const vanished = !alive(b.key);
    const unreachable = !vanished && !drops(b) && drops(coveringRoute(after, b));
    out.push({ key: b.key, bits: b.bits, length: b.length, change: 'lost', before: b, after: undefined, unreachable, vanished });
  };
  for (const a of after) {
    let b = before[n];
    while (b && b.key < a.key) {
      lose(b);
      b = before[++n];
    }
    if (b?.key === a.key) {
      n++;
      if (!sameRoute(a, b))
        out.push({ key: a.key, bits: a.bits, length: a.length, change: 'changed', before: b, after: a, unreachable: false, vanished: false });
    } else
      out.push({ key: a.key, bits: a.bits, length: a.length, change: 'gained', before: undefined, after: a, unreachable: false, vanished: false });
  }
  for (const b of before.slice(n)) lose(b);
  return out;
}

function neighborTable(p: Prediction): Map<string, Omit<NeighborChange, 'before' | 'after'> & { state: NeighborState }> {
  const out = new Map<string, Omit<NeighborChange, 'before' | 'after'> & { state: NeighborState }>();
  for (const pair of p.adjacencies.pairs)
    for (const v of [pair.a, pair.b]) {
      const router = p.design.routers[v.port.routerIndex]?.name ?? '';
      const peer = p.design.routers[v.peer.routerIndex]?.name ?? '';
      out.set(`${router}/${v.port.iface.name}/${peer}/${v.peer.iface.name}`, {
        router,
        iface: v.port.iface.name,
        peer,
        peerId: formatIpv4(v.peer.routerId),
        state: v.state,
      });
    }
  return out;
}

/** Neighbours whose settled state differs; one that is gone counts as down. */
export function compareNeighbors(before: Prediction, after: Prediction): NeighborChange[] {
  const a = neighborTable(before);
  const b = neighborTable(after);
  const out: NeighborChange[] = [];
  for (const key of new Set([...a.keys(), ...b.keys()])) {
    const x = a.get(key);
    const y = b.get(key);
    const who = y ?? x;
    const from = x?.state ?? 'down';
    const to = y?.state ?? 'down';
    if (who && from !== to) out.push({ router: who.router, iface: who.iface, peer: who.peer, peerId: who.peerId, before: from, after: to });
  }
  return out.sort((x, y) => neighborStates.indexOf(y.before) - neighborStates.indexOf(x.before) || x.router.localeCompare(y.router));
}

/** Lays two states of the same set of routers side by side. Routers are matched by host name. */
export function comparePredictions(before: Prediction, after: Prediction): Comparison {
  const routers: RouterChanges[] = [];
  let lost = 0;
  let gained = 0;
  let changed = 0;
  let unreachable = 0;
  const names = [...new Set([...before.design.routers, ...after.design.routers].map((r) => r.name))].sort();
  const untouched = untouchedRouters(before, after);
  const touched = after.design.routers.flatMap((_, i) => (untouched.has(i) ? [] : [i]));
  const alive = reachers(after, touched);
  for (const router of names) {
    const b = before.routerIndex(router);
    const a = after.routerIndex(router);
    if (untouched.has(a)) continue;
    const gone = a < 0 || (after.outage.routers.has(a) && !before.outage.routers.has(b));
    if (gone) {
      routers.push({ router, gone, routes: [] });
      continue;
    }
    const routes = compareTables(b < 0 ? [] : before.rib(b), after.rib(a), alive);
    if (routes.length > 0) routers.push({ router, gone, routes });
    for (const r of routes) {
      if (r.change === 'lost') lost++;
      else if (r.change === 'gained') gained++;
      else changed++;
      if (r.unreachable) unreachable++;
    }
  }
  return { routers, neighbors: compareNeighbors(before, after), lost, gained, changed, unreachable };
}
