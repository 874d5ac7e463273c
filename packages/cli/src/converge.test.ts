import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { campus } from '@gentle-compass/core/testing/campus';
import { dual } from '@gentle-compass/core/testing/dual';
import { six } from '@gentle-compass/core/testing/mirror';
import { call } from './testing/call';

let folder = '';
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'gentle-compass-'));
  const network = campus()
    .router('gull-1', '10.96.0.1', 0)
    .router('gull-2', '10.96.0.2', 0)
    .router('gull-3', '10.96.0.3', 0)
    .cable('gull-1', 'gull-2', '10.96.1.0', 0)
    .cable('gull-2', 'gull-3', '10.96.1.2', 0)
    .cable('gull-1', 'gull-3', '10.96.1.4', 0);
  for (const d of dual(network).documents()) writeFileSync(join(folder, d.file), JSON.stringify(d.tree, null, 1));
  writeFileSync(join(folder, '..', `${folder.split('/').at(-1) ?? ''}-slow`), '{ "spf-base-ms": 700 }');
});
afterAll(() => rmSync(folder, { recursive: true }));

interface T {
  readonly earliest: number;
  readonly typical: number;
  readonly latest: number;
}
interface Out {
  readonly profile: Readonly<Record<string, unknown>>;
  readonly seed: number;
  readonly runs: number;
  readonly 'last-change-ms': T | null;
  readonly routers: Readonly<Record<string, Readonly<Record<string, T | null>>>>;
  readonly events: readonly { readonly ms: number; readonly router: string; readonly kind: string }[];
  readonly flows: readonly {
    readonly from: string;
    readonly spans: readonly { readonly fate: string; readonly 'from-ms': number; readonly 'to-ms': number; readonly at: readonly string[] }[];
  }[];
  readonly loops: readonly unknown[];
}
const json = async (...words: string[]): Promise<Out> => JSON.parse((await call('converge', folder, '--json', '--runs', '9', ...words)).out) as Out;

test('converge --json: every router’s times, what happened, and the watched packets of both families', async () => {
  const watch = ['--watch', '10.96.0.1,10.96.0.2', '--watch', `${six('10.96.0.1')},${six('10.96.0.2')}`];
  const out = await json('--fail', 'link:gull-1/to-gull-2', ...watch);
  expect([out.seed, out.runs, Object.keys(out.routers)]).toEqual([1, 9, ['gull-1', 'gull-2', 'gull-3']]);
  expect(out.routers['gull-3']?.['detected-ms']).toBeNull();
  for (const t of [out['last-change-ms'], out.routers['gull-1']?.['detected-ms'], out.routers['gull-3']?.['learned-ms']]) {
    expect(t?.earliest).toBeLessThanOrEqual(t?.typical ?? 0);
    expect(t?.typical).toBeLessThanOrEqual(t?.latest ?? 0);
  }
  expect(out.routers['gull-1']?.['detected-ms']?.latest).toBeLessThan(17);
  expect(out.flows.map((f) => [f.from, f.spans[0]?.fate, f.spans.at(-1)?.fate])).toEqual([
    ['10.96.0.1', 'dropped', 'carried'],
    [six('10.96.0.1'), 'dropped', 'carried'],
  ]);
  expect(out.profile['min-ls-interval-ms']).toBe(5000);
  const kinds = new Set(out.events.map((e) => e.kind));
  for (const kind of ['fails', 'port-down', 'originates', 'learns', 'calculates', 'installs']) expect(kinds).toContain(kind);
  expect(await json('--fail', 'link:gull-1/to-gull-2', ...watch)).toEqual(out);
});

test('moments count from the first event; what returns unfailed was down; a profile counts', async () => {
  const flap = await json('--family', '4', '--fail', 'router:gull-3@2000', '--restore', 'router:gull-3@2500');
  expect(flap.events.filter((e) => e.kind === 'fails' || e.kind === 'returns').map((e) => [e.ms, e.kind])).toEqual([
    [0, 'fails'],
    [500, 'returns'],
  ]);
  const back = await json('--family', '4', '--restore', 'router:gull-3', '--watch', '10.96.0.1,10.96.0.3');
  expect(back.flows[0]?.spans.at(-1)?.fate).toBe('carried');
  expect(back.flows[0]?.spans[0]?.fate).toBe('dropped');
  const slow = await json('--family', '4', '--fail', 'router:gull-3', '--profile', join(folder, '..', `${folder.split('/').at(-1) ?? ''}-slow`));
  expect(slow['last-change-ms']?.earliest).toBeGreaterThan(700);
});

test('as text the slowest part is a sentence, and routers come by when they are done', async () => {
  const { code, out } = await call('converge', folder, '--fail', 'link:gull-1/to-gull-2', '--watch', '10.96.0.1,10.96.0.2', '--runs', '5');
  expect(code).toBe(0);
  expect(out).toContain('earliest, typical, latest of 5 runs, seed 1');
  expect(out).toMatch(/In the typical run gull-\d is last: [\d.]+ ms of [\d.]+ ms is the SPF delay of gull-\d\./);
  expect(out).toMatch(/10\.96\.0\.1 to 10\.96\.0\.2\n {2}0\.0 ms to .* ms: dropped at gull-1/);
});

test.each([
  [[], 'nothing happens'],
  [['--fail', 'router:nobody'], 'There is no router "nobody"'],
  [['--fail', 'router:gull-1@soon'], 'after @ stands a moment in ms'],
  [['--fail', 'router:gull-1', '--runs', '0'], '--runs is a whole number from 1'],
  [['--fail', 'router:gull-1', '--watch', '10.96.0.1'], '--watch takes FROM,TO'],
  [['--fail', 'router:gull-1', '--watch', '10.96.0.1,2001:db8::1'], 'two families'],
  [['--fail', 'router:gull-1', '--family', '5'], '--family is 4 or 6'],
  [['--fail', 'router:gull-1', '--profile', '/nowhere.json'], '/nowhere.json'],
])('what cannot be simulated is told: %j', async (words, says) => {
  const { code, err } = await call('converge', folder, ...words);
  expect([code, err]).toEqual([2, expect.stringContaining(says)]);
});
