import * as fc from 'fast-check';
import { campus } from '../testing/campus';
import { documentsFor, predictFor } from '../testing/mirror';
import { campusOf, plans } from '../testing/random-campus';
import { treeMoves, treeOf } from './tree';

const square = (cost: number) =>
  campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .router('d', '10.96.0.4', 0)
    .cable('a', 'b', '10.96.1.0', 0, 10)
    .cable('a', 'c', '10.96.1.2', 0, cost)
    .lan('pier', '10.97.1.0/24', 0, ['b', 'c', 'd'], { cost: 5 });

test.each([4, 6] as const)('the tree with each last step, its interface and its cost; in IPv%s', (family) => {
  const p = predictFor(family, documentsFor(family, square(10).documents()));
  const [s] = p.speakersOf(0);
  const tree = s && treeOf(p, s, 0);
  expect(
    tree?.map((t) => [t.router, t.distance, t.edges.map((e) => `${e.from}/${e.iface} ${e.cost}${e.lan === undefined ? '' : ' over the LAN'}`)]),
  ).toEqual([
    ['a', 0, []],
    ['b', 10, ['a/to-b 10']],
    ['c', 10, ['a/to-c 10']],
    ['d', 15, ['b/pier 5 over the LAN', 'c/pier 5 over the LAN']],
  ]);
  expect(s && treeOf(p, s, 20)).toBeUndefined();
});

test('of cables side by side the dearer one is no step', () => {
  const p = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .cable('a', 'b', '10.96.1.0', 0, 10)
    .port('a', 'spare', '10.96.1.2/31', 0, { 'interface-type': 'point-to-point', cost: 20 })
    .port('b', 'spare', '10.96.1.3/31', 0, { 'interface-type': 'point-to-point', cost: 20 })
    .predict();
  const [s] = p.speakersOf(0);
  expect(s && treeOf(p, s, 0)?.[1]?.edges.map((e) => `${e.iface} ${e.cost}`)).toEqual(['to-b 10']);
});

test('what another cost moves: how far, and over whom', () => {
  const [before, after] = [square(10), square(30)].map((c) => {
    const p = c.predict();
    const [s] = p.speakersOf(0);
    return (s && treeOf(p, s, 0)) ?? [];
  });
  expect(treeMoves(before ?? [], after ?? [])).toEqual([
    { router: 'c', before: 10, after: 15, overBefore: ['a'], overAfter: ['b'] },
    { router: 'd', before: 15, after: 15, overBefore: ['b', 'c'], overAfter: ['b'] },
  ]);
});

test('costs add up along every step, on random campuses', () => {
  fc.assert(
    fc.property(plans, (plan) => {
      const p = campusOf(plan).predict();
      for (const s of p.adjacencies.speakers)
        for (const area of p.routing.areasOf(s)) {
          const tree = treeOf(p, s, area) ?? [];
          const far = new Map(tree.map((t) => [t.router, t.distance]));
          for (const t of tree)
            if (t.distance === 0 && t.router === s.router.name) expect(t.edges).toEqual([]);
            else {
              expect(t.edges.length).toBeGreaterThan(0);
              for (const e of t.edges) expect((far.get(e.from) ?? NaN) + e.cost).toBe(t.distance);
            }
        }
    }),
    { numRuns: 25, seed: 5 },
  );
});
