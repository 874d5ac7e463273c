import type { Speaker } from '../adjacency/speakers';
import type { Area, Redistribution } from '../design/design';
import { applyPolicies, type PolicyDefinition, type PolicySubject } from '../design/policy';
import { statementWords } from '../evidence/policy-words';
import { networkSummaries, type SummaryWriter } from '../lsdb/summary-lsa';
import { comparePrefixes, formatPrefix } from '../prefix/address';
import type { Prediction } from '../predict';
import { prefixesInOspf } from '../routes/local-routes';
import { areaWords } from './flooding';
import { areaText } from './glance';

/** Where policies decide in a router. */
export interface PolicyUse {
  readonly way: 'in' | 'out' | 'table' | 'bring' | 'handed' | 'unused';
  readonly policies: readonly string[];
  /** What they decide over, in words. */
  readonly over: string;
  /** The area whose borders it stands at, where it does. */
  readonly area: number | undefined;
  /** What decides it away: the line of quick entry that takes the filter off; empty where there is none. */
  readonly off: string;
}

/** A prefix on its way through. */
export interface FlowPrefix {
  readonly prefix: string;
  /** What it is given on the way: another metric, type or tag; empty: nothing. */
  readonly gives: string;
}

/** A statement and what it decides over. */
export interface FlowStep {
  readonly policy: string;
  readonly statement: string;
  /** What it takes or refuses, in words. */
  readonly words: string;
  readonly result: 'accept' | 'reject' | 'on';
  readonly prefixes: readonly FlowPrefix[];
}

/** All that comes to one place where policies decide, statement by statement. */
export interface PolicyFlow extends PolicyUse {
  readonly steps: readonly FlowStep[];
  /** What no statement takes: refused. */
  readonly rest: readonly FlowPrefix[];
  readonly passed: number;
}

/** The summaries that a border router would write into an area if no policy stood in the way. */
function unfiltered(p: Prediction, s: Speaker, into: number, from?: number): PolicySubject[] {
  const { routing } = p;
  const hops = routing.hopList(s);
  const open = (id: number): Area => ({ ...routing.areaOf(s, id), summaryIn: [], summaryOut: [] });
  const writer: SummaryWriter = {
    speaker: s.index,
    routerId: s.routerId,
    six: p.family === 6,
    policies: s.router.policies,
    rangeCost: s.instance.rangeCost,
    areaOf: open,
    isTransit: (id) => routing.domain.isTransit(s, id),
    leadsInto: (list, id) => list.some((h) => hops.hops[h]?.port.area.id === id),
  };
  return networkSummaries(writer, open(into), routing.table(s).values())
    .filter((l) => l.reason !== 'stub-default' && (from === undefined || l.fromArea === from))
    .map((l) => ({ prefix: l, metric: l.metric, metricType: 'type-2' as const, tag: 0 }));
}

/** Each prefix once, whatever area it is told to. */
function once(list: readonly PolicySubject[]): PolicySubject[] {
  const out = new Map<string, PolicySubject>();
  for (const x of list) out.set(formatPrefix(x.prefix), x);
  return [...out.values()];
}

function tableOf(p: Prediction, s: Speaker): PolicySubject[] {
  return [...p.routing.table(s).values()].map((r) => ({
    prefix: r,
    metric: r.metric,
    metricType: r.type.endsWith('1') ? ('type-1' as const) : ('type-2' as const),
    tag: r.tag,
  }));
}

/** What of a source stands in the router's own table and is not in OSPF by itself, as redistribution looks at it. */
function broughtIn(p: Prediction, s: Speaker, r: Redistribution): PolicySubject[] {
  const selected = new Set(p.rib(s.routerIndex).flatMap((x) => (x.source === r.source ? [x.key] : [])));
  const inOspf = prefixesInOspf(s);
  return p
    .localRoutes(s.routerIndex)
    .filter((l) => l.source === r.source && selected.has(l.key) && !(l.source === 'direct' && inOspf.has(l.key)))
    .map((l) => ({ prefix: l, metric: r.metric, metricType: r.metricType, tag: p.routing.handing(s, l).tag || r.tag }));
}

/** Every place where policies decide in a router, and what comes there (RFC 2328 §12.4.3, RFC 9067). */
function usesAt(p: Prediction, s: Speaker): { readonly use: PolicyUse; readonly subjects: readonly PolicySubject[] }[] {
  const v3 = p.family === 6 ? 'v3 ' : '';
  const name = s.router.name;
  const areas = p.routing.areasOf(s);
  const out: { readonly use: PolicyUse; readonly subjects: readonly PolicySubject[] }[] = [];
  for (const id of areas) {
    const a = p.routing.areaOf(s, id);
    const border = p.routing.isBorderRouter(s);
    if (a.summaryIn.length > 0)
      out.push({
        use: {
          way: 'in',
          policies: a.summaryIn,
          over: `summaries into ${areaWords(id)}`,
          area: id,
          off: `${v3}filter in area ${areaText(id)} on ${name} by off`,
        },
        subjects: border ? unfiltered(p, s, id) : [],
      });
    if (a.summaryOut.length > 0)
      out.push({
        use: {
          way: 'out',
          policies: a.summaryOut,
          over: `summaries out of ${areaWords(id)}`,
          area: id,
          off: `${v3}filter out area ${areaText(id)} on ${name} by off`,
        },
        subjects: border ? once(areas.filter((x) => x !== id).flatMap((x) => unfiltered(p, s, x, id))) : [],
      });
  }
  if (s.instance.ribPolicy.length > 0)
    out.push({
      use: { way: 'table', policies: s.instance.ribPolicy, over: 'its own table', area: undefined, off: `${v3}filter table on ${name} by off` },
      subjects: tableOf(p, s),
    });
  for (const r of s.instance.redistribution)
    if (r.policies.length > 0)
      out.push({
        use: { way: 'bring', policies: r.policies, over: `${r.source} routes that it brings in`, area: undefined, off: '' },
        subjects: broughtIn(p, s, r),
      });
  const handed = p.routing.localRoutes(s).filter((l) => (l.handedBy?.policies.length ?? 0) > 0);
  for (const policies of new Map(handed.map((l) => [l.handedBy?.policies.join(), l.handedBy?.policies ?? []])).values())
    out.push({
      use: { way: 'handed', policies, over: 'routes that other routers hand over', area: undefined, off: '' },
      subjects: handed.filter((l) => l.handedBy?.policies.join() === policies.join()).flatMap((l) => p.routing.handing(s, l).line ?? []),
    });
  const used = new Set(out.flatMap((x) => x.use.policies));
  for (const d of s.router.policies.definitions.values())
    if (!used.has(d.name) && ![...s.router.policies.definitions.values()].some((x) => x.statements.some((st) => st.callPolicy === d.name)))
      out.push({
        use: { way: 'unused', policies: [d.name], over: 'nothing yet; here is what it would do over its own table', area: undefined, off: '' },
        subjects: tableOf(p, s),
      });
  return out;
}

const givesWords = (before: PolicySubject, after: PolicySubject): string =>
  [
    after.metric === before.metric ? '' : `metric ${before.metric} → ${after.metric}`,
    after.metricType === before.metricType ? '' : after.metricType,
    after.tag === before.tag ? '' : `tag ${after.tag}`,
  ]
    .filter(Boolean)
    .join(', ');

function through(s: Speaker, use: PolicyUse, subjects: readonly PolicySubject[]): PolicyFlow {
  const book = s.router.policies;
  const definitions = use.policies.flatMap((n) => book.definitions.get(n) ?? []);
  // What called policies decide stands under their own names.
  const called = (d: PolicyDefinition): PolicyDefinition[] =>
    d.statements.flatMap((st) => (st.callPolicy === undefined ? [] : (book.definitions.get(st.callPolicy) ?? [])));
  const steps = [...definitions, ...definitions.flatMap(called)].flatMap((d) =>
    d.statements.map((st) => ({
      policy: d.name,
      statement: st.name,
      words: statementWords(st),
      result: st.actions.result ?? ('on' as const),
      prefixes: [] as FlowPrefix[],
    })),
  );
  const rest: FlowPrefix[] = [];
  let passed = 0;
  const inOrder = [...subjects].sort((a, b) => comparePrefixes(a.prefix, b.prefix));
  for (const subject of inOrder) {
    const verdict = applyPolicies(book, use.policies, subject);
    if (verdict.accepted) passed++;
    const line = { prefix: formatPrefix(subject.prefix), gives: verdict.accepted ? givesWords(subject, verdict.subject) : '' };
    const step = steps.find((x) => `${x.policy}/${x.statement}` === verdict.by);
    (step?.prefixes ?? rest).push(line);
  }
  return { ...use, steps, rest, passed };
}

/** What of the present prefixes each statement of a router's policies takes, refuses, or lets fall through (RFC 9067 §4.3). */
export const policyFlows = (p: Prediction, s: Speaker): PolicyFlow[] => usesAt(p, s).map(({ use, subjects }) => through(s, use, subjects));
