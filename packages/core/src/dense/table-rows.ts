import type { Speaker } from '../adjacency/speakers';
import { noWay } from './area-rows';
import { ExternalArrays, type ExternalSource } from './external-rows';
import type { HopCode, HopSlots } from './hop-slots';
import { chooseClasses, type ClassChoice, type Imports } from './imports';
import { InsideFinder } from './inside-finder';
import type { InternalArrays, InternalNetwork, InternalRows, RootRows } from './internal-rows';
import { ownHop } from './nearest';
import { TableBuffer } from './table-buffer';

/** A router that has one area and stands inside of it: it chooses by classes, and that is all there is to keep. */
export interface Insider {
  readonly root: RootRows;
  readonly imports: Imports;
  readonly choice: ClassChoice;
}

/** Every route of every router without an object for any: the same answers as the readable tables, many times as fast. */
export class TableRows {
  readonly external: ExternalArrays;
  private readonly finder = new InsideFinder();
  private readonly insiders: (Insider | null | undefined)[] = [];

  constructor(
    readonly arrays: InternalArrays,
    readonly network: InternalNetwork & { fillRows(rows: InternalRows, s: Speaker): void; rowsWritten(s: Speaker): InternalRows | undefined },
    source: ExternalSource,
    private readonly before?: { readonly rows: TableRows; readonly areas: ReadonlySet<number> },
  ) {
    this.external = new ExternalArrays(network, arrays, source, before && { external: before.rows.external, areas: before.areas });
  }

  /** A buffer that holds any router's table. */
  emptyBuffer(): TableBuffer {
    return new TableBuffer(this.arrays.prefixes.size);
  }

  /** Makes everything ready for every router: from now on any route is a look-up. Border routers keep their rows. */
  prepare(): void {
    for (const s of this.network.speakers) if (!this.insiderOf(s)) this.rowsOf(s);
    this.external.prepare();
  }

  private readonly kept: (InternalRows | undefined)[] = [];

  /** The rows of a router that stands in several areas. */
  rowsOf(s: Speaker): InternalRows {
    let rows = this.kept[s.index];
    if (!rows) {
      rows = this.network.rowsWritten(s);
      if (!rows) {
        rows = this.arrays.emptyRows();
        this.network.fillRows(rows, s);
      }
      this.kept[s.index] = rows;
    }
    return rows;
  }

  /** A router that is no border router, with its choices; `undefined` for others. */
  insiderOf(s: Speaker): Insider | undefined {
    let known = this.insiders[s.index];
    if (known === undefined) {
      known = this.chooseInside(s) ?? null;
      this.insiders[s.index] = known;
    }
    return known ?? undefined;
  }

  private chooseInside(s: Speaker): Insider | undefined {
    const areas = this.network.areasOf(s);
    const db = areas.length === 1 && !this.network.isBorderRouter(s) ? this.network.database(s, areas[0] ?? 0) : undefined;
    const root = db && this.arrays.root(s, db);
    if (!root) return undefined;
    const imports = this.arrays.imports(root.index);
    const old = this.before?.rows.insiderOf(s);
    if (old?.root === root && old.imports === imports) return old;
    if (imports.rows.some((r) => r.adv === s.routerId)) return undefined;
    const { classCount } = imports;
    const choice = { cost: new Int32Array(classCount), hops: new Int32Array(classCount) };
    const slots = this.arrays.slotsOf(s);
    // Where only few prefixes moved, the choice for all other classes stands.
    const stands = old?.root === root && imports.patch?.from === old.imports ? old.imports.classCount : 0;
    if (old && stands > 0) {
      choice.cost.set(old.choice.cost);
      choice.hops.set(old.choice.hops);
    }
    chooseClasses(choice, imports, root.distance, root.hops, slots, stands);
    for (let k = stands; k < classCount; k++) choice.hops[k] = slots.limited(choice.hops[k] ?? 0, s.instance.paths);
    return { root, imports, choice };
  }

  /** Writes a router's whole table into a buffer: its routes inside the system, then externals. */
  fill(out: TableBuffer, s: Speaker): void {
    const slots = this.arrays.slotsOf(s);
    const insider = this.insiderOf(s);
    out.count = 0;
    const limit = s.instance.paths;
    if (insider) {
      this.finder.lookInside(this.arrays, insider, slots);
      this.addNetworks(out, insider.root, slots);
      limitFrom(0, out, slots, limit);
      addImports(out, insider, this.arrays.areas[insider.root.index]?.networks.place, this.finder);
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

  /** Writes a router's external routes alone into a buffer. */
  fillOutside(out: TableBuffer, s: Speaker): void {
    out.count = 0;
    this.external.fill(out, this.finderOf(s), s);
    limitFrom(0, out, this.arrays.slotsOf(s), s.instance.paths);
  }

  /** Finds a router's routes inside the system, one by one; serves one router at a time. */
  finderOf(s: Speaker): InsideFinder {
    const insider = this.insiderOf(s);
    if (insider) this.finder.lookInside(this.arrays, insider, this.arrays.slotsOf(s));
    else this.finder.lookAtRows(this.rowsOf(s));
    return this.finder;
  }

  /** Networks inside an insider's area. */
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

/** What summaries bring to an insider; a network that its area has inside as well is left to the way inside, where there is one. */
function addImports(out: TableBuffer, insider: Insider, inside: Int32Array | undefined, finder: InsideFinder): void {
  const { ids, classOf, offset, insideToo } = insider.imports;
  const { cost, hops } = insider.choice;
  const { prefix, kind, metric, hops: ways } = out;
  let n = out.count;
  for (let i = 0; i < ids.length; i++) {
    const k = classOf[i] ?? 0;
    const base = cost[k] ?? noWay;
    const id = ids[i] ?? 0;
    if (base >= noWay || (insideToo[i] === 1 && finder.network(inside?.[id] ?? -1))) continue;
    prefix[n] = id;
    kind[n] = 1;
    metric[n] = base + (offset[i] ?? 0);
    ways[n] = hops[k] ?? 0;
    n++;
  }
  out.count = n;
}
