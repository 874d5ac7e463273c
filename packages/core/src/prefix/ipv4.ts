/** An IPv4 address as an unsigned 32-bit number. */
export type Ipv4 = number;

/** A network: `bits` has no host bits set; `length` is 0 to 32. */
export interface Ipv4Prefix {
  readonly bits: Ipv4;
  readonly length: number;
}

/**
 * Network mask of a prefix length.
 * `<<` takes its shift modulo 32, so /0 would give 255.255.255.255: hence the branch.
 */
export const maskOf = (length: number): Ipv4 => (length === 0 ? 0 : (-1 << (32 - length)) >>> 0);

/** Reads a dotted quad strictly: four decimal numbers, no leading zeros, nothing around them. */
export function parseIpv4(text: string): Ipv4 | undefined {
  let value = 0;
  let part = -1;
  let parts = 0;
  let digits = 0;
  for (let i = 0; i <= text.length; i++) {
    const c = i === text.length ? 46 : text.charCodeAt(i);
    if (c === 46) {
      if (part < 0 || part > 255 || parts === 4) return undefined;
      value = (value << 8) | part;
      parts++;
      part = -1;
      digits = 0;
    } else if (c >= 48 && c <= 57) {
      if (digits > 0 && part === 0) return undefined; // 010 is refused: some read it as octal
      part = (part < 0 ? 0 : part) * 10 + (c - 48);
      if (++digits > 3) return undefined;
    } else return undefined;
  }
  return parts === 4 ? value >>> 0 : undefined;
}

/** Writes an address as a dotted quad. */
export const formatIpv4 = (ip: Ipv4): string => `${ip >>> 24}.${(ip >>> 16) & 255}.${(ip >>> 8) & 255}.${ip & 255}`;

/** The network that holds `ip` at a prefix length: the host bits cleared. */
export const networkOf = (ip: Ipv4, length: number): Ipv4 => (ip & maskOf(length)) >>> 0;

/** The prefix that holds an address, with its host bits cleared. */
export const prefixOf = (ip: Ipv4, length: number): Ipv4Prefix => ({ bits: networkOf(ip, length), length });

/** Length of a contiguous mask, or `undefined` when its ones are not all in front. */
export function lengthOfMask(mask: Ipv4): number | undefined {
  const zeros = Math.clz32(~mask >>> 0);
  return maskOf(zeros) === mask ? zeros : undefined;
}

/** True when `ip` lies in the prefix. */
export const holds = (p: Ipv4Prefix, ip: Ipv4): boolean => (ip & maskOf(p.length)) >>> 0 === p.bits;

/** True when every address of `part` lies in `whole`; a prefix covers itself. */
export const covers = (whole: Ipv4Prefix, part: Ipv4Prefix): boolean => part.length >= whole.length && holds(whole, part.bits);

/** Writes `10.96.0.0/24`. */
export const formatPrefix = (p: Ipv4Prefix): string => `${formatIpv4(p.bits)}/${p.length}`;

/** How a prefix was written by the person who typed it. */
export type PrefixNotation = 'length' | 'mask' | 'inverted-mask' | 'address';

/** A prefix as it was typed: with the host bits that may stand behind it, and how its length was given. */
export interface TypedPrefix extends Ipv4Prefix {
  readonly notation: PrefixNotation;
  readonly hostBits: boolean;
}

/**
 * Reads a prefix in any form a person types: `10.1.0.0/16`, `10.1.0.0/255.255.0.0`,
 * `10.1.0.0/0.0.255.255`, the latter two with a space as well; an address alone is a /32.
 * A mask with holes fits nothing and is refused (`undefined`).
 */
export function parseTypedPrefix(text: string): TypedPrefix | undefined {
  const [addressText, lengthText, ...rest] = text.trim().split(/\s*\/\s*|\s+/);
  const ip = parseIpv4(addressText ?? '');
  if (ip === undefined || rest.length > 0) return undefined;
  if (lengthText === undefined) return { bits: ip, length: 32, notation: 'address', hostBits: false };
  let length: number | undefined;
  let notation: PrefixNotation = 'length';
  if (/^\d{1,2}$/.test(lengthText)) length = Number(lengthText);
  else {
    const mask = parseIpv4(lengthText);
    if (mask === undefined) return undefined;
    // 0.0.0.0 and 255.255.255.255 read as masks; every other value is a mask only if its ones stand in front.
    length = lengthOfMask(mask);
    notation = 'mask';
    if (length === undefined) {
      length = lengthOfMask(~mask >>> 0);
      notation = 'inverted-mask';
    }
  }
  if (length === undefined || length > 32) return undefined;
  const bits = networkOf(ip, length);
  return { bits, length, notation, hostBits: bits !== ip };
}
