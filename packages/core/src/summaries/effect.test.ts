import { campus } from '../testing/campus';
import { summaryEffect } from './effect';
import { predict } from '../predict';

test('eleven subnets as one: counted in both other areas, and table by table', () => {
  const c = campus()
    .router('core', '10.96.0.1', 0)
    .router('gate-1', '10.96.0.2', 0)
    .router('gate-2', '10.96.0.3', 0)
    .router('dune', '10.97.0.1', 1)
    .router('marsh', '10.98.0.1', 2)
    .cable('core', 'gate-1', '10.96.128.0', 0)
    .cable('core', 'gate-2', '10.96.128.2', 0)
    .cable('gate-1', 'dune', '10.97.128.0', 1)
    .cable('gate-2', 'marsh', '10.98.128.0', 2);
  for (let n = 1; n <= 11; n++) c.port('dune', `lab-${n}`, `10.97.${n}.1/24`, 1, { passive: true });
  const p = predict(c.read().design);
  const after = c.area('gate-1', 1, { ranges: { range: [{ prefix: '10.97.0.0/20' }] } }).read();
  const effect = summaryEffect(p, p.edited(after.design));
  // The loopback and eleven labs are one; the cable stays.
  expect(effect.advertisements).toEqual([
    { area: 0, type: 3, count: [15, 4], routers: 3 },
    { area: 2, type: 3, count: [18, 7], routers: 2 },
  ]);
  // core, gate-2 and marsh have one route for twelve; gate-1 has a discard route more.
  expect(effect.tables).toEqual([
    { router: 'core', lost: 12, gained: 1, changed: 0 },
    { router: 'gate-1', lost: 0, gained: 1, changed: 0 },
    { router: 'gate-2', lost: 12, gained: 1, changed: 0 },
    { router: 'marsh', lost: 12, gained: 1, changed: 0 },
  ]);
  expect(effect.routes).toEqual({ lost: 36, gained: 4, changed: 0, routers: 4 });
});

test('external summaries are counted among types 5', () => {
  const c = (ranges: readonly object[]) =>
    campus()
      .router('core', '10.96.0.1', 0)
      .router('gate', '10.96.0.2', 0, { redistribution: [{ source: 'static' }], 'external-ranges': ranges })
      .cable('core', 'gate', '10.96.128.0', 0)
      .static('gate', '198.51.100.0/26', 'blackhole')
      .static('gate', '198.51.100.64/26', 'blackhole')
      .read().design;
  const p = predict(c([]));
  expect(summaryEffect(p, p.edited(c([{ prefix: '198.51.100.0/24' }]))).advertisements).toEqual([
    { area: undefined, type: 5, count: [2, 1], routers: 2 },
  ]);
});
