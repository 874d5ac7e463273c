import type { Ipv4 } from '../prefix/ipv4';
import type { DocumentPath } from '../documents/document-path';
import type { Address, Prefix } from '../prefix/address';
import type { Ipv6 } from '../prefix/ipv6';
import type { Ipv6Prefix } from '../prefix/prefix-book';
import type { AreaType, InterfaceKind, MetricType, NetworkType, ProcessChoices } from './terms';
import type { Defaults } from './defaults';
import type { PolicyBook } from './policy';
import type { Settings } from './settings';

export type { DocumentPath } from '../documents/document-path';
export { areaTypes, backbone, networkTypes } from './terms';
export type { AreaType, MetricType, NetworkType } from './terms';

/** An address on an interface; `bits` keeps its host bits. */
export interface InterfaceAddress {
  readonly bits: Address;
  readonly length: number;
  /** IPv6: number of the prefix that it is on. */
  readonly prefix?: number;
}
export interface InterfaceAddress6 {
  readonly bits: Ipv6;
  readonly length: number;
}

/** The link-local address of an interface, written or derived. */
export interface LinkLocal {
  readonly address: Address;
  readonly derived: boolean;
}

export interface Interface {
  readonly at: DocumentPath;
  readonly name: string;
  /** 1-based place in its document: stands for the interface index of an unnumbered link (RFC 2328 §12.4.1.1). */
  readonly index: number;
  readonly kind: InterfaceKind;
  readonly enabled: boolean;
  readonly mtu: number;
  readonly addresses: readonly InterfaceAddress[];
  readonly addresses6: readonly InterfaceAddress6[];
  /** IPv4 is on without an address: unnumbered. */
  readonly unnumbered: boolean;
  /** IPv6 is on (RFC 8344): with addresses, or with a link-local one alone. */
  readonly six: boolean;
  /** MTU for IPv6, where it is another one. */
  readonly mtu6: number | undefined;
  /** Only in what OSPFv3 looks at (`familyView`): the address that hellos come from and next hops are. */
  readonly linkLocal: LinkLocal | undefined;
  readonly bandwidthMbps: number | undefined;
  /** Names of the interfaces that carry this virtual one; up only while one of them is. */
  readonly carriedBy: readonly string[] | undefined;
  /** Bound to another routing table: takes no part. */
  readonly boundTo: string | undefined;
  /** Leaves that the document wrote, and those that the router's profile gives. */
  readonly written: ReadonlySet<string>;
  readonly given: ReadonlySet<string>;
}

/** What an interface proves itself with (RFC 2328 appendix D, RFC 5709, RFC 8177). */
export interface AuthenticationKey {
  readonly id: number;
  /** `none` is clear text (RFC 2328 D.2). */
  readonly algorithm: string;
  /** The key itself, or a salted digest of it; compared, never shown. */
  readonly secret: string;
  readonly send: Lifetime;
  readonly accept: Lifetime;
}
/** When a key may be used (RFC 8177 `lifetime`), in ms since 1970: without a bound always. `until` is the first moment after it. */
export interface Lifetime {
  readonly from?: number;
  readonly until?: number;
}
export interface Authentication {
  readonly required: boolean;
  readonly keys: readonly AuthenticationKey[];
  /** Name of the chain the keys came from. */
  readonly chain?: string;
  /** What is used of keys with lifetimes at the moment of the design; without lifetimes all are. */
  readonly inUse?: { readonly send: AuthenticationKey | undefined; readonly accept: readonly AuthenticationKey[] };
}

export interface StaticNeighbor {
  readonly address: Address;
  readonly priority: number;
  readonly cost: number | undefined;
  /** Seconds between hellos to a neighbour that is down (RFC 2328 C.5). */
  readonly poll: number;
}

/** How a BFD session is asked for (RFC 5880 §6.8.1): intervals in microseconds. */
export interface BfdTimers {
  readonly multiplier: number;
  readonly send: number;
  readonly receive: number;
}

/** OSPF on one interface: RFC 2328 §9 and appendix C.3. Intervals in seconds. */
export interface OspfInterface {
  readonly at: DocumentPath;
  readonly name: string;
  readonly type: NetworkType;
  readonly passive: boolean;
  readonly enabled: boolean;
  readonly priority: number;
  /** `undefined`: taken from the reference bandwidth or the default. */
  readonly cost: number | undefined;
  readonly mtuIgnore: boolean;
  readonly prefixSuppression: boolean;
  readonly hello: number;
  readonly dead: number;
  readonly retransmit: number;
  readonly transmitDelay: number;
  readonly staticNeighbors: readonly StaticNeighbor[];
  readonly authentication: Authentication;
  /** Which of several addresses are advertised; `undefined`: all. */
  readonly advertise: readonly Prefix[] | undefined;
  readonly loopbackAs: 'host' | 'subnet';
  readonly bfd: boolean;
  readonly bfdTimers: BfdTimers;
  /** Version 3: which of several processes on one link a packet is for (RFC 5340 §2.4). */
  readonly instanceId: number;
  /** Leaves that the document wrote, and those that the router's profile gives; everything else is a standard's. */
  readonly written: ReadonlySet<string>;
  readonly given: ReadonlySet<string>;
}

export interface AreaRange {
  readonly prefix: Prefix;
  readonly advertise: boolean;
  readonly cost: number | undefined;
}

export interface VirtualLink {
  readonly transitArea: number;
  readonly routerId: Ipv4;
  readonly hello: number;
  readonly dead: number;
  readonly authentication: Authentication;
}

/** An area as one router sees it. `id` is a 32-bit number. */
export interface Area {
  readonly at: DocumentPath;
  readonly id: number;
  /** Text for people; empty: it has none. */
  readonly name: string;
  readonly type: AreaType;
  /** False in a stub area or NSSA: no type 3 but the default. */
  readonly summary: boolean;
  readonly defaultCost: number;
  readonly ranges: readonly AreaRange[];
  readonly virtualLinks: readonly VirtualLink[];
  readonly interfaces: readonly OspfInterface[];
  readonly summaryIn: readonly string[];
  readonly summaryOut: readonly string[];
  readonly translatorAlways: boolean;
  readonly nssaDefault: boolean;
  readonly nssaDefaultType: MetricType;
  readonly written: ReadonlySet<string>;
  readonly given: ReadonlySet<string>;
}

export interface ActivationRule {
  readonly match:
    { readonly kind: 'prefix'; readonly prefix: Prefix } | { readonly kind: 'name'; readonly pattern: string } | { readonly kind: 'any' };
  readonly areaId: number;
  readonly passive: boolean;
}

export interface Redistribution {
  readonly source: 'static' | 'direct' | 'other';
  readonly metric: number;
  readonly metricType: MetricType;
  readonly tag: number;
  readonly policies: readonly string[];
  /** A default route is taken like any other; else only where a policy names it. */
  readonly defaultToo: boolean;
  readonly written: ReadonlySet<string>;
}
export interface OtherRoute {
  readonly prefix: Prefix;
  readonly nextHop: Address | undefined;
  readonly preference: number;
  /** Host name of the router that hands it over; without one it is simply there. */
  readonly learntFrom: string | undefined;
  /** What decides whether it is handed over, by the line of that router's table; none: it always is. */
  readonly policies: readonly string[];
}
export interface DefaultRoute {
  readonly announce: 'always' | 'if-present';
  readonly metric: number;
  readonly metricType: MetricType;
  readonly written: ReadonlySet<string>;
}
export interface ExternalRange {
  readonly prefix: Prefix;
  readonly advertise: boolean;
  readonly metric: number | undefined;
  readonly metricType: MetricType | undefined;
  readonly tag: number;
}

/**
 * How long a router waits before it calculates, in ms: by RFC 8405's states, by a first delay and a hold that doubles while
 * changes keep coming, or always the same.
 */
export type SpfSchedule =
  | {
      readonly kind: 'back-off';
      readonly initial: number;
      readonly short: number;
      readonly long: number;
      readonly holdDown: number;
      readonly timeToLearn: number;
    }
  | { readonly kind: 'doubling'; readonly first: number; readonly hold: number; readonly maximum: number }
  | { readonly kind: 'fixed'; readonly delay: number };

/** What the processes of both versions of the protocol have in common: `ospf` of RFC 9129. */
export interface OspfProcess extends ProcessChoices {
  readonly at: DocumentPath;
  readonly name: string;
  readonly enabled: boolean;
  readonly explicitRouterId: Ipv4 | undefined;
  readonly preference: { readonly intra: number; readonly inter: number; readonly external: number };
  readonly stubRouter: boolean;
  readonly spfSchedule: SpfSchedule;
  readonly areas: readonly Area[];
  readonly activation: readonly ActivationRule[];
  readonly redistribution: readonly Redistribution[];
  readonly otherRoutes: readonly OtherRoute[];
  readonly defaultRoute: DefaultRoute | undefined;
  readonly externalRanges: readonly ExternalRange[];
  readonly ribPolicy: readonly string[];
  readonly written: ReadonlySet<string>;
  readonly given: ReadonlySet<string>;
}

/** A process of OSPFv2 (RFC 2328). */
export interface Ospfv2Instance extends OspfProcess {
  readonly version: 2;
}

/** A process of OSPFv3 (RFC 5340). */
export interface Ospfv3Instance extends OspfProcess {
  readonly version: 3;
  /** What it routes (RFC 5838); IPv6 where nothing is written. */
  readonly addressFamily: 'ipv4' | 'ipv6';
}

/** One OSPF process of one router: what both versions have, and what one of them has alone. */
export type OspfInstance = Ospfv2Instance | Ospfv3Instance;

/** A static route of one family (RFC 8349). */
interface StaticRouteOf<Prefix, Address> {
  readonly prefix: Prefix;
  readonly nextHops: readonly { readonly address: Address | undefined; readonly iface: string | undefined }[];
  /** Sends to nowhere: always valid, drops what it takes. */
  readonly discard: boolean;
  readonly preference: number;
}
export type StaticRoute = StaticRouteOf<Prefix, Address>;
export type StaticRoute6 = StaticRouteOf<Ipv6Prefix, Ipv6>;

/** What one router document says. */
export interface Router {
  readonly name: string;
  readonly file: string;
  /** What holds here while the document does not say otherwise: the router's profile over the standards. */
  readonly defaults: Defaults;
  readonly interfaces: readonly Interface[];
  readonly staticRoutes: readonly StaticRoute[];
  readonly staticRoutes6: readonly StaticRoute6[];
  /** `routing/router-id` of RFC 8349: used where the instance gives none of its own. */
  readonly routerId: Ipv4 | undefined;
  readonly instances: readonly OspfInstance[];
  readonly policies: PolicyBook;
  /** Only in what OSPFv3 looks at (`familyView`): the router as its document says it, with its IPv4 addresses. */
  readonly asWritten?: Router;
}

/** A physical link of RFC 8345 between two points; a node without a router document is a LAN. */
export interface TopologyLink {
  readonly id: string;
  readonly from: { readonly node: string; readonly point: string };
  readonly to: { readonly node: string; readonly point: string };
  readonly carrierLossSeen: boolean;
}
export interface RiskGroup {
  readonly name: string;
  /** Failure words, as in `link:kelp-1/to-kelp-2`. */
  readonly members: readonly string[];
}
export interface Topology {
  readonly links: readonly TopologyLink[];
  readonly riskGroups: readonly RiskGroup[];
}

/** Everything that the computation reads. Routers are in the order of their host names. */
export interface Design {
  readonly routers: readonly Router[];
  readonly topology: Topology;
  readonly settings: Settings;
  /** 6: what OSPFv3 looks at (`familyView`). */
  readonly family?: 6;
  /** Moment at which key lifetimes are judged, in ms since 1970; only where there are any. */
  readonly now?: number;
}
