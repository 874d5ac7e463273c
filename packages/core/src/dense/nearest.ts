import { noWay, type AreaNetworks } from './area-rows';
import type { HopCode, HopSlots } from './hop-slots';
import type { AreaArrays, RootRows } from './internal-rows';

let nearestHops: HopCode = 0;

/**
 * Distance to a network inside an area over the nearest of those that bring it, `noWay` without; its hops stand in
 * `hopsOfNearest` then. A transit network does not join others of equal cost (RFC 2328 §16.1 (4)).
 */
export function nearest(networks: AreaNetworks, n: number, root: RootRows, slots: HopSlots, area: AreaArrays): number {
  const { first, vertex, cost, link } = networks;
  const { distance, hops } = root;
  let best = noWay;
  let through: HopCode = 0;
  for (let e = first[n] ?? 0; e < (first[n + 1] ?? 0); e++) {
    const v = vertex[e] ?? 0;
    const d = (distance[v] ?? noWay) + (cost[e] ?? 0);
    if (d > best || d >= noWay || (d === best && (link[e] ?? 0) < 0)) continue;
    const h = v === root.root ? ownHop(area, v, link[e] ?? 0, slots) : (hops[v] ?? 0);
    through = d < best ? h : slots.join(through, h);
    best = d;
  }
  nearestHops = through;
  return best;
}

/** Hops of the last network that `nearest` looked at. */
export const hopsOfNearest = (): HopCode => nearestHops;

/** The way onto a network at one of the root's own ports. */
export function ownHop(area: AreaArrays, vertex: number, link: number, slots: HopSlots): HopCode {
  const port = area.graph.routers[vertex]?.portOf(link);
  return port ? slots.single(slots.place(port, undefined)) : 0;
}
