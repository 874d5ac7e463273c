import { formatFailure, parseFailure, type FailureSpec } from '../failures/outage';
import type { Design, Router } from '../design/design';
import { designOf, families, familyView, routesSix, type Family } from '../design/family';
import { familyNamed, type Circumstance, type Expectation } from '../design/settings';
import { formatAddress } from '../prefix/address';
import type { Ipv4 } from '../prefix/ipv4';
import { downWith, type Prediction } from '../predict';
import { groupFailures, linkFailures, routerFailures } from '../failures/single-failures';
import { aboutNothing, breachOf, pairsOf, sessionEnds, withPair, type Breach, type Pair } from './breach';
import { addressesOf } from './ends';
import { Forwarding } from './forwarding';
import { trace } from './trace';

/** What became of one expectation: in the network as it is, and in each failure that it must outlive. */
export interface ExpectationResult {
  readonly name: string;
  readonly kind: Expectation['kind'];
  readonly under: Expectation['under'];
  readonly holds: boolean;
  /** One line on what was found. */
  readonly message: string;
  /** Failures that break it, as they are typed; the empty text stands for the network as it is. */
  readonly 'broken-by': readonly string[];
  /** How many failures were tried. */
  readonly tried: number;
  readonly breach: Breach | null;
  /** 6: it is about IPv6. */
  readonly family?: 6;
}

/** Routers that an expectation names, or that have a part in the area that it names. */
function routersOf(design: Design, e: Expectation): readonly Router[] {
  if ('area' in e) return design.routers.filter((r) => r.instances.some((o) => o.areas.some((a) => a.id === e.area)));
  const names = e.kind === 'session' ? [e.from, e.to] : 'router' in e ? [e.router] : [];
  return design.routers.filter((r) => names.includes(r.name));
}

/** Whether an expectation is to be judged in this family: that of its addresses, the one that it names, else each that all its routers run. */
export function concerns(e: Expectation, p: Prediction): boolean {
  const named = familyNamed(e);
  if (named !== undefined) return named === p.family;
  const whole = designOf(p.design);
  // What no family can be asked is told once.
  const anyFour = whole.routers.some((r) => r.instances.some((o) => o.version === 2));
  if (e.kind === 'reach' || e.kind === 'no-reach' || e.kind === 'path') {
    const both = families.filter((f) => {
      const view = familyView(whole, f);
      return addressesOf(view, e.from).length > 0 && addressesOf(view, e.to).length > 0;
    });
    return both.length > 0 ? both.includes(p.family) : p.family === 4 || !anyFour;
  }
  const routers = routersOf(whole, e);
  const runs = (r: Router, family: Family): boolean =>
    r.instances.some((o) => (family === 6 ? routesSix(o) : o.version === 2) && (!('area' in e) || o.areas.some((a) => a.id === e.area)));
  const able = families.filter((f) => routers.length > 0 && ('area' in e ? routers.some((r) => runs(r, f)) : routers.every((r) => runs(r, f))));
  return able.length > 0 ? able.includes(p.family) : p.family === 4 || !anyFour;
}

/** Whether the failure of routers makes an expectation meaningless: one is what is spoken of. */
function isAbout(p: Prediction, e: Expectation, routers: ReadonlySet<number>): boolean {
  const names = e.kind === 'session' ? [e.from, e.to] : 'router' in e ? [e.router] : [];
  return names.some((name) => routers.has(p.routerIndex(name)));
}

/** Pairs of which neither end is at these routers alone. */
function pairsWithout(f: Forwarding, pairs: readonly Pair[], routers: ReadonlySet<number>): readonly Pair[] {
  const sole = (ip: Ipv4): boolean => f.endsOf(ip).every((r) => routers.has(r));
  return pairs.filter(([from, to]) => !sole(from) && !sole(to));
}

/**
 * Who on the usual way hears of a failure only when its dead interval is over: its interface stays up and the neighbour
 * behind it is gone. Earliest and latest in seconds (RFC 2328 §10.5: the last hello came up to one interval before).
 */
function slowest(before: Forwarding, after: Prediction, [from, to]: Pair): { router: string; from: number; to: number } | undefined {
  const t = trace(before, from, to);
  let worst: { router: string; from: number; to: number } | undefined;
  for (const branch of t.forward.branches)
    branch.hops.forEach((h, n) => {
      const next = branch.hops[n + 1]?.router;
      const lost = after
        .speakersOf(after.routerIndex(h.router))
        .flatMap((s) => s.ports)
        .find((x) => x.iface.name === h.outInterface && x.up);
      if (!lost || next === undefined || lost.settings.bfd) return;
      const still = after.adjacencies.views
        .flat()
        .some((v) => v.port === lost && v.state === 'full' && after.design.routers[v.peer.routerIndex]?.name === next);
      const earliest = Math.max(0, lost.settings.dead - lost.settings.hello);
      if (!still && (!worst || earliest > worst.from)) worst = { router: h.router, from: earliest, to: lost.settings.dead };
    });
  return worst;
}

/** The failures that an expectation must outlive; in words what is wrong with the one that it names. */
function failuresOf(p: Prediction, under: Circumstance): FailureSpec[] | string {
  if (under === 'normal') return [];
  if (under === 'any-link') return linkFailures(p);
  if (under === 'any-router') return routerFailures(p);
  if (under === 'any-group') return groupFailures(p);
  const spec = parseFailure(under);
  if (typeof spec === 'string') return spec;
  const [problem] = downWith(p, spec).problems;
  return problem ?? [spec];
}

/** An expectation that is being judged: what it is about, which failures it must outlive, and what was found so far. */
export interface Asked {
  readonly e: Expectation;
  readonly pairs: readonly Pair[] | undefined;
  /** As they are typed. */
  readonly failures: ReadonlyMap<string, FailureSpec>;
  breach: Breach | undefined;
  readonly brokenBy: string[];
  tried: number;
}

/** A state twice: quickly, by which what holds is known, and whole, by which what breaks it is told. */
interface Seen {
  readonly quick: Forwarding;
  readonly whole: () => Forwarding;
}

/** What breaks an expectation in a state; `undefined`: it holds. */
export const brokenIn = ({ quick, whole }: Seen, e: Expectation, pairs: readonly Pair[]): Breach | undefined =>
  breachOf(quick, e, pairs) && breachOf(whole(), e, pairs);

/** Looks at an expectation in the network as it is. One that is broken there is not tried in failures. */
export function asked(now: Seen, e: Expectation, underFailures: boolean): Asked {
  const p = now.quick.prediction;
  const pairs = e.kind === 'reach' || e.kind === 'no-reach' || e.kind === 'path' ? pairsOf(p, e) : undefined;
  let breach = aboutNothing(now.quick, e) ?? brokenIn(now, e, pairs ?? []);
  const listed = failuresOf(p, e.under);
  if (typeof listed === 'string') breach ??= { kind: 'broken', routers: [], words: `it is to outlive ${e.under}: ${listed}` };
  const failures = !underFailures || breach || typeof listed === 'string' ? [] : listed;
  return { e, pairs, failures: new Map(failures.map((f) => [formatFailure(f), f])), breach, brokenBy: breach ? [''] : [], tried: 0 };
}

/** The pairs of an expectation that the failure of routers leaves to be asked for; `undefined`: it makes the expectation meaningless. */
export function leftWithout(now: Forwarding, { e, pairs }: Asked, routers: ReadonlySet<number>): readonly Pair[] | undefined {
  if (routers.size === 0) return pairs ?? [];
  if (isAbout(now.prediction, e, routers)) return undefined;
  if (!pairs) return [];
  const left = pairsWithout(now, pairs, routers);
  return left.length === 0 ? undefined : left;
}

/** Of a router that an expectation must outlive by itself nothing is asked about that router. */
const leftUnder = (now: Forwarding, a: Asked, failure: FailureSpec): readonly Pair[] | undefined =>
  leftWithout(now, a, new Set(failure.kind === 'router' && a.e.under === 'any-router' ? [now.prediction.routerIndex(failure.router)] : []));

/** When packets of a pair are carried for good after a failure, in ms: the latest of many runs. `atLatest` is missing where one run never brings them back. */
export interface Healed {
  readonly pair: Pair;
  readonly atLatest: number | undefined;
  /** What takes longest, in a sentence. */
  readonly slowest: string | undefined;
}

/** Times the return of packets after a failure; whoever waits can look up in between. */
export type Healing = (p: Prediction, failure: FailureSpec, pairs: readonly Pair[]) => Generator<undefined, readonly Healed[]>;

/** Pairs that an expectation wants back within a time. */
function timedPairs(p: Prediction, e: Expectation, pairs: readonly Pair[]): { within: number; pairs: readonly Pair[] } | undefined {
  const there = e.kind === 'session' ? [sessionEnds(p, e)].flatMap(([a, b]): Pair[] => (a === undefined || b === undefined ? [] : [[a, b]])) : pairs;
  if ((e.kind !== 'reach' && e.kind !== 'session') || e.withinMs === undefined) return undefined;
  const back = e.kind === 'reach' && !e.bothWays ? [] : there.map(([a, b]): Pair => [b, a]);
  return { within: e.withinMs, pairs: [...there, ...back] };
}

const secondWords = (ms: number): string => (ms < 1000 ? `${Math.ceil(ms)} ms` : `${(Math.ceil(ms / 10) / 100).toFixed(2)} s`);

/** Packets that go the same ways before and after a failure are not waited for. */
const sameWays = (before: Forwarding, after: Forwarding, [from, to]: Pair): boolean =>
  JSON.stringify(trace(before, from, to).forward.branches.map((b) => b.hops)) ===
  JSON.stringify(trace(after, from, to).forward.branches.map((b) => b.hops));

/** Who is told too late of a failure, where it must be over within a time: as many simulated runs say. */
function* tooLate(
  now: Forwarding,
  after: Forwarding,
  e: Expectation,
  pairs: readonly Pair[],
  failure: FailureSpec,
  healing: Healing,
): Generator<undefined, Breach | undefined> {
  const asked = timedPairs(after.prediction, e, pairs);
  const moved = asked?.pairs.filter((x) => !sameWays(now, after, x)) ?? [];
  if (!asked || moved.length === 0) return undefined;
  const healed = yield* healing(now.prediction, failure, moved);
  const late = healed.filter((h) => h.atLatest === undefined || h.atLatest > asked.within);
  const [worst] = late.sort((a, b) => (b.atLatest ?? Infinity) - (a.atLatest ?? Infinity));
  if (!worst) return undefined;
  const [from, to] = worst.pair;
  const when =
    worst.atLatest === undefined ? 'are not back at all in one of the runs' : `are back after ${secondWords(worst.atLatest)} at the latest`;
  const why = worst.slowest === undefined ? '' : ` (${worst.slowest})`;
  const words = `${formatAddress(from)} to ${formatAddress(to)}: packets ${when}, not within ${asked.within} ms${why}`;
  return withPair({ kind: 'too-slow', routers: [], words }, from, to);
}

/** The same by what the dead interval alone rules out, where nobody simulates. */
export function tooSlow(now: Forwarding, after: Prediction, e: Expectation, pairs: readonly Pair[]): Breach | undefined {
  const asked = timedPairs(after, e, pairs);
  if (!asked) return undefined;
  const { within } = asked;
  const late = asked.pairs.flatMap((pair) => {
    const slow = slowest(now, after, pair);
    return slow && slow.from * 1000 > within ? [{ pair, slow }] : [];
  });
  const [worst] = late.sort((a, b) => b.slow.from - a.slow.from);
  if (!worst) return undefined;
  const { pair, slow } = worst;
  const words = `${formatAddress(pair[0])} to ${formatAddress(pair[1])}: ${slow.router} keeps its port up and hears of it only when its dead interval ends, ${slow.from} to ${slow.to} s later, not within ${within} ms`;
  return withPair({ kind: 'too-slow', routers: [slow.router], words }, ...pair);
}

function resultOf({ e, breach, brokenBy, tried }: Asked, p: Prediction): ExpectationResult {
  return {
    name: e.name,
    kind: e.kind,
    under: e.under,
    ...(p.family === 6 ? { family: 6 as const } : {}),
    holds: !breach,
    message: breach ? breach.words : tried > 0 ? `holds, also in each of ${tried} failures` : 'holds',
    'broken-by': brokenBy,
    tried,
    breach: breach ?? null,
  };
}

/** How expectations are judged. */
export interface Judging {
  /** False: only in the network as it is. */
  readonly underFailures?: boolean;
  /** Gives the forwarding of a state in which something failed; else it is made anew. */
  readonly forward?: (p: Prediction) => Forwarding;
  /** Times what must be over within a time; without it only what the dead interval alone rules out is told. */
  readonly healing?: Healing;
  /** By whole tables alone: slow and obvious, the answer is the same. */
  readonly plainly?: boolean;
}

/**
 * Every expectation in the network as it is, and in each single failure that it must outlive. Each failure is predicted
 * once, for all that must outlive it; whoever asks can look up between failures, or stop.
 */
export function* judging(now: Forwarding, expectations: readonly Expectation[], options: Judging = {}): Generator<undefined, ExpectationResult[]> {
  const { underFailures = true, forward = (x: Prediction) => new Forwarding(x), plainly = false, healing } = options;
  const p = now.prediction;
  const quick = plainly ? now : Forwarding.quickly(p);
  const all: Asked[] = [];
  for (const e of expectations) {
    all.push(asked({ quick, whole: () => now }, e, underFailures));
    yield undefined;
  }
  for (const [word, failure] of new Map(all.flatMap((a) => [...a.failures]))) {
    const concerned = all.flatMap((a) => {
      const pairs = a.failures.has(word) ? leftUnder(quick, a, failure) : undefined;
      return pairs ? [{ a, pairs }] : [];
    });
    if (concerned.length === 0) continue;
    yield undefined;
    const after = p.fail(failure);
    const seen = { quick: plainly ? forward(after) : Forwarding.quickly(after), whole: () => forward(after) };
    for (const { a, pairs } of concerned) {
      a.tried++;
      const found =
        brokenIn(seen, a.e, pairs) ?? (healing ? yield* tooLate(quick, seen.quick, a.e, pairs, failure, healing) : tooSlow(quick, after, a.e, pairs));
      if (!found) continue;
      a.breach ??= { ...found, words: `with ${word}: ${found.words}` };
      a.brokenBy.push(word);
    }
  }
  return all.map((a) => resultOf(a, p));
}

/** The same at once. */
export function judge(now: Forwarding, expectations: readonly Expectation[], options: Judging = {}): ExpectationResult[] {
  const steps = judging(now, expectations, options);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

/**
 * Checks one expectation in the network as it is and in every single failure that it must outlive.
 */
export function checkExpectation(now: Forwarding, e: Expectation, options: Judging = {}): ExpectationResult {
  const [result] = judge(now, [e], options);
  return result ?? resultOf(asked({ quick: now, whole: () => now }, e, false), now.prediction);
}
