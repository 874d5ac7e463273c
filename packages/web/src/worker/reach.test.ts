import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { invertEdit } from '@gentle-compass/core/design/edit';
import type { TraceView } from '../model/reach-view';
import { Workbench } from './workbench';

const root = join(__dirname, '../../../../demo/saltmarsh-point');
const files = readdirSync(root).map((name) => ({ name, content: readFileSync(join(root, name), 'utf8') }));

function opened(): Workbench {
  const bench = new Workbench();
  const { design } = bench.files.readFiles(files, 'campus');
  if (!design) throw new Error('the sample cannot be read');
  bench.editing.open(design);
  return bench;
}

/** Makes a line of quick entry; gives its edits. */
function done(bench: Workbench, line: string): { title: string; edits: ReturnType<typeof invertEdit>[] } {
  const { plan, error } = bench.editing.entry(line, []);
  if (!plan) throw new Error(error?.message ?? line);
  bench.editing.editText(plan.edits);
  return { title: plan.title, edits: [...plan.edits].reverse().map(invertEdit) };
}

const traced = (bench: Workbench, from: string, to: string): TraceView => {
  const t = bench.reach.trace(from, to);
  if ('fault' in t) throw new Error(t.fault);
  return t;
};

test('a packet from a router takes the address that it uses by itself; a host begins at each gateway', () => {
  const bench = opened();
  const t = traced(bench, 'kelp-4', '10.97.66.50');
  expect([t.from, t.chosen, t.source, t.starts, t.cost, t.hops]).toEqual(['10.97.1.3', true, 'kelp-4', ['kelp-4'], 70, 3]);
  expect(t.goals).toEqual(['drydock-1', 'drydock-2', 'drydock-3', 'drydock-4']);
  expect(t.there.branches.map((b) => b.hops.map((h) => h.router).join(' '))).toEqual([
    'kelp-4 kelp-1 beacon-1 drydock-1',
    'kelp-4 kelp-2 beacon-2 drydock-2',
  ]);
  expect(t.there.branches[0]?.hops[0]).toMatchObject({ route: '10.97.64.0/18', by: 'inter-area 70', iface: 'to-kelp-1' });
  // Cables by their segments, the ends at the LAN none: the host stands there.
  expect(t.there.lines).toHaveLength(8);
  const host = traced(bench, '10.97.66.50', 'kelp-4');
  expect([host.source, host.chosen, host.starts.length, host.sources]).toEqual(['', false, 4, []]);
});

test('what cannot be followed is told in words', () => {
  const { reach } = opened();
  expect(reach.trace('kelp-4', 'nobody')).toEqual({ fault: 'There is no router and no group “nobody”, nor is it an address.' });
  expect(reach.trace('10.97.1', 'kelp-4')).toEqual({ fault: '“10.97.1” is no address such as 10.96.0.1 or 2001:db8::1.' });
  expect(reach.trace('kelp-4', '2001:db8::1')).toEqual({ fault: '2001:db8::1 is of IPv6, and IPv4 is looked at: press v to turn.' });
});

test('one-way reach has its missing route and what mends it; while something is down nothing is mended', async () => {
  const bench = opened();
  done(bench, 'leave drydock-3/workshop');
  const t = traced(bench, '10.97.72.1', 'kelp-4');
  expect([t.there.fate, t.back.fate]).toEqual(['delivered', 'dropped']);
  expect(t.missing?.reasons.map((r) => r.kind)).toEqual(['not-in-ospf']);
  const mends = await bench.reach.mends(t.from, t.to);
  expect(mends.map((m) => m.lines.join('; '))).toContain('join drydock-3/workshop area 20 passive');
  await bench.failures.fail(['router:kelp-5']);
  expect(await bench.reach.mends(t.from, t.to)).toEqual([]);
});

test('what does not arrive is told with the route that is missing where it ends', async () => {
  const bench = opened();
  await bench.failures.fail(['interface:kelp-4/archive']);
  const t = traced(bench, 'drydock-3', '10.97.12.20');
  expect([t.there.fate, t.missing?.prefix, t.missing?.reasons.map((r) => r.kind)]).toEqual(['dropped', '10.97.12.0/24', ['not-up']]);
  const nobody = traced(bench, 'drydock-3', '10.97.60.1');
  expect([nobody.missing?.prefix, nobody.missing?.reasons.map((r) => r.kind)]).toEqual(['10.97.60.1/32', ['nobody']]);
});

test('a matrix of loopbacks, of LANs by a host each, of groups; an older wish gives way to a newer one', async () => {
  const bench = opened();
  const none = (): void => undefined;
  const m = await bench.reach.matrix('loopbacks', 'loopbacks', none);
  expect([m?.rows.length, m?.there.every((x) => x === 1)]).toEqual([20, true]);
  expect(m?.rows.find((r) => r.router === 'kelp-4')).toEqual({ address: '10.97.0.4', router: 'kelp-4', area: '0.0.0.10', site: 'kelp' });
  const out = await bench.reach.matrix('kelp-4', 'outside', none);
  // What comes from outside leaves the design there; the default is no prefix of its own.
  expect([out?.columns.length, [...(out?.there ?? [])]]).toEqual([1, [4]]);
  done(bench, 'group "labs" of 10.97.64.0/18 area 10');
  expect(bench.reach.sides()).toEqual(['labs']);
  const [older, newer] = await Promise.all([bench.reach.matrix('labs', 'lans', none), bench.reach.matrix('labs', 'kelp-1', none)]);
  expect([older, newer?.columns.map((c) => c.router)]).toEqual([null, ['kelp-1']]);
  expect(newer?.rows.map((r) => r.router)).toEqual(expect.arrayContaining(['drydock-1', 'kelp-5']));
});

test('which step broke an expectation, by undoing one after the other', async () => {
  const bench = opened();
  const steps = [done(bench, 'expect "far" reach kelp-4 10.97.66.50'), done(bench, 'set cost 30 on kelp-4/to-kelp-1')];
  const cut = [
    done(bench, 'delete link kelp-4 kelp-1'),
    done(bench, 'delete link kelp-4 kelp-2'),
    done(bench, 'delete link kelp-4 kelp-3'),
    done(bench, 'delete link kelp-4 kelp-5'),
  ];
  steps.push(...cut, done(bench, 'set cost 7 on kelp-1/to-kelp-3'));
  const back = [...steps].reverse();
  const broken = bench.reach.expected().find((e) => e.name === 'far');
  expect([broken?.holds, broken?.breach?.pair]).toEqual([false, { from: '10.97.0.4', to: '10.97.66.50' }]);
  // With that cable area 10 fell apart: its summary brought half of the answers to the wrong half.
  expect(await bench.reach.brokenSince('far', back)).toMatchObject({
    title: cut[2]?.title,
    back: 3,
    // Both ends of the cable, in both documents.
    lines: expect.arrayContaining([expect.objectContaining({ router: 'kelp-3' }), expect.objectContaining({ router: 'kelp-4' })]) as unknown,
  });
  expect(await bench.reach.brokenSince('far', back.slice(0, 1))).toBe('opened');
  const stated = done(bench, 'expect "never" reach kelp-4 192.0.2.1');
  expect(await bench.reach.brokenSince('never', [done(bench, 'set cost 9 on kelp-1/to-kelp-3'), stated, ...back])).toBe('stated');
});

test('the step after which packets come back too late is found, by simulated runs', async () => {
  const bench = opened();
  const stated = done(bench, 'expect "quick" session kelp-1 kelp-3 within 400 under link:kelp-1/to-kelp-3');
  const slow = done(bench, 'set spf-initial-delay 900 on kelp-3');
  const steps = [stated, slow, done(bench, 'set cost 21 on kelp-5/to-kelp-2')];
  await bench.checking.judgedText();
  expect(bench.reach.expected().find((e) => e.name === 'quick')?.breach?.kind).toBe('too-slow');
  expect(await bench.reach.brokenSince('quick', [...steps].reverse())).toMatchObject({ title: slow.title, back: 2 });
});

test('one prefix in all routers: the way of each that has it, the reason of each that has not', async () => {
  const rows = await opened().routes.everywhere('10.97.66.0/24');
  const of = (name: string) => rows?.find((r) => r.router === name);
  expect(of('drydock-3')).toMatchObject({ row: { type: 'direct' }, way: [], absence: null });
  expect(of('kelp-1')?.absence?.reasons.map((r) => r.kind)).toEqual(['folded', 'folded']);
  expect(of('kelp-1')?.absence?.instead?.prefix).toBe('10.97.64.0/18');
  const loopback = await opened().routes.everywhere('10.97.0.4/32');
  expect(loopback?.find((r) => r.router === 'kelp-5')).toMatchObject({ row: { type: 'intra-area' }, way: ['kelp-2', 'kelp-4'] });
  expect(await opened().routes.everywhere('kelp')).toBeNull();
});

test('tables side by side, of the router and of OSPF; what OSPF computed and the table did not take', () => {
  const { routes } = opened();
  const rows = routes.beside(['kelp-1', 'kelp-2']);
  const own = rows.find((r) => r.prefix === '10.96.0.11/32');
  expect([own?.differs, own?.cells.map((c) => c?.type)]).toEqual([true, ['direct', 'intra-area']]);
  expect(
    routes
      .besideOspf(['kelp-1', 'kelp-2'])
      .find((r) => r.prefix === '10.96.0.11/32')
      ?.cells.map((c) => c?.metric),
  ).toEqual([0, 24]);
  const beside = routes.own('kelp-1');
  expect(beside.find((r) => r.prefix === '10.97.1.0/31')).toMatchObject({
    took: 'direct',
    ospf: { type: 'intra-area', metric: 20 },
    why: '0 before 110',
  });
  expect(beside.find((r) => r.prefix === '10.97.0.0/18')).toMatchObject({ took: 'ospf-discard', ospf: null, why: '' });
  expect(beside.filter((r) => r.took === 'ospf').every((r) => r.why === '')).toBe(true);
});

test('the tree of a router and what another cost would move, before it is made', async () => {
  const { routes } = opened();
  const tree = routes.tree('kelp-1', '0.0.0.10');
  expect(tree?.areas).toEqual(['0.0.0.0', '0.0.0.10']);
  expect(tree?.tree.map((t) => `${t.router} ${t.distance}`)).toEqual(['kelp-1 0', 'kelp-3 20', 'kelp-4 20', 'kelp-2 40', 'kelp-5 60']);
  const trial = await routes.costTrial('kelp-1', '0.0.0.10', 'kelp-1/to-kelp-4', 90);
  expect(trial?.moves.find((m) => m.router === 'kelp-4')).toEqual({
    router: 'kelp-4',
    before: 20,
    after: 60,
    overBefore: ['kelp-1'],
    overAfter: ['kelp-3'],
  });
  expect(trial?.changed).toBeGreaterThan(0);
  expect(routes.tree('kelp-1', '0.0.0.10')?.tree).toEqual(tree?.tree);
  expect(await routes.costTrial('kelp-1', '0.0.0.10', 'kelp-1/nothing', 90)).toBeNull();
});
