import fc from 'fast-check';
import { networkSummaries, type SummaryWriter } from '../lsdb/summary-lsa';
import type { SummaryLsa } from '../lsdb/lsa';
import { richCampusOf, richPlans } from '../testing/rich-campus';
import { rowLsas } from './summary-writing';

const runs = { seed: 20_261_134, numRuns: 150, endOnFailure: true };

const words = (l: SummaryLsa): string =>
  `${l.bits}/${l.length} ${l.id} at ${l.metric}, ${l.reason} of ${l.fromArea}: ${(l.parts ?? [])
    .map((p) => `${p.bits}/${p.length}`)
    .sort()
    .join()}`;

test('a row of types 3 is what the standard writes from the border router’s own table (RFC 2328 §12.4.3)', () => {
  const reasons = new Set<string>();
  let policies = 0;
  fc.assert(
    fc.property(richPlans, (plan) => {
      const p = richCampusOf(plan).campus.predict();
      const { arrays, domain } = p.fast;
      for (const s of domain.borderRouters) {
        const { hops } = p.routing.hopList(s);
        const writer: SummaryWriter = {
          speaker: s.index,
          six: domain.six,
          routerId: s.routerId,
          policies: s.router.policies,
          rangeCost: s.instance.rangeCost,
          areaOf: (a) => domain.areaOf(s, a),
          isTransit: (a) => domain.isTransit(s, a),
          leadsInto: (set, a) => set.some((h) => hops[h]?.port.area.id === a),
        };
        const table = [...p.routing.tableOnce(s).values()];
        for (const areaId of domain.areasOf(s)) {
          const db = domain.database(s, areaId)!;
          const row = arrays.rows[db.index]!.find((r) => r.speaker === s.index);
          const into = domain.areaOf(s, areaId);
          // What a router uses of a boundary is not what it tells: externals are no lines of this.
          const wanted = networkSummaries(writer, into, table);
          expect((row ? rowLsas(arrays, row) : []).map(words).sort()).toEqual(wanted.map(words).sort());
          for (const l of wanted) reasons.add(l.reason);
          if (into.summaryIn.length > 0) policies++;
        }
      }
    }),
    runs,
  );
  expect([...reasons].sort()).toEqual(['inter-area', 'intra-area', 'range', 'stub-default']);
  expect(policies).toBeGreaterThan(10);
});
