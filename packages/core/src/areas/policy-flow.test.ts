import { applyEdits } from '../design/edit';
import { prefixNumber } from '../documents/leaf-types';
import type { SourceDocument } from '../documents/documents';
import { readEntry } from '../entry/entry';
import { designFrom } from '../formats/read-set';
import { predict, type Prediction } from '../predict';
import { documentsFor, predictFor, prefixFor } from '../testing/mirror';
import { three } from '../testing/three-areas';
import { policies, twoPoints } from '../testing/two-points';
import { filterEffect, filterTwoWays } from './filter-trial';
import { policyFlows } from './policy-flow';

/** The documents after lines of quick entry. */
const typed = (...lines: string[]): readonly SourceDocument[] =>
  lines.reduce<readonly SourceDocument[]>((now, line) => {
    const { plan, error } = readEntry(line, now);
    if (!plan) throw new Error(`${line}: ${error?.message ?? ''}`);
    return applyEdits(now, plan.edits);
  }, three().documents());
const predicted = (documents: readonly SourceDocument[]): Prediction => predict(designFrom(documents).design, [], {});
const flows = (p: Prediction, router: string): string[] => {
  const s = p.adjacencies.speakers.find((x) => x.router.name === router);
  if (!s) throw new Error(router);
  return policyFlows(p, s).flatMap((f) => [
    `${f.way} ${f.over}, passed ${f.passed}`,
    ...f.steps.map((x) => `  ${x.statement} ${x.words}: ${x.prefixes.map((l) => `${l.prefix}${l.gives ? ` (${l.gives})` : ''}`).join(' ')}`),
    `  rest: ${f.rest.map((l) => l.prefix).join(' ')}`,
  ]);
};
const prefix = (text: string) => prefixNumber.read(text) ?? { bits: 0, length: 0 };

describe('what each statement takes of the prefixes that are there', () => {
  test('on the way into an area: all that the border router would tell, and what no statement takes', () => {
    const p = predicted(
      typed(
        'prefixes few 10.97.0.0/16 on gate to 17',
        'prefixes core 10.96.0.0/16 on gate to 32',
        'policy into reject on gate of core as no-core',
        'policy into accept on gate of few as few',
        'filter in area 3 on gate by into',
      ),
    );
    // The gate would tell area 3: two loopbacks and the cable of the backbone, area 1's range and the cable outside of it, area 2's loopback and cable.
    expect(flows(p, 'gate')).toEqual([
      'in summaries into area 3, passed 1',
      '  no-core refuses what core holds: 10.96.0.1/32 10.96.0.2/32 10.96.128.0/31',
      '  few takes what few holds: 10.97.0.0/17',
      '  rest: 10.97.128.0/31 10.98.0.1/32 10.98.128.0/31',
    ]);
    const three = p.adjacencies.speakers.find((s) => s.router.name === 'three');
    expect(three && [...p.routing.table(three).values()].filter((r) => r.type === 'inter-area')).toHaveLength(1);
  });

  test('out of an area, over its own table, over what is brought in, and of a policy that nothing uses', () => {
    const p = predicted(
      typed(
        'prefixes lab 10.97.0.0/17 on gate',
        'policy out1 reject on gate of lab',
        'filter out area 1 on gate by out1',
        'policy in3 accept on three metric 99 tag 5',
        'bring static on three metric 7 policy in3',
        'prefixes far 10.96.0.1/32 on two',
        'policy mine reject on two of far',
        'policy mine accept on two',
        'filter table on two by mine',
        'policy spare accept on core',
      ),
    );
    expect(flows(p, 'gate')).toEqual([
      'out summaries out of area 1, passed 0',
      '  s1 refuses what lab holds: 10.97.0.0/17',
      '  rest: 10.97.128.0/31',
    ]);
    expect(flows(p, 'three')).toEqual([
      'bring static routes that it brings in, passed 1',
      '  s1 takes everything, gives metric 99, tag 5: 198.51.100.0/24 (metric 7 → 99, tag 5)',
      '  rest: ',
    ]);
    const [own, , all] = flows(p, 'two');
    // Its own loopback and cable and the default: the core's loopback does not come into a totally stubby area.
    expect([own, all]).toEqual(['table its own table, passed 3', '  s2 takes everything: 0.0.0.0/0 10.98.0.1/32 10.98.128.0/31']);
    // The backbone's two loopbacks and cable, a loopback and a cable of areas 2 and 3 each, and the static; nothing of area 1 comes out.
    expect(flows(p, 'core')[0]).toBe('unused nothing yet; here is what it would do over its own table, passed 8');
  });
});

test('what is handed over, and what comes with the tag that it was given there', () => {
  const net = twoPoints({ over: { policy: ['mark'] }, into: { policy: ['refuse'] } }).document(
    'east',
    policies({ mark: [{ tags: [5], refuse: true }, { setTag: 77 }], refuse: [{ tags: [77], refuse: true }] }),
  );
  const all = flows(net.predict(), 'east');
  expect(all.filter((l) => !l.startsWith('  '))).toEqual([
    'bring other routes that it brings in, passed 0',
    'handed routes that other routers hand over, passed 1',
  ]);
  expect(all.find((l) => l.includes('with tag 77: '))).toBe('  0 refuses everything with tag 77: 198.51.100.0/24');
  expect(all.find((l) => l.includes('gives tag 77'))).toBe('  1 takes everything, gives tag 77: 198.51.100.0/24 (tag 77)');
});

test('one prefix kept out at the border is never in the databases; at one receiver it is gone from one table and floods on', () => {
  const documents = three().documents();
  const p = predicted(documents);
  const ways = filterTwoWays(p, documents, prefix('10.96.0.1/32'), 1, 'one');
  // The core's loopback: held in the backbone and, as type 3, in areas 1 and 3; all but the totally stubby router have it.
  expect([ways.border.holders, ways.border.having]).toEqual([
    [4, 3],
    [4, 3],
  ]);
  expect([ways.receiver.holders, ways.receiver.having]).toEqual([
    [4, 4],
    [4, 3],
  ]);
  expect(ways.border.tables).toEqual([{ router: 'one', lost: 1, gained: 0, changed: 0 }]);
  expect(ways.receiver.tables).toEqual([{ router: 'one', lost: 1, gained: 0, changed: 0 }]);
  expect(ways.border.outOfReach).toEqual([{ router: 'one', prefixes: ['10.96.0.1/32'] }]);
  expect(ways.border.lines.at(-1)).toBe('filter in area 1 on gate by without-10.96.0.1-32');
  expect(ways.receiver.lines.at(-1)).toBe('filter table on one by without-10.96.0.1-32');
  // Taken over as typed, it is what was told.
  const after = predicted(applyEdits(documents, ways.border.edits));
  expect(after.rib(after.routerIndex('one')).some((r) => r.length === 32 && r.bits === prefix('10.96.0.1/32').bits)).toBe(false);
});

test('what cannot be kept out says why', () => {
  const documents = three().documents();
  const ways = filterTwoWays(predicted(documents), documents, prefix('10.96.0.1/32'), 77, 'one');
  expect(ways.border.refused).toBe('No border router leads into area 77.');
  expect(filterTwoWays(predicted(documents), documents, prefix('10.96.0.1/32'), 1, 'nobody').receiver.refused).toMatch(/nobody/);
});

test('the same for IPv6, by lines of OSPFv3', () => {
  const documents = documentsFor(6, three().documents());
  const p = predictFor(6, documents);
  const six = prefixNumber.read(prefixFor(6, '10.96.0.1/32')) ?? { bits: 0, length: 0 };
  const ways = filterTwoWays(p, documents, six, 1, 'one');
  expect([ways.border.refused, ways.receiver.refused]).toEqual([undefined, undefined]);
  expect([ways.border.holders, ways.border.having, ways.receiver.holders, ways.receiver.having]).toEqual([
    [4, 3],
    [4, 3],
    [4, 4],
    [4, 3],
  ]);
  expect(ways.border.lines.at(-1)).toMatch(/^v3 filter in area 1 on gate by without-2001-db8-/);
});

test('a filter that stands: what is missing for it, in one table or in the databases', () => {
  const table = typed(
    'prefixes far 10.96.0.1/32 on one',
    'policy mine reject on one of far',
    'policy mine accept on one',
    'filter table on one by mine',
  );
  const own = filterEffect(predicted(table), table, 'filter table on one by off', 1);
  expect([own?.kept, own?.tables]).toEqual([0, [{ router: 'one', lost: 1, gained: 0, changed: 0 }]]);
  const border = typed(
    'prefixes far 10.96.0.1/32 on gate',
    'policy mine reject on gate of far',
    'policy mine accept on gate',
    'filter in area 1 on gate by mine',
  );
  const into = filterEffect(predicted(border), border, 'filter in area 1 on gate by off', 1);
  expect([into?.kept, into?.tables, into?.outOfReach]).toEqual([
    1,
    [{ router: 'one', lost: 1, gained: 0, changed: 0 }],
    [{ router: 'one', prefixes: ['10.96.0.1/32'] }],
  ]);
  expect(filterEffect(predicted(border), border, 'filter in area 2 on gate by off', 2)).toBeUndefined();
});
