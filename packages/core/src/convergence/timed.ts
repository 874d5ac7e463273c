import type { Design } from '../design/design';
import { formatFailure, type FailureSpec } from '../failures/outage';
import { linkFailures, routerFailures } from '../failures/single-failures';
import { Known } from './calculating';
import { converging, familiesOf, Simulation, type Spread } from './converge';
import { Ground } from './ground';
import type { TimingProfile } from './timing-profile';

/** How long the network takes after one failure. */
export interface TimedFailure {
  readonly failure: FailureSpec;
  /** As it is typed. */
  readonly word: string;
  /** Until the last table is as it stays; `undefined`: no table changes. */
  readonly lastChange: Spread | undefined;
  /** The slowest part of it, in a sentence. */
  readonly slowest: string | undefined;
  readonly lastRouter: string | undefined;
}

/** Slowest first: by the latest of the runs, then the typical, then by name; what changes nothing comes last. */
export const slowestFirst = <T extends { readonly word: string; readonly lastChange: Spread | null | undefined }>(a: T, b: T): number =>
  (b.lastChange?.latest ?? -1) - (a.lastChange?.latest ?? -1) ||
  (b.lastChange?.typical ?? -1) - (a.lastChange?.typical ?? -1) ||
  (a.word < b.word ? -1 : 1);

/**
 * Every single link and router failure, timed by simulated runs: each comes as it is done; none where two routers share an id. Whoever waits can look up between
 * runs, and stop.
 */
export function* timingEach(
  design: Design,
  { profile, seed, runs }: { readonly profile: TimingProfile; readonly seed: number; readonly runs: number },
  families = familiesOf(design),
): Generator<{ readonly done: number; readonly of: number; readonly latest: TimedFailure | undefined }, TimedFailure[]> {
  const grounds = families.map((f) => new Ground(design, f));
  // Routers with one id within reach of each other never come to rest.
  if (grounds.some((g) => g.quarrel !== undefined)) return [];
  const known = grounds.map(() => new Known());
  const [first] = grounds;
  const failures = first ? [...linkFailures(first), ...routerFailures(first)] : [];
  const out: TimedFailure[] = [];
  for (const failure of failures) {
    const happenings = [{ ms: 0, kind: 'fail' as const, spec: failure }];
    // Tables of one failure are of no use to the next: only those at rest are kept.
    const simulations = families.map((f, n) => new Simulation(design, f, happenings, grounds[n], known[n]?.atRestAlone()));
    const steps = converging(simulations, { profile, seed, runs, whole: false });
    for (;;) {
      const step = steps.next();
      if (step.done) {
        const { lastChange, slowest, lastRouter } = step.value;
        out.push({ failure, word: formatFailure(failure), lastChange, slowest, lastRouter });
        break;
      }
      yield { done: out.length, of: failures.length, latest: undefined };
    }
    yield { done: out.length, of: failures.length, latest: out.at(-1) };
  }
  return out.sort(slowestFirst);
}
