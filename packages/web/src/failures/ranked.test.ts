import { compareCosts } from '@gentle-compass/core/sweep/sweep';
import fc from 'fast-check';
import type { CaseView } from '../model/sweep-view';
import { caseKey, largest, rankedWith } from './ranked';

const some = fc
  .record({ cutPairs: fc.nat(3), lostRoutes: fc.nat(2), longestDetour: fc.option(fc.nat(2)), broken: fc.array(fc.constant('x'), { maxLength: 1 }) })
  .map((c): CaseView => ({ ...c, words: [], harm: 'cut', changedRoutes: 0, examples: [], over: [] }));

test('what is found piece by piece is ranked as if it were sorted at once', () => {
  fc.assert(
    fc.property(fc.array(fc.array(some, { maxLength: 8 }), { maxLength: 6 }), (pieces) => {
      const all = pieces.flat().map((c, n): CaseView => ({ ...c, words: [`link:a/${n}`] }));
      let [ranked, at] = [[] as readonly CaseView[], 0];
      for (const p of pieces) ranked = rankedWith(ranked, all.slice(at, (at += p.length)));
      expect(ranked.map(caseKey)).toEqual(all.toSorted((a, b) => compareCosts(a, b, caseKey(a), caseKey(b))).map(caseKey));
    }),
  );
});

test('the largest of many are the first of all sorted, equal ones in their order', () => {
  fc.assert(
    fc.property(fc.array(fc.nat(5), { maxLength: 30 }), fc.integer({ min: 1, max: 12 }), (numbers, most) => {
      const all = numbers.map((value, n) => ({ value, n }));
      expect(largest(all, most, (x) => x.value)).toEqual(all.toSorted((a, b) => b.value - a.value).slice(0, most));
    }),
  );
});
