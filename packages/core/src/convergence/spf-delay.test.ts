import fc from 'fast-check';
import { BackOff, spfDelay } from './spf-delay';

const rfc = { kind: 'back-off', initial: 50, short: 200, long: 5000, holdDown: 10_000, timeToLearn: 500 } as const;

test('RFC 8405 §5: the first change waits the initial delay, those while one learns the short, later ones the long', () => {
  const s = new BackOff(rfc);
  expect(s.state(0)).toBe('quiet');
  expect(s.changed(0)).toBe(50);
  expect(s.state(1)).toBe('short-wait');
  // The calculation is due already.
  expect(s.changed(20)).toBeUndefined();
  s.begins();
  expect(s.changed(60)).toBe(260);
  s.begins();
  // TIME_TO_LEARN_INTERVAL counts from the change that ended the quiet: what came since does not begin it anew.
  expect(s.state(499)).toBe('short-wait');
  expect(s.state(500)).toBe('long-wait');
  expect(s.changed(510)).toBe(5510);
  s.begins();
  // HOLDDOWN_INTERVAL counts from the last change.
  expect(s.state(10_509)).toBe('long-wait');
  expect(s.state(10_510)).toBe('quiet');
  expect(s.changed(10_510)).toBe(10_560);
});

/**
 * The state machine of RFC 8405 §5 with its timers as timers: each event and each expiry does what its paragraph says.
 */
function byTheText(changes: readonly number[], t: typeof rfc): number[] {
  let state: 'quiet' | 'short' | 'long' = 'quiet';
  let learn = Infinity;
  let hold = Infinity;
  let spf = Infinity;
  const runs: number[] = [];
  const pass = (until: number): void => {
    for (;;) {
      const next = Math.min(learn, hold, spf);
      if (next > until) return;
      // An expiry of the moment comes before a change of the moment.
      if (hold === next) {
        state = 'quiet';
        hold = Infinity;
        learn = Infinity;
      } else if (learn === next) {
        state = 'long';
        learn = Infinity;
      } else {
        runs.push(next);
        spf = Infinity;
      }
    }
  };
  for (const now of changes) {
    pass(now);
    if ((state as string) === 'quiet') {
      if (spf === Infinity) spf = now + t.initial;
      learn = now + t.timeToLearn;
      state = 'short';
    } else if (spf === Infinity) spf = now + (state === 'short' ? t.short : t.long);
    hold = now + t.holdDown;
  }
  pass(Number.MAX_VALUE);
  return runs;
}

test('it calculates when the state machine of the text does, whatever comes', () => {
  const times = fc.array(fc.integer({ min: 0, max: 3000 }), { minLength: 1, maxLength: 40 });
  const timers = fc.record({
    kind: fc.constant('back-off' as const),
    initial: fc.integer({ min: 0, max: 60 }),
    short: fc.integer({ min: 60, max: 300 }),
    long: fc.integer({ min: 300, max: 2000 }),
    holdDown: fc.integer({ min: 1000, max: 4000 }),
    timeToLearn: fc.integer({ min: 100, max: 900 }),
  });
  fc.assert(
    fc.property(times, timers, (gaps, t) => {
      let now = 0;
      const changes = gaps.map((g) => (now += g));
      const s = new BackOff(t);
      const runs: number[] = [];
      let due: number | undefined;
      for (const c of changes) {
        if (due !== undefined && due <= c) {
          runs.push(due);
          s.begins();
          due = undefined;
        }
        due = s.changed(c) ?? due;
      }
      if (due !== undefined) runs.push(due);
      expect(runs).toEqual(byTheText(changes, t as typeof rfc));
    }),
    { seed: 8405, numRuns: 500 },
  );
});

test('a first delay, then a hold that doubles while changes come within it, up to its maximum; after a rest it begins anew', () => {
  const s = spfDelay({ kind: 'doubling', first: 10, hold: 50, maximum: 150 });
  expect(s.changed(0)).toBe(10);
  s.begins(10);
  expect(s.changed(20)).toBe(60);
  expect(s.changed(30)).toBeUndefined();
  s.begins(60);
  expect(s.changed(61)).toBe(160);
  s.begins(160);
  expect(s.changed(161)).toBe(310);
  s.begins(310);
  expect(s.changed(311)).toBe(460);
  s.begins(460);
  expect(s.changed(1000)).toBe(1010);
  s.begins(1010);
  expect(s.changed(1020)).toBe(1060);
});

test('a fixed delay is the same for each', () => {
  const s = spfDelay({ kind: 'fixed', delay: 30 });
  expect([s.changed(0), s.changed(1)]).toEqual([30, undefined]);
  s.begins(30);
  expect(s.changed(31)).toBe(61);
});
