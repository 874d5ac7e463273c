// npm run bench: measurements, side by side in one run. Each contender runs in its own process; medians of five rounds.
import { spawnSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { cpus } from 'node:os';
import { join } from 'node:path';
import { installDependencies, root, say } from './install.mjs';

installDependencies();
const out = join(root, 'node_modules/.cache/gentle-compass-bench.mjs');
mkdirSync(join(root, 'node_modules/.cache'), { recursive: true });
const { build } = await import('esbuild');
await build({
  entryPoints: [join(root, 'packages/core/bench/contenders.ts')],
  outfile: out,
  bundle: true,
  platform: 'node',
  format: 'esm',
  mainFields: ['module', 'main'],
  logLevel: 'error',
});

const median = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];
const rounds = Number(process.env.ROUNDS ?? 5);

/** One contender in a process of its own: its milliseconds, what it counted, and its memory. */
function contend(name, size) {
  const done = spawnSync(process.execPath, ['--max-old-space-size=4096', out, name, String(size)], { encoding: 'utf8', maxBuffer: 1 << 26 });
  if (done.status !== 0) throw new Error(`${name} ${size}: ${done.stderr}`);
  return JSON.parse(done.stdout.trim().split('\n').at(-1));
}

/** Pairs two contenders round by round; the ratio is the median of the rounds' ratios of the other to ours. */
function compare(title, size, ours, theirs, sameResult = true) {
  const a = [];
  const b = [];
  for (let i = 0; i < rounds; i++) {
    const [x, y] = [contend(ours, size), contend(theirs, size)];
    if (sameResult && (x.count !== y.count || x.checksum !== y.checksum))
      throw new Error(`${title}: the results differ (${x.count} ${x.checksum} against ${y.count} ${y.checksum})`);
    a.push(x);
    b.push(y);
  }
  const ms = (list) => median(list.map((x) => x.ms)).toFixed(1);
  const ratio = median(a.map((x, i) => b[i].ms / x.ms)).toFixed(2);
  console.log(
    `| ${title} | ${size.toLocaleString('en-GB')} | ${ms(a)} | ${ms(b)} | ${ratio} | ${a[0].count.toLocaleString('en-GB')} ${a[0].of} | ${median(a.map((x) => x.rss))} |`,
  );
}

say(`${rounds} rounds on ${cpus().length} x ${cpus()[0]?.model ?? 'unknown'}, Node ${process.versions.node}`);
console.log('| ours, against the other | routers | ours, ms | other, ms | other : ours | results | MB |');
console.log('|---|---:|---:|---:|---:|---:|---:|');
for (const size of [300, 1000]) {
  compare('reading documents, against bare JSON.parse', size, 'read', 'parse');
  compare('whole prediction, every route of every router answerable, against an object per route', size, 'predict', 'ordinary');
  compare('every table written out: arrays, against readable objects with evidence', size, 'tables', 'tables-readable');
  compare('what if one link is cut: 99 of 100 answers, every route answerable, against the whole prediction', size, 'what-if', 'predict', false);
  // A network with a link cut has other routes than the whole one: these two results are not compared.
  compare('one link cut and every change counted (mean), against the whole prediction', size, 'cut', 'predict', false);
  compare('after an edit of one document, against reading and predicting all anew', size, 'edit', 'edit-anew');
  compare('one link cut and every change counted (mean), against predicting and writing out all anew', size, 'cut', 'cut-anew');
}
const large = contend('memory', 2000);
console.log(
  `| whole prediction of 2,000 routers, first run | 2,000 | ${large.ms.toFixed(1)} | | | ${large.count.toLocaleString('en-GB')} routes | ${large.rss} |`,
);
