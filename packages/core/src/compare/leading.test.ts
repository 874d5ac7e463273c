import { campus, type Campus } from '../testing/campus';
import { comparePredictions } from './compare';
import { leadingWords, type ElectionChange } from './leading';

const words = (list: readonly ElectionChange[]): string[] => list.map((e) => `${e.name}: ${leadingWords(e.before)} -> ${leadingWords(e.after)}`);

/** Three routers on a LAN; a leads by its priority. */
const hall = (priority = 9): Campus =>
  campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .lan('hall', '10.97.1.0/24', 0, [['a', { priority }], 'b', 'c']);

test('a leader lost: the backup leads, and the last one is its backup', () => {
  const base = hall().predict();
  expect(words(comparePredictions(base, base.fail({ kind: 'router', router: 'a' })).elections)).toEqual(['10.97.1.0/24: a, backup c -> c, backup b']);
  expect(words(comparePredictions(base, base.fail({ kind: 'link', router: 'b', iface: 'hall' })).elections)).toEqual([]);
});

test('a priority that is changed in the design: who would lead after a cold start', () => {
  expect(words(comparePredictions(hall().predict(), hall(0).predict()).elections)).toEqual(['10.97.1.0/24: a, backup c -> c, backup b']);
  expect(comparePredictions(hall().predict(), hall().predict()).elections).toEqual([]);
});

test('two that do not hear each other both lead, and it is said so', () => {
  const pair = (hello: number): Campus =>
    campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .lan('hall', '10.97.1.0/24', 0, [['a', { 'hello-interval': hello }], 'b']);
  expect(words(comparePredictions(pair(10).predict(), pair(5).predict()).elections)).toEqual(['10.97.1.0/24: b, backup a -> a and b both']);
});

test('another router id is told with those who notice: its neighbours, and who names the old one in a virtual link', () => {
  const c = (id: string): Campus =>
    campus()
      .router('a', id, 0)
      .router('b', '10.96.0.2', 0)
      .router('d', '10.97.0.4', 1)
      .cable('a', 'b', '10.96.1.0', 0)
      .cable('b', 'd', '10.97.1.0', 1)
      .area('d', 0, { 'virtual-links': { 'virtual-link': [{ 'transit-area-id': '0.0.0.1', 'router-id': '10.96.0.1' }] } });
  expect(comparePredictions(c('10.96.0.1').predict(), c('10.96.0.9').predict()).routerIds).toEqual([
    { router: 'a', process: 'campus', before: '10.96.0.1', after: '10.96.0.9', noticed: ['b', 'd'] },
  ]);
});
