import { covers, formatPrefix, parseAddress, prefixOf, type Prefix } from '@gentle-compass/core/prefix/address';
import fc from 'fast-check';
import {
  addressAt,
  around,
  beside,
  drawnTo,
  ends,
  freeRoom,
  halfOf,
  movedTo,
  placeOf,
  shifted,
  spanWords,
  ticks,
  usedBy,
  widened,
  zoomed,
  type Span,
} from './axis';

const prefix = (text: string): Prefix => {
  const [address = '', length = ''] = text.split('/');
  return prefixOf(parseAddress(address) ?? 0, Number(length));
};
const four: Span = { six: false, first: 0x0a60_0000n, power: 16 };

const spans: fc.Arbitrary<Span> = fc
  .tuple(fc.boolean(), fc.nat(120), fc.bigInt({ min: 0n, max: (1n << 128n) - 1n }))
  .map(([six, power, at]) => zoomed({ six, first: six ? at : at >> 96n, power: Math.min(power + 4, six ? 128 : 32) }, 0.5, 0))
  .map((s) => shifted(s, 0));

test('an address keeps its place while the ruler is zoomed at it, in both families', () => {
  fc.assert(
    fc.property(spans, fc.double({ min: 0.05, max: 0.95, noNaN: true }), fc.constantFrom(-1, 1), (s, place, by) => {
      const address = addressAt(s, place);
      const after = zoomed(s, place, by);
      const [bits, first] = [after.six ? 128 : 32, after.first];
      // At the ends of the space and at the nearest it cannot stay.
      const atEnd = first === 0n || first === (1n << BigInt(bits)) - (1n << BigInt(after.power));
      if (!atEnd && after.power > 10 && s.power > 10) expect(Math.abs(placeOf(after, address) - place)).toBeLessThan(0.01);
      expect(after.first >= 0n && after.first + (1n << BigInt(after.power)) <= 1n << BigInt(bits)).toBe(true);
    }),
  );
});

test('the scale has round addresses, as many as find room', () => {
  expect(ticks(four, 4).map((t) => t.text)).toEqual(['10.96.0.0', '10.96.64.0', '10.96.128.0', '10.96.192.0']);
  expect(ticks({ ...four, first: 0x0a60_1000n }, 2).map((t) => t.text)).toEqual(['10.96.128.0', '10.97.0.0']);
  const six = around(prefix('2001:db8:40::/48'));
  expect(ticks(six, 4).map((t) => t.text)).toEqual(['2001:db8:3f:8000::', '2001:db8:40::', '2001:db8:40:8000::', '2001:db8:41::']);
  expect(spanWords(four)).toBe('10.96.0.0 – 10.96.255.255');
  for (const most of [2, 3, 5, 9]) expect(ticks(four, most).length).toBeLessThanOrEqual(most);
});

test('around a prefix there is room on both sides', () => {
  expect(ends(around(prefix('10.97.0.0/16')), prefix('10.97.0.0/16'))).toEqual([0.25, 0.75]);
  expect(ends(around(prefix('2001:db8:40::/48')), prefix('2001:db8:40::/48'))).toEqual([0.25, 0.75]);
  expect(around(prefix('0.0.0.0/0'))).toEqual({ six: false, first: 0n, power: 32 });
});

test('free room is what nothing has, with the largest prefix in it', () => {
  const used = ['10.96.0.0/18', '10.96.16.0/24', '10.96.96.0/19'].map(prefix);
  expect(freeRoom(four, usedBy(used), 0.01).map((f) => [f.from, f.to, formatPrefix(f.largest)])).toEqual([
    [0.25, 0.375, '10.96.64.0/19'],
    [0.5, 1, '10.96.128.0/17'],
  ]);
  expect(freeRoom(four, usedBy(used), 0.2)).toHaveLength(1);
  expect(freeRoom(four, usedBy([prefix('10.0.0.0/8')]), 0)).toEqual([]);
});

test('brackets snap to prefixes: beside, wider, halves, drawn by an end, moved', () => {
  const p = prefix('10.97.8.0/22');
  const words = [beside(p, 1), beside(p, -1), widened(p), halfOf(p, false), halfOf(p, true)].map(formatPrefix);
  expect(words).toEqual(['10.97.12.0/22', '10.97.4.0/22', '10.97.8.0/21', '10.97.8.0/23', '10.97.10.0/23']);
  const at = (text: string): bigint => BigInt(parseAddress(text) ?? 0);
  expect(formatPrefix(drawnTo(p, 'last', at('10.97.9.17')))).toBe('10.97.8.0/23');
  expect(formatPrefix(drawnTo(p, 'last', at('10.97.12.0')))).toBe('10.97.8.0/21');
  expect(formatPrefix(drawnTo(p, 'first', at('10.97.7.255')))).toBe('10.97.0.0/20');
  expect(formatPrefix(movedTo(p, at('10.97.35.9')))).toBe('10.97.32.0/22');
  expect([beside(prefix('0.0.0.0/2'), -1), beside(prefix('192.0.0.0/2'), 1), widened(prefix('0.0.0.0/0'))].map(formatPrefix)).toEqual([
    '0.0.0.0/2',
    '192.0.0.0/2',
    '0.0.0.0/0',
  ]);
  expect(formatPrefix(halfOf(prefix('10.0.0.1/32'), true))).toBe('10.0.0.1/32');
});

test('however an end is drawn, the other end stays inside', () => {
  fc.assert(
    fc.property(fc.nat(0xffff), fc.integer({ min: 20, max: 32 }), fc.nat(0xffff), fc.boolean(), (place, length, to, last) => {
      const p = prefixOf(0x0a61_0000 + place, length);
      const drawn = drawnTo(p, last ? 'last' : 'first', BigInt(0x0a61_0000 + to));
      const fixed = { bits: last ? p.bits : p.bits + 2 ** (32 - length) - 1, length: 32 };
      expect(covers(drawn, fixed)).toBe(true);
      expect(covers(drawn, { bits: 0x0a61_0000 + to, length: 32 })).toBe(true);
    }),
  );
});
