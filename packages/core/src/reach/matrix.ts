import type { Address } from '../prefix/address';
import type { Prediction } from '../predict';
import { loopbacksOf } from './ends';
import { flowTo, type Flow } from './fates';
import { Forwarding, type Way } from './forwarding';
import type { MatrixOf } from './matrix-cells';
import { walk } from './trace';

/** A matrix of addresses. */
export type Matrix = MatrixOf<Address>;

/** Addresses of the loopbacks of a design's family, router by router. */
export const loopbacks = (p: Prediction): Address[] => p.design.routers.flatMap((_, n) => loopbacksOf(p.design, n));

/** Holds the way there against the way back, pair after pair, without anything made anew for each. */
class WaysCompared {
  /** By router: the turn in which it was last passed. */
  private readonly passed: Int32Array;
  private turn = 0;

  constructor(routers: number) {
    this.passed = new Int32Array(routers);
  }

  /**
   * Follows packets and counts the steps from router to router; -1 where one has no step of the other way against it, or it
   * ends at a router that is none of the ends.
   *
   * @param against  the other way, whose steps are to be these, turned round
   */
  private follow(flow: Flow, starts: readonly number[], ends: readonly number[], against?: Flow): number {
    const { passed } = this;
    const turn = ++this.turn;
    const open = [...starts];
    for (const s of starts) passed[s] = turn;
    let steps = 0;
    let ended = 0;
    for (let r = open.pop(); r !== undefined; r = open.pop()) {
      const next = flow.next[r] ?? [];
      if (next.length === 0) {
        if (!ends.includes(r)) return -1;
        ended++;
      }
      for (const n of next) {
        if (against && !(against.next[n] ?? []).includes(r)) return -1;
        steps++;
        if (passed[n] === turn) continue;
        passed[n] = turn;
        open.push(n);
      }
    }
    return ended === ends.length ? steps : -1;
  }

  /** Whether packets and their answers, which both arrive, pass the same routers. */
  alike(there: Flow, starts: readonly number[], back: Flow, goals: readonly number[]): boolean {
    const steps = this.follow(there, starts, goals, back);
    // Every step there is one back, from the same ends: they are the same when there are as many.
    return steps >= 0 && steps === this.follow(back, goals, starts);
  }
}

/**
 * What becomes of packets from each address to each other one, and of the answers: the same as a trace of each pair, from one
 * look at all routers for each address. Tells after each piece of work how many there are done and to do.
 *
 * @param rows     sources and @param columns destinations, all of the family that the prediction looks at
 */
export function* makingMatrix(p: Prediction, rows: readonly Address[], columns: readonly Address[]): Generator<readonly [number, number], Matrix> {
  const all = [...new Set([...rows, ...columns])];
  const lists = new Map<readonly Way[], readonly number[]>();
  const flows = new Map<Address, Flow>();
  const ends = new Map<Address, readonly number[]>();
  const tables = p.design.routers.length;
  const work = tables + all.length + rows.length;
  const preparing = Forwarding.preparing(p, all);
  let prepared = preparing.next();
  for (let n = 1; !prepared.done; n++) {
    yield [n, work];
    prepared = preparing.next();
  }
  const f = prepared.value;
  for (const a of all) {
    flows.set(a, flowTo(f, a, undefined, lists));
    ends.set(a, f.endsOf(a));
    yield [tables + flows.size, work];
  }
  const cells = rows.length * columns.length;
  const m: Matrix = {
    rows,
    columns,
    there: new Uint8Array(cells),
    back: new Uint8Array(cells),
    hops: new Int16Array(cells),
    cost: new Int32Array(cells),
    lopsided: new Uint8Array(cells),
  };
  const ways = new WaysCompared(p.design.routers.length);
  const dropped = 2;
  const bits = (flow: Flow | undefined, starts: readonly number[]): number => starts.reduce((b, s) => b | (flow?.fates[s] ?? 0), 0) || dropped;
  for (const [r, from] of rows.entries()) {
    const starts = ends.get(from) ?? [];
    const back = flows.get(from);
    for (const [c, to] of columns.entries()) {
      const at = r * columns.length + c;
      const there = flows.get(to);
      const goals = ends.get(to) ?? [];
      if (!there || !back) continue;
      m.there[at] = bits(there, starts);
      m.back[at] = bits(back, goals);
      let hops = -1;
      for (const s of starts)
        hops = Math.max(
          hops,
          (there.longest[s] ?? 0) < 0 ? Math.max(...walk(f, [s], to).branches.map((b) => b.hops.length - 1)) : (there.longest[s] ?? 0),
        );
      m.hops[at] = hops;
      m.cost[at] = costFrom(f, starts, to) ?? -1;
      m.lopsided[at] = m.there[at] === 1 && m.back[at] === 1 && !ways.alike(there, starts, back, goals) ? 1 : 0;
    }
    yield [tables + all.length + r + 1, work];
  }
  return m;
}

/** The least metric at which OSPF brings an address to one of some routers; `undefined` where it does to none. */
export function costFrom(f: Forwarding, starts: readonly number[], to: Address): number | undefined {
  const metrics = starts.flatMap((s) => f.lookup(s, to)?.route?.metric ?? []);
  return metrics.length === 0 ? undefined : Math.min(...metrics);
}

/** The whole matrix at once. */
export function matrixOf(p: Prediction, rows: readonly Address[], columns: readonly Address[] = rows): Matrix {
  const steps = makingMatrix(p, rows, columns);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}
