import type { Adjacencies, NeighborView } from '../adjacency/settle';
import { elects, isUnnumbered, type Port, type Speaker } from '../adjacency/speakers';
import { backbone, type InterfaceAddress } from '../design/design';
import { holds, hostLength, networkOf, type Address, type Prefix } from '../prefix/address';
import type { Ipv4 } from '../prefix/ipv4';
import { prefixBook, prefixId } from '../prefix/prefix-book';
import type { LinkLsa, NetworkLsa } from './lsa';
import { networkKey, pointToPointLink, RouterLsa, stubLink, transitLink, virtualLink, type LinkColumns, type RouterBits } from './router-links';

/** A virtual link end that is up (RFC 2328 §15). */
export interface VirtualAdjacency {
  readonly speaker: number;
  readonly peer: number;
  readonly peerId: Ipv4;
  readonly transitArea: number;
  /** Cost of the path through the transit area. */
  readonly cost: number;
  /** Own address towards the transit area. */
  readonly address: Address;
  /** The far end's address on the path. */
  readonly peerAddress: Address;
}

/** Ports that are described in the router-LSA of their area. */
export const portsInArea = (s: Speaker, areaId: number): Port[] => s.ports.filter((p) => isDescribed(p, areaId));

const isDescribed = (p: Port, areaId: number): boolean => p.up && p.area.id === areaId;
const noViews: readonly NeighborView[] = [];
const noNetworks: readonly NetworkLsa[] = [];

/** Metric of transit links of a router that wants no transit traffic (RFC 6987). */
export const maxLinkMetric = 0xffff;

/** A subnet of a port with the port's address on it. */
interface Advertised extends Prefix {
  readonly primary: boolean;
  readonly address: Address;
}

/** Subnets of a port that OSPF advertises: all of its addresses, or those that `advertise` names. */
export function advertisedSubnets(p: Port): Advertised[] {
  const chosen = p.settings.advertise;
  const { addresses } = p.iface;
  const [only] = addresses;
  if (chosen === undefined && addresses.length === 1 && only)
    return [{ bits: networkOf(only.bits, only.length), length: only.length, primary: true, address: only.bits }];
  return addresses
    .map((a, i) => ({ bits: networkOf(a.bits, a.length), length: a.length, primary: i === 0, address: a.bits }))
    .filter((a) => chosen === undefined || chosen.some((c) => holds(c, a.address) && (c.length <= a.length || c.length === hostLength(c.bits))));
}

const isFull = (v: NeighborView): boolean => v.state === 'full';

/** A stub network (RFC 2328 §12.4.1.1): its mask is the link's data. */
function addStub(out: LinkColumns, bits: Ipv4, length: number, metric: number, port: Port): void {
  out.add(stubLink, networkOf(bits, length), length === 0 ? 0 : (-1 << (32 - length)) >>> 0, metric, port);
}

/** Cost of the link to one neighbour: its own where neighbours are listed with costs. */
function costTo(p: Port, v: NeighborView, metric: number): number {
  const listed = p.settings.staticNeighbors;
  if (metric === maxLinkMetric || listed.length === 0) return metric;
  return listed.find((n) => n.address === v.peer.helloFrom)?.cost ?? metric;
}

function addNeighbor(out: LinkColumns, p: Port, v: NeighborView, metric: number): void {
  out.add(pointToPointLink, v.peer.routerId, isUnnumbered(p) ? p.iface.index : (p.address ?? 0), costTo(p, v, metric), p, v.address);
}

/** What a router-LSA says of one interface (RFC 2328 §12.4.1.1 to §12.4.1.4, RFC 6845 §4, RFC 6860 §2), added to its links. */
function addLinks(out: LinkColumns, p: Port, adj: Adjacencies, metric: number): void {
  const { settings, address } = p;
  if (out.six) {
    addLinksOfThree(out, p, adj, metric);
    return;
  }
  // One address, and nothing chosen from it, as nearly everywhere: no list of subnets is made.
  if (p.loopback || address === undefined || p.iface.addresses.length !== 1 || settings.advertise !== undefined) addLinksOfMany(out, p, adj, metric);
  else if (settings.passive) addStub(out, address, p.length, p.cost, p);
  else addActive(out, p, adj, metric, settings.prefixSuppression ? undefined : address, p.length);
}

/** The same for an interface with several addresses or none, or with addresses chosen, and for a loopback. */
function addLinksOfMany(out: LinkColumns, p: Port, adj: Adjacencies, metric: number): void {
  const { settings } = p;
  const subnets = advertisedSubnets(p);
  if (p.loopback) {
    for (const a of subnets)
      if (settings.loopbackAs === 'host') addStub(out, a.address, 32, p.cost, p);
      else addStub(out, a.bits, a.length, p.cost, p);
    return;
  }
  let primary: Advertised | undefined;
  for (const a of subnets)
    if (a.primary) primary = a;
    else addStub(out, a.bits, a.length, p.cost, p);
  if (!settings.passive) addActive(out, p, adj, metric, settings.prefixSuppression ? undefined : primary?.address, primary?.length ?? 32);
  else if (primary) addStub(out, primary.address, primary.length, p.cost, p);
}

/**
 * Links of an interface on which hellos are sent.
 *
 * @param primary, length  the address of its own that is advertised with its subnet; `undefined` without
 */
function addActive(out: LinkColumns, p: Port, adj: Adjacencies, metric: number, primary: Ipv4 | undefined, length: number): void {
  const views = adj.views[p.index] ?? noViews;
  if (p.type === 'point-to-point') {
    for (let i = 0; i < views.length; i++) {
      const v = views[i];
      if (v && isFull(v)) addNeighbor(out, p, v, metric);
    }
    if (primary !== undefined) addStub(out, primary, length, p.cost, p);
    return;
  }
  const drId = adj.leaders[p.index]?.dr ?? 0;
  if (p.type === 'point-to-multipoint' || p.type === 'hybrid') {
    const viaDr = p.type === 'hybrid' && (drId === p.routerId || views.some((v) => isFull(v) && v.peer.routerId === drId));
    for (const v of views) if (isFull(v) || (viaDr && v.state === '2-way')) addNeighbor(out, p, v, metric);
    if (primary !== undefined) addStub(out, primary, 32, 0, p);
    return;
  }
  const dr = drId === p.routerId ? p.address : views.find((v) => v.peer.routerId === drId && isFull(v))?.peer.address;
  const transit = dr !== undefined && (drId !== p.routerId || views.some(isFull));
  if (transit) out.add(transitLink, dr, p.address ?? 0, metric, p, p.address ?? 0);
  else if (primary !== undefined) addStub(out, primary, length, p.cost, p);
}

/** A prefix of a router in version 3: it stands among the links, and an intra-area-prefix-LSA brings it. */
const addPrefix = (out: LinkColumns, prefix: number, metric: number, port: Port): void => out.add(stubLink, prefix, 0, metric, port);

/** Addresses of a port that version 3 advertises: all of them, or those that `advertise` names. */
function advertisedAddresses(p: Port): readonly InterfaceAddress[] {
  const chosen = p.settings.advertise;
  if (chosen === undefined) return p.iface.addresses;
  return p.iface.addresses.filter((a) => chosen.some((c) => holds(c, a.bits) && (c.length <= a.length || c.length === 128)));
}

/** Numbers of the prefix that an address is on, and of the address itself. */
const prefixOn = (a: InterfaceAddress): number => a.prefix ?? prefixId(networkOf(a.bits, a.length), a.length);
const hostOf = (a: InterfaceAddress): number => (a.length === 128 ? prefixOn(a) : prefixId(a.bits, 128));
const noAddresses: readonly InterfaceAddress[] = [];

/** Numbers of two interfaces in one field. */
const interfacePair = (own: Port, peer: Port): number => (((own.iface.index & 0xffff) << 16) | (peer.iface.index & 0xffff)) >>> 0;

/**
 * What a router says of one interface in version 3: links (RFC 5340 §4.4.3.2) and, of prefixes, all that no network brings
 * (§4.4.3.9): each end of a link its own, a host with metric 0 for a loopback and on point-to-multipoint.
 */
function addLinksOfThree(out: LinkColumns, p: Port, adj: Adjacencies, metric: number): void {
  const { settings } = p;
  const own = settings.prefixSuppression && !p.loopback && !settings.passive ? noAddresses : advertisedAddresses(p);
  const addHosts = (): void => {
    for (const a of own) addPrefix(out, hostOf(a), 0, p);
  };
  const addAll = (cost: number): void => {
    for (const a of own) addPrefix(out, prefixOn(a), cost, p);
  };
  if (p.loopback) {
    if (settings.loopbackAs === 'host') addHosts();
    else addAll(0);
    return;
  }
  if (settings.passive) {
    addAll(p.cost);
    return;
  }
  const views = adj.views[p.index] ?? noViews;
  const addPeer = (v: NeighborView): void => out.add(pointToPointLink, v.peer.routerId, interfacePair(p, v.peer), costTo(p, v, metric), p, v.address);
  if (p.type === 'point-to-point') {
    for (const v of views) if (isFull(v)) addPeer(v);
    addAll(p.cost);
    return;
  }
  const drId = adj.leaders[p.index]?.dr ?? 0;
  if (p.type === 'point-to-multipoint' || p.type === 'hybrid') {
    const viaDr = p.type === 'hybrid' && (drId === p.routerId || views.some((v) => isFull(v) && v.peer.routerId === drId));
    for (const v of views) if (isFull(v) || (viaDr && v.state === '2-way')) addPeer(v);
    addHosts();
    return;
  }
  const dr = drId === p.routerId ? p : views.find((v) => v.peer.routerId === drId && isFull(v))?.peer;
  const transit = dr !== undefined && (drId !== p.routerId || views.some(isFull));
  if (transit) out.add(transitLink, networkKey(drId, dr.iface.index), interfacePair(p, dr), metric, p, p.helloFrom);
  else addAll(p.cost);
}

/**
 * An end of a virtual link names a global address of its own in the transit area, where no host prefix does so already: the
 * other end sends to it (RFC 5340 §4.4.3.9, §4.7).
 */
function addEndOfVirtualLink(out: LinkColumns, first: number, s: Speaker, areaId: number): void {
  for (let n = first; n < out.count; n++) if (out.kind[n] === stubLink && prefixBook.lengthOf(out.id[n] ?? 0) === 128) return;
  const port = s.ports.find((p) => isDescribed(p, areaId) && p.address !== undefined);
  const [own] = port?.iface.addresses ?? noAddresses;
  if (port && own) addPrefix(out, hostOf(own), 0, port);
}

/** Prefixes that the members of a network bring together: those of the designated router and of all that are full with it, by their link-LSAs (RFC 5340 §4.4.3.9). */
function prefixesTogether(members: readonly Port[]): number[] {
  const out = new Set<number>();
  for (const p of members) if (!p.settings.prefixSuppression) for (const a of advertisedSubnets(p)) out.add(prefixId(a.bits, a.length));
  return [...out].sort((a, b) => prefixBook.compare(a, b));
}

/** Link-LSA of a port (RFC 5340 §4.4.3.8). */
export const linkLsa = (p: Port): LinkLsa => ({
  type: 8,
  adv: p.routerId,
  id: p.iface.index,
  priority: p.settings.priority,
  linkLocal: p.helloFrom ?? 0,
  prefixes: p.settings.prefixSuppression ? [] : advertisedSubnets(p).map(({ bits, length }) => ({ bits, length })),
});

/** Type 1 of a router in one area, its links added to the columns. */
export function routerLsa(
  s: Speaker,
  areaId: number,
  adj: Adjacencies,
  virtuals: readonly VirtualAdjacency[],
  bits: RouterBits,
  out: LinkColumns,
): RouterLsa {
  const first = out.count;
  for (let i = 0; i < s.ports.length; i++) {
    const p = s.ports[i];
    if (p && isDescribed(p, areaId)) addLinks(out, p, adj, s.instance.stubRouter ? maxLinkMetric : p.cost);
  }
  if (areaId === backbone)
    for (const v of virtuals)
      if (v.speaker === s.index)
        out.add(
          virtualLink,
          adj.speakers[v.peer]?.routerId ?? 0,
          out.six ? 0 : v.address,
          s.instance.stubRouter ? maxLinkMetric : v.cost,
          undefined,
          v.peerAddress,
        );
  if (out.six && bits.v) addEndOfVirtualLink(out, first, s, areaId);
  return new RouterLsa(s.routerId, s.index, bits, out, first, out.count);
}

/** Types 2: by the designated router of a segment with at least one full neighbour (RFC 2328 §12.4.2). */
export function networkLsas(s: Speaker, areaId: number, adj: Adjacencies): readonly NetworkLsa[] {
  let out: NetworkLsa[] | undefined;
  for (let i = 0; i < s.ports.length; i++) {
    const p = s.ports[i];
    if (!p || !isDescribed(p, areaId)) continue;
    if (p.loopback || p.settings.passive || !elects(p.type) || p.type === 'hybrid' || (!p.six && p.address === undefined)) continue;
    if (adj.leaders[p.index]?.dr !== s.routerId) continue;
    const full = (adj.views[p.index] ?? []).filter((v) => v.state === 'full');
    if (full.length === 0) continue;
    const id = p.six ? p.iface.index : (p.address ?? 0);
    (out ??= []).push({
      type: 2,
      adv: s.routerId,
      id,
      key: p.six ? networkKey(s.routerId, id) : id,
      ...(p.six ? { prefixes: prefixesTogether([p, ...full.map((v) => v.peer)]) } : {}),
      // RFC 6860 §2.2.2: the mask of a suppressed network is a host's.
      length: p.settings.prefixSuppression ? 32 : p.length,
      routers: [s.routerId, ...full.map((v) => v.peer.routerId)].sort((a, b) => a - b),
      port: p,
    });
  }
  return out ?? noNetworks;
}
