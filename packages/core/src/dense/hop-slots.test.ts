import fc from 'fast-check';
import { Port } from '../adjacency/speakers';
import { HopSlots } from './hop-slots';

/** A port of which nothing but its number counts. */
const port = (index: number): Port => Object.assign(Object.create(Port.prototype) as Port, { index });

/** Slots with so many ways, each by a port and an address of its own. */
function slotsOf(count: number): HopSlots {
  const slots = new HopSlots(Array.from({ length: 91 }, (_, n) => port(n)));
  for (let n = 0; n < count; n++) slots.place(port(n % 7), n % 5 === 0 && n < 7 ? undefined : 1000 - n);
  return slots;
}

const places = (count: number): fc.Arbitrary<number[]> => fc.uniqueArray(fc.nat(count - 1), { maxLength: 12 });

test.each([12, 45])('sets of ways join and are limited as sets do, with %i ways', (count) => {
  fc.assert(
    fc.property(places(count), places(count), fc.integer({ min: 1, max: 8 }), (a, b, limit) => {
      const slots = slotsOf(count);
      const code = (list: readonly number[]): number => list.reduce((set, n) => slots.join(set, slots.single(n)), 0);
      const union = [...new Set([...a, ...b])].sort((x, y) => x - y);
      const joined = slots.join(code(a), code(b));
      expect(slots.places(joined)).toEqual(union);
      expect(joined).toBe(slots.join(code(b), code(a)));
      expect(slots.attached(joined)).toBe(union.some((n) => slots.addressAt(n) === undefined));
      const least = [...union].sort((x, y) => (slots.addressAt(x) ?? 0) - (slots.addressAt(y) ?? 0)).slice(0, limit);
      expect(slots.places(slots.limited(joined, limit))).toEqual(least.sort((x, y) => x - y));
    }),
  );
});

test('a way is known by its port and address; too many for the bits are refused, not mixed up', () => {
  const slots = slotsOf(12);
  expect(slots.place(port(3), 997)).toBe(3);
  expect([slots.portAt(3)?.index, slots.addressAt(3)]).toEqual([3, 997]);
  expect(slots.wide).toBe(false);
  for (let n = 0; n < 30; n++) slots.place(port(90), n);
  expect(() => slots.single(40)).toThrow(RangeError);
});
