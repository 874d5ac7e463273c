import fc from 'fast-check';
import { strToU8, zipSync } from 'fflate';
import { applyEdits, invertEdit, pathWords, valueAt, type Edit } from '../design/edit';
import { campus } from '../testing/campus';
import { sample } from '../testing/sample';
import { digestOf, holdsKeys, redactKeys, sameSecret } from '../documents/key-digest';
import { writeXml } from '../documents/xml';
import { readCompass, writeCompass } from '../documents/compass-file';
import { zipDocuments } from '../documents/archive';
import { documentText, type InputFile, type SourceDocument } from '../documents/documents';
import { parseDocumentText } from '../documents/json-text';
import { Positions } from '../documents/positions';
import { designFrom, readSet } from './read-set';

const named = (hostname: string, more: object = {}): string => JSON.stringify({ 'ietf-system:system': { hostname }, ...more });
const read = (content: string | Uint8Array, name = 'x.json'): ReturnType<typeof readSet> => readSet([{ name, content }]);
const interfaces = (list: readonly object[]): object => ({ 'ietf-interfaces:interfaces': { interface: list } });

describe('reading (RFC 7951)', () => {
  test('module prefixes may stand or be left out, identities too, area ids as numbers or dotted', () => {
    const plain = {
      'ietf-routing:routing': {
        'control-plane-protocols': {
          'control-plane-protocol': [
            {
              type: 'ietf-ospf:ospfv2',
              name: 'c',
              'ietf-ospf:ospf': {
                'ietf-ospf:areas': {
                  area: [
                    {
                      'area-id': 10,
                      'area-type': 'stub-area',
                      interfaces: { interface: [{ name: 'e', 'interface-type': 'ietf-ospf:point-to-point' }] },
                    },
                  ],
                },
              },
            },
          ],
        },
      },
      ...interfaces([{ name: 'e', type: 'ethernetCsmacd' }]),
    };
    const { design, problems } = read(named('r', plain));
    expect(problems).toEqual([]);
    const area = design.routers[0]?.instances[0]?.areas[0];
    expect([area?.id, area?.type, area?.interfaces[0]?.type]).toEqual([10, 'stub', 'point-to-point']);
  });
  test('prefixes by length, mask and inverted mask are one; a mask with holes is refused', () => {
    const area = (prefix: string): object => ({
      'ietf-routing:routing': {
        'control-plane-protocols': {
          'control-plane-protocol': [{ type: 'ospfv2', name: 'c', ospf: { areas: { area: [{ 'area-id': 1, ranges: { range: [{ prefix }] } }] } } }],
        },
      },
    });
    const range = (prefix: string) => read(named('r', area(prefix)));
    for (const p of ['10.96.64.0/18', '10.96.64.0/255.255.192.0', '10.96.64.0 0.0.63.255'])
      expect(range(p).design.routers[0]?.instances[0]?.areas[0]?.ranges[0]?.prefix).toEqual({ bits: 0x0a60_4000, length: 18 });
    const holed = range('10.96.64.0/255.0.255.0');
    expect(holed.design.routers[0]?.instances[0]?.areas[0]?.ranges).toEqual([]);
    expect(holed.problems[0]).toMatchObject({
      path: expect.stringContaining('range[prefix=10.96.64.0/255.0.255.0]/prefix') as unknown,
      severity: 'error',
    });
  });
  test('what nothing is computed from is listed and stands again on export', () => {
    const text = named('r', { 'example:colour': 'blue', ...interfaces([{ name: 'e', 'example:speed': 9 }]) });
    const result = read(text);
    expect(result.notUsed).toEqual(['x.json: colour', 'x.json: interfaces/interface[name=e]/speed']);
    const first = result.documents[0];
    expect(first && JSON.parse(documentText(first))).toEqual(JSON.parse(text));
  });
  test.each([
    ['an interval of 0', { 'hello-interval': 0 }, 'hello-interval'],
    ['a cost beyond its range', { cost: 65_536 }, 'cost'],
    ['a text for a flag', { passive: 'yes' }, 'passive'],
    ['an unknown type', { 'interface-type': 'token-ring' }, 'interface-type'],
  ])('%s is told with file, path and remedy; the rest is read', (_, bad, leaf) => {
    const doc = campus().router('r', '10.96.0.1', 0).port('r', 'e', '10.97.1.1/24', 0, bad).documents();
    const { design, problems } = designFrom(doc);
    expect(problems).toHaveLength(1);
    expect(problems[0]?.file).toBe('r.json');
    expect(problems[0]?.path).toMatch(new RegExp(`interface\\[name=e\\]/${leaf}$`));
    expect(problems[0]?.remedy).not.toBe('');
    expect(design.routers[0]?.instances[0]?.areas[0]?.interfaces).toHaveLength(2);
  });
  test('a host name that is missing, doubled or has invisible characters', () => {
    expect(read(JSON.stringify(interfaces([]))).problems[0]?.message).toMatch(/does not name its router/);
    expect(read(named('kelp\u20281')).problems[0]?.path).toBe('system/hostname');
    const twins = readSet([
      { name: 'one.json', content: named('kelp-1') },
      { name: 'two.json', content: named('kelp-1') },
    ]);
    expect(twins.problems[0]).toMatchObject({ file: 'two.json', message: expect.stringContaining('already stands in one.json') as unknown });
    expect(twins.design.routers).toHaveLength(1);
  });
});

describe('hostile files', () => {
  test.each([
    ['truncated', '{ "ietf-system:system": { "hostname": "a" ', 1],
    ['a missing comma', '{\n "a": 1\n "b": 2 }', 3],
    ['a comment', '{ // no\n "a": 1 }', 1],
    ['a bare word', '{ "a": maybe }', 1],
  ])('%s: the line is named', (_, text, line) => {
    const { tree, problems } = parseDocumentText('f.json', text);
    expect(tree).toBeUndefined();
    expect(problems[0]?.line).toBe(line);
    expect(problems[0]?.message).toContain(`line ${line}`);
  });
  test('encodings other than UTF-8 are refused by name; a byte-order mark is fine', () => {
    const utf16 = new Uint8Array([0xff, 0xfe, ...Array.from(strToU8(named('a'))).flatMap((c) => [c, 0])]);
    expect(read(utf16).problems[0]?.message).toContain('UTF-16');
    expect(read(new Uint8Array([0x7b, 0x22, 0xe9, 0x22, 0x7d])).problems[0]?.message).toContain('Latin-1');
    expect(read(strToU8(`\ufeff${named('a')}`)).problems).toEqual([]);
  });
  test('deep nesting is refused and does not end in a crash', () => {
    const deep = `${'['.repeat(200_000)}${']'.repeat(200_000)}`;
    expect(read(`{"a":${deep}}`).problems[0]?.message).toMatch(/100 levels/);
    expect(read(named('r', { x: '['.repeat(500) })).problems).toEqual([]);
  });
  test('a member written twice is told with its line', () => {
    const twice = '{ "ietf-system:system": { "hostname": "a",\n "hostname": "b" } }';
    expect(read(twice).problems[0]).toMatchObject({ line: 2, message: expect.stringContaining('"hostname" is written twice') as unknown });
  });
  test('names with markup and huge numbers are only data', () => {
    const { design, problems } = read(named('<img src=x onerror=alert(1)>', interfaces([{ name: 'e', 'gentle-compass:bandwidth-mbps': 1e308 }])));
    expect(design.routers[0]?.name).toBe('<img src=x onerror=alert(1)>');
    expect(problems[0]?.path).toContain('bandwidth-mbps');
  });
  test('archives: climbing names, a size that lies, a cut end', () => {
    const climbing = zipSync({ '../up.json': strToU8(named('a')), 'in.json': strToU8(named('b')) });
    const result = read(climbing, 'set.zip');
    expect(result.design.routers.map((r) => r.name)).toEqual(['b']);
    expect(result.problems[0]?.message).toContain('climbs out');
    const honest = zipSync({ 'a.json': strToU8(named('a', { note: 'x'.repeat(5000) })) }, { level: 9 });
    const lying = honest.slice();
    // The unpacked size stands in the local header and in the directory: both now say 10 octets.
    const view = new DataView(lying.buffer);
    for (let i = 0; i < lying.length - 4; i++) {
      if (view.getUint32(i, true) === 0x0403_4b50) view.setUint32(i + 22, 10, true);
      if (view.getUint32(i, true) === 0x0201_4b50) view.setUint32(i + 24, 10, true);
    }
    expect(read(lying, 'lying.zip').design.routers).toEqual([]);
    expect(read(lying, 'lying.zip').problems.length).toBeGreaterThan(0);
    expect(read(honest.slice(0, 60), 'cut.zip').problems[0]?.message).toContain('cannot be unpacked');
  });
  test('whatever text comes, reading ends with a design and told problems', () => {
    fc.assert(
      fc.property(fc.oneof(fc.json(), fc.string(), fc.uint8Array()), (content) => {
        const { problems, design } = read(content);
        for (const p of problems) expect(p.file === 'x.json' && p.message !== '' && p.remedy !== '').toBe(true);
        expect(design.routers.length + problems.length).toBeGreaterThan(0);
      }),
      { numRuns: 400, seed: 7 },
    );
  });
});

/** A document without the text it came from. */
const bare = ({ file, tree }: SourceDocument): SourceDocument => ({ file, tree });

describe('writing', () => {
  const files = (result: ReturnType<typeof readSet>): InputFile[] => result.documents.map((d) => ({ name: d.file, content: documentText(d) }));
  test('documents, archive and design file read back equal', () => {
    const campusRead = sample('saltmarsh-point');
    expect(readSet(files(campusRead)).documents.map(bare)).toEqual(campusRead.documents.map(bare));
    const zip = readSet([{ name: 'c.zip', content: zipDocuments(campusRead.documents) }]);
    expect(zip.documents.map((d) => d.tree)).toEqual(campusRead.documents.map((d) => d.tree));
    const text = writeCompass({ name: 'Saltmarsh Point', documents: campusRead.documents });
    expect(readSet([{ name: 'c.compass.json', content: text }]).documents.map(bare)).toEqual(campusRead.documents.map(bare));
  });
  test('two documents of one file name are both in the archive', () => {
    const docs = [
      { file: 'a/r.json', tree: { x: 1 } },
      { file: 'b/r.json', tree: { x: 2 } },
    ];
    const back = readSet([{ name: 'c.zip', content: zipDocuments(docs) }]);
    expect(back.problems.map((p) => p.file).sort()).toEqual(['r-2.json', 'r.json']);
  });
  test('a design file of a later version, or with a wrong shape, is told', () => {
    expect(readCompass('f', { format: 'gentle-compass', version: 9 })).toMatchObject({ path: 'version' });
    expect(readCompass('f', { format: 'gentle-compass', version: 1, name: 'x', documents: [{ file: 1, tree: {} }] })).toMatchObject({
      path: 'documents/0/file',
    });
  });
});

describe('edits', () => {
  const tree = { a: { b: [{ name: 'x', c: 1 }] } };
  const doc = { file: 'f.json', tree };
  test('any sequence of edits undone gives the first document', () => {
    const path = fc.constantFrom(['a', 'b', 0, 'c'], ['a', 'b', 0, 'd'], ['a', 'e', 'f'], ['a', 'b', 0, 'g', 'h']);
    fc.assert(
      fc.property(fc.array(fc.tuple(path, fc.option(fc.integer(), { nil: undefined })), { maxLength: 12 }), (steps) => {
        let now: SourceDocument[] = [doc];
        const done: Edit[] = [];
        for (const [at, to] of steps) {
          const e = { router: 'r', file: 'f.json', at, from: valueAt(now[0]?.tree, at) as number | undefined, to };
          done.push(e);
          now = applyEdits(now, [e]);
        }
        expect(applyEdits(now, done.reverse().map(invertEdit))).toEqual([doc]);
      }),
      { seed: 3 },
    );
  });
  test('an edit shares everything that it does not touch', () => {
    const [after] = applyEdits([doc], [{ router: 'r', file: 'f.json', at: ['a', 'e'], from: undefined, to: 5 }]);
    expect(valueAt(after?.tree, ['a', 'b'])).toBe(tree.a.b);
  });
  test('paths in words and as lines', () => {
    expect(pathWords(tree, ['a', 'b', 0, 'c'])).toBe('a/b[x]/c');
    const text = JSON.stringify(tree, null, 2);
    const positions = new Positions({ file: 'x', tree, text });
    expect(positions.at(['a', 'b', 0, 'c'])).toEqual({ line: 6, column: 9 });
    expect(positions.at(['a', 'b', 0, 'not written'])?.line).toBe(4);
  });
});

describe('keys', () => {
  const keyed = (key: string): SourceDocument => ({
    file: 'r.json',
    tree: { 'ietf-system:system': { hostname: 'r' }, chain: [{ 'key-string': { keystring: key } }], port: { authentication: { 'ospfv2-key': key } } },
  });
  test('an export without keys holds digests, equal where the keys are equal', () => {
    const [one, same, other] = redactKeys([keyed('salt'), keyed('salt'), keyed('pepper')], 'a1b2c3d4');
    expect(JSON.stringify([one, same, other])).not.toMatch(/"salt"|"pepper"/);
    expect(one?.tree).toEqual(same?.tree);
    expect(one?.tree).not.toEqual(other?.tree);
    expect([holdsKeys([keyed('salt')]), holdsKeys(one ? [one] : [])]).toEqual([true, false]);
    expect(redactKeys(one ? [one] : [], 'ffffffff')[0]?.tree).toEqual(one?.tree);
  });
  test('a digest equals the key it was made of, and no other', () => {
    const digest = digestOf('a1b2c3d4', 'salt');
    expect([sameSecret(digest, 'salt'), sameSecret('salt', digest), sameSecret(digest, 'pepper'), sameSecret(digest, digest)]).toEqual([
      true,
      true,
      false,
      true,
    ]);
    expect(sameSecret(digest, digestOf('ffffffff', 'salt'))).toBe(false);
  });
});

describe('XML (RFC 6241, RFC 7950 §7)', () => {
  test('the sample campus written as XML reads back as the same design, bare or in an envelope', () => {
    const json = sample('saltmarsh-point');
    const xml = readSet(json.documents.map((d) => ({ name: d.file.replace('.json', '.xml'), content: writeXml(d.tree) })));
    expect(xml.problems).toEqual([]);
    const strip = (r: ReturnType<typeof readSet>): unknown =>
      JSON.parse(
        JSON.stringify(
          r.design.routers.map(({ file, ...rest }) => ({ ...rest, file: file.replace(/\.(json|xml)$/, '') })),
          (k, v: unknown) => (k === 'at' ? undefined : typeof v === 'bigint' ? String(v) : v),
        ),
      );
    expect(strip(xml)).toEqual(strip(json));
    const text = writeXml(json.documents[0]?.tree ?? {});
    const bareText = text.replace(/<config[^>]*>/, '<data>').replace('</config>', '</data>');
    expect(read(bareText, 'x.xml').design.routers).toHaveLength(1);
  });
  test('a document that came as XML leaves as XML, after an edit too', () => {
    const result = read(writeXml(JSON.parse(named('kelp-9')) as Record<string, unknown>), 'k.xml');
    const [edited] = applyEdits(result.documents, [
      { router: 'kelp-9', file: 'k.xml', at: ['ietf-system:system', 'location'], from: undefined, to: 'quay <3' },
    ]);
    expect(edited && documentText(edited)).toContain('<location>quay &lt;3</location>');
  });
  test('entity bombs, external entities, deep nesting and broken markup are refused with their line', () => {
    const bomb = '<?xml version="1.0"?>\n<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]>\n<config>&b;</config>';
    expect(read(bomb, 'b.xml').problems[0]).toMatchObject({ message: expect.stringContaining('document type') as unknown, line: 2 });
    expect(read('<!DOCTYPE x SYSTEM "file:///etc/passwd"><config/>', 'e.xml').problems[0]?.message).toContain('document type');
    expect(read('<config>&nothing;</config>', 'u.xml').problems[0]?.message).toMatch(/entity/);
    expect(read(`${'<a>'.repeat(5000)}${'</a>'.repeat(5000)}`, 'd.xml').problems[0]?.message).toContain('100 levels');
    expect(read('<config>\n<a></b></config>', 'm.xml').problems[0]?.line).toBe(2);
  });
});
