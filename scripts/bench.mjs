// npm run bench: measurements, side by side in one run. Each contender runs in its own process; medians of five rounds.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync } from 'node:fs';
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
/** ROWS=pattern measures only rows with that in their title or size, as "cut.* 1000". */
const wanted = (row) => new RegExp(process.env.ROWS ?? '').test(row);

/** One contender in a process of its own: its milliseconds, what it counted, and its memory. */
function contend(name, size, folder = '') {
  const args = ['--max-old-space-size=4096', out, name, String(size), ...(folder ? [folder] : [])];
  const done = spawnSync(process.execPath, args, { encoding: 'utf8', maxBuffer: 1 << 26 });
  if (done.status !== 0) throw new Error(`${name} ${size}: ${done.stderr}`);
  return JSON.parse(done.stdout.trim().split('\n').at(-1));
}

const whole = (n) => Math.round(n).toLocaleString('en-GB');
const exact = (ms) => (ms < 10 ? ms.toFixed(2) : ms.toFixed(1));

/** Runs two contenders in turn, round by round, and prints a row; the ratio is the median of the rounds' ratios of the other to ours. */
function pair(title, size, ours, theirs) {
  if (!wanted(`${title} ${size}`)) return;
  const a = [];
  const b = [];
  for (let i = 0; i < rounds; i++) {
    a.push(ours());
    b.push(theirs());
  }
  const ratio = median(a.map((x, i) => b[i].ms / x.ms));
  console.log(
    `| ${title} | ${whole(size)} | ${exact(median(a.map((x) => x.ms)))} | ${exact(median(b.map((x) => x.ms)))} | ${ratio < 1 ? ratio.toFixed(3) : ratio.toFixed(1)} | ${whole(a[0].count)} ${a[0].of} | ${median(a.map((x) => x.rss))} |`,
  );
}

/** Pairs two contenders whose results must be the same, unless told otherwise. Where the size is not one of routers, they are told apart. */
function compare(title, size, ours, theirs, sameResult = true, routers = size) {
  const seen = new Set();
  const run = (name) => {
    const x = contend(name, routers);
    if (sameResult) seen.add(`${x.count} ${x.checksum}`);
    if (seen.size > 1) throw new Error(`${title}: the results differ (${[...seen].join(' against ')})`);
    return x;
  };
  pair(
    title,
    size,
    () => run(ours),
    () => run(theirs),
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
  compare('one link cut and every change counted (mean), against computing and writing out all anew', size, 'cut', 'cut-anew');
  // The first sweep of a process pays for the compiler; later ones do not. Both are the same work.
  compare('every single link cut and counted, against the very first time', size, 'sweep', 'sweep-first');
  compare('every finding with what it costs, against predicting and writing out every table', size, 'check', 'everything', false);
  compare('IPv4 of a campus with both families predicted, against both families', size, 'of-both-the-first', 'both-families', false);
  compare('after an edit of one document, against reading and predicting all anew', size, 'edit', 'edit-anew');
}
compare('a case of a sweep with all that it tells: every two links together, against each alone', 200, 'cases-pairs', 'cases', false);
// The size is the number of prefixes here.
compare('who reaches whom, 200 loopbacks each against each, there and back, against a trace of every pair', 200, 'matrix', 'matrix-traced');
compare(
  '50 expectations after one edit, against predicting the edited design from nothing and tracing each over whole tables',
  500,
  'expected-edited',
  'expected-anew',
);
compare('10 runs of the reconvergence after one cable is cut, against runs that share nothing', 200, 'converge', 'converge-each');
compare('100 runs of it, against 10', 200, 'converge-100', 'converge', false);
compare('the best summaries of so many prefixes, 8 at most, against a plain dynamic programme', 2000, 'plan-summaries', 'plan-plainly', true, 10);
const large = wanted('memory 2000') && contend('memory', 2000);
if (large)
  console.log(`| whole prediction of 2,000 routers, first run | 2,000 | ${exact(large.ms)} | | | ${whole(large.count)} routes | ${large.rss} |`);

// A native program that does the routing arithmetic alone can be measured beside ours, on documents that were made with a
// graph for it: NATIVE=program NATIVE_GRAPH=file NATIVE_DOCUMENTS=folder. It is called as "program graph full" and
// "program graph sweep", and prints JSON with the milliseconds `keep` and `sweepIncremental`.
const { NATIVE, NATIVE_GRAPH = '', NATIVE_DOCUMENTS = '' } = process.env;
if (NATIVE) {
  const native = (what) => JSON.parse(spawnSync(NATIVE, [NATIVE_GRAPH, what], { encoding: 'utf8' }).stdout);
  const { routers } = native('full');
  const beside = (title, name, what, field) =>
    pair(
      title,
      routers,
      () => contend(name, routers, NATIVE_DOCUMENTS),
      () => ({ ms: native(what)[field] }),
    );
  beside(
    'whole prediction, every route answerable, against a native program of the arithmetic alone that writes every table out',
    'predict',
    'full',
    'keep',
  );
  beside('the same with every table written out and kept', 'keep', 'full', 'keep');
  beside('every single cable cut and counted, against that program', 'sweep-cables', 'sweep', 'sweepIncremental');
}

// What a user waits for, where there is a browser and the pages are built.
if (wanted('browser') && existsSync(process.env.CHROMIUM ?? '/usr/bin/chromium')) {
  const { buildWeb } = await import('./build-web.mjs');
  const { browserBench } = await import('./browser-bench.mjs');
  buildWeb();
  console.log(
    '\n| in the browser | routers | ms, median of ten edits | slowest | opens in, ms | longest frame, ms: editing | opening | searching | changing stages |',
  );
  console.log('|---|---:|---:|---:|---:|---:|---:|---:|---:|');
  const rows = await browserBench([
    [300, 12],
    [1000, 22],
    [2000, 44],
  ]);
  for (const r of rows)
    console.log(
      `| from key to the new prediction on the screen | ${whole(r.routers)} | ${whole(r.key)} | ${whole(r.slowest)} | ${whole(r.opened)} | ${whole(r.frame)} | ${whole(r.opening)} | ${whole(r.found)} | ${whole(r.walked)} |`,
    );
  console.log('\n| in the browser | pairs | ms, median of every letter | slowest |');
  console.log('|---|---:|---:|---:|');
  for (const r of rows)
    console.log(`| from key to the narrowed rows of the list of pairs | ${whole(r.pairs)} | ${whole(r.narrow)} | ${whole(r.narrowSlowest)} |`);
}
