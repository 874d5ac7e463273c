import { decidingRule } from '../../design/activation';
import { backbone, type Interface, type InterfaceAddress, type Router } from '../../design/design';
import { container, listIn, member, setMember, type Json, type RouterDraft } from '../../design/draft';
import { hull, subnetsOf } from '../../design/pools';
import { covers, formatAddress, formatPrefix, holds, prefixOf } from '../../prefix/address';
import { parseIpv4, type Ipv4, type Ipv4Prefix } from '../../prefix/ipv4';
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

const subnetOf = (a: InterfaceAddress): Ipv4Prefix => prefixOf(a.bits, a.length);
const isLocal = (a: InterfaceAddress): boolean => a.bits >>> 24 === 127;

/** A router that becomes like another one: every address another, out of where the original's came from. */
class Cloning {
  private readonly copy: RouterDraft;
  /** Addresses of the original and of the far ends of its cables, and what stands for them at the copy. */
  private readonly moved = new Map<Ipv4, Ipv4>();
  private readonly subnets = new Map<string, Ipv4Prefix>();
  private readonly left = new Set<string>();
  private readonly inside: Ipv4Prefix | undefined;
  private links = 0;

  constructor(
    private readonly site: Site,
    private readonly source: Router,
    private readonly name: string,
    private readonly linked: boolean,
  ) {
    this.copy = site.draft.addRouter(name, structuredClone(site.draft.router(source.name).tree));
    this.inside = hull(subnetsOf(site.design).filter((u) => u.area !== undefined));
  }

  carryOut(): void {
    const { source, site } = this;
    // Loopbacks first: cables borrow their addresses.
    for (const i of source.interfaces) if (i.kind === 'loopback') this.loopback(i);
    for (const i of source.interfaces) if (i.kind !== 'loopback') this.port(i);
    this.identity();
    for (const [from, to] of this.moved) this.copy.replaceAddress(from, to);
    this.writeSubnets();
    this.dropWhatIsNotCopied();
    nameBeside(site, source.name, this.name);
    if (this.links > 0)
      site.notes.push(`${this.name} gets ${this.links === 1 ? 'a link' : `${this.links} links`} of its own to the same neighbours.`);
  }

  /** Whether an address of the original stands on other routers too, and is meant to. */
  private isShared(a: InterfaceAddress): boolean {
    return this.site.design.routers.some(
      (r) => r !== this.source && r.interfaces.some((i) => i.kind === 'loopback' && i.addresses.some((x) => x.bits === a.bits)),
    );
  }

  private areaOf(i: Interface): number | undefined {
    const listed = this.source.instances.flatMap((o) => o.areas).find((a) => a.interfaces.some((x) => x.name === i.name));
    return listed?.id ?? this.site.speaks(this.source, i.name)?.area.id;
  }

  private loopback(i: Interface): void {
    const area = this.areaOf(i);
    for (const a of i.addresses) {
      if (isLocal(a) || this.moved.has(a.bits)) continue;
      if (this.isShared(a)) {
        this.site.notes.push(`${formatAddress(a.bits)} on ${i.name} is shared with other routers: the copy has it too.`);
        continue;
      }
      const kin = this.site.design.routers.flatMap((r) =>
        r.interfaces.filter((x) => x.kind === 'loopback' && x.name === i.name && this.site.speaks(r, x.name)?.area.id === area),
      );
      const near = kin.flatMap((x) => x.addresses.filter((y) => y.length === a.length && !isLocal(y)).map(subnetOf));
      const to = this.site.subnetLike(subnetOf(a), 'loopbacks', area, i.addresses.length === 1 ? near : []);
      this.give(i, a, to.bits + (a.bits - subnetOf(a).bits));
    }
  }

  private port(i: Interface): void {
    const here = { router: this.source.name, iface: i.name };
    const ends = this.site.endsOn(here).filter((e) => e.router !== here.router || e.iface !== here.iface);
    if (ends.length > 0 && !this.linked) {
      this.left.add(i.name);
      this.copy.removeInterface(i.name);
      return;
    }
    const borrowed = i.addresses.filter((a) => a.length === 32 && this.moved.has(a.bits));
    for (const a of borrowed) this.give(i, a, this.moved.get(a.bits) ?? a.bits);
    const own = i.addresses.filter((a) => !borrowed.includes(a));
    const [far] = ends;
    if (far && ends.length === 1 && this.site.isCable(here)) this.cable(i, own, far);
    else {
      for (const a of own) this.besideOthers(i, a, ends);
      this.joinLan(here, ends);
    }
    this.keepRule(this.source, i, this.copy, i.name);
  }

  private give(i: Interface, a: InterfaceAddress, to: Ipv4): void {
    this.moved.set(a.bits, to);
    this.subnets.set(formatPrefix(subnetOf(a)), prefixOf(to, a.length));
    this.copy.readdress(a.bits, to, a.length, i.name);
  }

  /** A cable to the same neighbour: a new interface there, like the one that faces the original. */
  private cable(i: Interface, own: readonly InterfaceAddress[], far: End): void {
    const { site, name, source } = this;
    const farRouter = site.router(far.router);
    const model = site.interfaceOf(far);
    if (!model) return;
    const draft = site.draft.router(far.router);
    const iface = draft.freeName(far.iface.includes(source.name) ? far.iface.replace(source.name, name) : `to-${name}`);
    const twin = structuredClone(draft.iface(far.iface) ?? {});
    setMember(twin, 'name', iface);
    draft.interfaces.push(twin);
    const kept = new Set(model.addresses.filter((x) => x.length === 32).map((x) => x.bits));
    for (const a of own) {
      const to = site.subnetLike(subnetOf(a), 'links', this.areaOf(i));
      this.give(i, a, to.bits + (a.bits - subnetOf(a).bits));
      for (const x of model.addresses) {
        if (x.length === 32 || !covers(subnetOf(a), subnetOf(x))) continue;
        const at = to.bits + (x.bits - subnetOf(a).bits);
        draft.readdress(x.bits, at, x.length, iface);
        this.moved.set(x.bits, at);
        kept.add(at);
      }
    }
    // Addresses of the neighbour that lie in none of these subnets are its own.
    const list = member(container(twin, 'ietf-ip:ipv4'), 'address');
    if (Array.isArray(list))
      setMember(
        container(twin, 'ietf-ip:ipv4'),
        'address',
        (list as Json[]).filter((x) => kept.has(parseIpv4(String(member(x, 'ip'))) ?? -1)),
      );
    const six = member(twin, 'ietf-ip:ipv6');
    if (six !== undefined) setMember(container(twin, 'ietf-ip:ipv6'), 'address', undefined);
    const listed = draft.everyOspfInterface(far.iface);
    for (const { list: ports, entry } of listed) {
      const made = { ...structuredClone(entry), name: iface };
      this.readdressNeighbors(made);
      ports.push(made);
    }
    if (listed.length === 0) this.keepRule(farRouter, model, draft, iface);
    for (const { link } of topologyLinksAt(site, { router: source.name, iface: i.name }))
      joinInTopology(site, { router: name, iface: i.name }, { node: far.router, point: iface }, link);
    this.links++;
  }

  /** Static neighbours of a copied end: the copy's address in the place of the original's. */
  private readdressNeighbors(entry: Json): void {
    const neighbors = member(entry, 'static-neighbors');
    if (neighbors === undefined) return;
    for (const n of listIn(container(entry, 'static-neighbors'), 'neighbor')) {
      const to = this.moved.get(parseIpv4(String(member(n, 'identifier'))) ?? -1);
      if (to !== undefined) setMember(n, 'identifier', formatAddress(to));
    }
  }

  /** An address on a LAN with others, in a subnet of its own, or from outside the design. */
  private besideOthers(i: Interface, a: InterfaceAddress, ends: readonly End[]): void {
    const { site } = this;
    const subnet = subnetOf(a);
    const others = ends.filter((e) => site.interfaceOf(e)?.addresses.some((x) => holds(subnet, x.bits)));
    if (others.length > 0) {
      const hosts = hostsOf(subnet);
      const taken = new Set([...site.design.routers.flatMap((r) => r.interfaces.flatMap((x) => x.addresses.map((y) => y.bits)))]);
      for (const hop of site.nextHopsOutside) taken.add(hop);
      let n = 0;
      while (n < hosts.count && taken.has(hosts.at(n))) n++;
      if (n >= hosts.count) throw new Refusal(`No address is left on ${formatPrefix(subnet)} for ${this.name}/${i.name}.`);
      this.giveBeside(i, a, hosts.at(n), others);
      return;
    }
    const pools = site.design.settings.pools;
    const inside = pools.some((p) => covers(p.prefix, subnet)) || (this.inside !== undefined && covers(this.inside, subnet));
    if (!inside) {
      const ipv4 = container(this.copy.iface(i.name) ?? {}, 'ietf-ip:ipv4');
      const list = listIn(ipv4, 'address').filter((x) => parseIpv4(String(member(x, 'ip'))) !== a.bits);
      setMember(ipv4, 'address', list);
      site.notes.push(`${i.name} has ${formatAddress(a.bits)}/${a.length} from outside the design: the copy has no address there yet.`);
      return;
    }
    const to = site.subnetLike(subnet, a.length >= 30 ? 'links' : 'lans', this.areaOf(i));
    this.give(i, a, to.bits + (a.bits - subnet.bits));
  }

  /** On a non-broadcast LAN whoever lists the original by hand lists the copy too. */
  private giveBeside(i: Interface, a: InterfaceAddress, to: Ipv4, others: readonly End[]): void {
    this.moved.set(a.bits, to);
    this.copy.readdress(a.bits, to, a.length, i.name);
    this.listEachOther(i, a.bits, to);
    for (const e of others) {
      const entry = this.site.draft.router(e.router).ospfInterface(e.iface)?.entry;
      if (!entry || member(entry, 'static-neighbors') === undefined) continue;
      const list = listIn(container(entry, 'static-neighbors'), 'neighbor');
      const known = list.find((n) => parseIpv4(String(member(n, 'identifier'))) === a.bits);
      if (known) list.push({ ...structuredClone(known), identifier: formatAddress(to) });
    }
  }

  /** On a non-broadcast LAN the original, if it lists others and may lead, and its copy list each other. */
  private listEachOther(i: Interface, original: Ipv4, copy: Ipv4): void {
    const at = this.site.speaks(this.source, i.name);
    if (at?.port.type !== 'non-broadcast' || at.port.priority === 0) return;
    for (const [draft, other] of [
      [this.site.draft.router(this.source.name), copy],
      [this.copy, original],
    ] as const) {
      const entry = draft.ospfInterface(i.name)?.entry;
      if (!entry || member(entry, 'static-neighbors') === undefined) continue;
      listIn(container(entry, 'static-neighbors'), 'neighbor').push({ identifier: formatAddress(other) });
    }
  }

  /** Stands where the topology puts the original: on the same LAN's node, or beside the same members. */
  private joinLan({ router, iface }: End, ends: readonly End[]): void {
    if (!this.linked) return;
    for (const { link, far } of topologyLinksAt(this.site, { router, iface }))
      if (ends.length > 0) joinInTopology(this.site, { router: this.name, iface }, far, link);
  }

  /** An interface that a rule turned on by its address is listed, where no rule takes the new address into that area. */
  private keepRule(r: Router, model: Interface, draft: RouterDraft, iface: string): void {
    const at = this.site.speaks(r, model.name);
    const instance = r.instances.find((o) => o.version === 2);
    if (!at?.byRule || !instance) return;
    const node = draft.iface(iface);
    const list = node && member(container(node, 'ietf-ip:ipv4'), 'address');
    const addresses = (Array.isArray(list) ? (list as Json[]) : []).map((x) => ({ bits: parseIpv4(String(member(x, 'ip'))) ?? 0, length: 32 }));
    const rule = decidingRule(instance, { ...model, name: iface, addresses });
    if (rule !== undefined && instance.activation[rule]?.areaId === at.area.id) return;
    draft.putInto(at.area.id, { name: iface, ...(at.byRule.passive ? { passive: true } : {}) });
    this.site.notes.push(`No rule of ${draft.name} takes ${iface}: it is listed in its area.`);
  }

  /** Router ids that the documents write: the new address where the old one was an address of the original, else that of the loopback. */
  private identity(): void {
    const own = this.source.interfaces.filter((i) => i.kind === 'loopback').flatMap((i) => i.addresses);
    const first = own.map((a) => this.moved.get(a.bits)).find((x) => x !== undefined) ?? [...this.moved.values()][0];
    const places = [container(this.copy.tree, 'ietf-routing:routing'), ...this.copy.processes().map((p) => container(p, 'ietf-ospf:ospf'))];
    for (const place of places) {
      const leaf = ['explicit-router-id', 'router-id'].find((l) => member(place, l) !== undefined);
      const old = leaf === undefined ? undefined : parseIpv4(String(member(place, leaf)));
      if (leaf === undefined || old === undefined || this.moved.has(old)) continue;
      setMember(place, leaf, first === undefined ? undefined : formatAddress(first));
      this.site.notes.push(
        first === undefined
          ? `The copy has no router id: give it one.`
          : `The router id ${formatAddress(old)} is no address of ${this.source.name}: the copy has ${formatAddress(first)}.`,
      );
    }
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
    let six = false;
    for (const i of copy.interfaces) {
      const ipv6 = member(i, 'ietf-ip:ipv6');
      if (typeof ipv6 === 'object' && ipv6 !== null && member(ipv6 as Json, 'address') !== undefined) {
        setMember(ipv6 as Json, 'address', undefined);
        six = true;
      }
      const carriers = member(i, 'carried-by');
      if (Array.isArray(carriers) && carriers.some((c) => left.has(String(c))))
        setMember(
          i,
          'carried-by',
          carriers.filter((c) => !left.has(String(c))),
        );
    }
    if (six) site.notes.push('IPv6 addresses are not copied.');
    const area = copy.area(backbone);
    if (area && member(area, 'virtual-links') !== undefined) {
      setMember(area, 'virtual-links', undefined);
      copy.dropEmptyArea(backbone);
      site.notes.push(`The virtual links of ${source.name} are not copied: they need their other end.`);
    }
    if (site.design.topology.riskGroups.some((g) => g.members.some((m) => m.includes(`:${source.name}/`) || m.endsWith(`:${source.name}`))))
      site.notes.push(`${this.name} stands in no group of shared risk, though ${source.name} does.`);
  }
}
