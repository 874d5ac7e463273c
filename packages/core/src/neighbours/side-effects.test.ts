import { predict } from '../predict';
import { campus } from '../testing/campus';
import type { Edit } from '../design/edit';
import { readLines } from '../entry/lines';
import { sideEffects } from './side-effects';

const three = () =>
  campus()
    .router('auk', '10.96.0.1', 0)
    .router('crake', '10.96.0.2', 0)
    .router('dunlin', '10.96.0.3', 0)
    .lan('reef', '10.97.1.0/24', 0, ['auk', 'crake', 'dunlin'])
    .cable('auk', 'crake', '10.97.0.0', 0);
const edits = (lines: readonly string[]): { documents: ReturnType<ReturnType<typeof three>['documents']>; edits: readonly Edit[] } => {
  const documents = three().documents();
  const read = readLines(lines, documents);
  expect(read.faults).toEqual([]);
  return { documents, edits: read.edits };
};

test('a hello interval changed end by end drops the pair until the other follows; there is a time in which nothing is lost', () => {
  const e = edits(['set hello 5 on auk/to-crake', 'set hello 5 on crake/to-auk']);
  const s = sideEffects(predict(three().read().design), e.documents, e.edits);
  expect(s.steps.map((x) => [x.router, x.lost])).toEqual([
    ['auk', ['auk and crake']],
    ['crake', []],
  ]);
  expect(s.after).toEqual({ lost: [], gained: [], routesLost: 0 });
  // At once there is no time: 20 s, less a hello that was due (10 s) and the next one (10 s). First the hello interval, with the old
  // dead interval of 40 s (20 s to follow), then the dead interval: 20 s, less two hellos of 5 s.
  expect(s.following?.withinS).toBe(10);
  expect(s.following?.steps.map((x) => x.to)).toEqual([
    { hello: 5, dead: 40 },
    { hello: 5, dead: 20 },
  ]);
  const wide = edits(['set hello 8 on auk/to-crake', 'set hello 8 on crake/to-auk', 'set dead 40 on auk/to-crake', 'set dead 40 on crake/to-auk']);
  expect(sideEffects(predict(three().read().design), wide.documents, wide.edits).following?.withinS).toBe(20);
});

test('what does no harm in any order loses nothing; on a LAN the one that goes first loses all others, and the last brings them back', () => {
  const e = edits(['set cost 30 on auk/to-crake', 'set cost 30 on crake/to-auk']);
  const harmless = sideEffects(predict(three().read().design), e.documents, e.edits);
  expect([harmless.worst, harmless.steps.flatMap((x) => x.lost), harmless.following]).toEqual([0, [], undefined]);
  const one = edits(['set hello 5 on auk/reef']);
  const lan = sideEffects(predict(three().read().design), one.documents, one.edits);
  expect(lan.after.lost).toEqual(['auk and crake', 'auk and dunlin']);
});

test('a LAN of two that becomes point-to-point end by end stays Full and carries nothing until the other follows', () => {
  const wide = campus().router('auk', '10.96.0.1', 0).router('crake', '10.96.0.2', 0).lan('reef', '10.97.1.0/30', 0, ['auk', 'crake']);
  const documents = wide.documents();
  const read = readLines(['set type point-to-point on auk/reef', 'set type point-to-point on crake/reef'], documents);
  const s = sideEffects(predict(wide.read().design), documents, read.edits);
  // Each loses the loopback of the other.
  expect(s.steps.map((x) => [x.lost, x.routesLost])).toEqual([
    [[], 2],
    [[], 0],
  ]);
});
