import 'fake-indexeddb/auto';
import fc from 'fast-check';
import type { StoredDesign } from './kept';
import { Shelf } from './shelf';
import { putTogether, type RawDesign } from './sound';

const document = (file: string): StoredDesign['documents'][number] => ({ file, tree: { 'ietf-system:system': { hostname: file } } });
const step = (title: string): StoredDesign['history'][number] => ({
  title,
  edits: [{ router: 'knot', file: 'knot.json', at: ['x'], from: undefined, to: 1 }],
  made: 5,
});
const files = ['knot.json', 'tern.json', 'eider.json'];
const kept: StoredDesign = {
  id: 'd',
  name: 'Tern islet',
  documents: files.map(document),
  history: [step('one'), step('two'), step('three')],
  position: 2,
  updated: 1,
  revision: 0,
};
let names = 0;
async function shelfWith(): Promise<Shelf> {
  const shelf = new Shelf(`sound-${++names}`);
  await shelf.put(kept);
  return shelf;
}

test('a design as it was kept is whole', async () => {
  const shelf = await shelfWith();
  const opened = await shelf.opened('d');
  expect(opened?.damage).toEqual([]);
  expect(opened?.design).toMatchObject({ documents: kept.documents, history: kept.history, position: 2, revision: 1 });
  expect(await shelf.opened('nobody')).toBeUndefined();
});

test.each<[string, (s: Shelf) => Promise<unknown>, string, string[]]>([
  ['a document that is missing', (s) => s.documents.delete(['d', 'tern.json']), 'The document tern.json is missing.', ['knot.json', 'eider.json']],
  [
    'a document that is no tree',
    (s) => s.documents.update(['d', 'tern.json'], { document: { file: 'tern.json', tree: 'gone' } as never }),
    'The document tern.json is damaged.',
    ['knot.json', 'eider.json'],
  ],
  [
    'a document under another name',
    (s) => s.documents.update(['d', 'tern.json'], { document: document('other.json') }),
    'The document tern.json is damaged.',
    ['knot.json', 'eider.json'],
  ],
  [
    'a document that the design does not list',
    (s) => s.documents.put({ design: 'd', file: 'stray.json', document: document('stray.json') }),
    'The document stray.json stands beside it, and the design does not list it.',
    files,
  ],
  ['a step that is missing', (s) => s.steps.delete(['d', 1]), 'Its history is damaged: steps are missing or cannot be read.', files],
  [
    'a step without edits',
    (s) => s.steps.update(['d', 1], { edits: 7 as never }),
    'Its history is damaged: steps are missing or cannot be read.',
    files,
  ],
  ['a history that is too short', (s) => s.designs.update('d', { position: 9 }), 'Its history ends after 3 of 9 steps.', files],
  [
    'a list of files that is none',
    (s) => s.designs.update('d', { files: 'all' as never }),
    'What it says of itself (its name, its files, where its history stands) is damaged.',
    ['eider.json', 'knot.json', 'tern.json'],
  ],
])('%s is told; what is whole is there, without a history that no longer fits', async (_, damage, words, whole) => {
  const shelf = await shelfWith();
  await damage(shelf);
  const opened = await shelf.opened('d');
  expect(opened?.damage).toEqual([words]);
  expect(opened?.design.documents.map((d) => d.file)).toEqual(whole);
  expect(opened?.design).toMatchObject({ history: [], position: 0 });
  // Nothing is mended in silence: the rows are what they were, for whoever exports them.
  const raw = await shelf.raw('d');
  expect(putTogether('d', raw as RawDesign).damage).toEqual([words]);
});

test('a damaged design stays on the shelf under its name, the others beside it', async () => {
  const shelf = await shelfWith();
  await shelf.put({ ...kept, id: 'e', name: 'Gull rock' });
  await shelf.designs.update('d', { revision: 'many' as never });
  expect((await shelf.list()).map((d) => d.name).sort()).toEqual(['Gull rock', 'Tern islet (damaged)']);
  await shelf.designs.update('d', { name: 4 as never });
  expect((await shelf.list()).map((d) => d.name)).toContain('A design without a name (damaged)');
});

test('whatever the rows are, a design comes out whose parts fit each other, or it is told', () => {
  const anything = fc.anything({ maxDepth: 2 });
  const row = fc.oneof(
    anything,
    fc.record({
      id: fc.constant('d'),
      name: fc.string(),
      updated: fc.nat(),
      revision: fc.nat(),
      position: fc.nat(4),
      files: fc.subarray(files),
    }),
  );
  const sound = fc.subarray(files).map((list) => list.map((file): unknown => ({ design: 'd', file, document: document(file) })));
  const documents = fc.oneof(
    sound,
    fc.tuple(sound, anything).map(([list, odd]) => [...list, odd]),
  );
  const counted = fc.nat(4).map((n) => Array.from({ length: n }, (_, i): unknown => ({ design: 'd', n: i, ...step(`s${i}`) })));
  const steps = fc.oneof(
    counted,
    fc.tuple(counted, anything).map(([list, odd]) => [odd, ...list]),
  );
  let whole = 0;
  fc.assert(
    fc.property(row, documents, steps, (r, d, s) => {
      const { design, damage } = putTogether('d', { row: r, documents: d, steps: s });
      expect(design.position).toBeLessThanOrEqual(design.history.length);
      for (const x of design.documents) expect(typeof x.tree).toBe('object');
      if (damage.length > 0) return;
      whole++;
      expect(design.documents.map((x) => x.file)).toEqual((r as { files: string[] }).files);
      expect(design.history).toHaveLength(s.length);
    }),
    { numRuns: 2000, seed: 20_261_129 },
  );
  expect(whole).toBeGreaterThan(20);
});
