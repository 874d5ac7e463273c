import { networkTypes, type NetworkType } from '../../design/design';
import { processOf, type Family } from '../../design/family';
import { formatPrefix, formatAddress, isLoopbackAddress, hostLength, type Address, type Prefix } from '../../prefix/address';
import { type Json } from '../../design/draft';
import { joinInTopology } from '../cabling';
import { areaText, hostsOf, Refusal, type End, type Site } from '../site';
import type { CommandKind } from './command';

const typeHelp: Record<NetworkType, string> = {
  'point-to-point': 'a cable between two, no election',
  broadcast: 'a LAN with a designated router',
  'non-broadcast': 'designated router, neighbours listed by hand',
  'point-to-multipoint': 'a hub and its spokes, no election',
  hybrid: 'elects like broadcast, described like point-to-multipoint (RFC 6845)',
};
const typeChoices = networkTypes.map((text) => ({ text, help: typeHelp[text] }));

/** `router kelp-9 area 10`: a new router with a loopback. */
export const addRouter: CommandKind = {
  verb: 'router',
  help: 'add a router',
  form: 'router NAME [area AREA] [loopback ADDRESS]',
  example: 'router kelp-9 area 10',
  read(r) {
    const name = r.newName('name', r.known.routers);
    let area: number | undefined;
    let loopback: number | undefined;
    r.options({
      area: { help: 'area of its loopback; the backbone when not said', read: () => (area = r.area()) },
      loopback: { help: 'its loopback address; the next free one when not said', read: () => (loopback = r.address('address')) },
    });
    return (asked) => {
      const id = area ?? 0;
      asked.draft.addRouter(name);
      asked.open(name).addInterface('lo', undefined, { type: 'iana-if-type:softwareLoopback' });
      const given: Address[] = [];
      for (const site of sitesFor(asked, [], r.family)) {
        const draft = site.open(name);
        const { bits: ip, length } =
          loopback !== undefined && site.family === r.family
            ? site.given({ bits: loopback, length: hostLength(loopback) }, 'loopbacks', id)
            : site.subnet('loopbacks', id, site.family === 6 ? 128 : 32);
        draft.giveFamily('lo', { ip, length });
        const ospf = draft.ospf(site.processName);
        given.push(ip);
        // Both versions know a router by one id, written as an IPv4 address.
        const four = given[0];
        if (site.writesRouterId && four !== undefined && hostLength(four) === 32) ospf['explicit-router-id'] = formatAddress(four);
        else if (site.family === 6 && four === ip)
          site.notes.push(`${name} has no router id yet, and no IPv4 address to take it from: say one with "v3 set router-id ID on ${name}".`);
        site.enter(draft, id);
        draft.putInto(id, { name: 'lo', passive: true });
      }
      return `Router ${name} with loopback ${given.map(formatAddress).join(' and ')} in ${areaText(id)}`;
    };
  },
};

/** The families in which a line that makes something acts; the one that was typed is among them. */
function sitesFor(asked: Site, routers: readonly string[], typed: Family | undefined): readonly Site[] {
  const sites = asked.acting(routers);
  const own = asked.both.find((s) => s.family === typed);
  const six = asked.both[1];
  if (own !== six && !sites.includes(six) && routers.some((n) => six.runs(n)))
    asked.notes.push(
      `${routers.filter((n) => !six.runs(n)).join(' and ')} ${routers.filter((n) => !six.runs(n)).length === 1 ? 'runs' : 'run'} no OSPFv3: there is no IPv6 on it yet.`,
    );
  return own && !sites.includes(own) ? [...sites, own].sort((x, y) => x.family - y.family) : sites;
}

/** The subnet of a new wire: as typed, else the next free one. */
function subnetFor(site: Site, given: Prefix | undefined, purpose: 'links' | 'lans', area: number, length?: number): Prefix {
  return given ? site.given(given, purpose, area) : site.subnet(purpose, area, length);
}

/** `link kelp-1 drydock-2 cost 20`: a cable between two routers. */
export const addLink: CommandKind = {
  verb: 'link',
  help: 'link two routers',
  form: 'link ROUTER ROUTER [area AREA] [cost COST] [type TYPE] [subnet PREFIX | unnumbered] [bandwidth MBPS]',
  example: 'link kelp-1 drydock-2 cost 20 area 0',
  read(r) {
    const a = r.router('the first router');
    const b = r.router('the second router');
    if (a === b) throw r.before('A link needs two routers.');
    let area: number | undefined;
    let cost: number | undefined;
    let type: NetworkType | undefined;
    let subnet: Prefix | undefined;
    let bandwidth: number | undefined;
    let unnumbered = false;
    r.options({
      area: { help: 'area of the link; found from its ends when not said', read: () => (area = r.area()) },
      cost: { help: 'cost in both directions', read: () => (cost = r.number('cost', 1, 65_535)) },
      type: { help: 'network type; point-to-point when not said', read: () => (type = r.oneOf(typeChoices, 'a network type')) },
      subnet: { help: 'subnet; the next free one when not said', read: () => (subnet = r.prefix('subnet')) },
      unnumbered: { help: 'no subnet: both ends borrow the address of a loopback', read: () => (unnumbered = true) },
      bandwidth: { help: 'bandwidth, Mbit/s', read: () => (bandwidth = r.number('bandwidth', 1, 4_294_967_295)) },
    });
    return (asked) => {
      if (unnumbered && subnet) throw new Refusal('An unnumbered link has no subnet: leave one of the two out.');
      if (unnumbered && (type ?? 'point-to-point') !== 'point-to-point') throw new Refusal('An unnumbered link is point-to-point.');
      const sites = sitesFor(asked, [a, b], r.family);
      const names = [a, b].map((name, n) => asked.open(name).freeName(`to-${n === 0 ? b : a}`));
      const ends = [a, b].map((router, n): End => ({ router, iface: names[n] ?? '' }));
      const told: string[] = [];
      const numbered: Prefix[] = [];
      sites.forEach((site, n) => {
        const id = area ?? site.areaBetween(a, b);
        const net = linkSubnet(site, id, unnumbered, site.family === r.family ? subnet : undefined);
        const hosts = net && hostsOf(net);
        if (net && (hosts?.count ?? 0) < 2) throw new Refusal(`${formatPrefix(net)} has no room for two ends.`);
        if (net) numbered.push(net);
        const leaves = { 'interface-type': type ?? 'point-to-point', ...(cost === undefined ? {} : { cost }), ...site.linkLeaves(id) };
        const mtu = site.linkMtu(id);
        const speed = n > 0 ? undefined : (bandwidth ?? (cost === undefined ? usualBandwidth(site, [a, b], id) : undefined));
        ends.forEach(({ router, iface }, k) => {
          const draft = site.open(router);
          const lent = hosts
            ? { ip: hosts.at(k), length: net.length }
            : site.family === 4
              ? { ip: loopbackOf(site, router, id), length: 32 }
              : undefined;
          if (n === 0) draft.addInterface(iface, lent, speed === undefined ? {} : { 'gentle-compass:bandwidth-mbps': speed }, mtu);
          else draft.giveFamily(iface, lent, mtu);
          site.enter(draft, id);
          draft.putInto(id, { name: iface, ...structuredClone(leaves) });
          site.noteWithoutBackbone(router);
        });
        told.push(`${net ? `by ${formatPrefix(net)}` : site.family === 6 ? 'by link-local addresses' : 'unnumbered'} in ${areaText(id)}`);
      });
      const [from, to] = ends;
      if (numbered.length === 0 && from && to) joinInTopology(asked, from, { node: to.router, point: to.iface });
      return `Link ${a} and ${b} ${told.join(' and ')}${cost === undefined ? '' : `, cost ${cost}`}`;
    };
  },
};

/** The subnet of a new cable; of IPv6 only where one was typed, or where most cables of the area have one. */
function linkSubnet(site: Site, area: number, unnumbered: boolean, typed: Prefix | undefined): Prefix | undefined {
  if (unnumbered) return undefined;
  if (typed || site.family === 4) return subnetFor(site, typed, 'links', area);
  const links = site.design.routers.flatMap((x) =>
    site
      .areasOf(x)
      .flatMap((k) =>
        k.interfaces.filter((i) => i.type === 'point-to-point').map((i) => ({ area: k.id, iface: x.interfaces.find((y) => y.name === i.name) })),
      ),
  );
  const here = links.some((l) => l.area === area) ? links.filter((l) => l.area === area) : links;
  const numbered = here.filter((l) => (l.iface?.addresses.length ?? 0) > 0).length;
  return numbered * 2 > here.length ? site.subnet('links', area) : undefined;
}

/** The address that an unnumbered end borrows: of a loopback in the link's area, else of any. */
function loopbackOf(site: Site, name: string, area: number): Address {
  const router = site.router(name);
  const hosts = router.interfaces.filter((i) => i.kind === 'loopback' && i.enabled && i.boundTo === undefined);
  const own = (inArea: boolean): Address[] =>
    hosts
      .filter((i) => !inArea || site.speaks(router, i.name)?.area.id === area)
      .flatMap((i) => i.addresses.filter((x) => !isLoopbackAddress(x.bits)).map((x) => x.bits));
  const ip = own(true)[0] ?? own(false)[0];
  if (ip === undefined)
    throw new Refusal(`${name} has no loopback with an address to borrow: add one with "interface ${name}/lo loopback area ${area}".`);
  return ip;
}

/** Where costs come from bandwidths: the bandwidth that most links of the area have, and a word about it. */
function usualBandwidth(site: Site, routers: readonly string[], area: number): number | undefined {
  const auto = routers.filter((name) => processOf(site.router(name))?.autoCost);
  if (auto.length === 0) return undefined;
  const known = site.linkBandwidth(area);
  site.notes.push(
    known === undefined
      ? `Costs of ${auto.join(' and ')} come from bandwidths, and no link here has one: the cost is the default until "bandwidth" is said.`
      : `${known.toLocaleString('en-GB')} Mbit/s, as most links ${known === site.linkBandwidth(area, true) ? 'of this area' : 'of the design'} have: costs come from it.`,
  );
  return known;
}

/** `lan hall on kelp-1 kelp-2 length 26`: a LAN with its members. */
export const addLan: CommandKind = {
  verb: 'lan',
  help: 'add a LAN with its members',
  form: 'lan NAME on ROUTER... [area AREA] [subnet PREFIX] [length LENGTH] [cost COST] [passive]',
  example: 'lan reading-room on kelp-3 kelp-4 length 26',
  read(r) {
    const name = r.newName('LAN name', []);
    r.word('on', 'its routers follow');
    const members = [r.router('a router on the LAN')];
    const options = ['area', 'subnet', 'length', 'cost', 'passive'];
    while (!r.done && !options.includes(r.peek() ?? '')) {
      const next = r.router('another router on the LAN, or an option');
      if (members.includes(next)) throw r.before(`${next} stands twice.`);
      members.push(next);
    }
    let area: number | undefined;
    let subnet: Prefix | undefined;
    let length: number | undefined;
    let cost: number | undefined;
    let passive = false;
    r.options({
      area: { help: 'area of the LAN; found from its routers when not said', read: () => (area = r.area()) },
      subnet: { help: 'subnet; the next free one when not said', read: () => (subnet = r.prefix('subnet')) },
      length: { help: 'prefix length of the next free subnet of IPv4', read: () => (length = r.number('length', 8, 30)) },
      cost: { help: 'cost onto it', read: () => (cost = r.number('cost', 1, 65_535)) },
      passive: { help: 'advertised, but nobody speaks OSPF on it', read: () => (passive = true) },
    });
    if (!r.done || members.length === 0) r.end();
    return (asked) => {
      const first = members[0] ?? '';
      const told: string[] = [];
      for (const m of members) if (asked.open(m).iface(name)) throw new Refusal(`${m} has an interface "${name}" already: name the LAN otherwise.`);
      const sites = sitesFor(asked, members, r.family);
      sites.forEach((site, k) => {
        const own = site.areasOf(site.router(first)).map((x) => x.id);
        const id = area ?? (members[1] === undefined ? (own.find((x) => x !== 0) ?? 0) : site.areaBetween(first, members[1]));
        const net = subnetFor(site, site.family === r.family ? subnet : undefined, 'lans', id, site.family === 4 ? length : undefined);
        const hosts = hostsOf(net);
        if (hosts.count < members.length) throw new Refusal(`${formatPrefix(net)} has room for ${hosts.count}, not for ${members.length} routers.`);
        members.forEach((m, n) => {
          const draft = site.open(m);
          const address = { ip: hosts.at(n), length: net.length };
          if (k === 0) draft.addInterface(name, address);
          else draft.giveFamily(name, address);
          site.enter(draft, id);
          const entry: Json = { name, ...(passive ? { passive: true } : {}), ...(cost === undefined ? {} : { cost }) };
          draft.putInto(id, entry);
        });
        told.push(`${formatPrefix(net)} in ${areaText(id)}`);
      });
      return `LAN ${name}, ${told.join(' and ')}, with ${members.join(', ')}`;
    };
  },
};

/** `pool links 10.96.128.0/20 area 10`: where free subnets are taken from. */
export const addPool: CommandKind = {
  verb: 'pool',
  help: 'say where free subnets are taken from',
  form: 'pool loopbacks|links|lans PREFIX [area AREA]',
  example: 'pool links 10.96.128.0/255.255.240.0',
  read(r) {
    const purpose = r.oneOf(
      [
        { text: 'loopbacks', help: 'addresses of loopbacks' },
        { text: 'links', help: 'subnets of cables' },
        { text: 'lans', help: 'subnets of LANs' },
      ],
      'what the pool is for',
    );
    const prefix = r.prefix('prefix');
    let area: number | undefined;
    r.options({ area: { help: 'only for this area', read: () => (area = r.area()) } });
    return (site) => {
      const settings = site.draft.settings();
      const list = Array.isArray(settings.pool) ? (settings.pool as Json[]) : [];
      list.push({ prefix: formatPrefix(prefix), purpose, ...(area === undefined ? {} : { area: formatAddress(area) }) });
      settings.pool = list;
      return `Pool ${formatPrefix(prefix)} for ${purpose}${area === undefined ? '' : ` of ${areaText(area)}`}`;
    };
  },
};
