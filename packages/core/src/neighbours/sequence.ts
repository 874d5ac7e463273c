import { typesAgree } from '../adjacency/hello-match';
import { refusesMtu, type NeighborView, type Pairing } from '../adjacency/settle';
import type { Port } from '../adjacency/speakers';
import { timeWords } from '../convergence/chain';
import type { Spread } from '../convergence/converge';
import { headersInPacket } from '../convergence/neighbours';
import type { NeighborState } from '../design/terms';
import { neighborStateNames, pairWord, refusalNames, refusalValue } from '../evidence/neighbor-words';
import { formatAddress } from '../prefix/address';

/** One of the two ends. */
export type Side = 'a' | 'b';
/** Who sends: `none` for what passes in one router alone. */
type From = Side | 'none';

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

/** The two ends of a pair. */
export interface Ends {
  readonly a: Port;
  readonly b: Port;
  readonly names: { readonly a: string; readonly b: string };
}

/** States of both sides. */
export type States = Pick<SequenceStep, Side>;

export const other = (side: Side): Side => (side === 'a' ? 'b' : 'a');

/** One step; what is not said of it is nothing. */
export const step = (
  ms: number,
  from: From,
  what: string,
  { a, b }: States,
  rfc: string,
  more: Partial<Pick<SequenceStep, 'fields' | 'refused' | 'sticks'>> = {},
): SequenceStep => ({ ms, from, what, fields: [], a, b, times: 1, rfc, ...more });

const mtuOf = (p: Port): readonly [string, string] => ['MTU', String(p.iface.mtu)];

/**
 * The packets of an exchange: the simulation knows when it begins and ends, and how much there is to describe (RFC 2328 §10.8).
 * Their sequence numbers are letters: each router begins with one of its own.
 *
 * @param first  who speaks first @param ms, until  when it begins and ends @param headers  how much each has to describe
 */
export function exchangeSteps(
  { a, b, names }: Ends,
  first: Side,
  ms: number,
  until: number,
  headers: Readonly<Record<Side, number>>,
): SequenceStep[] {
  const ports = { a, b };
  const second = other(first);
  const master = a.routerId > b.routerId ? 'a' : 'b';
  const slave = other(master);
  const seq = { a: 's', b: 't' };
  const headersOf = (side: Side): string => {
    const packets = Math.ceil(headers[side] / headersInPacket);
    return packets > 1 ? `${headers[side]} in ${packets} packets` : String(headers[side]);
  };
  /** At so many fifths of the way. */
  const at = (fifths: number): number => ms + ((until - ms) * fifths) / 5;
  const description = (fifths: number, from: Side, fields: SequenceStep['fields'], state: NeighborState): SequenceStep =>
    step(at(fifths), from, 'Database Description', { a: state, b: state }, 'RFC 2328 §10.6, §10.8', { fields });
  const opens = (fifths: number, from: Side): SequenceStep =>
    description(fifths, from, [['flags', 'I, M, MS'], ['sequence', `${seq[from]}, its own`], mtuOf(ports[from])], 'exstart');
  const goesOn = (fifths: number, from: Side, flags: string, sequence: string, count: string): SequenceStep =>
    description(
      fifths,
      from,
      [
        ['flags', flags],
        ['sequence', sequence],
        ['headers', count],
      ],
      'exchange',
    );
  return [
    opens(0, first),
    opens(0.5, second),
    step(
      at(1),
      'none',
      `${names[master]} is master: its router id ${formatAddress(ports[master].routerId)} is the larger`,
      { a: 'exstart', b: 'exstart' },
      'RFC 2328 §10.8',
    ),
    goesOn(1, slave, 'M', seq[master], headersOf(slave)),
    goesOn(2, master, 'M, MS', `${seq[master]} + 1`, headersOf(master)),
    goesOn(3, slave, 'none', `${seq[master]} + 1`, '0'),
  ];
}

/** Hellos that go to and fro without anything new are told once, with how often. */
export function foldTurns(steps: readonly SequenceStep[]): SequenceStep[] {
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
export const refusedWords = (v: NeighborView): string =>
  v.refused
    .map((r) => `${refusalNames[r.kind]}: ${refusalValue(r.kind, r.theirs)} in it, ${refusalValue(r.kind, r.ours)} here (${r.rfc})`)
    .join('; ');

/** What two that never agree on their descriptions send for ever. */
export function stuckSteps(pair: Pairing, { a, b, names }: Ends, ms: number): SequenceStep[] {
  const states = { a: pair.a.state, b: pair.b.state };
  const dd = (from: Side, refused?: string): SequenceStep =>
    step(ms, from, 'Database Description', states, 'RFC 2328 §10.6', {
      fields: [['flags', 'I, M, MS'], mtuOf(from === 'a' ? a : b)],
      ...(refused !== undefined && { refused }),
    });
  const end = (what: string): SequenceStep => step(ms, 'none', what, states, 'RFC 2328 §10.6, §10.8', { sticks: true });
  const lazy = pair.a.because === 'peer-stays-2-way' ? 'b' : pair.b.because === 'peer-stays-2-way' ? 'a' : undefined;
  if (lazy)
    return [
      dd(other(lazy), `${names[lazy]} wants no adjacency here`),
      end(`${names[lazy]} is content with 2-Way; the other waits in ExStart for ever`),
    ];
  const refuses = (p: Port, q: Port): string | undefined =>
    refusesMtu(p, q) ? `MTU ${q.iface.mtu} in it, ${p.iface.mtu} here: larger than what can be taken in one piece` : undefined;
  const again = Math.max(a.settings.retransmit, b.settings.retransmit);
  return [dd('a', refuses(b, a)), dd('b', refuses(a, b)), end(`sent again every ${again} s and refused every time: it stays so for ever`)];
}

/** The last line of a pair: why it is at rest, or where it sticks. @param ms  when that is so */
export function endStep(pair: Pairing, { names }: Ends, states: States, ms: number): SequenceStep {
  const rests = (what: string, rfc: string): SequenceStep => step(ms, 'none', what, states, rfc);
  const sticks = (what: string, rfc: string): SequenceStep => step(ms, 'none', what, states, rfc, { sticks: true });
  const [x, y] = [pair.a, pair.b];
  if (x.state === 'full' && y.state === 'full') return { ...rests('databases are in step: Full', 'RFC 2328 §10.3'), a: 'full', b: 'full' };
  if (x.state === '2-way' && y.state === '2-way')
    return rests('neither is designated router or backup: they stay in 2-Way, and that is right', 'RFC 2328 §10.4');
  const silent = (v: NeighborView): boolean => v.port.settings.passive || !v.port.settings.enabled || !v.port.up;
  const who = [silent(x) ? names.a : '', silent(y) ? names.b : ''].filter((n) => n !== '');
  if (who.length > 0) return sticks(`${who.join(' and ')} ${who.length === 1 ? 'sends' : 'send'} no hello here`, 'RFC 2328 §9.5');
  const oneWay = x.because === 'one-way' ? names.a : y.because === 'one-way' ? names.b : undefined;
  if (oneWay !== undefined) return sticks(`${oneWay} hears the other and is never listed: Init, for ever`, 'RFC 2328 §10.3');
  if (pairWord(pair).kind === 'rests') return rests('neither can lead, so neither speaks to the other: that is right', 'RFC 2328 §9.5.1');
  if ([...x.refused, ...y.refused].some((r) => r.kind === 'no-static-neighbor'))
    return sticks('neither speaks first: on a non-broadcast network a neighbour has to be listed', 'RFC 2328 §9.5.1');
  return sticks('every hello is thrown away: no neighbour is ever listed', x.refused[0]?.rfc ?? y.refused[0]?.rfc ?? 'RFC 2328 §10.5');
}

/** Why a pair that agrees in everything is lost again and again. */
export const flapStep = ({ a, b }: Ends, ms: number): SequenceStep =>
  step(
    ms,
    'none',
    `lost: the next hello comes after ${Math.max(a.settings.hello, b.settings.hello)} s, the dead interval ends after ${Math.min(a.settings.dead, b.settings.dead)} s; then all of it again`,
    { a: 'down', b: 'down' },
    'RFC 2328 §9.5, §10.3',
    { sticks: true },
  );

/** What an operator sees, and how long to wait before it can be believed. */
export function seenWords(pair: Pairing, { a, b, names }: Ends, flaps: number | undefined, patience: Spread | undefined): string {
  const [x, y] = [pair.a, pair.b];
  const dead = Math.max(a.settings.dead, b.settings.dead);
  if (flaps !== undefined) return `The neighbour comes up and is lost again about every ${timeWords(flaps)}, on both.`;
  if (patience) {
    const up = x.state === 'full' ? 'Full' : '2-Way, rightly';
    const words = `${up} after ${timeWords(patience.latest)} at the latest, ${timeWords(patience.typical)} as a rule.`;
    return x.state === 'full' && !typesAgree(a, b)
      ? `${words} The neighbour looks healthy, and no route goes through it: the two describe the link differently.`
      : words;
  }
  const polled = x.because === 'polled' ? names.a : y.because === 'polled' ? names.b : undefined;
  if (polled !== undefined) {
    const poll = Math.max(...[a, b].flatMap((p) => p.settings.staticNeighbors.map((n) => n.poll)), 0);
    return `${polled} shows Attempt for ${dead} s, then Down, and polls every ${poll} s. The other side shows nothing.`;
  }
  if (pairWord(pair).kind === 'rests') return 'No neighbour is listed on either side, and that is right.';
  const side = (v: NeighborView, name: string): string =>
    v.state === 'down' ? `${name} lists nothing` : `${name} shows ${neighborStateNames[v.state]}`;
  const both = x.state === 'down' && y.state === 'down' ? 'No neighbour is listed on either side' : `${side(x, names.a)}, ${side(y, names.b)}`;
  const deaf = x.state !== 'down' || y.state !== 'down';
  return `${both}, for ever; ${deaf ? `it stands after ${2 * dead} s at the latest` : `after ${dead} s there is nothing more to wait for`}.`;
}
