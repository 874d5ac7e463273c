import fc from 'fast-check';
import type { Speaker } from '../adjacency/speakers';
import { backbone } from '../design/design';
import type { Prediction } from '../predict';
import type { Ipv4 } from '../prefix/ipv4';
import type { RouterPath } from '../routes/route';
import { richCampusOf, richPlans } from '../testing/rich-campus';
import { noWay } from './all-distances';

const runs = { seed: 20_261_131, numRuns: 150, endOnFailure: true };

/** RFC 2328 §16.4 (3) and §16.4.1 word by word, of the paths that a router has area by area. */
function preferred(paths: readonly RouterPath[], compatible: boolean): RouterPath | undefined {
  const nonBackbone = paths.filter((p) => p.type === 'intra-area' && p.area !== backbone);
  const considered = compatible || nonBackbone.length === 0 ? paths : nonBackbone;
  const least = Math.min(...considered.map((p) => p.cost));
  // Of equal ones the area with the largest id (§16.4 (3)).
  return considered.filter((p) => p.cost === least).sort((a, b) => b.area - a.area)[0];
}

function eachWay({ fast }: Prediction, look: (s: Speaker, id: Ipv4, k: number) => void): void {
  for (const s of fast.domain.speakers) fast.boundaries.ids.forEach((id, k) => id !== s.routerId && look(s, id, k));
}

test('of the ways to a boundary router, area by area, the preferred one is used', () => {
  let [several, found] = [0, 0];
  fc.assert(
    fc.property(richPlans, (plan) => {
      const p = richCampusOf(plan).campus.predict();
      const { boundaries, arrays } = p.fast;
      eachWay(p, (s, id, k) => {
        const ways = boundaries.waysOf(s);
        const paths = boundaries.pathsTo(s, id);
        const best = preferred(paths, s.instance.rfc1583Compatible);
        if (paths.length > 1) several++;
        if (best) found++;
        expect(ways.cost[k]).toBe(best?.cost ?? noWay);
        const via = ways.via[k]!;
        expect(via < 0 ? undefined : arrays.areas[via >> 1]!.areaId).toBe(best?.area);
        expect(via >= 0 && (via & 1) === 1).toBe(best?.type === 'intra-area');
        if (best) expect([...arrays.listed(s, ways.hops[k]!)].sort()).toEqual([...best.hops].sort());
      });
    }),
    runs,
  );
  expect(several).toBeGreaterThan(50);
  expect(found).toBeGreaterThan(500);
});
