import type { Port } from '../adjacency/speakers';
import { compareAddresses } from '../prefix/address';
import type { Ipv4 } from '../prefix/ipv4';
import type { HopList, HopSet } from '../spf/shortest-path-tree';

/**
 * A set of next hops of one router as one number: a bit for each of its slots while they fit into 32 (four are left for forwarding addresses), else the place of
 * the set in a list of sets. 0 is the empty set; codes of one router compare and join among themselves only.
 */
export type HopCode = number;

/** Ways out of one router, and sets of them as numbers. Places are made first, then sets. */
export class HopSlots {
  /** By place: number of the port, and the address there; `undefined` for what is attached. */
  private readonly ports: number[] = [];
  private readonly addresses: (Ipv4 | undefined)[] = [];
  private sets: (readonly number[])[] | undefined;
  private codes: Map<string, HopCode> | undefined;
  private joined: Map<number, HopCode> | undefined;
  private lists: Map<HopCode, HopSet> | undefined;
  private decided: boolean | undefined;

  /** @param all  ports of all routers by number: where two have one id, the first stands for the other with its own */
  constructor(private readonly all: readonly Port[]) {}

  /** Place of a way out. */
  place(port: Port, address: Ipv4 | undefined): number {
    const { ports, addresses } = this;
    const { index } = port;
    for (let i = 0; i < ports.length; i++) if (ports[i] === index && addresses[i] === address) return i;
    addresses.push(address);
    return ports.push(index) - 1;
  }

  /** The port of a place. */
  portAt(place: number): Port | undefined {
    return this.all[this.ports[place] ?? -1];
  }

  /** The address of a place: `undefined` for what is attached there. */
  addressAt(place: number): Ipv4 | undefined {
    return this.addresses[place];
  }

  /** More ways than bits: sets are numbered instead. Fixed by the first set. */
  get wide(): boolean {
    return (this.decided ??= this.ports.length > 28);
  }

  /** The same set with what is attached addressed directly; ways for which there is no bit left stay as they are. */
  addressed(code: HopCode, address: Ipv4): HopCode {
    let out = 0;
    for (const n of this.places(code)) {
      const port = this.portAt(n);
      const direct = port && this.addresses[n] === undefined ? this.place(port, address) : n;
      out = this.join(out, this.single(!this.wide && direct > 31 ? n : direct));
    }
    return out;
  }

  /** At most so many ways of a set, those with the smallest addresses, of those without one the first interfaces. */
  limited(code: HopCode, limit: number): HopCode {
    // A set of one bit or none, or more room than bits: nothing to leave out.
    if (!this.wide && (limit > 31 || (code & (code - 1)) === 0)) return code;
    if (!this.wide && bitCount(code) <= limit) return code;
    const places = this.places(code);
    if (places.length <= limit) return code;
    const port = (n: number): number => this.ports[n] ?? 0;
    const order = [...places].sort((a, b) => compareAddresses(this.addresses[a] ?? 0, this.addresses[b] ?? 0) || port(a) - port(b));
    return order.slice(0, limit).reduce<HopCode>((set, n) => this.join(set, this.single(n)), 0);
  }

  single(place: number): HopCode {
    if (this.wide) return this.codeOf([place]);
    if (place > 31) throw new RangeError('more ways out of a router than its sets have room for');
    return 1 << place;
  }

  join(a: HopCode, b: HopCode): HopCode {
    if (!this.wide) return a | b;
    if (a === b || b === 0) return a;
    if (a === 0) return b;
    const key = a * 0x200_0000 + b;
    this.joined ??= new Map();
    let n = this.joined.get(key);
    if (n === undefined) {
      n = this.codeOf([...new Set([...this.places(a), ...this.places(b)])].sort((x, y) => x - y));
      this.joined.set(key, n);
    }
    return n;
  }

  private codeOf(places: readonly number[]): HopCode {
    const key = places.join();
    this.sets ??= [[]];
    this.codes ??= new Map();
    let n = this.codes.get(key);
    if (n === undefined) {
      n = this.sets.length;
      this.sets.push(places);
      this.codes.set(key, n);
    }
    return n;
  }

  /** Places of a set, ascending. */
  places(code: HopCode): readonly number[] {
    if (this.wide) return this.sets?.[code] ?? [];
    const out: number[] = [];
    for (let rest = code; rest !== 0; rest &= rest - 1) out.push(31 - Math.clz32(rest & -rest));
    return out;
  }

  /** True when a way of the set leads out of a port that the test takes. */
  some(code: HopCode, test: (port: Port) => boolean): boolean {
    return this.places(code).some((n) => {
      const port = this.portAt(n);
      return port !== undefined && test(port);
    });
  }

  /** True when a way of the set leads onto a network at one of the router's own ports. */
  attached(code: HopCode): boolean {
    if (this.wide) return this.places(code).some((n) => this.addresses[n] === undefined);
    return (code & this.attachedMask()) !== 0;
  }

  private mask = 0;
  private masked = -1;
  private attachedMask(): number {
    for (; this.masked < this.ports.length - 1;) if (this.addresses[++this.masked] === undefined && this.masked < 32) this.mask |= 1 << this.masked;
    return this.mask;
  }

  /** Whether sets lead out of ports that the test takes: each set is looked at once. */
  crossing(test: (port: Port) => boolean): (code: HopCode) => boolean {
    if (this.wide) {
      const known = new Map<HopCode, boolean>();
      return (code) => {
        let answer = known.get(code);
        if (answer === undefined) {
          answer = this.some(code, test);
          known.set(code, answer);
        }
        return answer;
      };
    }
    let mask = 0;
    this.ports.forEach((_, n) => {
      const port = this.portAt(n);
      if (port && test(port)) mask |= 1 << n;
    });
    return (code) => (code & mask) !== 0;
  }

  /** The set as places in a list that is shared with other rooms; one list object for each code. */
  listed(code: HopCode, hopList: HopList): HopSet {
    this.lists ??= new Map();
    let list = this.lists.get(code);
    if (!list) {
      list = this.places(code)
        .flatMap((n) => {
          const port = this.portAt(n);
          return port ? [hopList.place(port, this.addresses[n])] : [];
        })
        .sort((a, b) => a - b);
      this.lists.set(code, list);
    }
    return list;
  }
}

function bitCount(code: number): number {
  let n = 0;
  for (let rest = code; rest !== 0; rest &= rest - 1) n++;
  return n;
}
