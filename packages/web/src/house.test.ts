import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, normalize, relative } from 'node:path';

const source = __dirname;
const files = (folder: string): string[] =>
  readdirSync(folder, { withFileTypes: true }).flatMap((e) => {
    const path = join(folder, e.name);
    return e.isDirectory() ? files(path) : /(?<!\.test)\.tsx?$/.test(e.name) ? [path] : [];
  });
const all = files(source);
const name = (file: string): string => relative(source, file);
const roomOf = (file: string): string => name(file).split('/')[0] ?? '';

/** What each file takes from others of the page, types too. */
const imports = new Map(
  all.map((file) => {
    const paths = [...readFileSync(file, 'utf8').matchAll(/\bfrom '(\.[^']*)'/g)].map((m) => normalize(join(dirname(file), m[1] ?? '')));
    return [file, paths.flatMap((p) => [`${p}.ts`, `${p}.tsx`].filter((x) => all.includes(x)))] as const;
  }),
);

test('no file of the page takes from itself by way of others', () => {
  const circles: string[] = [];
  const done = new Set<string>();
  const walk = (file: string, path: readonly string[]): void => {
    if (path.includes(file)) circles.push([...path.slice(path.indexOf(file)), file].map(name).join(' > '));
    if (done.has(file) || path.includes(file)) return;
    for (const next of imports.get(file) ?? []) walk(next, [...path, file]);
    done.add(file);
  };
  for (const file of all) walk(file, []);
  expect(circles).toEqual([]);
  expect(all.length).toBeGreaterThan(80);
});

test('the worker draws nothing, the storage knows no screen, and only the model speaks to the storage', () => {
  const taken = (rooms: readonly string[], from: (file: string) => boolean): string[] =>
    [...imports]
      .filter(([file]) => rooms.includes(roomOf(file)))
      .flatMap(([file, list]) => list.filter(from).map((t) => `${name(file)} takes from ${name(t)}`));
  const screens = ['areas', 'blueprint', 'changes', 'failures', 'frame', 'layout', 'neighbours', 'routes', 'tables'];
  expect(taken(['worker', 'storage', 'model', 'map', 'parts'], (t) => screens.includes(roomOf(t)))).toEqual([]);
  expect(taken(['worker'], (t) => t.endsWith('.tsx'))).toEqual([]);
  expect(taken([...screens, 'map', 'parts', 'worker'], (t) => name(t) === 'storage/shelf.ts')).toEqual([]);
});
