import type { Speaker } from '../adjacency/speakers';
import { backbone } from '../design/design';
import { Exit, type BoundaryPaths, type Candidate, type ExitGround, type InternalFinder } from './exit';
import { lsInfinity, type ExternalLsa } from '../lsdb/lsa';
import { networkOf, type Ipv4 } from '../prefix/ipv4';
import { noWay } from './area-rows';
import type { HopSlots } from './hop-slots';
import type { TableBuffer } from './table-buffer';
import type { InternalArrays, InternalNetwork, RootRows } from './internal-rows';

/** What the readable rooms know of externals. */
export interface ExternalSource {
  scope(s: Speaker): number;
  held(s: Speaker): readonly ExternalLsa[];
  nssaAreas(s: Speaker): readonly { readonly area: number; readonly lsas: readonly ExternalLsa[] }[];
}

/** Kinds of external entries: places of `routeTypes` behind the internal ones. */
const kindOf = { 'type-1': { 5: 2, 7: 4 }, 'type-2': { 5: 3, 7: 5 } } as const;

function sameArray(a: Int32Array, b: Int32Array): boolean {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}

const sameRows = (a: readonly BoundaryRow[], b: readonly BoundaryRow[]): boolean =>
  a === b || (a.length === b.length && a.every((x, i) => x.vertex === b[i]?.vertex && x.adv === b[i].adv && sameArray(x.cost, b[i].cost)));

/** Types 4 of one border router in one area: costs by boundary router. */
export interface BoundaryRow {
  readonly vertex: number;
  readonly adv: Ipv4;
  readonly cost: Int32Array;
}
const noRows: readonly BoundaryRow[] = [];

/**
 * External routes as arrays (RFC 2328 §16.4, RFC 3101 §2.5): the same decisions as `externalRoutes`, for one router after
 * the other without anything made per route.
 */
export class ExternalArrays implements ExitGround {
  /** Ids of boundary routers, by their number. */
  readonly boundaries: Ipv4[];
  private readonly placeOf: Map<Ipv4, number>;
  private readonly sets: Map<number | string, readonly (readonly Candidate[])[]>;
  /** The same by speaker. */
  private readonly setOf: (readonly (readonly Candidate[])[] | undefined)[];
  private readonly rowsOf: (readonly BoundaryRow[] | undefined)[] = [];
  private readonly lengths: readonly number[];

  constructor(
    private readonly network: InternalNetwork,
    private readonly arrays: InternalArrays,
    private readonly source: ExternalSource,
    private before?: { readonly external: ExternalArrays; readonly areas: ReadonlySet<number> },
  ) {
    this.known = new Array<BoundaryPaths | undefined>(network.speakers.length).fill(undefined);
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
      this.nameAll(source.held(s));
    }
    for (const db of network.databases) this.nameAll(db.nssa);
    const lengths = new Set<number>();
    for (let i = 0; i < arrays.prefixes.size; i++) lengths.add(arrays.prefixes.lengthOf(i));
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

  /** Takes over all that is still to come from the state before, and lets that go. */
  standAlone(): void {
    this.prepare();
    this.before = undefined;
  }

  private readonly known: (BoundaryPaths | undefined)[];

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
  candidates(s: Speaker): readonly (readonly Candidate[])[] {
    return (this.setOf[s.index] ??= this.findCandidates(s));
  }

  private findCandidates(s: Speaker): readonly (readonly Candidate[])[] {
    const areas = this.network.areasOf(s);
    const scope = this.source.scope(s);
    // Most routers have one area, and no type 7 in it.
    const only = areas.length === 1 ? this.network.database(s, areas[0] ?? 0) : undefined;
    // Of a single area a number: the scope, and the area where it has a type 7 of its own.
    const key = only
      ? (scope + 1) * 0x1_0000 + (only.nssa.length > 0 ? only.index + 1 : 0)
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
      for (const l of this.source.held(s)) add(l, -1);
      set = [...groups.values()];
      this.sets.set(key, set);
    }
    return set;
  }

  private candidate(lsa: ExternalLsa, database: number): Candidate {
    const holders: number[] = [];
    if (lsa.forwarding !== 0)
      for (const length of this.lengths) {
        const id = this.arrays.prefixes.known(networkOf(lsa.forwarding, length), length);
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

  rootIn(s: Speaker, index: number): RootRows | undefined {
    const area = this.arrays.areas[index];
    return area && this.arrays.root(s, area.database);
  }

  /** Boundary routers as vertices of an area, -1 where they are none there. */
  verticesIn(index: number): Int32Array {
    const graph = this.arrays.areas[index]?.graph;
    return (this.vertices[index] ??= Int32Array.from(this.boundaries, (id) => {
      const v = graph?.vertexOfRouter.get(id) ?? -1;
      return graph?.routers[v]?.bits.e ? v : -1;
    }));
  }

  /** Types 4 of an area, by border router. */
  boundaryRows(index: number): readonly BoundaryRow[] {
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

  /** Ways to boundary routers: of those of each area the one inside (RFC 2328 §16.2 (6)), of all areas rank, cost and the larger id (§16.4 (3)). */
  private paths(s: Speaker, slots: HopSlots): BoundaryPaths {
    const n = this.boundaries.length;
    const { pool } = this.arrays;
    const cost = pool.take(n).fill(noWay);
    const rank = pool.take(n).fill(2);
    const hops = pool.take(n);
    const reads = this.network.summaryAreas(s);
    // Areas by ascending id: of equal paths the later one, with the larger id, is taken.
    const areas = this.network.areasOf(s);
    for (let i = 0; i < areas.length; i++) {
      const a = areas[i] ?? 0;
      const db = this.network.database(s, a);
      const root = db && this.arrays.root(s, db);
      if (!root) continue;
      const rows = reads.includes(a) ? this.boundaryRows(db.index) : noRows;
      const vertices = this.verticesIn(db.index);
      for (let k = 0; k < n; k++) {
        const v = vertices[k] ?? -1;
        let best = v >= 0 && v !== root.root ? (root.distance[v] ?? noWay) : noWay;
        let through = v < 0 ? 0 : (root.hops[v] ?? 0);
        const within = best < noWay;
        if (!within) {
          through = 0;
          for (let x = 0; x < rows.length; x++) {
            const row = rows[x];
            if (!row || row.adv === s.routerId) continue;
            const d = (root.distance[row.vertex] ?? noWay) + (row.cost[k] ?? noWay);
            if (d >= noWay || d > best) continue;
            const h = root.hops[row.vertex] ?? 0;
            through = d < best ? h : slots.join(through, h);
            best = d;
          }
          if (best >= noWay) continue;
        }
        const r = s.instance.rfc1583Compatible || (within && a !== backbone) ? 0 : 1;
        if (r < (rank[k] ?? 2) || (r === rank[k] && best <= (cost[k] ?? noWay))) {
          cost[k] = best;
          rank[k] = r;
          hops[k] = through;
        }
      }
    }
    return { cost, rank, hops };
  }

  /** Adds a router's external routes to its table; `internal` finds its routes inside the system. */
  fill(out: TableBuffer, internal: InternalFinder, s: Speaker): void {
    const groups = this.candidates(s);
    if (groups.length === 0) return;
    const slots = this.arrays.slotsOf(s);
    const exit = new Exit(this.arrays, this.network, s, slots, this.pathsOf(s), internal, this);
    for (const group of groups) {
      const id = group[0]?.id ?? 0;
      if (internal.find(id) || !exit.choose(group)) continue;
      out.add(id, exit.bestKind, exit.bestKind % 2 === 0 ? exit.bestTotal : exit.bestOutside, exit.bestTotal, exit.bestHops);
    }
  }
}
