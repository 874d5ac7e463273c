import { loadsOf } from '../loads/loads';
import { formatAddress, formatPrefix } from '../prefix/address';
import { campus } from '../testing/campus';
import { sample } from '../testing/sample';
import { predict } from '../predict';
import { exitsOf, hostSubnets, lanDemands } from './lan-demands';

/** labs and pier are LANs of hosts, reef is one of routers; x and y tell of a default, z of a prefix outside. */
const net = () =>
  campus()
    .router('x', '10.96.0.1', 0, { 'default-route': { announce: 'always' } })
    .router('y', '10.96.0.2', 0, { 'default-route': { announce: 'always' } })
    .router('m', '10.96.0.3', 0)
    .lan('reef', '10.96.1.0/24', 0, [
      ['x', { cost: 10 }],
      ['m', { cost: 10 }],
    ])
    .cable('m', 'y', '10.96.2.0', 0, 4)
    .port('m', 'labs', '10.96.8.1/24', 0, { passive: true })
    .port('y', 'pier', '10.96.9.1/24', 0, { passive: true });

test('counted by hand: each LAN of hosts sends to the nearest exit; what stands at one crosses nothing', () => {
  const p = net().predict();
  expect(exitsOf(p)).toEqual({ routers: ['x', 'y'], byDefault: true });
  expect(hostSubnets(p).map(formatPrefix).sort()).toEqual(['10.96.8.0/24', '10.96.9.0/24']);
  const { demands, left } = lanDemands(p, 30);
  // m reaches y at 4 and x at 10; the hosts on the pier are at y.
  expect(demands.map((d) => [typeof d.from === 'number' ? formatAddress(d.from) : d.from, d.to, d.mbps])).toEqual([['10.96.8.128', 'y', 30]]);
  expect(left).toBe(0);
  expect(loadsOf([p], demands).links.map((l) => [l.router, l.iface, l.mbps])).toEqual([['m', 'to-y', 30]]);
});

test('with no default anywhere, whoever tells of something outside is an exit; whoever translates it or gives an NSSA its default is none', () => {
  const nssa = (more: object = {}): ReturnType<typeof campus> =>
    campus()
      .router('core', '10.96.0.1', 0)
      .router('gate', '10.96.0.2', 0)
      .router('buoy', '10.96.0.3', 10)
      .cable('core', 'gate', '10.96.2.0', 0)
      .cable('gate', 'buoy', '10.97.2.0', 10)
      .port('core', 'labs', '10.96.8.1/24', 0, { passive: true })
      .area('gate', 10, { 'area-type': 'nssa-area', nssa: { 'default-route': true } })
      .area('buoy', 10, { 'area-type': 'nssa-area', ...more });
  // gate gives area 10 its default: nothing leaves there.
  expect(exitsOf(nssa().predict())).toEqual({ routers: [], byDefault: false });
  expect(lanDemands(nssa().predict(), 5)).toEqual({ demands: [], left: 1, exits: [] });
  const told = nssa()
    .static('buoy', '198.51.100.0/24', '10.97.2.0')
    .ospf('buoy', { redistribution: [{ source: 'static' }] });
  const p = told.predict();
  expect(p.adjacencies.speakers.flatMap((s) => p.routing.externals(s)).map((l) => p.adjacencies.speakers[l.speaker]?.router.name)).toContain('gate');
  expect(exitsOf(p)).toEqual({ routers: ['buoy'], byDefault: false });
});

test('in the sample every LAN of hosts has an exit, and all of it arrives', () => {
  const p = predict(sample('saltmarsh-point').design);
  const { demands, left, exits } = lanDemands(p, 40);
  expect(exits.length).toBeGreaterThan(0);
  expect([demands.length > 5, left]).toEqual([true, 0]);
  expect(loadsOf([p], demands)).toMatchObject({ asked: demands.length * 40, lost: 0 });
});

test('an exit that a summary promises and nobody leads to is none', () => {
  // gate summarises area 10 and is cut off from buoy inside it: at gate packets for buoy end.
  const p = campus()
    .router('core', '10.96.0.1', 0)
    .router('gate', '10.96.0.2', 0)
    .router('far', '10.96.0.3', 0)
    .router('buoy', '10.97.0.4', 10, { 'default-route': { announce: 'always' } })
    .cable('core', 'gate', '10.96.2.0', 0, 10)
    .cable('core', 'far', '10.96.2.2', 0, 10)
    .cable('far', 'buoy', '10.97.2.0', 10, 10)
    .port('gate', 'labs', '10.97.8.1/24', 10, { passive: true })
    .port('core', 'hall', '10.96.8.1/24', 0, { passive: true })
    .area('gate', 10, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } })
    .area('far', 10, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } })
    .predict(['link:far/to-buoy']);
  // buoy stands alone; what gate has left of the area keeps its summary up.
  const { demands, left } = lanDemands(p, 5);
  expect([demands, left]).toEqual([[], 2]);
});
