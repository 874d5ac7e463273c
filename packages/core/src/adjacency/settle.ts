import type { Design } from '../design/design';
import type { Outage } from '../failures/outage';
import type { Ipv4 } from '../prefix/ipv4';
import { listsByKey, type NumberLists } from '../segments/number-lists';
import { membersReach, type Segments } from '../segments/segments';
import { electLeaders, type Candidate, type Leaders } from './dr-election';
import { refusals, type Refusal } from './hello-match';
import type { NeighborState } from '../design/terms';
import { hangsOnLeaders, listed, sendsTo } from './non-broadcast';
import { elects, helloAddress, speakersOf, type Port, type Speaker } from './speakers';

/** One port's view of one neighbour, at rest (RFC 2328 §10). */
export interface NeighborView {
  readonly port: Port;
  readonly peer: Port;
  readonly address: Ipv4;
  readonly state: NeighborState;
  readonly because: 'full' | 'not-heard' | 'one-way' | 'neither-leads' | 'mtu-refused-here' | 'mtu-refused-there' | 'peer-stays-2-way' | 'polled';
  /** Why this side refuses the other's hellos; empty when it hears them. */
  readonly refused: readonly Refusal[];
}

/** A pair of ports on one segment that face each other, with both views. */
export interface Pairing {
  readonly a: NeighborView;
  readonly b: NeighborView;
  readonly segment: number;
}

/** The settled neighbours of the whole design, and what later failures start from. */
export interface Adjacencies {
  readonly speakers: readonly Speaker[];
  readonly ports: readonly Port[];
  /** Each pair of facing ports once. */
  readonly pairs: readonly Pairing[];
  /** Views by port index. */
  readonly views: readonly (readonly NeighborView[])[];
  /** Designated router and backup that each port holds, by port index. */
  readonly leaders: readonly Leaders[];
  /** Segments whose election did not come to rest within its bound. */
  readonly unsettled: readonly number[];
}

const none: Leaders = { dr: 0, bdr: 0 };
const portKey = (p: Port, speakers: readonly Speaker[]): string => `${p.routerIndex}/${p.ifaceIndex}/${speakers[p.speaker]?.instance.name ?? ''}`;

interface Hearing {
  readonly a: Port;
  readonly b: Port;
  /** Why `a` refuses `b`'s hellos, and the reverse. */
  readonly aRefuses: readonly Refusal[];
  readonly bRefuses: readonly Refusal[];
}

function hear(ours: Port, theirs: Port, leaders: readonly Leaders[]): readonly Refusal[] {
  const out = refusals(ours, theirs);
  if (out.length > 0 || sendsTo(theirs, ours, leaders)) return out;
  const entry = (p: Port, q: Port): string => (listed(p, q) ? 'listed' : 'not listed');
  return [{ kind: 'no-static-neighbor', ours: entry(ours, theirs), theirs: entry(theirs, ours), rfc: 'RFC 2328 §9.5.1' }];
}

/** Whether two ports of a segment face each other at all: those of one router do not, and a topology may keep two apart. */
export function face(segments: Segments, segment: number, a: Port, b: Port): boolean {
  if (a.routerIndex === b.routerIndex) return false;
  const reach = segments.reachOf(segment);
  if (!reach) return true;
  const members = segments.list[segment]?.members ?? [];
  const place = (p: Port): number => members.findIndex((m) => m.router === p.routerIndex && m.iface === p.ifaceIndex);
  return membersReach({ reach }, place(a), place(b));
}

/** All pairs of ports that face each other on one segment, with what each refuses. */
function hearings(segments: Segments, segment: number, there: readonly Port[], leaders: readonly Leaders[]): readonly Hearing[] {
  const out: Hearing[] = [];
  for (let i = 0; i < there.length; i++)
    for (let j = i + 1; j < there.length; j++) {
      const [a, b] = [there[i], there[j]];
      if (a && b && face(segments, segment, a, b)) out.push({ a, b, aRefuses: hear(a, b, leaders), bRefuses: hear(b, a, leaders) });
    }
  return out;
}

const takesPartInElection = (p: Port): boolean => p.up && !p.settings.passive && elects(p.type);

/** What a port says in its hellos: nothing of leaders where its type elects none. */
function says(p: Port, l: Leaders): Candidate {
  const { dr, bdr } = elects(p.type) ? l : none;
  return { routerId: p.routerId, priority: p.settings.priority, dr, bdr };
}

/**
 * Elections on one segment, round by round: every router calculates from what the others said in the round before
 * (RFC 2328 §9.4, §10.5), until nobody changes its mind.
 */
function electOn(electing: readonly Port[], twoWay: ReadonlyMap<Port, readonly Port[]>, leaders: Leaders[]): boolean {
  // Neighbours that elect by their place; of those that do not nothing changes.
  const placeOf = new Map(electing.map((p, i) => [p, i]));
  const heard = electing.map((p) => (twoWay.get(p) ?? []).map((q) => ({ place: placeOf.get(q) ?? -1, silent: says(q, none) })));
  for (let round = 0; round < 4 * electing.length + 8; round++) {
    const said = electing.map((p) => says(p, leaders[p.index] ?? none));
    let same = true;
    for (const [i, p] of electing.entries()) {
      const self = said[i];
      if (!self) continue;
      const others = (heard[i] ?? []).map((h) => said[h.place] ?? h.silent);
      const next = electLeaders(self, others);
      if (next.dr !== self.dr || next.bdr !== self.bdr) same = false;
      leaders[p.index] = next;
    }
    if (same) return true;
  }
  return false;
}

/** Routers join a segment one after the other in start order; without one all start together. */
function electInOrder(
  electing: readonly Port[],
  twoWay: ReadonlyMap<Port, readonly Port[]>,
  leaders: Leaders[],
  order: readonly string[] | undefined,
  nameOf: (p: Port) => string,
): boolean {
  if (!order) return electOn(electing, twoWay, leaders);
  const rank = (p: Port): number => {
    const i = order.indexOf(nameOf(p));
    return i < 0 ? order.length : i;
  };
  const ranks = [...new Set(electing.map(rank))].sort((x, y) => x - y);
  let ok = true;
  for (const r of ranks) {
    const present = new Set(electing.filter((p) => rank(p) <= r));
    const heard = new Map([...twoWay].map(([p, qs]) => [p, qs.filter((q) => present.has(q) || !elects(q.type))] as const));
    ok = electOn([...present], heard, leaders) && ok;
  }
  return ok;
}

/** Whether an adjacency should form here (RFC 2328 §10.4). */
export function wantsAdjacency(p: Port, peer: Port, l: Leaders): boolean {
  if (!elects(p.type)) return true;
  const leads = (x: Ipv4): boolean => x !== 0 && (x === p.routerId || x === peer.routerId);
  return leads(l.dr) || leads(l.bdr);
}

/** RFC 2328 §10.6: descriptions from a neighbour with the larger MTU are refused, unless told to ignore it. */
/** Whether a router refuses a neighbour's database descriptions for their size (RFC 2328 §10.6). */
export const refusesMtu = (p: Port, peer: Port): boolean => peer.iface.mtu > p.iface.mtu && !p.settings.mtuIgnore;

type Rest = Pick<NeighborView, 'state' | 'because'>;
const full: Rest = { state: 'full', because: 'full' };
const neitherLeads: Rest = { state: '2-way', because: 'neither-leads' };

/** Where this side of a pair comes to rest once both hear each other. */
function restTwoWay(p: Port, peer: Port, ours: Leaders, theirs: Leaders): Rest {
  if (!wantsAdjacency(p, peer, ours)) return neitherLeads;
  if (!wantsAdjacency(peer, p, theirs)) return { state: 'exstart', because: 'peer-stays-2-way' };
  const here = refusesMtu(p, peer);
  const there = refusesMtu(peer, p);
  if (here) return { state: 'exstart', because: 'mtu-refused-here' };
  // We accept theirs. As slave (the larger router id leads, §10.8) we answer their first description and move on to
  // Exchange, where they refuse our answer; as master we wait in ExStart for an answer that they never take in.
  if (there) return { state: peer.routerId > p.routerId ? 'exchange' : 'exstart', because: 'mtu-refused-there' };
  return full;
}

function rest(p: Port, peer: Port, hearsUs: boolean, refused: readonly Refusal[], ours: Leaders, theirs: Leaders): Rest {
  if (refused.length > 0) {
    const waits = p.type === 'non-broadcast' && p.up && !p.settings.passive && listed(p, peer) !== undefined;
    // Attempt is what is seen until the dead interval ends; then it is Down, and polled (RFC 2328 §9.5.1, §10.3).
    return { state: 'down', because: waits ? 'polled' : 'not-heard' };
  }
  if (!hearsUs) return { state: 'init', because: 'one-way' };
  return restTwoWay(p, peer, ours, theirs);
}

/** What grows while segment after segment comes to rest. */
interface Settling {
  readonly leaders: Leaders[];
  readonly views: NeighborView[][];
  readonly pairs: Pairing[];
  readonly unsettled: number[];
  /** 1 for ports that take part in an election. */
  readonly elected: Uint8Array;
}

/** @param there  all ports on the segment, in the order of their numbers */
function settleSegment(
  segments: Segments,
  segment: number,
  there: readonly Port[],
  speakers: readonly Speaker[],
  state: Settling,
  startOrder: readonly string[] | undefined,
  name: (p: Port) => string,
): void {
  const electing = there.filter(takesPartInElection);
  let met = hearings(segments, segment, there, state.leaders);
  for (const p of electing) state.elected[p.index] = 1;
  let settled = electing.length === 0 || electInOrder(electing, twoWayOn(met), state.leaders, startOrder, name);
  // Who leads begins to speak to more neighbours, and these may lead then.
  for (let round = 0; settled && hangsOnLeaders(there); round++) {
    const again = hearings(segments, segment, there, state.leaders);
    if (again.every((h, i) => h.aRefuses.length === met[i]?.aRefuses.length && h.bRefuses.length === met[i].bRefuses.length)) break;
    met = again;
    settled = electOn(electing, twoWayOn(met), state.leaders) && round < there.length;
  }
  if (!settled) state.unsettled.push(segment);
  for (const h of met) settlePair(h.a, h.b, h.aRefuses, h.bRefuses, segment, speakers, state);
}

/** The two ends of a cable that elects nobody, as most segments are: the same without a list. */
function settleTwo(segments: Segments, segment: number, a: Port, b: Port, speakers: readonly Speaker[], state: Settling): void {
  if (face(segments, segment, a, b)) settlePair(a, b, hear(a, b, state.leaders), hear(b, a, state.leaders), segment, speakers, state);
}

/** Shared by all ports without neighbours; never written to. */
const noViews: NeighborView[] = [];

/** Leaders that ports held in an earlier state, by process and interface; none where a port was or is down. */
function leadersFrom(before: Adjacencies, speakers: readonly Speaker[], ports: readonly Port[]): Leaders[] {
  const previous = new Map(before.ports.map((p) => [portKey(p, before.speakers), p.up ? (before.leaders[p.index] ?? none) : none]));
  return ports.map((p) => (p.up ? (previous.get(portKey(p, speakers)) ?? none) : none));
}

/** For each port those that it hears and that hear it. */
function twoWayOn(met: readonly Hearing[]): Map<Port, Port[]> {
  const out = new Map<Port, Port[]>();
  const note = (p: Port, q: Port): unknown => out.get(p)?.push(q) ?? out.set(p, [q]);
  for (const h of met)
    if (h.aRefuses.length === 0 && h.bRefuses.length === 0) {
      note(h.a, h.b);
      note(h.b, h.a);
    }
  return out;
}

/**
 * Brings every segment to rest: who hears whom, who leads, and the neighbour state on each side.
 *
 * @param before      the state before the latest failure: leaders that are not lost keep leading; absent: all start together
 * @param startOrder  host names in order of start, where it matters; the others start together after them
 */
export function settleAdjacencies(
  design: Design,
  segments: Segments,
  outage: Outage,
  before?: Adjacencies,
  startOrder?: readonly string[],
): Adjacencies {
  const { speakers, ports } = speakersOf(design, segments, outage);
  const leaders = before ? leadersFrom(before, speakers, ports) : new Array<Leaders>(ports.length).fill(none);
  const views = new Array<NeighborView[]>(ports.length).fill(noViews);
  const state: Settling = { leaders, views, pairs: [], unsettled: [], elected: new Uint8Array(ports.length) };
  const name = (p: Port): string => design.routers[p.routerIndex]?.name ?? '';
  const { first, items } = portsBySegment(ports, segments);
  for (let n = 0; n < segments.count; n++) {
    const [at, end] = [first[n] ?? 0, first[n + 1] ?? 0];
    const [a, b] = [ports[items[at] ?? -1], ports[items[at + 1] ?? -1]];
    // A passive port alone on its segment hears nobody and leads nobody.
    if (!a || at === end || (end - at === 1 && !takesPartInElection(a))) continue;
    if (end - at === 2 && b && !takesPartInElection(a) && !takesPartInElection(b)) settleTwo(segments, n, a, b, speakers, state);
    else settleSegment(segments, n, portsFrom(ports, items, at, end), speakers, state, startOrder, name);
  }
  for (let i = 0; i < ports.length; i++) if (state.elected[i] === 0) leaders[i] = none;
  return { speakers, ports, pairs: state.pairs, views, leaders, unsettled: state.unsettled };
}

function settlePair(
  p: Port,
  q: Port,
  refused: readonly Refusal[],
  refuses: readonly Refusal[],
  segment: number,
  speakers: readonly Speaker[],
  state: Settling,
): void {
  const a = viewOf(p, q, refused, refuses, state.leaders, speakers);
  const b = viewOf(q, p, refuses, refused, state.leaders, speakers);
  noteView(state.views, a);
  noteView(state.views, b);
  state.pairs.push({ a, b, segment });
}

function noteView(views: NeighborView[][], v: NeighborView): void {
  const list = views[v.port.index];
  if (list === noViews) views[v.port.index] = [v];
  else list?.push(v);
}

function viewOf(
  port: Port,
  peer: Port,
  refused: readonly Refusal[],
  peerRefuses: readonly Refusal[],
  leaders: readonly Leaders[],
  speakers: readonly Speaker[],
): NeighborView {
  const speaker = speakers[peer.speaker];
  const { state, because } = rest(port, peer, peerRefuses.length === 0, refused, leaders[port.index] ?? none, leaders[peer.index] ?? none);
  return { port, peer, address: speaker ? helloAddress(peer, speaker) : 0, refused, state, because };
}

/** Neighbours after a failure, with what it touched. */
export interface Resettled {
  readonly adjacencies: Adjacencies;
  /** Speakers with a port on a segment that was settled again, by index. */
  readonly touched: ReadonlySet<number>;
  readonly areas: ReadonlySet<number>;
}

/** Numbers of ports by their segment, in their own order. */
function portsBySegment(ports: readonly Port[], segments: Segments): NumberLists {
  const of = new Int32Array(ports.length);
  for (let i = 0; i < ports.length; i++) of[i] = ports[i]?.segment ?? -1;
  return listsByKey(of, segments.count);
}

const portsBy = new WeakMap<Segments, { readonly ports: readonly Port[]; readonly by: NumberLists }>();

/** The same, found once for states in which the same ports stand on the same segments. */
function portsBySegmentOnce(ports: readonly Port[], segments: Segments): NumberLists {
  const known = portsBy.get(segments);
  if (known && (known.ports === ports || (known.ports.length === ports.length && known.ports.every((p, i) => p.segment === ports[i]?.segment))))
    return known.by;
  const by = portsBySegment(ports, segments);
  portsBy.set(segments, { ports, by });
  return by;
}

function portsFrom(ports: readonly Port[], items: Int32Array, from: number, end: number): Port[] {
  const out: Port[] = [];
  for (let i = from; i < end; i++) {
    const p = ports[items[i] ?? -1];
    if (p) out.push(p);
  }
  return out;
}

/**
 * Neighbours after ports went down or fell silent, no router with them: only the segments of these ports are settled
 * again. The same as `settleAdjacencies` from the state before.
 *
 * @param changed  ports as they are now, by index, where they differ from before
 * @param edited   processes whose documents were edited, as they are now: their segments start cold, as after any edit
 */
export function resettle(
  before: Adjacencies,
  design: Design,
  segments: Segments,
  changed: ReadonlyMap<number, Port>,
  edited: readonly Speaker[] = [],
): Resettled {
  const ports = before.ports.slice();
  for (const p of changed.values()) ports[p.index] = p;
  const speakers = before.speakers.slice();
  const again = new Set<number>();
  for (const s of edited) speakers[s.index] = s;
  for (const p of changed.values()) {
    const s = edited.length > 0 ? undefined : speakers[p.speaker];
    if (s) speakers[p.speaker] = { ...s, ports: s.ports.map((x) => changed.get(x.index) ?? x) };
    if (p.segment >= 0) again.add(p.segment);
  }
  const leaders = before.leaders.slice();
  const views = before.views as NeighborView[][];
  const state: Settling = {
    leaders,
    views: views.slice(),
    pairs: before.pairs.filter((x) => !again.has(x.segment)),
    unsettled: before.unsettled.filter((x) => !again.has(x)),
    elected: new Uint8Array(ports.length),
  };
  const touched = new Set<number>();
  const areas = new Set<number>();
  for (const p of changed.values()) if (!p.up) leaders[p.index] = none;
  const { first, items } = portsBySegmentOnce(before.ports, segments);
  for (const n of again) {
    const there = portsFrom(ports, items, first[n] ?? 0, first[n + 1] ?? 0);
    for (const p of there) {
      if (edited.length > 0) leaders[p.index] = none;
      touched.add(p.speaker);
      areas.add(p.area.id);
      state.views[p.index] = noViews;
    }
    settleSegment(segments, n, there, speakers, state, undefined, (p) => design.routers[p.routerIndex]?.name ?? '');
    for (const p of there) if (state.elected[p.index] === 0) leaders[p.index] = none;
  }
  for (const p of [...changed.values(), ...edited.flatMap((s) => s.ports)]) {
    touched.add(p.speaker);
    areas.add(p.area.id);
  }
  // In the order of their segments, as they are found at once.
  state.pairs.sort((a, b) => a.segment - b.segment);
  state.unsettled.sort((a, b) => a - b);
  return { adjacencies: { leaders, views: state.views, pairs: state.pairs, unsettled: state.unsettled, speakers, ports }, touched, areas };
}
