import type { Interface, InterfaceAddress, InterfaceAddress6, OspfInstance, Router, StaticRoute, StaticRoute6 } from '../design/design';
import { Cursor, type LeafType, type ReadContext } from '../documents/cursor';
import { anyText, flag, identity, integer, ipv4, ipv6, nameText, netmask, oneOf, prefix6, typedPrefix, routerIdText } from '../documents/leaf-types';
import { readKeyChains } from './read-authentication';
import { standardDefaults, type Defaults } from '../design/defaults';
import { readOspf, type OspfSurroundings } from './read-ospf';
import { readPolicies } from './read-policy';

const mtu = integer(68, 65_535);
/** IPv6 asks for at least so much of a link (RFC 8200 §5). */
const mtu6 = integer(1280, 65_535);
const length4 = integer(0, 32);
const length6 = integer(0, 128);
const bandwidth = integer(1, 0xffff_ffff);
/** Members that stand in documents and decide nothing. */
const known = {
  ipv6: ['forwarding', 'neighbor', 'dup-addr-detect-transmits', 'autoconf'],
  ipv4: ['neighbor', 'forwarding'],
  interface: ['description', 'link-up-down-trap-enable'],
};
/** Most interfaces have none: one list serves them all. */
const none: readonly never[] = [];

function readAddresses(c: Cursor | undefined): readonly InterfaceAddress[] {
  const list = c?.list('address', 'ip') ?? none;
  const [first] = list;
  if (first && list.length === 1) {
    const only = readAddress(first);
    return only ? [only] : none;
  }
  return list.flatMap((a) => readAddress(a) ?? []);
}

function readAddress(a: Cursor): InterfaceAddress | undefined {
  const bits = a.leaf('ip', ipv4);
  const length = a.leaf('prefix-length', length4) ?? a.leaf('netmask', netmask);
  if (bits !== undefined && length === undefined && !a.writes('prefix-length') && !a.writes('netmask'))
    a.problem('prefix-length', 'This address has no prefix length.', 'Add "prefix-length"; until then the address is left out.');
  return bits !== undefined && length !== undefined ? { bits, length } : undefined;
}

function readAddresses6(c: Cursor | undefined): readonly InterfaceAddress6[] {
  if (!c) return none;
  const out: InterfaceAddress6[] = [];
  c.knownAll(known.ipv6);
  for (const a of c.list('address', 'ip')) {
    const bits = a.leaf('ip', ipv6);
    const length = a.leaf('prefix-length', length6);
    if (bits !== undefined && length !== undefined) out.push({ bits, length });
  }
  return out;
}

function kindOf(type: string): Interface['kind'] {
  return type === 'softwareLoopback' ? 'loopback' : type.startsWith('ethernet') || type === 'gigabitEthernet' ? 'ethernet' : 'other';
}

function readInterface(c: Cursor, index: number, defaults: Defaults): Interface | undefined {
  const name = c.leaf('name', nameText);
  if (name === undefined && !c.writes('name')) c.problem('name', 'This interface has no name.', 'Give it a name; until then it is left out.');
  const v4 = c.child('ipv4');
  const v6 = c.child('ipv6');
  const addresses = readAddresses(v4);
  v4?.knownAll(known.ipv4);
  const on = v4?.leaf('enabled', flag) ?? true;
  const kind = kindOf(c.leaf('type', identity) ?? 'ethernetCsmacd');
  const out: Interface = {
    at: c.at,
    name: name ?? '',
    index,
    kind,
    enabled: c.leaf('enabled', flag) ?? true,
    mtu: v4?.leaf('mtu', mtu) ?? defaults.interfaces[kind].mtu,
    addresses: on ? addresses : [],
    addresses6: readAddresses6(v6),
    unnumbered: v4 !== undefined && on && addresses.length === 0,
    six: v6 !== undefined && (v6.leaf('enabled', flag) ?? true),
    mtu6: v6?.leaf('mtu', mtu6),
    linkLocal: undefined,
    bandwidthMbps: c.leaf('bandwidth-mbps', bandwidth),
    carriedBy: c.leafList('carried-by', nameText),
    boundTo: c.leaf('bind-ni-name', anyText),
    written: c.written(v4?.writes('mtu') ? 'mtu' : undefined),
    given: defaults.interfaces[kind].given,
  };
  c.knownAll(known.interface);
  return name === undefined ? undefined : out;
}

/** The static routes of one family. */
function readStatics<P extends { readonly bits: A; readonly length: number }, A>(
  tree: Cursor | undefined,
  prefixes: LeafType<P>,
  addresses: LeafType<A>,
  plain: number,
) {
  const out: {
    prefix: { bits: A; length: number };
    nextHops: { address: A | undefined; iface: string | undefined }[];
    discard: boolean;
    preference: number;
  }[] = [];
  for (const r of tree?.list('route', 'destination-prefix') ?? []) {
    const prefix = r.leaf('destination-prefix', prefixes);
    const hop = r.child('next-hop');
    const special = hop?.leaf('special-next-hop', oneOf(['blackhole', 'unreachable', 'prohibit', 'receive']));
    const nextHops: { address: A | undefined; iface: string | undefined }[] = [];
    const one = (h: Cursor): void => {
      const address = h.leaf('next-hop-address', addresses);
      const iface = h.leaf('outgoing-interface', nameText);
      if (address !== undefined || iface !== undefined) nextHops.push({ address, iface });
    };
    if (hop) one(hop);
    for (const h of hop?.child('next-hop-list')?.list('next-hop', 'index') ?? []) {
      h.known('index');
      one(h);
    }
    const preference = r.leaf('route-preference', integer(0, 255)) ?? plain;
    r.known('description');
    if (!prefix) continue;
    if (special === undefined && nextHops.length === 0)
      r.problem('next-hop', 'This static route leads nowhere.', 'Give it a next-hop-address, an outgoing-interface or a special-next-hop.');
    else out.push({ prefix: { bits: prefix.bits, length: prefix.length }, nextHops, discard: special !== undefined, preference });
  }
  return out;
}

/** What the protocols of a router bring. */
interface Protocols {
  readonly statics: StaticRoute[];
  readonly statics6: StaticRoute6[];
  readonly instances: OspfInstance[];
}

function readProtocols(routing: Cursor | undefined, around: OspfSurroundings): Protocols {
  const statics: StaticRoute[] = [];
  const statics6: StaticRoute6[] = [];
  const instances: OspfInstance[] = [];
  for (const p of routing?.child('control-plane-protocols')?.list('control-plane-protocol', 'name') ?? []) {
    const type = p.leaf('type', identity);
    p.known('name', 'description');
    if (type === 'static') {
      const tree = p.child('static-routes');
      const plain = around.defaults.preference.static;
      statics.push(...readStatics(tree?.child('ipv4'), typedPrefix, ipv4, plain));
      statics6.push(...readStatics(tree?.child('ipv6'), prefix6, ipv6, plain));
    } else if (type === 'ospfv2' || type === 'ospfv3') {
      const instance = readOspf(p, type === 'ospfv2' ? 2 : 3, around);
      if (instance) instances.push(instance);
    }
  }
  instances.sort((a, b) => a.version - b.version || (a.name < b.name ? -1 : a.name > b.name ? 1 : 0));
  return { statics, statics6, instances };
}

/**
 * Reads one router document (RFC 7951 tree of RFC 7317, 8343, 8344, 8349, 9129, 9067, 8177).
 *
 * @param defaultsFor  what holds in a router of that name while nothing is written
 *
 * Bad values are reported in the context and left out; without a host name there is no router: `undefined`.
 */
export function readRouter(
  tree: Record<string, unknown>,
  context: ReadContext,
  defaultsFor: (name: string) => Defaults = () => standardDefaults,
): Router | undefined {
  const root = Cursor.root(context, tree);
  const system = root.child('system');
  const name = system?.leaf('hostname', nameText);
  if (name === undefined) {
    if (!system?.writes('hostname'))
      root.problem(
        'ietf-system:system/hostname',
        'This document does not name its router.',
        'Add "ietf-system:system": { "hostname": "…" }; until then the document is left out.',
      );
    return undefined;
  }
  const defaults = defaultsFor(name);
  const chains = readKeyChains(root);
  const interfaces: Interface[] = [];
  const places = new Map<string, number>();
  (root.child('interfaces')?.list('interface', 'name') ?? []).forEach((c, i) => {
    const one = readInterface(c, i + 1, defaults);
    if (!one) return;
    if (places.has(one.name)) {
      c.problem('', `Interface "${one.name}" is written twice.`, 'Keep one of the entries; the first is used.');
      return;
    }
    places.set(one.name, interfaces.length);
    interfaces.push(one);
  });
  const routing = root.child('routing');
  const { statics, statics6, instances } = readProtocols(routing, { chains, defaults, interfaces, places });
  for (const o of instances)
    for (const a of o.areas)
      for (const i of a.interfaces)
        if (!places.has(i.name))
          root.problem(
            `ospf/areas/area/interfaces/interface[name=${i.name}]`,
            `OSPF is set on "${i.name}", which is no interface of ${name}.`,
            `Add the interface, or correct the name.`,
            'note',
          );
  const router: Router = {
    name,
    file: context.file,
    defaults,
    interfaces,
    staticRoutes: statics,
    staticRoutes6: statics6,
    routerId: routing?.leaf('router-id', routerIdText),
    instances,
    policies: readPolicies(root),
  };
  root.finish();
  return router;
}
