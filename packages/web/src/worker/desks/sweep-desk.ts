import { formatFailure, type FailureSpec } from '@gentle-compass/core/failures/outage';
import { formatAddress } from '@gentle-compass/core/prefix/address';
import type { Prediction } from '@gentle-compass/core/predict';
import type { SourceDocument } from '@gentle-compass/core/documents/documents';
import { caseCount, eachCase, sweepCases, type Share } from '@gentle-compass/core/sweep/cases';
import { harmOf, Trials, type CaseResult } from '@gentle-compass/core/sweep/sweep';
import type { CaseView, SweepEnd, SweepWish } from '../../model/sweep-view';
import type { Held } from '../held';

/** Pairs of loopbacks that are named of a case. */
const mostExamples = 3;

const caseView = (c: CaseResult): CaseView => ({
  words: c.fail.map(formatFailure),
  harm: harmOf(c),
  lostRoutes: c.lostRoutes,
  changedRoutes: c.changedRoutes,
  cutPairs: c.cutPairs,
  examples: c.cutExamples.slice(0, mostExamples).map((e) => ({ from: formatAddress(e.from), to: formatAddress(e.to) })),
  longestDetour: c.longestDetour ?? null,
  broken: c.broken,
  over: c.overCapacity.map(({ router, iface, mbps, capacity }) => ({ router, iface, mbps, capacity: capacity ?? 0 })),
});

/** A sweep that was begun: what is left of it, and how far it is. */
interface Sweep {
  readonly now: Prediction;
  readonly wish: string;
  readonly trials: Trials;
  readonly cases: Iterator<readonly FailureSpec[]>;
  readonly all: number;
  done: number;
}

/** Every failure by itself, and every two together, in both families. */
export class SweepDesk {
  private sweep: Sweep | undefined;
  private turn = 0;

  constructor(private readonly held: Held) {}

  /** Takes a design to sweep, in a worker that does nothing else. */
  load(documents: readonly SourceDocument[]): void {
    this.held.take(this.held.made(documents));
  }

  /**
   * Tries case after case in slices. `report` hears how far it is and what was found since.
   *
   * @param goesOn  a sweep of the same design and the same wish that was stopped goes on where it was
   * @param share   of several that are worked on side by side
   */
  async run(
    wish: SweepWish,
    goesOn: boolean,
    report: (done: number, all: number, found: readonly CaseView[]) => void,
    share?: Share,
  ): Promise<SweepEnd> {
    const { held } = this;
    const mine = ++this.turn;
    const s = this.begun(wish, goesOn, share);
    let found: CaseView[] = [];
    let told = performance.now();
    const tell = (): void => {
      report(s.done, s.all, found);
      found = [];
      told = performance.now();
    };
    for (let until = performance.now() + held.slice; ;) {
      const next = s.cases.next();
      if (next.done) {
        this.sweep = undefined; // nothing of a design is held on to that nobody goes on with
        tell();
        return 'done';
      }
      found.push(caseView(s.trials.try(next.value)));
      s.done++;
      if (performance.now() < until) continue;
      if (performance.now() - told > 120) tell();
      await new Promise((go) => setTimeout(go, 0));
      if (held.now !== s.now) {
        if (this.sweep === s) this.sweep = undefined;
        return 'outdated';
      }
      if (mine !== this.turn) {
        // What was found is not lost: whoever goes on has it already.
        tell();
        return 'stopped';
      }
      until = performance.now() + held.slice;
    }
  }

  /** Ends a sweep for now. */
  stop(): void {
    this.turn++;
  }

  /** How many cases there would be. */
  count(wish: SweepWish): number {
    return caseCount(sweepCases(this.held.bothOf(this.held.now), wish.kinds).length, wish.pairs);
  }

  private begun({ kinds, pairs }: SweepWish, goesOn: boolean, share: Share | undefined): Sweep {
    const { now } = this.held;
    const wish = JSON.stringify([kinds, pairs, share]);
    if (goesOn && this.sweep?.now === now && this.sweep.wish === wish) return this.sweep;
    const families = this.held.bothOf(now);
    const singles = sweepCases(families, kinds);
    this.sweep = {
      now,
      wish,
      trials: new Trials(families, now.design.settings.demands),
      cases: eachCase(singles, pairs, share),
      all: caseCount(singles.length, pairs, share),
      done: 0,
    };
    return this.sweep;
  }
}
