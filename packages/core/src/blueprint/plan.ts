import { freeSubnet } from '../design/pools';
import { planSite } from '../design/site-plan';
import { prefix6Number } from '../documents/leaf-types';
import { covers, formatPrefix, type Prefix } from '../prefix/address';
import { parseTypedPrefix, type Ipv4Prefix } from '../prefix/ipv4';
import { sitePrefixOf, supernetOf, type Blueprint, type BlueprintArea } from './blueprint';

const purposes = ['loopbacks', 'links', 'lans'] as const;

/** One use of addresses in an area's block: loopbacks, links or LANs, each a part of its own. */
export interface PlanPart {
  readonly purpose: (typeof purposes)[number];
  readonly prefix: Ipv4Prefix;
  /** Length of each subnet that is taken from it. */
  readonly length: number;
  readonly used: number;
  /** How many more subnets of that length it has room for. */
  readonly left: number;
}

/** The addresses of one area: one aligned prefix, which is also its summary. */
export interface AreaPlan {
  readonly id: number;
  readonly name: string;
  readonly prefix: Ipv4Prefix;
  readonly parts: readonly PlanPart[];
  /** Its block of the site's IPv6 prefix, where the campus has one. */
  readonly six?: Prefix;
  readonly routers: number;
  readonly links: number;
  /** True when an earlier block did not suffice any more. */
  readonly moved: boolean;
}

/** The address plan of a blueprint, or why there is none. */
export type Plan = { readonly areas: readonly AreaPlan[]; readonly supernet: Ipv4Prefix } | { readonly fault: string };

interface Need {
  readonly purpose: PlanPart['purpose'];
  readonly length: number;
  readonly used: number;
  /** Length of the aligned part that holds what is used and the growth. */
  readonly size: number;
}

/** Length of the smallest aligned prefix that holds so many subnets of a length. */
const holding = (subnets: number, length: number): number => length - Math.ceil(Math.log2(Math.max(1, subnets)));

/** Length of a LAN with so many hosts, a gateway and the two addresses that are nobody's. */
export const lanLength = (hosts: number): number => 32 - Math.max(2, Math.ceil(Math.log2(hosts + 3)));

const grown = (used: number, percent: number): number => (used === 0 ? 0 : Math.ceil((used * (100 + percent)) / 100));

function need(purpose: Need['purpose'], length: number, used: number, growth: number): Need[] {
  if (used === 0) return [];
  // A network's own number reads badly as a router id: the first loopback of a part is left alone.
  const all = grown(used, growth) + (purpose === 'loopbacks' ? 1 : 0);
  return [{ purpose, length, used, size: holding(all, length) }];
}

/**
 * Whether border routers are joined inside their area: where access routers do not hang on all of them, each would else reach
 * only its own part of what it announces as a whole.
 */
export const bordersJoined = (a: BlueprintArea): boolean => a.distribution === 0 && a.borders > 1 && (a.access === 0 || a.uplinks < a.borders);

/** Cables inside an area, border routers to access routers. */
export function linksOf(a: BlueprintArea): number {
  const above = a.distribution > 0 ? a.distribution : a.borders;
  const down = a.distribution > 0 ? a.distribution * a.borders : 0;
  return down + a.access * Math.min(a.uplinks, above) + (bordersJoined(a) ? a.borders - 1 : 0);
}

/** Cables of the backbone: among core routers, to exits and to border routers. */
export function backboneLinks(b: Blueprint): number {
  const core = b.core < 2 ? 0 : b.shape === 'mesh' ? (b.core * (b.core - 1)) / 2 : b.core === 2 ? 1 : b.core;
  const up = Math.min(2, b.core);
  return core + (b.exits + b.areas.reduce((n, a) => n + a.borders, 0)) * up;
}

function needsOf(a: BlueprintArea): Need[] {
  return [
    ...need('lans', lanLength(a.hosts), a.access * a.lans, a.growth),
    ...need('links', 31, linksOf(a), a.growth),
    ...need('loopbacks', 32, a.distribution + a.access, a.growth),
  ];
}

const partOf = (n: Need, prefix: Ipv4Prefix): PlanPart => {
  const room = 2 ** (n.length - prefix.length) - (n.purpose === 'loopbacks' ? 1 : 0);
  return { purpose: n.purpose, prefix, length: n.length, used: n.used, left: room - n.used };
};

/**
 * The parts of a block: those that were given out before and suffice stay, the others take what is free, the largest first, so
 * that each falls on its own boundary. `undefined` when they do not fit.
 */
function layOut(
  block: Ipv4Prefix,
  needs: readonly Need[],
  before: ReadonlyMap<string, Ipv4Prefix>,
  avoid: readonly Ipv4Prefix[],
): PlanPart[] | undefined {
  const parts = new Map<Need, PlanPart>();
  for (const n of needs) {
    const old = before.get(n.purpose);
    const stays = old && covers(block, old) && old.length <= n.length ? partOf(n, old) : undefined;
    const lost = stays ? avoid.filter((a) => covers(stays.prefix, a)).length : 0;
    // Growth that was left is there to be used, less what somebody took by hand.
    if (stays && stays.left >= lost) parts.set(n, { ...stays, left: stays.left - lost });
  }
  for (const n of [...needs].sort((x, y) => x.size - y.size)) {
    if (parts.has(n)) continue;
    const free = freeSubnet(block, n.size, [...[...parts.values()].map((p) => p.prefix), ...avoid]);
    if (!free) return undefined;
    parts.set(n, partOf(n, free));
  }
  return needs.flatMap((n) => parts.get(n) ?? []);
}

/** Length of the smallest aligned block that holds all parts. */
function blockLength(needs: readonly Need[]): number {
  const all = needs.reduce((n, x) => n + 2 ** (32 - x.size), 0);
  return 32 - Math.ceil(Math.log2(Math.max(1, all)));
}

/**
 * Plans the addresses of a blueprint: every area in one aligned prefix that no other area touches, with room for its growth.
 * Blocks that were given out before stay while they suffice; a larger area gets another one, and nothing else moves.
 *
 * @param avoid  subnets that somebody took by hand
 */
export function planAddresses(b: Blueprint, avoid: readonly Ipv4Prefix[] = []): Plan {
  const supernet = supernetOf(b);
  if (!supernet) return { fault: `"${b.supernet}" is no prefix.` };
  const wanted = [
    {
      id: 0,
      name: 'backbone',
      needs: [
        ...need('links', 31, backboneLinks(b), b.growth),
        ...need('loopbacks', 32, b.core + b.exits + b.areas.reduce((n, a) => n + a.borders, 0), b.growth),
      ],
      routers: b.core + b.exits + b.areas.reduce((n, a) => n + a.borders, 0),
      links: backboneLinks(b),
    },
    ...b.areas.map((a) => ({ id: a.id, name: a.name, needs: needsOf(a), routers: a.distribution + a.access, links: linksOf(a) })),
  ].map((w) => ({ ...w, length: blockLength(w.needs) }));
  const known = new Map(
    Object.entries(b.blocks ?? {}).flatMap(([id, text]) => {
      const p = parseTypedPrefix(text);
      return p && covers(supernet, p) ? [[id, { bits: p.bits, length: p.length }] as const] : [];
    }),
  );
  const partsBefore = (id: number): Map<string, Ipv4Prefix> =>
    new Map(
      purposes.flatMap((p) => {
        const part = known.get(`${id}/${p}`);
        return part ? [[p, part] as const] : [];
      }),
    );
  const taken: Ipv4Prefix[] = [];
  const given = new Map<number, { prefix: Ipv4Prefix; parts: readonly PlanPart[]; moved: boolean }>();
  for (const w of wanted) {
    const old = known.get(String(w.id));
    const parts = old && !taken.some((t) => covers(t, old) || covers(old, t)) ? layOut(old, w.needs, partsBefore(w.id), avoid) : undefined;
    if (!old || !parts) continue;
    taken.push(old);
    given.set(w.id, { prefix: old, parts, moved: false });
  }
  // The largest first: small ones fit into what is left.
  for (const w of [...wanted].sort((x, y) => x.length - y.length)) {
    if (given.has(w.id)) continue;
    const prefix = freeSubnet(supernet, w.length, [...taken, ...avoid]);
    const parts = prefix && layOut(prefix, w.needs, new Map(), []);
    if (!prefix || !parts) {
      const all = wanted.reduce((n, x) => n + 2 ** (32 - x.length), 0);
      return {
        fault: `${formatPrefix(supernet)} is too small: ${w.name} needs a /${w.length}, and all areas together ${all.toLocaleString('en-GB')} of its ${(2 ** (32 - supernet.length)).toLocaleString('en-GB')} addresses.`,
      };
    }
    taken.push(prefix);
    given.set(w.id, { prefix, parts, moved: known.has(String(w.id)) });
  }
  const areas = wanted.flatMap((w): AreaPlan[] => {
    const g = given.get(w.id);
    return g ? [{ id: w.id, name: w.name, ...g, routers: w.routers, links: w.links }] : [];
  });
  const six = planSix(b, areas);
  return 'fault' in six ? six : { areas: six.areas, supernet };
}

/** Gives every area its block of the site's IPv6 prefix. */
function planSix(b: Blueprint, areas: readonly AreaPlan[]): { readonly areas: readonly AreaPlan[] } | { readonly fault: string } {
  const site = sitePrefixOf(b);
  if (!site) return { areas };
  const before = new Map(
    Object.entries(b.blocks6 ?? {}).flatMap(([id, text]) => {
      const p = prefix6Number.read(text);
      return p ? [[Number(id), p] as const] : [];
    }),
  );
  const lans = (a: AreaPlan): number => {
    const own = b.areas.find((x) => x.id === a.id);
    return own ? grown(own.access * own.lans, own.growth) : 0;
  };
  const plan = planSite(
    site,
    areas.map((a) => ({ id: a.id, lans: lans(a) })),
    before,
  );
  if ('fault' in plan) return plan;
  return {
    areas: areas.map((a) => {
      const six = plan.blocks.get(a.id);
      return { ...a, ...(six ? { six } : {}), moved: a.moved || plan.moved.has(a.id) };
    }),
  };
}

/** The IPv6 blocks of a plan by area id, to be kept with its blueprint. */
export const sixBlocksOf = (areas: readonly AreaPlan[]): Record<string, string> =>
  Object.fromEntries(areas.flatMap((a) => (a.six ? [[String(a.id), formatPrefix(a.six)]] : [])));

/** The blocks of a plan by area id, and their parts as `ID/PURPOSE`, to be kept with its blueprint. */
export const blocksOf = (areas: readonly AreaPlan[]): Record<string, string> =>
  Object.fromEntries(
    areas.flatMap((a) => [
      [String(a.id), formatPrefix(a.prefix)],
      ...a.parts.map((p): [string, string] => [`${a.id}/${p.purpose}`, formatPrefix(p.prefix)]),
    ]),
  );
