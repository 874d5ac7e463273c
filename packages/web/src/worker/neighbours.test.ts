import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { applyEdits } from '@gentle-compass/core/design/edit';
import { designFrom } from '@gentle-compass/core/formats/read-set';
import { predict } from '@gentle-compass/core/predict';
import { campus, leadersOf, type Campus } from '@gentle-compass/core/testing/campus';
import type { ViewPatch } from '../model/view-patch';
import { Workbench } from './workbench';

const root = join(__dirname, '../../../../demo/saltmarsh-point-before-review');
const sample = readdirSync(root).map((name) => ({ name, content: readFileSync(join(root, name), 'utf8') }));

function opened(files: readonly { name: string; content: string }[] = sample): Workbench {
  const bench = new Workbench();
  const { design } = bench.files.readFiles(files, 'campus');
  if (!design) throw new Error('the documents cannot be read');
  bench.editing.open(design);
  return bench;
}
const of = (c: Campus): Workbench => opened(c.documents().map((d) => ({ name: d.file, content: JSON.stringify(d.tree) })));

/** A LAN of four with users behind r1 and r4; r1 to r3 may lead. */
const reef = (): Campus =>
  [5, 3, 1, 0]
    .reduce((c, _, i) => c.router(`r${i + 1}`, `10.96.0.${i + 1}`, 0), campus())
    .lan(
      'reef',
      '10.97.1.0/24',
      0,
      [5, 3, 1, 0].map((priority, i) => [`r${i + 1}`, { priority }] as const),
    );

const segmentOf = (bench: Workbench): number => bench.neighbours.electing()[0]?.segment ?? -1;

test('a play changes the whole network as its last step says: who advertises the LAN, and what is lost while nobody does', () => {
  const bench = of(reef());
  const segment = segmentOf(bench);
  const all = ['r1', 'r2', 'r3', 'r4'];
  const back = bench.neighbours.play(segment, [
    { kind: 'start', routers: all },
    { kind: 'lose', routers: ['r1'] },
    { kind: 'start', routers: ['r1'] },
  ]);
  expect(back?.stands.map((s) => s.dr)).toEqual(['r1', 'r2', 'r2']);
  // Every pair with a leader is full: r2 and r3 lead, so only r1 and r4 are not.
  expect(back?.effect).toMatchObject({ advertisedBy: ['r1', 'r2'], full: [5, 5], lost: 0, gained: 0 });
  // r4 alone with nobody who may lead: loopbacks of the three are lost to it and its own to them, three each.
  const alone = bench.neighbours.play(segment, [
    { kind: 'start', routers: all },
    { kind: 'lose', routers: ['r1', 'r2', 'r3'] },
  ]);
  expect(alone?.stands.at(-1)).toMatchObject({ dr: undefined, bdr: undefined, present: ['r4'] });
  expect(alone?.effect?.advertisedBy).toEqual(['r1', '']);
  const failed = predict(
    reef().read().design,
    ['r1', 'r2', 'r3'].map((router) => ({ kind: 'interface', router, iface: 'reef' })),
  );
  const lines = (p: ReturnType<typeof predict>): number => p.design.routers.reduce((n, _, i) => n + p.rib(i).length, 0);
  expect(alone?.effect?.lost).toBe(lines(predict(reef().read().design)) - lines(failed));
});

test('a wish in the design is tried in every order of start; the priorities that are proposed make it hold', () => {
  const wish = reef().settings({ expectation: [{ name: 'r1 first', kind: 'leader', router: 'r1', interface: 'reef' }] });
  const bench = of(wish);
  const [w] = bench.neighbours.ladder(segmentOf(bench))?.wishes ?? [];
  expect(w?.trial).toMatchObject({ together: true, instead: 'r2', all: true });
  expect(w?.certain.map((c) => `${c.router} ${c.priority}`)).toEqual(['r2 0', 'r3 0']);
  const after = predict(designFrom(applyEdits(wish.documents(), w?.edits ?? [])).design, [], { startOrder: ['r3', 'r2', 'r4', 'r1'] });
  expect(leadersOf(after, 'r4', 'reef')).toBe('r1/-');
});

test('what follows from what arrives after the findings, goes with its cause, and comes back with it', async () => {
  const bench = opened();
  bench.checking.foundText();
  const text = await bench.checking.explainedText();
  const { parts } = JSON.parse(text ?? '{}') as ViewPatch;
  const findings = parts.findings ?? [];
  const causes = findings.filter((f) => f.severity !== 'note' && f['caused-by'] === null);
  expect(causes).toHaveLength(10);
  expect(await bench.checking.explainedText()).toBeNull();
  // The repair of one: what followed is told to have gone with it.
  const area = causes.find((f) => f.rule === 'area-type');
  bench.editing.editText(area?.repairs[0]?.edits ?? []);
  const after = JSON.parse(bench.checking.foundText()) as ViewPatch;
  const change = await bench.editing.change();
  expect(change?.wentWith?.length).toBe(
    findings.filter((f) => f['caused-by'] === area?.id && !(after.parts.findings ?? []).some((x) => x.id === f.id)).length,
  );
  expect(change?.wentWith?.some((m) => m.includes('is in 3 pieces'))).toBe(true);
  // What is left keeps its cause without being tried anew.
  const left = (after.parts.findings ?? []).filter((f) => f['caused-by'] !== null).map((f) => f.id);
  expect(left.length).toBeGreaterThan(3);
  for (const id of left) expect(findings.find((f) => f.id === id)?.['caused-by']).not.toBeNull();
});

test('keys are compared and never told; one is shown when it is asked for by its number', () => {
  const port = (secret: string) => ({ 'interface-type': 'point-to-point', authentication: { 'ospfv2-key': secret, 'ospfv2-key-id': 4 } });
  const c = campus()
    .router('auk', '10.96.0.1', 0)
    .router('crake', '10.96.0.2', 0)
    .port('auk', 'east', '10.97.0.0/31', 0, port('low-water'))
    .port('crake', 'west', '10.97.0.1/31', 0, port('high-water'));
  const bench = of(c);
  const [pair] = bench.neighbours.proving();
  expect(pair).toMatchObject({ together: false, why: 'key 4, md5 on both, and the keys themselves differ' });
  const id = pair?.pair ?? '';
  const told = JSON.stringify([
    bench.neighbours.proving(),
    bench.neighbours.keys(id),
    bench.neighbours.facing(id),
    bench.neighbours.comingUp(id, 'together', {}),
  ]);
  expect(told).not.toMatch(/low-water|high-water/);
  expect([bench.neighbours.reveal(id, 'a', 4), bench.neighbours.reveal(id, 'b', 4), bench.neighbours.reveal(id, 'a', 5)]).toEqual([
    'low-water',
    'high-water',
    null,
  ]);
  // Replacing it plainly: apart until the other follows; there is no chain to write lifetimes into.
  const next = { id: 5, algorithm: 'hmac-sha-256', secret: 'slack-water', from: Date.now() + 1000, apart: 60_000 };
  expect(bench.neighbours.rehearse(id, next, false)?.edits).toEqual([]);
});

test('a pair that only failures take down is played without them; one that is not there gives nothing', async () => {
  const bench = opened();
  await bench.failures.fail(['link:kelp-1/to-kelp-3']);
  const id = 'kelp-1/to-kelp-3~kelp-3/to-kelp-1';
  expect(bench.neighbours.comingUp(id, 'together', {})?.seen).toMatch(/^Full after/);
  expect(bench.neighbours.comingUp('kelp-1/nowhere~kelp-3/to-kelp-1', 'together', {})).toBeNull();
  expect(bench.neighbours.ladder(-1)).toBeNull();
  expect(bench.neighbours.turnedOn('nobody')).toEqual([]);
});
