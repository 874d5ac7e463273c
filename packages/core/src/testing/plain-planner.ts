import { commonPrefix, comparePrefixes, covers, sizeOf, type Prefix } from '../prefix/address';
import { compareRows, type Limits, type Task } from '../summaries/planner';

interface Plan {
  readonly outside: number;
  readonly foreign: number;
  readonly claimed: bigint;
  readonly summaries: readonly Prefix[];
}

const better = (a: Plan, b: Plan | undefined): boolean =>
  !b ||
  (a.outside - b.outside ||
    a.foreign - b.foreign ||
    Number(a.claimed > b.claimed) - Number(a.claimed < b.claimed) ||
    compareRows(a.summaries, b.summaries)) < 0;

/**
 * The best summaries by a plain dynamic programme over the parts in a row: each is left outside, or the first of a summary that
 * takes as many after it as it may. By number of summaries; a gap where there is none of that number.
 */
export function plainPlans(task: Task, { atMost, allowForeign }: Limits): (Plan | undefined)[] {
  const parts = [...task.parts].sort(comparePrefixes);
  const best: (Plan | undefined)[][] = Array.from({ length: parts.length + 1 }, () => []);
  (best[parts.length] as (Plan | undefined)[])[0] = { outside: 0, foreign: 0, claimed: 0n, summaries: [] };
  for (let i = parts.length - 1; i >= 0; i--) {
    const row = best[i] as (Plan | undefined)[];
    (best[i + 1] ?? []).forEach((p, k) => p && (row[k] = { ...p, outside: p.outside + 1 }));
    let whole = parts[i] as Prefix;
    let held = -1;
    for (let j = i; j < parts.length; j++) {
      const wider = commonPrefix(whole, parts[j] as Prefix);
      if (i > 0 && wider.length < whole.length && covers(wider, parts[i - 1] as Prefix)) break;
      if (held < 0 || wider.length < whole.length) held = task.foreign.filter((f) => covers(wider, f.prefix)).length;
      whole = wider;
      // What is wider holds no less.
      if (held > allowForeign || !task.supernets.some((s) => covers(s, whole))) break;
      let next = j + 1;
      while (next < parts.length && covers(whole, parts[next] as Prefix)) next++;
      (best[next] ?? []).forEach((p, k) => {
        if (!p || k >= atMost) return;
        const plan = { outside: p.outside, foreign: p.foreign + held, claimed: p.claimed + sizeOf(whole), summaries: [whole, ...p.summaries] };
        if (better(plan, row[k + 1])) row[k + 1] = plan;
      });
    }
  }
  return best[0] ?? [];
}
