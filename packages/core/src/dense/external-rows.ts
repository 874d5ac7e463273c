import type { Speaker } from '../adjacency/speakers';
import { backbone } from '../design/design';
import { lsInfinity, type ExternalLsa } from '../lsdb/lsa';
import { networkOf, prefixKey, type Ipv4 } from '../prefix/ipv4';
import { noWay } from './area-rows';
import type { HopCode, HopSlots } from './hop-slots';
import type { TableBuffer } from './table-buffer';
import { intraArea, type InternalArrays, type InternalNetwork } from './internal-rows';

/** What the readable rooms know of externals. */
export interface ExternalSource {
  scope(s: Speaker): number;
  heldTogether(s: Speaker): readonly ExternalLsa[];
  nssaAreas(s: Speaker): readonly { readonly area: number; readonly lsas: readonly ExternalLsa[] }[];
}

/** Kinds of external entries: places of `routeTypes` behind the internal ones. */
const kindOf = { 'type-1': { 5: 2, 7: 4 }, 'type-2': { 5: 3, 7: 5 } } as const;

/** An advertisement with all of its names turned into numbers. */
interface Candidate {
  readonly lsa: ExternalLsa;
  readonly id: number;
  readonly kind: number;
  /** Database of the NSSA that a type 7 is in; -1 for a type 5. */
  readonly database: number;
  readonly boundary: number;
  /** Prefixes that hold the forwarding address, longest first. */
  readonly holders: readonly number[];
}

/** Ways of one router to every boundary router: which is used of all, and the one inside of each of its areas. */
interface BoundaryPaths {
  readonly cost: Int32Array;
  readonly rank: Uint8Array;
  readonly hops: Int32Array;
}

function sameArray(a: Int32Array | Uint8Array, b: Int32Array | Uint8Array): boolean {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}

const sameRows = (a: readonly BoundaryRow[], b: readonly BoundaryRow[]): boolean =>
  a === b || (a.length === b.length && a.every((x, i) => x.vertex === b[i]?.vertex && x.adv === b[i].adv && sameArray(x.cost, b[i].cost)));

/** Answers for routes inside the system of the router in question; the last one found stands in the fields. */
export interface InternalFinder {
  find(id: number): boolean;
  readonly kind: number;
  readonly cost: number;
  readonly hops: HopCode;
  readonly database: number;
}

/** Types 4 of one border router in one area: costs by boundary router. */
interface BoundaryRow {
  readonly vertex: number;
  readonly adv: Ipv4;
  readonly cost: Int32Array;
}

/**
 * External routes as arrays (RFC 2328 §16.4, RFC 3101 §2.5): the same decisions as `externalRoutes`, for one router after
 * the other without anything made per route.
 */
export class ExternalArrays {
  private readonly boundaries: Ipv4[];
  private readonly placeOf: Map<Ipv4, number>;
  private readonly sets: Map<string, readonly (readonly Candidate[])[]>;
  /** The same by speaker. */
  private readonly setOf: (readonly (readonly Candidate[])[] | undefined)[];
  private readonly rowsOf: (readonly BoundaryRow[] | undefined)[] = [];
  private readonly lengths: readonly number[];

  constructor(
    private readonly network: InternalNetwork,
    private readonly arrays: InternalArrays,
    private readonly source: ExternalSource,
    private readonly before?: { readonly external: ExternalArrays; readonly areas: ReadonlySet<number> },
  ) {
    if (before) {
      // The same advertisements: what is numbered stays so.
      const { external } = before;
      this.boundaries = external.boundaries;
      this.placeOf = external.placeOf;
      this.sets = external.sets;
      this.setOf = external.setOf;
      this.decisive = external.decisive;
      this.lengths = external.lengths;
      return;
    }
    this.boundaries = [];
    this.placeOf = new Map();
    this.sets = new Map();
    this.setOf = [];
    this.decisive = new Map();
    const scopes = new Set<number>();
    for (const s of network.speakers) {
      if (scopes.has(source.scope(s))) continue;
      scopes.add(source.scope(s));
      this.nameAll(source.heldTogether(s));
    }
    for (const db of network.databases) this.nameAll(db.nssa);
    const lengths = new Set<number>();
    for (let i = 0; i < arrays.prefixes.size; i++) lengths.add(arrays.prefixes.prefix(i).length);
    this.lengths = [...lengths].sort((a, b) => b - a);
  }

  private readonly named = new Set<readonly ExternalLsa[]>();

  private nameAll(lsas: readonly ExternalLsa[]): void {
    if (this.named.has(lsas)) return;
    this.named.add(lsas);
    for (const l of lsas) {
      this.arrays.prefixes.id(l.bits, l.length);
      if (this.placeOf.has(l.adv)) continue;
      this.placeOf.set(l.adv, this.boundaries.length);
      this.boundaries.push(l.adv);
    }
  }

  private readonly decisive: Map<readonly (readonly Candidate[])[], readonly number[]>;

  /** Prefixes whose routes inside the system decide over a router's externals: their own, and those of forwarding addresses. */
  decisiveFor(s: Speaker): readonly number[] {
    const groups = this.candidates(s);
    let ids = this.decisive.get(groups);
    if (!ids) {
      ids = [...new Set(groups.flatMap((g) => g.flatMap((c) => [c.id, ...c.holders])))];
      this.decisive.set(groups, ids);
    }
    return ids;
  }

  /** Ways of every router to every boundary router. */
  prepare(): void {
    for (const s of this.network.speakers) if (this.candidates(s).length > 0) this.pathsOf(s);
  }

  private readonly known: (BoundaryPaths | undefined)[] = [];

  /** Ways of a router to every boundary router; the same object as in the state before where they are the same. */
  pathsOf(s: Speaker): BoundaryPaths {
    return (this.known[s.index] ??= this.findPaths(s));
  }

  private findPaths(s: Speaker): BoundaryPaths {
    const old = this.before?.external.pathsOf(s);
    const areas = this.network.areasOf(s);
    if (old && areas.every((a) => !this.before?.areas.has(a) && this.stays(this.network.database(s, a)?.index ?? -1))) return old;
    const now = this.paths(s, this.arrays.slotsOf(s));
    return old && sameArray(old.cost, now.cost) && sameArray(old.rank, now.rank) && sameArray(old.hops, now.hops) ? old : now;
  }

  private readonly unmoved: (boolean | undefined)[] = [];

  /** Whether the types 4 of an area are those of the state before. */
  private stays(index: number): boolean {
    return (this.unmoved[index] ??= sameRows(this.boundaryRows(index), this.before?.external.boundaryRows(index) ?? []));
  }

  /** What a router chooses from, grouped by prefix; one object for all routers that hold the same. */
  private candidates(s: Speaker): readonly (readonly Candidate[])[] {
    return (this.setOf[s.index] ??= this.findCandidates(s));
  }

  private findCandidates(s: Speaker): readonly (readonly Candidate[])[] {
    const areas = this.network.areasOf(s);
    const scope = this.source.scope(s);
    // Most routers have one area, and no type 7 in it.
    const only = areas.length === 1 ? this.network.database(s, areas[0] ?? 0) : undefined;
    const key = only
      ? `${scope} ${only.nssa.length > 0 ? only.index : ''}`
      : `${scope} ${areas.map((a) => this.network.database(s, a)?.index).join()}`;
    let set = this.sets.get(key);
    if (!set) {
      const nssa = this.source.nssaAreas(s).map((a) => ({ ...a, database: this.network.database(s, a.area)?.index ?? -1 }));
      const groups = new Map<number, Candidate[]>();
      const add = (lsa: ExternalLsa, database: number): void => {
        const c = this.candidate(lsa, database);
        const group = groups.get(c.id);
        if (group) group.push(c);
        else groups.set(c.id, [c]);
      };
      for (const { lsas, database } of nssa) for (const l of lsas) add(l, database);
      for (const l of this.source.heldTogether(s)) add(l, -1);
      set = [...groups.values()];
      this.sets.set(key, set);
    }
    return set;
  }

  private candidate(lsa: ExternalLsa, database: number): Candidate {
    const holders: number[] = [];
    if (lsa.forwarding !== 0)
      for (const length of this.lengths) {
        const id = this.arrays.prefixes.known(prefixKey(networkOf(lsa.forwarding, length), length));
        if (id !== undefined) holders.push(id);
      }
    return {
      lsa,
      id: this.arrays.prefixes.id(lsa.bits, lsa.length),
      kind: kindOf[lsa.metricType][lsa.type],
      database,
      boundary: this.placeOf.get(lsa.adv) ?? -1,
      holders,
    };
  }

  private readonly vertices: (Int32Array | undefined)[] = [];

  /** Boundary routers as vertices of an area, -1 where they are none there. */
  private verticesIn(index: number): Int32Array {
    const graph = this.arrays.areas[index]?.graph;
    return (this.vertices[index] ??= Int32Array.from(this.boundaries, (id) => {
      const v = graph?.vertexOfRouter.get(id) ?? -1;
      return graph?.routers[v]?.bits.e ? v : -1;
    }));
  }

  /** Types 4 of an area, by border router. */
  private boundaryRows(index: number): readonly BoundaryRow[] {
    let rows = this.rowsOf[index];
    if (!rows) {
      const area = this.arrays.areas[index];
      rows = [...(area?.database.boundariesSaid.values() ?? [])].flatMap((lsas): BoundaryRow[] => {
        const adv = lsas[0]?.adv;
        const vertex = adv === undefined ? undefined : area?.graph.vertexOfRouter.get(adv);
        if (adv === undefined || vertex === undefined || !area?.graph.routers[vertex]?.bits.b) return [];
        const cost = new Int32Array(this.boundaries.length).fill(noWay);
        for (const l of lsas) {
          const k = this.placeOf.get(l.bits);
          if (k !== undefined && l.metric < lsInfinity) cost[k] = l.metric;
        }
        return [{ vertex, adv, cost }];
      });
      this.rowsOf[index] = rows;
    }
    return rows;
  }

  /** Ways to boundary routers: inside beats across areas (RFC 2328 §16.2 (6)), then rank, cost and the larger area (§16.4 (3)). */
  private paths(s: Speaker, slots: HopSlots): BoundaryPaths {
    const n = this.boundaries.length;
    const cost = new Int32Array(n).fill(noWay);
    const rank = new Uint8Array(n).fill(2);
    const hops = new Int32Array(n);
    const inside = new Uint8Array(n);
    const reads = this.network.summaryAreas(s);
    // Areas by ascending id: of equal paths the later one, with the larger id, is taken.
    for (const a of this.network.areasOf(s)) {
      const db = this.network.database(s, a);
      const root = db && this.arrays.root(s, db);
      if (!root) continue;
      const rows = reads.includes(a) ? this.boundaryRows(db.index) : [];
      const vertices = this.verticesIn(db.index);
      for (let k = 0; k < n; k++) {
        const v = vertices[k] ?? -1;
        let best = v >= 0 && v !== root.root ? (root.distance[v] ?? noWay) : noWay;
        let through = v < 0 ? 0 : (root.hops[v] ?? 0);
        const within = best < noWay;
        if (!within) {
          if (inside[k] === 1) continue;
          through = 0;
          for (const row of rows) {
            if (row.adv === s.routerId) continue;
            const d = (root.distance[row.vertex] ?? noWay) + (row.cost[k] ?? noWay);
            if (d >= noWay || d > best) continue;
            const h = root.hops[row.vertex] ?? 0;
            through = d < best ? h : slots.join(through, h);
            best = d;
          }
          if (best >= noWay) continue;
        }
        const r = s.instance.rfc1583Compatible || (within && a !== backbone) ? 0 : 1;
        const newly = within && inside[k] === 0;
        if (newly || r < (rank[k] ?? 2) || (r === rank[k] && best <= (cost[k] ?? noWay))) {
          cost[k] = best;
          rank[k] = r;
          hops[k] = through;
        }
        if (within) inside[k] = 1;
      }
    }
    return { cost, rank, hops };
  }

  /** Adds a router's external routes to its table; `internal` finds its routes inside the system. */
  fill(out: TableBuffer, internal: InternalFinder, s: Speaker): void {
    const groups = this.candidates(s);
    if (groups.length === 0) return;
    const slots = this.arrays.slotsOf(s);
    const exit = new Exit(this.arrays, this.network, s, slots, this.pathsOf(s), internal, (db) => this.verticesIn(db));
    for (const group of groups) {
      const id = group[0]?.id ?? 0;
      if (internal.find(id) || !exit.choose(group)) continue;
      out.add(id, exit.bestKind, exit.bestKind % 2 === 0 ? exit.bestTotal : exit.bestOutside, exit.bestTotal, exit.bestHops);
    }
  }
}

/** The choice of one router among the exits of one prefix. */
class Exit {
  bestKind = 0;
  bestOutside = 0;
  bestTotal = 0;
  bestHops: HopCode = 0;
  private bestRank = 0;
  private cost = 0;
  private rank = 0;
  private hops: HopCode = 0;
  private readonly border: boolean;

  constructor(
    private readonly arrays: InternalArrays,
    private readonly network: InternalNetwork,
    private readonly s: Speaker,
    private readonly slots: HopSlots,
    private readonly paths: BoundaryPaths,
    private readonly internal: InternalFinder,
    private readonly verticesIn: (database: number) => Int32Array,
  ) {
    this.border = network.isBorderRouter(s);
  }

  /** Looks at every exit; false when none can be used. Of equal ones all are used, but of two that say the same only one. */
  choose(group: readonly Candidate[]): boolean {
    const [only] = group;
    if (only && group.length === 1) {
      if (!this.reach(only)) return false;
      this.take(only);
      this.bestHops = this.hops;
      return true;
    }
    let found = false;
    let used: { c: Candidate; hops: HopCode }[] = [];
    for (const c of group) {
      if (!this.reach(c)) continue;
      const d = found ? this.compare(c) : -1;
      if (d > 0) continue;
      if (d < 0) {
        found = true;
        this.take(c);
        used = [{ c, hops: this.hops }];
        continue;
      }
      const twin = used.findIndex((u) => saysTheSame(u.c.lsa, c.lsa));
      const other = used[twin];
      if (!other) used.push({ c, hops: this.hops });
      else if (tieRank(c.lsa) < tieRank(other.c.lsa) || (tieRank(c.lsa) === tieRank(other.c.lsa) && c.lsa.adv > other.c.lsa.adv))
        used[twin] = { c, hops: this.hops };
    }
    this.bestHops = 0;
    used.forEach(({ c, hops }, i) => {
      if (i === 0) this.bestKind = c.kind;
      this.bestHops = this.slots.join(this.bestHops, hops);
    });
    return found;
  }

  private take(c: Candidate): void {
    this.bestKind = c.kind;
    this.bestOutside = c.kind % 2 === 0 ? 0 : c.lsa.metric;
    this.bestRank = this.rank;
    this.bestTotal = c.kind % 2 === 0 ? this.cost + c.lsa.metric : this.cost;
  }

  /** Negative: better than the best so far (RFC 2328 §16.4 (6) (b) to (d), RFC 3101 §2.5 (6)). */
  private compare(c: Candidate): number {
    const outside = c.kind % 2 === 0 ? 0 : c.lsa.metric;
    const total = c.kind % 2 === 0 ? this.cost + c.lsa.metric : this.cost;
    return (c.kind % 2) - (this.bestKind % 2) || outside - this.bestOutside || this.rank - this.bestRank || total - this.bestTotal;
  }

  /** Distance, rank and hops to where an advertisement sends its traffic (RFC 2328 §16.4 (3), RFC 3101 §2.5 (3)). */
  private reach(c: Candidate): boolean {
    const { lsa } = c;
    if (lsa.metric >= lsInfinity || lsa.adv === this.s.routerId || c.boundary < 0) return false;
    const inNssa = c.database >= 0;
    if (inNssa && lsa.length === 0 && this.border) {
      const area = this.arrays.areas[c.database]?.database.areaId ?? backbone;
      if (!lsa.propagate || !this.network.areaOf(this.s, area).summary) return false;
    }
    if (inNssa ? !this.reachInside(c) : (this.paths.cost[c.boundary] ?? noWay) >= noWay) return false;
    if (!inNssa) {
      this.cost = this.paths.cost[c.boundary] ?? noWay;
      this.rank = this.paths.rank[c.boundary] ?? 0;
      this.hops = this.paths.hops[c.boundary] ?? 0;
    }
    return lsa.forwarding === 0 || this.forwardedTo(c);
  }

  /** The way to a boundary router inside an NSSA. */
  private reachInside(c: Candidate): boolean {
    const area = this.arrays.areas[c.database];
    const root = area && this.arrays.root(this.s, area.database);
    const v = this.verticesIn(c.database)[c.boundary] ?? -1;
    if (!root || v < 0 || v === root.root) return false;
    this.cost = root.distance[v] ?? noWay;
    this.rank = this.rankOf(true, area.database.areaId);
    this.hops = root.hops[v] ?? 0;
    return this.cost < noWay;
  }

  private rankOf(inside: boolean, area: number): number {
    return this.s.instance.rfc1583Compatible || (inside && area !== backbone) ? 0 : 1;
  }

  private forwardedTo(c: Candidate): boolean {
    const { internal } = this;
    if (!c.holders.some((h) => internal.find(h))) return false;
    const inside = internal.kind === intraArea;
    if (c.database >= 0 && (!inside || internal.database !== c.database)) return false;
    this.cost = internal.cost;
    this.rank = this.rankOf(inside, this.arrays.areas[internal.database]?.database.areaId ?? backbone);
    this.hops = this.slots.attached(internal.hops) ? this.slots.addressed(internal.hops, c.lsa.forwarding) : internal.hops;
    return true;
  }
}

/** RFC 3101 §2.5 (6) (e): a type 5 and a type 7 with the same forwarding address. */
const saysTheSame = (a: ExternalLsa, b: ExternalLsa): boolean => a.forwarding !== 0 && a.forwarding === b.forwarding && a.type !== b.type;

const tieRank = (l: ExternalLsa): number => (l.type === 7 ? (l.propagate ? 0 : 2) : 1);
