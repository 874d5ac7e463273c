import fc from 'fast-check';
import { covers, networkOf } from './ipv4';
import { address6, bits6, network6Of } from './address';
import { PrefixBook } from './prefix-book';

const four = fc.record({ ip: fc.nat(0xffff_ffff), length: fc.nat(32) }).map(({ ip, length }) => ({ bits: networkOf(ip, length), length }));
const six = fc
  .record({ ip: fc.bigInt(0n, 2n ** 128n - 1n), length: fc.nat(128) })
  .map(({ ip, length }) => ({ bits: network6Of(ip, length), length }));
const both = fc.array(fc.oneof(four, six), { maxLength: 300 });

const number = (book: PrefixBook, p: { bits: number | bigint; length: number }): number =>
  typeof p.bits === 'bigint' ? book.id6(p.bits, p.length) : book.id(p.bits, p.length);

test('a prefix has one number, however small the room was, and the number leads back to it', () => {
  fc.assert(
    fc.property(both, (list) => {
      const book = new PrefixBook(1);
      const wanted = new Map<string, number>();
      for (const p of list) {
        const key = `${typeof p.bits} ${p.bits}/${p.length}`;
        if (!wanted.has(key)) wanted.set(key, wanted.size);
        const n = number(book, p);
        expect(n).toBe(wanted.get(key));
        expect(book.family(n)).toBe(typeof p.bits === 'bigint' ? 6 : 4);
        expect(book.prefix(n)).toEqual({ bits: typeof p.bits === 'bigint' ? address6(p.bits) : p.bits, length: p.length });
        expect(book.lengthOf(n)).toBe(p.length);
        if (typeof p.bits === 'number') expect(book.known(p.bits, p.length)).toBe(n);
      }
      expect(book.size).toBe(wanted.size);
    }),
  );
  expect(new PrefixBook().known(0x0a60_0000, 11)).toBeUndefined();
});

test('order is by family, address, length, however many of each there are', () => {
  fc.assert(
    fc.property(both, (list) => {
      const book = new PrefixBook();
      for (const p of list) number(book, p);
      const value = (n: number): bigint =>
        (book.family(n) === 6 ? 2n ** 200n + (bits6(book.bitsOf(n)) << 8n) : BigInt(book.bitsOf(n)) << 8n) + BigInt(book.lengthOf(n));
      const sorted = [...book.sorted()];
      for (let i = 1; i < sorted.length; i++) {
        expect(value(sorted[i - 1] ?? 0) < value(sorted[i] ?? 0)).toBe(true);
        expect(book.compare(sorted[i - 1] ?? 0, sorted[i] ?? 0)).toBeLessThan(0);
      }
    }),
  );
});

test('covering goes by the first bits and never across families', () => {
  const book = new PrefixBook();
  fc.assert(fc.property(four, four, (a, b) => book.covers(book.id(a.bits, a.length), book.id(b.bits, b.length)) === covers(a, b)));
  fc.assert(
    fc.property(six, fc.nat(128), ({ bits, length }, up) => {
      const shorter = Math.min(up, length);
      const whole = book.id6(network6Of(bits, shorter), shorter);
      return book.covers(whole, book.id6(bits, length)) && (shorter === length || !book.covers(book.id6(bits, length), whole));
    }),
  );
  expect(book.covers(book.id(0, 0), book.id6(0n, 0))).toBe(false);
});

test('prefixes are written as the standards have it', () => {
  const book = new PrefixBook();
  expect(book.text(book.id(0x0a60_0000, 11))).toBe('10.96.0.0/11');
  expect(book.text(book.id6(0x2001_0db8n << 96n, 48))).toBe('2001:db8::/48');
  expect(book.prefix(book.id6(1n, 128))).toEqual({ bits: address6(1n), length: 128 });
});
