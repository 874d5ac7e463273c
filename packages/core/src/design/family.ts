import { address6, isLinkLocal, type Prefix } from '../prefix/address';
import type { Ipv6 } from '../prefix/ipv6';
import type { Ipv6Prefix } from '../prefix/prefix-book';
import type { Design, Interface, OspfInstance, Router, StaticRoute, StaticRoute6 } from './design';
import type { PolicyBook, PrefixSet } from './policy';
import { routerIdOf } from './router-id';

/** Which addresses are looked at: those that OSPFv2 routes, or those of OSPFv3. */
export type Family = 4 | 6;
export const families: readonly Family[] = [4, 6];

/** An OSPFv3 process whose routes are predicted: IPv6 unicast (RFC 5838 has others). */
export const routesSix = (o: OspfInstance): boolean => o.version === 3 && o.addressFamily === 'ipv6';

/** Whether a design says anything of a family: a process that routes it, an address, a static route. */
export function hasFamily(design: Design, family: Family): boolean {
  return design.routers.some((r) =>
    family === 6
      ? r.instances.some(routesSix) || r.staticRoutes6.length > 0 || r.interfaces.some((i) => i.addresses6.some((a) => !isLinkLocal(a.bits)))
      : r.instances.some((o) => o.version === 2) || r.staticRoutes.length > 0 || r.interfaces.some((i) => i.addresses.length > 0 || i.unnumbered),
  );
}

const prefixNumbers = ({ bits, length }: Ipv6Prefix): Prefix => ({ bits: address6(bits), length });

/** A number of 32 bits out of a text, the same each time (FNV-1a). */
function hashOf(text: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193);
  return h >>> 0;
}

/**
 * The link-local address that an interface is taken to have where its document gives none: fe80:: with the router's id (or
 * what its host name comes to) and the number of the interface, so that no two on a wire are alike.
 */
const derivedLinkLocal = (id: number, index: number): Ipv6 => (0xfe80n << 112n) | (BigInt(id) << 16n) | BigInt(index & 0xffff);

function interfaceView(i: Interface, id: number, mtu: number): Interface {
  const global = i.six ? i.addresses6.filter((a) => !isLinkLocal(a.bits)) : [];
  const own = i.six ? i.addresses6.find((a) => isLinkLocal(a.bits)) : undefined;
  const written = new Set([...i.written].filter((leaf) => leaf !== 'mtu'));
  if (i.mtu6 !== undefined) written.add('mtu');
  return {
    ...i,
    mtu: i.mtu6 ?? mtu,
    addresses: global.map((a) => ({ bits: address6(a.bits), length: a.length })),
    unnumbered: i.six && global.length === 0,
    written,
    ...(i.six && i.kind !== 'loopback'
      ? { linkLocal: own ? { address: address6(own.bits), derived: false } : { address: address6(derivedLinkLocal(id, i.index)), derived: true } }
      : {}),
  };
}

const staticView = (s: StaticRoute6): StaticRoute => ({
  prefix: prefixNumbers(s.prefix),
  nextHops: s.nextHops.map((h) => ({ address: h.address === undefined ? undefined : address6(h.address), iface: h.iface })),
  discard: s.discard,
  preference: s.preference,
});

function policyView(book: PolicyBook): PolicyBook {
  const sets = new Map<string, PrefixSet>();
  for (const [name, set] of book.sets)
    sets.set(name, { ...set, lines: set.lines6.map((l) => ({ prefix: prefixNumbers(l.prefix), from: l.from, to: l.to })) });
  return { ...book, sets };
}

const routers = new WeakMap<Router, Router>();

function routerView(r: Router): Router {
  let view = routers.get(r);
  if (!view) {
    const instances = r.instances.filter(routesSix);
    const id = instances.map((o) => routerIdOf(r, o)?.id).find((x) => x !== undefined) ?? r.routerId ?? hashOf(r.name);
    view = {
      ...r,
      interfaces: r.interfaces.map((i) => interfaceView(i, id, r.defaults.interfaces[i.kind].mtu)),
      staticRoutes: r.staticRoutes6.map(staticView),
      instances,
      policies: policyView(r.policies),
      asWritten: r,
    };
    routers.set(r, view);
  }
  return view;
}

const designs = new WeakMap<Design, Design>();
const sources = new WeakMap<Design, Design>();

/**
 * A design as one family looks at it. For IPv4 it is the design itself. For IPv6 every router stands there with its IPv6
 * addresses, static routes, prefix sets and OSPFv3 processes in the places of the others, interface by interface in the
 * same order: whatever computes on a design computes for IPv6 so. A router that was not edited is the same object again.
 */
export function familyView(design: Design, family: Family): Design {
  if (family === 4 || design.family === 6) return design;
  let view = designs.get(design);
  if (!view) {
    view = { ...design, routers: design.routers.map(routerView), family: 6 };
    designs.set(design, view);
    sources.set(view, design);
  }
  return view;
}

/** The design that a view was made of; itself where it is none. */
export const designOf = (view: Design): Design => sources.get(view) ?? view;
