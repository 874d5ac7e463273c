import { applyEdits } from '../design/edit';
import { designFrom } from '../formats/read-set';
import { predict, type Prediction } from '../predict';
import { campus, routeTo, type Campus } from '../testing/campus';
import { denseWords, readableWords } from '../testing/table-words';

/** Prefixes that stand in more than one place: inside two areas, inside one and told of, or inside and folded into a range. */
const users = { passive: true };
const off = { passive: true, enabled: false };

const agree = (p: Prediction): Prediction => {
  expect(denseWords(p).sort()).toEqual(readableWords(p).sort());
  return p;
};

/** The states before and after a port is turned on, the second computed from the first. */
function turnedOn(c: Campus, router: string, port: string): [Prediction, Prediction] {
  const documents = c.documents();
  const before = agree(predict(designFrom(documents).design));
  const at = before.adjacencies.ports.find((p) => before.design.routers[p.routerIndex]?.name === router && p.iface.name === port)?.settings.at;
  if (!at) throw new RangeError(`no port ${router}/${port}`);
  const { design } = designFrom(applyEdits(documents, [{ router, file: `${router}.json`, at: [...at, 'enabled'], from: undefined, to: true }]));
  const after = agree(before.edited(design));
  expect(after.fast.arrays.lineage).toBe(before.fast.arrays.lineage);
  expect(denseWords(after).sort()).toEqual(denseWords(predict(design)).sort());
  return [before, after];
}

test('a border router that has a network inside two areas takes the nearer one, and of equal ones both', () => {
  const c = (cost: number): Campus =>
    campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .router('d', '10.97.0.4', 1)
      .cable('a', 'b', '10.96.1.0', 0)
      .cable('a', 'd', '10.97.1.0', 1)
      .port('b', 'lab', '10.99.1.1/24', 0, { ...users, cost: 20 })
      .port('d', 'lab', '10.99.1.2/24', 1, { ...users, cost });
  expect(routeTo(agree(c(5).predict()), 'a', '10.99.1.0/24')).toBe('intra-area 15 via to-d 10.97.1.1');
  expect(routeTo(agree(c(20).predict()), 'a', '10.99.1.0/24')).toBe('intra-area 30 via to-b 10.96.1.1, to-d 10.97.1.1');
  expect(routeTo(agree(c(21).predict()), 'a', '10.99.1.0/24')).toBe('intra-area 30 via to-b 10.96.1.1');
});

/** Border routers a and b of areas 1 and 2; d in area 1 near a, e in area 2 with a lab. */
const twoAreas = (): Campus =>
  campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('d', '10.97.0.4', 1)
    .router('e', '10.98.0.5', 2)
    .cable('a', 'b', '10.96.1.0', 0)
    .cable('a', 'd', '10.97.1.0', 1, 1)
    .cable('b', 'd', '10.97.1.2', 1, 50)
    .cable('a', 'e', '10.98.1.0', 2)
    .cable('b', 'e', '10.98.1.2', 2)
    .port('e', 'lab', '10.98.8.1/24', 2, users);

test('a network that one border router folds and another tells is not told on by the first, though it hears of it in the backbone', () => {
  const p = agree(
    twoAreas()
      .area('a', 2, { ranges: { range: [{ prefix: '10.98.0.0/16' }] } })
      .predict(),
  );
  expect(routeTo(p, 'd', '10.98.8.0/24')).toBe('inter-area 70 via to-b 10.97.1.2');
  expect(routeTo(p, 'd', '10.98.0.0/16')).toMatch(/^inter-area \d+ via to-a /);
});

test('what border routers come to have inside, under a range that says the same as before, they tell on no more', () => {
  const c = twoAreas()
    .router('y', '10.96.0.6', 0)
    .router('z', '10.99.0.7', 3)
    .cable('a', 'y', '10.96.1.2', 0)
    .cable('y', 'z', '10.99.1.0', 3)
    .port('z', 'lab', '10.98.9.1/24', 3, users)
    .port('e', 'more', '10.98.9.2/24', 2, off);
  for (const r of ['a', 'b']) c.area(r, 2, { ranges: { range: [{ prefix: '10.98.0.0/16', cost: 7 }] } });
  const [before, after] = turnedOn(c, 'e', 'more');
  expect(routeTo(before, 'd', '10.98.9.0/24')).toBe('inter-area 31 via to-a 10.97.1.0');
  expect(routeTo(after, 'd', '10.98.9.0/24')).toBe('');
  expect(routeTo(after, 'd', '10.98.0.0/16')).toBe('inter-area 8 via to-a 10.97.1.0');
});

test('what comes to stand inside the backbone, and is told of there as before, stands in a table once', () => {
  const c = campus()
    .router('a', '10.96.0.1', 0)
    .router('e', '10.98.0.5', 2)
    .router('f', '10.98.0.6', 2)
    .router('z', '10.96.0.7', 0)
    .cable('a', 'e', '10.98.1.0', 2)
    .cable('a', 'z', '10.96.1.2', 0)
    .lan('lab', '10.98.8.0/24', 2, ['e', 'f'])
    .port('z', 'lab', '10.98.8.9/24', 0, { ...off, cost: 100 })
    // Two networks of one address, not joined.
    .links(['a/to-e e/to-a', 'a/to-z z/to-a', 'e/lab reef', 'f/lab reef', 'z/lab rock']);
  const [before, after] = turnedOn(c, 'z', 'lab');
  expect(routeTo(before, 'z', '10.98.8.0/24')).toBe('inter-area 30 via to-a 10.96.1.2');
  expect(routeTo(after, 'z', '10.98.8.0/24')).toBe('intra-area 100 via lab');
});
