import { parseFailure, type FailureSpec } from '../failures/outage';
import { formatAddress, type Address } from '../prefix/address';
import { parseIpv4 } from '../prefix/ipv4';
import { campus, type Campus } from '../testing/campus';
import { converge, downBefore, simulationsOf, spreadOf, type Convergence } from './converge';
import { plainProfile, type TimingProfile } from './timing-profile';
import type { Happening } from './simulate';

const spec = (word: string): FailureSpec => {
  const f = parseFailure(word);
  if (typeof f === 'string') throw new Error(f);
  return f;
};
const fail = (word: string, ms = 0): Happening => ({ ms, kind: 'fail', spec: spec(word) });
const back = (word: string, ms = 0): Happening => ({ ms, kind: 'restore', spec: spec(word) });
const ip = (text: string): Address => parseIpv4(text) ?? 0;

/** Everything takes as long as it always takes. */
const exact: TimingProfile = {
  carrierDetect: 10,
  linkDelay: 1,
  pacing: 0,
  lsaProcessing: 0,
  ackDelay: 0,
  minLsInterval: 5000,
  minLsArrival: 1000,
  spfBase: 2,
  spfPerRouter: 0,
  installBase: 3,
  installPerPrefix: 0,
};

function runsOf(c: Campus, happenings: readonly Happening[], watch: readonly [string, string][] = [], runs = 1, profile = exact): Convergence {
  const pairs = watch.map(([from, to]) => ({ from: ip(from), to: ip(to) }));
  return converge(simulationsOf(c.read().design, happenings, [4]), { profile, seed: 3, runs, watch: pairs });
}

const spans = (c: Convergence, n = 0): string[] =>
  (c.flows[n]?.spans ?? []).map((s) => `${s.fate} ${s.fromMs}-${s.toMs}${s.at.length > 0 ? ` ${s.at.join()}` : ''}`);

/** Five routers in a ring, their calculations after delays of their own. */
function ring(delays: readonly number[]): Campus {
  const c = campus();
  delays.forEach((delay, n) => c.router(`cove-${n + 1}`, `10.96.0.${n + 1}`, 0, { 'spf-schedule': { 'fixed-delay': delay } }));
  delays.forEach((_, n) => c.cable(`cove-${n + 1}`, `cove-${((n + 1) % delays.length) + 1}`, `10.96.1.${2 * n}`, 0, 10));
  return c;
}
const cut = fail('link:cove-1/to-cove-2');

/*
 * By hand. cove-1 sent to cove-2 over the cable that is cut; its other way leads round by cove-5, cove-4, cove-3. cove-5 sent to
 * cove-2 by cove-1 (20, the other way 30). So once cove-1 has its new table and as long as cove-5 has its old one, packets for
 * cove-2 go round between the two; the same between cove-2 and cove-3 for cove-1. For all others the neighbour's old way is right.
 * Carrier at 10, calculation 100 after that takes 2, installing 3: cove-1 at 115. cove-5 hears at 11, and with 300: 316.
 */
test('a micro-loop on a ring: the end of the cut sends back what its neighbour still sends to it', () => {
  const c = runsOf(ring([100, 100, 300, 100, 300]), [cut], [['10.96.0.1', '10.96.0.2']]);
  const told = c.loops.map((l) => `${formatAddress(l.from)}>${formatAddress(l.to)} ${l.routers.join()} ${l.fromMs}-${l.toMs}`);
  expect(told.sort()).toEqual([
    '10.96.0.1>10.96.0.2 cove-1,cove-5 115-316',
    '10.96.0.2>10.96.0.1 cove-2,cove-3 115-316',
    '10.96.0.3>10.96.0.1 cove-2,cove-3 115-316',
    '10.96.0.5>10.96.0.2 cove-1,cove-5 115-316',
  ]);
  expect(spans(c)).toEqual(['carried 0-0', 'dropped 0-115 cove-1', 'looping 115-316 cove-1,cove-5', 'carried 316-316'].slice(1));
  expect(c.flows[0]?.spans.at(-1)?.path).toEqual(['cove-1', 'cove-5', 'cove-4', 'cove-3', 'cove-2']);
});

test('a leader that fails is the router that leads; one that returns is the one that failed', () => {
  const lan = (): Campus =>
    campus()
      .router('cove-1', '10.96.0.1', 0)
      .router('cove-2', '10.96.0.2', 0)
      .router('cove-3', '10.96.0.3', 0)
      .lan('reef', '10.97.1.0/24', 0, ['cove-1', 'cove-2', 'cove-3']);
  const of = (happenings: readonly Happening[]): unknown => {
    const { events, lastChange } = runsOf(lan(), happenings);
    return { lastChange, events: events.map((e) => `${e.ms} ${e.router} ${e.kind}`) };
  };
  expect(of([fail('leader:cove-1/reef')])).toEqual(of([fail('router:cove-3')]));
  const both = [fail('leader:cove-1/reef'), fail('leader:cove-1/reef', 60_000), back('leader:cove-1/reef', 120_000)];
  expect(of(both)).toEqual(of([fail('router:cove-3'), fail('router:cove-2', 60_000), back('router:cove-2', 120_000)]));
  expect(simulationsOf(ring([1, 1, 1]).read().design, [fail('leader:cove-1/to-cove-2')], [4])[0]?.problems).toEqual([
    'Nobody leads the segment of cove-1/to-cove-2: it has no designated router.',
  ]);
});

test('with delays that let the far routers go first there is none, and packets are lost no longer', () => {
  const c = runsOf(ring([300, 300, 100, 100, 100]), [cut], [['10.96.0.1', '10.96.0.2']]);
  expect(c.loops).toEqual([]);
  expect(spans(c)).toEqual(['dropped 0-315 cove-1', 'carried 315-315']);
});

/** Two routers and a third behind, that calculate at once. */
function three(hello: number, more: Record<string, unknown> = {}): Campus {
  const c = campus();
  for (const n of [1, 2, 3]) c.router(`reef-${n}`, `10.96.0.${n}`, 0, { 'spf-schedule': { 'fixed-delay': 0 } });
  return c
    .cable('reef-1', 'reef-2', '10.96.1.0', 0, 10, { 'hello-interval': hello, 'dead-interval': 4 * hello, ...more })
    .cable('reef-2', 'reef-3', '10.96.1.2', 0, 10);
}
const times = (c: Convergence, router: string): (number | undefined)[] => {
  const r = c.routers.find((x) => x.router === router);
  return [r?.detected?.typical, r?.learned?.typical, r?.firstChange?.typical, r?.lastChange?.typical];
};

/*
 * By hand. Both ports are seen up at 10: each says its prefix at once (first change by it at 10 + 3), and a hello, which is there at
 * 11: Init. With the hellos of 1010, there at 1011, both are 2-Way; three exchanges there and back at 1 ms each way, 1017; what is
 * missing comes at 1018: full. The links were said at 10, so MinLSInterval holds the next ones back to 5010. reef-3 has those of
 * reef-2 at 5011 and calculates with them, in vain, until 5013; then with those of reef-1, there at 5012: 5015, installed at 5018.
 */
test('a cable that returns waits for hellos, the exchange and MinLSInterval', () => {
  const c = runsOf(three(1), [back('link:reef-1/to-reef-2')], [['10.96.0.3', '10.96.0.1']]);
  expect(c.events.filter((e) => e.kind === 'neighbour' && e.router === 'reef-1').map((e) => `${e.ms} ${e.detail}`)).toEqual([
    '11 reef-2 at to-reef-2: init',
    '1011 reef-2 at to-reef-2: 2-way',
    '1011 reef-2 at to-reef-2: exchange',
    '1018 reef-2 at to-reef-2: full',
  ]);
  expect(times(c, 'reef-3')[3]).toBe(5018);
  expect(c.slowest).toMatch(/^3\.99 s of 5\.02 s is MinLSInterval on reef-[12]$/);
  // With hellos each ten seconds they are what is waited for. The links are free to be said anew then, at 10,018; but those that
  // the exchange brought are not a second old: MinLSArrival, and again after RxmtInterval: at reef-2 at 15,019, at reef-3 at 15,020.
  const slow = runsOf(three(10), [back('link:reef-1/to-reef-2')]);
  expect(times(slow, 'reef-3')[3]).toBe(15_025);
  expect(slow.slowest).toMatch(/is waiting for hellos of reef-[12], to-reef-[12]$/);
});

test('a cut that no carrier tells is told by the dead interval, or by BFD in its multiplier of intervals', () => {
  const unseen = (c: Campus): Campus => c.links(['reef-1/to-reef-2 reef-2/to-reef-1'], { 'carrier-loss-seen': false });
  const c = runsOf(unseen(three(10)), [fail('link:reef-1/to-reef-2')], [['10.96.0.3', '10.96.0.1']], 60);
  const [detected] = times(c, 'reef-1');
  expect(detected).toBeGreaterThan(30_000);
  expect(c.lastChange?.earliest).toBeGreaterThan(30_000);
  expect(c.lastChange?.latest).toBeLessThan(40_020);
  // Two ends with phases of their own, each of which loses what is behind the other: the later one counts.
  expect(c.lastChange?.typical).toBeGreaterThan(35_000);
  expect(c.slowest).toMatch(/ is the dead interval on reef-[12], to-reef-[12]$/);
  const bfd = { bfd: { enabled: true, 'min-interval': 100_000, 'local-multiplier': 3 } };
  const quick = runsOf(unseen(three(10, bfd)), [fail('link:reef-1/to-reef-2')], [], 60);
  expect(quick.lastChange?.earliest).toBeGreaterThan(200);
  expect(quick.lastChange?.latest).toBeLessThan(320);
  expect(quick.slowest).toMatch(/ is BFD on reef-[12], to-reef-[12]$/);
});

/*
 * gull-9 leads the LAN by its priority, gull-2 is backup by its id. gull-9 loses its port there and keeps its cable to gull-1: it
 * withdraws the network at once (10), gull-1 hears at 11 and calculates 50 later: its way to gull-2, over a LAN on which both still
 * are, is gone, until the dead interval tells gull-2 that it leads now.
 */
test('a leader that loses its port on a LAN while another link of it lives takes the LAN from the others until a new one speaks', () => {
  const c = campus();
  for (const [name, id] of [
    ['gull-1', 1],
    ['gull-2', 2],
    ['gull-9', 9],
  ] as const)
    c.router(name, `10.96.0.${id}`, 0);
  c.lan('pier', '10.97.0.0/24', 0, ['gull-1', 'gull-2'], {}).port('gull-9', 'pier', '10.97.0.9/24', 0, { priority: 200 });
  c.cable('gull-1', 'gull-9', '10.96.1.0', 0, 10);
  const dead = runsOf(c, [fail('interface:gull-9/pier')], [['10.96.0.1', '10.96.0.2']], 1);
  const fates = dead.flows[0]?.spans ?? [];
  expect(fates.map((s) => s.fate)).toEqual(['carried', 'dropped', 'carried']);
  expect(fates[1]).toMatchObject({ fromMs: 66, at: ['gull-1'] });
  expect(fates[1]?.why).toContain('gull-1 has no route');
  expect(fates[1]?.toMs).toBeGreaterThan(30_000);
  expect(fates[1]?.toMs).toBeLessThan(50_000);
  expect(dead.events.filter((e) => e.kind === 'withdraws').map((e) => `${e.ms} ${e.router} ${e.detail}`)).toContain(
    '10 gull-9 network 10.97.0.9/24, area 0.0.0.0',
  );
  expect(dead.events.filter((e) => e.kind === 'leader' && e.router === 'gull-2').at(-1)?.detail).toBe('at pier: gull-2 leads, gull-1 is backup');
});

test('a router that is switched on again says what it said with higher numbers, and all is as before', () => {
  const c = runsOf(ring([50, 50, 50, 50, 50]), [fail('router:cove-1'), back('router:cove-1', 60_000)], [['10.96.0.3', '10.96.0.1']]);
  expect([...new Set(c.flows[0]?.spans.map((s) => s.fate))]).toEqual(['dropped', 'carried']);
  expect(c.flows[0]?.spans.at(-1)?.path).toEqual(['cove-3', 'cove-2', 'cove-1']);
  expect(c.events.some((e) => e.kind === 'returns' && e.ms === 60_000)).toBe(true);
});

test('the same seed gives the same runs, another one others; what returns without having failed was down', () => {
  const c = three(10);
  const happenings = [fail('router:reef-3')];
  const [a, b, other] = [3, 3, 4].map((seed) => converge(simulationsOf(c.read().design, happenings, [4]), { profile: plainProfile, seed, runs: 20 }));
  expect(a).toEqual(b);
  expect(other?.lastChanges).not.toEqual(a?.lastChanges);
  const [link, router] = [spec('link:reef-1/to-reef-2'), spec('router:reef-3')];
  expect(
    downBefore([
      { ms: 5, kind: 'restore', spec: link },
      { ms: 0, kind: 'fail', spec: router },
      { ms: 9, kind: 'restore', spec: router },
      { ms: 20, kind: 'restore', spec: router },
    ]),
  ).toEqual([link, router]);
});

test('a time that most runs do not have is none; of an even number the lower one in the middle counts', () => {
  expect(spreadOf([4, 1, 3, 2])).toEqual({ earliest: 1, typical: 2, latest: 4 });
  expect(spreadOf([undefined, undefined, 7])).toBeUndefined();
  expect(spreadOf([undefined, 7])).toEqual({ earliest: 7, typical: 7, latest: 7 });
});

test('routers with one id are refused in words: nothing would come to rest', () => {
  const c = campus().router('reef-1', '10.96.0.1', 0).router('reef-2', '10.96.0.1', 0).cable('reef-1', 'reef-2', '10.96.1.0', 0, 10);
  expect(simulationsOf(c.read().design, [], [4])[0]?.refusal).toContain('reef-1 and reef-2 have one router id, 10.96.0.1');
});

test('a router that runs no OSPF forwards by its static routes, and packets through it are no loss', () => {
  const c = three(10)
    .router('hut', '10.96.0.9')
    .port('hut', 'up', '10.97.9.2/24', null)
    .port('hut', 'nets', '10.97.8.1/24', null)
    .static('hut', '0.0.0.0/0', '10.97.9.1')
    .port('reef-1', 'hut', '10.97.9.1/24', 0, { passive: true })
    .static('reef-1', '10.97.8.0/24', '10.97.9.2')
    .ospf('reef-1', { redistribution: [{ source: 'static' }] });
  const run = runsOf(
    c,
    [fail('interface:reef-2/to-reef-3')],
    [
      ['10.97.8.1', '10.96.0.2'],
      ['10.96.0.2', '10.97.8.1'],
    ],
  );
  expect(run.flows.map((f) => f.spans.map((s) => [s.fate, s.path.join()]))).toEqual([
    [['carried', 'hut,reef-1,reef-2']],
    [['carried', 'reef-2,reef-1,hut']],
  ]);
});

/*
 * By hand: reef-3 has a default to the outside and hears of reef-1 through reef-2 alone. Once the cable between the two others is cut and
 * it has calculated, packets for reef-1 follow its default out of the design: they are lost there, and stay lost.
 */
test('packets for an inside address that a default carries outside are lost, not carried', () => {
  const c = campus()
    .router('reef-1', '10.96.0.1', 0)
    .router('reef-2', '10.96.0.2', 0)
    .router('reef-3', '10.96.0.3', 0)
    .cable('reef-1', 'reef-2', '10.96.1.0', 0, 10)
    .cable('reef-2', 'reef-3', '10.96.1.2', 0, 10)
    .port('reef-3', 'exit', '192.0.2.2/30', null)
    .static('reef-3', '0.0.0.0/0', '192.0.2.1');
  const run = runsOf(
    c,
    [fail('link:reef-1/to-reef-2')],
    [
      ['10.96.0.3', '10.96.0.1'],
      ['10.96.0.3', '198.51.100.7'],
    ],
  );
  expect(run.flows[0]?.spans.map((s) => s.fate)).toEqual(['dropped', 'dropped']);
  expect(run.flows[0]?.spans[1]).toMatchObject({ at: ['reef-3'], why: 'reef-3 sends it out of the design by exit, where nobody has 10.96.0.1' });
  expect(run.healed[0]).toEqual([undefined]);
  expect(run.flows[1]?.spans.map((s) => s.fate)).toEqual(['carried']);
});
