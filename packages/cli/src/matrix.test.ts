import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { campus } from '@gentle-compass/core/testing/campus';
import { dual } from '@gentle-compass/core/testing/dual';
import { six } from '@gentle-compass/core/testing/mirror';
import { call } from './testing/call';

let folder = '';
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'gentle-compass-'));
  const network = campus()
    .router('gull-1', '10.96.0.1', 0)
    .router('gull-2', '10.96.0.2', 0)
    .router('gull-3', '10.96.0.3', 0)
    .cable('gull-1', 'gull-2', '10.96.1.0', 0, [10, 30])
    .cable('gull-2', 'gull-3', '10.96.1.2', 0, [10, 30])
    .cable('gull-1', 'gull-3', '10.96.1.4', 0, [25, 10])
    .port('gull-3', 'lab', '10.97.7.1/24', null);
  for (const d of dual(network).documents()) writeFileSync(join(folder, d.file), JSON.stringify(d.tree, null, 1));
});
afterEach(() => rmSync(folder, { recursive: true }));

interface MatrixJson {
  readonly rows: readonly string[];
  readonly columns: readonly string[];
  readonly cells: readonly (readonly ({ there: string; back: string; hops: number | null; cost: number | null } | null)[])[];
}

test('matrix --json: every loopback against every other, of both families, with nothing between them', async () => {
  const { code, out } = await call('matrix', folder, '--json');
  const { rows, columns, cells } = JSON.parse(out) as MatrixJson;
  const four = ['10.96.0.1', '10.96.0.2', '10.96.0.3'];
  expect([code, rows, columns]).toEqual([0, [...four, ...four.map(six)], [...four, ...four.map(six)]]);
  expect(cells[0]).toEqual([
    { there: 'delivered', back: 'delivered', hops: 0, cost: null },
    { there: 'delivered', back: 'delivered', hops: 1, cost: 10 },
    { there: 'delivered', back: 'delivered', hops: 2, cost: 20 },
    null,
    null,
    null,
  ]);
  expect(cells[3]?.slice(0, 3)).toEqual([null, null, null]);
  expect(cells[3]?.[5]).toEqual(cells[0]?.[2]);
  expect(cells).toHaveLength(6);
});

test('of one family, with something down; as text the answer over other routers is marked', async () => {
  const { out } = await call('matrix', folder, '--family', '4');
  expect(out).toMatch(/1 10\.96\.0\.1 gull-1 +- +10~ +20~/);
  const failed = await call('matrix', folder, '--family', '4', '--fail', 'router:gull-3', '--json');
  const { cells } = JSON.parse(failed.out) as MatrixJson;
  expect(cells[0]?.[2]).toMatchObject({ there: 'dropped', back: 'dropped' });
  expect(cells[2]?.[0]).toMatchObject({ there: 'dropped', hops: null, cost: null });
  expect(cells[0]?.[1]).toEqual({ there: 'delivered', back: 'delivered', hops: 1, cost: 10 });
});

test('groups name what stands on both sides: a host on a LAN that OSPF does not tell has one way', async () => {
  const groups = join(folder, '..', `${folder.split('/').at(-1) ?? ''}-groups.json`);
  writeFileSync(
    groups,
    JSON.stringify({
      group: [
        { name: 'labs', members: ['10.97.7.0/24'] },
        { name: 'gulls', members: ['gull-1'] },
      ],
    }),
  );
  const { out } = await call('matrix', folder, '--groups', groups, '--family', '4', '--json');
  const { rows, cells } = JSON.parse(out) as MatrixJson;
  expect(rows).toEqual(['10.97.7.128', '10.96.0.1']);
  expect(cells[0]?.[1]).toMatchObject({ there: 'delivered', back: 'dropped' });
  expect(cells[1]?.[0]).toMatchObject({ there: 'dropped', back: 'delivered' });
  writeFileSync(groups, JSON.stringify({ group: [{ name: 'labs', members: ['10.97.7'] }] }));
  const bad = await call('matrix', folder, '--groups', groups);
  expect(bad.err).toMatch(/groups\.json:1:\d+ .*"10\.97\.7".*an address, a prefix, a host name/);
  expect(bad.code).toBe(2);
  rmSync(groups);
});

test.each([
  [['--family', '5'], '--family is 4 or 6'],
  [['--fail', 'link:gull-9/x'], 'gull-9'],
  [['--fail', 'gull-9'], '"gull-9"'],
  [['--groups', '/nowhere/groups.json'], 'groups.json'],
])('what cannot be asked is told: %j', async (more, words) => {
  const { code, err } = await call('matrix', folder, ...more);
  expect([code, err.includes(words)]).toEqual([2, true]);
});
