import type { Pairing } from '../adjacency/settle';
import { elects, type Port } from '../adjacency/speakers';
import { lowerMedian, Simulation, type Spread } from '../convergence/converge';
import { pairStates, type PacketTold } from '../convergence/run-state';
import type { Happening } from '../convergence/simulate';
import { plainProfile, type TimingProfile } from '../convergence/timing-profile';
import { designOf } from '../design/family';
import type { NeighborState } from '../design/terms';
import { formatAddress } from '../prefix/address';
import type { Alone } from './alone';
import {
  endStep,
  exchangeSteps,
  flapStep,
  foldTurns,
  other,
  refusedWords,
  seenWords,
  step,
  stuckSteps,
  type Ends,
  type SequenceStep,
  type Side,
  type States,
} from './sequence';

/** How a pair begins: all of its segment at one moment, or one of the two comes to the others. */
export type Beginning = 'together' | Side;

/** A stretch of time in which one side shows one state; `toMs` undefined: it stays. */
export interface Shown {
  readonly fromMs: number;
  readonly toMs: number | undefined;
  readonly state: NeighborState;
}

/** How a pair comes up, or where it sticks. */
export interface ComingUp {
  readonly steps: readonly SequenceStep[];
  /** What each side lists of the other over time. */
  readonly shown: { readonly a: readonly Shown[]; readonly b: readonly Shown[] };
  /** Where the pair rests, reached in every run that was simulated; `undefined`: it comes and goes, or stays below what it rests in. */
  readonly patience: Spread | undefined;
  /** Runs behind `patience`. */
  readonly runs: number;
  /** The pair comes up and is lost again and again: how often, in ms. */
  readonly flaps: number | undefined;
  readonly seen: string;
}

/** Runs behind the patience, where nobody says otherwise. */
const runsMade = 60;

/**
 * Everything that can be told of how a pair comes up, played by the simulation on its segment alone: packets, states, and how
 * long it takes over many runs (RFC 2328 §9, §10).
 *
 * @param alone  the segment by itself
 * @param a, b   the two ends in there, by router and interface
 * @returns  `undefined` where the two do not face each other there
 */
export function comingUp(
  alone: Alone,
  a: { readonly router: string; readonly iface: string },
  b: { readonly router: string; readonly iface: string },
  beginning: Beginning,
  { profile = plainProfile, runs = runsMade }: { readonly profile?: TimingProfile; readonly runs?: number } = {},
): ComingUp | undefined {
  const { prediction: p, segment } = alone;
  const isEnd = (x: Port, e: typeof a): boolean => p.design.routers[x.routerIndex]?.name === e.router && x.iface.name === e.iface;
  const found = p.adjacencies.pairs.find(
    (x) => x.segment === segment && ((isEnd(x.a.port, a) && isEnd(x.b.port, b)) || (isEnd(x.a.port, b) && isEnd(x.b.port, a))),
  );
  if (!found) return undefined;
  const pair = isEnd(found.a.port, a) ? found : { ...found, a: found.b, b: found.a };
  const ends: Ends = { a: pair.a.port, b: pair.b.port, names: { a: a.router, b: b.router } };
  const happenings = p
    .portsOn(segment)
    .filter((x) => beginning === 'together' || x.index === ends[beginning].index)
    .map((x): Happening => ({
      ms: 0,
      kind: 'restore',
      spec: { kind: 'interface', router: p.design.routers[x.routerIndex]?.name ?? '', iface: x.iface.name },
    }));
  const simulation = new Simulation(designOf(p.design), p.family, happenings);
  const plays = Array.from({ length: runs }, (_, n) => new Play(simulation, profile, n + 1, ends));
  const rested = plays.map((x) => x.restedAt(pair));
  const sorted = rested.flatMap((t) => t ?? []).sort((x, y) => x - y);
  const patience =
    sorted.length === plays.length ? { earliest: sorted[0] ?? 0, typical: lowerMedian(sorted), latest: sorted.at(-1) ?? 0 } : undefined;
  const typical = plays[Math.max(0, rested.indexOf(patience?.typical))] ?? plays[0];
  if (!typical) return undefined;
  const flaps = typical.flaps();
  const steps = typical.steps(pair);
  const shown = { a: typical.shown('a', pair), b: typical.shown('b', pair) };
  return { steps, shown, patience, runs: plays.length, flaps, seen: seenWords(pair, ends, flaps, patience) };
}

/** One run, with what was sent and which states were reached. */
class Play {
  private readonly packets: readonly PacketTold[];
  private readonly moves: readonly { readonly ms: number; readonly side: Side; readonly state: NeighborState }[];
  private readonly leaders: readonly { readonly ms: number; readonly side: Side; readonly words: string }[];

  constructor(
    simulation: Simulation,
    profile: TimingProfile,
    seed: number,
    private readonly ends: Ends,
  ) {
    const { a, b, names } = ends;
    const run = simulation.run(profile, seed);
    run.state.events = [];
    const packets: PacketTold[] = [];
    run.state.packets = packets;
    const longest = Math.max(a.settings.dead, b.settings.dead, a.settings.hello, b.settings.hello);
    const poll = Math.max(0, ...[a, b].flatMap((x) => x.settings.staticNeighbors.map((n) => n.poll)));
    run.toMoment((4 * longest + poll) * 1000 + 10_000);
    // Ports of the simulated network are those of the same places.
    const same = (x: Port, n: number): boolean => {
      const q = run.state.ports[n];
      return q?.routerIndex === x.routerIndex && q.ifaceIndex === x.ifaceIndex;
    };
    const between = (from: number, to: number): boolean => (same(a, from) && same(b, to)) || (same(b, from) && same(a, to));
    this.sideOf = (n) => (same(a, n) ? 'a' : 'b');
    this.packets = packets.filter((x) => between(x.from, x.to));
    const sides = { [names.a]: 'a', [names.b]: 'b' } as const;
    const starts = (side: Side): string => `${names[other(side)]} at ${ends[side].iface.name}: `;
    this.moves = run.state.events.flatMap((e) => {
      const side = sides[e.router];
      if (e.kind !== 'neighbour' || !side || !e.detail.startsWith(starts(side))) return [];
      const word = e.detail.slice(starts(side).length);
      return [{ ms: e.ms, side, state: pairStates.find((s) => s === word) ?? 'down' }];
    });
    this.leaders = run.state.events.flatMap((e) => {
      const side = sides[e.router];
      const at = side ? `at ${ends[side].iface.name}: ` : '';
      return side && e.kind === 'leader' && e.detail.startsWith(at) ? [{ ms: e.ms, side, words: e.detail.slice(at.length) }] : [];
    });
  }

  private readonly sideOf: (port: number) => Side;

  /** When the pair came to where it rests and stayed; `undefined`: it did not. */
  restedAt(pair: Pairing): number | undefined {
    const last = { a: 'down', b: 'down' };
    let since: number | undefined;
    const goal = { a: pair.a.state, b: pair.b.state };
    if (pair.a.state !== pair.b.state || (pair.a.state !== 'full' && pair.a.state !== '2-way')) return undefined;
    for (const m of this.moves) {
      last[m.side] = m.state;
      const there = last.a === goal.a && last.b === goal.b;
      if (there) since ??= m.ms;
      else since = undefined;
    }
    return since;
  }

  /** When one side lost the other, each time. */
  private get losses(): readonly number[] {
    return this.moves.filter((m) => m.side === 'a' && m.state === 'down').map((m) => m.ms);
  }

  /** How often the pair is lost after it came up, in ms from one loss to the next. */
  flaps(): number | undefined {
    const [first, second] = this.losses;
    return first !== undefined && second !== undefined ? second - first : undefined;
  }

  /** States of both after everything before a moment. */
  private statesBefore(ms: number): States {
    const out = { a: 'down', b: 'down' } as { a: NeighborState; b: NeighborState };
    for (const m of this.moves) if (m.ms < ms) out[m.side] = m.state;
    return out;
  }

  shown(side: Side, pair: Pairing): Shown[] {
    const out: Shown[] = [];
    const view = side === 'a' ? pair.a : pair.b;
    const polled = view.because === 'polled';
    const add = (fromMs: number, state: NeighborState): void => {
      const last = out.at(-1);
      if (last?.state === state) return;
      if (last) out[out.length - 1] = { ...last, toMs: fromMs };
      out.push({ fromMs, toMs: undefined, state });
    };
    add(0, polled ? 'attempt' : 'down');
    for (const m of this.moves) if (m.side === side) add(m.ms, m.state);
    if (polled) add(this.ends[side].settings.dead * 1000, 'down');
    // What keeps two in ExStart is not simulated packet by packet: they are there from 2-Way on.
    if (view.state === 'exstart' || view.state === 'exchange') {
      const two = out.find((s) => s.state === '2-way');
      if (two) return [...out.slice(0, out.indexOf(two)), { fromMs: two.fromMs, toMs: undefined, state: view.state }];
    }
    return out;
  }

  steps(pair: Pairing): SequenceStep[] {
    const raw = [...this.packets.flatMap((x) => this.packetSteps(x, pair)), ...this.leaders.map((l) => this.leaderStep(l))].sort(
      (x, y) => x.ms - y.ms,
    );
    const { a, b } = this.ends;
    const unlike = [pair.a, pair.b].some((v) => v.because.startsWith('mtu') || v.because === 'peer-stays-2-way');
    const rested = this.restedAt(pair);
    // What comes after the pair has come to rest is the same for ever; where it never does, one dead interval shows all of it.
    // From the second loss on all is the same again.
    const again = this.losses[1];
    const till = unlike ? this.twoWayAt() : (again ?? rested ?? Math.max(a.settings.dead, b.settings.dead) * 1000);
    const folded = foldTurns(raw.filter((s) => s.ms <= till));
    if (unlike) return [...folded, ...stuckSteps(pair, this.ends, till)];
    const end = again === undefined ? endStep(pair, this.ends, this.statesBefore(Infinity), till) : flapStep(this.ends, till);
    return [...folded, end];
  }

  private twoWayAt(): number {
    const at = (side: Side): number => this.moves.find((m) => m.side === side && m.state === '2-way')?.ms ?? 0;
    return Math.max(at('a'), at('b'));
  }

  private nameOf(id: number): string {
    const { a, b, names } = this.ends;
    return id === 0 ? '0.0.0.0' : id === a.routerId ? names.a : id === b.routerId ? names.b : formatAddress(id);
  }

  private leaderStep({ ms, side, words }: { ms: number; side: Side; words: string }): SequenceStep {
    return step(ms, 'none', `${this.ends.names[side]} elects: ${words}`, this.statesBefore(ms), 'RFC 2328 §9.4');
  }

  private packetSteps(x: PacketTold, pair: Pairing): SequenceStep[] {
    const { ends } = this;
    const from = this.sideOf(x.from);
    const to = other(from);
    if (x.kind === 'hello') {
      const p = ends[from];
      const view = to === 'a' ? pair.a : pair.b;
      const fields: [string, string][] = [
        ['lists', x.lists ? ends.names[to] : 'not yet the other'],
        ...(elects(p.type)
          ? ([
              ['DR', this.nameOf(x.dr)],
              ['BDR', this.nameOf(x.bdr)],
              ['priority', String(p.settings.priority)],
            ] as [string, string][])
          : []),
        // Told once of each, and where they matter.
        ...(x.lists && view.refused.length === 0
          ? []
          : ([
              ['hello', `${p.settings.hello} s`],
              ['dead', `${p.settings.dead} s`],
            ] as [string, string][])),
      ];
      const { a, b } = this.statesBefore(x.ms + 1);
      // The exchange that a hello sets off is told by its own packets.
      const yet = (s: NeighborState): NeighborState => (s === 'exchange' ? '2-way' : s);
      const refused = view.refused.length > 0 && { refused: refusedWords(view) };
      return [step(x.ms, from, 'Hello', { a: yet(a), b: yet(b) }, 'RFC 2328 §9.5, §10.5', { fields, ...refused })];
    }
    if (x.kind === 'loading') {
      const loads = (f: Side, what: string, rfc: string): SequenceStep =>
        step(x.ms, f, what, { a: 'loading', b: 'loading' }, rfc, { fields: [['advertisements', String(x.asked)]] });
      return [
        loads(from, 'Link State Request', 'RFC 2328 §10.9'),
        loads(to, 'Link State Update', 'RFC 2328 §13'),
        loads(from, 'Acknowledgement', 'RFC 2328 §13.5'),
      ];
    }
    const first = from === 'a' ? x.headers : ([x.headers[1], x.headers[0]] as const);
    return exchangeSteps(ends, from, x.ms, x.until, { a: first[0], b: first[1] });
  }
}
