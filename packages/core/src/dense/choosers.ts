import type { Speaker } from '../adjacency/speakers';
import { extend } from './class-vectors';
import type { DenseAreas } from './dense-areas';
import type { HopSlots } from './hop-slots';
import type { Packed } from './inside';
import { chooseNearest, type Answers, type RootRows } from './offers';
import type { Imports } from './told';

/** What one router chooses for each class: cost to add to an entry's offset, `noWay` without a way, and next hops. */
export class ClassChoice implements Answers {
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
        const code = slots.limited(hops[k]!, limit);
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
export class Chooser {
  constructor(
    readonly speaker: Speaker,
    readonly roots: readonly RootRows[],
    /** Its rows in the area whose summaries it reads. */
    readonly reads: RootRows,
    readonly imports: Imports,
    readonly choice: ClassChoice,
    /** Of a border router: what it reaches inside its areas, one by one. */
    readonly inside: Packed | undefined,
  ) {}
}

/** What choices are made from. */
interface ChoiceGround extends DenseAreas {
  /** What border routers tell an area now, by index of its database. */
  imports(index: number): Imports;
  /** What a router reaches inside its areas. */
  inside(s: Speaker): Packed;
}

const sameRoots = (a: readonly RootRows[], b: readonly RootRows[]): boolean => a === b || (a.length === b.length && a.every((r, i) => r === b[i]));

/** The choices of every router, made when asked for; an earlier state's where what they stand on is the same. */
export class Choosers {
  /** By process; `null` for one that reads several areas, or none, or through virtual links. */
  private readonly list: (Chooser | null | undefined)[];
  private readonly alike = new Map<Imports, Imports>();

  constructor(
    private readonly arrays: ChoiceGround,
    before?: Choosers,
  ) {
    this.list = before?.list.slice() ?? new Array<Chooser | null | undefined>(arrays.ground.domain.speakers.length).fill(undefined);
  }

  /** A router's choices as things stand; `undefined` for one that reads several areas, or none, or through virtual links. */
  of(s: Speaker): Chooser | undefined {
    const known = this.list[s.index];
    if (known === null) return undefined;
    const made = known?.speaker === s && sameRoots(known.roots, this.arrays.rootsOf(s)) ? this.again(known) : this.make(s);
    if (made !== known) this.list[s.index] = made ?? null;
    return made;
  }

  /** From earlier choices of a process whose areas are the same. */
  private again(old: Chooser): Chooser {
    const { speaker, reads } = old;
    const imports = this.arrays.imports(reads.index);
    if (imports === old.imports) return old;
    const choice = this.choose(speaker, reads, imports, this.extends(old.imports, imports) ? old.choice : undefined);
    return new Chooser(speaker, old.roots, reads, imports, choice, old.inside);
  }

  /** Chooses for every class among the border routers but the router itself (RFC 2328 §16.2 (2), (5) and (6)). @param known  what it chooses for the first of them */
  private choose(s: Speaker, reads: RootRows, { vectors }: Imports, known?: ClassChoice): ClassChoice {
    const done = known?.cost.length ?? 0;
    if (known && done === vectors.things) return known;
    const { pool } = this.arrays;
    const out = new ClassChoice(pool.take(vectors.things), pool.take(vectors.things));
    if (known) {
      out.cost.set(known.cost);
      out.hops.set(known.hops);
    }
    chooseNearest(vectors, done, vectors.things, reads, this.arrays.slotsOf(s), out, done);
    return out;
  }

  private make(s: Speaker): Chooser | undefined {
    const { arrays } = this;
    const { domain } = arrays.ground;
    const areas = domain.summaryAreas(s);
    const border = domain.isBorderRouter(s);
    const [only] = areas;
    if (only === undefined || areas.length > 1 || (border && domain.virtuals.length > 0 && domain.areasOf(s).some((a) => domain.isTransit(s, a))))
      return undefined;
    const roots = arrays.rootsOf(s);
    const index = domain.database(s, only)?.index;
    const reads = roots.find((r) => r.index === index);
    if (!reads) return undefined;
    const imports = arrays.imports(reads.index);
    return new Chooser(s, roots, reads, imports, this.choose(s, reads, imports), border ? arrays.inside(s) : undefined);
  }

  /** True when two imports have the same classes, but for more of them in the second: then choices are the same. Of each the last answer is kept. */
  private extends(old: Imports, now: Imports): boolean {
    if (this.alike.get(now) === old) return true;
    const same = extend(now.vectors, old.vectors);
    if (same) this.alike.set(now, old);
    return same;
  }
}
