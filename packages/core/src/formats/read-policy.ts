import type { PolicyActions, PolicyBook, PolicyDefinition, PolicyStatement, PrefixSet, PrefixSetLine, PrefixSetLine6 } from '../design/policy';
import type { Cursor } from '../documents/cursor';
import { areaId, identity, integer, nameText, oneOf, eitherPrefix, prefix6, typedPrefix } from '../documents/leaf-types';

const length4 = integer(0, 32);
const length6 = integer(0, 128);

/** What stands in a prefix set, by its mode (RFC 9067 §4.2). */
const prefixIn = { ipv4: typedPrefix, ipv6: prefix6, mixed: eitherPrefix } as const;

function readSet(c: Cursor): PrefixSet | undefined {
  const name = c.leaf('name', nameText);
  const mode = c.leaf('mode', oneOf(['ipv4', 'ipv6', 'mixed'])) ?? 'ipv4';
  const lines: PrefixSetLine[] = [];
  const lines6: PrefixSetLine6[] = [];
  for (const l of c.child('prefixes')?.list('prefix-list', 'ip-prefix') ?? []) {
    const prefix = l.leaf('ip-prefix', prefixIn[mode]);
    const { bits, length } = prefix ?? { bits: 0, length: 0 };
    const bound = typeof bits === 'bigint' ? length6 : length4;
    // RFC 9067 §4.2: without bounds the prefix itself is meant.
    const from = l.leaf('mask-length-lower', bound) ?? length;
    const to = l.leaf('mask-length-upper', bound) ?? length;
    if (!prefix) continue;
    if (typeof bits === 'bigint') lines6.push({ prefix: { bits, length }, from, to });
    else lines.push({ prefix: { bits, length }, from, to });
  }
  return name === undefined ? undefined : { name, lines, lines6 };
}

const metricTypes = ['ospf-type-1-metric', 'ospf-type-2-metric', 'type-1', 'type-2'] as const;
const changes = { 'set-metric': 'set', 'add-metric': 'add', 'subtract-metric': 'subtract' } as const;

function readActions(c: Cursor | undefined): PolicyActions {
  const result = c?.leaf('policy-result', oneOf(['accept-route', 'reject-route']));
  const metric = c?.child('set-metric');
  const change = metric?.leaf('metric-modification', oneOf(['set-metric', 'add-metric', 'subtract-metric'])) ?? 'set-metric';
  const by = metric?.leaf('metric', integer(0, 0xffff_ffff));
  const type = c?.child('set-metric-type')?.leaf('metric-type', oneOf(metricTypes));
  return {
    result: result === undefined ? undefined : result === 'accept-route' ? 'accept' : 'reject',
    metric: by === undefined ? undefined : { change: changes[change], by },
    metricType: type === undefined ? undefined : type.includes('1') ? 'type-1' : 'type-2',
    tag: c?.leaf('set-tag', areaId), // a tag is a number or a dotted quad (RFC 8294)
  };
}

function readStatement(c: Cursor): PolicyStatement | undefined {
  const name = c.leaf('name', nameText);
  const conditions = c.child('conditions');
  const match = conditions?.child('match-prefix-set');
  const set = match?.leaf('prefix-set', nameText);
  const options = match?.leaf('match-set-options', identity) ?? 'any';
  const tags = conditions?.child('match-tag-set')?.leafList('tag-value', areaId);
  if (name === undefined) return undefined;
  return {
    name,
    matchSet: set === undefined ? undefined : { name: set, invert: options === 'invert' },
    matchTags: tags,
    callPolicy: conditions?.leaf('call-policy', nameText),
    actions: readActions(c.child('actions')),
  };
}

const noPolicies: PolicyBook = { sets: new Map(), definitions: new Map() };

/** Reads prefix sets and policies (RFC 9067). */
export function readPolicies(root: Cursor): PolicyBook {
  const top = root.child('routing-policy');
  if (!top) return noPolicies;
  const sets = new Map<string, PrefixSet>();
  const definitions = new Map<string, PolicyDefinition>();
  const defined = top.child('defined-sets');
  for (const c of defined?.child('prefix-sets')?.list('prefix-set', 'name') ?? []) {
    const set = readSet(c);
    if (set) sets.set(set.name, set);
  }
  const tagSets = new Map<string, readonly number[]>();
  for (const c of defined?.child('tag-sets')?.list('tag-set', 'name') ?? []) {
    const name = c.leaf('name', nameText);
    const values = c.leafList('tag-value', areaId);
    if (name !== undefined) tagSets.set(name, values ?? []);
  }
  for (const c of top.child('policy-definitions')?.list('policy-definition', 'name') ?? []) {
    const name = c.leaf('name', nameText);
    const statements: PolicyStatement[] = [];
    for (const s of c.child('statements')?.list('statement', 'name') ?? []) {
      const statement = readStatement(s);
      const tagSet = s.child('conditions')?.child('match-tag-set')?.leaf('tag-set', nameText);
      if (statement) statements.push(tagSet === undefined ? statement : { ...statement, matchTags: tagSets.get(tagSet) ?? [] });
    }
    if (name !== undefined) definitions.set(name, { name, statements });
  }
  return { sets, definitions };
}
