import type { FailureSpec } from '../src/failures/outage';
import type { Prediction } from '../src/predict';
import { sweepCases } from '../src/sweep/cases';
import { Trials } from '../src/sweep/sweep';

/** Cases of a sweep with all that it tells of one, routes, pairs of loopbacks, detours, expectations: mean milliseconds of a case. */
export function meanCase(
  base: Prediction,
  pairs: boolean,
): { readonly ms: number; readonly count: number; readonly checksum: number; readonly of: string } {
  const trials = new Trials([base]);
  const singles = sweepCases([base], ['links']);
  const some = (all: readonly FailureSpec[], most: number): FailureSpec[] =>
    all.filter((_, i) => i % Math.max(1, Math.floor(all.length / most)) === 0).slice(0, most);
  const tries = pairs
    ? some(singles, 6).flatMap((a) => some(singles, 60).flatMap((b) => (a === b ? [] : [[a, b]])))
    : some(singles, 300).map((f) => [f]);
  for (const f of some(singles, 40)) trials.try([f]);
  const start = performance.now();
  let count = 0;
  for (const fail of tries) count += trials.try(fail).cutPairs;
  return { ms: (performance.now() - start) / tries.length, count, checksum: 0, of: `pairs cut in ${tries.length} cases` };
}
