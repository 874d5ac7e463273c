import fc from 'fast-check';
import type { SourceDocument } from '../documents/documents';
import { applyEdits, editsBetween, invertEdit } from './edit';

const leaf = fc.oneof(fc.string({ maxLength: 4 }), fc.integer(), fc.boolean(), fc.constant(null));
const tree = fc.letrec<{ node: unknown }>((tie) => ({
  node: fc.oneof(
    { depthSize: 'small', withCrossShrink: true },
    leaf,
    fc.array(tie('node'), { maxLength: 4 }),
    fc.dictionary(fc.constantFrom('a', 'b', 'c', 'd', 'ietf-ip:ipv4'), tie('node'), { maxKeys: 4 }),
  ),
})).node;
const documents = fc
  .uniqueArray(fc.constantFrom('eider.json', 'gannet.json', 'knot.json', 'plover.xml', 'tern.json'), { maxLength: 5 })
  .chain((files) =>
    fc.tuple(
      ...files.map((file) =>
        fc.dictionary(fc.constantFrom('a', 'b', 'c', 'd'), tree, { minKeys: 1, maxKeys: 4 }).map((t): SourceDocument => ({
          file,
          tree: t,
          ...(file.endsWith('xml') ? { encoding: 'xml' as const } : {}),
        })),
      ),
    ),
  );

/** Everything of the documents, the order of members and of documents too. */
const words = (list: readonly SourceDocument[]): string => JSON.stringify(list.map((d) => [d.file, d.encoding, d.tree]));

test('edits between any two sets of documents lead from one to the other, and backwards to the very first', () => {
  fc.assert(
    fc.property(documents, documents, (before, after) => {
      const edits = editsBetween(before, after);
      const there = applyEdits(before, edits);
      const byFile = (list: readonly SourceDocument[]): SourceDocument[] => [...list].sort((a, b) => (a.file < b.file ? -1 : 1));
      expect(words(byFile(there))).toBe(words(byFile(after)));
      expect(words(applyEdits(there, [...edits].reverse().map(invertEdit)))).toBe(words(before));
    }),
    { numRuns: 400, seed: 20_261_123, endOnFailure: true },
  );
});

test('an edit of one leaf is one small edit', () => {
  const before: SourceDocument[] = [{ file: 'knot.json', tree: { areas: [{ id: 0, cost: 1 }, { id: 1 }] } }];
  const after: SourceDocument[] = [
    {
      file: 'knot.json',
      tree: {
        areas: [
          { id: 0, cost: 7 },
          { id: 1, passive: true },
        ],
      },
    },
  ];
  expect(editsBetween(before, after).map(({ at, from, to }) => ({ at, from, to }))).toEqual([
    { at: ['areas', 0, 'cost'], from: 1, to: 7 },
    { at: ['areas', 1, 'passive'], from: undefined, to: true },
  ]);
});
