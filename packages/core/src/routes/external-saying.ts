import type { Speaker } from '../adjacency/speakers';
import type { AreaDatabase } from '../lsdb/area-database';
import type { Domain } from '../lsdb/domain';
import { externalLsas, foldExternal, importedRoutes, nssaLsas } from '../lsdb/external-lsa';
import type { ExternalLsa } from '../lsdb/lsa';
import { translatedLsas, translates } from '../lsdb/nssa-translation';
import type { RouterLsa } from '../lsdb/router-links';
import { everything } from '../prefix/address';
import { prefixId } from '../prefix/prefix-book';
import { externalRoutes, internalMatch, type ExternalContext, type InternalLookup } from './external';
import { handing, preferenceOf, type HandingGround } from './handing-over';
import { prefixesInOspf, type LocalRoute } from './local-routes';
import type { Route } from './route';

/** A router's OSPF route to a prefix, by its key. */
export type RouteLookup = (key: number) => Route | undefined;

/** What one router stands on when it decides what it announces from outside. */
export interface Announcing {
  readonly domain: Domain;
  readonly speaker: Speaker;
  readonly locals: readonly LocalRoute[];
  /** Its routes inside the system. */
  readonly inside: () => InternalLookup;
  /** Its OSPF routes to some prefixes. */
  readonly routesTo: (keys: ReadonlySet<number>) => RouteLookup;
  readonly handed: HandingGround;
}

/** The prefix of an external advertisement by its key. */
export const keyOf = (l: ExternalLsa): number => prefixId(l.bits, l.length);

/** The preference of the process that wins most: local routes with a worse one may lose to OSPF. */
export const bestPreference = (s: Speaker): number =>
  Math.min(s.instance.preference.external, s.instance.preference.inter, s.instance.preference.intra);

/** NSSAs that a router takes part in. */
export const nssaIds = (domain: Domain, s: Speaker): number[] => domain.areasOf(s).filter((a) => domain.areaOf(s, a).type === 'nssa');

/** Routes of a router to some prefixes only, from what it holds. */
export function routesAmong(
  keys: ReadonlySet<number>,
  lookup: InternalLookup,
  held: readonly ExternalLsa[],
  sevens: readonly { readonly area: number; readonly lsas: readonly ExternalLsa[] }[],
  context: ExternalContext,
): RouteLookup {
  const wanted = (l: ExternalLsa): boolean => keys.has(keyOf(l));
  const nssa = sevens.map(({ area, lsas }) => ({ area, lsas: lsas.filter(wanted) }));
  const external = externalRoutes(lookup, held.filter(wanted), nssa, context);
  return (key) => external.get(key) ?? lookup(key);
}

/** Local routes that win against each other and, where their preference is worse, against OSPF. */
export function selectedLocals(a: Announcing): LocalRoute[] {
  const { speaker: s, locals: all, handed } = a;
  const best = new Map<number, LocalRoute>();
  // A next hop that OSPF brings: by a route inside the system, which what is announced here does not move.
  const inside = all.some((r) => r.recursive) ? a.inside() : undefined;
  for (const r of all) {
    const over = handing(handed, s, r);
    if (over.is !== 'stands') continue;
    if (r.recursive && (!inside || r.nextHop === undefined || !internalMatch(inside, r.nextHop))) continue;
    const old = best.get(r.key);
    if (!old || r.preference < old.preference) best.set(r.key, over.tag === 0 ? r : { ...r, tag: over.tag });
  }
  const weak = [...best.values()].filter((r) => r.preference > bestPreference(s));
  if (weak.length === 0) return [...best.values()];
  const ospf = a.routesTo(new Set(weak.map((r) => r.key)));
  const loses = (r: LocalRoute): boolean => {
    const route = ospf(r.key);
    if (!route) return false;
    return r.preference > preferenceOf(s, route);
  };
  const lost = new Set(weak.filter(loses));
  return [...best.values()].filter((r) => !lost.has(r));
}

/**
 * What a boundary router says of its own (RFC 2328 §12.4.4, RFC 3101 §2.3): types 5, `undefined` where none of its areas
 * carries them, and types 7 by area.
 */
export function announced(a: Announcing): { readonly five: ExternalLsa[] | undefined; readonly sevens: ReadonlyMap<number, ExternalLsa[]> } {
  const { domain, speaker: s } = a;
  const items = foldExternal(importedRoutes(s, selectedLocals(a), prefixesInOspf(s)), s.instance.externalRanges, false);
  const border = domain.isBorderRouter(s);
  const outside = domain.areasOf(s).some((x) => domain.areaOf(s, x).type === 'normal');
  return {
    five: outside ? externalLsas(s, items) : undefined,
    sevens: new Map(nssaIds(domain, s).map((x) => [x, nssaLsas(s, x, items, border)])),
  };
}

/**
 * RFC 3101 §2.7: a type 7 default from a border router that is asked for one; never with the P bit. `undefined`: it is not
 * asked, or says one of its own.
 */
export function nssaDefault(domain: Domain, s: Speaker, areaId: number, own: readonly ExternalLsa[]): ExternalLsa[] | undefined {
  const area = domain.areaOf(s, areaId);
  if (!area.nssaDefault || own.some((l) => l.length === 0)) return undefined;
  return [
    {
      type: 7,
      adv: s.routerId,
      id: 0,
      speaker: s.index,
      ...everything(domain.six),
      metric: area.defaultCost,
      metricType: area.nssaDefaultType,
      forwarding: 0,
      tag: 0,
      propagate: false,
      reason: 'nssa-default',
    },
  ];
}

/**
 * Types 5 of a border router with what it translates for its NSSAs (RFC 3101 §3).
 *
 * @param own        what it says besides
 * @param reachedIn  other routers that it reaches inside an area
 * @returns  `active`: it translates
 */
export function translatedToo(
  domain: Domain,
  s: Speaker,
  own: readonly ExternalLsa[],
  reachedIn: (db: AreaDatabase) => Iterable<RouterLsa>,
  routesTo: (keys: ReadonlySet<number>) => RouteLookup,
): { readonly active: boolean; readonly said: ExternalLsa[] } {
  const made: ExternalLsa[] = [];
  let active = false;
  const ownKeys = new Set(own.map(keyOf));
  for (const area of nssaIds(domain, s)) {
    const db = domain.database(s, area);
    // An NSSA that is only configured, its interfaces all down, is none to translate for.
    if (!db || !s.ports.some((p) => p.up && p.area.id === area)) continue;
    if (!translates(s, reachedIn(db), domain.areaOf(s, area).translatorAlways)) continue;
    active = true;
    if (db.nssa.length === 0) continue;
    const route = routesTo(new Set(db.nssa.map(keyOf)));
    made.push(...translatedLsas(s, db.nssa, (l) => route(keyOf(l))?.sources.includes(l) ?? false, ownKeys));
  }
  const mine = own.filter((l) => !(l.reason === 'external-range' && made.some((m) => m.bits === l.bits && m.length === l.length)));
  return { active, said: [...mine, ...made.map((m): ExternalLsa => ({ ...m, reason: 'translated' }))] };
}
