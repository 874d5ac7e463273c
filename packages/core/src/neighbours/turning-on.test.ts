import { campus } from '../testing/campus';
import { dual } from '../testing/dual';
import { applyEdits } from '../design/edit';
import { designFrom } from '../formats/read-set';
import { predict } from '../predict';
import { tryRule, turnedOn } from './turning-on';

/** One router whose interfaces come into OSPF by rules; the hall is listed, the store is covered by none. */
const made = (activation: readonly object[], more: Record<string, unknown> = {}) =>
  campus()
    .router('auk', '10.96.0.1', 0)
    .router('crake', '10.96.0.2', 20)
    .port('auk', 'north', '10.97.0.0/31', null)
    .port('auk', 'south', '10.97.64.0/31', null)
    .port('auk', 'hall', '10.97.8.1/24', 10, { passive: true })
    .port('auk', 'store', '10.98.0.1/24', null)
    .port('crake', 'up', '10.97.64.1/31', 20, {})
    .ospf('auk', { 'gentle-compass:activation': activation, ...more });

test('by which line or rule each interface takes part; who is left out, who never speaks', () => {
  const p = made([
    { match: '10.97.0.0/16', 'area-id': 10 },
    { match: '10.97.64.0/18', 'area-id': 20 },
    { match: '10.99.0.0/16', 'area-id': 20 },
  ]).predict();
  const [t] = turnedOn(p, p.routerIndex('auk'));
  expect(Object.fromEntries((t?.interfaces ?? []).map((i) => [i.name, [i.by.kind === 'rule' ? i.by.rule : i.by.kind, i.area, i.role]]))).toEqual({
    hall: ['line', '0.0.0.10', 'advertised, never speaks'],
    lo: ['line', '0.0.0.0', 'advertised, never speaks'],
    north: [0, '0.0.0.10', 'speaks'],
    south: [0, '0.0.0.10', 'speaks'],
    store: ['nothing', undefined, 'left out'],
  });
  // The first swallows what the second was written for, and is too broad: on the wire of south all are in area 20.
  expect(t?.rules.map((r) => [r.words, r.takes, r.misses, r.broad])).toEqual([
    ['10.97.0.0/16', expect.arrayContaining(['north', 'south']), [{ iface: 'hall', to: undefined }], ['south']],
    ['10.97.64.0/18', [], [{ iface: 'south', to: 0 }], []],
    ['10.99.0.0/16', [], [], []],
  ]);
  const longest = made(
    [
      { match: '10.97.0.0/16', 'area-id': 10 },
      { match: '10.97.64.0/18', 'area-id': 20 },
    ],
    {
      'gentle-compass:activation-order': 'longest-match',
    },
  ).predict();
  expect(turnedOn(longest, longest.routerIndex('auk'))[0]?.rules.map((r) => r.takes)).toEqual([['north'], ['south']]);
});

test('a rule on the bench: what it catches is shown before it stands, and saved it does just that', () => {
  const c = made([{ match: '10.97.0.0/16', 'area-id': 10 }]);
  const { documents, design } = c.read();
  const p = predict(design);
  const rule = { process: 'campus', match: '10.97.64.0 255.255.192.0', area: '20', passive: false };
  const first = tryRule(p, documents, 'auk', { ...rule, process: turnedOn(p, p.routerIndex('auk'))[0]?.process ?? '', at: 0 });
  expect(first.problems).toEqual([]);
  expect(first.understood).toBe('10.97.64.0/18');
  expect(first.caught).toEqual([{ iface: 'south', addresses: ['10.97.64.0/31'], before: 'area 0.0.0.10 by rule 1', after: 'area 0.0.0.20' }]);
  const after = predict(designFrom(applyEdits(documents, first.edits)).design);
  const port = after.adjacencies.ports.find((x) => x.iface.name === 'south');
  expect(port?.area.id).toBe(20);
  expect(after.adjacencies.pairs.map((x) => x.a.state)).toEqual(['full']);
  // Put last it is swallowed, and says so.
  const last = tryRule(p, documents, 'auk', { ...rule, at: 9 });
  expect([last.caught, last.missed]).toEqual([[], ['south']]);
  // A mask that fits nothing, an area that is none, nothing typed.
  for (const bad of [{ match: '10.97.64.0 255.0.255.0' }, { area: 'halls' }, { match: ' ' }]) {
    const t = tryRule(p, documents, 'auk', { ...rule, at: 0, ...bad });
    expect(t.problems.length).toBeGreaterThan(0);
    expect(t.edits).toEqual([]);
  }
});

test('of two processes of one name the one of the family that is looked at gets the rule', () => {
  const c = dual(
    campus()
      .router('auk', '10.96.0.1', 0)
      .router('crake', '10.96.0.2', 0)
      .cable('auk', 'crake', '10.97.0.0', 0)
      .port('auk', 'hall', '10.97.8.1/24', null),
  );
  const { documents, design } = c.read();
  for (const family of [4, 6] as const) {
    const p = predict(design, [], { family });
    const process = turnedOn(p, p.routerIndex('auk'))[0]?.process ?? '';
    const t = tryRule(p, documents, 'auk', { process, match: 'hall', area: '0', passive: true, at: 0 });
    expect([family, t.problems, t.caught.map((x) => x.iface)]).toEqual([family, [], ['hall']]);
    const after = designFrom(applyEdits(documents, t.edits)).design;
    const halls = ([4, 6] as const).map((f) => predict(after, [], { family: f }).adjacencies.ports.some((x) => x.iface.name === 'hall'));
    expect(halls).toEqual([family === 4, family === 6]);
  }
});
