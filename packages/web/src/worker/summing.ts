import type { Comparison } from '@gentle-compass/core/compare/compare';
import type { Finding } from '@gentle-compass/core/findings/finding';
import type { ChangeSummary } from '../model/view';
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
