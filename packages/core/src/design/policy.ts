import { covers } from '../prefix/address';
import type { Ipv4Prefix } from '../prefix/ipv4';
import type { Ipv6Prefix } from '../prefix/prefix-book';
import type { MetricType } from './terms';

/** A line of a prefix set: the prefix, and which lengths of its parts it takes (RFC 9067 §4.2). */
export interface PrefixSetLine {
  readonly prefix: Ipv4Prefix;
  readonly from: number;
  readonly to: number;
}
/** The same for IPv6. */
export interface PrefixSetLine6 {
  readonly prefix: Ipv6Prefix;
  readonly from: number;
  readonly to: number;
}
export interface PrefixSet {
  readonly name: string;
  readonly lines: readonly PrefixSetLine[];
  readonly lines6: readonly PrefixSetLine6[];
}
export interface PolicyActions {
  /** `undefined`: go on with the next statement. */
  readonly result: 'accept' | 'reject' | undefined;
  readonly metric: { readonly change: 'set' | 'add' | 'subtract'; readonly by: number } | undefined;
  readonly metricType: MetricType | undefined;
  readonly tag: number | undefined;
}
export interface PolicyStatement {
  readonly name: string;
  readonly matchSet: { readonly name: string; readonly invert: boolean } | undefined;
  readonly matchTags: readonly number[] | undefined;
  readonly callPolicy: string | undefined;
  readonly actions: PolicyActions;
}
export interface PolicyDefinition {
  readonly name: string;
  readonly statements: readonly PolicyStatement[];
}
/** The policies of one router. */
export interface PolicyBook {
  readonly sets: ReadonlyMap<string, PrefixSet>;
  readonly definitions: ReadonlyMap<string, PolicyDefinition>;
}

/** A route on its way through a policy. */
export interface PolicySubject {
  readonly prefix: Ipv4Prefix;
  readonly metric: number;
  readonly metricType: MetricType;
  readonly tag: number;
}
export interface PolicyVerdict {
  readonly accepted: boolean;
  readonly subject: PolicySubject;
  /** The statement that decided, as `policy/statement`; `undefined` when none took the route. */
  readonly by: string | undefined;
  /** The deciding statement matches this very prefix and nothing shorter or longer. */
  readonly namedExactly: boolean;
}

const lineTakes = (l: PrefixSetLine, p: Ipv4Prefix): boolean => covers(l.prefix, p) && p.length >= l.from && p.length <= l.to;

/** True when a line of the set takes the prefix. */
export const setTakes = (set: PrefixSet | undefined, p: Ipv4Prefix): boolean => set !== undefined && set.lines.some((l) => lineTakes(l, p));

const setNames = (set: PrefixSet | undefined, p: Ipv4Prefix): boolean =>
  set !== undefined && set.lines.some((l) => l.prefix.length === p.length && l.prefix.bits === p.bits && l.from === p.length);

function applyActions(s: PolicySubject, a: PolicyActions): PolicySubject {
  const m = a.metric;
  const moved = m === undefined ? s.metric : m.change === 'set' ? m.by : m.change === 'add' ? s.metric + m.by : s.metric - m.by;
  return {
    ...s,
    metric: Math.min(Math.max(moved, 0), 0xff_ffff),
    metricType: a.metricType ?? s.metricType,
    tag: a.tag ?? s.tag,
  };
}

function runPolicy(book: PolicyBook, name: string, subject: PolicySubject, depth: number): PolicyVerdict {
  const refused: PolicyVerdict = { accepted: false, subject, by: undefined, namedExactly: false };
  const policy = book.definitions.get(name);
  if (!policy || depth > 16) return refused;
  let current = subject;
  for (const st of policy.statements) {
    const set = st.matchSet ? book.sets.get(st.matchSet.name) : undefined;
    if (st.matchSet && setTakes(set, subject.prefix) === st.matchSet.invert) continue;
    if (st.matchTags && !st.matchTags.includes(current.tag)) continue;
    let namedExactly = st.matchSet !== undefined && !st.matchSet.invert && setNames(set, subject.prefix);
    if (st.callPolicy !== undefined) {
      const called = runPolicy(book, st.callPolicy, current, depth + 1);
      if (!called.accepted) continue;
      current = called.subject;
      namedExactly ||= called.namedExactly;
    }
    current = applyActions(current, st.actions);
    const by = `${name}/${st.name}`;
    if (st.actions.result === 'accept') return { accepted: true, subject: current, by, namedExactly };
    if (st.actions.result === 'reject') return { ...refused, by };
  }
  return refused;
}

/**
 * Runs a chain of policies over a route (RFC 9067 §5). The first policy that accepts imports it, with what that
 * policy sets; a statement that rejects ends its own policy; a prefix that no statement takes is refused.
 * An empty chain accepts everything unchanged.
 */
export function applyPolicies(book: PolicyBook, names: readonly string[], subject: PolicySubject): PolicyVerdict {
  if (names.length === 0) return { accepted: true, subject, by: undefined, namedExactly: false };
  let last: PolicyVerdict = { accepted: false, subject, by: undefined, namedExactly: false };
  for (const name of names) {
    last = runPolicy(book, name, subject, 0);
    if (last.accepted) return last;
  }
  return last;
}
