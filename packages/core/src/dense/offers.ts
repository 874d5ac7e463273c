import { noWay } from './all-distances';
import type { HopCode, HopSlots } from './hop-slots';

/**
 * Who offers what at which cost: thing `i` is offered by the vertices `vertex[e]` at `cost[e]`, for `e` from `first[i]` to
 * `first[i + 1] - 1`. Networks of an area, classes of prefixes that border routers tell of, boundary routers: of all who
 * offer a thing a router uses the nearest, and equal ones together.
 */
export class Offers {
  /** @param own  the way to what a router offers itself; without it, nobody uses what he offers himself */
  constructor(
    public first: Int32Array,
    public vertex: Int32Array,
    public cost: Int32Array,
    readonly own?: (offer: number, slots: HopSlots) => HopCode,
  ) {}

  /** How many things there are. */
  get things(): number {
    return this.first.length - 1;
  }
}

/** One router in an area: its vertex, and distances and sets of next hops to each vertex. */
export class RootRows {
  constructor(
    /** Index of the area's database. */
    readonly index: number,
    readonly root: number,
    /** Vertices from here on are transit networks of which the first stays among equals; in version 3 none is. */
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

/** One answer: a router's way to one thing. Who asks often asks with the same one again. */
export interface Way {
  cost: number;
  hops: HopCode;
}

export const noWayYet = (): Way => ({ cost: noWay, hops: 0 });

/**
 * The nearest of the offers of thing `i`, equals joined; `noWay` where nobody who is reached offers it. Of two transit
 * networks of one prefix the first stays (RFC 2328 §16.1 (4)). Small, and of steady types: everything is chosen here.
 */
function choose({ first, vertex, cost, own }: Offers, i: number, { distance, hops, root, routers }: RootRows, slots: HopSlots, out: Way): void {
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
    through = d < best || through === h ? h : slots.wide ? slots.join(through, h) : through | h;
    best = d;
  }
  out.cost = best;
  out.hops = through;
}

const one = noWayYet();

/** Chooses for things `from` to `to - 1`: cost and next hops stand at `at` and behind it then. */
export function chooseNearest(offers: Offers, from: number, to: number, rows: RootRows, slots: HopSlots, out: Answers, at: number): void {
  const { cost, hops } = out;
  let place = at;
  for (let i = from; i < to; i++) {
    choose(offers, i, rows, slots, one);
    cost[place] = one.cost;
    hops[place++] = one.hops;
  }
}

/** The way to one thing, put into `into`; `undefined` where nobody who is reached offers it. */
export function nearestOf(offers: Offers, i: number, rows: RootRows, slots: HopSlots, into = noWayYet()): Way | undefined {
  choose(offers, i, rows, slots, into);
  return into.cost < noWay ? into : undefined;
}
