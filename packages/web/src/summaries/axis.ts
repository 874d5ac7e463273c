import { addressOf, bitsOf, commonPrefix, hostLength, isSix, lastOf, networkOf, sizeOf, type Prefix } from '@gentle-compass/core/prefix/address';
import { formatIpv4 } from '@gentle-compass/core/prefix/ipv4';
import { formatIpv6 } from '@gentle-compass/core/prefix/ipv6';

/** The stretch of address space that is seen: its first address and how many, as a power of two. */
export interface Span {
  readonly six: boolean;
  readonly first: bigint;
  readonly power: number;
}

const bitsIn = (six: boolean): number => (six ? 128 : 32);
const total = (six: boolean): bigint => 1n << BigInt(bitsIn(six));

/** As many addresses as fit on the ruler at the nearest: single ones stay apart. */
const nearest = 3;

const clamped = (six: boolean, first: bigint, power: number): Span => {
  const p = Math.max(nearest, Math.min(bitsIn(six), power));
  const most = total(six) - (1n << BigInt(p));
  return { six, power: p, first: first < 0n ? 0n : first > most ? most : first };
};

/** The span in which a prefix stands with some room on both sides. */
export function around(p: Prefix): Span {
  const size = sizeOf(p);
  const power = hostLength(p.bits) - p.length + 1;
  return clamped(isSix(p.bits), bitsOf(p.bits) - size / 2n, power);
}

/** Where an address stands in a span, from 0 to 1; outside of it below or above. */
export const placeOf = (s: Span, address: bigint): number => Number(((address - s.first) << 24n) >> BigInt(s.power)) / 2 ** 24;

/** The address at a place of a span. */
export const addressAt = (s: Span, place: number): bigint => {
  const at = s.first + ((BigInt(Math.round(place * 2 ** 24)) << BigInt(s.power)) >> 24n);
  return at < 0n ? 0n : at >= total(s.six) ? total(s.six) - 1n : at;
};

/** Nearer or farther, with the address at a place staying where it is. @param by  powers of two: 1 shows twice as much */
export function zoomed(s: Span, place: number, by: number): Span {
  const power = Math.max(nearest, Math.min(bitsIn(s.six), s.power + by));
  if (power === s.power) return s;
  const fixed = addressAt(s, place);
  const before = (BigInt(Math.round(place * 2 ** 24)) << BigInt(power)) >> 24n;
  return clamped(s.six, fixed - before, power);
}

/** Moved by a share of what is seen. */
export const shifted = (s: Span, by: number): Span =>
  clamped(s.six, s.first + ((BigInt(Math.round(by * 2 ** 24)) << BigInt(s.power)) >> 24n), s.power);

/** An address as it is written. */
const textOf = (bits: bigint, six: boolean): string => (six ? formatIpv6(bits) : formatIpv4(Number(bits)));

/** The first and the last address that are seen. */
export const spanWords = (s: Span): string => `${textOf(s.first, s.six)} – ${textOf(s.first + (1n << BigInt(s.power)) - 1n, s.six)}`;

/** Marks of the scale: so many at most, at round addresses. */
export function ticks(s: Span, most: number): readonly { readonly at: number; readonly text: string }[] {
  let step = Math.max(0, s.power - Math.floor(Math.log2(Math.max(2, most))));
  while (1n << BigInt(s.power - step) > BigInt(most)) step++;
  const size = 1n << BigInt(step);
  const out: { at: number; text: string }[] = [];
  for (let a = ((s.first + size - 1n) / size) * size; a < s.first + (1n << BigInt(s.power)) && a < total(s.six); a += size)
    out.push({ at: placeOf(s, a), text: textOf(a, s.six) });
  return out;
}

/** Places of a prefix's ends on a span. */
export const ends = (s: Span, p: Prefix): readonly [number, number] => [placeOf(s, bitsOf(p.bits)), placeOf(s, bitsOf(p.bits) + sizeOf(p))];

/** A stretch that nothing has, as places of a span and as the largest prefix in it. */
export interface Free {
  readonly from: number;
  readonly to: number;
  readonly largest: Prefix;
}

/** The largest prefix between two addresses, the second one not included. */
function largestIn(first: bigint, behind: bigint, six: boolean): Prefix {
  const host = bitsIn(six);
  for (let power = (behind - first).toString(2).length - 1; power >= 0; power--) {
    const size = 1n << BigInt(power);
    const at = ((first + size - 1n) / size) * size;
    if (at + size <= behind) return { bits: addressOf(at, six), length: host - power };
  }
  return { bits: addressOf(first, six), length: host };
}

/** Stretches of addresses, ascending, none touching another: the first of each and that behind its last. */
export type Used = readonly (readonly [first: bigint, behind: bigint])[];

/** What some prefixes use together. */
export function usedBy(prefixes: readonly Prefix[]): Used {
  const out: [bigint, bigint][] = [];
  const list = prefixes.map((p): [bigint, bigint] => [bitsOf(p.bits), bitsOf(p.bits) + sizeOf(p)]);
  for (const [first, behind] of list.sort((a, b) => (a[0] < b[0] ? -1 : a[0] > b[0] ? 1 : 0))) {
    const last = out.at(-1);
    if (!last || first > last[1]) out.push([first, behind]);
    else if (behind > last[1]) last[1] = behind;
  }
  return out;
}

/** Room between what is used, as far as it is wide enough to be seen. @param least  share of the span */
export function freeRoom(s: Span, used: Used, least: number): Free[] {
  const end = s.first + (1n << BigInt(s.power));
  const list = used.filter(([first, behind]) => behind > s.first && first < end);
  const out: Free[] = [];
  let at = s.first;
  const take = (to: bigint): void => {
    if (to <= at) return;
    const [from, until] = [placeOf(s, at), placeOf(s, to)];
    if (until - from >= least) out.push({ from, to: until, largest: largestIn(at, to, s.six) });
  };
  for (const [first, behind] of list) {
    take(first);
    if (behind > at) at = behind;
  }
  take(end);
  return out;
}

/** The prefix beside one, of the same length: before it or after it; the same where there is none. */
export function beside(p: Prefix, by: -1 | 1): Prefix {
  const first = bitsOf(p.bits) + BigInt(by) * sizeOf(p);
  const six = isSix(p.bits);
  return first < 0n || first >= total(six) ? p : { bits: addressOf(first, six), length: p.length };
}

/** The prefix around one, twice as wide. */
export const widened = (p: Prefix): Prefix => (p.length === 0 ? p : { bits: networkOf(p.bits, p.length - 1), length: p.length - 1 });

/** One half of a prefix. */
export function halfOf(p: Prefix, upper: boolean): Prefix {
  if (p.length >= hostLength(p.bits)) return p;
  const first = bitsOf(p.bits) + (upper ? sizeOf(p) / 2n : 0n);
  return { bits: addressOf(first, isSix(p.bits)), length: p.length + 1 };
}

/** The prefix of the same length that holds an address. */
export const movedTo = (p: Prefix, address: bigint): Prefix => ({ bits: networkOf(addressOf(address, isSix(p.bits)), p.length), length: p.length });

/** The smallest prefix that holds one end of a prefix and an address to which the other end is drawn. */
export function drawnTo(p: Prefix, end: 'first' | 'last', address: bigint): Prefix {
  const host = hostLength(p.bits);
  const fixed = { bits: end === 'first' ? lastOf(p) : p.bits, length: host };
  return commonPrefix(fixed, { bits: addressOf(address, isSix(p.bits)), length: host });
}
