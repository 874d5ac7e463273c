import { designFrom } from '@gentle-compass/core/formats/read-set';
import { applyEdits } from '@gentle-compass/core/design/edit';
import { campus, type Campus } from '@gentle-compass/core/testing/campus';
import type { MomentView, TimeCall, TimedView, TimeView, TunableView, TuneCall, TuneView } from '../model/time-view';
import { Workbench } from './workbench';

/** What always takes as long as it takes. */
const exact = {
  'carrier-detect-ms': 10,
  'link-delay-ms': 1,
  'pacing-ms': 0,
  'lsa-processing-ms': 0,
  'spf-base-ms': 2,
  'spf-per-router-ms': 0,
  'install-base-ms': 3,
  'install-per-prefix-ms': 0,
};

/** Five routers in a ring: cove-1, cove-2 and cove-4 calculate after 100 ms, the others after 300. */
function ring(): Campus {
  const c = campus();
  [100, 100, 300, 100, 300].forEach((delay, n) => c.router(`cove-${n + 1}`, `10.96.0.${n + 1}`, 0, { 'spf-schedule': { 'fixed-delay': delay } }));
  for (let n = 0; n < 5; n++) c.cable(`cove-${n + 1}`, `cove-${((n + 1) % 5) + 1}`, `10.96.1.${2 * n}`, 0, 10);
  return c;
}

function opened(c: Campus): Workbench {
  const bench = new Workbench();
  bench.editing.open({ name: 'ring', documents: c.documents() });
  return bench;
}

const call = (over: Partial<TimeCall> = {}): TimeCall => ({
  fail: ['link:cove-1/to-cove-2'],
  then: [],
  watch: ['cove-1 cove-2'],
  profile: exact,
  seed: 1,
  runs: 3,
  ...over,
});
const none = (): void => undefined;
const timed = async (bench: Workbench, c: TimeCall = call()): Promise<TimeView> => (await bench.timing.simulate(c, none)) as TimeView;

/*
 * By hand: light at 10; cove-1 calculates at 110 for 2 and writes for 3: 115. cove-5 hears at 11: 316, until then packets from
 * cove-1 to cove-2 go back and forth between the two.
 */
test('rows, flows and loops of a ring, as counted by hand', async () => {
  const view = await timed(opened(ring()));
  expect(view.lastChange).toEqual({ earliest: 316, typical: 316, latest: 316 });
  expect(view.rows.map((r) => `${r.router} ${r.knew} ${r.noticed ?? '-'} ${r.lastChange ?? '-'}`)).toEqual([
    'cove-1 10 10 115',
    'cove-2 10 10 115',
    'cove-3 11 - 316',
    'cove-5 11 - 316',
    'cove-4 12 - 117',
  ]);
  expect(view.rows.find((r) => r.router === 'cove-5')?.bars.map((b) => `${b.kind} ${b.from}-${b.to}`)).toEqual([
    'flooding 10-11',
    'spf-delay 11-311',
    'calculation 311-313',
    'installation 313-316',
  ]);
  expect(view.flows.map((f) => f.spans.map((s) => `${s.fate} ${s.fromMs}-${s.toMs}`))).toEqual([
    ['dropped 0-115', 'looping 115-316', 'carried 316-316'],
  ]);
  expect(view.flows[0]?.before).toEqual(['cove-1', 'cove-2']);
  expect(view.flows[0]?.healedLatest).toBe(316);
  expect(view.loops.map((l) => `${l.routers.toSorted().join()} ${l.fromMs}-${l.toMs} ${l.pairs}`).sort()).toEqual([
    'cove-1,cove-5 115-316 2',
    'cove-2,cove-3 115-316 2',
  ]);
  expect(view.slowest).toBe('300 ms of 316 ms is the SPF delay of cove-3');
  expect(view.done).toBe(true);
});

test('the network at a moment: who has lost whom, tables, databases, and the way of packets', async () => {
  const bench = opened(ring());
  await timed(bench);
  const at = (ms: number, router?: string): MomentView => bench.timing.stand(ms, router) as MomentView;
  expect(at(9).apart).toEqual([]);
  expect(at(10).apart).toEqual(['cove-1/to-cove-2~cove-2/to-cove-1', 'cove-2/to-cove-1~cove-1/to-cove-2']);
  expect(at(200).flows[0]).toMatchObject({ fate: 'looping', path: ['cove-1', 'cove-5'] });
  expect(at(200).flows[0]?.lines).toHaveLength(2);
  expect(at(400).flows[0]).toMatchObject({ fate: 'carried', path: ['cove-1', 'cove-5', 'cove-4', 'cove-3', 'cove-2'] });
  expect(at(200, 'cove-1').table?.find((l) => l.prefix === '10.96.0.2/32')).toMatchObject({
    now: 'to-cove-5 10.96.1.8 cost 40',
    before: 'to-cove-2 10.96.1.1 cost 10',
    moved: true,
  });
  expect(at(200, 'cove-5').table?.filter((l) => l.moved)).toEqual([]);
  expect(at(11, 'cove-5').database?.[0]).toEqual({ area: '0.0.0.0', type: 1, words: 'links of cove-1, area 0.0.0.0', state: 'newer', since: 11 });
});

test('of two cables between the same routers the one that stands is drawn as the way', async () => {
  const c = campus()
    .router('gull-1', '10.96.0.1', 0)
    .router('gull-2', '10.96.0.2', 0)
    .port('gull-1', 'one', '10.96.1.0/31', 0, { cost: 10, 'interface-type': 'point-to-point' })
    .port('gull-2', 'one', '10.96.1.1/31', 0, { cost: 10, 'interface-type': 'point-to-point' })
    .port('gull-1', 'two', '10.96.1.2/31', 0, { cost: 20, 'interface-type': 'point-to-point' })
    .port('gull-2', 'two', '10.96.1.3/31', 0, { cost: 20, 'interface-type': 'point-to-point' });
  const bench = opened(c);
  const wayWithout = async (cable: string): Promise<readonly string[]> => {
    const { endMs } = await timed(bench, call({ fail: [`link:gull-1/${cable}`], watch: ['gull-1 gull-2'] }));
    return bench.timing.stand(endMs, undefined)?.flows[0]?.lines ?? [];
  };
  const [two, one] = [await wayWithout('one'), await wayWithout('two')];
  expect([two.length, one.length]).toEqual([1, 1]);
  expect(two).not.toEqual(one);
});

/*
 * By hand: reef-1 leads the quay (highest id of equal priorities leads: reef-3; here priorities say reef-1) and hears of the loss of
 * its port at 10. Its cable to reef-2 lives: it withdraws the network at once, and both others lose the way to each other's networks
 * behind the quay until a new leader says them.
 */
test('a leader that loses its port while another link of it lives: it withdraws the LAN, which is told and explained', async () => {
  const lead = { priority: 9 };
  const c = campus()
    .router('reef-1', '10.96.0.1', 0)
    .router('reef-2', '10.96.0.2', 0)
    .router('reef-3', '10.96.0.3', 0)
    .port('reef-1', 'quay', '10.97.0.1/24', 0, lead)
    .port('reef-2', 'quay', '10.97.0.2/24', 0, { priority: 5 })
    .port('reef-3', 'quay', '10.97.0.3/24', 0)
    .cable('reef-1', 'reef-2', '10.96.1.0', 0);
  const bench = opened(c);
  const view = await timed(bench, call({ fail: ['link:reef-1/quay'], watch: ['reef-2 reef-3'] }));
  // Nobody cut the wire between reef-2 and reef-3; yet packets are lost, from the first calculation until a new leader is there.
  const [flow] = view.flows;
  expect(flow?.spans.map((s) => s.fate)).toEqual(['carried', 'dropped', 'carried']);
  const lost = flow?.spans[1];
  expect(lost?.fromMs).toBeLessThan(100);
  expect((lost?.toMs ?? 0) - (lost?.fromMs ?? 0)).toBeGreaterThan(20_000);
  const story = bench.timing.stand(lost?.fromMs ?? 0, undefined)?.story;
  const line = story?.lines.find((l) => l.words.startsWith('reef-1 withdraws network 10.97.0.1/24'));
  expect(line?.ms).toBe(10);
  expect(line?.why).toContain('it led that LAN');
  expect(bench.timing.stand(view.endMs, undefined)?.story.lines.some((l) => l.words.includes('reef-2 leads'))).toBe(true);
});

test('what happens later: a return, a second failure, a planned step; what cannot be read is told, the rest happens', async () => {
  const bench = opened(ring());
  const then = [
    { ms: 1000, kind: 'restore' as const, what: 'link:cove-1/to-cove-2' },
    { ms: 20_000, kind: 'line' as const, what: 'set cost 100 on cove-3/to-cove-4' },
    { ms: 30_000, kind: 'fail' as const, what: 'router:cove-9' },
    { ms: 30_000, kind: 'line' as const, what: 'set coast 100 on all' },
  ];
  const view = await timed(bench, call({ then }));
  expect(view.happenings.map((h) => h.ms)).toEqual([0, 1000, 20_000, 30_000]);
  expect(view.problems).toEqual([expect.stringContaining('set coast 100 on all'), 'There is no router "cove-9".']);
  expect(view.flows[0]?.spans.at(-1)).toMatchObject({ fate: 'carried', path: ['cove-1', 'cove-2'] });
  const three = view.rows.find((r) => r.router === 'cove-3');
  expect(three?.lastChange).toBeGreaterThan(20_000);
  expect(bench.timing.stand(view.endMs, 'cove-3')?.table?.some((l) => l.now.includes('cost 100'))).toBe(false);
});

test('pairs that nobody named are some that the failure touches', async () => {
  const view = await timed(opened(ring()), call({ watch: [] }));
  expect(view.flows.length).toBeGreaterThan(1);
  for (const f of view.flows) expect(f.spans[0]?.fate).toBe('dropped');
  expect(await timed(opened(ring()), call({ watch: ['cove-1 reef-9'] }))).toMatchObject({ flows: [], problems: [expect.stringContaining('reef-9')] });
});

test('in a large campus the pairs that are followed are of routers next to the failure', async () => {
  const c = campus();
  for (let n = 1; n <= 150; n++) c.router(`mussel-${n}`, `10.96.${n >> 7}.${(n & 127) + 1}`, 0);
  for (let n = 1; n < 150; n++) c.cable(`mussel-${n}`, `mussel-${n + 1}`, `10.97.${n >> 6}.${(n & 63) * 2}`, 0);
  const view = await timed(opened(c), call({ fail: ['link:mussel-148/to-mussel-149'], watch: [], runs: 1 }));
  expect(view.flows.length).toBeGreaterThan(1);
  for (const f of view.flows) expect(f.spans[0]?.fate).toBe('dropped');
  expect(view.flows.some((f) => f.fromName === 'mussel-148' || f.toName === 'mussel-149')).toBe(true);
});

const tune = async (bench: Workbench, over: Partial<TuneCall>): Promise<TuneView> =>
  (await bench.timing.tune({ where: 'around', loss: 0.001, ...over }, none)) as TuneView;

test('other timers, old against new: the time, the lines, and all of it as one change', async () => {
  const c = ring();
  const bench = opened(c);
  await timed(bench);
  expect(bench.timing.tunable({ where: 'around' }) as TunableView).toMatchObject({
    ends: 2,
    hello: [10],
    dead: [40],
    bfd: ['off'],
    cables: 1,
    carrierUnseen: 0,
  });
  const t = await tune(bench, { spf: { kind: 'fixed', delay: 20 } });
  // By hand: 10 + 2 hops + 20 + 2 + 3 at cove-4; cove-3 and cove-5 a hop earlier.
  expect(t.lastChange?.latest).toBe(37);
  expect(t.routers).toMatchObject({ 'cove-1': 35, 'cove-5': 36, 'cove-4': 37 });
  expect(t.lines).toEqual(['set spf-fixed-delay 20 on all']);
  expect(t.was).toEqual(t.would);
  expect(t.orders).toEqual([]);
  const after = designFrom(applyEdits(c.documents(), t.edits)).design;
  expect(new Set(after.routers.map((r) => JSON.stringify(r.instances[0]?.spfSchedule)))).toEqual(new Set(['{"kind":"fixed","delay":20}']));
});

test('hellos of one end alone are refused, with the pair that would part; of both ends they are told with price, risk and order', async () => {
  const bench = opened(ring());
  await timed(bench);
  const one = await tune(bench, { where: { router: 'cove-1' }, hello: 1, dead: 4 });
  expect(one.parting.map((p) => `${p.a} ${p.b}`)).toEqual(['cove-1/to-cove-2 cove-2/to-cove-1', 'cove-1/to-cove-5 cove-5/to-cove-1']);
  expect(one.lastChange).toBeNull();
  const both = await tune(bench, { hello: 1, dead: 4 });
  expect(both.parting).toEqual([]);
  expect(both.would.packets - both.was.packets).toBeCloseTo(2 * (1 - 0.1), 9);
  expect(both.orders).toMatchObject([{ places: 2, withinS: 2, steps: [{ withinS: 20 }, { withinS: 2 }] }]);
});

test('where nothing fails on a wire, timers of interfaces are asked for elsewhere; delays of routers need none', async () => {
  const bench = opened(ring());
  await timed(bench, call({ fail: [], then: [{ ms: 0, kind: 'line', what: 'set cost 50 on cove-1/to-cove-2' }] }));
  expect(await tune(bench, { hello: 1 })).toMatchObject({ lines: [], faults: [expect.stringContaining('everywhere')], done: true });
  expect((await tune(bench, { spf: { kind: 'fixed', delay: 5 } })).lastChange?.latest).toBeLessThan(20);
});

test('every link and router is timed, each told as it is done; it can be stopped', async () => {
  const bench = opened(ring());
  const all: TimedView[] = [];
  await bench.timing.each(exact, (_, of, t) => {
    expect(of).toBe(10);
    if (t) all.push(t);
  });
  expect(all).toHaveLength(10);
  expect(all.find((t) => t.word === 'link:cove-1/to-cove-2')?.lastChange?.typical).toBe(316);
  const slow = new Workbench(0);
  slow.editing.open({ name: 'ring', documents: ring().documents() });
  let told = 0;
  await slow.timing.each(exact, () => {
    if (++told === 2) slow.timing.stopEach();
  });
  expect(told).toBeLessThan(10);
});

test('a newer question ends an older one; a stopped one gives what it came to', async () => {
  const bench = new Workbench(0);
  bench.editing.open({ name: 'ring', documents: ring().documents() });
  const [older, newer] = await Promise.all([bench.timing.simulate(call({ runs: 500 }), none), bench.timing.simulate(call(), none)]);
  expect(older).toBeNull();
  expect(newer?.runs).toBe(3);
  const stopped = await bench.timing.simulate(call({ runs: 5000 }), () => bench.timing.stop());
  expect(stopped?.runs).toBeGreaterThan(0);
  expect(stopped?.runs).toBeLessThan(5000);
});

test('routers with one id are refused in words, and nothing hangs', async () => {
  const c = campus().router('tern-1', '10.96.0.1', 0).router('tern-2', '10.96.0.1', 0).cable('tern-1', 'tern-2', '10.96.1.0', 0);
  const bench = opened(c);
  const view = await timed(bench, call({ fail: ['link:tern-1/to-tern-2'], watch: [] }));
  expect(view.problems[0]).toContain('one router id');
  expect(await bench.timing.each({}, none)).toContain('one router id');
});
