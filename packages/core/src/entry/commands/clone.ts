import { decidingRule } from '../../design/activation';
import { backbone, type Interface, type InterfaceAddress, type Router } from '../../design/design';
import { container, listIn, member, setMember, type Json, type RouterDraft } from '../../design/draft';
import { purposeOf, subnetsOf } from '../../design/pools';
import { processOf, processesOf } from '../../design/family';
import {
  bits6,
  covers,
  formatAddress,
  formatPrefix,
  holds,
  hostLength,
  hull,
  isLinkLocal,
  isLoopbackAddress,
  isSix,
  likePlace,
  parseAddress,
  prefixOf,
  type Address,
  type Prefix,
} from '../../prefix/address';
import { routerIdOf } from '../../design/router-id';
import { joinInTopology, topologyLinksAt } from '../cabling';
import { nameBeside } from '../references';
import { hostsOf, Refusal, type End, type Site } from '../site';
import type { CommandKind } from './command';

/** `clone kelp-3 as kelp-6`: a router like another one, with an identity of its own. */
export const clone: CommandKind = {
  verb: 'clone',
  help: 'add a router like another one, with its own identity',
  form: 'clone ROUTER as NAME [without links]',
  example: 'clone kelp-3 as kelp-6',
  read(r) {
    const router = r.router('the router to copy');
    r.word('as', 'the new name follows');
    const name = r.newName('name', r.known.routers);
    let linked = true;
    r.options({
      without: {
        help: 'without links: the copy stands alone',
        read: () => {
          r.word('links', 'the copy gets no cables');
          linked = false;
        },
      },
    });
    return (site) => {
      new Cloning(site, site.router(router), name, linked).carryOut();
      return `${name}, like ${router}${linked ? '' : ', without its links'}`;
    };
  },
};

const subnetOf = (a: InterfaceAddress): Prefix => prefixOf(a.bits, a.length);
const isHost = (a: InterfaceAddress): boolean => a.length === hostLength(a.bits);
const isOnWire = (a: Address | undefined): boolean => a !== undefined && isSix(a) && isLinkLocal(bits6(a));

/** A router that becomes like another one, in both families: every address another, out of where the original's came from. */
class Cloning {
  private readonly copy: RouterDraft;
  /** Addresses of the original and of the far ends of its cables, and what stands for them at the copy. */
  private readonly moved = new Map<Address, Address>();
  private readonly subnets = new Map<string, Prefix>();
  private readonly left = new Set<string>();
  private readonly inside: readonly Prefix[];
  private links = 0;

  constructor(
    private readonly site: Site,
    private readonly source: Router,
    private readonly name: string,
    private readonly linked: boolean,
  ) {
    site.draft.addRouter(name, structuredClone(site.open(source.name).tree));
    this.copy = site.open(name);
    this.inside = site.both.flatMap((s) => hull(subnetsOf(s.design).filter((u) => u.area !== undefined)) ?? []);
  }

  carryOut(): void {
    const { source, site } = this;
    // Loopbacks first: cables borrow their addresses.
    source.interfaces.forEach((i, n) => {
      if (i.kind === 'loopback') for (const s of site.both) this.loopback(s, n);
    });
    source.interfaces.forEach((i, n) => {
      if (i.kind !== 'loopback') this.port(i, n);
    });
    this.identity();
    for (const [from, to] of this.moved) this.copy.replaceAddress(from, to);
    this.writeSubnets();
    this.dropWhatIsNotCopied();
    nameBeside(site, source.name, this.name);
    if (this.links > 0)
      site.notes.push(`${this.name} gets ${this.links === 1 ? 'a link' : `${this.links} links`} of its own to the same neighbours.`);
  }

  /** An interface of the original as a family looks at it. */
  private seen(site: Site, n: number): Interface | undefined {
    return site.router(this.source.name).interfaces[n];
  }

  /** Whether an address of the original stands on other routers too, and is meant to. */
  private isShared(site: Site, a: InterfaceAddress): boolean {
    return site.design.routers.some(
      (r) => r.name !== this.source.name && r.interfaces.some((i) => i.kind === 'loopback' && i.addresses.some((x) => x.bits === a.bits)),
    );
  }

  private areaOf(site: Site, i: Interface): number | undefined {
    const source = site.router(this.source.name);
    const listed = processesOf(source)
      .flatMap((o) => o.areas)
      .find((a) => a.interfaces.some((x) => x.name === i.name));
    return listed?.id ?? site.speaks(source, i.name)?.area.id;
  }

  private loopback(site: Site, n: number): void {
    const i = this.seen(site, n);
    if (!i) return;
    const area = this.areaOf(site, i);
    for (const a of i.addresses) {
      if (isLoopbackAddress(a.bits) || this.moved.has(a.bits)) continue;
      if (this.isShared(site, a)) {
        site.notes.push(`${formatAddress(a.bits)} on ${i.name} is shared with other routers: the copy has it too.`);
        continue;
      }
      const kin = site.design.routers.flatMap((r) =>
        r.interfaces.filter((x) => x.kind === 'loopback' && x.name === i.name && site.speaks(r, x.name)?.area.id === area),
      );
      const near = kin.flatMap((x) => x.addresses.filter((y) => y.length === a.length && !isLoopbackAddress(y.bits)).map(subnetOf));
      const to = site.subnetLike(subnetOf(a), 'loopbacks', area, i.addresses.length === 1 ? near : []);
      this.give(i, a, likePlace(to, subnetOf(a), a.bits));
    }
  }

  private port(i: Interface, n: number): void {
    const { site } = this;
    const here = { router: this.source.name, iface: i.name };
    const ends = site.endsOn(here).filter((e) => e.router !== here.router || e.iface !== here.iface);
    if (ends.length > 0 && !this.linked) {
      this.left.add(i.name);
      this.copy.removeInterface(i.name);
      return;
    }
    const own = new Map<Site, readonly InterfaceAddress[]>();
    for (const s of site.both) {
      const addresses = this.seen(s, n)?.addresses ?? [];
      const borrowed = addresses.filter((a) => isHost(a) && this.moved.has(a.bits));
      for (const a of borrowed) this.give(i, a, this.moved.get(a.bits) ?? a.bits);
      own.set(
        s,
        addresses.filter((a) => !borrowed.includes(a)),
      );
    }
    const [far] = ends;
    if (far && ends.length === 1 && site.isCable(here)) this.cable(i, own, far);
    else {
      for (const [s, addresses] of own) for (const a of addresses) this.besideOthers(s, i, a, ends);
      this.joinLan(here, ends);
    }
    for (const s of site.both) this.keepRule(s, s.router(this.source.name), i, s.open(this.name), i.name);
  }

  private give(i: Interface, a: InterfaceAddress, to: Address): void {
    this.moved.set(a.bits, to);
    this.subnets.set(formatPrefix(subnetOf(a)), prefixOf(to, a.length));
    this.copy.readdress(a.bits, to, a.length, i.name);
  }

  /** A cable to the same neighbour: a new interface there, like the one that faces the original. */
  private cable(i: Interface, own: ReadonlyMap<Site, readonly InterfaceAddress[]>, far: End): void {
    const { site, name, source } = this;
    const draft = site.open(far.router);
    const iface = draft.freeName(far.iface.includes(source.name) ? far.iface.replace(source.name, name) : `to-${name}`);
    const twin = structuredClone(draft.iface(far.iface) ?? {});
    setMember(twin, 'name', iface);
    draft.interfaces.push(twin);
    for (const [s, addresses] of own) this.cableSubnets(s, i, addresses, far, iface);
    const listed = draft.everyOspfInterface(far.iface);
    for (const { list: ports, entry } of listed) {
      const made = { ...structuredClone(entry), name: iface };
      this.readdressNeighbors(made);
      ports.push(made);
    }
    for (const s of site.both) {
      const model = s.interfaceOf(far);
      if (model && !s.open(far.router).ospfInterface(far.iface)) this.keepRule(s, s.router(far.router), model, s.open(far.router), iface);
    }
    for (const { link } of topologyLinksAt(site, { router: source.name, iface: i.name }))
      joinInTopology(site, { router: name, iface: i.name }, { node: far.router, point: iface }, link);
    this.links++;
  }

  /** Both ends of a new cable get a subnet like the old one; addresses of the neighbour that lie in none of these are its own. */
  private cableSubnets(site: Site, i: Interface, own: readonly InterfaceAddress[], far: End, iface: string): void {
    const model = site.interfaceOf(far);
    if (!model) return;
    const draft = site.open(far.router);
    const kept = new Set(model.addresses.filter(isHost).map((x) => x.bits));
    for (const a of own) {
      const to = site.subnetLike(subnetOf(a), 'links', this.areaOf(site, i));
      this.give(i, a, likePlace(to, subnetOf(a), a.bits));
      for (const x of model.addresses) {
        if (isHost(x) || !covers(subnetOf(a), subnetOf(x))) continue;
        const at = likePlace(to, subnetOf(a), x.bits);
        draft.readdress(x.bits, at, x.length, iface);
        this.moved.set(x.bits, at);
        kept.add(at);
      }
    }
    draft.dropAddresses(iface, (x) => x === undefined || !(kept.has(x) || isOnWire(x)));
  }

  /** Static neighbours of a copied end: the copy's address in the place of the original's. */
  private readdressNeighbors(entry: Json): void {
    const neighbors = member(entry, 'static-neighbors');
    if (neighbors === undefined) return;
    for (const n of listIn(container(entry, 'static-neighbors'), 'neighbor')) {
      const to = this.moved.get(parseAddress(String(member(n, 'identifier'))) ?? -1);
      if (to !== undefined) setMember(n, 'identifier', formatAddress(to));
    }
  }

  /** An address on a LAN with others, in a subnet of its own, or from outside the design. */
  private besideOthers(site: Site, i: Interface, a: InterfaceAddress, ends: readonly End[]): void {
    const subnet = subnetOf(a);
    const others = ends.filter((e) => site.interfaceOf(e)?.addresses.some((x) => holds(subnet, x.bits)));
    if (others.length > 0) {
      const hosts = hostsOf(subnet);
      const taken = new Set([...site.design.routers.flatMap((r) => r.interfaces.flatMap((x) => x.addresses.map((y) => y.bits)))]);
      for (const hop of site.nextHopsOutside) taken.add(hop);
      let n = 0;
      while (n < hosts.count && taken.has(hosts.at(n))) n++;
      if (n >= hosts.count) throw new Refusal(`No address is left on ${formatPrefix(subnet)} for ${this.name}/${i.name}.`);
      this.giveBeside(site, i, a, hosts.at(n), others);
      return;
    }
    const inside = site.design.settings.pools.some((p) => covers(p.prefix, subnet)) || this.inside.some((p) => covers(p, subnet));
    if (!inside) {
      site.open(this.name).dropAddresses(i.name, (x) => x === a.bits);
      site.notes.push(`${i.name} has ${formatAddress(a.bits)}/${a.length} from outside the design: the copy has no address there yet.`);
      return;
    }
    const to = site.subnetLike(subnet, purposeOf(subnet, false), this.areaOf(site, i));
    this.give(i, a, likePlace(to, subnet, a.bits));
  }

  /** On a non-broadcast LAN whoever lists the original by hand lists the copy too. */
  private giveBeside(site: Site, i: Interface, a: InterfaceAddress, to: Address, others: readonly End[]): void {
    this.moved.set(a.bits, to);
    this.copy.readdress(a.bits, to, a.length, i.name);
    this.listEachOther(site, i, a.bits, to);
    for (const e of others) {
      const entry = site.open(e.router).ospfInterface(e.iface)?.entry;
      if (!entry || member(entry, 'static-neighbors') === undefined) continue;
      const list = listIn(container(entry, 'static-neighbors'), 'neighbor');
      const known = list.find((n) => parseAddress(String(member(n, 'identifier'))) === a.bits);
      if (known) list.push({ ...structuredClone(known), identifier: formatAddress(to) });
    }
  }

  /** On a non-broadcast LAN the original, if it lists others and may lead, and its copy list each other. */
  private listEachOther(site: Site, i: Interface, original: Address, copy: Address): void {
    const at = site.speaks(site.router(this.source.name), i.name);
    if (at?.port.type !== 'non-broadcast' || at.port.priority === 0) return;
    for (const [draft, other] of [
      [site.open(this.source.name), copy],
      [site.open(this.name), original],
    ] as const) {
      const entry = draft.ospfInterface(i.name)?.entry;
      if (!entry || member(entry, 'static-neighbors') === undefined) continue;
      listIn(container(entry, 'static-neighbors'), 'neighbor').push({ identifier: formatAddress(other) });
    }
  }

  /** Stands where the topology puts the original: on the same LAN's node, or beside the same members. */
  private joinLan({ router, iface }: End, ends: readonly End[]): void {
    if (!this.linked) return;
    if (ends.length > 0) this.leaveLinkLocal(iface);
    for (const { link, far } of topologyLinksAt(this.site, { router, iface }))
      if (ends.length > 0) joinInTopology(this.site, { router: this.name, iface }, far, link);
  }

  /** On one wire no two have one link-local address (RFC 4862 §5.4): the copy makes its own. */
  private leaveLinkLocal(iface: string): void {
    const draft = this.site.both[1].open(this.name);
    const own = draft.addressesOf(iface).find((x) => isOnWire(parseAddress(String(member(x, 'ip')))));
    if (!own) return;
    draft.dropAddresses(iface, isOnWire);
    this.site.notes.push(
      `${String(member(own, 'ip'))} on ${iface} stays with ${this.source.name}: the copy has a link-local address of its own making.`,
    );
  }

  /** An interface that a rule turned on by its address is listed, where no rule takes the new address into that area. */
  private keepRule(site: Site, r: Router, model: Interface, draft: RouterDraft, iface: string): void {
    const at = site.speaks(r, model.name);
    const instance = processOf(r);
    if (!at?.byRule || !instance) return;
    const addresses = draft.addressesOf(iface).map((x) => {
      const bits = parseAddress(String(member(x, 'ip'))) ?? 0;
      return { bits, length: hostLength(bits), prefix: 0 };
    });
    const rule = decidingRule(instance, { ...model, name: iface, addresses });
    if (rule !== undefined && instance.activation[rule]?.areaId === at.area.id) return;
    draft.putInto(at.area.id, { name: iface, ...(at.byRule.passive ? { passive: true } : {}) });
    site.notes.push(`No rule of ${draft.name} takes ${iface}: it is listed in its area.`);
  }

  /** Router ids that the documents write: the new address where the old one was an address of the original, else that of the loopback. */
  private identity(): void {
    const own = this.source.interfaces.filter((i) => i.kind === 'loopback').flatMap((i) => i.addresses);
    const four = [...own.map((a) => this.moved.get(a.bits)), ...this.moved.values()].find((x) => x !== undefined && !isSix(x));
    const first = four ?? this.nextId();
    const places = [container(this.copy.tree, 'ietf-routing:routing'), ...this.copy.processes().map((p) => container(p, 'ietf-ospf:ospf'))];
    for (const place of places) {
      const leaf = ['explicit-router-id', 'router-id'].find((l) => member(place, l) !== undefined);
      const old = leaf === undefined ? undefined : parseAddress(String(member(place, leaf)));
      if (leaf === undefined || old === undefined || this.moved.has(old)) continue;
      setMember(place, leaf, formatAddress(first));
      this.site.notes.push(`The router id ${formatAddress(old)} is no address of ${this.source.name}: the copy has ${formatAddress(first)}.`);
    }
  }

  /** Where no IPv4 address is there to be taken: an id that no router has. */
  private nextId(): number {
    const ids = this.site.both.flatMap((s) => s.design.routers.flatMap((r) => processesOf(r).map((o) => routerIdOf(r, o)?.id ?? 0)));
    return Math.max(0, ...ids) + 1;
  }

  /** Advertised subnets are named by prefix. */
  private writeSubnets(): void {
    for (const area of this.copy.areas())
      for (const entry of listIn(container(area, 'interfaces'), 'interface')) {
        const list = member(entry, 'advertise');
        if (!Array.isArray(list)) continue;
        const told = list.map((p) => {
          const to = this.subnets.get(String(p));
          return to ? formatPrefix(to) : String(p);
        });
        setMember(entry, 'advertise', told);
      }
  }

  private dropWhatIsNotCopied(): void {
    const { site, copy, source, left } = this;
    for (const i of copy.interfaces) {
      const carriers = member(i, 'carried-by');
      if (Array.isArray(carriers) && carriers.some((c) => left.has(String(c))))
        setMember(
          i,
          'carried-by',
          carriers.filter((c) => !left.has(String(c))),
        );
    }
    for (const s of site.both) {
      const draft = s.open(this.name);
      const area = draft.area(backbone);
      if (!area || member(area, 'virtual-links') === undefined) continue;
      setMember(area, 'virtual-links', undefined);
      draft.dropEmptyArea(backbone);
      site.notes.push(`The virtual links of ${source.name} are not copied: they need their other end.`);
    }
    if (site.whole.topology.riskGroups.some((g) => g.members.some((m) => m.includes(`:${source.name}/`) || m.endsWith(`:${source.name}`))))
      site.notes.push(`${this.name} stands in no group of shared risk, though ${source.name} does.`);
  }
}
