import { patchBetween, patched, type ViewPatch } from './view-patch';
import type { DesignView, PairView, RouterView, SegmentView } from './view';

const router = (name: string): RouterView => ({ name }) as RouterView;
const view = (more: Partial<DesignView>): DesignView => ({
  name: 'campus',
  family: 4,
  families: [4],
  routers: [],
  segments: [],
  pairs: [],
  areas: [],
  findings: [],
  expectations: [],
  layout: { width: 1, height: 1, centre: { x: 0, y: 0 }, routers: {}, lans: {}, grounds: [] },
  risks: [],
  scenarios: [],
  places: [],
  routeCount: null,
  milliseconds: 1,
  ...more,
});
/** As it passes the worker's door. */
const sent = (a: DesignView, b: DesignView): ViewPatch => JSON.parse(JSON.stringify(patchBetween(a, b))) as ViewPatch;

test('what is the same object is not sent, and stays the same object', () => {
  const [a, b, c] = [router('a'), router('b'), router('c')];
  const before = view({ routers: [a, b, c], segments: [{ index: 4 } as SegmentView] });
  const other = router('b again');
  const after = view({ routers: [a, other, c], segments: before.segments, milliseconds: 2 });
  const patch = sent(before, after);
  expect(patch.lists.routers?.changed).toEqual([[1, other]]);
  expect(patch.parts).toEqual({ milliseconds: 2 });
  const made = patched(before, patch);
  expect(made).toEqual(after);
  expect(made.routers[0]).toBe(a);
  expect(made.segments).toBe(before.segments);
});

test('lists grow and shrink; parts that say the same in other objects are not sent', () => {
  const before = view({
    routers: [router('a'), router('b')],
    pairs: [{ id: 'x' } as PairView],
    areas: [{ id: '0.0.0.0' } as DesignView['areas'][number]],
  });
  const shorter = view({ routers: before.routers.slice(0, 1), areas: [{ id: '0.0.0.0' } as DesignView['areas'][number]] });
  expect(sent(before, shorter).parts).toEqual({});
  expect(patched(before, sent(before, shorter))).toEqual(shorter);
  const longer = view({ ...before, routers: [...before.routers, router('c')], findings: [] });
  expect(patched(before, sent(before, longer))).toEqual(longer);
  expect(patched(shorter, sent(shorter, longer))).toEqual(longer);
});
