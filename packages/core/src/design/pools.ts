import type { Design } from './design';
import { processesOf } from './family';
import type { Pool, PoolPurpose } from './settings';
import {
  address6,
  addressOf,
  bitsOf,
  compareAddresses,
  covers,
  formatPrefix,
  hostLength,
  hull,
  isSix,
  networkOf,
  overlap,
  plus,
  prefixOf,
  sizeOf,
  type Prefix,
} from '../prefix/address';

/** How addresses of a family are given out where nothing says otherwise. */
interface Custom {
  /** Where a campus without any address begins: the station's own block. */
  readonly start: Prefix;
  /** Length of the subnets that each purpose usually has. */
  readonly usual: Readonly<Record<PoolPurpose, number>>;
  /** From this length on a subnet is that of a cable. */
  readonly link: number;
  /** Length of the block that an area gets which has nothing yet. */
  readonly block: number;
  /** Length of the prefix that a site usually has. */
  readonly site: number;
  /** Blocks are looked for no wider than this. */
  readonly widest: number;
  /** Loopbacks keep a block of this length to themselves. */
  readonly loopbackGroup: number;
  /** The part of a new block that each purpose gets. */
  readonly part: (block: Prefix) => Readonly<Record<PoolPurpose, Prefix>>;
}

const custom: Readonly<Record<4 | 6, Custom>> = {
  4: {
    start: { bits: 0x0a60_0000, length: 11 },
    usual: { loopbacks: 32, links: 31, lans: 24 },
    link: 30,
    block: 16,
    site: 11,
    widest: 8,
    loopbackGroup: 24,
    part: ({ bits }) => ({
      loopbacks: { bits, length: 22 },
      lans: { bits: bits + 0x1000, length: 20 },
      links: { bits: bits + 0x8000, length: 19 },
    }),
  },
  // RFC 6164: a link has a /127; RFC 7421: a LAN a /64.
  6: {
    start: { bits: address6(0x2001_0db8_0040n << 80n), length: 48 },
    usual: { loopbacks: 128, links: 127, lans: 64 },
    link: 126,
    block: 56,
    site: 48,
    widest: 32,
    loopbackGroup: 64,
    part: ({ bits, length }) => ({
      loopbacks: { bits, length: 64 },
      links: { bits: plus(bits, 1n << 64n), length: 64 },
      // The upper half, so that the first two /64s stay what they are.
      lans: { bits: plus(bits, 1n << BigInt(127 - length)), length: length + 1 },
    }),
  },
};

const familyOf = (p: Prefix): 4 | 6 => (isSix(p.bits) ? 6 : 4);

/** What a subnet serves, by its length and whether a loopback has it. */
export function purposeOf(p: Prefix, loopback: boolean): PoolPurpose {
  if (loopback || p.length === hostLength(p.bits)) return 'loopbacks';
  return p.length >= custom[familyOf(p)].link ? 'links' : 'lans';
}

const names: Record<PoolPurpose, string> = { loopbacks: 'loopbacks', links: 'links', lans: 'LANs' };

/** The lowest free subnet of a length inside a block; `undefined` when there is none. */
export function freeSubnet(block: Prefix, length: number, used: readonly Prefix[]): Prefix | undefined {
  if (length < block.length) return undefined;
  const size = sizeOf({ bits: block.bits, length });
  const inside = used
    .filter((u) => overlap(u, block))
    .sort((a, b) => compareAddresses(a.bits, b.bits))
    .map((u) => ({ first: bitsOf(u.bits), behind: bitsOf(u.bits) + sizeOf(u) }));
  let at = bitsOf(block.bits);
  const end = at + sizeOf(block);
  for (const u of inside) {
    if (u.behind <= at) continue;
    if (at + size <= u.first) break;
    at = ((u.behind + size - 1n) / size) * size;
  }
  return at + size <= end ? { bits: addressOf(at, isSix(block.bits)), length } : undefined;
}

export interface Used extends Prefix {
  readonly purpose: PoolPurpose;
  /** `undefined`: not in OSPF. */
  readonly area: number | undefined;
}

/** Every subnet of a design, as one family looks at it, with what it serves and in which area. */
export function subnetsOf(design: Design): Used[] {
  return design.routers.flatMap((r) => {
    const areaOf = new Map(processesOf(r).flatMap((o) => o.areas.flatMap((a) => a.interfaces.map((i) => [i.name, a.id] as const))));
    return r.interfaces.flatMap((i) =>
      i.addresses.map((a): Used => ({
        bits: networkOf(a.bits, a.length),
        length: a.length,
        // A single address on a cable is lent to it by a loopback: unnumbered.
        purpose: purposeOf(a, i.kind === 'loopback'),
        area: areaOf.get(i.name),
      })),
    );
  });
}

/** A subnet that is free, and where it was taken from, in words. */
export interface Taken extends Prefix {
  readonly from: string;
}

/**
 * Hands out free subnets of a design by purpose and area: from the design's own pools, else from where subnets of that
 * purpose lie in that area already, else from the area's range, else from a block that nothing uses yet. What is handed
 * out counts as used.
 */
export class Addresses {
  private readonly used: Used[];
  private readonly pools: readonly Pool[];
  private readonly ranges: { readonly area: number; readonly prefix: Prefix }[];

  private readonly custom: Custom;

  /** @param design  as the family looks at it whose addresses are handed out */
  constructor(design: Design) {
    const family = design.family === 6 ? 6 : 4;
    this.custom = custom[family];
    this.used = subnetsOf(design);
    this.pools = design.settings.pools.filter((p) => familyOf(p.prefix) === family);
    this.ranges = design.routers.flatMap((r) =>
      processesOf(r).flatMap((o) => o.areas.flatMap((a) => a.ranges.map((x) => ({ area: a.id, prefix: x.prefix })))),
    );
  }

  /** Counts a subnet as used. */
  take(p: Prefix, purpose: PoolPurpose, area: number | undefined): void {
    this.used.push({ bits: p.bits, length: p.length, purpose, area });
  }

  /** Gives a subnet back, as when its interfaces are renumbered away. */
  release(p: Prefix): void {
    for (let n = this.used.length - 1; n >= 0; n--) if (this.used[n]?.bits === p.bits && this.used[n]?.length === p.length) this.used.splice(n, 1);
  }

  /** Length that links or LANs of an area mostly have, else of the design, else what is usual in the family. */
  usualLength(purpose: PoolPurpose, area: number | undefined): number {
    if (purpose === 'loopbacks') return this.custom.usual.loopbacks;
    const counts = (list: readonly Used[]): number | undefined => {
      const by = new Map<number, number>();
      for (const u of list) by.set(u.length, (by.get(u.length) ?? 0) + 1);
      return [...by].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0]?.[0];
    };
    const own = this.used.filter((u) => u.purpose === purpose);
    return counts(own.filter((u) => u.area === area)) ?? counts(own) ?? this.custom.usual[purpose];
  }

  /** Blocks to look into, the best first, each with its name. */
  private blocks(purpose: PoolPurpose, area: number | undefined): { block: Prefix; from: string }[] {
    const pools = this.pools.filter((p) => p.purpose === purpose);
    const named = [...pools.filter((p) => p.area !== undefined && p.area === area), ...pools.filter((p) => p.area === undefined)];
    const out = named.map((p) => ({ block: p.prefix, from: `the pool ${formatPrefix(p.prefix)}` }));
    const ranges = this.ranges.filter((r) => r.area === area).map((r) => r.prefix);
    const own = this.used.filter((u) => u.purpose === purpose && u.area === area);
    const near = hull(own.filter((u) => ranges.length === 0 || ranges.some((r) => covers(r, u))));
    const inRanges = (b: Prefix): boolean => ranges.length === 0 || ranges.some((r) => covers(r, b));
    if (near)
      out.push(...this.around(near, purpose, area, `the ${names[purpose]} of this area`).filter((b) => b.block === near || inRanges(b.block)));
    for (const r of ranges) out.push({ block: r, from: `the area's range ${formatPrefix(r)}` });
    const all = hull(this.used.filter((u) => u.area === area));
    if (all && ranges.length === 0 && area !== undefined) {
      for (let length = all.length; length >= this.custom.widest + 4; length--) {
        const block = { bits: networkOf(all.bits, length), length };
        if (this.used.some((u) => u.area !== area && overlap(u, block)) || this.ranges.some((r) => r.area !== area && overlap(r.prefix, block)))
          break;
        out.push({ block, from: `the space around what this area has, ${formatPrefix(block)}` });
      }
    }
    return out;
  }

  /** A block, and wider ones around it step by step, as long as these stay the area's own and serve nothing else. */
  private around(near: Prefix, purpose: PoolPurpose, area: number | undefined, what: string): { block: Prefix; from: string }[] {
    const out = [{ block: near, from: `where ${what} lie, ${formatPrefix(near)}` }];
    for (let length = near.length - 1; length >= this.custom.widest; length--) {
      const wider = { bits: networkOf(near.bits, length), length };
      const foreign =
        this.used.some((u) => overlap(u, wider) && (u.area !== area || u.purpose !== purpose)) ||
        this.ranges.some((r) => r.area !== area && overlap(r.prefix, wider));
      if (foreign) break;
      out.push({ block: wider, from: `the space beside ${what}, ${formatPrefix(wider)}` });
    }
    return out;
  }

  /** What links and LANs leave alone: the block around each loopback, where nothing else lies in it yet, and pools of loopbacks. */
  private loopbackBlocks(): Prefix[] {
    const length = this.custom.loopbackGroup;
    const around = new Set(
      this.used.filter((u) => u.purpose === 'loopbacks' && u.length === hostLength(u.bits)).map((u) => networkOf(u.bits, length)),
    );
    for (const u of this.used) {
      if (u.purpose === 'loopbacks') continue;
      if (u.length >= length) around.delete(networkOf(u.bits, length));
      else for (const bits of around) if (covers(u, { bits, length })) around.delete(bits);
    }
    return [...[...around].map((bits) => ({ bits, length })), ...this.pools.filter((p) => p.purpose === 'loopbacks').map((p) => p.prefix)];
  }

  /** Length of a new area's block: of IPv6 that of the other areas' summaries, which plan in equal blocks. */
  private blockLength(): number {
    const wide = this.ranges.map((r) => r.prefix.length).filter((n) => n < 63);
    return this.custom === custom[6] && wide.length > 0 ? Math.min(...wide) : this.custom.block;
  }

  /** A block of its own for an area that has nothing yet: the first one that is free, cut by purpose. */
  private newBlock(purpose: PoolPurpose): { block: Prefix; from: string } | undefined {
    const { start, site, widest, part } = this.custom;
    const whole = hull(this.used) ?? start;
    const wider = (length: number): Prefix => prefixOf(whole.bits, Math.min(length, whole.length));
    const around = [start, wider(site), wider(widest)].filter((b) => covers(b, whole));
    for (const supernet of around.length > 0 ? around : [start]) {
      const block = freeSubnet(supernet, this.blockLength(), [...this.used, ...this.ranges.map((r) => r.prefix), ...this.pools.map((p) => p.prefix)]);
      if (!block) continue;
      return { block: part(block)[purpose], from: `${formatPrefix(block)}, which nothing uses yet` };
    }
    return undefined;
  }

  /** The next free subnet for a purpose in an area, counted as used from now on; `undefined` when every block is full. */
  next(purpose: PoolPurpose, area: number | undefined, length = this.usualLength(purpose, area)): Taken | undefined {
    const fresh = this.newBlock(purpose);
    return this.firstOf([...this.blocks(purpose, area), ...(fresh ? [fresh] : [])], purpose, area, length);
  }

  /**
   * The next free subnet of the same length beside one that is there: out of the pool that this one came from; where the
   * design has pools for the purpose out of no other place; without any from where its kin lie, else as for any other.
   */
  like(old: Prefix, purpose: PoolPurpose, area: number | undefined, kin: readonly Prefix[]): Taken | undefined {
    const from = (p: Pool): { block: Prefix; from: string } => ({ block: p.prefix, from: `the pool ${formatPrefix(p.prefix)}` });
    const own = this.pools.filter((p) => covers(p.prefix, old)).sort((a, b) => b.prefix.length - a.prefix.length);
    const others = this.pools.filter((p) => p.purpose === purpose && (p.area === undefined || p.area === area) && !own.includes(p));
    if (own.length + others.length > 0) return this.firstOf([...own, ...others].map(from), purpose, area, old.length);
    const near = kin.length > 0 ? hull([old, ...kin]) : undefined;
    const found = near && this.firstOf(this.around(near, purpose, area, 'others like it'), purpose, area, old.length);
    return found ?? this.next(purpose, area, old.length);
  }

  private firstOf(
    blocks: readonly { readonly block: Prefix; readonly from: string }[],
    purpose: PoolPurpose,
    area: number | undefined,
    length: number,
  ): Taken | undefined {
    const kept = purpose === 'loopbacks' ? [] : this.loopbackBlocks();
    // Of a block in use the first address is left alone for loopbacks: a network's own number reads badly as a router id.
    for (const { block, from } of blocks) {
      const one = hostLength(block.bits);
      const first = purpose === 'loopbacks' && length === one && block.length < one ? [{ bits: block.bits, length: one }] : [];
      const ownPool = this.pools.some((p) => p.prefix === block);
      const found = freeSubnet(block, length, [...this.used, ...first, ...(ownPool ? [] : kept)]);
      if (!found) continue;
      this.take(found, purpose, area);
      return { ...found, from };
    }
    return undefined;
  }
}
