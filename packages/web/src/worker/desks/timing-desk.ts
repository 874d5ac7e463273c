import { Known } from '@gentle-compass/core/convergence/calculating';
import type { Ground } from '@gentle-compass/core/convergence/ground';
import type { RunEvent } from '@gentle-compass/core/convergence/run-state';
import type { Happening } from '@gentle-compass/core/convergence/simulate';
import type { Design } from '@gentle-compass/core/design/design';
import { converging, Simulation, type Convergence } from '@gentle-compass/core/convergence/converge';
import { Replay } from '@gentle-compass/core/convergence/replay';
import { timingEach } from '@gentle-compass/core/convergence/timed';
import { readProfile, type TimingProfile } from '@gentle-compass/core/convergence/timing-profile';
import { endsAround, followings, groundsOf, tuningLines, watchOf, wouldPart, type Place, type Tuning } from '@gentle-compass/core/convergence/tuning';
import { applyEdits } from '@gentle-compass/core/design/edit';
import { designOf } from '@gentle-compass/core/design/family';
import { readLines } from '@gentle-compass/core/entry/lines';
import { formatFailure } from '@gentle-compass/core/failures/outage';
import { designFrom } from '@gentle-compass/core/formats/read-set';
import { formatAddress, type Address } from '@gentle-compass/core/prefix/address';
import type { MomentView, TimeCall, TimedView, TimeView, TunableView, TuneCall, TuneView } from '../../model/time-view';
import type { Held } from '../held';
import {
  distinct,
  happeningsOf,
  heldView,
  linesBetween,
  lineView,
  pairsTouched,
  scheduleWords,
  storyUntil,
  timeView,
  watchedOf,
  watchView,
  type Watched,
} from '../timing-making';

/** What is being looked at: one set of happenings in time, and its typical run. */
interface Timed {
  readonly call: TimeCall;
  readonly profile: TimingProfile;
  readonly simulation: Simulation;
  readonly watched: readonly Watched[];
  readonly replay: Replay;
  /** Of the typical run. */
  readonly events: readonly RunEvent[];
}

/** Runs by which a tuning is compared; the same seeds for all. */
const tuningRuns = 30;
/** Runs by which each single failure is timed. */
const eachRuns = 10;

const nowhereWords = 'No interface in OSPF is there: nothing fails on a wire, or the router speaks on none. Choose “everywhere” or another router.';

/** How long failures take to heal, moment by moment. */
export class TimingDesk {
  private timed: Timed | undefined;
  private turns = 0;
  private tunings = 0;
  private trials = 0;

  constructor(private readonly held: Held) {}

  private resting: { readonly of: Design; readonly grounds: readonly { readonly ground: Ground; readonly known: Known }[] } | undefined;

  /** The open design at rest, a family each: found once for all failures of it. */
  private get atRest(): readonly { readonly ground: Ground; readonly known: Known }[] {
    const design = designOf(this.held.now.design);
    if (this.resting?.of !== design) this.resting = { of: design, grounds: groundsOf(design).map((ground) => ({ ground, known: new Known() })) };
    return this.resting.grounds;
  }

  private grounds(): readonly Ground[] {
    return this.atRest.map((r) => r.ground);
  }

  /** What happens to the open design, a family each. */
  private simulations(happenings: readonly Happening[]): readonly Simulation[] {
    const design = designOf(this.held.now.design);
    return this.atRest.map(({ ground, known }) => new Simulation(design, ground.family, happenings, ground, known.atRestAlone()));
  }

  /**
   * Simulates what happens, many times; `report` hears of the first run at once, and then how many are done. `null` when a
   * newer question came; after `stop` what there is by then.
   */
  async simulate(call: TimeCall, report: (view: TimeView | number) => void): Promise<TimeView | null> {
    const { held } = this;
    const mine = ++this.turns;
    this.stopped = false;
    const { profile, problems: faults } = readProfile(call.profile);
    const { happenings, problems: unread } = happeningsOf(call.fail, call.then, held.documents);
    const all = this.simulations(happenings);
    // What is looked at is shown; of the other family how long it takes.
    const simulations = all.filter((s) => s.family === held.now.family);
    const others = all.filter((s) => s.family !== held.now.family);
    const [own] = simulations;
    if (!own) return null;
    const refusal = own.refusal;
    const asked = watchedOf(held.now, call.watch);
    const problems = [...faults, ...unread, ...asked.problems, ...(refusal === undefined ? [] : [refusal])];
    const watched =
      call.watch.length > 0 || refusal !== undefined ? asked.watched : pairsTouched(own, held.now, new Replay([own], profile, call.seed));
    const runs = refusal === undefined ? call.runs : 0;
    const goesOn = (): boolean => mine === this.turns && !this.stopped;
    const view = (c: Convergence, done: boolean, beside?: Convergence): TimeView => {
      const more = { of: call.runs, done, problems };
      const other = beside && { family: own.family === 4 ? (6 as const) : (4 as const), lastChange: beside.lastChange ?? null };
      return { ...timeView(c, own, watched, more), other: other ?? null };
    };
    let said = 0;
    let latest: (() => Convergence) | undefined;
    const c = await held.sliced(converging(simulations, { profile, seed: call.seed, runs, watch: watched }), goesOn, (step) => {
      latest = step.soFar;
      const now = performance.now();
      if (step.done === 1) report(view(step.soFar(), false));
      else if (now - said > 200) {
        said = now;
        report(step.done);
      }
    });
    if (mine !== this.turns) return null;
    const told = c ?? latest?.();
    if (!told) return null;
    this.timed = { call, profile, simulation: own, watched, replay: new Replay(simulations, profile, told.typicalSeed), events: told.events };
    if (others.length === 0 || others.some((s) => s.refusal !== undefined)) return view(told, true);
    report(view(told, true));
    const beside = await held.sliced(converging(others, { profile, seed: call.seed, runs, whole: false }), goesOn);
    return mine === this.turns ? view(told, true, beside) : null;
  }

  private stopped = false;

  /** Ends the runs: what they came to so far is the answer. */
  stop(): void {
    this.stopped = true;
  }

  /** The typical run at a moment; of one router its table and databases too. `null`: nothing was simulated. */
  stand(ms: number, router: string | undefined, storyLines = 8): MomentView | null {
    const { timed } = this;
    if (!timed) return null;
    const { replay, simulation } = timed;
    replay.stand(ms);
    const { family, ground } = simulation;
    const pairs = replay.pairs(family);
    const broken = new Set(replay.apart(family));
    const off = replay.off();
    const there = router !== undefined && !off.includes(router) && ground.design.routers.some((r) => r.name === router);
    return {
      ms,
      off,
      apart: pairs
        .filter((p) => (p.before === 'full' || p.before === '2-way') && p.state !== 'full' && p.state !== '2-way')
        .map((p) => `${p.router}/${p.iface}~${p.peer}/${p.peerIface}`),
      pairs: pairs.map(({ router: r, iface, peer, before, state }) => ({ router: r, iface, peer, before, state })),
      flows: timed.watched.map((w) => {
        const f = replay.flow(w.from, w.to);
        const path = f?.path ?? [];
        const round = f?.fate === 'looping' ? [...path, ...(path.length > 0 ? f.at.slice(0, 1) : [])] : path;
        return { fate: f?.fate ?? 'dropped', at: f?.at ?? [], why: f?.why ?? null, path, lines: linesBetween(ground, round, broken) };
      }),
      story: storyUntil(timed.events, ms, (r) => !off.includes(r), storyLines),
      table: there ? replay.table(family, router).map(lineView) : null,
      database: there ? replay.database(family, router).map(heldView) : null,
    };
  }

  private endsFor(call: Pick<TuneCall, 'where'>, timed: Timed): readonly Place[] {
    const grounds = this.grounds();
    const all = grounds.flatMap((g) =>
      g.ports
        .filter((p) => !p.loopback && !p.settings.passive)
        .map((p) => ({ router: g.design.routers[p.routerIndex]?.name ?? '', iface: p.iface.name })),
    );
    const specs = timed.simulation.happenings.flatMap((h) => (h.kind === 'edit' ? [] : [h.spec]));
    const { where } = call;
    const ends =
      where === 'all' ? all : where === 'around' ? grounds.flatMap((g) => endsAround(g, specs)) : all.filter((e) => e.router === where.router);
    return [...new Map(ends.map((e) => [`${e.router}/${e.iface}`, e])).values()];
  }

  /** What holds now where a tuning would change it; `null`: nothing was simulated. */
  tunable(call: Pick<TuneCall, 'where'>): TunableView | null {
    const { timed } = this;
    if (!timed) return null;
    const ground = this.grounds().find((g) => g.family === timed.simulation.family) ?? timed.simulation.ground;
    const ends = this.endsFor(call, timed);
    const ports = ground.ports.filter((p) => ends.some((e) => e.iface === p.iface.name && e.router === ground.design.routers[p.routerIndex]?.name));
    const cables = [...new Set(ports.map((p) => p.segment))].flatMap((s) => {
      const segment = ground.segments.list[s];
      return segment?.kind === 'cable' ? [segment] : [];
    });
    const schedules = ground.speakers.map((s) => s.instance.spfSchedule);
    return {
      ends: ports.length,
      hello: distinct(ports.map((p) => p.settings.hello)),
      dead: distinct(ports.map((p) => p.settings.dead)),
      bfd: distinct(
        ports.map((p) =>
          p.settings.bfd
            ? `${p.settings.bfdTimers.multiplier} × ${Math.max(p.settings.bfdTimers.send, p.settings.bfdTimers.receive) / 1000} ms`
            : 'off',
        ),
      ),
      carrierUnseen: cables.filter((s) => !s.carrierLossSeen).length,
      cables: cables.length,
      spf: distinct(schedules.map(scheduleWords)),
    };
  }

  /** What other timers would come to, beside what is; `null` when a newer wish came, or nothing was simulated. */
  async tune(call: TuneCall, report: (view: TuneView) => void): Promise<TuneView | null> {
    const { timed, held } = this;
    if (!timed) return null;
    const mine = ++this.tunings;
    const turn = this.turns;
    const tuning: Tuning = { ...call, ends: call.where === 'all' ? undefined : this.endsFor(call, timed) };
    // What only routers have needs no interface.
    const perEnd = [call.hello, call.dead, call.bfd, call.carrierSeen].some((x) => x !== undefined);
    const nowhere = perEnd && tuning.ends?.length === 0;
    const lines = nowhere ? [] : tuningLines(tuning, this.grounds());
    const { edits, faults } = readLines(lines, held.documents);
    const documents = applyEdits(held.documents, edits);
    const after = designFrom(documents, { clock: Date.now() }).design;
    // The network before anything happens, with the timers that it has and with the others.
    const whole = this.grounds();
    const grounds = groundsOf(after);
    const parting = whole.flatMap((g, n) => (grounds[n] ? wouldPart(g, grounds[n]) : []));
    const orders = whole.flatMap((g, n) => (grounds[n] ? followings(g, grounds[n]) : []));
    const view = (c: Convergence | undefined, done: boolean): TuneView => ({
      lines,
      edits,
      faults: nowhere ? [nowhereWords] : faults.map((f) => f.message),
      parting,
      was: watchView(watchOf(whole, call.loss)),
      would: watchView(watchOf(grounds, call.loss)),
      lastChange: c?.lastChange ?? null,
      slowest: c?.slowest ?? null,
      routers: Object.fromEntries((c?.routers ?? []).flatMap((r) => (r.lastChange ? [[r.router, r.lastChange.typical]] : []))),
      orders: [
        ...new Map(
          orders.map((o) => [
            `${o.from.hello} ${o.from.dead} ${o.to.hello} ${o.to.dead}`,
            {
              from: `${o.from.hello}/${o.from.dead} s`,
              places: o.places.length,
              steps: o.following.steps.map((s) => ({ to: `hello ${s.to.hello} s, dead ${s.to.dead} s`, withinS: s.withinS })),
              withinS: o.following.withinS,
            },
          ]),
        ).values(),
      ],
      done,
    });
    if (parting.length > 0 || edits.length === 0) return view(undefined, true);
    const { happenings } = happeningsOf(timed.call.fail, timed.call.then, documents);
    const simulations = grounds.filter((g) => g.family === timed.simulation.family).map((g) => new Simulation(after, g.family, happenings, g));
    let said = performance.now();
    const c = await held.sliced(
      converging(simulations, { profile: timed.profile, seed: timed.call.seed, runs: tuningRuns, whole: false }),
      () => mine === this.tunings && turn === this.turns,
      (step) => {
        if (performance.now() - said < 400) return;
        said = performance.now();
        report(view(step.soFar(), false));
      },
    );
    return c ? view(c, true) : null;
  }

  /**
   * Times every single link and router failure; `report` hears each as it is done. Slowest first; when the design changes or
   * `stopEach` is called, what there is by then. @returns  why nothing can be timed; `null`: it could
   */
  async each(profile: TimeCall['profile'], report: (done: number, of: number, latest: TimedView | null) => void): Promise<string | null> {
    const { held } = this;
    const mine = ++this.trials;
    const { designs } = held;
    const timed = await held.sliced(
      timingEach(designOf(held.now.design), { profile: readProfile(profile).profile, seed: 1, runs: eachRuns }),
      () => mine === this.trials && designs === held.designs,
      ({ done, of, latest }) => {
        if (latest)
          report(done, of, {
            word: formatFailure(latest.failure),
            lastChange: latest.lastChange ?? null,
            slowest: latest.slowest ?? null,
            lastRouter: latest.lastRouter ?? null,
          });
      },
    );
    if (timed?.length !== 0) return null;
    return this.simulations([]).flatMap((s) => s.refusal ?? [])[0] ?? null;
  }

  /** Ends the timing of every failure. */
  stopEach(): void {
    this.trials++;
  }

  /** What a word stands for as an end of a flow: an address, or why none. */
  end(word: string): { readonly address: string } | { readonly fault: string } {
    const { watched, problems } = watchedOf(this.held.now, [`${word} ${word}`]);
    const [first] = watched;
    const address: Address | undefined = first?.from;
    return address === undefined ? { fault: problems[0] ?? `“${word}” is no end of a flow.` } : { address: formatAddress(address) };
  }
}
