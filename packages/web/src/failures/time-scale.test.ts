import fc from 'fast-check';
import { scaleKinds, timeScale } from './time-scale';

const moments = fc.array(fc.double({ min: 0, max: 60_000, noNaN: true }), { minLength: 1, maxLength: 30 });

test('a place and its moment are each other’s, on every scale; later lies further right', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...scaleKinds),
      moments,
      fc.array(fc.double({ min: 0.001, max: 1, noNaN: true }), { minLength: 2, maxLength: 9 }),
      (kind, all, places) => {
        const s = timeScale(kind, all, Math.max(...all));
        const sorted = places.toSorted((a, b) => a - b);
        const back = sorted.map((x) => s.place(s.moment(x)));
        back.forEach((x, n) => expect(x).toBeCloseTo(sorted[n] ?? 0, 6));
        expect(s.place(0)).toBe(0);
        expect(s.place(s.end)).toBeCloseTo(1, 9);
        const ticks = s.ticks.map((t) => s.place(t.ms));
        expect(ticks).toEqual(ticks.toSorted((a, b) => a - b));
        for (let n = 1; n < ticks.length; n++) expect((ticks[n] ?? 0) - (ticks[n - 1] ?? 0)).toBeGreaterThanOrEqual(0.075);
      },
    ),
    { seed: 5 },
  );
});

test('a dead interval that nothing happens in is drawn short, the moments after it take the room', () => {
  const s = timeScale('short', [0, 3300, 3310, 3350, 3371], 3371);
  expect(s.folds).toEqual([{ from: 0, to: 3300 }]);
  expect(s.place(3300)).toBeCloseTo(0.12 * 0.965, 9);
  expect(s.place(3371) - s.place(3300)).toBeGreaterThan(0.25);
  expect(timeScale('even', [0, 3300, 3371], 3371).place(3300)).toBeGreaterThan(0.9);
  expect(timeScale('short', [0, 10, 20, 30, 40, 50], 50).folds).toEqual([]);
});

test('ticks are numbers that people count by, with their unit', () => {
  expect(timeScale('even', [0, 68], 68).ticks.map((t) => t.words)).toEqual(['0', '10 ms', '20 ms', '30 ms', '40 ms', '50 ms', '60 ms']);
  expect(timeScale('even', [0, 4000], 4000).ticks.map((t) => t.words)).toEqual([
    '0',
    '500 ms',
    '1 s',
    '1.5 s',
    '2 s',
    '2.5 s',
    '3 s',
    '3.5 s',
    '4 s',
  ]);
  expect(timeScale('log', [0, 4000], 4000).ticks.map((t) => t.words)).toContain('1 s');
});
