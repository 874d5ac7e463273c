import type { Speaker } from '../adjacency/speakers';
import type { AreaArrays, AreaNetworks } from '../dense/area-rows';
import type { InternalArrays } from '../dense/internal-arrays';
import type { HopSlots } from '../dense/hop-slots';
import { nearestOf, noWayYet, RootRows, type Way } from '../dense/offers';
import { FirstHops } from '../dense/first-hops';
import { listsByKey, type NumberLists } from '../segments/number-lists';

/** First hops of every router of an area, router by router: those of router `r` are places `first[r]` to `first[r + 1] - 1`. */
interface AreaFirstHops {
  readonly first: Int32Array;
  readonly vertex: Int32Array;
  readonly edge: Int32Array;
  readonly behind: Int32Array;
  readonly network: Int32Array;
  readonly code: Int32Array;
}

function firstHopsOf(arrays: InternalArrays, area: AreaArrays, speakers: readonly (Speaker | undefined)[]): AreaFirstHops {
  const first = new Int32Array(speakers.length + 1);
  const hops = new FirstHops();
  speakers.forEach((s, r) => {
    if (s) arrays.firstHops(s, area, r, hops);
    first[r + 1] = hops.count;
  });
  const filled = (column: Int32Array): Int32Array => column.slice(0, hops.count);
  return {
    first,
    vertex: filled(hops.vertex),
    edge: filled(hops.edge),
    behind: filled(hops.behind),
    network: filled(hops.network),
    code: filled(hops.code),
  };
}

/**
 * One area as a ground on which cuts are tried: distances and next hops of all of its routers side by side, once as they
 * are before (`before`, `hopsBefore`) and once as they are while a cut is looked at (`distance`, `hops`), and what stands
 * beside what. Cells are `vertex * size + destination`.
 */
export class AreaGround {
  readonly size: number;
  readonly routers: number;
  /** Cost of each edge now: `noWay` while it is cut. */
  readonly weight: Int32Array;
  readonly tail: Int32Array;
  /** Edges that lead to each vertex. */
  readonly incoming: NumberLists;
  readonly before: Int32Array;
  readonly distance: Int32Array;
  readonly hopsBefore: Int32Array;
  readonly hops: Int32Array;
  readonly firstHops: AreaFirstHops;
  /** Routers that have a first hop at a vertex. */
  readonly beside: NumberLists;
  readonly speakers: readonly (Speaker | undefined)[];
  readonly slots: readonly (HopSlots | undefined)[];
  /** Networks as they are now: what a cut takes away costs `noWay`. */
  readonly networks: AreaNetworks;
  /** By offer: whose network it is. */
  private readonly networkOf: Int32Array;
  /** How many networks each vertex alone brings. */
  readonly alone: Int32Array;
  /** Networks that a vertex brings, by place; and those of them that another one brings as well. */
  readonly brings: NumberLists;
  readonly shares: NumberLists;
  /** By place in `shares`: the other one who brings the network, where there are two and neither is a transit network; else -1. */
  readonly other: Int32Array;
  /** Costs of the network at the vertex and at the other one. */
  readonly ownCost: Int32Array;
  readonly otherCost: Int32Array;
  private readonly rows: (RootRows | undefined)[] = [];
  private readonly rowsOld: (RootRows | undefined)[] = [];

  constructor(
    readonly arrays: InternalArrays,
    readonly area: AreaArrays,
  ) {
    const { graph, distances, networks } = area;
    const n = distances.size;
    this.size = n;
    this.routers = graph.routers.length;
    this.weight = graph.metric.slice();
    this.tail = new Int32Array(graph.to.length);
    for (let v = 0; v < n; v++) this.tail.fill(v, graph.first[v], graph.first[v + 1]);
    this.incoming = listsByKey(graph.to, n);
    this.speakers = graph.routers.map((r) => arrays.domain.speakers[r.speaker]);
    this.slots = this.speakers.map((s) => s && arrays.slotsOf(s));
    this.before = new Int32Array(n * n);
    this.hopsBefore = new Int32Array(this.routers * n);
    for (let v = 0; v < n; v++) this.before.set(distances.row(v), v * n);
    this.speakers.forEach((s, r) => {
      const root = s && arrays.root(s, arrays.domain.databases[area.index]!);
      if (root) this.hopsBefore.set(root.hops, r * n);
    });
    this.distance = this.before.slice();
    this.hops = this.hopsBefore.slice();
    this.firstHops = firstHopsOf(arrays, area, this.speakers);
    const { first, vertex } = this.firstHops;
    const owner = new Int32Array(vertex.length);
    for (let r = 0; r < this.routers; r++) owner.fill(r, first[r], first[r + 1]);
    this.beside = listsByKey(vertex, n, (place) => owner[place]!);
    this.networks = networks.atOwnCosts();
    this.alone = new Int32Array(n);
    const count = networks.ids.length;
    const place = (this.networkOf = new Int32Array(networks.vertex.length));
    for (let i = 0; i < count; i++) {
      const from = networks.first[i]!;
      const to = networks.first[i + 1]!;
      place.fill(i, from, to);
      const v = networks.vertex[from]!;
      if (to - from === 1) this.alone[v] = this.alone[v]! + 1;
    }
    this.brings = listsByKey(networks.vertex, n, (e) => place[e]!);
    const several = Array.from(networks.vertex.keys()).filter((e) => {
      const i = place[e]!;
      return networks.first[i + 1]! - networks.first[i]! > 1;
    });
    const entries = listsByKey(
      several.map((e) => networks.vertex[e]!),
      n,
      (i) => several[i]!,
    );
    this.shares = { first: entries.first, items: entries.items.map((e) => place[e]!) };
    const twin = (e: number): number => {
      const from = networks.first[place[e]!]!;
      const to = networks.first[place[e]! + 1]!;
      const o = e === from ? from + 1 : from;
      return to - from === 2 && (networks.link[e] ?? -1) >= 0 && (networks.link[o] ?? -1) >= 0 ? o : -1;
    };
    this.other = entries.items.map((e) => (twin(e) < 0 ? -1 : (networks.vertex[twin(e)] ?? -1)));
    this.ownCost = entries.items.map((e) => networks.cost[e]!);
    this.otherCost = entries.items.map((e) => (twin(e) < 0 ? 0 : networks.cost[twin(e)]!));
  }

  /** A router's rows as they are now: a view of the ground, with which they change. */
  rowsNow(router: number): RootRows {
    return (this.rows[router] ??= this.view(router, this.distance, this.hops));
  }

  /** The same as they were before. */
  rowsBefore(router: number): RootRows {
    return (this.rowsOld[router] ??= this.view(router, this.before, this.hopsBefore));
  }

  private view(router: number, distance: Int32Array, hops: Int32Array): RootRows {
    const [from, to] = [router * this.size, (router + 1) * this.size];
    const first = this.area.graph.six ? this.area.distances.size : this.routers;
    return new RootRows(this.area.index, router, first, distance.subarray(from, to), hops.subarray(from, to));
  }

  /** Networks that lose one of those who bring them, by the offers that go. */
  losing(offers: readonly number[]): number[] {
    return [...new Set(offers.map((e) => this.networkOf[e]!))];
  }

  private readonly now = noWayYet();
  private readonly old = noWayYet();

  /** The way of a router to a network inside the area as things are now; `undefined` without one. It holds until the next is asked for. */
  wayNow(router: number, network: number): Way | undefined {
    const slots = this.slots[router];
    return slots && nearestOf(this.networks, network, this.rowsNow(router), slots, this.now);
  }

  wayBefore(router: number, network: number): Way | undefined {
    const slots = this.slots[router];
    return slots && nearestOf(this.area.networks, network, this.rowsBefore(router), slots, this.old);
  }
}
