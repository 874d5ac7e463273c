import { defineConfig } from '@playwright/test';
import { launchOptions } from '../../scripts/chromium.mjs';

const port = Number(process.env.E2E_PORT ?? 4319);

/** Drives the real pages, built for production, in Debian's Chromium. */
export default defineConfig({
  testDir: './e2e',
  // What a test claims is never how long it takes; a loaded machine may be slow.
  timeout: 120_000,
  expect: { timeout: 20_000 },
  fullyParallel: false,
  workers: 1,
  reporter: [['list'], ['json', { outputFile: 'test-results/e2e.json' }]],
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    launchOptions,
  },
  webServer: {
    command: `node ../../node_modules/next/dist/bin/next start -p ${port} -H 127.0.0.1`,
    url: `http://127.0.0.1:${port}/icon.svg`,
    timeout: 60_000,
    env: { NEXT_TELEMETRY_DISABLED: '1' },
  },
});
