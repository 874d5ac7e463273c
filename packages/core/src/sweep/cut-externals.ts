import type { Speaker } from '../adjacency/speakers';
import { noWay } from '../dense/area-rows';
import { BoundaryWays } from '../dense/boundary-ways';
import { Exit, type Candidate, type ExitGround } from '../dense/exit';
import type { RootRows } from '../dense/offers';
import type { TableRows } from '../dense/table-rows';
import type { AreaCut } from './area-cut';
import type { CutBoundaries } from './cut-boundaries';
import type { CutField, Seated } from './cut-field';
import { cutFinder, moveOf } from './cut-finder';
import { otherHops, type Tally } from './moves';

/** External prefixes with the same exits: where one of them leads, all do. */
interface ExternalClass {
  /** Exits of one of them. */
  readonly group: readonly Candidate[];
  readonly entries: number;
  /** A prefix that may be known inside the system too: it stands by itself. */
  readonly alsoInside: boolean;
}

/** The externals that a router holds, in classes, and which of them hang on what. */
interface ClassSet {
  readonly classes: readonly ExternalClass[];
  readonly byBoundary: ReadonlyMap<number, readonly number[]>;
  /** Those with a forwarding address, by the prefixes that hold it. */
  readonly byHolder: ReadonlyMap<number, readonly number[]>;
  /** Those of type 7, by the database that they are in. */
  readonly byArea: ReadonlyMap<number, readonly number[]>;
}

/** What one router chose of its classes before: cost, cost behind the exit, next hops and kind, -1 without a route. */
interface Chosen {
  readonly kind: Int8Array;
  readonly metric: Int32Array;
  readonly forward: Int32Array;
  readonly hops: Int32Array;
}

const unknown = -2;

/** Everything of an exit that decides, but for its prefix. */
const exitWords = (c: Candidate): string =>
  `${c.lsa.type} ${c.lsa.adv} ${c.kind} ${c.lsa.metric} ${c.lsa.forwarding} ${String(c.lsa.propagate)} ${String(c.lsa.length === 0)} ${c.database}`;

/** What moved, by area. */
type MovedIn = readonly (ReadonlySet<number> | undefined)[];

const tellsHere = 1;
const exitsHere = 2;
const holdsHere = 4;

/** Counts external routes that a cut changes, class by class, where something that they hang on moved. */
export class CutExternals implements ExitGround {
  private readonly sets = new Map<readonly (readonly Candidate[])[], ClassSet>();
  private readonly chosen: (Chosen | undefined)[] = [];
  private readonly rows: TableRows;
  private readonly marksOf: (Uint8Array | undefined)[] = [];
  private readonly ways: number[] = [];
  private readonly places = new Set<number>();
  /** External prefixes that may be known inside the system too. */
  readonly alsoInside = new Set<number>();
  /** Prefixes that hold forwarding addresses. */
  private readonly holders: Set<number>;

  /** @param insideToo  whether a prefix may be known inside the system */
  constructor(
    private readonly field: CutField,
    private readonly boundaries: CutBoundaries,
    private readonly insideToo: (id: number) => boolean,
  ) {
    this.rows = field.p.fast.rows;
    this.holders = field.asked;
    for (const s of field.seated) this.setOf(s.speaker);
    for (const set of this.sets.values()) {
      for (const h of set.byHolder.keys()) this.holders.add(h);
      for (const c of set.classes) if (c.alsoInside) this.alsoInside.add(c.group[0]?.id ?? -1);
    }
  }

  verticesIn(database: number): Int32Array {
    return this.rows.external.verticesIn(database);
  }

  rootIn(s: Speaker, database: number): RootRows | undefined {
    const one = this.field.seated[s.index];
    const vertex = one ? this.field.seatIn(one, database) : -1;
    return vertex < 0 ? undefined : this.field.ground(database).rowsNow(vertex);
  }

  undo(): void {
    this.boundaries.undo();
  }

  /** Marks of an area's vertices: who tells summaries, who is a boundary or border router, who brings what holds a forwarding address. */
  private marks(area: number): Uint8Array {
    let marks = this.marksOf[area];
    if (!marks) {
      const { size, networks, brings } = this.field.ground(area);
      marks = new Uint8Array(size);
      for (const r of this.field.imports(area).rows) marks[r.vertex] = tellsHere;
      for (const v of this.verticesIn(area)) if (v >= 0) marks[v] = marks[v]! | exitsHere;
      for (const b of this.field.telling(area).borders) marks[b.vertex] = marks[b.vertex]! | exitsHere;
      for (let v = 0; v < size; v++)
        for (let k = brings.first[v]!; k < brings.first[v + 1]!; k++)
          if (this.holders.has(networks.ids[brings.items[k]!] ?? -1)) marks[v] = marks[v]! | holdsHere;
      this.marksOf[area] = marks;
    }
    return marks;
  }

  /** Counts externals of every router whose way to an exit, or to a forwarding address, is another one now; false where that cannot be told. */
  count(area: number, cut: AreaCut, tally: Tally): boolean {
    const { boundaries, field } = this;
    if (boundaries.count === 0) return true;
    const bits = boundaries.bits(area);
    const near = new Map<Seated, readonly number[]>();
    for (const b of field.telling(area).borders) {
      const s = field.seated[b.speaker.index];
      const ks = boundaries.listed(cut.bitsOf(b.vertex, bits));
      if (s && ks.length > 0) near.set(s, ks);
    }
    const moved = boundaries.retell(area, near);
    if (boundaries.tooFar) return false;
    const held = this.heldMoved();
    for (const v of cut.touched) {
      const s = field.seated[field.ground(area).speakers[v]?.index ?? -1];
      if (s) this.look(s, area, cut, moved, held, tally);
    }
    for (let t = 0; t < field.moves.length; t++)
      if (moved[t] || held[t])
        for (const { speaker, vertex } of field.readers(t).list) {
          const s = field.seated[speaker];
          // Those of the cut area whose ways moved were looked at before.
          const own = t === area ? vertex : s ? field.seatIn(s, area) : -1;
          if (s && (own < 0 || !cut.moves(own))) this.look(s, area, cut, moved, held, tally);
        }
    return true;
  }

  /** Counts externals of one router. */
  private look(s: Seated, area: number, cut: AreaCut, moved: MovedIn, held: MovedIn, tally: Tally): void {
    const { ways, places, boundaries } = this;
    const reads = s.seats.find((x) => x.reads)?.area ?? -1;
    const v = this.field.seatIn(s, area);
    const marks = this.marks(area);
    const here = v >= 0 && cut.movesTo(v, marks, tellsHere | exitsHere);
    const beside = here || (this.holders.size > 0 && v >= 0 && cut.movesTo(v, marks, holdsHere));
    if (!here && !beside && !moved[reads] && !held[reads]) return;
    const set = this.setOf(s.speaker);
    if (set.classes.length === 0) return;
    places.clear();
    const before = this.rows.external.waysOf(s.speaker);
    const ks = here ? boundaries.listed(cut.bitsOf(v, boundaries.bits(area))) : [];
    const told = moved[reads];
    boundaries.movedFor(s, told ? new Set([...ks, ...told]) : ks, before, ways);
    for (const k of ways) for (const c of set.byBoundary.get(k) ?? []) places.add(c);
    if (set.byHolder.size > 0 && (beside || held[reads]))
      for (const [h, classes] of set.byHolder) if (beside || held[reads]?.has(h)) for (const c of classes) places.add(c);
    // Type 7 goes by the way inside its area, whichever is used otherwise.
    if (here) for (const c of set.byArea.get(area) ?? []) places.add(c);
    if (places.size === 0) return;
    this.countFor(s, set, places, this.waysNow(s, before), tally);
  }

  private waysNow(s: Seated, before: BoundaryWays): BoundaryWays {
    if (this.ways.length === 0) return before;
    const now = new BoundaryWays(before.cost.slice(), before.hops.slice(), before.via.slice());
    const { ways } = this.boundaries;
    for (const k of this.ways) {
      this.boundaries.find(s, k);
      now.cost[k] = ways.cost[k]!;
      now.via[k] = ways.via[k]!;
      now.hops[k] = ways.hops[k]!;
    }
    return now;
  }

  /** Prefixes of forwarding addresses that areas are told of otherwise, by area. */
  private heldMoved(): MovedIn {
    const { holders, field } = this;
    if (holders.size === 0) return [];
    return field.moves.map((moves, t) => {
      if (moves.count === 0) return undefined;
      const held = [...holders].filter((h) => moveOf(field, t, h) !== undefined);
      return held.length === 0 ? undefined : new Set(held);
    });
  }

  /** The classes of the externals that a router holds. */
  private setOf(s: Speaker): ClassSet {
    const groups = this.rows.external.candidates(s);
    let set = this.sets.get(groups);
    if (!set) {
      set = this.classesOf(groups);
      this.sets.set(groups, set);
    }
    return set;
  }

  private classesOf(groups: readonly (readonly Candidate[])[]): ClassSet {
    const places = new Map<string, number>();
    const classes: { group: readonly Candidate[]; entries: number; alsoInside: boolean }[] = [];
    for (const group of groups) {
      const id = group[0]?.id ?? 0;
      const alsoInside = this.insideToo(id);
      const key = `${group.map(exitWords).join('|')}${alsoInside ? ` ${id}` : ''}`;
      const at = places.get(key);
      const known = at === undefined ? undefined : classes[at];
      if (known) known.entries++;
      else {
        places.set(key, classes.length);
        classes.push({ group, entries: 1, alsoInside });
      }
    }
    const byBoundary = new Map<number, number[]>();
    const byHolder = new Map<number, number[]>();
    const byArea = new Map<number, number[]>();
    const put = (map: Map<number, number[]>, key: number, c: number): void => {
      const list = map.get(key);
      if (!list) map.set(key, [c]);
      else if (list.at(-1) !== c) list.push(c);
    };
    classes.forEach(({ group }, c) => {
      for (const x of group) {
        put(byBoundary, x.boundary, c);
        if (x.database >= 0) put(byArea, x.database, c);
        for (const h of x.holders) put(byHolder, h, c);
      }
    });
    return { classes, byBoundary, byHolder, byArea };
  }

  /** Counts what changed for one router of some classes. */
  private countFor(seated: Seated, set: ClassSet, places: ReadonlySet<number>, ways: BoundaryWays, tally: Tally): void {
    const { arrays } = this.field;
    const s = seated.speaker;
    let [lost, changed] = [0, 0];
    const slots = arrays.slotsOf(s);
    const known = this.before(s, set, places);
    const exit = new Exit(arrays, s, ways, cutFinder(this.field, seated), this);
    for (const c of places) {
      const one = set.classes[c];
      if (!one || (one.alsoInside && this.rows.finderOf(s)(one.group[0]?.id ?? 0))) continue;
      const had = known.kind[c] ?? -1;
      const has = exit.choose(one.group);
      if (!has) {
        if (had >= 0) lost += one.entries;
        continue;
      }
      const metric = exit.bestKind % 2 === 0 ? exit.bestTotal : exit.bestOutside;
      if (
        had !== exit.bestKind ||
        known.metric[c] !== metric ||
        known.forward[c] !== exit.bestTotal ||
        otherHops(slots, s.instance.paths, known.hops[c]!, exit.bestHops)
      )
        changed += one.entries;
    }
    tally.add(s.index, lost, changed);
  }

  /** What a router chose before of some classes. */
  private before(s: Speaker, set: ClassSet, places: ReadonlySet<number>): Chosen {
    const n = set.classes.length;
    const known = (this.chosen[s.index] ??= {
      kind: new Int8Array(n).fill(unknown),
      metric: new Int32Array(n),
      forward: new Int32Array(n),
      hops: new Int32Array(n),
    });
    let exit: Exit | undefined;
    for (const c of places) {
      if (known.kind[c] !== unknown) continue;
      const { external } = this.rows;
      exit ??= new Exit(this.field.arrays, s, external.waysOf(s), this.rows.finderOf(s), external);
      const group = set.classes[c]?.group;
      const found = group !== undefined && exit.choose(group);
      known.kind[c] = found ? exit.bestKind : -1;
      known.metric[c] = found ? (exit.bestKind % 2 === 0 ? exit.bestTotal : exit.bestOutside) : noWay;
      known.forward[c] = found ? exit.bestTotal : noWay;
      known.hops[c] = found ? exit.bestHops : 0;
    }
    return known;
  }
}
