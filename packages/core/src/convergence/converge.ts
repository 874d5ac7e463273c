import type { Design } from '../design/design';
import { designDifference } from '../design/difference';
import { familyView, hasFamily, type Family } from '../design/family';
import { formatFailure, type FailureSpec } from '../failures/outage';
import { isSix, type Address } from '../prefix/address';
import { Known } from './calculating';
import { Ground, outageOf } from './ground';
import { Moment, MomentGround } from './moment';
import { sharesOf, slowestWords, type Share } from './chain';
import type { Moments, RunEvent } from './run-state';
import { leadersNamed } from './leaders-named';
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

/** What the runs came to. */
export interface Convergence {
  readonly seed: number;
  /** Runs that were made: fewer than asked for when it was stopped. */
  readonly runs: number;
  /** Of the last router, in each run that changed a table; sorted. */
  readonly lastChanges: readonly number[];
  readonly lastChange: Spread | undefined;
  readonly routers: readonly RouterTimes[];
  /** The run whose last change is the lower median. */
  readonly typicalRun: number;
  /** What it is made again from, alone. */
  readonly typicalSeed: number;
  /** Of the typical run. */
  readonly events: readonly RunEvent[];
  readonly flows: readonly Flow[];
  readonly loops: readonly Loop[];
  /** What the time until its last change was spent on. */
  readonly shares: readonly Share[];
  readonly slowest: string | undefined;
  /** The router that changed last. */
  readonly lastRouter: string | undefined;
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
  /** Runs share nothing that was calculated: slow and obvious, the answer is the same. */
  readonly forgetful?: boolean;
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
    if (h.kind === 'edit') continue;
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
  /** What happens; leaders by the routers that they are. */
  readonly happenings: readonly Happening[];
  readonly shared: MomentGround;

  constructor(
    design: Design,
    readonly family: Family,
    happenings: readonly Happening[],
    ground?: Ground,
    private readonly known = new Known(),
  ) {
    this.happenings = leadersNamed(design, family, happenings, downBefore(happenings));
    this.down = downBefore(this.happenings);
    this.ground = this.down.length === 0 && ground ? ground : new Ground(design, family, this.down);
    this.shared = new MomentGround(this.ground);
  }

  /** Words of what happens that the design does not know. */
  get problems(): readonly string[] {
    const { design, segments } = this.ground;
    const of = (h: Happening): readonly string[] => {
      if (h.kind !== 'edit') return outageOf(design, segments, [h.spec]).problems;
      const { reach } = designDifference(design, familyView(h.design, this.family));
      return reach === 'whole' ? [`${h.words}: this changes who stands where; simulate the edited design instead.`] : [];
    };
    return [...new Set(this.happenings.flatMap(of))];
  }

  /** Why it cannot be simulated; `undefined`: it can. */
  get refusal(): string | undefined {
    const { quarrel } = this.ground;
    return quarrel === undefined
      ? undefined
      : `${quarrel}: each takes the other's advertisements for its own, and nothing comes to rest. Give one of them another id.`;
  }

  /** One run. @param alone  by itself, without what other runs calculated */
  run(profile: TimingProfile, seed: number, alone = false): Run {
    return new Run(this.ground, profile, seed, this.happenings, this.down, alone ? this.known.atRestAlone() : this.known);
  }

  private rest: Run | undefined;

  /** A run before anything happens. */
  atRest(profile: TimingProfile): Run {
    return (this.rest ??= this.run(profile, 0));
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

const timed = ['detected', 'learned', 'spf', 'firstChange', 'lastChange'] as const;
type Times = Pick<Moments, (typeof timed)[number] | 'cause' | 'chain'>;

/** The later times of two families of a router. */
function later(a: Times | undefined, b: Times): Times {
  if (!a) return b;
  const out: Times = { ...((a.lastChange ?? -1) >= (b.lastChange ?? -1) ? a : b) };
  for (const t of timed) {
    const [x, y] = [a[t], b[t]];
    const most = x === undefined ? y : y === undefined ? x : Math.max(x, y);
    if (most !== undefined) out[t] = most;
  }
  const cause = a.cause ?? b.cause;
  if (cause !== undefined) out.cause = cause;
  return out;
}

const lastOf = (moments: readonly Times[]): number => Math.max(-1, ...moments.map((m) => m.lastChange ?? -1));

/** What one run came to, over all families. */
interface Made {
  readonly seed: number;
  readonly moments: readonly Times[];
}

/** Runs of families side by side, a step for each; whoever waits can look up between them, or stop and take what there is. */
export function* converging(
  simulations: readonly Simulation[],
  options: ConvergeOptions,
): Generator<{ readonly done: number; readonly of: number; readonly soFar: () => Convergence }, Convergence> {
  const { profile, seed, runs, watch = [], forgetful = false } = options;
  const pairsOf = (s: Simulation): { pair: Pair; place: number }[] =>
    watch.flatMap((pair, place) => (isSix(pair.to) === (s.family === 6) ? [{ pair, place }] : []));
  const made: Made[] = [];
  const healed: (number | undefined)[][] = watch.map(() => []);
  const problems = new Set(simulations.flatMap((s) => [...s.ground.problems]));
  let deeds = 0;
  const soFar = (): Convergence => summedUp(simulations, options, made, healed, deeds, [...problems]);
  for (let n = 0; n < runs; n++) {
    const own = seedOf(seed, n);
    let moments: Times[] | undefined;
    for (const s of simulations) {
      const run = s.run(profile, own, forgetful);
      const pairs = pairsOf(s);
      const flows =
        pairs.length > 0
          ? new Flows(
              s.moment(run),
              pairs.map((p) => p.pair),
            )
          : undefined;
      if (flows) run.state.changed = (r) => flows.look(r);
      run.toEnd();
      if (!run.comesToRest) problems.add('It does not come to rest within three million events: what is told ends there.');
      deeds += run.state.queue.done;
      const before = moments;
      moments = run.moments.map((m, i) => later(before?.[i], m));
      flows?.healedAt().forEach((t, i) => healed[pairs[i]?.place ?? -1]?.push(t));
    }
    made.push({ seed: own, moments: moments ?? [] });
    yield { done: n + 1, of: runs, soFar };
  }
  return soFar();
}

function summedUp(
  simulations: readonly Simulation[],
  { profile, seed, watch = [], whole = true }: ConvergeOptions,
  made: readonly Made[],
  healed: readonly (readonly (number | undefined)[])[],
  deeds: number,
  problems: readonly string[],
): Convergence {
  const last = made.map((m) => lastOf(m.moments));
  const order = last.map((ms, n) => ({ ms, n })).sort((a, b) => a.ms - b.ms || a.n - b.n);
  const typicalRun = order[Math.floor((order.length - 1) / 2)]?.n ?? 0;
  const typical = made[typicalRun];
  const chain = typical?.moments.reduce<Times | undefined>((a, m) => ((m.lastChange ?? -1) > (a?.lastChange ?? -1) ? m : a), undefined);
  const told = whole && typical ? simulations.map((s) => retold(s, profile, typical.seed, watch)) : [];
  const design = simulations[0]?.ground.design;
  return {
    seed,
    runs: made.length,
    lastChanges: last.filter((ms) => ms >= 0).sort((a, b) => a - b),
    lastChange: spreadOf(last.map((ms) => (ms < 0 ? undefined : ms))),
    routers: (design?.routers ?? []).map((r, i): RouterTimes => {
      const over = (what: (typeof timed)[number]): Spread | undefined => spreadOf(made.map((m) => m.moments[i]?.[what]));
      return {
        router: r.name,
        detected: over('detected'),
        learned: over('learned'),
        spf: over('spf'),
        firstChange: over('firstChange'),
        lastChange: over('lastChange'),
        cause: typical?.moments[i]?.cause,
      };
    }),
    typicalRun,
    typicalSeed: typical?.seed ?? seed,
    events: told.flatMap((t) => t.events).sort((a, b) => a.ms - b.ms),
    flows: told.flatMap((t) => t.flows),
    loops: told.flatMap((t) => t.loops).sort((a, b) => a.fromMs - b.fromMs),
    shares: sharesOf(chain?.chain),
    slowest: slowestWords(chain?.chain),
    lastRouter: chain && design?.routers[typical?.moments.indexOf(chain) ?? -1]?.name,
    healed,
    deeds,
    problems,
  };
}

/** One run once more, with all that it has to tell. */
function retold(simulation: Simulation, profile: TimingProfile, seed: number, watch: readonly Pair[]) {
  const run = simulation.run(profile, seed);
  run.state.events = [];
  const moment = simulation.moment(run);
  const flows = new Flows(
    moment,
    watch.filter((w) => isSix(w.to) === (simulation.family === 6)),
  );
  const loops = new Loops(moment, simulation.moment(simulation.atRest(profile)), simulation.loopbacks);
  run.state.changed = (r) => {
    flows.look(r);
    loops.look(r);
  };
  run.toEnd();
  const end = Math.max(0, lastOf(run.moments));
  return { events: run.events, flows: flows.flows(end), loops: loops.loops(end) };
}

/** The same, all at once. */
export function converge(simulations: readonly Simulation[], options: ConvergeOptions): Convergence {
  const steps = converging(simulations, options);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

/** Families that a design speaks. */
export const familiesOf = (design: Design): readonly Family[] => (hasFamily(design, 6) ? [4, 6] : [4]);

/** A design's families, ready to be simulated. */
export const simulationsOf = (design: Design, happenings: readonly Happening[], families = familiesOf(design)): readonly Simulation[] =>
  families.map((f) => new Simulation(design, f, happenings));
