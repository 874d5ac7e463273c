import type { Speaker } from '../adjacency/speakers';
import { backbone, type Area } from '../design/design';
import { mayEnter } from '../lsdb/summary-lsa';
import type { Ipv4 } from '../prefix/ipv4';
import { noWay, type AreaArrays } from './area-rows';
import type { HopCode, HopSlots } from './hop-slots';
import { nearestOf, Offers, noWayYet, type RootRows } from './offers';

/** Types 4 of one border router in one area: costs by boundary router, `noWay` for nothing. */
export interface BoundaryRow {
  readonly speaker: number;
  readonly adv: Ipv4;
  readonly vertex: number;
  readonly cost: Int32Array;
}

/** What one area knows of boundary routers. */
export interface BoundaryGround {
  /** By boundary router: its vertex in the area, -1 where it is none there. */
  readonly vertices: Int32Array;
  /** Who tells of which, at which cost. */
  readonly told: Offers;
}

/** Boundary routers as vertices of an area: those that say there that they are (RFC 2328 A.4.2, bit E). */
export function verticesIn({ graph }: AreaArrays, boundaries: readonly Ipv4[]): Int32Array {
  const out = new Int32Array(boundaries.length).fill(-1);
  for (let k = 0; k < out.length; k++) {
    const v = graph.vertexOfRouter.get(boundaries[k]!) ?? -1;
    if (graph.routers[v]?.bits.e) out[k] = v;
  }
  return out;
}

/**
 * What border routers tell of boundary routers, as offers: boundary router `k` by row `j` is offer `k * rows.length + j`.
 * Who is no vertex of the area offers nothing.
 */
export function toldOf(rows: readonly BoundaryRow[], boundaries: number): Offers {
  const width = rows.length;
  const [first, vertex, cost] = [new Int32Array(boundaries + 1), new Int32Array(boundaries * width), new Int32Array(boundaries * width)];
  for (let k = 0; k <= boundaries; k++) first[k] = k * width;
  for (let j = 0; j < width; j++) {
    const row = rows[j]!;
    for (let k = 0, e = j; k < boundaries; k++, e += width) {
      vertex[e] = Math.max(0, row.vertex);
      cost[e] = row.vertex < 0 ? noWay : row.cost[k]!;
    }
  }
  return new Offers(first, vertex, cost);
}

/** Ways of one router to every boundary router: which is used of all (RFC 2328 §16.4 (3)). */
export class BoundaryWays {
  constructor(
    readonly cost: Int32Array,
    readonly hops: Int32Array,
    /** Twice the index of the database through which it leads, and one more where the boundary router is inside there; -1 without a way. */
    readonly via: Int32Array,
  ) {}
}

export const isInside = (via: number): boolean => (via & 1) === 1;
/** Index of the database. */
export const throughOf = (via: number): number => via >> 1;

/** Rank of a way (RFC 2328 §16.4.1): 0 is preferred. */
export const rankOf = (s: Speaker, inside: boolean, areaId: number): number =>
  s.instance.rfc1583Compatible || (inside && areaId !== backbone) ? 0 : 1;

/** A router in one of its areas, as ways to boundary routers look at it. */
export class Seat {
  constructor(
    readonly rows: RootRows,
    readonly areaId: number,
    /** Whether it reads summaries there. */
    readonly reads: boolean,
  ) {}
}

/** Ways to so many boundary routers before any is known. */
export const emptyWays = (n: number): BoundaryWays => new BoundaryWays(new Int32Array(n).fill(noWay), new Int32Array(n), new Int32Array(n).fill(-1));

const one = noWayYet();

/** Who looks for ways to boundary routers, and where. */
export interface Looking {
  readonly speaker: Speaker;
  readonly slots: HopSlots;
  /** The router's areas by ascending id. */
  readonly seats: readonly Seat[];
}

/**
 * The way to boundary router `k`: in each area the one inside, else the nearest of those who tell of it (RFC 2328 §16.2); of
 * all areas by rank, cost and the larger id (§16.4 (3), §16.4.1). It is put into `out`.
 *
 * @param ground  what each area knows, by index of its database
 */
export function findWay(out: BoundaryWays, { speaker, slots, seats }: Looking, ground: (index: number) => BoundaryGround, k: number): void {
  let [best, hops, via, rank] = [noWay, 0, -1, 2];
  for (const { rows, areaId, reads } of seats) {
    const { vertices, told } = ground(rows.index);
    const v = vertices[k]!;
    const inside = v >= 0 && v !== rows.root && rows.distance[v]! < noWay;
    const way = inside || !reads ? undefined : nearestOf(told, k, rows, slots, one);
    const cost = inside ? rows.distance[v]! : (way?.cost ?? noWay);
    const here = rankOf(speaker, inside, areaId);
    if (cost >= noWay || here > rank || (here === rank && cost > best)) continue;
    [best, rank, via] = [cost, here, 2 * rows.index + (inside ? 1 : 0)];
    hops = inside ? rows.hops[v]! : one.hops;
  }
  out.cost[k] = best;
  out.hops[k] = hops;
  out.via[k] = via;
}

/** A border router as it tells of boundary routers. */
export interface BoundaryTeller {
  readonly ways: BoundaryWays;
  readonly areaOf: (index: number) => Area;
  /** Whether a set of next hops leads into the area that is told. */
  readonly crosses: (hops: HopCode) => boolean;
}

/** The cost at which a border router tells one area of a boundary router (RFC 2328 §12.4.3): `noWay` where it tells nothing. */
export function boundaryCost({ ways, areaOf, crosses }: BoundaryTeller, into: Area, k: number): number {
  const cost = ways.cost[k]!;
  if (cost >= noWay || into.type !== 'normal') return noWay;
  const via = ways.via[k]!;
  const from = areaOf(throughOf(via));
  return from.type === 'normal' && mayEnter(isInside(via), from.id, cost, into.id) && !crosses(ways.hops[k]!) ? cost : noWay;
}
