import { applyEdits } from '../../design/edit';
import type { SourceDocument } from '../../documents/documents';
import { routerDetail } from '../../evidence/router-detail';
import { designFrom } from '../../formats/read-set';
import { formatPrefix } from '../../prefix/address';
import { predict, type Prediction } from '../../predict';
import { Campus } from '../../testing/campus';
import { readEntry } from '../entry';

function done(documents: readonly SourceDocument[], line: string): SourceDocument[] {
  const { plan, error } = readEntry(line, documents);
  if (!plan) throw new Error(`${line}: ${error?.message ?? ''}`);
  return applyEdits(documents, plan.edits);
}
const all = (documents: readonly SourceDocument[], ...lines: readonly string[]): SourceDocument[] => lines.reduce(done, [...documents]);
const state = (documents: readonly SourceDocument[]): Prediction => predict(designFrom(documents).design);
const refusal = (documents: readonly SourceDocument[], line: string): string => readEntry(line, documents).error?.message ?? 'taken';
const notes = (documents: readonly SourceDocument[], line: string): readonly string[] => readEntry(line, documents).plan?.notes ?? [];

/** `prefix metric type tag` of what a router has from outside. */
const outside = (documents: readonly SourceDocument[], router: string): string[] => {
  const p = state(documents);
  return p
    .rib(p.routerIndex(router))
    .filter((r) => r.route?.type.startsWith('external'))
    .map((r) => `${formatPrefix(r)} ${r.route?.metric ?? ''} ${r.route?.type ?? ''} ${r.route?.tag ?? ''}`)
    .sort();
};

/** An exit with four static routes behind the border of area 10, and a router inside. */
const exit = (): SourceDocument[] =>
  new Campus()
    .router('gate', '10.96.0.1', 0)
    .router('border', '10.96.0.2', 0)
    .router('inner', '10.96.0.3', 10)
    .cable('gate', 'border', '10.96.128.0', 0)
    .cable('border', 'inner', '10.96.128.2', 10)
    .port('gate', 'out', '203.0.113.2/30', null)
    .static('gate', '198.51.100.0/24', '203.0.113.1')
    .static('gate', '198.51.100.64/26', '203.0.113.1')
    .static('gate', '192.0.2.0/24', '203.0.113.1')
    .documents();

test('a prefix set, a policy with its statements and what uses it, line by line, decide over what comes in', () => {
  const set = all(exit(), 'prefixes partners 198.51.100.0/24 on gate to 26', 'policy few accept on gate of partners metric 30 type type-1 tag 7');
  expect(notes(exit(), 'prefixes partners 198.51.100.0 0.0.0.255 on gate')).toEqual([
    '198.51.100.0 0.0.0.255 was read as 198.51.100.0/24, by its inverted mask',
  ]);
  const brought = done(set, 'bring static on gate policy few');
  expect(outside(brought, 'border')).toEqual(['198.51.100.0/24 40 external-1 7', '198.51.100.64/26 40 external-1 7']);
  // Refused before it: the longer one no longer passes.
  const without = all(brought, 'prefixes long 198.51.100.64/26 on gate', 'policy few reject on gate of long first');
  expect(outside(without, 'border')).toEqual(['198.51.100.0/24 40 external-1 7']);
  // Another statement in the place of the first.
  const anew = done(without, 'policy few accept on gate but partners as s1');
  expect(outside(anew, 'border')).toEqual(['192.0.2.0/24 20 external-2 0']);
  const without2 = done(anew, 'policy few off on gate as s2');
  expect(
    designFrom(without2)
      .design.routers.find((r) => r.name === 'gate')
      ?.policies.definitions.get('few')
      ?.statements.map((s) => s.name),
  ).toEqual(['s1']);
});

test('tags are matched and metrics moved', () => {
  const documents = all(
    exit(),
    'policy mark accept on gate tag 9',
    'policy mark accept on gate tagged 9 add 5 as seen',
    'bring static on gate policy mark metric 10',
  );
  const policy = designFrom(documents)
    .design.routers.find((r) => r.name === 'gate')
    ?.policies.definitions.get('mark');
  expect(policy?.statements.map((s) => [s.name, s.matchTags, s.actions])).toEqual([
    ['s1', undefined, { result: 'accept', metric: undefined, metricType: undefined, tag: 9 }],
    ['seen', [9], { result: 'accept', metric: { change: 'add', by: 5 }, metricType: undefined, tag: undefined }],
  ]);
  expect(notes(exit(), 'policy mark accept on gate')).toEqual([
    'Nothing on gate uses mark yet: name it in "bring … policy mark" or "filter … by mark".',
  ]);
  expect(notes(documents, 'policy mark reject on gate')).toEqual(['s1 stands before it and decides over everything: this one is never asked.']);
});

test('summaries into and out of an area, and the own table, pass as a policy says', () => {
  const has = (documents: readonly SourceDocument[], router: string, prefix: string): boolean => {
    const p = state(documents);
    return p.rib(p.routerIndex(router)).some((r) => formatPrefix(r) === prefix && r.source === 'ospf');
  };
  const base = all(exit(), 'prefixes gates 10.96.0.1/32 on border', 'policy no-gates reject on border of gates', 'policy no-gates accept on border');
  expect(has(base, 'inner', '10.96.0.1/32')).toBe(true);
  const inward = done(base, 'filter in area 10 on border by no-gates');
  expect([has(inward, 'inner', '10.96.0.1/32'), has(inward, 'inner', '10.96.128.0/31'), has(inward, 'border', '10.96.0.1/32')]).toEqual([
    false,
    true,
    true,
  ]);
  const outward = all(
    exit(),
    'prefixes own 10.96.0.3/32 on border',
    'policy few reject on border of own',
    'policy few accept on border',
    'filter out area 10 on border by few',
  );
  expect([has(outward, 'gate', '10.96.0.3/32'), has(outward, 'gate', '10.96.128.2/31')]).toEqual([false, true]);
  const table = done(base, 'filter table on border by no-gates');
  expect([has(table, 'border', '10.96.0.1/32'), has(table, 'inner', '10.96.0.1/32')]).toEqual([false, true]);
  const detail = routerDetail(state(inward), state(inward).routerIndex('border'));
  expect(detail.filters).toEqual([{ way: 'in', area: '0.0.0.10', policies: ['no-gates'] }]);
  expect(detail.policies).toEqual([
    {
      name: 'no-gates',
      statements: [
        { name: 's1', words: 'refuses what gates holds' },
        { name: 's2', words: 'takes everything' },
      ],
      over: ['summaries into area 10'],
    },
  ]);
  expect(detail.prefixSets).toEqual([{ name: 'gates', lines: [{ prefix: '10.96.0.1/32', lengths: '' }] }]);
  expect(notes(all(exit(), 'policy few accept on gate'), 'filter in area 0 on gate by few')).toEqual([
    'gate stands in one area alone: it passes no summaries, so nothing changes.',
  ]);
});

test('what is taken away again leaves the documents as they were', () => {
  const first = exit();
  const there = all(first, 'prefixes few 198.51.100.0/24 on gate', 'prefixes few 192.0.2.0/24 on gate from 25', 'policy some reject on gate of few');
  expect(routerDetail(state(there), state(there).routerIndex('gate')).prefixSets[0]?.lines).toEqual([
    { prefix: '198.51.100.0/24', lengths: '' },
    { prefix: '192.0.2.0/24', lengths: '25 to 32' },
  ]);
  const back = all(there, 'policy some off on gate', 'prefixes few 192.0.2.0/24 on gate off', 'prefixes few off on gate');
  expect(back.map((d) => d.tree)).toEqual(first.map((d) => d.tree));
  const filtered = all(there, 'filter table on gate by some', 'filter table on gate by off', 'policy some off on gate', 'prefixes few off on gate');
  expect(filtered.map((d) => d.tree)).toEqual(first.map((d) => d.tree));
});

test.each([
  ['policy few accept on gate of nobody', /gate has no prefix set "nobody"; it has used\. Make it with "prefixes nobody PREFIX on gate"/],
  ['policy few accept on gate of used but used', /Either "of" a set or "but" a set/],
  ['policy few accept on gate metric 4 add 5', /Only one of "metric", "add" and "subtract"/],
  ['policy decides off on gate', /decides decides over static routes that it brings in on gate: take it out there first/],
  ['policy decides off on gate as s9', /no statement "s9"; it has s1/],
  ['policy nobody off on gate', /gate has no policy "nobody"; it has decides/],
  ['prefixes used off on gate', /used is used by decides on gate: change that first/],
  ['prefixes used 192.0.2.0/24 on gate off', /It is the last prefix of used, which decides on gate uses/],
  ['prefixes used 192.0.3.0/24 on gate off', /192\.0\.3\.0\/24 is not in used on gate/],
  ['prefixes used 192.0.2.0/24 on gate to 20', /Expected length, 24 to 32/],
  ['prefixes used 192.0.2.0/24 on gate from 30 to 26', /Lengths run from 30 to 26/],
  ['filter in area 10 on gate by decides', /gate has no part in area 10/],
  ['filter in area 0 on gate by nobody', /gate has no policy "nobody"; it has decides\. Make it with "policy nobody accept on gate"/],
  ['filter table on gate by off', /No policy decides there on gate/],
])('%p is refused with what to do', (line, message) => {
  const documents = all(exit(), 'prefixes used 192.0.2.0/24 on gate', 'policy decides accept on gate of used', 'bring static on gate policy decides');
  expect(refusal(documents, line)).toMatch(message);
});
