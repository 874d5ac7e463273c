import type { Design, Interface, Router, TopologyLink } from '../design/design';
import { Groups } from './groups';
import { PrefixIds } from '../prefix/prefix-ids';
import { maskOf, networkOf, type Ipv4Prefix } from '../prefix/ipv4';

/** An interface by its place: router and interface, both as indexes into the design. */
export interface Attachment {
  readonly router: number;
  readonly iface: number;
}

/** Interfaces that share a wire or a switched LAN. */
export interface Segment {
  readonly index: number;
  readonly members: readonly Attachment[];
  /** A cable takes the carrier from both ends at once; on a LAN a switch stands between. */
  readonly kind: 'cable' | 'lan';
  /** Distinct subnets of its members, shortest first. More than one: masks differ. */
  readonly subnets: readonly Ipv4Prefix[];
  /** Joined by the topology document, not by addresses. */
  readonly byTopology: boolean;
  /** False: a cut is not seen by the far end, which must find out by itself. */
  readonly carrierLossSeen: boolean;
  /** Pairs that the topology joins, as `a-b` member places, where it says so; `undefined`: all reach all. */
  readonly reach: ReadonlySet<string> | undefined;
  /** The LAN node of the topology, when it has one. */
  readonly lanNode: string | undefined;
}

export interface Segments {
  readonly list: readonly Segment[];
  /** Segment of each interface: `of[router][iface]`, -1 for loopbacks and interfaces that stand alone. */
  readonly of: readonly (readonly number[])[];
}

const takesPart = (i: Interface): boolean => i.kind !== 'loopback' && i.boundTo === undefined;

interface Flat extends Attachment {
  readonly of: Interface;
}

/** True when two members of a segment reach each other directly. */
export const membersReach = (s: Segment, a: number, b: number): boolean => s.reach === undefined || s.reach.has(a < b ? `${a}-${b}` : `${b}-${a}`);

/** Joins interfaces whose subnets overlap: equal ones at sight, then a sweep over subnets in order of address, shortest first. */
function joinBySubnet(flat: readonly Flat[], linked: ReadonlySet<number>, groups: Groups): void {
  const subnets = new PrefixIds(flat.length);
  const firstOf: number[] = [];
  for (let n = 0; n < flat.length; n++) {
    if (linked.size > 0 && linked.has(n)) continue;
    for (const a of flat[n]?.of.addresses ?? []) {
      if (a.length === 32) continue;
      const id = subnets.id(networkOf(a.bits, a.length), a.length);
      const first = firstOf[id];
      if (first === undefined) firstOf[id] = n;
      else groups.join(n, first);
    }
  }
  let end = -1;
  let open = 0;
  const order = subnets.sorted();
  for (let i = 0; i < order.length; i++) {
    const id = order[i] ?? 0;
    const bits = subnets.bitsOf(id);
    const n = firstOf[id] ?? 0;
    if (bits <= end) groups.join(n, open);
    else {
      open = n;
      end = bits + (~maskOf(subnets.lengthOf(id)) >>> 0);
    }
  }
}

interface Joined {
  readonly lossUnseen: Set<number>;
  readonly lan: Map<number, string>;
  readonly pairs: Map<string, true>;
  readonly linked: Set<number>;
}

/** Joins what the topology names; a node without a router document is a LAN. */
function joinByTopology(design: Design, links: readonly TopologyLink[], place: ReadonlyMap<string, number>, groups: Groups): Joined {
  const out: Joined = { lossUnseen: new Set(), lan: new Map(), pairs: new Map(), linked: new Set() };
  const isRouter = new Set(design.routers.map((r) => r.name));
  const lanMember = new Map<string, number>();
  for (const l of links) {
    const ends = [l.from, l.to];
    const places: number[] = [];
    for (const e of ends) {
      if (!isRouter.has(e.node)) continue;
      const n = place.get(`${e.node}/${e.point}`);
      if (n !== undefined) places.push(n);
    }
    const lanEnd = ends.find((e) => !isRouter.has(e.node));
    for (const n of places) {
      out.linked.add(n);
      if (!l.carrierLossSeen) out.lossUnseen.add(n);
    }
    const [a, b] = places;
    if (a !== undefined && b !== undefined) {
      groups.join(a, b);
      out.pairs.set(a < b ? `${a}-${b}` : `${b}-${a}`, true);
    } else if (a !== undefined && lanEnd) {
      const first = lanMember.get(lanEnd.node);
      if (first === undefined) lanMember.set(lanEnd.node, a);
      else groups.join(a, first);
      out.lan.set(a, lanEnd.node);
    }
  }
  return out;
}

function pointToPointWritten(r: Router | undefined, name: string | undefined): boolean {
  return r?.instances.some((o) => o.areas.some((a) => a.interfaces.some((i) => i.name === name && i.type === 'point-to-point'))) ?? false;
}

/**
 * Finds who shares a wire with whom. Interfaces whose addresses share a subnet are on one segment (subnets of different
 * length that overlap too); a link of the topology overrides that and is the only way to join unnumbered interfaces.
 * Two members are one cable when an end is point-to-point, the subnet is a /30 or /31, or the topology says so.
 */
export function findSegments(design: Design): Segments {
  const flat: Flat[] = [];
  const place = new Map<string, number>();
  const named = design.topology.links.length > 0;
  design.routers.forEach((r, router) => {
    r.interfaces.forEach((of, iface) => {
      if (!takesPart(of)) return;
      if (named) place.set(`${r.name}/${of.name}`, flat.length);
      flat.push({ router, iface, of });
    });
  });
  const groups = new Groups(flat.length);
  const topo = joinByTopology(design, design.topology.links, place, groups);
  joinBySubnet(flat, topo.linked, groups);
  const indexOf = new Int32Array(flat.length).fill(-1);
  const members: Flat[][] = [];
  const places: number[][] = [];
  const of = design.routers.map((r) => new Array<number>(r.interfaces.length).fill(-1));
  flat.forEach((f, n) => {
    const root = groups.find(n);
    let index = indexOf[root] ?? -1;
    if (index < 0) {
      index = members.length;
      indexOf[root] = index;
      members.push([f]);
      if (named) places.push([n]);
    } else {
      members[index] = withOneMore(members[index] ?? [], f);
      if (named) places[index]?.push(n);
    }
    const row = of[f.router];
    if (row) row[f.iface] = index;
  });
  return { list: members.map((m, index) => makeSegment(design, m, places[index] ?? [], index, topo)), of };
}

/** A list with one more member. Most come to have two: such a one is made as long as that. */
function withOneMore<T>(list: T[], x: T): T[] {
  const [first] = list;
  if (list.length === 1 && first !== undefined) return [first, x];
  list.push(x);
  return list;
}

/** Distinct subnets of interfaces, shortest first. */
function subnetsOf(members: readonly Flat[]): Ipv4Prefix[] {
  const out: Ipv4Prefix[] = [];
  for (const m of members)
    for (const a of m.of.addresses) {
      if (a.length === 32) continue;
      const bits = networkOf(a.bits, a.length);
      if (!out.some((s) => s.bits === bits && s.length === a.length)) out.push({ bits, length: a.length });
    }
  return out.length > 1 ? out.sort((a, b) => a.length - b.length || a.bits - b.bits) : out;
}

/** Pairs of members, as places, that the topology joins; `undefined` when it joins none. */
function reachOf(ns: readonly number[], pairs: ReadonlyMap<string, true>): ReadonlySet<string> | undefined {
  const reach = new Set<string>();
  ns.forEach((a, i) => {
    ns.forEach((b, j) => {
      if (j > i && pairs.has(a < b ? `${a}-${b}` : `${b}-${a}`)) reach.add(`${i}-${j}`);
    });
  });
  return reach.size > 0 ? reach : undefined;
}

/** A segment whose subnets are looked up when somebody asks. */
class FoundSegment implements Segment {
  private known: readonly Ipv4Prefix[] | undefined;
  constructor(
    readonly index: number,
    readonly members: readonly Flat[],
    readonly kind: Segment['kind'],
    readonly byTopology: boolean,
    readonly carrierLossSeen: boolean,
    readonly reach: ReadonlySet<string> | undefined,
    readonly lanNode: string | undefined,
  ) {}

  get subnets(): readonly Ipv4Prefix[] {
    return (this.known ??= subnetsOf(this.members));
  }
}

/** One point-to-point end, or a subnet with room for two. */
const isCable = (design: Design, members: readonly Flat[]): boolean =>
  members.some((m) => m.of.addresses.some((a) => a.length === 30 || a.length === 31)) ||
  members.some((m) => pointToPointWritten(design.routers[m.router], m.of.name));

function makeSegment(design: Design, members: readonly Flat[], places: readonly number[], index: number, topo: Joined): Segment {
  if (topo.linked.size === 0)
    return new FoundSegment(index, members, members.length === 2 && isCable(design, members) ? 'cable' : 'lan', false, true, undefined, undefined);
  const lanNode = places.map((n) => topo.lan.get(n)).find((x) => x !== undefined);
  const byTopology = places.some((n) => topo.linked.has(n));
  const cable = members.length === 2 && lanNode === undefined && (byTopology || isCable(design, members));
  const reach = lanNode === undefined && members.length > 2 ? reachOf(places, topo.pairs) : undefined;
  return new FoundSegment(index, members, cable ? 'cable' : 'lan', byTopology, !places.some((n) => topo.lossUnseen.has(n)), reach, lanNode);
}
