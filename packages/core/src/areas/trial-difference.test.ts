import { comparePredictions } from '../compare/compare';
import { applyEdits } from '../design/edit';
import { readEntry } from '../entry/entry';
import { designFrom } from '../formats/read-set';
import { generateCampus } from '../generate/generate-campus';
import { predict } from '../predict';
import { campus } from '../testing/campus';
import { trialDifference } from './trial-difference';

test('a large design is counted and not listed, to the same numbers; routers of the area are asked for their reach', () => {
  const documents = generateCampus({ routers: 160, areas: 4, seed: 7 });
  const p = predict(designFrom(documents).design);
  const area = p.routing.databases.find((d) => d.areaId !== 0)?.areaId ?? 0;
  for (const kind of ['totally-stubby', 'nssa', 'normal']) {
    const { plan } = readEntry(`set area-type ${kind} on area ${area}`, documents);
    if (!plan) continue;
    const after = p.edited(designFrom(applyEdits(documents, plan.edits)).design);
    const counted = trialDifference(p, after, area);
    const listed = comparePredictions(p, after);
    expect(counted.routes).toEqual({
      lost: listed.lost,
      gained: listed.gained,
      changed: listed.changed,
      routers: listed.routers.filter((r) => r.routes.length > 0).length,
    });
    expect(counted.asked).toBe(20);
    // Who is asked and loses reach loses it in the long list too.
    const long = new Map(listed.routers.map((r) => [r.router, r.outOfReach.length]));
    for (const r of counted.outOfReach) expect(long.get(r.router)).toBeGreaterThan(0);
  }
});

test('a small one is listed line by line, with who loses reach', () => {
  const net = (through: boolean) =>
    campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.97.0.1', 1)
      .cable('a', 'b', '10.97.128.0', 1)
      .port('a', 'lab', '10.96.9.1/24', through ? 0 : null, { passive: true });
  const d = trialDifference(net(true).predict(), net(false).predict(), 1);
  expect(d).toEqual({
    tables: [{ router: 'b', lost: 1, gained: 0, changed: 0 }],
    routes: { lost: 1, gained: 0, changed: 0, routers: 1 },
    outOfReach: [{ router: 'b', prefixes: ['10.96.9.0/24'] }],
    asked: undefined,
  });
});
