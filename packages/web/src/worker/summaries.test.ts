import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Workbench } from './workbench';

const root = join(__dirname, '../../../../demo/saltmarsh-point-before-review');
const files = readdirSync(root).map((name) => ({ name, content: readFileSync(join(root, name), 'utf8') }));

function opened(): Workbench {
  const bench = new Workbench();
  const { design } = bench.files.readFiles(files, 'campus');
  if (!design) throw new Error('the sample cannot be read');
  bench.editing.open(design);
  return bench;
}

const drydock = { kind: 'area', area: 20 } as const;
const all = { loopbacks: true, leaveOut: [], reserve: [] };
const laid = (prefix: string, cost?: number) => ({ prefix, cost, hidden: false });

test('what can be summarised: areas with who writes them, and boundary routers with what they announce', () => {
  const { areas, routers } = opened().summaries.scopes();
  expect(areas.map((a) => [a.area, a.writers.join(' ')])).toEqual([
    [0, 'drydock-1 drydock-2 kelp-1 kelp-2 petrel-1 petrel-2 tidepool-1 tidepool-2'],
    [10, 'kelp-1 kelp-2'],
    [20, 'drydock-1 drydock-2'],
    [30, 'tidepool-1 tidepool-2'],
    [40, 'petrel-1 petrel-2'],
  ]);
  expect(routers.map((r) => r.router)).toContain('harbour-exit');
});

test('a space tells parts with their places, what is foreign, and that border routers do not agree', () => {
  const { summaries } = opened();
  const space = summaries.space(drydock, all);
  expect(space.parts).toHaveLength(7);
  expect(space.parts.find((p) => p.prefix === '10.97.72.0/24')?.place).toBe('workshop of drydock-3');
  expect([space.agree, space.stands.map((l) => l.prefix)]).toEqual([false, ['10.97.0.0/17', '10.97.64.0/18']]);
  expect(space.foreign.filter((f) => f.area === 10)).toHaveLength(13);
  const narrow = summaries.space(drydock, { loopbacks: false, leaveOut: ['10.97.72.0/21', 'nonsense', '2001:db8::/48'], reserve: ['10.97.80.0/22'] });
  expect(narrow.parts.map((p) => p.prefix)).toEqual(['10.97.65.0/31', '10.97.65.2/31', '10.97.66.0/24', '10.97.80.0/22']);
  expect(narrow.left).toHaveLength(4);
  expect(narrow.wrong).toEqual(['nonsense', '2001:db8::/48']);
});

test('a plan at once, what it saves after it; an older weighing gives way to a newer one', async () => {
  const { summaries } = opened();
  const plan = summaries.plan(drydock, all, { atMost: 2, allowForeign: 0 });
  expect(plan.choices.map((c) => c.summaries.join(' '))).toEqual(['10.97.64.0/22 10.97.72.0/22', '10.97.64.0/20']);
  const asked = plan.choices.map((c) => c.summaries);
  const [older, newer] = await Promise.all([summaries.weigh(drydock, asked), summaries.weigh(drydock, asked)]);
  expect(older === null || older.effects.length === 2).toBe(true);
  // One summary for seven prefixes from two routers: in the backbone, and in areas 10 and 40.
  expect(newer?.effects.map((e) => e?.advertisements.map((a) => a.count[0] - a.count[1]))).toEqual([
    [10, 10, 10],
    [12, 12, 12],
  ]);
  // A port of drydock-4 alone goes unheard by both, as LANs of one router do.
  expect(newer?.heard).toMatchObject({ tried: 9, alone: 9 });
  expect(newer?.heard.plans.every((x) => x.fixed <= x.following && x.following < 9)).toBe(true);
});

test('a trial says what would be written and done, and shows a packet where it claims what is not its own', async () => {
  const { summaries } = opened();
  const good = await summaries.trial(drydock, all, [laid('10.97.64.0/20', 44)]);
  expect(good?.lines).toEqual(['range 10.97.0.0/17 area 20 off', 'range 10.97.64.0/18 area 20 off', 'range 10.97.64.0/20 area 20 cost 44']);
  expect([good?.faults, good?.claim, good?.edits.map((e) => e.router)]).toEqual([[], undefined, ['drydock-1', 'drydock-2']]);
  const bad = await summaries.trial(drydock, all, [laid('10.97.0.0/16')]);
  expect(bad?.claim).toMatchObject({ area: 10, after: { to: '10.97.1.0', fate: 'delivered' } });
  const [older, newer] = await Promise.all([
    summaries.trial(drydock, all, [laid('10.97.0.0/16')]),
    summaries.trial(drydock, all, [laid('10.97.0.0/17'), laid('10.97.64.0/18')]),
  ]);
  // Each of the two misses one that the other has.
  expect([older, newer?.lines.length]).toEqual([null, 2]);
});

test('failures inside in everyday words; ways that are longer; addresses that nobody has', async () => {
  const { summaries } = opened();
  const flaps = await summaries.flaps(drydock, '10.97.64.0/18');
  expect(flaps?.tried).toBe(9);
  expect(flaps?.list.map((f) => f.words)).toEqual(
    expect.arrayContaining(['the link drydock-1 – drydock-3', 'drydock-2 off the LAN slipway', 'the whole LAN slipway', 'workshop of drydock-3']),
  );
  expect(await summaries.flaps(drydock, 'nonsense')).toBeNull();
  expect(await summaries.flaps({ kind: 'outside', router: 'petrel-2' }, '198.51.100.0/24')).toMatchObject({ tried: expect.any(Number) as number });
  const [worst] = summaries.detours();
  expect(worst).toMatchObject({ area: 10, to: '10.97.1.0/31', through: 'kelp-2', better: 'kelp-1' });
  expect(summaries.way(worst?.from ?? '', worst?.host ?? '')?.fate).toBe('delivered');
  expect(summaries.way('nobody', '10.97.1.1')).toBeNull();
  const discards = summaries.discards();
  expect(discards.map((d) => `${d.area} ${d.summary} ${d.way.fate}`)).toContain('10 10.97.0.0/18 dropped');
  for (const d of discards) expect(d.way.reason).toContain('discard route');
});
