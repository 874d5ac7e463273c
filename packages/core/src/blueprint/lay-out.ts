import type { SourceDocument } from '../documents/documents';
import { designFrom } from '../formats/read-set';
import { covers, formatAddress, formatPrefix, holds, networkOf } from '../prefix/address';
import { parseIpv4, type Ipv4, type Ipv4Prefix } from '../prefix/ipv4';
import { RouterDraft, type Json } from '../design/draft';
import { hostsOf } from '../entry/site';
import type { Blueprint, BlueprintArea } from './blueprint';
import { bordersJoined, type AreaPlan, type PlanPart } from './plan';

/** Hands out the subnets of one part of a plan: to those who had one the same, to others the next that nobody had. */
class Taker {
  private readonly taken = new Set<number>();
  private readonly first: number;
  private readonly size: number;

  constructor(
    private readonly part: PlanPart | undefined,
    private readonly given: ReadonlyMap<string, Ipv4>,
    private readonly had: ReadonlySet<Ipv4>,
    private readonly avoid: readonly Ipv4Prefix[],
  ) {
    this.first = part?.purpose === 'loopbacks' ? 1 : 0;
    this.size = part ? 2 ** (32 - part.length) : 1;
  }

  /** @param who  `ROUTER/INTERFACE` of the end that had the subnet before, if it did */
  next(who: string): { bits: Ipv4; length: number } {
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

  private isAvoided(bits: Ipv4): boolean {
    const own = { bits, length: this.part?.length ?? 32 };
    return this.avoid.some((a) => covers(a, own) || covers(own, a));
  }

  private heldBefore(bits: Ipv4): boolean {
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
  constructor(
    readonly plan: AreaPlan,
    given: ReadonlyMap<string, Ipv4>,
    had: ReadonlySet<Ipv4>,
    avoid: readonly Ipv4Prefix[],
  ) {
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

/** The campus while it is put together. */
class Yard {
  readonly routers = new Map<string, RouterDraft>();
  constructor(private readonly b: Blueprint) {}

  add(name: string, ground: Ground): RouterDraft {
    const r = new RouterDraft(`${name}.json`, {});
    r.name = name;
    const ip = ground.loopbacks.next(`${name}/lo`).bits;
    r.addInterface('lo', { ip, length: 32 }, { type: 'iana-if-type:softwareLoopback' });
    r.ospf()['explicit-router-id'] = formatAddress(ip);
    r.putInto(ground.plan.id, { name: 'lo', passive: true });
    this.routers.set(name, r);
    return r;
  }

  cable(a: RouterDraft, z: RouterDraft, ground: Ground, cost: number): void {
    const [there, back] = [a.freeName(`to-${z.name}`), z.freeName(`to-${a.name}`)];
    const net = ground.links.next(`${a.name}/${there}`);
    const hosts = hostsOf(net);
    [a, z].forEach((r, n) => {
      const name = n === 0 ? there : back;
      r.addInterface(name, { ip: hosts.at(n), length: net.length });
      r.putInto(ground.plan.id, { name, ...link(this.b, cost) });
    });
  }

  lan(r: RouterDraft, name: string, ground: Ground): void {
    const net = ground.lans.next(`${r.name}/${name}`);
    r.addInterface(name, { ip: hostsOf(net).at(0), length: net.length });
    r.putInto(ground.plan.id, { name, passive: true });
  }
}

/** Type of an area, as each of its routers writes it; on its border routers also what is told into it, and its summary. */
function nameArea(r: RouterDraft, a: BlueprintArea, plan: AreaPlan, border: boolean): void {
  const entry = r.ensureArea(a.id);
  const base = a.kind.endsWith('nssa') ? 'nssa' : a.kind === 'normal' ? undefined : 'stub';
  const { interfaces } = entry;
  Object.keys(entry).forEach((k) => Reflect.deleteProperty(entry, k));
  Object.assign(entry, {
    'area-id': formatAddress(a.id),
    ...(base === undefined ? {} : { 'area-type': `ietf-ospf:${base}-area` }),
    ...(border && a.kind.startsWith('totally-') ? { summary: false } : {}),
    ...(border ? { ranges: { range: [{ prefix: formatPrefix(plan.prefix) }] } } : {}),
    interfaces,
  });
}

function layArea(yard: Yard, b: Blueprint, a: BlueprintArea, ground: Ground, spine: Ground, core: readonly RouterDraft[], first: number): void {
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
    nameArea(r, a, ground.plan, false);
  }
  if (bordersJoined(a))
    borders.slice(1).forEach((r, i) => {
      const before = borders[i];
      if (before) yard.cable(before, r, ground, b.uplinkCost);
    });
  for (const d of distribution) nameArea(d, a, ground.plan, false);
  for (const r of borders) nameArea(r, a, ground.plan, true);
}

/**
 * Makes the router documents of a planned blueprint: costs, timers, passive LANs, ranges on the border routers.
 *
 * @param avoid  subnets that somebody took by hand
 */
export function layOutCampus(b: Blueprint, areas: readonly AreaPlan[], avoid: readonly Ipv4Prefix[] = []): SourceDocument[] {
  const given = new Map(
    Object.entries(b.given ?? {}).flatMap(([who, text]) => {
      const ip = parseIpv4(text);
      return ip === undefined ? [] : [[who, ip] as const];
    }),
  );
  const had = new Set(given.values());
  const grounds = new Map(areas.map((p) => [p.id, new Ground(p, given, had, avoid)]));
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
    r.ospf()['gentle-compass:default-route'] = { announce: 'always', metric: i === 0 ? 10 : 20, 'metric-type': 'type-1' };
  }
  b.areas.forEach((a, n) => {
    const ground = grounds.get(a.id);
    if (ground) layArea(yard, b, a, ground, spine, core, n * 2);
  });
  return [...yard.routers.values()].map((r) => ({ file: r.file, tree: r.tree }));
}

/** Addresses as they stand in laid-out documents, to be kept with their blueprint. */
export function givenIn(documents: readonly SourceDocument[]): Record<string, string> {
  return Object.fromEntries(
    designFrom(documents).design.routers.flatMap((r) =>
      r.interfaces.flatMap((i) => i.addresses.map((a) => [`${r.name}/${i.name}`, formatAddress(a.bits)])),
    ),
  );
}
