import { noWay } from './all-distances';
import type { HopCode, HopSlots } from './hop-slots';

/**
 * Who offers what at which cost: thing `i` is offered by the vertices `vertex[e]` at `cost[e]`, for `e` from `first[i]` to
 * `first[i + 1] - 1`. Networks of an area, classes of prefixes that border routers tell of, boundary routers: of all who
 * offer a thing a router uses the nearest, and equal ones together.
 */
export interface Offers {
  readonly first: Int32Array;
  readonly vertex: Int32Array;
  readonly cost: Int32Array;
  /** The way to what a router offers itself; without it, nobody uses what he offers himself. */
  readonly own?: (offer: number, slots: HopSlots) => HopCode;
}

/** One router in an area: its vertex, and distances and sets of next hops to each vertex. */
export class RootRows {
  constructor(
    /** Index of the area's database. */
    readonly index: number,
    readonly root: number,
    /** Vertices from here on are transit networks. */
    readonly routers: number,
    readonly distance: Int32Array,
    readonly hops: Int32Array,
  ) {}
}

/** Columns that answers are written into. */
export interface Answers {
  readonly cost: Int32Array;
  readonly hops: Int32Array;
}

/**
 * The nearest of the offers, equals joined, for things `from` to `to - 1`: cost and next hops stand at `at` and behind it
 * then, `noWay` where nobody who is reached offers it. Of two transit networks of one prefix the first stays (RFC 2328
 * §16.1 (4)). Small, and of steady types: everything is chosen here.
 */
export function chooseNearest(offers: Offers, from: number, to: number, rows: RootRows, slots: HopSlots, out: Answers, at: number): void {
  const { first, vertex, cost, own } = offers;
  const { distance, hops, root, routers } = rows;
  const { wide } = slots;
  let place = at;
  for (let i = from; i < to; i++) {
    let best = noWay;
    let through: HopCode = 0;
    const end = first[i + 1]!;
    for (let e = first[i]!; e < end; e++) {
      const v = vertex[e]!;
      const base = distance[v]!;
      const d = base + cost[e]!;
      // A cost may be below zero, where it is told against another one: what is not reached stays so.
      if (d > best || d >= noWay || base >= noWay || (d === best && v >= routers)) continue;
      let h = hops[v]!;
      if (v === root) {
        if (!own) continue;
        h = own(e, slots);
      }
      through = d < best ? h : wide ? slots.join(through, h) : through | h;
      best = d;
    }
    out.cost[place] = best;
    out.hops[place++] = through;
  }
}

/** One answer: a router's way to one thing. */
export interface Way {
  readonly cost: number;
  readonly hops: HopCode;
}

const one: Answers = { cost: new Int32Array(1), hops: new Int32Array(1) };

/** The way to one thing; `undefined` where nobody who is reached offers it. */
export function nearestOf(offers: Offers, i: number, rows: RootRows, slots: HopSlots): Way | undefined {
  chooseNearest(offers, i, i + 1, rows, slots, one, 0);
  return one.cost[0]! < noWay ? { cost: one.cost[0]!, hops: one.hops[0]! } : undefined;
}
