import { prefixBook, prefixId } from '../prefix/prefix-book';
import { applyPolicies } from '../design/policy';
import { isUnnumbered, type Speaker } from '../adjacency/speakers';
import { holds, hostLength } from '../prefix/address';
import type { Ipv4, Ipv4Prefix } from '../prefix/ipv4';
import { preferenceOf } from './handing-over';
import type { LocalHop, LocalRoute } from './local-routes';
import type { Route, Table } from './route';
import type { HopSet } from '../spf/shortest-path-tree';
import type { Routing } from './routing';

/** One line of a router's own table. */
export interface RibRoute extends Ipv4Prefix {
  readonly key: number;
  readonly source: 'direct' | 'static' | 'ospf' | 'other' | 'ospf-discard';
  readonly preference: number;
  readonly hops: readonly LocalHop[];
  /** The OSPF route behind it, when it is one. */
  readonly route?: Route;
}

const order: readonly RibRoute['source'][] = ['direct', 'static', 'ospf', 'ospf-discard', 'other'];

const fromLocal = (r: LocalRoute): RibRoute => ({
  key: r.key,
  bits: r.bits,
  length: r.length,
  source: r.source,
  preference: r.preference,
  hops: r.hops,
});

/** What a router's own table asks of OSPF besides the tables of its processes. */
export type RibGround = Pick<Routing, 'hopList' | 'activeRanges' | 'externals'>;

/** Offers of one OSPF process to the router's table: its routes after `rib-policy`, and discard routes for its ranges. */
function ospfOffers(routing: RibGround, s: Speaker, table: Table): RibRoute[] {
  const hopList = routing.hopList(s);
  const { ribPolicy } = s.instance;
  const out: RibRoute[] = [];
  // Routes behind one router share their hop set; their hops are written out once.
  const written = new Map<HopSet, readonly LocalHop[]>();
  const hopsOf = (set: HopSet): readonly LocalHop[] => {
    let hops = written.get(set);
    if (!hops) {
      hops = set.flatMap((h): LocalHop[] => {
        const hop = hopList.hops[h];
        if (!hop) return [];
        const way = { iface: hop.port.iface.name, address: hop.address };
        return [isUnnumbered(hop.port) ? { ...way, unnumbered: true } : way];
      });
      written.set(set, hops);
    }
    return hops;
  };
  for (const r of table.values()) {
    if (ribPolicy.length > 0) {
      const metricType = r.type.endsWith('1') ? 'type-1' : 'type-2';
      if (!applyPolicies(s.router.policies, ribPolicy, { prefix: r, metric: r.metric, metricType, tag: r.tag }).accepted) continue;
    }
    out.push({ key: r.key, bits: r.bits, length: r.length, source: 'ospf', preference: preferenceOf(s, r), hops: hopsOf(r.hops), route: r });
  }
  const discard = (p: Ipv4Prefix, preference: number): void => {
    const key = prefixId(p.bits, p.length);
    if (!table.has(key)) out.push({ key, bits: p.bits, length: p.length, source: 'ospf-discard', preference, hops: [] });
  };
  for (const [key, range] of routing.activeRanges(s, table)) if (range.advertise) discard(prefixBook.prefix(key), s.instance.preference.inter);
  for (const l of routing.externals(s)) if (l.speaker === s.index && l.reason === 'external-range') discard(l, s.instance.preference.external);
  return out;
}

/**
 * Drops hops that lie inside the very prefix they lead to, where no longer route holds them: such a route would
 * resolve its next hop through itself. Routers compute it and leave it out of their table. An unnumbered cable has no
 * subnet in which its far end is looked for: a route to the very address of the neighbour is one like any other.
 */
function resolvable(best: ReadonlyMap<number, RibRoute>, r: RibRoute): RibRoute | undefined {
  const inside = (h: LocalHop): boolean => h.address !== undefined && h.unnumbered !== true && holds(r, h.address);
  if (r.source === 'direct' || !r.hops.some(inside)) return r;
  const hops = r.hops.filter((h) => {
    if (h.address === undefined || !inside(h)) return true;
    for (let length = r.length + 1; length <= hostLength(h.address); length++) if (best.has(prefixBook.holder(h.address, length) ?? -1)) return true;
    return false;
  });
  return hops.length === 0 ? undefined : hops.length === r.hops.length ? r : { ...r, hops };
}

/** The line that holds an address, but for the one of a prefix itself. */
function lineTo(best: ReadonlyMap<number, RibRoute>, address: Ipv4, but: number): RibRoute | undefined {
  for (let length = hostLength(address); length >= 0; length--) {
    const key = prefixBook.holder(address, length);
    const r = key === undefined || key === but ? undefined : best.get(key);
    if (r) return r;
  }
  return undefined;
}

/** Routes of another protocol whose next hops other lines lead to, over as many steps as it takes; a route never holds itself. */
function resolveRecursive(best: ReadonlyMap<number, RibRoute>, locals: readonly LocalRoute[], offer: (r: RibRoute) => void): void {
  let left = locals;
  for (let before = -1; left.length > 0 && left.length !== before;) {
    before = left.length;
    left = left.filter((l) => {
      const via = l.nextHop === undefined ? undefined : lineTo(best, l.nextHop, l.key);
      if (!via || via.hops.length === 0) return true;
      offer({ ...fromLocal(l), hops: via.hops.map((h) => (h.address === undefined ? { ...h, address: l.nextHop } : h)) });
      return false;
    });
  }
}

/**
 * A router's own table: direct, static, OSPF and other routes by preference, after `rib-policy`.
 * The link-state database is untouched by what happens here.
 */
export function ribOf(routing: RibGround, speakers: readonly Speaker[], locals: readonly LocalRoute[], tableOf: (s: Speaker) => Table): RibRoute[] {
  const best = new Map<number, RibRoute>();
  const offer = (r: RibRoute): void => {
    const old = best.get(r.key);
    if (!old || r.preference < old.preference || (r.preference === old.preference && order.indexOf(r.source) < order.indexOf(old.source)))
      best.set(r.key, r);
  };
  for (const l of locals) if (!l.recursive) offer(fromLocal(l));
  for (const s of speakers) for (const r of ospfOffers(routing, s, tableOf(s))) offer(r);
  resolveRecursive(
    best,
    locals.filter((l) => l.recursive),
    offer,
  );
  const out: RibRoute[] = [];
  for (const r of best.values()) {
    const kept = resolvable(best, r);
    if (kept) out.push(kept);
  }
  return out.sort((a, b) => prefixBook.compare(a.key, b.key));
}
