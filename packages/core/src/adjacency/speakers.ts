import { ActiveWalk } from '../design/activation';
import type { InterfaceDefaults, Origin } from '../design/defaults';
import { type Area, type Design, type Interface, type NetworkType, type OspfInstance, type OspfInterface, type Router } from '../design/design';
import { routerIdOf, type RouterIdSource } from '../design/router-id';
import { interfaceUp, placeKey, type Outage } from '../failures/outage';
import { routesSix } from '../design/family';
import { hostLength, type Address } from '../prefix/address';
import type { Ipv4 } from '../prefix/ipv4';
import type { Segments } from '../segments/segments';

/** One OSPF process that runs: a router of the design with one of its instances. */
export interface Speaker {
  readonly index: number;
  readonly router: Router;
  readonly routerIndex: number;
  readonly instance: OspfInstance;
  readonly routerId: Ipv4;
  readonly routerIdSource: RouterIdSource;
  readonly ports: readonly Port[];
}

/** One interface of a speaker that takes part in OSPF (RFC 2328 §9). There are thousands: what can be looked up is not kept. */
export class Port {
  constructor(
    readonly index: number,
    readonly speaker: number,
    readonly routerIndex: number,
    readonly ifaceIndex: number,
    readonly routerId: Ipv4,
    readonly iface: Interface,
    readonly settings: OspfInterface,
    readonly area: Area,
    readonly byRule: number | undefined,
    /** On, carried and enabled in OSPF. */
    readonly up: boolean,
    /** Up, but nothing passes: a cut that the carrier does not show. */
    readonly severed: boolean,
    /** Output cost, 1 to 65,535; a loopback may cost 0. */
    readonly cost: number,
    readonly costFrom: Origin | 'reference-bandwidth',
    readonly segment: number,
  ) {}

  /** Hellos of version 3 come from a link-local address (RFC 5340 §2.5). */
  get six(): boolean {
    return this.iface.linkLocal !== undefined;
  }

  /** Where hellos come from: the first address, in version 3 the link-local one; `undefined` when unnumbered. */
  get helloFrom(): Address | undefined {
    return this.iface.linkLocal?.address ?? this.address;
  }

  /** The first address of its own; `undefined` when unnumbered. */
  get address(): Address | undefined {
    return this.iface.addresses[0]?.bits;
  }

  get length(): number {
    return this.iface.addresses[0]?.length ?? hostLength(this.address ?? 0);
  }

  get type(): NetworkType {
    return this.settings.type;
  }

  get loopback(): boolean {
    return this.iface.kind === 'loopback';
  }

  /** The same port as a failure leaves it. */
  standing(up: boolean, severed: boolean): Port {
    const { index, speaker, routerIndex, ifaceIndex, routerId, iface, settings, area, byRule, cost, costFrom, segment } = this;
    return new Port(index, speaker, routerIndex, ifaceIndex, routerId, iface, settings, area, byRule, up, severed, cost, costFrom, segment);
  }
}

/** Cost by the reference bandwidth, where that decides; `undefined` otherwise. */
function autoCost(instance: OspfInstance, iface: Interface): number | undefined {
  if (iface.kind === 'loopback' || !instance.autoCost || iface.bandwidthMbps === undefined) return undefined;
  return Math.min(Math.max(Math.floor(instance.referenceBandwidth / iface.bandwidthMbps), 1), 65_535);
}

/** Output cost of an interface: written, from the reference bandwidth, or the profile's or standard default (10, a loopback 0). */
const costOf = (instance: OspfInstance, iface: Interface, settings: OspfInterface, plain: InterfaceDefaults): number =>
  settings.cost ?? autoCost(instance, iface) ?? plain.cost;

/** Where that cost comes from. */
function costOrigin(instance: OspfInstance, iface: Interface, settings: OspfInterface, plain: InterfaceDefaults): Port['costFrom'] {
  if (settings.cost !== undefined) return 'written';
  if (autoCost(instance, iface) !== undefined) return 'reference-bandwidth';
  return plain.given.has('cost') ? 'profile' : 'standard';
}

/** Whether a process routes the family that a design is looked at for. */
export const runsIn = (design: Pick<Design, 'family'>, instance: OspfInstance): boolean =>
  design.family === 6 ? routesSix(instance) : instance.version === 2;

/** All processes and their interfaces, as the outage leaves them. Routers that are down take no part. */
export function speakersOf(design: Design, segments: Segments, outage: Outage): { speakers: Speaker[]; ports: Port[] } {
  const speakers: Speaker[] = [];
  const ports: Port[] = [];
  for (let routerIndex = 0; routerIndex < design.routers.length; routerIndex++) {
    if (outage.routers.has(routerIndex)) continue;
    for (const s of speakersIn(design, segments, outage, routerIndex, speakers.length, ports.length)) {
      speakers.push(s);
      for (let i = 0; i < s.ports.length; i++) {
        const p = s.ports[i];
        if (p) ports.push(p);
      }
    }
  }
  return { speakers, ports };
}

/** The processes of one router. @param speaker, port  the numbers that its first process and its first interface get */
export function speakersIn(design: Design, segments: Segments, outage: Outage, routerIndex: number, speaker: number, port: number): Speaker[] {
  const router = design.routers[routerIndex];
  const speakers: Speaker[] = [];
  let next = port;
  if (!router) return speakers;
  const { instances } = router;
  for (let k = 0; k < instances.length; k++) {
    const instance = instances[k];
    if (!instance?.enabled || !runsIn(design, instance)) continue;
    const id = routerIdOf(router, instance);
    if (!id) continue;
    const index = speaker + speakers.length;
    const first = next;
    // As long as the list, and no longer: there are thousands of these.
    const own = new Array<Port>(router.interfaces.length);
    let n = 0;
    const walk = new ActiveWalk(router, instance);
    while (walk.next()) {
      const { iface, settings, area, index: ifaceIndex } = walk;
      if (!iface || !settings || !area) continue;
      const able = settings.enabled && (iface.addresses.length > 0 || iface.unnumbered);
      const plain = router.defaults.interfaces[iface.kind];
      own[n] = new Port(
        first + n++,
        index,
        routerIndex,
        ifaceIndex,
        id.id,
        iface,
        settings,
        area,
        walk.byRule,
        able && interfaceUp(design, outage, routerIndex, ifaceIndex),
        outage.severed.size > 0 && outage.severed.has(placeKey(routerIndex, ifaceIndex)),
        costOf(instance, iface, settings, plain),
        costOrigin(instance, iface, settings, plain),
        segments.at(routerIndex, ifaceIndex),
      );
    }
    if (n < own.length) own.length = n;
    next += n;
    const made = { index, router, routerIndex, instance, routerId: id.id, routerIdSource: id.source, ports: own };
    // Most have one, and a list as long as that.
    if (instances.length === 1) return [made];
    speakers.push(made);
  }
  return speakers;
}

/** True when the network type elects a designated router (RFC 2328 §9.1, RFC 6845 for `hybrid`). */
export const elects = (t: NetworkType): boolean => t === 'broadcast' || t === 'non-broadcast' || t === 'hybrid';

/** Unnumbered: no address of its own, or one that repeats a host address. In version 3 every link is, whatever prefixes it has. */
export const isUnnumbered = (p: Port): boolean => p.six || p.address === undefined || (p.length === 32 && !p.loopback);

/** The address hellos come from: the port's own, or when unnumbered the router id's stand-in. */
export function helloAddress(p: Port, speaker: Speaker): Address {
  const own = p.helloFrom;
  if (own !== undefined) return own;
  for (const i of speaker.router.interfaces) if (i.kind === 'loopback' && i.addresses[0]) return i.addresses[0].bits;
  return speaker.routerId;
}
