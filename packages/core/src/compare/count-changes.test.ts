import fc from 'fast-check';
import { applyEdits } from '../design/edit';
import { designFrom } from '../formats/read-set';
import { predict, type Prediction } from '../predict';
import { campusOf, plans } from '../testing/random-campus';
import { richCampusOf, richPlans } from '../testing/rich-campus';
import { comparePredictions } from './compare';
import { countChanges } from './count-changes';

function sameAsListed(before: Prediction, after: Prediction): void {
  const { lost, gained, changed, routers } = comparePredictions(before, after);
  expect(countChanges(before, after)).toEqual({
    lost,
    gained,
    changed,
    routers: routers.flatMap((r) => (r.gone || r.routes.length > 0 ? [r.router] : [])),
  });
}

const leaves = [
  ['cost', 77],
  ['passive', true],
  ['hello-interval', 7],
  ['enabled', false],
] as const;

/** A prediction after one leaf of one port was set. */
function edited(p: Prediction, documents: ReturnType<ReturnType<typeof campusOf>['documents']>, place: number, leaf: number): Prediction {
  const port = p.adjacencies.ports[place % p.adjacencies.ports.length];
  const router = port && p.design.routers[port.routerIndex];
  const [name, to] = leaves[leaf % leaves.length] ?? leaves[0];
  if (!router || port.settings.at.length === 0) return p;
  const edit = { router: router.name, file: router.file, at: [...port.settings.at, name], from: undefined, to };
  return p.edited(designFrom(applyEdits(documents, [edit])).design);
}

test('what an edit changes is counted as laying every own table side by side lists it, computed from the state before or anew', () => {
  let together = 0;
  fc.assert(
    fc.property(plans, fc.nat(), fc.nat(), (plan, place, leaf) => {
      const documents = campusOf(plan).documents();
      const p = predict(designFrom(documents).design);
      const next = edited(p, documents, place, leaf);
      if (next.fast.arrays.lineage === p.fast.arrays.lineage) together++;
      sameAsListed(p, next);
      sameAsListed(p, predict(next.design));
    }),
    { numRuns: 120, seed: 20_261_129, endOnFailure: true },
  );
  expect(together).toBeGreaterThan(40);
});

test('the same in networks that have everything: policies, statics, ranges, networks of every type', () => {
  fc.assert(
    fc.property(richPlans, fc.nat(), fc.nat(), (plan, place, leaf) => {
      const documents = richCampusOf(plan).campus.documents();
      const p = predict(designFrom(documents).design);
      sameAsListed(p, edited(p, documents, place, leaf));
    }),
    { numRuns: 150, seed: 20_261_129, endOnFailure: true },
  );
});
