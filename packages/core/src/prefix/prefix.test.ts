import fc from 'fast-check';
import { covers, formatIpv4, holds, lengthOfMask, maskOf, parseIpv4, parseTypedPrefix, prefixOf } from './ipv4';
import { formatIpv6, parseIpv6 } from './ipv6';

const addresses = fc.integer({ min: 0, max: 0xffff_ffff });
const lengths = fc.integer({ min: 0, max: 32 });

test('addresses are read strictly and written back', () => {
  fc.assert(fc.property(addresses, (ip) => parseIpv4(formatIpv4(ip)) === ip));
  for (const bad of ['', '1.2.3', '1.2.3.4.5', '256.1.1.1', '010.0.0.1', '1.2.3.4 ', '1..2.3', 'a.b.c.d', '-1.2.3.4', '1.2.3.0004'])
    expect(parseIpv4(bad)).toBeUndefined();
});
test('masks and lengths are each other; /0 and /32 too', () => {
  fc.assert(fc.property(lengths, (n) => lengthOfMask(maskOf(n)) === n));
  expect([maskOf(0), maskOf(32)]).toEqual([0, 0xffff_ffff]);
  expect(lengthOfMask(0xff00_ff00)).toBeUndefined();
});
test('a prefix holds what lies between its first and last address', () => {
  fc.assert(
    fc.property(addresses, lengths, addresses, (ip, length, other) => {
      const p = prefixOf(ip, length);
      const last = p.bits + 2 ** (32 - length) - 1;
      return holds(p, other) === (other >= p.bits && other <= last);
    }),
  );
});
test('covering is holding every address of the part', () => {
  fc.assert(
    fc.property(addresses, lengths, addresses, lengths, (a, la, b, lb) => {
      const [whole, part] = [prefixOf(a, la), prefixOf(b, lb)];
      const last = (p: typeof whole): number => p.bits + 2 ** (32 - p.length) - 1;
      return covers(whole, part) === (part.bits >= whole.bits && last(part) <= last(whole));
    }),
  );
});
test('how a prefix was typed is known', () => {
  expect(parseTypedPrefix('10.1.2.3/8')).toEqual({ bits: 0x0a00_0000, length: 8, notation: 'length', hostBits: true });
  expect(parseTypedPrefix('10.0.0.0/0.255.255.255')?.notation).toBe('inverted-mask');
  expect(parseTypedPrefix('10.0.0.0/255.0.0.0')?.notation).toBe('mask');
  expect(parseTypedPrefix('10.0.0.1')).toMatchObject({ length: 32, notation: 'address' });
  for (const bad of ['10.0.0.0/33', '10.0.0.0/255.0.255.0', '10.0.0/8', '10.0.0.0/8/8', '']) expect(parseTypedPrefix(bad)).toBeUndefined();
});
test('IPv6 is read in its forms and written as RFC 5952 recommends', () => {
  for (const [text, canonical] of [
    ['2001:DB8:0:0:0:0:0:1', '2001:db8::1'],
    ['::', '::'],
    ['fe80::1:2', 'fe80::1:2'],
    ['2001:db8:0:1:0:0:0:0', '2001:db8:0:1::'],
  ] as const) {
    const ip = parseIpv6(text);
    expect(ip === undefined ? undefined : formatIpv6(ip)).toBe(canonical);
  }
  for (const bad of ['', '1::2::3', '1:2:3', '12345::', 'g::1', '1:2:3:4:5:6:7:8:9']) expect(parseIpv6(bad)).toBeUndefined();
  fc.assert(fc.property(fc.bigInt({ min: 0n, max: (1n << 128n) - 1n }), (ip) => parseIpv6(formatIpv6(ip)) === ip));
});
