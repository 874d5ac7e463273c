import fc from 'fast-check';
import type { DesignView } from '../model/view';
import { cross, crossedBy } from './crossing';
import { linesOf } from './drawn';

const at = (x: number, y: number): { x: number; y: number } => ({ x, y });

test('strokes cross, counted by hand', () => {
  const level = { from: at(0, 0), to: at(10, 0) };
  expect(cross(level, { from: at(5, -1), to: at(5, 1) })).toBe(true);
  expect(cross(level, { from: at(5, 1), to: at(5, 3) })).toBe(false);
  expect(cross(level, { from: at(11, -1), to: at(11, 1) })).toBe(false);
  // Along it, or no stroke at all yet: nothing is cut.
  expect(cross(level, { from: at(2, 0), to: at(8, 0) })).toBe(false);
  expect(cross(level, { from: at(5, 0), to: at(5, 0) })).toBe(false);
});

test('it does not matter which of two is called the stroke, nor which end comes first', () => {
  const point = fc.record({ x: fc.integer({ min: -9, max: 9 }), y: fc.integer({ min: -9, max: 9 }) });
  const stroke = fc.record({ from: point, to: point });
  fc.assert(
    fc.property(stroke, stroke, (s, t) => {
      expect(cross(s, t)).toBe(cross(t, s));
      expect(cross(s, t)).toBe(cross({ from: s.to, to: s.from }, t));
    }),
  );
});

test('of a chart cables are cut, and single ways to a LAN; of a bundle all that are in it', () => {
  const member = (router: string) => ({ router, iface: 'x', address: '', cost: 1, leads: '' as const });
  const segments = [
    { index: 3, kind: 'cable', subnets: [], area: null, fail: '', members: [member('a'), member('b')] },
    { index: 7, kind: 'lan', subnets: [], area: null, fail: '', members: [member('a'), member('b'), member('c')] },
  ] as unknown as DesignView['segments'];
  const lines = linesOf({ pairs: [], segments }, {
    routers: { a: at(0, 0), b: at(400, 0), c: at(200, 300) },
    lans: { 7: at(200, 100) },
  } as never);
  const pair = { segment: 11 } as never;
  const chart = { lines, bundles: [{ area: '1', router: 'a', from: at(0, 0), to: at(0, 400), pairs: [pair, { segment: 12 } as never] }] as never };
  expect(crossedBy({ from: at(200, -50), to: at(200, 50) }, chart)).toEqual([{ segment: 3, member: undefined }]);
  expect(crossedBy({ from: at(100, 200), to: at(300, 200) }, chart)).toEqual([{ segment: 7, member: 'c' }]);
  expect(crossedBy({ from: at(-50, 200), to: at(50, 210) }, chart).map((c) => c.segment)).toEqual([11, 12]);
});
