import fc from 'fast-check';
import { richCampusOf, richPlans } from '../testing/rich-campus';
import { noWay } from './all-distances';
import { writtenOut, type Imports } from './told';

const runs = { seed: 20_261_130, numRuns: 120, endOnFailure: true };

/** What each border router says of each prefix, row by row as it is written out. */
function said({ rows }: Imports): Map<number, Map<number, number>> {
  const out = new Map<number, Map<number, number>>();
  for (const row of rows) {
    const { ids, cost } = writtenOut(row);
    ids.forEach((id, i) => {
      const of = out.get(id) ?? new Map<number, number>();
      out.set(id, of.set(row.vertex, cost[i]!));
    });
  }
  return out;
}

/** The same as its class says it: the border routers of the class, each at its cost and the offset of the prefix. */
function asClass({ vectors: { first, vertex, cost } }: Imports, k: number, offset: number): Map<number, number> {
  const out = new Map<number, number>();
  for (let e = first[k]!; e < first[k + 1]!; e++) if (cost[e]! < noWay) out.set(vertex[e]!, cost[e]! + offset);
  return out;
}

const sorted = (of: ReadonlyMap<number, number>): [number, number][] => [...of].sort(([a], [b]) => a - b);

test('a class and an offset say of a prefix what every border router says of it', () => {
  fc.assert(
    fc.property(richPlans, (plan) => {
      const { arrays } = richCampusOf(plan).campus.predict().fast;
      arrays.areas.forEach((_, index) => {
        const imports = arrays.imports(index);
        const all = said(imports);
        const counts = new Int32Array(imports.classCount);
        for (const [id, of] of all) {
          const as = imports.find(id)!;
          expect([id, sorted(asClass(imports, as.class, as.offset))]).toEqual([id, sorted(of)]);
          counts[as.class] = counts[as.class]! + 1;
        }
        // Written out there is each of them once, nothing else is found, and the classes are as many as they say.
        expect([...imports.entries.ids].sort()).toEqual([...all.keys()].sort());
        for (let id = 0; id < arrays.prefixes.size; id++) if (!all.has(id)) expect(imports.find(id)).toBeUndefined();
        expect([...imports.counts]).toEqual([...counts]);
        expect(imports.movedSince(imports)).toEqual([]);
      });
    }),
    runs,
  );
});

test('prefixes that are inside an area as well are named', () => {
  fc.assert(
    fc.property(richPlans, (plan) => {
      const { arrays } = richCampusOf(plan).campus.predict().fast;
      arrays.areas.forEach(({ networks }, index) => {
        const imports = arrays.imports(index);
        const both = [...networks.ids].filter((id) => imports.find(id));
        expect([...imports.insideToo].sort()).toEqual(both.sort());
      });
    }),
    runs,
  );
});
