import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, normalize, relative } from 'node:path';

/** The rooms of the house from the ground floor up: a room takes only from rooms before it, and files of a room from each other without a circle. */
const rooms = [
  'prefix',
  'documents',
  'design',
  'formats',
  'segments',
  'failures',
  'adjacency',
  'lsdb',
  'spf',
  'routes',
  'plain',
  'dense',
  'predict.ts',
  'reach',
  'evidence',
  'compare',
  'loads',
  'alternates',
  'summaries',
  'sweep',
  'convergence',
  'neighbours',
  'findings',
  'entry',
  'planned',
  'sheets',
  'areas',
  'blueprint',
  'generate',
  'reports',
] as const;

const source = __dirname;

const files = (folder: string): string[] =>
  readdirSync(folder, { withFileTypes: true }).flatMap((e) => {
    const path = join(folder, e.name);
    return e.isDirectory() ? (e.name === 'testing' ? [] : files(path)) : /(?<!\.test)\.ts$/.test(e.name) ? [path] : [];
  });

const all = files(source);
const roomOf = (file: string): string => relative(source, file).split('/')[0] ?? '';

/** What each file takes from others, types too: an order that holds for types only is none. */
const imports = new Map(
  all.map((file) => {
    const text = readFileSync(file, 'utf8');
    const paths = [...text.matchAll(/\bfrom '(\.[^']*)'/g)].map((m) => `${normalize(join(dirname(file), m[1] ?? ''))}.ts`);
    return [file, paths] as const;
  }),
);

test('every room has its place, and every import names a file', () => {
  expect([...new Set(all.map(roomOf))].filter((r) => !(rooms as readonly string[]).includes(r))).toEqual([]);
  expect([...imports.values()].flat().filter((p) => !all.includes(p))).toEqual([]);
  expect(all.length).toBeGreaterThan(150);
});

test('a room takes only from rooms before it', () => {
  const place = (file: string): number => (rooms as readonly string[]).indexOf(roomOf(file));
  const upward = [...imports].flatMap(([file, taken]) =>
    taken.filter((t) => place(t) > place(file)).map((t) => `${relative(source, file)} takes from ${relative(source, t)}`),
  );
  expect(upward).toEqual([]);
});

test('neither road takes from the other', () => {
  const across = [...imports].flatMap(([file, taken]) =>
    taken
      .filter((t) => [roomOf(file), roomOf(t)].sort().join() === 'dense,plain')
      .map((t) => `${relative(source, file)} takes from ${relative(source, t)}`),
  );
  expect(across).toEqual([]);
});

test('no file comes back to itself by what it takes', () => {
  const circles: string[] = [];
  const done = new Set<string>();
  const walk = (file: string, way: readonly string[]): void => {
    const at = way.indexOf(file);
    if (at >= 0) {
      circles.push([...way.slice(at), file].map((f) => relative(source, f)).join(' > '));
      return;
    }
    if (done.has(file)) return;
    for (const next of imports.get(file) ?? []) walk(next, [...way, file]);
    done.add(file);
  };
  for (const file of all) walk(file, []);
  expect(circles).toEqual([]);
});
