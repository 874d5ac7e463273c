import { mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { call } from './testing/call';

const root = join(__dirname, '../../..');
const demo = join(root, 'demo');
const clean = join(demo, 'saltmarsh-point');
const faulty = join(demo, 'saltmarsh-point-before-review');

let folder = '';
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'gentle-compass-'));
});
afterEach(() => rmSync(folder, { recursive: true }));
const put = (name: string, content: string): string => {
  writeFileSync(join(folder, name), content);
  return join(folder, name);
};
const named = (hostname: string): string => JSON.stringify({ 'ietf-system:system': { hostname } });

test('predict --json gives every router, also with failures in order', async () => {
  const { code, out } = await call('predict', clean, '--json', '--fail', 'link:beacon-1/to-beacon-2', '--fail', 'router:kelp-1');
  const { routers } = JSON.parse(out) as {
    routers: Record<string, { ospfv2: { 'is-abr': boolean; 'local-rib': { route: unknown[] } }; rib: unknown[] }>;
  };
  expect(code).toBe(0);
  expect(Object.keys(routers)).toHaveLength(19);
  expect(routers['kelp-2']?.ospfv2['is-abr']).toBe(true);
  expect(routers['kelp-3']?.rib.length).toBeGreaterThan(30);
});
test('predict for one router as text names its neighbours and routes', async () => {
  const { out } = await call('predict', clean, '--router', 'drydock-3');
  expect(out).toMatch(/drydock-3 {2}OSPFv2 {2}10\.97\.64\.3/);
  expect(out).toMatch(/slipway .* dr-other .*10\.96\.0\.21 drydock-1 full/);
  expect(out).toMatch(/0\.0\.0\.0\/0 +inter-area/);
});
test('check: 0 on the clean campus, 1 on the one before its review', async () => {
  expect((await call('check', clean)).code).toBe(0);
  const { code, out } = await call('check', faulty);
  expect(code).toBe(1);
  expect(out).toContain('kelp-1 and kelp-4 stay apart: dead interval 40 s against 60 s.');
  expect(out).toContain('mend: Set the dead interval of kelp-4 to 40 s');
  expect(out).toMatch(/20 routers: 13 errors, 12 warnings, 3 notes/);
});
test('check --format json prints findings in their shape', async () => {
  const { out } = await call('check', faulty, '--format', 'json');
  const { findings } = JSON.parse(out) as { findings: Record<string, unknown>[] };
  expect(Object.keys(findings[0] ?? {}).sort()).toEqual([
    'caused-by',
    'consequence',
    'digest',
    'evidence',
    'id',
    'message',
    'repairs',
    'rfc',
    'rule',
    'seen',
    'severity',
    'where',
  ]);
});
test.each([
  ['a path that is not there', ['predict', '/nowhere']],
  ['an unknown option', ['predict', clean, '--bogus']],
  ['an unknown command', ['divine', clean]],
  ['a failure that is none', ['predict', clean, '--fail', 'cable:x']],
  ['a router that is not there', ['predict', clean, '--fail', 'router:nobody']],
  ['a format that is none', ['check', clean, '--format', 'paper']],
  ['no path at all', ['check']],
])('%s: exit 2 and a message, never a stack', async (_, args) => {
  const { code, err } = await call(...args);
  expect(code).toBe(2);
  expect(err).not.toBe('');
  expect(err).not.toMatch(/\n\s+at /);
});
test('a part that cannot be read is told; predict goes on with 0, check ends with 1', async () => {
  put('good.json', named('kelp-1'));
  put('bad.json', '{ "ietf-system:system": ');
  const predicted = await call('predict', folder, '--json');
  expect(predicted.code).toBe(0);
  expect(predicted.err).toMatch(/bad\.json:1:\d+: This file is not JSON/);
  expect((await call('check', folder)).code).toBe(1);
});
test('a folder without documents, and one where nothing can be read', async () => {
  expect((await call('check', folder)).code).toBe(2);
  put('bad.json', 'no');
  expect((await call('check', folder)).code).toBe(2);
});
test('links that lead out of the folder are not followed', async () => {
  const outside = mkdtempSync(join(tmpdir(), 'gentle-compass-outside-'));
  writeFileSync(join(outside, 'secret.json'), named('outsider'));
  mkdirSync(join(folder, 'set'));
  writeFileSync(join(folder, 'set', 'in.json'), named('insider'));
  symlinkSync(join(outside, 'secret.json'), join(folder, 'set', 'link.json'));
  const { out, err } = await call('predict', join(folder, 'set'), '--json');
  rmSync(outside, { recursive: true });
  expect(Object.keys((JSON.parse(out) as { routers: object }).routers)).toEqual(['insider']);
  expect(err).toContain('leads out of the folder');
});
test('routers start in the order of a file', async () => {
  const order = put('order.txt', 'drydock-4\ndrydock-3\n');
  const { out } = await call('predict', clean, '--router', 'drydock-4', '--start-order', order);
  expect(out).toMatch(/slipway .* dr /);
});

describe('explain', () => {
  test('a route down to the advertisement, one that is covered, one that is not there', async () => {
    const { code, out } = await call('explain', clean, 'kelp-3', '10.97.64.0/255.255.192.0');
    expect(code).toBe(0);
    expect(out).toMatch(/type 3 10\.97\.64\.0 of kelp-1/);
    expect(out).toMatch(/drydock-1 \(10\.96\.0\.21\): it sums up 7 prefixes/);
    expect((await call('explain', clean, 'kelp-3', '192.0.2.1')).out).toContain('0.0.0.0/0 covers it');
    expect((await call('explain', faulty, 'kelp-3', '192.0.2.1')).out).toContain('has no route');
  });
  test('an interface with both sides, the reason and the repair', async () => {
    const { out } = await call('explain', faulty, 'kelp-1/to-kelp-4');
    expect(out).toMatch(/! dead interval +40 s \(standard\) +60 s/);
    expect(out).toContain('mend: Set the dead interval of kelp-4 to 40 s');
    const json = JSON.parse((await call('explain', faulty, 'kelp-1/to-kelp-4', '--json')).out) as { pairs: { word: string }[] };
    expect(json.pairs[0]?.word).toBe('apart');
  });
  test.each([[['kelp-1/nowhere']], [['nobody', '10.0.0.0/8']], [['kelp-1', 'prefix']]])('what is not there is told: %j', async (words) => {
    expect((await call('explain', clean, ...words)).code).toBe(2);
  });
});

test('check as SARIF and JUnit ends with the same code and holds every finding', async () => {
  const sarif = await call('check', faulty, '--format', 'sarif');
  expect(sarif.code).toBe(1);
  expect((JSON.parse(sarif.out) as { runs: { results: unknown[] }[] }).runs[0]?.results).toHaveLength(28);
  const junit = await call('check', faulty, '--format', 'junit');
  expect(junit.code).toBe(1);
  expect(junit.out.match(/<failure /g)).toHaveLength(9);
});

describe('the page about pipelines', () => {
  const page = readFileSync(join(root, 'docs/pipeline.md'), 'utf8');
  const blocks = [...page.matchAll(/```console\n([\s\S]*?)```/g)].flatMap((m) => (m[1] ?? '').split(/^\$ /m).filter((b) => b.trim() !== ''));
  const cases = blocks.map((b): [string, string[], number] => {
    const [command = '', ...lines] = b.trim().split('\n');
    return [command, lines.filter((l) => !l.startsWith('#')), Number(/# ends with (\d+)/.exec(b)?.[1] ?? NaN)];
  });
  test('it holds commands', () => {
    expect(cases.length).toBeGreaterThan(6);
  });
  test.each(cases)('%s', async (command, lines, code) => {
    const args = command.replace(/^gentle-compass /, '').split(' ');
    const done = await call(...args.map((a) => (a.startsWith('demo/') ? join(root, a) : a)));
    expect(done.code).toBe(code);
    for (const l of lines) expect(done.out).toContain(l);
  });
});

test('table and worksheet: CSV of a table, a sheet a router, unknown names refused', async () => {
  const table = await call('table', clean, '--of', 'routers');
  expect(table.out.split('\r\n')).toHaveLength(22);
  expect((await call('table', clean, '--of', 'chairs')).code).toBe(2);
  expect((await call('table', clean, '--of', 'routes', '--router', 'nobody')).code).toBe(2);
  expect((await call('worksheet', clean, '--router', 'kelp-3')).out).toMatch(/^# kelp-3\n/);
  const out = join(folder, 'sheets');
  expect((await call('worksheet', clean, '--out', out)).code).toBe(0);
  expect(readdirSync(out)).toHaveLength(20);
});

test('trace as JSON has the way there and the way back; bad addresses and failures are refused', async () => {
  const { out } = await call('trace', clean, '--from', '10.97.66.50', '--to', '10.97.12.20', '--json');
  const t = JSON.parse(out) as Record<'forward' | 'return', { fate: string; branches: { hops: { router: string; 'next-hop': string | null }[] }[] }>;
  expect([t.forward.fate, t.return.fate]).toEqual(['delivered', 'delivered']);
  expect(t.forward.branches[0]?.hops.at(-1)).toMatchObject({ router: 'kelp-4', 'next-hop': null });
  for (const bad of [
    ['--from', '10.97', '--to', '10.97.12.20'],
    ['--from', '10.97.66.50', '--to', '10.97.12.20', '--fail', 'router:nobody'],
  ])
    expect((await call('trace', clean, ...bad)).code).toBe(2);
});

test('a broken expectation fails the check until its finding is accepted; JUnit then shows it as passed', async () => {
  const settings = (accepted: object[]): string =>
    put(
      'settings.json',
      JSON.stringify({
        'gentle-compass:settings': { expectation: [{ name: 'nobody there', kind: 'neighbours', router: 'kelp-3', count: 9 }], accepted },
      }),
    );
  const file = settings([]);
  const open = await call('check', clean, file, '--format', 'json');
  expect(open.code).toBe(1);
  // It names a router, and is judged in both families that this runs.
  const all = (JSON.parse(open.out) as { findings: { id: string; digest: string; severity: string }[] }).findings;
  const findings = all.filter((f) => f.severity !== 'note');
  expect(findings).toHaveLength(2);
  settings(findings.map((f) => ({ finding: f.id, evidence: f.digest, note: 'planned' })));
  expect((await call('check', clean, file)).code).toBe(0);
  const report = await call('check', clean, file, '--format', 'junit');
  expect([report.code, report.out.includes('<failure')]).toEqual([0, false]);
});

test('check --expect: a file without expectations is refused', async () => {
  expect((await call('check', clean, '--expect', join(root, 'demo/saltmarsh-point/kelp-1.json'))).code).toBe(2);
});

test('generate writes a campus that check finds nothing wrong with; a folder that is not empty stays as it is', async () => {
  const out = join(folder, 'made');
  expect((await call('generate', '--routers', '30', '--areas', '3', '--seed', '5', '--out', out)).code).toBe(0);
  expect((await call('check', out)).out).toMatch(/30 routers: 0 errors, 0 warnings/);
  expect((await call('generate', '--routers', '30', '--areas', '3', '--out', out)).code).toBe(2);
  expect((await call('generate', '--routers', '3', '--areas', '3', '--out', join(folder, 'small'))).code).toBe(2);
  expect((await call('generate', '--routers', 'many', '--areas', '3', '--out', join(folder, 'many'))).code).toBe(2);
});

test('predict --now judges key lifetimes at a moment, and says at which; a text that is no moment is unusable', async () => {
  const { out, err } = await call('predict', clean, '--now', 'yesterday');
  expect(out).toBe('');
  expect(err).toContain('--now "yesterday" is not a date and time with its zone');
});
