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
const rounds = 5;

/** One contender in a process of its own: its milliseconds and what it counted. */
function contend(name, size) {
  const done = spawnSync(process.execPath, ['--max-old-space-size=4096', out, name, String(size)], { encoding: 'utf8', maxBuffer: 1 << 26 });
  if (done.status !== 0) throw new Error(`${name} ${size}: ${done.stderr}`);
  return JSON.parse(done.stdout.trim().split('\n').at(-1));
}

/** Pairs two contenders round by round; the ratio is the median of the rounds' ratios. */
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
  const ratio = median(a.map((x, i) => b[i].ms / x.ms));
  console.log(
    `${title.padEnd(46)} ${String(size).padStart(5)} routers  ${median(a.map((x) => x.ms))
      .toFixed(1)
      .padStart(9)} ms  ${median(b.map((x) => x.ms))
      .toFixed(1)
      .padStart(9)} ms  ${ratio.toFixed(2).padStart(7)} x  ${a[0].count.toLocaleString('en-GB')} ${a[0].of}`,
  );
}

say(`${rounds} rounds on ${cpus().length} x ${cpus()[0]?.model ?? 'unknown'}, Node ${process.versions.node}`);
console.log(`${''.padEnd(46)} ${''.padStart(5)}           ${'ours'.padStart(9)}     ${'other'.padStart(9)}     ratio`);
compare('reading documents, against bare JSON.parse', 200, 'read', 'parse');
compare('whole prediction, tables answerable, against all written', 200, 'predict', 'predict-all');
// A network with a link cut has other routes than the whole one: these two results are not compared.
compare('one what-if, against the whole prediction', 200, 'what-if', 'predict', false);
