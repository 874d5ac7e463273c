import { activated, borders, exit, lan, p2p, pair } from './finding-cases';
import { campus, campus6, type Campus } from './campus';
import { dual, type DualRouter } from './dual';

/** Gives the cable of a pair another link-local address. */
function linkLocalOf(r: DualRouter, ip: string): void {
  const { 'ietf-ip:ipv6': six } = r.iface('x');
  for (const a of six?.address ?? []) if (a.ip.startsWith('fe80')) a.ip = ip;
}

const bothBorders = (leaves: Record<string, unknown>): Campus => ['b', 'c', 'd'].reduce((x, r) => x.area(r, 1, leaves), borders());
const stub = { 'area-type': 'stub-area' };
const settings = (c: Campus, ...expectation: readonly object[]): Campus => c.settings({ expectation });

/** A filter of summaries that lets everything pass but one prefix. */
const allBut = (prefix: string): Record<string, unknown> => ({
  'ietf-routing-policy:routing-policy': {
    'defined-sets': {
      'prefix-sets': {
        'prefix-set': [{ name: 'hidden', prefixes: { 'prefix-list': [{ 'ip-prefix': prefix, 'mask-length-lower': 8, 'mask-length-upper': 32 }] } }],
      },
    },
    'policy-definitions': {
      'policy-definition': [
        {
          name: 'but',
          statements: {
            statement: [
              { name: 'no', conditions: { 'match-prefix-set': { 'prefix-set': 'hidden' } }, actions: { 'policy-result': 'reject-route' } },
              { name: 'yes', actions: { 'policy-result': 'accept-route' } },
            ],
          },
        },
      ],
    },
  },
});
/** Two cables into area 1, so that a filter at one border router alone cuts nobody off. */
const filtered = (routers: readonly string[]): Campus => {
  const c = borders();
  for (const r of routers) c.document(r, allBut('10.97.0.4/32')).area(r, 1, { 'summary-out-policy': ['but'] });
  return c;
};
/** a - b - z in a row; b keeps the address of z out of its own table. */
const row = (policy: readonly string[]): Campus =>
  campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0, { 'rib-policy': policy })
    .router('z', '10.96.0.9', 0)
    .cable('a', 'b', '10.96.1.0', 0)
    .cable('b', 'z', '10.96.1.2', 0)
    .document('b', allBut('10.96.0.9/32'));
/** a has a route of another protocol over a session with somebody's loopback. */
const far = (nextHop: string): Campus => pair().ospf('a', { 'other-routes': [{ prefix: '198.51.100.0/24', 'next-hop': nextHop }] });
/** a - x - b in a row; x runs OSPF in an area, or not at all. */
const between = (area: number | null): Campus =>
  pair()
    .router('x', '10.96.0.8')
    .port('a', 'mid', '10.96.2.1/30', 0, p2p)
    .port('x', 'left', '10.96.2.2/30', area, p2p)
    .port('x', 'right', '10.96.2.6/30', area, p2p)
    .port('b', 'mid', '10.96.2.5/30', 0, p2p);
/** Area 1 behind two border routers; without the cable between its two routers it is in two pieces. */
const twoPieces = (joined: boolean, range?: object): Campus => {
  const c = campus()
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .router('d', '10.97.0.4', 1)
    .router('e', '10.97.0.5', 1)
    .cable('b', 'c', '10.96.1.0', 0)
    .cable('b', 'd', '10.97.2.0', 1)
    .cable('c', 'e', '10.97.2.2', 1);
  if (joined) c.cable('d', 'e', '10.97.2.4', 1);
  if (range) for (const r of ['b', 'c']) c.area(r, 1, { ranges: { range: [range] } });
  return c;
};
const acceptAll = {
  'ietf-routing-policy:routing-policy': {
    'policy-definitions': {
      'policy-definition': [{ name: 'p', statements: { statement: [{ name: 'all', actions: { 'policy-result': 'accept-route' } }] } }],
    },
  },
};
/** x announces a subnet from outside, and folds; a LAN of its own may lie beside it, inside. */
const folding = (prefix: string, inside?: string): Campus => {
  const c = exit({ redistribution: [{ source: 'static', policy: ['p'] }], 'external-ranges': [{ prefix }] }).document('x', acceptAll);
  return inside === undefined ? c : c.port('x', 'lab', inside, 1, lan);
};
/** An NSSA behind two border routers, of which some fold what comes out of it. */
const nssa = (folds: readonly string[], metric: number): Campus =>
  folds
    .reduce(
      (x, r) => x.ospf(r, { 'external-ranges': [{ prefix: '198.51.100.0/22', metric }] }),
      ['b', 'c', 'd']
        .reduce((x, r) => x.area(r, 1, { 'area-type': 'nssa-area' }), borders())
        .ospf('d', {
          redistribution: [{ source: 'static', policy: ['p'] }],
        }),
    )
    .document('d', acceptAll)
    .static('d', '198.51.100.0/24', 'blackhole');
/** a hangs on b, and farther away on c; the two tell one summary, and the way across their area is long. */
const twoSides = (far: number): Campus =>
  ['b', 'c'].reduce(
    (x, r) => x.area(r, 1, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } }),
    campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .router('c', '10.96.0.3', 0)
      .router('d', '10.97.0.4', 1)
      .router('e', '10.97.0.5', 1)
      .cable('a', 'b', '10.96.1.0', 0, 10)
      .cable('a', 'c', '10.96.1.2', 0, far)
      .cable('b', 'd', '10.97.2.0', 1, 2)
      .cable('c', 'e', '10.97.2.2', 1, 2)
      .cable('d', 'e', '10.97.2.4', 1, 100),
  );
/** A chain a - b with a LAN of b that OSPF carries, and a cable whose subnet OSPF does or does not. */
const probed = (expectation: object, hidden: boolean): Campus =>
  settings(
    campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .router('z', '10.96.0.9', 0)
      .cable('a', 'b', '10.96.1.0', 0, 10, hidden ? { 'prefix-suppression': true } : {})
      .cable('b', 'z', '10.96.1.2', 0),
    expectation,
  );
const alike = (second: Record<string, unknown>): Campus =>
  borders()
    .ospf('b', { 'spf-control': { paths: 4 } })
    .ospf('c', second)
    .settings({ alike: [{ name: 'the border', router: ['b', 'c'] }] });
const imports = (tag: number): Campus => {
  const c = pair();
  for (const r of ['a', 'b'])
    c.ospf(r, { redistribution: [{ source: 'other', ...(tag > 0 ? { tag } : {}), policy: [] }], 'other-routes': [{ prefix: '198.51.100.0/24' }] });
  return c;
};

/** Rule, a network on which it fires, and a near miss on which it does not. */
export const moreCases: readonly [string, Campus, Campus][] = [
  [
    'near-miss-subnet',
    pair().port('a', 'to-b', '10.96.5.1/31', 0, p2p).port('b', 'to-a', '10.96.5.2/31', 0, p2p),
    pair().port('a', 'to-b', '10.96.5.0/31', 0, p2p).port('b', 'to-a', '10.96.5.1/31', 0, p2p),
  ],
  [
    'overlapping-subnets',
    pair().port('a', 'y', '10.97.5.1/24', 0, lan).port('a', 'z', '10.97.5.129/25', 0, lan),
    pair().port('a', 'y', '10.97.5.1/25', 0, lan).port('a', 'z', '10.97.5.129/25', 0, lan),
  ],
  [
    'subnet-lengths-differ',
    pair().port('b', 'y', '10.96.5.1/24', 0, p2p).port('a', 'y', '10.96.5.2/25', 0, p2p),
    pair().port('b', 'y', '10.96.5.1/24', 0, p2p).port('a', 'y', '10.96.5.2/24', 0, p2p),
  ],
  ['both-passive', pair({ ...p2p, passive: true }, { ...p2p, passive: true }), pair({ ...p2p, passive: true }, { ...p2p, passive: false })],
  ['dead-within-hello', pair({ ...p2p, 'hello-interval': 10, 'dead-interval': 10 }), pair({ ...p2p, 'hello-interval': 10, 'dead-interval': 11 })],
  ['bfd-one-side', pair({ ...p2p, bfd: { enabled: true } }), pair({ ...p2p, bfd: { enabled: true } }, { ...p2p, bfd: { enabled: true } })],
  [
    'interface-idle',
    pair().port('a', 'off', '10.97.5.1/24', 0, { ...lan, iface: { enabled: false } }),
    pair().port('a', 'on', '10.97.5.1/24', 0, { ...lan, iface: { enabled: true } }),
  ],
  [
    'key-in-the-clear',
    pair({ ...p2p, authentication: { 'ospfv2-key': 'k' } }, { ...p2p, authentication: { 'ospfv2-key': 'k' } }),
    pair(
      { ...p2p, authentication: { 'ospfv2-key-id': 1, 'ospfv2-key': 'k' } },
      { ...p2p, authentication: { 'ospfv2-key-id': 1, 'ospfv2-key': 'k' } },
    ),
  ],
  [
    'activation-broad',
    activated([{ match: 'any', 'area-id': 0 }])
      .router('z', '10.96.0.9')
      .port('z', 'lab', '10.97.1.9/24', 1),
    activated([
      { match: 'lab', 'area-id': 1 },
      { match: 'any', 'area-id': 0 },
    ])
      .router('z', '10.96.0.9')
      .port('z', 'lab', '10.97.1.9/24', 1),
  ],
  ['mask-read-as', activated([{ match: '10.97.1.0/0.0.0.255', 'area-id': 0 }]), activated([{ match: '10.97.1.0/24', 'area-id': 0 }])],
  ['router-id-derived', pair().ospf('a', { 'explicit-router-id': undefined }), pair()],
  ['other-route-unresolved', far('10.96.0.77'), far('10.96.0.2')],
  ['router-id-unusual', pair().ospf('a', { 'explicit-router-id': '239.0.0.1' }), pair().ospf('a', { 'explicit-router-id': '223.0.0.1' })],
  ['area-split', twoPieces(false), twoPieces(true)],
  ['router-without-ospf', between(null), between(0)],
  ['range-black-hole', twoPieces(false, { prefix: '10.97.0.0/16' }), twoPieces(true, { prefix: '10.97.0.0/16' })],
  [
    'range-cost-differs',
    ['b', 'c'].reduce((x, r) => x.area(r, 1, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } }), borders()).ospf('c', { 'range-cost': 'smallest' }),
    ['b', 'c'].reduce((x, r) => x.area(r, 1, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } }).ospf(r, { 'range-cost': 'smallest' }), borders()),
  ],
  [
    'summary-detour',
    twoSides(12),
    // Across the area is no farther than around it.
    twoSides(200),
  ],
  ['external-range-empty', folding('10.98.0.0/16'), folding('198.51.100.0/23')],
  ['external-range-foreign', folding('198.51.100.0/22', '198.51.102.1/24'), folding('198.51.100.0/23', '198.51.102.1/24')],
  ['translators-differ', nssa(['b'], 9), nssa(['b', 'c'], 9)],
  [
    'pool-full',
    pair().settings({ pool: [{ prefix: '10.96.0.1/32', purpose: 'loopbacks' }] }),
    pair().settings({ pool: [{ prefix: '10.96.0.0/24', purpose: 'loopbacks' }] }),
  ],
  ['area-scattered', borders().port('d', 'far', '10.95.0.1/24', 1, lan), borders().port('d', 'far', '10.97.200.1/24', 1, lan)],
  [
    'area-names-differ',
    borders().area('b', 1, { 'gentle-compass:name': 'Mudflats' }).area('d', 1, { 'gentle-compass:name': 'Mud flats' }),
    borders().area('b', 1, { 'gentle-compass:name': 'Mudflats' }).area('d', 1, { 'gentle-compass:name': 'Mudflats' }),
  ],
  [
    'stub-summaries-differ',
    bothBorders(stub).area('b', 1, { summary: false }),
    ['b', 'c'].reduce((x, r) => x.area(r, 1, { summary: false }), bothBorders(stub)),
  ],
  ['summary-without-effect', bothBorders(stub).area('d', 1, { summary: false }), bothBorders(stub).area('b', 1, { summary: false })],
  ['filter-removes', filtered(['b', 'c']), filtered([])],
  ['own-table-black-hole', row(['but']), row([])],
  [
    'redistribution-direct',
    exit({ redistribution: [{ source: 'direct', policy: ['p'] }] }),
    exit({ redistribution: [{ source: 'static', policy: ['p'] }] }),
  ],
  ['imported-twice', imports(0), imports(77)],
  ['stub-router-on', pair().ospf('a', { 'stub-router': { always: [null] } }), pair()],
  [
    'forgotten-in-one-family',
    dual(pair(), { a: (r) => r.three.areas.area.forEach((x) => (x.interfaces.interface = x.interfaces.interface.filter((i) => i['name'] !== 'x'))) }),
    dual(pair()),
  ],
  [
    'areas-differ',
    dual(pair(), {
      a: (r) => r.three.areas.area.forEach((x) => (x['area-id'] = '0.0.0.7')),
      b: (r) => r.three.areas.area.forEach((x) => (x['area-id'] = '0.0.0.7')),
    }),
    dual(pair()),
  ],
  [
    'reached-in-one-family',
    dual(borders(), { d: (r) => Object.assign(r.port('to-b'), { passive: true }), c: (r) => Object.assign(r.port('to-d'), { passive: true }) }),
    dual(borders()),
  ],
  [
    'equal-link-local',
    dual(pair(), { a: (r) => linkLocalOf(r, 'fe80::7'), b: (r) => linkLocalOf(r, 'fe80::7') }),
    dual(pair(), { a: (r) => linkLocalOf(r, 'fe80::7'), b: (r) => linkLocalOf(r, 'fe80::8') }),
  ],
  [
    'global-address-missing',
    campus6().router('a', '10.96.0.1').router('b', '10.96.0.2', 0).wire('a', 'b', 0),
    campus6().router('a', '10.96.0.1', 0).router('b', '10.96.0.2', 0).wire('a', 'b', 0),
  ],
  [
    'address-family-not-predicted',
    dual(pair(), { a: (r) => Object.assign(r.three, { 'address-family': 'ipv4-unicast' }) }),
    dual(pair(), { a: (r) => Object.assign(r.three, { 'address-family': 'ipv6-unicast' }) }),
  ],
  ['alike-differs', alike({ 'spf-control': { paths: 8 } }), alike({ 'spf-control': { paths: 4 } })],
  [
    'expectation-broken',
    probed({ name: 'no way out', kind: 'reach', from: '10.96.0.1', to: '203.0.113.9' }, false),
    probed({ name: 'end to end', kind: 'reach', from: '10.96.0.1', to: '10.96.0.9' }, false),
  ],
  [
    'wrong-source',
    probed({ name: 'from the cable', kind: 'reach', from: '10.96.1.0', to: '10.96.0.9' }, true),
    probed({ name: 'from the cable', kind: 'reach', from: '10.96.1.0', to: '10.96.0.9' }, false),
  ],
  [
    'return-path-missing',
    settings(pair().port('a', 'lab', '10.97.5.1/24', null), { name: 'lab', kind: 'reach', from: '10.97.5.50', to: '10.96.0.2' }),
    settings(pair().port('a', 'lab', '10.97.5.1/24', 0, lan), { name: 'lab', kind: 'reach', from: '10.97.5.50', to: '10.96.0.2' }),
  ],
  [
    'external-in-stub',
    settings(
      bothBorders(stub)
        .area('b', 1, { 'default-cost': 1 })
        .ospf('a', { redistribution: [{ source: 'static', policy: [] }] })
        .static('a', '198.51.100.0/24', 'blackhole'),
      { name: 'the partner net', kind: 'route', router: 'd', prefix: '198.51.100.0/24' },
    ),
    settings(
      borders()
        .ospf('a', { redistribution: [{ source: 'static', policy: [] }] })
        .static('a', '198.51.100.0/24', 'blackhole'),
      { name: 'the partner net', kind: 'route', router: 'd', prefix: '198.51.100.0/24' },
    ),
  ],
  [
    'slower-than-expected',
    settings(borders().links(['b/to-d d/to-b', 'c/to-d d/to-c', 'a/to-b b/to-a', 'a/to-c c/to-a'], { 'gentle-compass:carrier-loss-seen': false }), {
      name: 'at once',
      kind: 'reach',
      from: '10.96.0.1',
      to: '10.97.0.4',
      under: 'any-link',
      'within-ms': 1000,
    }),
    settings(borders(), { name: 'at once', kind: 'reach', from: '10.96.0.1', to: '10.97.0.4', under: 'any-link', 'within-ms': 1000 }),
  ],
];
