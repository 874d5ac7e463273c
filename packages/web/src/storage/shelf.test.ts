import 'fake-indexeddb/auto';
import Dexie from 'dexie';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { applyEdits, invertEdit } from '@gentle-compass/core/design/edit';
import { designFrom } from '@gentle-compass/core/formats/read-set';
import { Overtaken, type Change, type StoredDesign } from './kept';
import { Shelf } from './shelf';

let names = 0;
const empty = (): Shelf => new Shelf(`test-${++names}`);
const document = (file: string, cost: number): StoredDesign['documents'][number] => ({ file, tree: { cost } });
const design = (id: string, documents = [document('knot.json', 1), document('tern.json', 2)]): StoredDesign => ({
  id,
  name: `design ${id}`,
  documents,
  history: [],
  position: 0,
  updated: 1,
  revision: 0,
});
const step = (title: string): StoredDesign['history'][number] => ({
  title,
  edits: [{ router: 'knot', file: 'knot.json', at: ['cost'], from: 1, to: 9 }],
});
const change = (d: StoredDesign, more: Partial<Change>): Change => ({
  documents: d.documents,
  changed: [],
  history: d.history,
  position: d.position,
  steps: [],
  ...more,
});

test('a design is kept and found again as the last one, its documents in their order', async () => {
  const shelf = empty();
  expect(await shelf.last()).toBeUndefined();
  await shelf.put(design('1'));
  await shelf.put(design('2', [document('tern.json', 2), document('eider.json', 3)]));
  expect((await shelf.last())?.design).toMatchObject({ id: '2', revision: 1, documents: [document('tern.json', 2), document('eider.json', 3)] });
  await shelf.markOpen('1');
  expect((await shelf.last())?.design.id).toBe('1');
  expect((await shelf.list()).map((d) => d.id).sort()).toEqual(['1', '2']);
});

test('a change writes the documents and steps that it changes, and takes out what is gone', async () => {
  const shelf = empty();
  const revision = await shelf.put(design('1'));
  const d = { ...design('1'), revision };
  const documents = [document('knot.json', 9), document('plover.json', 4)];
  const next = await shelf.change(d, change(d, { documents, changed: documents, history: [step('one'), step('two')], position: 2, steps: [0, 1] }));
  expect(await shelf.design('1')).toMatchObject({ documents, position: 2, revision: next, history: [{ title: 'one' }, { title: 'two' }] });
  // Back by one step, and on another way: what could have been redone is given up.
  const now = { ...d, revision: next };
  await shelf.change(now, change(d, { documents, history: [step('one'), step('other')], position: 2, steps: [1] }));
  expect((await shelf.design('1'))?.history.map((s) => s.title)).toEqual(['one', 'other']);
  await shelf.effect('1', 1, 'other', {
    neighborsGained: 1,
    neighborsLost: 0,
    gained: 0,
    lost: 0,
    changed: 0,
    routers: 0,
    findingsGone: 0,
    findingsNew: 0,
  });
  expect((await shelf.design('1'))?.history[1]?.effect?.neighborsGained).toBe(1);
});

test('who writes on an older state than there is writes nothing', async () => {
  const shelf = empty();
  const d = { ...design('1'), revision: await shelf.put(design('1')) };
  const documents = [document('knot.json', 5)];
  await shelf.change(d, change(d, { documents, changed: documents }));
  const late = shelf.change(d, change(d, { documents: [], history: [step('late')], position: 1, steps: [0] }));
  await expect(late).rejects.toBeInstanceOf(Overtaken);
  await expect(shelf.put(d)).rejects.toMatchObject({ gone: false });
  expect(await shelf.design('1')).toMatchObject({ documents, history: [], position: 0 });
  await shelf.remove('1');
  await expect(shelf.change(d, change(d, {}))).rejects.toMatchObject({ gone: true });
});

test('a write that fails half way leaves nothing behind', async () => {
  const shelf = empty();
  const d = { ...design('1'), revision: await shelf.put(design('1')) };
  const bad = { file: 'knot.json', tree: { cost: (): number => 1 } } as unknown as StoredDesign['documents'][number];
  await expect(shelf.change(d, change(d, { documents: [bad], changed: [bad], history: [step('bad')], position: 1, steps: [0] }))).rejects.toThrow();
  expect(await shelf.design('1')).toMatchObject({ documents: d.documents, history: [], position: 0, revision: d.revision });
});

test('every write locks every table, so that a killed browser never finds two of them half done', async () => {
  const begun = jest.spyOn(IDBDatabase.prototype, 'transaction');
  try {
    const shelf = empty();
    const d = { ...design('1'), revision: await shelf.put(design('1')) };
    const effect = { neighborsGained: 0, neighborsLost: 0, gained: 0, lost: 0, changed: 0, routers: 0, findingsGone: 0, findingsNew: 0 };
    const writes: (() => Promise<unknown>)[] = [
      () => shelf.change(d, change(d, { history: [step('one')], position: 1, steps: [0] })),
      () => shelf.effect('1', 0, 'one', effect),
      () => shelf.summarise('1', { routers: 2, areas: 1, routes: 3, errors: 0, warnings: 0 }),
      () => shelf.markOpen('1'),
      () => shelf.keepSetting('timing-profile', '{}'),
      () => shelf.rename('1', 'other'),
      () => shelf.putVersion({ id: 'v', design: '1', name: 'before', note: '', made: 5, documents: [] }),
      () => shelf.removeVersion('v'),
      () => shelf.remove('1'),
    ];
    await shelf.open();
    const tables = shelf.tables.map((t) => t.name).sort();
    for (const w of writes) {
      begun.mockClear();
      await w();
      const writing = begun.mock.calls.filter(([, mode]) => mode === 'readwrite');
      expect(writing.map(([names]) => Array.from(names).sort())).toEqual([tables]);
    }
    // Whatever writes is in the list above: a method that nobody names here is to be added.
    const reads = ['constructor', 'write', 'raw', 'opened', 'design', 'last', 'list', 'versionsOf', 'setting'];
    expect(Object.getOwnPropertyNames(Shelf.prototype)).toHaveLength(reads.length + 1 + writes.length);
  } finally {
    begun.mockRestore();
  }
});

test('versions stay with their design and go with it', async () => {
  const shelf = empty();
  await shelf.put(design('1'));
  await shelf.putVersion({ id: 'v', design: '1', name: 'before the review', note: '', made: 5, documents: [document('knot.json', 1)] });
  expect((await shelf.versionsOf('1')).map((v) => v.name)).toEqual(['before the review']);
  await shelf.remove('1');
  expect(await shelf.versionsOf('1')).toEqual([]);
  expect(await shelf.documents.count()).toBe(0);
});

/** What the first version of the store held, as it was read out of a browser that ran it. */
const kept = JSON.parse(readFileSync(join(__dirname, 'kept-by-version-1.json'), 'utf8')) as {
  designs: StoredDesign[];
  settings: { key: string; value: string }[];
};

test('what the first version kept is there after the upgrade: documents, steps, position, the open design', async () => {
  const name = `test-${++names}`;
  const old = new Dexie(name);
  old.version(1).stores({ designs: 'id, updated', settings: 'key' });
  await old.table('designs').bulkPut(kept.designs);
  await old.table('settings').bulkPut(kept.settings);
  old.close();
  const shelf = new Shelf(name);
  for (const d of kept.designs) {
    const { documents, history, position, name: title, updated } = d;
    expect(await shelf.design(d.id)).toMatchObject({ documents, history, position, name: title, updated, revision: 1 });
  }
  const last = (await shelf.last())?.design;
  expect(last?.id).toBe(kept.settings.find((s) => s.key === 'open')?.value);
  // The steps still lead back and forth.
  const back =
    last?.history
      .slice(0, last.position)
      .reverse()
      .flatMap((s) => [...s.edits].reverse().map(invertEdit)) ?? [];
  expect(back.length).toBeGreaterThan(0);
  const first = applyEdits(last?.documents ?? [], back);
  expect(designFrom(first).problems.filter((p) => p.severity === 'error')).toEqual([]);
  expect(first).not.toEqual(last?.documents);
  // And it can be changed.
  if (last) await shelf.change(last, change(last, { position: 0 }));
  expect((await shelf.last())?.design.position).toBe(0);
});
