import * as fc from 'fast-check';
import type { Expectation } from '../design/settings';
import { formatFailure } from '../failures/outage';
import { parseIpv4 } from '../prefix/ipv4';
import type { Prediction } from '../predict';
import { linkFailures, routerFailures } from '../failures/single-failures';
import { designFrom } from '../formats/read-set';
import { predictFamilies } from '../predict';
import { campus, type Campus } from '../testing/campus';
import { dual } from '../testing/dual';
import { mirrored, six } from '../testing/mirror';
import { campusOf, plans } from '../testing/random-campus';
import { checkExpectation, concerns } from './expectations';
import { fateFrom, fatesTo } from './fates';
import { Forwarding } from './forwarding';
import { trace, walk, type Walk } from './trace';

const ip = (text: string): number => parseIpv4(text) ?? 0;
const paths = (w: Walk): string[] => w.branches.map((b) => `${b.fate}: ${b.hops.map((h) => h.router).join(' ')}`).sort();

/** a and d with b and c between them at equal cost; a LAN of d; an exit at a. */
const diamond = (withDefault = true): Campus =>
  campus()
    .router('a', '10.96.0.1', 0, withDefault ? { 'default-route': { announce: 'always' } } : {})
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .router('d', '10.96.0.4', 0)
    .cable('a', 'b', '10.96.1.0', 0)
    .cable('a', 'c', '10.96.1.2', 0)
    .cable('b', 'd', '10.96.1.4', 0)
    .cable('c', 'd', '10.96.1.6', 0)
    .port('d', 'lab', '10.97.1.1/24', 0, { passive: true })
    .port('a', 'exit', '203.0.113.2/30', null)
    .static('a', '0.0.0.0/0', '203.0.113.1');
const of = (c: Campus, ...fail: string[]): Forwarding => new Forwarding(c.predict(fail));

describe('trace', () => {
  test('every equal way, hop by hop, and the way back', () => {
    const t = trace(of(diamond()), ip('10.96.0.1'), ip('10.97.1.77'));
    expect(paths(t.forward)).toEqual(['delivered: a b d', 'delivered: a c d']);
    expect(paths(t.return)).toEqual(['delivered: d b a', 'delivered: d c a']);
    expect(t.forward.branches[0]?.hops[0]).toMatchObject({ router: 'a', route: '10.97.1.0/24', outInterface: 'to-b', nextHop: ip('10.96.1.1') });
  });
  test('a default leads out of the design', () => {
    expect(trace(of(diamond()), ip('10.97.1.77'), ip('198.51.100.9')).forward.fate).toBe('leaves');
  });
  test('a host of a LAN starts at each of its gateways; where they end differently it is told', () => {
    const c = diamond().router('e', '10.96.0.5', null).port('e', 'lab', '10.97.1.2/24', null);
    const t = trace(of(c), ip('10.97.1.77'), ip('10.96.0.1'));
    expect(t.forward.fate).toBe('partly');
    expect(paths(t.forward)).toEqual(['delivered: d b a', 'delivered: d c a', 'dropped: e']);
    expect(paths(trace(of(c), ip('10.97.1.77'), ip('10.96.0.1'), 0).forward)).toEqual(['delivered: a']);
  });
  test('a hole in a summary ends at the discard route; a static discard, a downed interface and no route drop', () => {
    const c = diamond()
      .router('x', '10.98.0.9', 5)
      .cable('d', 'x', '10.98.1.0', 5)
      .area('d', 5, { ranges: { range: [{ prefix: '10.98.0.0/16' }] } })
      .static('b', '192.0.2.0/24', 'blackhole');
    const why = (f: Forwarding, at: number, to: string): string => walk(f, [at], ip(to)).branches[0]?.reason ?? '';
    expect(why(of(c), 0, '10.98.77.1')).toContain('d summarises 10.98.0.0/16');
    expect(why(of(c), 1, '192.0.2.7')).toContain('discards');
    expect(why(of(campus().router('z', '10.96.0.9', 0)), 0, '10.1.1.1')).toBe('z has no route that holds 10.1.1.1');
    // The cable is cut and a's port stays up: its static route stays too, and leads to nobody.
    const silent = diamond(false).static('a', '192.0.2.0/24', '10.96.1.1').links(['a/to-b b/to-a'], { 'gentle-compass:carrier-loss-seen': false });
    expect(why(of(silent), 0, '192.0.2.7')).toBe('b has no route that holds 192.0.2.7');
    expect(why(of(silent, 'link:a/to-b'), 0, '192.0.2.7')).toContain('is an interface that is down or cut off');
  });
  test('two routers that point at each other loop', () => {
    const c = campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .cable('a', 'b', '10.96.1.0', 0)
      .static('a', '192.0.2.0/24', '10.96.1.1')
      .static('b', '192.0.2.0/24', '10.96.1.0');
    const f = of(c);
    expect(paths(walk(f, [0], ip('192.0.2.1')))).toEqual(['looping: a b a']);
    expect([...fatesTo(f, ip('192.0.2.1'))]).toEqual([8, 8]);
  });
});

test('the fates of all routers at once are those of the traces, on random campuses', () => {
  fc.assert(
    fc.property(plans, (plan) => {
      const p: Prediction = campusOf(plan).predict();
      const f = new Forwarding(p);
      const targets = p.design.routers.flatMap((r) => r.interfaces.flatMap((i) => i.addresses.slice(0, 1).map((a) => a.bits))).slice(0, 14);
      for (const to of [...targets, ip('198.51.100.200')]) {
        const fates = fatesTo(f, to);
        p.design.routers.forEach((r, n) => {
          const w = walk(f, [n], to);
          if (!w.cut) expect({ router: r.name, to, fate: fateFrom(fates, [n]) }).toEqual({ router: r.name, to, fate: w.fate });
        });
      }
    }),
    { numRuns: 25, seed: 4711 },
  );
});

describe('expectations', () => {
  const expect1 = (c: Campus, e: object, ...fail: string[]) => {
    const p = c.settings({ expectation: [{ name: 'e', ...e }] }).predict(fail);
    return checkExpectation(new Forwarding(p), p.design.settings.expectations[0] as Expectation);
  };
  test('reach under any one link: it holds with two ways, and names the link where there is but one', () => {
    const kept = expect1(diamond(), { kind: 'reach', from: '10.97.1.77', to: '10.96.0.1', under: 'any-link' });
    expect([kept.holds, kept.tried]).toEqual([true, 4]);
    const weak = expect1(diamond().router('x', '10.96.0.9', 0).cable('d', 'x', '10.96.1.8', 0), {
      kind: 'reach',
      from: '10.96.0.9',
      to: '10.96.0.1',
      under: 'any-link',
    });
    expect([weak.holds, weak['broken-by']]).toEqual([false, ['link:d/to-x']]);
  });
  test('reach under any one router leaves its own ends out', () => {
    expect(expect1(diamond(), { kind: 'reach', from: '10.97.1.77', to: '10.96.0.1', under: 'any-router' })).toMatchObject({ holds: true, tried: 2 });
  });
  test('names stand for loopbacks, groups for all that belong to them; the pair that breaks it is told', () => {
    const labs = {
      group: [
        { name: 'labs', members: ['10.97.0.0/16', 'b'] },
        { name: 'all', members: ['area 0'] },
      ],
    };
    const grouped = (e: object, ...fail: string[]) => {
      const p = diamond()
        .settings({ ...labs, expectation: [{ name: 'e', ...e }] })
        .predict(fail);
      return checkExpectation(new Forwarding(p), p.design.settings.expectations[0] as Expectation);
    };
    expect(grouped({ kind: 'reach', from: 'a', to: 'd', under: 'any-link' })).toMatchObject({ holds: true, tried: 4 });
    // A host on d's LAN and b's loopback, against the four loopbacks: 2 x 4 pairs but b with itself.
    expect(grouped({ kind: 'reach', from: 'labs', to: 'all', under: 'any-router' })).toMatchObject({ holds: true, tried: 4 });
    const cut = grouped({ kind: 'reach', from: 'labs', to: 'all' }, 'router:a');
    expect(cut).toMatchObject({ holds: false, message: expect.stringContaining('(2 of 7 pairs)') as string });
    expect(cut.breach?.pair).toMatchObject({ to: '10.96.0.1' });
    expect(grouped({ kind: 'no-reach', from: 'labs', to: 'all' })).toMatchObject({
      holds: false,
      message: expect.stringContaining('(7 of 7 pairs)') as string,
    });
    expect(grouped({ kind: 'path', from: 'a', to: 'd', 'at-most-hops': 1 })).toMatchObject({ holds: false });
    expect(grouped({ kind: 'reach', from: 'a', to: 'nobody' }).message).toContain('no router and no group “nobody”');
  });
  test('an expectation by names is judged in each family that both ends have', () => {
    const tree = mirrored(
      diamond()
        .settings({ expectation: [{ name: 'e', kind: 'reach', from: 'a', to: 'd' }] })
        .documents(),
    );
    const judged = predictFamilies(designFrom(tree).design).flatMap((p) => {
      const [e] = p.design.settings.expectations;
      return e && concerns(e, p) ? [`${p.family} ${checkExpectation(new Forwarding(p), e).holds}`] : [];
    });
    expect(judged).toEqual(['4 true', '6 true']);
  });
  test('how many neighbours rest in a state, and of which kind a route is', () => {
    expect(expect1(diamond(), { kind: 'neighbours', router: 'a', count: 0, state: 'init' })).toMatchObject({ holds: true });
    expect(expect1(diamond(), { kind: 'neighbours', router: 'a', count: 1, state: 'init' }).message).toBe('a has 0 neighbours in init, not 1');
    expect(expect1(diamond(), { kind: 'route', router: 'a', prefix: '10.97.1.0/24', 'route-type': 'intra-area' }).holds).toBe(true);
    expect(expect1(diamond(), { kind: 'route', router: 'a', prefix: '10.97.1.0/24', 'route-type': 'inter-area' }).message).toContain(
      'is intra-area, not inter-area',
    );
  });
  test.each([
    ['no-reach', { kind: 'no-reach', from: '10.97.1.77', to: '10.99.0.1' }, { kind: 'no-reach', from: '10.97.1.77', to: '10.96.0.1' }],
    ['neighbours', { kind: 'neighbours', router: 'a', count: 2 }, { kind: 'neighbours', router: 'a', count: 3 }],
    ['route', { kind: 'route', router: 'b', prefix: '10.97.1.0/24', via: 'd' }, { kind: 'route', router: 'b', prefix: '10.97.1.0/24', via: 'a' }],
    [
      'no route',
      { kind: 'route', router: 'b', prefix: '10.99.1.0/24', present: false },
      { kind: 'route', router: 'b', prefix: '10.97.1.0/24', present: false },
    ],
    ['advertisements', { kind: 'advertisements', area: 0, type: 1, 'at-most': 4 }, { kind: 'advertisements', area: 0, type: 1, 'at-most': 3 }],
    ['no-external', { kind: 'no-external', area: 9 }, { kind: 'no-external', area: 0 }],
    ['no router of that name', { kind: 'neighbours', router: 'x', count: 1 }, { kind: 'neighbours', router: 'nobody', count: 0 }],
    ['no area of that id', { kind: 'advertisements', area: 9, type: 5, 'at-most': 0 }, { kind: 'advertisements', area: 7, type: 5, 'at-most': 0 }],
    ['no external in no area', { kind: 'no-external', area: 9 }, { kind: 'no-external', area: 7 }],
    ['a source that is nowhere', { kind: 'no-reach', from: '10.97.1.77', to: '10.99.0.1' }, { kind: 'no-reach', from: '10.95.0.1', to: '10.99.0.1' }],
  ])('%s', (_, good, bad) => {
    const c = diamond(good.kind !== 'no-reach');
    if (('area' in good && good.area === 9) || ('router' in good && good.router === 'x')) {
      c.router('x', '10.98.0.9', 9).cable('d', 'x', '10.98.1.0', 9);
      for (const r of ['d', 'x']) c.area(r, 9, { 'area-type': 'stub-area' });
    }
    expect(expect1(c, good).holds).toBe(true);
    expect(expect1(c, bad).holds).toBe(false);
  });
  test('under one failure that is named, or any shared-risk group; one that the design does not know is told', () => {
    const e = { kind: 'reach', from: '10.97.1.77', to: '10.96.0.1' };
    expect(expect1(diamond(), { ...e, under: 'router:b' })).toMatchObject({ holds: true, tried: 1 });
    const weak = expect1(diamond().router('x', '10.96.0.9', 0).cable('d', 'x', '10.96.1.8', 0), { ...e, from: '10.96.0.9', under: 'link:d/to-x' });
    expect([weak.holds, weak['broken-by']]).toEqual([false, ['link:d/to-x']]);
    expect(expect1(diamond(), { ...e, under: 'router:nobody' })).toMatchObject({ holds: false, tried: 0 });
    expect(expect1(diamond(), { ...e, under: 'link:b' }).message).toContain('lacks the interface');
    const ducts = diamond().links(['a/to-b b/to-a', 'a/to-c c/to-a'], {}, [{ name: 'duct', member: ['link:a/to-b', 'link:a/to-c'] }]);
    const cut = expect1(ducts, { ...e, under: 'any-group' });
    expect([cut.holds, cut['broken-by']]).toEqual([false, ['group:duct']]);
  });
  test('a destination outside is left for by a named exit', () => {
    const c = (exit: string) => expect1(diamond(), { kind: 'reach', from: '10.97.1.77', to: '203.0.113.7', 'leaves-by': exit });
    expect(c('a/exit').message).toBe('holds');
    expect(c('a/other').message).toBe('10.97.1.77 to 203.0.113.7 is to leave by a/other, and leaves by a/exit');
    expect(c('nobody/world').message).toBe('there is no router nobody in this design');
  });
  test.each([
    ['by a router on every way', { through: ['b'] }, false],
    ['by the ends', { through: ['a', 'd'] }, true],
    ['not by a router', { avoids: ['c'] }, false],
    ['within so many hops', { 'at-most-hops': 2 }, true],
    ['within fewer', { 'at-most-hops': 1 }, false],
    ['within a cost', { 'at-most-cost': 20 }, true],
    ['within less', { 'at-most-cost': 19 }, false],
    ['the same way back', { symmetric: true }, true],
  ])('path: %s', (_, more, holds) => {
    expect(expect1(diamond(), { kind: 'path', from: '10.96.0.1', to: '10.96.0.4', ...more }).holds).toBe(holds);
  });
  test('path: a way back by other routers is no symmetric one', () => {
    const c = campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .router('c', '10.96.0.3', 0)
      .router('d', '10.96.0.4', 0)
      .cable('a', 'b', '10.96.1.0', 0, [1, 9])
      .cable('b', 'd', '10.96.1.2', 0, 1)
      .cable('a', 'c', '10.96.1.4', 0, 2)
      .cable('c', 'd', '10.96.1.6', 0, 2);
    const e = { kind: 'path', from: '10.96.0.1', to: '10.96.0.4' };
    expect(expect1(c, { ...e, symmetric: true }).message).toContain('there and back go by other routers');
    expect(expect1(c, e).holds).toBe(true);
  });
  test('table, area, session', () => {
    expect(expect1(diamond(), { kind: 'table', router: 'a', 'at-most': 100 }).holds).toBe(true);
    expect(expect1(diamond(), { kind: 'table', router: 'a', 'at-most': 3 }).message).toMatch(/^a has \d+ routes, more than 3$/);
    const stub = (summary: boolean) => {
      const c = diamond().router('x', '10.98.0.9', 9).cable('d', 'x', '10.98.1.0', 9).area('x', 9, { 'area-type': 'stub-area' });
      return c.area('d', 9, { 'area-type': 'stub-area', summary });
    };
    expect(expect1(stub(false), { kind: 'area', area: 9, type: 'totally-stubby' }).holds).toBe(true);
    expect(expect1(stub(true), { kind: 'area', area: 9, type: 'stub' }).holds).toBe(true);
    expect(expect1(stub(true), { kind: 'area', area: 9, type: 'totally-stubby' }).message).toBe('area 0.0.0.9 is stub in d, not totally-stubby');
    expect(expect1(diamond(), { kind: 'session', from: 'a', to: 'd', under: 'any-router' })).toMatchObject({ holds: true, tried: 2 });
    const cut = expect1(diamond(), { kind: 'session', from: 'a', to: 'd' }, 'link:a/to-b', 'link:a/to-c');
    expect(cut.holds).toBe(false);
  });
  test('who leads a LAN', () => {
    const lan = campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .router('c', '10.96.0.3', 0)
      .lan('hall', '10.97.1.0/24', 0, [['a', { priority: 9 }], 'b', 'c']);
    expect(expect1(lan, { kind: 'leader', router: 'a', interface: 'hall' }).holds).toBe(true);
    expect(expect1(lan, { kind: 'leader', router: 'c', interface: 'hall', role: 'bdr' }).holds).toBe(true);
    expect(expect1(lan, { kind: 'leader', router: 'b', interface: 'hall' }).message).toBe('b is not designated router on hall: a is');
  });
  test('a summary is seen everywhere and its parts nowhere', () => {
    const c = diamond().router('x', '10.98.0.9', 5).cable('d', 'x', '10.98.1.0', 5);
    const e = { kind: 'summary', prefix: '10.98.0.0/16' };
    expect(expect1(c, e).message).toContain('not seen by a, b, c; its parts are seen by a');
    expect(expect1(c.area('d', 5, { ranges: { range: [{ prefix: '10.98.0.0/16' }] } }), e).holds).toBe(true);
  });
});

describe('the families that an expectation is about', () => {
  const both = dual(diamond(), { b: (r) => Object.assign(r.port('to-a'), { cost: 99 }) });
  const judged = (e: Record<string, unknown>, c: Campus = both): string[] => {
    const read = designFrom([...c.documents(), { file: 's.json', tree: { 'gentle-compass:settings': { expectation: [{ name: 'so', ...e }] } } }]);
    return predictFamilies(read.design).flatMap((p) =>
      read.design.settings.expectations.filter((x) => concerns(x, p)).map((x) => `${p.family} ${checkExpectation(new Forwarding(p), x).message}`),
    );
  };
  const only = dual(diamond(), { d: (r) => (r.three.areas.area = []) });

  test.each<[string, Record<string, unknown>, string[]]>([
    ['routers by name', { kind: 'session', from: 'a', to: 'd' }, ['4 holds', '6 holds']],
    ['one of them', { kind: 'session', from: 'a', to: 'd', family: 6 }, ['6 holds']],
    ['addresses', { kind: 'reach', from: six('10.96.0.1'), to: six('10.97.1.77') }, ['6 holds']],
    ['a prefix', { kind: 'route', router: 'a', prefix: '10.97.1.0/24' }, ['4 holds']],
    ['an area', { kind: 'area', area: '0.0.0.0', type: 'normal' }, ['4 holds', '6 holds']],
    ['neighbours', { kind: 'neighbours', router: 'a', count: 2 }, ['4 holds', '6 holds']],
    ['nobody', { kind: 'neighbours', router: 'nobody', count: 2 }, ['4 there is no router nobody in this design']],
  ])('%s', (_, e, words) => expect(judged(e)).toEqual(words));

  test('a router that runs one of them is asked about that one', () => {
    const four = dual(diamond(), {})
      .documents()
      .filter((d) => d.file !== 'd.json');
    const alone = diamond()
      .documents()
      .filter((d) => d.file === 'd.json');
    const read = designFrom([...four, ...alone]);
    const [v4, v6] = predictFamilies(read.design);
    const e = { kind: 'session', name: 'so', from: 'a', to: 'd', under: 'normal' } as unknown as Expectation;
    expect([v4, v6].map((p) => p && concerns(e, p))).toEqual([true, false]);
    expect(judged({ kind: 'neighbours', router: 'd', count: 2 }, only)).toEqual(['4 holds', '6 d has 0 full neighbours, not 2']);
  });
});

test('single failures: each cable once, each LAN attachment, each router', () => {
  const p = diamond().lan('hall', '10.97.9.0/24', 0, ['a', 'b', 'c']).predict();
  expect(linkFailures(p).map(formatFailure)).toEqual([
    'link:a/to-b',
    'link:a/to-c',
    'link:a/hall',
    'link:b/hall',
    'link:c/hall',
    'link:b/to-d',
    'link:c/to-d',
  ]);
  expect(routerFailures(p)).toHaveLength(4);
});
