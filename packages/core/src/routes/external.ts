import { hostLength, type Address } from '../prefix/address';
import { prefixBook, prefixId } from '../prefix/prefix-book';
import { type Ipv4 } from '../prefix/ipv4';
import { lsInfinity, type ExternalLsa } from '../lsdb/lsa';
import { joinHops, type HopList, type HopSet } from '../spf/shortest-path-tree';
import { exitRank, preferredPath } from './exit-preference';
import type { RouteType } from '../design/terms';
import type { Route, RouterPath, Table } from './route';

/** A router's route inside the system to a prefix, by its key. */
export type InternalLookup = (key: number) => Route | undefined;

/** What an external calculation needs to know of the calculating router. */
export interface ExternalContext {
  readonly self: Ipv4;
  readonly rfc1583Compatible: boolean;
  readonly isBorderRouter: boolean;
  readonly hopList: HopList;
  /** Ways to a boundary router, area by area. */
  readonly pathsTo: (router: Ipv4) => readonly RouterPath[];
  /** An NSSA's own settings, for its type 7 default. */
  readonly takesSummaries: (areaId: number) => boolean;
}

/** A candidate external route with what its preference is decided by. */
interface Exit {
  readonly route: Route;
  readonly rank: number;
  /** Metric that type 2 compares first; 0 for type 1. */
  readonly outside: number;
  readonly total: number;
  readonly lsa: ExternalLsa;
}

const kindRank = (t: RouteType): number => (t === 'external-1' || t === 'nssa-1' ? 0 : 1);

/** Negative: `a` is preferred; 0: both are used (RFC 2328 §16.4 (6) (b) to (d), RFC 3101 §2.5 (6)). */
function compareExits(a: Exit, b: Exit): number {
  return kindRank(a.route.type) - kindRank(b.route.type) || a.outside - b.outside || a.rank - b.rank || a.total - b.total;
}

/** What decides between two exits for one prefix. */
export type ExitRule = 'type-1-first' | 'smaller-metric' | 'preferred-path' | 'nearer' | 'same-thing' | 'equal';

function ruleBetween(a: Exit, b: Exit): ExitRule {
  if (kindRank(a.route.type) !== kindRank(b.route.type)) return 'type-1-first';
  if (a.outside !== b.outside) return 'smaller-metric';
  if (a.rank !== b.rank) return 'preferred-path';
  if (a.total !== b.total) return 'nearer';
  return sameThing(a, b) === undefined ? 'equal' : 'same-thing';
}

/** RFC 3101 §2.5 (6) (e): of two that say the same, type 7 with the P bit, then type 5, then the larger router id. */
function sameThing(a: Exit, b: Exit): number | undefined {
  if (a.lsa.forwarding === 0 || a.lsa.forwarding !== b.lsa.forwarding || a.lsa.type === b.lsa.type) return undefined;
  const rank = (e: Exit): number => (e.lsa.type === 7 ? (e.lsa.propagate ? 0 : 2) : 1);
  return rank(a) - rank(b) || b.lsa.adv - a.lsa.adv;
}

/** The intra-area or inter-area route that holds an address most closely (the matching entry of RFC 2328 §16.4 (3)). */
export function internalMatch(internal: InternalLookup, address: Address): Route | undefined {
  for (let length = hostLength(address); length >= 0; length--) {
    const r = internal(prefixBook.holder(address, length) ?? -1);
    if (r) return r.type === 'intra-area' || r.type === 'inter-area' ? r : undefined;
  }
  return undefined;
}

/** Hops towards a forwarding address: on an attached network it is addressed directly. */
function hopsTo(route: Route, address: Address, hopList: HopList): HopSet {
  if (!route.attached) return route.hops;
  const out = route.hops.map((h) => {
    const hop = hopList.hops[h];
    return hop && hop.address === undefined ? hopList.place(hop.port, address) : h;
  });
  return [...new Set(out)].sort((a, b) => a - b);
}

/** Distance and hops to where an external advertisement sends its traffic (RFC 2328 §16.4 (3), RFC 3101 §2.5 (3)). */
function exitPath(
  lsa: ExternalLsa,
  area: number | undefined,
  internal: InternalLookup,
  c: ExternalContext,
): { cost: number; hops: HopSet; area: number; type: RouterPath['type'] } | undefined {
  const all = c.pathsTo(lsa.adv);
  const asbr = preferredPath(area === undefined ? all : all.filter((p) => p.area === area && p.type === 'intra-area'), c.rfc1583Compatible);
  if (!asbr) return undefined;
  if (lsa.forwarding === 0) return asbr;
  const match = internalMatch(internal, lsa.forwarding);
  if (!match) return undefined;
  if (area !== undefined && (match.type !== 'intra-area' || match.area !== area)) return undefined;
  return {
    cost: match.metric,
    hops: hopsTo(match, lsa.forwarding, c.hopList),
    area: match.area,
    type: match.type === 'intra-area' ? 'intra-area' : 'inter-area',
  };
}

function exitOf(lsa: ExternalLsa, area: number | undefined, internal: InternalLookup, c: ExternalContext): Exit | undefined {
  if (lsa.metric >= lsInfinity || lsa.adv === c.self) return undefined;
  // RFC 3101 §2.5 (3): a border router takes no type 7 default without the P bit, nor any where it keeps summaries out.
  if (lsa.type === 7 && lsa.length === 0 && c.isBorderRouter && (!lsa.propagate || !c.takesSummaries(area ?? 0))) return undefined;
  const path = exitPath(lsa, area, internal, c);
  if (!path) return undefined;
  const one = lsa.metricType === 'type-1';
  const family = lsa.type === 7 ? 'nssa' : 'external';
  const type: RouteType = `${family}-${one ? 1 : 2}`;
  const route: Route = {
    key: prefixId(lsa.bits, lsa.length),
    bits: lsa.bits,
    length: lsa.length,
    type,
    metric: one ? path.cost + lsa.metric : lsa.metric,
    forwardMetric: one ? undefined : path.cost,
    tag: lsa.tag,
    hops: path.hops,
    area: path.area,
    sources: [lsa],
    rule: lsa.type === 7 ? 'RFC 3101 §2.5' : 'RFC 2328 §16.4',
    attached: false,
  };
  return {
    route,
    rank: exitRank(path, c.rfc1583Compatible),
    outside: one ? 0 : lsa.metric,
    total: one ? path.cost + lsa.metric : path.cost,
    lsa,
  };
}

/** An exit for a prefix as one router sees it. */
export interface ExitSeen {
  readonly lsa: ExternalLsa;
  readonly route: Route;
  /** What decided for the first one against this one; of the first itself nothing. */
  readonly rule: ExitRule | undefined;
}

/** Every exit that a router could take for one prefix, the one that it takes first (RFC 2328 §16.4 (6), RFC 3101 §2.5 (6)). */
export function exitsFor(
  key: number,
  internal: InternalLookup,
  external: readonly ExternalLsa[],
  nssa: readonly { readonly area: number; readonly lsas: readonly ExternalLsa[] }[],
  c: ExternalContext,
): ExitSeen[] {
  const about = (l: ExternalLsa): boolean => prefixId(l.bits, l.length) === key;
  const exits = [
    ...nssa.flatMap(({ area, lsas }) => lsas.filter(about).flatMap((l) => exitOf(l, area, internal, c) ?? [])),
    ...external.filter(about).flatMap((l) => exitOf(l, undefined, internal, c) ?? []),
  ].sort((a, b) => compareExits(a, b) || (sameThing(a, b) ?? 0));
  const [first] = exits;
  return exits.map((e) => ({ lsa: e.lsa, route: e.route, rule: first && e !== first ? ruleBetween(first, e) : undefined }));
}

/**
 * External routes of a router (RFC 2328 §16.4 for type 5, RFC 3101 §2.5 for the type 7 of attached NSSAs). Routes inside the
 * system always win. Among exits: type 1, smaller type 2 metric, rank of §16.4.1, distance; what is left is used together.
 */
export function externalRoutes(
  internal: InternalLookup,
  external: readonly ExternalLsa[],
  nssa: readonly { readonly area: number; readonly lsas: readonly ExternalLsa[] }[],
  c: ExternalContext,
): Table {
  const best = new Map<number, Exit[]>();
  const consider = (lsa: ExternalLsa, area: number | undefined): void => {
    const key = prefixId(lsa.bits, lsa.length);
    if (internal(key)) return;
    const exit = exitOf(lsa, area, internal, c);
    if (!exit) return;
    const old = best.get(key);
    const first = old?.[0];
    if (!old || !first) {
      best.set(key, [exit]);
      return;
    }
    const d = compareExits(exit, first);
    if (d < 0) best.set(key, [exit]);
    else if (d === 0) {
      const twin = old.findIndex((o) => sameThing(exit, o) !== undefined);
      const other = old[twin];
      if (other) {
        if ((sameThing(exit, other) ?? 0) < 0) old[twin] = exit;
      } else old.push(exit);
    }
  };
  for (const { area, lsas } of nssa) for (const lsa of lsas) consider(lsa, area);
  for (const lsa of external) consider(lsa, undefined);
  const table: Table = new Map();
  for (const [key, exits] of best) {
    const first = exits[0];
    if (!first) continue;
    const hops = exits.reduce<HopSet>((h, e) => joinHops(h, e.route.hops), []);
    table.set(key, { ...first.route, hops, sources: exits.flatMap((e) => e.route.sources) });
  }
  return table;
}
