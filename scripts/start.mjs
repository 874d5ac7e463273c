// npm start: installs if needed, builds if needed, serves the application with the sample campus.
import { spawn } from 'node:child_process';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { env, installDependencies, root, say } from './install.mjs';
import { buildWeb } from './build-web.mjs';

const port = Number(process.env.PORT ?? 4310);
if (!Number.isInteger(port) || port < 1 || port > 65535) {
  console.error(`gentle-compass: PORT is "${process.env.PORT}", which is no port; give a number from 1 to 65535.`);
  process.exit(1);
}

// Only this machine is answered, unless another address is asked for.
const host = process.env.GENTLE_COMPASS_HOST || '127.0.0.1';

const free = await new Promise((resolve) => {
  const probe = createServer();
  probe.once('error', () => resolve(false));
  probe.listen(port, host, () => probe.close(() => resolve(true)));
});
if (!free) {
  console.error(`gentle-compass: port ${port} is taken, perhaps by another Gentle Compass. Stop that, or choose another port: PORT=4311 npm start`);
  process.exit(1);
}

installDependencies();
buildWeb();
const server = spawn(process.execPath, [join(root, 'node_modules/next/dist/bin/next'), 'start', '-p', String(port), '-H', host], {
  cwd: join(root, 'packages/web'),
  env,
  stdio: ['ignore', 'pipe', 'inherit'],
});
server.stdout.on('data', (d) => {
  if (/Ready/i.test(String(d))) say(`ready at http://localhost:${port}`);
});
server.on('exit', (code) => process.exit(code ?? 0));
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
