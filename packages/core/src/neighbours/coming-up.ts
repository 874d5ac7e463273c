import { refusesMtu, wantsAdjacency, type Adjacencies, type NeighborView, type Pairing } from '../adjacency/settle';
import { elects, type Port } from '../adjacency/speakers';
import { lowerMedian, Simulation, type Spread } from '../convergence/converge';
import { headersInPacket } from '../convergence/neighbours';
import { pairStates, type PacketTold } from '../convergence/run-state';
import type { Happening } from '../convergence/simulate';
import { plainProfile, type TimingProfile } from '../convergence/timing-profile';
import { designOf } from '../design/family';
import type { NeighborState } from '../design/terms';
import { formatAddress } from '../prefix/address';
import type { Alone } from './alone';

/** How a pair begins: all of its segment at one moment, or one of the two comes to the others. */
export const beginnings = ['together', 'a', 'b'] as const;
export type Beginning = (typeof beginnings)[number];

/** Which of the two sends: `none` for what passes in one router alone. */
type From = 'a' | 'b' | 'none';

/** One line of the sequence: a packet from one lifeline to the other, or something that a router does by itself. Times in ms from the beginning. */
export interface SequenceStep {
  readonly ms: number;
  readonly from: From;
  readonly what: string;
  /** Fields that matter, with what they hold. */
  readonly fields: readonly (readonly [name: string, value: string])[];
  /** State of each side after it. */
  readonly a: NeighborState;
  readonly b: NeighborState;
  /** How often the same was sent, one after the other. */
  readonly times: number;
  /** It is not taken: why. */
  readonly refused?: string;
  /** Where the pair stays: nothing comes after it. */
  readonly sticks?: true;
  readonly rfc: string;
}

/** A stretch of time in which one side shows one state; `toMs` undefined: it stays. */
export interface Shown {
  readonly fromMs: number;
  readonly toMs: number | undefined;
  readonly state: NeighborState;
}

/** How a pair comes up, or where it sticks. */
export interface ComingUp {
  readonly beginning: Beginning;
  readonly steps: readonly SequenceStep[];
  /** What each side lists of the other over time. */
  readonly shown: { readonly a: readonly Shown[]; readonly b: readonly Shown[] };
  /** Where the pair rests, reached in every run that was simulated; `undefined`: it comes and goes, or stays below what it rests in. */
  readonly patience: Spread | undefined;
  /** Runs behind `patience`. */
  readonly runs: number;
  /** How long an operator waits before what is seen can be taken for the end, in ms. */
  readonly judgeAfter: number;
  /** The pair comes up and is lost again and again: how often, in ms. */
  readonly flaps: number | undefined;
  readonly seen: string;
}

/** Runs behind the patience, where nobody says otherwise. */
const runsMade = 60;

interface Ends {
  readonly a: Port;
  readonly b: Port;
  readonly names: { readonly a: string; readonly b: string };
}

const stateWords: Record<NeighborState, string> = {
  down: 'Down',
  attempt: 'Attempt',
  init: 'Init',
  '2-way': '2-Way',
  exstart: 'ExStart',
  exchange: 'Exchange',
  loading: 'Loading',
  full: 'Full',
};

/** A state as the standard writes it. */
export const neighborStateWords = (s: NeighborState): string => stateWords[s];

/** Times for people: `40 s`, `12.4 s`, `180 ms`. */
export const waitWords = (ms: number): string =>
  ms < 1000 ? `${Math.max(1, Math.round(ms))} ms` : `${ms % 1000 < 50 || ms >= 100_000 ? Math.round(ms / 1000) : (ms / 1000).toFixed(1)} s`;

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
  const steps = typical.steps(pair, p.adjacencies);
  const shown = { a: typical.shown('a', pair), b: typical.shown('b', pair) };
  const judgeAfter = patience?.latest ?? Math.max(ends.a.settings.dead, ends.b.settings.dead) * 1000;
  return { beginning, steps, shown, patience, runs: plays.length, judgeAfter, flaps, seen: seenWords(pair, ends, flaps, patience) };
}

/** One run, with what was sent and which states were reached. */
class Play {
  private readonly packets: readonly PacketTold[];
  private readonly moves: readonly { readonly ms: number; readonly side: 'a' | 'b'; readonly state: NeighborState }[];
  private readonly leaders: readonly { readonly ms: number; readonly side: 'a' | 'b'; readonly words: string }[];

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
    const starts = (side: 'a' | 'b'): string => `${names[side === 'a' ? 'b' : 'a']} at ${ends[side].iface.name}: `;
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

  private readonly sideOf: (port: number) => 'a' | 'b';

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

  /** How often the pair is lost after it came up, in ms from one loss to the next. */
  flaps(): number | undefined {
    const lost = this.moves.filter((m) => m.side === 'a' && m.state === 'down').map((m) => m.ms);
    const [first, second] = lost;
    return first !== undefined && second !== undefined ? second - first : undefined;
  }

  /** States of both after everything up to a moment. */
  private statesAt(ms: number): { a: NeighborState; b: NeighborState } {
    const out: { a: NeighborState; b: NeighborState } = { a: 'down', b: 'down' };
    for (const m of this.moves) if (m.ms <= ms) out[m.side] = m.state;
    return out;
  }

  private statesBefore(ms: number): { a: NeighborState; b: NeighborState } {
    const out: { a: NeighborState; b: NeighborState } = { a: 'down', b: 'down' };
    for (const m of this.moves) if (m.ms < ms) out[m.side] = m.state;
    return out;
  }

  shown(side: 'a' | 'b', pair: Pairing): Shown[] {
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

  steps(pair: Pairing, rest: Adjacencies): SequenceStep[] {
    const raw = [...this.packets.flatMap((x) => this.packetSteps(x, pair)), ...this.leaders.map((l) => this.leaderStep(l))].sort(
      (x, y) => x.ms - y.ms,
    );
    const { a, b } = this.ends;
    const unlike = [pair.a, pair.b].some((v) => v.because.startsWith('mtu') || v.because === 'peer-stays-2-way');
    const rested = this.restedAt(pair);
    // What comes after the pair has come to rest is the same for ever; where it never does, one dead interval shows all of it.
    const till = unlike ? this.twoWayAt() : (this.secondLoss() ?? rested ?? Math.max(a.settings.dead, b.settings.dead) * 1000);
    const folded = foldTurns(raw.filter((s) => s.ms <= till));
    if (unlike) return [...folded, ...stuckSteps(pair, this.ends, till)];
    const end = this.secondLoss() === undefined ? endStep(pair, this.ends, rest, this.statesAt(Infinity), rested) : flapStep(this.ends, till);
    return end ? [...folded, end] : folded;
  }

  /** When the pair was lost for the second time: from there on all is the same again. */
  private secondLoss(): number | undefined {
    return this.moves.filter((m) => m.side === 'a' && m.state === 'down')[1]?.ms;
  }

  private twoWayAt(): number {
    const at = (side: 'a' | 'b'): number => this.moves.find((m) => m.side === side && m.state === '2-way')?.ms ?? 0;
    return Math.max(at('a'), at('b'));
  }

  private nameOf(id: number): string {
    const { a, b, names } = this.ends;
    return id === 0 ? '0.0.0.0' : id === a.routerId ? names.a : id === b.routerId ? names.b : formatAddress(id);
  }

  private leaderStep({ ms, side, words }: { ms: number; side: 'a' | 'b'; words: string }): SequenceStep {
    return {
      ms,
      from: 'none',
      what: `${this.ends.names[side]} elects: ${words}`,
      fields: [],
      ...this.statesBefore(ms),
      times: 1,
      rfc: 'RFC 2328 §9.4',
    };
  }

  private packetSteps(x: PacketTold, pair: Pairing): SequenceStep[] {
    const { ends } = this;
    const from = this.sideOf(x.from);
    const to = from === 'a' ? 'b' : 'a';
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
      const { a, b } = this.statesAt(x.ms + 1);
      // The exchange that a hello sets off is told by its own packets.
      const yet = (s: NeighborState): NeighborState => (s === 'exchange' ? '2-way' : s);
      const step = { ms: x.ms, from, what: 'Hello', fields, a: yet(a), b: yet(b), times: 1, rfc: 'RFC 2328 §9.5, §10.5' };
      return [view.refused.length > 0 ? { ...step, refused: refusedWords(view) } : step];
    }
    if (x.kind === 'loading') {
      const step = (f: From, what: string, rfc: string): SequenceStep => ({
        ms: x.ms,
        from: f,
        what,
        fields: [['advertisements', String(x.asked)]],
        a: 'loading',
        b: 'loading',
        times: 1,
        rfc,
      });
      return [
        step(from, 'Link State Request', 'RFC 2328 §10.9'),
        step(to, 'Link State Update', 'RFC 2328 §13'),
        step(from, 'Acknowledgement', 'RFC 2328 §13.5'),
      ];
    }
    return this.exchangeSteps(x);
  }

  /** The packets of an exchange: the simulation knows when it begins and ends, and how much there is to describe (RFC 2328 §10.8). */
  private exchangeSteps(x: Extract<PacketTold, { kind: 'exchange' }>): SequenceStep[] {
    const { ends } = this;
    const first = this.sideOf(x.from);
    const second = first === 'a' ? 'b' : 'a';
    const master = ends.a.routerId > ends.b.routerId ? 'a' : 'b';
    const slave = master === 'a' ? 'b' : 'a';
    const headers = first === 'a' ? { a: x.headers[0], b: x.headers[1] } : { a: x.headers[1], b: x.headers[0] };
    const seq = { a: 's', b: 't' };
    const headersOf = (side: 'a' | 'b'): string => {
      const packets = Math.ceil(headers[side] / headersInPacket);
      return packets > 1 ? `${headers[side]} in ${packets} packets` : String(headers[side]);
    };
    const beginnings: readonly ('a' | 'b')[] = [first, second];
    const times = 4;
    const at = (n: number): number => x.ms + ((x.until - x.ms) * n) / (times + 1);
    const mtu = (s: 'a' | 'b'): [string, string] => ['MTU', String(ends[s].iface.mtu)];
    const dd = (n: number, from: From, fields: (readonly [string, string])[], state: NeighborState): SequenceStep => ({
      ms: at(n),
      from,
      what: 'Database Description',
      fields,
      a: state,
      b: state,
      times: 1,
      rfc: 'RFC 2328 §10.6, §10.8',
    });
    return [
      ...beginnings.map((s, n) => dd(n * 0.5, s, [['flags', 'I, M, MS'], ['sequence', `${seq[s]}, its own`], mtu(s)], 'exstart')),
      {
        ms: at(1),
        from: 'none',
        what: `${ends.names[master]} is master: its router id ${formatAddress(ends[master].routerId)} is the larger`,
        fields: [],
        a: 'exstart',
        b: 'exstart',
        times: 1,
        rfc: 'RFC 2328 §10.8',
      },
      dd(
        1,
        slave,
        [
          ['flags', 'M'],
          ['sequence', seq[master]],
          ['headers', headersOf(slave)],
        ],
        'exchange',
      ),
      dd(
        2,
        master,
        [
          ['flags', 'M, MS'],
          ['sequence', `${seq[master]} + 1`],
          ['headers', headersOf(master)],
        ],
        'exchange',
      ),
      dd(
        3,
        slave,
        [
          ['flags', 'none'],
          ['sequence', `${seq[master]} + 1`],
          ['headers', '0'],
        ],
        'exchange',
      ),
    ];
  }
}

/** Hellos that go to and fro without anything new are told once, with how often. */
function foldTurns(steps: readonly SequenceStep[]): SequenceStep[] {
  const out: SequenceStep[] = [];
  const alike = (x: SequenceStep | undefined, y: SequenceStep): boolean =>
    x?.what === 'Hello' &&
    y.what === 'Hello' &&
    x.from === y.from &&
    x.a === y.a &&
    x.b === y.b &&
    x.refused === y.refused &&
    JSON.stringify(x.fields) === JSON.stringify(y.fields);
  for (const s of steps) {
    const back = [out.at(-1), out.at(-2)].findIndex((x) => alike(x, s));
    const at = out.length - 1 - back;
    const known = out[at];
    if (back >= 0 && known) out[at] = { ...known, times: known.times + s.times };
    else out.push(s);
  }
  return out;
}

/** Why one side does not take the other's hello, with both values. */
function refusedWords(v: NeighborView): string {
  return v.refused
    .map((r) => {
      const shown = (x: string | number): string => (r.kind === 'area' || r.kind === 'router-id' ? formatAddress(Number(x)) : String(x));
      return `${r.kind.replaceAll('-', ' ')}: ${shown(r.theirs)} in it, ${shown(r.ours)} here (${r.rfc})`;
    })
    .join('; ');
}

/** What two that never agree on their descriptions send for ever. */
function stuckSteps(pair: Pairing, { a, b, names }: Ends, ms: number): SequenceStep[] {
  const states = { a: pair.a.state, b: pair.b.state };
  const dd = (from: 'a' | 'b', refused?: string): SequenceStep => ({
    ms,
    from,
    what: 'Database Description',
    fields: [
      ['flags', 'I, M, MS'],
      ['MTU', String((from === 'a' ? a : b).iface.mtu)],
    ],
    ...states,
    times: 1,
    ...(refused !== undefined && { refused }),
    rfc: 'RFC 2328 §10.6',
  });
  const end = (what: string): SequenceStep => ({
    ms,
    from: 'none',
    what,
    fields: [],
    ...states,
    times: 1,
    sticks: true,
    rfc: 'RFC 2328 §10.6, §10.8',
  });
  const lazy = pair.a.because === 'peer-stays-2-way' ? 'b' : pair.b.because === 'peer-stays-2-way' ? 'a' : undefined;
  if (lazy)
    return [
      dd(lazy === 'a' ? 'b' : 'a', `${names[lazy]} wants no adjacency here`),
      end(`${names[lazy]} is content with 2-Way; the other waits in ExStart for ever`),
    ];
  const refuses = (p: Port, q: Port): string | undefined =>
    refusesMtu(p, q) ? `MTU ${q.iface.mtu} in it, ${p.iface.mtu} here: larger than what can be taken in one piece` : undefined;
  const again = Math.max(a.settings.retransmit, b.settings.retransmit);
  return [dd('a', refuses(b, a)), dd('b', refuses(a, b)), end(`sent again every ${again} s and refused every time: it stays so for ever`)];
}

/** The last line of a pair that does not come to Full. */
function endStep(
  pair: Pairing,
  { a, b, names }: Ends,
  rest: Adjacencies,
  states: { a: NeighborState; b: NeighborState },
  rested: number | undefined,
): SequenceStep | undefined {
  const of = (what: string, sticks: boolean, rfc: string): SequenceStep => ({
    ms: rested ?? Math.max(a.settings.dead, b.settings.dead) * 1000,
    from: 'none',
    what,
    fields: [],
    ...states,
    times: 1,
    ...(sticks && { sticks }),
    rfc,
  });
  const [x, y] = [pair.a, pair.b];
  if (x.state === 'full' && y.state === 'full') return { ...of('databases are in step: Full', false, 'RFC 2328 §10.3'), a: 'full', b: 'full' };
  if (x.state === '2-way' && y.state === '2-way')
    return wantsAdjacency(a, b, rest.leaders[a.index] ?? { dr: 0, bdr: 0 })
      ? undefined
      : of('neither is designated router or backup: they stay in 2-Way, and that is right', false, 'RFC 2328 §10.4');
  const silent = (v: NeighborView): boolean => v.port.settings.passive || !v.port.settings.enabled || !v.port.up;
  const who = [silent(x) ? names.a : '', silent(y) ? names.b : ''].filter((n) => n !== '');
  if (who.length > 0) return of(`${who.join(' and ')} ${who.length === 1 ? 'sends' : 'send'} no hello here`, true, 'RFC 2328 §9.5');
  const oneWay = x.because === 'one-way' ? names.a : y.because === 'one-way' ? names.b : undefined;
  if (oneWay !== undefined) return of(`${oneWay} hears the other and is never listed: Init, for ever`, true, 'RFC 2328 §10.3');
  if ([...x.refused, ...y.refused].some((r) => r.kind === 'no-static-neighbor'))
    return of('neither speaks first: on a non-broadcast network a neighbour has to be listed', true, 'RFC 2328 §9.5.1');
  return of('every hello is thrown away: no neighbour is ever listed', true, x.refused[0]?.rfc ?? y.refused[0]?.rfc ?? 'RFC 2328 §10.5');
}

/** Why a pair that agrees in everything is lost again and again. */
const flapStep = ({ a, b }: Ends, ms: number): SequenceStep => ({
  ms,
  from: 'none',
  what: `lost: the next hello comes after ${Math.max(a.settings.hello, b.settings.hello)} s, the dead interval ends after ${Math.min(a.settings.dead, b.settings.dead)} s; then all of it again`,
  fields: [],
  a: 'down',
  b: 'down',
  times: 1,
  sticks: true,
  rfc: 'RFC 2328 §9.5, §10.3',
});

/** What an operator sees, and how long to wait before it can be believed. */
function seenWords(pair: Pairing, { a, b, names }: Ends, flaps: number | undefined, patience: Spread | undefined): string {
  const [x, y] = [pair.a, pair.b];
  const dead = Math.max(a.settings.dead, b.settings.dead);
  if (flaps !== undefined) return `The neighbour comes up and is lost again about every ${waitWords(flaps)}, on both.`;
  if (patience) {
    const typeApart = (elects(a.type) && a.type !== 'hybrid') !== (elects(b.type) && b.type !== 'hybrid');
    const up = x.state === 'full' ? 'Full' : '2-Way, rightly';
    const words = `${up} after ${waitWords(patience.latest)} at the latest, ${waitWords(patience.typical)} as a rule.`;
    return x.state === 'full' && typeApart
      ? `${words} The neighbour looks healthy, and no route goes through it: the two describe the link differently.`
      : words;
  }
  const polled = x.because === 'polled' ? names.a : y.because === 'polled' ? names.b : undefined;
  if (polled !== undefined) {
    const poll = Math.max(...[a, b].flatMap((p) => p.settings.staticNeighbors.map((n) => n.poll)), 0);
    return `${polled} shows Attempt for ${dead} s, then Down, and polls every ${poll} s. The other side shows nothing.`;
  }
  const side = (v: NeighborView, name: string): string => (v.state === 'down' ? `${name} lists nothing` : `${name} shows ${stateWords[v.state]}`);
  const both = x.state === 'down' && y.state === 'down' ? 'No neighbour is listed on either side' : `${side(x, names.a)}, ${side(y, names.b)}`;
  const deaf = x.state !== 'down' || y.state !== 'down';
  return `${both}, for ever; ${deaf ? `it stands after ${2 * dead} s at the latest` : `after ${dead} s there is nothing more to wait for`}.`;
}
