import fc from 'fast-check';
import type { FailureSpec } from '../failures/outage';
import { designFrom, readSet } from '../formats/read-set';
import { generateCampus } from '../generate/generate-campus';
import { predict, type Prediction } from '../predict';
import { campusOf, plans } from '../testing/random-campus';
import { recordedDocuments, recordedFolders } from '../testing/recorded';
import { CutCounter } from './cut-counter';
import { laidBeside } from './every-cut';
import { linkFailures } from './single-failures';

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
