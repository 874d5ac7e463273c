import fc from 'fast-check';
import { applyEdits } from '../design/edit';
import type { Design } from '../design/design';
import type { SourceDocument } from '../documents/documents';
import { readLines } from '../entry/lines';
import { parseFailure, type FailureSpec } from '../failures/outage';
import { designFrom } from '../formats/read-set';
import { campus, campus6, type Campus } from '../testing/campus';
import { converge, simulationsOf } from './converge';
import { Ground } from './ground';
import { Run, type Happening } from './simulate';
import { plainProfile } from './timing-profile';
import { endsAround, followingOf, followings, groundsOf, tuningLines, watchOf, wouldPart, type Intervals, type Tuning } from './tuning';

const spec = (word: string): FailureSpec => {
  const f = parseFailure(word);
  if (typeof f === 'string') throw new Error(f);
  return f;
};

const network = (): Campus =>
  campus()
    .router('reef-1', '10.96.0.1', 0)
    .router('reef-2', '10.96.0.2', 0)
    .router('reef-3', '10.96.0.3', 0)
    .cable('reef-1', 'reef-2', '10.96.1.0', 0)
    .lan('quay', '10.97.0.0/24', 0, ['reef-1', 'reef-2', 'reef-3']);

function edited(documents: readonly SourceDocument[], lines: readonly string[]): { design: Design; documents: readonly SourceDocument[] } {
  const { edits, faults } = readLines(lines, documents);
  expect(faults).toEqual([]);
  const next = applyEdits(documents, edits);
  return { design: designFrom(next).design, documents: next };
}

const tuned = (c: Campus, t: Tuning): Design => edited(c.documents(), tuningLines(t, groundsOf(c.read().design))).design;

describe('a tuning as lines', () => {
  const ends = [
    { router: 'reef-1', iface: 'to-reef-2' },
    { router: 'reef-2', iface: 'to-reef-1' },
  ];

  test('each leaf on the ends concerned, calculations on all', () => {
    const t: Tuning = { ends, hello: 1, dead: 4, bfd: { interval: 50, multiplier: 3 }, spf: { kind: 'fixed', delay: 20 } };
    expect(tuningLines(t, groundsOf(network().read().design))).toEqual([
      'set hello 1 on reef-1/to-reef-2 reef-2/to-reef-1',
      'set dead 4 on reef-1/to-reef-2 reef-2/to-reef-1',
      'set bfd yes on reef-1/to-reef-2 reef-2/to-reef-1',
      'set bfd-interval 50 on reef-1/to-reef-2 reef-2/to-reef-1',
      'set bfd-multiplier 3 on reef-1/to-reef-2 reef-2/to-reef-1',
      'set spf-fixed-delay 20 on all',
    ]);
    const design = tuned(network(), t);
    const [port] = design.routers[0]?.instances[0]?.areas[0]?.interfaces.filter((i) => i.name === 'to-reef-2') ?? [];
    expect(port).toMatchObject({ hello: 1, dead: 4, bfd: true, bfdTimers: { multiplier: 3, send: 50_000, receive: 50_000 } });
    expect(design.routers.map((r) => r.instances[0]?.spfSchedule)).toEqual(Array(3).fill({ kind: 'fixed', delay: 20 }));
  });

  test('what would hold before a new value goes with it', () => {
    const c = network();
    const first = edited(c.documents(), ['set spf-fixed-delay 20 on all', 'set spf-initial-delay 10 on reef-1', 'set spf-first-delay 5 on reef-2']);
    expect(first.design.routers.map((r) => r.instances[0]?.spfSchedule)).toMatchObject([
      { kind: 'back-off', initial: 10 },
      { kind: 'doubling', first: 5 },
      { kind: 'fixed', delay: 20 },
    ]);
  });

  test('whether a cut is seen at both ends is written on the cable, named by the topology or not', () => {
    const c = network();
    const unseen = edited(c.documents(), ['set carrier-seen no on reef-1/to-reef-2']);
    expect(unseen.design.topology.links).toMatchObject([
      { from: { node: 'reef-1', point: 'to-reef-2' }, to: { node: 'reef-2', point: 'to-reef-1' }, carrierLossSeen: false },
    ]);
    const seen = edited(unseen.documents, ['set carrier-seen yes on all']);
    expect(seen.design.topology.links).toMatchObject([{ carrierLossSeen: true }]);
    expect(readLines(['set carrier-seen no on reef-3/quay'], c.documents()).faults[0]?.message).toContain('names no cable');
  });

  test('both versions of the protocol are tuned', () => {
    const design = campus6()
      .router('tern-1', '10.96.0.1', 0)
      .router('tern-2', '10.96.0.2', 0)
      .cable('tern-1', 'tern-2', '2001:db8:0:1::', 0)
      .read().design;
    expect(tuningLines({ ends: undefined, hello: 2 }, groundsOf(design))).toEqual(['v3 set hello 2 on all']);
    // Interfaces that speak one version alone are named in that one's lines.
    const ends = [
      { router: 'tern-1', iface: 'to-tern-2' },
      { router: 'tern-2', iface: 'nowhere' },
    ];
    expect(tuningLines({ ends, hello: 2 }, groundsOf(design))).toEqual(['v3 set hello 2 on tern-1/to-tern-2']);
  });

  test('around a failure: all on the wires that it touches', () => {
    const g = new Ground(network().read().design, 4);
    const at = (word: string): string[] => endsAround(g, [spec(word)]).map((e) => `${e.router}/${e.iface}`);
    expect(at('link:reef-1/to-reef-2')).toEqual(['reef-1/to-reef-2', 'reef-2/to-reef-1']);
    expect(at('link:reef-3/quay')).toEqual(['reef-1/quay', 'reef-2/quay', 'reef-3/quay']);
    expect(at('router:reef-2').sort()).toEqual(['reef-1/quay', 'reef-1/to-reef-2', 'reef-2/quay', 'reef-2/to-reef-1', 'reef-3/quay']);
  });
});

test('neighbours whose hellos would not match any more are named', () => {
  const c = network();
  const before = new Ground(c.read().design, 4);
  const after = (t: Tuning): Ground => new Ground(tuned(c, t), 4);
  const one = after({ ends: [{ router: 'reef-1', iface: 'quay' }], hello: 1, dead: 4 });
  expect(wouldPart(before, one).map((p) => `${p.a} ${p.b} ${p.why}`)).toEqual([
    'reef-1/quay reef-2/quay hello interval 1 s here, 10 s there',
    'reef-1/quay reef-3/quay hello interval 1 s here, 10 s there',
  ]);
  expect(wouldPart(before, after({ ends: undefined, hello: 1, dead: 4 }))).toEqual([]);
  // Who parted before is nobody's fault now.
  expect(wouldPart(one, one)).toEqual([]);
});

/*
 * By hand: five interfaces say hello every 10 s: 0.5 a second. BFD each 50 ms on both ends of the cable: 40 more. Of packets every
 * hundredth is lost: a pair is lost by four hellos in a row, 8640 × 0.01^4 × 0.99 a day; eight directions (two on the cable, six on
 * the LAN). BFD: 1,728,000 × 0.01^3 × 0.99, two directions.
 */
test('the price in packets and the risk of a false alarm, counted by hand', () => {
  const c = network();
  const plain = watchOf(groundsOf(c.read().design), 0.01);
  expect(plain.packets).toBeCloseTo(0.5, 10);
  expect(plain.onBusiest).toBeCloseTo(0.3, 10);
  expect(plain.falseAlarms).toBeCloseTo(8 * 8640 * 1e-8 * 0.99, 12);
  expect(plain.patience).toBe(30_000);
  // Hellos at 4, 8, 12 and 16 s: four are due within 18 s, the fifth would be too late.
  const uneven = watchOf(groundsOf(tuned(c, { ends: undefined, hello: 4, dead: 18 })), 0.01);
  expect(uneven.falseAlarms).toBeCloseTo(8 * 21_600 * 1e-8 * 0.99, 12);
  expect(uneven.patience).toBe(12_000);
  const ends = endsAround(new Ground(c.read().design, 4), [spec('link:reef-1/to-reef-2')]);
  const fast = watchOf(groundsOf(tuned(c, { ends, bfd: { interval: 50, multiplier: 3 } })), 0.01);
  expect(fast.packets).toBeCloseTo(40.5, 10);
  expect(fast.falseAlarms).toBeCloseTo(8 * 8640 * 1e-8 * 0.99 + 2 * 1_728_000 * 1e-6 * 0.99, 9);
  expect([fast.patience, fast.patienceAt]).toEqual([100, 'reef-1/to-reef-2']);
});

describe('the order of a change of intervals, and the time in which the other ends must follow', () => {
  const steps = (from: Intervals, to: Intervals): string[] =>
    followingOf(from, to).steps.map((s) => `${s.to.hello}/${s.to.dead} within ${s.withinS}`);

  test('by hand', () => {
    expect(steps({ hello: 10, dead: 40 }, { hello: 1, dead: 4 })).toEqual(['1/40 within 20', '1/4 within 2']);
    expect(steps({ hello: 1, dead: 4 }, { hello: 10, dead: 40 })).toEqual(['1/40 within 2', '10/40 within 29']);
    expect(steps({ hello: 10, dead: 40 }, { hello: 5, dead: 40 })).toEqual(['5/40 within 20']);
    expect(followingOf({ hello: 1, dead: 2 }, { hello: 1, dead: 4 }).withinS).toBe(0);
  });

  const pairOf = ({ hello, dead }: Intervals): Campus =>
    campus()
      .router('cove-1', '10.96.0.1', 0)
      .router('cove-2', '10.96.0.2', 0)
      .cable('cove-1', 'cove-2', '10.96.1.0', 0, 10, { 'hello-interval': hello, 'dead-interval': dead });

  /** Changes one end, and the other one later, in a simulated run. @returns  how often a neighbour is given up */
  function dropsOf(from: Intervals, to: Intervals, afterMs: number, seed: number): number {
    const documents = pairOf(from).documents();
    const lines = (router: string): string[] => [`set hello ${to.hello} on ${router}`, `set dead ${to.dead} on ${router}`];
    const half = edited(documents, lines('cove-1'));
    const whole = edited(half.documents, lines('cove-2'));
    const happenings: Happening[] = [
      { ms: 0, kind: 'edit', design: half.design, words: 'one end' },
      { ms: afterMs, kind: 'edit', design: whole.design, words: 'the other' },
    ];
    const run = new Run(new Ground(designFrom(documents).design, 4), plainProfile, seed, happenings);
    run.state.events = [];
    run.toEnd();
    return run.events.filter((e) => e.kind === 'neighbour' && e.detail.endsWith(': down')).length;
  }

  const some = fc
    .record({ hello: fc.integer({ min: 1, max: 10 }), times: fc.integer({ min: 2, max: 6 }) })
    .map(({ hello, times }) => ({ hello, dead: hello * times }));

  test('in simulated runs nobody is lost within that time, and somebody is when the other end never seems to come', () => {
    fc.assert(
      fc.property(some, some, fc.integer({ min: 1, max: 1000 }), fc.double({ min: 0, max: 1, noNaN: true }), (from, to, seed, share) => {
        fc.pre(from.hello !== to.hello || from.dead !== to.dead);
        let now = from;
        for (const step of followingOf(from, to).steps) {
          if (step.withinS <= 0) return;
          expect(dropsOf(now, step.to, step.withinS * 1000 * share * 0.999, seed)).toBe(0);
          expect(dropsOf(now, step.to, Math.max(now.dead, step.to.dead) * 1000 + 1, seed)).toBeGreaterThan(0);
          now = step.to;
        }
      }),
      { numRuns: Number(process.env['RUNS'] ?? 60), seed: 11 },
    );
  });

  test('every wire is told by its old and its new intervals', () => {
    const c = network();
    const after = tuned(c, { ends: undefined, hello: 1, dead: 4 });
    const told = followings(new Ground(c.read().design, 4), new Ground(after, 4));
    expect(told.map((t) => [t.from, t.to, t.places.length, t.following.withinS])).toEqual([[{ hello: 10, dead: 40 }, { hello: 1, dead: 4 }, 5, 2]]);
  });
});

test('old against new: BFD and a short delay bring a cut that nobody sees from seconds to under 200 ms', () => {
  const c = network();
  const documents = edited(c.documents(), ['set carrier-seen no on reef-1/to-reef-2']).documents;
  const { design } = designFrom(documents);
  const happenings: Happening[] = [{ ms: 0, kind: 'fail', spec: spec('link:reef-1/to-reef-2') }];
  const timed = (d: Design): number =>
    converge(simulationsOf(d, happenings), { profile: plainProfile, seed: 1, runs: 20, whole: false }).lastChange?.latest ?? -1;
  expect(timed(design)).toBeGreaterThan(25_000);
  const ends = endsAround(new Ground(design, 4), [spec('link:reef-1/to-reef-2')]);
  const t: Tuning = { ends, bfd: { interval: 50, multiplier: 3 }, spf: { kind: 'fixed', delay: 10 } };
  const after = edited(documents, tuningLines(t, groundsOf(design))).design;
  expect(timed(after)).toBeLessThan(200);
  expect(timed(after)).toBeGreaterThan(60);
});
