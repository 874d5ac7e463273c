import { applyEdits } from '@gentle-compass/core/design/edit';
import { readEntry } from '@gentle-compass/core/entry/entry';
import { campus } from '@gentle-compass/core/testing/campus';
import type { SourceDocument } from '@gentle-compass/core/documents/documents';
import type { DesignView } from '../model/view';
import { Workbench } from './workbench';

const four = (): SourceDocument[] =>
  campus()
    .router('gull-1', '10.96.0.1', 0)
    .router('gull-2', '10.96.0.2', 0)
    .router('gull-3', '10.96.0.3', 0)
    .cable('gull-1', 'gull-2', '10.96.128.0', 0, 10)
    .cable('gull-2', 'gull-3', '10.96.128.2', 0, 10)
    .documents();

const both = (): SourceDocument[] => applyEdits(four(), readEntry('ipv6 2001:db8:40::/48', four()).plan?.edits ?? []);
const open = (documents: SourceDocument[]): { bench: Workbench; view: DesignView } => {
  const bench = new Workbench();
  return { bench, view: bench.editing.open({ name: 'Gulls', documents }) };
};
const lookAt = (bench: Workbench, family: 4 | 6): DesignView => JSON.parse(bench.editing.lookAt(family)) as DesignView;
const edits = (documents: readonly SourceDocument[], line: string) => readEntry(line, documents).plan?.edits ?? [];

test('a design of one family has no other to look at', () => {
  const { bench, view } = open(four());
  expect([view.family, view.families]).toEqual([4, [4]]);
  expect(lookAt(bench, 6).family).toBe(4);
});

test('every desk answers for the family that is looked at', async () => {
  const { bench, view } = open(both());
  expect([view.family, view.families, view.findings]).toEqual([4, [4, 6], []]);
  expect(bench.routes.table('gull-1', false).map((r) => r.prefix)).toContain('10.96.0.3/32');
  const six = lookAt(bench, 6);
  expect([six.family, six.pairs.map((p) => p.kind)]).toEqual([6, ['full', 'full']]);
  const rows = bench.routes.table('gull-1', false);
  expect(rows.map((r) => [r.prefix, r.metric, r.hops.map((h) => `${h.router} ${h.address}`).join()])).toEqual([
    ['2001:db8:40::1/128', null, ' '],
    ['2001:db8:40::2/128', 10, 'gull-2 fe80::a60:2:2'],
    ['2001:db8:40::3/128', 20, 'gull-2 fe80::a60:2:2'],
  ]);
  expect(bench.routes.evidence('gull-1', '2001:db8:40::3/128', false)?.steps[0]).toMatchObject({ kind: 'own-table', source: 'ospf' });
  const failed = await bench.failures.fail(['link:gull-2/to-gull-3']);
  expect(failed?.unreachablePrefixes.map((x) => x.prefix)).toEqual(['2001:db8:40::3/128', '2001:db8:40::1/128', '2001:db8:40::2/128']);
  expect(lookAt(bench, 4).family).toBe(4);
  expect(bench.routes.table('gull-1', false).map((r) => r.prefix)).toContain('10.96.0.3/32');
});

test('findings are about both families, whichever is looked at, and mark the pair of their own', () => {
  const documents = both();
  const { bench } = open(documents);
  bench.editing.edit(edits(documents, 'v3 set hello 5 on gull-1/to-gull-2'));
  const of = (family: 4 | 6): [number | undefined, string][] => lookAt(bench, family).findings.map((f) => [f.family, f.rule]);
  expect(of(6)).toContainEqual([6, 'hello-interval']);
  expect(of(4)).toEqual(of(6));
  const marked = (family: 4 | 6): (string | null)[] => lookAt(bench, family).pairs.map((p) => p.finding);
  expect(marked(4)).toEqual([null, null]);
  expect(marked(6)[0]).toMatch(/^hello-interval:.*:IPv6$/);
  const [first] = lookAt(bench, 4).findings;
  // What it costs is counted in its own family: two loopbacks each way.
  expect(first && bench.checking.consequence(first.id)?.['routes-lost']).toBe(4);
});

test('an edit while IPv6 is looked at is seen there; where nothing of IPv6 is left, IPv4 is looked at again', () => {
  const documents = both();
  const { bench } = open(documents);
  lookAt(bench, 6);
  const { documents: next, view } = bench.editing.edit(edits(documents, 'v3 set cost 33 on gull-1/to-gull-2'));
  expect([view.family, bench.routes.table('gull-1', false)[1]?.metric]).toEqual([6, 33]);
  const bare = four();
  const back = bench.editing.open({ name: 'Gulls', documents: bare });
  expect([back.family, back.families]).toEqual([4, [4]]);
  expect(next).toHaveLength(documents.length);
});

test('the table of both families says what differs', () => {
  const documents = both();
  const { bench } = open(documents);
  const { documents: edited } = bench.editing.edit(edits(documents, 'v3 set cost 33 on gull-1/to-gull-2'));
  bench.editing.edit(edits(edited, 'v3 set hello 5 on gull-3/to-gull-2'));
  const rows = bench.layout
    .sheet('families')
    .rows.filter((r) => r.loud)
    .map((r) => r.cells.slice(0, 7));
  expect(rows).toEqual([
    ['gull-1', 'to-gull-2', 'cost', '0', '10 | 33', '10', '1 full'],
    ['gull-2', 'to-gull-3', 'neighbours', '0', '10', '10', '1 full | 0 of 1 full'],
    ['gull-3', 'to-gull-2', 'hello, neighbours', '0', '10', '10 | 5', '1 full | 0 of 1 full'],
  ]);
});
