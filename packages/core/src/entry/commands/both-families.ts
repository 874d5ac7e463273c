import { activeInterfaces } from '../../design/activation';
import { container, member, setMember, type Json, type RouterDraft } from '../../design/draft';
import { processOf } from '../../design/family';
import type { OspfInstance, Router } from '../../design/design';
import { formatAddress } from '../../prefix/address';
import { formatIpv6, type Ipv6 } from '../../prefix/ipv6';
import type { Ipv6Prefix } from '../../prefix/prefix-book';
import { Refusal, type Site } from '../site';
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
const areaLeaves = ['area-type', 'summary', 'default-cost', 'nssa'];
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

/** A site prefix given out: a block for each area, so that its border routers can summarise it by one line; of it the first /64 for loopbacks, the second for links. */
class SitePlan {
  private readonly bits: number;
  private readonly loopbacks = new Map<number, number>();
  private readonly links = new Map<number, number>();
  private readonly lans = new Map<number, number>();

  constructor(
    private readonly site: Ipv6Prefix,
    private readonly areas: readonly number[],
  ) {
    this.bits = Math.max(1, Math.ceil(Math.log2(areas.length)));
    if (64 - site.length - this.bits < 4)
      throw new Refusal(
        `${formatIpv6(site.bits)}/${site.length} has no room for ${areas.length} areas with LANs of /64: give a prefix of at most /${60 - this.bits}.`,
      );
  }

  /** The block of an area. */
  block(area: number): Ipv6Prefix {
    const length = this.site.length + this.bits;
    return { bits: this.site.bits | (BigInt(this.areas.indexOf(area)) << BigInt(128 - length)), length };
  }

  private next(counts: Map<number, number>, area: number, from: number): bigint {
    const n = counts.get(area) ?? from;
    counts.set(area, n + 1);
    return BigInt(n);
  }

  loopback(area: number): Ipv6 {
    return this.block(area).bits | this.next(this.loopbacks, area, 1);
  }

  /** A /127 for a link (RFC 6164). */
  link(area: number): Ipv6 {
    return this.block(area).bits | (1n << 64n) | (this.next(this.links, area, 0) << 1n);
  }

  /** A /64 for a LAN. */
  lan(area: number): Ipv6 {
    const n = this.next(this.lans, area, 2);
    const { bits, length } = this.block(area);
    if (n >= 1n << BigInt(64 - length))
      throw new Refusal(`Area ${formatAddress(area)} has more LANs than its block has /64s: give a shorter prefix.`);
    return bits | (n << 64n);
  }
}

/** `ipv6 2001:db8:40::/48`: every router gets IPv6 and OSPFv3 like its IPv4 and OSPFv2. */
export const bothFamilies: CommandKind = {
  verb: 'ipv6',
  help: 'give every router IPv6 and OSPFv3 like its OSPFv2: areas, types and costs the same, a block of the prefix for each area',
  form: 'ipv6 PREFIX [numbered]',
  example: 'ipv6 2001:db8:40::/48',
  read(r) {
    const prefix = r.prefix6('the prefix of the site');
    let numbered = false;
    r.options({ numbered: { help: 'links get a /127 each; link-local addresses alone when not said', read: () => (numbered = true) } });
    return (site) => {
      const routers = site.design.routers.filter((x) => processOf(x));
      const has = routers.filter((x) => x.instances.some((o) => o.version === 3));
      const left = routers.filter((x) => !has.includes(x));
      if (left.length === 0)
        throw new Refusal(routers.length === 0 ? 'No router runs OSPFv2: there is nothing to be like.' : 'Every router runs OSPFv3 already.');
      const areas = [...new Set(routers.flatMap((x) => processOf(x)?.areas.map((a) => a.id) ?? []))].sort((a, b) => a - b);
      const plan = new SitePlan(prefix, areas);
      const nets = new Map<number, { readonly bits: Ipv6; readonly length: number; members: number }>();
      for (const router of left) giveRouter(site, router, plan, nets, numbered);
      tellWhatStays(site, left);
      site.notes.push('Nothing of IPv4 changes; look at IPv6 afterwards for what this brings.');
      if (has.length > 0)
        site.notes.push(
          `${has.map((x) => x.name).join(', ')} ${has.length === 1 ? 'runs' : 'run'} OSPFv3 already, and ${has.length === 1 ? 'stays' : 'stay'} as written.`,
        );
      return `IPv6 and OSPFv3 in ${left.length} ${left.length === 1 ? 'router' : 'routers'} out of ${formatIpv6(prefix.bits)}/${prefix.length}, links ${numbered ? 'numbered' : 'with link-local addresses alone'}`;
    };
  },
};

type Nets = Map<number, { readonly bits: Ipv6; readonly length: number; members: number }>;

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
    const put = (bits: Ipv6, length: number): void => setMember(six, 'address', [{ ip: formatIpv6(bits), 'prefix-length': length }]);
    if (iface.kind === 'loopback') {
      put(plan.loopback(area.id), 128);
      continue;
    }
    const at = site.segments.at(r, index);
    const segment = site.segments.list[at];
    const link = segment?.kind === 'cable' || settings.type === 'point-to-point';
    if (link && !numbered) continue;
    let net = nets.get(at);
    if (!net) nets.set(at, (net = { ...(link ? { bits: plan.link(area.id), length: 127 } : { bits: plan.lan(area.id), length: 64 }), members: 0 }));
    put(net.bits | BigInt(link ? net.members : net.members + 1), net.length);
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
                  prefix: `${formatIpv6(plan.block(id).bits)}/${plan.block(id).length}`,
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
