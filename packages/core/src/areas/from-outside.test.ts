import { prefixId } from '../prefix/prefix-book';
import { prefixNumber } from '../documents/leaf-types';
import { families } from '../design/family';
import { predict, type Prediction } from '../predict';
import { campus, type Campus } from '../testing/campus';
import { documentsFor, predictFor, prefixFor } from '../testing/mirror';
import { sample } from '../testing/sample';
import { handedPrefix, policies, twoPoints } from '../testing/two-points';
import { circles, exitsAt, importing, nssaTranslators, outsidePrefixes, silenced, stubBorders } from './from-outside';

const exits = (p: Prediction, prefix: string): string[] => {
  const at = prefixNumber.read(prefix);
  const key = at ? prefixId(at.bits, at.length) : -1;
  return p.adjacencies.speakers.map((s) => {
    const e = exitsAt(p, s, key);
    return `${e.router}: ${e.to.join('+') || '-'} ${e.type} ${e.metric ?? ''} ${e.distance ?? ''} | ${e.why}`.replace(/ +/g, ' ');
  });
};

/** Left and right both bring one prefix in; the middle is between them, nearer to the left, and area 5 hangs on the middle. */
const twoExits = (left: Record<string, unknown> = {}, right: Record<string, unknown> = {}): Campus =>
  campus()
    .router('left', '10.96.0.1', 0, { redistribution: [{ source: 'static', metric: 20, ...left }] })
    .router('middle', '10.96.0.2', 0)
    .router('right', '10.96.0.3', 0, { redistribution: [{ source: 'static', metric: 20, ...right }] })
    .router('end', '10.98.0.1', 5)
    .cable('left', 'middle', '10.96.128.0', 0, 10)
    .cable('middle', 'right', '10.96.128.2', 0, 30)
    .cable('middle', 'end', '10.98.128.0', 5)
    .area('middle', 5, { 'area-type': 'stub-area', 'default-cost': 7 })
    .area('end', 5, { 'area-type': 'stub-area' })
    .port('left', 'out', '203.0.113.2/30', null)
    .port('right', 'out', '203.0.113.6/30', null)
    .static('left', handedPrefix, '203.0.113.1')
    .static('right', handedPrefix, '203.0.113.5');

describe('which exit wins, and by which rule', () => {
  test('equal type 2: the nearer one; each boundary router keeps its own', () => {
    expect(exits(twoExits().predict(), handedPrefix)).toEqual([
      'end: - | No type 5 enters its stub area: a default takes its place.',
      'left: - | Its own table takes its static route, before what OSPF brings.',
      'middle: left external-2 20 10 | Before right: it is nearer.',
      'right: - | Its own table takes its static route, before what OSPF brings.',
    ]);
  });

  test('a smaller type 2 metric goes before nearness, type 1 before all', () => {
    const at = (c: Campus): string | undefined => exits(c.predict(), handedPrefix).find((l) => l.startsWith('middle'));
    expect(at(twoExits({}, { metric: 5 }))).toBe('middle: right external-2 5 30 | Before left: its type 2 metric is smaller.');
    expect(at(twoExits({}, { metric: 500, 'metric-type': 'type-1' }))).toBe('middle: right external-1 530 | Before left: type 1 goes before type 2.');
    const even = twoExits();
    expect(at(even.cable('left', 'right', '10.96.128.8', 0, 1))).toContain('left external-2 20 10');
  });

  test('both are used where nothing decides, and a prefix from inside is not taken from outside', () => {
    const even = campus()
      .router('a', '10.96.0.1', 0, { redistribution: [{ source: 'static', metric: 9 }] })
      .router('b', '10.96.0.2', 0, { redistribution: [{ source: 'static', metric: 9 }] })
      .router('m', '10.96.0.3', 0)
      .cable('a', 'm', '10.96.128.0', 0)
      .cable('b', 'm', '10.96.128.2', 0);
    for (const n of ['a', 'b'])
      even.port(n, 'out', n === 'a' ? '203.0.113.2/30' : '203.0.113.6/30', null).static(n, handedPrefix, n === 'a' ? '203.0.113.1' : '203.0.113.5');
    expect(exits(even.predict(), handedPrefix)[2]).toBe('m: a+b external-2 9 10 | They are equal, both are used.');
    const inside = even.port('m', 'lab', '198.51.100.1/24', 0, { passive: true }).predict();
    expect(exits(inside, handedPrefix)[2]).toContain('It has the prefix from inside');
  });
});

test('ways in, with metric, type, tag and how far they travel; the translator of an NSSA and who would follow', () => {
  const nssa = { 'area-type': 'nssa-area' };
  const net = campus()
    .router('core', '10.96.0.1', 0)
    .router('low', '10.96.0.2', 0)
    .router('high', '10.96.0.3', 0)
    .router('far', '10.99.0.1', 3, { redistribution: [{ source: 'static', metric: 7, tag: 44, 'metric-type': 'type-1' }] })
    .cable('core', 'low', '10.96.128.0', 0)
    .cable('core', 'high', '10.96.128.2', 0)
    .cable('low', 'far', '10.99.128.0', 3)
    .cable('high', 'far', '10.99.128.2', 3)
    .port('far', 'out', '203.0.113.2/30', null)
    .static('far', handedPrefix, '203.0.113.1');
  for (const r of ['low', 'high', 'far']) net.area(r, 3, nssa);
  const ways = (p: Prediction): string[] =>
    outsidePrefixes(p).flatMap((o) =>
      o.entrances.map(
        (e) => `${o.prefix} ${e.type} ${e.router} ${e.from} ${e.metric} ${e.metricType} tag ${e.tag} in ${e.area ?? 'all'} at ${e.holders}`,
      ),
    );
  const p = net.predict();
  expect(ways(p).sort()).toEqual([
    `${handedPrefix} 5 high translated 7 type-1 tag 44 in all at 3`,
    `${handedPrefix} 7 far static 7 type-1 tag 44 in 3 at 3`,
  ]);
  expect(nssaTranslators(p)).toEqual([
    {
      area: 3,
      translators: [
        { router: 'high', routerId: '10.96.0.3', always: false, translates: true },
        { router: 'low', routerId: '10.96.0.2', always: false, translates: false },
      ],
      why: 'It has the largest router id among the border routers that reach each other there.',
      next: 'low would follow.',
    },
  ]);
  const told = net.area('low', 3, { ...nssa, nssa: { 'translator-role': 'always' } }).predict();
  expect(
    nssaTranslators(told).map(
      (t) =>
        `${t.translators
          .filter((x) => x.translates)
          .map((x) => x.router)
          .join()} ${t.why} ${t.next}`,
    ),
  ).toEqual(['low It is told to translate always. high would follow once none of these is reached.']);
  const six = predictFor(6, documentsFor(6, net.documents()));
  expect(
    ways(six)
      .sort()
      .map((w) => w.split(' ').slice(0, 3).join(' ')),
  ).toEqual([`${prefixFor(6, handedPrefix)} 0x2007 far`, `${prefixFor(6, handedPrefix)} 0x4005 low`]);
});

test('what stands at each stub border, and redistribution that goes nowhere', () => {
  const p = twoExits()
    .ospf('end', { redistribution: [{ source: 'static', metric: 1 }] })
    .predict();
  expect(stubBorders(p).map((b) => `${b.area} ${b.router} ${b.says}`)).toEqual([
    '5 middle No type 5, summaries come in; a default by type 3 at cost 7.',
  ]);
  expect(silenced(p)).toEqual(['end']);
  expect(importing(p)).toEqual(['end', 'left', 'right']);
  expect(stubBorders(predict(sample('saltmarsh-point').design)).map((b) => `${b.kind} ${b.router}`)).toEqual(
    expect.arrayContaining(['stub drydock-1', 'totally-stubby tidepool-1', 'nssa petrel-1']),
  );
});

describe('the circle of two-point redistribution', () => {
  const seen = (net: Campus): string[] =>
    circles(net.predict()).map((c) => `${c.state}: ${c.steps.map((s) => `${s.from}>${s.to}`).join(' ')} ${c.why}`);

  test('closed: west believes east, and east has it from west', () => {
    expect(seen(twoPoints())).toEqual([
      'closed: west>east east>west west believes what east tells of it, and east has it from west: packets go round, and the prefix stays when its origin is gone.',
    ]);
  });

  test('open: the origin is better for now', () => {
    expect(seen(twoPoints({ into: { metric: 500, 'metric-type': 'type-2' } }))).toEqual([
      'open: west>east east>west west takes core instead. Without that it would believe east, and the prefix would go round.',
    ]);
  });

  test('ended by a tag, or by what is handed over', () => {
    const tagged = twoPoints({ over: { policy: ['mark'] }, into: { policy: ['refuse'] } });
    expect(seen(tagged.document('east', policies({ mark: [{ setTag: 77 }], refuse: [{ tags: [77], refuse: true }] })))).toEqual([
      'ended: west>east east>west The policy refuse of east refuses it: it comes with tag 77.',
    ]);
    const refused = twoPoints({ over: { policy: ['none'] } }).document('east', policies({ none: [{ refuse: true }] }));
    expect(seen(refused)).toEqual(['ended: west>east east>west The policy none keeps west from handing it over.']);
    expect(seen(twoPoints().ospf('east', { redistribution: [] }))).toEqual([]);
  });

  test('told in an NSSA it is heard through its translator; told where it is not heard, nothing goes round', () => {
    // East alone in an area of its own behind west: as an NSSA west reads its type 7 itself; in a stub area nothing comes out.
    const behind = (type: string): Campus => {
      const net = campus()
        .router('core', '10.96.0.1', 0, { redistribution: [{ source: 'static', metric: 20 }] })
        .router('west', '10.96.0.3', 0)
        .router('east', '10.97.0.2', 4, {
          'other-routes': [{ prefix: handedPrefix, preference: 90, 'next-hop': '10.96.200.1', 'learnt-from': 'west' }],
          redistribution: [{ source: 'other', metric: 5, 'metric-type': 'type-1' }],
        })
        .cable('core', 'west', '10.96.128.0', 0)
        .cable('west', 'east', '10.97.128.0', 4)
        .port('east', 'over', '10.96.200.2/30', null)
        .port('west', 'over', '10.96.200.1/30', null)
        .port('core', 'out', '203.0.113.2/30', null)
        .static('core', handedPrefix, '203.0.113.1');
      for (const r of ['west', 'east']) net.area(r, 4, { 'area-type': type });
      return net;
    };
    expect(circles(behind('nssa-area').predict()).map((c) => c.state)).toEqual(['closed']);
    expect(circles(behind('stub-area').predict())).toEqual([]);
  });

  test('over three routers: each hands on what the next one told OSPF', () => {
    const net = twoPoints()
      .router('south', '10.96.0.9', 0, {
        'other-routes': [{ prefix: handedPrefix, preference: 90, 'next-hop': '10.96.201.1', 'learnt-from': 'west' }],
        redistribution: [{ source: 'other', metric: 1, 'metric-type': 'type-1' }],
      })
      .cable('core', 'south', '10.96.128.4', 0, 1)
      .port('south', 'over', '10.96.201.2/30', null);
    expect(circles(net.predict()).map((c) => c.state)).toEqual(['open', 'closed']);
  });
});

test('every family of the sample campus: each entrance is held by somebody, and every exit names a rule', () => {
  for (const family of families) {
    const p = predict(sample('saltmarsh-point').design, [], { family });
    const outside = outsidePrefixes(p);
    expect(outside.length).toBeGreaterThan(0);
    for (const o of outside) {
      expect(o.entrances.every((e) => e.holders > 0)).toBe(true);
      const at = exits(p, o.prefix);
      expect(at.every((l) => l.endsWith('.'))).toBe(true);
    }
  }
});
