import { applyEdits } from '../design/edit';
import { designFrom } from '../formats/read-set';
import { predictFamilies } from '../predict';
import { Trials } from '../sweep/sweep';
import { campus } from '../testing/campus';
import { dual } from '../testing/dual';
import { square } from '../testing/square';
import { finished, spec } from '../testing/steps';
import { addingLinks, type LinkAdvice } from './added-link';

const chain = () =>
  campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .router('d', '10.96.0.4', 0)
    .cable('a', 'b', '10.96.1.0', 0, 10)
    .cable('b', 'c', '10.96.1.2', 0, 10)
    .cable('c', 'd', '10.96.1.4', 0, 10);

function advised(c: ReturnType<typeof campus>, ...fail: string[]): LinkAdvice {
  const { design, documents } = c.read();
  return finished(addingLinks(predictFamilies(design), documents, fail.map(spec)));
}

test('counted by hand: a chain that is cut in the middle is made whole by a second cable there', () => {
  const { now, best, tried, possible } = advised(chain(), 'link:b/to-c');
  // a and b with c and d, there and back.
  expect(now).toMatchObject({ cutPairs: 8, broken: [] });
  // Two on one side, two on the other: four links, all of one kind.
  expect([possible, tried]).toEqual([4, 4]);
  expect(best).toMatchObject({ cutPairs: 0, line: 'link b c' });
  // A new link costs what the others of its area cost, or the usual; only this one lets no way grow.
  expect(best?.longestDetour).toBeUndefined();
});

test('of a hub that fails one link saves two leaves of three, in both families', () => {
  const star = (): ReturnType<typeof campus> =>
    campus()
      .router('hub', '10.96.0.1', 0)
      .router('a', '10.96.0.2', 0)
      .router('b', '10.96.0.3', 0)
      .router('c', '10.96.0.4', 0)
      .cable('hub', 'a', '10.96.1.0', 0, 10)
      .cable('hub', 'b', '10.96.1.2', 0, 10)
      .cable('hub', 'c', '10.96.1.4', 0, 10);
  expect(advised(star(), 'router:hub')).toMatchObject({ now: { cutPairs: 6 }, best: { cutPairs: 4 }, possible: 3 });
  // The line adds the link to both versions where both ends speak both.
  expect(advised(dual(star()), 'router:hub')).toMatchObject({ now: { cutPairs: 12 }, best: { cutPairs: 8 } });
  // Of two failures as of one.
  expect(advised(star(), 'router:hub', 'router:c')).toMatchObject({ now: { cutPairs: 2 }, best: { cutPairs: 0, line: 'link a b' } });
});

test('what it promises is what a sweep finds when the link is there; a border that is lost is made up for inside its area', () => {
  const c = campus()
    .router('core', '10.96.0.1', 0)
    .router('east', '10.96.0.2', 0)
    .router('west', '10.96.0.3', 0)
    .router('x', '10.96.0.4', 10)
    .router('y', '10.96.0.5', 10)
    .cable('core', 'east', '10.96.1.0', 0, 10)
    .cable('core', 'west', '10.96.1.2', 0, 10)
    .cable('east', 'x', '10.97.1.0', 10, 10)
    .cable('west', 'y', '10.97.1.2', 10, 10)
    .settings({ expectation: [{ name: 'core reaches x', kind: 'reach', from: 'core', to: 'x' }] });
  const { design, documents } = c.read();
  const { now, best } = finished(addingLinks(predictFamilies(design), documents, [spec('router:east')]));
  expect(now.broken).toEqual(['core reaches x']);
  // x stands with west and y: with core and none of them it shares no area.
  expect(best).toMatchObject({ broken: [], cutPairs: 0 });
  expect(best?.routers.includes('x')).toBe(true);
  const after = designFrom(applyEdits(documents, best?.edits ?? [])).design;
  expect(new Trials(predictFamilies(after)).try([spec('router:east')])).toMatchObject({ cutPairs: 0, broken: [] });
});

test('where nothing is cut nothing is promised', () => {
  const ring = chain().cable('a', 'd', '10.96.1.6', 0, 10);
  expect(advised(ring, 'link:b/to-c')).toMatchObject({ now: { cutPairs: 0 }, best: undefined, tried: 0, possible: 0 });
});

test('where no area is in pieces and an expectation breaks all the same, links between any two of an area are tried', () => {
  // By b it costs 20, by c 40, and packets from a to d are to go by b.
  const c = square(10, 20).settings({ expectation: [{ name: 'a near d', kind: 'path', from: 'a', to: 'd', through: ['b'] }] });
  const { now, best, possible } = advised(c, 'link:a/to-b');
  expect(now).toMatchObject({ cutPairs: 0, broken: ['a near d'] });
  // Two that are no neighbours any more: a with b, and a with d; b with c. Only a with b leads by b again.
  expect(possible).toBe(3);
  expect(best).toMatchObject({ line: 'link a b', broken: [] });
});

test('links that mend nothing are not promised, however many there are', () => {
  // c has no loopback in OSPF: cut off it takes nobody with it. Both links are of one kind.
  const c = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3')
    .cable('a', 'b', '10.96.1.0', 0, 10)
    .cable('b', 'c', '10.96.1.2', 0, 10);
  expect(advised(c, 'link:b/to-c')).toMatchObject({ now: { cutPairs: 0 }, best: undefined, tried: 1, possible: 2 });
});
