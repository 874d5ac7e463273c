import { predict, predictFamilies } from '../predict';
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
