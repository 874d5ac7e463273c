import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { campus } from '@gentle-compass/core/testing/campus';
import { dual } from '@gentle-compass/core/testing/dual';
import { call } from './testing/call';

let folder = '';
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'gentle-compass-'));
  const network = campus()
    .router('gull-1', '10.96.0.1', 0)
    .router('gull-2', '10.96.0.2', 0)
    .router('gull-3', '10.96.0.3', 0)
    .router('gull-4', '10.96.0.4', 0)
    .cable('gull-1', 'gull-2', '10.96.1.0', 0, 10)
    .cable('gull-2', 'gull-3', '10.96.1.2', 0, 10)
    .cable('gull-1', 'gull-3', '10.96.1.4', 0, 10)
    .cable('gull-3', 'gull-4', '10.96.1.6', 0, 10);
  for (const d of dual(network).documents()) writeFileSync(join(folder, d.file), JSON.stringify(d.tree, null, 1));
});
afterEach(() => rmSync(folder, { recursive: true }));

interface SweepJson {
  readonly cases: readonly {
    readonly fail: readonly string[];
    readonly 'cut-pairs': number;
    readonly 'longest-detour': number | null;
    readonly 'broken-expectations': readonly string[];
    readonly 'over-capacity': readonly { readonly router: string; readonly mbps: number }[];
    readonly 'cut-examples': readonly { readonly from: string; readonly to: string }[];
  }[];
}

const file = (name: string, text: string): string => {
  const path = join(folder, '..', `${folder.split('/').at(-1) ?? ''}-${name}`);
  writeFileSync(path, text);
  return path;
};

test('sweep --format json: both families count, worst first; without expectations nothing is broken', async () => {
  const { code, out } = await call('sweep', folder, '--kinds', 'links', '--format', 'json');
  const { cases } = JSON.parse(out) as SweepJson;
  expect(code).toBe(0);
  expect(cases.map((c) => [c.fail[0], c['cut-pairs'], c['longest-detour']])).toEqual([
    // gull-4 and three others, there and back, in each of two families.
    ['link:gull-3/to-gull-4', 12, null],
    ['link:gull-1/to-gull-2', 0, 10],
    ['link:gull-1/to-gull-3', 0, 10],
    ['link:gull-2/to-gull-3', 0, 10],
  ]);
  expect(cases[0]?.['cut-examples']).toHaveLength(12);
  const all = JSON.parse((await call('sweep', folder, '--format', 'json', '--pairs')).out) as SweepJson;
  expect(all.cases).toHaveLength(8 + 28);
});

test('expectations of a file: exit 1, named in text, JSON and JUnit', async () => {
  const expect1 = file(
    'expect.json',
    JSON.stringify({ 'gentle-compass:settings': { expectation: [{ name: 'far', kind: 'session', from: 'gull-1', to: 'gull-4' }] } }),
  );
  const text = await call('sweep', folder, '--expect', expect1, '--kinds', 'links,routers');
  expect(text.code).toBe(1);
  expect(text.out).toContain('cut      link:gull-3/to-gull-4: breaks far; 12 pairs of loopbacks cut');
  // Of gull-4 itself nothing is asked while it is down.
  expect(text.out).not.toMatch(/router:gull-4: breaks/);
  expect(text.err).toContain('sweep ends with 1: 2 of 8 cases break an expectation.');
  const junit = await call('sweep', folder, '--expect', expect1, '--kinds', 'links', '--format', 'junit');
  expect(junit.out).toContain('<testsuite name="sweep" tests="5" failures="1"');
  rmSync(expect1);
});

test('demands of a table: what is over capacity in a case; loads and alternates as tables', async () => {
  const demands = file('demands.csv', 'from,to,mbps\ngull-1,gull-4,30\ngull-9,gull-1,1\n');
  const table = await call('table', folder, '--of', 'loads', '--demands', demands, '--fail', 'link:gull-1/to-gull-3');
  expect(table.out.split('\r\n')).toEqual([
    'router,interface,mbps,capacity-mbps,share',
    'gull-1,to-gull-2,30,,',
    'gull-2,to-gull-3,30,,',
    'gull-3,to-gull-4,30,,',
    '',
  ]);
  expect(table.err).toContain('gull-9 to gull-1 is not carried');
  const alternates = await call('table', folder, '--of', 'alternates', '--router', 'gull-1');
  expect(alternates.out).toContain('gull-1,10.96.0.4/32,to-gull-3,10.96.1.5,to-gull-2,10.96.1.1,true,false,false\r\n');
  expect(alternates.out).toContain('gull-1,2001:db8');
  rmSync(demands);
});

test('a call that cannot be made is told', async () => {
  expect((await call('sweep', folder, '--kinds', 'cables')).err).toContain(
    '"cables" is nothing to sweep; write links, routers, borders, lans, groups',
  );
  expect((await call('sweep', folder, '--format', 'sarif')).code).toBe(2);
  expect((await call('table', folder, '--of', 'loads')).err).toContain('the design carries no demands');
  const leader = await call('predict', folder, '--fail', 'leader:gull-1/to-gull-2');
  expect(leader.err + leader.out).toContain('Nobody leads the segment of gull-1/to-gull-2');
});
