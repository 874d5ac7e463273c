import type { NeighborView } from '../adjacency/settle';
import type { Speaker } from '../adjacency/speakers';
import type { RouteType } from '../design/terms';
import type { Prediction } from '../predict';
import type { Route } from '../routes/route';

/** Another way to a prefix, by a neighbour that the route does not go to, and the first point at which it lost. */
export interface LostWay {
  /** The neighbour, and the interface towards it. */
  readonly router: string;
  readonly iface: string;
  /** Cost of the interface, and the neighbour's own cost; `null`: it has no route. */
  readonly link: number;
  readonly beyond: number | null;
  readonly lost:
    | 'no-route'
    /** The neighbour's own way comes back over this router. */
    | 'comes-back'
    /** Its kind comes after the one that won, whatever it costs (RFC 2328 §11). */
    | 'kind'
    /** Of type 2 the metric outside decides before the way there. */
    | 'outside-metric'
    | 'cost'
    /** As good, and not used: at most so many equal ways are, or it is of another area. */
    | 'equal';
  /** What it has there. */
  readonly type: RouteType | null;
  /** How much more it costs than what won, where cost decides. */
  readonly more: number;
}

const familyOf = (t: RouteType): number => (t === 'intra-area' ? 0 : t === 'inter-area' ? 1 : t.endsWith('1') ? 2 : 3);

/** Routers that the next hops of a route lead to. */
function nextSpeakers(p: Prediction, s: Speaker, route: Route): Speaker[] {
  const { hops } = p.routing.hopList(s);
  return route.hops.flatMap((h) => {
    const hop = hops[h];
    if (!hop) return [];
    const facing = (p.adjacencies.views[hop.port.index] ?? []).filter((v) => hop.address === undefined || reaches(v, hop.address));
    return facing.flatMap((v) => p.adjacencies.speakers[v.peer.speaker] ?? []);
  });
}

const reaches = (v: NeighborView, address: number): boolean => v.address === address || v.peer.helloFrom === address || v.peer.address === address;

/** Whether every way of a router to a prefix passes another one. */
function passes(p: Prediction, n: Speaker, key: number, s: Speaker, seen = new Set<number>()): boolean {
  if (n === s) return true;
  if (seen.has(n.index)) return true;
  seen.add(n.index);
  const route = p.routing.table(n).get(key);
  const next = route ? nextSpeakers(p, n, route) : [];
  return next.length > 0 && next.every((x) => passes(p, x, key, s, seen));
}

/**
 * Ways to a prefix by neighbours that the route does not go to: what each would cost, and at which point it lost, nearest
 * first (RFC 2328 §11, §16.1, §16.4).
 */
export function lostWays(p: Prediction, s: Speaker, key: number): LostWay[] {
  const won = p.routing.table(s).get(key);
  if (!won) return [];
  const hops = p.routing.hopList(s).hops;
  const used = new Set(won.hops.flatMap((h) => (hops[h] ? [`${hops[h].port.index} ${hops[h].address ?? ''}`] : [])));
  const out: LostWay[] = [];
  for (const port of s.ports)
    for (const v of p.adjacencies.views[port.index] ?? []) {
      if (v.state !== 'full' && !(v.state === '2-way' && p.adjacencies.views[port.index]?.some((x) => x.state === 'full'))) continue;
      const addresses = [v.address, v.peer.helloFrom, v.peer.address, undefined];
      if (won.attached || addresses.some((a) => used.has(`${port.index} ${a ?? ''}`))) continue;
      const n = p.adjacencies.speakers[v.peer.speaker];
      if (!n) continue;
      const there = p.routing.table(n).get(key);
      const base = { router: n.router.name, iface: port.iface.name, link: port.cost, type: there?.type ?? null };
      if (!there) {
        out.push({ ...base, beyond: null, lost: 'no-route', more: 0 });
        continue;
      }
      const beyond = there.forwardMetric ?? there.metric;
      const best = won.forwardMetric ?? won.metric;
      const more = port.cost + beyond - best;
      const rank = familyOf(there.type) - familyOf(won.type);
      const lost = passes(p, n, key, s)
        ? 'comes-back'
        : rank > 0
          ? 'kind'
          : there.forwardMetric !== undefined && there.metric > won.metric
            ? 'outside-metric'
            : more > 0
              ? 'cost'
              : 'equal';
      out.push({ ...base, beyond, lost, more });
    }
  const order = ['equal', 'cost', 'outside-metric', 'kind', 'comes-back', 'no-route'];
  return out.sort((a, b) => order.indexOf(a.lost) - order.indexOf(b.lost) || a.more - b.more || (a.router < b.router ? -1 : 1));
}
