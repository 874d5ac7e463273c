import { routeChanges } from '@gentle-compass/core/compare/route-changes';
import { formatFailure, parseFailure, type FailureSpec } from '@gentle-compass/core/failures/outage';
import type { Comparison } from '@gentle-compass/core/compare/compare';
import { checkExpectation, concerns } from '@gentle-compass/core/reach/expectations';
import { forwardingOf } from '@gentle-compass/core/compare/forwarding-kept';
import type { Prediction } from '@gentle-compass/core/predict';
import { CutCounter } from '@gentle-compass/core/sweep/cut-counter';
import { cuttingEach, laidBeside } from '@gentle-compass/core/sweep/every-cut';
import { linkFailures } from '@gentle-compass/core/failures/single-failures';
import type { EveryCut, FailureView, Glimpse } from '../model/view';
import { countedUpTo, downPairs, electionViews, lonely, vanished } from './views';

/** Answers about what fails that come from numbers alone, without tables laid side by side. */
export class Failing {
  private down: { readonly from: Prediction; readonly key: string; readonly state: Prediction } | undefined;
  private counting: { readonly of: Prediction; readonly counter: CutCounter | undefined } | undefined;
  private trials = 0;

  /** The network with things down, in the order given: each state is computed from the one before. */
  stateWith(now: Prediction, failures: readonly FailureSpec[]): Prediction {
    const key = failures.map(formatFailure).join(' ');
    if (this.down?.from !== now || this.down.key !== key) this.down = { from: now, key, state: failures.reduce((p, f) => p.fail(f), now) };
    return this.down.state;
  }

  /**
   * What more failures of a state would change; `null` for words that are no failures, and in a large design where it takes
   * whole tables to tell of one: somebody only points there.
   */
  glimpse(from: Prediction, words: readonly string[]): Glimpse | null {
    const { good, problems } = failuresNamed(words);
    const [first] = good;
    if (!first || problems.length > 0) return null;
    if (this.counting?.of !== from) this.counting = { of: from, counter: CutCounter.over(from) };
    const start = performance.now();
    const counted = good.length === 1 ? this.counting.counter?.count(first) : undefined;
    if (good.length === 1 && !counted && from.design.routers.length > countedUpTo) return null;
    const { routers, lost, changed } = counted ?? laidBeside(from, ...good);
    return { words, routers, lost, changed, milliseconds: performance.now() - start };
  }

  /** How many routes of which routers are other ones; what cannot be reached any more is left uncounted. */
  glance(now: Prediction, words: readonly string[]): FailureView {
    const start = performance.now();
    const { good } = failuresNamed(words);
    const after = this.stateWith(now, good);
    const goneRouters = now.design.routers.flatMap((r, i) => (after.outage.routers.has(i) && !now.outage.routers.has(i) ? [r.name] : []));
    const routers = goneRouters.map((router) => ({ router, gone: true, lost: 0, gained: 0, changed: 0, unreachable: 0 }));
    for (const { speaker, count } of routeChanges(now, after))
      if (count.lost + count.gained + count.changed > 0) routers.push({ router: speaker.router.name, gone: false, ...count, unreachable: 0 });
    const sum = (of: 'lost' | 'gained' | 'changed'): number => routers.reduce((n, r) => n + r[of], 0);
    return {
      fail: good.map(formatFailure),
      problems: after.problems,
      neighborsLost: [],
      routers: routers.sort((a, b) => (a.router < b.router ? -1 : 1)),
      lost: sum('lost'),
      gained: sum('gained'),
      changed: sum('changed'),
      unreachable: 0,
      unreachablePrefixes: [],
      vanished: [],
      downPairs: downPairs(now, after),
      goneRouters,
      elections: [],
      broken: [],
      milliseconds: performance.now() - start,
      unfinished: true,
    };
  }

  /**
   * Tries every single link, in slices of some milliseconds; `report` hears how far it is. `null` when `goesOn` says no, or
   * `stop` was called, or another trial was begun.
   */
  async everyCut(now: Prediction, slice: number, report: (done: number, of: number) => void, goesOn: () => boolean): Promise<EveryCut | null> {
    const mine = ++this.trials;
    const of = linkFailures(now).length;
    const steps = cuttingEach(now);
    let told = 0;
    for (let until = performance.now() + slice; ;) {
      const step = steps.next();
      if (step.done) {
        const { failures, routers, lost, changed } = step.value;
        return { words: failures.map(formatFailure), routers, lost, changed };
      }
      if (performance.now() < until) continue;
      if (performance.now() - told > 100) {
        told = performance.now();
        report(step.value, of);
      }
      await new Promise((go) => setTimeout(go, 0));
      if (mine !== this.trials || !goesOn()) return null;
      until = performance.now() + slice;
    }
  }

  /** Ends a trial of every link. */
  stop(): void {
    this.trials++;
  }
}

/** Failures as they are typed, and words that are none. */
export function failuresNamed(words: readonly string[]): { readonly good: readonly FailureSpec[]; readonly problems: readonly string[] } {
  const specs = words.map(parseFailure);
  return { good: specs.flatMap((s) => (typeof s === 'string' ? [] : [s])), problems: specs.flatMap((s) => (typeof s === 'string' ? [s] : [])) };
}

/** Expectations that do not hold in a state. */
export function brokenIn(p: Prediction): FailureView['broken'] {
  const f = forwardingOf(p);
  return p.design.settings.expectations
    .filter((e) => concerns(e, p))
    .flatMap((e) => {
      const { name, holds, message } = checkExpectation(f, e, { underFailures: false });
      return holds ? [] : [{ name, message }];
    });
}

/** What failures do, from the tables before and after laid side by side. */
export function failureView(now: Prediction, after: Prediction, d: Comparison): Omit<FailureView, 'problems' | 'milliseconds'> {
  const stood = (s: string): boolean => s === 'full' || s === '2-way';
  const of = (r: Comparison['routers'][number], change: string): number => r.routes.filter((x) => x.change === change).length;
  return {
    fail: after.failures.map(formatFailure),
    neighborsLost: d.neighbors
      .filter((n) => stood(n.before) && !stood(n.after))
      .map(({ router, iface, peer, before, after: state }) => ({ router, iface, peer, before, after: state })),
    routers: d.routers.map((r) => ({
      router: r.router,
      gone: r.gone,
      lost: of(r, 'lost'),
      gained: of(r, 'gained'),
      changed: of(r, 'changed'),
      unreachable: r.outOfReach.length,
    })),
    lost: d.lost,
    gained: d.gained,
    changed: d.changed,
    unreachable: d.unreachable,
    unreachablePrefixes: lonely(d),
    vanished: vanished(d),
    downPairs: downPairs(now, after),
    goneRouters: d.routers.filter((r) => r.gone).map((r) => r.router),
    elections: electionViews(d),
    broken: brokenIn(after),
  };
}
