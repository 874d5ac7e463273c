import type { Prediction } from '../predict';
import { predict, type PredictOptions } from '../predict';
import { parseFailure } from '../failures/outage';
import type { SourceDocument } from '../documents/documents';
import { designFrom, type ReadResult } from '../formats/read-set';
import { formatAddress, formatPrefix } from '../prefix/address';
import { parseIpv4 } from '../prefix/ipv4';
import { prefixBook } from '../prefix/prefix-book';
import { six } from './mirror';

type Json = Record<string, unknown>;

interface RouterDraft {
  readonly name: string;
  readonly ospf: Json & { areas: { area: Json[] } };
  readonly interfaces: Json[];
  readonly statics: Json[];
  /** Further processes beside the one that the other calls set. */
  readonly more: Json[];
  readonly extra: Json;
}

/** Options of an OSPF interface, in the names of the standard tree; `iface` goes to the interface itself. */
export type PortOptions = Json & { readonly iface?: Json; readonly mtu?: number };

const dotted = (area: number | string): string => (typeof area === 'number' ? formatAddress(area) : area);

/** Builds the smallest networks for tests, as the router documents that a user would bring. */
export class Campus {
  private readonly wires: string[] = [];

  /** @param version  of the protocol: with 3 addresses are IPv6, and a router's loopback is `six` of its id */
  constructor(private readonly version: 2 | 3 = 2) {}

  private readonly drafts = new Map<string, RouterDraft>();
  private topology: Json | undefined;
  private settingsTree: Json | undefined;

  /** A router; its id is also the address of its loopback, which stands in `area`. `null`: no loopback. */
  router(name: string, id: string, area: number | string | null = null, ospf: Json = {}): this {
    this.drafts.set(name, {
      name,
      ospf: { 'explicit-router-id': id, ...ospf, areas: { area: [] } },
      interfaces: [],
      statics: [],
      more: [],
      extra: {},
    });
    if (area !== null) {
      const own =
        this.version === 2
          ? { ipv4: { address: [{ ip: id, 'prefix-length': 32 }] } }
          : { ipv6: { address: [{ ip: six(id), 'prefix-length': 128 }] } };
      this.draft(name).interfaces.push({ name: 'lo', type: 'softwareLoopback', ...own });
      this.inOspf(name, area, { name: 'lo', passive: true });
    }
    return this;
  }

  private draft(name: string): RouterDraft {
    const d = this.drafts.get(name);
    if (!d) throw new RangeError(`no router ${name}`);
    return d;
  }

  private areaOf(name: string, area: number | string): Json & { interfaces: { interface: Json[] } } {
    const list = this.draft(name).ospf.areas.area;
    const id = dotted(area);
    let entry = list.find((a) => a['area-id'] === id);
    if (!entry) {
      entry = { 'area-id': id, interfaces: { interface: [] } };
      list.push(entry);
    }
    return entry as Json & { interfaces: { interface: Json[] } };
  }

  private inOspf(name: string, area: number | string, settings: Json): void {
    this.areaOf(name, area).interfaces.interface.push(settings);
  }

  /** An interface with an address; in OSPF unless `area` is null. Several addresses: separated by spaces. */
  port(name: string, iface: string, address: string, area: number | string | null, options: PortOptions = {}): this {
    const { iface: more, mtu, ...settings } = options;
    const addresses = address
      .split(' ')
      .filter(Boolean)
      .map((a) => ({ ip: a.split('/')[0], 'prefix-length': Number(a.split('/')[1]) }));
    this.draft(name).interfaces.push({
      name: iface,
      type: 'ethernetCsmacd',
      ...more,
      [this.version === 2 ? 'ipv4' : 'ipv6']: { ...(mtu === undefined ? {} : { mtu }), ...(addresses.length > 0 ? { address: addresses } : {}) },
    });
    if (area !== null) this.inOspf(name, area, { name: iface, ...settings });
    return this;
  }

  /** A point-to-point cable `a` to `b` on a /31; interfaces are named `to-<peer>`. Costs of the two directions. */
  cable(a: string, b: string, net: string, area: number | string, costs: number | readonly [number, number] = 10, options: PortOptions = {}): this {
    const base = parseIpv4(net) ?? 0;
    const [there, back] = typeof costs === 'number' ? [costs, costs] : costs;
    this.port(a, `to-${b}`, `${formatAddress(base)}/31`, area, { 'interface-type': 'point-to-point', cost: there, ...options });
    return this.port(b, `to-${a}`, `${formatAddress(base + 1)}/31`, area, { 'interface-type': 'point-to-point', cost: back, ...options });
  }

  /** A point-to-point cable of version 3 with link-local addresses alone, joined by the topology. */
  wire(a: string, b: string, area: number | string, costs: number | readonly [number, number] = 10, options: PortOptions = {}): this {
    const [there, back] = typeof costs === 'number' ? [costs, costs] : costs;
    this.port(a, `to-${b}`, '', area, { 'interface-type': 'point-to-point', cost: there, ...options });
    this.port(b, `to-${a}`, '', area, { 'interface-type': 'point-to-point', cost: back, ...options });
    this.wires.push(`${a}/to-${b} ${b}/to-${a}`);
    return this.links(this.wires);
  }

  /** A LAN on a /24 or the length given; each member has the next address and its own options. */
  lan(
    name: string,
    net: string,
    area: number | string,
    members: readonly (string | readonly [string, PortOptions])[],
    common: PortOptions = {},
  ): this {
    const [base, length] = net.split('/');
    members.forEach((m, i) => {
      const [router, options] = typeof m === 'string' ? [m, {}] : m;
      this.port(router, name, `${formatAddress((parseIpv4(base ?? '') ?? 0) + i + 1)}/${length ?? '24'}`, area, { cost: 10, ...common, ...options });
    });
    return this;
  }

  /** Sets leaves of a router's OSPF process. */
  ospf(name: string, leaves: Json): this {
    Object.assign(this.draft(name).ospf, leaves);
    for (const [k, v] of Object.entries(leaves)) if (v === undefined) Reflect.deleteProperty(this.draft(name).ospf, k);
    return this;
  }

  /** Sets leaves of an area in one router. */
  area(name: string, area: number | string, leaves: Json): this {
    Object.assign(this.areaOf(name, area), leaves);
    return this;
  }

  static(name: string, prefix: string, nextHop: string, more: Json = {}): this {
    const hop =
      nextHop === 'blackhole'
        ? { 'special-next-hop': 'blackhole' }
        : /[.:]/.test(nextHop)
          ? { 'next-hop-address': nextHop }
          : { 'outgoing-interface': nextHop };
    this.draft(name).statics.push({ 'destination-prefix': prefix, 'next-hop': hop, ...more });
    return this;
  }

  /** A further OSPF process of a router. */
  process(name: string, process: string, ospf: Json): this {
    this.draft(name).more.push({ type: 'ospfv2', name: process, ospf });
    return this;
  }

  /** Adds top-level members to a router's document (policies, key chains). */
  document(name: string, members: Json): this {
    Object.assign(this.draft(name).extra, members);
    return this;
  }

  /** Physical links `router/iface router/iface`; a name without a document is a LAN. */
  links(list: readonly string[], more: Json = {}, groups: readonly Json[] = []): this {
    this.topology = {
      'ietf-network:networks': {
        network: [
          {
            'network-id': 'campus',
            'ietf-network-topology:link': list.map((l, i) => {
              const [a, b] = l.split(' ').map((e) => e.split('/'));
              return {
                'link-id': `l${i}`,
                source: { 'source-node': a?.[0], ...(a?.[1] ? { 'source-tp': a[1] } : {}) },
                destination: { 'dest-node': b?.[0], ...(b?.[1] ? { 'dest-tp': b[1] } : {}) },
                ...more,
              };
            }),
            'gentle-compass:risk-groups': groups,
          },
        ],
      },
    };
    return this;
  }

  /** The settings of the design: profiles, expectations and the rest. */
  settings(members: Json): this {
    this.settingsTree = { 'gentle-compass:settings': members };
    return this;
  }

  documents(): SourceDocument[] {
    const out = [...this.drafts.values()].map((d): SourceDocument => {
      const protocols: Json[] =
        d.statics.length > 0
          ? [
              {
                type: 'static',
                name: 's',
                'static-routes': { [this.version === 2 ? 'ietf-ipv4-unicast-routing:ipv4' : 'ietf-ipv6-unicast-routing:ipv6']: { route: d.statics } },
              },
            ]
          : [];
      if (d.ospf.areas.area.length > 0 || 'activation' in d.ospf || 'gentle-compass:activation' in d.ospf)
        protocols.push({ type: `ospfv${this.version}`, name: 'campus', ospf: d.ospf });
      protocols.push(...d.more);
      return {
        file: `${d.name}.json`,
        tree: {
          'ietf-system:system': { hostname: d.name },
          'ietf-interfaces:interfaces': { interface: d.interfaces },
          'ietf-routing:routing': { 'control-plane-protocols': { 'control-plane-protocol': protocols } },
          ...d.extra,
        },
      };
    });
    if (this.topology) out.push({ file: 'topology.json', tree: this.topology });
    if (this.settingsTree) out.push({ file: 'settings.json', tree: this.settingsTree });
    return out;
  }

  read(): ReadResult {
    return designFrom(structuredClone(this.documents()));
  }

  predict(fail: readonly string[] = [], options: PredictOptions = {}): Prediction {
    const read = this.read();
    if (read.problems.some((p) => p.severity === 'error')) throw new Error(read.problems.map((p) => `${p.path}: ${p.message}`).join('\n'));
    const specs = fail.map((f) => {
      const s = parseFailure(f);
      if (typeof s === 'string') throw new Error(s);
      return s;
    });
    return predict(read.design, specs, this.version === 3 ? { family: 6, ...options } : options);
  }
}

export const campus = (): Campus => new Campus();

/** The same for IPv6 and OSPFv3. */
export const campus6 = (): Campus => new Campus(3);

/** OSPF routes of a router as `prefix type metric via hops`, hops as `iface address`; sorted. */
export function routesOf(p: Prediction, name: string): string[] {
  const s = p.speakersOf(p.routerIndex(name))[0];
  if (!s) return [];
  const hopList = p.routing.hopList(s);
  return [...p.routing.table(s).values()]
    .sort((a, b) => prefixBook.compare(a.key, b.key))
    .map((r) => {
      const hops = r.hops.map((h) => {
        const hop = hopList.hops[h];
        return hop ? `${hop.port.iface.name}${hop.address === undefined ? '' : ` ${formatAddress(hop.address)}`}` : '';
      });
      return `${formatPrefix(r)} ${r.type} ${r.metric}${r.forwardMetric === undefined ? '' : `+${r.forwardMetric}`} via ${hops.sort().join(', ')}`;
    });
}

/** One OSPF route of a router by prefix, in the same words; empty when there is none. */
export const routeTo = (p: Prediction, name: string, prefix: string): string =>
  routesOf(p, name)
    .find((r) => r.startsWith(`${prefix} `))
    ?.slice(prefix.length + 1) ?? '';

/** Lines of a router's own table as `prefix source`. */
export const ribOf = (p: Prediction, name: string): string[] => p.rib(p.routerIndex(name)).map((r) => `${formatPrefix(r)} ${r.source}`);

/** Neighbour states that a router holds, as `peer state`. */
export function statesOf(p: Prediction, name: string): string[] {
  return p.adjacencies.views
    .flat()
    .filter((v) => p.design.routers[v.port.routerIndex]?.name === name && v.state !== 'down')
    .map((v) => `${p.design.routers[v.peer.routerIndex]?.name ?? ''} ${v.state}`)
    .sort();
}

/** Designated router and backup of an interface, as host names: `dr/bdr`, `-` for none. */
export function leadersOf(p: Prediction, name: string, iface: string): string {
  const port = p.adjacencies.ports.find((x) => p.design.routers[x.routerIndex]?.name === name && x.iface.name === iface);
  const l = port && p.adjacencies.leaders[port.index];
  const who = (id: number | undefined): string => p.adjacencies.speakers.find((s) => s.routerId === id)?.router.name ?? '-';
  return `${who(l?.dr)}/${who(l?.bdr)}`;
}

/** Links of the router-LSA that a router writes for an area, as `kind id data metric`. */
export function linksOf(p: Prediction, name: string, area: number): string[] {
  const s = p.speakersOf(p.routerIndex(name))[0];
  const lsa = s && p.routing.database(s, area)?.routers.get(s.routerId);
  return (lsa?.links ?? []).map((l) => `${l.kind} ${formatAddress(l.id)} ${formatAddress(l.data)} ${l.metric}`);
}

/** Advertisements of some types that a router holds, as `type id adv metric`. */
export function databaseOf(p: Prediction, name: string, types: readonly number[]): string[] {
  const s = p.speakersOf(p.routerIndex(name))[0];
  if (!s) return [];
  const out: string[] = [];
  for (const a of p.routing.areasOf(s)) {
    const db = p.routing.database(s, a);
    if (!db) continue;
    const all = [...db.routers.values(), ...db.networks.values(), ...[...db.summaries.values()].flat(), ...db.nssa];
    for (const l of all)
      if (types.includes(l.type)) out.push(`${l.type} ${formatAddress(l.id)} ${formatAddress(l.adv)}${'metric' in l ? ` ${l.metric}` : ''}`);
  }
  for (const l of p.routing.externals(s))
    if (types.includes(l.type)) out.push(`${l.type} ${formatAddress(l.id)} ${formatAddress(l.adv)} ${l.metric}`);
  return out.sort();
}
