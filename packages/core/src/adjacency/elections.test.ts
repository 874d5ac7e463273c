import fc from 'fast-check';
import { campus, leadersOf, statesOf, type Campus } from '../testing/campus';
import type { Prediction } from '../predict';

/** A LAN of routers r1, r2, … with these priorities. */
const lan = (priorities: readonly number[]): Campus =>
  priorities
    .reduce((c, _, i) => c.router(`r${i + 1}`, `10.96.0.${i + 1}`, 0), campus())
    .lan(
      'reef',
      '10.97.1.0/24',
      0,
      priorities.map((priority, i) => [`r${i + 1}`, { priority }] as const),
    );
const priorities = fc.array(fc.nat(3), { minLength: 2, maxLength: 7 });
const name = (i: number): string => (i < 0 ? '-' : `r${i + 1}`);

/** Places in order of merit: priority, then router id; those with priority 0 are left out. */
const merit = (list: readonly number[]): number[] =>
  list
    .map((_, i) => i)
    .filter((i) => (list[i] ?? 0) > 0)
    .sort((a, b) => (list[b] ?? 0) - (list[a] ?? 0) || b - a);

/** What every router that stands says of the leaders; one word when all agree. */
const said = (p: Prediction, list: readonly number[], gone: readonly number[] = []): string[] => [
  ...new Set(list.flatMap((_, i) => (gone.includes(i) ? [] : [leadersOf(p, name(i), 'reef')]))),
];

test('a cold start: everybody agrees on the best two by priority and router id', () => {
  fc.assert(
    fc.property(priorities, (list) => {
      const [first, second] = merit(list);
      expect(said(lan(list).predict(), list)).toEqual([`${name(first ?? -1)}/${name(second ?? -1)}`]);
    }),
    { numRuns: 80, seed: 4 },
  );
});

test('losses one after the other: who leads goes on leading, and the backup takes over from who is lost', () => {
  fc.assert(
    fc.property(priorities, fc.array(fc.nat(6), { maxLength: 4 }), (list, losses) => {
      const order = [...new Set(losses.map((n) => n % list.length))].slice(0, list.length - 1);
      let [dr, bdr] = [merit(list)[0] ?? -1, merit(list)[1] ?? -1];
      const gone: number[] = [];
      for (const lost of order) {
        gone.push(lost);
        const left = merit(list).filter((i) => !gone.includes(i));
        if (lost === dr) [dr, bdr] = [bdr, -1];
        if (lost === bdr) bdr = -1;
        if (bdr < 0) bdr = left.find((i) => i !== dr) ?? -1;
        if (dr < 0) [dr, bdr] = [bdr, left.find((i) => i !== bdr) ?? -1];
      }
      const p = lan(list).predict(order.map((i) => `router:${name(i)}`));
      expect(said(p, list, gone)).toEqual([`${name(dr)}/${name(bdr)}`]);
    }),
    { numRuns: 120, seed: 9 },
  );
});

test('started one by one, the first two that may lead do, whoever comes later', () => {
  fc.assert(
    fc.property(priorities, fc.nat(1000), (list, turn) => {
      const order = list.map((_, i) => i).sort((a, b) => ((a * 7 + turn) % 11) - ((b * 7 + turn) % 11) || a - b);
      const able = order.filter((i) => (list[i] ?? 0) > 0);
      const p = lan(list).predict([], { startOrder: order.map(name) });
      expect(said(p, list)).toEqual([`${name(able[0] ?? -1)}/${name(able[1] ?? -1)}`]);
    }),
    { numRuns: 80, seed: 2 },
  );
});

test('full with the leaders, 2-Way between all others', () => {
  fc.assert(
    fc.property(priorities, (list) => {
      const p = lan(list).predict();
      const leaders = merit(list).slice(0, 2);
      list.forEach((_, i) => {
        const wanted = list.flatMap((__, j) => (i === j ? [] : [`${name(j)} ${leaders.includes(i) || leaders.includes(j) ? 'full' : '2-way'}`]));
        expect(statesOf(p, name(i))).toEqual(wanted.sort());
      });
    }),
    { numRuns: 60, seed: 6 },
  );
});
