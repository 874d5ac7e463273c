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
  /** Preferred path to each boundary router. */
  readonly boundary: readonly RouterPath[];
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

const throughArea = (hops: HopSet, hopList: HopList, areaId: number): boolean => hops.some((h) => hopList.hops[h]?.port.area.id === areaId);

interface Draft extends Ipv4Prefix {
  readonly metric: number;
  readonly reason: SummaryReason;
  readonly fromArea: number;
  readonly parts?: readonly Ipv4Prefix[];
}

/** True when the policies on the way out of one area and into the other let the summary pass. */
function passes(s: SummarySource, d: Draft, into: Area): boolean {
  const subject = { prefix: d, metric: d.metric, metricType: 'type-2' as const, tag: 0 };
  return applyPolicies(s.policies, s.areaOf(d.fromArea).summaryOut, subject).accepted && applyPolicies(s.policies, into.summaryIn, subject).accepted;
}

/** A route that may be told to an area at all (RFC 2328 §12.4.3 before ranges). */
function mayEnter(s: SummarySource, r: Pick<Route, 'type' | 'area' | 'hops'> & { metric: number }, into: number): boolean {
  if (r.area === into || r.metric >= lsInfinity) return false;
  if (r.type !== 'intra-area' && (r.type !== 'inter-area' || r.area !== backbone || into === backbone)) return false;
  return !throughArea(r.hops, s.hopList, into);
}

/** Networks for one area: ranges folded, everything else as it stands. */
function networkDrafts(s: SummarySource, into: Area, intoIsTransit: boolean): Draft[] {
  const out: Draft[] = [];
  const folded = new Map<AreaRange, { fromArea: number; costs: number[]; parts: Ipv4Prefix[] }>();
  for (const r of s.table.values()) {
    if (!mayEnter(s, r, into.id)) continue;
    // Backbone ranges are not applied into a transit area (RFC 2328 §12.4.3).
    const range = r.type === 'intra-area' && !(r.area === backbone && intoIsTransit) ? rangeFor(s.areaOf(r.area), r) : undefined;
    if (!range) {
      out.push({ bits: r.bits, length: r.length, metric: r.metric, reason: r.type === 'intra-area' ? 'intra-area' : 'inter-area', fromArea: r.area });
      continue;
    }
    const f = folded.get(range) ?? { fromArea: r.area, costs: [], parts: [] };
    f.costs.push(r.metric);
    f.parts.push({ bits: r.bits, length: r.length });
    folded.set(range, f);
  }
  for (const [range, f] of folded)
    if (range.advertise)
      out.push({ ...range.prefix, metric: rangeCost(range, f.costs, s.instance.rangeCost), reason: 'range', fromArea: f.fromArea, parts: f.parts });
  const byKey = new Map<number, Draft>();
  for (const d of out) {
    const key = prefixKey(d.bits, d.length);
    const old = byKey.get(key);
    if (!old || (d.reason === 'range' && old.reason !== 'range')) byKey.set(key, d);
  }
  return [...byKey.values()].filter((d) => passes(s, d, into));
}

/**
 * The types 3 and 4 that a border router writes into one area (RFC 2328 §12.4.3, RFC 3101 §2.7 for NSSAs).
 */
export function summaryLsas(s: SummarySource, into: Area, intoIsTransit: boolean): SummaryLsa[] {
  const lsa = (type: 3 | 4, d: Draft, id: Ipv4): SummaryLsa => ({ type, adv: s.routerId, id, speaker: s.speaker, ...d });
  const leaf = into.type !== 'normal';
  const drafts = leaf && !into.summary ? [] : networkDrafts(s, into, intoIsTransit);
  // A default for those who get no externals: always into a stub area, into an NSSA only when it gets no summaries.
  if (into.type === 'stub' || (into.type === 'nssa' && !into.summary)) {
    const others = drafts.filter((d) => d.length !== 0);
    drafts.length = 0;
    drafts.push(...others, { bits: 0, length: 0, metric: into.defaultCost, reason: 'stub-default', fromArea: backbone });
  }
  const ids = linkStateIds(drafts);
  const out = drafts.map((d, i) => lsa(3, d, ids[i] ?? d.bits));
  if (leaf) return out; // type 4 has no use where type 5 does not come
  for (const p of s.boundary) {
    if (s.areaOf(p.area).type !== 'normal') continue;
    if (mayEnter(s, { type: p.type, area: p.area, hops: p.hops, metric: p.cost }, into.id))
      out.push(lsa(4, { bits: p.router, length: 0, metric: p.cost, reason: 'boundary-router', fromArea: p.area }, p.router));
  }
  return out;
}
