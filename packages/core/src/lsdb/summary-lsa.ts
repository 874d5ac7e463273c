import { backbone, type Area, type AreaRange, type OspfInstance } from '../design/design';
import { applyPolicies, type PolicyBook } from '../design/policy';
import { covers, type Ipv4, type Ipv4Prefix } from '../prefix/ipv4';
import type { RouterPath } from '../routes/route';
import type { HopList } from '../spf/shortest-path-tree';
import { lsInfinity, type SummaryLsa } from './lsa';

/** The longest range of an area that takes the prefix. */
export function rangeFor(area: Area, p: Ipv4Prefix): AreaRange | undefined {
  let best: AreaRange | undefined;
  for (const r of area.ranges) if (covers(r.prefix, p) && (!best || r.prefix.length > best.prefix.length)) best = r;
  return best;
}

/** Cost at which a range is announced: fixed, or its dearest (RFC 2328 §12.4.3) or cheapest part (RFC 1583). */
export function rangeCost(range: AreaRange, parts: readonly number[], rule: OspfInstance['rangeCost']): number {
  if (range.cost !== undefined) return range.cost;
  return parts.reduce((a, b) => (rule === 'smallest' ? Math.min(a, b) : Math.max(a, b)));
}

/** A type 3 or its draft with what policies look at. */
export interface SummarySubject extends Ipv4Prefix {
  readonly metric: number;
}

/** True when the policies on the way out of one area and into the other let the summary pass. */
export function summaryPasses(policies: PolicyBook, d: SummarySubject, out: readonly string[], into: readonly string[]): boolean {
  if (out.length === 0 && into.length === 0) return true;
  const subject = { prefix: d, metric: d.metric, metricType: 'type-2' as const, tag: 0 };
  return applyPolicies(policies, out, subject).accepted && applyPolicies(policies, into, subject).accepted;
}

/** True when a route of an area may be told to another at all (RFC 2328 §12.4.3 before ranges; hops are looked at apart). */
export const mayEnter = (inside: boolean, area: number, metric: number, into: number): boolean =>
  area !== into && metric < lsInfinity && (inside || (area === backbone && into !== backbone));

/** What a border router knows when it writes types 4. */
export interface BoundarySource {
  readonly speaker: number;
  readonly routerId: Ipv4;
  readonly hopList: HopList;
  /** Settings of an area in this router. */
  readonly areaOf: (areaId: number) => Area;
}

/** The types 4 that a border router writes into one area; none where type 5 does not come (RFC 2328 §12.4.3). */
export function boundarySummaries(s: BoundarySource, into: Area, boundary: readonly RouterPath[]): SummaryLsa[] {
  if (into.type !== 'normal') return [];
  const through = (p: RouterPath): boolean => p.hops.some((h) => s.hopList.hops[h]?.port.area.id === into.id);
  return boundary.flatMap((p): SummaryLsa[] =>
    s.areaOf(p.area).type === 'normal' && mayEnter(p.type === 'intra-area', p.area, p.cost, into.id) && !through(p)
      ? [
          {
            type: 4,
            adv: s.routerId,
            id: p.router,
            speaker: s.speaker,
            bits: p.router,
            length: 0,
            metric: p.cost,
            reason: 'boundary-router',
            fromArea: p.area,
          },
        ]
      : [],
  );
}
