#!/usr/bin/env node
// Starts the command line. The sources are TypeScript; they are bundled once and again whenever one of them changed.
import { statSync, readdirSync, mkdirSync, existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const here = dirname(fileURLToPath(import.meta.url));
const sources = [join(here, '../src'), join(here, '../../core/src')];
const out = join(here, '../.cache/gentle-compass.mjs');

function newest(folder) {
  let time = 0;
  for (const e of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, e.name);
    if (e.isDirectory()) time = Math.max(time, newest(path));
    else if (e.name.endsWith('.ts') && !e.name.endsWith('.test.ts')) time = Math.max(time, statSync(path).mtimeMs);
  }
  return time;
}

const stale = !existsSync(out) || statSync(out).mtimeMs < Math.max(...sources.map(newest));
if (stale) {
  let esbuild;
  try {
    esbuild = await import('esbuild');
  } catch {
    process.stderr.write('gentle-compass: its dependencies are not installed. Run "npm install --no-save" in the project folder once.\n');
    process.exit(70);
  }
  mkdirSync(dirname(out), { recursive: true });
  const temporary = `${out}.${process.pid}`;
  await esbuild.build({
    entryPoints: [join(here, '../src/main.ts')],
    outfile: temporary,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    mainFields: ['module', 'main'],
    logLevel: 'error',
    banner: { js: "import { createRequire as cr } from 'node:module'; const require = cr(import.meta.url);" },
  });
  const { renameSync } = await import('node:fs');
  renameSync(temporary, out);
}
// A reader that has seen enough (head, a closed pager) is no fault.
process.stdout.on('error', (e) => process.exit(e.code === 'EPIPE' ? 0 : 70));
const { main } = await import(pathToFileURL(out).href);
process.exitCode = await main(process.argv.slice(2));
