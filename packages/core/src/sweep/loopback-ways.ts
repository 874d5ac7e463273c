import { WatchedInside, WatchedSince } from '../dense/watched-inside';
import { placeKey, routersHit } from '../failures/outage';
import type { Address } from '../prefix/address';
import { prefixBook } from '../prefix/prefix-book';
import type { Prediction } from '../predict';
import type { LocalHop } from '../routes/local-routes';
import { Forwarding } from '../reach/forwarding';
import { loopbacks } from '../reach/matrix';
import { sharesNumbers } from '../compare/route-changes';
import { isOspfAndOwn } from '../compare/own-tables';

/** A packet between two loopbacks. */
export interface LoopbackPair {
  readonly from: Address;
  readonly to: Address;
}

/** What a failure does to packets between the loopbacks of routers that stand. */
export interface WaysChanged {
  /** Ordered pairs that arrived by every way and do not any more. */
  readonly cut: number;
  /** The first of them. */
  readonly examples: readonly LoopbackPair[];
  /** The largest growth of OSPF cost among pairs that still arrive; `undefined` where none grows. */
  readonly longestDetour: number | undefined;
}

const delivered = 1;
const mostExamples = 20;
const unknown = -2;

/** How packets go on from a router: their fate where they end, the routers that take them where they do not. */
interface Onward {
  readonly fate: number;
  readonly next: readonly number[];
}

const bits = { delivered: 1, dropped: 2, leaves: 4 } as const;
const none: readonly number[] = [];
const dropped: Onward = { fate: bits.dropped, next: none };

/** Where packets that given next hops take go on. */
type Led = WeakMap<readonly LocalHop[], Onward>;

/** Where packets for one loopback go from every router. */
interface Flow {
  /** What becomes of packets that a router sends nowhere, or out of the design; 0 where they go on to other routers alone. */
  readonly ends: Uint8Array;
  /** Routers that take them next. */
  readonly next: readonly (readonly number[])[];
  /** 1: they arrive, by every way. */
  readonly arrives: Uint8Array;
}

/**
 * Packets from each loopback to each other one in a network at rest, and what becomes of them in other states: only routers
 * whose own line for a loopback is another one are followed anew.
 */
export class LoopbackWays {
  /** Loopbacks of the family, each address once. */
  readonly addresses: readonly Address[];
  private readonly forwarding: Forwarding;
  /** By loopback, once asked. */
  private readonly flows: (Flow | undefined)[] = [];
  /** Routers that have each loopback, up or not. */
  private readonly owners: readonly ReadonlySet<number>[];
  /** Routers at which packets from each loopback start. */
  private readonly starts: readonly (readonly number[])[];
  /** Loopbacks whose packets start at each router, as places. */
  private readonly startingAt: readonly (readonly number[])[];
  /** Cost of the line of each router for each loopback: `router * loopbacks + loopback`; -1 where OSPF does not bring it. */
  private readonly costs: Int32Array;
  /** Where sets of next hops lead in the base. */
  private readonly led: Led = new WeakMap();
  /** Loopbacks that a prefix holds, as places. */
  private readonly heldBy: ReadonlyMap<number, readonly number[]>;
  private readonly watched: WatchedInside | undefined;
  /** Prefixes that are announced from outside the system and hold a loopback, and those that routes to them hang on. */
  private readonly outside: ReadonlySet<number>;
  private readonly deciding: ReadonlySet<number>;
  /** By router: whether its table is what OSPF computed and routes of its own, and nothing else. */
  private readonly plain: readonly boolean[];
  /** By router, once asked: loopbacks for which it has a line from outside. */
  private readonly outsideAt: (readonly number[] | undefined)[] = [];
  private readonly neighbors: ReadonlyMap<string, readonly number[]>;
  // While one state is looked at, for one loopback: what is known of each router.
  private readonly stamp: Int32Array;
  private readonly verdict: Uint8Array;
  private clock = 0;

  constructor(readonly base: Prediction) {
    const { design } = base;
    this.stamp = new Int32Array(design.routers.length);
    this.verdict = new Uint8Array(design.routers.length);
    this.forwarding = Forwarding.quickly(base);
    this.addresses = [...new Set(loopbacks(base))];
    this.starts = this.addresses.map((a) => this.forwarding.endsOf(a));
    this.owners = this.addresses.map((a) => new Set(this.forwarding.owners(a).map((o) => o.router)));
    const startingAt: number[][] = design.routers.map(() => []);
    this.starts.forEach((list, n) => {
      for (const r of list) startingAt[r]?.push(n);
    });
    this.startingAt = startingAt;
    this.costs = new Int32Array(design.routers.length * this.addresses.length).fill(unknown);
    // This names the prefixes of every router's own routes, too.
    this.plain = design.routers.map((_, r) => {
      const [s, ...more] = base.speakersOf(r);
      return s !== undefined && more.length === 0 && isOspfAndOwn(base, s);
    });
    const outside = new Set<number>();
    for (const s of base.adjacencies.speakers) for (const l of base.routing.externals(s)) outside.add(prefixBook.id(l.bits, l.length));
    for (const db of base.routing.databases) for (const l of db.nssa) outside.add(prefixBook.id(l.bits, l.length));
    const heldBy = new Map<number, number[]>();
    this.addresses.forEach((a, n) => {
      for (const id of prefixBook.holders(a)) {
        const held = heldBy.get(id);
        if (held) held.push(n);
        else heldBy.set(id, [n]);
      }
    });
    this.heldBy = heldBy;
    this.outside = new Set([...outside].filter((id) => heldBy.has(id)));
    // Where an external route leads hangs on the routes to its forwarding address, too.
    const groups = base.dense ? base.adjacencies.speakers.flatMap((s) => base.fast.rows.external.candidates(s)) : [];
    this.deciding = new Set([...new Set(groups)].filter((g) => this.outside.has(g[0]?.id ?? -1)).flatMap((g) => g.flatMap((c) => c.holders)));
    this.watched = base.dense && new WatchedInside(base.fast.rows, [...new Set([...heldBy.keys(), ...this.deciding])]);
    this.neighbors = wireNeighbors(base);
  }

  private costAt(f: Forwarding, router: number, loopback: number): number {
    return f.lookup(router, this.addresses[loopback] ?? 0)?.route?.metric ?? -1;
  }

  private costBefore(router: number, loopback: number): number {
    const at = router * this.addresses.length + loopback;
    let known = this.costs[at] ?? unknown;
    if (known === unknown) this.costs[at] = known = this.costAt(this.forwarding, router, loopback);
    return known;
  }

  /**
   * What becomes of the packets in another state of the same design.
   *
   * @param after   best computed from this one: then most routers need no look
   * @param failed  routers that are down in it: their packets do not count
   */
  compare(after: Prediction, failed: ReadonlySet<number>): WaysChanged {
    const f = Forwarding.quickly(after);
    const led: Led = new WeakMap();
    const moved = this.movedLines(f, led, failed);
    let cut = 0;
    let longest = 0;
    const examples: LoopbackPair[] = [];
    const lost = this.startsLost(f).filter((n) => !this.isFailed(n, failed));
    for (const [to, routers] of moved.entries()) {
      if ((routers.length === 0 && lost.length === 0) || this.isFailed(to, failed)) continue;
      const broken = this.broken(f, led, to, routers);
      if (broken || lost.length > 0)
        for (const from of this.addresses.keys()) {
          if (from === to || !this.arrived(from, to) || this.isFailed(from, failed)) continue;
          const starts = lost.includes(from) ? f.endsOf(this.addresses[from] ?? 0) : (this.starts[from] ?? none);
          if (starts.length > 0 && !starts.some((r) => broken?.has(r))) continue;
          cut++;
          if (examples.length < mostExamples) examples.push({ from: this.addresses[from] ?? 0, to: this.addresses[to] ?? 0 });
        }
      for (const r of routers) {
        if (broken?.has(r)) continue;
        for (const from of this.startingAt[r] ?? none) {
          if (from === to || this.isFailed(from, failed) || !this.arrived(from, to)) continue;
          const starts = this.starts[from] ?? none;
          if (starts.some((x) => broken?.has(x))) continue;
          const least = (cost: (x: number) => number): number => Math.min(...starts.map(cost).filter((c) => c >= 0));
          const growth = least((x) => this.costAt(f, x, to)) - least((x) => this.costBefore(x, to));
          if (Number.isFinite(growth) && growth > longest) longest = growth;
        }
      }
    }
    return { cut, examples, longestDetour: longest > 0 ? longest : undefined };
  }

  private isFailed(loopback: number, failed: ReadonlySet<number>): boolean {
    const starts = this.starts[loopback] ?? none;
    return failed.size > 0 && starts.length > 0 && starts.every((r) => failed.has(r));
  }

  /** Whether packets between two loopbacks arrived by every way. */
  private arrived(from: number, to: number): boolean {
    const flow = this.flow(to);
    const starts = this.starts[from] ?? none;
    return starts.length > 0 && starts.every((r) => flow.arrives[r] === 1);
  }

  /** Loopbacks that start elsewhere, or nowhere any more. */
  private startsLost(f: Forwarding): number[] {
    const hit = routersHit(this.base.outage, f.prediction.outage);
    if (hit.size === 0) return [];
    return [...this.addresses.keys()].filter(
      (n) => this.starts[n]?.some((r) => hit.has(r)) && f.endsOf(this.addresses[n] ?? 0).join() !== this.starts[n].join(),
    );
  }

  /** By loopback: the routers that send packets for it another way than before, or at another cost. */
  private movedLines(f: Forwarding, led: Led, failed: ReadonlySet<number>): number[][] {
    const after = f.prediction;
    const out: number[][] = this.addresses.map(() => []);
    const look = this.lookAround(after);
    const since = this.watched && sharesNumbers(this.base, after) ? new WatchedSince(this.watched, after.fast.rows) : undefined;
    for (let r = 0; r < this.base.design.routers.length; r++) {
      if (failed.has(r)) continue;
      const which = look.has(r) ? undefined : this.mayHaveMoved(after, since, r);
      for (const to of which ?? this.addresses.keys()) if (!this.goesOnAsBefore(f, led, r, to)) out[to]?.push(r);
    }
    return out;
  }

  /** Routers of whose interfaces some is down or cut off in one state alone, and those on the same wires. */
  private lookAround(after: Prediction): Set<number> {
    const hit = routersHit(this.base.outage, after.outage);
    const out = new Set(hit);
    for (const [place, routers] of this.neighbors) {
      const [a, b] = [this.base.outage, after.outage];
      if (a.ports.has(place) !== b.ports.has(place) || a.severed.has(place) !== b.severed.has(place)) for (const r of routers) out.add(r);
    }
    return out;
  }

  /** Loopbacks for which a router may have another line than before; `undefined`: that cannot be told, all are to be looked at. */
  private mayHaveMoved(after: Prediction, since: WatchedSince | undefined, router: number): Iterable<number> | undefined {
    const [a] = this.base.speakersOf(router);
    const [b] = after.speakersOf(router);
    if (!a && !b) return none;
    const ids = a && b && since && this.plain[router] ? since.moved(a, b) : undefined;
    if (!a || !b || !ids) return undefined;
    const elsewhere = this.outside.size > 0 && this.base.fast.rows.external.waysOf(a) !== after.fast.rows.external.waysOf(b);
    const outside = elsewhere || ids.some((id) => this.deciding.has(id)) ? this.fromOutside(router) : none;
    if (ids.length === 0) return outside;
    const out = new Set(outside);
    for (const id of ids) for (const n of this.heldBy.get(id) ?? none) out.add(n);
    return out;
  }

  /** Loopbacks for which a router has a line from outside the system, before anything fails. */
  private fromOutside(router: number): readonly number[] {
    return (this.outsideAt[router] ??= [...this.addresses.keys()].filter((n) => {
      const line = this.forwarding.lookup(router, this.addresses[n] ?? 0);
      return line !== undefined && this.outside.has(line.key);
    }));
  }

  private goesOnAsBefore(f: Forwarding, led: Led, router: number, to: number): boolean {
    const flow = this.flow(to);
    const now = this.onward(f, led, router, to);
    const next = flow.next[router] ?? none;
    if (now.next.length !== next.length || now.fate !== flow.ends[router]) return false;
    if (now.next !== next && !now.next.every((r) => next.includes(r))) return false;
    return this.costAt(f, router, to) === this.costBefore(router, to);
  }

  /** How a router sends packets for a loopback on; what the same next hops do is looked up once. */
  private onward(f: Forwarding, led: Led, router: number, to: number): Onward {
    const address = this.addresses[to] ?? 0;
    if (this.owners[to]?.has(router)) return onwardBy(f, router, address);
    const line = f.lookup(router, address);
    if (!line || line.hops.length === 0) return dropped;
    let known = led.get(line.hops);
    if (!known) {
      known = onwardBy(f, router, address);
      if (line.hops.every((h) => h.address !== undefined)) led.set(line.hops, known);
    }
    return known;
  }

  private flow(to: number): Flow {
    return (this.flows[to] ??= this.flowOf(to));
  }

  /** Where packets for a loopback go from every router in the base. */
  private flowOf(to: number): Flow {
    const routers = this.base.design.routers.length;
    const [ends, arrives] = [new Uint8Array(routers), new Uint8Array(routers)];
    const next: (readonly number[])[] = [];
    for (let r = 0; r < routers; r++) {
      const on = this.onward(this.forwarding, this.led, r, to);
      ends[r] = on.fate;
      next.push(on.next);
    }
    const turn = ++this.clock;
    for (let r = 0; r < routers; r++) arrives[r] = Number(this.follow(turn, r, (x) => ({ fate: ends[x] ?? 0, next: next[x] ?? none })));
    return { ends, next, arrives };
  }

  /** Whether packets arrive from a router by every way; what is known of a router in this turn is not followed again. */
  private follow(turn: number, router: number, onward: (router: number) => Onward): boolean {
    if (this.stamp[router] === turn) return this.verdict[router] === 1;
    // While it is followed it counts as not arriving: whoever comes back to it goes round.
    this.stamp[router] = turn;
    this.verdict[router] = 0;
    const { fate, next } = onward(router);
    const good = next.length === 0 ? fate === delivered : fate === 0 && next.every((r) => this.follow(turn, r, onward));
    this.verdict[router] = Number(good);
    return good;
  }

  /**
   * Routers whose packets for a loopback do not arrive by every way any more; `undefined`: all that did still do.
   *
   * @param moved  the routers that send them another way than before
   */
  private broken(f: Forwarding, led: Led, to: number, moved: readonly number[]): ReadonlySet<number> | undefined {
    const turn = ++this.clock;
    const anew = new Set(moved);
    const flow = this.flow(to);
    const onward = (r: number): Onward => (anew.has(r) ? this.onward(f, led, r, to) : { fate: flow.ends[r] ?? 0, next: flow.next[r] ?? none });
    if (moved.every((r) => this.follow(turn, r, onward))) return undefined;
    const out = new Set<number>();
    for (let r = 0; r < this.base.design.routers.length; r++) if (!this.follow(turn, r, onward)) out.add(r);
    return out;
  }
}

function onwardBy(f: Forwarding, router: number, to: Address): Onward {
  const step = f.step(router, to);
  if (step.kind === 'end') return { fate: bits[step.fate], next: none };
  return { fate: step.ways.some((w) => w.to === undefined) ? bits.leaves : 0, next: [...new Set(step.ways.flatMap((w) => w.to ?? []))] };
}

/** Routers on the wire of each interface, by its place. */
function wireNeighbors({ segments }: Prediction): ReadonlyMap<string, readonly number[]> {
  const out = new Map<string, readonly number[]>();
  for (const s of segments.list) {
    const routers = [...new Set(s.members.map((m) => m.router))];
    for (const m of s.members) out.set(placeKey(m.router, m.iface), routers);
  }
  return out;
}
