import { sheetNames } from '@gentle-compass/core/sheets/sheet-names';
import fc from 'fast-check';
import { rowHas, sortRows } from '../routes/route-table';
import { changeWords, listWords, withAreaNames } from '../parts/words';
import { areaShows, formatAddress, parseAddress, stages, summaryParts, routeLooks, tellings, faces, meetings } from './address';
import type { RouteRow } from './view';

test('an address is read back as it was written', () => {
  const optional = <T>(a: fc.Arbitrary<T>): fc.Arbitrary<T | undefined> => fc.option(a, { nil: undefined });
  const address = fc.record({
    family: fc.constantFrom(4 as const, 6 as const),
    stage: fc.constantFrom(...stages),
    router: optional(fc.string()),
    segment: optional(fc.nat()),
    pair: optional(fc.string()),
    meet: fc.constantFrom(...meetings),
    face: fc.constantFrom(...faces),
    prefix: optional(fc.constantFrom('10.96.64.0/18', '0.0.0.0/0', '2001:db8::/48', '::/0')),
    fail: fc.array(fc.string(), { maxLength: 3 }),
    tell: fc.constantFrom(...tellings),
    then: fc.array(fc.string(), { maxLength: 3 }),
    watch: fc.array(fc.string(), { maxLength: 3 }),
    table: fc.option(fc.constantFrom(...sheetNames), { nil: undefined }),
    area: optional(fc.nat()),
    show: fc.constantFrom(...areaShows),
    part: fc.constantFrom(...summaryParts),
    look: fc.constantFrom(...routeLooks),
    from: optional(fc.string()),
    to: optional(fc.string()),
    lsa: optional(fc.string()),
    beside: optional(fc.string()),
  });
  fc.assert(fc.property(address, (a) => expect(parseAddress(formatAddress(a).slice(1))).toEqual(a)));
});
test('what an address bar may hold of nonsense leads to the first stage', () => {
  expect(parseAddress('?stage=moon&segment=-3&prefix=<1e9>')).toEqual({
    family: 4,
    stage: 'layout',
    router: undefined,
    segment: undefined,
    pair: undefined,
    meet: 'pairs',
    face: 'values',
    prefix: undefined,
    fail: [],
    tell: 'lost',
    then: [],
    watch: [],
    show: 'glance',
    part: 'ruler',
    look: 'tables',
    from: undefined,
    to: undefined,
  });
});
test('changes and lists in words', () => {
  expect(changeWords({ neighborsGained: 2, neighborsLost: 0, gained: 1, lost: 0, changed: 14, routers: 6, findingsGone: 1, findingsNew: 0 })).toBe(
    '2 neighbours gained, 1 route gained and 14 routes changed, in 6 routers. 1 finding settled.',
  );
  const still = { neighborsGained: 0, neighborsLost: 0, gained: 0, lost: 0, changed: 0, routers: 0, findingsGone: 0, findingsNew: 0 };
  const elections = [
    { segment: 3, name: '10.97.1.0/24', before: 'a, backup c', after: 'c, backup b' },
    { segment: 4, name: '10.97.2.0/24', before: 'a', after: 'b' },
  ];
  const routerIds = [{ router: 'a', process: 'campus', before: '10.96.0.1', after: '10.96.0.9', noticed: ['b', 'd'] }];
  expect(changeWords({ ...still, elections, routerIds })).toBe(
    'No neighbour and no route changed. 10.97.1.0/24 is led by c, backup b (before: a, backup c); 1 more segment elected anew. a runs as 10.96.0.9, before 10.96.0.1: b and d notice.',
  );
  expect(changeWords({ neighborsGained: 0, neighborsLost: 0, gained: 0, lost: 0, changed: 0, routers: 0, findingsGone: 0, findingsNew: 2 })).toBe(
    'No neighbour and no route changed. 2 new findings.',
  );
  expect(listWords(['a', 'b', 'c'])).toBe('a, b and c');
});
test('areas in a sentence are followed by their names', () => {
  const areas = [
    { id: '0.0.0.10', name: 'Kelp labs' },
    { id: '0.0.0.20', name: '' },
  ];
  expect(withAreaNames('Area 0.0.0.10 and area 0.0.0.20, not area 0.0.0.100 nor 0.0.0.10.', areas)).toBe(
    'Area 0.0.0.10 Kelp labs and area 0.0.0.20, not area 0.0.0.100 nor 0.0.0.10.',
  );
});
test('route rows are sorted by any column and narrowed by what they show', () => {
  const row = (key: number, metric: number | null, type: string, router: string): RouteRow => ({
    key,
    prefix: `10.0.${key}.0/24`,
    type,
    metric,
    hops: [{ iface: 'e', address: '10.9.9.9', router }],
    area: '',
    change: '',
    before: '',
    folded: '',
  });
  const rows = [row(1, 30, 'inter-area', 'b'), row(2, null, 'direct', 'a'), row(3, 30, 'intra-area', 'c')];
  expect(sortRows(rows, 'metric', true).map((r) => r.key)).toEqual([3, 1, 2]);
  expect(sortRows(rows, 'hops', false).map((r) => r.key)).toEqual([2, 1, 3]);
  expect(rows.filter((r) => rowHas(r, 'INTER')).map((r) => r.key)).toEqual([1]);
  expect(rows.filter((r) => rowHas(r, '10.9.9'))).toHaveLength(3);
});
