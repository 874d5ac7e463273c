import type { Design } from './design';
import type { Pool, PoolPurpose } from './settings';
import { covers, formatPrefix, networkOf } from '../prefix/address';
import { maskOf, type Ipv4Prefix } from '../prefix/ipv4';

/** Where a campus without any address begins: the station's own block. */
const start: Ipv4Prefix = { bits: 0x0a60_0000, length: 11 };

const names: Record<PoolPurpose, string> = { loopbacks: 'loopbacks', links: 'links', lans: 'LANs' };

const lastOf = (p: Ipv4Prefix): number => p.bits + (~maskOf(p.length) >>> 0);
const overlap = (a: Ipv4Prefix, b: Ipv4Prefix): boolean => covers(a, b) || covers(b, a);

/** The smallest prefix that holds all of some; `undefined` of none. */
export function hull(parts: readonly Ipv4Prefix[]): Ipv4Prefix | undefined {
  const [first, ...rest] = parts;
  if (!first) return undefined;
  let { bits, length } = first;
  for (const p of rest) {
    length = Math.min(length, p.length);
    while (networkOf(bits, length) !== networkOf(p.bits, length)) length--;
    bits = networkOf(bits, length);
  }
  return { bits: networkOf(bits, length), length };
}

/** The lowest free subnet of a length inside a block; `undefined` when there is none. */
export function freeSubnet(block: Ipv4Prefix, length: number, used: readonly Ipv4Prefix[]): Ipv4Prefix | undefined {
  if (length < block.length) return undefined;
  const size = 2 ** (32 - length);
  const inside = used.filter((u) => overlap(u, block)).sort((a, b) => a.bits - b.bits);
  let at = block.bits;
  const end = lastOf(block);
  for (const u of inside) {
    if (lastOf(u) < at) continue;
    if (at + size - 1 < u.bits) break;
    at = Math.ceil((lastOf(u) + 1) / size) * size;
  }
  return at + size - 1 <= end ? { bits: at, length } : undefined;
}

export interface Used extends Ipv4Prefix {
  readonly purpose: PoolPurpose;
  /** `undefined`: not in OSPF. */
  readonly area: number | undefined;
}

/** Every subnet of the design with what it serves and in which area. */
export function subnetsOf(design: Design): Used[] {
  return design.routers.flatMap((r) => {
    const areaOf = new Map(r.instances.flatMap((o) => o.areas.flatMap((a) => a.interfaces.map((i) => [i.name, a.id] as const))));
    return r.interfaces.flatMap((i) =>
      i.addresses.map((a): Used => ({
        bits: networkOf(a.bits, a.length),
        length: a.length,
        // A single address on a cable is lent to it by a loopback: unnumbered.
        purpose: i.kind === 'loopback' || a.length === 32 ? 'loopbacks' : a.length >= 30 ? 'links' : 'lans',
        area: areaOf.get(i.name),
      })),
    );
  });
}

/** A subnet that is free, and where it was taken from, in words. */
export interface Taken extends Ipv4Prefix {
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
  private readonly ranges: { readonly area: number; readonly prefix: Ipv4Prefix }[];

  constructor(design: Design) {
    this.used = subnetsOf(design);
    this.pools = design.settings.pools;
    this.ranges = design.routers.flatMap((r) =>
      r.instances.flatMap((o) => o.areas.flatMap((a) => a.ranges.map((x) => ({ area: a.id, prefix: x.prefix })))),
    );
  }

  /** Counts a subnet as used. */
  take(p: Ipv4Prefix, purpose: PoolPurpose, area: number | undefined): void {
    this.used.push({ bits: p.bits, length: p.length, purpose, area });
  }

  /** Gives a subnet back, as when its interfaces are renumbered away. */
  release(p: Ipv4Prefix): void {
    for (let n = this.used.length - 1; n >= 0; n--) if (this.used[n]?.bits === p.bits && this.used[n]?.length === p.length) this.used.splice(n, 1);
  }

  /** Length that links or LANs of an area mostly have, else of the design, else a /31, a /24 or a /32. */
  usualLength(purpose: PoolPurpose, area: number | undefined): number {
    if (purpose === 'loopbacks') return 32;
    const counts = (list: readonly Used[]): number | undefined => {
      const by = new Map<number, number>();
      for (const u of list) by.set(u.length, (by.get(u.length) ?? 0) + 1);
      return [...by].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0]?.[0];
    };
    const own = this.used.filter((u) => u.purpose === purpose);
    return counts(own.filter((u) => u.area === area)) ?? counts(own) ?? (purpose === 'links' ? 31 : 24);
  }

  /** Blocks to look into, the best first, each with its name. */
  private blocks(purpose: PoolPurpose, area: number | undefined): { block: Ipv4Prefix; from: string }[] {
    const pools = this.pools.filter((p) => p.purpose === purpose);
    const named = [...pools.filter((p) => p.area !== undefined && p.area === area), ...pools.filter((p) => p.area === undefined)];
    const out = named.map((p) => ({ block: p.prefix, from: `the pool ${formatPrefix(p.prefix)}` }));
    const ranges = this.ranges.filter((r) => r.area === area).map((r) => r.prefix);
    const own = this.used.filter((u) => u.purpose === purpose && u.area === area);
    const near = hull(own.filter((u) => ranges.length === 0 || ranges.some((r) => covers(r, u))));
    const inRanges = (b: Ipv4Prefix): boolean => ranges.length === 0 || ranges.some((r) => covers(r, b));
    if (near)
      out.push(...this.around(near, purpose, area, `the ${names[purpose]} of this area`).filter((b) => b.block === near || inRanges(b.block)));
    for (const r of ranges) out.push({ block: r, from: `the area's range ${formatPrefix(r)}` });
    const all = hull(this.used.filter((u) => u.area === area));
    if (all && ranges.length === 0 && area !== undefined) {
      for (let length = all.length; length >= 12; length--) {
        const block = { bits: networkOf(all.bits, length), length };
        if (this.used.some((u) => u.area !== area && overlap(u, block)) || this.ranges.some((r) => r.area !== area && overlap(r.prefix, block)))
          break;
        out.push({ block, from: `the space around what this area has, ${formatPrefix(block)}` });
      }
    }
    return out;
  }

  /** A block, and wider ones around it step by step, as long as these stay the area's own and serve nothing else. */
  private around(near: Ipv4Prefix, purpose: PoolPurpose, area: number | undefined, what: string): { block: Ipv4Prefix; from: string }[] {
    const out = [{ block: near, from: `where ${what} lie, ${formatPrefix(near)}` }];
    for (let length = near.length - 1; length >= 8; length--) {
      const wider = { bits: networkOf(near.bits, length), length };
      const foreign =
        this.used.some((u) => overlap(u, wider) && (u.area !== area || u.purpose !== purpose)) ||
        this.ranges.some((r) => r.area !== area && overlap(r.prefix, wider));
      if (foreign) break;
      out.push({ block: wider, from: `the space beside ${what}, ${formatPrefix(wider)}` });
    }
    return out;
  }

  /** What links and LANs leave alone: the /24 around each loopback, where nothing else lies in it yet, and pools of loopbacks. */
  private loopbackBlocks(): Ipv4Prefix[] {
    const around = new Set(this.used.filter((u) => u.purpose === 'loopbacks' && u.length === 32).map((u) => networkOf(u.bits, 24)));
    for (const u of this.used) {
      if (u.purpose === 'loopbacks') continue;
      if (u.length >= 24) around.delete(networkOf(u.bits, 24));
      else for (const bits of around) if (covers(u, { bits, length: 24 })) around.delete(bits);
    }
    return [...[...around].map((bits) => ({ bits, length: 24 })), ...this.pools.filter((p) => p.purpose === 'loopbacks').map((p) => p.prefix)];
  }

  /** A block of its own for an area that has nothing yet: the first /16 that is free, cut by purpose. */
  private newBlock(purpose: PoolPurpose): { block: Ipv4Prefix; from: string } | undefined {
    const whole = hull(this.used) ?? start;
    const around = [start, { bits: networkOf(whole.bits, 8), length: 8 }].filter((b) => covers(b, whole));
    for (const supernet of around.length > 0 ? around : [start]) {
      const block = freeSubnet(supernet, 16, [...this.used, ...this.ranges.map((r) => r.prefix), ...this.pools.map((p) => p.prefix)]);
      if (!block) continue;
      const part = {
        loopbacks: { bits: block.bits, length: 22 },
        lans: { bits: block.bits + 0x1000, length: 20 },
        links: { bits: block.bits + 0x8000, length: 19 },
      };
      return { block: part[purpose], from: `${formatPrefix(block)}, which nothing uses yet` };
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
  like(old: Ipv4Prefix, purpose: PoolPurpose, area: number | undefined, kin: readonly Ipv4Prefix[]): Taken | undefined {
    const from = (p: Pool): { block: Ipv4Prefix; from: string } => ({ block: p.prefix, from: `the pool ${formatPrefix(p.prefix)}` });
    const own = this.pools.filter((p) => covers(p.prefix, old)).sort((a, b) => b.prefix.length - a.prefix.length);
    const others = this.pools.filter((p) => p.purpose === purpose && (p.area === undefined || p.area === area) && !own.includes(p));
    if (own.length + others.length > 0) return this.firstOf([...own, ...others].map(from), purpose, area, old.length);
    const near = kin.length > 0 ? hull([old, ...kin]) : undefined;
    const found = near && this.firstOf(this.around(near, purpose, area, 'others like it'), purpose, area, old.length);
    return found ?? this.next(purpose, area, old.length);
  }

  private firstOf(
    blocks: readonly { readonly block: Ipv4Prefix; readonly from: string }[],
    purpose: PoolPurpose,
    area: number | undefined,
    length: number,
  ): Taken | undefined {
    const kept = purpose === 'loopbacks' ? [] : this.loopbackBlocks();
    // Of a block in use the first address is left alone for loopbacks: a network's own number reads badly as a router id.
    for (const { block, from } of blocks) {
      const first = purpose === 'loopbacks' && length === 32 && block.length < 32 ? [{ bits: block.bits, length: 32 }] : [];
      const ownPool = this.pools.some((p) => p.prefix === block);
      const found = freeSubnet(block, length, [...this.used, ...first, ...(ownPool ? [] : kept)]);
      if (!found) continue;
      this.take(found, purpose, area);
      return { ...found, from };
    }
    return undefined;
  }
}
