import { formatPrefix } from '../prefix/address';
import { campus } from '../testing/campus';
import { comparePredictions } from './compare';
import { foldings } from './folded';

const network = (ranges: readonly object[]) => {
  const c = campus()
    .router('core', '10.96.0.1', 0)
    .router('gate', '10.96.0.2', 0)
    .router('dune', '10.97.0.1', 1)
    .cable('core', 'gate', '10.96.128.0', 0)
    .cable('gate', 'dune', '10.97.128.0', 1)
    .area('gate', 1, { ranges: { range: ranges } });
  for (const n of [1, 2, 9]) c.port('dune', `lab-${n}`, `10.97.${n}.1/24`, 1, { passive: true });
  return c.predict();
};
const words = (before: ReturnType<typeof network>, after: ReturnType<typeof network>): string[] =>
  foldings(comparePredictions(before, after).routers.find((r) => r.router === 'core')?.routes ?? []).map(
    (f) => `${f.folded ? 'folded' : 'unfolded'} ${formatPrefix(f.whole)}: ${f.parts.map(formatPrefix).join(', ')}`,
  );

test('many lines that became one are told with it, and one that became many', () => {
  const [apart, folded] = [network([]), network([{ prefix: '10.97.0.0/22' }])];
  expect(words(apart, folded)).toEqual(['folded 10.97.0.0/22: 10.97.0.1/32, 10.97.1.0/24, 10.97.2.0/24']);
  expect(words(folded, apart)).toEqual(['unfolded 10.97.0.0/22: 10.97.0.1/32, 10.97.1.0/24, 10.97.2.0/24']);
});

test('of two summaries the narrower one stands for a part; what is only gone is no folding', () => {
  expect(words(network([]), network([{ prefix: '10.97.0.0/16' }, { prefix: '10.97.0.0/22' }]))).toEqual([
    'folded 10.97.0.0/22: 10.97.0.1/32, 10.97.1.0/24, 10.97.2.0/24',
    'folded 10.97.0.0/16: 10.97.9.0/24, 10.97.128.0/31',
  ]);
  expect(words(network([]), network([{ prefix: '10.97.0.0/22', advertise: false }]))).toEqual([]);
});
