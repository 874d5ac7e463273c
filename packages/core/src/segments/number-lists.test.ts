import fc from 'fast-check';
import { listsByKey } from './number-lists';

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
