import { prefixKey, type Ipv4, type Ipv4Prefix } from './ipv4';

const nowhere: Ipv4Prefix = { bits: 0, length: 0 };

/** Prefixes counted through, so that what is known of them stands in arrays by number: a table with open addressing. */
export class PrefixIds {
  private readonly all: Ipv4Prefix[] = [];
  private places: Int32Array;
  private bits: Uint32Array;
  private lengths: Uint8Array;

  /** @param room  how many are expected; more are taken all the same */
  constructor(room = 1000) {
    const size = 2 ** Math.ceil(Math.log2(Math.max(room, 8) * 2));
    this.places = new Int32Array(size).fill(-1);
    this.bits = new Uint32Array(size);
    this.lengths = new Uint8Array(size);
  }

  get size(): number {
    return this.all.length;
  }

  /** Where a prefix stands in the table, or the free place where it would. */
  private find(bits: Ipv4, length: number): number {
    const mask = this.places.length - 1;
    const h = Math.imul(bits ^ Math.imul(length, 0x9e3779b1), 0x85ebca6b);
    let i = (h ^ (h >>> 15)) & mask;
    while ((this.places[i] ?? -1) >= 0 && (this.bits[i] !== bits || this.lengths[i] !== length)) i = (i + 1) & mask;
    return i;
  }

  /** The number of a prefix; a new one when it was not known. */
  id(bits: Ipv4, length: number): number {
    const i = this.find(bits, length);
    const known = this.places[i] ?? -1;
    if (known >= 0) return known;
    const made = this.all.length;
    this.put(i, bits, length, made);
    this.all.push({ bits, length });
    if (made * 2 > this.places.length) this.grow();
    return made;
  }

  private put(i: number, bits: Ipv4, length: number, n: number): void {
    this.places[i] = n;
    this.bits[i] = bits;
    this.lengths[i] = length;
  }

  private grow(): void {
    const size = this.places.length * 2;
    this.places = new Int32Array(size).fill(-1);
    this.bits = new Uint32Array(size);
    this.lengths = new Uint8Array(size);
    this.all.forEach((p, n) => {
      this.put(this.find(p.bits, p.length), p.bits, p.length, n);
    });
  }

  /** The number of a prefix given by its key (`prefixKey`); `undefined` when nobody ever named it. */
  known(key: number): number | undefined {
    const n = this.places[this.find(Math.floor(key / 64), key % 64)] ?? -1;
    return n < 0 ? undefined : n;
  }

  /** The prefix of a number. */
  prefix(id: number): Ipv4Prefix {
    return this.all[id] ?? nowhere;
  }

  /** Numbers in the order of address, then length. */
  sorted(): Int32Array {
    const n = this.all.length;
    const keys = new Float64Array(n);
    for (let i = 0; i < n; i++) {
      const p = this.prefix(i);
      keys[i] = prefixKey(p.bits, p.length);
    }
    keys.sort();
    const out = new Int32Array(n);
    for (let i = 0; i < n; i++) out[i] = this.known(keys[i] ?? 0) ?? 0;
    return out;
  }
}
