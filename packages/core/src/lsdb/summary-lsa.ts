import { backbone, type Area, type AreaRange, type OspfInstance } from '../design/design';
import { applyPolicies, type PolicyBook } from '../design/policy';
import { covers, prefixKey, type Ipv4, type Ipv4Prefix } from '../prefix/ipv4';
import type { Route, RouterPath, Table } from '../routes/route';
import type { HopList, HopSet } from '../spf/shortest-path-tree';
import { linkStateIds, lsInfinity, type SummaryLsa, type SummaryReason } from './lsa';

/** What a border router knows when it writes its summaries. */
export interface SummarySource {
  readonly speaker: number;
  readonly routerId: Ipv4;
  readonly instance: OspfInstance;
  readonly policies: PolicyBook;
  readonly table: Table;
  readonly hopList: HopList;
  /** Settings of an area in this router. */
  readonly areaOf: (areaId: number) => Area;
}

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

/** Whether hops lead through an area. Routes behind one border router share their hop set: each is looked at once. */
function throughArea(hopList: HopList, areaId: number): (hops: HopSet) => boolean {
  const known = new Map<HopSet, boolean>();
  return (hops) => {
    let through = known.get(hops);
    if (through === undefined) {
      through = hops.some((h) => hopList.hops[h]?.port.area.id === areaId);
      known.set(hops, through);
    }
    return through;
  };
}

interface Draft extends Ipv4Prefix {
  readonly metric: number;
  readonly reason: SummaryReason;
  readonly fromArea: number;
  readonly parts?: readonly Ipv4Prefix[];
}

/** True when the policies on the way out of one area and into the other let the summary pass. */
function passes(s: SummarySource, d: Draft, out: readonly string[], into: readonly string[]): boolean {
  if (out.length === 0 && into.length === 0) return true;
  const subject = { prefix: d, metric: d.metric, metricType: 'type-2' as const, tag: 0 };
  return applyPolicies(s.policies, out, subject).accepted && applyPolicies(s.policies, into, subject).accepted;
}

/** A route that may be told to an area at all (RFC 2328 §12.4.3 before ranges). */
function mayEnter(r: Pick<Route, 'type' | 'area' | 'hops'> & { metric: number }, into: number, through: (hops: HopSet) => boolean): boolean {
  if (r.area === into || r.metric >= lsInfinity) return false;
  if (r.type !== 'intra-area' && (r.type !== 'inter-area' || r.area !== backbone || into === backbone)) return false;
  return !through(r.hops);
}

/** Networks for one area: ranges folded, everything else as it stands. */
function networkDrafts(s: SummarySource, into: Area, intoIsTransit: boolean): Draft[] {
  const byKey = new Map<number, Draft>();
  const folded = new Map<AreaRange, { fromArea: number; costs: number[]; parts: Ipv4Prefix[] }>();
  const through = throughArea(s.hopList, into.id);
  const areas = new Map<number, Area>();
  const areaOf = (id: number): Area => {
    let a = areas.get(id);
    if (!a) {
      a = s.areaOf(id);
      areas.set(id, a);
    }
    return a;
  };
  for (const r of s.table.values()) {
    if (!mayEnter(r, into.id, through)) continue;
    const from = areaOf(r.area);
    // Backbone ranges are not applied into a transit area (RFC 2328 §12.4.3).
    const folds = r.type === 'intra-area' && from.ranges.length > 0 && !(r.area === backbone && intoIsTransit);
    const range = folds ? rangeFor(from, r) : undefined;
    if (!range) {
      byKey.set(r.key, {
        bits: r.bits,
        length: r.length,
        metric: r.metric,
        reason: r.type === 'intra-area' ? 'intra-area' : 'inter-area',
        fromArea: r.area,
      });
      continue;
    }
    const f = folded.get(range) ?? { fromArea: r.area, costs: [], parts: [] };
    f.costs.push(r.metric);
    f.parts.push({ bits: r.bits, length: r.length });
    folded.set(range, f);
  }
  for (const [range, f] of folded) {
    const key = prefixKey(range.prefix.bits, range.prefix.length);
    if (range.advertise && byKey.get(key)?.reason !== 'range')
      byKey.set(key, {
        ...range.prefix,
        metric: rangeCost(range, f.costs, s.instance.rangeCost),
        reason: 'range',
        fromArea: f.fromArea,
        parts: f.parts,
      });
  }
  return [...byKey.values()].filter((d) => passes(s, d, areaOf(d.fromArea).summaryOut, into.summaryIn));
}

/** The types 3 that a border router writes into one area (RFC 2328 §12.4.3, RFC 3101 §2.7 for NSSAs). */
export function networkSummaries(s: SummarySource, into: Area, intoIsTransit: boolean): SummaryLsa[] {
  let drafts = into.type !== 'normal' && !into.summary ? [] : networkDrafts(s, into, intoIsTransit);
  // A default for those who get no externals: always into a stub area, into an NSSA only when it gets no summaries.
  if (into.type === 'stub' || (into.type === 'nssa' && !into.summary))
    drafts = [...drafts.filter((d) => d.length !== 0), { bits: 0, length: 0, metric: into.defaultCost, reason: 'stub-default', fromArea: backbone }];
  const ids = linkStateIds(drafts);
  return drafts.map((d, i): SummaryLsa => {
    const lsa = {
      type: 3 as const,
      adv: s.routerId,
      id: ids[i] ?? d.bits,
      speaker: s.speaker,
      bits: d.bits,
      length: d.length,
      metric: d.metric,
      reason: d.reason,
      fromArea: d.fromArea,
    };
    return d.parts ? { ...lsa, parts: d.parts } : lsa;
  });
}

/** The types 4 that a border router writes into one area; none where type 5 does not come (RFC 2328 §12.4.3). */
export function boundarySummaries(s: Omit<SummarySource, 'table'>, into: Area, boundary: readonly RouterPath[]): SummaryLsa[] {
  if (into.type !== 'normal') return [];
  const through = throughArea(s.hopList, into.id);
  return boundary.flatMap((p): SummaryLsa[] =>
    s.areaOf(p.area).type === 'normal' && mayEnter({ type: p.type, area: p.area, hops: p.hops, metric: p.cost }, into.id, through)
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
