import fc from 'fast-check';
import { applyEdits } from '../../design/edit';
import type { SourceDocument } from '../../documents/documents';
import { checkFamilies } from '../../findings/catalogue';
import { designFrom } from '../../formats/read-set';
import { predict, predictFamilies } from '../../predict';
import { campus, routesOf, routeTo, statesOf } from '../../testing/campus';
import { campusOf, plans } from '../../testing/random-campus';
import { sample, withoutSix } from '../../testing/sample';
import { readEntry } from '../entry';

function given(documents: readonly SourceDocument[], line: string): { documents: SourceDocument[]; notes: readonly string[]; title: string } {
  const { plan, error } = readEntry(line, documents);
  if (!plan) throw new Error(error?.message ?? '');
  return { documents: applyEdits(documents, plan.edits), notes: plan.notes, title: plan.title };
}

test('the sample campus gets IPv6 as one edit: every neighbour of OSPFv2 is one of OSPFv3, and nothing is found', () => {
  const documents = withoutSix(sample('saltmarsh-point').documents);
  for (const line of ['ipv6 2001:db8:40::/48', 'ipv6 2001:db8:40::/48 numbered']) {
    const after = given(documents, line);
    const read = designFrom(after.documents);
    expect(read.problems.filter((p) => p.severity === 'error')).toEqual([]);
    const [four, six] = predictFamilies(read.design);
    const states = (p: typeof four): string[] => (p ? p.design.routers.flatMap((r) => statesOf(p, r.name).map((s) => `${r.name} ${s}`)) : []);
    expect(states(six)).toEqual(states(four));
    expect(
      checkFamilies(predictFamilies(read.design), after.documents, { withConsequences: false })
        .findings.filter((f) => f.rule !== 'summary-detour')
        .map((f) => f.message),
    ).toEqual([]);
    expect(after.notes.some((n) => n.startsWith('The announced default of'))).toBe(true);
  }
});

const small = (): SourceDocument[] =>
  campus()
    .router('core', '10.96.0.1', 0)
    .router('gate', '10.96.0.2', 0)
    .router('in', '10.96.0.3', 10)
    .cable('core', 'gate', '10.96.128.0', 0, [3, 4])
    .cable('gate', 'in', '10.97.1.0', 10, 7)
    .lan('lab', '10.97.2.0/24', 10, ['gate', 'in'], { cost: 5, 'hello-interval': 3 })
    .port('in', 'store', '10.97.3.1/24', 10, { passive: true })
    .area('gate', 10, { 'area-type': 'stub-area', 'default-cost': 9, ranges: { range: [{ prefix: '10.97.0.0/16' }] } })
    .area('in', 10, { 'area-type': 'stub-area' })
    .documents();

test('a block for each area: loopbacks, LANs of /64, a summary where IPv4 has one; links with link-local addresses alone', () => {
  const { documents, title } = given(small(), 'ipv6 2001:db8:40::/48');
  expect(title).toBe('IPv6 and OSPFv3 in 3 routers out of 2001:db8:40::/48, links with link-local addresses alone');
  const p = predict(designFrom(documents).design, [], { family: 6 });
  // A hexadecimal digit for the areas: the backbone has 2001:db8:40::/52, area 10 has 2001:db8:40:1000::/52. The loopbacks count through.
  expect(routesOf(p, 'core')).toEqual([
    '2001:db8:40::1/128 intra-area 0 via lo',
    '2001:db8:40::2/128 intra-area 3 via to-gate fe80::a60:2:2',
    // Its dearest part: the store behind in, 3 + 5 + 10.
    '2001:db8:40:1000::/52 inter-area 18 via to-gate fe80::a60:2:2',
  ]);
  expect(routeTo(p, 'in', '::/0')).toMatch(/^inter-area 14 via lab fe80::/);
  expect(routeTo(p, 'gate', '2001:db8:40:1002::/64')).toBe('intra-area 5 via lab');
  expect(p.adjacencies.ports.find((x) => x.iface.name === 'lab')?.settings.hello).toBe(3);
});

test('numbered links get a /127 of their area’s block', () => {
  const { documents } = given(small(), 'ipv6 2001:db8:40::/48 numbered');
  const p = predict(designFrom(documents).design, [], { family: 6 });
  expect(routeTo(p, 'core', '2001:db8:40:1::/127')).toBe('intra-area 3 via to-gate');
  expect(routeTo(p, 'in', '2001:db8:40:1001::/127')).toBe('intra-area 7 via to-gate');
});

test.each([
  ['ipv6', 'Expected the prefix of the site.'],
  ['ipv6 10.96.0.0/16', 'Expected the prefix of the site such as 2001:db8:40::/48, not "10.96.0.0/16".'],
  ['ipv6 2001:db8:40::/62', '2001:db8:40::/62 is too small: 2 areas need 6 subnets of /64; give a /61 or shorter.'],
])('%s: refused in words', (line, words) => {
  expect(readEntry(line, small()).error?.message).toBe(words);
});

test('a second time there is nothing left to give; a router that runs OSPFv3 stays as written', () => {
  const once = given(small(), 'ipv6 2001:db8:40::/48').documents;
  expect(readEntry('ipv6 2001:db8:41::/48', once).error?.message).toBe('Every router runs OSPFv3 already.');
});

test('on random campuses OSPFv3 comes to the same neighbours, areas and reach as OSPFv2', () => {
  fc.assert(
    fc.property(plans, fc.boolean(), (plan, numbered) => {
      const { documents } = given(campusOf(plan).documents(), `ipv6 2001:db8:40::/44${numbered ? ' numbered' : ''}`);
      const read = designFrom(documents);
      expect(read.problems.filter((x) => x.severity === 'error')).toEqual([]);
      const [four, six] = predictFamilies(read.design);
      if (!four || !six) throw new Error('a family is missing');
      for (const r of plan.routers) {
        expect(statesOf(six, r.name)).toEqual(statesOf(four, r.name));
        const areas = (p: typeof four): string =>
          p
            .speakersOf(p.routerIndex(r.name))
            .map((s) => p.routing.areasOf(s).join())
            .join(';');
        expect(areas(six)).toBe(areas(four));
      }
    }),
    { numRuns: 60, seed: 20_261_129, endOnFailure: true },
  );
});

describe('lines about OSPFv3', () => {
  const both = given(small(), 'ipv6 2001:db8:40::/48').documents;
  const ports = (documents: readonly SourceDocument[], family: 4 | 6): string[] =>
    predict(designFrom(documents).design, [], { family }).adjacencies.ports.map(
      (p) => `${p.iface.name} ${p.cost} ${p.settings.hello} ${p.iface.mtu} ${p.settings.passive ? 'passive' : ''}`,
    );

  test.each([
    ['v3 set cost 77 on in/lab', 'lab 77 3 1500 '],
    ['v3 set hello 9 on gate/lab', 'lab 5 9 1500 '],
    ['v3 set mtu 1400 on core/to-gate', 'to-gate 3 10 1400 '],
    ['v3 clear passive on in/store', 'store 10 10 1500 '],
  ])('%s: changed there, and nowhere in IPv4', (line, port) => {
    const after = given(both, line);
    expect(after.title).toMatch(/^OSPFv3: /);
    expect(ports(after.documents, 6)).toContain(port);
    expect(ports(both, 6)).not.toContain(port);
    expect(ports(after.documents, 4)).toEqual(ports(both, 4));
  });

  test('areas and processes too; without OSPFv3 the way to it is told', () => {
    const six = predict(designFrom(given(both, 'v3 set default-cost 44 on area 10').documents).design, [], { family: 6 });
    expect(routeTo(six, 'in', '::/0')).toMatch(/^inter-area 49 /);
    expect(given(both, 'v3 set stub-router yes on gate').title).toBe('OSPFv3: stub-router yes on gate');
    expect(readEntry('v3 set cost 7 on core', small()).error?.message).toBe('No router runs OSPFv3: the line "ipv6 PREFIX" gives it to all of them.');
    expect(readEntry('v3 set cost 0 on core/to-gate', both).error?.message).toContain('is no cost');
  });
});
