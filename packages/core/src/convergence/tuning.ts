import { refusals } from '../adjacency/hello-match';
import type { Port } from '../adjacency/speakers';
import type { BfdTimers, Design, SpfSchedule } from '../design/design';
import type { FailureSpec } from '../failures/outage';
import { placeKey } from '../failures/outage';
import { familiesOf } from './converge';
import { Ground, outageOf } from './ground';

/** An interface by its names. */
export interface Place {
  readonly router: string;
  readonly iface: string;
}

/** Times that are tried instead of the configured ones. What is left out stays. */
export interface Tuning {
  /** Interfaces whose timers change; `undefined`: all that speak OSPF. */
  readonly ends: readonly Place[] | undefined;
  /** In seconds. */
  readonly hello?: number | undefined;
  readonly dead?: number | undefined;
  /** Packets each `interval` ms, lost when `multiplier` of them are missing. */
  readonly bfd?: { readonly interval: number; readonly multiplier: number } | 'off' | undefined;
  readonly carrierSeen?: boolean | undefined;
  /** When all routers calculate. In ms. */
  readonly spf?: SpfSchedule | undefined;
}

const spfLines = (s: SpfSchedule): [name: string, ms: number][] =>
  s.kind === 'fixed'
    ? [['spf-fixed-delay', s.delay]]
    : s.kind === 'doubling'
      ? [
          ['spf-first-delay', s.first],
          ['spf-hold', s.hold],
          ['spf-maximum-hold', s.maximum],
        ]
      : [
          ['spf-initial-delay', s.initial],
          ['spf-short-delay', s.short],
          ['spf-long-delay', s.long],
          ['spf-hold-down', s.holdDown],
          ['spf-time-to-learn', s.timeToLearn],
        ];

/**
 * A tuning as lines of quick entry, for every version of the protocol that the design speaks, and there for the interfaces that
 * speak it.
 */
export function tuningLines(t: Tuning, grounds: readonly Ground[]): string[] {
  const text = (ends: readonly Place[] | undefined): string => (ends === undefined ? 'all' : ends.map((e) => `${e.router}/${e.iface}`).join(' '));
  const lines = grounds.flatMap((g) => {
    // Nobody speaks that version.
    if (!g.ports.some(speaks)) return [];
    const ends = t.ends?.filter((e) => g.ports.some((p) => p.iface.name === e.iface && g.design.routers[p.routerIndex]?.name === e.router));
    const own = (name: string, value: number | string): string[] => (ends?.length === 0 ? [] : [`set ${name} ${value} on ${text(ends)}`]);
    const version = [
      ...(t.hello === undefined ? [] : own('hello', t.hello)),
      ...(t.dead === undefined ? [] : own('dead', t.dead)),
      ...(t.bfd === undefined
        ? []
        : t.bfd === 'off'
          ? own('bfd', 'no')
          : [...own('bfd', 'yes'), ...own('bfd-interval', t.bfd.interval), ...own('bfd-multiplier', t.bfd.multiplier)]),
      ...(t.spf ? spfLines(t.spf).map(([name, ms]) => `set ${name} ${ms} on all`) : []),
    ];
    return g.family === 6 ? version.map((l) => `v3 ${l}`) : version;
  });
  // A cable has one light, whatever runs over it.
  return t.carrierSeen === undefined ? lines : [...lines, `set carrier-seen ${t.carrierSeen ? 'yes' : 'no'} on ${text(t.ends)}`];
}

/** Interfaces in OSPF on every segment that failures touch: where it is noticed. */
export function endsAround(ground: Ground, failures: readonly FailureSpec[]): Place[] {
  const { design, segments, ports } = ground;
  const { outage } = outageOf(design, segments, failures);
  const touched = new Set<number>();
  design.routers.forEach((r, n) => {
    r.interfaces.forEach((_, i) => {
      const place = placeKey(n, i);
      if (outage.routers.has(n) || outage.ports.has(place) || outage.severed.has(place)) touched.add(segments.of[n]?.[i] ?? -1);
    });
  });
  touched.delete(-1);
  return ports
    .filter((p) => touched.has(p.segment) && speaks(p))
    .map((p) => ({ router: design.routers[p.routerIndex]?.name ?? '', iface: p.iface.name }));
}

const speaks = (p: Port): boolean => !p.loopback && !p.settings.passive && p.up;

/** Two interfaces that hear each other now and would not with other intervals: they part for good. */
export interface Parting {
  readonly a: string;
  readonly b: string;
  readonly why: string;
}

/** Neighbours whose hellos match in one design and no longer in another one of the same interfaces. */
export function wouldPart(before: Ground, after: Ground): Parting[] {
  const out: Parting[] = [];
  for (const f of before.facings) {
    if (f.index > f.back || before.hears[f.index] === 0) continue;
    const [p, q] = [after.ports[f.port], after.ports[f.peer]];
    if (!p || !q) continue;
    const why = refusals(p, q).find((r) => r.kind === 'hello-interval' || r.kind === 'dead-interval');
    if (!why) continue;
    const name = (x: Port): string => `${after.design.routers[x.routerIndex]?.name ?? ''}/${x.iface.name}`;
    out.push({ a: name(p), b: name(q), why: `${why.kind.replace('-', ' ')} ${why.ours} s here, ${why.theirs} s there` });
  }
  return out;
}

/** What it costs to keep watch over neighbours, and how easily that is deceived. */
export interface Watch {
  /** Hellos and BFD packets a second, of all routers. */
  readonly packets: number;
  /** The same on the wire with most of them. */
  readonly onBusiest: number;
  readonly busiest: string;
  /** Neighbours that are lost in a day though nothing failed, by packets that are lost one by one. */
  readonly falseAlarms: number;
  /** The shortest silence of a router that stands for a failure, in ms; `undefined`: nobody watches anybody. */
  readonly patience: number | undefined;
  readonly patienceAt: string;
}

const bfdBetween = (send: BfdTimers, receive: BfdTimers): number => Math.max(send.send, receive.receive) / 1000;

/**
 * Counts what is sent to watch neighbours, and how often one is given up though it lives.
 *
 * @param loss  share of packets that get lost, each by itself
 */
export function watchOf(grounds: readonly Ground[], loss: number): Watch {
  let packets = 0;
  let falseAlarms = 0;
  let patience: number | undefined;
  let patienceAt = '';
  const onWire = new Map<string, { rate: number; words: string }>();
  for (const g of grounds) {
    const name = (p: Port): string => `${g.design.routers[p.routerIndex]?.name ?? ''}/${p.iface.name}`;
    const sends = (p: Port, rate: number): void => {
      packets += rate;
      const key = String(p.segment);
      const wire = onWire.get(key) ?? { rate: 0, words: name(p) };
      onWire.set(key, { ...wire, rate: wire.rate + rate });
    };
    const alarm = (p: Port, every: number, missing: number): void => {
      falseAlarms += (86_400_000 / every) * loss ** missing * (1 - loss);
      const silence = (missing - 1) * every;
      if (patience === undefined || silence < patience) [patience, patienceAt] = [silence, name(p)];
    };
    for (const p of g.ports) {
      if (!speaks(p) || p.segment < 0) continue;
      const each = p.type === 'non-broadcast' || p.type === 'point-to-multipoint' ? p.settings.staticNeighbors.length : 0;
      sends(p, Math.max(1, each) / p.settings.hello);
    }
    for (const f of g.facings) {
      const view = g.adjacencies.views[f.port]?.find((v) => v.peer.index === f.peer);
      const [p, q] = [g.ports[f.port], g.ports[f.peer]];
      if (!p || !q || !view || (view.state !== 'full' && view.state !== '2-way')) continue;
      // All that are due within the dead interval; one that comes just as it ends still counts.
      alarm(p, p.settings.hello * 1000, Math.max(1, Math.floor(p.settings.dead / p.settings.hello)));
      if (!p.settings.bfd || !q.settings.bfd) continue;
      sends(p, 1000 / bfdBetween(p.settings.bfdTimers, q.settings.bfdTimers));
      alarm(p, bfdBetween(q.settings.bfdTimers, p.settings.bfdTimers), q.settings.bfdTimers.multiplier);
    }
  }
  const busiest = [...onWire.values()].reduce((a, b) => (b.rate > a.rate ? b : a), { rate: 0, words: '' });
  return { packets, onBusiest: busiest.rate, busiest: busiest.words, falseAlarms, patience, patienceAt };
}

/** Hello and dead interval, in seconds. */
export interface Intervals {
  readonly hello: number;
  readonly dead: number;
}

/** A change of intervals, step by step: each is made on all ends of a wire before the next is begun. */
export interface Following {
  readonly steps: readonly { readonly to: Intervals; readonly withinS: number }[];
  /** The shortest of the times; none or less: a pair can drop, however quickly the ends follow each other. */
  readonly withinS: number;
}

/**
 * While two ends differ neither takes the other's hellos (RFC 2328 §10.5). At worst the last one came a hello interval before
 * the first end changed, and the next comes the longer of both hello intervals after the other end followed; all of that fits
 * into the shorter dead interval.
 */
export const timeToFollow = (from: Intervals, to: Intervals): number => Math.min(from.dead, to.dead) - from.hello - Math.max(from.hello, to.hello);

/** The order that leaves most time to follow: both intervals at once, or one before the other. */
export function followingOf(from: Intervals, to: Intervals): Following {
  const ways: (readonly Intervals[])[] = [[to]];
  if (from.hello !== to.hello && from.dead !== to.dead)
    ways.push([{ hello: to.hello, dead: from.dead }, to], [{ hello: from.hello, dead: to.dead }, to]);
  const timed = ways.map((way): Following => {
    const steps = way.map((step, n) => ({ to: step, withinS: timeToFollow(way[n - 1] ?? from, step) }));
    return { steps, withinS: Math.min(...steps.map((s) => s.withinS)) };
  });
  return timed.reduce((best, w) => (w.withinS > best.withinS ? w : best));
}

/** Each change of intervals that leads from one design to another one of the same interfaces, with the interfaces that make it. */
export function followings(
  before: Ground,
  after: Ground,
): { readonly from: Intervals; readonly to: Intervals; readonly places: readonly string[]; readonly following: Following }[] {
  const by = new Map<string, { from: Intervals; to: Intervals; places: string[] }>();
  before.ports.forEach((p) => {
    const q = after.ports[p.index];
    if (!q || !speaks(p)) return;
    const from = { hello: p.settings.hello, dead: p.settings.dead };
    const to = { hello: q.settings.hello, dead: q.settings.dead };
    if (from.hello === to.hello && from.dead === to.dead) return;
    const key = `${from.hello} ${from.dead} ${to.hello} ${to.dead}`;
    const known = by.get(key) ?? { from, to, places: [] };
    by.set(key, known);
    known.places.push(`${before.design.routers[p.routerIndex]?.name ?? ''}/${p.iface.name}`);
  });
  return [...by.values()].map((x) => ({ ...x, following: followingOf(x.from, x.to) }));
}

/** A design as each of its families looks at it, at rest. */
export const groundsOf = (design: Design): readonly Ground[] => familiesOf(design).map((f) => new Ground(design, f));
