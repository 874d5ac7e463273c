// Writes docs/findings.md from the catalogue in packages/core/src/findings. Run with: node scripts/make-catalogue.mjs
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { build } from 'esbuild';
import { root } from './install.mjs';

const scratch = mkdtempSync(join(tmpdir(), 'gentle-compass-page-'));
const outfile = join(scratch, 'page.mjs');
await build({ entryPoints: [join(root, 'packages/core/src/findings/catalogue-page.ts')], outfile, bundle: true, platform: 'node', format: 'esm', mainFields: ['module', 'main'], logLevel: 'error' });
const { cataloguePage } = await import(pathToFileURL(outfile).href);
writeFileSync(join(root, 'docs/findings.md'), cataloguePage());
rmSync(scratch, { recursive: true });
