import fc from 'fast-check';
import { richCampusOf, richPlans } from '../testing/rich-campus';
import { noWay } from './all-distances';
import { writtenOut } from './told';

const runs = { seed: 20_261_133, numRuns: 120, endOnFailure: true };

test('of all that border routers say of a prefix a router takes the cheapest way, equal ones together (RFC 2328 §16.2)', () => {
  let [taken, equal] = [0, 0];
  fc.assert(
    fc.property(richPlans, (plan) => {
      const { arrays, domain } = richCampusOf(plan).campus.predict().fast;
      for (const s of domain.speakers) {
        const chooser = arrays.choosers.of(s);
        if (!chooser) continue;
        const { reads, imports, choice } = chooser;
        const best = new Map<number, { cost: number; hops: number }>();
        for (const row of imports.rows) {
          if (row.vertex === reads.root || reads.distance[row.vertex]! >= noWay) continue;
          const { ids, cost } = writtenOut(row);
          ids.forEach((id, i) => {
            const d = reads.distance[row.vertex]! + cost[i]!;
            const hops = reads.hops[row.vertex]!;
            const old = best.get(id);
            if (old?.cost === d) equal++;
            if (!old || d < old.cost) best.set(id, { cost: d, hops });
            else if (d === old.cost) old.hops = arrays.slotsOf(s).join(old.hops, hops);
          });
        }
        for (const id of imports.entries.ids) {
          const as = imports.find(id)!;
          const cost = choice.cost[as.class]!;
          const found = cost < noWay ? { cost: cost + as.offset, hops: choice.hops[as.class]! } : undefined;
          expect([id, found]).toEqual([id, best.get(id)]);
          taken++;
        }
        // The same object while nothing moved; within a limit no more ways than that.
        expect(arrays.choosers.of(s)).toBe(chooser);
        const slots = arrays.slotsOf(s);
        choice.limited(slots, 1).forEach((code, k) => {
          expect(slots.places(code).length).toBe(Math.min(1, slots.places(choice.hops[k]!).length));
        });
      }
    }),
    runs,
  );
  expect(Math.min(taken, equal)).toBeGreaterThan(100);
});

test('who reads several areas, or none, has no choices by class', () => {
  fc.assert(
    fc.property(richPlans, (plan) => {
      const { arrays, domain } = richCampusOf(plan).campus.predict().fast;
      for (const s of domain.speakers) if (domain.summaryAreas(s).length !== 1) expect(arrays.choosers.of(s)).toBeUndefined();
    }),
    { ...runs, numRuns: 30 },
  );
});
