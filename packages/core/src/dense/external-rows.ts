import type { Speaker } from '../adjacency/speakers';
import type { ExternalLsa } from '../lsdb/lsa';
import type { Externals } from '../routes/external-settling';
import type { Boundaries } from './boundaries';
import type { BoundaryWays } from './boundary-ways';
import { Exit, type Candidate, type ExitGround } from './exit';
import type { InternalFinder } from './inside-finder';
import type { InternalArrays } from './internal-arrays';
import type { RootRows } from './offers';
import type { TableBuffer } from './table-buffer';

/** Kinds of external entries: places of `routeTypes` behind the internal ones. */
const kindOf = { 'type-1': { 5: 2, 7: 4 }, 'type-2': { 5: 3, 7: 5 } } as const;

/**
 * External routes as arrays (RFC 2328 §16.4, RFC 3101 §2.5): the same decisions as `externalRoutes`, for one router after
 * the other without anything made per route.
 */
export class ExternalArrays implements ExitGround {
  private readonly sets: Map<number | string, readonly (readonly Candidate[])[]>;
  /** The same by speaker. */
  private readonly setOf: (readonly (readonly Candidate[])[] | undefined)[];
  private readonly lengths: readonly number[];
  /** How many prefixes were named when this was made. */
  private readonly named: number;

  /** @param before  those of a state with the same advertisements: what is numbered stays so */
  constructor(
    readonly arrays: InternalArrays,
    private readonly boundaries: Boundaries,
    private readonly source: Externals,
    before?: ExternalArrays,
  ) {
    this.lengths = before?.named === arrays.prefixes.size ? before.lengths : this.nameAll();
    this.named = arrays.prefixes.size;
    // A prefix that is named since may hold a forwarding address.
    const same = before?.named === this.named ? before : undefined;
    this.sets = same?.sets ?? new Map<number | string, readonly (readonly Candidate[])[]>();
    this.setOf = same?.setOf ?? [];
    this.decisive = same?.decisive ?? new Map<readonly (readonly Candidate[])[], readonly number[]>();
  }

  /** Names every prefix that is announced; gives the lengths of all prefixes that are named, the longest first. */
  private nameAll(): readonly number[] {
    const { domain, prefixes } = this.arrays;
    const lists = new Set([...domain.speakers.map((s) => this.source.held(s)), ...domain.databases.map((db) => db.nssa)]);
    for (const lsas of lists) for (const l of lsas) prefixes.id(l.bits, l.length);
    const lengths = new Set<number>();
    const family = domain.six ? 6 : 4;
    for (let i = 0; i < prefixes.size; i++) if (prefixes.family(i) === family) lengths.add(prefixes.lengthOf(i));
    return [...lengths].sort((a, b) => b - a);
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
    for (const s of this.arrays.domain.speakers) if (this.candidates(s).length > 0) this.boundaries.waysOf(s);
  }

  waysOf(s: Speaker): BoundaryWays {
    return this.boundaries.waysOf(s);
  }

  /** What a router chooses from, grouped by prefix; one object for all routers that hold the same. */
  candidates(s: Speaker): readonly (readonly Candidate[])[] {
    return (this.setOf[s.index] ??= this.findCandidates(s));
  }

  private findCandidates(s: Speaker): readonly (readonly Candidate[])[] {
    const areas = this.arrays.domain.areasOf(s);
    const scope = this.source.scope(s);
    // Most routers have one area, and no type 7 in it.
    const only = areas.length === 1 ? this.arrays.domain.database(s, areas[0]!) : undefined;
    // Of a single area a number: the scope, and the area where it has a type 7 of its own.
    const key = only
      ? (scope + 1) * 0x1_0000 + (only.nssa.length > 0 ? only.index + 1 : 0)
      : `${scope} ${areas.map((a) => this.arrays.domain.database(s, a)?.index).join()}`;
    let set = this.sets.get(key);
    if (!set) {
      const nssa = this.source.nssaAreas(s).map((a) => ({ ...a, database: this.arrays.domain.database(s, a.area)?.index ?? -1 }));
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
        const id = this.arrays.prefixes.holder(lsa.forwarding, length);
        if (id !== undefined) holders.push(id);
      }
    return {
      lsa,
      id: this.arrays.prefixes.id(lsa.bits, lsa.length),
      kind: kindOf[lsa.metricType][lsa.type],
      database,
      boundary: this.boundaries.placeOf.get(lsa.adv) ?? -1,
      holders,
    };
  }

  rootIn(s: Speaker, index: number): RootRows | undefined {
    return this.arrays.root(s, this.arrays.domain.databases[index]!);
  }

  verticesIn(index: number): Int32Array {
    return this.boundaries.ground(index).vertices;
  }

  /** Adds a router's external routes to its table; `find` finds its routes inside the system. */
  fill(out: TableBuffer, find: InternalFinder, s: Speaker): void {
    const groups = this.candidates(s);
    if (groups.length === 0) return;
    const exit = new Exit(this.arrays, s, this.waysOf(s), find, this);
    for (const group of groups) {
      const { id } = group[0]!;
      if (find(id) || !exit.choose(group)) continue;
      out.add(id, exit.bestKind, exit.bestKind % 2 === 0 ? exit.bestTotal : exit.bestOutside, exit.bestTotal, exit.bestHops);
    }
  }
}
