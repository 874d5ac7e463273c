import { campus, databaseOf, linksOf, ribOf, routesOf, routeTo } from '../testing/campus';

const lan = { passive: true };

describe('the tree (RFC 2328 §16.1)', () => {
  const diamond = () =>
    campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .router('c', '10.96.0.3', 0)
      .router('d', '10.96.0.4', 0)
      .cable('a', 'b', '10.96.1.0', 0, [10, 99])
      .cable('a', 'c', '10.96.1.2', 0, [10, 1])
      .cable('b', 'd', '10.96.1.4', 0)
      .cable('c', 'd', '10.96.1.6', 0);
  test('equal paths are used together, and the two directions of a link have costs of their own', () => {
    const p = diamond().predict();
    expect(routeTo(p, 'a', '10.96.0.4/32')).toBe('intra-area 20 via to-b 10.96.1.1, to-c 10.96.1.3');
    expect(routeTo(p, 'd', '10.96.0.1/32')).toBe('intra-area 11 via to-c 10.96.1.6');
  });
  test('no more paths than the router takes (spf-control/paths)', () => {
    const p = diamond()
      .ospf('a', { 'spf-control': { paths: 1 } })
      .predict();
    expect(routeTo(p, 'a', '10.96.0.4/32')).toBe('intra-area 20 via to-b 10.96.1.1');
  });
  test('next hops through a LAN are the routers on it (§16.1.1)', () => {
    const p = campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .router('c', '10.96.0.3', 0)
      .router('d', '10.96.0.4', 0)
      .lan('reef', '10.97.1.0/24', 0, ['a', 'b', 'c'])
      .cable('b', 'd', '10.96.1.0', 0)
      .cable('c', 'd', '10.96.1.2', 0)
      .predict();
    expect(routeTo(p, 'a', '10.96.0.4/32')).toBe('intra-area 20 via reef 10.97.1.2, reef 10.97.1.3');
    expect(routeTo(p, 'a', '10.97.1.0/24')).toBe('intra-area 10 via reef');
  });
  test('a stub router is a last resort for transit, and its own networks keep their cost (RFC 6987)', () => {
    const p = campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0, { 'stub-router': { always: {} } })
      .router('c', '10.96.0.3', 0)
      .cable('a', 'b', '10.96.1.0', 0)
      .cable('b', 'c', '10.96.1.2', 0)
      .cable('a', 'c', '10.96.1.4', 0, 500)
      .predict();
    expect(routeTo(p, 'a', '10.96.0.3/32')).toBe('intra-area 500 via to-c 10.96.1.5');
    expect(routeTo(p, 'a', '10.96.0.2/32')).toBe('intra-area 10 via to-b 10.96.1.1');
    expect(routeTo(p, 'b', '10.96.0.3/32')).toBe('intra-area 65535 via to-c 10.96.1.3');
  });
  test('prefix suppression hides transit links and keeps loopbacks and passive LANs (RFC 6860 §2)', () => {
    const c = campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .router('x', '10.96.0.3', 0)
      .cable('a', 'b', '10.96.1.0', 0, 10, { 'prefix-suppression': true });
    const p = c
      .lan('reef', '10.97.1.0/24', 0, ['b', 'x'], { 'prefix-suppression': true })
      .port('b', 'users', '10.97.9.1/24', 0, { ...lan, 'prefix-suppression': true })
      .predict();
    expect(routesOf(p, 'a')).toEqual([
      '10.96.0.1/32 intra-area 0 via lo',
      '10.96.0.2/32 intra-area 10 via to-b 10.96.1.1',
      '10.96.0.3/32 intra-area 20 via to-b 10.96.1.1',
      '10.97.9.0/24 intra-area 20 via to-b 10.96.1.1',
    ]);
  });
  test('automatic costs: reference over bandwidth, at least 1, and 10 without a bandwidth', () => {
    const c = campus().router('a', '10.96.0.1', 0, { 'auto-cost': { enabled: true, 'reference-bandwidth': 40000 } });
    for (const [n, mbps] of [
      ['e1', 1000],
      ['e2', 100000],
      ['e3', 0],
    ] as const)
      c.port('a', n, `10.97.${n.slice(1)}.1/24`, 0, { ...lan, ...(mbps ? { iface: { 'bandwidth-mbps': mbps } } : {}) });
    expect(linksOf(c.predict(), 'a', 0).filter((l) => l.includes('10.97'))).toEqual([
      'stub 10.97.1.0 255.255.255.0 40',
      'stub 10.97.2.0 255.255.255.0 1',
      'stub 10.97.3.0 255.255.255.0 10',
    ]);
  });
});

/** a in the backbone; b and c border routers of area 1; d inside it with two LANs. */
const twoBorders = () =>
  campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .router('d', '10.97.0.4', 1)
    .cable('a', 'b', '10.96.1.0', 0)
    .cable('a', 'c', '10.96.1.2', 0)
    .cable('b', 'd', '10.97.2.0', 1)
    .cable('c', 'd', '10.97.2.2', 1)
    .port('d', 'lab', '10.97.8.1/24', 1, { ...lan, cost: 5 })
    .port('d', 'pool', '10.97.9.1/24', 1, { ...lan, cost: 40 });

describe('areas and summaries (RFC 2328 §12.4.3, §16.2)', () => {
  test('what an area brings is announced by each of its border routers, and both are used at equal cost', () => {
    const p = twoBorders().predict();
    expect(routeTo(p, 'a', '10.97.8.0/24')).toBe('inter-area 25 via to-b 10.96.1.1, to-c 10.96.1.3');
    expect(routeTo(p, 'd', '10.96.0.1/32')).toBe('inter-area 20 via to-b 10.97.2.0, to-c 10.97.2.2');
    expect(databaseOf(p, 'd', [3]).filter((l) => l.includes('10.97.8'))).toEqual([]);
  });
  test('a range costs its dearest part, or its cheapest where told so, or what is fixed; the border router discards the rest', () => {
    const range = (more: object, ospf: Record<string, unknown> = {}) =>
      twoBorders()
        .ospf('b', ospf)
        .area('b', 1, { ranges: { range: [{ prefix: '10.97.0.0/16', ...more }] } })
        .predict(['router:c']);
    const p = range({});
    expect(routeTo(p, 'a', '10.97.0.0/16')).toBe('inter-area 60 via to-b 10.96.1.1');
    expect(routeTo(p, 'a', '10.97.8.0/24')).toBe('');
    expect(ribOf(p, 'b')).toContain('10.97.0.0/16 ospf-discard');
    expect(routeTo(range({}, { 'range-cost': 'smallest' }), 'a', '10.97.0.0/16')).toBe('inter-area 20 via to-b 10.96.1.1');
    expect(routeTo(range({ cost: 7 }), 'a', '10.97.0.0/16')).toBe('inter-area 17 via to-b 10.96.1.1');
    const hidden = range({ advertise: false });
    expect(routesOf(hidden, 'a').filter((r) => r.startsWith('10.97'))).toEqual([]);
  });
  test('a range without any part is not announced, and a range for the backbone does not fold what passes through it', () => {
    const c = twoBorders().router('e', '10.98.0.5', 2).cable('b', 'e', '10.98.2.0', 2);
    c.area('b', 0, { ranges: { range: [{ prefix: '10.96.0.0/13' }] } }).area('b', 1, { ranges: { range: [{ prefix: '10.99.0.0/16' }] } });
    const p = c.predict();
    expect(routeTo(p, 'e', '10.96.0.0/13')).not.toBe('');
    expect(routeTo(p, 'e', '10.97.8.0/24')).not.toBe('');
    expect(routeTo(p, 'a', '10.99.0.0/16')).toBe('');
  });
  test('of one range in two areas of a border router the first is announced, with the parts of its own area', () => {
    const c = twoBorders()
      .router('e', '10.98.0.5', 2)
      .cable('b', 'e', '10.98.2.0', 2, 3)
      .port('e', 'den', '10.97.10.1/24', 2, { ...lan, cost: 70 })
      .area('b', 1, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } })
      .area('b', 2, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } });
    for (const road of [undefined, 'plain'] as const) {
      const p = c.predict(['router:c'], road ? { road } : {});
      expect(databaseOf(p, 'a', [3]).filter((l) => l.includes('10.97.'))).toEqual([expect.stringContaining('10.97.0.0')]);
      expect(routeTo(p, 'a', '10.97.0.0/16')).toBe('inter-area 60 via to-b 10.96.1.1');
    }
  });
  test('stub: no externals, a default at default-cost; totally stubby: the default alone', () => {
    const c = (summary: boolean) => {
      const out = twoBorders().static('a', '198.51.100.0/24', 'blackhole');
      for (const r of ['b', 'c', 'd']) out.area(r, 1, { 'area-type': 'stub-area', summary, 'default-cost': r === 'b' ? 5 : 9 });
      return out
        .router('x', '10.96.0.9', 0, { redistribution: [{ source: 'static' }] })
        .cable('x', 'a', '10.96.7.0', 0)
        .static('x', '203.0.113.0/24', 'blackhole')
        .predict();
    };
    expect(routeTo(c(true), 'd', '0.0.0.0/0')).toBe('inter-area 15 via to-b 10.97.2.0');
    expect(routeTo(c(true), 'd', '203.0.113.0/24')).toBe('');
    expect(routeTo(c(true), 'd', '10.96.0.1/32')).not.toBe('');
    expect(routeTo(c(false), 'd', '10.96.0.1/32')).toBe('');
    expect(routeTo(c(false), 'd', '0.0.0.0/0')).toBe('inter-area 15 via to-b 10.97.2.0');
  });
  test('a border router whose backbone is gone reads its other areas under RFC 3509 §2.2, and nothing under RFC 2328', () => {
    const c = (model: string) => twoBorders().ospf('b', { 'border-model': model }).predict(['link:a/to-b']);
    expect(routeTo(c('rfc3509'), 'b', '10.96.0.1/32')).toBe('inter-area 30 via to-d 10.97.2.1');
    expect(routeTo(c('rfc2328'), 'b', '10.96.0.1/32')).toBe('');
  });
  test('while its backbone lives a border router uses no summaries of other areas: a split backbone is not healed (§16.2)', () => {
    const p = twoBorders().router('z', '10.96.0.7', 0).cable('c', 'z', '10.96.5.0', 0).predict(['link:a/to-c']);
    expect(routeTo(p, 'c', '10.96.0.1/32')).toBe('');
    expect(routeTo(p, 'd', '10.96.0.7/32')).not.toBe('');
  });
  test('policies on what enters and leaves an area act on summaries, not on the border router itself', () => {
    const keep = (name: string, prefix: string) => ({
      'ietf-routing-policy:routing-policy': {
        'defined-sets': { 'prefix-sets': { 'prefix-set': [{ name: 'one', prefixes: { 'prefix-list': [{ 'ip-prefix': prefix }] } }] } },
        'policy-definitions': {
          'policy-definition': [
            {
              name,
              statements: {
                statement: [{ name: 's', conditions: { 'match-prefix-set': { 'prefix-set': 'one' } }, actions: { 'policy-result': 'accept-route' } }],
              },
            },
          ],
        },
      },
    });
    const out = twoBorders()
      .area('b', 1, { 'summary-out-policy': ['keep'] })
      .document('b', keep('keep', '10.97.8.0/24'))
      .predict(['router:c']);
    expect(
      routesOf(out, 'a')
        .filter((r) => r.includes('inter-area'))
        .map((r) => r.split(' ')[0]),
    ).toEqual(['10.97.8.0/24']);
    expect(routeTo(out, 'b', '10.97.9.0/24')).not.toBe('');
    const into = twoBorders()
      .area('b', 1, { 'summary-in-policy': ['keep'] })
      .document('b', keep('keep', '10.96.0.1/32'))
      .predict(['router:c']);
    expect(
      routesOf(into, 'd')
        .filter((r) => r.includes('inter-area'))
        .map((r) => r.split(' ')[0]),
    ).toEqual(['10.96.0.1/32']);
  });
  test('two networks of one address: the longer one sets its host bits in the link state id (appendix E)', () => {
    const p = twoBorders().port('d', 'wide', '10.97.8.129/16', 1, lan).port('d', 'tight', '10.97.0.1/24', 1, lan).predict(['router:c']);
    const ids = databaseOf(p, 'a', [3]).map((l) => l.split(' ')[1]);
    expect(ids).toContain('10.97.0.0');
    expect(ids).toContain('10.97.0.255');
  });
});

describe('virtual links (RFC 2328 §15, §16.3)', () => {
  /** Area 2 hangs behind area 1; b and d join it to the backbone. */
  const behind = (more: object = {}, cost = 10) =>
    campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .router('m', '10.97.0.3', 1)
      .router('d', '10.97.0.4', 1)
      .router('e', '10.98.0.5', 2)
      .cable('a', 'b', '10.96.1.0', 0)
      .cable('b', 'm', '10.97.1.0', 1)
      .cable('m', 'd', '10.97.1.2', 1)
      .cable('d', 'e', '10.98.1.0', 2, cost)
      .area('b', 0, { 'virtual-links': { 'virtual-link': [{ 'transit-area-id': '0.0.0.1', 'router-id': '10.97.0.4' }] } })
      .area('d', 0, { 'virtual-links': { 'virtual-link': [{ 'transit-area-id': '0.0.0.1', 'router-id': '10.96.0.2', ...more }] } });
  test('an area behind another is reached, with the path through the transit area as its cost', () => {
    const p = behind().predict();
    expect(p.routing.virtuals.map((v) => v.cost)).toEqual([20, 20]);
    expect(routeTo(p, 'a', '10.98.0.5/32')).toBe('inter-area 40 via to-b 10.96.1.1');
    expect(routeTo(p, 'e', '10.96.0.1/32')).toBe('inter-area 40 via to-d 10.98.1.0');
    expect(linksOf(p, 'd', 0)).toEqual(['virtual 10.96.0.2 10.97.1.3 20']);
  });
  test('without it, with other timers at one end, or with a broken path, the area is cut off', () => {
    expect(routeTo(behind({ 'dead-interval': 77 }).predict(), 'a', '10.98.0.5/32')).toBe('');
    expect(routeTo(behind().predict(['link:m/to-d']), 'a', '10.98.0.5/32')).toBe('');
  });
  test('a transit area may not be a stub area', () => {
    const c = behind();
    for (const r of ['b', 'm', 'd']) c.area(r, 1, { 'area-type': 'stub-area' });
    expect(c.predict().routing.virtuals).toEqual([]);
  });
  test('a shorter way through the transit area replaces the one over the backbone (§16.3)', () => {
    const p = behind()
      .router('n', '10.96.0.9', 0)
      .cable('a', 'n', '10.96.4.0', 0, 50)
      .port('n', 't', '10.97.7.1/24', 1, { cost: 1 })
      .port('d', 't', '10.97.7.2/24', 1, { cost: 1 })
      .predict();
    expect(routeTo(p, 'd', '10.96.0.9/32')).toBe('intra-area 1 via t 10.97.7.1');
  });
  test('what is inside another of its areas a router reaches there, whatever the transit area says of it (§16.3 (1))', () => {
    const c = behind({}, 100)
      .router('x', '10.96.0.8', 0)
      .cable('a', 'x', '10.96.4.0', 0)
      .cable('m', 'x', '10.97.1.6', 1, 1)
      .cable('x', 'e', '10.98.1.4', 2, 1)
      .port('e', 'lab', '10.98.8.1/24', 2, { ...lan, cost: 1 });
    for (const road of [undefined, 'plain'] as const) {
      const p = c.predict([], road ? { road } : {});
      expect(routeTo(p, 'd', '10.98.8.0/24')).toBe('intra-area 101 via to-e 10.98.1.1');
      expect(routeTo(p, 'm', '10.98.8.0/24')).toBe('inter-area 3 via to-x 10.97.1.7');
    }
  });
});

describe('what a router takes into its own table', () => {
  const ring = () =>
    campus().router('a', '10.96.0.1', 0).router('b', '10.96.0.2', 0).cable('a', 'b', '10.96.1.0', 0).port('b', 'lab', '10.97.8.1/24', 0, lan);
  test('direct before static before OSPF; a static route with a worse preference waits behind', () => {
    expect(ribOf(ring().static('a', '10.97.8.0/24', 'blackhole').predict(), 'a')).toContain('10.97.8.0/24 static');
    const p = ring().static('a', '10.97.8.0/24', 'blackhole', { 'route-preference': 200 });
    expect(ribOf(p.predict(), 'a')).toContain('10.97.8.0/24 ospf');
    expect(ribOf(p.predict(['interface:b/lab']), 'a')).toContain('10.97.8.0/24 static');
  });
  test('a static route needs its next hop on a direct or another valid static route', () => {
    const p = ring()
      .port('a', 'out', '203.0.113.2/30', null)
      .static('a', '198.51.100.0/24', '203.0.113.1')
      .static('a', '192.0.2.0/24', '198.51.100.7')
      .static('a', '192.0.3.0/24', '10.97.8.9');
    expect(ribOf(p.predict(), 'a').filter((r) => r.endsWith('static'))).toEqual(['192.0.2.0/24 static', '198.51.100.0/24 static']);
    expect(ribOf(p.predict(['interface:a/out']), 'a').filter((r) => r.endsWith('static'))).toEqual([]);
  });
  test('a policy on the way into the table leaves the database and the routes of others alone', () => {
    const policy = {
      'ietf-routing-policy:routing-policy': {
        'defined-sets': {
          'prefix-sets': {
            'prefix-set': [
              { name: 'lab', prefixes: { 'prefix-list': [{ 'ip-prefix': '10.97.0.0/16', 'mask-length-lower': 24, 'mask-length-upper': 24 }] } },
            ],
          },
        },
        'policy-definitions': {
          'policy-definition': [
            {
              name: 'own',
              statements: {
                statement: [
                  { name: 'no', conditions: { 'match-prefix-set': { 'prefix-set': 'lab' } }, actions: { 'policy-result': 'reject-route' } },
                  { name: 'yes', actions: { 'policy-result': 'accept-route' } },
                ],
              },
            },
          ],
        },
      },
    };
    const p = ring()
      .ospf('a', { 'rib-policy': ['own'] })
      .document('a', policy)
      .router('z', '10.96.0.9', 0)
      .cable('a', 'z', '10.96.5.0', 0)
      .predict();
    expect(routeTo(p, 'a', '10.97.8.0/24')).not.toBe('');
    expect(ribOf(p, 'a').some((r) => r.startsWith('10.97.8.0'))).toBe(false);
    expect(routeTo(p, 'z', '10.97.8.0/24')).not.toBe('');
  });
});

describe('failures', () => {
  const net = () =>
    campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .router('c', '10.96.0.3', 0)
      .cable('a', 'b', '10.96.1.0', 0)
      .lan('reef', '10.97.1.0/24', 0, ['a', 'b', 'c']);
  test('a cable takes the carrier from both ends, a LAN port only its own', () => {
    expect(ribOf(net().predict(['interface:a/to-b']), 'b')).not.toContain('10.96.1.0/31 direct');
    expect(ribOf(net().predict(['interface:a/reef']), 'b')).toContain('10.97.1.0/24 direct');
    expect(ribOf(net().predict(['lan:a/reef']), 'c')).not.toContain('10.97.1.0/24 direct');
  });
  test('where the loss of carrier is not seen both ends keep port and prefix, and lose the neighbour', () => {
    const p = net().links(['a/to-b b/to-a'], { 'gentle-compass:carrier-loss-seen': false }).predict(['link:a/to-b']);
    expect(ribOf(p, 'a')).toContain('10.96.1.0/31 direct');
    expect(p.adjacencies.pairs.find((x) => x.a.port.iface.name === 'to-b')?.a.state).toBe('down');
  });
  test('a shared risk takes all of its members', () => {
    const p = net()
      .links(['a/to-b b/to-a'], {}, [{ name: 'duct', members: ['link:a/to-b', 'router:c'] }])
      .predict(['group:duct']);
    expect(p.outage.routers.size).toBe(1);
    expect(ribOf(p, 'a')).not.toContain('10.96.1.0/31 direct');
  });
  test('names that the design does not know are told', () => {
    expect(net().predict(['router:nobody', 'link:a/none', 'group:none']).problems).toHaveLength(3);
  });
});

test('a border router of a stub area uses no default that stands in it, also after it lost its backbone neighbours (RFC 3509 §2.2)', () => {
  const c = (type: object) => {
    const made = campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .router('c', '10.96.0.3', 0)
      .router('x', '10.97.0.4', 4)
      .cable('a', 'b', '10.96.1.0', 0)
      .cable('a', 'c', '10.96.1.2', 0)
      .port('b', 'users', '10.96.9.1/24', 0, { passive: true })
      .cable('b', 'x', '10.97.2.0', 4)
      .cable('c', 'x', '10.97.2.2', 4);
    for (const r of ['b', 'c', 'x']) made.area(r, 4, type as Record<string, unknown>);
    return made.predict(['link:a/to-b']);
  };
  // b keeps an interface in the backbone and no neighbour there: it reads what c tells the stub area, and not its default.
  const stub = c({ 'area-type': 'stub-area' });
  expect(routeTo(stub, 'b', '10.96.0.1/32')).toBe('inter-area 30 via to-x 10.97.2.1');
  expect(routeTo(stub, 'b', '0.0.0.0/0')).toBe('');
  expect(routeTo(stub, 'x', '0.0.0.0/0')).toBe('inter-area 11 via to-b 10.97.2.0, to-c 10.97.2.2');
  const closed = c({ 'area-type': 'nssa-area', summary: false });
  expect(routeTo(closed, 'b', '0.0.0.0/0')).toBe('');
  expect(routeTo(closed, 'x', '0.0.0.0/0')).toBe('inter-area 11 via to-b 10.97.2.0, to-c 10.97.2.2');
});
