import { applyEdits } from '../design/edit';
import { readEntry } from '../entry/entry';
import { designFrom } from '../formats/read-set';
import { predict } from '../predict';
import { campus } from '../testing/campus';
import { proposedRisks } from './proposed-risks';

const pair = () =>
  campus()
    .router('b', '10.96.0.2', 0)
    .router('a', '10.96.0.1', 0)
    .router('c', '10.96.0.3', 0)
    .port('a', 'one', '10.96.1.0/31', 0, { 'interface-type': 'point-to-point' })
    .port('b', 'one', '10.96.1.1/31', 0, { 'interface-type': 'point-to-point' })
    .port('a', 'two', '10.96.1.2/31', 0, { 'interface-type': 'point-to-point' })
    .port('b', 'two', '10.96.1.3/31', 0, { 'interface-type': 'point-to-point' })
    .cable('b', 'c', '10.96.1.4', 0);
const cables = ['a/one b/one', 'a/two b/two', 'b/to-c c/to-b'];

test('parallel cables are proposed as one risk, by a line that is carried out; then there is nothing more to propose', () => {
  const { documents, design } = pair().read();
  const [proposed, ...more] = proposedRisks(predict(design));
  expect(more).toEqual([]);
  expect(proposed).toEqual({
    name: 'a and b',
    members: ['link:a/one', 'link:a/two'],
    line: 'shared-risk "a and b" of link:a/one link:a/two',
  });
  const { plan } = readEntry(proposed?.line ?? '', documents);
  const after = predict(designFrom(applyEdits(documents, plan?.edits ?? [])).design);
  expect(after.design.topology.riskGroups).toMatchObject([{ name: 'a and b' }]);
  expect(proposedRisks(after)).toEqual([]);
});

test('a risk that holds only one of them leaves the other open; a name that is taken gets another', () => {
  const half = pair().links(cables, {}, [{ name: 'a and b', members: ['l0', 'c'] }]);
  expect(proposedRisks(half.predict()).map((r) => r.name)).toEqual(['a and b, all cables']);
  // A wider one holds both, whether by link or by router.
  expect(
    proposedRisks(
      pair()
        .links(cables, {}, [{ name: 'room', members: ['a'] }])
        .predict(),
    ),
  ).toEqual([]);
  expect(
    proposedRisks(
      pair()
        .links(cables, {}, [{ name: 'duct', members: ['l0', 'l1', 'l2'] }])
        .predict(),
    ),
  ).toEqual([]);
});
