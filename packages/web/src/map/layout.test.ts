import fc from 'fast-check';
import { plans, type Plan } from '@gentle-compass/core/testing/random-campus';
import type { DesignView, StoredDocuments } from '../model/view';
import { Workbench } from '../worker/workbench';
import { findOnMap } from './find';
import { chartOf, foldedSize, planOf, samePlaces, type Chart } from './fold';
import { convexHull } from './grounds';
import { layoutMap, type LayoutInput, type MapLayout } from './layout';
import { plate, plateWidth, type Point } from './shapes';
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
          const apart = Math.abs(p.x - q.x) >= (plateWidth(a) + plateWidth(b)) / 2 || Math.abs(p.y - q.y) >= plate.height;
          expect({ a, b, apart }).toEqual({ a, b, apart: true });
        }
      });
    }),
    { numRuns: 40, seed: 11 },
  );
});
/** Rooms of plates: name plates, and the large ones of folded areas. */
const halfOf = (name: string): { x: number; y: number } =>
  name.startsWith('area ') ? { x: foldedSize.width / 2, y: foldedSize.height / 2 } : { x: plateWidth(name) / 2, y: plate.height / 2 };

/** Plates that touch, in pairs. */
function touching(map: MapLayout): string[] {
  const places = Object.entries(map.routers);
  return places.flatMap(([a, p], i) =>
    places.slice(i + 1).flatMap(([b, q]) => {
      const [x, y] = [halfOf(a).x + halfOf(b).x, halfOf(a).y + halfOf(b).y];
      return Math.abs(p.x - q.x) < x - 0.01 && Math.abs(p.y - q.y) < y - 0.01 ? [`${a} ${b}`] : [];
    }),
  );
}

/** True when the coast of a ground runs through a plate: it is neither wholly on land nor wholly off it. */
function onCoastOf(corners: readonly Point[], name: string, at: Point): boolean {
  const half = halfOf(name);
  const inside = (p: Point): boolean =>
    corners.every((a, i) => {
      const b = corners[(i + 1) % corners.length] ?? a;
      return (b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x) >= 0;
    });
  const edge = [-1, -0.5, 0, 0.5, 1].flatMap((k) => [
    { x: at.x + half.x * k, y: at.y - half.y },
    { x: at.x + half.x * k, y: at.y + half.y },
    { x: at.x - half.x, y: at.y + half.y * k },
    { x: at.x + half.x, y: at.y + half.y * k },
  ]);
  const n = edge.filter(inside).length;
  return (n > 0 || inside(at)) && n < edge.length;
}

/** The chart as the page and the worker make it together. */
function charted(view: DesignView, folded: readonly string[]): Chart {
  const plan = planOf(view, folded);
  const layout = plan.input ? layoutMap(plan.input) : view.layout;
  if (!layout) throw new Error('nothing to lay out');
  return chartOf(view, plan, layout);
}

describe.each([16, 40, 60, 300])('a made-up campus of %i routers', (routers) => {
  const bench = new Workbench();
  const views = [1, 2].map((seed) => {
    const areas = Math.max(2, Math.min(12, Math.round(routers / 12)));
    return bench.editing.open(bench.files.generate({ routers, areas, seed }) as StoredDocuments);
  });
  test.each([
    ['whole', (v: DesignView) => charted(v, [])],
    [
      'with its areas folded',
      (v: DesignView) =>
        charted(
          v,
          v.areas.map((a) => a.id),
        ),
    ],
    [
      'with one area laid open',
      (v: DesignView) =>
        charted(
          v,
          v.areas.slice(2).map((a) => a.id),
        ),
    ],
  ])('%s: no two plates touch, and border routers stand on the coasts of their areas', (_, chartOfView) => {
    for (const view of views) {
      const { layout, areas } = chartOfView(view);
      expect(touching(layout)).toEqual([]);
      const grounds = new Map(layout.grounds.map((g) => [g.area, g.corners]));
      const off = view.routers.flatMap((r) =>
        r.areas.length < 2
          ? []
          : r.areas.flatMap((a) => {
              const at = layout.routers[r.name];
              return at && onCoastOf(grounds.get(a) ?? [], r.name, at) ? [] : [`${r.name} in ${a}`];
            }),
      );
      expect(off).toEqual([]);
      // Every router is on the chart: by itself, or counted on the plate of its area.
      const counted = areas.reduce((n, a) => n + a.routers.length, 0) + Object.keys(layout.routers).filter((k) => !k.startsWith('area ')).length;
      expect(counted).toBe(view.routers.length);
    }
  });
});

test.each([40, 60, 300])(
  'of %i routers with areas folded the chart has the shape of the sheet, and the backbone’s name stands on no plate',
  (routers) => {
    const bench = new Workbench();
    for (const seed of [1, 2, 3]) {
      const view = bench.editing.open(
        bench.files.generate({ routers, areas: Math.max(3, Math.min(12, Math.round(routers / 12))), seed }) as StoredDocuments,
      );
      const { layout } = charted(
        view,
        view.areas.map((a) => a.id),
      );
      expect(layout.width / layout.height).toBeGreaterThan(0.8);
      expect(layout.width / layout.height).toBeLessThan(1.6);
      const name = layout.grounds.find((g) => g.area === '0.0.0.0')?.label;
      const covered = Object.entries(layout.routers).filter(([key, at]) => {
        const half = halfOf(key);
        return name && Math.abs(at.x - name.x) < half.x + 36 && Math.abs(at.y - (name.y - 5)) < half.y + 7;
      });
      expect(covered).toEqual([]);
    }
  },
);

test('a folded area counts its routers, networks and trouble, and its links are bundled by border router', () => {
  const bench = new Workbench();
  const view = bench.editing.open(bench.files.generate({ routers: 60, areas: 5, seed: 4 }) as StoredDocuments);
  const area = view.areas.find((a) => a.id !== '0.0.0.0');
  if (!area) throw new Error('no area');
  const chart = charted(view, [area.id, '0.0.0.0']);
  const inner = view.routers.filter((r) => r.areas.join() === area.id).map((r) => r.name);
  expect(chart.areas.map((a) => [a.area, a.routers])).toEqual([[area.id, inner]]);
  expect(chart.lines.some((d) => d.segment.members.some((m) => inner.includes(m.router)))).toBe(false);
  const links = view.segments.filter((s) => s.area === area.id && s.members.some((m) => !inner.includes(m.router)));
  const ends = links.flatMap((s) => s.members.filter((m) => !inner.includes(m.router)));
  expect(chart.bundles.reduce((n, b) => n + b.count, 0)).toBe(ends.length);
  expect(chart.inside(inner[0] ?? '')).toBe(area.id);
  expect(chart.placeOf(inner[0] ?? '')).toEqual(chart.layout.routers[`area ${area.id}`]);
});

test('with every area folded, networks, trouble and links are those counted wire by wire; the plan holds while the same stands beside the same', () => {
  const bench = new Workbench();
  const made = bench.files.generate({ routers: 90, areas: 6, seed: 9 }) as StoredDocuments;
  const view = bench.editing.open(made);
  const folded = view.areas.map((a) => a.id);
  const home = (router: string): string | undefined => {
    const areas = view.routers.find((r) => r.name === router)?.areas ?? [];
    return areas.length === 1 && areas[0] !== '0.0.0.0' ? areas[0] : undefined;
  };
  const chart = charted(view, folded);
  for (const f of chart.areas) {
    const touching = view.segments.filter((s) => s.area === f.area || s.members.some((m) => home(m.router) === f.area));
    expect([f.area, f.networks]).toEqual([f.area, touching.length]);
  }
  // Where a wire of a folded area, or to a router inside of one, ends at a router that stands by itself.
  const ends = view.segments.flatMap((s) => {
    const areas = new Set([...s.members.flatMap((m) => home(m.router) ?? []), ...(s.area !== null && s.area !== '0.0.0.0' ? [s.area] : [])]);
    return s.members.filter((m) => home(m.router) === undefined).flatMap((m) => [...areas].map((a) => `${m.router} ${a}`));
  });
  expect(new Set(chart.bundles.map((b) => `${b.router} ${b.area}`))).toEqual(new Set(ends));
  expect(chart.bundles.reduce((n, b) => n + b.count, 0)).toBe(ends.length);
  const after = (line: string): DesignView => bench.editing.edit(bench.editing.entry(line, []).plan?.edits ?? []).view;
  const costlier = after('set cost 77 on beacon-1/to-beacon-2');
  expect(samePlaces(view, costlier)).toBe(true);
  expect(planOf(costlier, folded)).toEqual(planOf(view, folded));
  expect(samePlaces(costlier, after('link beacon-1 harbour-exit-1 cost 20'))).toBe(false);
});

test('a plate that was placed by hand stays there, and others make room', () => {
  const names = ['a', 'b', 'c', 'd'];
  const routers = names.map((name) => ({ name, areas: ['0.0.0.0'] }));
  const input = { routers, links: [{ id: 1, members: ['a', 'b'], lan: false }] };
  const free = layoutMap(input);
  const b = free.routers.b ?? { x: 0, y: 0 };
  const at = { x: b.x - free.centre.x + 4, y: b.y - free.centre.y };
  const map = layoutMap({ ...input, places: { a: at } });
  expect({ x: (map.routers.a?.x ?? 0) - map.centre.x, y: (map.routers.a?.y ?? 0) - map.centre.y }).toEqual(at);
  expect(touching(map)).toEqual([]);
});

test('the map is searched by name, by address and by subnet', () => {
  const bench = new Workbench();
  const view = bench.editing.open(bench.files.generate({ routers: 30, areas: 3, seed: 2 }) as StoredDocuments);
  const router = view.routers[4];
  const iface = router?.interfaces.find((i) => i.kind !== 'loopback' && i.addresses.length > 0);
  const ip = iface?.addresses[0]?.split('/')[0] ?? '';
  expect(findOnMap(view, router?.name ?? '')[0]).toMatchObject({ kind: 'router', router: router?.name });
  const byAddress = findOnMap(view, ip);
  expect(byAddress.find((f) => f.kind === 'router')).toMatchObject({ router: router?.name });
  expect(byAddress.find((f) => f.kind === 'segment')).toMatchObject({ segment: iface?.segment });
  expect(findOnMap(view, 'area 10')[0]).toMatchObject({ kind: 'area', area: '0.0.0.10' });
  expect(findOnMap(view, 'no such thing')).toEqual([]);
  expect(findOnMap(view, '')).toEqual([]);
});

test('the same network gives the same picture', () => {
  const [plan] = fc.sample(plans, { numRuns: 1, seed: 5 });
  if (!plan) throw new Error('no plan');
  expect(layoutMap(inputOf(plan))).toEqual(layoutMap(inputOf(plan)));
});
test('nobody stands on the line from a router to its LAN, as if he were on it', () => {
  const name = (n: number): string => `gull-${n}`;
  const map = layoutMap({
    routers: [1, 2, 3, 4].map((n) => ({ name: name(n), areas: ['0.0.0.0'] })),
    links: [
      { id: 0, members: [name(1), name(2), name(3)], lan: true },
      { id: 1, members: [name(2), name(4)], lan: false },
    ],
  });
  const bar = map.lans[0];
  const half = { x: plate.width / 2, y: plate.height / 2 };
  for (const n of [1, 2, 3])
    for (const other of [1, 2, 3, 4])
      if (other !== n)
        expect([n, other, bar && crossesPlate(map.routers[name(n)] as Point, bar, map.routers[name(other)] as Point, half)]).toEqual([
          n,
          other,
          false,
        ]);
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
