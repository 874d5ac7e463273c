import fc from 'fast-check';
import { applyEdits, invertEdit } from '../design/edit';
import { readEntry } from '../entry/entry';
import { areaKinds } from '../entry/parameters';
import { familyView, processOf } from '../design/family';
import { checkFamilies } from '../findings/catalogue';
import type { SourceDocument } from '../documents/documents';
import { designFrom } from '../formats/read-set';
import { covers, formatAddress, formatPrefix, networkOf, prefixOf, type Prefix } from '../prefix/address';
import { predictFamilies } from '../predict';
import { firstBlueprint, readBlueprint, type Blueprint, type BlueprintArea } from './blueprint';
import { blueprintOf, makeCampus, workIn } from './make';
import { lanLength, planAddresses, type AreaPlan } from './plan';

const areas = fc.uniqueArray(
  fc.record({
    id: fc.integer({ min: 1, max: 90 }),
    kind: fc.constantFrom(...areaKinds),
    borders: fc.integer({ min: 1, max: 3 }),
    distribution: fc.integer({ min: 0, max: 3 }),
    access: fc.integer({ min: 0, max: 6 }),
    uplinks: fc.integer({ min: 1, max: 2 }),
    lans: fc.integer({ min: 0, max: 3 }),
    hosts: fc.integer({ min: 1, max: 500 }),
    growth: fc.integer({ min: 0, max: 200 }),
  }),
  { minLength: 1, maxLength: 4, selector: (a) => a.id },
);
const blueprints = fc
  .record({
    supernet: fc.constant('10.96.0.0/11'),
    core: fc.integer({ min: 1, max: 5 }),
    shape: fc.constantFrom('ring' as const, 'mesh' as const),
    exits: fc.integer({ min: 0, max: 2 }),
    coreCost: fc.constant(10),
    uplinkCost: fc.constant(20),
    hello: fc.constantFrom(5, 10),
    growth: fc.integer({ min: 0, max: 100 }),
    areas,
    six: fc.constantFrom(undefined, 'link-local' as const, 'numbered' as const),
  })
  .map(({ six, ...b }): Blueprint => ({
    ...b,
    ...(six ? { ipv6: '2001:db8:40::/48', ipv6Links: six } : {}),
    areas: b.areas.map((a): BlueprintArea => ({
      ...a,
      name: `reef-${a.id}`,
      borders: a.access + a.distribution === 0 ? Math.max(2, a.borders) : a.borders,
      uplinks: Math.min(a.uplinks, a.distribution > 0 ? a.distribution : a.borders),
    })),
  }));
const options = { numRuns: 60, seed: 20_261_123, endOnFailure: true };

const made = (b: Blueprint): { documents: SourceDocument[]; areas: readonly AreaPlan[] } => {
  const m = makeCampus(b);
  if ('fault' in m) throw new Error(m.fault);
  return m;
};

test('plans: blocks and parts are aligned, overlap nowhere, lie in the supernet and leave the growth that was asked for', () => {
  fc.assert(
    fc.property(blueprints, (b) => {
      expect(readBlueprint(b).faults).toEqual([]);
      const plan = planAddresses(b);
      if ('fault' in plan) throw new Error(plan.fault);
      const blocks = plan.areas.map((a) => a.prefix);
      blocks.forEach((p, i) => {
        expect(networkOf(p.bits, p.length)).toBe(p.bits);
        expect(covers(plan.supernet, p)).toBe(true);
        blocks.forEach((q, k) => expect(i !== k && (covers(p, q) || covers(q, p))).toBe(false));
      });
      for (const a of plan.areas)
        a.parts.forEach((p, i) => {
          expect(covers(a.prefix, p.prefix) && networkOf(p.prefix.bits, p.prefix.length) === p.prefix.bits).toBe(true);
          a.parts.forEach((q, k) => expect(i !== k && (covers(p.prefix, q.prefix) || covers(q.prefix, p.prefix))).toBe(false));
          const growth = a.id === 0 ? b.growth : (b.areas.find((x) => x.id === a.id)?.growth ?? 0);
          expect(p.left).toBeGreaterThanOrEqual(Math.ceil((p.used * growth) / 100));
        });
    }),
    options,
  );
});

test('campuses: every address lies in its area, every neighbour is full, every router reaches every LAN, and no check finds an error', () => {
  fc.assert(
    fc.property(blueprints, (b) => {
      const { documents, areas: plans } = made(b);
      const read = designFrom(documents);
      expect(read.problems).toEqual([]);
      const predictions = predictFamilies(read.design);
      expect(predictions.map((p) => p.family)).toEqual(b.ipv6 ? [4, 6] : [4]);
      for (const p of predictions) {
        expect(p.adjacencies.pairs.filter((x) => x.a.state !== 'full' || x.b.state !== 'full')).toEqual([]);
        const blockOf = (id: number): Prefix | undefined => {
          const plan = plans.find((q) => q.id === id);
          return p.family === 6 ? plan?.six : plan?.prefix;
        };
        const all: string[] = [];
        for (const r of p.design.routers)
          for (const a of processOf(r)?.areas ?? [])
            for (const i of a.interfaces)
              for (const x of r.interfaces.find((y) => y.name === i.name)?.addresses ?? []) {
                all.push(formatAddress(x.bits));
                const block = blockOf(a.id);
                expect(block && covers(block, prefixOf(x.bits, x.length))).toBe(true);
              }
        expect(new Set(all).size).toBe(all.length);
        // From outside, an area is its summary.
        const core = p.rib(p.routerIndex('core-1')).map(formatPrefix);
        const held = p.family === 4 || b.ipv6Links === 'numbered' ? ['loopbacks', 'links', 'lans'] : ['loopbacks', 'lans'];
        for (const a of plans)
          if (a.id !== 0 && a.parts.some((x) => held.includes(x.purpose))) expect(core).toContain(formatPrefix(blockOf(a.id) ?? a.prefix));
        // A cable has IPv6 addresses where it was asked for, and every LAN a /64.
        if (p.family === 6)
          for (const port of p.adjacencies.ports)
            expect([port.iface.name, port.iface.addresses.map((x) => x.length)]).toEqual([
              port.iface.name,
              port.loopback ? [128] : port.settings.passive ? [64] : b.ipv6Links === 'numbered' ? [127] : [],
            ]);
      }
      const { findings } = checkFamilies(predictions, documents, { withConsequences: false, underFailures: false });
      const errors = findings.filter((f) => f.severity === 'error').map((f) => `${f.rule} ${f.message}`);
      // A single uplink, border router or core is a choice; that something is not reached would be a fault.
      expect(errors).toEqual([]);
    }),
    options,
  );
});

/** Addresses of every interface by its place, as a family has them. */
const addresses = (documents: readonly SourceDocument[], family: 4 | 6 = 4): Map<string, string> =>
  new Map(
    familyView(designFrom(documents).design, family).routers.flatMap((r) =>
      r.interfaces.map((i) => [`${r.name}/${i.name}`, i.addresses.map((a) => `${formatAddress(a.bits)}/${a.length}`).join()]),
    ),
  );

const worked = (
  b: Blueprint,
  documents: readonly SourceDocument[],
): { documents: SourceDocument[]; work: Exclude<ReturnType<typeof workIn>, { fault: string }> } => {
  const work = workIn(b, documents);
  if ('fault' in work) throw new Error(work.fault);
  return { documents: applyEdits(documents, work.edits), work };
};
const changed = (b: Blueprint, area: number, more: Partial<BlueprintArea>): Blueprint => ({
  ...b,
  areas: b.areas.map((a) => (a.id === area ? { ...a, ...more } : a)),
});

test('a changed number plans again only what it must: everything else keeps its address', () => {
  const first = worked(firstBlueprint, []).documents;
  const before = addresses(first);
  const more = worked(changed(firstBlueprint, 10, { access: 5, lans: 3 }), first);
  const after = addresses(more.documents);
  for (const [place, address] of before) expect([place, after.get(place)]).toEqual([place, address]);
  expect([...after.keys()].filter((k) => !before.has(k)).sort()).toEqual(
    [
      'kelp-1/users-3',
      'kelp-2/users-3',
      'kelp-3/users-3',
      'kelp-4/users-3',
      'kelp-5/lo',
      'kelp-5/to-kelp-border-1',
      'kelp-5/to-kelp-border-2',
      'kelp-5/users-1',
      'kelp-5/users-2',
      'kelp-5/users-3',
      'kelp-border-1/to-kelp-5',
      'kelp-border-2/to-kelp-5',
    ].sort(),
  );
  expect(more.work.kept).toEqual([]);
  // And back again: the same documents as before.
  const back = worked(firstBlueprint, more.documents).documents;
  expect(addresses(back)).toEqual(before);
  // An area that outgrows its block gets another; no other area moves.
  const large = worked(changed(firstBlueprint, 20, { hosts: 4000 }), first);
  const moved = [...addresses(large.documents)].filter(([k, a]) => before.has(k) && before.get(k) !== a).map(([k]) => k.split('/')[0] ?? '');
  expect(moved.every((r) => r.startsWith('drydock-'))).toBe(true);
  expect(large.work.areas.filter((a) => a.moved).map((a) => a.id)).toEqual([20]);
});

test('IPv6: a prefix gives it to a campus that stands, keeps its addresses as the campus grows, and takes it away again', () => {
  const four = worked(firstBlueprint, []).documents;
  const asked: Blueprint = { ...firstBlueprint, ipv6: '2001:db8:40::/48', ipv6Links: 'numbered' };
  const both = worked(asked, four);
  expect(addresses(both.documents)).toEqual(addresses(four));
  expect(both.work.areas.map((a) => a.six && formatPrefix(a.six))).toEqual([
    '2001:db8:40::/52',
    '2001:db8:40:1000::/52',
    '2001:db8:40:2000::/52',
    '2001:db8:40:3000::/52',
  ]);
  const before = addresses(both.documents, 6);
  expect(before.get('kelp-1/users-1')).toMatch(/^2001:db8:40:100[2-9]::1\/64$/);
  // A router in the middle, an area before the others: nobody moves.
  const grown = changed(asked, 10, { access: 5, lans: 3 });
  const [kelp, ...others] = grown.areas;
  if (!kelp) throw new Error('no area');
  const more = worked({ ...grown, areas: [kelp, ...others, { ...kelp, id: 5, name: 'reef' }] }, both.documents);
  const after = addresses(more.documents, 6);
  for (const [place, address] of before) expect([place, after.get(place)]).toEqual([place, address]);
  const all = [...after.values()].filter((a) => a !== '');
  expect(new Set(all).size).toBe(all.length);
  // What somebody took by hand is left alone.
  const { plan } = readEntry('lan hand on kelp-2 subnet 2001:db8:40:100f::/64', both.documents);
  const hand = applyEdits(both.documents, plan?.edits ?? []);
  const wide = worked(changed(asked, 10, { lans: 12 }), hand);
  expect([...addresses(wide.documents, 6)].filter(([, a]) => a.startsWith('2001:db8:40:100f:'))).toEqual([['kelp-2/hand', '2001:db8:40:100f::1/64']]);
  expect(worked(firstBlueprint, both.documents).documents.map((d) => d.tree)).toEqual(four.map((d) => d.tree));
});

test('what was edited by hand stays when the blueprint changes, and is told where both would have changed it', () => {
  const first = worked(firstBlueprint, []).documents;
  const by = (documents: readonly SourceDocument[], line: string): SourceDocument[] => {
    const { plan, error } = readEntry(line, documents);
    if (!plan) throw new Error(error?.message);
    return applyEdits(documents, plan.edits);
  };
  let hand = by(first, 'set cost 77 on kelp-1/to-kelp-border-1');
  hand = by(hand, 'router lone-1 area 10');
  hand = by(hand, 'link lone-1 kelp-1');
  hand = by(hand, 'delete router drydock-6');
  const { documents, work } = worked({ ...changed(firstBlueprint, 10, { access: 6 }), uplinkCost: 30 }, hand);
  const design = designFrom(documents).design;
  const cost = (router: string, iface: string): number | undefined =>
    design.routers
      .find((r) => r.name === router)
      ?.instances[0]?.areas.flatMap((a) => a.interfaces)
      .find((i) => i.name === iface)?.cost;
  expect([cost('kelp-1', 'to-kelp-border-1'), cost('kelp-2', 'to-kelp-border-1'), cost('kelp-6', 'to-kelp-border-1')]).toEqual([77, 30, 30]);
  expect(design.routers.map((r) => r.name)).toEqual(expect.arrayContaining(['lone-1', 'kelp-6']));
  expect(design.routers.map((r) => r.name)).not.toContain('drydock-6');
  expect(cost('lone-1', 'to-kelp-1')).toBeUndefined();
  expect(work.kept.map((k) => `${k.file} ${k.why}`)).toEqual(expect.arrayContaining(['kelp-1.json edited', 'drydock-6.json deleted']));
  // What was added by hand keeps its addresses, and nobody gets them a second time.
  const all = [...addresses(documents).values()];
  expect(all.filter((a, i) => all.indexOf(a) !== i)).toEqual([]);
  expect(addresses(documents).get('lone-1/lo')).toBe(addresses(hand).get('lone-1/lo'));
  // Undone it is what it was, the blueprint that it keeps too.
  const undone = applyEdits(documents, [...work.edits].reverse().map(invertEdit));
  expect(undone.map((d) => [d.file, d.tree])).toEqual(hand.map((d) => [d.file, d.tree]));
  expect(blueprintOf(undone)?.uplinkCost).toBe(20);
  expect(blueprintOf(documents)?.uplinkCost).toBe(30);
});

test('a blueprint that cannot be is refused field by field, and one that does not fit says how much it needs', () => {
  const faults = readBlueprint({
    ...firstBlueprint,
    supernet: '10.96/11',
    areas: [{ ...firstBlueprint.areas[0], uplinks: 3 }, firstBlueprint.areas[0]],
  }).faults;
  expect(faults.map((f) => f.field)).toEqual(['supernet', 'areas[0].uplinks', 'areas[1].id', 'areas[1].name']);
  expect(readBlueprint({ ...firstBlueprint, core: 0, colour: 1 }).faults.map((f) => f.field)).toEqual(['core', 'colour']);
  expect(readBlueprint({ ...firstBlueprint, core: 0 }).faults[0]?.message).toBe('"core" is a whole number from 1 to 64.');
  expect(readBlueprint({ ...firstBlueprint, ipv6: '2001:db8::' }).faults).toEqual([
    { field: 'ipv6', message: '"2001:db8::" is no IPv6 prefix: write it as 2001:db8:40::/48.' },
  ]);
  const narrow = planAddresses({ ...firstBlueprint, ipv6: '2001:db8:40::/58' });
  expect('fault' in narrow && narrow.fault).toBe('2001:db8:40::/58 is too small: 4 areas need 66 subnets of /64; give a /57 or shorter.');
  const small = planAddresses({ ...firstBlueprint, supernet: '10.96.0.0 255.255.255.0' });
  expect('fault' in small && small.fault).toMatch(
    /^10\.96\.0\.0\/24 is too small: \w+ needs a \/\d+, and all areas together [\d,]+ of its 256 addresses\.$/,
  );
  expect([1, 5, 6, 61, 62, 253, 254].map(lanLength)).toEqual([30, 29, 28, 26, 25, 24, 23]);
});
