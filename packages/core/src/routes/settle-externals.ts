import type { Speaker } from '../adjacency/speakers';
import { backbone, type Area } from '../design/design';
import type { InternalArrays } from '../dense/internal-rows';
import type { AreaDatabase } from '../lsdb/area-database';
import { externalLsas, foldExternal, imports, importedRoutes, nssaLsas } from '../lsdb/external-lsa';
import type { ExternalLsa } from '../lsdb/lsa';
import { translatedLsas, translates } from '../lsdb/nssa-translation';
import { prefixKey, type Ipv4 } from '../prefix/ipv4';
import { Groups } from '../segments/groups';
import type { HopList } from '../spf/shortest-path-tree';
import { externalRoutes, type ExternalContext, type InternalLookup } from './external';
import { prefixesInOspf, type LocalRoute } from './local-routes';
import type { Route, RouterPath } from './route';
import { lookupIn } from './internal-lookup';

/** What externals need to know of the network around them. */
export interface ExternalNetwork {
  readonly speakers: readonly Speaker[];
  readonly databases: readonly AreaDatabase[];
  readonly arrays: InternalArrays;
  areasOf(s: Speaker): readonly number[];
  areaOf(s: Speaker, areaId: number): Area;
  isBorderRouter(s: Speaker): boolean;
  database(s: Speaker, areaId: number): AreaDatabase | undefined;
  hopList(s: Speaker): HopList;
  boundary(s: Speaker): Map<Ipv4, RouterPath[]>;
  localRoutes(s: Speaker): readonly LocalRoute[];
  /** The boundary bits of routers moved, and with them what others say about them. */
  boundariesMoved(moved: readonly Speaker[]): void;
}

/** What one router says in one NSSA. */
interface NssaSaid {
  own: readonly ExternalLsa[];
  default: readonly ExternalLsa[];
}

const bound = 24;

const word = (l: ExternalLsa): string =>
  `${l.type} ${l.adv} ${l.bits}/${l.length} ${l.metric} ${l.metricType} ${l.forwarding} ${l.tag} ${String(l.propagate)}`;

/** Types 5 and 7 of all routers, settled by repetition: imports that lose to OSPF, and translators, look back. */
export class ExternalSettling {
  private readonly said = new Map<number, readonly ExternalLsa[]>();
  /** By area, then speaker. */
  private readonly nssa = new Map<number, Map<number, NssaSaid>>();
  private readonly translating = new Set<number>();
  private readonly heldIn = new Map<number, readonly ExternalLsa[]>();
  private scopeOf: readonly number[] = [];

  constructor(private readonly network: ExternalNetwork) {}

  /** Takes over what was settled in the state before: for a change that cannot move it. */
  follow(before: ExternalSettling): void {
    for (const [s, lsas] of before.said) this.said.set(s, lsas);
    for (const [a, said] of before.nssa) this.nssa.set(a, said);
    for (const s of before.translating) this.translating.add(s);
    this.scopeOf = before.scopeOf;
  }

  private looks: boolean | undefined;

  /**
   * Whether what is announced depends on more than who imports what: a local route that OSPF may beat, or a type 7 that
   * competes with another advertisement for its prefix.
   */
  get looksBack(): boolean {
    return (this.looks ??= this.findLooksBack());
  }

  private findLooksBack(): boolean {
    const { network } = this;
    for (const s of network.speakers) {
      if (!imports(s)) continue;
      const p = s.instance.preference;
      if (network.localRoutes(s).some((r) => r.preference > Math.min(p.external, p.inter, p.intra))) return true;
    }
    for (const db of network.databases) {
      const keyOf = (l: ExternalLsa): number => prefixKey(l.bits, l.length);
      const translatable = new Set(db.nssa.flatMap((l) => (l.propagate ? [keyOf(l)] : [])));
      if (db.nssa.filter((l) => translatable.has(keyOf(l))).length > translatable.size) return true;
      const rival = (l: ExternalLsa): boolean => translatable.has(keyOf(l)) && !(l.reason === 'translated' && db.speakers.includes(l.speaker));
      if (translatable.size > 0 && [...this.said.values()].some((lsas) => lsas.some(rival))) return true;
    }
    return false;
  }

  /** Forwarding addresses that are named anywhere. */
  get forwarding(): ReadonlySet<Ipv4> {
    const all = [...this.said.values(), ...this.network.databases.map((db) => db.nssa)];
    return new Set(all.flat().flatMap((l) => (l.forwarding === 0 ? [] : [l.forwarding])));
  }

  isTranslating(s: Speaker): boolean {
    return this.translating.has(s.index);
  }

  /** Boundary routers announce, translators translate, until nothing moves; one router after the other, so that a tie breaks. False: it does not settle. */
  settle(): boolean {
    const { network } = this;
    this.scopeOf = this.scopes();
    const importing = network.speakers.filter((s) => imports(s));
    const nssaBorders = network.speakers.filter((s) => network.isBorderRouter(s) && this.nssaIds(s).length > 0);
    if (importing.length === 0 && nssaBorders.length === 0) return true;
    for (let round = 0; round < bound; round++) {
      const before = this.words();
      for (const s of importing) this.announce(s);
      const moved = nssaBorders.filter((s) => {
        this.announceDefaults(s);
        return this.translate(s);
      });
      if (moved.length > 0) network.boundariesMoved(moved);
      else if (this.words() === before) return true;
    }
    return false;
  }

  private words(): string {
    const sevens = [...this.nssa.values()].flatMap((area) => [...area.values()].flatMap((x) => [x.own, x.default]));
    return [...this.said.values(), ...sevens].flat().map(word).sort().join();
  }

  private nssaIds(s: Speaker): number[] {
    return this.network.areasOf(s).filter((a) => this.network.areaOf(s, a).type === 'nssa');
  }

  /** Where type 5 floods: speakers joined through areas that carry it. -1: none of its areas does. */
  private scopes(): number[] {
    const { network } = this;
    const groups = new Groups(network.databases.length);
    const first = network.speakers.map((s) => {
      let own: AreaDatabase | undefined;
      for (const a of network.areasOf(s)) {
        const db = network.areaOf(s, a).type === 'normal' ? network.database(s, a) : undefined;
        if (!db) continue;
        own ??= db;
        groups.join(db.index, own.index);
      }
      return own;
    });
    return first.map((db) => (db ? groups.find(db.index) : -1));
  }

  /** Type 5 advertisements that a router holds. */
  held(s: Speaker): ExternalLsa[] {
    const scope = this.scopeOf[s.index] ?? -1;
    if (scope < 0) return [];
    return [...this.said].flatMap(([o, lsas]) => (this.scopeOf[o] === scope ? lsas : []));
  }

  /** The same once everything has settled: one list for all routers of a flooding scope. */
  heldTogether(s: Speaker): readonly ExternalLsa[] {
    const scope = this.scopeOf[s.index] ?? -1;
    let held = this.heldIn.get(scope);
    if (!held) {
      held = this.held(s);
      this.heldIn.set(scope, held);
    }
    return held;
  }

  /** Where a router's types 5 come from, as a number; -1 where none come. */
  scope(s: Speaker): number {
    return this.scopeOf[s.index] ?? -1;
  }

  /** Type 7 advertisements of a router's NSSAs. */
  nssaAreas(s: Speaker): { area: number; lsas: readonly ExternalLsa[] }[] {
    return this.nssaIds(s).flatMap((area) => {
      const db = this.network.database(s, area);
      return db ? [{ area, lsas: db.nssa }] : [];
    });
  }

  /** What the external calculation needs to know of a router. */
  contextOf(s: Speaker): ExternalContext {
    const { network } = this;
    return {
      self: s.routerId,
      rfc1583Compatible: s.instance.rfc1583Compatible,
      isBorderRouter: network.isBorderRouter(s),
      hopList: network.hopList(s),
      boundary: network.boundary(s),
      takesSummaries: (a) => network.areaOf(s, a).summary,
    };
  }

  private internal(s: Speaker): InternalLookup {
    return lookupIn(this.network.arrays, s, this.network.hopList(s));
  }

  /** A router's OSPF routes to some prefixes only. */
  private routesTo(s: Speaker, keys: ReadonlySet<number>): (key: number) => Route | undefined {
    const internal = this.internal(s);
    const wanted = (l: ExternalLsa): boolean => keys.has(prefixKey(l.bits, l.length));
    const nssa = this.nssaAreas(s).map(({ area, lsas }) => ({ area, lsas: lsas.filter(wanted) }));
    const external = externalRoutes(internal, this.held(s).filter(wanted), nssa, this.contextOf(s));
    return (key) => external.get(key) ?? internal(key);
  }

  /** Local routes that win against each other and, where their preference is worse, against OSPF. */
  private selectedLocals(s: Speaker): LocalRoute[] {
    const best = new Map<number, LocalRoute>();
    for (const r of this.network.localRoutes(s)) {
      const old = best.get(r.key);
      if (!old || r.preference < old.preference) best.set(r.key, r);
    }
    const p = s.instance.preference;
    const weak = [...best.values()].filter((r) => r.preference > Math.min(p.external, p.inter, p.intra));
    if (weak.length === 0) return [...best.values()];
    const ospf = this.routesTo(s, new Set(weak.map((r) => r.key)));
    const loses = (r: LocalRoute): boolean => {
      const route = ospf(r.key);
      if (!route) return false;
      return r.preference > (route.type === 'intra-area' ? p.intra : route.type === 'inter-area' ? p.inter : p.external);
    };
    const lost = new Set(weak.filter(loses));
    return [...best.values()].filter((r) => !lost.has(r));
  }

  private announce(s: Speaker): void {
    const { network } = this;
    const items = foldExternal(importedRoutes(s, this.selectedLocals(s), prefixesInOspf(s)), s.instance.externalRanges, false);
    const border = network.isBorderRouter(s);
    const outside = network.areasOf(s).some((a) => network.areaOf(s, a).type === 'normal');
    const kept = (this.said.get(s.index) ?? []).filter((l) => l.reason === 'translated');
    this.said.set(s.index, outside ? [...externalLsas(s, items), ...kept] : []);
    for (const a of this.nssaIds(s)) this.say(s, a, { own: nssaLsas(s, a, items, border) });
  }

  /** RFC 3101 §2.7: a type 7 default from a border router that is asked for one; never with the P bit. */
  private announceDefaults(s: Speaker): void {
    for (const a of this.nssaIds(s)) {
      const area = this.network.areaOf(s, a);
      if (
        !area.nssaDefault ||
        this.nssa
          .get(a)
          ?.get(s.index)
          ?.own.some((l) => l.length === 0)
      )
        continue;
      const lsa: ExternalLsa = {
        type: 7,
        adv: s.routerId,
        id: 0,
        speaker: s.index,
        bits: 0,
        length: 0,
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
    if (!area) {
      area = new Map();
      this.nssa.set(areaId, area);
    }
    const old = area.get(s.index);
    const said = { own: [], default: [], ...old, ...what };
    area.set(s.index, said);
    const same = (x: readonly ExternalLsa[], y: readonly ExternalLsa[]): boolean =>
      x.length === y.length && x.every((l, i) => word(l) === word(y[i] ?? l));
    if (areaId === backbone || (old && same(old.own, said.own) && same(old.default, said.default))) return;
    const db = this.network.database(s, areaId);
    if (!db) return;
    db.nssa = db.speakers.flatMap((n) => {
      const x = area.get(n);
      return x ? [...x.own, ...x.default] : [];
    });
  }

  /** Translates for a router's NSSAs; true when it begins or ceases to. */
  private translate(s: Speaker): boolean {
    const { network } = this;
    let active = false;
    const made: ExternalLsa[] = [];
    const own = new Set((this.said.get(s.index) ?? []).filter((l) => l.reason !== 'translated').map((l) => prefixKey(l.bits, l.length)));
    for (const { area, lsas } of this.nssaAreas(s)) {
      // An NSSA that is only configured, its interfaces all down, is none to translate for.
      if (!s.ports.some((p) => p.up && p.area.id === area)) continue;
      const db = network.database(s, area);
      const root = db && network.arrays.root(s, db);
      const graph = db && network.arrays.areas[db.index]?.graph;
      if (!root || !graph || !translates(s, { graph, ...root }, network.areaOf(s, area).translatorAlways)) continue;
      active = true;
      if (lsas.length > 0) made.push(...translatedLsas(s, lsas, this.routesTo(s, new Set(lsas.map((l) => prefixKey(l.bits, l.length)))), own));
    }
    const was = this.translating.has(s.index);
    if (active) this.translating.add(s.index);
    else this.translating.delete(s.index);
    const mine = (this.said.get(s.index) ?? []).filter(
      (l) => l.reason !== 'translated' && !(l.reason === 'external-range' && made.some((m) => m.bits === l.bits && m.length === l.length)),
    );
    this.said.set(s.index, [...mine, ...made.map((m): ExternalLsa => ({ ...m, reason: 'translated' }))]);
    return was !== active;
  }
}
