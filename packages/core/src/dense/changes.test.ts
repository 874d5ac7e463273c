import fc from 'fast-check';
import { compareNeighbors } from '../compare/compare';
import { designFrom } from '../formats/read-set';
import type { FailureSpec } from '../failures/outage';
import { generateCampus } from '../generate/generate-campus';
import { predict, type Prediction } from '../predict';
import { linkFailures } from '../failures/single-failures';
import { campusOf, plans } from '../testing/random-campus';
import { denseWords, readableWords } from '../testing/table-words';
import { Changes, type ChangeCount } from './changes';

/** A router's readable table by prefix: what must be equal for a route to be the same one. */
function routesOf(p: Prediction, n: number): Map<string, string> {
  const out = new Map<string, string>();
  const s = p.adjacencies.speakers[n];
  if (!s) return out;
  const { hops } = p.routing.hopList(s);
  for (const r of p.routing.table(s).values()) {
    const ways = r.hops.map((h) => `${hops[h]?.port.iface.name ?? ''} ${hops[h]?.address ?? ''}`).sort();
    out.set(`${r.bits}/${r.length}`, `${r.type} ${r.metric} ${r.forwardMetric ?? ''} ${ways.join()}`);
  }
  return out;
}

function counted(a: Prediction, b: Prediction, n: number): ChangeCount {
  const [old, now] = [routesOf(a, n), routesOf(b, n)];
  const lost = [...old.keys()].filter((k) => !now.has(k)).length;
  const gained = [...now.keys()].filter((k) => !old.has(k)).length;
  const changed = [...now].filter(([k, v]) => old.has(k) && old.get(k) !== v).length;
  return { lost, gained, changed };
}

/** The state after a failure, computed from the state before, against everything computed; how it was computed. */
function sameAsFull(base: Prediction, spec: FailureSpec): boolean {
  const before = readableWords(base);
  const inc = base.fail(spec);
  const full = predict(base.design, [...base.failures, spec]);
  expect(compareNeighbors(full, inc)).toEqual([]);
  expect(readableWords(inc).sort()).toEqual(readableWords(full).sort());
  expect(denseWords(inc).sort()).toEqual(readableWords(full).sort());
  const again = inc.fast.arrays.lineage === base.fast.arrays.lineage;
  if (again) {
    const changes = new Changes(base.fast.rows, inc.fast.rows);
    base.adjacencies.speakers.forEach((s, n) => {
      const now = inc.adjacencies.speakers[n];
      if (now) expect({ [s.router.name]: changes.of(s, now) }).toEqual({ [s.router.name]: counted(base, full, n) });
    });
  }
  expect(readableWords(base)).toEqual(before);
  return again;
}

test('a failure computed from the state before gives what computing everything gives, and counts what changed', () => {
  let [again, all] = [0, 0];
  fc.assert(
    fc.property(plans, fc.nat(), fc.nat(), (plan, m, n) => {
      const base = campusOf(plan).predict();
      const list = linkFailures(base);
      const first = list[m % list.length];
      if (!first) return;
      all++;
      if (sameAsFull(base, first)) again++;
      const second = list[n % list.length];
      if (second && second !== first) sameAsFull(base.fail(first), second);
    }),
    { numRuns: 80, seed: 20_261_125, endOnFailure: true },
  );
  // Areas that fall apart are computed as a whole; most failures must not need that.
  expect(again).toBeGreaterThan(all / 3);
});

test('every single link of made-up campuses with NSSAs, ranges and exits', () => {
  const base = predict(designFrom(generateCampus({ routers: 40, areas: 4, seed: 5 })).design);
  const list = linkFailures(base);
  const again = list.filter((spec) => sameAsFull(base, spec)).length;
  expect(again).toBeGreaterThan(list.length / 2);
});
