import fc from 'fast-check';
import { listsByKey, wider } from './number-lists';

test('every key has the places at which it stands, in their order; keys below 0 stand nowhere', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: -2, max: 9 }), { maxLength: 60 }), (keys) => {
      const { first, items } = listsByKey(keys, 10);
      const squares = listsByKey(keys, 10, (place) => place * place);
      for (let k = 0; k < 10; k++) {
        const places = keys.flatMap((x, i) => (x === k ? [i] : []));
        expect(Array.from(items.subarray(first[k], first[k + 1]))).toEqual(places);
        expect(Array.from(squares.items.subarray(squares.first[k], squares.first[k + 1]))).toEqual(places.map((p) => p * p));
      }
    }),
  );
});

test.each([0, 9, 40])('a longer copy keeps its numbers and their kind, at least %i long', (length) => {
  const lists = [Int32Array.of(-1, 2, 3), Uint32Array.of(4_000_000_000), Uint8Array.of(7, 255), Float64Array.of(0.5)];
  for (const list of lists) {
    const longer = wider(list, length);
    expect(longer.constructor).toBe(list.constructor);
    expect(longer.length).toBe(Math.max(length, list.length * 2));
    expect([...longer]).toEqual([...list, ...new Array<number>(longer.length - list.length).fill(0)]);
  }
});
