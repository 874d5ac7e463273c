import { formatIpv4, holds as holds4, networkOf as networkOf4, parseIpv4 } from './ipv4';
import { formatIpv6, parseIpv6, type Ipv6 } from './ipv6';

/**
 * An address of either family as one number: an IPv4 address is its 32 bits, an IPv6 address is below zero and known by its
 * place in the list of those that were ever named: small numbers, which the machine handles as such. Two are equal when
 * their numbers are; their order is not that of the numbers (`compareAddresses`).
 */
export type Address = number;

/** A network of either family: `bits` has no host bits set; `length` is 0 to 32, or 0 to 128. */
export interface Prefix {
  readonly bits: Address;
  readonly length: number;
}

/** From here on downwards numbers are IPv6 addresses; -1 is nobody's. */
const sixFrom = -2;

const sixes: Ipv6[] = [];
const places = new Map<Ipv6, number>();

/** The number of an IPv6 address. */
export function address6(bits: Ipv6): Address {
  let n = places.get(bits);
  if (n === undefined) {
    n = sixes.push(bits) - 1;
    places.set(bits, n);
  }
  return sixFrom - n;
}

export const isSix = (a: Address): boolean => a <= sixFrom;

/** The 128 bits of an IPv6 address. @throws RangeError  for one of IPv4: a fault of ours */
export function bits6(a: Address): Ipv6 {
  const bits = sixes[sixFrom - a];
  if (bits === undefined) throw new RangeError(`${a} is no IPv6 address`);
  return bits;
}

/** Bits of an address of the family of this one: the length of a host's prefix. */
export const hostLength = (a: Address): number => (isSix(a) ? 128 : 32);

const addressBits = 128n;

/** The network that holds an IPv6 address at a prefix length: the host bits cleared. */
export const network6Of = (ip: Ipv6, length: number): Ipv6 => {
  const host = addressBits - BigInt(length);
  return (ip >> host) << host;
};

/** The network that holds an address at a prefix length: the host bits cleared. */
export const networkOf = (a: Address, length: number): Address => (isSix(a) ? address6(network6Of(bits6(a), length)) : networkOf4(a, length));

/** The prefix that holds an address, with its host bits cleared. */
export const prefixOf = (a: Address, length: number): Prefix => ({ bits: networkOf(a, length), length });

/** True when an address lies in the prefix; one of the other family never does. */
export function holds(p: Prefix, a: Address): boolean {
  if (!isSix(a)) return !isSix(p.bits) && holds4(p, a);
  return isSix(p.bits) && network6Of(bits6(a), p.length) === bits6(p.bits);
}

/** True when every address of `part` lies in `whole`; a prefix covers itself. */
export const covers = (whole: Prefix, part: Prefix): boolean => part.length >= whole.length && holds(whole, part.bits);

/** All bits of an address, as one number of its own family. */
export const bitsOf = (a: Address): bigint => (isSix(a) ? bits6(a) : BigInt(a));

/** The address of a family that has these bits. */
export const addressOf = (bits: bigint, six: boolean): Address => (six ? address6(bits) : Number(bits));

/** The address so many after another one. */
export const plus = (a: Address, n: number | bigint): Address => (isSix(a) ? address6(bits6(a) + BigInt(n)) : a + Number(n));

/** How many addresses lie between the first of a prefix and one of its family. */
export const placeIn = (p: Prefix, a: Address): bigint => bitsOf(a) - bitsOf(p.bits);

/** The address that has in one prefix the place that another one has in a prefix of the same length. */
export const likePlace = (to: Prefix, from: Prefix, a: Address): Address => plus(to.bits, placeIn(from, a));

/** The last address of a prefix. */
export const lastOf = (p: Prefix): Address => plus(p.bits, (1n << BigInt(hostLength(p.bits) - p.length)) - 1n);

/** How many addresses a prefix holds. */
export const sizeOf = (p: Prefix): bigint => 1n << BigInt(hostLength(p.bits) - p.length);

/** Order of prefixes: by address, and of one address the shorter first, so that a prefix comes before all that it covers. */
export const comparePrefixes = (a: Prefix, b: Prefix): number => compareAddresses(a.bits, b.bits) || a.length - b.length;

/** True when two prefixes share an address: one covers the other. */
export const overlap = (a: Prefix, b: Prefix): boolean => covers(a, b) || covers(b, a);

/** The smallest prefix that holds two of one family. */
export function commonPrefix(a: Prefix, b: Prefix): Prefix {
  const different = bitsOf(a.bits) ^ bitsOf(b.bits);
  const same = hostLength(a.bits) - (different === 0n ? 0 : different.toString(2).length);
  const length = Math.min(a.length, b.length, same);
  return { bits: networkOf(a.bits, length), length };
}

/** The smallest prefix that holds all of some of one family; `undefined` of none. */
export function hull(parts: readonly Prefix[]): Prefix | undefined {
  const [first, ...rest] = parts;
  return first && rest.reduce(commonPrefix, { bits: networkOf(first.bits, first.length), length: first.length });
}

/** Reads an address of either family. */
export function parseAddress(text: string): Address | undefined {
  if (!text.includes(':')) return parseIpv4(text);
  const bits = parseIpv6(text);
  return bits === undefined ? undefined : address6(bits);
}

/** The prefix of a family that holds all of its addresses. */
export const everything = (six: boolean): Prefix => ({ bits: six ? address6(0n) : 0, length: 0 });

/** True for the addresses that a router keeps to itself: 127.0.0.0/8 and ::1 (RFC 1122 §3.2.1.3, RFC 4291 §2.5.3). */
export const isLoopbackAddress = (a: Address): boolean => (isSix(a) ? bits6(a) === 1n : a >>> 24 === 127);

/** True for fe80::/10 (RFC 4291 §2.5.6). */
export const isLinkLocal = (ip: Ipv6): boolean => ip >> 118n === 0x3fan;

/** Order of two addresses: IPv4 first, each family by its bits. */
export function compareAddresses(a: Address, b: Address): number {
  if (isSix(a) !== isSix(b)) return isSix(a) ? 1 : -1;
  if (!isSix(a)) return a - b;
  const [x, y] = [bits6(a), bits6(b)];
  return x < y ? -1 : x > y ? 1 : 0;
}

/** Writes an address: a dotted quad, or as RFC 5952 recommends. */
export const formatAddress = (a: Address): string => (isSix(a) ? formatIpv6(bits6(a)) : formatIpv4(a));

/** Writes `10.96.0.0/24`, `2001:db8::/48` (RFC 4632, RFC 5952). */
export const formatPrefix = (p: Prefix): string => `${formatAddress(p.bits)}/${p.length}`;
