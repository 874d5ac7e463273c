import { checkDesign } from '../findings/catalogue';
import { readSet } from '../formats/read-set';
import { documentText } from '../documents/documents';
import { covers, prefixOf } from '../prefix/address';
import { predict } from '../predict';
import { fatesTo } from '../reach/fates';
import { Forwarding } from '../reach/forwarding';
import { generateCampus, type CampusSize } from './generate-campus';

const made = (size: CampusSize) => readSet(generateCampus(size).map((d) => ({ name: d.file, content: documentText(d) })));
const home = { bits: 0x0a60_0000, length: 11 };

test.each([
  { routers: 5, areas: 1, seed: 1 },
  { routers: 40, areas: 3, seed: 2 },
  { routers: 120, areas: 12, seed: 3 },
  { routers: 64, areas: 20, seed: 4 },
  { routers: 110, areas: 33, seed: 5 },
])('%j: as many routers and areas as asked, no trouble in it, every loopback reached from everywhere', (size) => {
  const read = made(size);
  expect(read.problems).toEqual([]);
  expect(read.notUsed).toEqual([]);
  expect(read.design.routers).toHaveLength(size.routers);
  const p = predict(read.design);
  expect(new Set(p.routing.databases.map((d) => d.areaId)).size).toBe(size.areas + 1);
  expect(checkDesign(p, read.documents, { withConsequences: false }).findings.filter((f) => f.severity !== 'note')).toEqual([]);
  const f = new Forwarding(p);
  for (const r of read.design.routers.slice(0, 20)) expect([...new Set(fatesTo(f, r.interfaces[0]?.addresses[0]?.bits ?? 0))]).toEqual([1]);
  for (const r of read.design.routers)
    for (const i of r.interfaces) for (const a of i.addresses) expect(covers(home, prefixOf(a.bits, a.length)) || i.name === 'provider').toBe(true);
});

test('the same numbers give the same campus, another seed another one', () => {
  const size = { routers: 60, areas: 5, seed: 7 };
  expect(generateCampus(size)).toEqual(generateCampus(size));
  expect(generateCampus({ ...size, seed: 8 })).not.toEqual(generateCampus(size));
});

test('of many areas no two announce the same partner: no translator has to weigh its own route against another', () => {
  for (const seed of [1, 5]) {
    const p = predict(made({ routers: 180, areas: 44, seed }).design);
    expect(p.routing.databases.filter((d) => d.nssa.some((l) => l.propagate)).length).toBeGreaterThan(3);
    expect(p.fast.looksAheadOnly).toBe(true);
  }
});

test('it has what a campus has: mixed areas, equal-cost paths, externals of both types, LANs with a leader, summaries', () => {
  const p = predict(made({ routers: 150, areas: 12, seed: 3 }).design);
  const areas = new Set(p.design.routers.flatMap((r) => r.instances.flatMap((o) => o.areas.map((a) => `${a.type} ${a.summary}`))));
  expect(areas.size).toBeGreaterThanOrEqual(4);
  const routes = p.design.routers.slice(0, 40).flatMap((_, i) => p.rib(i));
  const types = new Set(routes.map((r) => r.route?.type));
  for (const t of ['intra-area', 'inter-area', 'external-1', 'external-2'] as const) expect(types).toContain(t);
  expect(routes.some((r) => r.hops.length > 1)).toBe(true);
  expect(p.adjacencies.leaders.some((l) => l.dr !== 0 && l.bdr !== 0)).toBe(true);
});

test.each([
  { routers: 3, areas: 1, seed: 1 },
  { routers: 40, areas: 0, seed: 1 },
  { routers: 40, areas: 300, seed: 1 },
  { routers: 40.5, areas: 2, seed: 1 },
])('%j is refused in words', (size) => {
  expect(() => generateCampus(size)).toThrow(RangeError);
});
