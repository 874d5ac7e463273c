import fc from 'fast-check';
import { plans, type Plan } from '@gentle-compass/core/testing/random-campus';
import { convexHull, layoutMap, plate, type LayoutInput } from './layout';
import { placeLabels } from './labels';
import { crossesPlate, linesCross } from './tidy';

/** A random plan as the map sees it. */
function inputOf(plan: Plan): LayoutInput {
  const areas = (n: number): string[] => {
    const ids = new Set<number>([plan.routers[n]?.home ?? 0]);
    for (const c of plan.cables) if (c.a === n || c.b === n) ids.add(c.area);
    return [...ids].sort((a, b) => a - b).map((a) => `0.0.0.${a}`);
  };
  const name = (n: number): string => plan.routers[n]?.name ?? '';
  return {
    routers: plan.routers.map((r, n) => ({ name: r.name, areas: areas(n) })),
    links: [
      ...plan.cables.map((c, i) => ({ id: i, members: [name(c.a), name(c.b)], lan: false })),
      ...plan.lans.map((l, i) => ({ id: 1000 + i, members: l.members.map((m) => name(m.router)), lan: true })),
    ],
  };
}

test('on random campuses no two plates overlap, and every router has its place on the sheet', () => {
  fc.assert(
    fc.property(plans, (plan) => {
      const input = inputOf(plan);
      const map = layoutMap(input);
      const places = Object.entries(map.routers);
      expect(places).toHaveLength(input.routers.length);
      places.forEach(([a, p], i) => {
        expect(p.x > 0 && p.y > 0 && p.x < map.width && p.y < map.height).toBe(true);
        for (const [b, q] of places.slice(i + 1)) {
          const apart = Math.abs(p.x - q.x) >= plate.width || Math.abs(p.y - q.y) >= plate.height;
          expect({ a, b, apart }).toEqual({ a, b, apart: true });
        }
      });
    }),
    { numRuns: 40, seed: 11 },
  );
});
test('the same network gives the same picture', () => {
  const [plan] = fc.sample(plans, { numRuns: 1, seed: 5 });
  if (!plan) throw new Error('no plan');
  expect(layoutMap(inputOf(plan))).toEqual(layoutMap(inputOf(plan)));
});
test('an empty sheet and a router without OSPF', () => {
  expect(layoutMap({ routers: [], links: [] }).grounds).toEqual([]);
  expect(Object.keys(layoutMap({ routers: [{ name: 'host', areas: [] }], links: [] }).routers)).toEqual(['host']);
});
test('labels of lines that cross in the middle stand apart', () => {
  const half = { x: 10, y: 9 };
  const places = placeLabels(
    [
      { id: 'a', a: { x: 0, y: 0 }, b: { x: 200, y: 200 }, half },
      { id: 'b', a: { x: 0, y: 200 }, b: { x: 200, y: 0 }, half },
    ],
    [],
  );
  const [a, b] = [places.get('a'), places.get('b')];
  expect(a).toEqual({ x: 100, y: 100 });
  expect(Math.abs((a?.x ?? 0) - (b?.x ?? 0)) >= 20 || Math.abs((a?.y ?? 0) - (b?.y ?? 0)) >= 18).toBe(true);
});
test('geometry: hull, crossing lines, a line behind a plate', () => {
  const square = [
    { x: 0, y: 0 },
    { x: 2, y: 0 },
    { x: 2, y: 2 },
    { x: 0, y: 2 },
  ];
  expect(convexHull([...square, { x: 1, y: 1 }])).toHaveLength(4);
  expect(linesCross({ x: 0, y: 0 }, { x: 2, y: 2 }, { x: 0, y: 2 }, { x: 2, y: 0 })).toBe(true);
  expect(linesCross({ x: 0, y: 0 }, { x: 1, y: 0 }, { x: 0, y: 1 }, { x: 1, y: 1 })).toBe(false);
  expect(crossesPlate({ x: -9, y: 0 }, { x: 9, y: 0 }, { x: 0, y: 1 }, { x: 3, y: 2 })).toBe(true);
  expect(crossesPlate({ x: -9, y: 5 }, { x: 9, y: 5 }, { x: 0, y: 1 }, { x: 3, y: 2 })).toBe(false);
});
