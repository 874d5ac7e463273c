import type { Design, Interface, Router, TopologyLink } from '../design/design';
import { Groups } from './groups';
import { listsByKey, wider, type NumberLists } from './number-lists';
import { PrefixBook } from '../prefix/prefix-book';
import { networkOf } from '../prefix/address';
import { isLinkLocal, network6Of } from '../prefix/address';
import { maskOf, type Ipv4Prefix } from '../prefix/ipv4';

/** An interface by its place: router and interface, both as indexes into the design. */
export interface Attachment {
  readonly router: number;
  readonly iface: number;
}

/** Interfaces that share a wire or a switched LAN. */
export interface Segment {
  readonly index: number;
  /** How many members it has. */
  readonly size: number;
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
  readonly count: number;
  /** All of them; made when somebody asks. */
  readonly list: readonly Segment[];
  /** Segment of each interface: `of[router][iface]`, -1 for loopbacks and interfaces that stand alone. */
  readonly of: readonly (readonly number[])[];
  /** The same for one interface. */
  at(router: number, iface: number): number;
  /** `reach` of a segment. */
  reachOf(segment: number): ReadonlySet<string> | undefined;
}

const takesPart = (i: Interface): boolean => i.kind !== 'loopback' && i.boundTo === undefined;

/** Who stands on which segment: lists of places, one for each segment. */
interface Standing extends NumberLists {
  readonly places: Places;
}

const membersOf = ({ first, items }: Standing, segment: number): Int32Array => items.subarray(first[segment] ?? 0, first[segment + 1] ?? 0);

/** Interfaces that can stand on a segment, counted through: router by router, in the order of their list. */
class Places {
  count = 0;
  readonly router: Int32Array;
  readonly iface: Int32Array;
  /** Interfaces of the routers before each router, and the place of each interface so counted; -1 for those that take no part. */
  private readonly before: Int32Array;
  private readonly place: Int32Array;

  constructor(readonly design: Design) {
    this.before = new Int32Array(design.routers.length + 1);
    for (let r = 0; r < design.routers.length; r++) this.before[r + 1] = (this.before[r] ?? 0) + (design.routers[r]?.interfaces.length ?? 0);
    const room = this.before[design.routers.length] ?? 0;
    this.router = new Int32Array(room);
    this.iface = new Int32Array(room);
    this.place = new Int32Array(room).fill(-1);
    for (let r = 0; r < design.routers.length; r++) {
      const interfaces = design.routers[r]?.interfaces ?? [];
      for (let i = 0; i < interfaces.length; i++) {
        const of = interfaces[i];
        if (!of || !takesPart(of)) continue;
        this.place[(this.before[r] ?? 0) + i] = this.count;
        this.router[this.count] = r;
        this.iface[this.count++] = i;
      }
    }
  }

  /** Place of an interface; -1 when it takes no part. */
  placeOf(router: number, iface: number): number {
    const at = (this.before[router] ?? 0) + iface;
    return at < (this.before[router + 1] ?? 0) ? (this.place[at] ?? -1) : -1;
  }

  attachment(n: number): Attachment {
    return { router: this.router[n] ?? 0, iface: this.iface[n] ?? 0 };
  }

  routerOf(n: number): Router | undefined {
    return this.design.routers[this.router[n] ?? -1];
  }

  interfaceOf(n: number): Interface | undefined {
    return this.routerOf(n)?.interfaces[this.iface[n] ?? -1];
  }
}

const noAddresses: Interface['addresses'] = [];

/** True when two members of a segment reach each other directly. */
export const membersReach = (s: Pick<Segment, 'reach'>, a: number, b: number): boolean =>
  s.reach === undefined || s.reach.has(a < b ? `${a}-${b}` : `${b}-${a}`);

/** Joins interfaces whose subnets overlap: equal ones at sight, then a sweep over subnets in order of address, shortest first. */
function joinBySubnet(places: Places, linked: ReadonlySet<number>, groups: Groups): void {
  const subnets = new PrefixBook(places.count);
  // By subnet: the first place that has it. Grown where interfaces have several.
  let firstOf = new Int32Array(places.count + 64);
  for (let n = 0; n < places.count; n++) {
    if (linked.size > 0 && linked.has(n)) continue;
    const addresses = places.interfaceOf(n)?.addresses ?? noAddresses;
    for (let i = 0; i < addresses.length; i++) {
      const a = addresses[i];
      if (!a || a.length === 32) continue;
      const known = subnets.size;
      const id = subnets.id(networkOf(a.bits, a.length), a.length);
      if (id < known) groups.join(n, firstOf[id] ?? n);
      else {
        if (id === firstOf.length) firstOf = wider(firstOf);
        firstOf[id] = n;
      }
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

/** The same for global IPv6 prefixes: link-local addresses join nothing, the same one may stand on many wires. */
function joinBySubnet6(places: Places, linked: ReadonlySet<number>, groups: Groups): void {
  const subnets: { readonly bits: bigint; readonly length: number; readonly place: number }[] = [];
  for (let n = 0; n < places.count; n++) {
    const i = places.interfaceOf(n);
    if (!i?.six || i.addresses6.length === 0 || linked.has(n)) continue;
    for (const a of i.addresses6)
      if (a.length < 128 && !isLinkLocal(a.bits)) subnets.push({ bits: network6Of(a.bits, a.length), length: a.length, place: n });
  }
  subnets.sort((a, b) => (a.bits < b.bits ? -1 : a.bits > b.bits ? 1 : a.length - b.length));
  let end = -1n;
  let open = 0;
  for (const { bits, length, place } of subnets) {
    if (bits <= end) groups.join(place, open);
    else {
      open = place;
      end = bits + (1n << BigInt(128 - length)) - 1n;
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
  if (links.length === 0) return out;
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
 * Finds who shares a wire with whom, whichever family tells it. Interfaces whose addresses share a subnet are on one segment
 * (subnets of different length that overlap too); a link of the topology overrides that and is the only way to join interfaces
 * that are unnumbered or have link-local addresses alone. Two members are one cable when an end is point-to-point, the subnet
 * is a /30, /31, /126 or /127, or the topology says so.
 */
export function findSegments(design: Design): Segments {
  const places = new Places(design);
  const { links } = design.topology;
  const groups = new Groups(places.count);
  const topo = joinByTopology(design, links, links.length > 0 ? namesOf(places) : new Map<string, number>(), groups);
  joinBySubnet(places, topo.linked, groups);
  joinBySubnet6(places, topo.linked, groups);
  // Segments are numbered in the order of their first members.
  const segmentOf = new Int32Array(places.count);
  const numbers = new Int32Array(places.count).fill(-1);
  let count = 0;
  for (let n = 0; n < places.count; n++) {
    const root = groups.find(n);
    let index = numbers[root] ?? -1;
    if (index < 0) numbers[root] = index = count++;
    segmentOf[n] = index;
  }
  return new FoundSegments({ places, ...listsByKey(segmentOf, count) }, segmentOf, count, topo);
}

/** Places by `router/interface`. */
function namesOf(places: Places): Map<string, number> {
  const out = new Map<string, number>();
  for (let n = 0; n < places.count; n++) out.set(`${places.routerOf(n)?.name ?? ''}/${places.interfaceOf(n)?.name ?? ''}`, n);
  return out;
}

/** Distinct subnets of interfaces, shortest first. */
function subnetsOf(places: Places, members: Int32Array): Ipv4Prefix[] {
  const out: Ipv4Prefix[] = [];
  for (const n of members)
    for (const a of places.interfaceOf(n)?.addresses ?? noAddresses) {
      if (a.length === 32) continue;
      const bits = networkOf(a.bits, a.length);
      if (!out.some((s) => s.bits === bits && s.length === a.length)) out.push({ bits, length: a.length });
    }
  return out.length > 1 ? out.sort((a, b) => a.length - b.length || a.bits - b.bits) : out;
}

/** Pairs of members, as places in their list, that the topology joins; `undefined` when it joins none. */
function reachOf(members: Int32Array, pairs: ReadonlyMap<string, true>): ReadonlySet<string> | undefined {
  const reach = new Set<string>();
  members.forEach((a, i) => {
    members.forEach((b, j) => {
      if (j > i && pairs.has(a < b ? `${a}-${b}` : `${b}-${a}`)) reach.add(`${i}-${j}`);
    });
  });
  return reach.size > 0 ? reach : undefined;
}

/** What the topology says of a segment. */
type Named = Pick<Segment, 'byTopology' | 'carrierLossSeen' | 'reach' | 'lanNode'>;

const notNamed: Named = { byTopology: false, carrierLossSeen: true, reach: undefined, lanNode: undefined };

function namedBy(topo: Joined, members: Int32Array): Named {
  const list = [...members];
  const lanNode = list.map((n) => topo.lan.get(n)).find((x) => x !== undefined);
  return {
    byTopology: list.some((n) => topo.linked.has(n)),
    carrierLossSeen: !list.some((n) => topo.lossUnseen.has(n)),
    reach: lanNode === undefined && list.length > 2 ? reachOf(members, topo.pairs) : undefined,
    lanNode,
  };
}

/** A segment of which everything is looked up when somebody asks. */
class FoundSegment implements Segment {
  private membersMade: readonly Attachment[] | undefined;
  private subnetsMade: readonly Ipv4Prefix[] | undefined;
  private namedMade: Named | undefined;
  private kindFound: Segment['kind'] | undefined;

  constructor(
    readonly index: number,
    private readonly standing: Standing,
    private readonly topo: Joined,
  ) {}

  private get at(): Int32Array {
    return membersOf(this.standing, this.index);
  }

  private get named(): Named {
    return (this.namedMade ??= this.topo.linked.size === 0 ? notNamed : namedBy(this.topo, this.at));
  }

  get size(): number {
    const { first } = this.standing;
    return (first[this.index + 1] ?? 0) - (first[this.index] ?? 0);
  }

  get kind(): Segment['kind'] {
    return (this.kindFound ??= this.isCable() ? 'cable' : 'lan');
  }

  private isCable(): boolean {
    if (this.size !== 2 || this.named.lanNode !== undefined) return false;
    const [a = -1, b = -1] = this.at;
    return this.named.byTopology || isCable(this.standing.places, a, b);
  }

  get members(): readonly Attachment[] {
    return (this.membersMade ??= Array.from(this.at, (n) => this.standing.places.attachment(n)));
  }

  get subnets(): readonly Ipv4Prefix[] {
    return (this.subnetsMade ??= subnetsOf(this.standing.places, this.at));
  }

  get byTopology(): boolean {
    return this.named.byTopology;
  }

  get carrierLossSeen(): boolean {
    return this.named.carrierLossSeen;
  }

  get reach(): ReadonlySet<string> | undefined {
    return this.named.reach;
  }

  get lanNode(): string | undefined {
    return this.named.lanNode;
  }
}

/** All segments of a design as numbers; readable ones are made when somebody asks. */
class FoundSegments implements Segments {
  private listMade: readonly Segment[] | undefined;
  private ofMade: readonly (readonly number[])[] | undefined;

  constructor(
    private readonly standing: Standing,
    /** By place. */
    private readonly segmentOf: Int32Array,
    readonly count: number,
    private readonly topo: Joined,
  ) {}

  get list(): readonly Segment[] {
    return (this.listMade ??= Array.from({ length: this.count }, (_, n) => new FoundSegment(n, this.standing, this.topo)));
  }

  get of(): readonly (readonly number[])[] {
    const { places } = this.standing;
    return (this.ofMade ??= places.design.routers.map((r, router) => r.interfaces.map((_, iface) => this.at(router, iface))));
  }

  at(router: number, iface: number): number {
    const place = this.standing.places.placeOf(router, iface);
    return place < 0 ? -1 : (this.segmentOf[place] ?? -1);
  }

  reachOf(segment: number): ReadonlySet<string> | undefined {
    return this.topo.linked.size === 0 ? undefined : this.list[segment]?.reach;
  }
}

/** True when one of two members has a subnet with room for two, or is a point-to-point end. */
const isCable = (places: Places, a: number, b: number): boolean =>
  hasRoomForTwo(places.interfaceOf(a)) ||
  hasRoomForTwo(places.interfaceOf(b)) ||
  pointToPointWritten(places.routerOf(a), places.interfaceOf(a)?.name) ||
  pointToPointWritten(places.routerOf(b), places.interfaceOf(b)?.name);

const hasRoomForTwo = (i: Interface | undefined): boolean =>
  (i?.addresses.some((a) => a.length === 30 || a.length === 31) ?? false) ||
  (i?.addresses6.some((a) => a.length === 126 || a.length === 127) ?? false);
