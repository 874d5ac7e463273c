import type { Stage } from '../model/address';

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
]);
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
