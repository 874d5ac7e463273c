import type { DesignView, SegmentView } from '../model/view';
import { linePlaces, risksOnMap } from './breakable';

const member = (router: string, iface: string): SegmentView['members'][number] => ({ router, iface, address: '', cost: 1, leads: '' });
const segments: SegmentView[] = [
  { index: 3, kind: 'cable', subnets: [], area: null, fail: 'link:a/to-b', members: [member('a', 'to-b'), member('b', 'to-a')] },
  { index: 7, kind: 'lan', subnets: [], area: null, fail: 'lan:a/reef', members: [member('a', 'reef'), member('c', 'reef')] },
];
const view = (words: readonly (readonly string[])[]): DesignView =>
  ({ segments, risks: words.map((w, n) => ({ name: `risk ${n}`, members: w, words: w })) }) as unknown as DesignView;

test('a failure is drawn where it is: on its cable, on the way of its router to a LAN, on the bar of a whole LAN', () => {
  const at = (word: string): string[] => linePlaces(view([]), word);
  expect(at('link:b/to-a')).toEqual(['3']);
  expect(at('interface:a/to-b')).toEqual(['3']);
  expect(at('link:c/reef')).toEqual(['7 c']);
  expect(at('lan:c/reef')).toEqual(['7']);
  expect([at('router:a'), at('group:duct'), at('link:a/nothing')]).toEqual([[], [], []]);
});

test('shared risks stand by their numbers on all that they take down', () => {
  expect(
    [
      ...risksOnMap(
        view([
          ['link:a/to-b', 'router:c'],
          ['link:a/to-b', 'lan:a/reef'],
          ['link:c/reef', 'interface:c/reef'],
        ]),
      ),
    ].sort(),
  ).toEqual([
    ['3', '1,2'],
    ['7 a', '2'],
    ['7 c', '2,3'],
    ['c', '1'],
  ]);
});
