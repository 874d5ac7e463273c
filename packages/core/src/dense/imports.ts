import { lsInfinity } from '../lsdb/lsa';
import { noWay, type AreaNetworks } from './area-rows';
import { ClassBuilder, type ClassVectors } from './class-vectors';
import type { IntPool } from './int-pool';
import type { AreaArrays } from './internal-rows';
import { sameLists, writtenOut, type Onward, type RowEntries, type SummaryRow } from './summary-row';

/** Prefixes that an area is told of: entry `i` is prefix `ids[i]` and costs, at each border router, its `offset[i]` more than its class. */
export interface Entries {
  readonly ids: Int32Array;
  readonly classOf: Int32Array;
  readonly offset: Int32Array;
}

/** Entries that are those of other imports: class `q` there is class `classOf[q]` here (-1: nobody tells it on), at `offset[q]` more. */
interface ToldOn {
  readonly source: Imports;
  readonly classOf: Int32Array;
  readonly offset: Int32Array;
  /** Prefixes that stand by themselves here, or that somebody does not tell on: lists that may name one more than once. */
  readonly hidden: readonly Int32Array[];
}

/**
 * What border routers tell one area, as a whole. Prefixes whose costs at the border routers differ by the same amounts
 * choose alike in every router of the area: a campus of thousands of prefixes has a few classes. What all border routers
 * tell on from the backbone is not written out prefix by prefix, but class by class.
 */
export class Imports {
  private all: Entries | undefined;
  private places: Int32Array | undefined;
  private dearest: number | undefined;

  /** Class and offset of the prefix that `find` found last. */
  foundClass = 0;
  foundOffset = 0;

  constructor(
    /** The rows of border routers that can be used, by the places that vectors name. */
    readonly rows: readonly SummaryRow[],
    readonly vectors: ClassVectors,
    /** Entries of each class. */
    readonly counts: Int32Array,
    /** What is not told on as a class. */
    readonly own: Entries,
    readonly told: ToldOn | undefined,
    /** Entries that the area has inside as well: there the route inside wins where it exists. */
    readonly insideToo: readonly number[],
    readonly prefixCount: number,
    /** Imports of an earlier state: its classes have the same numbers here. */
    readonly seed?: Imports,
  ) {}

  get classCount(): number {
    return this.vectors.count;
  }

  /** Every entry one by one. */
  get entries(): Entries {
    return (this.all ??= this.told ? this.writeOut(this.told) : this.own);
  }

  private writeOut(told: ToldOn): Entries {
    const { source, hidden } = told;
    const from = source.entries;
    const size = this.own.ids.length + from.ids.length;
    const [ids, classOf, offset] = [new Int32Array(size), new Int32Array(size), new Int32Array(size)];
    ids.set(this.own.ids);
    classOf.set(this.own.classOf);
    offset.set(this.own.offset);
    const skip = new Uint8Array(this.prefixCount);
    for (const list of hidden) for (let i = 0; i < list.length; i++) skip[list[i] ?? 0] = 1;
    let n = this.own.ids.length;
    for (let i = 0; i < from.ids.length; i++) {
      const id = from.ids[i] ?? 0;
      const q = from.classOf[i] ?? 0;
      const k = told.classOf[q] ?? -1;
      if (k < 0 || skip[id] === 1) continue;
      ids[n] = id;
      classOf[n] = k;
      offset[n++] = (from.offset[i] ?? 0) + (told.offset[q] ?? 0);
    }
    return { ids: ids.subarray(0, n), classOf: classOf.subarray(0, n), offset: offset.subarray(0, n) };
  }

  /** The dearest offset of any entry. */
  get dearestOffset(): number {
    if (this.dearest === undefined) {
      let most = 0;
      for (const o of this.entries.offset) if (o > most) most = o;
      this.dearest = most;
    }
    return this.dearest;
  }

  /** Looks a prefix up; its class and offset stand in the fields then. */
  find(id: number): boolean {
    const { told, own } = this;
    const at = (this.places ??= this.findPlaces())[id] ?? notTold;
    if (at >= 0) {
      this.foundClass = own.classOf[at] ?? 0;
      this.foundOffset = own.offset[at] ?? 0;
      return true;
    }
    if (at === notTold || !told?.source.find(id)) return false;
    const q = told.source.foundClass;
    const k = told.classOf[q] ?? -1;
    if (k < 0) return false;
    this.foundClass = k;
    this.foundOffset = told.source.foundOffset + (told.offset[q] ?? 0);
    return true;
  }

  private readonly known = new WeakMap<Int32Array, Entries>();

  /** Those of a list that stand in these imports. The answer is kept: border routers of one area ask for the same lists. */
  among(list: Int32Array): Entries {
    let found = this.known.get(list);
    if (!found) {
      const ids = list.filter((id) => this.find(id));
      const [classOf, offset] = [new Int32Array(ids.length), new Int32Array(ids.length)];
      for (let i = 0; i < ids.length; i++) {
        this.find(ids[i] ?? 0);
        classOf[i] = this.foundClass;
        offset[i] = this.foundOffset;
      }
      found = { ids, classOf, offset };
      this.known.set(list, found);
    }
    return found;
  }

  private movedIds: readonly number[] | undefined;

  /** Prefixes that are of another class than in the state that these imports are seeded from, or cost something else, or came or went. */
  get moved(): readonly number[] {
    return (this.movedIds ??= this.seed ? this.movedFrom(this.seed) : []);
  }

  private movedFrom(seed: Imports): readonly number[] {
    const [a, b] = [this.told, seed.told];
    // What is told on is the same but for what moved at its source.
    if (a && b && a.classOf === b.classOf && this.own === seed.own) return a.source === b.source ? [] : a.source.moved;
    const out: number[] = [];
    const { ids, classOf, offset } = this.entries;
    for (let i = 0; i < ids.length; i++) {
      const id = ids[i] ?? 0;
      if (!seed.find(id) || seed.foundClass !== classOf[i] || seed.foundOffset !== offset[i]) out.push(id);
    }
    for (const id of seed.entries.ids) if (!this.find(id)) out.push(id);
    return out;
  }

  /** Prefixes that are no part of what is told on as a class. */
  setApart(): number[] {
    const out = new Set<number>();
    for (const list of this.told?.hidden ?? []) for (let i = 0; i < list.length; i++) out.add(list[i] ?? 0);
    return [...out];
  }

  /** True for a prefix that is no part of what is told on as a class. */
  standsApart(id: number): boolean {
    return (this.places ??= this.findPlaces())[id] !== maybeTold;
  }

  /** By prefix: its place among the own entries, or whether it may stand in the source. */
  private findPlaces(): Int32Array {
    const { own, told } = this;
    const places = new Int32Array(this.prefixCount).fill(told ? maybeTold : notTold);
    for (const list of told?.hidden ?? []) for (let i = 0; i < list.length; i++) places[list[i] ?? 0] = notTold;
    for (let i = 0; i < own.ids.length; i++) places[own.ids[i] ?? 0] = i;
    return places;
  }
}

const notTold = -1;
const maybeTold = -2;

/** Buffers that serve one area after the other, grown where they must. */
export class ImportScratch {
  /** By prefix: the last told of it so far, or its place in `special`; -1 without. All -1 between uses. */
  at: Int32Array;
  /** Entries in a chain: the one before of the same prefix, the row, the cost. */
  next = new Int32Array(0);
  row = new Int32Array(0);
  cost = new Int32Array(0);
  special: Int32Array;

  /** @param prefixCount  prefixes named so far */
  constructor(readonly prefixCount: number) {
    this.at = new Int32Array(prefixCount).fill(-1);
    this.special = new Int32Array(prefixCount);
  }

  room(entries: number): void {
    if (this.next.length >= entries) return;
    this.next = new Int32Array(entries);
    this.row = new Int32Array(entries);
    this.cost = new Int32Array(entries);
  }
}

/** The state from which all rows that tell something on tell it; `undefined` when they do not agree, or none does. */
function commonSource(rows: readonly SummaryRow[]): Onward | undefined {
  const told = rows.flatMap((r) => r.onward ?? []);
  const [first] = told;
  return first && told.every((o) => o.source === first.source) && !first.source.told ? first : undefined;
}

/** True when the same border routers write in two states, from the same places. */
export const sameWriters = (a: readonly SummaryRow[], b: readonly SummaryRow[]): boolean =>
  a.length === b.length && a.every((r, i) => r.adv === b[i]?.adv && r.vertex === b[i].vertex);

/**
 * Brings the rows of an area's border routers together.
 *
 * @param pool  where the arrays that are kept come from
 * @param before  the imports of the area in an earlier state, whose classes keep their numbers, and its networks then
 */
export function importsOf(
  area: AreaArrays,
  said: readonly SummaryRow[],
  scratch: ImportScratch,
  pool: IntPool,
  before?: { readonly imports: Imports; readonly networks: AreaNetworks },
): Imports {
  const rows = said.filter((r) => r.vertex >= 0 && area.graph.routers[r.vertex]?.bits.b);
  const seed = before && sameWriters(before.imports.rows, rows) ? before.imports : undefined;
  if (seed && sameSaid(seed, rows, area)) return seed;
  const onward = commonSource(rows);
  if (!onward) return oneByOne(area, rows, scratch, seed);
  const again = seed && before?.networks === area.networks ? toldAgain(area, rows, onward.source, seed) : undefined;
  return again ?? toldOn(area, rows, onward.source, scratch, pool, seed);
}

/** Whether an area that changed is told the very same as before, and has as much of it inside. */
function sameSaid(seed: Imports, rows: readonly SummaryRow[], area: AreaArrays): boolean {
  if (seed.told || rows.some((r, j) => r !== seed.rows[j])) return false;
  const insideToo = area.networks.ids.filter((id) => seed.find(id));
  const old = new Set(seed.insideToo);
  return insideToo.length === old.size && insideToo.every((id) => old.has(id));
}

/** Where all that border routers add is the same, only what moved at the source is looked at; `undefined` where it is not. */
function toldAgain(area: AreaArrays, rows: readonly SummaryRow[], source: Imports, seed: Imports): Imports | undefined {
  const { told } = seed;
  if (!told || (source !== told.source && source.seed !== told.source) || source.classCount !== told.source.classCount) return undefined;
  for (let j = 0; j < rows.length; j++) {
    const [now, old] = [rows[j], seed.rows[j]];
    if (now?.own !== old?.own || now?.onward?.cost !== old?.onward?.cost) return undefined;
    if (!sameLists(now?.onward?.except ?? [], old?.onward?.except ?? [])) return undefined;
  }
  const counts = seed.counts.slice();
  const next = new Imports(rows, seed.vectors, counts, seed.own, { ...told, source }, seed.insideToo, seed.prefixCount, seed);
  if (source === told.source) return next;
  for (const id of source.moved) {
    if (seed.standsApart(id) || (area.networks.place[id] ?? -1) >= 0) return undefined;
    if (seed.find(id)) counts[seed.foundClass] = (counts[seed.foundClass] ?? 0) - 1;
    if (next.find(id)) counts[next.foundClass] = (counts[next.foundClass] ?? 0) + 1;
  }
  return next;
}

/** Every entry of every row for itself. */
function oneByOne(area: AreaArrays, rows: readonly SummaryRow[], scratch: ImportScratch, seed: Imports | undefined): Imports {
  const entries = rows.map(writtenOut);
  scratch.room(entries.reduce((sum, e) => sum + e.ids.length, 0));
  const { at, next, row, cost, special } = scratch;
  let n = 0;
  // From the last row to the first, so that chains run from the first to the last.
  for (let j = rows.length - 1; j >= 0; j--) n = chain(entries[j], j, n, at, next, row, cost);
  const builder = new ClassBuilder(seed?.vectors);
  let count = 0;
  const [classOf, offset] = [new Int32Array(n), new Int32Array(n)];
  for (const e of entries)
    for (let i = 0; i < e.ids.length; i++) {
      const id = e.ids[i] ?? 0;
      let c = at[id] ?? -1;
      if (c < 0) continue;
      at[id] = -1;
      for (; c >= 0; c = next[c] ?? -1) builder.add(row[c] ?? 0, cost[c] ?? 0);
      special[count] = id;
      classOf[count] = builder.close();
      offset[count++] = builder.least;
    }
  const own = { ids: special.slice(0, count), classOf: classOf.slice(0, count), offset: offset.slice(0, count) };
  for (let i = 0; i < count; i++) at[special[i] ?? 0] = i;
  const insideToo = Array.from(area.networks.ids.filter((id) => (at[id] ?? -1) >= 0));
  for (let i = 0; i < count; i++) at[special[i] ?? 0] = -1;
  return new Imports(rows, builder.vectors(), countsOf(own, new Int32Array(builder.count)), own, undefined, insideToo, scratch.prefixCount, seed);
}

/** Puts the entries of a row in front of what rows behind it said of the same prefixes. Small, and of steady types. */
function chain(e: RowEntries | undefined, j: number, before: number, at: Int32Array, next: Int32Array, row: Int32Array, cost: Int32Array): number {
  let n = before;
  if (!e) return n;
  for (let i = 0; i < e.ids.length; i++) {
    const c = e.cost[i] ?? 0;
    if (c >= lsInfinity) continue;
    const id = e.ids[i] ?? 0;
    next[n] = at[id] ?? -1;
    row[n] = j;
    cost[n] = c;
    at[id] = n++;
  }
  return n;
}

/** Adds how many entries are of each class. */
function countsOf(own: Entries, counts: Int32Array): Int32Array {
  for (let i = 0; i < own.classOf.length; i++) {
    const k = own.classOf[i] ?? 0;
    counts[k] = (counts[k] ?? 0) + 1;
  }
  return counts;
}

/** What rows say one by one stands by itself; all else is that of the source, class by class. */
function toldOn(
  area: AreaArrays,
  rows: readonly SummaryRow[],
  source: Imports,
  scratch: ImportScratch,
  pool: IntPool,
  seed: Imports | undefined,
): Imports {
  const { at, special } = scratch;
  const width = rows.length;
  // What border routers have themselves and the backbone is not told of is nothing to look at here. What all of them have
  // nobody tells on.
  const lists = rows.map((r) => r.onward?.except ?? noLists);
  const shared = (lists[0] ?? noLists).filter((list) => lists.every((other) => other.includes(list)));
  const excepted = lists.map((of) => of.filter((list) => !shared.includes(list)).map((list) => source.among(list).ids));
  let m = 0;
  for (let j = 0; j < width; j++) {
    m = note(rows[j]?.own.ids ?? noIds, m, at, special);
    for (const list of excepted[j] ?? noLists) m = note(list, m, at, special);
  }
  scratch.room(m * width);
  const vectors = scratch.cost.fill(noWay, 0, m * width);
  const counts = pool.take(source.counts.length);
  counts.set(source.counts);
  for (let s = 0; s < m; s++) {
    if (!source.find(special[s] ?? 0)) continue;
    const q = source.foundClass;
    counts[q] = (counts[q] ?? 0) - 1;
    for (let j = 0; j < width; j++) {
      const base = rows[j]?.onward?.cost[q] ?? noWay;
      if (base < noWay) vectors[s * width + j] = base + source.foundOffset;
    }
  }
  for (const list of shared) leaveOut(source.among(list), vectors, at, width, counts);
  for (let j = 0; j < width; j++) {
    const r = rows[j];
    if (!r) continue;
    for (const list of excepted[j] ?? noLists) place(list, undefined, vectors, at, width, j);
    place(r.own.ids, r.own.cost, vectors, at, width, j);
  }
  const builder = new ClassBuilder(seed?.vectors);
  const own = { ids: pool.take(m), classOf: pool.take(m), offset: pool.take(m) };
  let n = 0;
  for (let s = 0; s < m; s++) {
    for (let j = 0; j < width; j++) {
      const c = vectors[s * width + j] ?? noWay;
      if (c < noWay) builder.add(j, c);
    }
    const k = builder.close();
    if (k < 0) continue;
    own.ids[n] = special[s] ?? 0;
    own.classOf[n] = k;
    own.offset[n++] = builder.least;
  }
  const apart = pool.take(m);
  for (let s = 0; s < m; s++) apart[s] = special[s] ?? 0;
  const hidden = [...new Set([apart, ...lists.flat()])];
  const told = { source, classOf: pool.take(source.classCount), offset: pool.take(source.classCount), hidden };
  const insideToo = insideAndTold(area, source, at, own.ids.subarray(0, n));
  for (let s = 0; s < m; s++) at[special[s] ?? 0] = -1;
  for (const list of shared) for (const id of source.among(list).ids) at[id] = -1;
  for (let q = 0; q < source.classCount; q++) {
    for (let j = 0; j < width; j++) {
      const c = rows[j]?.onward?.cost[q] ?? noWay;
      if (c < noWay) builder.add(j, c);
    }
    told.classOf[q] = builder.close();
    told.offset[q] = builder.least;
  }
  const entries = n === m ? own : { ids: own.ids.subarray(0, n), classOf: own.classOf.subarray(0, n), offset: own.offset.subarray(0, n) };
  const sums = countsOf(entries, pool.take(builder.count));
  for (let q = 0; q < source.classCount; q++) {
    const k = told.classOf[q] ?? -1;
    if (k >= 0) sums[k] = (sums[k] ?? 0) + (counts[q] ?? 0);
  }
  return new Imports(rows, builder.vectors(), sums, entries, told, insideToo, scratch.prefixCount, seed);
}

/** Takes out what no border router of an area tells on; what none has an entry of its own for is counted out of its class, and marked by -2. */
function leaveOut(e: Entries, vectors: Int32Array, at: Int32Array, width: number, counts: Int32Array): void {
  for (let i = 0; i < e.ids.length; i++) {
    const id = e.ids[i] ?? 0;
    const s = at[id] ?? -1;
    if (s >= 0) vectors.fill(noWay, s * width, (s + 1) * width);
    else if (s === -1) {
      at[id] = -2;
      const q = e.classOf[i] ?? 0;
      counts[q] = (counts[q] ?? 0) - 1;
    }
  }
}

/** Puts what one border router says of some prefixes beside what others say; without costs it says nothing of them. */
function place(ids: Int32Array, cost: Int32Array | undefined, vectors: Int32Array, at: Int32Array, width: number, j: number): void {
  for (let i = 0; i < ids.length; i++) {
    const c = cost ? (cost[i] ?? 0) : noWay;
    vectors[(at[ids[i] ?? 0] ?? 0) * width + j] = c >= lsInfinity ? noWay : c;
  }
}

const noIds = new Int32Array(0);
const noLists: readonly Int32Array[] = [];

/** Notes prefixes that were not noted yet; gives their number so far. */
function note(ids: Int32Array, before: number, at: Int32Array, special: Int32Array): number {
  let m = before;
  for (let i = 0; i < ids.length; i++) {
    const id = ids[i] ?? 0;
    if ((at[id] ?? -1) >= 0) continue;
    at[id] = m;
    special[m++] = id;
  }
  return m;
}

/** Prefixes that an area has inside and is told of: by themselves, or as part of a class. */
function insideAndTold(area: AreaArrays, source: Imports, at: Int32Array, own: Int32Array): number[] {
  const out: number[] = [];
  for (const id of own) if ((area.networks.place[id] ?? -1) >= 0) out.push(id);
  for (const id of source.among(area.networks.ids).ids) if (at[id] === -1) out.push(id);
  return out;
}
