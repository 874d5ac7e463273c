import { noWay } from '../dense/area-rows';
import type { Imports } from '../dense/imports';
import type { AreaGround } from './area-ground';
import type { Reader } from './moves';

/** What `chooseNow` found last, by class. */
export let nowCost = new Int32Array(64);
export let nowHops = new Int32Array(64);
let base = new Int32Array(64);
let ways = new Int32Array(64);

/** What a router of an area chooses now for every class of what it is told; it stands in `nowCost` and `nowHops` then. */
export function chooseNow(imports: Imports, ground: AreaGround, vertex: number, self: number, slots: Reader['slots']): void {
  const { rows, vectors } = imports;
  if (nowCost.length < vectors.count) [nowCost, nowHops] = [new Int32Array(vectors.count * 2), new Int32Array(vectors.count * 2)];
  if (base.length < rows.length) [base, ways] = [new Int32Array(rows.length * 2), new Int32Array(rows.length * 2)];
  const { size, distance, hops } = ground;
  for (let j = 0; j < rows.length; j++) {
    const r = rows[j];
    const at = vertex * size + (r?.vertex ?? 0);
    const own = !r || r.adv === self;
    base[j] = own ? noWay : (distance[at] ?? noWay);
    ways[j] = own ? 0 : (hops[at] ?? 0);
  }
  const { first, row, cost } = vectors;
  const { wide } = slots;
  for (let k = 0; k < vectors.count; k++) {
    let best = noWay;
    let through = 0;
    const end = first[k + 1] ?? 0;
    for (let e = first[k] ?? 0; e < end; e++) {
      const j = row[e] ?? 0;
      const d = (base[j] ?? noWay) + (cost[e] ?? 0);
      if (d > best || d >= noWay) continue;
      const h = ways[j] ?? 0;
      through = d < best ? h : wide ? slots.join(through, h) : through | h;
      best = d;
    }
    nowCost[k] = best;
    nowHops[k] = through;
  }
}
