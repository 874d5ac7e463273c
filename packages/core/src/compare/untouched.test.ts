import * as fc from 'fast-check';
import { applyEdits } from '../design/edit';
import { parseFailure, type FailureSpec } from '../failures/outage';
import type { SourceDocument } from '../documents/documents';
import { readEntry } from '../entry/entry';
import { designFrom } from '../formats/read-set';
import { predict, type Prediction } from '../predict';
import { campus } from '../testing/campus';
import { campusOf, plans, type Plan } from '../testing/random-campus';
import { comparePredictions, compareTables, type RouteChange } from './compare';
import { countChanges } from './count-changes';
import { untouchedRouters } from './untouched';

const runs = { numRuns: 120, seed: 20_261_123, endOnFailure: true };

const tableWords = (p: Prediction, i: number): string =>
  p
    .rib(i)
    .map(
      (r) =>
        `${r.key} ${r.source} ${r.preference} ${r.route?.type ?? ''} ${r.route?.metric ?? ''} ${r.route?.forwardMetric ?? ''} ${r.hops.map((h) => `${h.iface} ${h.address ?? ''}`).join(',')}`,
    )
    .join('\n');

/** Two states of a random campus: as it is, and after a failure or an edit of one interface. */
const twoStates = fc.tuple(plans, fc.nat(), fc.nat(), fc.constantFrom('link', 'interface', 'router', 'cost', 'passive', 'interface-type'));
function statesOf(plan: Plan, which: number, where: number, how: string): [Prediction, Prediction] {
  const documents = campusOf(plan).documents();
  const before = designFrom(documents);
  const router = before.design.routers[which % plan.routers.length];
  const iface = router?.interfaces[where % router.interfaces.length];
  const now = predict(before.design);
  if (!router || !iface) return [now, now];
  if (how === 'link' || how === 'interface' || how === 'router') {
    const spec = parseFailure(how === 'router' ? `router:${router.name}` : `${how}:${router.name}/${iface.name}`) as FailureSpec;
    return [now, predict(before.design, [spec])];
  }
  const settings = router.instances.flatMap((o) => o.areas.flatMap((a) => a.interfaces)).find((i) => i.name === iface.name);
  if (!settings) return [now, now];
  const to = { cost: 77, passive: true, 'interface-type': 'point-to-point' }[how];
  const edited = applyEdits(documents, [{ router: router.name, file: router.file, at: [...settings.at, how], from: undefined, to }]);
  return [now, predict(designFrom(edited).design)];
}

test('a router that is called untouched has the very same table', () => {
  let untouched = 0;
  fc.assert(
    fc.property(twoStates, ([plan, which, where, how]) => {
      const [before, after] = statesOf(plan, which, where, how);
      for (const i of untouchedRouters(before, after)) {
        untouched++;
        expect({ how, router: after.design.routers[i]?.name, table: tableWords(after, i) }).toEqual({
          how,
          router: after.design.routers[i]?.name,
          table: tableWords(before, i),
        });
      }
    }),
    runs,
  );
  expect(untouched).toBeGreaterThan(100);
});

test('a comparison that leaves untouched routers out says what a comparison of all tables says', () => {
  fc.assert(
    fc.property(twoStates, ([plan, which, where, how]) => {
      const [before, after] = statesOf(plan, which, where, how);
      const alive = new Set(
        after.design.routers.flatMap((_, i) => (after.outage.routers.has(i) ? [] : after.rib(i).flatMap((r) => (r.hops.length > 0 ? [r.key] : [])))),
      );
      const all = after.design.routers.flatMap((r, i) => {
        if (after.outage.routers.has(i)) return [{ router: r.name, routes: [] as ReturnType<typeof compareTables> }];
        const routes = compareTables(before.rib(i), after.rib(i), (key) => alive.has(key));
        return routes.length > 0 ? [{ router: r.name, routes }] : [];
      });
      // Where packets end is looked at elsewhere.
      const bare = (routes: readonly RouteChange[]): object[] => routes.map((r) => ({ ...r, unreachable: undefined }));
      const quick = comparePredictions(before, after).routers.flatMap(({ router, gone, routes }) =>
        gone || routes.length > 0 ? [{ router, routes: bare(routes) }] : [],
      );
      const wanted = all.map(({ router, routes }) => ({ router, routes: bare(routes) }));
      expect(quick).toEqual(wanted.sort((x, y) => (x.router < y.router ? -1 : 1)));
    }),
    { ...runs, numRuns: 80 },
  );
});

test('behind a summary of fixed cost, nobody outside is touched by what happens inside', () => {
  const c = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('d', '10.97.0.4', 1)
    .router('e', '10.97.0.5', 1)
    .cable('a', 'b', '10.96.1.0', 0)
    .cable('b', 'd', '10.97.2.0', 1)
    .cable('b', 'e', '10.97.2.2', 1)
    .cable('d', 'e', '10.97.2.4', 1)
    .area('b', 1, { ranges: { range: [{ prefix: '10.97.0.0/16', cost: 50 }] } });
  const read = c.read();
  const names = (after: Prediction): string[] => [...untouchedRouters(predict(read.design), after)].map((i) => read.design.routers[i]?.name ?? '');
  expect(names(predict(read.design, [{ kind: 'link', router: 'd', iface: 'to-e' }]))).toEqual(['a']);
  expect(names(predict(read.design))).toEqual(['a', 'b', 'd', 'e']);
});

test('a filter of a router’s own table is seen in that table, there and back, computed anew or from the state before', () => {
  const net = () =>
    campus()
      .router('a', '10.96.0.1', 0)
      .router('b', '10.96.0.2', 0)
      .router('c', '10.96.0.3', 0)
      .cable('a', 'b', '10.96.128.0', 0)
      .cable('b', 'c', '10.96.128.2', 0);
  const documents = net().documents();
  const typed = (now: readonly SourceDocument[], line: string): readonly SourceDocument[] => applyEdits(now, readEntry(line, now).plan?.edits ?? []);
  const ready = ['prefixes far 10.96.0.3/32 on a', 'policy no-far reject on a of far', 'policy no-far accept on a'].reduce(typed, documents);
  const filtered = typed(ready, 'filter table on a by no-far');
  const before = predict(designFrom(ready).design);
  for (const after of [before.edited(designFrom(filtered).design), predict(designFrom(filtered).design)]) {
    const words = (x: Prediction, y: Prediction) =>
      comparePredictions(x, y).routers.map((r) => `${r.router} ${r.routes.map((c) => c.change).join()}`);
    expect(words(before, after)).toEqual(['a lost']);
    expect(words(after, before)).toEqual(['a gained']);
    expect(countChanges(before, after)).toEqual({ lost: 1, gained: 0, changed: 0, routers: ['a'] });
  }
  const back = predict(designFrom(filtered).design);
  expect(comparePredictions(back, back.edited(designFrom(ready).design)).gained).toBe(1);
});
