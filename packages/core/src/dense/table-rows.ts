import type { Speaker } from '../adjacency/speakers';
import { noWay } from './area-rows';
import { ExternalArrays, type ExternalSource } from './external-rows';
import type { HopCode, HopSlots } from './hop-slots';
import type { Chooser } from './choosers';
import { InsideFinder } from './inside-finder';
import type { InternalArrays, InternalNetwork, RootRows } from './internal-rows';
import type { InternalRows, Packed } from './row-filling';
import { ownHop } from './nearest';
import { TableBuffer } from './table-buffer';

/** Every route of every router without an object for any: the same answers as the readable tables, many times as fast. */
export class TableRows {
  readonly external: ExternalArrays;
  private readonly finder: InsideFinder;

  constructor(
    readonly arrays: InternalArrays,
    readonly network: InternalNetwork,
    source: ExternalSource,
    before?: { readonly rows: TableRows; readonly areas: ReadonlySet<number> },
  ) {
    this.external = new ExternalArrays(network, arrays, source, before && { external: before.rows.external, areas: before.areas });
    this.finder = new InsideFinder(arrays);
  }

  /** A buffer that holds any router's table. */
  emptyBuffer(): TableBuffer {
    return new TableBuffer(this.arrays.prefixes.size);
  }

  /** Makes everything ready for every router: from now on any route is a look-up. */
  prepare(): void {
    for (const s of this.network.speakers) if (!this.chooserOf(s)) this.rowsOf(s);
    this.external.prepare();
  }

  private readonly kept: (InternalRows | undefined)[] = [];

  /** The rows of a router that reads several areas, or through virtual links. */
  rowsOf(s: Speaker): InternalRows {
    let rows = this.kept[s.index];
    if (!rows) {
      rows = this.arrays.filling.emptyRows();
      this.arrays.filling.fill(rows, s, false);
      this.kept[s.index] = rows;
    }
    return rows;
  }

  /** A router's choices; `undefined` for one that reads several areas, or through virtual links. */
  chooserOf(s: Speaker): Chooser | undefined {
    return this.arrays.choosers.of(s);
  }

  /** Writes a router's whole table into a buffer: its routes inside the system, then externals. */
  fill(out: TableBuffer, s: Speaker): void {
    const slots = this.arrays.slotsOf(s);
    const chooser = this.chooserOf(s);
    out.count = 0;
    const limit = s.instance.paths;
    if (chooser) {
      this.finder.lookAt(chooser);
      if (chooser.inside) addPacked(out, chooser.inside);
      else this.addNetworks(out, chooser.reads, slots);
      limitFrom(0, out, slots, limit);
      addImports(out, chooser, this.without(chooser), chooser.choice.limited(slots, limit));
    } else {
      const rows = this.rowsOf(s);
      this.finder.lookAtRows(rows);
      addRows(out, rows);
      limitFrom(0, out, slots, limit);
    }
    const inside = out.count;
    this.external.fill(out, this.finder, s);
    limitFrom(inside, out, slots, limit);
  }

  private skip = new Uint8Array(0);
  private skipped: readonly number[] | Int32Array = [];
  private skippedToo: readonly number[] = [];

  /** Marks imported prefixes that a router does not take: it has them inside, or a range of its own in their place. */
  private without(chooser: Chooser): Uint8Array {
    if (this.skip.length < this.arrays.prefixes.size) this.skip = new Uint8Array(this.arrays.prefixes.size);
    const { skip } = this;
    for (const id of this.skipped) skip[id] = 0;
    for (const id of this.skippedToo) skip[id] = 0;
    this.skipped = chooser.inside?.ids ?? chooser.imports.insideToo.filter((id) => this.finder.inside(id));
    this.skippedToo = chooser.inside?.own ?? [];
    for (const id of this.skipped) skip[id] = 1;
    for (const id of this.skippedToo) skip[id] = 1;
    return skip;
  }

  /** Writes a router's external routes alone into a buffer. */
  fillOutside(out: TableBuffer, s: Speaker): void {
    out.count = 0;
    this.external.fill(out, this.finderOf(s), s);
    limitFrom(0, out, this.arrays.slotsOf(s), s.instance.paths);
  }

  /** Finds a router's routes inside the system, one by one; serves one router at a time. */
  finderOf(s: Speaker): InsideFinder {
    const chooser = this.chooserOf(s);
    if (chooser) this.finder.lookAt(chooser);
    else this.finder.lookAtRows(this.rowsOf(s));
    return this.finder;
  }

  /** Networks inside the area of a router that has one. */
  private addNetworks(out: TableBuffer, root: RootRows, slots: HopSlots): void {
    const area = this.arrays.areas[root.index];
    if (!area) return;
    const { ids, first, vertex, cost, link } = area.networks;
    const { distance, hops, root: self } = root;
    const { prefix, kind, metric, hops: ways } = out;
    const { wide } = slots;
    let count = out.count;
    for (let n = 0; n < ids.length; n++) {
      let best = noWay;
      let through: HopCode = 0;
      const end = first[n + 1] ?? 0;
      for (let e = first[n] ?? 0; e < end; e++) {
        const v = vertex[e] ?? 0;
        const d = (distance[v] ?? noWay) + (cost[e] ?? 0);
        if (d > best || d >= noWay || (d === best && (link[e] ?? 0) < 0)) continue;
        const h = v === self ? ownHop(area, v, link[e] ?? 0, slots) : (hops[v] ?? 0);
        through = d < best ? h : wide ? slots.join(through, h) : through | h;
        best = d;
      }
      if (best >= noWay) continue;
      prefix[count] = ids[n] ?? 0;
      kind[count] = 0;
      metric[count] = best;
      ways[count] = through;
      count++;
    }
    out.count = count;
  }
}

/** Leaves out ways beyond the limit, from an entry on. */
function limitFrom(start: number, out: TableBuffer, slots: HopSlots, limit: number): void {
  const { hops, count } = out;
  if (!slots.wide && limit > 31) return;
  const { wide } = slots;
  for (let i = start; i < count; i++) {
    const code = hops[i] ?? 0;
    if (wide || (code & (code - 1)) !== 0) hops[i] = slots.limited(code, limit);
  }
}

function addRows(out: TableBuffer, rows: InternalRows): void {
  const { touched, kind, cost, hops, filled } = rows;
  for (let i = 0; i < filled; i++) {
    const id = touched[i] ?? 0;
    out.add(id, (kind[id] ?? 1) - 1, cost[id] ?? 0, 0, hops[id] ?? 0);
  }
}

function addPacked(out: TableBuffer, rows: Packed): void {
  const { ids, kind, cost, hops } = rows;
  for (let i = 0; i < ids.length; i++) out.add(ids[i] ?? 0, (kind[i] ?? 1) - 1, cost[i] ?? 0, 0, hops[i] ?? 0);
}

/** What summaries bring to a router, but for prefixes that are marked. */
function addImports(out: TableBuffer, chooser: Chooser, without: Uint8Array, hops: Int32Array): void {
  const { ids, classOf, offset } = chooser.imports.entries;
  const { cost } = chooser.choice;
  const { prefix, kind, metric, hops: ways } = out;
  let n = out.count;
  for (let i = 0; i < ids.length; i++) {
    const k = classOf[i] ?? 0;
    const base = cost[k] ?? noWay;
    const id = ids[i] ?? 0;
    if (base >= noWay || without[id] === 1) continue;
    prefix[n] = id;
    kind[n] = 1;
    metric[n] = base + (offset[i] ?? 0);
    ways[n] = hops[k] ?? 0;
    n++;
  }
  out.count = n;
}
