import fc from 'fast-check';
import { campus, databaseOf } from '../testing/campus';
import { formatAddress, prefixOf } from '../prefix/address';
import { routerJson } from '../reports/prediction-json';
import { linkStateIds } from './lsa';
import { lsaBody } from './lsa-body';

test('link state ids (appendix E): the shortest of one address keeps it, longer ones set their host bits', () => {
  const net = (bits: number, length: number) => ({ bits, length });
  expect(linkStateIds([net(0x0a00_0000, 8), net(0x0a00_0000, 16), net(0x0a00_0000, 24)]).map(formatAddress)).toEqual([
    '10.0.0.0',
    '10.0.255.255',
    '10.0.0.255',
  ]);
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.tuple(fc.integer({ min: 0, max: 0xffff_ffff }), fc.integer({ min: 1, max: 31 })), {
        selector: ([ip, length]) => `${prefixOf(ip, length).bits}/${length}`,
        maxLength: 12,
      }),
      (list) => {
        const nets = list.map(([ip, length]) => prefixOf(ip, length));
        const ids = linkStateIds(nets);
        expect(new Set(nets.map((n, i) => `${n.bits} ${ids[i] ?? 0}`)).size).toBe(nets.length);
        nets.forEach((n, i) => expect(prefixOf(ids[i] ?? 0, n.length).bits).toBe(n.bits));
      },
    ),
    { seed: 1 },
  );
});

test('bodies have the field names of RFC 9129', () => {
  const p = campus()
    .router('a', '10.96.0.1', 0, { redistribution: [{ source: 'static', metric: 7, 'metric-type': 'type-1', tag: 5 }] })
    .router('b', '10.96.0.2', 0)
    .lan('reef', '10.97.1.0/24', 0, ['a', 'b'])
    .static('a', '198.51.100.0/24', '10.97.1.77')
    .predict();
  const db = p.routing.databases[0];
  const network = db && [...db.networks.values()][0];
  const external = p.adjacencies.speakers[1] && p.routing.externals(p.adjacencies.speakers[1])[0];
  expect(network && lsaBody(network)).toEqual({
    network: { 'network-mask': '255.255.255.0', 'attached-routers': { 'attached-router': ['10.96.0.1', '10.96.0.2'] } },
  });
  expect(external && lsaBody(external)).toEqual({
    external: {
      'network-mask': '255.255.255.0',
      topologies: { topology: [{ 'mt-id': 0, flags: [], metric: 7, 'forwarding-address': '10.97.1.77', 'external-route-tag': 5 }] },
    },
  });
  const router = db?.routers.get(0x0a60_0001);
  expect(router && lsaBody(router)).toMatchObject({ router: { 'router-bits': { 'rtr-lsa-bits': ['asbr-bit'] }, 'num-of-links': 2 } });
});

test('flooding keeps to its scope: types 1 to 4 to their area, type 5 out of stub areas, type 7 to its NSSA', () => {
  const c = campus()
    .router('x', '10.96.0.1', 0, { redistribution: [{ source: 'static' }] })
    .router('b', '10.96.0.2', 0)
    .router('s', '10.97.0.3', 1)
    .router('n', '10.98.0.4', 2, { redistribution: [{ source: 'static' }] })
    .cable('x', 'b', '10.96.1.0', 0)
    .cable('b', 's', '10.97.1.0', 1)
    .cable('b', 'n', '10.98.1.0', 2)
    .static('x', '198.51.100.0/24', 'blackhole')
    .static('n', '203.0.113.0/24', 'blackhole');
  for (const [r, area, type] of [
    ['b', 1, 'stub-area'],
    ['s', 1, 'stub-area'],
    ['b', 2, 'nssa-area'],
    ['n', 2, 'nssa-area'],
  ] as const)
    c.area(r, area, { 'area-type': type });
  const p = c.predict();
  const types = (router: string): string[] => [...new Set(databaseOf(p, router, [1, 2, 3, 4, 5, 7]).map((l) => l.split(' ')[0] ?? ''))];
  expect(types('s')).toEqual(['1', '3']);
  expect(types('n')).toEqual(['1', '3', '7']);
  expect(types('x')).toEqual(['1', '3', '5']);
  expect(databaseOf(p, 'x', [1]).map((l) => l.split(' ')[1])).toEqual(['10.96.0.1', '10.96.0.2']);
});

test('a split area has two databases; what was heard before the split is kept as stale', () => {
  const c = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('d', '10.96.0.3', 0)
    .cable('a', 'b', '10.96.1.0', 0)
    .cable('b', 'd', '10.96.1.2', 0);
  const p = c.predict(['link:a/to-b']);
  expect(p.routing.databases.map((d) => d.routers.size).sort()).toEqual([1, 2]);
  const json = routerJson([p], p.routerIndex('a')) as {
    ospfv2: { areas: { area: { database: { lsa: { 'adv-router': string; stale?: boolean }[] } }[] } };
  };
  const held = json.ospfv2.areas.area[0]?.database.lsa.map((l) => `${l['adv-router']}${l.stale ? ' stale' : ''}`);
  expect(held).toEqual(['10.96.0.1', '10.96.0.2 stale', '10.96.0.3 stale']);
});
