import { campus } from '../testing/campus';

test('an area that hangs together through the backbone alone has a database for each of its parts', () => {
  const p = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .cable('a', 'b', '10.97.0.0', 0)
    .port('a', 'users', '10.97.1.1/24', 1, { passive: true })
    .port('b', 'users', '10.97.2.1/24', 1, { passive: true })
    .predict();
  expect(p.routing.databases.map((db) => [db.areaId, db.speakers])).toEqual([
    [0, [0, 1]],
    [1, [0]],
    [1, [1]],
  ]);
});

test('routers on one wire that the topology does not join are no pair', () => {
  const three = campus().router('a', '10.96.0.1').router('b', '10.96.0.2').router('c', '10.96.0.3');
  ['a', 'b', 'c'].forEach((name, i) => three.port(name, 'x', `10.97.1.${i + 1}/24`, 0, { 'interface-type': 'point-to-multipoint' }));
  const pairs = three
    .links(['a/x b/x', 'b/x c/x'])
    .predict()
    .adjacencies.pairs.map((x) => [x.a.port.routerIndex, x.b.port.routerIndex]);
  expect(pairs).toEqual([
    [0, 1],
    [1, 2],
  ]);
});
