import { campus, type Campus } from '@gentle-compass/core/testing/campus';
import { dual } from '@gentle-compass/core/testing/dual';
import { Workbench } from './workbench';
import { square } from '@gentle-compass/core/testing/square';

function opened(c: Campus): Workbench {
  const bench = new Workbench(0);
  bench.editing.open({ name: 'square', documents: c.documents() });
  return bench;
}

const editsOf = (bench: Workbench, line: string): Parameters<Workbench['editing']['editText']>[0] => bench.editing.entry(line, []).plan?.edits ?? [];

test('ways before and after, as they are asked for; of nobody’s choice those that move, what is cut first', async () => {
  const bench = opened(square());
  expect(bench.whatIf.watched([])).toEqual({ pairs: [], problems: [] });
  await bench.failures.fail(['link:a/to-b', 'link:b/to-d']);
  expect(bench.whatIf.databases()).toEqual([
    { where: 'area 0', what: '1 router', fresh: 0, newer: 3, gone: 0, examples: expect.any(Array) as unknown },
  ]);
  const [first] = bench.whatIf.watched(['a d', 'a nobody']).pairs;
  expect(first).toMatchObject({
    from: 'a',
    to: 'd',
    before: { equal: 2, cost: 20, fate: 'delivered' },
    after: { equal: 1, cost: 20, path: ['a', 'c', 'd'] },
  });
  expect(bench.whatIf.watched(['a nobody']).problems).toEqual([expect.stringContaining('nobody')]);
  const chosen = bench.whatIf.watched([]).pairs;
  // b is off: what is cut comes before the way from a to d, which only lost one of two.
  expect(chosen[0]?.after.fate).toBe('dropped');
  expect(chosen.some((w) => w.word === 'a d' && w.after.fate === 'delivered')).toBe(true);
  expect(chosen.every((w) => w.before.fate === 'delivered')).toBe(true);
});

test('a way that moves in one direction alone is among those of nobody’s choice', async () => {
  // From a to b it is the cable, from b to a by c: cut there, only the way back is another one.
  const c = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .cable('a', 'b', '10.96.1.0', 0, [10, 50])
    .cable('b', 'c', '10.96.1.2', 0, 10)
    .cable('c', 'a', '10.96.1.4', 0, 10);
  const bench = opened(c);
  await bench.failures.fail(['link:b/to-c']);
  const words = bench.whatIf.watched([]).pairs.map((w) => w.word);
  expect(words).toContain('b a');
  expect(words).not.toContain('a b');
});

test('what an edit does while something is down is counted against what arrives when nothing is', async () => {
  const bench = opened(square());
  await bench.failures.fail(['router:b', 'router:c']);
  const edits = editsOf(bench, 'link a d cost 10');
  // a and d, there and back: cut before, not after; each gains the other's loopback and the far end is its own new link.
  expect(await bench.editing.tryEdits(edits)).toMatchObject({ whileDown: { fail: ['router:b', 'router:c'], cut: [2, 0], lost: 0, broken: [0, 0] } });
  const before = JSON.stringify(bench.whatIf.watched(['a d']).pairs[0]?.after.fate);
  expect(before).toBe('"dropped"');
  bench.editing.editText(edits);
  const change = await bench.editing.change();
  expect(change?.whileDown).toMatchObject({ cut: [2, 0] });
  expect(change?.whileDown?.gained).toBeGreaterThan(0);
  // With nothing down nothing is said of it.
  const calm = opened(square());
  expect(await calm.editing.tryEdits(editsOf(calm, 'link a d cost 10'))).not.toHaveProperty('whileDown');
  // Nor where routers come or go: they are not the same network.
  const more = opened(square());
  await more.failures.fail(['router:b']);
  expect(await more.editing.tryEdits(editsOf(more, 'router e area 0'))).not.toHaveProperty('whileDown');
});

test('planned work of both families, with the ways of what is watched in the family that is looked at', () => {
  const bench = opened(dual(square()));
  const work = bench.whatIf.planned('router:b', ['a d']);
  if ('refusal' in work) throw new Error(work.refusal);
  expect(work.steps.map((s) => [s.kind, s.interrupted, s.ways[0]?.equal])).toEqual([
    ['drain', 0, 1],
    ['down', 0, 1],
    ['back', 0, 1],
    ['undrain', 0, 2],
  ]);
  // Half of the flows of a and d, there and back, in each family.
  expect(work.outage.interrupted).toBe(4);
  expect(bench.whatIf.planned('lan:a/reef', [])).toEqual({ refusal: 'Planned work is for a router or a link.' });
  expect(bench.whatIf.planned('router:nobody', [])).toEqual({ refusal: 'There is no router "nobody".' });
});

test('a newer question ends an older one; demands are read, kept, counted and given up', async () => {
  const bench = opened(square());
  const first = bench.whatIf.bestLink(['router:b', 'router:c'], () => undefined);
  bench.whatIf.stop();
  expect(await first).toBeNull();
  expect(await bench.whatIf.bestLink(['router:b', 'router:c'], () => undefined)).toMatchObject({ best: { line: 'link a d', cutPairs: 0 }, tried: 1 });
  const read = bench.whatIf.demandsFrom('d.csv', 'from,to,mbps\na,d,80\na,nobody,5\n');
  expect([read.count, read.problems]).toEqual([2, []]);
  bench.editing.editText(read.edits);
  const loads = bench.whatIf.loads(['link:a/to-b']);
  // What stands for nothing is told, and not carried.
  expect(loads.faults).toEqual([expect.stringContaining('nobody')]);
  expect(loads.rows.map((r) => `${r.router}/${r.iface} ${r.now} ${r.then ?? '-'}`).sort()).toEqual([
    'a/to-b 40 0',
    'a/to-c 40 80',
    'b/to-d 40 0',
    'c/to-d 40 80',
  ]);
  expect(await bench.whatIf.worst(() => undefined)).toMatchObject({ 'a/to-c': { mbps: 80 }, 'a/to-b': { mbps: 80 } });
  bench.editing.editText(bench.whatIf.noDemands().edits);
  expect(bench.whatIf.loads([])).toMatchObject({ demands: 0, rows: [], asked: 0 });
  expect(bench.whatIf.demandsOfLans(10)).toMatchObject({ count: 0, edits: [] });
  expect(bench.whatIf.demandsOfLans(10).note).toContain('Nothing leaves');
});

test('coverage router by router is that of the campus; parallel cables are proposed', () => {
  const bench = opened(square());
  const { all, link, rows } = bench.whatIf.coverage();
  expect([all, link]).toEqual([24, 16]);
  expect([rows.reduce((n, r) => n + r.all, 0), rows.reduce((n, r) => n + r.link, 0)]).toEqual([24, 16]);
  expect(rows.find((r) => r.router === 'a')?.uncovered).toEqual([
    { iface: 'to-b', to: 'b', prefixes: ['10.96.0.2/32'] },
    { iface: 'to-c', to: 'c', prefixes: ['10.96.0.3/32'] },
  ]);
  expect(bench.whatIf.risks()).toEqual([]);
  bench.editing.editText(editsOf(bench, 'link a b'));
  expect(bench.whatIf.risks().map((r) => r.name)).toEqual(['a and b']);
});
