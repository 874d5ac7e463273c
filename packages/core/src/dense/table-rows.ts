import type { Speaker } from '../adjacency/speakers';
import type { Externals } from '../routes/external-settling';
import { noWay } from './area-rows';
import type { Boundaries } from './boundaries';
import type { Chooser } from './choosers';
import { ExternalArrays } from './external-rows';
import type { HopSlots } from './hop-slots';
import { finderOf, insideRoute, type InternalFinder } from './inside-finder';
import type { Packed } from './inside';
import type { InternalArrays } from './internal-arrays';
import { chooseNearest } from './offers';
import { TableBuffer } from './table-buffer';

/** Every route of every router without an object for any: the same answers as the readable tables, many times as fast. */
export class TableRows {
  readonly external: ExternalArrays;

  constructor(
    readonly arrays: InternalArrays,
    boundaries: Boundaries,
    source: Externals,
    before?: TableRows,
  ) {
    this.external = new ExternalArrays(arrays, boundaries, source, before?.external);
  }

  /** A buffer that holds any router's table. */
  emptyBuffer(): TableBuffer {
    return new TableBuffer(this.arrays.prefixes.size);
  }

  /** Makes everything ready for every router: from now on any route is a look-up. */
  prepare(): void {
    for (const s of this.arrays.domain.speakers) if (!this.chooserOf(s)) this.arrays.whole(s);
    this.external.prepare();
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
    if (chooser?.inside) addPacked(out, chooser.inside);
    else if (chooser) this.addNetworks(out, chooser, slots);
    else addPacked(out, this.arrays.whole(s));
    limitFrom(0, out, slots, limit);
    if (chooser) addImports(out, chooser, this.without(chooser), chooser.choice.limited(slots, limit));
    const inside = out.count;
    this.external.fill(out, this.finderOf(s), s);
    limitFrom(inside, out, slots, limit);
  }

  private skip = new Uint8Array(0);
  private skipped: Iterable<number> = [];
  private skippedToo: readonly number[] = [];

  /** Marks imported prefixes that a router does not take: it has them inside, or a range of its own in their place; `undefined` without any. */
  private without(chooser: Chooser): Uint8Array | undefined {
    if (!chooser.inside && chooser.imports.insideToo.length === 0) return undefined;
    if (this.skip.length < this.arrays.prefixes.size) this.skip = new Uint8Array(this.arrays.prefixes.size);
    const { skip } = this;
    for (const id of this.skipped) skip[id] = 0;
    for (const id of this.skippedToo) skip[id] = 0;
    this.skipped = chooser.inside?.list.ids ?? chooser.imports.insideToo.filter((id) => this.isInside(chooser, id));
    this.skippedToo = chooser.inside?.own ?? [];
    for (const id of this.skipped) skip[id] = 1;
    for (const id of this.skippedToo) skip[id] = 1;
    return skip;
  }

  private isInside({ speaker, roots }: Chooser, id: number): boolean {
    return insideRoute(id, roots, this.arrays.slotsOf(speaker), (index) => this.arrays.areas[index]!.networks) !== undefined;
  }

  /** Writes a router's external routes alone into a buffer. */
  fillOutside(out: TableBuffer, s: Speaker): void {
    out.count = 0;
    this.external.fill(out, this.finderOf(s), s);
    limitFrom(0, out, this.arrays.slotsOf(s), s.instance.paths);
  }

  /** Finds a router's routes inside the system, one by one. */
  finderOf(s: Speaker): InternalFinder {
    return finderOf(this.arrays, s);
  }

  /** Networks inside the area of a router that has one. */
  private addNetworks(out: TableBuffer, { reads }: Chooser, slots: HopSlots): void {
    const { networks } = this.arrays.areas[reads.index]!;
    const { ids } = networks;
    const { prefix, kind, metric, hops } = out;
    let count = out.count;
    chooseNearest(networks, 0, ids.length, reads, slots, out.answers, count);
    // What is not reached is left out in place.
    for (let n = 0, from = count; n < ids.length; n++, from++) {
      if (metric[from]! >= noWay) continue;
      prefix[count] = ids[n]!;
      kind[count] = 0;
      metric[count] = metric[from]!;
      hops[count++] = hops[from]!;
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
    const code = hops[i]!;
    if (wide || (code & (code - 1)) !== 0) hops[i] = slots.limited(code, limit);
  }
}

function addPacked(out: TableBuffer, { list }: Packed): void {
  const { ids, kind, cost, hops } = list;
  for (let i = 0; i < ids.length; i++) out.add(ids[i]!, kind[i]! - 1, cost[i]!, 0, hops[i]!);
}

/** What summaries bring to a router, but for prefixes that are marked. */
function addImports(out: TableBuffer, chooser: Chooser, without: Uint8Array | undefined, hops: Int32Array): void {
  const { ids, classOf, offset } = chooser.imports.entries;
  const { cost } = chooser.choice;
  const { prefix, kind, metric, hops: ways } = out;
  const start = out.count;
  let n = start;
  if (without || cost.includes(noWay))
    for (let i = 0; i < ids.length; i++) {
      const k = classOf[i]!;
      const id = ids[i]!;
      if (cost[k]! >= noWay || without?.[id] === 1) continue;
      prefix[n] = id;
      metric[n] = cost[k]! + offset[i]!;
      ways[n++] = hops[k]!;
    }
  else {
    // Everything is reached, as nearly everywhere.
    prefix.set(ids, start);
    for (let i = 0; i < ids.length; i++, n++) {
      const k = classOf[i]!;
      metric[n] = cost[k]! + offset[i]!;
      ways[n] = hops[k]!;
    }
  }
  kind.fill(1, start, n);
  out.count = n;
}
