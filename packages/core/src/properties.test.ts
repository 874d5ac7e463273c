import fc from 'fast-check';
import { applyEdits } from './design/edit';
import { families } from './design/family';
import type { SourceDocument } from './documents/documents';
import { designFrom } from './formats/read-set';
import { routerJson } from './reports/prediction-json';
import { formatAddress, formatPrefix } from './prefix/address';
import { predict, type Prediction } from './predict';
import { coveringRoute } from './compare/compare';
import { documentsFor, ownersOf, predictFor, prefixFor } from './testing/mirror';
import { campusOf, plans } from './testing/random-campus';
import { referenceTables } from './testing/reference';

const runs = { numRuns: 150, seed: 20_261_123, endOnFailure: true };

/** A router's OSPF table as `prefix type cost+forward hops`, hops as `interface peer`. */
function tableWords(p: Prediction, name: string): string[] {
  const s = p.speakersOf(p.routerIndex(name))[0];
  if (!s) return [];
  const owner = ownersOf(p);
  const hopList = p.routing.hopList(s);
  return [...p.routing.table(s).values()]
    .map((r) => {
      const hops = r.hops.map((h) => {
        const hop = hopList.hops[h];
        return `${hop?.port.iface.name ?? ''} ${hop?.address === undefined ? '' : (owner.get(hop.address) ?? formatAddress(hop.address))}`;
      });
      return `${formatPrefix(r)} ${r.type} ${r.metric}+${r.forwardMetric ?? ''} [${hops.sort().join(', ')}]`;
    })
    .sort();
}

test.each(families)(
  'IPv%i: the engine equals the slow reference on random campuses: every prefix, type, cost and next hop of every router',
  (family) => {
    fc.assert(
      fc.property(plans, (plan) => {
        const p = predictFor(family, documentsFor(family, campusOf(plan).documents()));
        const wanted = referenceTables(plan);
        plan.routers.forEach((r, n) => {
          const reference = [...(wanted[n] ?? [])]
            .map(([prefix, e]) => `${prefixFor(family, prefix)} ${e.type} ${e.cost}+${e.forward ?? ''} [${e.hops.join(', ')}]`)
            .sort();
          expect({ [r.name]: tableWords(p, r.name) }).toEqual({ [r.name]: reference });
        });
      }),
      runs,
    );
  },
);

/** Follows every equal path of a packet; true when none comes back to a router it has been at. */
function loopFree(p: Prediction, from: number, to: { bits: number; length: number }): boolean {
  const owner = new Map([...ownersOf(p)].map(([a, name]) => [a, p.routerIndex(name)]));
  const walk = (at: number, seen: ReadonlySet<number>): boolean => {
    if (seen.has(at)) return false;
    const route = coveringRoute(p.rib(at), to);
    const deeper = new Set([...seen, at]);
    return (route?.hops ?? []).every(
      (h) => h.address === undefined || owner.get(h.address) === undefined || walk(owner.get(h.address) ?? -1, deeper),
    );
  };
  return walk(from, new Set());
}

test.each(families)('IPv%i: once settled, no packet comes back to a router it has been at', (family) => {
  fc.assert(
    fc.property(plans, fc.nat(), (plan, which) => {
      const documents = documentsFor(family, campusOf(plan).documents());
      const cable = plan.cables[which % plan.cables.length];
      const fail = cable ? [{ kind: 'link' as const, router: plan.routers[cable.a]?.name ?? '', iface: `c${plan.cables.indexOf(cable)}` }] : [];
      const p = predictFor(family, documents, fail);
      const targets = plan.routers.flatMap((_, n) => p.rib(n)).filter((r) => r.hops.length > 0);
      const distinct = [...new Map(targets.map((t) => [t.key, t])).values()];
      for (let from = 0; from < plan.routers.length; from++) for (const t of distinct) expect(loopFree(p, from, t)).toBe(true);
    }),
    { ...runs, numRuns: 60 },
  );
});

test.each(families)('IPv%i: the order of the documents does not matter', (family) => {
  fc.assert(
    fc.property(plans, fc.array(fc.nat(1000), { minLength: 20, maxLength: 20 }), (plan, keys) => {
      const documents = documentsFor(family, campusOf(plan).documents());
      const shuffled = documents
        .map((d, i) => ({ d, key: keys[i % keys.length] ?? 0 }))
        .sort((a, b) => a.key - b.key)
        .map((x) => x.d);
      const words = (docs: typeof documents): string => {
        const p = predictFor(family, structuredClone(docs));
        return JSON.stringify(p.design.routers.map((_, i) => routerJson([p], i)));
      };
      expect(words(shuffled)).toBe(words(documents));
    }),
    { ...runs, numRuns: 40 },
  );
});

test.each(families)('IPv%i: after edits to single documents the design and its prediction are what reading everything anew gives', (family) => {
  const edit = fc.record({
    router: fc.nat(),
    iface: fc.nat(),
    leaf: fc.constantFrom('cost', 'passive', 'hello-interval', 'interface-type'),
    value: fc.nat(3),
  });
  fc.assert(
    fc.property(plans, fc.array(edit, { minLength: 1, maxLength: 6 }), (plan, edits) => {
      let documents = documentsFor(family, campusOf(plan).documents());
      const words = (docs: readonly SourceDocument[]): string => {
        const read = designFrom(docs);
        const p = predict(read.design, [], { family });
        return JSON.stringify([read.problems, read.notUsed, p.design.routers.map((_, i) => routerJson([p], i))]);
      };
      words(documents); // every document has been read once
      for (const e of edits) {
        const router = designFrom(documents).design.routers[e.router % plan.routers.length];
        const all = router?.instances.flatMap((o) => o.areas.flatMap((a) => a.interfaces)) ?? [];
        const at = all[e.iface % Math.max(all.length, 1)]?.at;
        if (!router || !at) continue;
        const to = {
          cost: 1 + e.value,
          passive: e.value > 1,
          'hello-interval': e.value,
          'interface-type': ['broadcast', 'point-to-point', 'nonsense', undefined][e.value],
        }[e.leaf];
        documents = applyEdits(documents, [{ router: router.name, file: router.file, at: [...at, e.leaf], from: undefined, to }]);
        expect(words(documents)).toBe(words(structuredClone(documents)));
      }
    }),
    { ...runs, numRuns: 40 },
  );
});
