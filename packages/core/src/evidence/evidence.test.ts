import { prefixId } from '../prefix/prefix-book';
import { routerDetail } from './router-detail';
import { campus, type Campus } from '../testing/campus';
import { parseTypedPrefix } from '../prefix/ipv4';
import { facingValues, pairWord, viewWords } from './neighbor-words';
import { routeEvidence, type EvidenceStep } from './route-evidence';

const p2p = { 'interface-type': 'point-to-point' };
function evidence(c: Campus, router: string, prefix: string): readonly EvidenceStep[] {
  const p = c.predict();
  const typed = parseTypedPrefix(prefix);
  return routeEvidence(p, p.routerIndex(router), typed ? prefixId(typed.bits, typed.length) : -1)?.steps ?? [];
}
const find = <K extends EvidenceStep['kind']>(steps: readonly EvidenceStep[], kind: K): Extract<EvidenceStep, { kind: K }>[] =>
  steps.filter((s): s is Extract<EvidenceStep, { kind: K }> => s.kind === kind);

const net = () =>
  campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.97.0.3', 1)
    .cable('a', 'b', '10.96.1.0', 0, 7)
    .cable('b', 'c', '10.97.1.0', 1, 5)
    .port('c', 'lab', '10.97.8.1/24', 1, { passive: true, cost: 3 })
    .area('b', 1, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } });

describe('why a route stands in a table', () => {
  test('inside an area: the router-LSA with its interface, and the path with its distances', () => {
    const steps = evidence(net(), 'b', '10.97.8.0/24');
    expect(find(steps, 'own-table')[0]).toMatchObject({ source: 'ospf', preference: 110 });
    expect(find(steps, 'advertisement')[0]).toMatchObject({
      lsa: { type: 1, adv: '10.97.0.3' },
      origin: { router: 'c', iface: 'lab', node: 'interface' },
      metric: 3,
    });
    expect(find(steps, 'path')[0]?.steps).toEqual([
      { router: 'b', distance: 0 },
      { router: 'c', distance: 5 },
    ]);
  });
  test('a summary: the range at the border, its parts, and the way to a part behind it', () => {
    const steps = evidence(net(), 'a', '10.97.0.0/16');
    expect(find(steps, 'advertisement')[0]).toMatchObject({ lsa: { type: 3 }, origin: { router: 'b', area: '0.0.0.1', node: 'ranges' }, metric: 8 });
    expect(find(steps, 'at-border')[0]?.prefixes).toEqual(expect.arrayContaining(['10.97.8.0/24', '10.97.0.3/32']));
    expect(find(steps, 'advertisement').length).toBeGreaterThan(1);
  });
  test('a route of another source says what it was preferred to', () => {
    const steps = evidence(net().static('a', '10.97.0.0/16', 'blackhole'), 'a', '10.97.0.0/16');
    expect(find(steps, 'own-table')[0]).toMatchObject({ source: 'static', preference: 1, passedOver: [{ source: 'ospf', preference: 110 }] });
  });
  test('an external: who announces it from which source, and where its traffic is sent', () => {
    const c = net()
      .ospf('a', { redistribution: [{ source: 'static' }] })
      .port('a', 'reef', '10.98.1.1/24', 0, { passive: true })
      .static('a', '198.51.100.0/24', '10.98.1.9');
    expect(find(evidence(c, 'c', '198.51.100.0/24'), 'advertisement')[0]).toMatchObject({
      lsa: { type: 5 },
      origin: { router: 'a', node: 'redistribution' },
      says: expect.stringContaining('to be sent to 10.98.1.9') as unknown,
    });
  });
  test('a discard route: the range that it stands for, and the parts that bring it in force', () => {
    const [own, discard] = evidence(net(), 'b', '10.97.0.0/16');
    expect(own).toMatchObject({ kind: 'own-table', source: 'ospf-discard' });
    expect(discard).toMatchObject({ kind: 'discard', origin: { router: 'b', area: '0.0.0.1', node: 'ranges' } });
    expect(discard?.kind === 'discard' && [...discard.parts].sort()).toEqual(['10.97.0.3/32', '10.97.1.0/31', '10.97.8.0/24']);
    const external = net()
      .ospf('a', { redistribution: [{ source: 'static' }], 'external-ranges': [{ prefix: '198.51.100.0/22' }] })
      .static('a', '198.51.101.0/24', 'blackhole');
    expect(find(evidence(external, 'a', '198.51.100.0/22'), 'discard')).toMatchObject([
      { origin: { node: 'external-ranges' }, parts: ['198.51.101.0/24'] },
    ]);
  });
  test('what a translator announces goes on into its NSSA, to who imports it there', () => {
    const c = net()
      .area('b', 1, { 'area-type': 'nssa-area' })
      .area('c', 1, { 'area-type': 'nssa-area' })
      .ospf('c', { redistribution: [{ source: 'static' }] })
      .static('c', '198.51.100.0/24', 'blackhole');
    const steps = evidence(c, 'a', '198.51.100.0/24');
    expect(find(steps, 'at-border')[0]).toMatchObject({ router: 'b', prefixes: ['198.51.100.0/24'] });
    expect(find(steps, 'rule').map((x) => x.type)).toEqual(['external-2', 'nssa-2']);
    expect(find(steps, 'advertisement').map((x) => `${x.lsa.type} ${x.origin.router} ${x.origin.node}`)).toEqual(['5 b none', '7 c redistribution']);
  });
  test('no route, no evidence', () => {
    expect(evidence(net(), 'a', '192.0.2.0/24')).toEqual([]);
  });
  test('evidence of every route of every router can be told', () => {
    const p = net().predict();
    p.design.routers.forEach((_, i) => {
      for (const r of p.rib(i)) expect(routeEvidence(p, i, r.key)?.steps.length).toBeGreaterThan(0);
    });
  });
});

describe('a pair on facing pages', () => {
  const pair = (a: Record<string, unknown>, b: Record<string, unknown>) => {
    const p = campus()
      .router('a', '10.96.0.1')
      .router('b', '10.96.0.2')
      .port('a', 'x', '10.96.1.1/30', 0, a)
      .port('b', 'x', '10.96.1.2/30', 0, b)
      .predict();
    const first = p.adjacencies.pairs[0];
    if (!first) throw new Error('no pair');
    return first;
  };
  const marked = (a: Record<string, unknown>, b: Record<string, unknown>): string[] =>
    facingValues(pair(a, b))
      .filter((v) => v.match !== 'same')
      .map((v) => `${v.id} ${v.match}`);
  test('what keeps them apart is marked, what differs without harm is only told', () => {
    expect(marked(p2p, p2p)).toEqual([]);
    expect(marked({ ...p2p, 'hello-interval': 5 }, p2p)).toEqual(['hello-interval apart', 'dead-interval apart']);
    expect(marked({ ...p2p, mtu: 9000 }, p2p)).toEqual(['mtu apart']);
    expect(marked({ ...p2p, mtu: 9000 }, { ...p2p, 'mtu-ignore': true })).toEqual(['mtu differs']);
    expect(marked({}, p2p)).toEqual(['network-type apart']);
    expect(marked({ ...p2p, cost: 4 }, { ...p2p, cost: 9 })).toEqual([]);
  });
  test('defaults are told from what is written', () => {
    const hello = facingValues(pair({ ...p2p, 'hello-interval': 10 }, p2p)).find((v) => v.id === 'hello-interval');
    expect([hello?.aFrom, hello?.bFrom]).toEqual(['written', 'standard']);
  });
  test.each([
    ['full', p2p, p2p, 'full'],
    ['full, carries nothing', {}, p2p, 'trouble'],
    ['apart', { ...p2p, 'dead-interval': 50 }, p2p, 'trouble'],
    ['stuck in ExStart', { ...p2p, mtu: 9000 }, p2p, 'trouble'],
    ['2-Way', { priority: 0 }, { priority: 0 }, 'rests'],
    ['both passive', { ...p2p, passive: true }, { ...p2p, passive: true }, 'rests'],
    ['two spokes', { 'interface-type': 'non-broadcast', priority: 0 }, { 'interface-type': 'non-broadcast', priority: 0 }, 'rests'],
    ['apart', { 'interface-type': 'non-broadcast', priority: 1 }, { 'interface-type': 'non-broadcast', priority: 0 }, 'trouble'],
    ['down', { ...p2p, iface: { enabled: false } }, p2p, 'down'],
  ] as const)('its word: %s', (word, a, b, kind) => {
    const found = pair({ ...a }, { ...b });
    expect(pairWord(found)).toEqual({ word, kind });
    expect(viewWords(found.a)).not.toBe('');
  });
});

describe('who a router is', () => {
  const ruled = (): ReturnType<typeof campus> => campus().router('a', '10.96.0.1', 0).router('b', '10.96.0.2', 0).cable('a', 'b', '10.96.128.0', 0);
  test('an id that is written changes only by an edit; neighbours who know it are counted', () => {
    const d = routerDetail(ruled().predict(), 0);
    expect(d.identity.from).toBe('written');
    expect(d.identity.words.join(' ')).toMatch(/only an edit changes it.*1 neighbour knows/);
  });
  test('an id by rule says which address gave it and what would take over', () => {
    const p = ruled().ospf('a', { 'explicit-router-id': undefined }).predict();
    const d = routerDetail(p, 0);
    expect(d.identity.from).toBe('rule');
    expect(d.identity.words.join(' ')).toMatch(
      /highest address on its loopbacks, here of lo\. A loopback with a higher address than 10\.96\.0\.1 would take over, in OSPF or not/,
    );
  });
  test('areas are told in the words that change them', () => {
    const p = ruled()
      .router('c', '10.96.0.3', 10)
      .cable('b', 'c', '10.96.128.2', 10)
      .area('b', 10, { 'area-type': 'stub-area', summary: false, 'default-cost': 4, ranges: { range: [{ prefix: '10.97.0.0/16', cost: 9 }] } })
      .area('c', 10, { 'area-type': 'stub-area' })
      .predict();
    expect(routerDetail(p, 1).areas).toEqual([
      { id: '0.0.0.0', kind: 'normal', defaultCost: null, ranges: [], border: true },
      { id: '0.0.0.10', kind: 'totally-stubby', defaultCost: 4, ranges: ['10.97.0.0/16, cost 9'], border: true },
    ]);
    expect(routerDetail(p, 2).areas).toEqual([{ id: '0.0.0.10', kind: 'stub', defaultCost: null, ranges: [], border: false }]);
  });
  test('imports are told with metric, type and policies', () => {
    const p = ruled()
      .ospf('a', { redistribution: [{ source: 'static', metric: 7, policy: ['partners-only'] }], 'default-route': { announce: 'always' } })
      .predict();
    expect(routerDetail(p, 0).imports).toEqual([
      'static routes, metric 7 type-2, where partners-only lets them pass',
      'a default route, always, metric 10 type-2',
    ]);
  });
});
