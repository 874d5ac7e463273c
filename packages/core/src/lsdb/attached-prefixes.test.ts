import { prefixBook } from '../prefix/prefix-book';
import { campus, type Campus } from '../testing/campus';
import type { AreaGraph } from './area-graph';
import { eachAttached, originOf } from './attached-prefixes';

function graphOf(c: Campus): AreaGraph {
  const [db] = c.predict().routing.databases;
  if (!db) throw new RangeError('no database');
  return db.graph;
}

test('what is attached to whom: transit networks by descending link state id, then stub links with the place of their link', () => {
  const c = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .lan('reef', '10.97.1.0/24', 0, ['a', 'b'])
    .lan('weir', '10.97.2.0/24', 0, ['a', 'b'])
    .lan('pond', '10.97.3.0/24', 0, ['b']);
  const graph = graphOf(c);
  const found: string[] = [];
  eachAttached(graph, (v, id, cost, link) => {
    const lsa = originOf(graph, v);
    const from = link < 0 ? 'transit' : graph.routers[v]?.links[link]?.kind;
    found.push(
      `${lsa?.type ?? 0} ${v < graph.routers.length ? (graph.routers[v]?.adv ?? 0) & 0xff : '-'} ${prefixBook.text(id)} ${cost} ${from ?? ''}`,
    );
  });
  expect(found).toEqual([
    '2 - 10.97.2.0/24 0 transit',
    '2 - 10.97.1.0/24 0 transit',
    '1 1 10.96.0.1/32 0 stub',
    '1 2 10.96.0.2/32 0 stub',
    '1 2 10.97.3.0/24 10 stub',
  ]);
});

test('a hidden transit network is attached to nobody (RFC 6860 §2.2.2)', () => {
  const c = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .lan('reef', '10.97.1.0/24', 0, ['a', 'b'], { 'prefix-suppression': true });

  const found: string[] = [];
  eachAttached(graphOf(c), (_, id) => found.push(prefixBook.text(id)));
  expect(found).not.toContain('10.97.1.0/24');
  expect(found).toContain('10.96.0.1/32');
});
