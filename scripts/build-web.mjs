// Builds the pages when a source has changed since the last build.
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root, run, say } from './install.mjs';

const folders = ['packages/web/app', 'packages/web/src', 'packages/core/src'];
const files = [
  'package-lock.json',
  'packages/web/next.config.ts',
  'packages/web/package.json',
  'packages/web/postcss.config.mjs',
  'packages/web/tsconfig.json',
  'tsconfig.base.json',
];

function digest() {
  const hash = createHash('sha256');
  const add = (path) =>
    hash
      .update(path)
      .update('\0')
      .update(readFileSync(join(root, path)))
      .update('\0');
  const walk = (folder) => {
    for (const e of readdirSync(join(root, folder), { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
      const path = `${folder}/${e.name}`;
      if (e.isDirectory()) walk(path);
      else if (!/\.test\.tsx?$/.test(e.name)) add(path);
    }
  };
  folders.forEach(walk);
  files.forEach(add);
  return hash.digest('hex');
}

/** Builds production pages unless the last build was made of the very same sources. */
export function buildWeb() {
  const stamp = join(root, 'packages/web/.next/built-from');
  const now = digest();
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return;
  say('building the pages (about half a minute, only after a change)');
  const code = run(process.execPath, [join(root, 'node_modules/next/dist/bin/next'), 'build'], { cwd: join(root, 'packages/web') });
  if (code !== 0) {
    console.error('gentle-compass: the pages could not be built; see the message above.');
    process.exit(1);
  }
  writeFileSync(stamp, now);
}
