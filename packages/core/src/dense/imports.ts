import { lsInfinity } from '../lsdb/lsa';
import { noWay, type AreaArrays } from './area-rows';
import { ClassBuilder, extend } from './class-vectors';
import type { IntPool } from './int-pool';
import { sameLists } from './summary-row';
import { Imports, writtenOut, type Entries, type Onward, type RowEntries, type SummaryRow } from './told';

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

/** What imports are made with: buffers, a pool for what is kept, and what moved between two states of a source. */
export interface Making {
  readonly scratch: ImportScratch;
  readonly pool: IntPool;
  movedSince(now: Imports, old: Imports): readonly number[];
}

/**
 * Brings the rows of an area's border routers together.
 *
 * @param old  the imports of the area in an earlier state, whose classes keep their numbers; given back where they hold
 */
export function importsOf(area: AreaArrays, said: readonly SummaryRow[], making: Making, old: Imports | undefined): Imports {
  const rows = said.filter((r) => r.vertex >= 0 && area.graph.routers[r.vertex]?.bits.b);
  if (old && holds(old, rows, area)) return old;
  const onward = commonSource(rows);
  if (!onward) return oneByOne(area, rows, making.scratch, old);
  const again = old?.networks === area.networks ? toldAgain(area, rows, onward.source, old, making) : undefined;
  return again ?? toldOn(area, rows, onward.source, making, old);
}

/** Whether an area is told the very same as before, and has as much of it inside. */
function holds(old: Imports, rows: readonly SummaryRow[], area: AreaArrays): boolean {
  if (rows.length !== old.rows.length || rows.some((r, j) => r !== old.rows[j])) return false;
  if (old.networks === area.networks) return true;
  if (old.told) return false;
  const before = new Set(old.insideToo);
  let found = 0;
  for (const id of area.networks.ids)
    if (old.classAt(id) >= 0) {
      if (!before.has(id)) return false;
      found++;
    }
  return found === before.size;
}

/** Where all that border routers add is the same, only what moved at the source is looked at; `undefined` where it is not. */
function toldAgain(area: AreaArrays, rows: readonly SummaryRow[], source: Imports, old: Imports, making: Making): Imports | undefined {
  const { told } = old;
  if (!told || rows.length !== old.rows.length) return undefined;
  if (source.classCount !== told.source.classCount || !extend(source.vectors, told.source.vectors)) return undefined;
  for (const [j, now] of rows.entries()) {
    const was = old.rows[j]!;
    if (now.own !== was.own || now.onward?.cost !== was.onward?.cost) return undefined;
    if (!sameLists(now.onward?.except ?? [], was.onward?.except ?? [])) return undefined;
  }
  const counts = old.counts.slice();
  const next = new Imports(rows, old.vectors, counts, old.own, { ...told, source }, old.insideToo, old.networks, old.prefixCount);
  if (source === told.source) return next;
  for (const id of making.movedSince(source, told.source)) {
    if (old.standsApart(id) || (area.networks.place[id] ?? -1) >= 0) return undefined;
    const [was, is] = [old.classAt(id), next.classAt(id)];
    if (was >= 0) counts[was] = counts[was]! - 1;
    if (is >= 0) counts[is] = counts[is]! + 1;
  }
  return next;
}

/** Every entry of every row for itself. */
function oneByOne(area: AreaArrays, rows: readonly SummaryRow[], scratch: ImportScratch, old: Imports | undefined): Imports {
  const entries = rows.map(writtenOut);
  scratch.room(entries.reduce((sum, e) => sum + e.ids.length, 0));
  const { at, next, row, cost, special } = scratch;
  const vertices = rows.map((r) => r.vertex);
  let n = 0;
  // From the last row to the first, so that chains run from the first to the last.
  for (let j = rows.length - 1; j >= 0; j--) n = chain(entries[j], j, n, at, next, row, cost);
  const builder = new ClassBuilder(old?.vectors);
  let count = 0;
  const [classOf, offset] = [new Int32Array(n), new Int32Array(n)];
  for (const e of entries)
    for (let i = 0; i < e.ids.length; i++) {
      const id = e.ids[i]!;
      let c = at[id] ?? -1;
      if (c < 0) continue;
      at[id] = -1;
      for (; c >= 0; c = next[c] ?? -1) builder.add(vertices[row[c]!]!, cost[c]!);
      special[count] = id;
      classOf[count] = builder.close();
      offset[count++] = builder.least;
    }
  const own = { ids: special.slice(0, count), classOf: classOf.slice(0, count), offset: offset.slice(0, count) };
  for (let i = 0; i < count; i++) at[special[i]!] = i;
  const insideToo = Array.from(area.networks.ids.filter((id) => (at[id] ?? -1) >= 0));
  for (let i = 0; i < count; i++) at[special[i]!] = -1;
  return new Imports(
    rows,
    builder.vectors(),
    countsOf(own, new Int32Array(builder.count)),
    own,
    undefined,
    insideToo,
    area.networks,
    scratch.prefixCount,
  );
}

/** Puts the entries of a row in front of what rows behind it said of the same prefixes. Small, and of steady types. */
function chain(e: RowEntries | undefined, j: number, before: number, at: Int32Array, next: Int32Array, row: Int32Array, cost: Int32Array): number {
  let n = before;
  if (!e) return n;
  for (let i = 0; i < e.ids.length; i++) {
    const c = e.cost[i]!;
    if (c >= lsInfinity) continue;
    const id = e.ids[i]!;
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
    const k = own.classOf[i]!;
    counts[k] = counts[k]! + 1;
  }
  return counts;
}

/** What rows say one by one stands by itself; all else is that of the source, class by class. */
function toldOn(area: AreaArrays, rows: readonly SummaryRow[], source: Imports, making: Making, old: Imports | undefined): Imports {
  const { scratch, pool } = making;
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
    const as = source.find(special[s]!);
    if (!as) continue;
    const q = as.class;
    counts[q] = counts[q]! - 1;
    for (let j = 0; j < width; j++) {
      const base = rows[j]?.onward?.cost[q] ?? noWay;
      if (base < noWay) vectors[s * width + j] = base + as.offset;
    }
  }
  for (const list of shared) leaveOut(source.among(list), vectors, at, width, counts);
  for (let j = 0; j < width; j++) {
    const r = rows[j];
    if (!r) continue;
    for (const list of excepted[j] ?? noLists) place(list, undefined, vectors, at, width, j);
    place(r.own.ids, r.own.cost, vectors, at, width, j);
  }
  const builder = new ClassBuilder(old?.vectors);
  const own = { ids: pool.take(m), classOf: pool.take(m), offset: pool.take(m) };
  let n = 0;
  for (let s = 0; s < m; s++) {
    for (let j = 0; j < width; j++) {
      const c = vectors[s * width + j]!;
      if (c < noWay) builder.add(rows[j]!.vertex, c);
    }
    const k = builder.close();
    if (k < 0) continue;
    own.ids[n] = special[s]!;
    own.classOf[n] = k;
    own.offset[n++] = builder.least;
  }
  const apart = pool.take(m);
  for (let s = 0; s < m; s++) apart[s] = special[s]!;
  const hidden = [...new Set([apart, ...lists.flat()])];
  const told = { source, classOf: pool.take(source.classCount), offset: pool.take(source.classCount), hidden };
  const insideToo = insideAndTold(area, source, at, own.ids.subarray(0, n));
  for (let s = 0; s < m; s++) at[special[s]!] = -1;
  for (const list of shared) for (const id of source.among(list).ids) at[id] = -1;
  for (let q = 0; q < source.classCount; q++) {
    for (let j = 0; j < width; j++) {
      const c = rows[j]?.onward?.cost[q] ?? noWay;
      if (c < noWay) builder.add(rows[j]!.vertex, c);
    }
    told.classOf[q] = builder.close();
    told.offset[q] = builder.least;
  }
  const entries = n === m ? own : { ids: own.ids.subarray(0, n), classOf: own.classOf.subarray(0, n), offset: own.offset.subarray(0, n) };
  const sums = countsOf(entries, pool.take(builder.count));
  for (let q = 0; q < source.classCount; q++) {
    const k = told.classOf[q] ?? -1;
    if (k >= 0) sums[k] = sums[k]! + counts[q]!;
  }
  return new Imports(rows, builder.vectors(), sums, entries, told, insideToo, area.networks, scratch.prefixCount);
}

/** Takes out what no border router of an area tells on; what none has an entry of its own for is counted out of its class, and marked by -2. */
function leaveOut(e: Entries, vectors: Int32Array, at: Int32Array, width: number, counts: Int32Array): void {
  for (let i = 0; i < e.ids.length; i++) {
    const id = e.ids[i]!;
    const s = at[id] ?? -1;
    if (s >= 0) vectors.fill(noWay, s * width, (s + 1) * width);
    else if (s === -1) {
      at[id] = -2;
      const q = e.classOf[i]!;
      counts[q] = counts[q]! - 1;
    }
  }
}

/** Puts what one border router says of some prefixes beside what others say; without costs it says nothing of them. */
function place(ids: Int32Array, cost: Int32Array | undefined, vectors: Int32Array, at: Int32Array, width: number, j: number): void {
  for (let i = 0; i < ids.length; i++) {
    const c = cost ? cost[i]! : noWay;
    vectors[at[ids[i]!]! * width + j] = c >= lsInfinity ? noWay : c;
  }
}

const noIds = new Int32Array(0);
const noLists: readonly Int32Array[] = [];

/** Notes prefixes that were not noted yet; gives their number so far. */
function note(ids: Int32Array, before: number, at: Int32Array, special: Int32Array): number {
  let m = before;
  for (let i = 0; i < ids.length; i++) {
    const id = ids[i]!;
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
