import { noWay } from '../dense/area-rows';
import type { AreaGround } from './area-ground';

/**
 * Takes edges away from an area and finds what that changes, destination by destination (after Ramalingam and Reps). Where
 * a vertex keeps another way of the same cost no distance moves; else the vertices that lost their last one are found, and
 * only these are settled again. Next hops are looked at again only beside changed distances.
 */
export class AreaCut {
  /** Routers with another distance or other next hops to anything. */
  readonly touched: number[] = [];
  private readonly lastOf: Int32Array;
  private readonly previous: Int32Array;
  private readonly columns: Int32Array;
  private listed = 0;
  /** By cell of a router: the cut in which it was noted. */
  private readonly noted: Int32Array;
  private readonly moved: number[] = [];
  private readonly removed: number[] = [];
  private readonly kept: number[] = [];
  private readonly queue: Int32Array;
  private readonly left: Int32Array;
  private readonly seen: Int32Array;
  private readonly hopsSeen: Int32Array;
  private clock = 0;
  private cut = 0;

  constructor(readonly ground: AreaGround) {
    const { size, routers } = ground;
    this.lastOf = new Int32Array(routers).fill(-1);
    this.noted = new Int32Array(routers * size);
    this.previous = new Int32Array(routers * size);
    this.columns = new Int32Array(routers * size);
    this.queue = new Int32Array(size);
    this.left = new Int32Array(size);
    this.seen = new Int32Array(size);
    this.hopsSeen = new Int32Array(routers);
  }

  /** Destinations that changed for a router, as vertices; gives their number. */
  columnsOf(router: number, into: Int32Array): number {
    let n = 0;
    for (let i = this.lastOf[router] ?? -1; i >= 0; i = this.previous[i] ?? -1) into[n++] = this.columns[i]!;
    return n;
  }

  /** Whether any way of a router moved. */
  moves(router: number): boolean {
    return (this.lastOf[router] ?? -1) >= 0;
  }

  /** Whether a router's way to a vertex with one of these marks moved. */
  movesTo(router: number, marks: Uint8Array, what: number): boolean {
    for (let i = this.lastOf[router] ?? -1; i >= 0; i = this.previous[i] ?? -1) if ((marks[this.columns[i]!]! & what) !== 0) return true;
    return false;
  }

  /** The bits of all vertices to which a router's ways moved, joined. */
  bitsOf(router: number, bits: Int32Array): number {
    let out = 0;
    for (let i = this.lastOf[router] ?? -1; i >= 0; i = this.previous[i] ?? -1) out |= bits[this.columns[i]!]!;
    return out;
  }

  /** Takes the edges away. `undo` must follow before the next cut. */
  run(edges: readonly number[]): void {
    const { ground } = this;
    const { size, before, tail, weight } = ground;
    const { to } = ground.area.graph;
    this.cut++;
    for (const e of edges) {
      this.removed.push(e);
      this.kept.push(weight[e]!);
      weight[e] = noWay;
    }
    const tails: number[] = [];
    for (let x = 0; x < size; x++) {
      tails.length = 0;
      for (let i = 0; i < this.removed.length; i++) {
        const e = this.removed[i]!;
        const s = tail[e]!;
        const d = before[s * size + x]!;
        if (d < noWay && this.kept[i]! + before[to[e]! * size + x]! === d && !tails.includes(s)) tails.push(s);
      }
      if (tails.length > 0) this.column(x, tails);
    }
  }

  /** Puts everything back. */
  undo(): void {
    const { ground } = this;
    const { distance, before, hops, hopsBefore, weight } = ground;
    for (const cell of this.moved) {
      distance[cell] = before[cell]!;
      if (cell < hops.length) hops[cell] = hopsBefore[cell]!;
    }
    this.removed.forEach((e, i) => (weight[e] = this.kept[i]!));
    for (const r of this.touched) this.lastOf[r] = -1;
    this.moved.length = this.removed.length = this.kept.length = this.touched.length = 0;
    this.listed = 0;
  }

  /** Edges of a vertex that lie on a shortest way to a destination. */
  private tight(v: number, x: number): number {
    const { distance, size, weight, area } = this.ground;
    const { first, to } = area.graph;
    const d = distance[v * size + x]!;
    let n = 0;
    const end = first[v + 1]!;
    for (let e = first[v]!; e < end; e++) if (weight[e]! + distance[to[e]! * size + x]! === d) n++;
    return n;
  }

  /** One destination, to which some vertices lost a shortest way. */
  private column(x: number, tails: readonly number[]): void {
    const broken = this.breakFrom(x, tails);
    const { size, routers, distance, beside, incoming, tail } = this.ground;
    const { queue } = this;
    for (let i = 0; i < broken; i++) {
      const cell = queue[i]! * size + x;
      distance[cell] = noWay;
      this.moved.push(cell);
    }
    this.settle(x, broken);
    this.clock++;
    for (let i = 0; i < broken; i++) {
      const v = queue[i]!;
      if (v >= routers) continue;
      this.note(v, x);
      this.hopsAt(v, x);
    }
    for (let i = 0; i < broken; i++) {
      const v = queue[i]!;
      const end = beside.first[v + 1]!;
      for (let k = beside.first[v]!; k < end; k++) this.hopsAt(beside.items[k]!, x);
    }
    for (const s of tails) {
      if (s < routers) this.hopsAt(s, x);
      else for (let k = incoming.first[s]!; k < incoming.first[s + 1]!; k++) this.hopsAt(tail[incoming.items[k]!]!, x);
    }
  }

  /** Finds the vertices that have no shortest way left; they stand in the queue, and their number is given. */
  private breakFrom(x: number, tails: readonly number[]): number {
    const { size, distance, weight, incoming, tail } = this.ground;
    const { queue, left, seen } = this;
    const mark = ++this.clock;
    let n = 0;
    for (const s of tails) {
      seen[s] = mark;
      left[s] = this.tight(s, x);
      if (left[s] === 0) queue[n++] = s;
    }
    for (let i = 0; i < n; i++) {
      const y = queue[i]!;
      const dy = distance[y * size + x]!;
      const end = incoming.first[y + 1]!;
      for (let k = incoming.first[y]!; k < end; k++) {
        const e = incoming.items[k]!;
        const r = tail[e]!;
        const d = distance[r * size + x]!;
        if (r === x || d >= noWay || weight[e]! + dy !== d) continue;
        if (seen[r] !== mark) {
          seen[r] = mark;
          left[r] = this.tight(r, x);
        }
        if ((left[r] = left[r]! - 1) === 0) queue[n++] = r;
      }
    }
    return n;
  }

  /** New distances of the vertices in the queue, each from its neighbours until nothing moves. */
  private settle(x: number, broken: number): void {
    const { size, distance, weight, area } = this.ground;
    const { first, to } = area.graph;
    const { queue } = this;
    for (let more = true, pass = 0; more; pass++) {
      more = false;
      for (let q = 0; q < broken; q++) {
        const y = queue[pass % 2 === 0 ? broken - 1 - q : q] ?? 0;
        const old = distance[y * size + x]!;
        let d = old;
        const end = first[y + 1]!;
        for (let e = first[y]!; e < end; e++) {
          const c = weight[e]! + distance[to[e]! * size + x]!;
          if (c < d) d = c;
        }
        if (d < old) {
          distance[y * size + x] = d;
          more = true;
        }
      }
    }
  }

  private note(router: number, x: number): void {
    const cell = router * this.ground.size + x;
    if (this.noted[cell] === this.cut) return;
    this.noted[cell] = this.cut;
    const last = this.lastOf[router] ?? -1;
    if (last < 0) this.touched.push(router);
    this.lastOf[router] = this.listed;
    this.previous[this.listed] = last;
    this.columns[this.listed++] = x;
  }

  /** A router's next hops to a destination, once for each destination (RFC 2328 §16.1.1). */
  private hopsAt(router: number, x: number): void {
    if (this.hopsSeen[router] === this.clock || router === x) return;
    this.hopsSeen[router] = this.clock;
    const { ground } = this;
    const { size, distance, weight, hops } = ground;
    const { first, vertex, edge, behind, network, code } = ground.firstHops;
    const slots = ground.slots[router];
    const cell = router * size + x;
    const d = distance[cell]!;
    let set = 0;
    if (d < noWay && slots)
      for (let h = first[router]!; h < first[router + 1]!; h++) {
        const v = vertex[h]!;
        const w = weight[edge[h]!]!;
        const b = behind[h] ?? -1;
        if (b >= 0 && weight[b]! >= noWay) continue;
        const leads = network[h] === 1 ? v === x && w === d : w + distance[v * size + x]! === d;
        if (leads) set = slots.wide ? slots.join(set, code[h]!) : set | code[h]!;
      }
    if (set === hops[cell]) return;
    hops[cell] = set;
    this.moved.push(cell);
    this.note(router, x);
  }
}
