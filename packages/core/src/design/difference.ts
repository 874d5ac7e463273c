import type { PolicyBook } from './policy';
import type {
  Area,
  DefaultRoute,
  Design,
  ExternalRange,
  Interface,
  OspfInstance,
  OspfInterface,
  OspfProcess,
  Ospfv2Instance,
  Ospfv3Instance,
  Redistribution,
  Router,
} from './design';

/**
 * How far a difference between two versions of something reaches: nowhere (`shown`: where it stands, what was written);
 * the router's own hellos, links, summaries and table (`own`); or further, so that everything is to be computed (`whole`).
 */
export const reaches = ['same', 'shown', 'own', 'whole'] as const;
export type Reach = (typeof reaches)[number];

const further = (a: Reach, b: Reach): Reach => (reaches.indexOf(a) >= reaches.indexOf(b) ? a : b);

/** What a difference of one member means; a function looks into the two that hold it. */
type Judgement<T> = Exclude<Reach, 'same'> | ((was: T, is: T) => Reach);

/** A judgement for every member of a type: one that is added later does not compile before somebody has judged it. */
type Judgements<T> = { readonly [K in keyof T]-?: Judgement<T> };

/** Equal in everything that can be told apart: numbers of any size, lists, sets, maps and plain objects. */
export function equal(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a)) return Array.isArray(b) && a.length === b.length && a.every((x, i) => equal(x, b[i]));
  if (a instanceof Set) return b instanceof Set && a.size === b.size && [...a].every((x) => b.has(x));
  if (a instanceof Map) return b instanceof Map && a.size === b.size && [...a].every(([k, x]) => b.has(k) && equal(x, b.get(k)));
  const keys = Object.keys(a);
  if (keys.length !== Object.keys(b).length) return false;
  return keys.every((k) => k in b && equal((a as Record<string, unknown>)[k], (b as Record<string, unknown>)[k]));
}

/** How far the difference of two versions reaches, member by member. */
function between<T extends object>(judgements: Judgements<T>, was: T, is: T): Reach {
  if (was === is) return 'same';
  let out: Reach = 'same';
  for (const k of Object.keys(judgements) as (keyof T)[]) {
    if (was[k] === is[k]) continue;
    const j = judgements[k];
    if (typeof j === 'function') out = further(out, j(was, is));
    else if (reaches.indexOf(j) > reaches.indexOf(out) && !equal(was[k], is[k])) out = j;
    if (out === 'whole') return out;
  }
  return out;
}

const by =
  <T extends object>(judgements: Judgements<T>) =>
  (was: T, is: T): Reach =>
    between(judgements, was, is);

/** Lists entry by entry; where an entry came or went the order of everything moves. */
function eachOf<P, T extends object>(judge: (was: T, is: T) => Reach, of: (parent: P) => readonly T[]): (was: P, is: P) => Reach {
  return (was, is) => {
    const [a, b] = [of(was), of(is)];
    if (a.length !== b.length) return 'whole';
    return a.reduce<Reach>((reach, x, i) => {
      const y = b[i];
      return reach === 'whole' || !y ? 'whole' : further(reach, judge(x, y));
    }, 'same');
  };
}

const ofInterface: Judgements<Interface> = {
  at: 'shown',
  name: 'whole',
  index: 'whole',
  kind: 'whole',
  enabled: 'whole',
  mtu: 'own',
  addresses: 'whole',
  addresses6: 'whole',
  unnumbered: 'whole',
  six: 'whole',
  mtu6: 'whole',
  linkLocal: 'whole',
  bandwidthMbps: 'own',
  carriedBy: 'whole',
  boundTo: 'whole',
  written: 'shown',
  given: 'shown',
};

const ofOspfInterface: Judgements<OspfInterface> = {
  at: 'shown',
  name: 'own',
  // Of two members on a wire a point-to-point one makes a cable (`findSegments`).
  type: 'whole',
  passive: 'own',
  enabled: 'own',
  priority: 'own',
  cost: 'own',
  mtuIgnore: 'own',
  prefixSuppression: 'own',
  hello: 'own',
  dead: 'own',
  retransmit: 'shown',
  transmitDelay: 'shown',
  bfdTimers: 'shown',
  staticNeighbors: 'own',
  authentication: 'own',
  // Prefixes that OSPF advertises itself are not redistributed again.
  advertise: 'whole',
  loopbackAs: 'own',
  bfd: 'shown',
  instanceId: 'own',
  written: 'shown',
  given: 'shown',
};

const ofArea: Judgements<Area> = {
  at: 'shown',
  id: 'whole',
  name: 'shown',
  type: 'whole',
  summary: 'own',
  // The type 7 default of an NSSA is one of the externals.
  defaultCost: (was, is) => (was.defaultCost === is.defaultCost ? 'same' : was.type === 'nssa' ? 'whole' : 'own'),
  ranges: 'own',
  virtualLinks: 'whole',
  interfaces: eachOf(by(ofOspfInterface), (a) => a.interfaces),
  summaryIn: 'own',
  summaryOut: 'own',
  translatorAlways: 'whole',
  nssaDefault: 'whole',
  nssaDefaultType: 'whole',
  written: 'shown',
  given: 'shown',
};

const ofRedistribution: Judgements<Redistribution> = {
  source: 'whole',
  metric: 'whole',
  metricType: 'whole',
  tag: 'whole',
  policies: 'whole',
  defaultToo: 'whole',
  written: 'shown',
};

const ofDefaultRoute: Judgements<DefaultRoute> = { announce: 'whole', metric: 'whole', metricType: 'whole', written: 'shown' };

const ofExternalRange: Judgements<ExternalRange> = { prefix: 'whole', advertise: 'whole', metric: 'whole', metricType: 'whole', tag: 'whole' };

const ofProcess: Judgements<OspfProcess> = {
  at: 'shown',
  name: 'whole',
  enabled: 'whole',
  explicitRouterId: 'whole',
  routerIdRule: 'own',
  preference: 'whole',
  autoCost: 'own',
  referenceBandwidth: 'own',
  paths: 'own',
  stubRouter: 'own',
  spfSchedule: 'shown',
  areas: eachOf(by(ofArea), (o) => o.areas),
  activation: 'own',
  activationOrder: 'own',
  redistribution: eachOf(by(ofRedistribution), (o) => o.redistribution),
  otherRoutes: 'whole',
  defaultRoute: (was, is) =>
    was.defaultRoute && is.defaultRoute
      ? between(ofDefaultRoute, was.defaultRoute, is.defaultRoute)
      : was.defaultRoute === is.defaultRoute
        ? 'same'
        : 'whole',
  externalRanges: eachOf(by(ofExternalRange), (o) => o.externalRanges),
  ribPolicy: 'own',
  rfc1583Compatible: 'whole',
  rangeCost: 'own',
  borderModel: 'whole',
  countsEmptyAreas: 'whole',
  written: 'shown',
  given: 'shown',
};

/** What one version of the protocol has alone. */
const ofVersion2: Judgements<Omit<Ospfv2Instance, keyof OspfProcess>> = { version: 'whole' };
const ofVersion3: Judgements<Omit<Ospfv3Instance, keyof OspfProcess>> = { version: 'whole', addressFamily: 'whole' };

function instanceDifference(was: OspfInstance, is: OspfInstance): Reach {
  const own =
    was.version === 2 && is.version === 2
      ? between(ofVersion2, was, is)
      : was.version === 3 && is.version === 3
        ? between(ofVersion3, was, is)
        : 'whole';
  return further(own, between<OspfProcess>(ofProcess, was, is));
}

const ofPolicies: Judgements<PolicyBook> = { sets: 'whole', definitions: 'whole' };

const ofRouter: Judgements<Router> = {
  name: 'whole',
  file: 'shown',
  // What a profile gives stands in the values that are read with it; areas that rules make are made of it later.
  defaults: 'own',
  interfaces: eachOf(by(ofInterface), (r) => r.interfaces),
  staticRoutes: 'whole',
  staticRoutes6: 'whole',
  routerId: 'whole',
  instances: eachOf(instanceDifference, (r) => r.instances),
  policies: (was, is) => between(ofPolicies, was.policies, is.policies),
  // What else the document says decides over this family where it decides who shares a wire.
  asWritten: (was, is) =>
    was.asWritten === is.asWritten || !was.asWritten || !is.asWritten
      ? 'same'
      : routerDifference(was.asWritten, is.asWritten) === 'whole'
        ? 'whole'
        : 'shown',
};

/** How far the difference of two versions of a router reaches. */
export const routerDifference = (was: Router, is: Router): Reach => between(ofRouter, was, is);

/** Two designs side by side: everything is to be computed, or these routers are other ones in themselves. */
export type DesignDifference = { readonly reach: 'whole' } | { readonly reach: 'own'; readonly routers: readonly number[] };

/**
 * How far the difference of two designs reaches. Settings decide over no prediction but by the values that they give routers.
 *
 * @returns  indexes of routers that are not the same object, where none of their differences reaches further than themselves
 */
export function designDifference(was: Design, is: Design): DesignDifference {
  const whole = { reach: 'whole' } as const;
  if (was.routers.length !== is.routers.length || !equal(was.topology, is.topology)) return whole;
  const routers: number[] = [];
  for (const [i, r] of was.routers.entries()) {
    const now = is.routers[i];
    if (now === r) continue;
    if (!now || routerDifference(r, now) === 'whole') return whole;
    routers.push(i);
  }
  return { reach: 'own', routers };
}
