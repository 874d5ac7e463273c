import { alternatesOf, coverageOf } from '../alternates/alternates';
import { applyEdits } from '../design/edit';
import { designFrom } from '../formats/read-set';
import { predict, predictFamilies } from '../predict';
import { campus } from '../testing/campus';
import { dual } from '../testing/dual';
import { finished } from '../testing/steps';
import { covering, uncoveredOf } from './covering';

/** A ring of four: what is opposite has two equal ways, what is beside has one, and the other way round leads back. */
const ring = () =>
  campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .router('d', '10.96.0.4', 0)
    .cable('a', 'b', '10.96.1.0', 0, 10)
    .cable('b', 'c', '10.96.1.2', 0, 10)
    .cable('c', 'd', '10.96.1.4', 0, 10)
    .cable('d', 'a', '10.96.1.6', 0, 10);

test('counted by hand: what a ring of four leaves uncovered, and the chord that covers it best', () => {
  const { design, documents } = ring().read();
  const p = predict(design);
  // a to b: by d it would be 20 and d to a to b is 20 as well: not less, so d is no alternate; the same for each neighbour.
  const uncovered = uncoveredOf(alternatesOf(p));
  expect(uncovered.length).toBe(8);
  const atA = uncovered.filter((u) => u.router === 'a').map((u) => [u.iface, [...u.prefixes].sort()]);
  // The far cable b to c is as near to d as to a, less the way back: d is an alternate there.
  expect(atA).toEqual([
    ['to-b', ['10.96.0.2/32']],
    ['to-d', ['10.96.0.4/32']],
  ]);
  const advice = finished(covering(p, documents));
  // Of each router: two neighbours and two far cables by one way, the opposite by two.
  expect([advice.left, advice.all]).toEqual([8, 24]);
  // Two chords are possible; both were tried, with other costs of each of the eight ends.
  expect(advice.link?.line).toMatch(/^link (a c|b d)$/);
  // What it promises is so when it is done.
  const after = predict(designFrom(applyEdits(documents, advice.link?.edits ?? [])).design);
  const c = coverageOf(alternatesOf(after));
  expect([c.all - c.link, c.all]).toEqual([advice.link?.left, advice.link?.all]);
  expect(c.link / c.all).toBeGreaterThan(2 / 3);
});

test('where all is covered nothing is looked for; of IPv6 the lines are for version 3', () => {
  const full = ring().cable('a', 'c', '10.96.1.8', 0, 10).cable('b', 'd', '10.96.1.10', 0, 10);
  const { design, documents } = full.read();
  expect(finished(covering(predict(design), documents))).toEqual({ left: 0, all: 36, link: undefined, cost: undefined, tried: 0, possible: 0 });
  const both = dual(ring()).read();
  const six = predictFamilies(both.design)[1];
  const advice = six && finished(covering(six, both.documents));
  expect(advice?.link).toBeDefined();
  if (advice?.cost) expect(advice.cost.line).toMatch(/^v3 set cost/);
});

test('an alternate on the same LAN does without the next router, not without the link: the next hop stays uncovered', () => {
  // All three on one LAN; the host subnet behind b and c. From a the other of the two stands in for the router alone.
  const p = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .lan('reef', '10.96.1.0/24', 0, ['a', 'b', 'c'])
    .lan('labs', '10.96.8.0/24', 0, [
      ['b', { cost: 10 }],
      ['c', { cost: 15 }],
    ])
    .predict();
  const list = alternatesOf(p).filter((x) => x.router === 'a' && x.prefix.length === 24);
  expect(list.map((x) => [x.primary.iface, x.alternate?.neighbor, x.alternate?.link, x.alternate?.node])).toEqual([['reef', 'c', false, true]]);
  expect(uncoveredOf(list)).toEqual([{ router: 'a', iface: 'reef', prefixes: ['10.96.8.0/24'] }]);
});
