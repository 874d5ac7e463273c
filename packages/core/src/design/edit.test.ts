import fc from 'fast-check';
import type { SourceDocument } from '../documents/documents';
import { applyEdits, editsBetween, invertEdit, stillFits, type Edit } from './edit';

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

describe('edits on documents that were changed meanwhile', () => {
  const doc = (file: string, tree: Record<string, unknown>): SourceDocument => ({ file, tree });
  const two = (cost: number, names: readonly string[] = ['a', 'b']): SourceDocument[] => [
    doc('r.json', { interface: names.map((name) => ({ name, cost: name === 'a' ? cost : 5 })) }),
  ];
  const edit = (at: Edit['at'], from: Edit['from'], to: Edit['to'], file = 'r.json'): Edit => ({ router: 'r', file, at, from, to });

  test('fit where every value stands as it did, under the same names', () => {
    const cost = edit(['interface', 0, 'cost'], 10, 20);
    expect(stillFits([cost], two(10), two(10))).toBe(true);
    expect(stillFits([cost], two(10), [...two(10), doc('s.json', { x: 1 })])).toBe(true);
    expect(stillFits([cost], two(10), two(11))).toBe(false);
    // At that place of the list stands another interface now, of the same cost.
    expect(stillFits([edit(['interface', 1, 'cost'], 5, 6)], two(10), two(10, ['a', 'c']))).toBe(false);
    expect(stillFits([edit(['interface', 2], undefined, { name: 'z' })], two(10), two(10, ['a', 'b', 'c']))).toBe(false);
  });

  test('each on what those before it lead to; documents that come and go count too', () => {
    const twice = [edit(['interface', 0, 'cost'], 10, 20), edit(['interface', 0, 'cost'], 20, 30)];
    expect(stillFits(twice, two(10), two(10))).toBe(true);
    expect(stillFits(twice.slice(1), two(10), two(10))).toBe(false);
    const fresh = edit([], {}, { x: 1 }, 'new.json');
    expect(stillFits([fresh], two(10), two(10))).toBe(true);
    expect(stillFits([fresh], two(10), [...two(10), doc('new.json', { x: 2 })])).toBe(false);
    expect(stillFits([edit([], { x: 1 }, {}, 's.json')], [doc('s.json', { x: 1 })], [])).toBe(false);
  });
});
