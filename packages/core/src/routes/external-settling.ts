import { everything } from '../prefix/address';
import { prefixId } from '../prefix/prefix-book';
import type { Speaker } from '../adjacency/speakers';
import { backbone } from '../design/design';
import type { AreaDatabase } from '../lsdb/area-database';
import type { Domain } from '../lsdb/domain';
import { externalLsas, foldExternal, imports, importedRoutes, nssaLsas } from '../lsdb/external-lsa';
import type { ExternalLsa } from '../lsdb/lsa';
import { translatedLsas, translates } from '../lsdb/nssa-translation';
import type { RouterLsa } from '../lsdb/router-links';
import { type Ipv4 } from '../prefix/ipv4';
import { Groups } from '../segments/groups';
import { externalRoutes, internalMatch, type ExternalContext, type InternalLookup } from './external';
import { handing, preferenceOf, type HandingGround } from './handing-over';
import { learns, prefixesInOspf, type LocalRoute } from './local-routes';
import type { Route } from './route';
import { mostRounds } from './rounds';

/** What externals look back at, as things stand. */
export interface ExternalGround {
  readonly domain: Domain;
  localRoutes(s: Speaker): readonly LocalRoute[];
  /** A router's routes inside the system, and its ways to boundary routers. */
  inside(s: Speaker): { readonly lookup: InternalLookup; readonly context: ExternalContext };
  /** Other routers that one reaches inside an area, as they describe themselves there. */
  reachedIn(s: Speaker, database: AreaDatabase): Iterable<RouterLsa>;
  /** The boundary bits of routers moved, and with them what others say about them. */
  boundariesMoved(moved: readonly Speaker[]): void;
}

/** What one router says in one NSSA. */
interface NssaSaid {
  readonly own: readonly ExternalLsa[];
  readonly default: readonly ExternalLsa[];
}

const word = (l: ExternalLsa): string =>
  `${l.type} ${l.adv} ${l.bits}/${l.length} ${l.metric} ${l.metricType} ${l.forwarding} ${l.tag} ${String(l.propagate)}`;
const keyOf = (l: ExternalLsa): number => prefixId(l.bits, l.length);
const sameWords = (x: readonly ExternalLsa[], y: readonly ExternalLsa[]): boolean =>
  x.length === y.length && x.map(word).join() === y.map(word).join();

/**
 * Types 5 and 7 of all routers (RFC 2328 §12.4.4, RFC 3101), settled by repetition: imports that lose to OSPF, and
 * translators, look back.
 */
export class Externals {
  private readonly said = new Map<number, readonly ExternalLsa[]>();
  /** By area, then speaker. */
  private readonly nssa = new Map<number, Map<number, NssaSaid>>();
  private readonly scopeOf: readonly number[];
  private readonly heldIn = new Map<number, readonly ExternalLsa[]>();
  private looks: boolean | undefined;

  constructor(private readonly domain: Domain) {
    this.scopeOf = scopesOf(domain);
  }

  /** Forwarding addresses that are named anywhere. */
  get forwarding(): ReadonlySet<Ipv4> {
    const all = [...this.said.values(), ...this.domain.databases.map((db) => db.nssa)];
    return new Set(all.flat().flatMap((l) => (l.forwarding === 0 ? [] : [l.forwarding])));
  }

  /** Where a router's types 5 come from, as a number; -1 where none come. */
  scope(s: Speaker): number {
    return this.scopeOf[s.index] ?? -1;
  }

  /** Types 5 that a router holds: one list for all routers of a flooding scope, until somebody says something else. */
  held(s: Speaker): readonly ExternalLsa[] {
    const scope = this.scope(s);
    let held = this.heldIn.get(scope);
    if (!held) {
      held = scope < 0 ? [] : [...this.said].flatMap(([o, lsas]) => (this.scopeOf[o] === scope ? lsas : []));
      this.heldIn.set(scope, held);
    }
    return held;
  }

  private put(s: Speaker, lsas: readonly ExternalLsa[]): void {
    this.said.set(s.index, lsas);
    this.heldIn.clear();
  }

  /**
   * Whether what is announced depends on more than who imports what: a local route that OSPF may beat, or whose next hop OSPF
   * brings, or a type 7 that competes with another advertisement for its prefix.
   */
  looksBack(localRoutes: (s: Speaker) => readonly LocalRoute[]): boolean {
    return (this.looks ??= this.findLooksBack(localRoutes));
  }

  private findLooksBack(localRoutes: (s: Speaker) => readonly LocalRoute[]): boolean {
    const { speakers, databases } = this.domain;
    if (speakers.some((s) => learns(s) || (imports(s) && localRoutes(s).some((r) => r.recursive || r.preference > bestPreference(s))))) return true;
    for (const db of databases) {
      const translatable = new Set(db.nssa.flatMap((l) => (l.propagate ? [keyOf(l)] : [])));
      if (db.nssa.filter((l) => translatable.has(keyOf(l))).length > translatable.size) return true;
      const rival = (l: ExternalLsa): boolean => translatable.has(keyOf(l)) && !(l.reason === 'translated' && db.speakers.includes(l.speaker));
      if (translatable.size > 0 && [...this.said.values()].some((lsas) => lsas.some(rival))) return true;
    }
    return false;
  }

  /** Boundary routers announce, translators translate, until nothing moves; one router after the other, so that a tie breaks. False: it does not settle. */
  settle(ground: ExternalGround): boolean {
    const { domain } = this;
    const importing = domain.speakers.filter((s) => imports(s));
    const nssaBorders = domain.speakers.filter((s) => domain.isBorderRouter(s) && this.nssaIds(s).length > 0);
    if (importing.length === 0 && nssaBorders.length === 0) return true;
    for (let round = 0; round < mostRounds; round++) {
      const before = this.words();
      for (const s of importing) this.announce(ground, s);
      const moved = nssaBorders.filter((s) => {
        this.announceDefaults(s);
        return this.translate(ground, s);
      });
      if (moved.length > 0) ground.boundariesMoved(moved);
      else if (this.words() === before) return true;
    }
    return false;
  }

  private words(): string {
    const sevens = [...this.nssa.values()].flatMap((area) => [...area.values()].flatMap((x) => [x.own, x.default]));
    return [...this.said.values(), ...sevens].flat().map(word).sort().join();
  }

  private nssaIds(s: Speaker): number[] {
    return this.domain.areasOf(s).filter((a) => this.domain.areaOf(s, a).type === 'nssa');
  }

  /** Type 7 advertisements of a router's NSSAs. */
  nssaAreas(s: Speaker): { area: number; lsas: readonly ExternalLsa[] }[] {
    return this.nssaIds(s).flatMap((area) => {
      const db = this.domain.database(s, area);
      return db ? [{ area, lsas: db.nssa }] : [];
    });
  }

  /** A router's OSPF routes to some prefixes only. */
  private routesTo(ground: ExternalGround, s: Speaker, keys: ReadonlySet<number>): (key: number) => Route | undefined {
    const { lookup, context } = ground.inside(s);
    const wanted = (l: ExternalLsa): boolean => keys.has(keyOf(l));
    const nssa = this.nssaAreas(s).map(({ area, lsas }) => ({ area, lsas: lsas.filter(wanted) }));
    const external = externalRoutes(lookup, this.held(s).filter(wanted), nssa, context);
    return (key) => external.get(key) ?? lookup(key);
  }

  /** Local routes that win against each other and, where their preference is worse, against OSPF. */
  private selectedLocals(ground: ExternalGround, s: Speaker): LocalRoute[] {
    const best = new Map<number, LocalRoute>();
    const all = ground.localRoutes(s);
    // A next hop that OSPF brings: by a route inside the system, which what is announced here does not move.
    const inside = all.some((r) => r.recursive) ? ground.inside(s).lookup : undefined;
    const handed: HandingGround = {
      speakers: this.domain.speakers,
      localRoutes: (x) => ground.localRoutes(x),
      ospfRoute: (x, key) => this.routesTo(ground, x, new Set([key]))(key),
    };
    for (const r of all) {
      const over = handing(handed, s, r);
      if (over.is !== 'stands') continue;
      if (r.recursive && (!inside || r.nextHop === undefined || !internalMatch(inside, r.nextHop))) continue;
      const old = best.get(r.key);
      if (!old || r.preference < old.preference) best.set(r.key, over.tag === 0 ? r : { ...r, tag: over.tag });
    }
    const weak = [...best.values()].filter((r) => r.preference > bestPreference(s));
    if (weak.length === 0) return [...best.values()];
    const ospf = this.routesTo(ground, s, new Set(weak.map((r) => r.key)));
    const loses = (r: LocalRoute): boolean => {
      const route = ospf(r.key);
      if (!route) return false;
      return r.preference > preferenceOf(s, route);
    };
    const lost = new Set(weak.filter(loses));
    return [...best.values()].filter((r) => !lost.has(r));
  }

  private announce(ground: ExternalGround, s: Speaker): void {
    const { domain } = this;
    const items = foldExternal(importedRoutes(s, this.selectedLocals(ground, s), prefixesInOspf(s)), s.instance.externalRanges, false);
    const border = domain.isBorderRouter(s);
    const outside = domain.areasOf(s).some((a) => domain.areaOf(s, a).type === 'normal');
    const kept = (this.said.get(s.index) ?? []).filter((l) => l.reason === 'translated');
    this.put(s, outside ? [...externalLsas(s, items), ...kept] : []);
    for (const a of this.nssaIds(s)) this.say(s, a, { own: nssaLsas(s, a, items, border) });
  }

  /** RFC 3101 §2.7: a type 7 default from a border router that is asked for one; never with the P bit. */
  private announceDefaults(s: Speaker): void {
    for (const a of this.nssaIds(s)) {
      const area = this.domain.areaOf(s, a);
      const own = this.nssa.get(a)?.get(s.index)?.own;
      if (!area.nssaDefault || own?.some((l) => l.length === 0)) continue;
      const lsa: ExternalLsa = {
        type: 7,
        adv: s.routerId,
        id: 0,
        speaker: s.index,
        ...everything(this.domain.six),
        metric: area.defaultCost,
        metricType: area.nssaDefaultType,
        forwarding: 0,
        tag: 0,
        propagate: false,
        reason: 'nssa-default',
      };
      this.say(s, a, { default: [lsa] });
    }
  }

  /** Puts what a router says in an NSSA where all there can read it. */
  private say(s: Speaker, areaId: number, what: Partial<NssaSaid>): void {
    let area = this.nssa.get(areaId);
    if (!area) this.nssa.set(areaId, (area = new Map<number, NssaSaid>()));
    const old = area.get(s.index);
    const said = { own: [], default: [], ...old, ...what };
    area.set(s.index, said);
    if (areaId === backbone || (old && sameWords(old.own, said.own) && sameWords(old.default, said.default))) return;
    const db = this.domain.database(s, areaId);
    if (!db) return;
    db.nssa = db.speakers.flatMap((n) => {
      const x = area.get(n);
      return x ? [...x.own, ...x.default] : [];
    });
  }

  /** Translates for a router's NSSAs; true when it begins or ceases to. */
  private translate(ground: ExternalGround, s: Speaker): boolean {
    const { domain } = this;
    const made: ExternalLsa[] = [];
    let active = false;
    const own = new Set((this.said.get(s.index) ?? []).filter((l) => l.reason !== 'translated').map(keyOf));
    for (const { area, lsas } of this.nssaAreas(s)) {
      const db = domain.database(s, area);
      // An NSSA that is only configured, its interfaces all down, is none to translate for.
      if (!db || !s.ports.some((p) => p.up && p.area.id === area)) continue;
      if (!translates(s, ground.reachedIn(s, db), domain.areaOf(s, area).translatorAlways)) continue;
      active = true;
      if (lsas.length === 0) continue;
      const route = this.routesTo(ground, s, new Set(lsas.map(keyOf)));
      made.push(...translatedLsas(s, lsas, (l) => route(keyOf(l))?.sources.includes(l) ?? false, own));
    }
    const was = domain.translating.has(s.index);
    if (active) domain.translating.add(s.index);
    else domain.translating.delete(s.index);
    const mine = (this.said.get(s.index) ?? []).filter(
      (l) => l.reason !== 'translated' && !(l.reason === 'external-range' && made.some((m) => m.bits === l.bits && m.length === l.length)),
    );
    this.put(s, [...mine, ...made.map((m): ExternalLsa => ({ ...m, reason: 'translated' }))]);
    return was !== active;
  }
}

/** The preference of the process that wins most: local routes with a worse one may lose to OSPF. */
const bestPreference = (s: Speaker): number => Math.min(s.instance.preference.external, s.instance.preference.inter, s.instance.preference.intra);

/** Where type 5 floods: speakers joined through areas that carry it. -1: none of its areas does. */
function scopesOf(domain: Domain): readonly number[] {
  const groups = new Groups(domain.databases.length);
  const first = domain.speakers.map((s) => {
    let own: AreaDatabase | undefined;
    for (const a of domain.areasOf(s)) {
      const db = domain.areaOf(s, a).type === 'normal' ? domain.database(s, a) : undefined;
      if (!db) continue;
      own ??= db;
      groups.join(db.index, own.index);
    }
    return own;
  });
  return first.map((db) => (db ? groups.find(db.index) : -1));
}
