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
  const network = dual(
    campus()
      .router('gull-1', '10.96.0.1', 0)
      .router('gull-2', '10.96.0.2', 0)
      .router('gull-3', '10.96.0.3', 0)
      .cable('gull-1', 'gull-2', '10.96.128.0', 0, 10)
      .cable('gull-2', 'gull-3', '10.96.128.2', 0, 10),
    { 'gull-2': (r) => Object.assign(r.port('to-gull-3'), { 'hello-interval': 5 }) },
  );
  for (const d of network.documents()) writeFileSync(join(folder, d.file), JSON.stringify(d.tree, null, 1));
});
afterEach(() => rmSync(folder, { recursive: true }));

interface RouterJson {
  readonly 'router-id': string;
  readonly ospfv2: { readonly 'local-rib': { readonly route: readonly { readonly prefix: string }[] } };
  readonly ospfv3: {
    readonly 'local-rib': { readonly route: readonly { readonly prefix: string }[] };
    readonly areas: { readonly area: readonly { readonly database: { readonly lsa: readonly { readonly type: number }[] } }[] };
  };
  readonly rib: readonly { readonly prefix: string }[];
}

test('predict --json has both versions, whole types, and one table; findings of IPv6 say so', async () => {
  const { code, out } = await call('predict', folder, '--json');
  expect(code).toBe(0);
  const { routers, findings } = JSON.parse(out) as { routers: Record<string, RouterJson>; findings: { rule: string; family?: number }[] };
  const gull = routers['gull-1'];
  expect(gull?.['router-id']).toBe('10.96.0.1');
  expect(gull?.ospfv2['local-rib'].route.map((r) => r.prefix)).toContain('10.96.0.3/32');
  // gull-3 is behind the link on which the hellos differ; its prefix on that link is gull-2's too.
  expect(gull?.ospfv3['local-rib'].route.map((r) => r.prefix)).toEqual([
    `${six('10.96.0.1')}/128`,
    `${six('10.96.0.2')}/128`,
    `${six('10.96.128.0')}/127`,
    `${six('10.96.128.2')}/127`,
  ]);
  expect(new Set(gull?.ospfv3.areas.area[0]?.database.lsa.map((l) => l.type))).toEqual(new Set([0x2001, 0x2009]));
  expect(gull?.rib.map((r) => r.prefix)).toEqual(expect.arrayContaining(['10.96.0.3/32', `${six('10.96.0.2')}/128`]));
  expect(findings.map((f) => [f.rule, f.family])).toContainEqual(['hello-interval', 6]);
  expect(findings.filter((f) => f.family === undefined)).toEqual([]);
});

test('predict in words, check, explain and tables tell the versions apart', async () => {
  const words = (await call('predict', folder, '--router', 'gull-1')).out;
  expect(words).toMatch(/gull-1 {2}OSPFv2 {2}10\.96\.0\.1/);
  expect(words).toMatch(/gull-1 {2}OSPFv3 {2}10\.96\.0\.1/);
  const check = await call('check', folder);
  expect([check.code, check.out]).toEqual([1, expect.stringContaining('IPv6: gull-2 and gull-3 stay apart: hello interval 5 s against 10 s')]);
  expect((await call('explain', folder, 'gull-1', `${six('10.96.0.2')}/128`)).out).toMatch(
    /intra-area at cost 10, by way of area 0\.0\.0\.0 \(RFC 5340 §4\.8\.1\)/,
  );
  const ends = (await call('explain', folder, 'gull-2/to-gull-3')).out;
  expect(ends).toContain('gull-2 and gull-3, OSPFv2: full');
  expect(ends).toContain('gull-2 and gull-3, OSPFv3: apart');
  const routes = (await call('table', folder, '--of', 'routes', '--router', 'gull-1')).out;
  expect(routes).toContain('10.96.0.3/32');
  expect(routes).toContain(`${six('10.96.0.2')}/128`);
});

test('trace: the addresses say which family; two of two families are refused', async () => {
  const four = JSON.parse((await call('trace', folder, '--from', '10.96.0.1', '--to', '10.96.0.3', '--json')).out) as { forward: { fate: string } };
  expect(four.forward.fate).toBe('delivered');
  const lost = await call('trace', folder, '--from', six('10.96.0.1'), '--to', six('10.96.0.3'));
  expect(lost.out).toMatch(new RegExp(`dropped .*gull-1: gull-1 has no route that holds ${six('10.96.0.3')}`));
  const near = await call('trace', folder, '--from', six('10.96.0.1'), '--to', six('10.96.0.2'));
  expect(near.out).toMatch(/delivered gull-1 > gull-2/);
  const mixed = await call('trace', folder, '--from', '10.96.0.1', '--to', six('10.96.0.3'));
  expect([mixed.code, mixed.err]).toEqual([2, expect.stringContaining('are of two families; a packet has one')]);
  expect((await call('trace', folder, '--from', '2001:db8::zz', '--to', six('10.96.0.3'))).code).toBe(2);
});
