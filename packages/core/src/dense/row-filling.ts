import type { Speaker } from '../adjacency/speakers';
import { backbone, type Area } from '../design/design';
import { lsInfinity } from '../lsdb/lsa';
import { rangeFor } from '../lsdb/summary-lsa';
import { noWay } from './area-rows';
import type { HopSlots } from './hop-slots';
import type { IntPool } from './int-pool';
import { interArea, intraArea, noRoute, ownRange, type AreaArrays, type InternalArrays, type RootRows } from './internal-rows';
import { hopsOfNearest, nearest } from './nearest';
import { writtenOut, type RowEntries, type SummaryRow } from './summary-row';

/**
 * A router's routes inside the system, by the number of their prefix. One object serves one router after the other;
 * `filled` entries stand in `touched`.
 */
export interface InternalRows {
  filled: number;
  touched: Int32Array;
  kind: Uint8Array;
  cost: Int32Array;
  hops: Int32Array;
  /** Index of the database it came through. */
  database: Int32Array;
  /** Prefixes of own ranges in force. */
  own: readonly number[];
}

/** Routes of a router one after the other: entry `i` is prefix `ids[i]`. */
export interface Packed {
  readonly ids: Int32Array;
  readonly kind: Uint8Array;
  readonly cost: Int32Array;
  readonly hops: Int32Array;
  readonly database: Int32Array;
  /** Place of the range that takes it, in its area's settings; -1 without. */
  readonly range: Int32Array;
  /** Prefixes of own ranges in force. */
  readonly own: readonly number[];
  /** What it is put together from, an area each, when no prefix stands in two of them. */
  readonly parts?: readonly Part[];
}

/** What a router reaches inside one of its areas, one after the other. */
export interface Part {
  readonly root: RootRows;
  /** Those of the area's networks themselves, where all are reached. */
  readonly ids: Int32Array;
  readonly cost: Int32Array;
  readonly hops: Int32Array;
  /** Place of the range that takes each, -1 without; empty where the router has no ranges for the area. */
  readonly range: Int32Array;
  /** Prefixes of these ranges. */
  readonly own: readonly number[];
}

/** What a border router reaches inside its areas: a part each, written out one behind the other only when somebody looks at that. */
export class Inside implements Packed {
  private written: Omit<Packed, 'own'> | undefined;

  constructor(
    readonly parts: readonly Part[],
    readonly own: readonly number[],
  ) {}

  get ids(): Int32Array {
    return this.list().ids;
  }

  get kind(): Uint8Array {
    return this.list().kind;
  }

  get cost(): Int32Array {
    return this.list().cost;
  }

  get hops(): Int32Array {
    return this.list().hops;
  }

  get database(): Int32Array {
    return this.list().database;
  }

  get range(): Int32Array {
    return this.list().range;
  }

  private list(): Omit<Packed, 'own'> {
    if (this.written) return this.written;
    const size = this.parts.reduce((n, p) => n + p.ids.length, 0);
    const [ids, cost, hops, database] = [new Int32Array(size), new Int32Array(size), new Int32Array(size), new Int32Array(size)];
    const range = new Int32Array(size).fill(-1);
    let n = 0;
    for (const p of this.parts) {
      ids.set(p.ids, n);
      cost.set(p.cost, n);
      hops.set(p.hops, n);
      range.set(p.range, n);
      database.fill(p.root.index, n, n + p.ids.length);
      n += p.ids.length;
    }
    this.written = { ids, kind: new Uint8Array(size).fill(intraArea), cost, hops, database, range };
    return this.written;
  }
}

/** True when two lists of what a router has inside differ at most in one area, by index of its database. */
export function sameBut(a: Packed, b: Packed, index: number): boolean {
  if (a === b) return true;
  if (!a.parts || a.parts.length !== b.parts?.length) return false;
  return a.parts.every((p, i) => p === b.parts?.[i] || (p.root.index === index && b.parts?.[i]?.root.index === index));
}

/** Writes out what a router reaches inside the system, prefix by prefix (RFC 2328 §16.1 to §16.3). */
export class RowFilling {
  private buffer: InternalRows | undefined;

  constructor(private readonly arrays: InternalArrays) {}

  /** The same for a state computed from this one, with the same buffer. */
  after(arrays: InternalArrays): RowFilling {
    const next = new RowFilling(arrays);
    next.buffer = this.buffer;
    return next;
  }

  /** Empty rows, wide enough for every prefix named so far. */
  emptyRows(): InternalRows {
    const n = this.arrays.prefixes.size;
    return {
      filled: 0,
      touched: new Int32Array(n),
      kind: new Uint8Array(n),
      cost: new Int32Array(n),
      hops: new Int32Array(n),
      database: new Int32Array(n),
      own: [],
    };
  }

  /** All that a router knows inside the system, as a list. */
  packed(s: Speaker, insideOnly: boolean): Packed {
    if (!this.buffer || this.buffer.kind.length < this.arrays.prefixes.size) this.buffer = this.emptyRows();
    const rows = this.buffer;
    this.fill(rows, s, insideOnly);
    const out = emptyPacked(this.arrays.pool, rows.filled, rows.own);
    out.ids.set(rows.touched.subarray(0, rows.filled));
    const areas = this.settingsOf(s);
    for (let i = 0; i < rows.filled; i++) {
      const id = out.ids[i] ?? 0;
      const db = rows.database[id] ?? 0;
      out.kind[i] = rows.kind[id] ?? noRoute;
      out.cost[i] = rows.cost[id] ?? 0;
      out.hops[i] = rows.hops[id] ?? 0;
      out.database[i] = db;
      out.range[i] = out.kind[i] === intraArea ? this.rangePlace(areas[db], id) : -1;
    }
    return out;
  }

  /** What a router reaches inside its areas, as a list. */
  inside(s: Speaker): Packed {
    const parts = rootsOf(this.arrays, s).map((root) => this.part(s, root));
    for (let i = 1; i < parts.length; i++)
      for (let k = 0; k < i; k++) if (!this.apart(parts[k]?.ids ?? noIds, parts[i]?.ids ?? noIds)) return this.packed(s, true);
    const border = this.arrays.network.isBorderRouter(s);
    return new Inside(parts, border ? [...new Set(parts.flatMap((p) => p.own))] : []);
  }

  /** Whether no prefix stands in two lists: of the networks of two areas asked for every one of their border routers. */
  private apart(a: Int32Array, b: Int32Array): boolean {
    let of = knownApart.get(a);
    if (!of) knownApart.set(a, (of = new WeakMap()));
    let answer = of.get(b);
    if (answer === undefined) {
      if (this.seen.length < this.arrays.prefixes.size) this.seen = new Int32Array(this.arrays.prefixes.size);
      const { seen } = this;
      const stamp = ++this.stamp;
      for (let i = 0; i < a.length; i++) seen[a[i] ?? 0] = stamp;
      answer = true;
      for (let i = 0; answer && i < b.length; i++) answer = seen[b[i] ?? 0] !== stamp;
      of.set(b, answer);
    }
    return answer;
  }

  private seen = new Int32Array(0);
  private stamp = 0;

  /** Inside one area; of rows that several states share, made once. */
  private part(s: Speaker, root: RootRows): Part {
    const known = knownParts.get(root);
    if (known) return known;
    const { arrays } = this;
    const area = arrays.areas[root.index];
    if (!area) throw new RangeError(`no database ${root.index}`);
    const { networks } = area;
    const slots = arrays.slotsOf(s);
    const size = networks.ids.length;
    const [cost, hops] = [arrays.pool.take(size), arrays.pool.take(size)];
    let unreached = 0;
    for (let place = 0; place < size; place++) {
      cost[place] = nearest(networks, place, root, slots, area);
      hops[place] = hopsOfNearest();
      if (cost[place] === noWay) unreached++;
    }
    const way = (_: number, place: number): boolean => cost[place] !== noWay;
    const reached =
      unreached === 0 ? { ids: networks.ids, cost, hops } : { ids: networks.ids.filter(way), cost: cost.filter(way), hops: hops.filter(way) };
    const part = { root, ...reached, ...this.rangesOf(this.areaOf(s, root), reached.ids) };
    knownParts.set(root, part);
    return part;
  }

  /** Which ranges of an area take some prefixes. */
  private rangesOf(area: Area, ids: Int32Array): Pick<Part, 'range' | 'own'> {
    if (area.ranges.length === 0) return { range: noIds, own: [] };
    const range = this.arrays.pool.take(ids.length);
    const own = new Set<number>();
    let last = -1;
    for (let i = 0; i < ids.length; i++) {
      const place = this.rangePlace(area, ids[i] ?? 0);
      range[i] = place;
      const r = place === last ? undefined : area.ranges[place];
      last = place;
      if (r) own.add(this.arrays.prefixes.id(r.prefix.bits, r.prefix.length));
    }
    return { range, own: [...own] };
  }

  private areaOf(s: Speaker, root: RootRows): Area {
    return this.arrays.network.areaOf(s, this.arrays.areas[root.index]?.database.areaId ?? backbone);
  }

  private settingsOf(s: Speaker): Area[] {
    return this.arrays.areas.map((a) => this.arrays.network.areaOf(s, a.database.areaId));
  }

  /** Place of the range of an area that takes a prefix, -1 without. */
  private rangePlace(area: Area | undefined, id: number): number {
    if (!area || area.ranges.length === 0) return -1;
    const range = rangeFor(area, this.arrays.prefixes.prefix(id));
    return range ? area.ranges.indexOf(range) : -1;
  }

  /**
   * Puts a router's routes inside the system into rows.
   *
   * @param insideOnly  leaves out what summaries bring
   */
  fill(rows: InternalRows, s: Speaker, insideOnly: boolean): void {
    for (let i = 0; i < rows.filled; i++) rows.kind[rows.touched[i] ?? 0] = noRoute;
    rows.filled = 0;
    const { arrays } = this;
    const { network } = arrays;
    const slots = arrays.slotsOf(s);
    const rootIn = (areaId: number): RootRows | undefined => {
      const db = network.database(s, areaId);
      return db && arrays.root(s, db);
    };
    for (const a of network.areasOf(s)) {
      const root = rootIn(a);
      const area = root && arrays.areas[root.index];
      if (area) addInside(rows, area, root, slots);
    }
    // Own ranges in force: their type 3 from others is not used (RFC 2328 §16.2 (3)).
    const border = network.isBorderRouter(s);
    rows.own = border ? this.activeRanges(rows, s) : [];
    if (insideOnly) return;
    for (const id of rows.own) if (rows.kind[id] === noRoute) rows.kind[id] = ownRange;
    for (const a of network.summaryAreas(s)) {
      const root = rootIn(a);
      const without = network.takesDefault(s, a) ? -1 : arrays.prefixes.id(0, 0);
      if (root) for (const row of this.readable(root, s)) addSummaries(rows, root, row.vertex, writtenOut(row), slots, without);
    }
    for (const id of rows.own) if (rows.kind[id] === ownRange) rows.kind[id] = noRoute;
    for (const a of border ? network.areasOf(s) : []) {
      const root = network.isTransit(s, a) ? rootIn(a) : undefined;
      if (root) for (const row of this.readable(root, s)) this.improve(rows, root, row.vertex, writtenOut(row), slots);
    }
  }

  /** Rows of an area that a router can use: of border routers that it reaches there (RFC 2328 §16.2 (1) and (2)). */
  private readable(root: RootRows, s: Speaker): SummaryRow[] {
    const { graph } = this.arrays.areas[root.index] ?? {};
    return (this.arrays.rows[root.index] ?? []).filter(
      (r) => r.adv !== s.routerId && r.vertex >= 0 && (root.distance[r.vertex] ?? noWay) < noWay && graph?.routers[r.vertex]?.bits.b,
    );
  }

  /** Prefixes of a border router's ranges in force: of areas where a part is reachable inside (RFC 2328 §12.4.3). */
  private activeRanges(rows: InternalRows, s: Speaker): number[] {
    const { prefixes } = this.arrays;
    const areas = this.settingsOf(s);
    if (areas.every((a) => a.ranges.length === 0)) return [];
    const out = new Set<number>();
    for (let i = 0; i < rows.filled; i++) {
      const id = rows.touched[i] ?? 0;
      const area = rows.kind[id] === intraArea ? areas[rows.database[id] ?? 0] : undefined;
      const range = area && area.ranges.length > 0 ? rangeFor(area, prefixes.prefix(id)) : undefined;
      if (range) out.add(prefixes.id(range.prefix.bits, range.prefix.length));
    }
    return [...out];
  }

  /** A shorter way through a transit area to what the backbone brings (RFC 2328 §16.3). */
  private improve(rows: InternalRows, root: RootRows, vertex: number, row: RowEntries, slots: HopSlots): void {
    const base = root.distance[vertex] ?? noWay;
    const through = root.hops[vertex] ?? 0;
    for (let i = 0; i < row.ids.length; i++) {
      const id = row.ids[i] ?? 0;
      const written = row.cost[i] ?? 0;
      const d = base + written;
      if (written >= lsInfinity || rows.kind[id] === noRoute || d > (rows.cost[id] ?? 0)) continue;
      const database = this.arrays.network.databases[rows.database[id] ?? 0];
      if (database?.areaId !== backbone || slots.attached(rows.hops[id] ?? 0)) continue;
      if (d < (rows.cost[id] ?? 0)) {
        rows.cost[id] = d;
        rows.hops[id] = through;
      } else rows.hops[id] = slots.join(rows.hops[id] ?? 0, through);
    }
  }
}

const knownParts = new WeakMap<RootRows, Part>();
const knownApart = new WeakMap<Int32Array, WeakMap<Int32Array, boolean>>();
const noIds = new Int32Array(0);

const emptyPacked = (pool: IntPool, n: number, own: readonly number[]): Packed => ({
  ids: pool.take(n),
  kind: new Uint8Array(n),
  cost: pool.take(n),
  hops: pool.take(n),
  database: pool.take(n),
  range: pool.take(n),
  own,
});

/** A router's rows in each of its areas. */
export function rootsOf(arrays: InternalArrays, s: Speaker): RootRows[] {
  const { network } = arrays;
  const areas = network.areasOf(s);
  let out: RootRows[] | undefined;
  for (let i = 0; i < areas.length; i++) {
    const db = network.database(s, areas[i] ?? 0);
    const root = db && arrays.root(s, db);
    if (!root) continue;
    // Most have one, and a list as long as that.
    if (out) out.push(root);
    else out = [root];
  }
  return out ?? [];
}

function addInside(rows: InternalRows, area: AreaArrays, root: RootRows, slots: HopSlots): void {
  const { networks } = area;
  const { index } = area.database;
  for (let n = 0; n < networks.ids.length; n++) {
    const best = nearest(networks, n, root, slots, area);
    if (best >= noWay) continue;
    const through = hopsOfNearest();
    const id = networks.ids[n] ?? 0;
    if (rows.kind[id] === noRoute) {
      rows.touched[rows.filled++] = id;
      rows.kind[id] = intraArea;
    } else if (best > (rows.cost[id] ?? 0)) continue;
    else if (best === rows.cost[id]) {
      rows.hops[id] = slots.join(rows.hops[id] ?? 0, through);
      continue;
    }
    rows.cost[id] = best;
    rows.hops[id] = through;
    rows.database[id] = index;
  }
}

/** Routes from the summaries of one border router (RFC 2328 §16.2 (3) to (6)); intra-area routes stay. @param without  a prefix that is left out, -1 for none */
function addSummaries(rows: InternalRows, root: RootRows, vertex: number, row: RowEntries, slots: HopSlots, without: number): void {
  const base = root.distance[vertex] ?? noWay;
  const through = root.hops[vertex] ?? 0;
  for (let i = 0; i < row.ids.length; i++) {
    const id = row.ids[i] ?? 0;
    const written = row.cost[i] ?? 0;
    const known = rows.kind[id] ?? noRoute;
    if (known === intraArea || known === ownRange || written >= lsInfinity || id === without) continue;
    const d = base + written;
    if (known === noRoute) {
      rows.touched[rows.filled++] = id;
      rows.kind[id] = interArea;
    } else if (d > (rows.cost[id] ?? 0)) continue;
    else if (d === rows.cost[id]) {
      rows.hops[id] = slots.join(rows.hops[id] ?? 0, through);
      continue;
    }
    rows.cost[id] = d;
    rows.hops[id] = through;
    rows.database[id] = root.index;
  }
}
