import type { Expectation } from '../design/settings';
import { judge, type ExpectationResult } from '../reach/expectations';
import { Forwarding } from '../reach/forwarding';
import { parseIpv4 } from '../prefix/ipv4';
import { campus, type Campus } from '../testing/campus';
import { healingBy } from './within';

const ip = (text: string): number => parseIpv4(text) ?? 0;

/** A triangle; without carrier only hellos tell of a cut. */
function triangle(seen: boolean, more: Record<string, unknown> = {}): Campus {
  const c = campus();
  for (const n of [1, 2, 3]) c.router(`reef-${n}`, `10.96.0.${n}`, 0);
  return c
    .cable('reef-1', 'reef-2', '10.96.1.0', 0, 10, more)
    .cable('reef-2', 'reef-3', '10.96.1.2', 0, 10, more)
    .cable('reef-1', 'reef-3', '10.96.1.4', 0, 10, more)
    .links(['reef-1/to-reef-2 reef-2/to-reef-1', 'reef-2/to-reef-3 reef-3/to-reef-2', 'reef-1/to-reef-3 reef-3/to-reef-1'], {
      'carrier-loss-seen': seen,
    });
}

function judged(c: Campus, e: Partial<Expectation> & { withinMs: number }): ExpectationResult | undefined {
  const base = { name: 'back in time', file: '', at: [], under: 'any-link' as const };
  const reach = { ...base, kind: 'reach' as const, from: ip('10.96.0.1'), to: ip('10.96.0.2'), bothWays: true, leavesBy: undefined };
  return judge(new Forwarding(c.predict()), [{ ...reach, ...e } as Expectation], { healing: healingBy() })[0];
}

test('a time holds when the latest of the runs is no later, and what takes longest is told', () => {
  // Carrier, 50 ms of SPF delay, and little else: never more than 75 ms.
  expect(judged(triangle(true), { withinMs: 75 })).toMatchObject({ holds: true, tried: 3 });
  const late = judged(triangle(true), { withinMs: 40 });
  expect(late).toMatchObject({ holds: false, 'broken-by': ['link:reef-1/to-reef-2'], breach: { kind: 'too-slow' } });
  expect(late?.message).toMatch(
    /10\.96\.0\.[12] to 10\.96\.0\.[12]: packets are back after \d\d ms at the latest, not within 40 ms \(50 ms of \d\d ms is the SPF delay of reef-\d\)/,
  );
});

test('where no carrier tells, the dead interval counts, by the latest of the runs and not by the usual one', () => {
  // The end that notices first tells the other: of two ages between 0 and 10 s the larger one counts, in one of thirty runs 3 s and less.
  expect(judged(triangle(false), { withinMs: 35_000 })).toMatchObject({ holds: false });
  expect(judged(triangle(false), { withinMs: 40_200 })).toMatchObject({ holds: true });
  const bfd = { bfd: { enabled: true, 'min-interval': 50_000 } };
  expect(judged(triangle(false, bfd), { withinMs: 300 })).toMatchObject({ holds: true });
});

test('sessions are timed too, both ways, and under one named failure', () => {
  const session = { kind: 'session' as const, from: 'reef-1', to: 'reef-2', under: 'link:reef-1/to-reef-2' as const };
  expect(judged(triangle(true), { ...session, withinMs: 75 })).toMatchObject({ holds: true, tried: 1 });
  expect(judged(triangle(true), { ...session, withinMs: 20 })).toMatchObject({ holds: false });
});
