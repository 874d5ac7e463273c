import * as fc from 'fast-check';
import { checkDesign } from '../findings/catalogue';
import { predict } from '../predict';
import { campusOf, plans } from '../testing/random-campus';
import { readSet } from './read-set';
import { writeXml } from '../documents/xml';

const runs = { numRuns: 120, seed: 20_261_123, endOnFailure: true };

type Step = string | number;

/** Paths of all nodes of a tree. */
function paths(tree: unknown, at: readonly Step[] = []): (readonly Step[])[] {
  if (typeof tree !== 'object' || tree === null) return [at];
  return [at, ...Object.entries(tree).flatMap(([k, v]) => paths(v, [...at, Array.isArray(tree) ? Number(k) : k]))];
}

function put(tree: unknown, at: readonly Step[], value: unknown): unknown {
  const [step, ...rest] = at;
  if (step === undefined) return value;
  const copy: Record<Step, unknown> = Object.assign(Array.isArray(tree) ? [] : {}, tree);
  copy[step] = put(copy[step], rest, value);
  return copy;
}

/** What somebody's program may write in the place of a value. */
const oddValue = fc.oneof(
  fc.jsonValue({ maxDepth: 2 }),
  fc.constantFrom(
    '0.0.0.0',
    '255.255.255.255',
    '10.96.0.0/33',
    '10.96.0.1/255.0.255.0',
    '',
    '\u0000',
    -1,
    0,
    65_536,
    4_294_967_296,
    1e308,
    '0.0.0.0/0',
    'point-to-point',
    'ietf-ospf:nssa-area',
    [null],
  ),
);

/** One to three nodes of a campus's documents replaced by odd values. */
const damaged = fc.tuple(plans, fc.array(fc.tuple(fc.nat(), fc.nat(), oddValue), { minLength: 1, maxLength: 3 })).map(([plan, hits]) => {
  const docs = campusOf(plan)
    .settings({
      profile: [{ name: 'p', router: ['*'], ospf: { paths: 2 } }],
      alike: [{ name: 'g', router: ['r0', 'r1'] }],
      expectation: [{ name: 'e', kind: 'reach', from: '10.96.0.1', to: '10.96.0.2' }],
    })
    .documents()
    .map((d): { file: string; tree: unknown } => ({ file: d.file, tree: d.tree }));
  for (const [which, where, value] of hits) {
    const d = docs[which % docs.length];
    if (!d) continue;
    const all = paths(d.tree);
    d.tree = put(d.tree, all[where % all.length] ?? [], value);
  }
  return docs;
});

/** Reads, predicts and checks; every problem must say where and what to do. */
function survive(files: readonly { name: string; content: string | Uint8Array }[]): void {
  const read = readSet(files);
  for (const p of read.problems) {
    expect(p.file).not.toBe('');
    expect(p.message).not.toBe('');
    expect(p.remedy).not.toBe('');
    expect(p.path !== '' || p.line !== undefined || /file|document|archive|JSON/.test(p.message)).toBe(true);
  }
  const p = predict(read.design);
  p.design.routers.forEach((_, i) => p.rib(i));
  checkDesign(p, read.documents, { withConsequences: false });
}

test('documents with odd values in any place are read, predicted and checked without a crash; each problem has its place', () => {
  fc.assert(
    fc.property(damaged, (docs) => survive(docs.map((d) => ({ name: d.file, content: JSON.stringify(d.tree) })))),
    runs,
  );
});

test('the same as XML', () => {
  fc.assert(
    fc.property(damaged, (docs) =>
      survive(
        docs.flatMap((d) =>
          typeof d.tree === 'object' && d.tree !== null ? [{ name: `${d.file}.xml`, content: writeXml(d.tree as Record<string, unknown>) }] : [],
        ),
      ),
    ),
    { ...runs, numRuns: 60 },
  );
});

test('text that is cut, torn or has octets changed anywhere is refused with its line, and the rest is read', () => {
  const good = JSON.stringify({ 'ietf-system:system': { hostname: 'good' } });
  fc.assert(
    fc.property(plans, fc.nat(), fc.nat({ max: 255 }), fc.constantFrom('cut', 'flip', 'drop'), (plan, where, octet, how) => {
      const text = new TextEncoder().encode(JSON.stringify(campusOf(plan).documents()[0]?.tree, null, 1));
      const at = where % text.length;
      const torn =
        how === 'cut'
          ? text.slice(0, at)
          : how === 'drop'
            ? new Uint8Array([...text.slice(0, at), ...text.slice(at + 1)])
            : text.map((o, i) => (i === at ? octet : o));
      survive([
        { name: 'torn.json', content: torn },
        { name: 'good.json', content: good },
      ]);
      expect(
        readSet([
          { name: 'torn.json', content: torn },
          { name: 'good.json', content: good },
        ]).design.routers.some((r) => r.name === 'good'),
      ).toBe(true);
    }),
    { ...runs, numRuns: 200 },
  );
});

test('a number that nobody can hold is shown as such', () => {
  const text =
    '{ "ietf-system:system": { "hostname": "a" }, "ietf-interfaces:interfaces": { "interface": [ { "name": "x", "gentle-compass:bandwidth-mbps": 1e400 } ] } }';
  expect(readSet([{ name: 'a.json', content: text }]).problems[0]?.message).toContain('a number too large to hold is not a whole number');
});
