import { container, listIn, member, setMember, type Json } from '../../design/draft';
import type { PolicyStatement } from '../../design/policy';
import type { Router } from '../../design/design';
import { usesOfPolicy } from '../../evidence/policy-words';
import { formatPrefix, hostLength, isSix, type Prefix } from '../../prefix/address';
import { isPrefix } from '../references';
import { areaText, Refusal, type Site } from '../site';
import { listed, type Reader } from '../words';
import { whereWords } from './change';
import type { CommandKind } from './command';
import { routersUntil } from './outside';

const policyRoot = (site: Site, router: string): Json => container(site.open(router).tree, 'ietf-routing-policy:routing-policy');
const setsIn = (root: Json): Json[] => listIn(container(container(root, 'defined-sets'), 'prefix-sets'), 'prefix-set');
const policiesIn = (root: Json): Json[] => listIn(container(root, 'policy-definitions'), 'policy-definition');
const named = (list: readonly Json[], name: string): Json | undefined => list.find((x) => member(x, 'name') === name);

/** Takes empty lists and containers out again, so that nothing is left of what was taken away. */
function tidy(site: Site, router: string): void {
  const { tree } = site.open(router);
  const prune = (node: unknown): boolean => {
    if (Array.isArray(node)) return node.length === 0;
    if (typeof node !== 'object' || node === null) return false;
    for (const [k, v] of Object.entries(node)) if (prune(v)) Reflect.deleteProperty(node, k);
    return Object.keys(node).length === 0;
  };
  const root = policyRoot(site, router);
  for (const part of ['defined-sets', 'policy-definitions']) {
    const node = member(root, part);
    if (node !== undefined && prune(node)) setMember(root, part, undefined);
  }
  if (Object.keys(root).length === 0) setMember(tree, 'routing-policy', undefined);
}

const usesOfSet = (r: Router, name: string): string[] =>
  [...r.policies.definitions.values()].filter((d) => d.statements.some((s) => s.matchSet?.name === name)).map((d) => d.name);

/** `prefixes partners 198.51.100.0/22 on harbour-exit to 28`: a line of a prefix set (RFC 9067 §4.2). */
export const prefixSet: CommandKind = {
  verb: 'prefixes',
  help: 'put a prefix into a prefix set, or take one out',
  form: 'prefixes SET PREFIX on ROUTER... [from LENGTH] [to LENGTH] [off] | prefixes SET off on ROUTER...',
  example: 'prefixes partners 198.51.100.0/22 on harbour-exit to 28',
  read(r) {
    const name = r.text('name of a prefix set');
    const whole = r.maybe('off');
    const prefix = whole ? undefined : r.prefix('prefix');
    const names = routersUntil(r, ['from', 'to', 'off']);
    const o: { from?: number; to?: number; off?: true } = {};
    if (prefix)
      r.options({
        from: { help: 'shortest length that is taken', read: () => (o.from = r.number('length', prefix.length, hostLength(prefix.bits))) },
        to: { help: 'longest length that is taken', read: () => (o.to = r.number('length', prefix.length, hostLength(prefix.bits))) },
        off: { help: 'take the prefix out', read: () => (o.off = true) },
      });
    else r.end();
    return (site) => {
      for (const router of names) {
        const sets = setsIn(policyRoot(site, router));
        if (!prefix || o.off) takeOut(site, router, sets, name, prefix);
        else putIn(sets, name, prefix, o);
        tidy(site, router);
      }
      const where = whereWords(names);
      if (!prefix) return `Prefix set ${name} taken from ${where}`;
      if (o.off) return `${formatPrefix(prefix)} taken out of the prefix set ${name} on ${where}`;
      const low = o.from ?? prefix.length;
      const high = o.to ?? (o.from === undefined ? prefix.length : hostLength(prefix.bits));
      return `${formatPrefix(prefix)}${low === prefix.length && high === low ? '' : `, lengths ${low} to ${high},`} in the prefix set ${name} on ${where}`;
    };
  },
};

function putIn(sets: Json[], name: string, prefix: Prefix, o: { readonly from?: number; readonly to?: number }): void {
  let set = named(sets, name);
  const mode = isSix(prefix.bits) ? 'ipv6' : 'ipv4';
  if (!set) sets.push((set = { name, mode }));
  else if ((member(set, 'mode') ?? 'ipv4') !== mode) setMember(set, 'mode', 'mixed');
  const lines = listIn(container(set, 'prefixes'), 'prefix-list');
  const low = o.from ?? prefix.length;
  const high = o.to ?? (o.from === undefined ? prefix.length : hostLength(prefix.bits));
  if (low > high) throw new Refusal(`Lengths run from ${low} to ${high}: the first must not be the longer.`);
  const made = { 'ip-prefix': formatPrefix(prefix), 'mask-length-lower': low, 'mask-length-upper': high };
  const at = lines.findIndex((l) => isPrefix(member(l, 'ip-prefix'), prefix));
  lines.splice(at < 0 ? lines.length : at, at < 0 ? 0 : 1, made);
}

function takeOut(site: Site, router: string, sets: Json[], name: string, prefix: Prefix | undefined): void {
  const set = named(sets, name);
  if (!set) throw new Refusal(`${router} has no prefix set "${name}"; it has ${listed([...site.router(router).policies.sets.keys()])}.`);
  const uses = usesOfSet(site.router(router), name);
  if (!prefix) {
    if (uses.length > 0) throw new Refusal(`${name} is used by ${listed(uses)} on ${router}: change that first.`);
    sets.splice(sets.indexOf(set), 1);
    return;
  }
  const lines = listIn(container(set, 'prefixes'), 'prefix-list');
  const at = lines.findIndex((l) => isPrefix(member(l, 'ip-prefix'), prefix));
  if (at < 0) throw new Refusal(`${formatPrefix(prefix)} is not in ${name} on ${router}.`);
  if (lines.length === 1 && uses.length > 0)
    throw new Refusal(
      `It is the last prefix of ${name}, which ${listed(uses)} on ${router} ${uses.length === 1 ? 'uses' : 'use'}: change that first.`,
    );
  lines.splice(at, 1);
  if (lines.length === 0) sets.splice(sets.indexOf(set), 1);
}

interface StatementWords {
  of?: string;
  but?: string;
  tagged?: number;
  metric?: { readonly how: 'set' | 'add' | 'subtract'; readonly by: number };
  type?: 'type-1' | 'type-2';
  tag?: number;
  as?: string;
  first?: true;
}

const metricOf = (r: Reader, out: StatementWords, how: 'set' | 'add' | 'subtract') => (): void => {
  if (out.metric) throw r.before('Only one of "metric", "add" and "subtract" can stand.');
  out.metric = { how, by: r.number('metric', 0, 0xff_ffff) };
};

/** `policy partners-only accept on harbour-exit of partners metric 30`: a statement of a policy (RFC 9067 §4.3). */
export const policy: CommandKind = {
  verb: 'policy',
  help: 'give a policy a statement, another one in its place, or take one away',
  form: 'policy NAME accept|reject on ROUTER... [of SET | but SET] [tagged TAG] [metric METRIC | add N | subtract N] [type TYPE] [tag TAG] [as STATEMENT] [first] | policy NAME off on ROUTER... [as STATEMENT]',
  example: 'policy partners-only accept on harbour-exit of partners metric 30',
  read(r) {
    const name = r.text('name of a policy');
    const result = r.oneOf(
      [
        { text: 'accept', help: 'takes what fits' },
        { text: 'reject', help: 'refuses what fits' },
        { text: 'off', help: 'take the policy away, or one statement' },
      ],
      '"accept", "reject" or "off"',
    );
    const o: StatementWords = {};
    const as = { help: 'name of the statement; one of that name is replaced', read: () => (o.as = r.text('name of the statement')) };
    const options: Parameters<Reader['options']>[0] =
      result === 'off'
        ? { as: { ...as, help: 'only this statement' } }
        : {
            of: { help: 'only prefixes of this set', read: () => (o.of = r.text('prefix set')) },
            but: { help: 'only prefixes outside this set', read: () => (o.but = r.text('prefix set')) },
            tagged: { help: 'only routes with this tag', read: () => (o.tagged = r.number('tag', 0, 4_294_967_295)) },
            metric: { help: 'metric that it gives', read: metricOf(r, o, 'set') },
            add: { help: 'added to the metric', read: metricOf(r, o, 'add') },
            subtract: { help: 'taken from the metric', read: metricOf(r, o, 'subtract') },
            type: {
              help: 'metric type that it gives',
              read: () => {
                o.type = r.oneOf(
                  [
                    { text: 'type-1', help: 'the way to the exit counts too' },
                    { text: 'type-2', help: 'only the outside metric counts' },
                  ],
                  'a metric type',
                );
              },
            },
            tag: { help: 'tag that it gives', read: () => (o.tag = r.number('tag', 0, 4_294_967_295)) },
            as,
            first: { help: 'before the other statements', read: () => (o.first = true) },
          };
    const names = routersUntil(r, Object.keys(options));
    r.options(options);
    return (site) => {
      if (o.of !== undefined && o.but !== undefined) throw new Refusal('Either "of" a set or "but" a set: not both.');
      for (const router of names) {
        if (result === 'off') dropStatement(site, router, name, o.as);
        else writeStatement(site, router, name, result, o);
        tidy(site, router);
      }
      const where = whereWords(names);
      if (result === 'off') return o.as === undefined ? `Policy ${name} taken from ${where}` : `Statement ${o.as} taken from ${name} on ${where}`;
      return `${name} on ${where} ${result === 'accept' ? 'takes' : 'refuses'} ${matchWords(o)}`;
    };
  },
};

const matchWords = (o: StatementWords): string => {
  const set = o.of !== undefined ? `what ${o.of} holds` : o.but !== undefined ? `what ${o.but} does not hold` : 'everything';
  return o.tagged === undefined ? set : `${set} with tag ${o.tagged}`;
};

function writeStatement(site: Site, router: string, name: string, result: 'accept' | 'reject', o: StatementWords): void {
  const known = site.router(router).policies;
  const root = policyRoot(site, router);
  const set = o.of ?? o.but;
  if (set !== undefined && !known.sets.has(set))
    throw new Refusal(
      `${router} has no prefix set "${set}"; it has ${listed([...known.sets.keys()])}. Make it with "prefixes ${set} PREFIX on ${router}".`,
    );
  const policies = policiesIn(root);
  let definition = named(policies, name);
  if (!definition) policies.push((definition = { name }));
  const statements = listIn(container(definition, 'statements'), 'statement');
  const conditions: Json = {};
  if (set !== undefined) conditions['match-prefix-set'] = { 'prefix-set': set, ...(o.but === undefined ? {} : { 'match-set-options': 'invert' }) };
  if (o.tagged !== undefined) conditions['match-tag-set'] = { 'tag-set': tagSet(root, o.tagged) };
  const actions: Json = { 'policy-result': `${result}-route` };
  if (o.metric) actions['set-metric'] = { 'metric-modification': `${o.metric.how}-metric`, metric: o.metric.by };
  if (o.type !== undefined) actions['set-metric-type'] = { 'metric-type': `ospf-${o.type}-metric` };
  if (o.tag !== undefined) actions['set-tag'] = o.tag;
  if (result === 'reject' && (o.metric ?? o.type ?? o.tag) !== undefined) site.notes.push('What is refused carries no metric, type or tag.');
  const free = ((): string => {
    for (let n = statements.length + 1; ; n++) if (!named(statements, `s${n}`)) return `s${n}`;
  })();
  const made: Json = { name: o.as ?? free, ...(Object.keys(conditions).length > 0 ? { conditions } : {}), actions };
  const at = o.as === undefined ? -1 : statements.findIndex((s) => member(s, 'name') === o.as);
  if (at >= 0) statements[at] = made;
  else if (o.first) statements.unshift(made);
  else statements.push(made);
  const n = statements.indexOf(made);
  const before = statements.slice(0, n).find((s) => takesAll(known.definitions.get(name)?.statements.find((x) => x.name === member(s, 'name'))));
  if (before) site.notes.push(`${String(member(before, 'name'))} stands before it and decides over everything: this one is never asked.`);
  if (usesOfPolicy(site.router(router), name).length === 0)
    site.notes.push(`Nothing on ${router} uses ${name} yet: name it in "bring … policy ${name}" or "filter … by ${name}".`);
}

/** A statement that leaves nothing to those after it. */
const takesAll = (s: PolicyStatement | undefined): boolean =>
  s !== undefined && !s.matchSet && !s.matchTags && s.callPolicy === undefined && s.actions.result !== undefined;

/** Name of the set that holds one tag, made when there is none. */
function tagSet(root: Json, tag: number): string {
  const sets = listIn(container(container(root, 'defined-sets'), 'tag-sets'), 'tag-set');
  const known = sets.find((s) => JSON.stringify(member(s, 'tag-value')) === JSON.stringify([tag]));
  if (known) return String(member(known, 'name'));
  let name = `tag-${tag}`;
  while (named(sets, name)) name = `${name}-1`;
  sets.push({ name, 'tag-value': [tag] });
  return name;
}

function dropStatement(site: Site, router: string, name: string, statement: string | undefined): void {
  const policies = policiesIn(policyRoot(site, router));
  const definition = named(policies, name);
  if (!definition) throw new Refusal(`${router} has no policy "${name}"; it has ${listed([...site.router(router).policies.definitions.keys()])}.`);
  const statements = listIn(container(definition, 'statements'), 'statement');
  const at = statement === undefined ? -1 : statements.findIndex((s) => member(s, 'name') === statement);
  if (statement !== undefined && at < 0)
    throw new Refusal(`${name} on ${router} has no statement "${statement}"; it has ${listed(statements.map((s) => String(member(s, 'name'))))}.`);
  const uses = usesOfPolicy(site.router(router), name);
  if ((statement === undefined || statements.length === 1) && uses.length > 0)
    throw new Refusal(`${name} decides over ${uses.join(', ')} on ${router}: take it out there first.`);
  if (statement === undefined || statements.length === 1) policies.splice(policies.indexOf(definition), 1);
  else statements.splice(at, 1);
}

/** `filter in area 10 on kelp-1 by few`: which summaries pass a border router, and what a router takes into its own table. */
export const filter: CommandKind = {
  verb: 'filter',
  help: 'let a policy decide which summaries enter or leave an area, or what a router’s own table takes',
  form: 'filter in|out area AREA on ROUTER... by POLICY|off | filter table on ROUTER... by POLICY|off',
  example: 'filter in area 10 on kelp-1 by few',
  read(r) {
    const way = r.oneOf(
      [
        { text: 'in', help: 'summaries that enter an area' },
        { text: 'out', help: 'summaries that leave an area' },
        { text: 'table', help: 'what its own table takes of OSPF; the database stays as it is' },
      ],
      '"in", "out" or "table"',
    );
    let area: number | undefined;
    if (way !== 'table') {
      r.word('area', 'the area follows');
      area = r.area();
    }
    const names = routersUntil(r, ['by']);
    r.word('by', 'the policy follows, or "off"');
    const name = r.text('a policy, or "off"');
    r.end();
    return (site) => {
      for (const router of names) {
        const known = site.router(router).policies.definitions;
        if (name !== 'off' && !known.has(name))
          throw new Refusal(
            `${router} has no policy "${name}"; it has ${listed([...known.keys()])}. Make it with "policy ${name} accept on ${router}".`,
          );
        const draft = site.open(router);
        const node = area === undefined ? draft.ospf(site.processName) : draft.area(area);
        if (!node) throw new Refusal(`${router} has no part in ${areaText(area ?? 0)}.`);
        const leaf = way === 'table' ? 'rib-policy' : `summary-${way}-policy`;
        if (name === 'off' && member(node, leaf) === undefined) throw new Refusal(`No policy decides there on ${router}.`);
        setMember(node, member(node, leaf) === undefined ? `gentle-compass:${leaf}` : leaf, name === 'off' ? undefined : [name]);
        if (way !== 'table' && draft.areas().length < 2)
          site.notes.push(`${router} stands in one area alone: it passes no summaries, so nothing changes.`);
      }
      const what = way === 'table' ? 'the own table' : `summaries ${way === 'in' ? 'into' : 'out of'} ${areaText(area ?? 0)}`;
      return name === 'off' ? `No policy decides over ${what} on ${whereWords(names)}` : `${name} decides over ${what} on ${whereWords(names)}`;
    };
  },
};
