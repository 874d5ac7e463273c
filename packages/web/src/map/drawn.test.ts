import type { DesignView, PairView, SegmentView } from '../model/view';
import { linesOf } from './drawn';
import { placeLabels } from './labels';
import { lineWords } from './map-words';
import type { MapLayout } from './layout-input';

const member = (router: string, cost: number | null = 10): SegmentView['members'][number] =>
  ({ router, iface: `to-${router}`, address: '', cost, leads: '' }) as unknown as SegmentView['members'][number];
const segment = (index: number, kind: 'cable' | 'lan', members: readonly SegmentView['members'][number][]): SegmentView => ({
  index,
  kind,
  members,
  subnets: [`10.96.${index}.0/24`],
  fail: '',
  area: '0.0.0.0',
});
const pair = (on: number, a: string, b: string, kind: PairView['kind']): PairView =>
  ({ id: `${a}~${b}`, segment: on, kind, a: { router: a }, b: { router: b } }) as unknown as PairView;
const view = (segments: readonly SegmentView[], pairs: readonly PairView[]): DesignView => ({ segments, pairs }) as unknown as DesignView;
const at = (names: readonly string[], lans: MapLayout['lans'] = {}): MapLayout => ({
  width: 1000,
  height: 800,
  centre: { x: 0, y: 0 },
  routers: Object.fromEntries(names.map((n, i) => [n, { x: 100 + 200 * i, y: 100 }])),
  lans,
  grounds: [],
});

test('trouble on a LAN of two is drawn on both its lines, with one letter', () => {
  const v = view([segment(0, 'lan', [member('a'), member('b')])], [pair(0, 'a', 'b', 'trouble')]);
  const lines = linesOf(v, at(['a', 'b'], { 0: { x: 200, y: 300 } }));
  expect(lines.map((d) => [d.member, d.trouble.map((p) => p.id), d.alike])).toEqual([
    ['a', ['a~b'], false],
    ['b', [], true],
  ]);
});

test('on a LAN of more, trouble is drawn at the one that has it with all others', () => {
  const members = ['a', 'b', 'c'].map((n) => member(n));
  const pairs = [pair(0, 'a', 'b', 'full'), pair(0, 'a', 'c', 'trouble'), pair(0, 'b', 'c', 'trouble')];
  const lines = linesOf(view([segment(0, 'lan', members)], pairs), at(['a', 'b', 'c'], { 0: { x: 200, y: 300 } }));
  expect(lines.map((d) => [d.member, d.trouble.length, d.alike])).toEqual([
    ['a', 0, false],
    ['b', 0, false],
    ['c', 2, false],
  ]);
});

test('a LAN without trouble, and a cable with it, are drawn as they were', () => {
  const v = view(
    [segment(0, 'lan', [member('a'), member('b')]), segment(1, 'cable', [member('a'), member('b')])],
    [pair(0, 'a', 'b', 'full'), pair(1, 'a', 'b', 'trouble')],
  );
  const lines = linesOf(v, at(['a', 'b'], { 0: { x: 200, y: 300 } }));
  expect(lines.map((d) => [d.trouble.length, d.alike])).toEqual([
    [0, false],
    [0, false],
    [1, false],
  ]);
});

test('each router’s own cost stands on its line to a LAN; of a cable both where they differ', () => {
  const v = view(
    [segment(0, 'lan', [member('a', 10), member('b', 40), member('c', null)]), segment(1, 'cable', [member('a', 5), member('b', 6)])],
    [],
  );
  const lines = linesOf(v, at(['a', 'b', 'c'], { 0: { x: 200, y: 300 } }));
  expect(lines.map((d) => lineWords(d, 'costs'))).toEqual(['10', '40', '', '5 | 6']);
  expect(lines.map((d) => lineWords(d, 'trouble'))).toEqual(['', '', '', '']);
});

test('cables between the same two routers lie side by side, whichever way they are written', () => {
  const v = view(
    [
      segment(0, 'cable', [member('a'), member('b')]),
      segment(1, 'cable', [member('b'), member('a')]),
      segment(2, 'cable', [member('b'), member('c')]),
    ],
    [],
  );
  const lines = linesOf(v, at(['a', 'b', 'c']));
  const heights = lines.map((d) => d.a.y);
  expect(Math.abs((heights[0] ?? 0) - (heights[1] ?? 0))).toBe(7);
  expect(heights[2]).toBe(100);
  expect(lines.every((d) => d.a.y === d.b.y)).toBe(true);
});

describe('a label on a line', () => {
  const line = (
    id: string,
    x: number,
    y: number,
    to: readonly [number, number],
  ): { id: string; a: { x: number; y: number }; b: { x: number; y: number }; half: { x: number; y: number } } => ({
    id,
    a: { x, y },
    b: { x: to[0], y: to[1] },
    half: { x: 12, y: 9 },
  });

  test('stands in the middle, and gives way along its line to another line that crosses there', () => {
    const own = line('own', 0, 0, [200, 0]);
    expect(placeLabels([own], [], false, [own]).get('own')).toEqual({ x: 100, y: 0 });
    const across = { a: { x: 100, y: -50 }, b: { x: 100, y: 50 } };
    const p = placeLabels([own], [], false, [own, across]).get('own');
    expect(p?.y).toBe(0);
    expect(Math.abs((p?.x ?? 100) - 100)).toBeGreaterThanOrEqual(12);
  });

  test('rather lies on a line than on a plate or on another label', () => {
    const own = line('own', 0, 0, [100, 0]);
    const lines = Array.from({ length: 9 }, (_, i) => ({ a: { x: 10 + 10 * i, y: -50 }, b: { x: 10 + 10 * i, y: 50 } }));
    const plates = [{ at: { x: 50, y: 0 }, half: { x: 20, y: 11 } }];
    const p = placeLabels([own], plates, false, lines).get('own');
    expect(Math.abs((p?.x ?? 50) - 50)).toBeGreaterThanOrEqual(32);
    const two = placeLabels([own, { ...own, id: 'twin' }], [], false, lines);
    expect(Math.abs((two.get('own')?.x ?? 0) - (two.get('twin')?.x ?? 0))).toBeGreaterThanOrEqual(24);
  });

  test('that is shown only where it is free does not mind lines', () => {
    const own = line('own', 0, 0, [200, 0]);
    const everywhere = Array.from({ length: 40 }, (_, i) => ({ a: { x: 5 * i, y: -50 }, b: { x: 5 * i, y: 50 } }));
    expect(placeLabels([own], [], true, everywhere).has('own')).toBe(true);
    expect(placeLabels([own], [{ at: { x: 100, y: 0 }, half: { x: 120, y: 20 } }], true, []).has('own')).toBe(false);
  });
});
