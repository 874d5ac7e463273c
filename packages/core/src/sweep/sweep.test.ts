import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { families } from '../design/family';
import { formatFailure, parseFailure, type FailureSpec } from '../failures/outage';
import { readSet } from '../formats/read-set';
import { predict, predictFamilies, type Prediction } from '../predict';
import { Forwarding } from '../reach/forwarding';
import { loopbacks, matrixOf } from '../reach/matrix';
import { documentsFor, predictFor } from '../testing/mirror';
import { richCampusOf, richPlans } from '../testing/rich-campus';
import { campus } from '../testing/campus';
import { recordedDocuments, recordedFolders, type RecordedCase } from '../testing/recorded';
import { caseCount, eachCase, sweepCases, type SweepKind } from './cases';
import { compareCases, sweeping, Trials, type CaseResult } from './sweep';

const recordedRoot = join(__dirname, '../../recorded');

/** OSPF routes of a router in words, by prefix and process. */
function tableOf(p: Prediction, name: string): Map<string, string> {
  const out = new Map<string, string>();
  for (const s of p.speakersOf(p.routerIndex(name))) {
    const { hops } = p.routing.hopList(s);
    const way = (h: number): string => `${hops[h]?.port.iface.name ?? ''} ${hops[h]?.address ?? ''}`;
    for (const r of p.routing.table(s).values())
      out.set(`${s.instance.name} ${r.bits}/${r.length}`, `${r.type} ${r.metric} ${r.forwardMetric ?? ''} ${r.hops.map(way).sort().join()}`);
  }
  return out;
}

type Counted = Pick<CaseResult, 'lostRoutes' | 'changedRoutes' | 'cutPairs' | 'longestDetour'>;

/** The same by two whole predictions and two whole matrices laid side by side. */
function slowly(p: Prediction, fail: readonly FailureSpec[]): Counted {
  const after = predict(p.design, fail, { family: p.family });
  const down = new Set([...after.outage.routers].map((r) => p.design.routers[r]?.name));
  let [lostRoutes, changedRoutes, cutPairs, longest] = [0, 0, 0, 0];
  for (const { name } of p.design.routers) {
    if (down.has(name)) continue;
    const [old, now] = [tableOf(p, name), tableOf(after, name)];
    for (const [key, words] of old)
      if (!now.has(key)) lostRoutes++;
      else if (now.get(key) !== words) changedRoutes++;
  }
  const all = [...new Set(loopbacks(p))];
  const f = new Forwarding(p);
  const standing = all.map((a) => f.owners(a).some((o) => !down.has(p.design.routers[o.router]?.name)));
  const [m, n] = [matrixOf(p, all), matrixOf(after, all)];
  for (let at = 0; at < m.there.length; at++) {
    const [from, to] = [Math.floor(at / all.length), at % all.length];
    if (from === to || !standing[from] || !standing[to] || m.there[at] !== 1) continue;
    if (n.there[at] !== 1) cutPairs++;
    else if ((m.cost[at] ?? -1) >= 0 && (n.cost[at] ?? -1) >= 0) longest = Math.max(longest, (n.cost[at] ?? 0) - (m.cost[at] ?? 0));
  }
  return { lostRoutes, changedRoutes, cutPairs, longestDetour: longest > 0 ? longest : undefined };
}

const counted = ({ lostRoutes, changedRoutes, cutPairs, longestDetour }: CaseResult): Counted => ({
  lostRoutes,
  changedRoutes,
  cutPairs,
  longestDetour,
});

const runs = { seed: 20_261_130, endOnFailure: true };

describe.each(families)('IPv%i', (family) => {
  test('what a sweep counts is what whole predictions and matrices of each case show, on networks that have everything', () => {
    const met = { cut: 0, longer: 0, lost: 0, pairs: 0 };
    fc.assert(
      fc.property(richPlans, fc.array(fc.nat(1000), { minLength: 2, maxLength: 6 }), (plan, picks) => {
        const rich = richCampusOf(plan);
        const p = predictFor(family, documentsFor(family, rich.campus.documents()));
        const trials = new Trials([p]);
        const specs = picks.flatMap((n) => {
          const f = parseFailure(rich.failures[n % rich.failures.length] ?? '');
          return typeof f === 'string' ? [] : [f];
        });
        const cases = [...specs.map((s) => [s]), ...specs.slice(1).map((s, i) => [specs[i] as FailureSpec, s])];
        for (const fail of cases) {
          const got = trials.try(fail);
          expect({ fail: fail.map(formatFailure), ...counted(got) }).toEqual({ fail: fail.map(formatFailure), ...slowly(p, fail) });
          expect(got.cutExamples).toHaveLength(Math.min(20, got.cutPairs));
          if (got.cutPairs > 0) met.cut++;
          if (got.longestDetour !== undefined) met.longer++;
          if (got.lostRoutes > 0) met.lost++;
          if (fail.length > 1) met.pairs++;
        }
      }),
      { ...runs, numRuns: Number(process.env.RUNS ?? 60) },
    );
    expect(Object.entries(met).filter(([, n]) => n < 10)).toEqual([]);
  });
});

test('every recorded failure, through the state before it: the tables are those of a whole prediction', () => {
  let cases = 0;
  for (const folder of recordedFolders) {
    const { design } = readSet(recordedDocuments(folder));
    const words = readdirSync(join(recordedRoot, folder, 'expected'))
      .map((n) => (JSON.parse(readFileSync(join(recordedRoot, folder, 'expected', n), 'utf8')) as RecordedCase).fail ?? '')
      .filter((w) => w !== '');
    for (const p of predictFamilies(design)) {
      const trials = new Trials([p]);
      for (const word of words) {
        const spec = parseFailure(word);
        if (typeof spec === 'string') throw new Error(spec);
        expect({ folder, word, ...counted(trials.try([spec])) }).toEqual({ folder, word, ...slowly(p, [spec]) });
        cases++;
      }
    }
  }
  expect(cases).toBeGreaterThan(20);
});

/** A square whose two halves hang together by two cables: each alone does no harm. */
const square = () =>
  campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .router('d', '10.96.0.4', 0)
    .cable('a', 'b', '10.96.1.0', 0, 10)
    .cable('b', 'd', '10.96.1.2', 0, 10)
    .cable('a', 'c', '10.96.1.4', 0, 10)
    .cable('c', 'd', '10.96.1.6', 0, 10);

const spec = (word: string): FailureSpec => {
  const f = parseFailure(word);
  if (typeof f === 'string') throw new Error(f);
  return f;
};

test('two failures that are harmless alone cut together, counted by hand; a group is as its members', () => {
  const c = square()
    .links(['a/to-b b/to-a', 'b/to-d d/to-b', 'a/to-c c/to-a', 'c/to-d d/to-c'], {}, [{ name: 'duct', members: ['link:a/to-b', 'link:c/to-d'] }])
    .settings({ expectation: [{ name: 'a to d', kind: 'reach', from: 'a', to: 'd' }] });
  const p = c.predict();
  const trials = new Trials([p]);
  // a reaches b by c and d then, at 30 and not at 10.
  expect(trials.try([spec('link:a/to-b')])).toMatchObject({ cutPairs: 0, longestDetour: 20, broken: [] });
  // a and c on one side, b and d on the other: 2 x 2 pairs, both ways.
  for (const fail of [['link:a/to-b', 'link:c/to-d'], ['group:duct']]) {
    const both = trials.try(fail.map(spec));
    expect(both).toMatchObject({ cutPairs: 8, broken: ['a to d'], longestDetour: undefined });
    expect(both.cutExamples).toHaveLength(8);
  }
  // Of a router that fails nothing is asked: b, c and d still reach each other, b and c at the same 20.
  expect(trials.try([spec('router:a')])).toMatchObject({ cutPairs: 0, longestDetour: undefined, broken: [] });
  const order = [...sweeping(trials, eachCase(sweepCases([p], ['links', 'groups']), true))].sort(compareCases);
  expect(order.map((x) => x.broken.length)).toEqual([...order.map((x) => x.broken.length)].sort((x, y) => y - x));
  expect(order[0]?.broken).toEqual(['a to d']);
  expect(order).toHaveLength(5 + 10);
});

test('who leads a LAN fails: the failure stands for that router, and for the next when it leads', () => {
  const c = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .lan('reef', '10.97.1.0/24', 0, ['a', 'b', 'c']);
  const p = c.predict();
  const down = (...words: string[]): string[] =>
    [...predict(p.design, words.map(spec)).outage.routers].map((r) => p.design.routers[r]?.name ?? '').sort();
  // All begin together: the highest id leads, the next is its backup.
  expect(down('leader:a/reef')).toEqual(['c']);
  expect(down('leader:a/reef', 'leader:a/reef')).toEqual(['b', 'c']);
  expect(p.fail(spec('leader:b/reef')).outage.routers).toEqual(new Set([2]));
  const [one, two] = [new Trials([p]).try([spec('leader:a/reef')]), new Trials([p]).try([spec('router:c')])];
  expect(counted(one)).toEqual(counted(two));
  const nobody = predict(square().predict().design, [spec('leader:a/to-b')]);
  expect([...nobody.outage.routers]).toEqual([]);
  expect(nobody.problems).toEqual(['Nobody leads the segment of a/to-b: it has no designated router.']);
});

test('what can be swept: each cable once by its first end, LANs, border routers', () => {
  const c = campus()
    .router('kelp', '10.96.0.2', 0)
    .router('buoy', '10.96.0.1', 0)
    .router('reef', '10.97.0.1', 1)
    .cable('kelp', 'buoy', '10.96.1.0', 0, 10)
    .cable('buoy', 'reef', '10.97.1.0', 1, 10)
    .lan('hall', '10.97.9.0/24', 0, ['kelp', 'buoy']);
  const p = c.predict();
  const words = (kinds: readonly SweepKind[]): string[] => sweepCases([p], kinds).map(formatFailure);
  expect(words(['links'])).toEqual(['link:buoy/to-kelp', 'link:buoy/to-reef', 'link:buoy/hall', 'link:kelp/hall']);
  expect(words(['lans'])).toEqual(['lan:buoy/hall']);
  expect(words(['borders'])).toEqual(['router:buoy']);
  expect(words(['routers', 'borders'])).toHaveLength(3);
  expect([...eachCase(sweepCases([p], ['routers']), true)].map((x) => x.length)).toEqual([1, 1, 1, 2, 2, 2]);
  expect(caseCount(3, true)).toBe(6);
});
