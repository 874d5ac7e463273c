import { formatAddress, type Address } from '../prefix/address';
import { routersHit, type Outage } from '../failures/outage';
import type { Deed, Moment } from './moment';

/** What becomes of packets between two addresses for a while. Times in ms. */
export interface Span {
  readonly fromMs: number;
  toMs: number;
  readonly fate: 'carried' | 'dropped' | 'looping';
  /** Routers where they are lost, or that send them round. */
  readonly at: readonly string[];
  /** Why they are lost. */
  readonly why: string | undefined;
  /** Routers on the way, the first of equal ways. */
  readonly path: readonly string[];
}

export interface Pair {
  readonly from: Address;
  readonly to: Address;
}

export interface Flow extends Pair {
  readonly spans: readonly Span[];
}

/** Packets that go round between routers for a while, though the ends are the same. */
export interface Loop extends Pair {
  readonly routers: readonly string[];
  readonly fromMs: number;
  toMs: number;
}

interface Seen {
  readonly fate: Span['fate'];
  readonly at: readonly number[];
  readonly why: string | undefined;
  readonly path: readonly number[];
  /** All routers that packets meet. */
  readonly met: ReadonlySet<number>;
}

/** Follows packets from routers to an address through the tables of a moment. */
export function follow(moment: Moment, starts: readonly number[], to: Address): Seen {
  const met = new Set<number>();
  const lostAt = new Set<number>();
  const round = new Set<number>();
  let why: string | undefined;
  const onWay: number[] = [];
  const done = new Set<number>();
  const walk = (router: number): void => {
    const back = onWay.indexOf(router);
    if (back >= 0) {
      for (const r of onWay.slice(back)) round.add(r);
      return;
    }
    if (done.has(router)) return;
    met.add(router);
    onWay.push(router);
    const deed = moment.deed(router, to);
    if (deed.lost !== undefined) {
      lostAt.add(router);
      why ??= deed.lost;
    }
    for (const n of deed.next) walk(n);
    onWay.pop();
    done.add(router);
  };
  for (const s of starts) walk(s);
  const path: number[] = [];
  for (let r = starts[0]; r !== undefined && !path.includes(r);) {
    path.push(r);
    r = moment.deed(r, to).next[0];
  }
  if (starts.length === 0) return { fate: 'dropped', at: [], why: `nobody has a packet for ${formatAddress(to)} to send`, path, met };
  if (round.size > 0) return { fate: 'looping', at: [...round], why: undefined, path, met };
  if (lostAt.size > 0) return { fate: 'dropped', at: [...lostAt], why, path, met };
  return { fate: 'carried', at: [], why: undefined, path, met };
}

const same = <T>(a: readonly T[], b: readonly T[]): boolean => a.length === b.length && a.every((x, i) => x === b[i]);

/** Watches pairs of addresses through a run: looked at again whenever a router that their packets meet changed. */
export class Flows {
  private readonly seen: (Seen | undefined)[];
  private readonly spans: Span[][];

  constructor(
    private readonly moment: Moment,
    private readonly pairs: readonly Pair[],
  ) {
    this.seen = pairs.map(() => undefined);
    this.spans = pairs.map(() => []);
    this.look(-1);
  }

  private name = (r: number): string => this.moment.shared.ground.design.routers[r]?.name ?? '';

  /** A router's table changed, or with -1 the wires. */
  look(router: number): void {
    const { run, shared } = this.moment;
    this.pairs.forEach(({ from, to }, i) => {
      const before = this.seen[i];
      if (before && router >= 0 && !before.met.has(router)) return;
      const seen = follow(this.moment, shared.wires.endsOf(run.outage, from), to);
      this.seen[i] = seen;
      const spans = this.spans[i] ?? [];
      if (before?.fate === seen.fate && same(before.at, seen.at) && same(before.path, seen.path)) return;
      const last = spans.at(-1);
      if (last) last.toMs = run.now;
      // What lasts no time was never so.
      if (last && last.fromMs === run.now) spans.pop();
      spans.push({ fromMs: run.now, toMs: Infinity, fate: seen.fate, at: seen.at.map(this.name), why: seen.why, path: seen.path.map(this.name) });
    });
  }

  /** What became of each pair, until the end of the run. */
  flows(endMs: number): Flow[] {
    return this.pairs.map((p, i) => ({
      ...p,
      spans: (this.spans[i] ?? []).map((s) => (s.toMs === Infinity ? { ...s, toMs: Math.max(endMs, s.fromMs) } : s)),
    }));
  }

  /** Since when each pair is carried to the end; `undefined`: it is not. In ms; 0 where it always was. */
  healedAt(): (number | undefined)[] {
    return this.spans.map((spans) => {
      let since: number | undefined;
      for (const s of spans) since = s.fate === 'carried' ? (since ?? s.fromMs) : undefined;
      return since;
    });
  }
}

/**
 * Looks for packets that go round between routers, for every two loopbacks: when a router's table changes, for those
 * loopbacks whose packets it now sends elsewhere.
 */
export class Loops {
  /** By loopback: where routers send its packets, of those that were looked at again; all others do as they did at rest. */
  private readonly moved: Map<number, readonly number[]>[];
  private readonly open: Map<string, Loop>[];
  private readonly found: Loop[] = [];
  private readonly circles: (readonly number[] | undefined)[];
  private readonly restDeeds: ((to: Address) => Deed)[] = [];
  private outage: Outage;

  /** @param rest  the same network before anything happened @param ends  loopbacks, with their routers */
  constructor(
    private readonly moment: Moment,
    private readonly rest: Moment,
    private readonly ends: readonly { readonly address: Address; readonly router: number }[],
  ) {
    this.moved = ends.map(() => new Map<number, readonly number[]>());
    this.open = ends.map(() => new Map<string, Loop>());
    this.circles = ends.map(() => undefined);
    this.outage = rest.run.outage;
  }

  private atRest(router: number, to: Address): readonly number[] {
    return (this.restDeeds[router] ??= this.rest.deeds(router))(to).next;
  }

  /** Where routers send packets for a loopback. */
  private nextFor(d: number): NextOf {
    const moved = this.moved[d];
    const to = this.ends[d]?.address;
    return (r) => moved?.get(r) ?? (to === undefined ? [] : this.atRest(r, to));
  }

  private get all(): readonly number[] {
    return this.moment.run.nodes.map((n) => n.routerIndex);
  }

  /** Routers on wires that are other ones than when they were looked at last. */
  private onWires(): readonly number[] {
    const { run, shared } = this.moment;
    const { segments } = shared.ground;
    const hit = [...routersHit(this.outage, run.outage)];
    this.outage = run.outage;
    const out = new Set(hit);
    for (const r of hit) for (const s of segments.of[r] ?? []) for (const m of segments.list[s]?.members ?? []) out.add(m.router);
    return [...out];
  }

  /** A router's table changed, or with -1 the wires. */
  look(router: number): void {
    const routers = router >= 0 ? [router] : this.onWires();
    const deeds = routers.map((r) => this.moment.deeds(r));
    this.ends.forEach((end, d) => {
      const next = this.nextFor(d);
      let moved = false;
      for (const [i, r] of routers.entries()) {
        const now = deeds[i]?.(end.address).next ?? [];
        if (same(now, next(r))) continue;
        this.moved[d]?.set(r, now);
        moved = true;
        this.circles[d] ??= circleThrough(next, r);
      }
      if (!moved) return;
      if (this.circles[d]) this.circles[d] = stillRound(next, this.circles[d]) ?? anyCircle(next, this.all);
      this.note(d);
    });
  }

  private note(d: number): void {
    const { run, shared } = this.moment;
    const circle = this.circles[d];
    const name = (r: number): string => shared.ground.design.routers[r]?.name ?? '';
    const open = this.open[d];
    const end = this.ends[d];
    if (!open || !end) return;
    // Most have nothing to tell.
    if (!circle && open.size === 0) return;
    const into = circle ? leadingInto(this.nextFor(d), circle, this.all) : new Set<number>();
    const words = circle?.map(name) ?? [];
    this.ends.forEach((from, s) => {
      const key = String(s);
      const now = open.get(key);
      const round = circle !== undefined && s !== d && into.has(from.router);
      if (now && (!round || !same(now.routers, words))) {
        now.toMs = run.now;
        open.delete(key);
        if (now.toMs > now.fromMs) this.found.push(now);
      }
      if (round && !open.has(key)) open.set(key, { from: from.address, to: end.address, routers: words, fromMs: run.now, toMs: Infinity });
    });
  }

  /** Loopbacks whose packets go round at the moment. */
  get goingRound(): ReadonlySet<Address> {
    return new Set(this.ends.flatMap((e, d) => ((this.open[d]?.size ?? 0) > 0 ? [e.address] : [])));
  }

  /** All that went round, in the order of time. */
  loops(endMs: number): Loop[] {
    const last = this.open.flatMap((o) => [...o.values()].map((l) => ({ ...l, toMs: Math.max(endMs, l.fromMs) })));
    return [...this.found, ...last].sort((a, b) => a.fromMs - b.fromMs || a.to - b.to || a.from - b.from);
  }
}

/** Where a router sends packets for one address. */
type NextOf = (router: number) => readonly number[];

/** Routers of a circle that leads through one of them, from it onwards. */
function circleThrough(next: NextOf, router: number): readonly number[] | undefined {
  const before = new Map<number, number>();
  const queue = [router];
  for (const r of queue)
    for (const n of next(r)) {
      if (n === router) {
        const way = [r];
        for (let b = r; b !== router;) way.unshift((b = before.get(b) ?? router));
        return way;
      }
      if (!before.has(n)) {
        before.set(n, r);
        queue.push(n);
      }
    }
  return undefined;
}

const stillRound = (next: NextOf, circle: readonly number[]): readonly number[] | undefined =>
  circle.every((r, i) => next(r).includes(circle[(i + 1) % circle.length] ?? -1)) ? circle : undefined;

function anyCircle(next: NextOf, routers: readonly number[]): readonly number[] | undefined {
  for (const r of routers) {
    const c = next(r).length > 0 ? circleThrough(next, r) : undefined;
    if (c) return c;
  }
  return undefined;
}

/** Routers whose packets come to a circle. */
function leadingInto(next: NextOf, circle: readonly number[], routers: readonly number[]): ReadonlySet<number> {
  const into = new Set(circle);
  for (let moved = true; moved;) {
    moved = false;
    for (const r of routers) {
      if (into.has(r) || !next(r).some((n) => into.has(n))) continue;
      into.add(r);
      moved = true;
    }
  }
  return into;
}
