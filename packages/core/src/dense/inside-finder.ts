import { noWay } from './area-rows';
import type { Chooser } from './choosers';
import type { InternalFinder } from './exit';
import type { HopCode, HopSlots } from './hop-slots';
import { interArea, intraArea, noRoute, type InternalArrays } from './internal-rows';
import { hopsOfNearest, nearest } from './nearest';
import type { InternalRows } from './row-filling';

/** Answers for single prefixes inside the system of the router last looked at; the answer stands in the fields. */
export class InsideFinder implements InternalFinder {
  kind = noRoute;
  cost = 0;
  hops: HopCode = 0;
  database = 0;
  private chooser: Chooser | undefined;
  private slots: HopSlots | undefined;
  private rows: InternalRows | undefined;

  constructor(private readonly arrays: InternalArrays) {}

  /** From now on it answers from rows. */
  lookAtRows(rows: InternalRows): void {
    this.chooser = undefined;
    this.rows = rows;
  }

  /** From now on it answers for a router whose classes are chosen. */
  lookAt(chooser: Chooser): void {
    this.chooser = chooser;
    this.slots = this.arrays.slotsOf(chooser.speaker);
  }

  find(id: number): boolean {
    const { chooser, rows } = this;
    if (!chooser) {
      if (!rows) return false;
      this.kind = rows.kind[id] ?? noRoute;
      this.cost = rows.cost[id] ?? 0;
      this.hops = rows.hops[id] ?? 0;
      this.database = rows.database[id] ?? 0;
      return this.kind !== noRoute;
    }
    if (this.inside(id)) return true;
    const { imports, choice, inside } = chooser;
    if (inside?.own.includes(id) || !imports.find(id)) return false;
    const base = choice.cost[imports.foundClass] ?? noWay;
    if (base >= noWay) return false;
    this.kind = interArea;
    this.cost = base + imports.foundOffset;
    this.hops = choice.hops[imports.foundClass] ?? 0;
    this.database = chooser.reads.index;
    return true;
  }

  /** The route to a network inside the router's areas: the nearest, of equal ones in several areas all. */
  inside(id: number): boolean {
    const { chooser, slots } = this;
    if (!chooser || !slots) return false;
    let best = noWay;
    for (const root of chooser.roots) {
      const area = this.arrays.areas[root.index];
      const n = area?.networks.place[id] ?? -1;
      if (!area || n < 0) continue;
      const found = nearest(area.networks, n, root, slots, area);
      if (found >= noWay || found > best) continue;
      this.hops = found < best ? hopsOfNearest() : slots.join(this.hops, hopsOfNearest());
      if (found < best) this.database = root.index;
      best = found;
    }
    this.kind = intraArea;
    this.cost = best;
    return best < noWay;
  }
}
