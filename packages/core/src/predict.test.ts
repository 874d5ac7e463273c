import fc from 'fast-check';
import { compareNeighbors } from './compare/compare';
import { applyEdits, type Edit } from './design/edit';
import { families } from './design/family';
import type { SourceDocument } from './documents/documents';
import { designFrom } from './formats/read-set';
import { predict, type Prediction } from './predict';
import { documentsFor, predictFor, prefixFor } from './testing/mirror';
import { campusOf, plans } from './testing/random-campus';
import { denseWords, readableWords } from './testing/table-words';

/** A change of one interface's settings: costs, timers, silence, priority, as an engineer tries them. */
const leaves = [
  ['cost', 1],
  ['cost', 25],
  ['hello-interval', 7],
  ['passive', true],
  ['priority', 0],
  ['priority', 200],
  ['enabled', false],
] as const;

/** Settings of whole areas, as border routers hold them. */
const areaLeaves = [
  ['default-cost', 7],
  ['ranges', { range: [{ prefix: '10.99.0.0/16' }] }],
  ['ranges', { range: [{ prefix: '10.97.0.0/16', cost: 44 }] }],
  ['summary', false],
] as const;

function editOf(p: Prediction, documents: readonly SourceDocument[], place: number, leaf: number): Edit | undefined {
  if (leaf % 3 === 0) {
    const areas = p.adjacencies.speakers.flatMap((s) =>
      s.instance.areas.flatMap((a) => (a.at.length > 0 && a.id !== 0 && p.routing.isBorderRouter(s) ? [{ s, a }] : [])),
    );
    const at = areas[place % Math.max(areas.length, 1)];
    const [name, value] = areaLeaves[(leaf / 3) % areaLeaves.length] ?? areaLeaves[0];
    const to = name === 'ranges' ? { range: value.range.map((r) => ({ ...r, prefix: prefixFor(p.family, r.prefix) })) } : value;
    return at && { router: at.s.router.name, file: at.s.router.file, at: [...at.a.at, name], from: undefined, to };
  }
  const port = p.adjacencies.ports[place % p.adjacencies.ports.length];
  const router = port && p.design.routers[port.routerIndex];
  const [name, to] = leaves[leaf % leaves.length] ?? ['cost', 1];
  return router && port.settings.at.length > 0 && documents.some((d) => d.file === router.file)
    ? { router: router.name, file: router.file, at: [...port.settings.at, name], from: undefined, to }
    : undefined;
}

test.each(families)('IPv%i: edit after edit, computed from the state before, equals everything computed', (family) => {
  let [again, all] = [0, 0];
  fc.assert(
    fc.property(plans, fc.array(fc.tuple(fc.nat(), fc.nat()), { minLength: 1, maxLength: 4 }), (plan, edits) => {
      let documents = documentsFor(family, campusOf(plan).documents());
      let p = predictFor(family, documents);
      for (const [place, leaf] of edits) {
        const edit = editOf(p, documents, place, leaf);
        if (!edit) continue;
        documents = applyEdits(documents, [edit]);
        const { design } = designFrom(documents);
        const next = p.edited(design);
        all++;
        if (next.fast.arrays.lineage === p.fast.arrays.lineage) again++;
        const full = predict(design, [], { family });
        expect(compareNeighbors(full, next)).toEqual([]);
        expect(next.adjacencies.leaders).toEqual(full.adjacencies.leaders);
        expect(readableWords(next).sort()).toEqual(readableWords(full).sort());
        expect(denseWords(next).sort()).toEqual(readableWords(full).sort());
        p = next;
      }
    }),
    { numRuns: 100, seed: 20_261_126, endOnFailure: true },
  );
  expect(again).toBeGreaterThan(all / 3);
});

test('a long row of edits, looked at now and then, stands on few states before and equals everything computed', () => {
  let most = 0;
  fc.assert(
    fc.property(plans, fc.array(fc.tuple(fc.nat(), fc.integer({ min: 2, max: 60 })), { minLength: 14, maxLength: 30 }), (plan, edits) => {
      let documents = campusOf(plan).documents();
      let p = predict(designFrom(documents).design);
      const first = p.fast.arrays.lineage;
      let row = 0;
      edits.forEach(([place, cost], n) => {
        const port = p.adjacencies.ports[place % p.adjacencies.ports.length];
        const router = port && p.design.routers[port.routerIndex];
        if (!router || port.loopback || port.settings.at.length === 0) return;
        documents = applyEdits(documents, [{ router: router.name, file: router.file, at: [...port.settings.at, 'cost'], from: undefined, to: cost }]);
        p = p.edited(designFrom(documents).design);
        row = p.fast.arrays.lineage === first ? row + 1 : 0;
        most = Math.max(most, row);
        if (n % 5 !== 4 && n !== edits.length - 1) return;
        const full = predict(p.design);
        expect(readableWords(p).sort()).toEqual(readableWords(full).sort());
        expect(denseWords(p).sort()).toEqual(readableWords(full).sort());
      });
    }),
    { numRuns: 30, seed: 20_261_128, endOnFailure: true },
  );
  // More than are kept in memory: somewhere one had to stand alone.
  expect(most).toBeGreaterThan(12);
});
