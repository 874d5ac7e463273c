import * as fc from 'fast-check';
import type { Design } from '../design/design';
import { campusOf, plans } from '../testing/random-campus';
import { zipDocuments } from '../documents/archive';
import { writeCompass } from '../documents/compass-file';
import { documentText, type SourceDocument } from '../documents/documents';
import { readSet } from './read-set';
import { writeXml } from '../documents/xml';

const runs = { numRuns: 60, seed: 20_261_123, endOnFailure: true };

type Tree = Record<string, unknown>;

/** Strings that have tripped readers: markup, quotes, other alphabets, what looks like a number or a flag. */
const oddText = fc.oneof(
  fc.string({ maxLength: 12 }),
  fc.string({ unit: 'grapheme', maxLength: 6 }),
  fc.constantFrom('<b>&amp;</b>', ']]>', '"quoted"', "it's", '010', '1e5', 'true', '  spaces  ', 'Ölkännchen', '防波堤', '-->', '%2e%2e/'),
);

/** Nodes that no reader knows, under names that are allowed in both encodings. */
const unknown = fc.tuple(
  fc.constantFrom('example-tide:level', 'example-tide:moorings', 'note-of-ours'),
  fc.jsonValue({ maxDepth: 2, stringUnit: 'grapheme' }),
);

/** Puts unknown members and descriptions into some objects of a tree; `at` chooses which. */
function sprinkle(tree: unknown, extra: readonly (readonly [string, unknown])[], text: string, at: { n: number }): unknown {
  if (Array.isArray(tree)) return tree.map((t) => sprinkle(t, extra, text, at));
  if (typeof tree !== 'object' || tree === null) return tree;
  const out: Tree = {};
  for (const [k, v] of Object.entries(tree)) out[k] = sprinkle(v, extra, text, at);
  const more = extra[at.n++ % (extra.length * 3 + 1)];
  if (more && !('name' in out && 'ip' in out)) out[more[0]] = more[1];
  if ('name' in out && 'type' in out) out.description = text;
  return out;
}

const documents = fc.tuple(plans, fc.array(unknown, { maxLength: 4 }), oddText).map(([plan, extra, text]): SourceDocument[] => {
  const at = { n: 0 };
  return campusOf(plan)
    .settings({ note: text, expectation: [{ name: 'x', kind: 'reach', from: '10.96.0.1', to: '10.96.0.2', note: text }] })
    .documents()
    .map((d) => ({ file: d.file, tree: sprinkle(d.tree, extra, text, at) as Tree }));
});

/** What a design means: everything but where it was written. */
const meaning = (d: Design): unknown =>
  JSON.parse(
    JSON.stringify(d, (k, v: unknown) =>
      ['at', 'file', 'written', 'given', 'defaults'].includes(k) ? undefined : v instanceof Map ? [...(v as Map<string, unknown>)] : v,
    ),
  );

test('a JSON document read, written and read again is the same document', () => {
  fc.assert(
    fc.property(documents, (docs) => {
      const first = readSet(docs.map((d) => ({ name: d.file, content: JSON.stringify(d.tree) })));
      expect(first.problems.filter((p) => p.severity === 'error')).toEqual([]);
      const again = readSet(first.documents.map((d) => ({ name: d.file, content: documentText({ file: d.file, tree: d.tree }) })));
      expect(again.documents.map((d) => d.tree)).toEqual(JSON.parse(JSON.stringify(docs.map((d) => d.tree))));
      expect(again.design).toEqual(first.design);
    }),
    runs,
  );
});

test('as an archive and as a design file it is the same set', () => {
  fc.assert(
    fc.property(documents, (docs) => {
      const plain = readSet(docs.map((d) => ({ name: d.file, content: JSON.stringify(d.tree) })));
      const zip = readSet([{ name: 'x.zip', content: zipDocuments(plain.documents) }]);
      const whole = readSet([{ name: 'x.compass.json', content: writeCompass({ name: 'x', documents: plain.documents }) }]);
      expect(meaning(zip.design)).toEqual(meaning(plain.design));
      expect(whole.documents.map((d) => d.tree)).toEqual(plain.documents.map((d) => d.tree));
    }),
    { ...runs, numRuns: 20 },
  );
});

test('as XML it is read with the same meaning, and written again it is the same XML', () => {
  fc.assert(
    fc.property(plans, oddText, (plan, text) => {
      // Controls cannot stand in XML 1.0 at all.
      // eslint-disable-next-line no-control-regex
      const clean = text.replace(/[\u0000-\u001f\u007f-\u009f\ufffe\uffff]|[\ud800-\udfff]/g, '');
      const docs = campusOf(plan)
        .documents()
        .map((d) => ({ file: d.file, tree: sprinkle(d.tree, [['example-tide:level', clean]], clean, { n: 0 }) as Tree }));
      const json = readSet(docs.map((d) => ({ name: d.file, content: JSON.stringify(d.tree) })));
      const xml = readSet(docs.map((d) => ({ name: d.file.replace('.json', '.xml'), content: writeXml(d.tree) })));
      expect(xml.problems.filter((p) => p.severity === 'error')).toEqual([]);
      expect(meaning(xml.design)).toEqual(meaning(json.design));
      const second = readSet(xml.documents.map((d) => ({ name: d.file, content: writeXml(d.tree) })));
      expect(second.documents.map((d) => writeXml(d.tree))).toEqual(xml.documents.map((d) => writeXml(d.tree)));
    }),
    runs,
  );
});

test('a fault in XML is told with the line and column where its node begins', () => {
  const text = `<?xml version="1.0"?>
<config xmlns="urn:ietf:params:xml:ns:netconf:base:1.0">
  <system xmlns="urn:ietf:params:xml:ns:yang:ietf-system"><hostname>a</hostname></system>
  <interfaces xmlns="urn:ietf:params:xml:ns:yang:ietf-interfaces">
    <interface>
      <name>x</name>
      <ipv4 xmlns="urn:ietf:params:xml:ns:yang:ietf-ip">
        <mtu>12</mtu>
        <address><ip>10.96.0.1</ip><prefix-length>24</prefix-length></address>
        <address><ip>10.96.1.1</ip><prefix-length>99</prefix-length></address>
      </ipv4>
    </interface>
  </interfaces>
</config>`;
  const { problems } = readSet([{ name: 'a.xml', content: text }]);
  expect(problems.map((p) => [p.path.split('/').at(-1), p.line, p.column])).toEqual([
    ['prefix-length', 10, 36],
    ['mtu', 8, 9],
  ]);
});
