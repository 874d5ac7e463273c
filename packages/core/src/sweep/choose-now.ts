import { noWay } from '../dense/area-rows';
import { chooseEach } from '../dense/choosers';
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
  chooseEach(vectors, 0, base, ways, slots, nowCost, nowHops);
}
