import { prefixBook } from '../prefix/prefix-book';
import { neighborStates, type NeighborState } from '../design/terms';
import { covers, formatAddress, holds } from '../prefix/address';
import type { Ipv4Prefix } from '../prefix/ipv4';
import type { Prediction } from '../predict';
import type { RibRoute } from '../routes/rib';
import { keepsTables } from './keeps-tables';
import { compareElections, compareRouterIds, type ElectionChange, type RouterIdChange } from './leading';
import { outOfReach } from './out-of-reach';
import { reachers, untouchedRouters } from './untouched';

/** What became of one route of one router between two states. */
export interface RouteChange extends Ipv4Prefix {
  readonly key: number;
  readonly change: 'lost' | 'gained' | 'changed';
  readonly before: RibRoute | undefined;
  readonly after: RibRoute | undefined;
  /** For a lost route: others still reach the prefix, and packets from here do not arrive any more. */
  readonly unreachable: boolean;
  /** For a lost route: nobody has it any more; it went down with what failed. */
  readonly vanished: boolean;
}

export interface RouterChanges {
  readonly router: string;
  /** The router itself is gone. */
  readonly gone: boolean;
  readonly routes: readonly RouteChange[];
  /** Prefixes that it cannot reach any more: of lines that it lost, or of networks that a line that stays leads astray now. */
  readonly outOfReach: readonly number[];
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
  /** Segments on which others lead now. */
  readonly elections: readonly ElectionChange[];
  /** Processes that run under another router id. */
  readonly routerIds: readonly RouterIdChange[];
  readonly lost: number;
  readonly gained: number;
  readonly changed: number;
  /** Pairs of a router that stands and a prefix that it cannot reach any more (`outOfReach`). */
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

/** A change before it is known whether anybody still reaches a lost prefix; `left`: here no route holds it that goes on. */
type Draft = Omit<RouteChange, 'unreachable' | 'vanished'> & { readonly left: boolean };

/** What changed in one router's table, both in the order of their keys. */
function tableDrafts(before: readonly RibRoute[], after: readonly RibRoute[]): Draft[] {
  const out: Draft[] = [];
  let n = 0;
  const lose = (b: RibRoute): void => {
    const left = !drops(b) && drops(coveringRoute(after, b));
    out.push({ key: b.key, bits: b.bits, length: b.length, change: 'lost', before: b, after: undefined, left });
  };
  for (const a of after) {
    let b = before[n];
    while (b && prefixBook.compare(b.key, a.key) < 0) {
      lose(b);
      b = before[++n];
    }
    if (b?.key === a.key) {
      n++;
      if (!sameRoute(a, b)) out.push({ key: a.key, bits: a.bits, length: a.length, change: 'changed', before: b, after: a, left: false });
    } else out.push({ key: a.key, bits: a.bits, length: a.length, change: 'gained', before: undefined, after: a, left: false });
  }
  for (const b of before.slice(n)) lose(b);
  return out;
}

/** How many lines of one router's table are lost, gained and other ones; both tables in the order of their prefixes. */
export function tableChanges(before: readonly RibRoute[], after: readonly RibRoute[]): { lost: number; gained: number; changed: number } {
  const out = { lost: 0, gained: 0, changed: 0 };
  for (const d of tableDrafts(before, after)) out[d.change]++;
  return out;
}

const finished = ({ left, ...d }: Draft, alive: (key: number) => boolean, cut: ReadonlySet<number> = noKeys): RouteChange => {
  const vanished = d.change === 'lost' && !alive(d.key);
  return { ...d, vanished, unreachable: d.change === 'lost' && !vanished && (left || cut.has(d.key)) };
};
const noKeys: ReadonlySet<number> = new Set();

/** The line that a router lost of a network: its own, else the most exact that held it; the network itself where none did. */
function lostLine(lost: readonly Ipv4Prefix[], network: number): number {
  const p = prefixBook.prefix(network);
  let best: Ipv4Prefix | undefined;
  for (const l of lost) if (covers(l, p) && (!best || l.length > best.length)) best = l;
  return best ? prefixBook.id(best.bits, best.length) : network;
}

/**
 * What changed in one router's table.
 *
 * @param alive  whether at least one standing router still reaches a prefix, by its key
 */
export const compareTables = (before: readonly RibRoute[], after: readonly RibRoute[], alive: (key: number) => boolean): RouteChange[] =>
  tableDrafts(before, after).map((d) => finished(d, alive));

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
        peerId: formatAddress(v.peer.routerId),
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

/**
 * Lays two states of the same set of routers side by side, router by router, so that whoever asks can stop in between.
 * Routers are matched by host name; those that nothing touched are not looked at.
 */
export function* comparing(before: Prediction, after: Prediction): Generator<undefined, Comparison> {
  const tableOf = (p: Prediction, i: number): readonly RibRoute[] => (keepsTables(p) ? p.rib(i) : p.ribOnce(i));
  const untouched = untouchedRouters(before, after);
  const reached = new Set<number>();
  const drafts: { router: string; gone: boolean; routes: Draft[] }[] = [];
  const names = [...new Set([...before.design.routers, ...after.design.routers].map((r) => r.name))].sort();
  for (const router of names) {
    const b = before.routerIndex(router);
    const a = after.routerIndex(router);
    if (untouched.has(a)) continue;
    const gone = a < 0 || (after.outage.routers.has(a) && !before.outage.routers.has(b));
    if (gone) {
      drafts.push({ router, gone, routes: [] });
      continue;
    }
    const table = tableOf(after, a);
    if (!after.outage.routers.has(a)) for (const r of table) if (!drops(r)) reached.add(r.key);
    const routes = tableDrafts(b < 0 ? [] : tableOf(before, b), table);
    if (routes.length > 0) drafts.push({ router, gone, routes });
    yield undefined;
  }
  const alive = reachers(after, reached, untouched);
  const lost = new Set(drafts.flatMap(({ routes }) => routes.flatMap((d) => (d.change === 'lost' && !drops(d.before) ? [d.key] : []))));
  const cut = new Map<string, Set<number>>();
  const byRouter = new Map(drafts.map((d) => [d.router, d]));
  for (const [network, there] of outOfReach(before, after, lost))
    for (const i of there) {
      const name = after.design.routers[i]?.name ?? '';
      const gone = byRouter.get(name)?.routes.filter((d) => d.change === 'lost' && !drops(d.before)) ?? [];
      cut.set(name, (cut.get(name) ?? new Set()).add(lostLine(gone, network)));
      if (!byRouter.has(name)) byRouter.set(name, { router: name, gone: false, routes: [] });
    }
  const routers = [...byRouter.values()]
    .sort((a, b) => (a.router < b.router ? -1 : 1))
    .map(({ router, gone, routes }): RouterChanges => {
      const done = routes.map((d) => finished(d, alive, cut.get(router)));
      const own = new Set([...done.flatMap((d) => (d.unreachable ? [d.key] : [])), ...(cut.get(router) ?? [])]);
      return { router, gone, routes: done, outOfReach: [...own].sort((a, b) => prefixBook.compare(a, b)) };
    });
  const all = routers.flatMap((r) => r.routes);
  const count = (test: (r: RouteChange) => boolean): number => all.filter(test).length;
  return {
    routers,
    neighbors: compareNeighbors(before, after),
    elections: compareElections(before, after),
    routerIds: compareRouterIds(before, after),
    lost: count((r) => r.change === 'lost'),
    gained: count((r) => r.change === 'gained'),
    changed: count((r) => r.change === 'changed'),
    unreachable: routers.reduce((n, r) => n + r.outOfReach.length, 0),
  };
}

/** How many of a router's routes are lost, gained and other ones. */
export function routeCounts({ routes }: Pick<RouterChanges, 'routes'>): { lost: number; gained: number; changed: number } {
  const out = { lost: 0, gained: 0, changed: 0 };
  for (const r of routes) out[r.change]++;
  return out;
}

/** Lays two states of the same set of routers side by side, at once. */
export function comparePredictions(before: Prediction, after: Prediction): Comparison {
  const steps = comparing(before, after);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}
