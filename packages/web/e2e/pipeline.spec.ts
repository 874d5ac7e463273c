import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { strToU8, zipSync } from 'fflate';
import { expect, test } from '@playwright/test';

const root = join(import.meta.dirname, '../../../demo/saltmarsh-point-before-review');
const campus = Buffer.from(zipSync(Object.fromEntries(readdirSync(root).map((n) => [n, strToU8(readFileSync(join(root, n), 'utf8'))]))));

test('check and predict answer over HTTP as they do on the command line', async ({ request }) => {
  const check = await request.post('/api/check', { data: campus });
  expect(check.status()).toBe(200);
  expect(check.headers()['x-exit-code']).toBe('1');
  const { findings } = (await check.json()) as { findings: { rule: string }[] };
  expect(findings.map((f) => f.rule)).toContain('dead-interval');
  const sarif = await request.post('/api/check?format=sarif', { data: campus });
  expect(sarif.headers()['content-type']).toContain('sarif');
  const predicted = await request.post('/api/predict?router=kelp-3&fail=router:kelp-1', { data: campus });
  expect(Object.keys(((await predicted.json()) as { routers: object }).routers)).toEqual(['kelp-3']);
});
test('what is not usable is told, and stalls nobody', async ({ request }) => {
  const slow = request.post('/api/predict', { data: campus });
  const answers = await Promise.all([
    request.post('/api/check', { data: 'no' }),
    request.post('/api/check', { data: '' }),
    request.post('/api/divine', { data: campus }),
    request.post('/api/check?format=paper', { data: campus }),
    request.post('/api/predict?fail=cable:x', { data: campus }),
  ]);
  expect(answers.map((a) => a.status())).toEqual([422, 422, 404, 404, 422]);
  expect(((await answers[0].json()) as { messages: string[] }).messages.join()).toContain('This file is not JSON');
  expect((await slow).status()).toBe(200);
});
