import { prefixId } from '../prefix/prefix-book';
import type { Speaker } from '../adjacency/speakers';
import { covers, everything, holds, hostLength, isLoopbackAddress, prefixOf, type Address, type Prefix } from '../prefix/address';
import type { Ipv4 } from '../prefix/ipv4';
import { applyPolicies } from '../design/policy';
import type { ExternalRange, MetricType } from '../design/design';
import { linkStateIds, type ExternalLsa } from './lsa';

/** A route that a router has without OSPF, as redistribution looks at it. */
export interface LocalDestination extends Prefix {
  readonly key: number;
  readonly source: 'direct' | 'static' | 'other';
  /** Next hop as written, for forwarding addresses. */
  readonly nextHop: Address | undefined;
  /** The tag that it was handed over with: policies match it, and without another one it goes on with it. */
  readonly tag?: number;
}

/** An external destination that a boundary router announces, before it is written as type 5 or 7. */
export interface Imported extends Prefix {
  readonly key: number;
  readonly metric: number;
  readonly metricType: MetricType;
  readonly tag: number;
  readonly nextHop: Address | undefined;
  readonly reason: ExternalLsa['reason'];
}

/** True when the process imports something or announces a default: an AS boundary router where an area can carry it. */
export const imports = (s: Speaker): boolean => s.instance.redistribution.length > 0 || s.instance.defaultRoute !== undefined;

/**
 * What a boundary router imports: its selected routes of each source through that source's policies, and the default.
 *
 * @param selected  routes of the router's own table that are not from OSPF
 * @param inOspf    keys of prefixes that OSPF advertises itself; direct ones among them are left out
 */
export function importedRoutes(s: Speaker, selected: readonly LocalDestination[], inOspf: ReadonlySet<number>): Imported[] {
  const out = new Map<number, Imported>();
  for (const r of s.instance.redistribution) {
    for (const route of selected) {
      if (route.source !== r.source || (r.source === 'direct' && inOspf.has(route.key))) continue;
      if (route.source === 'direct' && isLoopbackAddress(route.bits)) continue;
      const verdict = applyPolicies(s.router.policies, r.policies, {
        prefix: route,
        metric: r.metric,
        metricType: r.metricType,
        tag: route.tag ?? r.tag,
      });
      if (!verdict.accepted || (route.length === 0 && !verdict.namedExactly && !r.defaultToo)) continue;
      const { metric, metricType } = verdict.subject;
      const tag = verdict.subject.tag === route.tag && r.tag !== 0 ? r.tag : verdict.subject.tag;
      if (!out.has(route.key))
        out.set(route.key, {
          key: route.key,
          bits: route.bits,
          length: route.length,
          metric,
          metricType,
          tag,
          nextHop: route.nextHop,
          reason: r.source,
        });
    }
  }
  const all = everything(s.instance.version === 3);
  const d = s.instance.defaultRoute;
  const present = selected.find((x) => x.length === 0);
  if (d && (d.announce === 'always' || present))
    out.set(prefixId(all.bits, 0), {
      key: prefixId(all.bits, 0),
      ...all,
      metric: d.metric,
      metricType: d.metricType,
      tag: 0,
      nextHop: d.announce === 'always' ? undefined : present?.nextHop,
      reason: 'default',
    });
  return [...out.values()];
}

/** Folds destinations into external ranges; the sum costs as much as its dearest part and is type 2 if one part is. */
export function foldExternal<T extends Imported>(items: readonly T[], ranges: readonly ExternalRange[], translated: boolean): (T | Imported)[] {
  const out: (T | Imported)[] = [];
  const folded = new Map<ExternalRange, T[]>();
  for (const i of items) {
    let range: ExternalRange | undefined;
    for (const r of ranges) if (covers(r.prefix, i) && (!range || r.prefix.length > range.prefix.length)) range = r;
    if (!range) out.push(i);
    else folded.set(range, [...(folded.get(range) ?? []), i]);
  }
  for (const [r, parts] of folded) {
    if (!r.advertise) continue;
    const metricType = r.metricType ?? (parts.some((p) => p.metricType === 'type-2') ? 'type-2' : 'type-1');
    const dearest = Math.max(...parts.filter((p) => p.metricType === metricType).map((p) => p.metric), 0);
    // RFC 3101 §3.2 (2): a translated type 2 range costs one more than its dearest part.
    const metric = r.metric ?? dearest + (translated && metricType === 'type-2' ? 1 : 0);
    out.push({
      key: prefixId(r.prefix.bits, r.prefix.length),
      ...r.prefix,
      metric,
      metricType,
      tag: r.tag,
      nextHop: undefined,
      reason: 'external-range',
    });
  }
  return out;
}

/** Forwarding address for a route whose next hop stands on a network in OSPF (RFC 2328 A.4.5); 0 for none. */
export function forwardingAddress(s: Speaker, nextHop: Address | undefined, areaId?: number): Address {
  if (nextHop === undefined) return 0;
  for (const p of s.ports) {
    if (!p.up || p.loopback || (areaId !== undefined && p.area.id !== areaId)) continue;
    for (const a of p.iface.addresses)
      if (a.length < hostLength(a.bits) && a.bits !== nextHop && holds(prefixOf(a.bits, a.length), nextHop)) return nextHop;
  }
  return 0;
}

/**
 * The address of its own that an NSSA's boundary router names when it has no better one (RFC 3101 §2.3): of a
 * loopback, else of a network without neighbours, else of any interface in the area.
 */
export function ownForwardingAddress(s: Speaker, areaId: number): Address {
  const mine = s.ports.filter((p) => p.up && p.area.id === areaId && p.address !== undefined);
  const pick = mine.find((p) => p.loopback) ?? mine.find((p) => p.settings.passive) ?? mine[0];
  return pick?.address ?? 0;
}

const lsa = (s: Speaker, i: Imported, id: Ipv4, type: 5 | 7, forwarding: Address, propagate: boolean): ExternalLsa => ({
  type,
  adv: s.routerId,
  id,
  speaker: s.index,
  bits: i.bits,
  length: i.length,
  metric: i.metric,
  metricType: i.metricType,
  forwarding,
  tag: i.tag,
  propagate,
  reason: i.reason,
});

/** Types 5 of a boundary router (RFC 2328 §12.4.4). */
export function externalLsas(s: Speaker, imported: readonly Imported[]): ExternalLsa[] {
  const ids = linkStateIds(imported);
  return imported.map((i, n) => lsa(s, i, ids[n] ?? i.bits, 5, forwardingAddress(s, i.nextHop), false));
}

/**
 * Types 7 of a boundary router in one NSSA (RFC 3101 §2.3, §2.4). Inside it sets the P bit and names a forwarding
 * address; a border router, which says the same outside by type 5, clears the bit.
 */
export function nssaLsas(s: Speaker, areaId: number, imported: readonly Imported[], isBorderRouter: boolean): ExternalLsa[] {
  const ids = linkStateIds(imported);
  return imported.map((i, n) => {
    const near = forwardingAddress(s, i.nextHop, areaId);
    const forwarding = isBorderRouter ? near : near === 0 ? ownForwardingAddress(s, areaId) : near;
    return lsa(s, i, ids[n] ?? i.bits, 7, forwarding, !isBorderRouter && forwarding !== 0);
  });
}
