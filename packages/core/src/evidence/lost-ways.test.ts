import * as fc from 'fast-check';
import { prefixNumber } from '../documents/leaf-types';
import { prefixId } from '../prefix/prefix-book';
import type { Prediction } from '../predict';
import { campus } from '../testing/campus';
import { campusOf, plans } from '../testing/random-campus';
import { lostWays, type LostWay } from './lost-ways';

const key = (text: string): number => {
  const p = prefixNumber.read(text);
  return prefixId(p?.bits ?? 0, p?.length ?? 0);
};
const ways = (p: Prediction, router: string, to: string): LostWay[] => p.speakersOf(p.routerIndex(router)).flatMap((s) => lostWays(p, s, key(to)));

test('by each other neighbour: what it costs, or that it comes back, or that its kind loses', () => {
  const p = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .router('d', '10.96.0.4', 0)
    .router('e', '10.96.0.5', 0)
    .cable('a', 'b', '10.96.1.0', 0, 10)
    .cable('b', 'd', '10.96.1.2', 0, 10)
    .cable('a', 'c', '10.96.1.4', 0, 15)
    .cable('c', 'd', '10.96.1.6', 0, 20)
    .cable('a', 'e', '10.96.1.8', 0, 5)
    .port('d', 'lab', '10.97.1.1/24', 0, { passive: true })
    .predict();
  // d's lab costs 10 more than d: a has it at 30 over b.
  expect(ways(p, 'a', '10.97.1.0/24')).toEqual([
    { router: 'c', iface: 'to-c', link: 15, beyond: 30, lost: 'cost', type: 'intra-area', more: 15 },
    { router: 'e', iface: 'to-e', link: 5, beyond: 35, lost: 'comes-back', type: 'intra-area', more: 10 },
  ]);
});

test('a summary loses against a path inside, whatever it costs', () => {
  const p = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 20)
    .router('x', '10.96.0.9', 0)
    .cable('a', 'c', '10.96.1.0', 20, 1000)
    .cable('a', 'b', '10.96.1.2', 0, 1)
    .cable('c', 'x', '10.96.1.4', 20, 1)
    .cable('b', 'x', '10.96.1.6', 0, 1)
    .port('c', 'lab', '10.97.1.1/24', 20, { passive: true })
    .predict();
  expect(ways(p, 'a', '10.97.1.0/24')).toMatchObject([{ router: 'b', lost: 'kind', type: 'inter-area' }]);
});

test('what is told is what comes when the present way is gone, on random networks', () => {
  let seen = 0;
  fc.assert(
    fc.property(plans, (plan) => {
      const p = campusOf(plan).predict();
      for (const s of p.adjacencies.speakers)
        for (const r of [...p.routing.table(s).values()].filter((x) => x.type === 'intra-area' && !x.attached).slice(0, 6)) {
          const told = lostWays(p, s, r.key);
          for (const w of told.filter((x) => x.lost === 'cost' && x.type === 'intra-area')) expect(w.more).toBeGreaterThan(0);
          const hops = p.routing.hopList(s).hops;
          const ifaces = [...new Set(r.hops.flatMap((h) => hops[h]?.port.iface.name ?? []))];
          const after = ifaces.reduce<Prediction>((x, iface) => x.fail({ kind: 'interface', router: s.router.name, iface }), p);
          const left = told.filter((w) => w.lost === 'cost' && w.type === 'intra-area' && !ifaces.includes(w.iface));
          const again = after.speakersOf(s.routerIndex).flatMap((x) => after.routing.table(x).get(r.key) ?? [])[0];
          const best = Math.min(...left.map((w) => w.link + (w.beyond ?? 0)));
          if (left.length === 0 || p.routing.areasOf(s).length !== 1) continue;
          seen++;
          // A neighbour whose way came back finds another one, which may be nearer still.
          expect(again?.metric).toBeLessThanOrEqual(best);
          if (told.every((w) => w.lost !== 'comes-back' && w.lost !== 'no-route')) expect(again?.metric).toBe(best);
        }
    }),
    { numRuns: 40, seed: 2027 },
  );
  expect(seen).toBeGreaterThan(20);
});
