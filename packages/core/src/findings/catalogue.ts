import { countChanges } from '../compare/count-changes';
import { applyEdits, type Edit } from '../design/edit';
import type { SourceDocument } from '../documents/documents';
import { designFrom } from '../formats/read-set';
import type { Prediction } from '../predict';
import { activationAddresses, activationBroad, activationIdle, maskReadAs, processDoesNotRun } from './checks/activation';
import { duplicateAddress, leftoverArea, virtualLinkDown } from './checks/attachment';
import { alikeDiffers } from './checks/alike';
import { areaScattered, areaSplit, stubSummariesDiffer, summaryWithoutEffect } from './checks/area-shape';
import { authenticationKey } from './checks/authentication-key';
import { flatCosts, unequalCosts } from './checks/costs';
import {
  areaDetached,
  duplicateRouterId,
  referenceBandwidth,
  rfc1583Differs,
  routerIdDerived,
  routerIdNotLoopback,
  stubRouterOn,
  unsettled,
  versionThreeNotPredicted,
} from './checks/domain';
import { defaultMissing, importedTwice, redistributionDirect, redistributionInStub, redistributionWithoutPolicy } from './checks/externals';
import { expectationBroken, externalInStub, returnMissing, slowerThanExpected, wrongSource } from './checks/expectations';
import { filterRemoves, ownTableBlackHole, rangeBlackHole } from './checks/filters';
import { interfaceNotInOspf } from './checks/interface-not-in-ospf';
import { loopbackNotAdvertised } from './checks/loopback';
import { mtu } from './checks/mtu';
import { neighborsApart } from './checks/neighbors-apart';
import { networkType } from './checks/network-type';
import { spokeCanLead } from './checks/non-broadcast';
import { poolFull } from './checks/pools';
import { rangeCostDiffers, rangeEmpty, rangeForeign, rangeNotAtBorder, rangesDiffer } from './checks/ranges';
import { lanOfTwo, nobodyLeads, staticNeighborMissing } from './checks/segments';
import { backboneRange, policyUnknown, rangePartial } from './checks/summary-reach';
import { virtualInterfaceDown } from './checks/virtual-interface';
import type { ExpectationResult } from '../reach/expectations';
import { acceptanceOf, evidenceDigest } from './acceptance';
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
import { findingId, severities, type Consequence, type Finding } from './finding';

/** Every check, in the order in which people work. */
export const catalogue: readonly Check[] = [
  neighborsApart,
  mtu,
  networkType,
  interfaceNotInOspf,
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
  areaScattered,
  poolFull,
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
  stubRouterOn,
  rfc1583Differs,
  versionThreeNotPredicted,
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
}

/** What a check of a design gives: its findings, errors first and accepted ones last, and what became of its expectations. */
export interface CheckResult {
  readonly findings: Finding[];
  readonly expectations: readonly ExpectationResult[];
}

/** Runs every check of the catalogue on a settled network. */
export function checkDesign(prediction: Prediction, documents: readonly SourceDocument[], options: CheckOptions = {}): CheckResult {
  const { withConsequences = true, underFailures = true } = options;
  const c = new CheckContext(prediction, documents, underFailures);
  const seen = new Set<string>();
  const out: Finding[] = [];
  for (const check of catalogue)
    for (const d of check.run(c)) {
      const id = findingId(d);
      if (seen.has(id)) continue;
      seen.add(id);
      // A note costs nothing by itself; predicting without it would only take time.
      const edits = d.severity === 'note' ? undefined : d.repairs[0]?.edits;
      const digest = evidenceDigest(d);
      const consequence = withConsequences && edits ? consequenceOf(prediction, documents, edits) : nothing;
      out.push({ ...d, id, consequence, digest, ...acceptanceOf(prediction.design.settings.accepted, id, digest) });
    }
  const rank = (f: Finding): number => severities.indexOf(f.severity) + (f.accepted ? severities.length : 0);
  return { findings: out.sort((a, b) => rank(a) - rank(b)), expectations: c.expectations() };
}

/** The findings alone. */
export const findingsOf = (prediction: Prediction, documents: readonly SourceDocument[], withConsequences = true): Finding[] =>
  checkDesign(prediction, documents, { withConsequences, underFailures: withConsequences }).findings;
