import { activeInterfaces } from '../design/activation';
import { backbone, type ActivationRule, type Area, type Design, type Interface, type OspfInterface, type Router } from '../design/design';
import { areaId } from '../documents/leaf-types';
import type { SourceDocument } from '../documents/documents';
import { familyView, processesOf, processOf, type Family } from '../design/family';
import { covers, formatPrefix, formatAddress, hostLength, isSix, plus, prefixOf, type Address, type Prefix } from '../prefix/address';
import { findSegments, type Segments } from '../segments/segments';
import { Draft, member, setMember, type Json, type RouterDraft } from '../design/draft';
import { Addresses, type Taken } from '../design/pools';
import type { PoolPurpose } from '../design/settings';

/** A value that would do where another cannot: it takes the place of what stands after a word of the line. */
export interface Instead {
  readonly after: string;
  readonly text: string;
  readonly help: string;
}

/** A change that cannot be made in this design, with what to do instead. */
export class Refusal extends Error {
  /** @param instead  what could be typed in place of the value after a word of the line */
  constructor(
    message: string,
    readonly instead: readonly Instead[] = [],
  ) {
    super(message);
  }
}

/** An end of a wire: router and interface by name. */
export interface End {
  readonly router: string;
  readonly iface: string;
}

/** `area 10`, or the backbone. */
export const areaText = (id: number): string => (id === backbone ? 'the backbone' : `area ${id < 256 ? id : formatAddress(id)}`);

const oneOf: Record<PoolPurpose, string> = { links: 'link', lans: 'LAN', loopbacks: 'loopback' };

const common = <T>(values: readonly T[]): T | undefined => {
  const by = new Map<string, { value: T; n: number }>();
  for (const value of values) {
    const key = JSON.stringify(value);
    const known = by.get(key);
    if (known) known.n++;
    else by.set(key, { value, n: 1 });
  }
  return [...by.values()].sort((a, b) => b.n - a.n)[0]?.value;
};

/** Leaves that a new link takes over from the links of its area, where these all agree. */
const inherited = [
  'hello-interval',
  'dead-interval',
  'authentication',
  'bfd',
  'mtu-ignore',
  'prefix-suppression',
  'authentication-required',
] as const;

/** What is shared by the two families of a change while it is put together. */
interface Change {
  readonly draft: Draft;
  readonly notes: string[];
  readonly instead: { readonly line: string; readonly help: string }[];
}

/** The design that a line of quick entry acts on, as one family looks at it, and the change while it is put together. */
export class Site {
  readonly draft: Draft;
  /** What the reader of the preview should know. */
  readonly notes: string[];
  /** Other lines that may be meant. */
  readonly instead: { readonly line: string; readonly help: string }[];
  /** What is to go down, in this order, where the line is about that and changes nothing of the design; nothing: all comes back. */
  down: readonly string[] | undefined;
  /** The design with the addresses and processes of the family. */
  readonly design: Design;
  /** The version of the protocol that the family is routed by. */
  readonly version: 2 | 3;
  private found: Segments | undefined;
  private looked: Addresses | undefined;
  private others: Site | undefined;

  /** @param whole  the design as its documents say it */
  constructor(
    readonly whole: Design,
    readonly documents: readonly SourceDocument[],
    readonly selected: readonly string[] = [],
    readonly family: Family = 4,
    change: Change = { draft: new Draft(documents), notes: [], instead: [] },
  ) {
    this.version = family === 6 ? 3 : 2;
    this.design = familyView(whole, family);
    this.draft = change.draft;
    this.notes = change.notes;
    this.instead = change.instead;
  }

  /** The same change as the other family looks at it. */
  get other(): Site {
    if (!this.others) {
      this.others = new Site(this.whole, this.documents, this.selected, this.family === 4 ? 6 : 4, this);
      this.others.others = this;
    }
    return this.others;
  }

  /** Both families, IPv4 first. */
  get both(): readonly [Site, Site] {
    return this.family === 4 ? [this, this.other] : [this.other, this];
  }

  /**
   * The families in which a line that makes something acts: those that all of some routers run, or could begin with.
   * Without any router those of the design; where nothing runs, IPv4.
   */
  acting(routers: readonly string[]): readonly Site[] {
    const runs = (s: Site): boolean =>
      routers.length > 0 ? routers.every((n) => s.runs(n)) : s.design.routers.some((r) => processesOf(r).length > 0);
    const [four, six] = this.both;
    return !runs(six) ? [four] : routers.length > 0 ? (routers.some((n) => four.runs(n)) ? [four, six] : [six]) : runs(four) ? [four, six] : [six];
  }

  /** Whether a router runs the family's version, in the design or in the change so far. */
  runs(name: string): boolean {
    return this.open(name).process() !== undefined;
  }

  /** A router's document, opened for change by the family's version. */
  open(name: string): RouterDraft {
    return this.draft.router(name, this.version);
  }

  /** Which addresses are taken, and what is free: looked through when first asked for. */
  get addresses(): Addresses {
    return (this.looked ??= new Addresses(this.design));
  }

  /** Who shares a wire with whom: the same for both families. */
  get segments(): Segments {
    return (this.found ??= this.others?.found ?? findSegments(this.whole));
  }

  router(name: string): Router {
    const r = this.design.routers.find((x) => x.name === name);
    if (!r) throw new Refusal(`There is no router "${name}".`);
    return r;
  }

  /** Members of a parameter as the version has them. */
  pathOf(path: readonly string[]): readonly string[] {
    if (this.version === 2) return path;
    return path.map((m) => (m === 'ietf-ip:ipv4' ? 'ietf-ip:ipv6' : m.replace(/^ospfv2-/, 'ospfv3-')));
  }

  /** Areas of a router's first process of that version. */
  areasOf(r: Router): readonly Area[] {
    return processOf(r)?.areas ?? [];
  }

  ospfOf(r: Router, iface: string): { area: Area; port: OspfInterface } | undefined {
    for (const area of this.areasOf(r)) {
      const port = area.interfaces.find((i) => i.name === iface);
      if (port) return { area, port };
    }
    return undefined;
  }

  /** The same, also for an interface that a rule turns on. */
  speaks(r: Router, iface: string): { area: Area; port: OspfInterface; byRule: ActivationRule | undefined } | undefined {
    const instance = processOf(r);
    const active = instance && activeInterfaces(r, instance).find((a) => a.iface.name === iface);
    return (
      active && { area: active.area, port: active.settings, byRule: active.byRule === undefined ? undefined : instance.activation[active.byRule] }
    );
  }

  /** All ends of the wire that an interface is on; itself alone when nothing else is on it. */
  endsOn(end: End): End[] {
    const index = this.design.routers.findIndex((r) => r.name === end.router);
    const iface = this.design.routers[index]?.interfaces.findIndex((i) => i.name === end.iface) ?? -1;
    const segment = this.segments.of[index]?.[iface] ?? -1;
    const members = segment < 0 ? [] : (this.segments.list[segment]?.members ?? []);
    const ends = members.flatMap((m): End[] => {
      const r = this.design.routers[m.router];
      const i = r?.interfaces[m.iface];
      return r && i ? [{ router: r.name, iface: i.name }] : [];
    });
    return ends.length > 0 ? ends : [end];
  }

  /** Whether the wire that an interface is on is a cable between two. */
  isCable(end: End): boolean {
    const router = this.design.routers.findIndex((r) => r.name === end.router);
    const iface = this.design.routers[router]?.interfaces.findIndex((i) => i.name === end.iface) ?? -1;
    const segment = this.segments.of[router]?.[iface] ?? -1;
    return segment >= 0 && this.segments.list[segment]?.kind === 'cable';
  }

  /** Interfaces by which one router stands on a wire with another, and the other's. */
  wiresBetween(a: string, b: string): { readonly a: End; readonly b: End }[] {
    return this.router(a).interfaces.flatMap((i) => {
      const self = { router: a, iface: i.name };
      return this.endsOn(self)
        .filter((e) => e.router === b)
        .map((e) => ({ a: self, b: e }));
    });
  }

  interfaceOf(end: End): Interface | undefined {
    return this.router(end.router).interfaces.find((i) => i.name === end.iface);
  }

  /** The OSPF process name that most routers use. */
  get processName(): string {
    return common(this.design.routers.flatMap((r) => processesOf(r).map((o) => o.name))) ?? (this.family === 6 ? this.other.processName : 'campus');
  }

  /** Whether routers of this design write their router id down. */
  get writesRouterId(): boolean {
    const all = this.design.routers.flatMap((r) => processesOf(r).map((o) => o.explicitRouterId !== undefined));
    return all.length === 0 || all.filter(Boolean).length * 2 >= all.length;
  }

  /** The area for a wire between two routers when none is said. */
  areaBetween(a: string, b: string): number {
    const [x, y] = [a, b].map((n) => this.areasOf(this.router(n)).map((k) => k.id)) as [number[], number[]];
    const shared = x.filter((id) => y.includes(id));
    // One that stands inside a single area decides.
    for (const [own, other] of [
      [x, y],
      [y, x],
    ] as const)
      if (own.length === 1 && own[0] !== undefined && (own[0] !== backbone || shared.includes(backbone) || other.length === 0)) return own[0];
    if (shared.length === 1 && shared[0] !== undefined) return shared[0];
    if (shared.includes(backbone)) return backbone;
    if (x.length === 0 && y.length === 0) return backbone;
    throw new Refusal(
      `${a} and ${b} share ${shared.length === 0 ? 'no area' : `the areas ${shared.map(areaText).join(', ')}`}: say which one, as in "area ${shared[0] ?? 10}".`,
    );
  }

  /** Gives a router an area, with the type that the others of that area have. */
  enter(r: RouterDraft, area: number): void {
    if (r.area(area)) return;
    const entry = r.ensureArea(area, this.processName);
    const others = this.design.routers.flatMap((x) => this.areasOf(x).filter((a) => a.id === area));
    const type = common(others.map((a) => a.type));
    if (type === 'stub' || type === 'nssa') {
      const { interfaces, ...rest } = entry;
      Object.keys(entry).forEach((k) => Reflect.deleteProperty(entry, k));
      Object.assign(entry, rest, { 'area-type': `ietf-ospf:${type}-area`, interfaces });
      this.notes.push(`${r.name} gets ${areaText(area)} as ${type === 'stub' ? 'a stub area' : 'an NSSA'}, as the others have it.`);
    }
    if (others.some((a) => !a.summary) && r.areas().length > 1) setMember(entry, 'summary', false);
  }

  /** Says when a router would stand in several areas and none of them is the backbone: nothing passes between them through it. */
  noteWithoutBackbone(name: string): void {
    const left = this.open(name)
      .areas()
      .map((a) => areaId.read(member(a, 'area-id')))
      .filter((a) => a !== undefined);
    if (left.length > 1 && !left.includes(backbone))
      this.notes.push(`${name} then stands in ${left.map(areaText).join(' and ')} without the backbone: it passes nothing from one to the other.`);
  }

  /** Ends of wires and addresses behind them that no router of the design has: next hops of static routes. */
  get nextHopsOutside(): ReadonlySet<Address> {
    return new Set(this.design.routers.flatMap((r) => r.staticRoutes.flatMap((s) => s.nextHops.flatMap((h) => h.address ?? []))));
  }

  /** OSPF leaves for a new end of a link in an area: what the links of that area agree on. */
  linkLeaves(area: number): Json {
    const entries = this.design.routers.flatMap((r) => {
      const ports = this.areasOf(r).flatMap((a) => (a.id === area ? a.interfaces.filter((i) => i.type === 'point-to-point') : []));
      return ports.flatMap((i): Json[] => {
        const entry = this.open(r.name).ospfInterface(i.name)?.entry;
        return entry ? [entry] : [];
      });
    });
    const out: Json = {};
    if (entries.length < 2) return out;
    for (const leaf of inherited) {
      const values = entries.map((e) => member(e, leaf));
      if (values[0] === undefined || values.some((v) => JSON.stringify(v) !== JSON.stringify(values[0]))) continue;
      out[leaf === 'authentication-required' ? `gentle-compass:${leaf}` : leaf] = structuredClone(values[0]);
    }
    return out;
  }

  /** The MTU that all links of an area write, if they do. */
  linkMtu(area: number): number | undefined {
    const all = this.design.routers.flatMap((r) =>
      this.areasOf(r)
        .filter((a) => a.id === area)
        .flatMap((a) =>
          a.interfaces
            .filter((i) => i.type === 'point-to-point')
            .map((i) => {
              const own = r.interfaces.find((x) => x.name === i.name);
              return own?.written.has('mtu') ? own.mtu : undefined;
            }),
        ),
    );
    return all.length > 1 && all.every((m) => m === all[0]) ? all[0] : undefined;
  }

  /**
   * Bandwidth in Mbit/s that most links of an area have, else most of the design; `undefined` when none has one.
   *
   * @param onlyHere  the area's own alone
   */
  linkBandwidth(area: number, onlyHere = false): number | undefined {
    const links = this.design.routers.flatMap((r) =>
      this.areasOf(r).flatMap((a) =>
        a.interfaces
          .filter((i) => i.type === 'point-to-point')
          .flatMap((i) => {
            const mbps = r.interfaces.find((x) => x.name === i.name)?.bandwidthMbps;
            return mbps === undefined ? [] : [{ area: a.id, mbps }];
          }),
      ),
    );
    const here = common(links.filter((l) => l.area === area).map((l) => l.mbps));
    return here ?? (onlyHere ? undefined : common(links.map((l) => l.mbps)));
  }

  /** The next free subnet; says where it comes from, and refuses when there is none. */
  subnet(purpose: PoolPurpose, area: number | undefined, length?: number): Taken {
    const found = this.addresses.next(purpose, area, length);
    if (!found)
      throw new Refusal(
        `No ${length === undefined ? '' : `/${length} `}subnet is left for a ${oneOf[purpose]}${area === undefined ? '' : ` in ${areaText(area)}`}: give one, or add a pool with "pool ${purpose} PREFIX".`,
      );
    return this.told(found, purpose);
  }

  /**
   * The next free subnet beside one that is there: out of the pool it came from, and where the design has pools out of no
   * other place.
   *
   * @param kin  subnets of its kind at other routers
   */
  subnetLike(old: Prefix, purpose: PoolPurpose, area: number | undefined, kin: readonly Prefix[] = []): Taken {
    const found = this.addresses.like(old, purpose, area, kin);
    if (!found)
      throw new Refusal(
        `No /${old.length} is left for a ${oneOf[purpose]} like ${formatPrefix(old)} in the pools of the design: widen one, or add one with "pool ${purpose} PREFIX".`,
      );
    return this.told(found, purpose);
  }

  private told(found: Taken, purpose: PoolPurpose): Taken {
    const loopback = purpose === 'loopbacks';
    this.notes.push(
      `${loopback ? formatAddress(found.bits) : formatPrefix(found)} is the next free ${oneOf[purpose]} ${loopback ? 'address' : 'subnet'} of ${found.from}.`,
    );
    return found;
  }

  /** A subnet that was typed: refused when it overlaps one that is there. */
  given(p: Prefix, purpose: PoolPurpose, area: number | undefined): Prefix {
    const holder = this.design.routers
      .flatMap((r) => r.interfaces.flatMap((i) => i.addresses.map((a) => ({ r, i, p: prefixOf(a.bits, a.length) }))))
      .find((x) => covers(x.p, p) || covers(p, x.p));
    if (holder) {
      const free = this.addresses.next(purpose, area, p.length);
      throw new Refusal(
        `${formatPrefix(p)} overlaps ${formatPrefix(holder.p)} of ${holder.r.name}/${holder.i.name}.`,
        free ? [{ after: 'subnet', text: formatPrefix(free), help: `the next free subnet of ${free.from}` }] : [],
      );
    }
    this.addresses.take(p, purpose, area);
    return p;
  }
}

/**
 * Addresses that interfaces of a subnet get, one after the other: of IPv4 all but the number and the broadcast address, of
 * IPv6 all but the first, which is every router's (RFC 4291 §2.6.1); of a link's two both (RFC 3021, RFC 6164).
 */
export function hostsOf(p: Prefix): { readonly count: number; readonly at: (n: number) => Address } {
  const spare = hostLength(p.bits) - p.length;
  if (spare <= 1) return { count: 2 ** spare, at: (n) => plus(p.bits, n) };
  return { count: 2 ** spare - (isSix(p.bits) ? 1 : 2), at: (n) => plus(p.bits, n + 1) };
}
