import * as v from 'valibot';
import { parseIpv4, parseTypedPrefix, type Ipv4, type TypedPrefix } from '../prefix/ipv4';
import { parseIpv6, type Ipv6 } from '../prefix/ipv6';
import { address6, formatPrefix, network6Of, type Address, type Prefix } from '../prefix/address';
import type { Ipv6Prefix } from '../prefix/prefix-book';
import { showValue, type LeafType } from './cursor';
import { localName } from './shape';

/** Any value that `read` understands. */
const readBy = <T>(read: (value: unknown) => T | undefined, expected: string): LeafType<T> => ({ read, expected });

/** A value that a schema takes. */
const bySchema = <T>(schema: v.GenericSchema<unknown, T>, expected: string): LeafType<T> =>
  readBy((value) => {
    const result = v.safeParse(schema, value);
    return result.success ? result.output : undefined;
  }, expected);

const integers = new Map<number, LeafType<number>>();

/** A whole number; RFC 7951 writes 64-bit ones as strings, so both are taken. */
export function integer(from: number, to: number): LeafType<number> {
  const known = integers.get(from * 2 ** 33 + to);
  if (known) return known;
  const made = {
    read: (value: unknown) => {
      const n = typeof value === 'string' && /^\d{1,20}$/.test(value) ? Number(value) : value;
      return typeof n === 'number' && Number.isInteger(n) && n >= from && n <= to ? n : undefined;
    },
    expected: `a whole number from ${from.toLocaleString('en-GB')} to ${to.toLocaleString('en-GB')}`,
  };
  integers.set(from * 2 ** 33 + to, made);
  return made;
}
export const flag: LeafType<boolean> = readBy((value) => (typeof value === 'boolean' ? value : undefined), 'true or false');

// eslint-disable-next-line no-control-regex
const control = /[\u0000-\u001f\u007f-\u009f\u200b-\u200f\u2028-\u202e\ufeff]/;

/** Printable ASCII without spaces, the usual case: at one glance. */
function isPlain(text: string): boolean {
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (c < 33 || c > 126) return false;
  }
  return text !== '' && text.length <= 255;
}

const isName = (text: string): boolean => isPlain(text) || (text.trim() === text && text !== '' && text.length <= 255 && !control.test(text));

/** A name: not empty, at most 255 characters, nothing invisible in it. */
export const nameText: LeafType<string> = readBy(
  (value) => (typeof value === 'string' && isName(value) ? value : undefined),
  'a name of 1 to 255 visible characters',
);
export const anyText: LeafType<string> = bySchema(v.string(), 'a text');

/** An IPv6 prefix; host bits behind it are cleared. */
export const prefix6: LeafType<Ipv6Prefix> = readBy((value) => {
  const [address, length, ...rest] = typeof value === 'string' ? value.trim().split('/') : [];
  const bits = address === undefined ? undefined : parseIpv6(address);
  if (bits === undefined || rest.length > 0 || (length !== undefined && !/^\d{1,3}$/.test(length))) return undefined;
  const n = length === undefined ? 128 : Number(length);
  return n > 128 ? undefined : { bits: network6Of(bits, n), length: n };
}, 'an IPv6 prefix, as in 2001:db8:10::/48');

/** A date and time with its zone (RFC 3339), as ms since 1970. */
export const moment: LeafType<number> = readBy((value) => {
  if (typeof value !== 'string' || !/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?(Z|[+-]\d\d:\d\d)$/.test(value)) return undefined;
  // eslint-disable-next-line no-restricted-globals -- it reads a text, not the clock
  const at = Date.parse(value);
  return Number.isNaN(at) ? undefined : at;
}, 'a date and time with its zone, as in 2026-05-01T06:00:00Z');

/** One word out of a fixed set; identities are taken with and without their module prefix. */
export function oneOf<const T extends string>(words: readonly T[]): LeafType<T> {
  const known = new Map<string, T>(words.map((w) => [w, w]));
  return readBy((value) => (typeof value === 'string' ? (known.get(value) ?? known.get(localName(value))) : undefined), `one of ${words.join(', ')}`);
}

/** An identity of any module: its bare name. */
export const identity: LeafType<string> = readBy(
  (value) => (typeof value === 'string' && value !== '' ? localName(value) : undefined),
  'an identity',
);

export const ipv4: LeafType<Ipv4> = readBy(
  (value) => (typeof value === 'string' ? parseIpv4(value) : undefined),
  'an IPv4 address such as 10.96.0.1',
);
/** A router id (RFC 2328 C.1): 0.0.0.0 stands for none (A.3.2 uses it so) and is refused. */
export const routerIdText: LeafType<Ipv4> = readBy((value) => {
  const id = typeof value === 'string' ? parseIpv4(value) : undefined;
  return id === 0 ? undefined : id;
}, 'a router id other than 0.0.0.0, such as 10.96.0.1');
export const ipv6: LeafType<Ipv6> = readBy(
  (value) => (typeof value === 'string' ? parseIpv6(value) : undefined),
  'an IPv6 address such as 2001:db8::1',
);

/** An IPv6 address by its number. */
export const address6Number: LeafType<Address> = readBy((value) => {
  const bits = ipv6.read(value);
  return bits === undefined ? undefined : address6(bits);
}, ipv6.expected);

/** An IPv6 prefix with its network by number. */
export const prefix6Number: LeafType<Prefix> = readBy((value) => {
  const p = prefix6.read(value);
  return p && { bits: address6(p.bits), length: p.length };
}, prefix6.expected);

/** An address of either family by its number. */
export const addressNumber: LeafType<Address> = readBy(
  (value) => (typeof value === 'string' && value.includes(':') ? address6Number.read(value) : ipv4.read(value)),
  'an address such as 10.96.0.1 or 2001:db8::1',
);

/** A prefix of either family, its network by number. */
export const prefixNumber: LeafType<Prefix> = readBy(
  (value) => (typeof value === 'string' && value.includes(':') ? prefix6Number.read(value) : typedPrefix.read(value)),
  'a prefix, as in 10.96.0.0/16 or 2001:db8:10::/48',
);

/** An area id: dotted, or a number. */
export const areaId: LeafType<number> = readBy((value) => {
  if (typeof value === 'number') return Number.isInteger(value) && value >= 0 && value <= 0xffff_ffff ? value : undefined;
  if (typeof value !== 'string') return undefined;
  if (/^\d{1,10}$/.test(value)) return Number(value) <= 0xffff_ffff ? Number(value) : undefined;
  return parseIpv4(value);
}, 'an area id such as 0.0.0.10 or 10');

/** A prefix as a person types it: length, mask or inverted mask. */
export const typedPrefix: LeafType<TypedPrefix> = {
  ...readBy(
    (value) => (typeof value === 'string' ? parseTypedPrefix(value) : undefined),
    'an IPv4 prefix such as 10.96.64.0/18, 10.96.64.0/255.255.192.0 or 10.96.64.0/0.0.63.255',
  ),
  remark: (value) => {
    const read = typeof value === 'string' ? parseTypedPrefix(value) : undefined;
    if (!read?.hostBits) return undefined;
    const plain = formatPrefix(read);
    return {
      message: `${showValue(value)} is an address with its length, and was read as the prefix ${plain}.`,
      remedy: `Write ${plain} if that is meant.`,
    };
  },
};

/** A prefix of either family, its network by number; IPv4 as a person types it. */
export const typedPrefixNumber: LeafType<Prefix> = { ...prefixNumber, ...(typedPrefix.remark && { remark: typedPrefix.remark }) };

/** A prefix of either family. */
export const eitherPrefix: LeafType<TypedPrefix | Ipv6Prefix> = {
  ...readBy(
    (value) => (typeof value === 'string' && value.includes(':') ? prefix6.read(value) : typedPrefix.read(value)),
    'a prefix, as in 10.96.0.0/16 or 2001:db8:10::/48',
  ),
  ...(typedPrefix.remark && { remark: typedPrefix.remark }),
};

/** Prefix length, or a netmask in its place (RFC 8344 allows both). */
export const netmask: LeafType<number> = readBy((value) => {
  if (typeof value !== 'string') return undefined;
  const p = parseTypedPrefix(`0.0.0.0/${value}`);
  return p?.notation === 'mask' ? p.length : undefined;
}, 'a netmask such as 255.255.255.0');
