import type { Imports } from './told';

/**
 * Classes of two states side by side: pair `c` holds the `entries[c]` prefixes that are of class `before[c]` in the first
 * state and of `after[c]` in the second (-1: not told of) and whose offsets went up by `delta[c]`.
 */
export class ClassPairs {
  count = 0;
  readonly before: number[] = [];
  readonly after: number[] = [];
  readonly delta: number[] = [];
  readonly entries: number[] = [];
  private readonly places = new Map<number, Map<number, number>>();

  private constructor(
    private readonly x: Imports,
    private readonly y: Imports,
  ) {}

  /**
   * The pairs of two states of what an area is told.
   *
   * @param known  pairs found so far, by the imports of the second state
   */
  static between(x: Imports, y: Imports, known = new Map<Imports, ClassPairs>()): ClassPairs {
    const made = known.get(y);
    if (made?.x === x) return made;
    const out = new ClassPairs(x, y);
    if (x === y) out.fromClasses();
    else if (x.told && y.told) out.fromSources(ClassPairs.between(x.told.source, y.told.source, known));
    else out.fromEntries();
    known.set(y, out);
    return out;
  }

  /** Number of a pair; a new one when it was not there. */
  private place(before: number, after: number, delta: number): number {
    const key = (before + 1) * 0x1_0000 + after + 1;
    let byDelta = this.places.get(key);
    if (!byDelta) this.places.set(key, (byDelta = new Map<number, number>()));
    let c = byDelta.get(delta);
    if (c === undefined) {
      c = this.count++;
      byDelta.set(delta, c);
      this.before.push(before);
      this.after.push(after);
      this.delta.push(delta);
      this.entries.push(0);
    }
    return c;
  }

  private movingOf: number[] | undefined;

  /** Pairs that choose another class, or cost something else, where choices are the same. */
  get moving(): readonly number[] {
    this.movingOf ??= this.before.flatMap((k, c) => (k === this.after[c] && this.delta[c] === 0 ? [] : [c]));
    return this.movingOf;
  }

  private add(c: number, n: number): void {
    this.entries[c] = this.entries[c]! + n;
  }

  /** The pair of a prefix, -1 when neither state tells of it. */
  of(id: number): number {
    const [had, has] = [this.x.find(id), this.y.find(id)];
    if (!had && !has) return -1;
    return this.place(had?.class ?? -1, has?.class ?? -1, had && has ? has.offset - had.offset : 0);
  }

  /** Every class as it was. */
  private fromClasses(): void {
    const { x } = this;
    for (let k = 0; k < x.classCount; k++) this.add(this.place(k, k, 0), x.counts[k]!);
  }

  /** Prefix by prefix. */
  private fromEntries(): void {
    for (const id of this.x.entries.ids) this.add(this.of(id), 1);
    for (const id of this.y.entries.ids) if (this.x.classAt(id) < 0) this.add(this.of(id), 1);
  }

  /** From the pairs of what is told on; what stands by itself in either state is looked at by itself. */
  private fromSources(sources: ClassPairs): void {
    const [a, b] = [this.x.told, this.y.told];
    if (!a || !b) return;
    const apart = new Set([...this.x.setApart(), ...this.y.setApart()]);
    const left = sources.entries.slice();
    for (const id of apart) {
      const c = sources.of(id);
      if (c >= 0) left[c] = left[c]! - 1;
      const own = this.of(id);
      if (own >= 0) this.add(own, 1);
    }
    for (let c = 0; c < left.length; c++) {
      const [q, r] = [sources.before[c] ?? -1, sources.after[c] ?? -1];
      const [k, l] = [q < 0 ? -1 : (a.classOf[q] ?? -1), r < 0 ? -1 : (b.classOf[r] ?? -1)];
      if ((k < 0 && l < 0) || left[c] === 0) continue;
      const delta = k < 0 || l < 0 ? 0 : sources.delta[c]! + b.offset[r]! - a.offset[q]!;
      this.add(this.place(k, l, delta), left[c]!);
    }
  }

  /** The same without some prefixes. */
  without(ids: ReadonlySet<number>): ClassPairs {
    const out = new ClassPairs(this.x, this.y);
    for (let c = 0; c < this.count; c++) out.add(out.place(this.before[c] ?? -1, this.after[c] ?? -1, this.delta[c]!), this.entries[c]!);
    for (const id of ids) {
      const c = out.of(id);
      if (c >= 0) out.add(c, -1);
    }
    return out;
  }
}
