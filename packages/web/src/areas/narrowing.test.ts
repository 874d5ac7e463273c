import fc from 'fast-check';
import type { AdvertisementRow } from '../model/view';
import { countByType, everything, narrowed } from './narrowing';

const row = (n: number, more: Partial<AdvertisementRow> = {}): AdvertisementRow => ({
  key: String(n),
  type: '3',
  name: 'summary, network',
  area: 10,
  router: 'kelp-1',
  id: '10.97.0.0',
  says: '10.97.0.0/18, folds 13',
  prefixes: '10.97.0.0/18',
  metric: 30,
  ...more,
});
const rows = [
  row(1),
  row(2, { type: '1', name: 'router', router: 'kelp-2', says: '3 links, 6 stub networks', prefixes: '10.96.0.12/32 10.97.8.0/24', metric: null }),
  row(3, { prefixes: '0.0.0.0/0', says: '0.0.0.0/0', area: 20, router: 'drydock-1' }),
  row(4, { type: '5', name: 'AS-external', area: null, prefixes: '198.51.100.0/26', says: '198.51.100.0/26, type-2', router: 'petrel-2' }),
  row(5, { type: '0x2003', prefixes: '2001:db8:40::/48', says: '2001:db8:40::/48', by: 'second', why: 'kelp-1 has no part in area 40.' }),
];
const keys = (n: Partial<typeof everything>): string =>
  narrowed(rows, { ...everything, ...n })
    .map((r) => r.key)
    .join();

test.each([
  ['nothing', {}, '1,2,3,4,5'],
  ['a type', { type: '3' }, '1,3'],
  ['an area, and what floods everywhere', { area: 10 }, '1,2,5'],
  ['everywhere', { area: null }, '4'],
  ['an originator', { text: 'KELP' }, '1,2,5'],
  ['all of several words', { text: 'kelp router' }, '2'],
  ['a prefix: what holds it, and what lies in it', { text: '10.97.0.0/19' }, '1,2'],
  ['a host: what holds it, but no default', { text: '10.97.8.20' }, '1,2'],
  ['a host of IPv6', { text: '2001:db8:40:1::9' }, '5'],
  ['who holds it', { by: 'second' as const }, '5'],
  ['a reason', { text: 'no part' }, '5'],
  ['a prefix and a word', { text: '10.97.8.20 folds' }, '1'],
])('narrowed by %s', (_, by, wanted) => expect(keys(by)).toBe(wanted));

test('types are counted in the order of their numbers, and every line once', () => {
  expect(countByType(rows).map((t) => `${t.type} ${t.count}`)).toEqual(['1 1', '3 2', '5 1', '0x2003 1']);
  fc.assert(
    fc.property(fc.array(fc.constantFrom('1', '2', '3', '5', '0x2001')), (types) => {
      const list = types.map((type, n) => row(n, { type }));
      const counted = countByType(list);
      expect(counted.reduce((n, t) => n + t.count, 0)).toBe(list.length);
      for (const t of counted) expect(narrowed(list, { ...everything, type: t.type })).toHaveLength(t.count);
    }),
  );
});
