// Writes docs/findings.md, docs/quick-entry.md and docs/timing.md from the checks, the grammar and the times in core. Run with: node scripts/make-catalogue.mjs
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { build } from 'esbuild';
import { root } from './install.mjs';

const scratch = mkdtempSync(join(tmpdir(), 'gentle-compass-page-'));
const options = { bundle: true, platform: 'node', format: 'esm', mainFields: ['module', 'main'], logLevel: 'error' };
for (const [source, maker, page] of [
  ['findings/catalogue-page.ts', 'cataloguePage', 'docs/findings.md'],
  ['entry/grammar-page.ts', 'grammarPage', 'docs/quick-entry.md'],
  ['convergence/timing-page.ts', 'timingPage', 'docs/timing.md'],
]) {
  const outfile = join(scratch, `${maker}.mjs`);
  await build({ ...options, entryPoints: [join(root, 'packages/core/src', source)], outfile });
  const made = await import(pathToFileURL(outfile).href);
  writeFileSync(join(root, page), made[maker]());
}
rmSync(scratch, { recursive: true });
