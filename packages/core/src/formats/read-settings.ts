import { networkTypes, type Interface, type NetworkType } from '../design/design';
import { standardDefaults, type Defaults, type InterfaceDefaults, type TimerDefaults } from '../design/defaults';
import {
  circumstances,
  failureKinds,
  type Circumstance,
  type Acceptance,
  type AddressGroup,
  type End,
  type GroupMember,
  type AlikeGroup,
  type Demand,
  type MapPlace,
  type Expectation,
  poolPurposes,
  type Pool,
  type Profile,
  type Scenario,
  type Settings,
} from '../design/settings';
import { areaKinds, neighborStates, routeTypes } from '../design/terms';
import { Cursor, type LeafType, type ReadContext } from '../documents/cursor';
import { formatAddress, isSix } from '../prefix/address';
import { addressNumber, anyText, areaId, flag, integer, moment, nameText, oneOf, prefixNumber, typedPrefixNumber } from '../documents/leaf-types';

const seconds = integer(1, 65_535);
const metric24 = integer(0, 0xff_fffe);
const metricType = oneOf(['type-1', 'type-2']);
const kinds = ['loopback', 'ethernet', 'other'] as const satisfies readonly Interface['kind'][];

function readInterfaceDefaults(c: Cursor, plain: InterfaceDefaults): InterfaceDefaults {
  const given = new Set([...c.written()].filter((m) => m !== 'kind'));
  return {
    type: c.leaf('interface-type', oneOf(networkTypes)) ?? plain.type,
    cost: c.leaf('cost', integer(0, 65_535)) ?? plain.cost,
    priority: c.leaf('priority', integer(0, 255)) ?? plain.priority,
    mtu: c.leaf('mtu', integer(68, 65_535)) ?? plain.mtu,
    mtuIgnore: c.leaf('mtu-ignore', flag) ?? plain.mtuIgnore,
    prefixSuppression: c.leaf('prefix-suppression', flag) ?? plain.prefixSuppression,
    loopbackAs: c.leaf('loopback-as', oneOf(['host', 'subnet'])) ?? plain.loopbackAs,
    given,
  };
}

/** Defaults of a profile over the standards (the design's `profile` list). */
function readDefaults(c: Cursor, name: string): Defaults {
  const standard = standardDefaults;
  const interfaces: Record<Interface['kind'], InterfaceDefaults> = { ...standard.interfaces };
  for (const i of c.list('interface', 'kind')) {
    const kind = i.leaf('kind', oneOf(kinds));
    if (kind) interfaces[kind] = readInterfaceDefaults(i, standard.interfaces[kind]);
  }
  const timers: Record<NetworkType, TimerDefaults> = { ...standard.timers };
  for (const t of c.list('timers', 'interface-type')) {
    const type = t.leaf('interface-type', oneOf(networkTypes));
    const hello = t.leaf('hello-interval', seconds);
    const dead = t.leaf('dead-interval', seconds);
    const given = new Set([...t.written()].filter((m) => m !== 'interface-type'));
    if (type) timers[type] = { hello: hello ?? standard.timers[type].hello, dead, given };
  }
  const o = c.child('ospf');
  const p = c.child('preference');
  const r = c.child('redistribution');
  const d = c.child('default-route');
  const plain = standard.process;
  return {
    profile: name,
    interfaces,
    timers,
    process: {
      routerIdRule: o?.leaf('router-id-rule', oneOf(['highest-loopback', 'lowest-loopback'])) ?? plain.routerIdRule,
      autoCost: o?.leaf('auto-cost', flag) ?? plain.autoCost,
      referenceBandwidth: o?.leaf('reference-bandwidth', integer(1, 4_294_967)) ?? plain.referenceBandwidth,
      paths: o?.leaf('paths', integer(1, 65_535)) ?? plain.paths,
      activationOrder: o?.leaf('activation-order', oneOf(['first-match', 'longest-match'])) ?? plain.activationOrder,
      rfc1583Compatible: o?.leaf('rfc1583-compatible', flag) ?? plain.rfc1583Compatible,
      rangeCost: o?.leaf('range-cost', oneOf(['largest', 'smallest'])) ?? plain.rangeCost,
      borderModel: o?.leaf('border-model', oneOf(['rfc3509', 'rfc2328'])) ?? plain.borderModel,
      countsEmptyAreas: o?.leaf('counts-empty-areas', flag) ?? plain.countsEmptyAreas,
    },
    areaDefaultCost: o?.leaf('default-cost', metric24) ?? standard.areaDefaultCost,
    redistribution: {
      metric: r?.leaf('metric', metric24) ?? standard.redistribution.metric,
      metricType: r?.leaf('metric-type', metricType) ?? standard.redistribution.metricType,
      defaultToo: r?.leaf('default-too', flag) ?? standard.redistribution.defaultToo,
    },
    defaultRoute: {
      metric: d?.leaf('metric', metric24) ?? standard.defaultRoute.metric,
      metricType: d?.leaf('metric-type', metricType) ?? standard.defaultRoute.metricType,
    },
    preference: {
      direct: p?.leaf('direct', integer(0, 255)) ?? standard.preference.direct,
      static: p?.leaf('static', integer(0, 255)) ?? standard.preference.static,
      ospf: p?.leaf('ospf', integer(0, 255)) ?? standard.preference.ospf,
      other: p?.leaf('other', integer(0, 255)) ?? standard.preference.other,
    },
    given: new Set([
      ...(o?.written() ?? []),
      ...[...(r?.written() ?? [])].map((m) => `redistribution/${m}`),
      ...[...(d?.written() ?? [])].map((m) => `default-route/${m}`),
      ...[...(p?.written() ?? [])].map((m) => `preference/${m}`),
    ]),
  };
}

const expectationKinds = [
  'reach',
  'no-reach',
  'path',
  'route',
  'table',
  'area',
  'no-external',
  'summary',
  'leader',
  'neighbours',
  'advertisements',
  'session',
] as const;

/** When an expectation is to hold. */
const circumstance: LeafType<Circumstance> = {
  read: (value) => {
    if (typeof value !== 'string') return undefined;
    const known = circumstances.find((x) => x === value);
    const kind = failureKinds.find((k) => value.startsWith(`${k}:`) && value.length > k.length + 1);
    return known ?? (kind && `${kind}:${value.slice(kind.length + 1)}`);
  },
  expected: `${circumstances.join(', ')}, or one failure such as link:kelp-1/fibre, router:kelp-1 or group:duct`,
};

/** An interface of a router, `ROUTER/IFACE`. */
const attachment: LeafType<{ router: string; iface: string }> = {
  read: (value) => {
    const slash = typeof value === 'string' ? value.indexOf('/') : -1;
    return typeof value === 'string' && slash > 0 && slash < value.length - 1
      ? { router: value.slice(0, slash), iface: value.slice(slash + 1) }
      : undefined;
  },
  expected: 'a router and its interface, such as harbour-exit/world',
};

/** IPv4 or IPv6, by its number. */
const families: LeafType<4 | 6> = {
  read: (value) => (value === 4 || value === '4' ? 4 : value === 6 || value === '6' ? 6 : undefined),
  expected: '4 or 6',
};

/** One end: an address, or a name. What looks like an address and is none is no name. */
export const end: LeafType<End> = {
  read: (value) => {
    const address = addressNumber.read(value);
    if (address !== undefined || typeof value !== 'string') return address;
    return /^[\d.]*$|[:/]/.test(value) ? undefined : nameText.read(value);
  },
  expected: 'an address such as 10.96.0.1 or 2001:db8:40::1, or the name of a router or of a group',
};

/** One failure, as it is typed. */
const failureText: LeafType<string> = {
  read: (value) => {
    const known = circumstance.read(value);
    return known?.includes(':') ? known : undefined;
  },
  expected: 'a failure such as link:kelp-1/fibre, router:kelp-1, lan:kelp-1/hall, leader:kelp-1/hall or group:duct',
};

/** Traffic in Mbit/s. */
export const mbpsNumber: LeafType<number> = {
  read: (value) => {
    const n = typeof value === 'string' && /^\d{1,10}(\.\d{1,6})?$/.test(value) ? Number(value) : value;
    return typeof n === 'number' && n >= 0 && n <= 1e9 ? n : undefined;
  },
  expected: 'Mbit/s, from 0 to 1,000,000,000',
};

/** Who belongs to a group. */
const groupMember: LeafType<GroupMember> = {
  read: (value) => {
    if (typeof value !== 'string') return undefined;
    const address = addressNumber.read(value);
    if (address !== undefined) return { kind: 'address', address };
    const prefix = value.includes('/') ? prefixNumber.read(value) : undefined;
    if (prefix) return { kind: 'prefix', prefix: { bits: prefix.bits, length: prefix.length } };
    const [, id] = /^area (.+)$/.exec(value) ?? [];
    const area = id === undefined ? undefined : areaId.read(id);
    if (area !== undefined) return { kind: 'area', area };
    return /^[\d.]*$|[:/\s]/.test(value) ? undefined : { kind: 'routers', pattern: value };
  },
  expected: 'an address, a prefix, a host name with * for any part of it, or an area as in "area 20"',
};

/** Whether two ends are of two families, which no packet joins. */
function mixes(c: Cursor, from: End, to: End): boolean {
  if (typeof from === 'string' || typeof to === 'string' || isSix(from) === isSix(to)) return false;
  c.problem(
    'to',
    `${formatAddress(from)} and ${formatAddress(to)} are of two families.`,
    'Write two addresses of one family; until then it is not checked.',
  );
  return true;
}

function readExpectation(c: Cursor, file: string): Expectation | undefined {
  const name = c.leaf('name', nameText);
  const kind = c.leaf('kind', oneOf(expectationKinds));
  const under = c.leaf('under', circumstance) ?? 'normal';
  c.known('note');
  const asked = c.leaf('family', families);
  /** A leaf that this kind cannot do without. */
  const need = <T>(leaf: string, value: T | undefined): T | undefined => {
    if (value === undefined && !c.writes(leaf))
      c.problem(leaf, `An expectation of kind "${kind ?? ''}" needs "${leaf}".`, `Add "${leaf}"; until then it is not checked.`);
    return value;
  };
  if (name === undefined || kind === undefined) {
    if (!c.writes('name')) c.problem('name', 'This expectation has no name.', 'Give it one; reports name it so.');
    if (!c.writes('kind'))
      c.problem('kind', 'This expectation does not say what it expects.', `Write "kind": one of ${expectationKinds.join(', ')}.`);
    return undefined;
  }
  const base = { name, file, at: c.at, under, ...(asked === undefined ? {} : { family: asked }) };
  switch (kind) {
    case 'reach':
    case 'no-reach': {
      const from = need('from', c.leaf('from', end));
      const to = need('to', c.leaf('to', end));
      const bothWays = c.leaf('both-ways', flag) ?? kind === 'reach';
      const withinMs = c.leaf('within-ms', integer(0, 3_600_000));
      const leavesBy = kind === 'reach' ? c.leaf('leaves-by', attachment) : undefined;
      return from === undefined || to === undefined || mixes(c, from, to) ? undefined : { ...base, kind, from, to, bothWays, withinMs, leavesBy };
    }
    case 'path': {
      const from = need('from', c.leaf('from', end));
      const to = need('to', c.leaf('to', end));
      const through = c.leafList('through', nameText) ?? [];
      const avoids = c.leafList('avoids', nameText) ?? [];
      const atMostHops = c.leaf('at-most-hops', integer(0, 255));
      const atMostCost = c.leaf('at-most-cost', integer(0, 0xff_ffff));
      const symmetric = c.leaf('symmetric', flag) ?? false;
      return from === undefined || to === undefined || mixes(c, from, to)
        ? undefined
        : { ...base, kind, from, to, through, avoids, atMostHops, atMostCost, symmetric };
    }
    case 'table': {
      const router = need('router', c.leaf('router', nameText));
      const atMost = need('at-most', c.leaf('at-most', integer(0, 10_000_000)));
      return router === undefined || atMost === undefined ? undefined : { ...base, kind, router, atMost };
    }
    case 'area': {
      const area = need('area', c.leaf('area', areaId));
      const type = need('type', c.leaf('type', oneOf(areaKinds)));
      return area === undefined || type === undefined ? undefined : { ...base, kind, area, type };
    }
    case 'session': {
      const from = need('from', c.leaf('from', nameText));
      const to = need('to', c.leaf('to', nameText));
      const withinMs = c.leaf('within-ms', integer(0, 3_600_000));
      return from === undefined || to === undefined ? undefined : { ...base, kind, from, to, withinMs };
    }
    case 'leader': {
      const router = need('router', c.leaf('router', nameText));
      const iface = need('interface', c.leaf('interface', nameText));
      const role = c.leaf('role', oneOf(['dr', 'bdr'])) ?? 'dr';
      return router === undefined || iface === undefined ? undefined : { ...base, kind, router, iface, role };
    }
    case 'no-external': {
      const area = need('area', c.leaf('area', areaId));
      return area === undefined ? undefined : { ...base, kind, area };
    }
    case 'summary': {
      const prefix = need('prefix', c.leaf('prefix', prefixNumber));
      return prefix && { ...base, kind, prefix: { bits: prefix.bits, length: prefix.length } };
    }
    case 'neighbours': {
      const router = need('router', c.leaf('router', nameText));
      const count = need('count', c.leaf('count', integer(0, 100_000)));
      const state = c.leaf('state', oneOf(neighborStates)) ?? 'full';
      return router === undefined || count === undefined ? undefined : { ...base, kind, router, count, state };
    }
    case 'advertisements': {
      const area = need('area', c.leaf('area', areaId));
      const type = need('type', c.leaf('type', integer(1, 7)));
      const atMost = need('at-most', c.leaf('at-most', integer(0, 1_000_000)));
      return area === undefined || type === undefined || atMost === undefined ? undefined : { ...base, kind, area, type, atMost };
    }
    case 'route': {
      const router = need('router', c.leaf('router', nameText));
      const prefix = need('prefix', c.leaf('prefix', prefixNumber));
      const rest = { present: c.leaf('present', flag) ?? true, via: c.leaf('via', nameText), routeType: c.leaf('route-type', oneOf(routeTypes)) };
      return router === undefined || !prefix ? undefined : { ...base, kind, router, prefix: { bits: prefix.bits, length: prefix.length }, ...rest };
    }
  }
}

/** The groups of addresses that stand under a node. */
function readGroupList(c: Cursor, file: string): AddressGroup[] {
  const groups: AddressGroup[] = [];
  for (const g of c.list('group', 'name')) {
    const name = g.leaf('name', nameText);
    const members = g.leafList('members', groupMember) ?? [];
    g.known('note');
    if (name === undefined) g.problem('name', 'This group has no name.', 'Give it one; expectations name it so.');
    else if (groups.some((x) => x.name === name))
      g.problem('name', `The group "${name}" is written twice.`, 'Give each its own name; the first is taken.');
    else groups.push({ file, at: g.at, name, members });
  }
  return groups;
}

/** Failures that are kept by name. */
function readScenarios(c: Cursor, file: string): Scenario[] {
  const out: Scenario[] = [];
  for (const s of c.list('scenario', 'name')) {
    const name = s.leaf('name', nameText);
    const fail = s.leafList('fail', failureText) ?? [];
    const note = s.leaf('note', anyText) ?? '';
    if (name === undefined) s.problem('name', 'This scenario has no name.', 'Give it one; it is found by it.');
    else if (out.some((x) => x.name === name))
      s.problem('name', `The scenario "${name}" is written twice.`, 'Give each its own name; the first is taken.');
    else out.push({ file, at: s.at, name, fail, note });
  }
  return out;
}

/** Traffic that is to be carried. */
function readDemands(c: Cursor, file: string): Demand[] {
  const out: Demand[] = [];
  for (const d of c.list('demand', 'from')) {
    const [from, to, mbps] = [d.leaf('from', end), d.leaf('to', end), d.leaf('mbps', mbpsNumber)];
    d.known('note');
    for (const leaf of ['from', 'to', 'mbps'])
      if (!d.writes(leaf))
        d.problem(leaf, `This demand does not say "${leaf}".`, 'A demand has "from", "to" and "mbps"; until then it is not carried.');
    if (from !== undefined && to !== undefined && mbps !== undefined && !mixes(d, from, to)) out.push({ file, at: d.at, from, to, mbps });
  }
  return out;
}

/** Reads groups of addresses from a file of their own: `{ "group": [...] }`, or a settings document. */
export function readGroups(tree: Record<string, unknown>, context: ReadContext): readonly AddressGroup[] {
  const root = Cursor.root(context, tree);
  return readGroupList(root.child('settings') ?? root, context.file);
}

/**
 * Reads the settings of a design: profiles, routers meant to be alike, expectations, accepted findings, notes
 * (the module `gentle-compass`, container `settings`). Several documents may share them: they are joined.
 */
export function readSettings(tree: Record<string, unknown>, context: ReadContext): Settings {
  const root = Cursor.root(context, tree);
  const c = root.child('settings');
  const profiles: Profile[] = [];
  const alike: AlikeGroup[] = [];
  const groups = c ? readGroupList(c, context.file) : [];
  const expectations: Expectation[] = [];
  const accepted: Acceptance[] = [];
  c?.known('note', 'timing-profile', 'blueprint');
  for (const p of c?.list('profile', 'name') ?? []) {
    const name = p.leaf('name', nameText);
    const routers = p.leafList('router', nameText) ?? [];
    p.known('note');
    const defaults = readDefaults(p, name ?? '');
    if (name !== undefined) profiles.push({ file: context.file, at: p.at, name, routers, defaults });
  }
  for (const g of c?.list('alike', 'name') ?? []) {
    const name = g.leaf('name', nameText);
    const routers = g.leafList('router', nameText) ?? [];
    g.known('note');
    if (name !== undefined) alike.push({ file: context.file, at: g.at, name, routers });
  }
  for (const e of c?.list('expectation', 'name') ?? []) {
    const one = readExpectation(e, context.file);
    if (!one) continue;
    if (expectations.some((x) => x.name === one.name))
      e.problem('name', `The expectation "${one.name}" is written twice.`, 'Give each its own name; both are checked.');
    expectations.push(one);
  }
  for (const a of c?.list('accepted', 'finding') ?? []) {
    const finding = a.leaf('finding', anyText);
    const evidence = a.leaf('evidence', anyText);
    const note = a.leaf('note', anyText) ?? '';
    if (finding !== undefined && evidence !== undefined) accepted.push({ finding, evidence, note });
    else if (!a.writes('finding') || !a.writes('evidence'))
      a.problem(
        '',
        'This acceptance does not name its finding and the digest of its evidence.',
        'Take both from the finding as `check --format json` prints it.',
      );
  }
  const pools: Pool[] = [];
  for (const p of c?.list('pool', 'prefix') ?? []) {
    const prefix = p.leaf('prefix', typedPrefixNumber);
    const purpose = p.leaf('purpose', oneOf(poolPurposes));
    const area = p.leaf('area', areaId);
    p.known('note');
    if (prefix && purpose) pools.push({ file: context.file, at: p.at, purpose, prefix: { bits: prefix.bits, length: prefix.length }, area });
    else if (!p.writes('prefix') || !p.writes('purpose'))
      p.problem('', 'This pool does not say its prefix and what it is for.', `Write "prefix" and "purpose": one of ${poolPurposes.join(', ')}.`);
  }
  const places: MapPlace[] = [];
  for (const m of c?.child('map')?.list('place', 'name') ?? []) {
    const name = m.leaf('name', nameText);
    const [x, y] = [m.leaf('x', integer(-1_000_000, 1_000_000)), m.leaf('y', integer(-1_000_000, 1_000_000))];
    const folded = m.leaf('folded', flag) ?? false;
    if (name !== undefined && x !== undefined && y !== undefined) places.push({ name, x, y, folded });
    else if (!m.writes('name') || !m.writes('x') || !m.writes('y'))
      m.problem('', 'This place on the map does not say whose it is and where.', 'Write "name", "x" and "y"; without them the map places it itself.');
  }
  const scenarios = c ? readScenarios(c, context.file) : [];
  const demands = c ? readDemands(c, context.file) : [];
  const now = c?.leaf('now', moment);
  root.finish();
  return { profiles, alike, groups, expectations, accepted, pools, places, scenarios, demands, now };
}

/** Joins the settings of several documents. */
export const joinSettings = (a: Settings, b: Settings): Settings => ({
  profiles: [...a.profiles, ...b.profiles],
  alike: [...a.alike, ...b.alike],
  groups: [...a.groups, ...b.groups.filter((g) => !a.groups.some((x) => x.name === g.name))],
  expectations: [...a.expectations, ...b.expectations],
  accepted: [...a.accepted, ...b.accepted],
  pools: [...a.pools, ...b.pools],
  places: [...a.places, ...b.places],
  scenarios: [...a.scenarios, ...b.scenarios.filter((s) => !a.scenarios.some((x) => x.name === s.name))],
  demands: [...a.demands, ...b.demands],
  now: a.now ?? b.now,
});
