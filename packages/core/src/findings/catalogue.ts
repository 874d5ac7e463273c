import { countChanges } from '../compare/count-changes';
import { applyEdits, type Edit } from '../design/edit';
import type { SourceDocument } from '../documents/documents';
import { designFrom } from '../formats/read-set';
import type { Prediction } from '../predict';
import { activationAddresses, activationBroad, activationIdle, maskReadAs, processDoesNotRun } from './checks/activation';
import { duplicateAddress, leftoverArea, virtualLinkDown } from './checks/attachment';
import { alikeDiffers } from './checks/alike';
import { areaNamesDiffer, areaScattered, areaSplit, stubSummariesDiffer, summaryWithoutEffect } from './checks/area-shape';
import { authenticationKey } from './checks/authentication-key';
import { flatCosts, unequalCosts } from './checks/costs';
import {
  areaDetached,
  duplicateRouterId,
  referenceBandwidth,
  rfc1583Differs,
  routerIdDerived,
  routerIdNotLoopback,
  routerIdUnusual,
  stubRouterOn,
  unsettled,
} from './checks/domain';
import {
  defaultMissing,
  importedTwice,
  otherRouteUnresolved,
  redistributionDirect,
  redistributionInStub,
  redistributionWithoutPolicy,
} from './checks/externals';
import {
  addressFamilyNotPredicted,
  areasDiffer,
  equalLinkLocal,
  forgottenInOneFamily,
  globalAddressMissing,
  reachedInOneFamily,
} from './checks/families';
import { expectationBroken, externalInStub, returnMissing, slowerThanExpected, wrongSource } from './checks/expectations';
import { filterRemoves, ownTableBlackHole, rangeBlackHole } from './checks/filters';
import { interfaceNotInOspf, routerWithoutOspf } from './checks/interface-not-in-ospf';
import { loopbackNotAdvertised } from './checks/loopback';
import { mtu } from './checks/mtu';
import { neighborsApart } from './checks/neighbors-apart';
import { networkType } from './checks/network-type';
import { spokeCanLead } from './checks/non-broadcast';
import { poolFull } from './checks/pools';
import { rangeCostDiffers, rangeEmpty, rangeForeign, rangeNotAtBorder, rangesDiffer } from './checks/ranges';
import { lanOfTwo, nobodyLeads, staticNeighborMissing } from './checks/segments';
import { externalRangeEmpty, externalRangeForeign, summaryDetour, translatorsDiffer } from './checks/summary-dangers';
import { backboneRange, policyUnknown, rangePartial } from './checks/summary-reach';
import { virtualInterfaceDown } from './checks/virtual-interface';
import type { ExpectationResult } from '../reach/expectations';
import { acceptanceOf, evidenceDigest } from './acceptance';
import { causesOf } from './causes';
import {
  bfdOneSide,
  bothPassive,
  deadWithinHello,
  interfaceIdle,
  keyInTheClear,
  nearMissSubnet,
  overlappingSubnets,
  subnetLengthsDiffer,
} from './checks/wires';
import { CheckContext, type Check } from './context';
import { findingId, severities, type Consequence, type Draft, type Finding } from './finding';

/** Every check, in the order in which people work. */
export const catalogue: readonly Check[] = [
  neighborsApart,
  mtu,
  networkType,
  interfaceNotInOspf,
  routerWithoutOspf,
  nearMissSubnet,
  overlappingSubnets,
  subnetLengthsDiffer,
  bothPassive,
  deadWithinHello,
  bfdOneSide,
  interfaceIdle,
  keyInTheClear,
  processDoesNotRun,
  activationIdle,
  activationBroad,
  activationAddresses,
  maskReadAs,
  staticNeighborMissing,
  nobodyLeads,
  lanOfTwo,
  authenticationKey,
  duplicateRouterId,
  spokeCanLead,
  routerIdDerived,
  areaSplit,
  areaDetached,
  leftoverArea,
  duplicateAddress,
  virtualLinkDown,
  loopbackNotAdvertised,
  virtualInterfaceDown,
  routerIdNotLoopback,
  routerIdUnusual,
  referenceBandwidth,
  flatCosts,
  unequalCosts,
  rangeNotAtBorder,
  rangeEmpty,
  rangeForeign,
  rangesDiffer,
  rangePartial,
  backboneRange,
  rangeBlackHole,
  rangeCostDiffers,
  summaryDetour,
  externalRangeEmpty,
  externalRangeForeign,
  translatorsDiffer,
  areaScattered,
  poolFull,
  areaNamesDiffer,
  stubSummariesDiffer,
  summaryWithoutEffect,
  filterRemoves,
  ownTableBlackHole,
  policyUnknown,
  redistributionInStub,
  defaultMissing,
  redistributionWithoutPolicy,
  redistributionDirect,
  importedTwice,
  otherRouteUnresolved,
  stubRouterOn,
  rfc1583Differs,
  forgottenInOneFamily,
  areasDiffer,
  reachedInOneFamily,
  equalLinkLocal,
  globalAddressMissing,
  addressFamilyNotPredicted,
  alikeDiffers,
  expectationBroken,
  returnMissing,
  wrongSource,
  externalInStub,
  slowerThanExpected,
  unsettled,
];

const nothing: Consequence = { 'routes-lost': 0, 'routes-changed': 0, routers: [] };

/** The network as it would be with some edits made, under the same failures. */
export function mendedBy(now: Prediction, documents: readonly SourceDocument[], edits: readonly Edit[]): Prediction {
  const { design } = designFrom(applyEdits(documents, edits), { named: now.design.now });
  let base = now;
  while (base.before) base = base.before;
  return now.failures.reduce((p, f) => p.fail(f), base.edited(design));
}

/** What mending would bring back: routes missing now, routes that go another way now, and in which routers. */
export function consequenceOf(now: Prediction, documents: readonly SourceDocument[], edits: readonly Edit[]): Consequence {
  // Counted from now to the mended state, which is computed from now: what mending brings is what is lost today.
  const { gained, changed, routers } = countChanges(now, mendedBy(now, documents, edits));
  return { 'routes-lost': gained, 'routes-changed': changed, routers };
}

/** The two interfaces that a finding stands between; `undefined` for one that is about something else. */
export function pairOf({ where }: Pick<Finding, 'where'>): string | undefined {
  const ends = where.flatMap((w) => (w.interface === undefined ? [] : [`${w.router}/${w.interface}`]));
  return ends.length === 2 && where.length === 2 ? ends.sort().join(' ') : undefined;
}

/**
 * Edits whose outcome says what a finding costs: those of its first repair, and where more is wrong between the same two
 * interfaces in the same family those of all of it, for while one thing is left the pair stays as it is. `undefined` where nothing is mended by an
 * edit, and for a note, which costs nothing by itself.
 *
 * @param all  every finding of the network
 */
export function mendingAll(f: Draft, all: readonly Draft[]): readonly Edit[] | undefined {
  const own = f.severity === 'note' ? undefined : f.repairs[0]?.edits;
  const pair = own && pairOf(f);
  // What moves an interface to another area moves the lines that others would change.
  if (!own || pair === undefined || f.rule === 'area') return own;
  const out = [...own];
  for (const other of all)
    if (other !== f && other.rule !== 'area' && other.severity !== 'note' && other.family === f.family && pairOf(other) === pair)
      for (const e of other.repairs[0]?.edits ?? []) if (!out.some((x) => x.file === e.file && x.at.join('/') === e.at.join('/'))) out.push(e);
  return out;
}

export interface CheckOptions {
  /** Predict again for each finding with its first repair applied, to say what it costs now. Default true. */
  readonly withConsequences?: boolean;
  /** Check expectations in every failure that they must outlive, not only in the network as it is. Default true. */
  readonly underFailures?: boolean;
  /** What became of the expectations, where that was judged before. */
  readonly judged?: readonly ExpectationResult[];
  /** What the other family makes of the design: some checks hold the two against each other. */
  readonly other?: Prediction;
}

/** What a check of a design gives: its findings, errors first and accepted ones last, and what became of its expectations. */
export interface CheckResult {
  readonly findings: Finding[];
  readonly expectations: readonly ExpectationResult[];
}

/** Runs every check of the catalogue on a settled network, as one family makes it. */
export function checkDesign(prediction: Prediction, documents: readonly SourceDocument[], options: CheckOptions = {}): CheckResult {
  const { withConsequences = true, underFailures = true } = options;
  const c = new CheckContext(prediction, documents, underFailures, options.judged, options.other);
  const seen = new Set<string>();
  const out: Finding[] = [];
  const { family } = prediction;
  const mark = family === 6 ? { family } : {};
  const drafts = catalogue
    .filter((check) => check.families?.includes(family) ?? true)
    .flatMap((check) => check.run(c))
    .map((d): Draft => ({ ...d, ...mark }));
  for (const d of drafts) {
    const id = findingId(d);
    if (seen.has(id)) continue;
    seen.add(id);
    const edits = withConsequences ? mendingAll(d, drafts) : undefined;
    const digest = evidenceDigest(d);
    const consequence = edits ? consequenceOf(prediction, documents, edits) : nothing;
    out.push({ ...d, id, 'caused-by': null, consequence, digest, ...acceptanceOf(prediction.design.settings.accepted, id, digest) });
  }
  const causes = causesOf(out);
  const told = out.map((f) => ({ ...f, 'caused-by': causes.get(f.id) ?? null }));
  return { findings: told.sort((a, b) => rank(a) - rank(b)), expectations: c.expectations() };
}

const rank = (f: Finding): number => severities.indexOf(f.severity) + (f.accepted ? severities.length : 0);

/** The same for all families of a design; findings about IPv6 say so. */
export function checkFamilies(predictions: readonly Prediction[], documents: readonly SourceDocument[], options: CheckOptions = {}): CheckResult {
  const results = predictions.map((p) => {
    const other = predictions.find((x) => x !== p);
    const judged = options.judged?.filter((r) => (r.family ?? 4) === p.family);
    return checkDesign(p, documents, { ...options, ...(judged && { judged }), ...(other && { other }) });
  });
  const findings = results.flatMap((r) => r.findings).sort((a, b) => rank(a) - rank(b));
  return {
    findings: options.withConsequences === false ? findings : withCauses(findings, causesByMending(predictions, documents, findings)),
    expectations: results.flatMap((r) => r.expectations),
  };
}

/** Findings with what explains them; what was explained before stays so. */
export const withCauses = (findings: readonly Finding[], causes: ReadonlyMap<string, string>): Finding[] =>
  findings.map((f) => ({ ...f, 'caused-by': causes.get(f.id) ?? f['caused-by'] }));

/** Where a rule stands in the order of work: what keeps neighbours apart comes first. */
const places = new Map(catalogue.map((c, n) => [c.rule, n + 1]));
const orderOf = (f: Finding): number => places.get(f.rule) ?? 0;

/** Faults that are tried at most, where somebody waits for all of it: fewer in a large network. */
const trialsFor = (routers: number): number => Math.max(12, Math.floor(20_000 / Math.max(1, routers)));

/** With more faults than this none is looked for that needs several of them. */
const fewFaults = 16;

/**
 * Which finding explains which, found by trying: a finding that is gone once another one is mended follows from that one, where
 * the other comes earlier in the order of work or is about the same router, its mending brings nothing new, and the two are not about the same pair. What is
 * only gone when several are mended follows from one without which it stays, the nearest first. One step is one trial.
 *
 * @param findings  those of the network, of all families
 * @param trials    faults that are tried at most
 * @returns  ids of causes by the ids of what they explain; each cause stands for itself
 */
export function* causing(
  predictions: readonly Prediction[],
  documents: readonly SourceDocument[],
  findings: readonly Finding[],
  trials = Infinity,
): Generator<{ readonly done: number; readonly of: number }, Map<string, string>> {
  const quick = { withConsequences: false, underFailures: false } as const;
  const checked = (edits: readonly Edit[]): readonly Finding[] =>
    checkFamilies(
      predictions.map((p) => mendedBy(p, documents, edits)),
      applyEdits(documents, edits),
      quick,
    ).findings.filter((f) => !f.accepted);
  // What fails only under failures is not tried, so it is not explained either.
  const plain = checkFamilies(predictions, documents, quick).findings.filter((f) => !f.accepted);
  const known = new Map(findings.map((f) => [f.id, f]));
  const base = plain.filter((f) => known.has(f.id)).sort((a, b) => orderOf(a) - orderOf(b));
  const before = new Set(plain.map((f) => f.id));
  const out = new Map<string, string>();
  const faults: { readonly fault: Finding; readonly edits: readonly Edit[] }[] = [];
  const roots = base.filter((f) => f.severity !== 'note' && f.repairs.length > 0);
  let done = 0;
  // Two faults between neighbours follow from one another only where they share a router.
  const mayFollow = (f: Finding, fault: Finding): boolean => !out.has(f.id) && follows(f, fault) && (orderOf(f) > 0 || near(f, fault));
  const asks = (f: Finding): boolean => f.severity !== 'note';
  for (const fault of roots) {
    if (out.has(fault.id) || done >= trials || !base.some((f) => asks(f) && mayFollow(f, fault))) continue;
    yield { done: done++, of: roots.length };
    const all = mendingAll(fault, base);
    for (const edits of [...(all ? [all] : []), ...fault.repairs.slice(1, 3).map((r) => r.edits)]) {
      const after = checked(edits);
      const left = new Set(after.map((f) => f.id));
      const gone = base.filter((f) => !left.has(f.id));
      // What is only told otherwise now is nothing new.
      const anew = (f: Finding): boolean =>
        f.severity !== 'note' && !before.has(f.id) && !gone.some((g) => g.rule === f.rule && g.id !== fault.id && near(g, f));
      if (left.has(fault.id) || after.some(anew)) continue;
      faults.push({ fault, edits });
      for (const f of gone) if (mayFollow(f, fault)) out.set(f.id, fault.id);
      break;
    }
  }
  const open = base.filter((f) => !out.has(f.id) && !faults.some((x) => x.fault === f) && f.severity !== 'note');
  const causes = faults.filter((x) => !out.has(x.fault.id));
  if (open.length > 0 && causes.length > 1 && causes.length <= fewFaults) yield* together(open, causes, checked, out);
  return new Map([...out].map(([id, cause]) => [id, rootOf(out, cause)]));
}

/** Whether two findings are about one router. */
const near = (a: Finding, b: Finding): boolean => a.where.some((x) => b.where.some((y) => x.router === y.router));

/** Whether a finding can follow from a fault: not the fault itself, nor another thing wrong between the same two ends. */
const follows = (f: Finding, fault: Finding): boolean =>
  f.id !== fault.id && (orderOf(f) >= orderOf(fault) || near(f, fault)) && (pairOf(f) === undefined || pairOf(f) !== pairOf(fault));

/** The cause of a cause; each is explained by one alone. */
function rootOf(causes: ReadonlyMap<string, string>, id: string): string {
  const seen = new Set<string>();
  let at = id;
  for (let up = causes.get(at); up !== undefined && !seen.has(up); up = causes.get(at)) {
    seen.add(at);
    at = up;
  }
  return at;
}

/** What goes only when several faults are mended: it follows from one without which it stays. */
function* together(
  open: readonly Finding[],
  faults: readonly { readonly fault: Finding; readonly edits: readonly Edit[] }[],
  checked: (edits: readonly Edit[]) => readonly Finding[],
  out: Map<string, string>,
): Generator<{ readonly done: number; readonly of: number }, void> {
  const merged = (list: typeof faults): Edit[] => {
    const by = new Map<string, Edit>();
    for (const { edits } of list) for (const e of edits) if (!by.has(`${e.file} ${e.at.join('/')}`)) by.set(`${e.file} ${e.at.join('/')}`, e);
    return [...by.values()];
  };
  const left = new Set(checked(merged(faults)).map((f) => f.id));
  const gone = open.filter((f) => !left.has(f.id));
  const without = new Map<Finding, ReadonlySet<string>>();
  let done = 0;
  for (const { fault } of gone.length > 0 ? faults : []) {
    yield { done: done++, of: faults.length };
    without.set(fault, new Set(checked(merged(faults.filter((x) => x.fault !== fault))).map((f) => f.id)));
  }
  for (const f of gone) {
    const needed = faults.map((x) => x.fault).filter((x) => follows(f, x) && without.get(x)?.has(f.id));
    const cause = needed.find((x) => near(f, x)) ?? needed[0];
    if (cause) out.set(f.id, cause.id);
  }
}

/** The same, all at once. */
function causesByMending(
  predictions: readonly Prediction[],
  documents: readonly SourceDocument[],
  findings: readonly Finding[],
): Map<string, string> {
  const steps = causing(predictions, documents, findings, trialsFor(predictions[0]?.design.routers.length ?? 0));
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

/** The findings alone. */
export const findingsOf = (
  predictions: Prediction | readonly Prediction[],
  documents: readonly SourceDocument[],
  withConsequences = true,
): Finding[] => checkFamilies([predictions].flat(), documents, { withConsequences, underFailures: withConsequences }).findings;
