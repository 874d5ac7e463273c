import type { Speaker } from '../adjacency/speakers';
import { backbone, type Area } from '../design/design';
import { mayEnter } from '../lsdb/summary-lsa';
import type { Ipv4 } from '../prefix/ipv4';
import { noWay, type AreaArrays } from './area-rows';
import type { HopCode, HopSlots } from './hop-slots';
import { chooseNearest, type Offers, type RootRows } from './offers';

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
export const verticesIn = ({ graph }: AreaArrays, boundaries: readonly Ipv4[]): Int32Array =>
  Int32Array.from(boundaries, (id) => {
    const v = graph.vertexOfRouter.get(id) ?? -1;
    return graph.routers[v]?.bits.e ? v : -1;
  });

/**
 * What border routers tell of boundary routers, as offers: boundary router `k` by row `j` is offer `k * rows.length + j`.
 * Who is no vertex of the area offers nothing.
 */
export function toldOf(rows: readonly BoundaryRow[], boundaries: number): Offers {
  const width = rows.length;
  return {
    first: Int32Array.from({ length: boundaries + 1 }, (_, k) => k * width),
    vertex: Int32Array.from({ length: boundaries * width }, (_, e) => Math.max(0, rows[e % width]!.vertex)),
    cost: Int32Array.from({ length: boundaries * width }, (_, e) => {
      const { vertex, cost } = rows[e % width]!;
      return vertex < 0 ? noWay : cost[Math.floor(e / width)]!;
    }),
  };
}

/** Ways of one router to every boundary router: which is used of all (RFC 2328 §16.4 (3)). */
export interface BoundaryWays {
  readonly cost: Int32Array;
  /** Rank of §16.4.1: 0 is preferred; 2 without a way. */
  readonly rank: Int32Array;
  readonly hops: Int32Array;
  /** Index of the database through which it leads, and whether the boundary router is inside there. */
  readonly database: Int32Array;
  readonly inside: Uint8Array;
}

/** A router in one of its areas, as ways to boundary routers look at it. */
export interface Seat {
  readonly rows: RootRows;
  readonly areaId: number;
  /** Whether it reads summaries there. */
  readonly reads: boolean;
}

/** Ways to so many boundary routers before any is known. */
export const emptyWays = (n: number): BoundaryWays => ({
  cost: new Int32Array(n).fill(noWay),
  rank: new Int32Array(n).fill(2),
  hops: new Int32Array(n),
  database: new Int32Array(n).fill(-1),
  inside: new Uint8Array(n),
});

let near = { cost: new Int32Array(16), hops: new Int32Array(16) };

/** Who looks for ways to boundary routers, and where. */
export interface Looking {
  readonly speaker: Speaker;
  readonly slots: HopSlots;
  /** The router's areas by ascending id. */
  readonly seats: readonly Seat[];
}

/**
 * Ways to the boundary routers `from` to `to - 1`: in each area the one inside, else the nearest of those who tell of it
 * (RFC 2328 §16.2); of all areas by rank, cost and the larger id (§16.4 (3), §16.4.1). They are put into `out`.
 *
 * @param ground  what each area knows, by index of its database
 */
export function fillWays(
  out: BoundaryWays,
  { speaker, slots, seats }: Looking,
  ground: (index: number) => BoundaryGround,
  from: number,
  to: number,
): void {
  if (near.cost.length < to) near = { cost: new Int32Array(2 * to), hops: new Int32Array(2 * to) };
  for (let k = from; k < to; k++) {
    out.cost[k] = noWay;
    out.rank[k] = 2;
    out.hops[k] = 0;
    out.database[k] = -1;
    out.inside[k] = 0;
  }
  for (const { rows, areaId, reads } of seats) {
    const { vertices, told } = ground(rows.index);
    if (reads) chooseNearest(told, from, to, rows, slots, near, from);
    for (let k = from; k < to; k++) {
      const v = vertices[k]!;
      const inside = v >= 0 && v !== rows.root && rows.distance[v]! < noWay;
      const cost = inside ? rows.distance[v]! : reads ? near.cost[k]! : noWay;
      const rank = speaker.instance.rfc1583Compatible || (inside && areaId !== backbone) ? 0 : 1;
      if (cost >= noWay || rank > out.rank[k]! || (rank === out.rank[k] && cost > out.cost[k]!)) continue;
      out.cost[k] = cost;
      out.rank[k] = rank;
      out.hops[k] = inside ? rows.hops[v]! : near.hops[k]!;
      out.database[k] = rows.index;
      out.inside[k] = inside ? 1 : 0;
    }
  }
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
  const from = areaOf(ways.database[k]!);
  return from.type === 'normal' && mayEnter(ways.inside[k] === 1, from.id, cost, into.id) && !crosses(ways.hops[k]!) ? cost : noWay;
}
