import { compareCosts } from '@gentle-compass/core/sweep/sweep';
import type { CaseView } from '../model/sweep-view';

export const caseKey = (c: CaseView): string => c.words.join(' ');

const worstFirst = (a: CaseView, b: CaseView): number => compareCosts(a, b, caseKey(a), caseKey(b));

/** Cases that were ranked before with those that were found since, the worst first: without sorting all of them again. */
export function rankedWith(ranked: readonly CaseView[], found: readonly CaseView[]): readonly CaseView[] {
  const fresh = found.toSorted(worstFirst);
  const out: CaseView[] = [];
  let [i, j] = [0, 0];
  for (;;) {
    const [a, b] = [ranked[i], fresh[j]];
    if (!a && !b) return out;
    const first = !a ? b : !b ? a : worstFirst(a, b) <= 0 ? a : b;
    if (first === a) i++;
    else j++;
    if (first) out.push(first);
  }
}

/** The so many largest of a list by a number, largest first; as they stand in the list where they are equal. */
export function largest<T>(all: readonly T[], most: number, valueOf: (x: T) => number): T[] {
  const values = Float64Array.from(all, valueOf);
  const least = values.length <= most ? -Infinity : (values.toSorted()[values.length - most] ?? -Infinity);
  // Of those that are as large as the last of them only so many as there is room for.
  const above = all.filter((_, n) => (values[n] ?? 0) > least);
  const level = all.filter((_, n) => values[n] === least).slice(0, Math.max(0, most - above.length));
  return [...above, ...level].sort((a, b) => valueOf(b) - valueOf(a));
}
