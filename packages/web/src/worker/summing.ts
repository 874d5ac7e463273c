import type { Comparison } from '@gentle-compass/core/compare/compare';
import { countChanges } from '@gentle-compass/core/compare/count-changes';
import { formatFailure } from '@gentle-compass/core/failures/outage';
import type { Finding } from '@gentle-compass/core/findings/finding';
import type { Prediction } from '@gentle-compass/core/predict';
import { LoopbackWays } from '@gentle-compass/core/sweep/loopback-ways';
import type { ChangeSummary, WhileDown } from '../model/view';
import { brokenIn } from './failing';
import { electionViews } from './views';

/** Findings of one list that the other does not have; accepted ones aside. */
export function missing(from: readonly Finding[], other: readonly Finding[]): Finding[] {
  const ids = new Set(other.flatMap((f) => (f.accepted ? [] : [f.id])));
  return from.filter((f) => !f.accepted && !ids.has(f.id));
}

/** What lies between two states, in numbers. */
export function summaryOf(d: Comparison, before: readonly Finding[], after: readonly Finding[]): ChangeSummary {
  const gone = missing(before, after);
  const goneIds = new Set(gone.map((f) => f.id));
  const wentWith = gone.filter((f) => f['caused-by'] !== null && goneIds.has(f['caused-by'])).map((f) => f.message);
  const full = (s: string): boolean => s === 'full' || s === '2-way';
  return {
    neighborsGained: d.neighbors.filter((n) => full(n.after) && !full(n.before)).length,
    neighborsLost: d.neighbors.filter((n) => full(n.before) && !full(n.after)).length,
    gained: d.gained,
    lost: d.lost,
    changed: d.changed,
    routers: d.routers.filter((r) => r.gone || r.routes.length > 0).length,
    findingsGone: gone.length,
    findingsNew: missing(after, before).length,
    elections: electionViews(d),
    routerIds: d.routerIds,
    wentWith,
  };
}

/**
 * What a change does while something is down, counted against what arrives when nothing is.
 *
 * @param failed  the network before the change with something down
 * @param before  the same with nothing down
 * @param now     after the change, with nothing down
 */
export function whileDown(failed: Prediction, before: Prediction, now: Prediction): WhileDown {
  const specs = failed.failures.slice(before.failures.length);
  const after = specs.reduce((p, f) => p.fail(f), now);
  const ways = new LoopbackWays(before);
  const gone = new Set([...failed.outage.routers].filter((r) => !before.outage.routers.has(r)));
  const { gained, lost, changed } = countChanges(failed, after);
  return {
    fail: specs.map(formatFailure),
    gained,
    lost,
    changed,
    cut: [ways.compare(failed, gone).cut, ways.compare(after, gone).cut],
    broken: [brokenIn(failed).length, brokenIn(after).length],
  };
}
