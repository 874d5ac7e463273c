import { prefixId } from '../prefix/prefix-book';
import { backbone, type Area, type AreaRange, type OspfInstance } from '../design/design';
import { applyPolicies, type PolicyBook } from '../design/policy';
import { covers, everything, type Prefix } from '../prefix/address';
import type { Ipv4 } from '../prefix/ipv4';
import { linkStateIds, lsInfinity, type SummaryLsa } from './lsa';

/** The longest range of an area that takes the prefix. */
export function rangeFor(area: Area, p: Prefix): AreaRange | undefined {
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
export interface SummarySubject extends Prefix {
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

/** Whether an area is told of by a default that stands in for what does not come in: always a stub area, an NSSA when it gets no summaries (RFC 3101 §2.7). */
export const getsDefault = (into: Area): boolean => into.type === 'stub' || (into.type === 'nssa' && !into.summary);

/** A border router as it writes summaries. */
export interface SummaryWriter {
  /** Index of its process. */
  readonly speaker: number;
  readonly routerId: Ipv4;
  /** Of version 3. */
  readonly six: boolean;
  readonly policies: PolicyBook;
  readonly rangeCost: OspfInstance['rangeCost'];
  /** Settings of an area in this router. */
  areaOf(areaId: number): Area;
  /** Whether virtual links lead through an area. */
  isTransit(areaId: number): boolean;
  /** Whether one of a route's next hops leads into an area. */
  leadsInto(hops: readonly number[], areaId: number): boolean;
}

/** A line of a border router's own routing table. */
export interface TableLine extends Prefix {
  readonly type: string;
  readonly area: number;
  readonly metric: number;
  readonly hops: readonly number[];
}

/** A summary before it has its link state id. */
type Draft = Pick<SummaryLsa, 'bits' | 'length' | 'metric' | 'reason' | 'fromArea' | 'parts'>;

/**
 * The types 3 that a border router writes into one area (RFC 2328 §12.4.3, policies on the way, RFC 3101 §2.7 for NSSAs):
 * what its table has of other areas, ranges in the place of their parts, and a default for those who get no externals.
 *
 * @param table  its routes inside the system; of areas only what they have inside, and into others than the backbone also what the backbone brings
 */
export function networkSummaries(w: SummaryWriter, into: Area, table: Iterable<TableLine>): SummaryLsa[] {
  const told = into.type === 'normal' || into.summary ? withRanges(w, into, tellable(w, into, table)) : new Map<number, Draft>();
  const passing = [...told.values()].filter((d) => summaryPasses(w.policies, d, w.areaOf(d.fromArea).summaryOut, into.summaryIn));
  const drafts = getsDefault(into)
    ? [
        ...passing.filter((d) => d.length > 0),
        { ...everything(w.six), metric: into.defaultCost, reason: 'stub-default' as const, fromArea: backbone },
      ]
    : passing;
  const ids = linkStateIds(drafts);
  return drafts.map((d, i): SummaryLsa => ({ type: 3, adv: w.routerId, id: ids[i] ?? d.bits, speaker: w.speaker, ...d }));
}

/** Lines of the table that may be told to an area: not its own, and nothing that is reached through it. */
function* tellable(w: SummaryWriter, into: Area, table: Iterable<TableLine>): Generator<TableLine> {
  for (const r of table) {
    const inside = r.type === 'intra-area';
    if (!inside && r.type !== 'inter-area') continue;
    if (mayEnter(inside, r.area, r.metric, into.id) && !w.leadsInto(r.hops, into.id)) yield r;
  }
}

/** Folds what ranges take of the inside of their areas; backbone ranges are not applied into a transit area. */
function withRanges(w: SummaryWriter, into: Area, routes: Iterable<TableLine>): Map<number, Draft> {
  const out = new Map<number, Draft>();
  const folded = new Map<AreaRange, { readonly area: number; readonly parts: TableLine[] }>();
  for (const r of routes) {
    const inside = r.type === 'intra-area';
    const applied = inside && !(r.area === backbone && w.isTransit(into.id));
    const range = applied ? rangeFor(w.areaOf(r.area), r) : undefined;
    if (!range) {
      const reason = inside ? ('intra-area' as const) : ('inter-area' as const);
      out.set(prefixId(r.bits, r.length), { bits: r.bits, length: r.length, metric: r.metric, reason, fromArea: r.area });
      continue;
    }
    const known = folded.get(range);
    if (known) known.parts.push(r);
    else folded.set(range, { area: r.area, parts: [r] });
  }
  for (const [range, { area, parts }] of folded) {
    const key = prefixId(range.prefix.bits, range.prefix.length);
    // Of two areas with one range the first stays.
    if (!range.advertise || out.get(key)?.reason === 'range') continue;
    const metric = rangeCost(
      range,
      parts.map((p) => p.metric),
      w.rangeCost,
    );
    const sums = parts.map(({ bits, length }) => ({ bits, length }));
    out.set(key, { ...range.prefix, metric, reason: 'range', fromArea: area, parts: sums });
  }
  return out;
}

/** A way of a border router to a boundary router: the one that it uses. */
export interface BoundaryWay {
  readonly router: Ipv4;
  readonly type: 'intra-area' | 'inter-area';
  readonly area: number;
  readonly cost: number;
  readonly hops: readonly number[];
}

/** The types 4 that a border router writes into one area; none where type 5 does not come (RFC 2328 §12.4.3). */
export function boundarySummaries(
  w: Pick<SummaryWriter, 'speaker' | 'routerId' | 'six' | 'areaOf' | 'leadsInto'>,
  into: Area,
  ways: readonly BoundaryWay[],
): SummaryLsa[] {
  if (into.type !== 'normal') return [];
  return ways.flatMap((p): SummaryLsa[] =>
    w.areaOf(p.area).type === 'normal' && mayEnter(p.type === 'intra-area', p.area, p.cost, into.id) && !w.leadsInto(p.hops, into.id)
      ? [
          {
            type: 4,
            adv: w.routerId,
            id: p.router,
            speaker: w.speaker,
            bits: p.router,
            length: 0,
            metric: p.cost,
            reason: 'boundary-router',
            ...(w.six ? { three: true as const } : {}),
            fromArea: p.area,
          },
        ]
      : [],
  );
}
