import type { Adjacencies, NeighborView } from '../adjacency/settle';
import { elects, isUnnumbered, type Port, type Speaker } from '../adjacency/speakers';
import { backbone } from '../design/design';
import { holds, networkOf, type Ipv4, type Ipv4Prefix } from '../prefix/ipv4';
import { Groups } from '../segments/groups';
import type { ExternalLsa, NetworkLsa, RouterBits, RouterLink, RouterLsa, SummaryLsa } from './lsa';

/** A virtual link end that is up (RFC 2328 §15). */
export interface VirtualAdjacency {
  readonly speaker: number;
  readonly peer: number;
  readonly transitArea: number;
  /** Cost of the path through the transit area. */
  readonly cost: number;
  /** Own address towards the transit area. */
  readonly address: Ipv4;
  /** The far end's address on the path. */
  readonly peerAddress: Ipv4;
}

/** The link-state database of one area, as far as flooding reaches: a split area has several. */
export class AreaDatabase {
  /** Type 7. */
  nssa: readonly ExternalLsa[] = [];
  private networkSummaries: readonly { readonly speaker: number; readonly made: () => readonly SummaryLsa[] }[] = [];
  private boundarySummaries: ReadonlyMap<number, readonly SummaryLsa[]> = new Map();
  private readonly written = new Map<number, readonly SummaryLsa[]>();
  private all: ReadonlyMap<number, readonly SummaryLsa[]> | undefined;

  constructor(
    readonly index: number,
    readonly areaId: number,
    readonly speakers: readonly number[],
    readonly routers: ReadonlyMap<Ipv4, RouterLsa>,
    readonly networks: ReadonlyMap<Ipv4, NetworkLsa>,
  ) {}

  /** Puts in what border routers say now. Types 3 are written out when somebody looks at them. */
  publish(
    networks: readonly { readonly speaker: number; readonly made: () => readonly SummaryLsa[] }[],
    boundaries: ReadonlyMap<number, readonly SummaryLsa[]>,
  ): void {
    this.networkSummaries = networks;
    this.boundarySummaries = boundaries;
    this.written.clear();
    this.all = undefined;
  }

  /** Types 3 by originating speaker, in the order of the speakers. */
  *networksSaid(): Generator<readonly SummaryLsa[]> {
    for (const { speaker, made } of this.networkSummaries) {
      let lsas = this.written.get(speaker);
      if (!lsas) {
        lsas = made();
        this.written.set(speaker, lsas);
      }
      yield lsas;
    }
  }

  /** Types 4 by originating speaker. */
  get boundariesSaid(): ReadonlyMap<number, readonly SummaryLsa[]> {
    return this.boundarySummaries;
  }

  /** Types 3 and 4 by originating speaker. */
  get summaries(): ReadonlyMap<number, readonly SummaryLsa[]> {
    if (!this.all) {
      const out = new Map<number, readonly SummaryLsa[]>();
      const said = [...this.networksSaid()];
      this.networkSummaries.forEach(({ speaker }, i) => out.set(speaker, [...(said[i] ?? []), ...(this.boundarySummaries.get(speaker) ?? [])]));
      this.all = out;
    }
    return this.all;
  }
}

/** Metric of transit links of a router that wants no transit traffic (RFC 6987). */
const maxLinkMetric = 0xffff;

/** Ports that are described in the router-LSA of their area. */
export const portsInArea = (s: Speaker, areaId: number): Port[] => s.ports.filter((p) => isDescribed(p, areaId));

const isDescribed = (p: Port, areaId: number): boolean => p.up && p.area.id === areaId;
const noViews: readonly NeighborView[] = [];
const noNetworks: readonly NetworkLsa[] = [];

/**
 * Areas that a speaker counts as attached: those with an interface that is up, and where empty areas count also those
 * whose interfaces are all down. The backbone always needs an interface that is up (or a virtual link).
 */
export function attachedAreas(s: Speaker): number[] {
  let first: number | undefined;
  let more: number[] | undefined;
  for (let i = 0; i < s.ports.length; i++) {
    const p = s.ports[i];
    if (!p?.up && !(p && s.instance.countsEmptyAreas && p.area.id !== backbone)) continue;
    const { id } = p.area;
    if (first === undefined) first = id;
    else if (id !== first && !more?.includes(id)) (more ??= [first]).push(id);
  }
  if (first === undefined) return [];
  // Most have one.
  return more ? more.sort((a, b) => a - b) : [first];
}

/** A subnet of a port with the port's address on it. */
interface Advertised extends Ipv4Prefix {
  readonly primary: boolean;
  readonly address: Ipv4;
}

const noSubnets: readonly Advertised[] = [];

/** Subnets of a port that OSPF advertises: all of its addresses, or those that `advertise` names. */
export function advertisedSubnets(p: Port): Advertised[] {
  const chosen = p.settings.advertise;
  const { addresses } = p.iface;
  const [only] = addresses;
  if (chosen === undefined && addresses.length === 1 && only)
    return [{ bits: networkOf(only.bits, only.length), length: only.length, primary: true, address: only.bits }];
  return addresses
    .map((a, i) => ({ bits: networkOf(a.bits, a.length), length: a.length, primary: i === 0, address: a.bits }))
    .filter((a) => chosen === undefined || chosen.some((c) => holds(c, a.address) && (c.length <= a.length || c.length === 32)));
}

const stub = (bits: Ipv4, length: number, metric: number, port: Port): RouterLink => ({
  kind: 'stub',
  id: networkOf(bits, length),
  data: length === 0 ? 0 : (-1 << (32 - length)) >>> 0,
  metric,
  port,
});

const isFull = (v: NeighborView): boolean => v.state === 'full';

/** Cost of the link to one neighbour: its own where neighbours are listed with costs. */
function costTo(p: Port, v: NeighborView, metric: number): number {
  const listed = p.settings.staticNeighbors;
  if (metric === maxLinkMetric || listed.length === 0) return metric;
  return listed.find((n) => n.address === v.peer.address)?.cost ?? metric;
}

const toNeighbor = (p: Port, v: NeighborView, metric: number): RouterLink => ({
  kind: 'point-to-point',
  id: v.peer.routerId,
  data: isUnnumbered(p) ? p.iface.index : (p.address ?? 0),
  metric: costTo(p, v, metric),
  port: p,
  nextHop: v.address,
});

/** What a router-LSA says of one interface (RFC 2328 §12.4.1.1 to §12.4.1.4, RFC 6845 §4, RFC 6860 §2), added to its links. */
function addLinks(links: RouterLink[], p: Port, views: readonly NeighborView[], drId: Ipv4, metric: number): void {
  const { settings } = p;
  if (settings.passive && !p.loopback && p.address !== undefined && p.iface.addresses.length === 1 && settings.advertise === undefined) {
    links.push(stub(p.address, p.length, p.cost, p)); // the common case, at one glance
    return;
  }
  // One address, and nothing chosen from it, as nearly everywhere: no list is made.
  const only = settings.advertise === undefined && p.iface.addresses.length === 1 ? p.address : undefined;
  const subnets = only === undefined || p.loopback ? advertisedSubnets(p) : noSubnets;
  if (p.loopback) {
    for (const a of subnets) links.push(settings.loopbackAs === 'host' ? stub(a.address, 32, p.cost, p) : stub(a.bits, a.length, p.cost, p));
    return;
  }
  let primary = only;
  let length = p.length;
  for (const a of subnets)
    if (a.primary) {
      primary = a.address;
      ({ length } = a);
    } else links.push(stub(a.bits, a.length, p.cost, p));
  if (settings.prefixSuppression && !settings.passive) primary = undefined;
  if (settings.passive) {
    if (primary !== undefined) links.push(stub(primary, length, p.cost, p));
  } else if (p.type === 'point-to-point') {
    for (let i = 0; i < views.length; i++) {
      const v = views[i];
      if (v && isFull(v)) links.push(toNeighbor(p, v, metric));
    }
    if (primary !== undefined) links.push(stub(primary, length, p.cost, p));
  } else if (p.type === 'point-to-multipoint' || p.type === 'hybrid') {
    const viaDr = p.type === 'hybrid' && (drId === p.routerId || views.some((v) => isFull(v) && v.peer.routerId === drId));
    for (const v of views) if (isFull(v) || (viaDr && v.state === '2-way')) links.push(toNeighbor(p, v, metric));
    if (primary !== undefined) links.push(stub(primary, 32, 0, p));
  } else {
    const dr = drId === p.routerId ? p.address : views.find((v) => v.peer.routerId === drId && isFull(v))?.peer.address;
    const transit = dr !== undefined && (drId !== p.routerId || views.some(isFull));
    if (transit) links.push({ kind: 'transit', id: dr, data: p.address ?? 0, metric, port: p });
    else if (primary !== undefined) links.push(stub(primary, length, p.cost, p));
  }
}

function routerLsa(s: Speaker, areaId: number, adj: Adjacencies, virtuals: readonly VirtualAdjacency[], bits: RouterBits): RouterLsa {
  const links: RouterLink[] = [];
  for (let i = 0; i < s.ports.length; i++) {
    const p = s.ports[i];
    if (!p || !isDescribed(p, areaId)) continue;
    const metric = s.instance.stubRouter ? maxLinkMetric : p.cost;
    addLinks(links, p, adj.views[p.index] ?? noViews, adj.leaders[p.index]?.dr ?? 0, metric);
  }
  if (areaId === backbone)
    for (const v of virtuals)
      if (v.speaker === s.index)
        links.push({
          kind: 'virtual',
          id: adj.speakers[v.peer]?.routerId ?? 0,
          data: v.address,
          metric: s.instance.stubRouter ? maxLinkMetric : v.cost,
          nextHop: v.peerAddress,
        });
  return { type: 1, adv: s.routerId, id: s.routerId, speaker: s.index, bits, links };
}

/** Types 2: by the designated router of a segment with at least one full neighbour (RFC 2328 §12.4.2). */
function networkLsas(s: Speaker, areaId: number, adj: Adjacencies): readonly NetworkLsa[] {
  let out: NetworkLsa[] | undefined;
  for (let i = 0; i < s.ports.length; i++) {
    const p = s.ports[i];
    if (!p || !isDescribed(p, areaId)) continue;
    if (p.loopback || p.settings.passive || !elects(p.type) || p.type === 'hybrid' || p.address === undefined) continue;
    if (adj.leaders[p.index]?.dr !== s.routerId) continue;
    const full = (adj.views[p.index] ?? []).filter((v) => v.state === 'full');
    if (full.length === 0) continue;
    (out ??= []).push({
      type: 2,
      adv: s.routerId,
      id: p.address,
      // RFC 6860 §2.2.2: the mask of a suppressed network is a host's.
      length: p.settings.prefixSuppression ? 32 : p.length,
      routers: [s.routerId, ...full.map((v) => v.peer.routerId)].sort((a, b) => a - b),
      port: p,
    });
  }
  return out ?? noNetworks;
}

/** Groups of speakers of each area, joined by full adjacencies and virtual links; areas by id, groups by their first speaker. */
function floodGroups(
  adj: Adjacencies,
  virtuals: readonly VirtualAdjacency[],
  attachedOf: (s: Speaker) => readonly number[],
): { areaId: number; speakers: number[] }[] {
  const members = new Map<number, number[]>();
  const note = (area: number, s: number): void => {
    const list = members.get(area);
    if (list) list.push(s);
    else members.set(area, [s]);
  };
  for (const s of adj.speakers) {
    const areas = attachedOf(s);
    for (let i = 0; i < areas.length; i++) note(areas[i] ?? 0, s.index);
  }
  for (const v of virtuals) if (!members.get(backbone)?.includes(v.speaker)) note(backbone, v.speaker);
  // Two numbers for each join, one after the other.
  const joins = new Map<number, number[]>();
  const join = (area: number, a: number, b: number): void => {
    const list = joins.get(area);
    if (list) list.push(a, b);
    else joins.set(area, [a, b]);
  };
  for (let i = 0; i < adj.pairs.length; i++) {
    const a = adj.pairs[i]?.a;
    if (a?.state === 'full') join(a.port.area.id, a.port.speaker, a.peer.speaker);
  }
  for (const v of virtuals) join(backbone, v.speaker, v.peer);
  return [...members.keys()]
    .sort((a, b) => a - b)
    .flatMap((areaId) => {
      const groups = new Groups(adj.speakers.length);
      const joined = joins.get(areaId) ?? [];
      for (let i = 0; i < joined.length; i += 2) groups.join(joined[i] ?? 0, joined[i + 1] ?? 0);
      const byRoot = new Map<number, number[]>();
      for (const s of [...(members.get(areaId) ?? [])].sort((a, b) => a - b)) {
        const root = groups.find(s);
        const group = byRoot.get(root);
        if (group) group.push(s);
        else byRoot.set(root, [s]);
      }
      return [...byRoot.values()].map((speakers) => ({ areaId, speakers }));
    });
}

/**
 * The database of an area after some of its routers changed: what the others say is the same.
 *
 * @param touched  speakers that may say something else now, by index
 */
export function databaseAfter(
  before: AreaDatabase,
  adj: Adjacencies,
  touched: ReadonlySet<number>,
  bitsOf: (s: Speaker, areaId: number) => RouterBits,
): AreaDatabase {
  if (touched.size === 0) {
    // What nobody touched is the same advertisements: they are not copied.
    const same = new AreaDatabase(before.index, before.areaId, before.speakers, before.routers, before.networks);
    same.nssa = before.nssa;
    return same;
  }
  const routers = new Map(before.routers);
  const networks = new Map([...before.networks].filter(([, n]) => !touched.has(n.port.speaker)));
  for (const i of before.speakers) {
    const s = touched.has(i) ? adj.speakers[i] : undefined;
    if (!s) continue;
    routers.set(s.routerId, routerLsa(s, before.areaId, adj, [], bitsOf(s, before.areaId)));
    for (const n of networkLsas(s, before.areaId, adj)) networks.set(n.id, n);
  }
  const after = new AreaDatabase(before.index, before.areaId, before.speakers, routers, networks);
  after.nssa = before.nssa;
  return after;
}

/** Builds every area's databases of types 1 and 2. */
export function areaDatabases(
  adj: Adjacencies,
  virtuals: readonly VirtualAdjacency[],
  bitsOf: (s: Speaker, areaId: number) => RouterBits,
  attachedOf: (s: Speaker) => readonly number[] = attachedAreas,
): AreaDatabase[] {
  return floodGroups(adj, virtuals, attachedOf).map(({ areaId, speakers }, index) => {
    const routers = new Map<Ipv4, RouterLsa>();
    const networks = new Map<Ipv4, NetworkLsa>();
    for (const i of speakers) {
      const s = adj.speakers[i];
      if (!s) continue;
      // Of two routers with one id in an area the first by host name stands for both (formats: "unstable").
      if (!routers.has(s.routerId)) routers.set(s.routerId, routerLsa(s, areaId, adj, virtuals, bitsOf(s, areaId)));
      for (const n of networkLsas(s, areaId, adj)) if (!networks.has(n.id)) networks.set(n.id, n);
    }
    return new AreaDatabase(index, areaId, speakers, routers, networks);
  });
}
