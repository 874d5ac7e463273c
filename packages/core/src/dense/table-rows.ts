import type { Speaker } from '../adjacency/speakers';
import { noWay } from './area-rows';
import { ExternalArrays, type ExternalSource } from './external-rows';
import type { HopCode, HopSlots } from './hop-slots';
import { chooseClasses, importsOf, type ClassChoice, type Imports } from './imports';
import { InsideFinder } from './inside-finder';
import type { InternalArrays, InternalNetwork, InternalRows, RootRows } from './internal-rows';
import { ownHop } from './nearest';
import { TableBuffer } from './table-buffer';

/** A router that has one area and stands inside of it: it chooses by classes. */
export interface Insider {
  readonly root: RootRows;
  readonly imports: Imports;
}

/** Every route of every router without an object for any: the same answers as the readable tables, many times as fast. */
export class TableRows {
  readonly external: ExternalArrays;
  private readonly rows: InternalRows;
  private readonly importsBy: (Imports | undefined)[] = [];
  private readonly choice: ClassChoice;
  private readonly finder: InsideFinder;

  constructor(
    readonly arrays: InternalArrays,
    readonly network: InternalNetwork & { fillRows(rows: InternalRows, s: Speaker): void },
    source: ExternalSource,
  ) {
    this.external = new ExternalArrays(network, arrays, source);
    this.rows = arrays.emptyRows();
    this.choice = { cost: new Int32Array(arrays.prefixes.size), hops: new Int32Array(arrays.prefixes.size) };
    this.finder = new InsideFinder(this.rows, this.choice);
  }

  /** A buffer that holds any router's table. */
  emptyBuffer(): TableBuffer {
    return new TableBuffer(this.arrays.prefixes.size);
  }

  /** What border routers tell an area, by index of its database. */
  imports(index: number): Imports {
    let known = this.importsBy[index];
    const area = this.arrays.areas[index];
    if (!known) {
      if (!area) throw new RangeError(`no database ${index}`);
      known = importsOf(area, this.arrays.rows[index] ?? [], this.arrays.prefixes.size);
      this.importsBy[index] = known;
    }
    return known;
  }

  /** The one area of a router that is no border router and chooses by classes; `undefined` for others. */
  insiderOf(s: Speaker): Insider | undefined {
    const areas = this.network.areasOf(s);
    const db = areas.length === 1 && !this.network.isBorderRouter(s) ? this.network.database(s, areas[0] ?? 0) : undefined;
    const root = db && this.arrays.root(s, db);
    if (!root) return undefined;
    const imports = this.imports(root.database.index);
    return imports.rows.some((r) => r.adv === s.routerId) ? undefined : { root, imports };
  }

  /** Writes a router's whole table into a buffer: its routes inside the system, then externals. */
  fill(out: TableBuffer, s: Speaker): void {
    const slots = this.arrays.slotsOf(s);
    const insider = this.insiderOf(s);
    out.count = 0;
    const limit = s.instance.paths;
    if (insider) {
      chooseClasses(this.choice, insider.imports, insider.root.distance, insider.root.hops, slots);
      const { classCount } = insider.imports;
      for (let k = 0; k < classCount; k++) this.choice.hops[k] = slots.limited(this.choice.hops[k] ?? 0, limit);
      this.finder.lookInside(this.arrays, insider, slots);
      this.addNetworks(out, insider.root, slots);
      limitFrom(0, out, slots, limit);
      addImports(out, insider.imports, this.choice, this.arrays.areas[insider.root.database.index]?.networks.place, this.finder);
    } else {
      this.network.fillRows(this.rows, s);
      this.finder.lookAtRows();
      addRows(out, this.rows);
      limitFrom(0, out, slots, limit);
    }
    const inside = out.count;
    this.external.fill(out, this.finder, s);
    limitFrom(inside, out, slots, limit);
  }

  /** Networks inside an insider's area. */
  private addNetworks(out: TableBuffer, root: RootRows, slots: HopSlots): void {
    const area = this.arrays.areas[root.database.index];
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
function addImports(out: TableBuffer, imports: Imports, choice: ClassChoice, inside: Int32Array | undefined, finder: InsideFinder): void {
  const { ids, classOf, offset, insideToo } = imports;
  const { cost, hops } = choice;
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
