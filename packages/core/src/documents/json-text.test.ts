import fc from 'fast-check';
import { parseDocumentText } from './json-text';

/** Names and texts in which colons, quotes and escapes stand. */
const word = fc.stringMatching(/^[ab:"\\ ]{0,4}$/);
const leaf = fc.oneof(word, fc.integer(), fc.boolean(), fc.constant(null));
const tree = fc.dictionary(word, fc.oneof(leaf, fc.array(leaf, { maxLength: 3 }), fc.dictionary(word, leaf, { maxKeys: 3 })), { maxKeys: 4 });
const escaped = (text: string): string => text.replaceAll(':', '\\u003a');

test('any object is read as it stands, with colons in names and texts, spaced or not, escaped or not', () => {
  fc.assert(
    fc.property(tree, fc.constantFrom(undefined, 1, 2), fc.boolean(), (value, indent, escape) => {
      const text = JSON.stringify(value, null, indent);
      // Only inside of texts: a separator cannot be escaped.
      const written = escape ? text.replace(/"(?:[^"\\]|\\.)*"/g, escaped) : text;
      expect(parseDocumentText('a.json', written)).toEqual({ tree: JSON.parse(written) as unknown, problems: [] });
    }),
    { numRuns: 400, seed: 21 },
  );
});

test('a member that is written twice is told wherever it stands and whatever else the text holds', () => {
  fc.assert(
    fc.property(tree, word, leaf, leaf, fc.boolean(), fc.constantFrom('', ' '), (value, name, first, second, escape, space) => {
      const twice = `{${JSON.stringify(name)}${space}: ${JSON.stringify(first)}, ${JSON.stringify(name)}:${JSON.stringify(second)}}`;
      const rest = JSON.stringify({ ...value, rest: '":\\":' });
      const text = `{"inner":${twice},"more":${escape ? rest.replace(/"(?:[^"\\]|\\.)*"/g, escaped) : rest}}`;
      const { tree: read, problems } = parseDocumentText('a.json', text);
      expect(problems.map((p) => p.message)).toEqual([expect.stringContaining('is written twice in one object')]);
      expect(read).toEqual(JSON.parse(text));
    }),
    { numRuns: 400, seed: 22 },
  );
});

test('a text that is nested too deeply is refused with its place, however large it is', () => {
  const deep = `{"a":${'['.repeat(5000)}${']'.repeat(5000)}}`;
  expect(parseDocumentText('a.json', deep).problems[0]?.message).toMatch(/nested more than/);
  expect(parseDocumentText('a.json', deep).tree).toBeUndefined();
});
