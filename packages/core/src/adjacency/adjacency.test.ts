import { campus, leadersOf, linksOf, ribOf, routeTo, routesOf, statesOf, type PortOptions } from '../testing/campus';
import { electLeaders } from './dr-election';

/** Two routers on a /30 with options for each end. */
const pair = (a: PortOptions, b: PortOptions, netA = '10.96.1.1/30', netB = '10.96.1.2/30') =>
  campus().router('a', '10.96.0.1', 0).router('b', '10.96.0.2', 0).port('a', 'x', netA, 0, a).port('b', 'x', netB, 0, b);
const p2p = { 'interface-type': 'point-to-point' };

describe('hellos that are refused leave no neighbour (RFC 2328 §8.2, §10.5)', () => {
  const refused: readonly [string, PortOptions, PortOptions][] = [
    ['hello interval', { ...p2p, 'hello-interval': 5, 'dead-interval': 40 }, { ...p2p, 'dead-interval': 40 }],
    ['dead interval', { ...p2p, 'dead-interval': 60 }, p2p],
    ['authentication on one side', { ...p2p, authentication: { 'ospfv2-key': 'salt' } }, p2p],
    ['another key', { ...p2p, authentication: { 'ospfv2-key': 'salt' } }, { ...p2p, authentication: { 'ospfv2-key': 'pepper' } }],
    [
      'another key id',
      { ...p2p, authentication: { 'ospfv2-key-id': 1, 'ospfv2-key': 'k', 'ospfv2-crypto-algorithm': 'hmac-sha-256' } },
      { ...p2p, authentication: { 'ospfv2-key-id': 2, 'ospfv2-key': 'k', 'ospfv2-crypto-algorithm': 'hmac-sha-256' } },
    ],
    [
      'another algorithm',
      { ...p2p, authentication: { 'ospfv2-key-id': 1, 'ospfv2-key': 'k', 'ospfv2-crypto-algorithm': 'hmac-sha-256' } },
      { ...p2p, authentication: { 'ospfv2-key-id': 1, 'ospfv2-key': 'k', 'ospfv2-crypto-algorithm': 'md5' } },
    ],
    [
      'a key that is not switched on',
      { ...p2p, 'authentication-required': false, authentication: { 'ospfv2-key': 'k' } },
      { ...p2p, authentication: { 'ospfv2-key': 'k' } },
    ],
    ['required without a key', { ...p2p, 'authentication-required': true }, { ...p2p, 'authentication-required': true }],
    ['passive', { ...p2p, passive: true }, p2p],
    ['switched off', { ...p2p, enabled: false }, p2p],
  ];
  test.each(refused)('%s', (_, a, b) => {
    const p = pair(a, b).predict();
    expect([statesOf(p, 'a'), statesOf(p, 'b')]).toEqual([[], []]);
  });
  test('the same key on both sides is accepted, from a chain as well', () => {
    const chain = {
      'ietf-key-chain:key-chains': {
        'key-chain': [{ name: 'tide', key: [{ 'key-id': '3', 'crypto-algorithm': 'hmac-sha-256', 'key-string': { keystring: 'k' } }] }],
      },
    };
    const p = pair(
      { ...p2p, authentication: { 'ospfv2-key-chain': 'tide' } },
      { ...p2p, authentication: { 'ospfv2-key-id': 3, 'ospfv2-key': 'k', 'ospfv2-crypto-algorithm': 'hmac-sha-256' } },
    )
      .document('a', chain)
      .predict();
    expect(statesOf(p, 'a')).toEqual(['b full']);
  });
  test('area ids, area types', () => {
    const other = campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .port('a', 'x', '10.96.1.1/30', 1, p2p)
      .port('b', 'x', '10.96.1.2/30', 2, p2p);
    expect(statesOf(other.predict(), 'a')).toEqual([]);
    for (const [ta, tb, full] of [
      ['stub-area', 'stub-area', true],
      ['stub-area', 'nssa-area', false],
      ['nssa-area', 'nssa-area', true],
      [undefined, 'stub-area', false],
    ] as const) {
      const c = campus()
        .router('a', '10.96.0.1', 0)
        .router('b', '10.96.0.2', 1)
        .port('a', 'x', '10.96.1.1/30', 1, p2p)
        .port('b', 'x', '10.96.1.2/30', 1, p2p);
      if (ta) c.area('a', 1, { 'area-type': ta });
      c.area('b', 1, { 'area-type': tb });
      expect(statesOf(c.predict(), 'a')).toEqual(full ? ['b full'] : []);
    }
  });
  test('masks are compared on a LAN and not on a point-to-point link', () => {
    expect(statesOf(pair({}, {}, '10.96.1.1/24', '10.96.1.2/25').predict(), 'a')).toEqual([]);
    expect(statesOf(pair(p2p, p2p, '10.96.1.1/24', '10.96.1.2/25').predict(), 'a')).toEqual(['b full']);
  });
  test('one own router id in a hello: refused as an own packet', () => {
    const p = campus()
      .router('a', '10.96.0.1')
      .router('b', '10.96.0.1')
      .port('a', 'x', '10.96.1.1/30', 0, p2p)
      .port('b', 'x', '10.96.1.2/30', 0, p2p)
      .predict();
    expect(statesOf(p, 'a')).toEqual([]);
  });
});

describe('MTU (RFC 2328 §10.6): the smaller refuses, who is master decides where each rests (§10.8)', () => {
  test.each([
    ['a small, b master', 1500, 9000, ['b exstart'], ['a exstart']],
    ['b small, b master', 9000, 1500, ['b exchange'], ['a exstart']],
  ])('%s', (_, mtuA, mtuB, a, b) => {
    const p = pair({ ...p2p, mtu: mtuA }, { ...p2p, mtu: mtuB }).predict();
    expect(statesOf(p, 'a')).toEqual(a);
    expect(statesOf(p, 'b')).toEqual(b);
  });
  test('ignoring the MTU helps on the smaller side only', () => {
    expect(statesOf(pair({ ...p2p, mtu: 1500, 'mtu-ignore': true }, { ...p2p, mtu: 9000 }).predict(), 'a')).toEqual(['b full']);
    expect(statesOf(pair({ ...p2p, mtu: 1500 }, { ...p2p, mtu: 9000, 'mtu-ignore': true }).predict(), 'a')).toEqual(['b exstart']);
  });
});

describe('designated router election (RFC 2328 §9.4)', () => {
  const reef = (priorities: readonly number[]) =>
    priorities
      .reduce((c, _, i) => c.router(`r${i + 1}`, `10.96.0.${i + 1}`, 0), campus())
      .lan(
        'reef',
        '10.97.1.0/24',
        0,
        priorities.map((priority, i) => [`r${i + 1}`, { priority }] as const),
      );

  test('priority first, then router id; the second becomes backup; all others rest in 2-Way', () => {
    const p = reef([1, 1, 1, 1]).predict();
    expect(leadersOf(p, 'r1', 'reef')).toBe('r4/r3');
    expect(statesOf(p, 'r1')).toEqual(['r2 2-way', 'r3 full', 'r4 full']);
    expect(leadersOf(reef([5, 9, 1]).predict(), 'r3', 'reef')).toBe('r2/r1');
  });
  test('priority 0 never leads; alone they stay in 2-Way and each advertises the LAN as a stub (§12.4.1.2)', () => {
    expect(leadersOf(reef([0, 1, 0]).predict(), 'r1', 'reef')).toBe('r2/-');
    const p = reef([0, 0]).predict();
    expect(statesOf(p, 'r1')).toEqual(['r2 2-way']);
    expect(linksOf(p, 'r1', 0)).toContain('stub 10.97.1.0 255.255.255.0 10');
    expect(routeTo(p, 'r1', '10.96.0.2/32')).toBe('');
  });
  test('the backup takes over; the third becomes backup', () => {
    const p = reef([1, 1, 1, 1]).predict(['router:r4']);
    expect(leadersOf(p, 'r1', 'reef')).toBe('r3/r2');
  });
  test('an incumbent is not displaced by a better router that starts later', () => {
    const p = reef([1, 1, 200]).predict([], { startOrder: ['r1', 'r2', 'r3'] });
    expect(leadersOf(p, 'r3', 'reef')).toBe('r1/r2');
  });
  test('a designated router that returns does not lead again', () => {
    const lost = reef([1, 1, 200]).predict(['interface:r3/reef']);
    expect(leadersOf(lost, 'r1', 'reef')).toBe('r2/r1');
    const back = reef([1, 1, 200]).predict([], { incumbents: lost.adjacencies });
    expect(leadersOf(back, 'r3', 'reef')).toBe('r2/r1');
  });
  test('several failures in order: the network settles after each', () => {
    expect(leadersOf(reef([1, 1, 1, 1, 1]).predict(['router:r5', 'router:r4']), 'r1', 'reef')).toBe('r3/r2');
    expect(leadersOf(reef([1, 1, 1, 1, 1]).predict(['router:r4', 'router:r5']), 'r1', 'reef')).toBe('r3/r2');
  });
  test('the procedure of §9.4 itself: two who both claim to lead after a split; the better claim wins', () => {
    const claim = (id: number, priority: number, dr: number, bdr: number) => ({ routerId: id, priority, dr, bdr });
    expect(electLeaders(claim(1, 1, 1, 0), [claim(2, 5, 2, 0)])).toEqual({ dr: 2, bdr: 1 });
    expect(electLeaders(claim(3, 1, 0, 0), [claim(1, 1, 1, 2), claim(2, 1, 1, 2)])).toEqual({ dr: 1, bdr: 2 });
    expect(electLeaders(claim(3, 0, 0, 0), [])).toEqual({ dr: 0, bdr: 0 });
  });
});

describe('non-broadcast (RFC 2328 §9.5.1)', () => {
  const cloud = (hubLists: readonly string[], spokePriority = 0) =>
    campus()
      .router('hub', '10.96.0.1', 0)
      .router('s1', '10.96.0.2', 0)
      .router('s2', '10.96.0.3', 0)
      .lan(
        'cloud',
        '10.97.1.0/24',
        0,
        [
          ['hub', { priority: 1, 'static-neighbors': { neighbor: hubLists.map((identifier) => ({ identifier })) } }],
          ['s1', { priority: spokePriority }],
          ['s2', { priority: spokePriority }],
        ],
        { 'interface-type': 'non-broadcast' },
      );
  test('a hub that lists its spokes leads without a backup; spokes route to each other in one hop', () => {
    const c = cloud(['10.97.1.2', '10.97.1.3']).links(['hub/cloud s1/cloud', 'hub/cloud s2/cloud']);
    const p = c.predict();
    expect(statesOf(p, 'hub')).toEqual(['s1 full', 's2 full']);
    expect(leadersOf(p, 'hub', 'cloud')).toBe('hub/-');
    expect(statesOf(p, 's1')).toEqual(['hub full']);
    expect(routeTo(p, 's1', '10.96.0.3/32')).toBe('intra-area 10 via cloud 10.97.1.3');
  });
  test('a spoke that nobody lists is never spoken to; a listed one that is gone is polled, and Down at rest (§10.3)', () => {
    expect(statesOf(cloud(['10.97.1.2']).predict(), 'hub')).toEqual(['s1 full']);
    expect(statesOf(cloud(['10.97.1.2', '10.97.1.3']).predict(['interface:s2/cloud']), 'hub')).toEqual(['s1 full']);
  });
  test('a neighbour listed at priority 0 hears from who leads, and from nobody before (§9.5.1)', () => {
    const listed = (identifier: string, priority: number) => ({ 'static-neighbors': { neighbor: [{ identifier, priority }] } });
    const two = (hub: object, spoke: object) =>
      campus()
        .router('hub', '10.96.0.1', 0)
        .router('spoke', '10.96.0.2', 0)
        .lan(
          'cloud',
          '10.97.1.0/24',
          0,
          [
            ['hub', hub as object & Record<string, unknown>],
            ['spoke', spoke as Record<string, unknown>],
          ],
          {
            'interface-type': 'non-broadcast',
          },
        )
        .predict();
    // The hub, alone, makes itself leader when its wait ends; then it speaks to the spoke.
    expect(statesOf(two(listed('10.97.1.2', 0), { priority: 0 }), 'hub')).toEqual(['spoke full']);
    // Only the spoke lists the other: it may not be elected, so it waits for a leader to speak, and none knows of it.
    const silent = two({}, { priority: 0, ...listed('10.97.1.1', 1) });
    expect([statesOf(silent, 'hub'), statesOf(silent, 'spoke')]).toEqual([[], []]);
    expect(leadersOf(silent, 'hub', 'cloud')).toBe('hub/-');
    // Both may be elected and list each other as if not: each leads alone, speaks, and the higher id stays.
    const mutual = two(listed('10.97.1.2', 0), listed('10.97.1.1', 0));
    expect([statesOf(mutual, 'hub'), leadersOf(mutual, 'hub', 'cloud')]).toEqual([['spoke full'], 'spoke/hub']);
  });
  test('spokes at priority 0 that list each other never speak: both wait for a leader (§9.5.1)', () => {
    const lists = (...all: string[]) => ({ 'static-neighbors': { neighbor: all.map((identifier) => ({ identifier })) } });
    const p = campus()
      .router('hub', '10.96.0.1', 0)
      .router('s1', '10.96.0.2', 0)
      .router('s2', '10.96.0.3', 0)
      .lan(
        'cloud',
        '10.97.1.0/24',
        0,
        [
          ['hub', lists('10.97.1.2', '10.97.1.3')],
          ['s1', { priority: 0, ...lists('10.97.1.3') }],
          ['s2', { priority: 0, ...lists('10.97.1.2') }],
        ],
        { 'interface-type': 'non-broadcast' },
      )
      .predict();
    expect(statesOf(p, 's1')).toEqual(['hub full']);
    expect(statesOf(p, 'hub')).toEqual(['s1 full', 's2 full']);
  });
  test('hello 30 s and dead 120 s where nothing is written', () => {
    const port = cloud([])
      .predict()
      .adjacencies.ports.find((x) => x.iface.name === 'cloud');
    expect([port?.settings.hello, port?.settings.dead]).toEqual([30, 120]);
  });
});

describe('keys with lifetimes (RFC 2328 D.3, RFC 8177)', () => {
  const key = (id: number, lifetime: object) => ({ 'key-id': id, 'crypto-algorithm': 'md5', 'key-string': { keystring: `key ${id}` }, lifetime });
  const day = (n: number): string => `2026-05-${String(n).padStart(2, '0')}T00:00:00Z`;
  const both = (from: number, until?: number) => ({
    'send-accept-lifetime': { 'start-date-time': day(from), ...(until === undefined ? { 'no-end-time': [null] } : { 'end-date-time': day(until) }) },
  });
  const chained = (a: readonly object[], b: readonly object[], now: string) => {
    const c = pair({ ...p2p, authentication: { 'ospfv2-key-chain': 'tide' } }, { ...p2p, authentication: { 'ospfv2-key-chain': 'tide' } });
    for (const [router, keys] of [
      ['a', a],
      ['b', b],
    ] as const)
      c.document(router, { 'ietf-key-chain:key-chains': { 'key-chain': [{ name: 'tide', key: keys }] } });
    return statesOf(c.settings({ now }).predict(), 'a');
  };
  test('a new key is sent from its start on; both are taken while both hold', () => {
    const old = key(1, both(1, 20));
    const next = key(2, both(10));
    expect(chained([old, next], [old], day(5))).toEqual(['b full']);
    // From the tenth a sends key 2, which b does not have; b's key 1 is still taken.
    expect(chained([old, next], [old], day(10))).toEqual(['b init']);
    expect(chained([old, next], [old, next], day(10))).toEqual(['b full']);
    // From the twentieth key 1 is no longer taken.
    expect(chained([old, next], [old], day(20))).toEqual([]);
  });
  test('a key that may be taken and is not sent yet does not stand in the way', () => {
    const later = key(2, { 'send-lifetime': { 'start-date-time': day(10) }, 'accept-lifetime': { 'start-date-time': day(1) } });
    expect(chained([key(1, {}), later], [key(1, {})], day(5))).toEqual(['b full']);
    // From the tenth b sends key 2 alone, which a does not have: a hears nothing.
    expect(chained([key(1, {})], [key(1, {}), later], day(12))).toEqual([]);
  });
  test('the last key that expired is held on to; one that has not begun is none (D.3)', () => {
    expect(chained([key(1, both(1, 3)), key(2, both(2, 4))], [key(2, both(2, 4))], day(9))).toEqual(['b full']);
    expect(chained([key(1, both(8))], [key(1, both(8))], day(5))).toEqual([]);
  });
  test('a duration counts in seconds; a lifetime that ends before it begins is told', () => {
    const short = key(2, { 'send-accept-lifetime': { 'start-date-time': day(1), duration: 86_400 } });
    const always = key(1, {});
    const c = (now: string) => chained([always, short], [always], now);
    expect([c('2026-05-01T23:59:59Z'), c(day(2))]).toEqual([['b init'], ['b full']]);
    const wrong = pair({}, {}).document('a', { 'key-chains': { 'key-chain': [{ name: 't', key: [key(1, both(9, 3))] }] } });
    expect(wrong.read().problems.map((x) => x.message)).toEqual(['This lifetime ends before it begins.']);
  });
});

describe('types that describe the wire in other ways', () => {
  test('point-to-multipoint: a /32 of cost 0 for oneself, /32s for the others, no route for the subnet (§12.4.1.4)', () => {
    const p = campus()
      .router('a', '10.96.0.1')
      .router('b', '10.96.0.2')
      .router('c', '10.96.0.3')
      .lan('mist', '10.97.1.0/24', 0, ['a', 'b', 'c'], { 'interface-type': 'point-to-multipoint', cost: 7 })
      .predict();
    expect(linksOf(p, 'a', 0)).toEqual([
      'point-to-point 10.96.0.2 10.97.1.1 7',
      'point-to-point 10.96.0.3 10.97.1.1 7',
      'stub 10.97.1.1 255.255.255.255 0',
    ]);
    expect(routesOf(p, 'a')).toEqual([
      '10.97.1.1/32 intra-area 0 via mist',
      '10.97.1.2/32 intra-area 7 via mist 10.97.1.2',
      '10.97.1.3/32 intra-area 7 via mist 10.97.1.3',
    ]);
    // A route to a neighbour by that neighbour would resolve through itself; the attached subnet carries the packets.
    expect(ribOf(p, 'a')).toEqual(['10.97.1.0/24 direct', '10.97.1.1/32 ospf']);
  });
  test('hybrid elects like broadcast and is described like point-to-multipoint (RFC 6845)', () => {
    const p = campus()
      .router('a', '10.96.0.1')
      .router('b', '10.96.0.2')
      .router('c', '10.96.0.3')
      .router('d', '10.96.0.4')
      .lan('mist', '10.97.1.0/24', 0, ['a', 'b', 'c', 'd'], { 'interface-type': 'hybrid', cost: 7 })
      .predict();
    expect(leadersOf(p, 'a', 'mist')).toBe('d/c');
    expect(statesOf(p, 'a')).toEqual(['b 2-way', 'c full', 'd full']);
    expect(linksOf(p, 'a', 0).filter((l) => l.startsWith('point')).length).toBe(3);
    expect(p.routing.databases[0]?.networks.size).toBe(0);
    expect(routeTo(p, 'a', '10.97.1.2/32')).toBe('intra-area 7 via mist 10.97.1.2');
  });
  test('broadcast facing point-to-point reaches Full, and its transit link leads nowhere (§12.4.1, §16.1 (2))', () => {
    const p = pair({}, p2p).predict();
    expect(statesOf(p, 'a')).toEqual(['b full']);
    expect(routeTo(p, 'a', '10.96.0.2/32')).toBe('');
  });
  test('unnumbered: the interface index stands for the address, and no stub for the link (§12.4.1.1)', () => {
    const p = campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .port('a', 'u', '', 0, p2p)
      .port('b', 'u', '', 0, p2p)
      .links(['a/u b/u'])
      .predict();
    expect(statesOf(p, 'a')).toEqual(['b full']);
    expect(linksOf(p, 'a', 0)).toEqual(['stub 10.96.0.1 255.255.255.255 0', 'point-to-point 10.96.0.2 0.0.0.2 10']);
    expect(routeTo(p, 'a', '10.96.0.2/32')).toBe('intra-area 10 via u 10.96.0.2');
    // The address of the far end is its loopback's, and no subnet of the cable holds it: the route is one like any other.
    expect(ribOf(p, 'a')).toEqual(['10.96.0.1/32 direct', '10.96.0.2/32 ospf']);
  });
  test('an unnumbered cable that repeats its loopback: the far end stands in the own table, with all behind it', () => {
    const p = campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .router('c', '10.96.0.3', 0)
      .port('a', 'u', '10.96.0.1/32', 0, p2p)
      .port('b', 'u', '10.96.0.2/32', 0, p2p)
      .cable('b', 'c', '10.96.1.0', 0)
      .links(['a/u b/u'])
      .predict();
    expect(ribOf(p, 'a')).toEqual(['10.96.0.1/32 direct', '10.96.0.2/32 ospf', '10.96.0.3/32 ospf', '10.96.1.0/31 ospf']);
  });
  test('a loopback is advertised as a host, or as its subnet where told so (§9.1)', () => {
    const p = campus()
      .router('a', '10.96.0.1')
      .port('a', 'lo', '10.96.7.1/24', 0, { iface: { type: 'softwareLoopback' } })
      .port('a', 'lo2', '10.96.8.1/24', 0, { iface: { type: 'softwareLoopback' }, 'loopback-as': 'subnet' })
      .predict();
    expect(linksOf(p, 'a', 0)).toEqual(['stub 10.96.7.1 255.255.255.255 0', 'stub 10.96.8.0 255.255.255.0 0']);
  });
  test('a second address is a stub of its own; `advertise` chooses among them', () => {
    const p = pair({ ...p2p, cost: 3 }, { ...p2p, advertise: ['10.96.1.0/30'] }, '10.96.1.1/30 10.97.5.1/24', '10.96.1.2/30 10.97.6.1/24').predict();
    expect(linksOf(p, 'a', 0)).toContain('stub 10.97.5.0 255.255.255.0 3');
    expect(linksOf(p, 'b', 0).filter((l) => l.includes('10.97.6.0'))).toEqual([]);
  });
  test('a virtual interface is up only while something carries it', () => {
    const vlan = (carriedBy: readonly string[]) =>
      campus()
        .router('a', '10.96.0.1')
        .port('a', 'e1', '', null)
        .port('a', 'vlan7', '10.97.7.1/24', 0, { iface: { 'carried-by': carriedBy } });
    expect(linksOf(vlan(['e1']).predict(), 'a', 0)).toEqual(['stub 10.97.7.0 255.255.255.0 10']);
    expect(linksOf(vlan([]).predict(), 'a', 0)).toEqual([]);
    expect(linksOf(vlan(['e1']).predict(['interface:a/e1']), 'a', 0)).toEqual([]);
  });
});
