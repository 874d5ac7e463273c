import { routeChanges } from '../compare/route-changes';
import { formatFailure, type FailureSpec } from '../failures/outage';
import { loadsOf, overCapacity, type Demands, type LinkLoad } from '../loads/loads';
import { Forwarding } from '../reach/forwarding';
import { breaking, type Breaking } from '../reach/breaking';
import { downWith, type Prediction } from '../predict';
import { CutCounter } from './cut-counter';
import { LoopbackWays, type LoopbackPair } from './loopback-ways';

/** What one case of a sweep does, over all families of the design. */
export interface CaseResult {
  readonly fail: readonly FailureSpec[];
  /** Routes of OSPF in the tables of routers that stand: gone, and other ones in next hop, metric or type. */
  readonly lostRoutes: number;
  readonly changedRoutes: number;
  /** The largest growth of OSPF cost between loopbacks that still reach each other. */
  readonly longestDetour: number | undefined;
  /** Ordered pairs of loopbacks that arrived before and do not now; some of them. */
  readonly cutPairs: number;
  readonly cutExamples: readonly LoopbackPair[];
  /** Expectations that hold in the whole network and not in this case. */
  readonly broken: readonly string[];
  readonly overCapacity: readonly LinkLoad[];
}

/** How bad a case is, at a glance: nothing gets lost or longer, something gets longer, something gets lost. */
export type Harm = 'harmless' | 'longer' | 'cut';

export const harmOf = (c: CaseResult): Harm => (c.cutPairs + c.broken.length > 0 ? 'cut' : c.longestDetour !== undefined ? 'longer' : 'harmless');

/** What a family of the design is before anything fails, found once. */
interface Before {
  readonly p: Prediction;
  readonly ways: LoopbackWays;
  readonly breaking: Breaking;
  readonly counter: CutCounter | undefined;
}

/** Routes of routers that stand: gone, and other ones. */
function routesMoved(
  { p, counter }: Before,
  after: Prediction,
  fail: readonly FailureSpec[],
  failed: ReadonlySet<number>,
): { lost: number; changed: number } {
  const [only, ...more] = fail;
  const counted = only && more.length === 0 ? counter?.count(only) : undefined;
  if (counted) return counted;
  const out = { lost: 0, changed: 0 };
  for (const { speaker, count } of routeChanges(p, after)) {
    if (failed.has(speaker.routerIndex)) continue;
    out.lost += count.lost;
    out.changed += count.changed;
  }
  return out;
}

/** What is there when failures happen one after the other. */
export interface TakenDown {
  readonly states: readonly Prediction[];
  /** Routers that are down. */
  readonly failed: ReadonlySet<number>;
}

/**
 * Takes things down in all families of a design, in the order given, the network settling after each: as all others see it.
 *
 * @param failed  routers that are down already
 */
export function takenDown(states: readonly Prediction[], failed: ReadonlySet<number>, specs: readonly FailureSpec[]): TakenDown {
  let now = states;
  const gone = new Set(failed);
  for (const spec of specs) {
    // A leader is one router for both families: the one of the first family that has any.
    const named = now.flatMap((p) => p.leaderOf(spec) ?? [])[0] ?? spec;
    for (const r of now[0] ? downWith(now[0], named).outage.routers : []) gone.add(r);
    now = now.map((p) => p.failSeenByOthers(named));
  }
  return { states: now, failed: gone };
}

const mostExamples = 20;

/**
 * Tries failures on a design: each case is computed from the state before its last failure, so that cases that begin alike
 * are best tried one after the other.
 */
export class Trials {
  private readonly before: readonly Before[];
  /** The states of the first failures of the last case. */
  private known: (TakenDown & { readonly word: string }) | undefined;

  /**
   * @param families  the design at rest, a prediction for each of its families
   * @param demands   traffic that is carried; without it no load is told
   */
  constructor(
    families: readonly Prediction[],
    private readonly demands?: Demands,
  ) {
    this.before = families.map((p) => ({ p, ways: new LoopbackWays(p), breaking: breaking(Forwarding.quickly(p)), counter: CutCounter.over(p) }));
  }

  /** Expectations that do not even hold while nothing fails. */
  get brokenAlready(): readonly string[] {
    return [...new Set(this.before.flatMap((b) => b.breaking.already))];
  }

  /** What a case does; its failures in the order given, the network settling after each. */
  try(fail: readonly FailureSpec[]): CaseResult {
    const first = fail.slice(0, -1);
    const word = first.map(formatFailure).join(' ');
    if (this.known?.word !== word)
      this.known = {
        word,
        ...takenDown(
          this.before.map((b) => b.p),
          new Set(),
          first,
        ),
      };
    const { states, failed } = takenDown(this.known.states, this.known.failed, fail.slice(-1));
    const out = { lostRoutes: 0, changedRoutes: 0, cutPairs: 0, longestDetour: undefined as number | undefined };
    const cutExamples: LoopbackPair[] = [];
    const broken = new Set<string>();
    this.before.forEach((before, i) => {
      const { p, ways, breaking: breaks } = before;
      const after = states[i] ?? p;
      const { lost, changed } = routesMoved(before, after, fail, failed);
      out.lostRoutes += lost;
      out.changedRoutes += changed;
      const { cut, examples, longestDetour } = ways.compare(after, failed);
      out.cutPairs += cut;
      cutExamples.push(...examples.slice(0, mostExamples - cutExamples.length));
      if (longestDetour !== undefined) out.longestDetour = Math.max(out.longestDetour ?? 0, longestDetour);
      for (const name of breaks.brokenIn(after, failed)) broken.add(name);
    });
    const over = this.demands && this.demands.length > 0 ? overCapacity(loadsOf(states, this.demands)) : [];
    return { fail, ...out, cutExamples, broken: [...broken], overCapacity: over };
  }
}

/** Tries case after case; after each it gives what it did, so that whoever asks can look up, or stop. */
export function* sweeping(trials: Trials, cases: Iterable<readonly FailureSpec[]>): Generator<CaseResult, void> {
  for (const fail of cases) yield trials.try(fail);
}

const wordsOf = (c: CaseResult): string => c.fail.map(formatFailure).join(' ');

/** What a case is ranked by. */
interface Cost {
  readonly broken: readonly string[];
  readonly cutPairs: number;
  readonly lostRoutes: number;
  readonly longestDetour: number | null | undefined;
}

/** The order of a sweep: broken expectations, cut pairs, lost routes, detour, most first; then the words of the failures. */
export const compareCosts = (a: Cost, b: Cost, wordsOfA: string, wordsOfB: string): number =>
  b.broken.length - a.broken.length ||
  b.cutPairs - a.cutPairs ||
  b.lostRoutes - a.lostRoutes ||
  (b.longestDetour ?? -1) - (a.longestDetour ?? -1) ||
  (wordsOfA < wordsOfB ? -1 : 1);

/** The same of whole cases. */
export const compareCases = (a: CaseResult, b: CaseResult): number => compareCosts(a, b, wordsOf(a), wordsOf(b));
