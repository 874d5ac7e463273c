import fc from 'fast-check';
import { strToU8, zipSync } from 'fflate';
import { readSet } from '../formats/read-set';
import { unzip } from './archive';
import type { ReadProblem } from './cursor';

const text = (name: string): string => JSON.stringify({ 'ietf-system:system': { hostname: name }, note: 'the tide '.repeat(40) });
const files = { 'a.json': strToU8(text('a')), 'sub/b.json': strToU8(text('b')), 'read me.txt': strToU8('nothing') };
const packed = zipSync(files, { mtime: '2020-01-01T00:00:00' });

const open = (content: Uint8Array): { names: string[]; texts: string[]; problems: ReadProblem[] } => {
  const problems: ReadProblem[] = [];
  const found = unzip({ name: 'set.zip', content }, problems);
  return { names: found.map((f) => f.name), texts: found.map((f) => new TextDecoder().decode(f.content as Uint8Array)), problems };
};
const words = (problems: readonly ReadProblem[]): string[] => problems.map((p) => `${p.file}: ${p.message}`);

/** Changes every header of a kind: `local` or `central`, at an offset. */
function patch(content: Uint8Array, mark: number, name: string, change: (view: DataView, at: number) => void): Uint8Array {
  const out = content.slice();
  const view = new DataView(out.buffer);
  const nameAt = mark === 0x04034b50 ? 30 : 46;
  for (let i = 0; i + nameAt + name.length <= out.length; i++)
    if (view.getUint32(i, true) === mark && new TextDecoder().decode(out.subarray(i + nameAt, i + nameAt + name.length)) === name) change(view, i);
  return out;
}
const [local, central] = [0x04034b50, 0x02014b50];

test('documents come out as they were packed; anything else is left where it is', () => {
  expect(open(packed)).toEqual({ names: ['a.json', 'sub/b.json'], texts: [text('a'), text('b')], problems: [] });
  expect(open(zipSync(files, { level: 0 })).texts).toEqual([text('a'), text('b')]);
  expect(open(zipSync({}))).toEqual({ names: [], texts: [], problems: [] });
});

test('whatever octet is changed, what is read is what was packed, or the entry is named', () => {
  let told = 0;
  fc.assert(
    fc.property(fc.nat(packed.length - 1), fc.integer({ min: 1, max: 255 }), (at, by) => {
      const changed = packed.slice();
      changed[at] = ((changed[at] ?? 0) + by) & 255;
      const { names, texts, problems } = open(changed);
      const known = new Set([text('a'), text('b')]);
      for (const t of texts) expect(known.has(t)).toBe(true);
      if (problems.length > 0) told++;
      // Less than was packed is never read in silence.
      else expect(names).toEqual(['a.json', 'sub/b.json']);
      expect(names.length).toBe(texts.length);
    }),
    { numRuns: 1500, seed: 20_261_129 },
  );
  expect(told).toBeGreaterThan(300);
});

test('a damaged entry is left out and named, the other one is read', () => {
  const damaged = patch(packed, local, 'a.json', (view, i) => view.setUint8(i + 50, view.getUint8(i + 50) ^ 0x55));
  expect(open(damaged).names).toEqual(['sub/b.json']);
  expect(words(open(damaged).problems)).toEqual(['set.zip › a.json: This entry is damaged: it is not what was packed.']);
  const wrong = patch(packed, central, 'sub/b.json', (view, i) => view.setUint32(i + 16, 1234, true));
  expect(words(open(wrong).problems)).toEqual(['set.zip › sub/b.json: This entry is damaged: it is not what was packed.']);
});

test.each([
  ['encrypted', (view: DataView, i: number) => view.setUint16(i + 8, view.getUint16(i + 8, true) | 1, true), /This entry is encrypted/],
  ['packed in an odd way', (view: DataView, i: number) => view.setUint16(i + 10, 12, true), /packed by method 12/],
  ['shorter than it says', (view: DataView, i: number) => view.setUint32(i + 24, view.getUint32(i + 24, true) + 1, true), /damaged/],
  ['longer than it says', (view: DataView, i: number) => view.setUint32(i + 24, 12, true), /damaged/],
  ['said to lie elsewhere', (view: DataView, i: number) => view.setUint32(i + 42, 7, true), /damaged/],
  ['over the limit', (view: DataView, i: number) => view.setUint32(i + 24, 65 * 1024 * 1024, true), /100 times its own size/],
])('an entry that is %s is named', (_, change, message) => {
  const { names, problems } = open(patch(packed, central, 'a.json', change));
  expect(names).not.toContain('a.json');
  expect(words(problems).join()).toMatch(message);
});

test('of two entries of one name the first is read and the second named', () => {
  const twice = patch(zipSync({ 'a.json': strToU8(text('a')), 'b.json': strToU8(text('b')) }), central, 'b.json', (view, i) =>
    view.setUint8(i + 46, 97),
  );
  expect(open(twice).texts).toEqual([text('a')]);
  expect(words(open(twice).problems)).toEqual(['set.zip › a.json: This name stands in the archive twice.']);
});

test('an archive that announces far more than it holds is refused before anything is unpacked', () => {
  const bomb = zipSync({ 'a.json': new Uint8Array(40 * 1024 * 1024) }, { level: 9 });
  expect(bomb.length).toBeLessThan(500_000);
  expect(words(open(bomb).problems)).toEqual(['set.zip: Unpacked this archive would have 40 MB, over 100 times its own size.']);
  // Much packed tightly, as configurations are, is none.
  const large = zipSync({ 'a.json': strToU8(text('a').repeat(60_000)) }, { level: 1 });
  expect(open(large).problems).toEqual([]);
});

test('too many entries, a directory that is not there, is cut or says more than there is', () => {
  const many = zipSync(Object.fromEntries(Array.from({ length: 10_001 }, (_, i) => [`r${i}.json`, strToU8('{}')])), { level: 0 });
  expect(words(open(many).problems)).toEqual(['set.zip: This archive has 10,001 entries; the limit is 10,000.']);
  for (const content of [packed.slice(0, packed.length - 30), packed.slice(0, 10), packed.slice(0, 200)])
    expect(words(open(content).problems)).toEqual(['set.zip: This archive cannot be unpacked; it may be cut short.']);
  const more = packed.slice();
  new DataView(more.buffer).setUint16(more.length - 12, 9, true);
  expect(words(open(more).problems)).toEqual(['set.zip: This archive cannot be unpacked; it may be cut short.']);
});

test('a comment behind the directory, and octets before the archive’s own view of itself, do no harm', () => {
  const commented = new Uint8Array(packed.length + 5);
  commented.set(packed);
  new DataView(commented.buffer).setUint16(packed.length - 2, 5, true);
  expect(open(commented).names).toEqual(['a.json', 'sub/b.json']);
});

test('the good documents of a damaged archive are predicted, the bad one is an error with a name', () => {
  const damaged = patch(packed, local, 'a.json', (view, i) => view.setUint8(i + 50, view.getUint8(i + 50) ^ 0x55));
  const read = readSet([{ name: 'set.zip', content: damaged }]);
  expect(read.design.routers.map((r) => r.name)).toEqual(['b']);
  expect(read.problems.filter((p) => p.severity === 'error').map((p) => p.file)).toEqual(['set.zip › a.json']);
});
