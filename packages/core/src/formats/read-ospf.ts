import {
  areaTypes,
  backbone,
  networkTypes,
  type ActivationRule,
  type Area,
  type AreaRange,
  type BfdTimers,
  type DefaultRoute,
  type ExternalRange,
  type Interface,
  type OspfInstance,
  type OspfInterface,
  type OtherRoute,
  type Redistribution,
  type SpfSchedule,
  type StaticNeighbor,
  type VirtualLink,
} from '../design/design';
import { parseTypedPrefix } from '../prefix/ipv4';
import type { Address, Prefix } from '../prefix/address';
import type { Cursor, LeafType } from '../documents/cursor';
import {
  address6Number,
  anyText,
  areaId,
  flag,
  integer,
  ipv4,
  nameText,
  oneOf,
  prefix6Number,
  routerIdText,
  typedPrefix,
} from '../documents/leaf-types';
import { deadFor, givenTo, type Defaults } from '../design/defaults';
import { plainBfdTimers } from '../design/plain';
import { readAuthentication, type KeyChains } from './read-authentication';

/** What an OSPF process is read beside: the router's key chains, its interfaces, and what holds where nothing is written. */
export interface OspfSurroundings {
  readonly chains: KeyChains;
  readonly defaults: Defaults;
  readonly interfaces: readonly Interface[];
  /** Place of each interface by its name. */
  readonly places: ReadonlyMap<string, number>;
}

/** How the addresses of a version's family are read, as numbers. */
interface FamilyLeaves {
  readonly version: 2 | 3;
  readonly address: LeafType<Address>;
  readonly prefix: LeafType<Prefix>;
}
const leaves: Readonly<Record<2 | 3, FamilyLeaves>> = {
  2: { version: 2, address: ipv4, prefix: typedPrefix },
  3: { version: 3, address: address6Number, prefix: prefix6Number },
};

/** The same for one process. */
interface ProcessSurroundings extends OspfSurroundings {
  readonly leaves: FamilyLeaves;
}

const seconds = integer(1, 65_535);
const microseconds = integer(1, 0xffff_ffff);
const milliseconds = integer(0, 3_600_000);
const octet = integer(0, 255);
const cost16 = integer(1, 65_535);
/** Most lists are not written: one serves for them all. */
const nothing: readonly never[] = [];
const metric24 = integer(0, 0xff_fffe);
const metricType = oneOf(['type-1', 'type-2']);
const areaIdentities = ['stub-area', 'nssa-area', 'normal-area'] as const;

/** Leaves that take one word of a few; made once, since every interface asks for some. */
const words = {
  networkType: oneOf(networkTypes),
  loopbackAs: oneOf(['host', 'subnet']),
  areaIdentity: oneOf(areaIdentities),
  translatorRole: oneOf(['candidate', 'always']),
  importSource: oneOf(['static', 'direct', 'other']),
  announcement: oneOf(['always', 'if-present']),
  routerIdRule: oneOf(['highest-loopback', 'lowest-loopback']),
  activationOrder: oneOf(['first-match', 'longest-match']),
  rangeCost: oneOf(['largest', 'smallest']),
  borderModel: oneOf(['rfc3509', 'rfc2328']),
};

/** Entries of a list that could be read. */
function readEach<T>(list: readonly Cursor[], read: (c: Cursor) => T | undefined): readonly T[] {
  if (list.length === 0) return nothing;
  const items = list.map(read);
  return items.includes(undefined) ? items.filter((x): x is NonNullable<typeof x> => x !== undefined) : (items as T[]);
}
const bare = (p: { bits: number; length: number }): { bits: number; length: number } => ({ bits: p.bits, length: p.length });

function readStaticNeighbors(c: Cursor, { address: addresses }: FamilyLeaves): readonly StaticNeighbor[] {
  const list = c.child('static-neighbors')?.list('neighbor', 'identifier');
  if (!list) return nothing;
  const out: StaticNeighbor[] = [];
  for (const n of list) {
    const address = n.leaf('identifier', addresses);
    const priority = n.leaf('priority', octet) ?? 1;
    const cost = n.leaf('cost', cost16);
    const poll = n.leaf('poll-interval', seconds) ?? 120;
    if (address !== undefined) out.push({ address, priority, cost, poll });
  }
  return out;
}

function readBfdTimers(c: Cursor): BfdTimers {
  const both = c.leaf('min-interval', microseconds);
  return {
    multiplier: c.leaf('local-multiplier', integer(1, 255)) ?? plainBfdTimers.multiplier,
    send: c.leaf('desired-min-tx-interval', microseconds) ?? both ?? plainBfdTimers.send,
    receive: c.leaf('required-min-rx-interval', microseconds) ?? both ?? plainBfdTimers.receive,
  };
}

/** When a process calculates: `spf-schedule` of our own module, else RFC 8405 with its values or those of `ietf-spf-delay`. */
function readSpfSchedule(own: Cursor | undefined, standard: Cursor | undefined): SpfSchedule {
  const fixed = own?.leaf('fixed-delay', milliseconds);
  if (fixed !== undefined) {
    own?.known('first-delay', 'hold', 'maximum-hold');
    return { kind: 'fixed', delay: fixed };
  }
  const first = own?.leaf('first-delay', milliseconds);
  const hold = own?.leaf('hold', milliseconds);
  const maximum = own?.leaf('maximum-hold', milliseconds);
  const doubles = first !== undefined || hold !== undefined || maximum !== undefined;
  const leaf = (name: string, plain: number): number => standard?.leaf(name, milliseconds) ?? plain;
  const schedule: SpfSchedule = {
    kind: 'back-off',
    initial: leaf('initial-delay', 50),
    short: leaf('short-delay', 200),
    long: leaf('long-delay', 5000),
    holdDown: leaf('hold-down', 10_000),
    timeToLearn: leaf('time-to-learn', 500),
  };
  return doubles ? { kind: 'doubling', first: first ?? 0, hold: hold ?? 0, maximum: Math.max(maximum ?? 0, hold ?? 0) } : schedule;
}

function readInterface(c: Cursor, around: ProcessSurroundings, areaRequires: boolean | undefined): OspfInterface | undefined {
  const name = c.leaf('name', nameText);
  const place = around.places.get(name ?? '');
  const plain = around.defaults.interfaces[(place === undefined ? undefined : around.interfaces[place]?.kind) ?? 'ethernet'];
  const type = c.leaf('interface-type', words.networkType) ?? plain.type;
  const timers = around.defaults.timers[type];
  const hello = c.leaf('hello-interval', seconds);
  const bfd = c.child('bfd');
  const suppression = c.leaf('prefix-suppression', flag);
  const out: OspfInterface = {
    at: c.at,
    name: name ?? '',
    type,
    passive: c.leaf('passive', flag) ?? false,
    enabled: c.leaf('enabled', flag) ?? true,
    priority: c.leaf('priority', octet) ?? plain.priority,
    cost: c.leaf('cost', cost16),
    mtuIgnore: c.leaf('mtu-ignore', flag) ?? plain.mtuIgnore,
    prefixSuppression: suppression ?? plain.prefixSuppression,
    hello: hello ?? timers.hello,
    // A dead interval that a profile gives belongs to the hello interval it gives.
    dead: c.leaf('dead-interval', seconds) ?? (hello === undefined ? timers.dead : undefined) ?? deadFor(hello ?? timers.hello),
    retransmit: c.leaf('retransmit-interval', seconds) ?? 5,
    transmitDelay: c.leaf('transmit-delay', seconds) ?? 1,
    staticNeighbors: readStaticNeighbors(c, around.leaves),
    authentication: readAuthentication(c, around.chains, areaRequires, around.leaves.version),
    advertise: c.leafList('advertise', around.leaves.prefix)?.map(bare),
    loopbackAs: c.leaf('loopback-as', words.loopbackAs) ?? plain.loopbackAs,
    bfd: bfd?.leaf('enabled', flag) ?? false,
    bfdTimers: bfd ? readBfdTimers(bfd) : plainBfdTimers,
    instanceId: around.leaves.version === 3 ? (c.leaf('instance-id', octet) ?? 0) : 0,
    written: c.written(),
    given: givenTo(plain.given, timers.given),
  };
  return name === undefined ? undefined : out;
}

function readVirtualLink(
  c: Cursor,
  { chains, leaves: { version } }: ProcessSurroundings,
  areaRequires: boolean | undefined,
): VirtualLink | undefined {
  const transitArea = c.leaf('transit-area-id', areaId);
  const routerId = c.leaf('router-id', routerIdText);
  const hello = c.leaf('hello-interval', seconds) ?? 10;
  const dead = c.leaf('dead-interval', seconds) ?? 4 * hello;
  c.known('retransmit-interval', 'transmit-delay', 'enabled', 'lls', 'ttl-security', 'cost');
  const authentication = readAuthentication(c, chains, areaRequires, version);
  return transitArea === undefined || routerId === undefined ? undefined : { transitArea, routerId, hello, dead, authentication };
}

const areaTypeOf = { 'stub-area': 'stub', 'nssa-area': 'nssa', 'normal-area': 'normal' } as const satisfies Record<
  (typeof areaIdentities)[number],
  (typeof areaTypes)[number]
>;

function readRange(c: Cursor, { prefix: prefixes }: FamilyLeaves): AreaRange | undefined {
  const prefix = c.leaf('prefix', prefixes);
  const advertise = c.leaf('advertise', flag) ?? true;
  const cost = c.leaf('cost', metric24);
  return prefix && { prefix: bare(prefix), advertise, cost };
}

function readArea(c: Cursor, around: ProcessSurroundings): Area | undefined {
  const id = c.leaf('area-id', areaId);
  if (id === undefined) {
    if (!c.writes('area-id')) c.problem('area-id', 'This area has no id.', 'Give it an area-id such as 0.0.0.10.');
    return undefined;
  }
  const required = c.leaf('authentication-required', flag);
  const written = c.leaf('area-type', words.areaIdentity) ?? 'normal-area';
  let type = areaTypeOf[written];
  if (id === backbone && type !== 'normal') {
    c.problem(
      'area-type',
      'The backbone 0.0.0.0 cannot be a stub area or an NSSA (RFC 2328 §3.6).',
      'Remove area-type here, or correct the area id.',
    );
    type = 'normal';
  }
  const nssa = c.child('nssa');
  const virtual = c.child('virtual-links')?.list('virtual-link', 'router-id') ?? nothing;
  if (id !== backbone && virtual.length > 0)
    c.problem(
      'virtual-links',
      'A virtual link stands outside the backbone.',
      'Move it under area 0.0.0.0 and name this area as its transit-area-id.',
    );
  return {
    at: c.at,
    id,
    name: c.leaf('name', anyText) ?? '',
    type,
    summary: c.leaf('summary', flag) ?? true,
    defaultCost: c.leaf('default-cost', metric24) ?? around.defaults.areaDefaultCost,
    ranges: readEach(c.child('ranges')?.list('range', 'prefix') ?? nothing, (r) => readRange(r, around.leaves)),
    virtualLinks: id === backbone ? readEach(virtual, (l) => readVirtualLink(l, around, required)) : nothing,
    interfaces: readEach(c.child('interfaces')?.list('interface', 'name') ?? nothing, (i) => readInterface(i, around, required)),
    summaryIn: c.leafList('summary-in-policy', nameText) ?? nothing,
    summaryOut: c.leafList('summary-out-policy', nameText) ?? nothing,
    translatorAlways: nssa?.leaf('translator-role', words.translatorRole) === 'always',
    nssaDefault: nssa?.leaf('default-route', flag) ?? false,
    nssaDefaultType: nssa?.leaf('metric-type', metricType) ?? 'type-2',
    written: c.written(),
    given: around.defaults.given,
  };
}

function readMatch(text: string, { version }: FamilyLeaves): ActivationRule['match'] {
  if (text === 'any') return { kind: 'any' };
  const six = version === 3 && text.includes(':') ? prefix6Number.read(text) : undefined;
  const prefix = six ?? (version === 2 && /^[\d./ ]+$/.test(text) ? parseTypedPrefix(text) : undefined);
  return prefix ? { kind: 'prefix', prefix: bare(prefix) } : { kind: 'name', pattern: text };
}

function readActivation(c: Cursor, of: FamilyLeaves): ActivationRule[] {
  const out: ActivationRule[] = [];
  for (const r of c.list('activation', 'match')) {
    const match = r.leaf('match', nameText);
    const id = r.leaf('area-id', areaId);
    const passive = r.leaf('passive', flag) ?? false;
    if (match === undefined || id === undefined) continue;
    if (/^\d+(\.\d+){3}\s*[/ ]/.test(match) && !parseTypedPrefix(match))
      r.problem(
        'match',
        `"${match}" fits neither a prefix length, a mask nor an inverted mask.`,
        'Write it as 10.96.64.0/18; until then the rule matches nothing.',
      );
    else out.push({ match: readMatch(match, of), areaId: id, passive });
  }
  return out;
}

function readRedistribution(c: Cursor, plain: Defaults['redistribution']): Redistribution | undefined {
  const source = c.leaf('source', words.importSource);
  const rest = {
    metric: c.leaf('metric', metric24) ?? plain.metric,
    metricType: c.leaf('metric-type', metricType) ?? plain.metricType,
    tag: c.leaf('tag', areaId) ?? 0,
    policies: c.leafList('policy', nameText) ?? nothing,
    defaultToo: c.leaf('default-too', flag) ?? plain.defaultToo,
    written: c.written(),
  };
  return source && { source, ...rest };
}

function readOtherRoute(c: Cursor, plain: number, of: FamilyLeaves): OtherRoute | undefined {
  const prefix = c.leaf('prefix', of.prefix);
  const nextHop = c.leaf('next-hop', of.address);
  const preference = c.leaf('preference', octet) ?? plain;
  const learntFrom = c.leaf('learnt-from', nameText);
  const policies = c.leafList('policy', nameText) ?? nothing;
  c.known('note');
  return prefix && { prefix: bare(prefix), nextHop, preference, learntFrom, policies };
}

function readExternalRange(c: Cursor, of: FamilyLeaves): ExternalRange | undefined {
  const prefix = c.leaf('prefix', of.prefix);
  const rest = {
    advertise: c.leaf('advertise', flag) ?? true,
    metric: c.leaf('metric', metric24),
    metricType: c.leaf('metric-type', metricType),
    tag: c.leaf('tag', areaId) ?? 0,
  };
  return prefix && { prefix: bare(prefix), ...rest };
}

function readDefaultRoute(c: Cursor | undefined, plain: Defaults['defaultRoute']): DefaultRoute | undefined {
  if (!c) return undefined;
  return {
    announce: c.leaf('announce', words.announcement) ?? 'if-present',
    metric: c.leaf('metric', metric24) ?? plain.metric,
    metricType: c.leaf('metric-type', metricType) ?? plain.metricType,
    written: c.written(),
  };
}

function readPreference(c: Cursor | undefined, plain: number): OspfInstance['preference'] {
  const p = octet;
  const all = c?.leaf('all', p) ?? plain;
  const internal = c?.leaf('internal', p);
  return {
    intra: c?.leaf('intra-area', p) ?? internal ?? all,
    inter: c?.leaf('inter-area', p) ?? internal ?? all,
    external: c?.leaf('external', p) ?? all,
  };
}

/** Reads one OSPF process (RFC 9129 `ospf`), with the leaves of our own module. */
export function readOspf(protocol: Cursor, version: 2 | 3, beside: OspfSurroundings): OspfInstance | undefined {
  const around: ProcessSurroundings = { ...beside, leaves: leaves[version] };
  const { process: plain, ...defaults } = around.defaults;
  const name = protocol.leaf('name', nameText);
  const c = protocol.child('ospf');
  if (!c || name === undefined) return undefined;
  const cost = c.child('auto-cost');
  const spf = c.child('spf-control');
  const delays = spf?.child('ietf-spf-delay');
  const schedule = c.child('spf-schedule');
  c.known('database-control', 'graceful-restart', 'fast-reroute', 'node-tags');
  const stub = c.child('stub-router');
  stub?.known('always');
  const areas = readEach(c.child('areas')?.list('area', 'area-id') ?? nothing, (a) => readArea(a, around));
  reportDuplicates(c, areas, around.places);
  const policyList = c.writes('rib-policy') ? c.leafList('rib-policy', nameText) : undefined;
  const family = c.leaf('address-family', oneOf(['ipv4', 'ipv6', 'ipv4-unicast', 'ipv6-unicast']));
  const process = {
    at: c.at,
    name,
    enabled: c.leaf('enabled', flag) ?? c.leaf('enable', flag) ?? true,
    explicitRouterId: c.leaf('explicit-router-id', routerIdText),
    routerIdRule: c.leaf('router-id-rule', words.routerIdRule) ?? plain.routerIdRule,
    preference: readPreference(c.child('preference'), defaults.preference.ospf),
    autoCost: cost?.leaf('enabled', flag) ?? plain.autoCost,
    referenceBandwidth: cost?.leaf('reference-bandwidth', integer(1, 4_294_967)) ?? plain.referenceBandwidth,
    paths: spf?.leaf('paths', integer(1, 65_535)) ?? plain.paths,
    stubRouter: stub?.writes('always') ?? false,
    spfSchedule: readSpfSchedule(schedule, delays),
    areas,
    activation: readActivation(c, around.leaves),
    activationOrder: c.leaf('activation-order', words.activationOrder) ?? plain.activationOrder,
    redistribution: readEach(c.list('redistribution', 'source'), (r) => readRedistribution(r, defaults.redistribution)),
    otherRoutes: readEach(c.list('other-routes', 'prefix'), (r) => readOtherRoute(r, defaults.preference.other, around.leaves)),
    defaultRoute: readDefaultRoute(c.child('default-route'), defaults.defaultRoute),
    externalRanges: readEach(c.list('external-ranges', 'prefix'), (r) => readExternalRange(r, around.leaves)),
    ribPolicy: policyList ?? nothing,
    rfc1583Compatible: c.leaf('rfc1583-compatible', flag) ?? plain.rfc1583Compatible,
    rangeCost: c.leaf('range-cost', words.rangeCost) ?? plain.rangeCost,
    borderModel: c.leaf('border-model', words.borderModel) ?? plain.borderModel,
    countsEmptyAreas: c.leaf('counts-empty-areas', flag) ?? plain.countsEmptyAreas,
    written: c.writtenWith(cost, spf),
    given: defaults.given,
  };
  if (version === 2) return { ...process, version };
  return { ...process, version, addressFamily: family?.startsWith('ipv4') ? 'ipv4' : 'ipv6' };
}

/** An interface stands in one area only, and an area once. */
function reportDuplicates(c: Cursor, areas: readonly Area[], places: ReadonlyMap<string, number>): void {
  const areaSeen = new Set<number>();
  const seen = new Uint8Array(places.size);
  const others = new Set<string>();
  for (const a of areas) {
    if (areaSeen.has(a.id))
      c.problem('areas', `Area ${a.id} is written twice.`, 'Join the two entries; the first is used for the area, the interfaces of both are read.');
    areaSeen.add(a.id);
    for (const i of a.interfaces) {
      const place = places.get(i.name);
      if (place === undefined ? others.has(i.name) : seen[place] === 1)
        c.problem(
          `areas/area/interfaces/interface[name=${i.name}]`,
          `Interface "${i.name}" is written in two areas or twice in one.`,
          'Keep one of the entries; the first is used.',
        );
      else if (place === undefined) others.add(i.name);
      else seen[place] = 1;
    }
  }
}
