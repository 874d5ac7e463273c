import { prefixKey, type Ipv4, type Ipv4Prefix } from '../prefix/ipv4';

/** Prefixes counted through, so that what is known of them stands in arrays by number. */
export class PrefixIds {
  private readonly ids = new Map<number, number>();
  private readonly all: Ipv4Prefix[] = [];

  get size(): number {
    return this.all.length;
  }

  /** The number of a prefix; a new one when it was not known. */
  id(bits: Ipv4, length: number): number {
    const key = prefixKey(bits, length);
    let n = this.ids.get(key);
    if (n === undefined) {
      n = this.all.length;
      this.ids.set(key, n);
      this.all.push({ bits, length });
    }
    return n;
  }

  /** The number of a prefix given by its key; `undefined` when nobody ever named it. */
  known(key: number): number | undefined {
    return this.ids.get(key);
  }

  /** The prefix of a number. */
  prefix(id: number): Ipv4Prefix {
    return this.all[id] ?? nowhere;
  }
}

const nowhere: Ipv4Prefix = { bits: 0, length: 0 };
