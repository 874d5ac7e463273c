import { formatAddress, formatPrefix } from '../prefix/address';
import { predict } from '../predict';
import { campus, databaseOf, linksOf, ribOf, routesOf, routeTo } from '../testing/campus';

const lan = { passive: true };
const importing = (more: object = {}): Record<string, unknown> => ({ redistribution: [{ source: 'static', ...more }] });

/** Two exits x and y on a ring with a. */
const exits = (x: object, y: object, ospf: Record<string, unknown> = {}) =>
  campus()
    .router('a', '10.96.0.1', 0, ospf)
    .router('x', '10.96.0.2', 0, { ...importing(x), ...ospf })
    .router('y', '10.96.0.3', 0, { ...importing(y), ...ospf })
    .cable('a', 'x', '10.96.1.0', 0, 10)
    .cable('a', 'y', '10.96.1.2', 0, 30)
    .static('x', '198.51.100.0/24', 'blackhole')
    .static('y', '198.51.100.0/24', 'blackhole');
const outside = '198.51.100.0/24';

describe('external routes (RFC 2328 §16.4)', () => {
  test('type 2: the smaller metric wins however far; a tie goes to the nearer exit', () => {
    expect(routeTo(exits({ metric: 20 }, { metric: 19 }).predict(), 'a', outside)).toBe('external-2 19+30 via to-y 10.96.1.3');
    expect(routeTo(exits({ metric: 20 }, { metric: 20 }).predict(), 'a', outside)).toBe('external-2 20+10 via to-x 10.96.1.1');
  });
  test('type 1 adds the way, and beats type 2; equal sums are used together', () => {
    expect(routeTo(exits({ metric: 20, 'metric-type': 'type-1' }, { metric: 1 }).predict(), 'a', outside)).toBe('external-1 30 via to-x 10.96.1.1');
    expect(routeTo(exits({ metric: 25, 'metric-type': 'type-1' }, { metric: 5, 'metric-type': 'type-1' }).predict(), 'a', outside)).toBe(
      'external-1 35 via to-x 10.96.1.1, to-y 10.96.1.3',
    );
  });
  test('a route inside the system beats every external; an own external is not learned back (§16.4 (2), (6) (a))', () => {
    const p = exits({}, {}).port('a', 'same', '198.51.100.1/24', 0, lan).predict();
    expect(routeTo(p, 'y', outside)).toBe('intra-area 40 via to-a 10.96.1.2');
    expect(ribOf(exits({ metric: 1 }, { metric: 9 }).predict(), 'y')).toContain(`${outside} static`);
  });
  test('a static next hop on a network in OSPF becomes the forwarding address, and traffic goes there directly (A.4.5)', () => {
    const p = campus()
      .router('a', '10.96.0.1', 0)
      .router('x', '10.96.0.2', 0, importing())
      .lan('reef', '10.97.1.0/24', 0, ['a', 'x'])
      .static('x', outside, '10.97.1.77')
      .predict();
    expect(routeTo(p, 'a', outside)).toBe('external-2 20+10 via reef 10.97.1.77');
  });
  test('a forwarding address that only an external covers is not used (§16.4 (3))', () => {
    const p = campus()
      .router('a', '10.96.0.1', 0)
      .router('x', '10.96.0.2', 0, importing())
      .cable('a', 'x', '10.96.1.0', 0)
      .port('x', 'reef', '10.97.1.1/24', 0, lan)
      .static('x', outside, '10.97.1.77');
    expect(routeTo(p.predict(), 'a', outside)).toBe('external-2 20+20 via to-x 10.96.1.1');
    const hidden = p.port('x', 'b2', '10.96.9.1/24', 0, lan).ospf('x', importing());
    expect(routeTo(hidden.predict(['interface:x/reef']), 'a', outside)).toBe('');
  });
  test('§16.4.1: an exit through an area of its own is preferred to a shorter one over the backbone, unless RFC 1583 rules', () => {
    const c = (compatible: boolean) =>
      campus()
        .router('a', '10.96.0.1', 0, { 'rfc1583-compatible': compatible })
        .router('x', '10.96.0.2', 0, { ...importing(), 'rfc1583-compatible': compatible })
        .cable('a', 'x', '10.96.1.0', 0, 5)
        .port('a', 'far', '10.96.1.2/31', 1, { 'interface-type': 'point-to-point', cost: 50 })
        .port('x', 'far', '10.96.1.3/31', 1, { 'interface-type': 'point-to-point', cost: 50 })
        .static('x', outside, 'blackhole');
    expect(routeTo(c(false).predict(), 'a', outside)).toBe('external-2 20+50 via far 10.96.1.3');
    expect(routeTo(c(true).predict(), 'a', outside)).toBe('external-2 20+5 via to-x 10.96.1.1');
  });
  test('with RFC 1583 compatibility cost alone decides how a boundary router is reached, and type 4 goes to the other areas', () => {
    // x stands in area 1 behind a and b; a reaches it inside at 50, and over b's type 4 in the backbone at 5 + 10.
    const c = (compatible: boolean) => {
      const o = { 'rfc1583-compatible': compatible };
      return campus()
        .router('a', '10.96.0.1', 0, o)
        .router('b', '10.96.0.2', 0, o)
        .router('x', '10.96.0.3', 1, { ...importing(), ...o })
        .router('i', '10.96.0.4', 1, o)
        .router('n', '10.96.0.5', 0, o)
        .cable('a', 'b', '10.96.1.0', 0, 5)
        .cable('a', 'n', '10.96.1.8', 0, 1)
        .cable('a', 'x', '10.96.1.2', 1, 50)
        .cable('b', 'x', '10.96.1.4', 1, 10)
        .cable('a', 'i', '10.96.1.6', 1, 1)
        .static('x', outside, 'blackhole')
        .predict();
    };
    const about = (p: ReturnType<typeof c>, name: string) => databaseOf(p, name, [4]);
    expect(about(c(false), 'n')).toEqual(['4 10.96.0.3 10.96.0.1 50', '4 10.96.0.3 10.96.0.2 10']);
    expect(about(c(false), 'i')).toEqual([]);
    expect(routeTo(c(false), 'a', outside)).toBe('external-2 20+50 via to-x 10.96.1.3');
    expect(about(c(true), 'n')).toEqual(['4 10.96.0.3 10.96.0.2 10']);
    expect(about(c(true), 'i')).toEqual(['4 10.96.0.3 10.96.0.1 15']);
    expect(routeTo(c(true), 'a', outside)).toBe('external-2 20+15 via to-b 10.96.1.1');
  });
  test('what is imported: policies decide, 0.0.0.0/0 only where it is named, direct prefixes not twice', () => {
    const policy = (lines: readonly object[], actions: object = {}) => ({
      'ietf-routing-policy:routing-policy': {
        'defined-sets': { 'prefix-sets': { 'prefix-set': [{ name: 'some', prefixes: { 'prefix-list': lines } }] } },
        'policy-definitions': {
          'policy-definition': [
            {
              name: 'in',
              statements: {
                statement: [
                  {
                    name: 's',
                    conditions: { 'match-prefix-set': { 'prefix-set': 'some' } },
                    actions: { 'policy-result': 'accept-route', ...actions },
                  },
                ],
              },
            },
          ],
        },
      },
    });
    const c = (p: Record<string, unknown>) =>
      campus()
        .router('a', '10.96.0.1', 0)
        .router('x', '10.96.0.2', 0, importing({ policy: ['in'] }))
        .cable('a', 'x', '10.96.1.0', 0)
        .document('x', p)
        .static('x', outside, 'blackhole')
        .static('x', '0.0.0.0/0', 'blackhole')
        .static('x', '192.0.2.0/24', 'blackhole')
        .predict();
    const got = (p: Record<string, unknown>) => databaseOf(c(p), 'a', [5]);
    expect(got(policy([{ 'ip-prefix': '0.0.0.0/0', 'mask-length-lower': 0, 'mask-length-upper': 32 }]))).toHaveLength(3);
    expect(got(policy([{ 'ip-prefix': '198.51.100.0/24' }], { 'set-metric': { metric: 77 }, 'set-tag': 9 }))).toEqual([
      '5 198.51.100.0 10.96.0.2 77',
    ]);
    expect(
      got(policy([{ 'ip-prefix': '128.0.0.0/1', 'mask-length-lower': 1, 'mask-length-upper': 32 }])).some((l) => l.startsWith('5 0.0.0.0')),
    ).toBe(false);
    const direct = campus()
      .router('x', '10.96.0.2', 0, { redistribution: [{ source: 'direct' }] })
      .port('x', 'in', '10.97.1.1/24', 0, lan)
      .port('x', 'out', '10.97.2.1/24', null)
      .predict();
    expect(databaseOf(direct, 'x', [5])).toEqual(['5 10.97.2.0 10.96.0.2 20']);
  });
  test('a default: always, or only while the table has one that is not from OSPF', () => {
    const c = (announce: string) =>
      campus()
        .router('a', '10.96.0.1', 0)
        .router('x', '10.96.0.2', 0, { 'default-route': { announce } })
        .cable('a', 'x', '10.96.1.0', 0)
        .port('x', 'out', '203.0.113.2/30', null)
        .static('x', '0.0.0.0/0', '203.0.113.1');
    expect(routeTo(c('if-present').predict(), 'a', '0.0.0.0/0')).toBe('external-2 10+10 via to-x 10.96.1.1');
    expect(routeTo(c('if-present').predict(['interface:x/out']), 'a', '0.0.0.0/0')).toBe('');
    expect(routeTo(c('always').predict(['interface:x/out']), 'a', '0.0.0.0/0')).not.toBe('');
    // It counts as a boundary router also while it has nothing to announce.
    const silent = c('if-present').predict(['interface:x/out']);
    expect(silent.adjacencies.speakers.filter((s) => silent.routing.isBoundaryRouter(s)).map((s) => s.router.name)).toEqual(['x']);
  });
  test('external ranges fold what a boundary router announces, at the dearest part', () => {
    const p = campus()
      .router('a', '10.96.0.1', 0)
      .router('x', '10.96.0.2', 0, { ...importing(), 'external-ranges': [{ prefix: '198.51.100.0/24', tag: 5 }] })
      .cable('a', 'x', '10.96.1.0', 0)
      .static('x', '198.51.100.0/26', 'blackhole')
      .static('x', '198.51.100.64/26', 'blackhole')
      .predict();
    expect(databaseOf(p, 'a', [5])).toEqual(['5 198.51.100.0 10.96.0.2 20']);
    expect(ribOf(p, 'x')).toContain('198.51.100.0/24 ospf-discard');
  });
  test('a route of another protocol that loses to OSPF is not imported; two that do so to each other come to rest', () => {
    const other = { 'other-routes': [{ prefix: outside, 'next-hop': '203.0.113.1', preference: 120 }], redistribution: [{ source: 'other' }] };
    const p = campus()
      .router('x', '10.96.0.2', 0, other)
      .router('y', '10.96.0.3', 0, { ...other, 'other-routes': [{ prefix: outside, 'next-hop': '203.0.113.5', preference: 120 }] })
      .cable('x', 'y', '10.96.1.0', 0)
      .port('x', 'out', '203.0.113.2/30', null)
      .port('y', 'out', '203.0.113.6/30', null)
      .predict();
    expect(p.routing.unsettled).toEqual([]);
    expect(databaseOf(p, 'x', [5])).toHaveLength(1);
    expect(ribOf(p, 'x')).toContain(`${outside} other`);
    expect(ribOf(p, 'y')).toContain(`${outside} ospf`);
  });
});

/** A not-so-stubby area 4 with border routers b and c, and the boundary router x inside. */
const nssa = (x: Record<string, unknown> = importing(), areaMore: Record<string, unknown> = {}) => {
  const c = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .router('x', '10.97.0.4', 4, x)
    .cable('a', 'b', '10.96.1.0', 0)
    .cable('a', 'c', '10.96.1.2', 0)
    .cable('b', 'x', '10.97.2.0', 4)
    .cable('c', 'x', '10.97.2.2', 4)
    .static('x', outside, 'blackhole');
  for (const r of ['b', 'c', 'x']) c.area(r, 4, { 'area-type': 'nssa-area', ...areaMore });
  return c;
};

describe('not-so-stubby areas (RFC 3101)', () => {
  test('type 7 inside with a forwarding address of its own; the larger router id translates (§2.3, §3.1)', () => {
    const p = nssa().predict();
    expect(routeTo(p, 'b', outside)).toBe('nssa-2 20+10 via to-x 10.97.2.1');
    expect(databaseOf(p, 'a', [5])).toEqual(['5 198.51.100.0 10.96.0.3 20']);
    // The translated forwarding address leads straight to x, by either border router.
    expect(routeTo(p, 'a', outside)).toBe('external-2 20+20 via to-b 10.96.1.1, to-c 10.96.1.3');
    expect(p.adjacencies.speakers.filter((s) => p.routing.isBoundaryRouter(s)).map((s) => s.router.name)).toEqual(['c', 'x']);
  });
  test('the other one takes over; a border router that always translates makes the candidate stand back', () => {
    expect(databaseOf(nssa().predict(['router:c']), 'a', [5])).toEqual(['5 198.51.100.0 10.96.0.2 20']);
    expect(
      databaseOf(
        nssa()
          .area('b', 4, { nssa: { 'translator-role': 'always' } })
          .predict(),
        'a',
        [5],
      ),
    ).toEqual(['5 198.51.100.0 10.96.0.2 20']);
    const both = nssa()
      .area('b', 4, { nssa: { 'translator-role': 'always' } })
      .area('c', 4, { nssa: { 'translator-role': 'always' } });
    expect(databaseOf(both.predict(), 'a', [5])).toHaveLength(2);
  });
  test('externals from outside do not come in; a type 7 default only where it is asked for (§2.7)', () => {
    const with7 = nssa()
      .area('c', 4, { 'default-cost': 3, nssa: { 'default-route': true } })
      .predict();
    expect(routeTo(with7, 'x', '0.0.0.0/0')).toBe('nssa-2 3+10 via to-c 10.97.2.2');
    expect(routeTo(with7, 'b', '0.0.0.0/0')).toBe('');
    const closed = nssa(importing(), { summary: false })
      .router('o', '10.96.0.9', 0, importing())
      .cable('a', 'o', '10.96.8.0', 0)
      .static('o', '203.0.113.0/24', 'blackhole')
      .predict();
    expect(
      routesOf(closed, 'x')
        .filter((r) => !r.includes('intra-area'))
        .map((r) => r.split(' ').slice(0, 2).join(' ')),
    ).toEqual(['0.0.0.0/0 inter-area']);
  });
  test('a boundary router that is also the border says type 5 outside and type 7 without the P bit inside (§2.4)', () => {
    const p = nssa({}).ospf('c', importing()).static('c', '192.0.2.0/24', 'blackhole').predict();
    expect(databaseOf(p, 'a', [5])).toEqual(['5 192.0.2.0 10.96.0.3 20']);
    expect(routeTo(p, 'x', '192.0.2.0/24')).toBe('nssa-2 20+10 via to-c 10.97.2.2');
    expect(databaseOf(p, 'b', [5])).toHaveLength(1);
  });
  test('a translator folds what it translates: a type 2 range costs one more than its dearest part (§3.2)', () => {
    const p = nssa()
      .static('x', '198.51.101.0/24', 'blackhole')
      .ospf('c', { 'external-ranges': [{ prefix: '198.51.100.0/23' }] })
      .predict();
    expect(databaseOf(p, 'a', [5])).toEqual(['5 198.51.100.0 10.96.0.3 21']);
  });
  test('of border routers that reach each other inside the NSSA one translates, also where the backbone is split: the other part goes without (§3.1)', () => {
    const p = nssa().router('z', '10.96.0.8', 0).cable('c', 'z', '10.96.8.0', 0).predict(['link:a/to-c']);
    expect(databaseOf(p, 'z', [5])).not.toEqual([]);
    expect(databaseOf(p, 'a', [5])).toEqual([]);
  });
  test('each half of an NSSA that is cut in two has a translator of its own (§3.1)', () => {
    const c = nssa()
      .router('y', '10.97.0.5', 4, importing())
      .cable('c', 'y', '10.97.2.4', 4)
      .static('y', '192.0.2.0/24', 'blackhole')
      .area('y', 4, { 'area-type': 'nssa-area' });
    expect(databaseOf(c.predict(['link:c/to-x']), 'a', [5])).toEqual(['5 192.0.2.0 10.96.0.3 20', '5 198.51.100.0 10.96.0.2 20']);
  });
  test('a border router whose last interface in the NSSA is down does not translate, and is no boundary router for it', () => {
    const p = nssa().predict(['link:c/to-x']);
    expect(databaseOf(p, 'a', [5])).toEqual(['5 198.51.100.0 10.96.0.2 20']);
    expect(p.adjacencies.speakers.filter((s) => p.routing.isBoundaryRouter(s)).map((s) => s.router.name)).toEqual(['b', 'x']);
    const c = p.adjacencies.speakers.find((s) => s.router.name === 'c');
    expect(c && [p.routing.isBorderRouter(c), p.routing.database(c, 0)?.routers.get(c.routerId)?.bits.e]).toEqual([true, false]);
  });
  test('type 4 is not written about a boundary router of an NSSA, nor into one', () => {
    const p = nssa().predict();
    expect(databaseOf(p, 'a', [4])).toEqual([]);
    expect(linksOf(p, 'x', 4).length).toBeGreaterThan(0);
  });
});

test('a route of another protocol whose next hop is a loopback that OSPF brings enters the table, and is announced', () => {
  const c = (nextHop: string) =>
    campus()
      .router('a', '10.96.0.1', 0, {
        'other-routes': [
          { prefix: '198.51.100.0/24', 'next-hop': nextHop },
          { prefix: '203.0.113.0/24', 'next-hop': '198.51.100.9' },
        ],
        redistribution: [{ source: 'other' }],
      })
      .router('b', '10.96.0.2', 0)
      .router('c', '10.96.0.3', 0)
      .cable('a', 'b', '10.96.1.0', 0)
      .cable('b', 'c', '10.96.1.2', 0);
  for (const road of [undefined, 'plain'] as const) {
    const p = c('10.96.0.3').predict([], road ? { road } : {});
    const lines = (name: string): string[] =>
      p
        .rib(p.routerIndex(name))
        .filter((r) => r.source === 'other')
        .map((r) => `${formatPrefix(r)} ${r.hops.map((h) => `${h.iface} ${formatAddress(h.address ?? 0)}`).join()}`);
    // The second stands on the first.
    expect(lines('a')).toEqual(['198.51.100.0/24 to-b 10.96.1.1', '203.0.113.0/24 to-b 10.96.1.1']);
    expect(routeTo(p, 'b', '198.51.100.0/24')).toMatch(/^external-2 /);
    // Out of reach it is neither used nor announced.
    const cut = p.fail({ kind: 'link', router: 'b', iface: 'to-c' });
    expect(cut.rib(0).filter((r) => r.source === 'other')).toEqual([]);
    expect(routeTo(cut, 'b', '198.51.100.0/24')).toBe('');
    const nowhere = c('10.96.0.77').predict([], road ? { road } : {});
    expect(nowhere.rib(0).filter((r) => r.source === 'other')).toEqual([]);
    expect(routeTo(nowhere, 'b', '198.51.100.0/24')).toBe('');
  }
});

test('an interface without OSPF takes along what is imported through it, computed from the state before too', () => {
  const base = (source: 'static' | 'direct') =>
    campus()
      .router('core', '10.96.0.1', 0)
      .router('gate', '10.96.0.2', 0, { redistribution: [{ source }] })
      .cable('core', 'gate', '10.96.128.0', 0)
      .port('gate', 'north', '203.0.113.1/30', null)
      .static('gate', '198.51.100.0/26', '203.0.113.2')
      .predict();
  const failure = { kind: 'interface', router: 'gate', iface: 'north' } as const;
  for (const [source, prefix] of [
    ['static', '198.51.100.0/26'],
    ['direct', '203.0.113.0/30'],
  ] as const) {
    const p = base(source);
    expect(routeTo(p, 'core', prefix)).toMatch(/^external-2 /);
    expect(routeTo(p.fail(failure), 'core', prefix)).toBe('');
    expect(routeTo(predict(p.design, [failure]), 'core', prefix)).toBe('');
  }
});
