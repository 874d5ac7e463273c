import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseFailure } from '../failures/outage';
import { readSet } from '../formats/read-set';
import { formatAddress, holds, isSix, parseAddress, type Address, type Prefix } from '../prefix/address';
import { predictFamilies, type Prediction } from '../predict';
import { recordedDocuments, recordedFolders, type RecordedCase, type RouterJson } from '../testing/recorded';
import { prefixNumber } from '../documents/leaf-types';
import { loopbacks, matrixOf } from './matrix';
import { cellAt } from './matrix-cells';

const root = join(__dirname, '../../recorded');

type Line = NonNullable<RouterJson['rib']>[number];

/** Every way of a packet by the recorded tables alone: longest match, owner of the next hop, over and over. */
function recordedFates(p: Prediction, tables: ReadonlyMap<string, readonly { at: Prefix; line: Line }[]>, start: string, to: Address): Set<string> {
  const owner = (a: Address): string | undefined =>
    p.design.routers.find((r) => r.interfaces.some((i) => i.addresses.some((x) => x.bits === a) || i.linkLocal?.address === a))?.name;
  const across = (router: string, iface: string): string | undefined => {
    const n = p.routerIndex(router);
    const index = p.design.routers[n]?.interfaces.findIndex((i) => i.name === iface) ?? -1;
    const other = p.segments.list[p.segments.of[n]?.[index] ?? -1]?.members.find((m) => m.router !== n);
    return other && p.design.routers[other.router]?.name;
  };
  const out = new Set<string>();
  const go = (router: string | undefined, passed: readonly string[]): void => {
    if (router === undefined) return void out.add('leaves');
    if (passed.includes(router)) return void out.add('looping');
    if (owner(to) === router) return void out.add('delivered');
    const best = (tables.get(router) ?? []).filter((x) => holds(x.at, to)).sort((a, b) => b.at.length - a.at.length)[0];
    const hops = best?.line['next-hops'] ?? [];
    if (hops.length === 0) return void out.add('dropped');
    for (const h of hops) {
      const next = h['next-hop'] === undefined ? to : (parseAddress(h['next-hop']) ?? to);
      if (h['next-hop'] === undefined && owner(to) === undefined) out.add('delivered');
      else go(owner(next) ?? (h['next-hop-any'] ? across(router, h['outgoing-interface']) : undefined), [...passed, router]);
    }
  };
  go(start, []);
  return out;
}

const cases = recordedFolders.flatMap((folder) =>
  readdirSync(join(root, folder, 'expected'))
    .sort()
    .map((n) => ({ folder, name: n.replace('.json', ''), file: join(root, folder, 'expected', n) })),
);
let pairs = 0;
afterAll(() => {
  // The recordings are there, and most of them show whole tables.
  expect(pairs).toBeGreaterThan(1_200);
});

test.each(cases)('packets between loopbacks go as the recorded tables send them: $folder/$name', ({ file, folder }) => {
  const recorded = JSON.parse(readFileSync(file, 'utf8')) as RecordedCase;
  const ignores = recorded.ignore?.some((g) => g.what === 'rib' || g.what === 'route') ?? false;
  const { design } = readSet(recordedDocuments(folder));
  const fail = recorded.fail === undefined || recorded.fail === '' ? [] : [parseFailure(recorded.fail)];
  for (const p of predictFamilies(
    design,
    fail.flatMap((f) => (typeof f === 'string' ? [] : [f])),
  )) {
    const tables = new Map(
      Object.entries(recorded.routers).flatMap(([name, r]) => {
        const lines = (r.rib ?? []).flatMap((line) => {
          const at = prefixNumber.read(line.prefix);
          return at && isSix(at.bits) === (p.family === 6) ? [{ at, line }] : [];
        });
        return r.rib ? [[name, lines] as const] : [];
      }),
    );
    if (ignores || design.routers.some((r, n) => !tables.has(r.name) && !p.outage.routers.has(n))) continue;
    const addresses = loopbacks(p);
    const ends = addresses.map((a) => p.design.routers.find((r) => r.interfaces.some((i) => i.addresses.some((x) => x.bits === a)))?.name ?? '');
    const m = matrixOf(p, addresses);
    addresses.forEach((_, r) =>
      addresses.forEach((to, c) => {
        const start = ends[r] ?? '';
        if (p.outage.routers.has(p.routerIndex(start)) || p.outage.routers.has(p.routerIndex(ends[c] ?? ''))) return;
        const fates = recordedFates(p, tables, start, to);
        const fate = fates.size === 1 ? [...fates][0] : 'partly';
        expect(`${start} to ${formatAddress(to)}: ${cellAt(m, r, c).there}`).toBe(`${start} to ${formatAddress(to)}: ${fate ?? ''}`);
        pairs++;
      }),
    );
  }
});
