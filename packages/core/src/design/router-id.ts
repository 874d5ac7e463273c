import type { Ipv4 } from '../prefix/ipv4';
import type { Interface, OspfInstance, Router } from './design';

/** Where a router id comes from. */
export type RouterIdSource =
  { readonly from: 'explicit' } | { readonly from: 'routing' } | { readonly from: 'loopback' | 'interface'; readonly name: string };

const loopbackNet = (ip: Ipv4): boolean => ip >>> 24 === 127;

/** True while a virtual interface has a carrier that is up; a physical one always. */
export function isCarried(router: Router, i: Interface, isUp: (name: string) => boolean): boolean {
  return i.carriedBy === undefined || i.carriedBy.some((n) => router.interfaces.some((o) => o.name === n) && isUp(n));
}

/** Interfaces that are up by configuration: on, in the main table, and carried. */
export function configuredUp(router: Router, i: Interface, seen: ReadonlySet<string> = new Set()): boolean {
  if (!i.enabled || i.boundTo !== undefined || seen.has(i.name)) return false;
  const deeper = new Set([...seen, i.name]);
  return isCarried(router, i, (n) => {
    const carrier = router.interfaces.find((o) => o.name === n);
    return carrier !== undefined && configuredUp(router, carrier, deeper);
  });
}

/**
 * The 32-bit router id of an OSPF process (RFC 2328 C.1): explicit, else that of the routing tree (RFC 8349), else by
 * rule the highest or lowest address on a loopback that is up, else on any other interface that is up.
 * Both versions take it from IPv4 addresses. `undefined` when there is none to take it from: the process cannot run.
 */
export function routerIdOf(router: Router, instance: OspfInstance): { id: Ipv4; source: RouterIdSource } | undefined {
  if (instance.explicitRouterId !== undefined) return { id: instance.explicitRouterId, source: { from: 'explicit' } };
  if (router.routerId !== undefined) return { id: router.routerId, source: { from: 'routing' } };
  const own = router.asWritten ?? router;
  const sign = instance.routerIdRule === 'highest-loopback' ? 1 : -1;
  for (const kind of ['loopback', 'interface'] as const) {
    let best: { id: Ipv4; source: RouterIdSource } | undefined;
    for (const i of own.interfaces) {
      if ((i.kind === 'loopback') !== (kind === 'loopback') || !configuredUp(own, i)) continue;
      for (const a of i.addresses)
        if (!loopbackNet(a.bits) && (!best || (a.bits - best.id) * sign > 0)) best = { id: a.bits, source: { from: kind, name: i.name } };
    }
    if (best) return best;
  }
  return undefined;
}
