import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Port } from '../adjacency/speakers';
import { readSet } from '../formats/read-set';
import { formatAddress } from '../prefix/address';
import { recordedDocuments, recordedFolders, type RecordedCase } from '../testing/recorded';
import { campus, type Campus, type PortOptions } from '../testing/campus';
import { predict, type Prediction } from '../predict';
import { aloneOn } from './alone';
import { comingUp, type Beginning, type ComingUp } from './coming-up';

const two = (a: PortOptions = {}, b: PortOptions = {}, type = 'point-to-point'): Campus =>
  campus()
    .router('auk', '10.96.0.1', 0)
    .router('crake', '10.96.0.2', 0)
    .port('auk', 'east', '10.97.0.0/31', 0, { 'interface-type': type, ...a })
    .port('crake', 'west', '10.97.0.1/31', 0, { 'interface-type': type, ...b });

function play(
  p: Prediction,
  beginning: Beginning = 'together',
  a = { router: 'auk', iface: 'east' },
  b = { router: 'crake', iface: 'west' },
): ComingUp {
  const r = p.routerIndex(a.router);
  const alone = aloneOn(p, p.segments.at(r, p.design.routers[r]?.interfaces.findIndex((i) => i.name === a.iface) ?? -1));
  const out = alone && comingUp(alone, a, b, beginning);
  if (!out) throw new RangeError('no pair');
  return out;
}
const told = (c: ComingUp): string[] => c.steps.map((s) => `${s.from === 'none' ? '' : `${s.from}: `}${s.what}`);
const fields = (c: ComingUp, what: string): string[] =>
  c.steps.filter((s) => s.what === what).map((s) => `${s.from} ${s.fields.map(([n, v]) => `${n} ${v}`).join(', ')}`);
const last = (c: ComingUp): string[] => [c.shown.a.at(-1)?.state ?? '', c.shown.b.at(-1)?.state ?? ''];

test('a cable: hellos that list nobody, a hello interval later hellos that do, master by router id, and Full', () => {
  const c = play(two().predict());
  expect(
    told(c)
      .slice(0, 4)
      .map((s) => s.slice(3)),
  ).toEqual(['Hello', 'Hello', 'Hello', 'Hello']);
  expect(told(c)).toContain('crake is master: its router id 10.96.0.2 is the larger');
  expect(fields(c, 'Database Description')).toEqual([
    'a flags I, M, MS, sequence s, its own, MTU 1500',
    'b flags I, M, MS, sequence t, its own, MTU 1500',
    'a flags M, sequence t, headers 1',
    'b flags M, MS, sequence t + 1, headers 1',
    'a flags none, sequence t + 1, headers 0',
  ]);
  // Each asks for the router advertisement of the other, and has it acknowledged.
  expect(fields(c, 'Link State Request')).toEqual(['a advertisements 1', 'b advertisements 1']);
  expect(c.steps.at(-1)).toMatchObject({ what: 'databases are in step: Full', a: 'full', b: 'full' });
  // Both speak as their carriers come, 8 to 16 ms; neither is listed before the next hello, 10 s later.
  expect(c.patience?.earliest).toBeGreaterThan(10_000);
  expect(c.patience?.latest).toBeLessThan(10_100);
  expect(c.seen).toBe('Full after 10.0 s at the latest, 10.0 s as a rule.');
});

test('a LAN waits for its dead interval when all begin together, and not when one comes to those that lead', () => {
  const reef = campus()
    .router('auk', '10.96.0.1', 0)
    .router('crake', '10.96.0.2', 0)
    .router('dunlin', '10.96.0.3', 0)
    .lan('reef', '10.97.1.0/24', 0, [
      ['auk', { priority: 0 }],
      ['crake', {}],
      ['dunlin', {}],
    ])
    .predict();
  const ends = [
    { router: 'auk', iface: 'reef' },
    { router: 'dunlin', iface: 'reef' },
  ] as const;
  const together = play(reef, 'together', ...ends);
  expect(together.patience?.earliest).toBeGreaterThan(30_000);
  expect(together.patience?.latest).toBeLessThan(60_000);
  expect(told(together).some((s) => s === 'dunlin elects: dunlin leads, crake is backup')).toBe(true);
  const joins = play(reef, 'a', ...ends);
  // At most a hello of each: the leader is heard within 10 s, and hears itself listed within another 10 s.
  expect(joins.patience?.latest).toBeLessThan(20_100);
  expect(joins.patience?.typical).toBeLessThan(15_000);
  // Two that do not lead stay in 2-Way, and that is said to be right.
  const four = campus();
  for (const [i, n] of ['auk', 'crake', 'dunlin', 'egret'].entries()) four.router(n, `10.96.0.${i + 1}`, 0);
  four.lan(
    'reef',
    '10.97.1.0/24',
    0,
    ['auk', 'crake', 'dunlin', 'egret'].map((n) => [n, {}] as const),
  );
  const others = play(four.predict(), 'together', { router: 'auk', iface: 'reef' }, { router: 'crake', iface: 'reef' });
  expect(last(others)).toEqual(['2-way', '2-way']);
  expect(others.steps.at(-1)?.what).toBe('neither is designated router or backup: they stay in 2-Way, and that is right');
  expect(others.steps.at(-1)?.sticks).toBeUndefined();
});

test('where it sticks: each trouble by the packet that is refused, with both values, and what is seen', () => {
  const hello = play(two({ 'hello-interval': 5 }).predict());
  expect(hello.steps.at(-1)).toMatchObject({ sticks: true, what: 'every hello is thrown away: no neighbour is ever listed' });
  expect(hello.steps[0]?.refused).toContain('hello interval: 5 s in it, 10 s here');
  expect(hello.seen).toBe('No neighbour is listed on either side, for ever; after 40 s there is nothing more to wait for.');
  expect(hello.patience).toBeUndefined();

  const small = play(two({ mtu: 1400 }).predict());
  expect(small.steps.filter((s) => s.refused).map((s) => `${s.from} ${s.refused ?? ''}`)).toEqual([
    'b MTU 1500 in it, 1400 here: larger than what can be taken in one piece',
  ]);
  expect(last(small)).toEqual(['exstart', 'exstart']);
  // The slave takes the first description and goes on; its answer is refused.
  expect(last(play(two({}, { mtu: 1400 }).predict()))).toEqual(['exchange', 'exstart']);

  const passive = play(two({ passive: true }).predict());
  expect(passive.steps.at(-1)?.what).toBe('auk sends no hello here');

  const type = play(two({ 'interface-type': 'broadcast' }).predict());
  expect(last(type)).toEqual(['full', 'full']);
  expect(type.seen).toContain('no route goes through it');

  const spoke = play(
    two({ 'static-neighbors': { neighbor: [{ identifier: '10.97.0.1', 'poll-interval': 60 }] } }, { passive: true }, 'non-broadcast').predict(),
  );
  expect(spoke.shown.a.map((s) => s.state)).toEqual(['attempt', 'down']);
  expect(spoke.shown.a[0]?.toMs).toBe(120_000);
  expect(spoke.seen).toContain('auk shows Attempt for 120 s, then Down, and polls every 60 s');
});

test('a dead interval shorter than the hello interval: up and lost, each hello anew', () => {
  const short = { 'hello-interval': 10, 'dead-interval': 8 };
  const c = play(two(short, short).predict());
  expect(c.flaps).toBe(10_000);
  expect(c.shown.a.filter((s) => s.state === 'full').length).toBeGreaterThan(2);
  expect(c.seen).toBe('The neighbour comes up and is lost again about every 10.0 s, on both.');
  expect(c.steps.at(-1)).toMatchObject({ sticks: true, a: 'down', b: 'down' });
});

test('two spokes that may not lead say nothing to each other, and that is right; two of one id on a LAN do not hold the play up', () => {
  const spoke = { priority: 0, 'interface-type': 'non-broadcast' };
  const cloud = campus();
  for (const [i, n] of ['auk', 'crake', 'dunlin'].entries()) cloud.router(n, `10.96.0.${i + 1}`, 0);
  cloud.lan('sea', '10.97.1.0/24', 0, [
    ['auk', { ...spoke, priority: 1, 'static-neighbors': { neighbor: [{ identifier: '10.97.1.2' }, { identifier: '10.97.1.3' }] } }],
    ['crake', spoke],
    ['dunlin', spoke],
  ]);
  const spokes = play(cloud.predict(), 'together', { router: 'crake', iface: 'sea' }, { router: 'dunlin', iface: 'sea' });
  expect(spokes.steps.at(-1)).toMatchObject({ what: 'neither can lead, so neither speaks to the other: that is right' });
  expect(spokes.steps.at(-1)?.sticks).toBeUndefined();
  expect(spokes.seen).toBe('No neighbour is listed on either side, and that is right.');

  const twins = campus().router('auk', '10.96.0.1', 0).router('crake', '10.96.0.2', 0).router('dunlin', '10.96.0.3', 0);
  twins.lan('reef', '10.97.1.0/24', 0, ['auk', 'crake', 'dunlin']).ospf('crake', { 'explicit-router-id': '10.96.0.1' });
  const twin = play(twins.predict(), 'together', { router: 'auk', iface: 'reef' }, { router: 'crake', iface: 'reef' });
  expect(twin.steps[0]?.refused).toContain('router id: 10.96.0.1 in it, 10.96.0.1 here');
  expect(last(twin)).toEqual(['down', 'down']);
});

/** Every recorded network: where the play of a pair ends is where real routers rested. */
test.each(recordedFolders)('what routers recorded is where the play ends: %s', (folder) => {
  const { design } = readSet(recordedDocuments(folder));
  const recorded = JSON.parse(readFileSync(join(__dirname, '../../recorded', folder, 'expected/base.json'), 'utf8')) as RecordedCase;
  const p = predict(design);
  for (const pair of p.adjacencies.pairs) {
    const alone = aloneOn(p, pair.segment);
    const name = (x: Port): { router: string; iface: string } => ({ router: p.design.routers[x.routerIndex]?.name ?? '', iface: x.iface.name });
    const [a, b] = [name(pair.a.port), name(pair.b.port)];
    const c = alone && comingUp(alone, a, b, 'together', { runs: 1 });
    if (!c) throw new RangeError(`no play of ${a.router} and ${b.router}`);
    for (const [side, end, peer] of [
      ['a', a, pair.b.port],
      ['b', b, pair.a.port],
    ] as const) {
      const seen = (recorded.routers[end.router]?.ospfv2?.areas.area ?? [])
        .flatMap((x) => x.interfaces.interface)
        .find((i) => i.name === end.iface)
        ?.neighbors.neighbor.find((n) => n.address === formatAddress(peer.address ?? 0));
      // Two that may be named twice, unnumbered, or left out of what was recorded.
      if (peer.address === undefined || !recorded.routers[end.router]?.ospfv2) continue;
      const allowed = seen?.['state-seen'] ?? [seen?.state ?? 'down'];
      expect([folder, end.router, peer.iface.name, allowed]).toEqual([
        folder,
        end.router,
        peer.iface.name,
        expect.arrayContaining([c.shown[side].at(-1)?.state]),
      ]);
    }
  }
});
