import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { applyEdits, invertEdit } from '../design/edit';
import { documentText, type SourceDocument } from '../documents/documents';
import { designFrom, readSet } from '../formats/read-set';
import { writeXml } from '../documents/xml';
import { formatAddress, formatPrefix, networkOf } from '../prefix/address';
import { parseTypedPrefix } from '../prefix/ipv4';
import { predict } from '../predict';
import { sample } from '../testing/sample';
import { campus as campus_ } from '../testing/campus';
import { checkDesign } from '../findings/catalogue';
import { commands, readEntry } from './entry';
import { parameters } from './parameters';
import { grammarPage } from './grammar-page';

const sampleDocuments = (): readonly SourceDocument[] => campus;
const campus = sample('saltmarsh-point').documents;

/** Carries a line out; fails the test where it cannot. */
function done(documents: readonly SourceDocument[], line: string): SourceDocument[] {
  const { plan, error } = readEntry(line, documents);
  if (!plan) throw new Error(`${line}: ${error?.message ?? ''}`);
  return applyEdits(documents, plan.edits);
}
const all = (lines: readonly string[], from: readonly SourceDocument[] = []): SourceDocument[] => lines.reduce<SourceDocument[]>(done, [...from]);
const words = (list: readonly SourceDocument[]): string => JSON.stringify(list.map((d) => [d.file, d.encoding, d.tree]));
const errorOf = (line: string, documents: readonly SourceDocument[] = sampleDocuments()): string =>
  readEntry(line, documents).error?.message ?? 'no error';
const full = (documents: readonly SourceDocument[]): number =>
  predict(designFrom(documents).design).adjacencies.pairs.filter((p) => p.a.state === 'full' && p.b.state === 'full').length;

/** Addresses of an interface, as text. */
function addresses(documents: readonly SourceDocument[], place: string): string[] {
  const [router, iface] = place.split('/');
  const i = designFrom(documents)
    .design.routers.find((r) => r.name === router)
    ?.interfaces.find((x) => x.name === iface);
  return (i?.addresses ?? []).map((a) => `${formatAddress(a.bits)}/${a.length}`);
}

const fromNothing = [
  'router skerry-1',
  'router skerry-2',
  'link skerry-1 skerry-2 cost 5',
  'router gull-gate area 0',
  'router gull-1 area 10',
  'router gull-2 area 10',
  'link skerry-1 gull-gate',
  'link gull-gate gull-1 area 10',
  'link gull-gate gull-2 area 10',
  'lan ringing-room on gull-1 gull-2 length 26 cost 30',
  'lan nests on gull-1 passive',
  'set area-type stub on area 10',
];

test('a campus grows from nothing, line by line, until everybody reaches everybody', () => {
  const documents = all(fromNothing);
  const p = predict(designFrom(documents).design);
  expect(designFrom(documents).problems).toEqual([]);
  expect(p.adjacencies.pairs.map((x) => x.a.state)).toEqual(['full', 'full', 'full', 'full', 'full']);
  const far = p.rib(p.routerIndex('skerry-2')).map((r) => formatPrefix(r));
  for (const place of ['gull-2/lo', 'gull-1/nests', 'gull-1/ringing-room']) {
    const typed = parseTypedPrefix(addresses(documents, place)[0] ?? '');
    expect(far).toContain(formatPrefix(typed ?? { bits: 0, length: 0 }));
  }
  // Every area lies in one block of its own, so that it can be summarised.
  const blocks = new Map<number, Set<number>>();
  for (const r of p.design.routers)
    for (const a of r.instances[0]?.areas ?? [])
      for (const i of a.interfaces)
        for (const x of r.interfaces.find((y) => y.name === i.name)?.addresses ?? [])
          blocks.set(a.id, (blocks.get(a.id) ?? new Set()).add(networkOf(x.bits, 16)));
  expect([...blocks.values()].map((b) => b.size)).toEqual([1, 1]);
});

test('a new link takes the next free subnet, and what the links of its area agree on', () => {
  const documents = all(['set hello 3 on all', 'set dead 12 on all'], all(fromNothing.slice(0, 9)));
  const linked = done(documents, 'link gull-1 gull-2');
  expect(addresses(linked, 'gull-1/to-gull-2')[0]?.endsWith('/31')).toBe(true);
  const port = designFrom(linked)
    .design.routers.find((r) => r.name === 'gull-1')
    ?.instances[0]?.areas[0]?.interfaces.find((i) => i.name === 'to-gull-2');
  expect(port).toMatchObject({ type: 'point-to-point', hello: 3, dead: 12 });
  expect(full(linked)).toBe(full(documents) + 1);
});

test('free subnets come from the pool that the design names, and a full pool is told', () => {
  const pooled = done(all(fromNothing.slice(0, 2)), 'pool links 10.100.0.0 0.0.0.1');
  const linked = done(pooled, 'link skerry-1 skerry-2');
  expect(addresses(linked, 'skerry-1/to-skerry-2')).toEqual(['10.100.0.0/31']);
  const next = readEntry('link skerry-1 skerry-2', linked);
  expect(next.plan?.notes.join()).not.toContain('the pool');
  expect(errorOf('lan nests on skerry-1 length 10', linked)).toMatch(/No \/10 subnet is left for a LAN/);
});

test('a clone has an identity of its own and links to the same neighbours', () => {
  const before = sampleDocuments();
  const documents = done(before, 'clone kelp-3 as kelp-9');
  const [a, b] = ['kelp-3', 'kelp-9'].map((n) => designFrom(documents).design.routers.find((r) => r.name === n));
  expect(b?.interfaces.map((i) => i.name)).toEqual(a?.interfaces.map((i) => i.name));
  const own = (r: typeof a): string[] => r?.interfaces.flatMap((i) => i.addresses.map((x) => formatAddress(x.bits))) ?? [];
  expect(own(a).filter((x) => own(b).includes(x))).toEqual([]);
  expect(formatAddress(b?.instances[0]?.explicitRouterId ?? 0)).toBe(own(b)[0]);
  expect(full(documents)).toBeGreaterThan(full(before));
  const findings = predict(designFrom(documents).design).adjacencies.pairs.filter((p) => p.a.state !== 'full' && p.a.state !== '2-way');
  expect(findings).toEqual([]);
});

test('a router moves to another area with the far ends of its links; addresses stay, or are planned anew', () => {
  const kept = done(all(fromNothing.slice(0, 9)), 'move gull-2 to 20');
  const area = (documents: readonly SourceDocument[], router: string, iface: string): number | undefined =>
    designFrom(documents)
      .design.routers.find((r) => r.name === router)
      ?.instances[0]?.areas.find((a) => a.interfaces.some((i) => i.name === iface))?.id;
  expect([area(kept, 'gull-2', 'lo'), area(kept, 'gull-gate', 'to-gull-2'), area(kept, 'gull-gate', 'to-gull-1')]).toEqual([20, 20, 10]);
  expect(addresses(kept, 'gull-2/lo')).toEqual(addresses(all(fromNothing.slice(0, 9)), 'gull-2/lo'));
  const planned = done(all(fromNothing.slice(0, 9)), 'move gull-2 to 20 replan');
  expect(addresses(planned, 'gull-2/lo')).not.toEqual(addresses(kept, 'gull-2/lo'));
  expect(full(planned)).toBe(full(all(fromNothing.slice(0, 9))));
  expect(designFrom(planned).design.routers.find((r) => r.name === 'gull-2')?.instances[0]?.explicitRouterId).toBe(
    parseTypedPrefix(addresses(planned, 'gull-2/lo')[0] ?? '')?.bits,
  );
});

test('renumbering a link changes both ends together, and what names their addresses', () => {
  const documents = done(sampleDocuments(), 'renumber beacon-1/to-beacon-2 as 10.111.0.6/255.255.255.254');
  expect([addresses(documents, 'beacon-1/to-beacon-2'), addresses(documents, 'beacon-2/to-beacon-1')].flat().sort()).toEqual([
    '10.111.0.6/31',
    '10.111.0.7/31',
  ]);
  expect(full(documents)).toBe(full(sampleDocuments()));
  expect(errorOf('renumber beacon-1/to-kelp-1 as 10.96.128.0/31')).toMatch(/overlaps what beacon-1\/to-beacon-2 has/);
});

test('a deleted router takes the ends that faced it along, and its name out of groups', () => {
  const documents = done(sampleDocuments(), 'delete router kelp-5');
  const design = designFrom(documents).design;
  expect(design.routers.some((r) => r.interfaces.some((i) => i.name === 'to-kelp-5'))).toBe(false);
  expect(JSON.stringify(documents.map((d) => d.tree))).not.toContain('"kelp-5"');
  expect(designFrom(documents).problems).toEqual([]);
});

test('a summary stands at both border routers and can be taken away again', () => {
  const grown = all(fromNothing);
  const summarised = done(grown, 'range 10.97.0.0/255.255.0.0 area 10 cost 99');
  expect(
    designFrom(summarised)
      .design.routers.find((r) => r.name === 'gull-gate')
      ?.instances[0]?.areas.find((a) => a.id === 10)?.ranges,
  ).toEqual([{ prefix: { bits: 0x0a61_0000, length: 16 }, advertise: true, cost: 99 }]);
  expect(words(done(summarised, 'range 10.97.0.0/16 area 10 off'))).toBe(words(grown));
});

test('what a boundary router announces is summarised, hidden, and told again one by one', () => {
  const grown = all(fromNothing);
  const outside = all(
    ['static 198.51.100.0/28 on skerry-1 discard', 'static 198.51.100.32/28 on skerry-1 discard', 'bring static on skerry-1'],
    grown,
  );
  const seen = (documents: readonly SourceDocument[]): string[] => {
    const p = predict(designFrom(documents).design);
    return p
      .rib(p.routerIndex('gull-gate'))
      .filter((r) => r.route?.type.startsWith('external'))
      .map((r) => `${formatPrefix(r)} ${r.route?.type ?? ''} ${r.route?.metric ?? ''}`);
  };
  const two = ['198.51.100.0/28 external-2 20', '198.51.100.32/28 external-2 20'];
  expect(seen(outside)).toEqual(two);
  const folded = done(outside, 'range 198.51.100.0/26 outside on skerry-1 metric 5 type type-1 tag 8');
  expect(seen(folded)).toEqual(['198.51.100.0/26 external-1 15']);
  expect(seen(done(folded, 'range 198.51.100.0/26 outside on skerry-1 metric 6'))).toEqual(['198.51.100.0/26 external-1 16']);
  expect(seen(done(folded, 'range 198.51.100.0/26 outside on skerry-1 hidden'))).toEqual([]);
  const back = done(folded, 'range 198.51.100.0/26 outside on skerry-1 off');
  expect([seen(back), words(back)]).toEqual([two, words(outside)]);
  expect(readEntry('range 198.51.100.0/26 outside on skerry-1 off', back).error?.message).toBe('skerry-1 has no external range 198.51.100.0/26.');
});

test('what comes from outside: static routes, redistribution and a default, each given and taken back', () => {
  const grown = all(fromNothing);
  const first = words(grown);
  const outside = all(
    [
      'static 198.51.100.0/28 on skerry-1 discard',
      'static 0.0.0.0 0.0.0.0 on skerry-1 via 10.96.128.99',
      'bring static on skerry-1 metric 7 type type-1 tag 5',
      'announce default on skerry-1 always metric 3',
    ],
    grown,
  );
  const p = predict(designFrom(outside).design);
  const far = p.rib(p.routerIndex('gull-gate')).map((r) => `${formatPrefix(r)} ${r.route?.type ?? r.source} ${r.route?.metric ?? ''}`);
  expect(far.filter((r) => r.startsWith('198.51.100.0/28'))).toEqual(['198.51.100.0/28 external-1 17']);
  expect(far.filter((r) => r.startsWith('0.0.0.0/0'))).toEqual(['0.0.0.0/0 external-2 3']);
  const back = all(
    [
      'announce default on skerry-1 off',
      'bring static on skerry-1 off',
      'static 0.0.0.0/0 on skerry-1 off',
      'static 198.51.100.0/28 on skerry-1 off',
    ],
    outside,
  );
  expect(words(back)).toBe(first);
});

test('a key is set on many interfaces and shown nowhere', () => {
  const { plan } = readEntry('key 3 hmac-sha-256 "low tide" on area 10', all(fromNothing));
  expect(plan?.title).toBe('Key 3, hmac-sha-256, on gull-1/to-gull-gate, gull-1/ringing-room, gull-2/to-gull-gate and 3 more');
  expect(JSON.stringify([plan?.title, plan?.notes])).not.toContain('tide');
  const keyed = done(all(fromNothing), 'key 3 hmac-sha-256 "low tide" on area 10');
  expect(full(keyed)).toBe(5);
  expect(full(done(keyed, 'key 3 hmac-sha-256 "high tide" on gull-1/to-gull-gate'))).toBe(4);
  expect(words(done(keyed, 'key off on area 10'))).toBe(words(all(fromNothing)));
});

test('a virtual link joins an area that hangs behind another one', () => {
  const apart = all(
    [
      'router far-gate area 10',
      'link gull-1 far-gate area 10',
      'router far-1 area 30',
      'link far-gate far-1 area 30',
      'set area-type normal on area 10',
    ],
    all(fromNothing),
  );
  const reaches = (documents: readonly SourceDocument[]): boolean => {
    const p = predict(designFrom(documents).design);
    const lo = addresses(documents, 'far-1/lo')[0];
    return p.rib(p.routerIndex('skerry-2')).some((r) => formatPrefix(r) === lo);
  };
  expect(reaches(apart)).toBe(false);
  const joined = done(apart, 'virtual-link gull-gate far-gate through 10');
  expect(reaches(joined)).toBe(true);
  expect(words(done(joined, 'virtual-link gull-gate far-gate through 10 off'))).toBe(words(apart));
});

test.each([
  ['', /Expected what to do/],
  ['lnk a b', /is "link" meant/],
  ['link kelp-1 kelp-77', /no router "kelp-77"; is "kelp-/],
  ['link kelp-1 kelp-1', /needs two routers/],
  ['link kelp-1 kelp-2 cost 0', /Expected cost, 1 to 65,535, not "0"/],
  ['link kelp-1 kelp-2 cost 5 cost 6', /"cost" stands twice/],
  ['link kelp-1 kelp-2 colour 5', /Expected area, cost, type, subnet, unnumbered or bandwidth/],
  ['link kelp-1 kelp-2 subnet 10.96.128.0/31', /overlaps 10\.96\.128\.0\/31 of beacon-1/],
  ['link kelp-1 kelp-2 subnet 10.96.0.0/255.0.255.0', /fits neither a length, a mask nor an inverted mask/],
  ['router kelp-1', /is there already/],
  ['set hello 0 on kelp-1', /"0" is no hello: it is a whole number from 1/],
  ['set hello 5 on kelp-1/nothing', /has no interface "nothing"; it has/],
  ['set hello 5', /Expected "on"/],
  ['set default-cost 5 on kelp-1', /belongs to an area/],
  ['set area-type stub on area 0', /backbone can be no stub area/],
  ['range 10.0.0.0/8 area 77', /has no border router/],
  ['delete link kelp-1 petrel-1', /No cable joins/],
  ['set cost 10 on beacon-1/to-kelp-1', /Nothing changes/],
  ['static 10.0.0.0/8 on kelp-1', /Expected "via" and a next hop, or "discard"/],
  ['static 10.0.0.0/8 on kelp-1 off', /has no static route/],
  ['bring static on kelp-1 policy spring-tide', /has no policy "spring-tide"/],
  ['key 300 md5 x on kelp-1', /Expected key id, 0 to 255/],
  ['virtual-link kelp-1 petrel-1 through 10', /petrel-1 has no part in area 10/],
])('%p is refused with what was expected', (line, message) => {
  expect(errorOf(line)).toMatch(message);
  expect(readEntry(line, sampleDocuments()).plan).toBeUndefined();
});

test('suggestions follow the grammar and the names of the design', () => {
  const at = (line: string): string[] => readEntry(line, sampleDocuments(), ['kelp-1']).suggestions.map((s) => s.text);
  expect(at('')).toEqual(commands.map((c) => c.verb).slice(0, 12));
  expect(at('re')).toEqual(['renumber', 'rename']);
  expect(at('link kelp-1 dry')).toEqual(['drydock-1', 'drydock-2', 'drydock-3', 'drydock-4']);
  expect(at('link kelp-1 kelp-2 ')).toEqual(['area', 'cost', 'type', 'subnet', 'unnumbered', 'bandwidth']);
  expect(at('link kelp-1 kelp-2 type b')).toEqual(['broadcast']);
  expect(at('set cost 5 on beacon-1/to-k')).toEqual(['beacon-1/to-kelp-1']);
  expect(at('set passive ')).toEqual(['yes', 'no']);
  expect(at('set cost 5 on sel')).toEqual(['selected']);
});

test('every example of the grammar can be read', () => {
  for (const c of commands) {
    const { error } = readEntry(c.example, sampleDocuments());
    expect(error === undefined || !/^Expected|no router|no interface/.test(error.message) ? 'reads' : `${c.example}: ${error.message}`).toBe('reads');
  }
});

const names = ['beacon-1', 'beacon-2', 'kelp-1', 'kelp-3', 'kelp-9', 'petrel-4', 'dulse-1', 'tidepool-2'];
const name = fc.constantFrom(...names);
const area = fc.constantFrom(0, 10, 20, 30, 77);
const lines = fc.oneof(
  fc.tuple(name, area).map(([n, a]) => `router ${n} area ${a}`),
  fc.tuple(name, name, area).map(([a, b, c]) => `link ${a} ${b} area ${c}`),
  fc.tuple(name, name).map(([a, b]) => `link ${a} ${b} cost 7`),
  fc.tuple(name, name).map(([a, b]) => `lan hall on ${a} ${b}`),
  fc.tuple(name, name).map(([a, b]) => `clone ${a} as ${b}`),
  fc.tuple(name, name).map(([a, b]) => `rename ${a} as ${b}`),
  fc.tuple(name, area, fc.constantFrom('', ' replan')).map(([a, b, c]) => `move ${a} to ${b}${c}`),
  fc.tuple(fc.constantFrom('hello 5', 'cost 9', 'passive yes', 'priority 0', 'mtu 1400', 'bfd yes'), name).map(([a, b]) => `set ${a} on ${b}`),
  fc.tuple(fc.constantFrom('cost', 'hello', 'passive', 'mtu', 'bfd'), area).map(([a, b]) => `clear ${a} on area ${b}`),
  fc.tuple(fc.constantFrom('stub', 'nssa', 'totally-nssa', 'normal'), area).map(([a, b]) => `set area-type ${a} on area ${b}`),
  fc.tuple(area, fc.constantFrom('', ' off', ' hidden')).map(([a, b]) => `range 10.97.0.0/16 area ${a}${b}`),
  fc.constantFrom('', ' off', ' hidden', ' metric 4 type type-1').map((b) => `range 10.97.0.0/16 outside on kelp-1${b}`),
  name.map((n) => `delete router ${n}`),
  fc.tuple(name, name).map(([a, b]) => `delete link ${a} ${b}`),
  name.map((n) => `renumber ${n}/lo`),
  name.map((n) => `leave ${n}/lo`),
  fc.tuple(name, area).map(([n, a]) => `join ${n}/lo area ${a}`),
  fc.constant('pool lans 10.101.0.0/18'),
  name.map((n) => `bring direct on ${n} metric 9`),
  name.map((n) => `announce default on ${n} always`),
  fc.tuple(name, fc.constantFrom('discard', 'via 10.96.0.9', 'off')).map(([n, x]) => `static 192.0.2.0/24 on ${n} ${x}`),
  fc.tuple(name, name, area).map(([a, b, c]) => `virtual-link ${a} ${b} through ${c}`),
  name.map((n) => `key 1 md5 tide on ${n}`),
);

test('any lines one after the other: what they change is what their edits say, and undone they give the first design', () => {
  let carried = 0;
  fc.assert(
    fc.property(fc.array(lines, { minLength: 1, maxLength: 10 }), (list) => {
      const first = sampleDocuments();
      let documents: SourceDocument[] = [...first];
      const steps: (readonly Parameters<typeof invertEdit>[0][])[] = [];
      for (const line of list) {
        const { plan } = readEntry(line, documents);
        if (!plan) continue;
        carried++;
        documents = applyEdits(documents, plan.edits);
        steps.push(plan.edits);
        // No line brings a document that cannot be read, or an address twice.
        expect(designFrom(documents).problems.filter((p) => p.severity === 'error')).toEqual([]);
        const own = designFrom(documents).design.routers.flatMap((r) => r.interfaces.flatMap((i) => i.addresses.map((a) => a.bits)));
        expect({ line, twice: own.filter((a, i) => own.indexOf(a) !== i) }).toEqual({ line, twice: [] });
      }
      const last = words(documents);
      for (const edits of [...steps].reverse()) documents = applyEdits(documents, [...edits].reverse().map(invertEdit));
      expect(words(documents)).toBe(words(first));
      for (const edits of steps) documents = applyEdits(documents, edits);
      expect(words(documents)).toBe(last);
    }),
    { numRuns: 60, seed: 20_261_123, endOnFailure: true },
  );
  expect(carried).toBeGreaterThan(100);
});

test('the page of the grammar is the grammar', () => {
  expect(readFileSync(join(__dirname, '../../../../docs/quick-entry.md'), 'utf8')).toBe(grammarPage());
});

test('settings follow: a clone joins the group of its original, a new name and a deletion are carried through', () => {
  const settings: SourceDocument = {
    file: 'settings.json',
    tree: {
      'gentle-compass:settings': {
        alike: [{ name: 'the access of the kelps', router: ['kelp-3', 'kelp-5'] }],
        group: [{ name: 'far ends', members: ['kelp-5', 'kelp-3'] }],
        expectation: [
          { name: 'who leads', kind: 'neighbours', router: 'kelp-5', count: 2 },
          { name: 'it is reached', kind: 'reach', from: 'kelp-5', to: 'far ends', under: 'router:kelp-4', 'leaves-by': 'kelp-5/to-kelp-1' },
        ],
      },
    },
  };
  const grouped = [...sampleDocuments(), settings];
  const group = (documents: readonly SourceDocument[]): readonly string[] => designFrom(documents).design.settings.alike[0]?.routers ?? [];
  const cloned = readEntry('clone kelp-3 as kelp-9', grouped);
  expect(cloned.plan?.notes).toContain('kelp-9 joins the group "the access of the kelps" of kelp-3.');
  expect(group(done(grouped, 'clone kelp-3 as kelp-9'))).toEqual(['kelp-3', 'kelp-9', 'kelp-5']);
  const renamed = done(grouped, 'rename kelp-5 as dulse-1');
  expect(group(renamed)).toEqual(['kelp-3', 'dulse-1']);
  expect(designFrom(renamed).design.settings.expectations[0]).toMatchObject({ router: 'dulse-1' });
  expect(designFrom(renamed).design.settings.expectations[1]).toMatchObject({ from: 'dulse-1', leavesBy: { router: 'dulse-1', iface: 'to-kelp-1' } });
  expect(designFrom(renamed).design.settings.groups[0]?.members[0]).toEqual({ kind: 'routers', pattern: 'dulse-1' });
  expect(group(done(grouped, 'delete router kelp-5'))).toEqual(['kelp-3']);
});

test('a document with something else where a list must stand is left as it is, and named', () => {
  const odd: SourceDocument[] = sampleDocuments().map((d) =>
    d.file === 'kelp-5.json' ? { file: d.file, tree: { ...d.tree, 'ietf-interfaces:interfaces': { interface: { name: 'lo' } } } } : d,
  );
  expect(errorOf('link kelp-5 kelp-3', odd)).toBe('"interface" is no list in a document that this would change: correct it there first.');
  const holes: SourceDocument[] = sampleDocuments().map((d) =>
    d.file === 'kelp-5.json' ? { file: d.file, tree: { ...d.tree, 'ietf-interfaces:interfaces': { interface: [null, 7, 'x'] } } } : d,
  );
  expect(readEntry('link kelp-5 kelp-3', holes).plan ?? readEntry('link kelp-5 kelp-3', holes).error).toBeDefined();
});

test('documents in XML are changed like those in JSON, and undone to the letter', () => {
  const xml = readSet(sampleDocuments().map((d) => ({ name: d.file.replace('json', 'xml'), content: writeXml(d.tree) }))).documents;
  const lines = ['link kelp-5 kelp-3', 'clone kelp-5 as kelp-9', 'range 10.97.0.0/18 area 10 cost 4', 'delete router kelp-4'];
  let documents = xml;
  for (const l of lines) {
    const { plan } = readEntry(l, documents);
    const next = applyEdits(documents, plan?.edits ?? []);
    expect(words(applyEdits(next, [...(plan?.edits ?? [])].reverse().map(invertEdit)))).toBe(words(documents));
    documents = next;
  }
  expect(documents.filter((d) => d.encoding !== 'xml').map((d) => d.file)).toEqual(['kelp-9.json']);
  const again = readSet(
    documents.map((d) => ({ name: d.file, content: documentText({ file: d.file, tree: d.tree, ...(d.encoding ? { encoding: d.encoding } : {}) }) })),
  );
  expect(again.problems).toEqual([]);
  expect(full(again.documents)).toBe(full(documents));
});

test('every parameter can be set and cleared, and comes back as it was', () => {
  const values: Readonly<Record<string, string>> = { 'router-id': '10.96.0.200', description: '"to the pier"', 'key-chain': 'low-tide' };
  const nssa = done(done(sampleDocuments(), 'set area-type nssa on area 10'), 'set default-cost 9 on area 10');
  for (const p of parameters) {
    const target = p.scope === 'area' ? 'area 10' : p.scope === 'process' ? 'kelp-1' : 'kelp-1/to-kelp-3';
    const tried = [values[p.name] ?? '', ...(p.words ?? []), '7', '700']
      .filter(Boolean)
      .map((v) => ({ v, r: readEntry(`set ${p.name} ${v} on ${target}`, nssa) }));
    // A key chain that is not there is refused: that is its test.
    if (p.name === 'key-chain') {
      expect(tried[0]?.r.error?.message).toMatch(/no key chain "low-tide"/);
      continue;
    }
    const good = tried.find((x) => x.r.plan);
    expect({ parameter: p.name, set: good !== undefined }).toEqual({ parameter: p.name, set: true });
    const after = applyEdits(nssa, good?.r.plan?.edits ?? []);
    expect(designFrom(after).problems.filter((x) => x.severity === 'error')).toEqual([]);
    expect(designFrom(after).notUsed).toEqual(designFrom(nssa).notUsed);
    expect(words(after)).not.toBe(words(nssa));
    const cleared = readEntry(`clear ${p.name} on ${target}`, after);
    expect({ parameter: p.name, cleared: cleared.plan !== undefined }).toEqual({ parameter: p.name, cleared: true });
  }
});

test('an interface that a rule turns on: a parameter lists it under the rule’s area, as passive as the rule has it, and says so', () => {
  const base = campus_()
    .router('a', '10.96.0.1')
    .router('b', '10.96.0.2')
    .port('a', 'x', '10.96.1.1/30', null)
    .port('a', 'hall', '10.97.1.1/24', null)
    .port('b', 'x', '10.96.1.2/30', null)
    .ospf('a', {
      activation: [
        { match: '10.96.0.0/16', 'area-id': 0 },
        { match: 'any', 'area-id': 0, passive: true },
      ],
    })
    .ospf('b', { activation: [{ match: 'any', 'area-id': 0 }] });
  const { documents } = base.read();
  const plan = readEntry('set cost 33 on a/x a/hall', documents).plan;
  expect(plan?.notes).toEqual([
    'A rule turned a/x on; it is listed under the backbone from now on.',
    'A rule turned a/hall on; it is listed under the backbone, passive, from now on.',
  ]);
  const p = predict(designFrom(applyEdits(documents, plan?.edits ?? [])).design);
  const ports = p
    .speakersOf(0)[0]
    ?.ports.map((x) => `${x.iface.name} ${x.cost} ${x.settings.passive ? 'passive' : 'speaks'} ${x.byRule ?? 'listed'}`);
  expect(ports).toEqual(['x 33 speaks listed', 'hall 33 passive listed']);
  expect(p.adjacencies.pairs.map((x) => x.a.state)).toEqual(['full']);
  // Taking out what nobody wrote changes nothing.
  expect(readEntry('clear cost on a/x', documents).plan?.edits ?? []).toEqual([]);
});

test('an interface, a loopback, a virtual interface with its carrier, a second address: each by one line', () => {
  const base = all(['router gull-1 area 10', 'router gull-2 area 10', 'link gull-1 gull-2 area 10']);
  const grown = all(
    [
      'interface gull-1/lo2 loopback area 10',
      'interface gull-1/pier as 10.99.1.1/24',
      'interface gull-1/vlan20 over pier as 10.99.20.1/24 area 10 cost 7 passive',
      'address gull-1/pier and 10.99.2.1/24',
    ],
    base,
  );
  const { design, problems } = designFrom(grown);
  expect(problems).toEqual([]);
  const r = design.routers[0];
  const words = (name: string): string => {
    const i = r?.interfaces.find((x) => x.name === name);
    return `${i?.kind ?? ''} ${i?.addresses.map((a) => `${formatAddress(a.bits)}/${a.length}`).join() ?? ''} ${i?.carriedBy?.join() ?? '-'}`;
  };
  expect(words('lo2')).toMatch(/^loopback 10\.\d+\.\d+\.\d+\/32 -$/);
  expect(words('pier')).toBe('ethernet 10.99.1.1/24,10.99.2.1/24 -');
  expect(words('vlan20')).toBe('other 10.99.20.1/24 pier');
  const p = predict(design);
  expect(
    p
      .speakersOf(0)[0]
      ?.ports.filter((x) => ['lo2', 'pier', 'vlan20'].includes(x.iface.name))
      .map((x) => `${x.iface.name} ${x.cost} ${x.up ? 'up' : 'down'}`),
  ).toEqual(['lo2 0 up', 'vlan20 7 up']);
  // Without its carrier the virtual interface is down.
  const cut = p.fail({ kind: 'interface', router: 'gull-1', iface: 'pier' });
  expect(cut.speakersOf(0)[0]?.ports.find((x) => x.iface.name === 'vlan20')?.up).toBe(false);
  expect(errorOf('interface gull-1/pier', grown)).toBe('gull-1 has an interface "pier" already: give another name.');
  expect(errorOf('interface gull-1/x over nothing', grown)).toContain('gull-1 has no interface "nothing"');
  expect(errorOf('interface gull-1/x as 10.99.1.1/24', grown)).toContain('stands on gull-1/pier already');
  expect(errorOf('interface gull-1/x cost 5', grown)).toContain('need an area');
  expect(errorOf('address gull-1/pier and 10.99.1.9/24', grown)).toContain('overlaps 10.99.1.0/24');
});

test('what is expected: stated, stated anew, and taken back, each kind by one line', () => {
  const base = all(['router gull-1 area 0', 'router gull-2 area 0', 'link gull-1 gull-2 cost 5']);
  const lo = (n: number): string => addresses(base, `gull-${n}/lo`)[0]?.replace('/32', '') ?? '';
  const lines = [
    `expect "there and back" reach ${lo(1)} ${lo(2)} under router:gull-1`,
    `expect "the way" path ${lo(1)} ${lo(2)} hops 1 cost 5 through gull-2 symmetric`,
    `expect "not so" no-reach ${lo(1)} 192.0.2.9`,
    `group "gulls" of gull-* area 0`,
    `expect "by name" reach gulls gull-1 family 4`,
    `expect "its kind" route gull-2 ${lo(1)}/32 type intra-area`,
    `expect "waiting" neighbours gull-1 0 state init`,
    'expect session session gull-1 gull-2',
    `expect route route gull-1 ${lo(2)}/32 via gull-2`,
    'expect small table gull-1 50',
    'expect neighbours neighbours gull-1 1',
    'expect plain area 0 normal',
    'expect quiet no-external 0',
    'expect few advertisements 0 1 2',
  ];
  const stated = all(lines, base);
  const { design, problems } = designFrom(stated);
  expect(problems).toEqual([]);
  const found = checkDesign(predict(design), stated).expectations;
  // A named failure of an end breaks what begins there; the two loopbacks are more than the link, and nothing is external.
  expect(found.filter((e) => !e.holds).map((e) => [e.name, e.under])).toEqual([['there and back', 'router:gull-1']]);
  expect(found).toHaveLength(lines.length - 1);
  const again = all(['expect session session gull-2 gull-1 under any-link', 'expect few off'], stated);
  const names = designFrom(again).design.settings.expectations.map((e) => `${e.name} ${e.under}`);
  expect(names).toContain('session any-link');
  expect(names).toHaveLength(lines.length - 2);
  expect(errorOf('expect x session gull-1 gull-2 under sometimes', base)).toContain('"sometimes" is no circumstance');
  expect(errorOf('group gulls off', stated)).toContain('“by name” speaks of the group');
  expect(designFrom(all(['expect "by name" off', 'group gulls off'], stated)).design.settings.groups).toEqual([]);
  expect(errorOf('group gull-1 of gull-2', base)).toContain('"gull-1" is a router');
  expect(errorOf('group g of tern-*', base)).toContain('no router has such a name');
  expect(errorOf('expect x reach gulls gull-2', base)).toContain('an address, a router or a group');
  expect(errorOf('expect nothing off', base)).toContain('Nothing of the name "nothing" is expected');
});
