import type { Address } from '../prefix/address';
import type { Prediction } from '../predict';
import { fateOfBits, flowTo, type Flow } from './fates';
import { Forwarding, type Way } from './forwarding';
import { walk, type Fate } from './trace';

/**
 * Every source against every destination, row by row: cell (r, c) stands at place r · columns + c. What packets come to is
 * given as the bits of `fateOfBits`.
 */
export interface Matrix {
  readonly rows: readonly Address[];
  readonly columns: readonly Address[];
  readonly there: Uint8Array;
  readonly back: Uint8Array;
  /** Routers after the first on the longest way there; -1: no router takes the packet. */
  readonly hops: Int16Array;
  /** Metric of the source router's OSPF route; -1 where OSPF does not bring it. */
  readonly cost: Int32Array;
  /** 1: both ways arrive, and not over the same routers. */
  readonly lopsided: Uint8Array;
}

/** One cell in words and numbers. */
export interface Cell {
  readonly there: Fate;
  readonly back: Fate;
  readonly hops: number | null;
  readonly cost: number | null;
  readonly lopsided: boolean;
}

/** The cell of a row and a column, by their places. */
export function cellAt(m: Matrix, row: number, column: number): Cell {
  const at = row * m.columns.length + column;
  const known = (n: number | undefined): number | null => (n === undefined || n < 0 ? null : n);
  return {
    there: fateOfBits(m.there[at] ?? 0),
    back: fateOfBits(m.back[at] ?? 0),
    hops: known(m.hops[at]),
    cost: known(m.cost[at]),
    lopsided: m.lopsided[at] === 1,
  };
}

/** Addresses of the loopbacks of a design's family, router by router. */
export const loopbacks = (p: Prediction): Address[] =>
  p.design.routers.flatMap((r) => r.interfaces.flatMap((i) => (i.kind === 'loopback' ? i.addresses.map((a) => a.bits) : [])));

/** The steps of a packet from some routers on, each as one number, and the routers at which it ends. */
function stepsOf(flow: Flow, starts: readonly number[], of: number, reverse: boolean): { steps: Set<number>; ends: Set<number> } {
  const steps = new Set<number>();
  const ends = new Set<number>();
  const seen = new Set(starts);
  for (const r of seen) {
    const next = flow.next[r] ?? [];
    if (next.length === 0) ends.add(r);
    for (const n of next) {
      steps.add(reverse ? n * of + r : r * of + n);
      seen.add(n);
    }
  }
  return { steps, ends };
}

const same = (a: ReadonlySet<number>, b: ReadonlySet<number>): boolean => a.size === b.size && [...a].every((x) => b.has(x));

/** Whether packets and their answers, which both arrive, pass the same routers. */
function alike(of: number, there: Flow, starts: readonly number[], back: Flow, ends: readonly number[]): boolean {
  const forth = stepsOf(there, starts, of, false);
  const home = stepsOf(back, ends, of, true);
  return same(forth.steps, home.steps) && same(home.ends, new Set(starts)) && same(forth.ends, new Set(ends));
}

/**
 * What becomes of packets from each address to each other one, and of the answers: the same as a trace of each pair, from one
 * look at all routers for each address. Tells after each piece of work how many there are done and to do.
 *
 * @param rows     sources and @param columns destinations, all of the family that the prediction looks at
 */
export function* makingMatrix(p: Prediction, rows: readonly Address[], columns: readonly Address[]): Generator<readonly [number, number], Matrix> {
  const all = [...new Set([...rows, ...columns])];
  const f = Forwarding.forAddresses(p, all);
  const lists = new Map<readonly Way[], readonly number[]>();
  const flows = new Map<Address, Flow>();
  const ends = new Map<Address, readonly number[]>();
  const work = all.length + rows.length;
  for (const a of all) {
    flows.set(a, flowTo(f, a, undefined, lists));
    ends.set(a, f.endsOf(a));
    yield [flows.size, work];
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
  const of = p.design.routers.length;
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
      m.lopsided[at] = m.there[at] === 1 && m.back[at] === 1 && !alike(of, there, starts, back, goals) ? 1 : 0;
    }
    yield [all.length + r + 1, work];
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
