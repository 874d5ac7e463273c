import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { applyEdits, invertEdit, type Edit } from '../design/edit';
import type { SourceDocument } from '../documents/documents';
import { formatPrefix } from '../prefix/address';
import { parseIpv4 } from '../prefix/ipv4';
import { designFrom } from '../formats/read-set';
import { predict, predictFamilies } from '../predict';
import { Forwarding } from '../reach/forwarding';
import { walk } from '../reach/trace';
import { campus, type Campus } from '../testing/campus';
import { dual } from '../testing/dual';
import { activated, borders, cases as firstCases, p2p, pair } from '../testing/finding-cases';
import { moreCases } from '../testing/more-finding-cases';
import { sample } from '../testing/sample';
import { catalogue, checkDesign, checkFamilies, findingsOf, mendedBy } from './catalogue';
import { mendingAll } from './mending';
import { cataloguePage } from './catalogue-page';
import type { Finding } from './finding';

const cases = [...firstCases, ...moreCases];

function findings(c: Campus): Finding[] {
  const read = c.read();
  return checkFamilies(predictFamilies(read.design), read.documents, { withConsequences: false }).findings;
}
const rules = (c: Campus): string[] => [...new Set(findings(c).map((f) => f.rule))].sort();

test.each(cases)('%s fires, and stays silent on the near miss', (rule, fires, silent) => {
  expect(rules(fires)).toContain(rule);
  expect(rules(silent)).not.toContain(rule);
});

/** Checks of what only one family has, or whose cases say something that the other cannot. */
const ofIPv4Alone = new Set(['mask', ...catalogue.filter((c) => c.families && !c.families.includes(6)).map((c) => c.rule)]);

test.each(
  cases.filter(([rule, fires]) => !ofIPv4Alone.has(rule) && fires.read().design.routers.every((r) => r.instances.every((o) => o.version === 2))),
)('%s fires for IPv6 where its like is built there, and stays silent on the near miss', (rule, fires, silent) => {
  const six = (c: Campus): string[] => findings(dual(c)).flatMap((f) => (f.family === 6 ? [f.rule] : []));
  expect(six(fires)).toContain(rule);
  expect(six(silent)).not.toContain(rule);
});

test('every check has a case, but for what cannot be brought about by documents alone', () => {
  const covered = new Set(cases.map(([rule]) => rule));
  const uncovered = catalogue
    .map((c) => c.rule)
    .filter((r) => !covered.has(r) && !['neighbours-apart', 'authentication-key', 'unsettled'].includes(r));
  expect(uncovered).toEqual([]);
});

test('the clean sample campus raises no error and no warning', () => {
  const read = sample('saltmarsh-point');
  expect(read.problems).toEqual([]);
  const found = findingsOf(predict(read.design), read.documents);
  // What two border routers at one cost each bring with them is said, and is nothing to mend.
  expect(found.map((f) => `${f.severity} ${f.rule} ${f.topic ?? ''}`)).toEqual([
    'note summary-detour 10.97.0.0/18',
    'note summary-detour 10.97.64.0/18',
    'note summary-detour 10.97.128.0/18',
    'note summary-detour 10.97.192.0/18',
  ]);
});

test('the campus before its review shows each seeded fault', () => {
  const read = sample('saltmarsh-point-before-review');
  const found = findingsOf(predict(read.design), read.documents);
  const at = (rule: string): string[] => found.filter((f) => f.rule === rule).map((f) => f.where.map((w) => w.router).join('+'));
  expect(at('dead-interval')).toEqual(['kelp-1+kelp-4']);
  expect(at('mtu')).toEqual(['drydock-4+drydock-2']);
  expect(at('area-type')).toEqual(['tidepool-2+tidepool-4', 'tidepool-3+tidepool-4']);
  expect(at('network-type')).toEqual(['petrel-3+petrel-4']);
  expect(at('passive')).toEqual(['kelp-2+kelp-5']);
  expect(at('range-foreign')).toEqual(['drydock-1']);
  expect(at('default-missing')).toEqual(['harbour-exit']);
  expect(at('loopback-not-advertised')).toEqual(['petrel-4']);
});

test('the campus before its review has ten causes, eight of them in IPv4: what follows from each is folded beneath it, and goes with it', () => {
  const read = sample('saltmarsh-point-before-review');
  const predictions = predictFamilies(read.design);
  const all = checkFamilies(predictions, read.documents).findings.filter((f) => f.severity !== 'note');
  const causes = all.filter((f) => f['caused-by'] === null);
  const four = causes.filter((f) => f.family === undefined).map((f) => f.rule);
  expect(four.sort()).toEqual([
    'area-type',
    'dead-interval',
    'default-missing',
    'loopback-not-advertised',
    'mtu',
    'network-type',
    'passive',
    'ranges-differ',
  ]);
  expect(causes.filter((f) => f.family === 6).map((f) => f.rule)).toEqual(['hello-interval', 'forgotten-in-one-family']);
  // The other end of the same mistake, the area without a backbone, the area in pieces, two holes in summaries: one cause.
  const area = causes.find((f) => f.rule === 'area-type');
  const beneath = all.filter((f) => f['caused-by'] === area?.id && f.family === undefined);
  expect(beneath.map((f) => f.rule).sort()).toEqual(['area-detached', 'area-split', 'area-type', 'range-black-hole', 'range-black-hole']);
  const mended = applyEdits(read.documents, area?.repairs[0]?.edits ?? []);
  const left = checkFamilies(
    predictions.map((p) => mendedBy(p, read.documents, area?.repairs[0]?.edits ?? [])),
    mended,
    { withConsequences: false },
  ).findings.map((f) => f.id);
  for (const f of [...beneath, ...(area ? [area] : [])]) expect(left).not.toContain(f.id);
  // A cause stands for itself.
  for (const f of all) if (f['caused-by'] !== null) expect(causes.map((c) => c.id)).toContain(f['caused-by']);
});

test('a finding that was accepted explains nothing, and stands in the way of no explanation', () => {
  const read = sample('saltmarsh-point-before-review');
  const predictions = predictFamilies(read.design);
  const mtu = checkFamilies(predictions, read.documents, { withConsequences: false }).findings.find((f) => f.rule === 'mtu');
  const documents = [
    ...read.documents,
    {
      file: 'settings.json',
      tree: { 'gentle-compass:settings': { accepted: [{ finding: mtu?.id ?? '', evidence: mtu?.digest ?? '', note: 'until Friday' }] } },
    },
  ];
  const accepted = designFrom(documents);
  const all = checkFamilies(predictFamilies(accepted.design), accepted.documents).findings.filter((f) => f.severity !== 'note');
  expect(all.filter((f) => f.accepted).map((f) => f.rule)).toEqual(['mtu']);
  expect(all.filter((f) => !f.accepted && f['caused-by'] === null)).toHaveLength(9);
});

test('two faults that each break the same thing: it follows from one of them, and without both it is not told', () => {
  // a reaches b over two cables, and both are broken, each by another fault.
  const c = campus()
    .router('a', '10.96.0.1', 1)
    .router('b', '10.96.0.2', 1)
    .router('core', '10.96.0.3', 0)
    .cable('a', 'core', '10.98.0.0', 0)
    .port('a', 'one', '10.97.0.0/31', 1, { ...p2p, 'hello-interval': 5, 'dead-interval': 40 })
    .port('b', 'one', '10.97.0.1/31', 1, p2p)
    .port('a', 'two', '10.97.0.2/31', 1, { ...p2p, mtu: 1400 })
    .port('b', 'two', '10.97.0.3/31', 1, p2p);
  const read = c.read();
  const all = checkFamilies(predictFamilies(read.design), read.documents).findings;
  const split = all.find((f) => f.rule === 'area-split');
  const cause = all.find((f) => f.id === split?.['caused-by']);
  expect(['hello-interval', 'mtu']).toContain(cause?.rule);
  // The two faults stand for themselves: neither explains the other.
  expect(all.filter((f) => ['hello-interval', 'mtu'].includes(f.rule)).map((f) => f['caused-by'])).toEqual([null, null]);
});

test('every repair removes its finding, and undone gives the very document back', () => {
  const read = sample('saltmarsh-point-before-review');
  const found = findingsOf(predict(read.design), read.documents, false);
  const repairs = found.flatMap((f) => f.repairs.map((r) => ({ f, r })));
  expect(repairs.length).toBeGreaterThan(10);
  for (const { f, r } of repairs) {
    const mended = applyEdits(read.documents, r.edits);
    const after = designFrom(mended);
    expect({ repair: r.title, problems: after.problems }).toEqual({ repair: r.title, problems: [] });
    const left = findingsOf(predict(after.design), mended, false).map((x) => x.id);
    expect({ repair: r.title, left: left.includes(f.id) }).toEqual({ repair: r.title, left: false });
    expect(applyEdits(mended, [...r.edits].reverse().map(invertEdit))).toEqual(
      read.documents.map(({ file, tree }) => expect.objectContaining({ file, tree }) as unknown),
    );
  }
});

test.each(cases)('%s: every repair of the network on which it fires removes its finding, and can be undone', (_, fires) => {
  const read = fires.read();
  const plain = read.documents.map(({ file, tree }) => ({ file, tree }));
  const found = checkFamilies(predictFamilies(read.design), read.documents, { withConsequences: false }).findings;
  for (const f of found)
    for (const r of f.repairs) {
      const mended = applyEdits(read.documents, r.edits);
      const after = designFrom(mended);
      const left = checkFamilies(predictFamilies(after.design), mended, { withConsequences: false }).findings;
      expect({ repair: r.title, left: left.some((x) => x.id === f.id) }).toEqual({ repair: r.title, left: false });
      const undone = applyEdits(mended, [...r.edits].reverse().map(invertEdit));
      expect(undone.map(({ file, tree }) => ({ file, tree }))).toEqual(plain);
    }
});

test('where several things keep a pair apart, each of its findings costs what mending all of it would bring', () => {
  const c = pair({ ...p2p, 'hello-interval': 5, 'dead-interval': 15, mtu: 1400 }, { ...p2p });
  const read = c.read();
  const found = checkDesign(predict(read.design), read.documents).findings.filter((f) => f.severity !== 'note');
  const [apart] = found.filter((f) => f.rule === 'hello-interval');
  expect(apart?.repairs[0]?.title).toMatch(/^Mend all of it in .*: hello interval, dead interval, MTU$/);
  // Each has the loopback of the other behind the wire, and nothing else.
  expect(apart?.consequence['routes-lost']).toBe(2);
  expect(apart?.message).toContain('dead interval and MTU differ too');
  const all = applyEdits(read.documents, apart ? (mendingAll(apart, found) ?? []) : []);
  expect(findingsOf(predict(designFrom(all).design), all, false).filter((f) => f.severity !== 'note')).toEqual([]);
});

test('a hello interval is mended with the dead interval that follows from it; an interface is moved to the other area with all that is written of it', () => {
  const after = (c: Campus, title: RegExp): string[] => {
    const read = c.read();
    const all = findingsOf(predict(read.design), read.documents, false);
    const repair = all.flatMap((f) => f.repairs).find((r) => title.test(r.title));
    const documents = applyEdits(read.documents, repair?.edits ?? []);
    const p = predict(designFrom(documents).design);
    return p.adjacencies.pairs.map((x) => x.a.state);
  };
  const hello = pair({ ...p2p, 'hello-interval': 5, 'dead-interval': 40 }, p2p);
  expect(after(hello, /^Set the hello interval of b to 5 s/)).toEqual(['full']);
  expect(after(hello, /^Set the hello interval of a to 10 s/)).toEqual(['full']);
  const area = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 2)
    .port('a', 'x', '10.96.1.1/30', 0, { ...p2p, cost: 77 })
    .port('b', 'x', '10.96.1.2/30', 2, p2p);
  expect(after(area, /^Move x of a into area 0\.0\.0\.2/)).toEqual(['full']);
  const read = area.read();
  const move = findingsOf(predict(read.design), read.documents, false)
    .flatMap((f) => f.repairs)
    .find((r) => r.title.startsWith('Move x of a'));
  const moved = predict(designFrom(applyEdits(read.documents, move?.edits ?? [])).design);
  expect(moved.adjacencies.ports.filter((x) => x.iface.name === 'x').map((x) => [x.area.id, x.cost])).toEqual([
    [2, 77],
    [2, 10],
  ]);
});

test('an area in pieces names the fault that explains it: between neighbours, at an interface, or at a router between them', () => {
  const explained = (c: Campus): string[] => {
    const all = findings(c);
    return all.flatMap((f) => (f.rule === 'area-split' ? [all.find((x) => x.id === f['caused-by'])?.rule ?? 'nothing'] : []));
  };
  expect(explained(pair({ ...p2p, 'hello-interval': 5 }))).toEqual(['hello-interval']);
  expect(explained(pair({ ...p2p, mtu: 9000 }))).toEqual(['mtu']);
  // x has its loopback in OSPF and nothing else: each end of the row finds nobody there.
  const row = (area: number | null, loopback: number | null): Campus =>
    campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .router('x', '10.96.0.8', loopback)
      .port('a', 'mid', '10.96.2.1/30', 0, p2p)
      .port('x', 'left', '10.96.2.2/30', area, p2p)
      .port('x', 'right', '10.96.2.6/30', area, p2p)
      .port('b', 'mid', '10.96.2.5/30', 0, p2p);
  expect(explained(row(null, 0))).toEqual(['interface-not-in-ospf']);
  expect(explained(row(null, null))).toEqual(['router-without-ospf']);
  expect(explained(row(0, 0))).toEqual([]);
  // Pieces that no fault between neighbours would join stand for themselves.
  const apart = campus().router('a', '10.96.0.1', 0).router('b', '10.96.0.2', 0).port('a', 'e', '10.97.1.1/24', 0).port('b', 'e', '10.97.2.1/24', 0);
  expect(explained(apart)).toEqual(['nothing']);
});

test('a summary that swallows a LAN of two routers in another area is seen: the LAN is a network-LSA there, no stub', () => {
  const c = ['b', 'c'].reduce((x, r) => x.area(r, 1, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } }), borders());
  c.router('e', '10.95.0.5', 2).router('f', '10.95.0.6', 2).cable('b', 'e', '10.95.1.0', 2).lan('weir', '10.97.200.0/24', 2, ['e', 'f']);
  const [found] = findings(c).filter((f) => f.rule === 'range-foreign');
  expect(found?.message).toContain('also claims 10.97.200.0/24 (area 0.0.0.2)');
});

test('a static default that redistribution leaves out is told, with three ways to bring it out; each of them does', () => {
  const c = campus()
    .router('a', '10.96.0.1', 0, { redistribution: [{ source: 'static' }] })
    .router('b', '10.96.0.2', 0)
    .cable('a', 'b', '10.96.1.0', 0)
    .port('a', 'world', '192.0.2.1/24', null)
    .static('a', '0.0.0.0/0', '192.0.2.254')
    .static('a', '198.51.100.0/24', '192.0.2.254');
  const read = c.read();
  const [found] = findings(c).filter((f) => f.rule === 'redistribution-without-policy');
  expect(found?.message).toContain('Its default route stays out all the same');
  expect(found?.repairs).toHaveLength(3);
  const prefixes = (edits: readonly Edit[]): string[] => {
    const p = predict(designFrom(applyEdits(read.documents, edits)).design);
    return p.rib(p.routerIndex('b')).flatMap((r) => (r.route?.type.startsWith('external') ? [formatPrefix(r)] : []));
  };
  expect(prefixes([])).toEqual(['198.51.100.0/24']);
  for (const r of found?.repairs ?? []) expect([r.title, prefixes(r.edits)]).toEqual([r.title, ['0.0.0.0/0', '198.51.100.0/24']]);
  // Without a default there is nothing to tell of it.
  const plain = pair()
    .ospf('a', { redistribution: [{ source: 'static' }] })
    .static('a', '198.51.100.0/24', 'blackhole');
  expect(findings(plain).find((f) => f.rule === 'redistribution-without-policy')?.repairs).toEqual([]);
});

test('what is down or has no address is not said to be redistributed', () => {
  const c = pair()
    .ospf('a', { redistribution: [{ source: 'direct' }] })
    .port('a', 'pier', '10.99.1.1/24', null)
    .port('a', 'shut', '10.99.2.1/24', null, { iface: { enabled: false } });
  const found = findings(c).find((f) => f.rule === 'redistribution-direct');
  expect(found?.evidence.map((e) => e.what)).toEqual(['pier']);
});

test('a rule that an earlier one swallows is put first, and decides then', () => {
  const c = activated([
    { match: 'any', 'area-id': 0 },
    { match: 'lab', 'area-id': 1 },
  ])
    .router('z', '10.96.0.9')
    .port('z', 'lab', '10.97.1.9/24', 1);
  const read = c.read();
  const [found] = checkDesign(predict(read.design), read.documents, { withConsequences: false }).findings.filter((f) => f.rule === 'activation-idle');
  expect(found?.repairs.map((r) => r.title)).toEqual([
    expect.stringMatching(/^Put the rule first in /),
    expect.stringMatching(/^Take the rule out of /),
  ]);
  const after = predict(designFrom(applyEdits(read.documents, found?.repairs[0]?.edits ?? [])).design);
  const port = after.adjacencies.ports.find((x) => x.iface.name === 'lab' && x.byRule !== undefined);
  expect(port?.area.id).toBe(1);
});

test('router ids that are no loopbacks are told once: a note where all are written, and mended together', () => {
  const c = pair().ospf('a', { 'explicit-router-id': '10.96.0.77' }).ospf('b', { 'explicit-router-id': '10.96.0.78' });
  const read = c.read();
  const found = findings(c).filter((f) => f.rule === 'router-id-not-loopback');
  expect(found.map((f) => [f.severity, f.where.length])).toEqual([['note', 2]]);
  expect(found[0]?.message).toContain('2 routers have ids that are none of their loopback addresses: a (10.96.0.77, loopback 10.96.0.1)');
  const mended = designFrom(applyEdits(read.documents, found[0]?.repairs[0]?.edits ?? [])).design;
  expect(predict(mended).adjacencies.speakers.map((s) => s.routerId)).toEqual([0x0a60_0001, 0x0a60_0002]);
});

test('keys appear in no finding', () => {
  const c = pair({ ...p2p, authentication: { 'ospfv2-key': 'secret-tide' } }, { ...p2p, authentication: { 'ospfv2-key': 'other-tide' } });
  expect(JSON.stringify(findings(c))).not.toMatch(/secret-tide|other-tide/);
});

test('the page that lists the checks is up to date', () => {
  expect(readFileSync(join(__dirname, '../../../../docs/findings.md'), 'utf8')).toBe(cataloguePage());
});

test('what does not come to rest is told: routing that looks back, and elections', () => {
  const read = pair({}, {}).read();
  const p = predict(read.design);
  (p.routing.unsettled as string[]).push('externals');
  const election = Object.assign(Object.create(p) as typeof p, { adjacencies: { ...p.adjacencies, unsettled: [0] } });
  const told = findingsOf(election, read.documents, false).filter((f) => f.rule === 'unsettled');
  expect(told.map((f) => f.where.map((w) => w.router).join('+'))).toEqual(['', 'a+b']);
});

test('dangers of summaries offer what mends them, and a packet that shows them', () => {
  const of = (rule: string) => {
    const [, fires] = cases.find(([r]) => r === rule) ?? [];
    return fires ? findings(fires).find((f) => f.rule === rule) : undefined;
  };
  const told = (rule: string): unknown[] => {
    const f = of(rule);
    return [f?.repairs.map((r) => r.title), f?.example];
  };
  expect(told('range-foreign')).toEqual([
    ['Summarise as 10.97.0.4/32, 10.97.2.0/30 instead on b and c', 'Take the summary 10.96.0.0/15 out of b'],
    { from: 'd', to: '10.96.0.1' },
  ]);
  expect(told('range-partial')[0]).toEqual(['Widen the summary to 10.97.64.0/18 on b', expect.stringMatching(/^Take the summary .* out of b$/)]);
  expect(told('summary-detour')).toEqual([
    ['Tell 10.97.0.5/32, 10.97.2.2/31 by themselves on b and c'],
    { from: 'a', to: expect.stringMatching(/^10\.97\./) as string },
  ]);
  expect(told('ranges-differ')[1]).toEqual({ from: 'a', to: '10.97.2.0' });
});

test('a black hole ends where the lost part is told by itself: the longer prefix draws its traffic', () => {
  const [, fires] = cases.find(([r]) => r === 'range-black-hole') ?? [];
  const read = fires?.read();
  if (!read) throw new Error('no case');
  const fate = (documents: readonly SourceDocument[]): string => {
    const p = predict(designFrom(documents).design);
    return walk(new Forwarding(p), [p.routerIndex('b')], parseIpv4('10.97.0.5') ?? 0).fate;
  };
  const found = findingsOf(predict(read.design), read.documents, false).find((f) => f.rule === 'range-black-hole' && f.where[0]?.router === 'b');
  expect(found?.example).toMatchObject({ from: 'b' });
  expect(fate(read.documents)).toBe('dropped');
  expect(fate(applyEdits(read.documents, found?.repairs[0]?.edits ?? []))).toBe('delivered');
});

test('a border router that stands by to translate has its external summary for the day when it takes over', () => {
  const [, , both] = cases.find(([r]) => r === 'translators-differ') ?? [];
  expect(both && rules(both).filter((r) => r.startsWith('external-range') || r === 'translators-differ')).toEqual([]);
});

test('a summary under the area that it goes to is moved to the one that its parts come from, on all border routers of that', () => {
  const read = borders()
    .area('b', 0, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } })
    .read();
  const found = findingsOf(predict(read.design), read.documents, false).find((f) => f.rule === 'range-empty');
  expect(found?.repairs.map((r) => r.title)).toEqual([
    'Summarise area 0.0.0.1 as 10.97.0.0/16 instead on b and c',
    'Take the summary 10.97.0.0/16 out of b',
  ]);
  const mended = applyEdits(read.documents, found?.repairs[0]?.edits ?? []);
  const after = predict(designFrom(mended).design);
  expect(findingsOf(after, mended, false).map((f) => f.rule)).not.toContain('range-empty');
  expect(after.rib(after.routerIndex('a')).map(formatPrefix)).toContain('10.97.0.0/16');
  expect(after.rib(after.routerIndex('a')).map(formatPrefix)).not.toContain('10.97.0.4/32');
});
