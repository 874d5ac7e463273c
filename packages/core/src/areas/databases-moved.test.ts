import fc from 'fast-check';
import { campus } from '../testing/campus';
import { campusOf, plans } from '../testing/random-campus';
import { spec } from '../testing/steps';
import { databasesMoved } from './databases-moved';
import { domainDatabase, heldKey } from './held';

const told = (c: ReturnType<typeof campus>, ...fail: string[]): unknown[] => {
  const p = c.predict();
  return databasesMoved(
    p,
    fail.reduce((s, f) => s.fail(spec(f)), p),
  ).map((m) => [m.area ?? '*', m.type, m.fresh, m.newer, m.gone]);
};

/** core – edge in area 0; edge and two more on a LAN in area 10, of which edge tells the others' loopbacks into area 0. */
const net = () =>
  campus()
    .router('core', '10.96.0.1', 0)
    .router('edge', '10.96.0.2', 0)
    .router('x', '10.97.0.3', 10)
    .router('y', '10.97.0.4', 10)
    .cable('core', 'edge', '10.96.1.0', 0, 10)
    .lan('reef', '10.97.1.0/24', 10, ['edge', 'x', 'y']);

test('counted by hand: what is flooded anew when a router of a LAN is off, and when a cable is cut', () => {
  // y leads by its id. Without it x leads: y's network advertisement is gone, x tells one, and both others describe the LAN anew.
  expect(told(net(), 'router:y')).toEqual([
    // Its loopback is told no more.
    [0, 3, 0, 0, 1],
    [10, 1, 0, 2, 1],
    [10, 2, 1, 0, 1],
  ]);
  // Both ends take the cable out of what they say; edge does not reach core, so that it tells area 10 nothing of it, nor core of 10.
  expect(told(net(), 'link:core/to-edge')).toEqual([
    [0, 1, 0, 2, 0],
    [10, 3, 0, 0, 2],
  ]);
  expect(told(net())).toEqual([]);
});

test('what it counts as there and gone is what a plain look at both states finds', () => {
  fc.assert(
    fc.property(plans, fc.nat(), (plan, n) => {
      const p = campusOf(plan).predict();
      const { routers } = p.design;
      const after = p.fail(spec(`router:${routers[n % routers.length]?.name ?? ''}`));
      const names = (s: typeof p): Set<string> => new Set(domainDatabase(s).map((h) => heldKey(h).replace(/\.\d+$/, '')));
      const [old, now] = [names(p), names(after)];
      const sum = (of: 'fresh' | 'gone'): number => databasesMoved(p, after).reduce((x, m) => x + m[of], 0);
      expect(sum('fresh')).toBe([...now].filter((k) => !old.has(k)).length);
      expect(sum('gone')).toBe([...old].filter((k) => !now.has(k)).length);
      expect(databasesMoved(p, campusOf(plan).predict())).toEqual([]);
    }),
    { numRuns: 25 },
  );
});
