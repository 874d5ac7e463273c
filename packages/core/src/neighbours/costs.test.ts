import { campus } from '../testing/campus';
import { costsOf } from './costs';

const speed = (mbps: number) => ({ iface: { 'gentle-compass:bandwidth-mbps': mbps } });

test('both directions side by side, those that differ first; a reference that makes unlike links equal is told', () => {
  const c = campus()
    .router('auk', '10.96.0.1', 0)
    .router('crake', '10.96.0.2', 0)
    .router('dunlin', '10.96.0.3', 0)
    .cable('auk', 'crake', '10.97.0.0', 0, 20)
    .cable('crake', 'dunlin', '10.97.0.2', 0, [10, 30]);
  const { rows, references } = costsOf(c.predict());
  expect(rows.map((r) => [r.a.router, r.a.cost, r.b.router, r.b.cost, r.note])).toEqual([
    ['crake', 10, 'dunlin', 30, 'differs'],
    ['auk', 20, 'crake', 20, ''],
  ]);
  // All of these are written: no reference stands behind them.
  expect(references).toEqual([]);
  const auto = (mbps: number) => ({ 'auto-cost': { enabled: true, 'reference-bandwidth': mbps } });
  const d = campus().router('auk', '10.96.0.1', 0, auto(1000)).router('crake', '10.96.0.2', 0, auto(100_000));
  for (const [i, mbps] of [1000, 10_000].entries())
    d.port('auk', `x${i}`, `10.97.0.${2 * i}/31`, 0, { 'interface-type': 'point-to-point', ...speed(mbps) }).port(
      'crake',
      `y${i}`,
      `10.97.0.${2 * i + 1}/31`,
      0,
      {
        'interface-type': 'point-to-point',
        ...speed(mbps),
      },
    );
  const derived = costsOf(d.predict());
  expect(derived.rows.map((r) => [r.a.cost, r.b.cost, r.a.from])).toEqual([
    [1, 100, 'reference-bandwidth'],
    [1, 10, 'reference-bandwidth'],
  ]);
  expect(derived.references).toEqual([
    { mbps: 1000, routers: ['auk'], flat: [1000, 10_000] },
    { mbps: 100_000, routers: ['crake'], flat: [] },
  ]);
});
