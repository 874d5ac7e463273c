import { address6, bits6, covers, formatPrefix, networkOf, placeIn, plus, type Address, type Prefix } from '../prefix/address';
import { freeSubnet } from './pools';

/** An area of a site with the number of LANs that its block must hold, room for growth among them. */
export interface SiteArea {
  readonly id: number;
  readonly lans: number;
}

/** /64s of a block that are no LANs: the first for loopbacks, the second for links. */
const kept = 2;

/** Length of the smallest block that holds so many LANs. */
const tight = (lans: number): number => 64 - Math.ceil(Math.log2(lans + kept));

/** The same on the border of a hexadecimal digit, so that an area is seen in its addresses. */
const readable = (length: number): number => length - (length % 4);

/**
 * Cuts the IPv6 prefix of a site into a block for each area, which is also its summary (RFC 4291 §2.5.4, RFC 6177). Blocks
 * fall on hexadecimal digits and are as wide as leaves room for three times as many areas, where the prefix is short enough.
 * A block that was given out before stays while it suffices.
 */
export function planSite(
  site: Prefix,
  areas: readonly SiteArea[],
  before: ReadonlyMap<number, Prefix> = new Map(),
): { readonly blocks: ReadonlyMap<number, Prefix>; readonly moved: ReadonlySet<number> } | { readonly fault: string } {
  const digits = Math.max(1, Math.ceil(Math.log2(3 * Math.max(1, areas.length)) / 4));
  const roomy = 4 * (Math.ceil(site.length / 4) + digits);
  const widths: readonly ((a: SiteArea) => number)[] = [
    (a) => Math.min(roomy, readable(tight(a.lans))),
    (a) => readable(tight(a.lans)),
    (a) => tight(a.lans),
  ];
  for (const width of widths) {
    const blocks = new Map<number, Prefix>();
    for (const a of areas) {
      const old = before.get(a.id);
      const free = old && ![...blocks.values()].some((b) => covers(b, old) || covers(old, b));
      if (free && covers(site, old) && old.length <= tight(a.lans)) blocks.set(a.id, old);
    }
    const left = areas.filter((a) => !blocks.has(a.id)).map((a) => ({ a, length: width(a) }));
    // The widest first: narrow ones fit into what is left. Of equal ones in the order of the areas.
    for (const { a, length } of left.sort((x, y) => x.length - y.length)) {
      const block = freeSubnet(site, length, [...blocks.values()]);
      if (block) blocks.set(a.id, block);
    }
    if (areas.every((a) => blocks.has(a.id)))
      return { blocks, moved: new Set(areas.filter((a) => before.has(a.id) && before.get(a.id) !== blocks.get(a.id)).map((a) => a.id)) };
  }
  const wanted = areas.reduce((n, a) => n + 2 ** (64 - tight(a.lans)), 0);
  return {
    fault: `${formatPrefix(site)} is too small: ${areas.length} ${areas.length === 1 ? 'area needs' : 'areas need'} ${wanted.toLocaleString('en-GB')} subnets of /64; give a /${Math.max(0, 64 - Math.ceil(Math.log2(wanted)))} or shorter.`,
  };
}

/** Hands out the addresses of an area's block: to those who had one the same, to others the next that nobody had. */
export class BlockAddresses {
  private readonly taken = new Set<Address>();

  /**
   * @param given  what was given out before, by `ROUTER/INTERFACE`
   * @param avoid  subnets that somebody took by hand
   */
  constructor(
    readonly block: Prefix,
    private readonly given: ReadonlyMap<string, Address> = new Map(),
    private readonly avoid: readonly Prefix[] = [],
  ) {
    this.had = new Set(given.values());
  }

  private readonly had: ReadonlySet<Address>;

  /** A /128. */
  loopback(who: string): Prefix {
    return this.next(who, { bits: this.block.bits, length: 64 }, 128, 1n);
  }

  /** A /127 (RFC 6164). */
  link(who: string): Prefix {
    return this.next(who, { bits: plus(this.block.bits, 1n << 64n), length: 64 }, 127, 0n);
  }

  /** A /64. */
  lan(who: string): Prefix {
    return this.next(who, this.block, 64, BigInt(kept));
  }

  private next(who: string, within: Prefix, length: number, first: bigint): Prefix {
    const size = 1n << BigInt(128 - length);
    const room = 1n << BigInt(length - within.length);
    const fits = (bits: Address): boolean =>
      !this.taken.has(bits) && (this.avoid.length === 0 || !this.avoid.some((a) => covers(a, { bits, length }) || covers({ bits, length }, a)));
    const take = (bits: Address): Prefix => {
      this.taken.add(bits);
      return { bits, length };
    };
    const old = this.given.get(who);
    const was = old === undefined ? undefined : networkOf(old, length);
    if (was !== undefined && covers(within, { bits: was, length }) && placeIn(within, was) >= first * size && fits(was)) return take(was);
    for (const spare of [true, false])
      for (let n = first; n < room; n++) {
        const bits = address6(bits6(within.bits) + n * size);
        if (fits(bits) && !(spare && (this.had.has(bits) || this.had.has(plus(bits, 1))))) return take(bits);
      }
    throw new RangeError(`the block ${formatPrefix(this.block)} does not suffice for its area`);
  }
}
