import { campus } from '../testing/campus';
import { converge, simulationsOf } from './converge';
import { timingEach, type TimedFailure } from './timed';
import { plainProfile } from './timing-profile';

const settings = { profile: plainProfile, seed: 5, runs: 12 };

function timed(c: ReturnType<typeof campus>): TimedFailure[] {
  const steps = timingEach(c.read().design, settings, [4]);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

const network = campus()
  .router('reef-1', '10.96.0.1', 0)
  .router('reef-2', '10.96.0.2', 0)
  .router('reef-3', '10.96.0.3', 0)
  .cable('reef-1', 'reef-2', '10.96.1.0', 0)
  .lan('quay', '10.97.0.0/24', 0, ['reef-1', 'reef-2', 'reef-3']);

test('every single failure is timed as it would be alone, the slowest first', () => {
  const all = timed(network);
  expect(all.map((t) => t.word).sort()).toEqual([
    'link:reef-1/quay',
    'link:reef-1/to-reef-2',
    'link:reef-2/quay',
    'link:reef-3/quay',
    'router:reef-1',
    'router:reef-2',
    'router:reef-3',
  ]);
  for (const t of all) {
    const alone = converge(simulationsOf(network.read().design, [{ ms: 0, kind: 'fail', spec: t.failure }], [4]), settings);
    expect([t.word, t.lastChange, t.slowest]).toEqual([t.word, alone.lastChange, alone.slowest]);
  }
  const latest = all.map((t) => t.lastChange?.latest ?? -1);
  expect(latest).toEqual([...latest].sort((a, b) => b - a));
  // Behind a switch nobody sees the carrier of another: reef-3 is gone after its dead interval. The cable tells its ends at once.
  expect(all.find((t) => t.word === 'router:reef-3')?.lastChange?.typical).toBeGreaterThan(30_000);
  expect(all.at(-1)?.word).toBe('link:reef-1/to-reef-2');
  expect(all.at(-1)?.lastChange?.latest).toBeLessThan(100);
});

test('whoever waits sees how far it is, and what came last', () => {
  const steps = [...timingEach(network.read().design, { ...settings, runs: 2 }, [4])];
  expect(steps.at(-1)).toMatchObject({ done: 7, of: 7 });
  expect(steps.filter((s) => s.latest)).toHaveLength(7);
  expect(steps.length).toBe(7 * 3);
});
