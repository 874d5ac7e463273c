import type { SourceDocument } from '../documents/documents';
import { designFrom } from '../formats/read-set';
import { familyView, type Family } from '../design/family';
import { BlockAddresses } from '../design/site-plan';
import { covers, formatAddress, formatPrefix, holds, networkOf, parseAddress, type Address, type Prefix } from '../prefix/address';
import { RouterDraft, type Json } from '../design/draft';
import { hostsOf } from '../entry/site';
import { sitePrefixOf, type Blueprint, type BlueprintArea } from './blueprint';
import { bordersJoined, type AreaPlan, type PlanPart } from './plan';

/** Hands out the subnets of one part of a plan: to those who had one the same, to others the next that nobody had. */
class Taker {
  private readonly taken = new Set<number>();
  private readonly first: number;
  private readonly size: number;

  constructor(
    private readonly part: PlanPart | undefined,
    private readonly given: ReadonlyMap<string, Address>,
    private readonly had: ReadonlySet<Address>,
    private readonly avoid: readonly Prefix[],
  ) {
    this.first = part?.purpose === 'loopbacks' ? 1 : 0;
    this.size = part ? 2 ** (32 - part.length) : 1;
  }

  /** @param who  `ROUTER/INTERFACE` of the end that had the subnet before, if it did */
  next(who: string): { bits: Address; length: number } {
    const { part, size } = this;
    if (!part) throw new RangeError('a plan without a part that its campus needs');
    const { length } = part;
    const old = this.given.get(who);
    const room = 2 ** (length - part.prefix.length);
    if (old !== undefined && holds(part.prefix, old)) {
      const bits = networkOf(old, length);
      if (!this.taken.has(bits) && !this.isAvoided(bits)) {
        this.taken.add(bits);
        return { bits, length };
      }
    }
    for (const spare of [true, false])
      for (let n = this.first; n < room; n++) {
        const bits = part.prefix.bits + n * size;
        if (this.taken.has(bits) || this.isAvoided(bits) || (spare && this.heldBefore(bits))) continue;
        this.taken.add(bits);
        return { bits, length };
      }
    throw new RangeError(`the ${part.purpose} of a plan do not suffice for its campus`);
  }

  private isAvoided(bits: Address): boolean {
    const own = { bits, length: this.part?.length ?? 32 };
    return this.avoid.some((a) => covers(a, own) || covers(own, a));
  }

  private heldBefore(bits: Address): boolean {
    if (this.size > 4) return this.had.has(bits + 1) || this.had.has(bits);
    for (let i = 0; i < this.size; i++) if (this.had.has(bits + i)) return true;
    return false;
  }
}

/** Addresses of one area while it is laid out. */
class Ground {
  readonly links: Taker;
  readonly loopbacks: Taker;
  readonly lans: Taker;
  /** The same of IPv6, where the campus has a prefix of it. */
  readonly six: BlockAddresses | undefined;
  constructor(
    readonly plan: AreaPlan,
    given: ReadonlyMap<string, Address>,
    had: ReadonlySet<Address>,
    avoid: readonly Prefix[],
    given6: ReadonlyMap<string, Address>,
  ) {
    this.six = plan.six && new BlockAddresses(plan.six, given6, avoid);
    const of = (purpose: PlanPart['purpose']): Taker =>
      new Taker(
        plan.parts.find((p) => p.purpose === purpose),
        given,
        had,
        avoid,
      );
    this.links = of('links');
    this.loopbacks = of('loopbacks');
    this.lans = of('lans');
  }
}

const link = (b: Blueprint, cost: number): Json => ({
  'interface-type': 'point-to-point',
  cost,
  ...(b.hello === 10 ? {} : { 'hello-interval': b.hello, 'dead-interval': 4 * b.hello }),
});

/** A router of the campus, as each version of the protocol writes it: one document. */
class Built {
  readonly four: RouterDraft;
  readonly six: RouterDraft | undefined;
  constructor(
    readonly name: string,
    both: boolean,
  ) {
    this.four = new RouterDraft(`${name}.json`, {});
    this.four.name = name;
    this.six = both ? new RouterDraft(this.four.file, this.four.tree, 3) : undefined;
  }

  /** Both versions of it. */
  get versions(): readonly RouterDraft[] {
    return this.six ? [this.four, this.six] : [this.four];
  }
}

/** The campus while it is put together. */
class Yard {
  readonly routers = new Map<string, Built>();
  private readonly both: boolean;
  constructor(private readonly b: Blueprint) {
    this.both = sitePrefixOf(b) !== undefined;
  }

  add(name: string, ground: Ground): Built {
    const r = new Built(name, this.both);
    const ip = ground.loopbacks.next(`${name}/lo`).bits;
    r.four.addInterface('lo', { ip, length: 32 }, { type: 'iana-if-type:softwareLoopback' });
    const lo6 = ground.six?.loopback(`${name}/lo`);
    r.six?.giveFamily('lo', lo6 && { ip: lo6.bits, length: lo6.length });
    for (const v of r.versions) {
      v.ospf()['explicit-router-id'] = formatAddress(ip);
      v.putInto(ground.plan.id, { name: 'lo', passive: true });
    }
    this.routers.set(name, r);
    return r;
  }

  cable(a: Built, z: Built, ground: Ground, cost: number): void {
    const [there, back] = [a.four.freeName(`to-${z.name}`), z.four.freeName(`to-${a.name}`)];
    const net = ground.links.next(`${a.name}/${there}`);
    const hosts = hostsOf(net);
    const net6 = this.b.ipv6Links === 'numbered' ? ground.six?.link(`${a.name}/${there}`) : undefined;
    [a, z].forEach((r, n) => {
      const name = n === 0 ? there : back;
      r.four.addInterface(name, { ip: hosts.at(n), length: net.length });
      r.six?.giveFamily(name, net6 && { ip: hostsOf(net6).at(n), length: net6.length });
      for (const v of r.versions) v.putInto(ground.plan.id, { name, ...link(this.b, cost) });
    });
  }

  lan(r: Built, name: string, ground: Ground): void {
    const net = ground.lans.next(`${r.name}/${name}`);
    r.four.addInterface(name, { ip: hostsOf(net).at(0), length: net.length });
    const net6 = ground.six?.lan(`${r.name}/${name}`);
    r.six?.giveFamily(name, net6 && { ip: hostsOf(net6).at(0), length: net6.length });
    for (const v of r.versions) v.putInto(ground.plan.id, { name, passive: true });
  }
}

/** Type of an area, as each of its routers writes it; on its border routers also what is told into it, and its summary. */
function nameArea(r: Built, a: BlueprintArea, plan: AreaPlan, border: boolean, numbered: boolean): void {
  // Border routers joined by link-local addresses alone have nothing to summarise.
  const hasPrefixes6 = numbered || a.access + a.distribution > 0;
  nameIn(r.four, a, plan.prefix, border);
  if (r.six && plan.six) nameIn(r.six, a, hasPrefixes6 ? plan.six : undefined, border);
}

function nameIn(r: RouterDraft, a: BlueprintArea, summary: Prefix | undefined, border: boolean): void {
  const entry = r.ensureArea(a.id);
  const base = a.kind.endsWith('nssa') ? 'nssa' : a.kind === 'normal' ? undefined : 'stub';
  const { interfaces } = entry;
  Object.keys(entry).forEach((k) => Reflect.deleteProperty(entry, k));
  Object.assign(entry, {
    'area-id': formatAddress(a.id),
    ...(base === undefined ? {} : { 'area-type': `ietf-ospf:${base}-area` }),
    ...(border && a.kind.startsWith('totally-') ? { summary: false } : {}),
    ...(border && summary ? { ranges: { range: [{ prefix: formatPrefix(summary) }] } } : {}),
    interfaces,
  });
}

function layArea(yard: Yard, b: Blueprint, a: BlueprintArea, ground: Ground, spine: Ground, core: readonly Built[], first: number): void {
  const numbered = b.ipv6Links === 'numbered';
  const borders = Array.from({ length: a.borders }, (_, i) => yard.add(`${a.name}-border-${i + 1}`, spine));
  borders.forEach((r, i) => {
    for (let k = 0; k < Math.min(2, core.length); k++) {
      const up = core[(first + i + k) % core.length];
      if (up) yard.cable(r, up, spine, b.coreCost);
    }
  });
  const distribution = Array.from({ length: a.distribution }, (_, i) => yard.add(`${a.name}-dist-${i + 1}`, ground));
  for (const d of distribution) for (const r of borders) yard.cable(r, d, ground, b.uplinkCost);
  const above = distribution.length > 0 ? distribution : borders;
  for (let i = 0; i < a.access; i++) {
    const r = yard.add(`${a.name}-${i + 1}`, ground);
    for (let k = 0; k < Math.min(a.uplinks, above.length); k++) {
      const up = above[(i + k) % above.length];
      if (up) yard.cable(up, r, ground, b.uplinkCost);
    }
    for (let k = 0; k < a.lans; k++) yard.lan(r, `users-${k + 1}`, ground);
    nameArea(r, a, ground.plan, false, numbered);
  }
  if (bordersJoined(a))
    borders.slice(1).forEach((r, i) => {
      const before = borders[i];
      if (before) yard.cable(before, r, ground, b.uplinkCost);
    });
  for (const d of distribution) nameArea(d, a, ground.plan, false, numbered);
  for (const r of borders) nameArea(r, a, ground.plan, true, numbered);
}

/**
 * Makes the router documents of a planned blueprint: costs, timers, passive LANs, ranges on the border routers.
 *
 * @param avoid  subnets that somebody took by hand
 */
export function layOutCampus(b: Blueprint, areas: readonly AreaPlan[], avoid: readonly Prefix[] = []): SourceDocument[] {
  const addresses = (list: Readonly<Record<string, string>> | undefined): Map<string, Address> =>
    new Map(
      Object.entries(list ?? {}).flatMap(([who, text]) => {
        const ip = parseAddress(text);
        return ip === undefined ? [] : [[who, ip] as const];
      }),
    );
  const [given, given6] = [addresses(b.given), addresses(b.given6)];
  const had = new Set(given.values());
  const grounds = new Map(areas.map((p) => [p.id, new Ground(p, given, had, avoid, given6)]));
  const spine = grounds.get(0);
  if (!spine) throw new RangeError('a plan without its backbone');
  const yard = new Yard(b);
  const core = Array.from({ length: b.core }, (_, i) => yard.add(`core-${i + 1}`, spine));
  core.forEach((r, i) => {
    for (let k = i + 1; k < core.length; k++) {
      const other = core[k];
      const neighbour = k === i + 1 || (i === 0 && k === core.length - 1 && core.length > 2);
      if (other && (b.shape === 'mesh' || neighbour)) yard.cable(r, other, spine, b.coreCost);
    }
  });
  for (let i = 0; i < b.exits; i++) {
    const r = yard.add(`exit-${i + 1}`, spine);
    for (let k = 0; k < Math.min(2, core.length); k++) {
      const up = core[(i + k) % core.length];
      if (up) yard.cable(r, up, spine, b.coreCost);
    }
    // The first exit is preferred; the others stand by.
    for (const v of r.versions) v.ospf()['gentle-compass:default-route'] = { announce: 'always', metric: i === 0 ? 10 : 20, 'metric-type': 'type-1' };
  }
  b.areas.forEach((a, n) => {
    const ground = grounds.get(a.id);
    if (ground) layArea(yard, b, a, ground, spine, core, n * 2);
  });
  return [...yard.routers.values()].map(({ four }) => ({ file: four.file, tree: four.tree }));
}

/** Addresses of a family as they stand in laid-out documents, to be kept with their blueprint. */
export function givenIn(documents: readonly SourceDocument[], family: Family): Record<string, string> {
  return Object.fromEntries(
    familyView(designFrom(documents).design, family).routers.flatMap((r) =>
      r.interfaces.flatMap((i) => i.addresses.map((a) => [`${r.name}/${i.name}`, formatAddress(a.bits)])),
    ),
  );
}
