import type { Speaker } from '../adjacency/speakers';
import { ExternalArrays, type ExternalRows, type ExternalSource } from './external-rows';
import type { HopCode } from './hop-slots';
import type { InternalArrays, InternalNetwork, InternalRows } from './internal-rows';

/**
 * What one OSPF process knows, entry by entry: prefix and hops as numbers, `kind` a place in `routeTypes`, `metric` the
 * OSPF distance (for type 2 the external metric), `forward` for externals the distance to the exit, else 0.
 */
export type UseRoute = (prefix: number, kind: number, metric: number, forward: number, hops: HopCode) => void;

/** Every route of every router without an object for any: the same answers as the readable tables, many times as fast. */
export class TableRows {
  private readonly external: ExternalArrays;
  private readonly internalRows: InternalRows;
  private readonly externalRows: ExternalRows;

  constructor(
    readonly arrays: InternalArrays,
    private readonly network: InternalNetwork & { fillRows(rows: InternalRows, s: Speaker): void },
    source: ExternalSource,
  ) {
    this.external = new ExternalArrays(network, arrays, source);
    this.internalRows = arrays.emptyRows();
    this.externalRows = this.external.emptyRows();
  }

  /** Goes over a router's routes, those inside the system first. */
  each(s: Speaker, use: UseRoute): void {
    const { internalRows: inside, externalRows: outside } = this;
    const slots = this.arrays.slotsOf(s);
    const limit = s.instance.paths;
    const limited = slots.wide || limit < 32;
    this.network.fillRows(inside, s);
    for (let i = 0; i < inside.filled; i++) {
      const id = inside.touched[i] ?? 0;
      const hops = inside.hops[id] ?? 0;
      use(id, (inside.kind[id] ?? 1) - 1, inside.cost[id] ?? 0, 0, limited ? slots.limited(hops, limit) : hops);
    }
    this.external.fill(outside, inside, s);
    for (let i = 0; i < outside.filled; i++)
      use(outside.ids[i] ?? 0, outside.kind[i] ?? 0, outside.metric[i] ?? 0, outside.forward[i] ?? 0, slots.limited(outside.hops[i] ?? 0, limit));
  }
}
