import { routeChanges } from '../compare/route-changes';
import type { FailureSpec } from '../failures/outage';
import type { Prediction } from '../predict';
import { CutCounter, type CutCount } from './cut-counter';
import { linkFailures } from '../failures/single-failures';

/** What single failures do, one after the other: failure `i` stands at place `i` of each list. */
export interface CutCounts {
  readonly failures: readonly FailureSpec[];
  /** Routers with at least one other route. */
  readonly routers: Int32Array;
  /** Routes of all OSPF tables that are lost, and those that are other ones. */
  readonly lost: Int32Array;
  readonly changed: Int32Array;
}

/** Tries every single link failure; after each it yields how many are done, so that whoever asks can look up, or stop. */
export function* cuttingEach(p: Prediction): Generator<number, CutCounts> {
  const failures = linkFailures(p);
  const out: CutCounts = {
    failures,
    routers: new Int32Array(failures.length),
    lost: new Int32Array(failures.length),
    changed: new Int32Array(failures.length),
  };
  const counter = CutCounter.over(p);
  for (let i = 0; i < failures.length; i++) {
    const failure = failures[i];
    if (!failure) continue;
    const { routers, lost, changed } = counter?.count(failure) ?? laidBeside(p, failure);
    out.routers[i] = routers;
    out.lost[i] = lost;
    out.changed[i] = changed;
    yield i + 1;
  }
  return out;
}

/** What failures change, one after the other, from the state after them: every table laid beside the one before. */
export function laidBeside(p: Prediction, ...failures: readonly FailureSpec[]): CutCount {
  let [routers, lost, changed] = [0, 0, 0];
  const after = failures.reduce((now, f) => now.fail(f), p);
  for (const { count } of routeChanges(p, after)) {
    if (count.lost + count.gained + count.changed > 0) routers++;
    lost += count.lost;
    changed += count.gained + count.changed;
  }
  return { routers, lost, changed };
}
