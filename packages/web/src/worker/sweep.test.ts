import { usualKinds } from '@gentle-compass/core/sweep/cases';
import type { CaseView } from '../model/sweep-view';
import { Workbench } from './workbench';

/** A made-up campus that is open on a workbench which listens after every case. */
function opened(): Workbench {
  const bench = new Workbench(0);
  const made = bench.files.generate({ routers: 24, areas: 2, seed: 3 });
  if (typeof made === 'string') throw new Error(made);
  bench.editing.open(made);
  return bench;
}

const key = (c: CaseView): string => JSON.stringify(c);

test('a sweep that is stopped goes on where it was, and finds what one finds that is not', async () => {
  const wish = { kinds: usualKinds, pairs: false };
  const whole: CaseView[] = [];
  let all = 0;
  const end = await opened().sweep.run(wish, false, (_, n, found) => {
    all = n;
    whole.push(...found);
  });
  expect([end, whole.length]).toEqual(['done', all]);
  expect(all).toBeGreaterThan(40);

  const bench = opened();
  expect(bench.sweep.count(wish)).toBe(all);
  const parts: CaseView[] = [];
  const take = (_: number, n: number, found: readonly CaseView[]): void => {
    expect(n).toBe(all);
    parts.push(...found);
  };
  const first = bench.sweep.run(wish, false, take);
  setTimeout(() => bench.sweep.stop(), 20);
  expect(await first).toBe('stopped');
  expect(parts.length).toBeLessThan(all);
  expect(await bench.sweep.run(wish, true, take)).toBe('done');
  expect(parts.map(key)).toEqual(whole.map(key));
  // Asked to begin anew it does.
  parts.length = 0;
  expect(await bench.sweep.run(wish, false, take)).toBe('done');
  expect(parts).toHaveLength(all);
});

test('another wish begins anew, and an edit ends a sweep', async () => {
  const bench = opened();
  const seen: number[] = [];
  const first = bench.sweep.run({ kinds: ['links'], pairs: false }, false, () => undefined);
  bench.sweep.stop();
  expect(await first).toBe('stopped');
  expect(await bench.sweep.run({ kinds: ['borders'], pairs: true }, true, (done) => seen.push(done))).toBe('done');
  expect(seen.at(-1)).toBe(bench.sweep.count({ kinds: ['borders'], pairs: true }));
  const again = bench.sweep.run({ kinds: ['routers'], pairs: true }, false, () => undefined);
  bench.editing.editText(bench.editing.entry('set cost 31 on beacon-1/to-beacon-2', []).plan?.edits ?? []);
  expect(await again).toBe('outdated');
});
