import fc from 'fast-check';
import { eachAttached } from '../lsdb/attached-prefixes';
import { rangeFor } from '../lsdb/summary-lsa';
import { prefixBook } from '../prefix/prefix-book';
import { richCampusOf, richPlans } from '../testing/rich-campus';
import { noWay } from './all-distances';
import { insideOf, intraArea, Packed, sameBut } from './inside';
import { insideRoute } from './inside-finder';

const runs = { seed: 20_261_132, numRuns: 120, endOnFailure: true };

test('what a router has inside its areas: every attached prefix that is reached, at the least cost, with the range that takes it', () => {
  let [several, ranged] = [0, 0];
  fc.assert(
    fc.property(richPlans, (plan) => {
      const { arrays, domain } = richCampusOf(plan).campus.predict().fast;
      for (const s of domain.speakers) {
        const best = new Map<number, number>();
        const ranges = new Set<number>();
        for (const root of arrays.rootsOf(s)) {
          const { graph, areaId } = arrays.areas[root.index]!;
          eachAttached(graph, (v, id, cost) => {
            if (root.distance[v]! >= noWay) return;
            if (best.has(id)) several++;
            const d = root.distance[v]! + cost;
            best.set(id, Math.min(d, best.get(id) ?? d));
            const range = rangeFor(domain.areaOf(s, areaId), prefixBook.prefix(id));
            if (range) ranges.add(prefixBook.id(range.prefix.bits, range.prefix.length));
          });
        }
        const packed = insideOf(arrays, s);
        const { ids, kind, cost, database, range } = packed.list;
        expect(new Map(Array.from(ids, (id, i) => [id, cost[i]!]))).toEqual(best);
        expect(ids).toHaveLength(best.size);
        const roots = arrays.rootsOf(s);
        ids.forEach((id, i) => {
          const { areaId } = arrays.areas[database[i]!]!;
          const area = domain.areaOf(s, areaId);
          const wanted = rangeFor(area, prefixBook.prefix(id));
          if (wanted) ranged++;
          expect(area.ranges[range[i]!]).toBe(wanted);
          expect(packed.placeOf(id)).toBe(i);
          // Asked for one by one it is the same.
          const one = insideRoute(id, roots, arrays.slotsOf(s), (index) => arrays.areas[index]!.networks);
          expect(one).toEqual({ kind: intraArea, cost: cost[i], hops: packed.list.hops[i], database: database[i] });
        });
        expect(kind.every((k) => k === intraArea)).toBe(true);
        // Ranges fold at border routers alone; where a prefix stands in two areas the nearer one decides.
        if (!domain.isBorderRouter(s)) expect(packed.own).toEqual([]);
        else for (const id of packed.own) expect(ranges).toContain(id);
        expect(new Set(packed.taken.flatMap((list) => Array.from(list)))).toEqual(new Set([...ids, ...packed.own]));
      }
    }),
    runs,
  );
  expect(Math.min(several, ranged)).toBeGreaterThan(100);
});

test('two lists that differ in one area alone are told from those that differ elsewhere', () => {
  const { campus } = richCampusOf(fc.sample(richPlans, { seed: 7, numRuns: 40 })[11]!);
  const { arrays, domain } = campus.predict().fast;
  const borders = domain.borderRouters.filter((s) => arrays.inside(s).parts);
  const [s] = borders;
  const packed = arrays.inside(s!);
  const [first, second] = packed.parts!;
  const dearer = { ...first!, cost: first!.cost.map((c) => c + 1) };
  const moved = new Packed(packed.own, () => packed.list, [dearer, ...packed.parts!.slice(1)]);
  expect(sameBut(packed, moved, first!.root.index)).toBe(true);
  expect(sameBut(packed, moved, second!.root.index)).toBe(false);
});
