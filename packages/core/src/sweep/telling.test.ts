import fc from 'fast-check';
import { chooseNearest } from '../dense/offers';
import { noWay } from '../dense/area-rows';
import type { Imports } from '../dense/told';
import { linkFailures } from '../failures/single-failures';
import { designFrom } from '../formats/read-set';
import { generateCampus } from '../generate/generate-campus';
import { predict, type Prediction } from '../predict';
import { campusOf, plans } from '../testing/random-campus';
import { AreaCut } from './area-cut';
import { CutBoundaries } from './cut-boundaries';
import { CutCounter } from './cut-counter';
import { CutField, type Seated } from './cut-field';
import { Removals } from './removal';
import { TellingOn } from './telling-on';

const runs = { seed: 20_261_136, numRuns: 40, endOnFailure: true };

/** A cut as it is being looked at, beside the state after it. */
interface Looked {
  readonly field: CutField;
  readonly area: number;
  readonly cut: AreaCut;
  readonly removed: readonly number[];
  readonly after: Prediction;
}

/** Every cut of a state that can be counted without the state after it. */
function eachCut(p: Prediction, look: (l: Looked) => void): void {
  const counter = CutCounter.over(p);
  if (!counter) return;
  const removals = new Removals(p);
  for (const failure of linkFailures(p)) {
    const removal = removals.of(failure);
    if (!removal || removal.area < 0 || !counter.count(failure)) continue;
    // Areas and hops have the same numbers where the state after it was computed from this one.
    const after = p.fail(failure);
    if (after.dense?.arrays.lineage !== p.fast.arrays.lineage) continue;
    const field = CutField.over(p)!;
    const ground = field.ground(removal.area);
    const cut = new AreaCut(ground);
    cut.run(removal.edges);
    for (const e of removal.entries) ground.networks.cost[e] = noWay;
    look({ field, area: removal.area, cut, removed: ground.losing(removal.entries), after });
  }
}

/** What border routers say of every prefix, by router id. */
function saidIn({ arrays }: { readonly arrays: CutField['arrays'] }, t: number, imports: Imports): Map<number, string> {
  const { routers } = arrays.areas[t]!.graph;
  return new Map(
    Array.from(imports.entries.ids, (id) => {
      const as = imports.find(id)!;
      return [id, vector(imports.vectors, as.class, as.offset, (v) => routers[v]!.adv)];
    }),
  );
}

const vector = (
  { first, vertex, cost }: { readonly first: Int32Array; readonly vertex: Int32Array; readonly cost: Int32Array },
  k: number,
  offset: number,
  name: (v: number) => number,
): string =>
  Array.from(vertex.subarray(first[k], first[k + 1]), (v, i) => `${name(v)} at ${cost[first[k]! + i]! + offset}`)
    .sort()
    .join();

/** Costs that border routers choose now for the classes of the backbone, where any is another one. */
function choicesNow({ field, area }: Looked): Map<number, Int32Array> {
  const out = new Map<number, Int32Array>();
  const { vectors, classCount } = field.imports(area);
  for (const { speaker, vertex, choice, slots } of field.readers(area).list) {
    const now = { cost: new Int32Array(classCount), hops: new Int32Array(classCount) };
    chooseNearest(vectors, 0, classCount, field.ground(area).rowsNow(vertex), slots, now, 0);
    if (field.seated[speaker]!.border && now.cost.some((c, k) => c !== choice.cost[k])) out.set(speaker, now.cost);
  }
  return out;
}

const campuses: readonly Prediction[] = [1, 2].map((seed) => predict(designFrom(generateCampus({ routers: 60, areas: 5, seed })).design));

/** Random campuses, and two larger ones that are summarised. */
function eachCampus(look: (l: Looked) => void): void {
  for (const p of campuses) eachCut(p, look);
  fc.assert(
    fc.property(plans, (plan) => {
      eachCut(campusOf(plan).predict(), look);
    }),
    runs,
  );
}

test('what areas are told otherwise after a cut is what the state after it tells otherwise', () => {
  let [moved, areas] = [0, 0];
  eachCampus((l) => {
    const { field, area, cut, removed, after } = l;
    const telling = field.telling(area);
    expect(telling.find(cut, removed)).toBe(true);
    const on = new TellingOn(field);
    expect(area === field.backboneAt ? on.fromBackbone(telling, choicesNow(l)) : on.fromArea(area, telling)).toBe(true);
    field.moves.forEach((moves, t) => {
      const before = field.imports(t);
      const [was, is] = [saidIn(field, t, before), saidIn(after.fast, t, after.fast.arrays.imports(t))];
      const { routers } = field.arrays.areas[t]!.graph;
      const wanted = new Map<string, number>();
      const count = (of: Map<string, number>, key: string, n: number): unknown => of.set(key, (of.get(key) ?? 0) + n);
      for (const id of new Set([...was.keys(), ...is.keys()])) {
        if (was.get(id) === is.get(id)) continue;
        const as = before.find(id);
        // Against the offset of before, so that prefixes that move alike are one.
        const { vectors } = after.fast.arrays.imports(t);
        const now = after.fast.arrays.imports(t).find(id);
        const names = after.fast.arrays.areas[t]!.graph.routers;
        count(wanted, `${as?.class ?? -1}: ${now ? vector(vectors, now.class, now.offset - (as?.offset ?? 0), (v) => names[v]!.adv) : ''}`, 1);
        moved++;
      }
      const found = new Map<string, number>();
      for (let m = 0; m < moves.count; m++) {
        const to = vector(moves, m, 0, (v) => routers[v]!.adv);
        const k = moves.classOf[m]!;
        // What is told as before, or of which nothing is told before and after.
        if (to === (k < 0 ? '' : vector(before.vectors, k, 0, (v) => routers[v]!.adv))) continue;
        count(found, `${k}: ${to}`, moves.entries[m]!);
      }
      if (wanted.size > 0) areas++;
      expect([...found].sort()).toEqual([...wanted].sort());
    });
  });
  expect(Math.min(moved, areas)).toBeGreaterThan(200);
});

test('the ways to boundary routers during a cut are those of the state after it', () => {
  let moved = 0;
  eachCampus(({ field, area, after }) => {
    const boundaries = new CutBoundaries(field);
    const all = Array.from({ length: boundaries.count }, (_, k) => k);
    const near = new Map<Seated, readonly number[]>(field.telling(area).borders.map((b) => [field.seated[b.speaker.index]!, all]));
    boundaries.retell(area, near);
    const { fast } = field.p;
    for (const s of field.seated) {
      const then = after.fast.boundaries.waysOf(after.adjacencies.speakers[s.speaker.index]!);
      const before = fast.boundaries.waysOf(s.speaker);
      fast.boundaries.ids.forEach((id, k) => {
        boundaries.find(s, k);
        const place = after.fast.boundaries.placeOf.get(id)!;
        const now = [boundaries.ways.cost[k], boundaries.ways.via[k], boundaries.ways.hops[k]];
        expect(now).toEqual([then.cost[place], then.via[place], then.hops[place]]);
        if (before.cost[k] !== now[0]) moved++;
      });
    }
    boundaries.undo();
  });
  expect(moved).toBeGreaterThan(100);
});
