import fc from 'fast-check';
import { applyEdits, type Edit } from './design/edit';
import { parseFailure } from './failures/outage';
import { designFrom } from './formats/read-set';
import { formatAddress } from './prefix/address';
import { families } from './design/family';
import type { SourceDocument } from './documents/documents';
import { predict, type Prediction } from './predict';
import { documentsFor, predictFor, prefixFor } from './testing/mirror';
import { richCampusOf, richPlans, type RichCampus } from './testing/rich-campus';
import { databaseWords, denseWords, readableWords } from './testing/table-words';

/** Both roads to one state, laid beside each other: virtual links, bits, databases, every route of every router. */
function sameOnBothRoads(fast: Prediction): void {
  const plain = predict(fast.design, fast.failures, { road: 'plain' });
  const links = (p: Prediction): unknown => p.routing.virtuals;
  const roles = (p: Prediction): string[] =>
    p.adjacencies.speakers.map((s) => {
      const bits = p.routing.areasOf(s).map((a) => JSON.stringify(p.routing.database(s, a)?.routers.get(s.routerId)?.bits));
      return `${s.router.name} ${s.instance.name} ${p.routing.areasOf(s).map(formatAddress).join()} ${bits.join()}`;
    });
  expect(plain.routing.unsettled).toEqual(fast.routing.unsettled);
  expect(links(fast)).toEqual(links(plain));
  expect(roles(fast)).toEqual(roles(plain));
  expect(databaseWords(fast).sort()).toEqual(databaseWords(plain).sort());
  expect(readableWords(fast).sort()).toEqual(readableWords(plain).sort());
  expect(denseWords(fast).sort()).toEqual(readableWords(plain).sort());
}

const runs = { seed: 20_261_129, endOnFailure: true };

describe.each(families)('IPv%i', (family) => {
  test('plain and fast road agree on random networks that have everything', () => {
    const met = new Map<string, number>();
    fc.assert(
      fc.property(richPlans, (plan) => {
        const rich = richCampusOf(plan);
        for (const f of rich.features) met.set(f, (met.get(f) ?? 0) + 1);
        sameOnBothRoads(predictFor(family, documentsFor(family, rich.campus.documents())));
      }),
      { ...runs, numRuns: 400 },
    );
    // Every feature was met often enough to say something.
    const seldom = [...met].filter(([, n]) => n < 12);
    expect(seldom).toEqual([]);
    expect(met.size).toBeGreaterThan(30);
  });

  const specsOf = ({ failures }: RichCampus, picks: readonly number[]) =>
    picks.flatMap((n) => {
      const f = parseFailure(failures[n % failures.length] ?? '');
      return typeof f === 'string' ? [] : [f];
    });

  /** Changes of one interface or area, as an engineer tries them. */
  const changes = [
    ['cost', 1],
    ['cost', 25],
    ['passive', true],
    ['priority', 0],
    ['hello-interval', 7],
    ['enabled', false],
    ['prefix-suppression', true],
    ['interface-type', 'point-to-point'],
  ] as const;
  const areaChanges = [
    ['default-cost', 7],
    ['ranges', { range: [{ prefix: '10.99.0.0/16' }] }],
    ['summary', false],
  ] as const;

  function editOf(p: Prediction, place: number, what: number): Edit | undefined {
    const port = p.adjacencies.ports[place % p.adjacencies.ports.length];
    const router = port && p.design.routers[port.routerIndex];
    if (!router) return undefined;
    if (what % 4 === 0) {
      const [name, value] = areaChanges[what % areaChanges.length] ?? areaChanges[0];
      const to = name === 'ranges' ? { range: [{ prefix: prefixFor(p.family, '10.99.0.0/16') }] } : value;
      return port.area.at.length === 0 ? undefined : { router: router.name, file: router.file, at: [...port.area.at, name], from: undefined, to };
    }
    const [name, to] = changes[what % changes.length] ?? changes[0];
    return port.settings.at.length === 0
      ? undefined
      : { router: router.name, file: router.file, at: [...port.settings.at, name], from: undefined, to };
  }

  test('they agree after random edits, computed from the state before where they reach no further than a router', () => {
    let [again, all] = [0, 0];
    fc.assert(
      fc.property(richPlans, fc.array(fc.tuple(fc.nat(), fc.nat()), { minLength: 1, maxLength: 4 }), (plan, edits) => {
        let documents: readonly SourceDocument[] = documentsFor(family, richCampusOf(plan).campus.documents());
        let p = predictFor(family, documents);
        for (const [place, what] of edits) {
          const edit = editOf(p, place, what);
          if (!edit) continue;
          documents = applyEdits(documents, [edit]);
          const next = p.edited(designFrom(documents).design);
          all++;
          if (next.dense?.arrays.lineage === p.dense?.arrays.lineage) again++;
          sameOnBothRoads(next);
          p = next;
        }
      }),
      { ...runs, numRuns: 150 },
    );
    process.stdout.write(`edits computed from the state before: ${again} of ${all}\n`);
    expect(again).toBeGreaterThan(all / 10);
  });

  test('they agree after random failures too, one after the other', () => {
    let [again, all] = [0, 0];
    fc.assert(
      fc.property(richPlans, fc.array(fc.nat(), { minLength: 1, maxLength: 3 }), (plan, picks) => {
        const rich = richCampusOf(plan);
        let p = predictFor(family, documentsFor(family, rich.campus.documents()));
        for (const f of specsOf(rich, picks)) {
          const next = p.fail(f);
          all++;
          if (next.dense?.arrays.lineage === p.dense?.arrays.lineage) again++;
          sameOnBothRoads(next);
          p = next;
        }
      }),
      { ...runs, numRuns: 150 },
    );
    process.stdout.write(`failures computed from the state before: ${again} of ${all}\n`);
    expect(again).toBeGreaterThan(all / 10);
  });
});
