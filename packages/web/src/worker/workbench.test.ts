import { applyEdits, type Edit } from '@gentle-compass/core/design/edit';
import { checkDesign } from '@gentle-compass/core/findings/catalogue';
import { designFrom } from '@gentle-compass/core/formats/read-set';
import { predict, Prediction } from '@gentle-compass/core/predict';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ChangeSummary, DesignView, FailureView } from '../model/view';
import { patched, type ViewPatch } from '../model/view-patch';
import { Held } from './held';
import { Showing } from './showing';
import { Workbench } from './workbench';

const root = join(__dirname, '../../../../demo/saltmarsh-point-before-review');
const files = readdirSync(root).map((name) => ({ name, content: readFileSync(join(root, name), 'utf8') }));

function opened(slice?: number): { bench: Workbench; view: DesignView } {
  const bench = new Workbench(slice);
  const { design } = bench.files.readFiles(files, 'campus');
  if (!design) throw new Error('the sample cannot be read');
  return { bench, view: bench.editing.open(design) };
}

test('a repair says what it changes; its inverse brings the first view back', async () => {
  const { bench, view } = opened();
  const repair = view.findings.find((f) => f.rule === 'dead-interval')?.repairs[0];
  const { view: mended } = bench.editing.edit(repair?.edits ?? []);
  const change = (await bench.editing.change()) as ChangeSummary;
  expect(change.neighborsGained).toBe(2);
  expect(change.changed).toBeGreaterThan(10);
  expect(mended.findings).toHaveLength(view.findings.length - 1);
  const back = bench.editing.edit((repair?.edits ?? []).map((e) => ({ ...e, from: e.to, to: e.from })));
  expect({ ...back.view, milliseconds: 0 }).toEqual({ ...view, milliseconds: 0 });
});
test('a failure is told for all and marked in one table; restoring leaves no trace', async () => {
  const { bench } = opened();
  const before = bench.routes.table('beacon-1', true);
  const f = (await bench.failures.fail(['link:beacon-1/to-kelp-1'])) as FailureView;
  expect(f.downPairs).toEqual(['beacon-1/to-kelp-1~kelp-1/to-beacon-1']);
  expect(f.neighborsLost).toHaveLength(2);
  const marked = bench.routes.table('beacon-1', true);
  expect(marked.filter((r) => r.change === 'lost').map((r) => r.prefix)).toContain('10.96.128.6/31');
  expect(marked.filter((r) => r.change === '').length).toBeGreaterThan(0);
  await bench.failures.fail([]);
  expect(bench.routes.table('beacon-1', true)).toEqual(before);
});
test('what went down with the failure is told apart from what is cut off', async () => {
  const { bench } = opened();
  const f = (await bench.failures.fail(['router:petrel-1'])) as FailureView;
  expect(f.vanished).toContain('10.96.0.41/32');
  expect(f.unreachablePrefixes.map((u) => u.prefix)).not.toContain('10.96.0.41/32');
});
const settings = (expectation: readonly object[]): { name: string; content: string } => ({
  name: 'expectations.json',
  content: JSON.stringify({ 'gentle-compass:settings': { expectation } }),
});

test('an expectation is judged in every failure that it must outlive, as on the command line, and in what is shown down', async () => {
  const bench = new Workbench();
  const one = { name: 'the petrels reach the harbour', kind: 'session', from: 'petrel-4', to: 'harbour-exit' };
  const all = [
    { ...one, under: 'any-router' },
    { ...one, name: 'as it is' },
  ];
  const { design } = bench.files.readFiles([...files.filter((f) => !f.name.includes('settings')), settings(all)], 'campus');
  if (!design) throw new Error('the sample cannot be read');
  const view = bench.editing.open(design);
  const text = await bench.checking.judgedText();
  const judged = patched(view, JSON.parse(text ?? '{}') as ViewPatch);
  const told = checkDesign(predict(designFrom(design.documents).design), design.documents, { withConsequences: false });
  const plain = ({ name, holds, message }: { name: string; holds: boolean; message: string }): object => ({ name, holds, message });
  expect(judged.expectations.map(plain)).toEqual(told.expectations.map(plain));
  expect(judged.findings.filter((f) => f.rule === 'expectation-broken').map((f) => f.id)).toEqual(
    told.findings.filter((f) => f.rule === 'expectation-broken').map((f) => f.id),
  );
  expect(judged.expectations.every((e) => !e.untried)).toBe(true);
  // Judged once; a failure that breaks it says so while it is shown.
  expect(await bench.checking.judgedText()).toBeNull();
  const down = (await bench.failures.fail(['router:harbour-exit'])) as FailureView;
  expect(down.broken.map((e) => e.name).sort()).toEqual(['as it is', 'the petrels reach the harbour']);
});
test('failures that the design does not know are told and change nothing', async () => {
  const f = (await opened().bench.failures.fail(['link:nobody/x', 'nonsense'])) as FailureView;
  expect(f.problems).toHaveLength(2);
  expect(f.lost + f.changed + f.gained).toBe(0);
});
test('evidence reaches the line of a document', () => {
  const { bench } = opened();
  const row = bench.routes.table('kelp-3', false).find((r) => r.prefix === '10.97.12.0/24');
  const e = bench.routes.evidence('kelp-3', row?.prefix ?? '', false);
  expect(e?.steps.map((s) => s.kind)).toEqual(expect.arrayContaining(['own-table', 'rule', 'advertisement', 'path']));
  expect(e?.lines[0]).toMatchObject({ file: 'kelp-4.json' });
  const text = readFileSync(join(root, 'kelp-4.json'), 'utf8')
    .split('\n')
    .slice((e?.lines[0]?.line ?? 1) - 1);
  expect(text[1]).toContain('"archive"');
});
test('nothing readable leaves no design', () => {
  const bench = new Workbench();
  expect(bench.files.readFiles([{ name: 'x.json', content: 'no' }], 'x').design).toBeUndefined();
  expect(bench.files.readFiles([], 'x')).toEqual({ problems: [], notUsed: [], routers: 0 });
});
test('accepting makes an edit of the settings; taken back, the documents are what they were', () => {
  const { bench, view } = opened();
  const finding = view.findings[0];
  if (!finding) throw new Error('no finding');
  const { view: after, documents } = bench.editing.edit(bench.editing.acceptance(finding.id, 'meant'));
  expect(after.findings.find((f) => f.id === finding.id)?.accepted).toEqual({ note: 'meant' });
  expect(documents.map((d) => d.file)).toContain('settings.json');
  const back = bench.editing.edit(bench.editing.acceptance(finding.id));
  expect(back.documents.map((d) => d.file)).not.toContain('settings.json');
  expect({ ...back.view, milliseconds: 0 }).toEqual({ ...view, milliseconds: 0 });
});
test('values with their origins, tables and worksheets come from the same prediction', () => {
  const { bench } = opened();
  expect(bench.layout.values('kelp-1').find((v) => v.iface === 'to-kelp-4' && v.what === 'hello interval')).toMatchObject({
    value: '10 s',
    origin: 'standard',
  });
  expect(bench.files.csv('routers').split('\r\n')).toHaveLength(22);
  expect(bench.files.worksheets().length).toBeGreaterThan(1000);
});

test('the newest question wins: what was being worked out for an older one is given up', async () => {
  const { bench, view } = opened(0);
  const edits = view.findings.find((f) => f.rule === 'dead-interval')?.repairs[0]?.edits ?? [];
  bench.editing.edit(edits);
  const older = bench.editing.change();
  bench.editing.edit(edits.map((e) => ({ ...e, from: e.to, to: e.from })));
  const newer = bench.editing.change();
  expect(await older).toBeNull();
  expect((await newer)?.neighborsLost).toBe(2);
  const [first, second] = await Promise.all([bench.failures.fail(['link:beacon-1/to-kelp-1']), bench.failures.fail(['router:kelp-1'])]);
  expect(first).toBeNull();
  expect(second?.fail).toEqual(['router:kelp-1']);
});

test('through the door as text: the same view, of the documents that the page has after the same edits', () => {
  const { bench, view } = opened();
  const { bench: plain } = opened();
  const edits = view.findings.find((f) => f.rule === 'dead-interval')?.repairs[0]?.edits ?? [];
  const wanted = plain.editing.edit(edits);
  const before = bench.files.readFiles(files, 'campus').design?.documents ?? [];
  const predicted = patched(view, JSON.parse(bench.editing.editText(edits)) as ViewPatch);
  expect({ ...predicted, milliseconds: 0, findings: [] }).not.toEqual({ ...view, milliseconds: 0, findings: [] });
  const after = patched(predicted, JSON.parse(bench.checking.foundText()) as ViewPatch);
  expect({ ...after, milliseconds: 0 }).toEqual({ ...wanted.view, milliseconds: 0 });
  const here = applyEdits(before, edits);
  expect(here.map((d) => d.tree)).toEqual(wanted.documents.map((d) => d.tree));
  expect(here.filter((d) => !before.includes(d))).toHaveLength(1);
});

test('an edit that was tried first, with another one, or before another one, leads where it leads untried', async () => {
  const lines = [
    'set cost 31 on kelp-1/to-kelp-3',
    'set dead 40 on kelp-4/to-kelp-1',
    'set cost 31 on kelp-1/to-kelp-3',
    'set area-type stub on area 10',
  ];
  const { bench, view: first } = opened();
  const { bench: plain } = opened();
  let view = first;
  const editsOf = (b: Workbench, line: string): readonly Edit[] => b.editing.entry(line, []).plan?.edits ?? [];
  for (const [n, line] of lines.entries()) {
    const edits = editsOf(bench, line);
    // Tried, then asked for; tried twice with another one between; another one tried last.
    await bench.editing.tryEdits(edits);
    if (n > 0) await bench.editing.tryEdits(editsOf(bench, 'set cost 77 on petrel-1/to-petrel-3'));
    if (n === 1) await bench.editing.tryEdits(edits);
    view = patched(patched(view, JSON.parse(bench.editing.editText(edits)) as ViewPatch), JSON.parse(bench.checking.foundText()) as ViewPatch);
    const wanted = plain.editing.edit(editsOf(plain, line)).view;
    expect({ ...view, milliseconds: 0 }).toEqual({ ...wanted, milliseconds: 0 });
    for (const r of wanted.routers) expect(bench.routes.table(r.name, false)).toEqual(plain.routes.table(r.name, false));
    expect(await bench.editing.change()).toEqual(await plain.editing.change());
  }
});

test('what was tried and is then done is not predicted again', async () => {
  const { bench } = opened();
  const edits = bench.editing.entry('set cost 31 on kelp-1/to-kelp-3', []).plan?.edits ?? [];
  await bench.editing.tryEdits(edits);
  const edited = jest.spyOn(Prediction.prototype, 'edited');
  bench.editing.editText(edits);
  expect(edited).not.toHaveBeenCalled();
  // On another state it is another thing, the same edits or not.
  bench.editing.editText(edits);
  expect(edited).toHaveBeenCalledTimes(1);
  edited.mockRestore();
});

test('in a large design an edit sends only what it changes, and the view is that of the whole design', () => {
  const bench = new Workbench();
  const made = bench.files.generate({ routers: 160, areas: 6, seed: 7 });
  if (typeof made === 'string') throw new Error(made);
  let view = JSON.parse(bench.editing.openText(made)) as DesignView;
  let { documents } = made;
  const lines = [
    'set cost 77 on beacon-1/to-beacon-2',
    'set hello 7 on beacon-2/to-beacon-1',
    'set priority 0 on beacon-1',
    'link beacon-1 harbour-exit-1 cost 20',
    'set passive true on beacon-2/to-beacon-1',
    'rename beacon-2 lighthouse-2',
    'set area-type stub on area 10',
    'remove harbour-exit-1',
  ];
  let small = 0;
  for (const line of lines) {
    const { edits = [] } = bench.editing.entry(line, []).plan ?? {};
    const text = bench.editing.editText(edits);
    if (text.length < JSON.stringify(view).length / 10) small++;
    view = patched(patched(view, JSON.parse(text) as ViewPatch), JSON.parse(bench.checking.foundText()) as ViewPatch);
    documents = applyEdits(documents, edits);
    const whole = JSON.parse(new Workbench().editing.openText({ name: made.name, documents })) as DesignView;
    expect({ ...view, milliseconds: 0 }).toEqual({ ...whole, milliseconds: 0 });
  }
  expect(small).toBeGreaterThanOrEqual(3);
});

test('what shows the same after an edit is not sent again: no wire and no pair after a cost that none of them shows', () => {
  const bench = new Workbench();
  const made = bench.files.generate({ routers: 160, areas: 6, seed: 7 });
  if (typeof made === 'string') throw new Error(made);
  bench.editing.openText(made);
  const sent = (line: string): number[] => {
    const { lists } = JSON.parse(bench.editing.editText(bench.editing.entry(line, []).plan?.edits ?? [])) as ViewPatch;
    return [lists.routers, lists.segments, lists.pairs].map((l) => l?.changed.length ?? 0);
  };
  expect(sent('set cost 31 on beacon-1/lo')).toEqual([1, 0, 0]);
  // A wire says what it costs, and so does the pair at its ends.
  expect(sent('set cost 77 on beacon-1/to-beacon-2')).toEqual([1, 1, 1]);
});

test('every link is tried with its progress; stopped, there is no answer', async () => {
  const { bench } = opened(0);
  const seen: number[] = [];
  const cuts = await bench.failures.everyCut((done) => seen.push(done));
  const place = cuts?.words.indexOf('link:beacon-1/to-kelp-1') ?? -1;
  expect(place).toBeGreaterThanOrEqual(0);
  expect(cuts?.routers[place]).toBeGreaterThan(3);
  expect(seen[0]).toBeGreaterThan(0);
  const stopped = bench.failures.everyCut(() => undefined);
  bench.failures.stopCuts();
  expect(await stopped).toBeNull();
});

test('a glance at a failure of a large design counts what the whole answer counts', async () => {
  const bench = new Workbench();
  const made = bench.files.generate({ routers: 160, areas: 6, seed: 4 });
  if (typeof made === 'string') throw new Error(made);
  const view = bench.editing.open(made);
  const word = view.segments.find((s) => s.kind === 'cable')?.fail ?? '';
  const glance = bench.failures.glance([word]);
  const whole = await bench.failures.fail([word]);
  expect(glance?.unfinished).toBe(true);
  expect(glance?.downPairs).toEqual(whole?.downPairs);
  // Both ends hold the cut network as their own, not by OSPF: there the two ways of counting differ by that one route.
  const ends = new Set(whole?.neighborsLost.map((n) => n.router));
  const inside = (f: FailureView | null | undefined): unknown[] =>
    (f?.routers ?? []).filter((r) => !ends.has(r.router)).map((r) => [r.router, r.lost, r.gained, r.changed]);
  expect(inside(glance)).toEqual(inside(whole));
});

describe('an edit that fails leaves the desks with what they held', () => {
  const view = (bench: Workbench): object => ({ ...bench.editing.edit([]).view, milliseconds: 0 });

  test.each([
    ['while it is read and predicted', () => jest.spyOn(Held.prototype, 'made')],
    ['while it is put together for the page', () => jest.spyOn(Showing.prototype, 'patch')],
  ])('%s', (_, spy) => {
    const { bench } = opened();
    const edits = bench.editing.entry('set cost 77 on beacon-1/to-kelp-1', []).plan?.edits ?? [];
    expect(edits).toHaveLength(1);
    const before = view(bench);
    const rows = bench.routes.table('kelp-1', false);
    const failing = spy().mockImplementationOnce(() => {
      throw new Error('ran over');
    });
    expect(() => bench.editing.editText(edits)).toThrow('ran over');
    failing.mockRestore();
    expect(view(bench)).toEqual(before);
    expect(bench.routes.table('kelp-1', false)).toEqual(rows);
    // The next edit stands on the same state, and says the same as on a bench that nothing happened to.
    const { bench: untouched } = opened();
    view(untouched);
    const next = bench.editing.entry('set cost 78 on beacon-2/to-kelp-2', []);
    expect(next.plan?.edits).toEqual(untouched.editing.entry('set cost 78 on beacon-2/to-kelp-2', []).plan?.edits);
    expect(next.plan?.edits).toHaveLength(1);
    const after = bench.editing.edit(next.plan?.edits ?? []).view;
    expect(after.routers.find((r) => r.name === 'beacon-1')?.interfaces.find((i) => i.name === 'to-kelp-1')?.cost).not.toBe(77);
  });
});
