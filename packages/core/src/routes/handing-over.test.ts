import { comparePredictions } from '../compare/compare';
import type { Campus } from '../testing/campus';
import { handedPrefix as lost, policies, twoPoints } from '../testing/two-points';

const lines = (net: Campus, prefix = lost): string[] => {
  const p = net.predict();
  return ['core', 'east', 'west'].map((name) => {
    const r = p.rib(p.routerIndex(name)).find((x) => `${x.bits}/${x.length}` === key(prefix));
    return `${name}: ${r ? `${r.source} ${r.route?.type ?? ''} ${r.route?.metric ?? ''} ${r.hops.map((h) => h.iface).join()}`.replace(/ +/g, ' ').trim() : 'none'}`;
  });
};
const key = (prefix: string): string => {
  const [address = '', length = ''] = prefix.split('/');
  return `${address.split('.').reduce((n, x) => n * 256 + Number(x), 0)}/${length}`;
};

test('a route that is handed over stands while the other router has it from elsewhere', () => {
  // Without redistribution into OSPF at east there is no way back: west has core's type 2, east the handed one (90 before 110).
  const one = twoPoints();
  const quiet = one.ospf('east', { redistribution: [] });
  expect(lines(quiet)).toEqual(['core: static out', 'east: other over', 'west: ospf external-2 20 to-core']);
  expect(lines(twoPoints({ origin: false }).ospf('east', { redistribution: [] }))).toEqual(['core: none', 'east: none', 'west: none']);
  expect(lines(twoPoints({ over: { 'learnt-from': 'nobody' } }))).toEqual([
    'core: static out',
    'east: ospf external-2 20 to-core',
    'west: ospf external-2 20 to-core',
  ]);
});

test('brought back into OSPF with a better metric it is a circle: each sends to the other', () => {
  // West takes east's type 1 (5 and 20 on the way) before core's type 2, and east what west hands over.
  expect(lines(twoPoints())).toEqual(['core: static out', 'east: other over', 'west: ospf external-1 25 to-core']);
});

test('a router that has it from the same protocol hands nothing on', () => {
  const native = twoPoints().ospf('west', { 'other-routes': [{ prefix: lost, preference: 80, 'next-hop': '10.96.200.2' }] });
  expect(lines(native)).toEqual(['core: static out', 'east: ospf external-2 20 to-core', 'west: other over']);
});

test('two that wait for each other hold nothing up', () => {
  const both = twoPoints({ origin: false }).ospf('west', { 'other-routes': [{ prefix: lost, 'next-hop': '10.96.200.2', 'learnt-from': 'east' }] });
  expect(lines(both)).toEqual(['core: none', 'east: none', 'west: none']);
});

test('a tag set where it is handed over is known where it would come back, and ends the circle', () => {
  const net = twoPoints({ over: { policy: ['mark'] }, into: { policy: ['refuse'] } });
  const ended = net.document('east', policies({ mark: [{ setTag: 77 }], refuse: [{ tags: [77], refuse: true }] }));
  expect(lines(ended)).toEqual(['core: static out', 'east: other over', 'west: ospf external-2 20 to-core']);
  // Another tag is not the one that is refused; it goes on with the route.
  const open = twoPoints({ over: { policy: ['mark'] }, into: { policy: ['refuse'] } }).document(
    'east',
    policies({ mark: [{ setTag: 76 }], refuse: [{ tags: [77], refuse: true }] }),
  );
  expect(lines(open)).toEqual(['core: static out', 'east: other over', 'west: ospf external-1 25 to-core']);
  const p = open.predict();
  const west = p.adjacencies.speakers.find((s) => s.router.name === 'west');
  expect(west && p.routing.externals(west).map((l) => `${l.speaker} ${l.tag}`)).toEqual(['0 0', '1 76']);
});

test('a policy that refuses what is handed over', () => {
  const net = twoPoints({ over: { policy: ['none'] } }).document('east', policies({ none: [{ refuse: true }] }));
  expect(lines(net)[1]).toBe('east: ospf external-2 20 to-core');
  const p = net.predict();
  const east = p.adjacencies.speakers.find((s) => s.router.name === 'east');
  const [route] = east ? p.routing.localRoutes(east).filter((r) => r.handedBy) : [];
  expect(east && route && p.routing.handing(east, route)).toMatchObject({ is: 'refused', tag: 0, line: { metric: 20, metricType: 'type-2' } });
});

test('a failure of the origin takes the handed route away, and no shortcut says otherwise', () => {
  const net = twoPoints().ospf('east', { redistribution: [] });
  const p = net.predict();
  const down = p.fail({ kind: 'interface', router: 'core', iface: 'out' });
  const found = (x: typeof p, name: string): boolean => x.rib(x.routerIndex(name)).some((r) => `${r.bits}/${r.length}` === key(lost));
  expect(found(p, 'east')).toBe(true);
  expect(found(down, 'east')).toBe(false);
  expect(comparePredictions(p, down).routers.map((r) => `${r.router} ${r.routes.filter((x) => x.change === 'lost').length}`)).toContain('east 1');
});
