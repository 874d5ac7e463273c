import { processOf } from '../design/family';
import type { Router } from '../design/design';
import type { PolicyStatement } from '../design/policy';
import { formatAddress, formatPrefix } from '../prefix/address';
import { formatIpv6 } from '../prefix/ipv6';

/** Policies of a router in words. */
export interface RouterPolicies {
  /** Each statement in words, and what the policy decides over. */
  readonly policies: readonly {
    readonly name: string;
    readonly statements: readonly { readonly name: string; readonly words: string }[];
    readonly over: readonly string[];
  }[];
  /** Each prefix with the lengths that it takes; empty where only the prefix itself is meant. */
  readonly prefixSets: readonly { readonly name: string; readonly lines: readonly { readonly prefix: string; readonly lengths: string }[] }[];
  /** Where a policy decides over summaries or over its own table. */
  readonly filters: readonly { readonly way: 'in' | 'out' | 'table'; readonly area: string | null; readonly policies: readonly string[] }[];
}

/** What a statement takes and gives (RFC 9067 §4.3). */
export function statementWords(s: PolicyStatement): string {
  const what = s.matchSet ? `what ${s.matchSet.name} ${s.matchSet.invert ? 'does not hold' : 'holds'}` : 'everything';
  const tagged = s.matchTags ? ` with tag ${s.matchTags.join(' or ')}` : '';
  const called = s.callPolicy === undefined ? '' : ` that ${s.callPolicy} takes`;
  const { result, metric, metricType, tag } = s.actions;
  const gives = [
    metric === undefined ? '' : `metric ${{ set: '', add: '+', subtract: '−' }[metric.change]}${metric.by}`,
    metricType ?? '',
    tag === undefined ? '' : `tag ${tag}`,
  ].filter(Boolean);
  const verb = result === 'accept' ? 'takes' : result === 'reject' ? 'refuses' : 'goes on with';
  return `${verb} ${what}${tagged}${called}${gives.length > 0 ? `, gives ${gives.join(', ')}` : ''}`;
}

const areaName = (id: number): string => (id === 0 ? 'the backbone' : `area ${id < 256 ? id : formatAddress(id)}`);

/** What a policy decides over in a router. */
export function usesOfPolicy(r: Router, name: string): string[] {
  const calls = [...r.policies.definitions.values()]
    .filter((d) => d.statements.some((s) => s.callPolicy === name))
    .map((d) => `the policy ${d.name}`);
  return [
    ...calls,
    ...r.instances.flatMap((o) => [
      ...o.redistribution.filter((x) => x.policies.includes(name)).map((x) => `${x.source} routes that it brings in`),
      ...(o.otherRoutes.some((x) => x.policies.includes(name)) ? ['routes that other routers hand over'] : []),
      ...(o.ribPolicy.includes(name) ? ['its own table'] : []),
      ...o.areas.flatMap((a) => [
        ...(a.summaryIn.includes(name) ? [`summaries into ${areaName(a.id)}`] : []),
        ...(a.summaryOut.includes(name) ? [`summaries out of ${areaName(a.id)}`] : []),
      ]),
    ]),
  ];
}

/** Policies, prefix sets and filters of a router. */
export function policiesOf(r: Router): RouterPolicies {
  const instance = processOf(r);
  return {
    policies: [...r.policies.definitions.values()].map((d) => ({
      name: d.name,
      statements: d.statements.map((s) => ({ name: s.name, words: statementWords(s) })),
      over: usesOfPolicy(r, d.name),
    })),
    prefixSets: [...r.policies.sets.values()].map((s) => ({
      name: s.name,
      lines: [
        ...s.lines.map((l) => ({ ...l, text: formatPrefix(l.prefix), own: l.prefix.length })),
        ...s.lines6.map((l) => ({ ...l, text: `${formatIpv6(l.prefix.bits)}/${l.prefix.length}`, own: l.prefix.length })),
      ].map((l) => ({ prefix: l.text, lengths: l.from === l.own && l.to === l.own ? '' : `${l.from} to ${l.to}` })),
    })),
    filters: [
      ...(instance?.ribPolicy.length ? [{ way: 'table' as const, area: null, policies: instance.ribPolicy }] : []),
      ...(instance?.areas ?? []).flatMap((a) => [
        ...(a.summaryIn.length > 0 ? [{ way: 'in' as const, area: formatAddress(a.id), policies: a.summaryIn }] : []),
        ...(a.summaryOut.length > 0 ? [{ way: 'out' as const, area: formatAddress(a.id), policies: a.summaryOut }] : []),
      ]),
    ],
  };
}
