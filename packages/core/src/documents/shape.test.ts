import fc from 'fast-check';
import { Cursor, type ReadContext } from './cursor';
import { parseDocumentText } from './json-text';
import { colonsIn, joinedNames, localName, shapeOf } from './shape';
import { rootSpot } from './spot';

const names = ['cost', 'a:cost', 'b:cost', 'name', 'a:name', 'enabled', 'z:enabled', ''];
const nodes = fc.uniqueArray(fc.constantFrom(...names), { maxLength: names.length }).map((keys) => Object.fromEntries(keys.map((k) => [k, 1])));

/** The slow, obvious way to find a member. */
const memberOf = (node: object, name: string): string | undefined => {
  const keys = Object.keys(node);
  return keys.includes(name) ? name : keys.find((k) => k.includes(':') && k.slice(k.indexOf(':') + 1) === name);
};

test('whatever is asked for in whatever order, a member is found as by looking at each', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(nodes, fc.array(fc.constantFrom(...names), { maxLength: 12 })), { maxLength: 12 }), (turns) => {
      for (const [node, asks] of turns) {
        const shape = shapeOf(node);
        expect(shape.keys).toEqual(Object.keys(node));
        expect(shape.colons).toBe(colonsIn(JSON.stringify(node)));
        for (const name of asks) {
          const found = shape.find(name);
          expect(found.key).toBe(memberOf(node, name));
          expect(found.place).toBe(Object.keys(node).indexOf(found.key ?? '\0'));
        }
      }
    }),
    { numRuns: 300 },
  );
});

test('names of two nodes are joined once', () => {
  const [a, b] = [shapeOf({ 'x:cost': 1, name: 2 }).names(''), shapeOf({ paths: 1, name: 1 }).names('')];
  expect([...joinedNames(a, b)]).toEqual(['cost', 'name', 'paths']);
  expect(joinedNames(a, b)).toBe(joinedNames(a, b));
  expect(localName('x:y:z')).toBe('y:z');
});

test('documents share the paths of their nodes, each its own steps', () => {
  const read = (node: Record<string, unknown>): readonly (readonly unknown[])[] => {
    const context: ReadContext = { file: 'knot.json', problems: [], notUsed: [] };
    const root = Cursor.root(context, node);
    return [root.at, ...(root.child('tree')?.list('row', 'id') ?? []).map((c) => c.at), root.child('tree')?.at ?? []];
  };
  const one = read({ 'm:tree': { row: [{ id: 1 }, { id: 2 }] } });
  expect(one).toEqual([[], ['m:tree', 'row', 0], ['m:tree', 'row', 1], ['m:tree']]);
  const other = read({ 'm:tree': { row: [{ id: 7 }, 'no object', { id: 9 }] } });
  expect(other).toEqual([[], ['m:tree', 'row', 0], ['m:tree', 'row', 2], ['m:tree']]);
  expect(other[1]).toBe(one[1]);
  expect(read({ tree: { row: [{}] } })[1]).toEqual(['tree', 'row', 0]);
});

test('more places and shapes than are remembered are all found', () => {
  for (let i = 0; i < 30; i++)
    for (let n = 0; n < 700; n++) expect(rootSpot().below(`member-${i}-${n}`, n % 3).path).toEqual([`member-${i}-${n}`, n % 3]);
  const wide = Object.fromEntries(Array.from({ length: 60_000 }, (_, n) => [`member-${n}`, n]));
  const { tree, problems } = parseDocumentText('wide.json', JSON.stringify(wide));
  expect(problems).toEqual([]);
  const context: ReadContext = { file: 'wide.json', problems: [], notUsed: [] };
  const root = Cursor.root(context, tree ?? {});
  expect(root.writes('member-59999')).toBe(true);
  root.known('member-40000', 'member-7');
  root.finish();
  expect(context.notUsed).toHaveLength(59_998);
  expect(context.notUsed).not.toContain('member-40000');
});
