// Shared by start and test: installs what is missing, and nothing else.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = join(dirname(fileURLToPath(import.meta.url)), '..');
export const env = { ...process.env, NEXT_TELEMETRY_DISABLED: '1' };

export function say(text) {
  console.log(`gentle-compass: ${text}`);
}

/** Runs a command with its output shown; gives its exit code. */
export function run(command, args, options = {}) {
  const done = spawnSync(command, args, { cwd: root, env, stdio: 'inherit', ...options });
  if (done.error) console.error(`gentle-compass: ${command} could not be started: ${done.error.message}`);
  return done.status ?? 1;
}

/** Installs the locked dependencies where they are missing or the lock file has changed since. */
export function installDependencies() {
  const [major] = process.versions.node.split('.').map(Number);
  if (major < 20) {
    console.error(`gentle-compass: Node 20 or newer is needed; this is ${process.versions.node}.`);
    process.exit(1);
  }
  const stamp = join(root, 'node_modules/.gentle-compass');
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  say('installing dependencies (a minute or two, once)');
  const code = run('npm', ['install', '--no-save', '--no-audit', '--no-fund', '--loglevel=error']);
  if (code !== 0) {
    console.error(
      'gentle-compass: the dependencies could not be installed; see the message above. Check that the npm registry can be reached, then try again.',
    );
    process.exit(1);
  }
  mkdirSync(join(root, 'node_modules'), { recursive: true });
  writeFileSync(stamp, lock);
}
