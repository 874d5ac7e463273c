import type { Design } from '../design/design';
import { hasFamily, type Family } from '../design/family';
import { formatFailure, type FailureSpec } from '../failures/outage';
import { isSix, type Address } from '../prefix/address';
import { Known } from './calculating';
import { Ground } from './ground';
import { Moment, MomentGround } from './moment';
import type { Moments, RunEvent } from './run-state';
import { Run, type Happening } from './simulate';
import type { TimingProfile } from './timing-profile';
import { Flows, Loops, type Flow, type Loop, type Pair } from './watching';

/** A time over all runs, in ms from the first event. */
export interface Spread {
  readonly earliest: number;
  /** The (lower) median. */
  readonly typical: number;
  readonly latest: number;
}

/** When one router noticed, heard, calculated, and changed its table. `undefined`: it did not, in most runs. */
export interface RouterTimes {
  readonly router: string;
  readonly detected: Spread | undefined;
  readonly learned: Spread | undefined;
  readonly spf: Spread | undefined;
  readonly firstChange: Spread | undefined;
  readonly lastChange: Spread | undefined;
  /** What it noticed by, in the typical run. */
  readonly cause: string | undefined;
}

/** What a simulation of a family came to. */
export interface Convergence {
  readonly family: Family;
  readonly seed: number;
  /** Runs that were made: fewer than asked for when it was stopped. */
  readonly runs: number;
  /** Of the last router, in each run; sorted. */
  readonly lastChanges: readonly number[];
  readonly lastChange: Spread | undefined;
  readonly routers: readonly RouterTimes[];
  /** Of the typical run: the one whose last change is the lower median. */
  readonly typicalSeed: number;
  readonly events: readonly RunEvent[];
  readonly flows: readonly Flow[];
  readonly loops: readonly Loop[];
  /** For each watched pair: when it was carried for good, in each run; `undefined`: not at the end of it. */
  readonly healed: readonly (readonly (number | undefined)[])[];
  /** Deeds of all runs. */
  readonly deeds: number;
  readonly problems: readonly string[];
}

/** What is simulated. */
export interface ConvergeOptions {
  readonly profile: TimingProfile;
  readonly seed: number;
  readonly runs: number;
  readonly watch?: readonly Pair[];
  /** False: only times, no events, flows of the typical run and loops. */
  readonly whole?: boolean;
}

/** The lower median of sorted numbers. */
export const lowerMedian = (sorted: readonly number[]): number => sorted[Math.floor((sorted.length - 1) / 2)] ?? 0;

/** Least, lower median and greatest; `undefined` when it happened in less than half of the runs. */
export function spreadOf(times: readonly (number | undefined)[]): Spread | undefined {
  const all = times.flatMap((t) => t ?? []).sort((a, b) => a - b);
  if (all.length === 0 || 2 * all.length < times.length) return undefined;
  return { earliest: all[0] ?? 0, typical: lowerMedian(all), latest: all.at(-1) ?? 0 };
}

/** What failed before the first event, and settled: what is restored without having been failed. */
export function downBefore(happenings: readonly Happening[]): FailureSpec[] {
  const failed = new Map<string, number>();
  const out: FailureSpec[] = [];
  for (const h of [...happenings].sort((a, b) => a.ms - b.ms)) {
    const word = formatFailure(h.spec);
    const n = failed.get(word) ?? 0;
    if (h.kind === 'fail') failed.set(word, n + 1);
    else if (n > 0) failed.set(word, n - 1);
    else out.push(h.spec);
  }
  return out;
}

/** The seed of one run of many. */
const seedOf = (seed: number, run: number): number => (Math.imul(seed, 0x9e3779b1) + Math.imul(run + 1, 0x85ebca6b)) >>> 0;

/** One family of a design, ready to be simulated: what runs share is found once. */
export class Simulation {
  readonly ground: Ground;
  readonly down: readonly FailureSpec[];
  private readonly known = new Known();
  readonly shared: MomentGround;

  constructor(
    design: Design,
    readonly family: Family,
    readonly happenings: readonly Happening[],
  ) {
    this.down = downBefore(happenings);
    this.ground = new Ground(design, family, this.down);
    this.shared = new MomentGround(this.ground);
  }

  /** Why it cannot be simulated; `undefined`: it can. */
  get refusal(): string | undefined {
    const { quarrel } = this.ground;
    return quarrel === undefined
      ? undefined
      : `${quarrel}: each takes the other's advertisements for its own, and nothing comes to rest. Give one of them another id.`;
  }

  run(profile: TimingProfile, seed: number): Run {
    return new Run(this.ground, profile, seed, this.happenings, this.down, this.known);
  }

  moment(run: Run): Moment {
    return new Moment(this.shared, run.state);
  }

  /** Loopbacks of the family, with their routers. */
  get loopbacks(): { address: Address; router: number }[] {
    return this.ground.design.routers.flatMap((r, router) => {
      const lo = r.interfaces.find((i) => i.kind === 'loopback' && i.addresses.length > 0)?.addresses[0];
      return lo ? [{ address: lo.bits, router }] : [];
    });
  }
}

/** Runs of one family, a step for each; whoever waits can look up between them, or stop and take what there is. */
export function* converging(
  simulation: Simulation,
  options: ConvergeOptions,
): Generator<{ readonly done: number; readonly of: number }, Convergence> {
  const { profile, seed, runs, watch = [], whole = true } = options;
  const pairs = watch.filter((w) => isSix(w.to) === (simulation.family === 6));
  const moments: (readonly Moments[])[] = [];
  const last: { ms: number; seed: number }[] = [];
  const healed: (number | undefined)[][] = pairs.map(() => []);
  let deeds = 0;
  const problems: string[] = [...simulation.ground.problems];
  for (let n = 0; n < runs; n++) {
    const own = seedOf(seed, n);
    const run = simulation.run(profile, own);
    const flows = pairs.length > 0 ? new Flows(simulation.moment(run), pairs) : undefined;
    if (flows) run.state.changed = (r) => flows.look(r);
    run.toEnd();
    if (!run.comesToRest && !problems.some((p) => p.startsWith('It does not')))
      problems.push('It does not come to rest within three million events.');
    deeds += run.state.queue.done;
    moments.push(run.moments.map((m) => ({ ...m })));
    last.push({ ms: Math.max(-1, ...run.moments.map((m) => m.lastChange ?? -1)), seed: own });
    flows?.healedAt().forEach((t, i) => healed[i]?.push(t));
    yield { done: n + 1, of: runs };
  }
  const sorted = [...last].sort((a, b) => a.ms - b.ms);
  const typical = sorted[Math.floor((sorted.length - 1) / 2)] ?? { ms: -1, seed: seedOf(seed, 0) };
  const told = whole ? retold(simulation, profile, typical.seed, pairs) : { events: [], flows: [], loops: [], moments: undefined };
  const times = last.flatMap((l) => (l.ms < 0 ? [] : [l.ms])).sort((a, b) => a - b);
  return {
    family: simulation.family,
    seed,
    runs: moments.length,
    lastChanges: times,
    lastChange: spreadOf(last.map((l) => (l.ms < 0 ? undefined : l.ms))),
    routers: simulation.ground.design.routers.map((r, i): RouterTimes => {
      const over = (what: keyof Omit<Moments, 'cause'>): Spread | undefined => spreadOf(moments.map((m) => m[i]?.[what]));
      return {
        router: r.name,
        detected: over('detected'),
        learned: over('learned'),
        spf: over('spf'),
        firstChange: over('firstChange'),
        lastChange: over('lastChange'),
        cause: told.moments?.[i]?.cause ?? moments.find((m) => m[i]?.cause !== undefined)?.[i]?.cause,
      };
    }),
    typicalSeed: typical.seed,
    events: told.events,
    flows: told.flows,
    loops: told.loops,
    healed,
    deeds,
    problems,
  };
}

/** One run once more, with all that it has to tell. */
function retold(simulation: Simulation, profile: TimingProfile, seed: number, pairs: readonly Pair[]) {
  const run = simulation.run(profile, seed);
  run.state.events = [];
  const moment = simulation.moment(run);
  const flows = new Flows(moment, pairs);
  const loops = new Loops(moment, simulation.loopbacks);
  run.state.changed = (r) => {
    flows.look(r);
    loops.look(r);
  };
  run.toEnd();
  const end = Math.max(0, ...run.moments.map((m) => m.lastChange ?? 0));
  return { events: run.events, flows: flows.flows(end), loops: loops.loops(end), moments: run.moments };
}

/** A family's runs, all at once. */
export function converge(simulation: Simulation, options: ConvergeOptions): Convergence {
  const steps = converging(simulation, options);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

/** Families that a design speaks. */
export const familiesOf = (design: Design): readonly Family[] => (hasFamily(design, 6) ? [4, 6] : [4]);
