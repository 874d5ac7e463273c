import fc from 'fast-check';
import { electLeaders, type Candidate, type Leaders } from './dr-election';

/** Steps 2 and 3 of RFC 2328 §9.4, sentence by sentence. */
function byTheBook(all: readonly Candidate[]): Leaders {
  const eligible = all.filter((c) => c.priority > 0);
  const best = (list: readonly Candidate[]): Candidate | undefined => [...list].sort((a, b) => b.priority - a.priority || b.routerId - a.routerId)[0];
  // Step 2: those that do not declare themselves designated router; of them those that declare themselves backup first.
  const others = eligible.filter((c) => c.dr !== c.routerId);
  const declared = others.filter((c) => c.bdr === c.routerId);
  const bdr = best(declared.length > 0 ? declared : others);
  // Step 3: those that declare themselves designated router; without any the new backup.
  const dr = best(eligible.filter((c) => c.dr === c.routerId)) ?? bdr;
  return { dr: dr?.routerId ?? 0, bdr: bdr?.routerId ?? 0 };
}

/** Routers with ids 1 to 6 that claim anything of one another. */
const segment = fc
  .uniqueArray(fc.integer({ min: 1, max: 6 }), { minLength: 1, maxLength: 6 })
  .chain((ids) =>
    fc.tuple(...ids.map((routerId) => fc.record({ routerId: fc.constant(routerId), priority: fc.nat(2), dr: fc.nat(6), bdr: fc.nat(6) }))),
  );

test('of claims of any kind a router makes what RFC 2328 §9.4 says, step 4 included', () => {
  fc.assert(
    fc.property(segment, (all) => {
      const [self, ...others] = all;
      if (!self) return;
      const first = byTheBook(all);
      const leads = (l: Leaders): string => `${l.dr === self.routerId} ${l.bdr === self.routerId}`;
      const wanted = leads(first) === leads(self) ? first : byTheBook([{ ...self, ...first }, ...others]);
      expect(electLeaders(self, others)).toEqual(wanted);
    }),
    { numRuns: 2000 },
  );
});
