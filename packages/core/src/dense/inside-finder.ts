import { noWay } from './area-rows';
import type { InternalFinder } from './external-rows';
import type { HopCode, HopSlots } from './hop-slots';
import type { ClassChoice, Imports } from './imports';
import { interArea, intraArea, noRoute, type AreaArrays, type InternalArrays, type InternalRows, type RootRows } from './internal-rows';
import { hopsOfNearest, nearest } from './nearest';

/** Answers for single prefixes inside the system of the router last looked at; the answer stands in the fields. */
export class InsideFinder implements InternalFinder {
  kind = noRoute;
  cost = 0;
  hops: HopCode = 0;
  database = 0;
  private area: AreaArrays | undefined;
  private root: RootRows | undefined;
  private imports: Imports | undefined;
  private slots: HopSlots | undefined;
  private choice: ClassChoice | undefined;

  private rows: InternalRows | undefined;

  /** From now on it answers from rows. */
  lookAtRows(rows: InternalRows): void {
    this.area = undefined;
    this.rows = rows;
  }

  /** From now on it answers for a router inside one area, whose classes are chosen. */
  lookInside(
    arrays: InternalArrays,
    at: { readonly root: RootRows; readonly imports: Imports; readonly choice: ClassChoice },
    slots: HopSlots,
  ): void {
    this.area = arrays.areas[at.root.index];
    this.root = at.root;
    this.imports = at.imports;
    this.choice = at.choice;
    this.slots = slots;
  }

  find(id: number): boolean {
    const { area, rows } = this;
    if (!area) {
      if (!rows) return false;
      this.kind = rows.kind[id] ?? noRoute;
      this.cost = rows.cost[id] ?? 0;
      this.hops = rows.hops[id] ?? 0;
      this.database = rows.database[id] ?? 0;
      return this.kind !== noRoute;
    }
    if (this.network(area.networks.place[id] ?? -1)) return true;
    const at = this.imports?.place[id] ?? -1;
    if (!this.imports || !this.choice || at < 0) return false;
    const k = this.imports.classOf[at] ?? 0;
    const base = this.choice.cost[k] ?? noWay;
    if (base >= noWay) return false;
    this.kind = interArea;
    this.cost = base + (this.imports.offset[at] ?? 0);
    this.hops = this.choice.hops[k] ?? 0;
    this.database = area.database.index;
    return true;
  }

  /** The route to one network inside the area, by its place in the area's networks. */
  network(n: number): boolean {
    const { area, root, slots } = this;
    if (n < 0 || !area || !root || !slots) return false;
    const found = nearest(area.networks, n, root, slots, area);
    if (found >= noWay) return false;
    this.kind = intraArea;
    this.cost = found;
    this.hops = hopsOfNearest();
    this.database = area.database.index;
    return true;
  }
}
