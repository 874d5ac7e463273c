import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { applyEdits, invertEdit } from '../design/edit';
import { valuesOf } from '../evidence/origins';
import { acceptEdits } from '../findings/acceptance';
import { checkDesign } from '../findings/catalogue';
import { predict } from '../predict';
import { campus, routeTo, statesOf } from '../testing/campus';
import { sample } from '../testing/sample';
import { compassVersion } from '../documents/compass-file';
import { designFrom, readDocuments, readSet } from './read-set';

const pair = () =>
  campus().router('a', '10.96.0.1', 0).router('b', '10.96.0.2', 0).port('a', 'x', '10.96.1.1/24', 0).port('b', 'x', '10.96.1.2/24', 0);
const quay = (members: object): object => ({ profile: [{ name: 'quay devices', router: ['a'], ...members }] });

describe('profiles of defaults', () => {
  test('a value is written, else of the profile, else of the standard; each says where it comes from', () => {
    const c = pair()
      .ospf('a', { 'spf-control': { paths: 4 } })
      .settings(quay({ ospf: { paths: 8, 'range-cost': 'smallest' }, interface: [{ kind: 'ethernet', cost: 30 }] }) as Record<string, unknown>);
    const p = c.predict();
    const of = (router: number, what: string): string => {
      const v = valuesOf(p, router).find((x) => x.what === what && (x.iface === undefined || x.iface === 'x'));
      return `${v?.value ?? ''} ${v?.origin ?? ''}`;
    };
    expect([of(0, 'equal-cost paths'), of(0, 'cost of a summary'), of(0, 'cost'), of(0, 'border model')]).toEqual([
      '4 written',
      'smallest part profile',
      '30 profile',
      'rfc3509 standard',
    ]);
    expect([of(1, 'equal-cost paths'), of(1, 'cost')]).toEqual(['16 standard', '10 standard']);
    expect([routeTo(p, 'a', '10.96.0.2/32'), routeTo(p, 'b', '10.96.0.1/32')]).toEqual([
      'intra-area 30 via x 10.96.1.2',
      'intra-area 10 via x 10.96.1.1',
    ]);
  });

  test('timers of a profile keep two routers apart, and the document can bring them together again', () => {
    const timers = { timers: [{ 'interface-type': 'broadcast', 'hello-interval': 5, 'dead-interval': 15 }] };
    const apart = pair().settings(quay(timers) as Record<string, unknown>);
    expect(statesOf(apart.predict(), 'a')).toEqual([]);
    const both = pair().settings({ profile: [{ name: 'all', router: ['*'], ...timers }] });
    expect(statesOf(both.predict(), 'a')).toEqual(['b full']);
    // A hello that is written takes its own dead interval: four times, not the profile's.
    const c = campus()
      .router('a', '10.96.0.1', 0)
      .port('a', 'x', '10.96.1.1/24', 0, { 'hello-interval': 7 })
      .settings(quay(timers) as Record<string, unknown>);
    expect(c.read().design.routers[0]?.instances[0]?.areas[0]?.interfaces[1]).toMatchObject({ hello: 7, dead: 28 });
  });

  test('what a profile says holds for interfaces that a rule turned on, for preferences and for what is redistributed', () => {
    const c = campus()
      .router('a', '10.96.0.1', null, { activation: [{ match: 'any', 'area-id': 0 }], redistribution: [{ source: 'static' }] })
      .port('a', 'x', '10.96.1.1/24', null)
      .static('a', '198.51.100.0/24', 'blackhole')
      .settings(
        quay({
          interface: [{ kind: 'ethernet', 'interface-type': 'point-to-point', mtu: 9000 }],
          preference: { direct: 3, static: 5, ospf: 90 },
          redistribution: { metric: 77, 'metric-type': 'type-1' },
        }) as Record<string, unknown>,
      );
    const p = c.predict();
    expect(p.adjacencies.ports.map((x) => [x.type, x.iface.mtu])).toEqual([['point-to-point', 9000]]);
    expect(p.rib(0).map((r) => [r.source, r.preference])).toEqual([
      ['direct', 3],
      ['static', 5],
    ]);
    expect(p.design.routers[0]?.instances[0]).toMatchObject({ redistribution: [{ metric: 77, metricType: 'type-1' }], preference: { intra: 90 } });
  });

  test('faults in settings name file, line and remedy; what is good in them holds', () => {
    const text = `{
  "gentle-compass:settings": {
    "profile": [ { "name": "p", "router": [ "nobody" ], "ospf": { "paths": 0 } } ],
    "expectation": [
      { "name": "half", "kind": "reach", "from": "10.96.0.1" },
      { "name": "odd", "kind": "teleport" },
      { "kind": "reach", "from": "10.96.0.1", "to": "10.96.0.2" }
    ],
    "accepted": [ { "note": "which?" } ],
    "colour": "blue"
  }
}`;
    const read = readSet([{ name: 'settings.json', content: text }]);
    expect(read.problems.map((p) => [p.line ?? 0, p.severity, p.path])).toEqual([
      [3, 'error', 'settings/profile[name=p]/ospf/paths'],
      [5, 'error', 'settings/expectation[name=half]/to'],
      [6, 'error', 'settings/expectation[name=odd]/kind'],
      [7, 'error', 'settings/expectation[3]/name'],
      [9, 'error', 'settings/accepted[1]'],
      [3, 'note', 'settings/profile[name=p]/router'],
    ]);
    expect(read.problems.every((p) => p.remedy !== '')).toBe(true);
    expect(read.notUsed).toEqual(['settings.json: settings/colour', ...['from', 'to'].map((l) => `settings.json: settings/expectation[3]/${l}`)]);
    expect(read.documents).toHaveLength(1);
  });
});

describe('accepted findings', () => {
  const read = sample('saltmarsh-point-before-review');
  const check = (documents: typeof read.documents) =>
    checkDesign(predict(designFrom(documents).design), documents, { withConsequences: false }).findings;
  const before = check(read.documents);
  const mtu = before.find((f) => f.rule === 'mtu');
  if (!mtu) throw new Error('the sample lost its MTU fault');

  test('it is kept with its note, comes last, and can be taken back', () => {
    const edits = acceptEdits(read.documents, mtu, 'the ferry sails until Friday');
    const documents = applyEdits(read.documents, edits);
    const after = check(documents);
    expect(after.at(-1)).toMatchObject({ id: mtu.id, accepted: { note: 'the ferry sails until Friday' } });
    expect(after).toHaveLength(before.length);
    expect(applyEdits(documents, edits.map(invertEdit))).toEqual(read.documents);
    const back = applyEdits(documents, acceptEdits(documents, mtu, undefined));
    expect(check(back).find((f) => f.id === mtu.id)?.accepted).toBeUndefined();
  });

  test('it is taken back from whichever settings document it stands in', () => {
    const second = {
      file: 'second.json',
      tree: { 'gentle-compass:settings': { accepted: [{ finding: mtu.id, evidence: mtu.digest, note: 'there' }] } },
    };
    const documents = [...read.documents, { file: 'first.json', tree: { 'gentle-compass:settings': { note: 'empty' } } }, second];
    expect(check(documents).find((f) => f.id === mtu.id)?.accepted).toEqual({ note: 'there' });
    const back = applyEdits(documents, acceptEdits(documents, mtu, undefined));
    expect(check(back).find((f) => f.id === mtu.id)?.accepted).toBeUndefined();
    expect(back.map((d) => d.file)).toContain('first.json');
  });

  test('it comes back when its evidence is another, and stays when only lines moved', () => {
    const documents = applyEdits(read.documents, acceptEdits(read.documents, mtu, 'known'));
    const place = mtu.where[0];
    const file = documents.find((d) => d.file === place?.file);
    if (!file) throw new Error('no such file');
    const moved = documents.map((d) => (d === file ? { ...d, text: `\n\n${JSON.stringify(d.tree)}` } : d));
    expect(check(moved).find((f) => f.id === mtu.id)?.accepted).toEqual({ note: 'known' });
    const worse = applyEdits(documents, [{ ...(mtu.repairs[0]?.edits[0] ?? { router: '', file: '', at: [], from: 0, to: 0 }), to: 1400 }]);
    const again = check(worse).find((f) => f.id === mtu.id);
    expect([again?.accepted, again?.returned]).toEqual([undefined, { note: 'known' }]);
  });
});

test('a design file of version 1 is read, and written again it is of this version', () => {
  const content = readFileSync(join(__dirname, '../../old-files/design-1.compass.json'), 'utf8');
  const read = readDocuments([{ name: 'old.compass.json', content }]);
  expect(read.problems).toEqual([]);
  expect(read.name).toBe('Saltmarsh Point, two of the kelp forest');
  expect(designFrom(read.documents).design.routers.map((r) => r.name)).toEqual(['kelp-1', 'kelp-4']);
  expect(compassVersion).toBe(2);
});

test('groups: what a member may be, a name that fits no router, two of one name, none', () => {
  const read = (group: object[]) => {
    const { design, problems } = campus().router('gull-1', '10.96.0.1', 0).settings({ group }).read();
    return { groups: design.settings.groups, problems: problems.map((p) => `${p.severity} ${p.path}: ${p.message}`) };
  };
  const good = read([{ name: 'far labs', members: ['gull-*', '10.97.1.0/24', '2001:db8::1', 'area 20'] }]);
  expect(good.problems).toEqual([]);
  expect(good.groups[0]?.members.map((m) => m.kind)).toEqual(['routers', 'prefix', 'address', 'area']);
  expect(read([{ name: 'g', members: ['gull-1', 'tern-*'] }]).problems).toEqual([
    'note settings/group[name=g]/members: "tern-*" is no router of this design.',
  ]);
  const twice = read([
    { name: 'g', members: ['gull-1'] },
    { name: 'g', members: ['10.96.0.1'] },
    { members: ['gull-1'] },
    { name: 'h', members: ['10.97.1'] },
  ]);
  expect(twice.groups.map((g) => g.name)).toEqual(['g', 'h']);
  expect(twice.problems.join('\n')).toMatch(/The group "g" is written twice/);
  expect(twice.problems.join('\n')).toMatch(/no name/);
  expect(twice.problems.join('\n')).toMatch(/"10\.97\.1".*an address, a prefix, a host name/);
});
