import { campus, type Campus } from './campus';

export const p2p = { 'interface-type': 'point-to-point' };
export const lan = { passive: true };

export const pair = (a: object = p2p, b: object = p2p): Campus =>
  campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .port('a', 'x', '10.96.1.1/30', 0, a as Record<string, unknown>)
    .port('b', 'x', '10.96.1.2/30', 0, b as Record<string, unknown>);
export const borders = (): Campus =>
  campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .router('d', '10.97.0.4', 1)
    .cable('a', 'b', '10.96.1.0', 0)
    .cable('a', 'c', '10.96.1.2', 0)
    .cable('b', 'd', '10.97.2.0', 1)
    .cable('c', 'd', '10.97.2.2', 1);
export const cloud = (spoke: number): Campus =>
  campus()
    .router('hub', '10.96.0.1')
    .router('s1', '10.96.0.2')
    .router('s2', '10.96.0.3')
    .lan(
      'cloud',
      '10.97.1.0/24',
      0,
      [
        ['hub', { 'static-neighbors': { neighbor: [{ identifier: '10.97.1.2' }, { identifier: '10.97.1.3' }] } }],
        ['s1', { priority: spoke }],
        ['s2', { priority: 0 }],
      ],
      { 'interface-type': 'non-broadcast' },
    );
export const exit = (ospf: Record<string, unknown>, area: Record<string, unknown> = {}): Campus =>
  campus()
    .router('a', '10.96.0.1', 1)
    .router('x', '10.96.0.2', 1, ospf)
    .cable('a', 'x', '10.96.1.0', 1)
    .static('x', '198.51.100.0/24', 'blackhole')
    .area('a', 1, area)
    .area('x', 1, area);

export const activated = (activation: readonly object[]): Campus =>
  campus().router('a', '10.96.0.1', null, { activation }).port('a', 'lab', '10.97.1.1/24 10.99.1.1/24', null).port('a', 'yard', '10.98.1.1/24', null);
export const behind = (back: Record<string, unknown>): Campus =>
  borders()
    .router('e', '10.98.0.5', 2)
    .cable('d', 'e', '10.98.1.0', 2)
    .area('b', 0, { 'virtual-links': { 'virtual-link': [{ 'transit-area-id': '0.0.0.1', 'router-id': '10.97.0.4' }] } })
    .area('d', 0, back);

/** Rule, a network on which it fires, and a near miss on which nothing does. */
export const cases: readonly [string, Campus, Campus][] = [
  [
    'hello-interval',
    pair(p2p, { ...p2p, 'hello-interval': 5, 'dead-interval': 40 }),
    pair({ ...p2p, 'hello-interval': 5 }, { ...p2p, 'hello-interval': 5, 'dead-interval': 20 }),
  ],
  ['dead-interval', pair(p2p, { ...p2p, 'dead-interval': 41 }), pair(p2p, { ...p2p, 'dead-interval': 40 })],
  [
    'mask',
    pair({}, {}).port('b', 'y', '10.96.5.1/24', 0).port('a', 'y', '10.96.5.2/25', 0),
    pair({}, {}).port('b', 'y', '10.96.5.1/24', 0, p2p).port('a', 'y', '10.96.5.2/25', 0, p2p),
  ],
  [
    'authentication',
    pair({ ...p2p, authentication: { 'ospfv2-key': 'k' } }),
    pair({ ...p2p, authentication: { 'ospfv2-key': 'k' } }, { ...p2p, authentication: { 'ospfv2-key': 'k' } }),
  ],
  [
    'area',
    campus().router('a', '10.96.0.1').router('b', '10.96.0.2').port('a', 'x', '10.96.1.1/30', 1, p2p).port('b', 'x', '10.96.1.2/30', 2, p2p),
    campus().router('a', '10.96.0.1').router('b', '10.96.0.2').port('a', 'x', '10.96.1.1/30', 1, p2p).port('b', 'x', '10.96.1.2/30', '0.0.0.1', p2p),
  ],
  [
    'area-type',
    borders().area('d', 1, { 'area-type': 'stub-area' }),
    ['b', 'c', 'd'].reduce((x, r) => x.area(r, 1, { 'area-type': 'stub-area' }), borders()),
  ],
  ['passive', pair({ ...p2p, passive: true }), pair()],
  ['disabled', pair({ ...p2p, enabled: false }), pair({ ...p2p, enabled: true })],
  [
    'duplicate-router-id',
    pair().router('z', '10.96.0.1', null).cable('b', 'z', '10.96.8.0', 0),
    pair().router('z', '10.96.0.9', null).cable('b', 'z', '10.96.8.0', 0),
  ],
  ['mtu', pair({ ...p2p, mtu: 9000 }), pair({ ...p2p, mtu: 9000 }, { ...p2p, 'mtu-ignore': true })],
  ['network-type', pair({}), pair({}, {})],
  [
    'interface-not-in-ospf',
    pair().port('a', 'y', '10.96.9.1/30', 0, p2p).port('b', 'y', '10.96.9.2/30', null),
    pair().port('a', 'y', '10.96.9.1/30', 0, lan).port('b', 'y', '10.96.9.2/30', null),
  ],
  [
    'key-not-switched-on',
    pair({ ...p2p, 'authentication-required': false, authentication: { 'ospfv2-key': 'k' } }),
    pair({ ...p2p, 'authentication-required': false }),
  ],
  [
    'key-missing',
    pair({ ...p2p, 'authentication-required': true }),
    pair({ ...p2p, 'authentication-required': true, authentication: { 'ospfv2-key': 'k' } }, { ...p2p, authentication: { 'ospfv2-key': 'k' } }),
  ],
  ['spoke-can-lead', cloud(1), cloud(0)],
  [
    'area-detached',
    borders().router('z', '10.98.0.9', 2).cable('d', 'z', '10.98.1.0', 2),
    borders().router('z', '10.98.0.9', 2).cable('b', 'z', '10.98.1.0', 2),
  ],
  [
    'loopback-not-advertised',
    pair().port('a', 'lo2', '10.96.7.7/32', null, { iface: { type: 'softwareLoopback' } }),
    pair().port('a', 'lo2', '10.96.7.7/32', 0, { iface: { type: 'softwareLoopback' } }),
  ],
  [
    'virtual-interface-down',
    pair().port('a', 'vlan9', '10.97.9.1/24', 0, { ...lan, iface: { 'carried-by': [] } }),
    pair().port('a', 'vlan9', '10.97.9.1/24', 0, { ...lan, iface: { 'carried-by': ['x'] } }),
  ],
  ['router-id-not-loopback', pair().ospf('a', { 'explicit-router-id': '10.96.0.77' }), pair()],
  [
    'reference-bandwidth',
    ['a', 'b', 'c', 'd'].reduce((x, r, i) => x.ospf(r, { 'auto-cost': { enabled: true, 'reference-bandwidth': i === 3 ? 100 : 400000 } }), borders()),
    ['a', 'b', 'c', 'd'].reduce((x, r) => x.ospf(r, { 'auto-cost': { enabled: true, 'reference-bandwidth': 400000 } }), borders()),
  ],
  [
    'range-not-at-border',
    borders().area('d', 1, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } }),
    ['b', 'c'].reduce((x, r) => x.area(r, 1, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } }), borders()),
  ],
  [
    'range-empty',
    ['b', 'c'].reduce((x, r) => x.area(r, 1, { ranges: { range: [{ prefix: '10.99.0.0/16' }] } }), borders()),
    ['b', 'c'].reduce((x, r) => x.area(r, 1, { ranges: { range: [{ prefix: '10.97.2.0/24' }] } }), borders()),
  ],
  [
    'range-foreign',
    ['b', 'c'].reduce((x, r) => x.area(r, 1, { ranges: { range: [{ prefix: '10.96.0.0/15' }] } }), borders()),
    ['b', 'c'].reduce((x, r) => x.area(r, 1, { ranges: { range: [{ prefix: '10.97.0.0/17' }] } }), borders()),
  ],
  ['ranges-differ', borders().area('b', 1, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } }), borders()],
  [
    'redistribution-in-stub',
    exit({ redistribution: [{ source: 'static', policy: ['p'] }] }, { 'area-type': 'stub-area' }),
    exit({ redistribution: [{ source: 'static', policy: ['p'] }] }, { 'area-type': 'nssa-area' }),
  ],
  [
    'default-missing',
    exit({ 'default-route': { announce: 'if-present' } }),
    exit({ 'default-route': { announce: 'if-present' } }).static('x', '0.0.0.0/0', 'blackhole'),
  ],
  [
    'redistribution-without-policy',
    exit({ redistribution: [{ source: 'static' }] }),
    exit({ redistribution: [{ source: 'static', policy: ['p'] }] }),
  ],
  ['activation-idle', activated([{ match: '0.0.0.0/0.0.0.255', 'area-id': 0 }]), activated([{ match: '10.97.1.0/0.0.0.255', 'area-id': 0 }])],
  ['activation-addresses', activated([{ match: '10.97.1.1/32', 'area-id': 0 }]), activated([{ match: '10.96.0.0/13', 'area-id': 0 }])],
  ['process-does-not-run', pair().ospf('a', { enabled: false }), pair().ospf('a', { enabled: true })],
  [
    'static-neighbor-missing',
    cloud(1),
    pair(
      { 'interface-type': 'non-broadcast', 'static-neighbors': { neighbor: [{ identifier: '10.96.1.2' }] } },
      { 'interface-type': 'non-broadcast' },
    ),
  ],
  ['nobody-leads', pair({ priority: 0 }, { priority: 0 }), pair({ priority: 0 }, { priority: 1 })],
  ['lan-of-two', pair({}, {}), pair()],
  ['leftover-area', pair().port('b', 'old', '10.97.5.1/24', 7, lan).router('z', '10.96.0.9', 7), pair().port('b', 'old', '10.97.5.1/24', 7, lan)],
  [
    'duplicate-address',
    pair().port('b', 'y', '10.97.5.1/24', null).port('a', 'z', '10.97.5.1/25', null),
    pair().port('b', 'y', '10.97.5.1/24', null).port('a', 'z', '10.97.5.2/25', null),
  ],
  ['virtual-link-down', behind({}), behind({ 'virtual-links': { 'virtual-link': [{ 'transit-area-id': '0.0.0.1', 'router-id': '10.96.0.2' }] } })],
  ['unequal-costs', pair({ ...p2p, cost: 5 }, { ...p2p, cost: 6 }), pair({ ...p2p, cost: 5 }, { ...p2p, cost: 5 })],
  [
    'flat-costs',
    pair({ ...p2p, iface: { 'bandwidth-mbps': 1000 } })
      .ospf('a', { 'auto-cost': { enabled: true, 'reference-bandwidth': 100 } })
      .port('a', 'fast', '10.97.5.1/24', 0, { ...lan, iface: { 'bandwidth-mbps': 10000 } }),
    pair({ ...p2p, iface: { 'bandwidth-mbps': 1000 } })
      .ospf('a', { 'auto-cost': { enabled: true, 'reference-bandwidth': 10000 } })
      .port('a', 'fast', '10.97.5.1/24', 0, { ...lan, iface: { 'bandwidth-mbps': 10000 } }),
  ],
  [
    'range-partial',
    borders()
      .port('d', 'wide', '10.97.64.1/18', 1, lan)
      .area('b', 1, { ranges: { range: [{ prefix: '10.97.64.0/20' }] } }),
    borders()
      .port('d', 'wide', '10.97.64.1/18', 1, lan)
      .area('b', 1, { ranges: { range: [{ prefix: '10.97.64.0/18' }] } }),
  ],
  [
    'backbone-range',
    borders()
      .router('e', '10.98.0.5', 2)
      .cable('c', 'e', '10.98.1.0', 2)
      .area('b', 0, { ranges: { range: [{ prefix: '10.96.0.0/13' }] } }),
    borders()
      .router('e', '10.98.0.5', 2)
      .cable('c', 'e', '10.98.1.0', 2)
      .area('b', 0, { ranges: { range: [{ prefix: '10.96.0.0/16' }] } }),
  ],
  ['policy-unknown', exit({ redistribution: [{ source: 'static', policy: ['nowhere'] }] }), exit({ redistribution: [{ source: 'static' }] })],
  [
    'rfc1583-differs',
    pair().ospf('a', { 'rfc1583-compatible': true }),
    pair().ospf('a', { 'rfc1583-compatible': true }).ospf('b', { 'rfc1583-compatible': true }),
  ],
];
