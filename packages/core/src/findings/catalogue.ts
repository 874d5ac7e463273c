import { comparePredictions } from '../compare/compare';
import { applyEdits } from '../design/edit';
import { designFrom, type SourceDocument } from '../formats/read-set';
import { predict, type Prediction } from '../predict';
import { activationAddresses, activationIdle, processDoesNotRun } from './checks/activation';
import { duplicateAddress, leftoverArea, virtualLinkDown } from './checks/attachment';
import { authenticationKey } from './checks/authentication-key';
import { flatCosts, unequalCosts } from './checks/costs';
import { areaDetached, duplicateRouterId, referenceBandwidth, rfc1583Differs, routerIdNotLoopback, unsettled } from './checks/domain';
import { defaultMissing, redistributionInStub, redistributionWithoutPolicy } from './checks/externals';
import { interfaceNotInOspf } from './checks/interface-not-in-ospf';
import { loopbackNotAdvertised } from './checks/loopback';
import { mtu } from './checks/mtu';
import { neighborsApart } from './checks/neighbors-apart';
import { networkType } from './checks/network-type';
import { spokeCanLead } from './checks/non-broadcast';
import { rangeEmpty, rangeForeign, rangeNotAtBorder, rangesDiffer } from './checks/ranges';
import { lanOfTwo, nobodyLeads, staticNeighborMissing } from './checks/segments';
import { backboneRange, policyUnknown, rangePartial } from './checks/summary-reach';
import { virtualInterfaceDown } from './checks/virtual-interface';
import { CheckContext, type Check } from './context';
import { findingId, severities, type Consequence, type Finding } from './finding';

/** Every check, in the order in which people work. */
export const catalogue: readonly Check[] = [
  neighborsApart,
  mtu,
  networkType,
  interfaceNotInOspf,
  processDoesNotRun,
  activationIdle,
  activationAddresses,
  staticNeighborMissing,
  nobodyLeads,
  lanOfTwo,
  authenticationKey,
  duplicateRouterId,
  spokeCanLead,
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
  policyUnknown,
  redistributionInStub,
  defaultMissing,
  redistributionWithoutPolicy,
  rfc1583Differs,
  unsettled,
];

const nothing: Consequence = { 'routes-lost': 0, 'routes-changed': 0, routers: [] };

/** What mending would bring back: routes missing now, routes that go another way now, and in which routers. */
export function consequenceOf(
  now: Prediction,
  documents: readonly SourceDocument[],
  edits: readonly Parameters<typeof applyEdits>[1][number][],
): Consequence {
  const mended = predict(designFrom(applyEdits(documents, edits)).design, now.failures);
  const d = comparePredictions(mended, now);
  return { 'routes-lost': d.lost, 'routes-changed': d.changed, routers: d.routers.map((r) => r.router) };
}

/**
 * All findings of a settled network, errors first.
 *
 * @param withConsequences  predict again for each finding with its first repair applied, to say what it costs now
 */
export function findingsOf(prediction: Prediction, documents: readonly SourceDocument[], withConsequences = true): Finding[] {
  const c = new CheckContext(prediction, documents);
  const seen = new Set<string>();
  const out: Finding[] = [];
  for (const check of catalogue)
    for (const d of check.run(c)) {
      const id = findingId(d);
      if (seen.has(id)) continue;
      seen.add(id);
      // A note costs nothing by itself; predicting without it would only take time.
      const edits = d.severity === 'note' ? undefined : d.repairs[0]?.edits;
      out.push({ ...d, id, consequence: withConsequences && edits ? consequenceOf(prediction, documents, edits) : nothing });
    }
  return out.sort((a, b) => severities.indexOf(a.severity) - severities.indexOf(b.severity));
}
