import { prefixKey, type Ipv4, type Ipv4Prefix } from './ipv4';

/** Prefixes counted through, so that what is known of them stands in arrays by number: a table with open addressing. */
export class PrefixIds {
  private count = 0;
  private places: Int32Array;
  private bits: Uint32Array;
  private lengths: Uint8Array;

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

  /** Where a prefix stands in the table, or the free place where it would. */
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
  id(bits: Ipv4, length: number): number {
    const i = this.find(bits, length);
    const known = this.places[i] ?? -1;
    if (known >= 0) return known;
    const made = this.count++;
    if (made === this.bits.length) this.grow();
    this.bits[made] = bits;
    this.lengths[made] = length;
    this.places[this.find(bits, length)] = made;
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
    for (let n = 0; n < bits.length; n++) this.places[this.find(bits[n] ?? 0, lengths[n] ?? 0)] = n;
  }

  /** The number of a prefix given by its key (`prefixKey`); `undefined` when nobody ever named it. */
  known(key: number): number | undefined {
    const n = this.places[this.find(Math.floor(key / 64), key % 64)] ?? -1;
    return n < 0 ? undefined : n;
  }

  /** The prefix of a number. */
  prefix(id: number): Ipv4Prefix {
    return { bits: this.bits[id] ?? 0, length: this.lengths[id] ?? 0 };
  }

  /** Address of a prefix by its number. */
  bitsOf(id: number): Ipv4 {
    return this.bits[id] ?? 0;
  }

  /** Length of a prefix by its number. */
  lengthOf(id: number): number {
    return this.lengths[id] ?? 0;
  }

  /** The key of a prefix by its number. */
  key(id: number): number {
    return prefixKey(this.bits[id] ?? 0, this.lengths[id] ?? 0);
  }

  /** Numbers in the order of address, then length. */
  sorted(): Int32Array {
    const keys = new Float64Array(this.count);
    for (let i = 0; i < keys.length; i++) keys[i] = this.key(i);
    keys.sort();
    const out = new Int32Array(keys.length);
    for (let i = 0; i < keys.length; i++) out[i] = this.known(keys[i] ?? 0) ?? 0;
    return out;
  }
}
