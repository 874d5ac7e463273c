import { formatFailure, type FailureSpec } from '../failures/outage';
import { groupFailures, lanFailures, linkFailures, routerFailures } from '../failures/single-failures';
import type { Prediction } from '../predict';

/** What can be swept: every cable and attachment, every router, border routers alone, LANs, shared-risk groups. */
export const sweepKinds = ['links', 'routers', 'borders', 'lans', 'groups'] as const;
export type SweepKind = (typeof sweepKinds)[number];

/** What is swept where nothing is said: everything, border routers among the routers. */
export const usualKinds: readonly SweepKind[] = ['links', 'routers', 'lans', 'groups'];

/** Routers that stand at the border of areas (RFC 2328 §3.3). */
function borderFailures(p: Prediction): FailureSpec[] {
  const borders = new Set(p.adjacencies.speakers.filter((s) => p.routing.isBorderRouter(s)).map((s) => s.routerIndex));
  return routerFailures(p).filter((_, i) => borders.has(i));
}

const casesOfKind = (p: Prediction, kind: SweepKind): FailureSpec[] =>
  ({ links: linkFailures, routers: routerFailures, borders: borderFailures, lans: lanFailures, groups: groupFailures })[kind](p);

/**
 * Every single failure of some kinds, each once, in the order of the kinds.
 *
 * @param families  a design in its families: where OSPF speaks in any of them counts
 */
export function sweepCases(families: readonly Prediction[], kinds: readonly SweepKind[]): FailureSpec[] {
  const out = new Map<string, FailureSpec>();
  for (const kind of sweepKinds)
    if (kinds.includes(kind))
      for (const p of families) for (const f of casesOfKind(p, kind)) if (!out.has(formatFailure(f))) out.set(formatFailure(f), f);
  return [...out.values()];
}

/** One of several shares of a sweep that is worked on side by side: every so manieth case, and pairs by the first of them. */
export interface Share {
  readonly mine: number;
  readonly of: number;
}

const whole: Share = { mine: 0, of: 1 };

/** Every case of a sweep: each failure alone and, when asked for, each two together, the earlier one first. */
export function* eachCase(singles: readonly FailureSpec[], pairs: boolean, { mine, of }: Share = whole): Generator<readonly FailureSpec[]> {
  const ours = singles.map((f, i) => [f, i] as const).filter(([, i]) => i % of === mine);
  for (const [f] of ours) yield [f];
  if (pairs) for (const [a, i] of ours) for (const b of singles.slice(i + 1)) yield [a, b];
}

/** How many cases `eachCase` gives. */
export function caseCount(singles: number, pairs: boolean, { mine, of }: Share = whole): number {
  let count = 0;
  for (let i = mine; i < singles; i += of) count += 1 + (pairs ? singles - 1 - i : 0);
  return count;
}
