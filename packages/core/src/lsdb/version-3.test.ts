import { lsaBody, lsaKey } from './lsa-body';
import { routerJson } from '../reports/prediction-json';
import { campus6, databaseOf, leadersOf, ribOf, routesOf, routeTo, statesOf, type Campus } from '../testing/campus';
import { predictFor, six } from '../testing/mirror';
import type { Prediction } from '../predict';

/** Advertisements that a router holds in an area, as `type id adv`, link state ids left out for those that are counted. */
function held(p: Prediction, name: string, area: number): string[] {
  const json = routerJson([p], p.routerIndex(name)) as {
    ospfv3: { areas: { area: { 'area-id': string; database: { lsa: { type: number; 'adv-router': string }[] } }[] } };
  };
  return (json.ospfv3.areas.area[area]?.database.lsa ?? []).map((l) => `0x${l.type.toString(16)} ${l['adv-router']}`).sort();
}

describe('links and prefixes are two things (RFC 5340 §2.1, §4.4.3)', () => {
  const chain = (): Campus =>
    campus6().router('a', '10.96.0.1', 0).router('b', '10.96.0.2', 0).router('c', '10.96.0.3', 0).wire('a', 'b', 0, [10, 3]).wire('b', 'c', 0, 20);

  test('a link with link-local addresses alone is full, carries routes and has no prefix; its next hops are link-local', () => {
    const p = chain().predict();
    expect(statesOf(p, 'b')).toEqual(['a full', 'c full']);
    expect(routesOf(p, 'a')).toEqual([
      `${six('10.96.0.1')}/128 intra-area 0 via lo`,
      `${six('10.96.0.2')}/128 intra-area 10 via to-b fe80::a60:2:2`,
      `${six('10.96.0.3')}/128 intra-area 30 via to-b fe80::a60:2:2`,
    ]);
    expect(held(p, 'a', 0)).toEqual([1, 2, 3].flatMap((n) => [`0x2001 10.96.0.${n}`, `0x2009 10.96.0.${n}`]).sort());
  });

  test('a prefix at one end alone is reached by the other end through its neighbour, like any remote one', () => {
    const p = campus6()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .port('a', 'to-b', '2001:db8:1::a/64', 0, { 'interface-type': 'point-to-point', cost: 10 })
      .port('b', 'to-a', '', 0, { 'interface-type': 'point-to-point', cost: 4 })
      .links(['a/to-b b/to-a'])
      .predict();
    expect(routeTo(p, 'a', '2001:db8:1::/64')).toBe('intra-area 10 via to-b');
    // Its own cost to a, and a's cost to the prefix.
    expect(routeTo(p, 'b', '2001:db8:1::/64')).toBe('intra-area 14 via to-a fe80::a60:1:2');
  });

  test('ends with different prefixes become neighbours: nothing of them is compared in hellos (§4.2.2.1)', () => {
    const p = campus6()
      .router('a', '10.96.0.1')
      .router('b', '10.96.0.2')
      .port('a', 'x', '2001:db8:1::1/64', 0, { cost: 1 })
      .port('b', 'x', '2001:db8:2::1/48', 0, { cost: 1 })
      .links(['a/x b/x'])
      .predict();
    expect([statesOf(p, 'a'), leadersOf(p, 'a', 'x')]).toEqual([['b full'], 'b/a']);
    // The leader advertises what both have, also what it has not itself, and each lists both as attached.
    expect(routesOf(p, 'a')).toEqual(['2001:db8:1::/64 intra-area 1 via x', '2001:db8:2::/48 intra-area 1 via x']);
    expect(routesOf(p, 'b')).toEqual(routesOf(p, 'a'));
  });

  test('when the only router with a prefix of a LAN leaves, the prefix goes everywhere', () => {
    const lan = campus6()
      .router('a', '10.96.0.1')
      .router('b', '10.96.0.2')
      .router('c', '10.96.0.3', 0)
      .port('a', 'pier', '2001:db8:1::a/64', 0, { cost: 2 })
      .port('b', 'pier', '2001:db8:1::b/64 2001:db8:2::b/64', 0, { cost: 2 })
      .port('c', 'pier', '', 0, { cost: 7 })
      .links(['a/pier mooring', 'b/pier mooring', 'c/pier mooring']);
    const p = lan.predict();
    expect(routeTo(p, 'c', '2001:db8:2::/64')).toBe('intra-area 7 via pier');
    expect(leadersOf(p, 'c', 'pier')).toBe('c/b');
    for (const cut of [['link:b/pier'], ['router:b']]) {
      const after = lan.predict(cut);
      expect(routeTo(after, 'c', '2001:db8:2::/64')).toBe('');
      expect(routeTo(after, 'c', '2001:db8:1::/64')).toBe('intra-area 7 via pier');
    }
    // The same state after state, and on the plain road.
    const next = p.fail({ kind: 'link', router: 'b', iface: 'pier' });
    expect(routesOf(next, 'a')).toEqual(routesOf(lan.predict(['link:b/pier'], { road: 'plain' }), 'a'));
  });

  test('a suppressed LAN brings no prefix: its link-LSA names none (RFC 6860 §3)', () => {
    const p = campus6()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .lan('pier', '2001:db8:1::', 0, [])
      .port('a', 'pier', '2001:db8:1::a/64', 0, { 'prefix-suppression': true })
      .port('b', 'pier', '2001:db8:1::b/64', 0, { 'prefix-suppression': true })
      .predict();
    expect(statesOf(p, 'a')).toEqual(['b full']);
    expect(routesOf(p, 'a')).toEqual([`${six('10.96.0.1')}/128 intra-area 0 via lo`, `${six('10.96.0.2')}/128 intra-area 10 via pier fe80::a60:2:2`]);
  });

  test('a loopback costs nothing whatever is written, on point-to-multipoint a host stands for its prefix (§4.4.3.9)', () => {
    const p = campus6()
      .router('a', '10.96.0.1')
      .router('b', '10.96.0.2')
      .port('a', 'lo7', '2001:db8:7::7/64', 0, { cost: 55, iface: { type: 'softwareLoopback' } })
      .port('a', 'cloud', '2001:db8:1::a/64', 0, { 'interface-type': 'point-to-multipoint', cost: 5 })
      .port('b', 'cloud', '2001:db8:1::b/64', 0, { 'interface-type': 'point-to-multipoint', cost: 6 })
      .predict();
    expect(routesOf(p, 'b')).toEqual([
      '2001:db8:1::a/128 intra-area 6 via cloud fe80::a60:1:2',
      '2001:db8:1::b/128 intra-area 0 via cloud',
      '2001:db8:7::7/128 intra-area 6 via cloud fe80::a60:1:2',
    ]);
  });
});

describe('hellos (RFC 5340 §4.2.2)', () => {
  const pair = (a: object, b: object): Campus =>
    campus6()
      .router('a', '10.96.0.1')
      .router('b', '10.96.0.2')
      .port('a', 'x', '', 0, { 'interface-type': 'point-to-point', ...a })
      .port('b', 'x', '', 0, { 'interface-type': 'point-to-point', ...b })
      .links(['a/x b/x']);
  test.each([
    ['equal instances', { 'instance-id': 5 }, { 'instance-id': 5 }, ['b full']],
    ['another instance', { 'instance-id': 5 }, {}, []],
    ['another hello interval', { 'hello-interval': 5, 'dead-interval': 40 }, {}, []],
    ['a smaller MTU at the lower id', {}, { mtu: 9000 }, ['b exstart']],
    ['keys of one association', key(7, 'k'), key(7, 'k'), ['b full']],
    ['keys of two associations', key(7, 'k'), key(8, 'k'), []],
    ['two keys', key(7, 'k'), key(7, 'l'), []],
  ])('%s', (_, a, b, states) => {
    expect(statesOf(pair(a, b).predict(), 'a')).toEqual(states);
  });

  test.each([
    ['not on', (i: Record<string, unknown>) => delete i['ipv6']],
    ['switched off', (i: Record<string, unknown>) => (i['ipv6'] = { enabled: false, address: [{ ip: 'fe80::1', 'prefix-length': 64 }] })],
  ])('an interface on which IPv6 is %s takes no part', (_, change) => {
    const documents = structuredClone(pair({}, {}).documents());
    const b = documents.find((d) => d.file === 'b.json')?.tree as { 'ietf-interfaces:interfaces': { interface: Record<string, unknown>[] } };
    change(b['ietf-interfaces:interfaces'].interface[0] ?? {});
    const p = predictFor(6, documents);
    expect([statesOf(p, 'a'), p.portOf(p.routerIndex('b'), 0)?.up]).toEqual([[], false]);
  });
});

function key(sa: number, secret: string): object {
  return { authentication: { 'ospfv3-sa-id': sa, 'ospfv3-key': secret, 'ospfv3-crypto-algorithm': 'hmac-sha-256' } };
}

describe('areas', () => {
  test('a virtual link comes up over a global address in its transit area, and its ends name one there (§4.7, §4.4.3.9)', () => {
    const built = (loopbacks: boolean): Campus => {
      const c = campus6()
        .router('core', '10.96.0.1', 0)
        .router('in', '10.96.0.2', loopbacks ? 1 : null)
        .router('out', '10.96.0.3', loopbacks ? 1 : null)
        .router('far', '10.96.0.4', 2)
        .wire('core', 'in', 0)
        .wire('in', 'out', 1, 5)
        .wire('out', 'far', 2);
      const end = (router: string) => ({ 'virtual-links': { 'virtual-link': [{ 'transit-area-id': '0.0.0.1', 'router-id': router }] } });
      return c.area('in', 0, end('10.96.0.3')).area('out', 0, end('10.96.0.2'));
    };
    expect(routeTo(built(true).predict(), 'far', `${six('10.96.0.1')}/128`)).toBe('inter-area 25 via to-out fe80::a60:3:3');
    // No address to send to: the link stays down, and area 2 sees nothing of the backbone.
    expect(routeTo(built(false).predict(), 'far', `${six('10.96.0.1')}/128`)).toBe('');
    // With a prefix on the transit link alone each end names a host there.
    const numbered = campus6()
      .router('core', '10.96.0.1', 0)
      .router('in', '10.96.0.2')
      .router('out', '10.96.0.3')
      .wire('core', 'in', 0)
      .port('in', 'x', '2001:db8:5::1/64', 1, { 'interface-type': 'point-to-point', cost: 5 })
      .port('out', 'x', '2001:db8:5::2/64', 1, { 'interface-type': 'point-to-point', cost: 5 })
      .area('in', 0, { 'virtual-links': { 'virtual-link': [{ 'transit-area-id': '0.0.0.1', 'router-id': '10.96.0.3' }] } })
      .area('out', 0, { 'virtual-links': { 'virtual-link': [{ 'transit-area-id': '0.0.0.1', 'router-id': '10.96.0.2' }] } })
      .predict();
    expect(routeTo(numbered, 'in', '2001:db8:5::2/128')).toBe('intra-area 5 via x fe80::a60:3:1');
    expect(routeTo(numbered, 'out', `${six('10.96.0.1')}/128`)).toBe('intra-area 15 via x fe80::a60:2:2');
  });

  test('an NSSA: the forwarding address is the loopback, the translator keeps it, and everybody goes straight to it (RFC 3101 §2.3)', () => {
    const nssa = { 'area-type': 'nssa-area' };
    const p = campus6()
      .router('core', '10.96.0.1', 0)
      .router('gate-1', '10.96.0.2', 0)
      .router('gate-2', '10.96.0.3', 0)
      .router('exit', '10.96.0.4', 1, { redistribution: [{ source: 'static', metric: 7 }] })
      .wire('core', 'gate-1', 0)
      .wire('core', 'gate-2', 0)
      .wire('gate-1', 'exit', 1, 5)
      .wire('gate-2', 'exit', 1, 9)
      .static('exit', '2001:db8:ee::/48', 'blackhole')
      .area('gate-1', 1, nssa)
      .area('gate-2', 1, nssa)
      .area('exit', 1, nssa)
      .predict();
    expect(routeTo(p, 'gate-1', '2001:db8:ee::/48')).toBe('nssa-2 7+5 via to-exit fe80::a60:4:2');
    // Straight to it through gate-1 (10 + 5), though gate-2 with the larger id translates.
    expect(routeTo(p, 'core', '2001:db8:ee::/48')).toBe('external-2 7+15 via to-gate-1 fe80::a60:2:2');
    expect(databaseOf(p, 'core', [5])).toEqual(['5 0.0.0.1 10.96.0.3 7']);
    const [core] = p.speakersOf(p.routerIndex('core'));
    const [five] = core ? p.routing.externals(core) : [];
    expect(five && [lsaKey(five), lsaBody(five)]).toEqual([
      { type: 0x4005, id: '0.0.0.1', adv: '10.96.0.3' },
      {
        'as-external': {
          metric: 7,
          flags: ['e-bit', 'f-bit'],
          prefix: '2001:db8:ee::/48',
          'forwarding-address': six('10.96.0.4'),
        },
      },
    ]);
  });

  test('a stub area is told of a default, ranges fold, and what lies outside of them stays on its own', () => {
    const stub = { 'area-type': 'stub-area', 'default-cost': 3 };
    const p = campus6()
      .router('core', '10.96.0.1', 0)
      .router('gate', '10.96.0.2', 0)
      .router('in', '10.96.0.3', 1)
      .wire('core', 'gate', 0)
      .wire('gate', 'in', 1, 4)
      .port('in', 'lab', '2001:db8:10:1::1/64', 1, { passive: true, cost: 6 })
      .port('in', 'store', '2001:db8:10:2::1/64', 1, { passive: true, cost: 1 })
      .area('gate', 1, { ...stub, ranges: { range: [{ prefix: '2001:db8:10::/48' }] } })
      .area('in', 1, stub)
      .predict();
    expect(routesOf(p, 'core').filter((r) => r.includes('inter-area'))).toEqual([
      '2001:db8:10::/48 inter-area 20 via to-gate fe80::a60:2:2',
      `${six('10.96.0.3')}/128 inter-area 14 via to-gate fe80::a60:2:2`,
    ]);
    expect(routeTo(p, 'in', '::/0')).toBe('inter-area 7 via to-gate fe80::a60:2:3');
    expect(ribOf(p, 'gate')).toContain('2001:db8:10::/48 ospf-discard');
  });
});

test('bodies in the names of the standard tree: links, networks, prefixes, a link of a LAN', () => {
  const p = campus6()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2')
    .port('a', 'pier', '2001:db8:1::a/64', 0)
    .port('b', 'pier', '2001:db8:1::b/64', 0)
    .predict();
  const json = routerJson([p], p.routerIndex('a')) as {
    ospfv3: {
      areas: {
        area: {
          interfaces: { interface: { name: string; database?: { lsa: { type: number; body: unknown }[] } }[] };
          database: { lsa: { type: number; 'lsa-id': string; 'adv-router': string; body: unknown }[] };
        }[];
      };
    };
  };
  const [area] = json.ospfv3.areas.area;
  const body = (type: number, adv: string): unknown =>
    area?.database.lsa.filter((l) => l.type === type && l['adv-router'] === adv).map((l) => l.body);
  expect(body(0x2001, '10.96.0.1')).toEqual([
    {
      router: {
        'router-bits': { 'rtr-lsa-bits': [] },
        links: {
          link: [{ 'interface-id': 2, 'neighbor-interface-id': 1, 'neighbor-router-id': '10.96.0.2', type: 'transit-network-link', metric: 10 }],
        },
      },
    },
  ]);
  expect(body(0x2002, '10.96.0.2')).toEqual([{ network: { 'attached-routers': { 'attached-router': ['10.96.0.1', '10.96.0.2'] } } }]);
  const options = (bits: string[]): object => ({ 'prefix-option-bits': bits });
  expect(body(0x2009, '10.96.0.1')).toEqual([
    {
      'intra-area-prefix': {
        'referenced-ls-type': 0x2001,
        'referenced-link-state-id': '0.0.0.0',
        'referenced-adv-router': '10.96.0.1',
        'num-of-prefixes': 1,
        prefixes: { prefix: [{ prefix: `${six('10.96.0.1')}/128`, 'prefix-options': options(['la-bit']), metric: 0 }] },
      },
    },
  ]);
  expect(body(0x2009, '10.96.0.2')).toEqual([
    {
      'intra-area-prefix': {
        'referenced-ls-type': 0x2002,
        'referenced-link-state-id': '0.0.0.1',
        'referenced-adv-router': '10.96.0.2',
        'num-of-prefixes': 1,
        prefixes: { prefix: [{ prefix: '2001:db8:1::/64', 'prefix-options': options([]), metric: 0 }] },
      },
    },
  ]);
  const pier = area?.interfaces.interface.find((i) => i.name === 'pier');
  expect(pier?.database?.lsa.map((l) => l.type)).toEqual([8, 8]);
  expect(pier?.database?.lsa[1]?.body).toEqual({
    link: {
      'rtr-priority': 1,
      'link-local-interface-address': 'fe80::a60:2:1',
      'num-of-prefixes': 1,
      prefixes: { prefix: [{ prefix: '2001:db8:1::/64' }] },
    },
  });
});
