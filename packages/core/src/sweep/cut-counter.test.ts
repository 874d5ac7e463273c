import fc from 'fast-check';
import type { FailureSpec } from '../failures/outage';
import { designFrom, readSet } from '../formats/read-set';
import { generateCampus } from '../generate/generate-campus';
import { predict, type Prediction } from '../predict';
import { campus, type Campus } from '../testing/campus';
import { campusOf, plans } from '../testing/random-campus';
import { recordedDocuments, recordedFolders } from '../testing/recorded';
import { CutCounter } from './cut-counter';
import { laidBeside } from './every-cut';
import { linkFailures } from '../failures/single-failures';

/** Counts every cut of a state against the state after it; how many were told, and of how many. */
function everyCut(base: Prediction): { told: number; all: number } {
  const counter = CutCounter.over(base);
  const cuts = linkFailures(base);
  let told = 0;
  for (const cut of cuts) {
    const counted = counter?.count(cut);
    if (!counted) continue;
    told++;
    expect({ cut, ...counted }).toEqual({ cut, ...laidBeside(base, cut) });
  }
  return { told, all: cuts.length };
}

test('cuts of random campuses count what laying whole tables side by side counts', () => {
  let [told, all] = [0, 0];
  fc.assert(
    fc.property(plans, (plan) => {
      const one = everyCut(campusOf(plan).predict());
      told += one.told;
      all += one.all;
    }),
    { numRuns: 60, seed: 20_261_128, endOnFailure: true },
  );
  expect(told).toBeGreaterThan(all / 2);
});

test('cuts of made-up campuses with NSSAs, ranges, exits and LANs, also after a first cut', () => {
  for (const seed of [1, 2, 3]) {
    const base = predict(designFrom(generateCampus({ routers: 70, areas: 5, seed })).design);
    const { told, all } = everyCut(base);
    expect(told).toBeGreaterThan(all * 0.9);
    const first = linkFailures(base)[seed * 7] as FailureSpec;
    everyCut(base.fail(first));
  }
});

test('cuts of the recorded networks', () => {
  let told = 0;
  for (const folder of recordedFolders) told += everyCut(predict(readSet(recordedDocuments(folder)).design)).told;
  expect(told).toBeGreaterThan(20);
});

/** A ring of three areas' worth: backbone a, b, c; an NSSA below b and c with d and e. */
const ring = () =>
  campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .router('d', '10.97.0.4', 1, { redistribution: [{ source: 'static' }] })
    .router('e', '10.97.0.5', 1)
    .cable('a', 'b', '10.96.1.0', 0, 10)
    .cable('a', 'c', '10.96.1.2', 0, 30)
    .cable('b', 'd', '10.97.1.0', 1, 10)
    .cable('c', 'e', '10.97.1.2', 1, 10)
    .cable('d', 'e', '10.97.1.4', 1, [5, 7])
    .static('d', '198.51.100.0/24', 'blackhole');

/** The same with a way round everywhere. */
const round = () => ring().cable('b', 'c', '10.96.1.4', 0, 10).cable('b', 'e', '10.97.1.6', 1, 20);

test('worked by hand: the cut between a and b loses its own network in every table; where b is left alone in the backbone, others decide', () => {
  const cut: FailureSpec = { kind: 'link', router: 'a', iface: 'to-b' };
  expect(CutCounter.over(ring().predict())?.count(cut)).toBeUndefined();
  const { routers, lost } = CutCounter.over(round().predict())?.count(cut) ?? {};
  expect({ routers, lost }).toEqual({ routers: 5, lost: 5 });
  const { told, all } = everyCut(round().predict());
  expect(told).toBe(all - 1);
});

test('in an NSSA with a default of its own and a translator, every cut counts the same', () => {
  const made = round();
  for (const r of ['b', 'c', 'd', 'e']) made.area(r, 1, { 'area-type': 'nssa-area' });
  made.area('c', 1, { 'default-cost': 3, nssa: { 'default-route': true } });
  const { told, all } = everyCut(made.predict());
  // All but the one link by which c stands in the area: without it the area is in pieces, and who translates another question.
  expect(told).toBe(all - 1);
});

test('what else a cut takes with it is left to those who compute everything', () => {
  const cut: FailureSpec = { kind: 'link', router: 'd', iface: 'to-e' };
  /** Whether the cut is told; another cut of the same network always is. */
  const isTold = (made: Campus): boolean => {
    const counter = CutCounter.over(made.predict());
    expect(counter?.count({ kind: 'link', router: 'b', iface: 'to-c' })).toBeDefined();
    return counter?.count(cut) !== undefined;
  };
  expect(isTold(round())).toBe(true);
  // The next hop of an imported route is on the wire; what is connected is imported; something virtual stands on it.
  expect(isTold(round().static('d', '203.0.113.0/24', '10.97.1.5'))).toBe(false);
  expect(isTold(round().ospf('d', { redistribution: [{ source: 'direct' }] }))).toBe(false);
  expect(isTold(round().port('d', 'vlan', '10.97.9.1/24', 1, { passive: true, iface: { 'gentle-compass:carried-by': ['to-e'] } }))).toBe(false);
  // No link failure at all; a link that nobody has.
  const counter = CutCounter.over(round().predict());
  expect(counter?.count({ kind: 'router', router: 'd' })).toBeUndefined();
  expect(counter?.count({ kind: 'link', router: 'nobody', iface: 'x' })).toBeUndefined();
});

test('a network without areas beside the backbone, and a router alone behind one link that is cut off', () => {
  const base = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .cable('a', 'b', '10.96.1.0', 0)
    .cable('b', 'c', '10.96.1.2', 0)
    .predict();
  // a and b lose c and the cable; c loses a, b, a-b and the cable.
  expect(CutCounter.over(base)?.count({ kind: 'link', router: 'b', iface: 'to-c' })).toEqual({ routers: 3, lost: 8, changed: 0 });
  expect(everyCut(base)).toEqual({ told: 2, all: 2 });
});

test('after a cut was counted nothing of it is left: the same cut counts the same, whatever was cut in between', () => {
  const base = predict(designFrom(generateCampus({ routers: 60, areas: 4, seed: 9 })).design);
  const counter = CutCounter.over(base);
  const cuts = linkFailures(base);
  const first = cuts.map((c) => counter?.count(c));
  const again = [...cuts].reverse().map((c) => counter?.count(c));
  expect(again.reverse()).toEqual(first);
});

test('a cable on which only one end speaks OSPF, while the other end imports through it, is left to those who compute everything', () => {
  const p = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('gate', '10.96.0.3', 0, { redistribution: [{ source: 'static' }] })
    .cable('a', 'b', '10.96.1.0', 0)
    .cable('b', 'gate', '10.96.1.2', 0)
    .port('a', 'to-gate', '10.96.1.4/31', 0, { 'interface-type': 'point-to-point' })
    .port('gate', 'to-a', '10.96.1.5/31', null)
    .static('gate', '198.51.100.0/24', '10.96.1.4')
    .predict();
  const cut: FailureSpec = { kind: 'link', router: 'a', iface: 'to-gate' };
  expect(CutCounter.over(p)?.count(cut)).toBeUndefined();
  // Its own network in all three tables of OSPF, and what gate imported through it in the two others.
  expect(laidBeside(p, cut)).toMatchObject({ routers: 3, lost: 5 });
  everyCut(p);
});
