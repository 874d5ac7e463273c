import type { Speaker } from '../adjacency/speakers';
import { backbone } from '../design/design';
import type { AreaDatabase } from '../lsdb/area-database';
import type { Domain } from '../lsdb/domain';
import { imports } from '../lsdb/external-lsa';
import type { ExternalLsa } from '../lsdb/lsa';
import type { RouterLsa } from '../lsdb/router-links';
import { type Ipv4 } from '../prefix/ipv4';
import { Groups } from '../segments/groups';
import { type ExternalContext, type InternalLookup } from './external';
import {
  announced,
  bestPreference,
  keyOf,
  nssaDefault,
  nssaIds,
  routesAmong,
  translatedToo,
  type Announcing,
  type RouteLookup,
} from './external-saying';
import { learns, type LocalRoute } from './local-routes';
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
    return nssaIds(this.domain, s);
  }

  /** Type 7 advertisements of a router's NSSAs. */
  nssaAreas(s: Speaker): { area: number; lsas: readonly ExternalLsa[] }[] {
    return this.nssaIds(s).flatMap((area) => {
      const db = this.domain.database(s, area);
      return db ? [{ area, lsas: db.nssa }] : [];
    });
  }

  /** A router's OSPF routes to some prefixes only. */
  private routesTo(ground: ExternalGround, s: Speaker, keys: ReadonlySet<number>): RouteLookup {
    const { lookup, context } = ground.inside(s);
    return routesAmong(keys, lookup, this.held(s), this.nssaAreas(s), context);
  }

  /** How a router stands when it decides what it announces. */
  private announcing(ground: ExternalGround, s: Speaker): Announcing {
    return {
      domain: this.domain,
      speaker: s,
      locals: ground.localRoutes(s),
      inside: () => ground.inside(s).lookup,
      routesTo: (keys) => this.routesTo(ground, s, keys),
      handed: {
        speakers: this.domain.speakers,
        localRoutes: (x) => ground.localRoutes(x),
        ospfRoute: (x, key) => this.routesTo(ground, x, new Set([key]))(key),
      },
    };
  }

  private announce(ground: ExternalGround, s: Speaker): void {
    const { five, sevens } = announced(this.announcing(ground, s));
    const kept = (this.said.get(s.index) ?? []).filter((l) => l.reason === 'translated');
    this.put(s, five ? [...five, ...kept] : []);
    for (const [a, own] of sevens) this.say(s, a, { own });
  }

  private announceDefaults(s: Speaker): void {
    for (const a of this.nssaIds(s)) {
      const lsas = nssaDefault(this.domain, s, a, this.nssa.get(a)?.get(s.index)?.own ?? []);
      if (lsas) this.say(s, a, { default: lsas });
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
    const own = (this.said.get(s.index) ?? []).filter((l) => l.reason !== 'translated');
    const { active, said } = translatedToo(
      domain,
      s,
      own,
      (db) => ground.reachedIn(s, db),
      (keys) => this.routesTo(ground, s, keys),
    );
    const was = domain.translating.has(s.index);
    if (active) domain.translating.add(s.index);
    else domain.translating.delete(s.index);
    this.put(s, said);
    return was !== active;
  }
}

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
