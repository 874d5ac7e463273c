import { IntPool } from './int-pool';

test('Arrays from a pool hold zeros, do not overlap, and may be longer than a piece', () => {
  const pool = new IntPool(100);
  const lengths = [7, 0, 60, 33, 1, 250, 99, 2, 100, 5];
  const arrays = lengths.map((n) => pool.take(n));
  expect(arrays.map((a) => a.length)).toEqual(lengths);
  expect(arrays.every((a) => a.every((x) => x === 0))).toBe(true);
  arrays.forEach((a, i) => a.fill(i + 1));
  expect(arrays.every((a, i) => a.every((x) => x === i + 1))).toBe(true);
  expect(new Set(arrays.map((a) => a.buffer)).size).toBeLessThan(lengths.length);
});
