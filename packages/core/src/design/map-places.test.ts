import { campus } from '../testing/campus';
import { designFrom } from '../formats/read-set';
import { applyEdits, invertEdit, type Edit } from './edit';
import { placeEdits } from './map-places';

const two = campus().router('a', '10.96.0.1', 0).router('b', '10.96.0.2', 0).port('a', 'x', '10.96.1.1/31', 0).port('b', 'x', '10.96.1.0/31', 0);

test('places chosen by hand are kept in whole units, moved, and given up again without a trace', () => {
  const { documents } = designFrom(two.documents());
  const put = (on: typeof documents, edits: readonly Edit[]) => applyEdits(on, edits);
  const first = put(documents, placeEdits(documents, [{ name: 'a', folded: false, at: { x: 10.4, y: -3.6 } }]));
  expect(designFrom(first).design.settings.places).toEqual([{ name: 'a', x: 10, y: -4, folded: false }]);
  expect(designFrom(first).problems).toEqual([]);
  const second = put(
    first,
    placeEdits(first, [
      { name: 'a', folded: false, at: { x: 1, y: 1 } },
      { name: 'a', folded: true, at: { x: 2, y: 2 } },
    ]),
  );
  expect(designFrom(second).design.settings.places).toEqual([
    { name: 'a', x: 1, y: 1, folded: false },
    { name: 'a', x: 2, y: 2, folded: true },
  ]);
  const edits = placeEdits(second, [
    { name: 'a', folded: false },
    { name: 'a', folded: true },
  ]);
  const none = put(second, edits);
  expect(designFrom(none).design.settings.places).toEqual([]);
  expect(put(none, [...edits].reverse().map(invertEdit))).toEqual(second);
  expect(placeEdits(documents, [{ name: 'b', folded: false }])).toEqual([]);
});

test('a place that is not whole is told, and the others hold', () => {
  const { design, problems } = two
    .settings({
      map: {
        place: [
          { name: 'a', x: 5 },
          { name: 'b', x: 5, y: 'low' },
          { name: 'b', x: 1, y: 2 },
        ],
      },
    })
    .read();
  expect(design.settings.places).toEqual([{ name: 'b', x: 1, y: 2, folded: false }]);
  expect(problems.map((p) => p.message)).toEqual([
    expect.stringContaining('does not say whose it is and where'),
    expect.stringContaining('"low" is not a whole number'),
  ]);
});
