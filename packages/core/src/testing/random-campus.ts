import fc from 'fast-check';
import { campus, type Campus } from './campus';

/** A random network in plain words: what the reference computes from, and the documents are built from. */
export interface Plan {
  readonly routers: readonly { readonly name: string; readonly id: string; readonly home: number }[];
  readonly cables: readonly {
    readonly a: number;
    readonly b: number;
    readonly area: number;
    readonly there: number;
    readonly back: number;
    readonly net: string;
  }[];
  readonly lans: readonly {
    readonly area: number;
    readonly net: string;
    readonly type: 'broadcast' | 'point-to-multipoint';
    readonly members: readonly { readonly router: number; readonly cost: number }[];
  }[];
  readonly users: readonly { readonly router: number; readonly area: number; readonly net: string; readonly cost: number }[];
  readonly externals: readonly { readonly router: number; readonly prefix: string; readonly metric: number; readonly type: 1 | 2 }[];
  readonly ranges: readonly {
    readonly router: number;
    readonly area: number;
    readonly prefix: string;
    readonly advertise: boolean;
    readonly cost: number | undefined;
  }[];
  readonly areas: readonly { readonly id: number; readonly type: 'normal' | 'stub' | 'totally'; readonly defaultCost: number }[];
}

interface Seeds {
  readonly core: number;
  readonly areas: readonly {
    readonly type: 'normal' | 'stub' | 'totally';
    readonly borders: number;
    readonly inside: number;
    readonly defaultCost: number;
  }[];
  readonly numbers: readonly number[];
}

/** A stream of numbers that repeats itself: shrinking the seeds shrinks the network. */
function stream(numbers: readonly number[]): (below: number) => number {
  let i = 0;
  return (below) => (numbers[i++ % numbers.length] ?? 0) % below;
}

function planOf(s: Seeds): Plan {
  const next = stream(s.numbers);
  const routers: { name: string; id: string; home: number }[] = [];
  const cables: Plan['cables'][number][] = [];
  const lans: Plan['lans'][number][] = [];
  const users: Plan['users'][number][] = [];
  const add = (name: string, home: number): number => routers.push({ name, home, id: `10.96.${home}.${routers.length + 1}` }) - 1;
  const cost = (): number => 1 + next(12);
  const link = (a: number, b: number, area: number): unknown => {
    const n = cables.length;
    return cables.push({ a, b, area, there: cost(), back: cost(), net: `10.97.${Math.floor(n / 64)}.${(n % 64) * 4}` });
  };
  /** Users behind a router; now and then on a network that is elsewhere too, in the same area or in another one. */
  const user = (router: number, area: number): void => {
    const net = next(6) === 0 ? users[next(Math.max(users.length, 1))]?.net : undefined;
    if (!users.some((u) => u.router === router && u.net === net))
      users.push({ router, area, net: net ?? `10.99.${users.length}.0/24`, cost: cost() });
  };
  /** A tree through the members, and some links more. */
  const join = (members: readonly number[], area: number): void => {
    members.slice(1).forEach((m, i) => link(members[next(i + 1)] ?? 0, m, area));
    for (let k = next(3); k > 0 && members.length > 1; k--) {
      const [a, b] = [members[next(members.length)] ?? 0, members[next(members.length)] ?? 0];
      if (a !== b) link(a, b, area);
    }
    if (members.length > 2 && next(2) === 1)
      lans.push({
        area,
        net: `10.98.${lans.length}.0/24`,
        type: next(3) === 0 ? 'point-to-multipoint' : 'broadcast',
        members: members.slice(0, 2 + next(members.length - 1)).map((router) => ({ router, cost: cost() })),
      });
  };
  const core = Array.from({ length: s.core }, (_, i) => add(`core-${i + 1}`, 0));
  const areas: Plan['areas'][number][] = [{ id: 0, type: 'normal', defaultCost: 1 }];
  const borders: number[] = [];
  s.areas.forEach((a, n) => {
    const id = n + 1;
    areas.push({ id, type: a.type, defaultCost: a.defaultCost });
    const own = Array.from({ length: a.borders }, (_, i) => add(`border-${id}-${i + 1}`, 0));
    borders.push(...own);
    const inside = Array.from({ length: a.inside }, (_, i) => add(`inside-${id}-${i + 1}`, id));
    join([...own, ...inside], id);
    for (const r of inside) if (next(2) === 1) user(r, id);
  });
  join([...core, ...borders], 0);
  for (const r of core) if (next(4) === 0) user(r, 0);
  const externals: Plan['externals'][number][] = [];
  for (let k = next(4); k > 0; k--) {
    const router = next(routers.length);
    const home = routers[router]?.home ?? 0;
    const prefix = `198.51.${100 + next(2)}.0/24`;
    if (areas[home]?.type === 'normal' && !externals.some((e) => e.router === router && e.prefix === prefix))
      externals.push({ router, prefix, metric: 5 + next(4), type: next(2) === 1 ? 1 : 2 });
  }
  const ranges: Plan['ranges'][number][] = [];
  for (const r of borders)
    for (const { id: area } of areas) {
      const inArea = cables.some((c) => c.area === area && (c.a === r || c.b === r));
      if (!inArea || next(3) > 0) continue;
      const prefix = ['10.99.0.0/21', `10.96.${area}.0/28`, '10.97.0.0/24'][next(3)] ?? '';
      ranges.push({ router: r, area, prefix, advertise: next(4) > 0, cost: next(2) === 1 ? 50 + next(9) : undefined });
    }
  return { routers, cables, lans, users, externals, ranges, areas };
}

/** Random multi-area networks: areas of several types, equal costs and unequal directions, LANs, externals from several exits. */
export const plans: fc.Arbitrary<Plan> = fc
  .record({
    core: fc.integer({ min: 1, max: 3 }),
    areas: fc.array(
      fc.record({
        type: fc.constantFrom('normal' as const, 'stub' as const, 'totally' as const),
        borders: fc.integer({ min: 1, max: 2 }),
        inside: fc.integer({ min: 1, max: 3 }),
        defaultCost: fc.integer({ min: 1, max: 9 }),
      }),
      { minLength: 1, maxLength: 3 },
    ),
    numbers: fc.array(fc.nat(1000), { minLength: 40, maxLength: 80 }),
  })
  .map(planOf);

/** The plan as router documents. External statics that share a metric and type share a redistribution by policy. */
export function campusOf(plan: Plan): Campus {
  const c = campus();
  plan.routers.forEach((r, n) => {
    const own = plan.externals.filter((e) => e.router === n);
    const statement = (e: Plan['externals'][number], i: number): object => ({
      name: `s${i}`,
      conditions: { 'match-prefix-set': { 'prefix-set': `p${i}` } },
      actions: { 'policy-result': 'accept-route', 'set-metric': { metric: e.metric }, 'set-metric-type': { 'metric-type': `type-${e.type}` } },
    });
    c.router(r.name, r.id, r.home, own.length > 0 ? { redistribution: [{ source: 'static', policy: ['out'] }] } : {});
    if (own.length === 0) return;
    c.document(r.name, {
      'ietf-routing-policy:routing-policy': {
        'defined-sets': {
          'prefix-sets': { 'prefix-set': own.map((e, i) => ({ name: `p${i}`, prefixes: { 'prefix-list': [{ 'ip-prefix': e.prefix }] } })) },
        },
        'policy-definitions': { 'policy-definition': [{ name: 'out', statements: { statement: own.map(statement) } }] },
      },
    });
    for (const e of own) c.static(r.name, e.prefix, 'blackhole');
  });
  const name = (r: number): string => plan.routers[r]?.name ?? '';
  plan.cables.forEach((l, n) => {
    const [a, b] = [l.net, l.net.replace(/\d+$/, (last) => String(Number(last) + 1))];
    c.port(name(l.a), `c${n}`, `${a}/31`, l.area, { 'interface-type': 'point-to-point', cost: l.there });
    c.port(name(l.b), `c${n}`, `${b}/31`, l.area, { 'interface-type': 'point-to-point', cost: l.back });
  });
  plan.lans.forEach((l, n) =>
    c.lan(
      `lan${n}`,
      l.net,
      l.area,
      l.members.map((m) => [name(m.router), { cost: m.cost }] as const),
      { 'interface-type': l.type },
    ),
  );
  plan.users.forEach((u, n) => c.port(name(u.router), `users${n}`, u.net.replace('.0/', '.1/'), u.area, { passive: true, cost: u.cost }));
  for (const x of plan.ranges)
    c.area(name(x.router), x.area, {
      ranges: { range: [{ prefix: x.prefix, advertise: x.advertise, ...(x.cost === undefined ? {} : { cost: x.cost }) }] },
    });
  for (const a of plan.areas)
    if (a.type !== 'normal')
      plan.routers.forEach((r, n) => {
        const inArea =
          r.home === a.id ||
          plan.cables.some((l) => l.area === a.id && (l.a === n || l.b === n)) ||
          plan.lans.some((l) => l.area === a.id && l.members.some((m) => m.router === n));
        if (inArea)
          c.area(r.name, a.id, { 'area-type': 'stub-area', 'default-cost': a.defaultCost, ...(a.type === 'totally' ? { summary: false } : {}) });
      });
  return c;
}
