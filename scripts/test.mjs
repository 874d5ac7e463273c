// npm test: installs what it needs, then lint, types, unit tests, build and end-to-end tests; ends with one line of counts.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort } from './chromium.mjs';
import { env, installDependencies, root, run, say } from './install.mjs';

let passed = 0;
let failed = 0;

function step(name, ok) {
  if (ok) passed++;
  else {
    failed++;
    console.error(`gentle-compass: ${name} FAILED`);
  }
  return ok;
}

/** Debian's Chromium for the end-to-end tests; installed where it is missing and may be. */
function findChromium() {
  const known = [process.env.CHROMIUM, '/usr/bin/chromium'].find((p) => p && existsSync(p));
  if (known) return known;
  say('installing Chromium from Debian’s packages for the end-to-end tests');
  const sudo = process.getuid?.() === 0 ? [] : ['sudo', '-n'];
  const apt = (...args) => {
    const [command, ...rest] = [...sudo, 'apt-get', '-qq', ...args];
    return spawnSync(command, rest, { stdio: ['ignore', 'ignore', 'inherit'], env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } }).status;
  };
  apt('update');
  apt('install', '-y', 'chromium');
  if (existsSync('/usr/bin/chromium')) return '/usr/bin/chromium';
  console.error(
    'gentle-compass: Chromium could not be installed. Install it ("apt-get install chromium" as root), or name one: CHROMIUM=/path/to/chromium npm test',
  );
  return undefined;
}

const node = process.execPath;
const bin = (path) => join(root, 'node_modules', path);
const started = Date.now();

installDependencies();
const chromium = findChromium();

say('lint');
step('lint', run(node, [bin('eslint/bin/eslint.js'), '.', '--max-warnings', '0']) === 0);
for (const name of ['core', 'cli', 'web']) {
  say(`types of ${name}`);
  step(`types of ${name}`, run(node, [bin('typescript/bin/tsc'), '--noEmit', '-p', `packages/${name}`]) === 0);
}

say('unit tests');
const scratch = mkdtempSync(join(tmpdir(), 'gentle-compass-test-'));
const unitReport = join(scratch, 'unit.json');
run(node, [bin('jest/bin/jest.js'), '--json', '--outputFile', unitReport]);
if (step('unit tests ran', existsSync(unitReport))) {
  const report = JSON.parse(readFileSync(unitReport, 'utf8'));
  passed += report.numPassedTests;
  failed += report.numFailedTests + report.numRuntimeErrorTestSuites;
  if (report.numPendingTests > 0) say(`${report.numPendingTests} unit tests skipped`);
}

say('build');
const build = step('build', run(node, [join(root, 'scripts/build-web-cli.mjs')]) === 0);

if (build && step('Chromium', chromium !== undefined)) {
  say('end-to-end tests');
  const port = await freePort();
  const report = join(root, 'packages/web/test-results/e2e.json');
  rmSync(report, { force: true });
  run(node, [bin('@playwright/test/cli.js'), 'test'], {
    cwd: join(root, 'packages/web'),
    env: { ...env, CHROMIUM: chromium, E2E_PORT: String(port) },
  });
  if (step('end-to-end tests ran', existsSync(report))) {
    const { stats } = JSON.parse(readFileSync(report, 'utf8'));
    passed += stats.expected;
    failed += stats.unexpected + stats.flaky;
    if (stats.skipped > 0) say(`${stats.skipped} end-to-end tests skipped`);
  }
}
rmSync(scratch, { recursive: true, force: true });
say(`all of it took ${Math.round((Date.now() - started) / 1000)} s`);
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
