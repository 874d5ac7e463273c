import { browserBench } from './browser-bench.mjs';
for (const r of await browserBench(JSON.parse(process.argv[2]))) console.log(Object.entries(r).map(([k, v]) => k + ' ' + Math.round(v)).join('  '));
