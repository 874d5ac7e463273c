import fc from 'fast-check';
import { routeTypes } from '../design/terms';
import { richCampusOf, richPlans } from '../testing/rich-campus';
import { Exit } from './exit';

const runs = { seed: 20_261_135, numRuns: 150, endOnFailure: true };

test('the exit of a prefix is the one that the plain road takes (RFC 2328 §16.4, RFC 3101 §2.5)', () => {
  const kinds = new Set<string>();
  let [several, forwarded] = [0, 0];
  fc.assert(
    fc.property(richPlans, (plan) => {
      const { campus } = richCampusOf(plan);
      const [p, plain] = [campus.predict(), campus.predict([], { road: 'plain' })];
      const { arrays, rows, boundaries, domain } = p.fast;
      for (const s of domain.speakers) {
        const there = plain.adjacencies.speakers[s.index]!;
        const table = plain.routing.tableOnce(there);
        const { hops } = plain.routing.hopList(there);
        const { external } = rows;
        const find = rows.finderOf(s);
        const exit = new Exit(arrays, s, boundaries.waysOf(s), find, external);
        for (const group of external.candidates(s)) {
          const { id } = group[0]!;
          const route = table.get(id);
          if (find(id)) {
            expect(['intra-area', 'inter-area']).toContain(route?.type);
            continue;
          }
          const found = exit.choose(group);
          expect([id, found]).toEqual([id, route !== undefined]);
          if (!route) continue;
          const metric = exit.bestKind % 2 === 0 ? exit.bestTotal : exit.bestOutside;
          expect([routeTypes[exit.bestKind], metric]).toEqual([route.type, route.metric]);
          if (route.forwardMetric !== undefined) expect(exit.bestTotal).toBe(route.forwardMetric);
          const slots = arrays.slotsOf(s);
          const ways = slots
            .places(slots.limited(exit.bestHops, s.instance.paths))
            .map((n) => `${slots.portAt(n)!.iface.name} ${slots.addressAt(n) ?? ''}`);
          expect(ways.sort()).toEqual(route.hops.map((h) => `${hops[h]!.port.iface.name} ${hops[h]!.address ?? ''}`).sort());
          kinds.add(route.type);
          if (group.length > 1) several++;
          if (group.some((c) => c.lsa.forwarding !== 0)) forwarded++;
        }
      }
    }),
    runs,
  );
  expect([...kinds].sort()).toEqual(['external-1', 'external-2', 'nssa-1', 'nssa-2']);
  expect(Math.min(several, forwarded)).toBeGreaterThan(50);
});
