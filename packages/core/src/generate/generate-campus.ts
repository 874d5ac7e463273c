import type { SourceDocument } from '../documents/documents';
import { chance } from '../design/chance';
import { formatAddress } from '../prefix/address';
import { parseIpv4, type Ipv4, type Ipv4Prefix } from '../prefix/ipv4';

/** What a generated campus is asked to be. The same numbers and seed give the same documents. */
export interface CampusSize {
  /** Routers in all, at least 4. */
  readonly routers: number;
  /** Areas beside the backbone, at least 1; an area has at least two border routers and an access router. */
  readonly areas: number;
  readonly seed: number;
}

type Json = Record<string, unknown>;

/** Hands out aligned subnets of a block, one after the other. */
class Pool {
  private next: number;
  constructor(private readonly block: Ipv4Prefix) {
    this.next = block.bits;
  }
  take(length: number): Ipv4 {
    const size = 2 ** (32 - length);
    const at = Math.ceil(this.next / size) * size;
    if (at + size > this.block.bits + 2 ** (32 - this.block.length))
      throw new RangeError(`the pool ${formatAddress(this.block.bits)}/${this.block.length} is full`);
    this.next = at + size;
    return at;
  }
}

/** One router while it is being put together. */
class Draft {
  readonly interfaces: Json[] = [];
  readonly areas = new Map<number, Json & { interfaces: { interface: Json[] } }>();
  readonly statics: Json[] = [];
  readonly ospf: Json = {};
  extra: Json = {};
  constructor(
    readonly name: string,
    readonly id: Ipv4,
    loopbackArea: number,
  ) {
    this.port('lo', id, 32, loopbackArea, { passive: true }, { type: 'iana-if-type:softwareLoopback' });
  }

  area(id: number): Json & { interfaces: { interface: Json[] } } {
    let a = this.areas.get(id);
    if (!a) {
      a = { 'area-id': formatAddress(id), interfaces: { interface: [] } };
      this.areas.set(id, a);
    }
    return a;
  }

  port(name: string, ip: Ipv4, length: number, area: number | null, settings: Json, more: Json = {}): void {
    const mtu = length === 31 ? { mtu: 9000 } : {};
    this.interfaces.push({
      name,
      type: 'iana-if-type:ethernetCsmacd',
      ...more,
      'ietf-ip:ipv4': { ...mtu, address: [{ ip: formatAddress(ip), 'prefix-length': length }] },
    });
    if (area !== null) this.area(area).interfaces.interface.push({ name, ...settings });
  }

  document(): SourceDocument {
    const protocols: Json[] = [
      {
        type: 'ietf-ospf:ospfv2',
        name: 'campus',
        'ietf-ospf:ospf': {
          'explicit-router-id': formatAddress(this.id),
          ...this.ospf,
          areas: { area: [...this.areas].sort(([a], [b]) => a - b).map(([, a]) => a) },
        },
      },
    ];
    if (this.statics.length > 0)
      protocols.unshift({ type: 'ietf-routing:static', name: 'own', 'static-routes': { 'ietf-ipv4-unicast-routing:ipv4': { route: this.statics } } });
    return {
      file: `${this.name}.json`,
      tree: {
        'ietf-system:system': { hostname: this.name },
        'ietf-interfaces:interfaces': { interface: this.interfaces },
        'ietf-routing:routing': { 'control-plane-protocols': { 'control-plane-protocol': protocols } },
        ...this.extra,
      },
    };
  }
}

const places = [
  'anemone',
  'barnacle',
  'cockle',
  'dulse',
  'eelgrass',
  'fucus',
  'gannet',
  'heron',
  'isopod',
  'jetty',
  'knot',
  'limpet',
  'mussel',
  'nautilus',
  'oyster',
  'plover',
  'quahog',
  'rockpool',
  'samphire',
  'tern',
];
const kinds = ['normal', 'stub', 'totally-stubby', 'nssa', 'normal'] as const;

/** Name of the n-th area: a place of the shore, with a number when the shore has been walked once. */
const placeName = (n: number): string => `${places[n % places.length] ?? ''}${n < places.length ? '' : `-${Math.floor(n / places.length) + 1}`}`;

/** Lets prefixes of one set pass: what an exit redistributes. */
const onlyPartners = (prefixes: readonly string[]): Json => ({
  'ietf-routing-policy:routing-policy': {
    'defined-sets': {
      'prefix-sets': {
        'prefix-set': [
          {
            name: 'partners',
            mode: 'ipv4',
            prefixes: {
              'prefix-list': prefixes.map((p) => ({
                'ip-prefix': p,
                'mask-length-lower': Number(p.split('/')[1]),
                'mask-length-upper': Number(p.split('/')[1]),
              })),
            },
          },
        ],
      },
    },
    'policy-definitions': {
      'policy-definition': [
        {
          name: 'partners-only',
          statements: {
            statement: [
              { name: 'partners', conditions: { 'match-prefix-set': { 'prefix-set': 'partners' } }, actions: { 'policy-result': 'accept-route' } },
            ],
          },
        },
      ],
    },
  },
});

/** Cables of the whole campus: /31s with both ends point-to-point, interfaces named after the far end. */
function cable(a: Draft, b: Draft, pool: Pool, area: number, cost: number): void {
  const at = pool.take(31);
  const settings = { 'interface-type': 'point-to-point', cost };
  a.port(`to-${b.name}`, at, 31, area, settings);
  b.port(`to-${a.name}`, at + 1, 31, area, settings);
}

/** Type, summaries and range of an area, as each of its routers or border routers writes them. */
function areaLeaves(kind: (typeof kinds)[number], block: Ipv4Prefix, border: boolean): Json {
  const type = kind === 'normal' ? {} : { 'area-type': kind === 'nssa' ? 'ietf-ospf:nssa-area' : 'ietf-ospf:stub-area' };
  if (!border) return type;
  return {
    ...type,
    ...(kind === 'totally-stubby' ? { summary: false } : {}),
    ...(kind === 'normal' || kind === 'nssa' ? {} : { 'default-cost': 10 }),
    ...(kind === 'nssa' ? { 'gentle-compass:nssa': { 'default-route': true } } : {}),
    ranges: { range: [{ prefix: `${formatAddress(block.bits)}/${block.length}` }] },
  };
}

/**
 * Makes a believable campus: a ring of core routers, two exits with defaults and partner networks, areas of mixed types
 * with two border routers each, access routers with two uplinks of equal or unequal cost, a shared LAN and user LANs, one
 * range an area. Inside 10.96.0.0/11, partners and provider in documentation prefixes.
 *
 * @throws RangeError  when the numbers do not fit each other or the address space
 */
export function generateCampus({ routers, areas, seed }: CampusSize): SourceDocument[] {
  const least = 2 + 3 * areas;
  if (!Number.isInteger(routers) || !Number.isInteger(areas) || areas < 1 || routers < least)
    throw new RangeError(`${areas} areas need at least ${least} routers: two in the core, and in each area two border routers and one more.`);
  if (areas > 250 || routers > 20_000) throw new RangeError('At most 250 areas and 20,000 routers are made.');
  const random = chance(seed);
  const pick = (from: number, to: number): number => from + Math.floor(random() * (to - from + 1));
  const home = parseIpv4('10.96.0.0') ?? 0;
  const length = areas <= 30 ? 16 : areas <= 62 ? 17 : areas <= 126 ? 18 : 19;
  const blockOf = (n: number): Ipv4Prefix => ({ bits: home + n * 2 ** (32 - length), length });
  const spine = new Pool(blockOf(0));
  const out: Draft[] = [];
  const make = (name: string, pool: Pool, area: number): Draft => {
    const r = new Draft(name, pool.take(32), area);
    out.push(r);
    return r;
  };

  const spare = routers - least;
  const coreCount = 2 + Math.min(6, Math.floor(spare / 40));
  const cores = Array.from({ length: coreCount }, (_, i) => make(`beacon-${i + 1}`, spine, 0));
  const core = (i: number): Draft => cores[i % coreCount] as Draft;
  cores.forEach((c, i) => {
    if (i + 1 < coreCount) cable(c, core(i + 1), spine, 0, 10);
  });
  if (coreCount > 2) cable(core(coreCount - 1), core(0), spine, 0, 10);

  const exitCount = spare - (coreCount - 2) >= 2 ? 2 : 0;
  for (let i = 0; i < exitCount; i++) {
    const exit = make(`harbour-exit-${i + 1}`, spine, 0);
    cable(exit, core(i), spine, 0, 10);
    cable(exit, core(i + 1), spine, 0, 20);
    const provider = (parseIpv4('203.0.113.0') ?? 0) + 4 * i;
    exit.port('provider', provider + 2, 30, null, {});
    const partners = Array.from({ length: pick(2, 6) }, (_, n) => `198.51.100.${(i * 8 + n) * 16}/28`);
    for (const p of ['0.0.0.0/0', ...partners])
      exit.statics.push({ 'destination-prefix': p, 'next-hop': { 'next-hop-address': formatAddress(provider + 1) } });
    Object.assign(exit.ospf, {
      'gentle-compass:default-route': { announce: 'if-present', metric: 10 * (i + 1), 'metric-type': 'type-1' },
      'gentle-compass:redistribution': [{ source: 'static', metric: 50, 'metric-type': i === 0 ? 'type-1' : 'type-2', policy: ['partners-only'] }],
    });
    exit.extra = onlyPartners(partners);
  }

  let left = routers - coreCount - exitCount - 3 * areas;
  for (let n = 1; n <= areas; n++) {
    const more = n === areas ? left : Math.min(left, Math.round((left / (areas - n + 1)) * (0.7 + 0.6 * random())));
    left -= more;
    makeArea(n, 1 + more);
  }
  return out.map((r) => r.document());

  /** One area: its two border routers, access routers with two uplinks, a shared LAN, user LANs. */
  function makeArea(n: number, accessCount: number): void {
    const area = n * 10;
    const place = placeName(n - 1);
    const block = blockOf(n);
    const pool = new Pool(block);
    const kind = kinds[pick(0, kinds.length - 1)] ?? 'normal';
    const borders = [0, 1].map((i) => make(`${place}-gate-${i + 1}`, spine, 0));
    const access = Array.from({ length: accessCount }, (_, i) => make(`${place}-${i + 1}`, pool, area));
    borders.forEach((b, i) => {
      cable(b, core(n + i), spine, 0, 10);
      cable(b, core(n + i + 1), spine, 0, i === 0 ? 10 : pick(1, 3) * 10);
      Object.assign(b.area(area), areaLeaves(kind, block, true));
    });
    access.forEach((r, i) => {
      const cost = pick(1, 4) * 10;
      borders.forEach((b, k) => cable(b, r, pool, area, random() < 0.7 ? cost : cost + 10 * k));
      Object.assign(r.area(area), areaLeaves(kind, block, false));
      for (let lan = pick(1, 2); lan > 0; lan--) r.port(`users-${lan}`, pool.take(26) + 1, 26, area, { passive: true });
      const before = access[i - 1];
      if (before && random() < 0.15) cable(before, r, pool, area, 40);
    });
    const onLan = [...borders, ...access.slice(0, pick(1, 3))];
    const shared = pool.take(24);
    onLan.forEach((r, i) => r.port('hall', shared + 1 + i, 24, area, { cost: 10, priority: i === 0 ? 200 : i === 1 ? 100 : 1 }));
    if (kind === 'nssa') {
      const last = access.at(-1);
      if (!last) return;
      // Each NSSA has a partner of its own: of many areas each gets less of the prefix.
      const bits = areas <= 16 ? 28 : areas <= 64 ? 30 : 32;
      const partner = `192.0.2.${((n - 1) * 2 ** (32 - bits)) % 256}/${bits}`;
      last.statics.push({ 'destination-prefix': partner, 'next-hop': { 'special-next-hop': 'blackhole' } });
      Object.assign(last.ospf, {
        'gentle-compass:redistribution': [{ source: 'static', metric: 30, 'metric-type': 'type-2', policy: ['partners-only'] }],
      });
      last.extra = onlyPartners([partner]);
    }
  }
}
