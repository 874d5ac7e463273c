import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { families } from '../design/family';
import { formatFailure, parseFailure, type FailureSpec } from '../failures/outage';
import { square } from '../testing/square';
import { spec } from '../testing/steps';
import { readSet } from '../formats/read-set';
import { predict, predictFamilies, type Prediction } from '../predict';
import { Forwarding } from '../reach/forwarding';
import { loopbacks, matrixOf } from '../reach/matrix';
import { documentsFor, predictFor } from '../testing/mirror';
import { richCampusOf, richPlans } from '../testing/rich-campus';
import { campus, type Campus } from '../testing/campus';
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

const loopback = { iface: { type: 'softwareLoopback' } };

/** What a case counts, which is what whole predictions and matrices show. */
function tried(c: Campus, ...words: string[]): Counted {
  const p = c.predict();
  const got = counted(new Trials([p]).try(words.map(spec)));
  expect(got).toEqual(slowly(p, words.map(spec)));
  return got;
}

test('a loopback that OSPF does not bring: a static line that stays and leads nowhere cuts all the same', () => {
  const c = campus()
    .router('a', '10.96.0.1', 0)
    .router('z', '10.96.0.9')
    .port('z', 'lo', '10.96.0.9/32', null, loopback)
    .port('a', 'reef', '10.97.1.1/24', null)
    .port('z', 'reef', '10.97.1.9/24', null)
    .static('a', '10.96.0.9/32', '10.97.1.9')
    .static('z', '10.96.0.1/32', '10.97.1.1');
  // The port of a stays up, and so does its line.
  expect(tried(c, 'link:z/reef')).toMatchObject({ cutPairs: 2, lostRoutes: 0 });
});

/** e reaches b by p and c by q; behind b and c stands z without OSPF, told by both of them. */
const told = (): Campus =>
  campus()
    .router('b', '10.96.0.2', 0, { redistribution: [{ source: 'static' }] })
    .router('c', '10.96.0.3', 0, { redistribution: [{ source: 'static' }] })
    .router('e', '10.96.0.5', 0)
    .router('p', '10.96.0.6', 0)
    .router('q', '10.96.0.7', 0)
    .router('z', '10.96.0.50')
    .port('z', 'lo', '10.96.0.50/32', null, loopback)
    .cable('e', 'p', '10.96.1.0', 0, 10)
    .cable('e', 'q', '10.96.1.2', 0, 10)
    .cable('p', 'b', '10.96.1.4', 0, 10)
    .cable('q', 'c', '10.96.1.6', 0, 20)
    .cable('b', 'c', '10.96.1.8', 0, 100)
    .port('b', 'to-z', '10.96.2.0/31', null)
    .port('z', 'to-b', '10.96.2.1/31', null)
    .port('c', 'to-z', '10.96.2.2/31', null)
    .port('z', 'to-c', '10.96.2.3/31', null)
    .static('b', '10.96.0.50/32', '10.96.2.1')
    .static('c', '10.96.0.50/32', '10.96.2.3')
    .static('z', '10.96.0.0/28', '10.96.2.0');

test('a loopback that comes from outside: e sends to the other boundary router, though nothing of its own fell', () => {
  // To z both p and e go by c then; z answers by b, from where c leads on. The answers and b itself are farther away, nothing is cut.
  expect(tried(told(), 'link:b/to-p')).toMatchObject({ cutPairs: 0 });
});

test('a forwarding address: e goes by the other router on the LAN, though its way to the boundary router is what it was', () => {
  const c = campus()
    .router('b', '10.96.0.2', 0, { redistribution: [{ source: 'static' }] })
    .router('d', '10.96.0.4', 0)
    .router('e', '10.96.0.5', 0)
    .router('z', '10.96.0.50')
    .port('z', 'lo', '10.96.0.50/32', null, loopback)
    .cable('e', 'b', '10.96.1.0', 0, 5)
    .router('f', '10.96.0.6', 0)
    .cable('e', 'f', '10.96.1.2', 0, 5)
    .cable('f', 'd', '10.96.1.4', 0, 5)
    .port('b', 'reef', '10.97.1.2/24', 0, { cost: 100 })
    .port('d', 'reef', '10.97.1.4/24', 0, { cost: 10 })
    .port('z', 'reef', '10.97.1.50/24', null)
    .static('b', '10.96.0.50/32', '10.97.1.50')
    .static('z', '10.96.0.0/28', '10.97.1.2');
  expect(tried(c, 'link:d/to-f')).toMatchObject({ cutPairs: 0 });
});

test('two that would announce the same by the same forwarding address: the other one does when the first is gone', () => {
  const c = campus()
    .router('b', '10.96.0.2', 0, { redistribution: [{ source: 'static' }] })
    .router('c', '10.96.0.3', 0, { redistribution: [{ source: 'static' }] })
    .router('e', '10.96.0.5', 0)
    .cable('e', 'b', '10.96.1.0', 0, 5)
    .cable('e', 'c', '10.96.1.2', 0, 5)
    .port('b', 'reef', '10.97.1.2/24', 0)
    .port('c', 'reef', '10.97.1.3/24', 0)
    .static('b', '198.51.100.0/24', '10.97.1.50')
    .static('c', '198.51.100.0/24', '10.97.1.50');
  tried(c, 'router:c');
  tried(c, 'router:b');
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

/*
 * By hand. heron-1 to heron-4 on a LAN of cost 10 in the backbone, heron-5 in area 10 behind heron-1 (10) and heron-2 (30). Without the
 * LAN 3 and 4 stand alone (8 + 6 pairs), and 1 and 2, with no neighbour in the backbone, use each other's summaries by 5 (RFC 3509):
 * 10 becomes 40. Without its own port 1 still sends by 5 and 2, at 50 in the place of 10, but nobody on the LAN believes area 10: 3 pairs.
 */
test('a LAN and an area behind it, every case counted by hand', () => {
  const c = campus()
    .router('heron-1', '10.96.0.1', 0)
    .router('heron-2', '10.96.0.2', 0)
    .router('heron-3', '10.96.0.3', 0)
    .router('heron-4', '10.96.0.4', 0)
    .router('heron-5', '10.96.10.5', 10)
    .lan('reef', '10.97.1.0/26', 0, ['heron-1', 'heron-2', 'heron-3', 'heron-4'])
    .cable('heron-1', 'heron-5', '10.96.12.0', 10, 10)
    .cable('heron-2', 'heron-5', '10.96.12.2', 10, 30);
  const p = c.predict();
  const cases = [...sweeping(new Trials([p]), eachCase(sweepCases([p], ['links', 'routers', 'lans']), false))].sort(compareCases);
  const told = (x: CaseResult): string => `${x.fail.map(formatFailure).join()} ${x.cutPairs} ${x.longestDetour ?? 0}`;
  expect(cases.filter((x) => x.cutPairs > 0).map(told)).toEqual([
    'lan:heron-1/reef 14 30',
    'link:heron-3/reef 8 0',
    'link:heron-4/reef 8 0',
    'link:heron-1/reef 3 40',
    'link:heron-2/reef 3 40',
  ]);
  expect(
    cases
      .filter((x) => x.cutPairs === 0 && x.longestDetour !== undefined)
      .map(told)
      .sort(),
  ).toEqual(['link:heron-1/to-heron-5 0 30', 'router:heron-1 0 20']);
  expect(cases).toHaveLength(12);
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
  // Shares that are worked on side by side are the whole, each case once.
  const told = (cases: Iterable<readonly FailureSpec[]>): string[] => [...cases].map((c) => c.map(formatFailure).join(' '));
  const singles = sweepCases([p], ['links', 'routers']);
  for (const n of [1, 2, 3, 7]) {
    const shares = Array.from({ length: n }, (_, mine) => told(eachCase(singles, true, { mine, of: n })));
    expect(shares.flat().sort()).toEqual(told(eachCase(singles, true)).sort());
    expect(shares.map((x) => x.length)).toEqual(shares.map((_, mine) => caseCount(singles.length, true, { mine, of: n })));
  }
});
