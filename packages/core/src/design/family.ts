import { address6, isLinkLocal, network6Of, type Prefix } from '../prefix/address';
import type { Ipv6 } from '../prefix/ipv6';
import { prefixBook, type Ipv6Prefix } from '../prefix/prefix-book';
import type { Design, Interface, LinkLocal, OspfInstance, Router, StaticRoute, StaticRoute6 } from './design';
import type { PolicyBook, PrefixSet } from './policy';
import { routerIdOf } from './router-id';

/** Which addresses are looked at: those that OSPFv2 routes, or those of OSPFv3. */
export type Family = 4 | 6;
export const families: readonly Family[] = [4, 6];

/** An OSPFv3 process whose routes are predicted: IPv6 unicast (RFC 5838 has others). */
export const routesSix = (o: OspfInstance): boolean => o.version === 3 && o.addressFamily === 'ipv6';

/** The first process of a router that routes the family it is looked at for. */
export const processOf = (r: Router): OspfInstance | undefined => (r.asWritten ? r.instances[0] : r.instances.find((o) => o.version === 2));

/** The processes of a router that route the family it is looked at for. */
export const processesOf = (r: Router): readonly OspfInstance[] => (r.asWritten ? r.instances : r.instances.filter((o) => o.version === 2));

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

/** Made once for an interface, as its addresses were read once. */
const interfaces = new WeakMap<Interface, { readonly id: number; readonly mtu: number; readonly view: Interface }>();

function interfaceView(i: Interface, id: number, mtu: number): Interface {
  const known = interfaces.get(i);
  if (known?.id === id && known.mtu === mtu) return known.view;
  const view = makeInterfaceView(i, id, mtu);
  interfaces.set(i, { id, mtu, view });
  return view;
}

const none: readonly never[] = [];

/** One literal with every member in its place, so that all views are alike to the machine. */
function makeInterfaceView(i: Interface, id: number, mtu: number): Interface {
  const global = i.six ? i.addresses6.filter((a) => !isLinkLocal(a.bits)) : none;
  return {
    at: i.at,
    name: i.name,
    index: i.index,
    kind: i.kind,
    enabled: i.enabled,
    mtu: i.mtu6 ?? mtu,
    addresses:
      global.length === 0
        ? none
        : global.map((a) => ({ bits: address6(a.bits), length: a.length, prefix: prefixBook.id6(network6Of(a.bits, a.length), a.length) })),
    addresses6: i.addresses6,
    unnumbered: i.six && global.length === 0,
    six: i.six,
    mtu6: i.mtu6,
    linkLocal: linkLocalOf(i, id),
    bandwidthMbps: i.bandwidthMbps,
    carriedBy: i.carriedBy,
    boundTo: i.boundTo,
    written: mtuWritten(i.written, i.mtu6 !== undefined),
    given: i.given,
  };
}

function linkLocalOf(i: Interface, id: number): LinkLocal | undefined {
  if (!i.six || i.kind === 'loopback') return undefined;
  const own = i.addresses6.find((a) => isLinkLocal(a.bits));
  return own ? { address: address6(own.bits), derived: false } : { address: address6(derivedLinkLocal(id, i.index)), derived: true };
}

/** What was written, with the MTU of IPv6 in the place of that of IPv4. */
function mtuWritten(written: ReadonlySet<string>, six: boolean): ReadonlySet<string> {
  if (written.has('mtu') === six) return written;
  const out = new Set(written);
  if (six) out.add('mtu');
  else out.delete('mtu');
  return out;
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
      name: r.name,
      file: r.file,
      defaults: r.defaults,
      interfaces: r.interfaces.map((i) => interfaceView(i, id, r.defaults.interfaces[i.kind].mtu)),
      staticRoutes: r.staticRoutes6.length === 0 ? none : r.staticRoutes6.map(staticView),
      staticRoutes6: r.staticRoutes6,
      routerId: r.routerId,
      instances,
      policies: r.policies.sets.size === 0 ? r.policies : policyView(r.policies),
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
