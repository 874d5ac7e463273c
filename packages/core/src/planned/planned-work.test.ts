import { predict, predictFamilies } from '../predict';
import { formatPrefix } from '../prefix/address';
import { campus } from '../testing/campus';
import { dual } from '../testing/dual';
import { sample } from '../testing/sample';
import { plannedWork, type PlannedWork, type WorkTarget } from './planned-work';
import { square as squareOf } from '../testing/square';

/** a to d by b (20) or by c (40): b carries everything between a and d. */
const square = (): ReturnType<typeof squareOf> => squareOf(10, 20);

function planned(target: WorkTarget, c = square()): PlannedWork {
  const { documents } = c.read();
  const work = plannedWork([c.predict()], documents, target);
  if ('refusal' in work) throw new Error(work.refusal);
  return work;
}

test('counted by hand: a drained router carries nothing when it goes, an outage interrupts what it carried', () => {
  const { steps, outage } = planned({ kind: 'router', router: 'b' });
  expect(steps.map((s) => [s.kind, s.interrupted, s.cut])).toEqual([
    ['drain', 0, 0],
    ['down', 0, 0],
    ['back', 0, 0],
    ['undrain', 0, 0],
  ]);
  // a and d, there and back: c reaches both by its own cables.
  expect([outage.interrupted, outage.cut]).toEqual([2, 0]);
  expect(steps[0]?.lines).toEqual(['set stub-router yes on b']);
  expect(steps[3]?.lines).toEqual(['clear stub-router on b']);
  expect(steps[0]?.changed).toBeGreaterThan(0);
});

test('a link: both ends cost 65535, and what was written comes back', () => {
  const { steps, outage } = planned({ kind: 'link', router: 'a', iface: 'to-b' });
  expect(steps[0]?.lines).toEqual(['set cost 65535 on a/to-b b/to-a']);
  expect(steps[3]?.lines).toEqual(['set cost 10 on a/to-b', 'set cost 10 on b/to-a']);
  // a with b, a with d, and b with c, which may go by a or by d at 30 each: there and back.
  expect(outage.interrupted).toBe(6);
  expect(steps[1]?.interrupted).toBe(0);
  // A cable without another way is interrupted, drained or not.
  const leaf = campus().router('a', '10.96.0.1', 0).router('b', '10.96.0.2', 0).cable('a', 'b', '10.96.1.0', 0, 10);
  const alone = planned({ kind: 'link', router: 'a', iface: 'to-b' }, leaf);
  expect([alone.steps[1]?.interrupted, alone.steps[1]?.cut, alone.outage.cut]).toEqual([2, 2, 2]);
});

test('expectations count from where the work begins, in both families', () => {
  const c = dual(square().settings({ expectation: [{ name: 'by b', kind: 'path', from: 'a', to: 'd', through: ['b'] }] }));
  const { design, documents } = c.read();
  const work = plannedWork(predictFamilies(design), documents, { kind: 'router', router: 'b' });
  if ('refusal' in work) throw new Error(work.refusal);
  const both = ['by b', 'by b, IPv6'];
  expect(work.steps[0]?.lines).toEqual(['set stub-router yes on b', 'v3 set stub-router yes on b']);
  // From the drain on the way leads by c, until it is drained no more.
  expect(work.steps.map((s) => s.broken)).toEqual([both, both, both, []]);
  expect(work.outage.interrupted).toBe(4);
  expect(work.steps[1]?.interrupted).toBe(0);
});

test('what cannot be worked on is told; the sample’s border router is drained without a pair interrupted', () => {
  const { design, documents } = sample('saltmarsh-point');
  expect(plannedWork([predict(design)], documents, { kind: 'router', router: 'nobody' })).toEqual({ refusal: 'There is no router "nobody".' });
  const work = plannedWork(predictFamilies(design), documents, { kind: 'router', router: 'kelp-2' });
  if ('refusal' in work) throw new Error(work.refusal);
  expect(work.outage.interrupted).toBeGreaterThan(0);
  expect(work.steps[1]?.interrupted).toBe(0);
});

test('counted by hand: a border router on a LAN is drained in both of its areas', () => {
  // heron-1 to heron-4 on the LAN at 10 each; heron-5 in area 10 behind heron-1 at 10 and heron-2 at 30.
  const c = campus()
    .router('heron-1', '10.96.0.1', 0)
    .router('heron-2', '10.96.0.2', 0)
    .router('heron-3', '10.96.0.3', 0)
    .router('heron-4', '10.96.0.4', 0)
    .router('heron-5', '10.97.0.5', 10)
    .lan('reef', '10.96.1.0/24', 0, ['heron-1', 'heron-2', 'heron-3', 'heron-4'])
    .cable('heron-1', 'heron-5', '10.97.1.0', 10, 10)
    .cable('heron-2', 'heron-5', '10.97.1.2', 10, 30);
  const { steps, outage } = planned({ kind: 'router', router: 'heron-1' }, c);
  // From heron-3 and heron-4 to heron-5, and from heron-5 to heron-2, heron-3 and heron-4; heron-2 goes by its own cable.
  expect([outage.interrupted, outage.cut]).toEqual([5, 0]);
  // What heron-1 tells of either area costs 65535 and more then: all go by heron-2.
  expect(steps.map((s) => [s.interrupted, s.cut])).toEqual([
    [0, 0],
    [0, 0],
    [0, 0],
    [0, 0],
  ]);
  const drained = steps[0]?.state[0];
  const costs = (from: string): (number | undefined)[] => {
    const p = drained;
    return p ? ['10.97.0.5', '10.96.0.3'].map((a) => p.rib(p.routerIndex(from)).find((r) => formatPrefix(r) === `${a}/32`)?.route?.metric) : [];
  };
  expect(costs('heron-3')[0]).toBe(40);
  expect(costs('heron-5')[1]).toBe(40);
});

test('a drained attachment to a LAN still hears from it: the way in costs what others say', () => {
  const c = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .lan('reef', '10.96.1.0/24', 0, ['a', 'b', 'c'])
    .cable('a', 'b', '10.96.2.0', 0, 100);
  const { steps, outage } = planned({ kind: 'link', router: 'a', iface: 'reef' }, c);
  expect(steps[0]?.lines).toEqual(['set cost 65535 on a/reef']);
  // a with b and with c, there and back; drained, only what comes to a over the LAN is on it still.
  expect(outage.interrupted).toBe(4);
  expect(steps[1]?.interrupted).toBe(2);
  expect(steps[1]?.cut).toBe(0);
});
