import { activeInterfaces } from '../../design/activation';
import { container, member, setMember, type Json, type RouterDraft } from '../../design/draft';
import { processOf } from '../../design/family';
import type { OspfInstance, OspfInterface, Router } from '../../design/design';
import { subnetsOf } from '../../design/pools';
import { BlockAddresses, planSite } from '../../design/site-plan';
import { address6, formatAddress, formatPrefix, type Address, type Prefix } from '../../prefix/address';
import { hostsOf, Refusal, type Site } from '../site';
import type { CommandKind } from './command';

/** Settings of an interface that both versions have alike; keys and static neighbours are of one version, and stay there. */
const portLeaves = [
  'interface-type',
  'passive',
  'enabled',
  'priority',
  'cost',
  'hello-interval',
  'dead-interval',
  'mtu-ignore',
  'prefix-suppression',
  'bfd',
  'loopback-as',
];
const areaLeaves = ['name', 'area-type', 'summary', 'default-cost', 'nssa'];
const processLeaves = [
  'explicit-router-id',
  'router-id-rule',
  'enabled',
  'preference',
  'auto-cost',
  'spf-control',
  'stub-router',
  'rfc1583-compatible',
  'range-cost',
  'border-model',
  'counts-empty-areas',
];

/** Members of a node that are in a list, under the names that the document uses. */
const copied = (node: Json, names: readonly string[]): Json =>
  Object.fromEntries(Object.entries(node).filter(([key]) => names.includes(key.split(':').at(-1) ?? key)));

/** `ipv6 2001:db8:40::/48`: every router gets IPv6 and OSPFv3 like its IPv4 and OSPFv2. */
export const bothFamilies: CommandKind = {
  verb: 'ipv6',
  help: 'give every router IPv6 and OSPFv3 like its OSPFv2: areas, types and costs the same, a block of the prefix for each area',
  form: 'ipv6 PREFIX [numbered]',
  example: 'ipv6 2001:db8:40::/48',
  read(r) {
    const { bits, length } = r.prefix6('the prefix of the site');
    const prefix: Prefix = { bits: address6(bits), length };
    let numbered = false;
    r.options({ numbered: { help: 'links get a /127 each; link-local addresses alone when not said', read: () => (numbered = true) } });
    return (site) => {
      const routers = site.design.routers.filter((x) => processOf(x));
      const has = routers.filter((x) => x.instances.some((o) => o.version === 3));
      const left = routers.filter((x) => !has.includes(x));
      if (left.length === 0)
        throw new Refusal(routers.length === 0 ? 'No router runs OSPFv2: there is nothing to be like.' : 'Every router runs OSPFv3 already.');
      const plan = new SitePlan(site, prefix, routers);
      const nets: Nets = new Map();
      for (const router of left) giveRouter(site, router, plan, nets, numbered);
      tellWhatStays(site, left);
      site.notes.push('Nothing of IPv4 changes; look at IPv6 afterwards for what this brings.');
      if (has.length > 0)
        site.notes.push(
          `${has.map((x) => x.name).join(', ')} ${has.length === 1 ? 'runs' : 'run'} OSPFv3 already, and ${has.length === 1 ? 'stays' : 'stay'} as written.`,
        );
      return `IPv6 and OSPFv3 in ${left.length} ${left.length === 1 ? 'router' : 'routers'} out of ${formatPrefix(prefix)}, links ${numbered ? 'numbered' : 'with link-local addresses alone'}`;
    };
  },
};

type Nets = Map<number, Prefix & { members: number }>;

/** Whether an interface stands on a cable: these can do without global addresses. */
const isLink = (site: Site, router: number, iface: number, { type }: OspfInterface): boolean =>
  type === 'point-to-point' || site.segments.list[site.segments.at(router, iface)]?.kind === 'cable';

/** A block of the site's prefix for each area, so that its border routers can summarise it by one line. */
class SitePlan {
  private readonly areas: ReadonlyMap<number, BlockAddresses>;

  constructor(site: Site, prefix: Prefix, routers: readonly Router[]) {
    const lans = new Map<number, Set<number>>();
    for (const r of routers) {
      const instance = processOf(r);
      if (!instance) continue;
      const at = site.design.routers.indexOf(r);
      for (const a of instance.areas) if (!lans.has(a.id)) lans.set(a.id, new Set());
      for (const { area, index, iface, settings } of activeInterfaces(r, instance))
        if (iface.kind !== 'loopback' && !isLink(site, at, index, settings)) lans.get(area.id)?.add(site.segments.at(at, index));
    }
    const plan = planSite(
      prefix,
      [...lans].sort(([a], [b]) => a - b).map(([id, wires]) => ({ id, lans: wires.size })),
    );
    if ('fault' in plan) throw new Refusal(plan.fault);
    const used = subnetsOf(site.other.design);
    this.areas = new Map([...plan.blocks].map(([id, block]) => [id, new BlockAddresses(block, new Map(), used)]));
  }

  in(area: number): BlockAddresses {
    const block = this.areas.get(area);
    if (!block) throw new RangeError(`no block for area ${area}`);
    return block;
  }
}

function giveRouter(site: Site, router: Router, plan: SitePlan, nets: Nets, numbered: boolean): void {
  const instance = processOf(router);
  const draft = site.draft.router(router.name);
  const two = draft.process();
  if (!instance || !two) return;
  const r = site.design.routers.indexOf(router);
  const active = activeInterfaces(router, instance);
  for (const { iface, area, settings, index } of active) {
    const node = draft.iface(iface.name);
    if (!node) continue;
    const four = member(node, 'ietf-ip:ipv4') as Json | undefined;
    const mtu = four && member(four, 'mtu');
    const six = container(node, 'ietf-ip:ipv6');
    if (typeof mtu === 'number' && mtu >= 1280 && member(six, 'mtu') === undefined) setMember(six, 'mtu', mtu);
    if (member(six, 'address') !== undefined) continue;
    const put = (ip: Address, length: number): void => setMember(six, 'address', [{ ip: formatAddress(ip), 'prefix-length': length }]);
    const who = `${router.name}/${iface.name}`;
    if (iface.kind === 'loopback') {
      put(plan.in(area.id).loopback(who).bits, 128);
      continue;
    }
    const at = site.segments.at(r, index);
    const link = isLink(site, r, index, settings);
    if (link && !numbered) continue;
    let net = nets.get(at);
    if (!net) nets.set(at, (net = { ...(link ? plan.in(area.id).link(who) : plan.in(area.id).lan(who)), members: 0 }));
    put(hostsOf(net).at(net.members), net.length);
    net.members++;
  }
  addProcess(draft, two, instance, plan, active);
}

/** A list two levels down, as it is written; nothing is made where it is not there. */
function below(node: Json, holder: string, name: string): readonly Json[] {
  const inside = member(node, holder) as Json | undefined;
  const list = inside && member(inside, name);
  return Array.isArray(list) ? (list as Json[]) : [];
}

/** A process of version 3 beside that of version 2. */
function addProcess(draft: RouterDraft, two: Json, instance: OspfInstance, plan: SitePlan, active: ReturnType<typeof activeInterfaces>): void {
  const tree = container(two, 'ietf-ospf:ospf');
  const written = below(tree, 'areas', 'area');
  const areas = [...new Set([...instance.areas.map((a) => a.id), ...active.map((a) => a.area.id)])].map((id): Json => {
    const own = instance.areas.find((a) => a.id === id);
    const node = own && written[Number(own.at.at(-1))];
    const ports = active.filter((a) => a.area.id === id);
    return {
      'area-id': formatAddress(id),
      ...(node ? copied(node, areaLeaves) : {}),
      ...(own && own.ranges.length > 0
        ? {
            ranges: {
              range: [
                {
                  prefix: formatPrefix(plan.in(id).block),
                  ...(own.ranges[0]?.advertise === false ? { advertise: false } : {}),
                },
              ],
            },
          }
        : {}),
      ...(own && own.virtualLinks.length > 0
        ? {
            'virtual-links': {
              'virtual-link': own.virtualLinks.map((l) => ({
                'transit-area-id': formatAddress(l.transitArea),
                'router-id': formatAddress(l.routerId),
              })),
            },
          }
        : {}),
      interfaces: {
        interface: ports.map(({ settings, iface }): Json => {
          const entry = node && below(node, 'interfaces', 'interface').find((i) => member(i, 'name') === iface.name);
          return { name: iface.name, ...(entry ? copied(entry, portLeaves) : settings.passive ? { passive: true } : {}) };
        }),
      },
    };
  });
  draft.addProcess({ type: 'ietf-ospf:ospfv3', name: instance.name, 'ietf-ospf:ospf': { ...copied(tree, processLeaves), areas: { area: areas } } });
}

/** What has no like of its own making: it is told, not guessed. */
function tellWhatStays(site: Site, routers: readonly Router[]): void {
  const stays: readonly (readonly [string, (o: OspfInstance) => boolean])[] = [
    ['Redistribution', (o) => o.redistribution.length > 0],
    ['The announced default', (o) => o.defaultRoute !== undefined],
    ['External ranges', (o) => o.externalRanges.length > 0],
    ['Authentication', (o) => o.areas.some((a) => a.interfaces.some((i) => i.authentication.required))],
    ['Static neighbours', (o) => o.areas.some((a) => a.interfaces.some((i) => i.staticNeighbors.length > 0))],
    ['Filters', (o) => o.ribPolicy.length > 0 || o.areas.some((a) => a.summaryIn.length + a.summaryOut.length > 0)],
  ];
  for (const [what, has] of stays) {
    const names = routers.filter((r) => {
      const o = processOf(r);
      return o !== undefined && has(o);
    });
    if (names.length === 0) continue;
    const some = names.slice(0, 4).map((r) => r.name);
    site.notes.push(
      `${what} of ${some.join(', ')}${names.length > some.length ? ` and ${names.length - some.length} more` : ''} is not copied: write it for IPv6 where it is meant.`,
    );
  }
}
