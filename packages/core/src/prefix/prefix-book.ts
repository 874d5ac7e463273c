import { address6, bits6, formatPrefix, hostLength, isSix, network6Of, type Address, type Prefix } from './address';
import { networkOf, type Ipv4 } from './ipv4';
import type { Ipv6 } from './ipv6';

/** A network of IPv6 (RFC 4291 §2.3): `bits` has no host bits set; `length` is 0 to 128. */
export interface Ipv6Prefix {
  readonly bits: Ipv6;
  readonly length: number;
}

/** Lengths of IPv6 prefixes stand this much higher, so that one column tells the family too. */
const six = 64;

/**
 * Prefixes of both families as numbers, so that what is known of them stands in arrays and maps by number: the only place
 * that knows how many bits an address has. A prefix keeps its number for good. IPv4 is looked up by open addressing.
 */
export class PrefixBook {
  private count = 0;
  private places: Int32Array;
  /** IPv4: the network. */
  private bits: Uint32Array;
  /** IPv4: the length; IPv6: 64 more than that. */
  private lengths: Uint8Array;
  /** IPv6: the network as an address, by number of the prefix. */
  private readonly networks6 = new Map<number, Address>();
  /** IPv6, by length and network. */
  private readonly ids6: (Map<Ipv6, number> | undefined)[] = [];

  /** @param room  how many are expected; more are taken all the same */
  constructor(room = 1000) {
    const size = 2 ** Math.ceil(Math.log2(Math.max(room, 8)));
    this.places = new Int32Array(size * 2).fill(-1);
    this.bits = new Uint32Array(size);
    this.lengths = new Uint8Array(size);
  }

  get size(): number {
    return this.count;
  }

  /** Where an IPv4 prefix stands in the table, or the free place where it would. */
  private find(bits: Ipv4, length: number): number {
    const { places, bits: all, lengths } = this;
    const mask = places.length - 1;
    const h = Math.imul(bits ^ Math.imul(length, 0x9e3779b1), 0x85ebca6b);
    let i = (h ^ (h >>> 15)) & mask;
    for (let n = places[i] ?? -1; n >= 0; n = places[i] ?? -1) {
      if (all[n] === bits && lengths[n] === length) return i;
      i = (i + 1) & mask;
    }
    return i;
  }

  /** The number of a prefix; a new one when it was not known. */
  id(bits: Address, length: number): number {
    if (isSix(bits)) return this.id6(bits6(bits), length);
    const i = this.find(bits, length);
    const known = this.places[i] ?? -1;
    if (known >= 0) return known;
    const made = this.next(bits, length);
    this.places[this.find(bits, length)] = made;
    return made;
  }

  /** The number of an IPv6 prefix; a new one when it was not known. */
  id6(bits: Ipv6, length: number): number {
    const ofLength = (this.ids6[length] ??= new Map<Ipv6, number>());
    let made = ofLength.get(bits);
    if (made === undefined) {
      made = this.next(0, six + length);
      ofLength.set(bits, made);
      this.networks6.set(made, address6(bits));
    }
    return made;
  }

  private next(bits: Ipv4, length: number): number {
    const made = this.count++;
    if (made === this.bits.length) this.grow();
    this.bits[made] = bits;
    this.lengths[made] = length;
    return made;
  }

  private grow(): void {
    const size = this.bits.length * 2;
    const [bits, lengths] = [this.bits, this.lengths];
    this.bits = new Uint32Array(size);
    this.bits.set(bits);
    this.lengths = new Uint8Array(size);
    this.lengths.set(lengths);
    this.places = new Int32Array(size * 2).fill(-1);
    for (let n = 0; n < bits.length; n++) if ((lengths[n] ?? 0) < six) this.places[this.find(bits[n] ?? 0, lengths[n] ?? 0)] = n;
  }

  /** The number of a prefix; `undefined` when nobody ever named it. */
  known(bits: Address, length: number): number | undefined {
    if (isSix(bits)) return this.ids6[length]?.get(bits6(bits));
    const n = this.places[this.find(bits, length)] ?? -1;
    return n < 0 ? undefined : n;
  }

  /** Numbers of all named prefixes that hold an address, the longest first. */
  holders(address: Address): number[] {
    const out: number[] = [];
    for (let length = hostLength(address); length >= 0; length--) {
      const id = this.holder(address, length);
      if (id !== undefined) out.push(id);
    }
    return out;
  }

  /** The number of the prefix of a length that holds an address; `undefined` when nobody ever named it. */
  holder(address: Address, length: number): number | undefined {
    if (isSix(address)) return this.ids6[length]?.get(network6Of(bits6(address), length));
    return this.known(networkOf(address, length), length);
  }

  family(id: number): 4 | 6 {
    return (this.lengths[id] ?? 0) < six ? 4 : 6;
  }

  /** The prefix of a number. */
  prefix(id: number): Prefix {
    return { bits: this.bitsOf(id), length: this.lengthOf(id) };
  }

  /** Network of a prefix by its number. */
  bitsOf(id: number): Address {
    if (this.family(id) === 4) return this.bits[id] ?? 0;
    return this.networks6.get(id) ?? 0;
  }

  /** Length of a prefix by its number. */
  lengthOf(id: number): number {
    const n = this.lengths[id] ?? 0;
    return n < six ? n : n - six;
  }

  /** Writes a prefix: `10.96.0.0/24`, `2001:db8::/48` (RFC 4632, RFC 5952). */
  text(id: number): string {
    return formatPrefix(this.prefix(id));
  }

  /** Order of two prefixes: IPv4 first, by address, then the shorter one. */
  compare(a: number, b: number): number {
    if (a === b) return 0;
    const [p, q] = [this.networks6.get(a), this.networks6.get(b)];
    if (p === undefined && q === undefined) return (this.bits[a] ?? 0) - (this.bits[b] ?? 0) || this.lengthOf(a) - this.lengthOf(b);
    if (p === undefined || q === undefined) return p === undefined ? -1 : 1;
    const [x, y] = [bits6(p), bits6(q)];
    return x < y ? -1 : x > y ? 1 : this.lengthOf(a) - this.lengthOf(b);
  }

  /** True when every address of `part` lies in `whole`; a prefix covers itself, and none of the other family. */
  covers(whole: number, part: number): boolean {
    const length = this.lengthOf(whole);
    if (this.family(whole) !== this.family(part) || this.lengthOf(part) < length) return false;
    const [x, y] = [this.networks6.get(whole), this.networks6.get(part)];
    if (x !== undefined && y !== undefined) return network6Of(bits6(y), length) === bits6(x);
    return length === 0 || ((this.bits[whole] ?? 0) ^ (this.bits[part] ?? 0)) >>> (32 - length) === 0;
  }

  /** All numbers in the order of `compare`. */
  sorted(): Int32Array {
    // As one number each where all are IPv4, as nearly everywhere: sorted without a function.
    if (this.networks6.size > 0) return Int32Array.from({ length: this.count }, (_, i) => i).sort((a, b) => this.compare(a, b));
    const keys = new Float64Array(this.count);
    for (let i = 0; i < keys.length; i++) keys[i] = (this.bits[i] ?? 0) * six + (this.lengths[i] ?? 0);
    keys.sort();
    const out = new Int32Array(keys.length);
    for (let i = 0; i < keys.length; i++) out[i] = this.known(Math.floor((keys[i] ?? 0) / six), (keys[i] ?? 0) % six) ?? 0;
    return out;
  }
}

/**
 * The book of everything that is computed here: a prefix has one number in all designs and states, so that tables of any two
 * of them can be laid side by side. It grows by some forty octets for each prefix that was ever named.
 */
export const prefixBook = new PrefixBook();

/** The number of a prefix. */
export const prefixId = (bits: Address, length: number): number => prefixBook.id(bits, length);
