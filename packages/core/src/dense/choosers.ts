import type { Speaker } from '../adjacency/speakers';
import type { Ipv4 } from '../prefix/ipv4';
import { noWay } from './area-rows';
import { extend, type ClassVectors } from './class-vectors';
import type { HopSlots } from './hop-slots';
import type { IntPool } from './int-pool';
import { sameWriters, type Imports } from './imports';
import type { InternalArrays, RootRows } from './internal-rows';
import { rootsOf, type Packed } from './row-filling';

/** What one router chooses for each class: cost to add to an entry's offset, `noWay` without a way, and next hops. */
export class ClassChoice {
  private within: Int32Array | undefined;

  constructor(
    readonly cost: Int32Array,
    readonly hops: Int32Array,
  ) {}

  /** Next hops of each class within a limit of ways, which is the same at every call. */
  limited(slots: HopSlots, limit: number): Int32Array {
    if (!this.within) {
      const { hops } = this;
      let out = hops;
      for (let k = 0; k < hops.length; k++) {
        const code = slots.limited(hops[k] ?? 0, limit);
        if (code === hops[k]) continue;
        if (out === hops) out = hops.slice();
        out[k] = code;
      }
      this.within = out;
    }
    return this.within;
  }
}

/**
 * A router that reads the summaries of one area: a router inside an area, or a border router of a joined backbone. What it
 * reaches inside its areas is one look at its distances; all else it chooses by classes, and that is all there is to keep.
 */
export interface Chooser {
  readonly speaker: Speaker;
  readonly roots: readonly RootRows[];
  /** Its rows in the area whose summaries it reads. */
  readonly reads: RootRows;
  readonly imports: Imports;
  readonly choice: ClassChoice;
  /** Of a border router: what it reaches inside its areas, one by one. */
  readonly inside: Packed | undefined;
}

let base = new Int32Array(64);
let ways = new Int32Array(64);

/**
 * Chooses for every class among the border routers but the router itself (RFC 2328 §16.2 (2), (5) and (6)).
 *
 * @param pool   where the arrays of the choice come from
 * @param known  what it chooses for the first of the classes
 */
export function chooseClasses(imports: Imports, root: RootRows, self: Ipv4, slots: HopSlots, pool: IntPool, known?: ClassChoice): ClassChoice {
  const { rows, vectors } = imports;
  if (rows.length > base.length) {
    base = new Int32Array(rows.length * 2);
    ways = new Int32Array(rows.length * 2);
  }
  for (let j = 0; j < rows.length; j++) {
    const row = rows[j];
    const v = row && row.adv !== self ? row.vertex : -1;
    base[j] = v < 0 ? noWay : (root.distance[v] ?? noWay);
    ways[j] = v < 0 ? 0 : (root.hops[v] ?? 0);
  }
  const out = new ClassChoice(pool.take(vectors.count), pool.take(vectors.count));
  if (known) {
    out.cost.set(known.cost);
    out.hops.set(known.hops);
  }
  chooseEach(vectors, known?.cost.length ?? 0, base, ways, slots, out.cost, out.hops);
  return out;
}

/**
 * Chooses for every class from one on: of the border routers that tell it the nearest, of equal ones all. Small, and of
 * steady types: it runs for every router.
 *
 * @param base, ways  distance and next hops to each border router
 * @param costs, hops  are filled, by class
 */
export function chooseEach(
  vectors: ClassVectors,
  from: number,
  base: Int32Array,
  ways: Int32Array,
  slots: HopSlots,
  costs: Int32Array,
  hops: Int32Array,
): void {
  const { first, row, cost } = vectors;
  const { wide } = slots;
  for (let k = from; k < vectors.count; k++) {
    let best = noWay;
    let through = 0;
    const end = first[k + 1] ?? 0;
    for (let e = first[k] ?? 0; e < end; e++) {
      const j = row[e] ?? 0;
      const d = (base[j] ?? noWay) + (cost[e] ?? 0);
      if (d > best || d >= noWay) continue;
      const h = ways[j] ?? 0;
      through = d < best ? h : wide ? slots.join(through, h) : through | h;
      best = d;
    }
    costs[k] = best;
    hops[k] = through;
  }
}

/** The choices of every router, made when asked for; from those of the state before where what they stand on is the same. */
export class Choosers {
  private readonly list: (Chooser | null | undefined)[];
  private readonly alike = new Map<Imports, Imports>();

  /**
   * @param before  those of the state before
   * @param touched  areas that are other ones now, by id
   */
  constructor(
    private readonly arrays: InternalArrays,
    private before?: { readonly choosers: Choosers; readonly touched: ReadonlySet<number> },
  ) {
    this.list = new Array<Chooser | null | undefined>(arrays.network.speakers.length).fill(undefined);
  }

  /** Lets go of the state before: every choice that is taken over from there was asked for. */
  standAlone(): void {
    this.before = undefined;
  }

  /** A router's choices as things stand; `undefined` for one that reads several areas, or none, or through virtual links. */
  of(s: Speaker): Chooser | undefined {
    const known = this.list[s.index];
    if (known === null) return undefined;
    if (known && known.imports === this.arrays.imports(known.reads.index)) return known;
    const made = this.again(s, known ?? this.before?.choosers.list[s.index] ?? undefined) ?? this.make(s);
    this.list[s.index] = made ?? null;
    return made;
  }

  /** From earlier choices of the same process whose areas are the same; `undefined` without them. */
  private again(s: Speaker, old: Chooser | undefined): Chooser | undefined {
    if (old?.speaker !== s || !this.untouched(old)) return undefined;
    const imports = this.arrays.imports(old.reads.index);
    if (imports === old.imports) return old;
    const known = this.chooseAlike(old.imports, imports) ? old.choice : undefined;
    const choice =
      known?.cost.length === imports.classCount
        ? known
        : chooseClasses(imports, old.reads, s.routerId, this.arrays.slotsOf(s), this.arrays.pool, known);
    return { speaker: s, roots: old.roots, reads: old.reads, imports, choice, inside: old.inside };
  }

  /** Whether the rows that a choice stands on are those of this state too. */
  private untouched(old: Chooser): boolean {
    const touched = this.touched();
    for (const r of old.roots) if (touched[r.index] !== 0 && this.arrays.known(old.speaker, r.index) !== r) return false;
    return true;
  }

  private touchedAreas: Uint8Array | undefined;

  /** By database: 0 where it is the one of the state before. */
  private touched(): Uint8Array {
    const { before } = this;
    return (this.touchedAreas ??= Uint8Array.from(this.arrays.areas, (a) => (!before || before.touched.has(a.database.areaId) ? 1 : 0)));
  }

  private make(s: Speaker): Chooser | undefined {
    const { arrays } = this;
    const { network } = arrays;
    const areas = network.summaryAreas(s);
    const border = network.isBorderRouter(s);
    const [only] = areas;
    if (only === undefined || areas.length > 1 || (border && network.virtuals.length > 0)) return undefined;
    const roots = rootsOf(arrays, s);
    const index = network.database(s, only)?.index;
    const reads = roots.find((r) => r.index === index);
    if (!reads) return undefined;
    const imports = arrays.imports(reads.index);
    const choice = chooseClasses(imports, reads, s.routerId, arrays.slotsOf(s), arrays.pool);
    return { speaker: s, roots, reads, imports, choice, inside: border ? this.inside(s) : undefined };
  }

  private readonly insides: (Packed | undefined)[] = [];

  /** What a router reaches inside its areas, one by one. */
  inside(s: Speaker): Packed {
    let known = this.insides[s.index];
    if (!known) {
      const old = this.before?.choosers.list[s.index];
      known = old?.inside && old.speaker === s && this.untouched(old) ? old.inside : this.arrays.filling.inside(s);
      this.insides[s.index] = known;
    }
    return known;
  }

  /** True when classes and border routers are the same in two states, but for more classes: then choices are. Of each state the last answer is kept. */
  private chooseAlike(old: Imports, now: Imports): boolean {
    if (old === now || this.alike.get(now) === old) return true;
    const same = sameWriters(old.rows, now.rows) && extend(now.vectors, old.vectors);
    if (same) this.alike.set(now, old);
    return same;
  }
}
