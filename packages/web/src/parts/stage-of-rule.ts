import type { Meeting, Stage } from '../model/address';

/** Rules that are told at one of the later stages; all others at Layout. */
const neighbourRules = new Set([
  'area',
  'area-type',
  'hello-interval',
  'dead-interval',
  'mask',
  'authentication',
  'passive',
  'disabled',
  'mtu',
  'network-type',
  'no-static-neighbor',
  'interface-not-in-ospf',
  'both-passive',
  'dead-within-hello',
  'bfd-one-side',
  'key-in-the-clear',
  'near-miss-subnet',
  'subnet-lengths-differ',
  'key-missing',
  'key-not-switched-on',
  'duplicate-router-id',
  'spoke-can-lead',
  'static-neighbor-missing',
  'nobody-leads',
  'lan-of-two',
  'virtual-link-down',
  // Turning OSPF on, being alike, costs.
  'router-without-ospf',
  'interface-idle',
  'process-does-not-run',
  'activation-idle',
  'activation-broad',
  'activation-addresses',
  'mask-read-as',
  'forgotten-in-one-family',
  'alike-differs',
  'unequal-costs',
  'flat-costs',
  'reference-bandwidth',
]);

/** Views of the neighbours stage at which rules are told that no pair carries. */
const meetOf: Readonly<Record<string, Meeting>> = {
  'interface-not-in-ospf': 'part',
  'router-without-ospf': 'part',
  'interface-idle': 'part',
  'process-does-not-run': 'part',
  'activation-idle': 'part',
  'activation-broad': 'part',
  'activation-addresses': 'part',
  'mask-read-as': 'part',
  'both-passive': 'part',
  'forgotten-in-one-family': 'part',
  'key-missing': 'keys',
  'key-not-switched-on': 'keys',
  'key-in-the-clear': 'keys',
  'spoke-can-lead': 'leading',
  'static-neighbor-missing': 'leading',
  'nobody-leads': 'leading',
  'lan-of-two': 'leading',
  'alike-differs': 'alike',
  'unequal-costs': 'costs',
  'flat-costs': 'costs',
  'reference-bandwidth': 'costs',
};

/** The view of the neighbours stage where a finding is worked on that no pair carries; `undefined`: on the map. */
export const meetingOfRule = (rule: string): Meeting | undefined => meetOf[rule];
const areaRules = new Set([
  'area-split',
  'area-detached',
  'leftover-area',
  'areas-differ',
  'area-names-differ',
  'stub-summaries-differ',
  'summary-without-effect',
  'redistribution-in-stub',
  'external-in-stub',
  'redistribution-without-policy',
  'redistribution-direct',
  'imported-twice',
  'default-missing',
  'filter-removes',
  'policy-unknown',
]);
const summaryRules = new Set([
  'range-not-at-border',
  'range-empty',
  'range-foreign',
  'ranges-differ',
  'range-partial',
  'backbone-range',
  'range-black-hole',
  'range-cost-differs',
  'summary-detour',
  'external-range-empty',
  'external-range-foreign',
  'translators-differ',
  'area-scattered',
]);
const routeRules = new Set([
  'loopback-not-advertised',
  'rfc1583-differs',
  'unsettled',
  'own-table-black-hole',
  'expectation-broken',
  'return-path-missing',
  'wrong-source',
  'slower-than-expected',
]);

/** The stage at which a finding of a rule is worked on. */
export function stageOfRule(rule: string): Stage {
  if (neighbourRules.has(rule)) return 'neighbours';
  if (areaRules.has(rule)) return 'areas';
  if (summaryRules.has(rule)) return 'summaries';
  return routeRules.has(rule) ? 'routes' : 'layout';
}
