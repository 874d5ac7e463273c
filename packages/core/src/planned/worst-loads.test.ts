import { applyEdits } from '../design/edit';
import type { Demand } from '../design/settings';
import { designFrom } from '../formats/read-set';
import { loadsOf } from '../loads/loads';
import { predict } from '../predict';
import { sweepCases, usualKinds } from '../sweep/cases';
import { takenDown } from '../sweep/sweep';
import { finished, spec } from '../testing/steps';
import { demandEdits, withoutDemands } from './demand-edits';
import { worstLoads } from './worst-loads';
import { square } from '../testing/square';

const demand = (from: string, to: string, mbps: number): Demand => ({ file: '', at: [], from, to, mbps });

test('counted by hand: two equal ways share until one of them fails', () => {
  const p = square().predict();
  const demands = [demand('a', 'd', 100), demand('a', 'b', 20)];
  expect(loadsOf([p], demands).links.map((l) => [l.router, l.iface, l.mbps])).toEqual([
    ['a', 'to-b', 70],
    ['a', 'to-c', 50],
    ['b', 'to-d', 50],
    ['c', 'to-d', 50],
  ]);
  const worst = finished(worstLoads([p], demands, [spec('link:a/to-b'), spec('link:a/to-c')]));
  expect([...worst].sort()).toEqual([
    // Without the cable to c all goes by b; without that to b all goes by c, and from d back to b.
    ['a/to-b', { mbps: 120, fail: 'link:a/to-c' }],
    ['a/to-c', { mbps: 120, fail: 'link:a/to-b' }],
    ['b/to-d', { mbps: 100, fail: 'link:a/to-c' }],
    ['c/to-d', { mbps: 120, fail: 'link:a/to-b' }],
    ['d/to-b', { mbps: 20, fail: 'link:a/to-b' }],
  ]);
  const every = sweepCases([p], usualKinds);
  for (const [key, { mbps, fail }] of finished(worstLoads([p], demands, every))) {
    const link = loadsOf(takenDown([p], new Set(), [spec(fail)]).states, demands).links.find((l) => `${l.router}/${l.iface}` === key);
    expect(link?.mbps).toBe(mbps);
  }
});

test('demands are kept in one step, each in the place of the one with its ends, and given up again', () => {
  const { documents } = square()
    .settings({ demand: [{ from: 'a', to: 'd', mbps: 1 }] })
    .read();
  const kept = applyEdits(documents, demandEdits(documents, [demand('b', 'c', 7.5), demand('a', 'd', 30), demand('b', 'c', 8)]));
  const told = (d: typeof kept): unknown[] => designFrom(d).design.settings.demands.map((x) => [x.from, x.to, x.mbps]);
  expect(told(kept)).toEqual([
    ['a', 'd', 30],
    ['b', 'c', 8],
  ]);
  expect(told(applyEdits(kept, withoutDemands(kept)))).toEqual([]);
  // A design without settings gets them.
  const bare = square().read().documents;
  const made = applyEdits(bare, demandEdits(bare, [demand('a', 'd', 30)]));
  expect(told(made)).toEqual([['a', 'd', 30]]);
  expect(predict(designFrom(made).design).design.settings.demands).toHaveLength(1);
});
