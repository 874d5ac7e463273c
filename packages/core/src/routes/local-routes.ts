import { prefixId } from '../prefix/prefix-book';
import { advertisedSubnets } from '../lsdb/originate';
import type { Speaker } from '../adjacency/speakers';
import type { Design, Router } from '../design/design';
import { interfaceUp, type Outage } from '../failures/outage';
import { holds, networkOf } from '../prefix/address';
import type { Ipv4, Ipv4Prefix } from '../prefix/ipv4';

/** A way out of a router by interface and address, outside OSPF. */
export interface LocalHop {
  readonly iface: string;
  readonly address: Ipv4 | undefined;
  /** Out of an interface without a subnet: the address there may be any. */
  readonly unnumbered?: true;
}
/** A route that a router has without OSPF. */
export interface LocalRoute extends Ipv4Prefix {
  readonly key: number;
  readonly source: 'direct' | 'static' | 'other';
  readonly preference: number;
  readonly hops: readonly LocalHop[];
  /** Next hop as written, for forwarding addresses. */
  readonly nextHop: Ipv4 | undefined;
  readonly discard: boolean;
  /** The tag that it was handed over with. */
  readonly tag?: number;
  /** It stands while this router hands it over: its own table has it from another source than that protocol. */
  readonly handedBy?: { readonly router: string; readonly policies: readonly string[] };
  /** Its next hop is on no interface and behind no static route: whether it holds is up to what OSPF brings (RFC 4271 §5.1.3). */
  readonly recursive?: true;
}

/** Prefixes of the interfaces that are up. */
export function directRoutes(design: Design, outage: Outage, routerIndex: number): LocalRoute[] {
  const router = design.routers[routerIndex];
  const out = new Map<number, LocalRoute>();
  router?.interfaces.forEach((i, n) => {
    if (!interfaceUp(design, outage, routerIndex, n)) return;
    for (const a of i.addresses) {
      const bits = networkOf(a.bits, a.length);
      const key = prefixId(bits, a.length);
      const hop = { iface: i.name, address: undefined };
      const old = out.get(key);
      out.set(key, {
        key,
        bits,
        length: a.length,
        source: 'direct',
        preference: router.defaults.preference.direct,
        nextHop: undefined,
        discard: false,
        hops: old ? [...old.hops, hop] : [hop],
      });
    }
  });
  return [...out.values()];
}

const longest = (routes: Iterable<LocalRoute>, ip: Ipv4): LocalRoute | undefined => {
  let best: LocalRoute | undefined;
  for (const r of routes) if (holds(r, ip) && (!best || r.length > best.length)) best = r;
  return best;
};

/**
 * Static routes that are valid: their interface is up, or their next hop is reached through a direct or another valid
 * static route (settled by repetition; a route never validates itself).
 */
export function staticRoutes(router: Router, direct: readonly LocalRoute[], up: (iface: string) => boolean): LocalRoute[] {
  const valid = new Map<string, LocalRoute>();
  for (let moved = true; moved;) {
    moved = false;
    router.staticRoutes.forEach((s, n) => {
      if (valid.has(String(n))) return;
      const key = prefixId(s.prefix.bits, s.prefix.length);
      const known = [...direct, ...valid.values()].filter((k) => k.key !== key);
      const hops: LocalHop[] = [];
      for (const h of s.nextHops) {
        if (h.iface !== undefined) {
          if (up(h.iface)) hops.push({ iface: h.iface, address: h.address });
        } else if (h.address !== undefined) {
          const via = longest(known, h.address);
          if (via && !via.discard)
            for (const v of via.hops) hops.push({ iface: v.iface, address: via.source === 'direct' ? h.address : (v.address ?? h.address) });
        }
      }
      if (hops.length === 0 && !s.discard) return;
      moved = true;
      valid.set(String(n), {
        key,
        ...s.prefix,
        source: 'static',
        preference: s.preference,
        hops: s.discard ? [] : hops,
        nextHop: s.discard ? undefined : s.nextHops.find((h) => h.address !== undefined)?.address,
        discard: s.discard,
      });
    });
  }
  // Of two for one prefix the smaller preference counts; equal ones are used together.
  const best = new Map<number, LocalRoute>();
  for (const r of valid.values()) {
    const old = best.get(r.key);
    if (!old || r.preference < old.preference) best.set(r.key, r);
    else if (r.preference === old.preference) best.set(r.key, { ...old, hops: [...old.hops, ...r.hops] });
  }
  return [...best.values()];
}

/**
 * Prefixes that another protocol brings; they stay while their next hop is on an interface that is up, or behind a valid static
 * route. All others are recursive: OSPF may bring the next hop.
 */
export function otherRoutes(speaker: Speaker, known: readonly LocalRoute[]): LocalRoute[] {
  return speaker.instance.otherRoutes.map((o): LocalRoute => {
    const key = prefixId(o.prefix.bits, o.prefix.length);
    const handed = o.learntFrom === undefined ? {} : { handedBy: { router: o.learntFrom, policies: o.policies } };
    const via =
      o.nextHop === undefined
        ? undefined
        : longest(
            known.filter((k) => k.key !== key && !k.discard),
            o.nextHop,
          );
    const route = { key, ...o.prefix, source: 'other' as const, preference: o.preference, nextHop: o.nextHop, discard: false, ...handed };
    if (o.nextHop !== undefined && !via) return { ...route, hops: [], recursive: true };
    return { ...route, hops: via ? via.hops.map((h) => ({ iface: h.iface, address: via.source === 'direct' ? o.nextHop : h.address })) : [] };
  });
}

/** Whether some route of a router stands only while another router hands it over. */
export const learns = (s: Speaker): boolean => s.instance.otherRoutes.some((r) => r.learntFrom !== undefined);

/** Prefixes that this process advertises itself as links: they are not redistributed again. */
export function prefixesInOspf(speaker: Speaker): ReadonlySet<number> {
  const out = new Set<number>();
  for (const p of speaker.ports) if (p.up) for (const a of advertisedSubnets(p)) out.add(prefixId(a.bits, a.length));
  return out;
}
