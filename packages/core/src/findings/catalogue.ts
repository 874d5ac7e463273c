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
import { causesOf, explaining, withCauses } from './causes';
import { mendingAll } from './mending';
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

/** Where a rule stands in the order of work: what keeps neighbours apart comes first. */
const places = new Map(catalogue.map((c, n) => [c.rule, n + 1]));
const orderOf = (f: Finding): number => places.get(f.rule) ?? 0;

/** Faults that are tried at most, where somebody waits for all of it: fewer in a large network. */
const trialsFor = (routers: number): number => Math.max(12, Math.floor(20_000 / Math.max(1, routers)));

/**
 * Which finding explains which, found by trying (`explaining`); one step is one trial.
 *
 * @param trials  faults that are tried at most
 */
export function* causing(
  predictions: readonly Prediction[],
  documents: readonly SourceDocument[],
  findings: readonly Finding[],
  trials = Infinity,
): ReturnType<typeof explaining> {
  const look = (on: readonly Prediction[], of: readonly SourceDocument[]): readonly Finding[] =>
    checkFamilies(on, of, { withConsequences: false, underFailures: false }).findings.filter((f) => !f.accepted);
  const mended = (edits: readonly Edit[]): readonly Finding[] =>
    look(
      predictions.map((p) => mendedBy(p, documents, edits)),
      applyEdits(documents, edits),
    );
  return yield* explaining({ plain: look(predictions, documents), mended, orderOf }, findings, trials);
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
