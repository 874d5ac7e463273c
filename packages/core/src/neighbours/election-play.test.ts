import fc from 'fast-check';
import { campus, leadersOf, type Campus } from '../testing/campus';
import type { Prediction } from '../predict';
import { aloneOn } from './alone';
import { ElectionPlay, ladderOf, tryWish, type PlayStep } from './election-play';

const name = (i: number): string => `r${i + 1}`;

/** A LAN of routers r1, r2, … with these priorities, and a far router behind r1 that is not on it. */
const lan = (priorities: readonly number[], more: Record<string, unknown> = {}): Campus =>
  priorities
    .reduce((c, _, i) => c.router(name(i), `10.96.0.${i + 1}`, 0), campus())
    .router('far', '10.96.0.99', 0)
    .cable('r1', 'far', '10.98.0.0', 0)
    .lan(
      'reef',
      '10.97.1.0/24',
      0,
      priorities.map((priority, i) => [name(i), { priority, ...more }] as const),
    );

function playOf(p: Prediction): ElectionPlay {
  const alone = aloneOn(p, reef(p));
  if (!alone) throw new RangeError('no segment');
  return new ElectionPlay(alone);
}

const reef = (p: Prediction): number => {
  const r = p.routerIndex('r1');
  return p.segments.at(r, p.design.routers[r]?.interfaces.findIndex((i) => i.name === 'reef') ?? -1);
};

const start = (...routers: string[]): PlayStep => ({ kind: 'start', routers });
const lose = (...routers: string[]): PlayStep => ({ kind: 'lose', routers });

test('the ladder: priority, then router id; who is barred comes last and says why', () => {
  const c = lan([1, 5, 0, 5]).ospf('r1', {});
  const p = c.predict();
  const alone = aloneOn(p, reef(p));
  expect(alone && ladderOf(alone).map((r) => [r.router, r.priority, r.barred])).toEqual([
    ['r4', 5, undefined],
    ['r2', 5, undefined],
    ['r1', 1, undefined],
    ['r3', 0, 'priority 0: never elected'],
  ]);
});

test('by hand: a late joiner of the highest priority waits; a loss, a return, two lost together', () => {
  const p = lan([1, 2, 9, 0]).predict();
  const stands = playOf(p).play([start('r1', 'r2', 'r4'), start('r3'), lose('r2'), start('r2'), lose('r1', 'r3'), lose('r2'), start('r1')]);
  expect(stands.map((s) => `${s.dr ?? '-'} ${s.bdr ?? '-'} next ${s.next.dr ?? '-'} ${s.next.bdr ?? '-'}`)).toEqual([
    'r2 r1 next r1 -',
    'r2 r1 next r1 r3',
    'r1 r3 next r3 -',
    'r1 r3 next r3 r2',
    'r2 - next - -',
    '- - next - -',
    'r1 - next - -',
  ]);
  // r4 never leads: full with leaders alone.
  const four = stands[1]?.pairs.filter((x) => x.a === 'r4' || x.b === 'r4').map((x) => [x.a === 'r4' ? x.b : x.a, x.aState]);
  expect(four?.sort()).toEqual([
    ['r1', 'full'],
    ['r2', 'full'],
    ['r3', '2-way'],
  ]);
  expect(stands.every((s) => s.apart.length === 0)).toBe(true);
});

test('any play ends as the rule says: who leads goes on, the backup takes over, the best of the others becomes backup', () => {
  const priorities = fc.array(fc.nat(2), { minLength: 2, maxLength: 6 });
  const moves = fc.array(fc.tuple(fc.boolean(), fc.uniqueArray(fc.nat(5), { minLength: 1, maxLength: 3 })), { minLength: 1, maxLength: 7 });
  fc.assert(
    fc.property(priorities, moves, (list, raw) => {
      const merit = list
        .map((_, i) => i)
        .filter((i) => (list[i] ?? 0) > 0)
        .sort((a, b) => (list[b] ?? 0) - (list[a] ?? 0) || b - a);
      const here = new Set<number>();
      let [dr, bdr] = [-1, -1];
      const wanted: string[] = [];
      const steps = raw.map(([comes, who]): PlayStep => {
        const places = [...new Set(who.map((w) => w % list.length))];
        for (const i of places)
          if (comes) here.add(i);
          else here.delete(i);
        if (!here.has(dr)) dr = -1;
        if (!here.has(bdr)) bdr = -1;
        if (dr < 0) [dr, bdr] = [bdr, -1];
        const best = (not: number): number => merit.find((i) => here.has(i) && i !== not) ?? -1;
        // With nobody leading the best is first backup and rises (§9.4 step 3), then another one is chosen.
        if (dr < 0) dr = best(-1);
        if (bdr < 0) bdr = best(dr);
        wanted.push(`${dr < 0 ? '-' : name(dr)} ${bdr < 0 ? '-' : name(bdr)}`);
        return { kind: comes ? 'start' : 'lose', routers: places.map(name) };
      });
      expect(
        playOf(lan(list).predict())
          .play(steps)
          .map((s) => `${s.dr ?? '-'} ${s.bdr ?? '-'}`),
      ).toEqual(wanted);
    }),
    { numRuns: 150, seed: 23 },
  );
});

test('a play of one loss is the failure of the whole network', () => {
  const c = lan([3, 2, 2, 1]);
  for (const lost of ['r1', 'r2', 'r3', 'r4']) {
    const failed = c.predict([`interface:${lost}/reef`]);
    const [, stand] = playOf(c.predict()).play([start('r1', 'r2', 'r3', 'r4'), lose(lost)]);
    expect(leadersOf(failed, lost === 'r1' ? 'r2' : 'r1', 'reef')).toBe(`${stand?.dr ?? '-'}/${stand?.bdr ?? '-'}`);
  }
});

test('a wish breaks by an order of start that is named, unless nobody else can be elected', () => {
  const open = tryWish(playOf(lan([9, 1, 1]).predict()), { router: 'r1', role: 'dr' });
  expect(open).toMatchObject({ together: true, breaks: [start('r2'), start('r1', 'r3')], instead: 'r2', all: true });
  const sure = tryWish(playOf(lan([9, 0, 0, 0, 0]).predict()), { router: 'r1', role: 'dr' });
  expect(sure).toMatchObject({ together: true, breaks: undefined, all: true });
  expect(sure.tried).toBeGreaterThan(120);
  // A backup of two that may lead: whoever is first leads.
  expect(tryWish(playOf(lan([9, 5, 0]).predict()), { router: 'r2', role: 'bdr' })).toMatchObject({
    together: true,
    instead: 'r1',
    breaks: [start('r2'), start('r1', 'r3')],
  });
  expect(tryWish(playOf(lan([1, 5, 0]).predict()), { router: 'r1', role: 'dr' })).toMatchObject({ together: false, instead: 'r2', tried: 1 });
});

test('a LAN of many with one that can be elected is settled by a few plays', () => {
  const many = tryWish(playOf(lan([1, ...Array.from({ length: 40 }, () => 0)]).predict()), { router: 'r1', role: 'dr' });
  expect(many).toMatchObject({ together: true, breaks: undefined, all: false });
  expect(many.tried).toBeLessThan(5);
});

test('on a hub and spoke network only the hub leads, whoever starts first; a spoke that may lead breaks that', () => {
  const listed = { neighbor: [{ identifier: '10.97.1.2' }, { identifier: '10.97.1.3' }] };
  const star = (spoke: number): Prediction =>
    ['r1', 'r2', 'r3']
      .reduce((c, n, i) => c.router(n, `10.96.0.${i + 1}`, 0), campus())
      .lan('reef', '10.97.1.0/24', 0, [
        ['r1', { priority: 1, 'interface-type': 'non-broadcast', 'static-neighbors': listed }],
        [
          'r2',
          {
            priority: spoke,
            'interface-type': 'non-broadcast',
            ...(spoke > 0 && { 'static-neighbors': { neighbor: [{ identifier: '10.97.1.1' }] } }),
          },
        ],
        ['r3', { priority: 0, 'interface-type': 'non-broadcast' }],
      ])
      .predict();
  expect(tryWish(playOf(star(0)), { router: 'r1', role: 'dr' }).breaks).toBeUndefined();
  expect(tryWish(playOf(star(1)), { router: 'r1', role: 'dr' }).breaks).toBeDefined();
});
