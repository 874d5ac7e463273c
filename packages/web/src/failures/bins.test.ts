import fc from 'fast-check';
import { binsOf } from './bins';

test('every run stands in one span, and in the one that holds it', () => {
  expect(binsOf([])).toEqual([]);
  expect(binsOf([5, 5, 5])).toMatchObject([{ from: 5, runs: 3 }]);
  expect(binsOf([0, 1, 2, 3, 4, 5, 6, 7, 9], 3).map((b) => b.runs)).toEqual([3, 3, 3]);
  fc.assert(
    fc.property(fc.array(fc.double({ min: 0, max: 1e5, noNaN: true }), { minLength: 1, maxLength: 200 }), (all) => {
      const times = all.toSorted((a, b) => a - b);
      const bins = binsOf(times);
      expect(bins.reduce((n, b) => n + b.runs, 0)).toBe(times.length);
      expect(bins[0]?.from).toBe(times[0]);
    }),
    { seed: 3 },
  );
});
