import fc from 'fast-check';
import { distancesFrom, noWay } from '../dense/area-rows';
import { campusOf, plans } from '../testing/random-campus';
import { AreaCut } from './area-cut';
import { listsByKey } from '../segments/number-lists';
import { AreaGround } from './area-ground';

/** Distances from every vertex without some edges, each found for itself. */
function withoutEdges(ground: AreaGround, gone: ReadonlySet<number>): Int32Array {
  const { graph } = ground.area;
  const metric = graph.metric.map((m, e) => (gone.has(e) ? noWay : m));
  const rows = new Int32Array(ground.size * ground.size);
  for (let v = 0; v < ground.size; v++)
    rows.set(
      distancesFrom({ ...graph, metric }, v).map((d) => Math.min(d, noWay)),
      v * ground.size,
    );
  return rows;
}

test('distances after any edges are gone are those that Dijkstra finds without them, and all is put back', () => {
  fc.assert(
    fc.property(plans, fc.array(fc.nat(), { minLength: 1, maxLength: 4 }), (plan, picks) => {
      const { arrays } = campusOf(plan).predict().fast;
      for (const area of arrays.areas) {
        const edges = area.graph.to.length;
        if (edges === 0 || area.distances.hasFreeEdge) continue;
        const ground = new AreaGround(arrays, area);
        const gone = new Set(picks.map((p) => p % edges));
        const cut = new AreaCut(ground);
        cut.run([...gone]);
        const wanted = withoutEdges(ground, gone);
        expect(ground.distance).toEqual(wanted);
        // Who is called untouched has the very same ways; who is touched is told with every destination that moved.
        const columns = new Int32Array(ground.size);
        for (let r = 0; r < ground.routers; r++) {
          const moved = new Set(columns.subarray(0, cut.columnsOf(r, columns)));
          expect(cut.touched.includes(r)).toBe(moved.size > 0);
          for (let x = 0; x < ground.size; x++) {
            const cell = r * ground.size + x;
            if (!moved.has(x)) expect([ground.distance[cell], ground.hops[cell]]).toEqual([ground.before[cell], ground.hopsBefore[cell]]);
          }
        }
        cut.undo();
        expect(ground.distance).toEqual(ground.before);
        expect(ground.hops).toEqual(ground.hopsBefore);
        expect(ground.weight).toEqual(area.graph.metric);
      }
    }),
    { numRuns: 60, seed: 20_261_128, endOnFailure: true },
  );
});

test('places by key: every key has the places at which it stands, in their order', () => {
  const { first, items } = listsByKey([2, 0, 2, 1, 2], 4);
  const of = (k: number): number[] => Array.from(items.subarray(first[k], first[k + 1]));
  expect([0, 1, 2, 3].map(of)).toEqual([[1], [3], [0, 2, 4], []]);
});
