import { formatPrefix } from '../prefix/address';
import { documentsFor, predictFor, prefixFor } from '../testing/mirror';
import { three } from '../testing/three-areas';
import { campus } from '../testing/campus';
import { prefixNumber } from '../documents/leaf-types';
import { designFrom } from '../formats/read-set';
import { predict } from '../predict';
import { announcedBy, areaTask, boundaryTask, summarisers } from './space';
import type { Task } from './planner';

const prefix = (text: string) => prefixNumber.read(text) ?? { bits: 0, length: 0 };
const words = (t: Task): { parts: string[]; foreign: string[]; supernets: string[] } => ({
  parts: t.parts.map(formatPrefix).sort(),
  foreign: t.foreign.map((f) => `${formatPrefix(f.prefix)} ${f.area ?? 'elsewhere'}`).sort(),
  supernets: t.supernets.map(formatPrefix),
});

describe.each([4, 6] as const)('what there is to summarise, IPv%i', (family) => {
  const p = predictFor(family, documentsFor(family, three().documents()));
  const at = (...list: string[]): string[] => list.map((x) => prefixFor(family, x));

  test('an area has its links, LANs and loopbacks as parts; other areas and static routes are foreign', () => {
    const task = words(areaTask(p, 1));
    expect(task.parts).toEqual(at('10.97.0.1/32', '10.97.1.0/24', '10.97.128.0/31').sort());
    expect(task.foreign).toEqual(
      [
        ...at('10.96.0.1/32', '10.96.0.2/32', '10.96.128.0/31').map((x) => `${x} 0`),
        ...at('10.98.0.1/32', '10.98.128.0/31').map((x) => `${x} 2`),
        ...at('10.99.0.1/32', '10.99.128.0/31').map((x) => `${x} 3`),
        ...at('198.51.100.0/24').map((x) => `${x} elsewhere`),
      ].sort(),
    );
    expect(task.supernets).toEqual(at('10.96.0.0/14'));
  });

  test('what is left out is neither part nor foreign; what is reserved is a part', () => {
    const wishes = { leaveOut: at('10.97.0.0/24', '10.98.0.0/16').map(prefix), reserve: at('10.97.2.0/23').map(prefix) };
    const task = words(areaTask(p, 1, wishes));
    expect(task.parts).toEqual(at('10.97.1.0/24', '10.97.128.0/31', '10.97.2.0/23').sort());
    expect(task.foreign.filter((f) => f.endsWith(' 2'))).toEqual([]);
    expect(task.foreign).toHaveLength(6);
  });

  test('border routers summarise', () => {
    expect(summarisers(p, 1).map((s) => s.router.name)).toEqual(['gate']);
    expect(summarisers(p, 9)).toEqual([]);
  });

  test('what a translator and a boundary router announce before it is folded', () => {
    const folded = three();
    folded.ospf('gate', { 'external-ranges': [{ prefix: '198.51.0.0/16' }] });
    const before = predictFor(family, documentsFor(family, folded.documents()));
    expect(before.speakersOf(before.routerIndex('core')).flatMap((s) => before.routing.externals(s).map(formatPrefix))).toEqual(at('198.51.0.0/16'));
    const [one, ...more] = announcedBy(before, 'gate');
    expect(one && [formatPrefix(one.prefix), one.metric, one.metricType, one.translated]).toEqual([at('198.51.100.0/24')[0], 7, 'type-2', true]);
    expect(more).toEqual([]);
    expect(announcedBy(p, 'three').map((a) => [formatPrefix(a.prefix), a.translated])).toEqual([[at('198.51.100.0/24')[0], false]]);
    const task = words(boundaryTask(before, announcedBy(before, 'gate')));
    expect(task.parts).toEqual(at('198.51.100.0/24'));
    expect(task.foreign).toHaveLength(10);
    expect(task.foreign.every((f) => / [0-3]$/.test(f))).toBe(true);
  });
});

test('pools are the space of a design; those side by side are one', () => {
  const pools = [
    { purpose: 'loopbacks', prefix: '10.97.0.0/24' },
    { purpose: 'lans', prefix: '10.97.1.0/24' },
    { purpose: 'links', prefix: '2001:db8:40::/48' },
  ];
  const p = predict(designFrom(three().settings({ pool: pools }).documents()).design);
  expect(areaTask(p, 1).supernets.map(formatPrefix)).toEqual(['10.97.0.0/23']);
});

test('a prefix that two areas have is foreign to neither', () => {
  const p = campus()
    .router('core', '10.96.0.1', 0)
    .router('one', '10.97.0.1', 1)
    .cable('core', 'one', '10.97.128.0', 1)
    .port('core', 'a', '10.97.5.1/24', 0, { passive: true })
    .port('one', 'b', '10.97.5.2/24', 1, { passive: true })
    .predict();
  expect(areaTask(p, 1).foreign.map((f) => formatPrefix(f.prefix))).toEqual(['10.96.0.1/32']);
});
