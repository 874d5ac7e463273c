import fc from 'fast-check';
import { networkOf, prefixKey } from './ipv4';
import { PrefixIds } from './prefix-ids';

const prefixes = fc.array(
  fc.record({ ip: fc.nat(0xffff_ffff), length: fc.nat(32) }).map(({ ip, length }) => ({ bits: networkOf(ip, length), length })),
  { maxLength: 300 },
);

test('a prefix has one number, however small the room was, and the number leads back to it', () => {
  fc.assert(
    fc.property(prefixes, (list) => {
      const ids = new PrefixIds(1);
      const wanted = new Map<number, number>();
      for (const p of list) {
        const key = prefixKey(p.bits, p.length);
        if (!wanted.has(key)) wanted.set(key, wanted.size);
        expect(ids.id(p.bits, p.length)).toBe(wanted.get(key));
      }
      expect(ids.size).toBe(wanted.size);
      for (const [key, n] of wanted) {
        expect(ids.known(key)).toBe(n);
        expect(ids.key(n)).toBe(key);
      }
      expect([...ids.sorted()].map((n) => ids.key(n))).toEqual([...wanted.keys()].sort((a, b) => a - b));
    }),
  );
  expect(new PrefixIds().known(prefixKey(0x0a60_0000, 11))).toBeUndefined();
});
