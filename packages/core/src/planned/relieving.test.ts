import { applyEdits } from '../design/edit';
import type { Demand } from '../design/settings';
import { readEntry } from '../entry/entry';
import { designFrom } from '../formats/read-set';
import { isOver, loadsOf } from '../loads/loads';
import { predict } from '../predict';
import { campus } from '../testing/campus';
import { relieve } from './relieving';

/** a to d by b (20) or by c (24); every cable carries 100 Mbit/s. */
function net(): ReturnType<ReturnType<typeof campus>['read']> {
  const c = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .router('d', '10.96.0.4', 0)
    .cable('a', 'b', '10.96.1.0', 0, 10)
    .cable('b', 'd', '10.96.1.2', 0, 10)
    .cable('a', 'c', '10.96.1.4', 0, 12)
    .cable('c', 'd', '10.96.1.6', 0, 12);
  const documents = c
    .documents()
    .map((d) => JSON.parse(JSON.stringify(d).replaceAll('"name":"to-', '"gentle-compass:bandwidth-mbps":100,"name":"to-')) as typeof d);
  return designFrom(documents);
}
const demand = (from: string, to: string, mbps: number): Demand => ({ file: '', at: [], from, to, mbps });

test('counted by hand: the least cost at which both ways share', () => {
  const { design, documents } = net();
  const p = predict(design);
  const demands = [demand('a', 'd', 150)];
  const over = loadsOf([p], demands).links.filter(isOver);
  expect(over.map((l) => [l.router, l.iface, l.mbps])).toEqual([
    ['a', 'to-b', 150],
    ['b', 'to-d', 150],
  ]);
  // By b 10 + 10, by c 12 + 12: at 14 both cost 24, and each takes 75.
  const relief = over[0] && relieve([p], documents, demands, over[0]);
  expect(relief).toMatchObject({ cost: 14, mbps: 75, over: 0, line: 'set cost 14 on a/to-b' });
  const after = predict(designFrom(applyEdits(documents, relief?.edits ?? [])).design);
  expect(loadsOf([after], demands).links.filter(isOver)).toEqual([]);
});

test('what no cost can relieve is not promised', () => {
  const { design, documents } = net();
  const p = predict(design);
  const demands = [demand('a', 'b', 300)];
  const [over] = loadsOf([p], demands).links.filter(isOver);
  // At any cost that moves it, it is over capacity by c and d.
  expect(over && relieve([p], documents, demands, over)).toBeUndefined();
});

test('traffic that is lost already does not stand in the way; what would be lost by it does', () => {
  const { design, documents } = net();
  const p = predict(design);
  const demands = [demand('a', 'd', 150), { ...demand('a', 'd', 5), to: 0xc6336401 }];
  const before = loadsOf([p], demands);
  expect(before.lost).toBe(5);
  const [over] = before.links.filter(isOver);
  expect(over && relieve([p], documents, demands, over)).toMatchObject({ cost: 14, over: 0 });
});

test('a cost that relieves a link by losing its traffic is none', () => {
  // t hangs on g1 alone; g2 tells of the same range, since it has another subnet of it, and discards what it has no way to.
  const c = campus()
    .router('a', '10.96.0.1', 0)
    .router('g1', '10.96.0.2', 0)
    .router('g2', '10.96.0.3', 0)
    .router('t', '10.97.0.4', 10)
    .cable('a', 'g1', '10.96.1.0', 0, 10)
    .cable('a', 'g2', '10.96.1.2', 0, 40)
    .cable('g1', 't', '10.97.1.0', 10, 10)
    .port('g2', 'labs', '10.97.9.1/24', 10, { passive: true, cost: 10 })
    .area('g1', 10, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } })
    .area('g2', 10, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } });
  const { design, documents } = designFrom(
    c
      .documents()
      .map((d) => JSON.parse(JSON.stringify(d).replaceAll('"name":"to-g1"', '"gentle-compass:bandwidth-mbps":100,"name":"to-g1"')) as typeof d),
  );
  const p = predict(design);
  const demands = [demand('a', 't', 150)];
  const over = loadsOf([p], demands).links.find((l) => l.router === 'a' && l.iface === 'to-g1');
  expect(over && isOver(over)).toBe(true);
  // At 60 and more all of it goes to g2: nothing is over then, and nothing arrives.
  const dear = designFrom(applyEdits(documents, readEntry('set cost 60 on a/to-g1', documents).plan?.edits ?? [])).design;
  expect(loadsOf([predict(dear)], demands)).toMatchObject({ lost: 150 });
  expect(over && relieve([p], documents, demands, over)).toBeUndefined();
});
