import type { Speaker } from '../adjacency/speakers';
import { noWay, type AreaNetworks } from './area-rows';
import type { Chooser } from './choosers';
import type { HopCode, HopSlots } from './hop-slots';
import { interArea, intraArea, type Packed } from './inside';
import type { InternalArrays } from './internal-arrays';
import { nearestOf, noWayYet, type RootRows } from './offers';

/** A router's route inside the system to one prefix. */
export interface InsideRoute {
  readonly kind: number;
  readonly cost: number;
  readonly hops: HopCode;
  /** Index of the database it came through. */
  readonly database: number;
}

const one = noWayYet();

/** Answers for single prefixes inside the system of one router. */
export type InternalFinder = (id: number) => InsideRoute | undefined;

export const sameWay = (a: InsideRoute | undefined, b: InsideRoute | undefined): boolean =>
  a?.kind === b?.kind && a?.cost === b?.cost && a?.hops === b?.hops;

/**
 * The route to a network inside a router's areas: the nearest, of equal ones in several areas all.
 *
 * @param roots       the router in its areas
 * @param networksOf  networks of an area, by index of its database
 */
export function insideRoute(
  id: number,
  roots: readonly RootRows[],
  slots: HopSlots,
  networksOf: (index: number) => AreaNetworks,
): InsideRoute | undefined {
  let [cost, hops, database] = [noWay, 0, -1];
  for (const root of roots) {
    const networks = networksOf(root.index);
    const n = networks.place[id] ?? -1;
    const way = n < 0 ? undefined : nearestOf(networks, n, root, slots, one);
    if (!way || way.cost > cost) continue;
    hops = way.cost === cost ? slots.join(hops, way.hops) : way.hops;
    if (way.cost < cost) [cost, database] = [way.cost, root.index];
  }
  return database < 0 ? undefined : { kind: intraArea, cost, hops, database };
}

/** Finds a router's routes inside the system, one by one. */
export function finderOf(arrays: InternalArrays, s: Speaker): InternalFinder {
  const chooser = arrays.choosers.of(s);
  if (!chooser) return listed(arrays.whole(s));
  const slots = arrays.slotsOf(s);
  const networksOf = (index: number): AreaNetworks => arrays.areas[index]!.networks;
  return (id) => insideRoute(id, chooser.roots, slots, networksOf) ?? toldRoute(chooser, id);
}

/** What a router chooses of what it is told; its own ranges in force stand in the way of what others say (RFC 2328 §16.2 (3)). */
function toldRoute({ imports, choice, inside, reads }: Chooser, id: number): InsideRoute | undefined {
  const as = inside?.own.includes(id) ? undefined : imports.find(id);
  const base = as ? choice.cost[as.class]! : noWay;
  if (!as || base >= noWay) return undefined;
  return { kind: interArea, cost: base + as.offset, hops: choice.hops[as.class]!, database: reads.index };
}

const listed =
  (rows: Packed): InternalFinder =>
  (id) => {
    const at = rows.placeOf(id);
    if (at < 0) return undefined;
    const { kind, cost, hops, database } = rows.list;
    return { kind: kind[at]!, cost: cost[at]!, hops: hops[at]!, database: database[at]! };
  };
