import type { End, Expectation } from '@gentle-compass/core/design/settings';
import { areaKinds, neighborStates, routeTypes } from '@gentle-compass/core/design/terms';
import { formatAddress, formatPrefix } from '@gentle-compass/core/prefix/address';

/** What is typed into a form, by the id of the field; a flag is `yes` or empty. */
export type FormValues = Readonly<Record<string, string>>;

/** One field of a form. */
export interface FormField {
  readonly id: string;
  readonly label: string;
  readonly kind: 'text' | 'number' | 'choice' | 'flag' | 'router' | 'place' | 'area' | 'prefix' | 'address' | 'set' | 'policy';
  readonly choices?: readonly { readonly value: string; readonly words: string }[];
  readonly optional?: true;
  readonly hint?: string;
}

/** A form: its fields for what is typed so far, and the line of quick entry that they make. */
export interface FormKind {
  readonly title: string;
  readonly about: string;
  readonly fields: (values: FormValues) => readonly FormField[];
  /** The line; empty while something that must be said is missing. */
  readonly line: (values: FormValues) => string;
}

const quoted = (text: string): string => (/^[\w./*:-]+$/.test(text) ? text : `"${text.replaceAll('"', '')}"`);

const from: FormField = { id: 'from', label: 'from', kind: 'address', hint: 'address, router or group' };
const to: FormField = { id: 'to', label: 'to', kind: 'address', hint: 'address, router or group' };
const router: FormField = { id: 'router', label: 'router', kind: 'router' };
const area: FormField = { id: 'area', label: 'area', kind: 'area', hint: '10, or 0 for the backbone' };
const prefix: FormField = { id: 'prefix', label: 'prefix', kind: 'prefix', hint: 'length, mask or inverted mask' };

/** Words of the trade as choices. */
const asIs = (list: readonly string[]): { value: string; words: string }[] => list.map((value) => ({ value, words: value }));

/** A kind of expectation: what it says, its fields, and how they stand in the line: as they are, or after a word. */
interface Expecting {
  readonly words: string;
  readonly fields: readonly FormField[];
  readonly parts: readonly (string | { readonly word: string; readonly id: string; readonly flag?: true })[];
}

const expecting: Readonly<Record<Expectation['kind'], Expecting>> = {
  reach: {
    words: 'packets arrive, and the answers come back',
    fields: [
      from,
      to,
      { id: 'oneWay', label: 'the answer does not matter', kind: 'flag' },
      { id: 'leavesBy', label: 'leaving the design by', kind: 'place', optional: true },
      { id: 'within', label: 'longest time without service, ms', kind: 'number', optional: true },
    ],
    parts: ['from', 'to', { word: 'one-way', id: 'oneWay', flag: true }, { word: 'leaves-by', id: 'leavesBy' }, { word: 'within', id: 'within' }],
  },
  'no-reach': { words: 'packets do not arrive', fields: [from, to], parts: ['from', 'to'] },
  path: {
    words: 'packets go a certain way',
    fields: [
      from,
      to,
      { id: 'through', label: 'every way leads over', kind: 'router', optional: true },
      { id: 'avoids', label: 'no way leads over', kind: 'router', optional: true },
      { id: 'hops', label: 'routers after the first, at most', kind: 'number', optional: true },
      { id: 'cost', label: 'OSPF cost, at most', kind: 'number', optional: true },
      { id: 'symmetric', label: 'the answer takes the same routers', kind: 'flag' },
    ],
    parts: [
      'from',
      'to',
      { word: 'through', id: 'through' },
      { word: 'avoids', id: 'avoids' },
      { word: 'hops', id: 'hops' },
      { word: 'cost', id: 'cost' },
      { word: 'symmetric', id: 'symmetric', flag: true },
    ],
  },
  session: {
    words: 'the loopbacks of two routers reach each other',
    fields: [
      { id: 'from', label: 'router', kind: 'router' },
      { id: 'to', label: 'and router', kind: 'router' },
      { id: 'within', label: 'longest time without service, ms', kind: 'number', optional: true },
    ],
    parts: ['from', 'to', { word: 'within', id: 'within' }],
  },
  route: {
    words: 'a router has a route, or has none',
    fields: [
      router,
      prefix,
      { id: 'via', label: 'going next to', kind: 'router', optional: true },
      { id: 'type', label: 'of the kind', kind: 'choice', choices: [{ value: '', words: 'any' }, ...asIs(routeTypes)] },
      { id: 'absent', label: 'there must be no such route', kind: 'flag' },
    ],
    parts: ['router', 'prefix', { word: 'via', id: 'via' }, { word: 'type', id: 'type' }, { word: 'absent', id: 'absent', flag: true }],
  },
  table: {
    words: 'a router’s table stays small',
    fields: [router, { id: 'atMost', label: 'routes, at most', kind: 'number' }],
    parts: ['router', 'atMost'],
  },
  leader: {
    words: 'a router leads a segment',
    fields: [
      { id: 'place', label: 'router and interface', kind: 'place' },
      { id: 'backup', label: 'as backup designated router', kind: 'flag' },
    ],
    parts: ['place', { word: 'backup', id: 'backup', flag: true }],
  },
  neighbours: {
    words: 'a router has so many neighbours in a state',
    fields: [
      router,
      { id: 'count', label: 'neighbours', kind: 'number' },
      {
        id: 'state',
        label: 'in the state',
        kind: 'choice',
        choices: [{ value: '', words: 'full' }, ...asIs(neighborStates.filter((s) => s !== 'full'))],
      },
    ],
    parts: ['router', 'count', { word: 'state', id: 'state' }],
  },
  summary: { words: 'a summary is seen everywhere, its parts nowhere', fields: [{ ...prefix, label: 'summary' }], parts: ['prefix'] },
  'no-external': { words: 'no external advertisement comes into an area', fields: [area], parts: ['area'] },
  area: {
    words: 'an area is of a type in all its routers',
    fields: [
      area,
      {
        id: 'type',
        label: 'type',
        kind: 'choice',
        choices: asIs(areaKinds),
      },
    ],
    parts: ['area', 'type'],
  },
  advertisements: {
    words: 'an area holds few advertisements of a type',
    fields: [area, { id: 'type', label: 'type, 1 to 7', kind: 'number' }, { id: 'atMost', label: 'at most', kind: 'number' }],
    parts: ['area', 'type', 'atMost'],
  },
};

const isKind = (kind: string | undefined): kind is Expectation['kind'] => kind !== undefined && kind in expecting;
const kindOf = (values: FormValues): Expecting => expecting[isKind(values['kind']) ? values['kind'] : 'reach'];

/** Whether what is expected speaks of names, and so of either family. */
const isNamed = (v: FormValues): boolean => ![v['from'], v['to'], v['prefix']].some((x) => x !== undefined && /[:/]|^[\d.]+$/.test(x));
const inFamily: FormField = {
  id: 'family',
  label: 'in',
  kind: 'choice',
  choices: [
    { value: '', words: 'each family that they run' },
    { value: '4', words: 'IPv4 alone' },
    { value: '6', words: 'IPv6 alone' },
  ],
};

const circumstances = [
  { value: 'normal', words: 'in the network as it is' },
  { value: 'any-link', words: 'and under any single link failure' },
  { value: 'any-router', words: 'and under any single router failure' },
  { value: 'any-group', words: 'and under any shared risk' },
];

/** Parts of a line that are said; `undefined` where one that must be said is missing. */
function said(fields: readonly FormField[], values: FormValues, parts: Expecting['parts']): string[] | undefined {
  const out: string[] = [];
  for (const p of parts) {
    const id = typeof p === 'string' ? p : p.id;
    const value = (values[id] ?? '').trim();
    if (value === '') {
      if (typeof p === 'string' && !fields.find((f) => f.id === id)?.optional) return undefined;
      continue;
    }
    if (typeof p === 'string') out.push(quoted(value));
    else out.push(p.word, ...(p.flag ? [] : [quoted(value)]));
  }
  return out;
}

const expectation: FormKind = {
  title: 'What the network is for',
  about: 'An expectation is tried on every edit and under every failure that it must outlive. One of the same name takes the place of the old one.',
  fields: (values) => [
    { id: 'name', label: 'in words', kind: 'text', hint: 'the slipway reaches the archive' },
    {
      id: 'kind',
      label: 'what must hold',
      kind: 'choice',
      choices: Object.entries(expecting).map(([value, { words }]) => ({ value, words })),
    },
    ...kindOf(values).fields,
    ...(isNamed(values) ? [inFamily] : []),
    {
      id: 'under',
      label: 'when',
      kind: 'choice',
      choices:
        circumstances.some((c) => c.value === values['under']) || !values['under']
          ? circumstances
          : [...circumstances, { value: values['under'], words: `and under ${values['under']}` }],
    },
  ],
  line: (values) => {
    const kind = isKind(values['kind']) ? values['kind'] : 'reach';
    const { fields, parts } = expecting[kind];
    const rest = said(fields, values, parts);
    const name = (values['name'] ?? '').trim();
    if (!rest || name === '') return '';
    const under = values['under'] ?? 'normal';
    const family = isNamed(values) && values['family'] ? ['family', values['family']] : [];
    return [`expect "${name.replaceAll('"', '')}"`, kind, ...rest, ...family, ...(under === 'normal' || under === '' ? [] : ['under', under])].join(
      ' ',
    );
  },
};

const prefixSet: FormKind = {
  title: 'A prefix of a prefix set',
  about: 'Policies name prefix sets. Without lengths only the prefix itself is meant.',
  fields: () => [
    router,
    { id: 'set', label: 'prefix set', kind: 'set', hint: 'one that is there, or a new name' },
    prefix,
    { id: 'shortest', label: 'shortest length', kind: 'number', optional: true },
    { id: 'longest', label: 'longest length', kind: 'number', optional: true },
  ],
  line: (v) => {
    if ([v['router'], v['set'], v['prefix']].some((x) => !x?.trim())) return '';
    const lengths = [v['shortest'] ? `from ${v['shortest']}` : '', v['longest'] ? `to ${v['longest']}` : ''].filter(Boolean);
    return [`prefixes ${quoted(v['set'] ?? '')} ${v['prefix'] ?? ''} on ${v['router'] ?? ''}`, ...lengths].join(' ');
  },
};

const policy: FormKind = {
  title: 'A statement of a policy',
  about: 'Statements are asked in their order; the first that fits decides. What none of them takes is refused.',
  fields: (v) => [
    router,
    { id: 'policy', label: 'policy', kind: 'policy', hint: 'one that is there, or a new name' },
    {
      id: 'result',
      label: 'the statement',
      kind: 'choice',
      choices: [
        { value: 'accept', words: 'takes what fits' },
        { value: 'reject', words: 'refuses what fits' },
      ],
    },
    {
      id: 'match',
      label: 'what fits',
      kind: 'choice',
      choices: [
        { value: '', words: 'everything' },
        { value: 'of', words: 'what the prefix set holds' },
        { value: 'but', words: 'what the prefix set does not hold' },
      ],
    },
    ...(v['match'] ? [{ id: 'set', label: 'prefix set', kind: 'set' } as const] : []),
    { id: 'tagged', label: 'only with tag', kind: 'number', optional: true },
    { id: 'metric', label: 'gives metric', kind: 'number', optional: true },
    {
      id: 'type',
      label: 'gives metric type',
      kind: 'choice',
      choices: [
        { value: '', words: 'as it was' },
        { value: 'type-1', words: 'type 1: the way to the exit counts too' },
        { value: 'type-2', words: 'type 2: only the outside metric counts' },
      ],
    },
    { id: 'tag', label: 'gives tag', kind: 'number', optional: true },
    { id: 'as', label: 'in the place of the statement', kind: 'text', optional: true },
    { id: 'first', label: 'before the other statements', kind: 'flag' },
  ],
  line: (v) => {
    if (!v['router']?.trim() || !v['policy']?.trim()) return '';
    const matched = v['match'] ?? '';
    if (matched !== '' && !v['set']?.trim()) return '';
    const option = (word: string, value: string | undefined): string => (value?.trim() ? `${word} ${quoted(value.trim())}` : '');
    return [
      `policy ${quoted(v['policy'])} ${v['result'] || 'accept'} on ${v['router']}`,
      matched === '' ? '' : option(matched, v['set']),
      option('tagged', v['tagged']),
      option('metric', v['metric']),
      option('type', v['type']),
      option('tag', v['tag']),
      option('as', v['as']),
      v['first'] ? 'first' : '',
    ]
      .filter(Boolean)
      .join(' ');
  },
};

const filter: FormKind = {
  title: 'A filter',
  about: 'A policy decides which summaries pass a border router, or what a router’s own table takes of OSPF.',
  fields: (v) => [
    router,
    {
      id: 'way',
      label: 'what passes',
      kind: 'choice',
      choices: [
        { value: 'in', words: 'summaries that enter an area' },
        { value: 'out', words: 'summaries that leave an area' },
        { value: 'table', words: 'what its own table takes' },
      ],
    },
    ...(v['way'] === 'table' ? [] : [area]),
    { id: 'policy', label: 'policy that decides', kind: 'policy' },
  ],
  line: (v) => {
    const way = v['way'] || 'in';
    if (!v['router']?.trim() || !v['policy']?.trim() || (way !== 'table' && !v['area']?.trim())) return '';
    return `filter ${way}${way === 'table' ? '' : ` area ${v['area'] ?? ''}`} on ${v['router']} by ${quoted(v['policy'])}`;
  },
};

/** Every form. */
export const formKinds = { expectation, prefixSet, policy, filter } as const;
export type FormName = keyof typeof formKinds;

/** An end as it is typed. */
const endText = (e: End): string => (typeof e === 'number' ? formatAddress(e) : e);

/** An expectation as its form shows it. */
export function expectationValues(e: Expectation): FormValues {
  const common = { name: e.name, kind: e.kind, under: e.under, family: e.family === undefined ? '' : String(e.family) };
  const text = (x: number | undefined): string => (x === undefined ? '' : String(x));
  const flag = (x: boolean): string => (x ? 'yes' : '');
  switch (e.kind) {
    case 'no-reach':
      return { ...common, from: endText(e.from), to: endText(e.to) };
    case 'reach':
      return {
        ...common,
        from: endText(e.from),
        to: endText(e.to),
        oneWay: flag(!e.bothWays),
        leavesBy: e.leavesBy ? `${e.leavesBy.router}/${e.leavesBy.iface}` : '',
        within: text(e.withinMs),
      };
    case 'path':
      return {
        ...common,
        from: endText(e.from),
        to: endText(e.to),
        through: e.through[0] ?? '',
        avoids: e.avoids[0] ?? '',
        hops: text(e.atMostHops),
        cost: text(e.atMostCost),
        symmetric: flag(e.symmetric),
      };
    case 'session':
      return { ...common, from: e.from, to: e.to, within: text(e.withinMs) };
    case 'route':
      return { ...common, router: e.router, prefix: formatPrefix(e.prefix), via: e.via ?? '', type: e.routeType ?? '', absent: flag(!e.present) };
    case 'table':
      return { ...common, router: e.router, atMost: text(e.atMost) };
    case 'leader':
      return { ...common, place: `${e.router}/${e.iface}`, backup: flag(e.role === 'bdr') };
    case 'neighbours':
      return { ...common, router: e.router, count: text(e.count), state: e.state === 'full' ? '' : e.state };
    case 'summary':
      return { ...common, prefix: formatPrefix(e.prefix) };
    case 'no-external':
      return { ...common, area: formatAddress(e.area) };
    case 'area':
      return { ...common, area: formatAddress(e.area), type: e.type };
    case 'advertisements':
      return { ...common, area: formatAddress(e.area), type: text(e.type), atMost: text(e.atMost) };
  }
}
