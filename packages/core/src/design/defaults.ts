import type { InterfaceKind, MetricType, NetworkType, ProcessChoices } from './terms';

/** Where a value comes from: the router document, the profile that the router follows, or a standard (else our assumption). */
export type Origin = 'written' | 'profile' | 'standard';

/** What holds on one kind of interface while nothing is written. `given`: leaves that a profile names. */
export interface InterfaceDefaults {
  readonly type: NetworkType;
  readonly cost: number;
  readonly priority: number;
  /** Octets. */
  readonly mtu: number;
  readonly mtuIgnore: boolean;
  readonly prefixSuppression: boolean;
  readonly loopbackAs: 'host' | 'subnet';
  readonly given: ReadonlySet<string>;
}

/** Hello and dead interval in seconds; without `dead` it is four times the hello interval. */
export interface TimerDefaults {
  readonly hello: number;
  readonly dead: number | undefined;
  readonly given: ReadonlySet<string>;
}

/** Everything that holds in a router while its document does not say otherwise. */
export interface Defaults {
  /** Name of the profile; `undefined`: the standards and our assumptions alone. */
  readonly profile: string | undefined;
  readonly interfaces: Readonly<Record<InterfaceKind, InterfaceDefaults>>;
  readonly timers: Readonly<Record<NetworkType, TimerDefaults>>;
  readonly process: ProcessChoices;
  readonly areaDefaultCost: number;
  readonly redistribution: { readonly metric: number; readonly metricType: MetricType; readonly defaultToo: boolean };
  readonly defaultRoute: { readonly metric: number; readonly metricType: MetricType };
  readonly preference: { readonly direct: number; readonly static: number; readonly ospf: number; readonly other: number };
  /** Leaves of the process, of areas and of preferences that the profile names. */
  readonly given: ReadonlySet<string>;
}

const none: ReadonlySet<string> = new Set();

const plainInterface: InterfaceDefaults = {
  type: 'broadcast',
  cost: 10,
  priority: 1,
  mtu: 1500,
  mtuIgnore: false,
  prefixSuppression: false,
  loopbackAs: 'host',
  given: none,
};
const ten: TimerDefaults = { hello: 10, dead: undefined, given: none };
const thirty: TimerDefaults = { ...ten, hello: 30 };

/** RFC 2328 C.3 and C.5, RFC 9129, and where they leave it open our own assumptions. */
export const standardDefaults: Defaults = {
  profile: undefined,
  interfaces: { loopback: { ...plainInterface, cost: 0 }, ethernet: plainInterface, other: plainInterface },
  timers: { broadcast: ten, 'point-to-point': ten, hybrid: ten, 'non-broadcast': thirty, 'point-to-multipoint': thirty },
  process: {
    routerIdRule: 'highest-loopback',
    autoCost: false,
    referenceBandwidth: 100,
    paths: 16,
    activationOrder: 'first-match',
    rfc1583Compatible: false,
    rangeCost: 'largest',
    borderModel: 'rfc3509',
    countsEmptyAreas: true,
  },
  areaDefaultCost: 1,
  redistribution: { metric: 20, metricType: 'type-2', defaultToo: false },
  defaultRoute: { metric: 10, metricType: 'type-2' },
  preference: { direct: 0, static: 1, ospf: 110, other: 120 },
  given: none,
};

/** The dead interval that goes with a hello interval, in seconds (RFC 2328 C.3: four times, within 16 bits). */
export const deadFor = (hello: number): number => Math.min(4 * hello, 65_535);

/** Origin of a leaf, from what the document wrote and what the profile gives. */
export const originOf = (leaf: string, written: ReadonlySet<string>, given: ReadonlySet<string>): Origin =>
  written.has(leaf) ? 'written' : given.has(leaf) ? 'profile' : 'standard';

/** Leaves that a profile gives on an interface: those of its kind and of its timers. */
export function givenTo(kind: ReadonlySet<string>, timers: ReadonlySet<string>): ReadonlySet<string> {
  if (timers.size === 0) return kind;
  if (kind.size === 0) return timers;
  return new Set([...kind, ...timers]);
}
