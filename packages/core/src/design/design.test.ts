import { campus, linksOf, ribOf, routeTo, statesOf } from '../testing/campus';
import { designFrom } from '../formats/read-set';
import { formatAddress } from '../prefix/address';
import { findingsOf } from '../findings/catalogue';
import { predict } from '../predict';
import { routerIdOf } from './router-id';
import { applyPolicies, type PolicyBook } from './policy';

const p2p = { 'interface-type': 'point-to-point' };

describe('which interfaces take part', () => {
  const rules = (activation: readonly object[], order = 'first-match') =>
    campus()
      .router('a', '10.96.0.1', null, { activation, 'activation-order': order })
      .port('a', 'lo', '10.96.0.1/32', null, { iface: { type: 'softwareLoopback' } })
      .port('a', 'lab-1', '10.97.1.1/24', null)
      .port('a', 'lab-2', '10.97.2.1/24', null)
      .port('a', 'yard', '10.98.1.1/24', null);
  const areas = (c: ReturnType<typeof rules>): string[] =>
    c.predict().adjacencies.ports.map((p) => `${p.iface.name} ${p.area.id}${p.settings.passive ? ' passive' : ''}`);
  test('by prefix, by name with *, or any; the first rule that matches decides', () => {
    expect(
      areas(
        rules([
          { match: '10.97.0.0/16', 'area-id': 1 },
          { match: 'any', 'area-id': 0, passive: true },
        ]),
      ),
    ).toEqual(['lo 0 passive', 'lab-1 1', 'lab-2 1', 'yard 0 passive']);
    expect(areas(rules([{ match: 'lab-*', 'area-id': 2 }]))).toEqual(['lab-1 2', 'lab-2 2']);
  });
  test('a broad rule in front swallows the narrow one, unless the longest match decides', () => {
    const list = [
      { match: 'any', 'area-id': 0 },
      { match: '10.97.0.0 0.0.255.255', 'area-id': 1 },
      { match: '10.97.2.0/24', 'area-id': 2 },
    ];
    expect(areas(rules(list))).toEqual(['lo 0', 'lab-1 0', 'lab-2 0', 'yard 0']);
    expect(areas(rules(list, 'longest-match'))).toEqual(['lo 0', 'lab-1 1', 'lab-2 2', 'yard 0']);
  });
  test('names count as /32, and an interface listed under an area wins over every rule', () => {
    expect(
      areas(
        rules(
          [
            { match: '10.97.2.0/24', 'area-id': 2 },
            { match: 'lab-2', 'area-id': 3 },
          ],
          'longest-match',
        ),
      ),
    ).toEqual(['lab-2 3']);
    const c = rules([{ match: 'any', 'area-id': 0 }]).port('a', 'listed', '10.99.1.1/24', 7);
    expect(areas(c)).toContain('listed 7');
  });
  test('a rule written for one address takes every address of the interface', () => {
    const c = rules([{ match: '10.97.9.1/32', 'area-id': 0 }]).port('a', 'two', '10.97.9.1/24 10.99.9.1/24', null);
    expect(linksOf(c.predict(), 'a', 0)).toEqual(['stub 10.99.9.0 255.255.255.0 10', 'stub 10.97.9.0 255.255.255.0 10']);
  });
  test('a mask with holes matches nothing and is told', () => {
    const { problems } = rules([{ match: '10.97.0.0/255.0.255.0', 'area-id': 1 }]).read();
    expect(problems[0]?.message).toMatch(/fits neither/);
  });
});

describe('router id (RFC 2328 C.1)', () => {
  const ids = (rule: string | undefined, more: readonly [string, string, boolean][]): string => {
    const c = campus().router('a', '0.0.0.9', null, rule === undefined ? {} : { 'router-id-rule': rule });
    for (const [name, address, loopback] of more) c.port('a', name, address, 0, { iface: loopback ? { type: 'softwareLoopback' } : {} });
    const router = c.read().design.routers[0];
    const instance = router?.instances[0];
    const found = router && instance && routerIdOf(router, { ...instance, explicitRouterId: undefined });
    return found ? `${formatAddress(found.id)} ${found.source.from}` : 'none';
  };
  test('the highest loopback, the lowest where told so, never 127/8; else any interface', () => {
    const two: [string, string, boolean][] = [
      ['lo1', '10.96.0.5/32', true],
      ['lo2', '10.96.0.7/32', true],
      ['e', '10.99.0.1/24', false],
      ['lo3', '127.0.0.1/8', true],
    ];
    expect(ids(undefined, two)).toBe('10.96.0.7 loopback');
    expect(ids('lowest-loopback', two)).toBe('10.96.0.5 loopback');
    expect(
      ids(undefined, [
        ['e', '10.97.0.1/24', false],
        ['f', '10.98.0.1/24', false],
      ]),
    ).toBe('10.98.0.1 interface');
    expect(ids(undefined, [])).toBe('none');
  });
  test('one id in two routers of an area: both advertise as one, and it is told', () => {
    const c = campus()
      .router('a', '10.96.0.1', 0)
      .router('m', '10.96.0.2', 0)
      .router('z', '10.96.0.1', null)
      .cable('a', 'm', '10.96.1.0', 0)
      .cable('m', 'z', '10.96.1.2', 0)
      .port('z', 'lab', '10.97.9.1/24', 0, { passive: true });
    const read = c.read();
    const p = predict(read.design);
    expect(statesOf(p, 'm')).toEqual(['a full', 'z full']);
    // The first by host name stands for both.
    expect(routeTo(p, 'm', '10.97.9.0/24')).toBe('');
    expect(findingsOf(p, read.documents, false).map((f) => f.rule)).toContain('duplicate-router-id');
  });
});

test('several processes in one router: each is predicted, and the table takes from both', () => {
  const c = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .cable('a', 'b', '10.96.1.0', 0)
    .port('b', 'south', '10.96.2.1/30', null)
    .port('c', 'x', '10.96.2.2/30', 0, p2p);
  const documents = c.documents();
  const tree = documents.find((d) => d.file === 'b.json')?.tree as {
    'ietf-routing:routing': { 'control-plane-protocols': { 'control-plane-protocol': object[] } };
  };
  tree['ietf-routing:routing']['control-plane-protocols']['control-plane-protocol'].push({
    type: 'ospfv2',
    name: 'second',
    ospf: { 'explicit-router-id': '10.96.0.22', areas: { area: [{ 'area-id': 0, interfaces: { interface: [{ name: 'south', ...p2p }] } }] } },
  });
  const p = predict(designFrom(documents).design);
  expect(p.speakersOf(p.routerIndex('b')).map((s) => s.instance.name)).toEqual(['campus', 'second']);
  expect(ribOf(p, 'b')).toEqual(expect.arrayContaining(['10.96.0.1/32 ospf', '10.96.0.3/32 ospf']));
  expect(routeTo(p, 'a', '10.96.0.3/32')).toBe('');
});

test('preferences by kind of route decide against other sources', () => {
  const c = campus()
    .router('a', '10.96.0.1', 0, { preference: { 'intra-area': 30, external: 200 } })
    .router('b', '10.96.0.2', 0, { redistribution: [{ source: 'static' }] })
    .cable('a', 'b', '10.96.1.0', 0)
    .static('b', '198.51.100.0/24', 'blackhole')
    .static('a', '198.51.100.0/24', 'blackhole', { 'route-preference': 150 })
    .static('a', '10.96.0.2/32', 'blackhole', { 'route-preference': 50 });
  expect(ribOf(c.predict(), 'a')).toEqual(expect.arrayContaining(['198.51.100.0/24 static', '10.96.0.2/32 ospf']));
});

test('an interface bound to another routing table takes no part', () => {
  const c = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .cable('a', 'b', '10.96.1.0', 0, 10, {})
    .port('a', 'other', '10.97.1.1/24', 0, { iface: { 'bind-ni-name': 'guests' } });
  expect(ribOf(c.predict(), 'a').some((r) => r.startsWith('10.97.1.0'))).toBe(false);
});

describe('policies (RFC 9067)', () => {
  const book = (statements: readonly object[]): PolicyBook => ({
    sets: new Map([['some', { name: 'some', lines: [{ prefix: { bits: 0x0a60_0000, length: 11 }, from: 24, to: 28 }], lines6: [] }]]),
    definitions: new Map([
      [
        'p',
        {
          name: 'p',
          statements: statements.map((s, i) => ({
            name: `s${i}`,
            matchSet: undefined,
            matchTags: undefined,
            callPolicy: undefined,
            actions: { result: undefined, metric: undefined, metricType: undefined, tag: undefined },
            ...s,
          })),
        },
      ],
    ]),
  });
  const route = (length: number) => ({ prefix: { bits: 0x0a61_0000, length }, metric: 20, metricType: 'type-2' as const, tag: 7 });
  const accept = { result: 'accept' as const, metric: undefined, metricType: undefined, tag: undefined };
  test('lengths within bounds, inverted sets, tags; what no statement takes is refused', () => {
    const only = book([{ matchSet: { name: 'some', invert: false }, actions: accept }]);
    expect([23, 24, 28, 29].map((n) => applyPolicies(only, ['p'], route(n)).accepted)).toEqual([false, true, true, false]);
    expect(applyPolicies(book([{ matchSet: { name: 'some', invert: true }, actions: accept }]), ['p'], route(30)).accepted).toBe(true);
    expect(applyPolicies(book([{ matchTags: [8], actions: accept }]), ['p'], route(24)).accepted).toBe(false);
    expect(applyPolicies(book([]), ['missing'], route(24)).accepted).toBe(false);
    expect(applyPolicies(book([]), [], route(24)).accepted).toBe(true);
  });
  test('a statement without a result goes on with what it set; metrics are set, added, subtracted within bounds', () => {
    const p = book([{ actions: { ...accept, result: undefined, metric: { change: 'add', by: 5 } } }, { actions: { ...accept, tag: 9 } }]);
    expect(applyPolicies(p, ['p'], route(24)).subject).toMatchObject({ metric: 25, tag: 9 });
    expect(applyPolicies(book([{ actions: { ...accept, metric: { change: 'subtract', by: 99 } } }]), ['p'], route(24)).subject.metric).toBe(0);
  });
});
