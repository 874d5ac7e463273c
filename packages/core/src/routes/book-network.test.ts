import { campus, databaseOf, routeTo, type Campus } from '../testing/campus';

/**
 * The autonomous system of RFC 2328 §2.1.2 (figure 2), with addresses of our own: networks 1 to 12 are the standard's N1 to
 * N12. The standard prints what its routers compute; nothing here was read off the engine.
 */
const net = (n: number, area: number): string => `10.${97 + area}.${n}.0/24`;
const outside = { n12: '198.51.100.0/24', n13: '203.0.113.0/26', n14: '203.0.113.64/26', n15: '203.0.113.128/26' };
const host = '10.100.200.1/32';

/** @param areas  whether areas 1 to 3 of §3 are drawn, or all is one area */
function system(areas: boolean): Campus {
  const of = (n: number): number => (areas ? n : 0);
  const importing = (source: string, metric: number): object => ({ source, metric, 'metric-type': 'type-1' });
  const exits: Record<number, object> = {
    5: { redistribution: [importing('static', 8)] },
    7: { redistribution: [importing('static', 2), importing('direct', 9)] },
  };
  const c = campus();
  for (let n = 1; n <= 12; n++) c.router(`rt${n}`, `10.96.0.${n}`, null, (exits[n] ?? {}) as Record<string, unknown>);
  const serial = (a: number, b: number, place: number, there: number, back: number): void =>
    void c.cable(`rt${a}`, `rt${b}`, `10.96.1.${place}`, 0, [there, back]);
  serial(3, 6, 0, 8, 6);
  serial(4, 5, 2, 8, 8);
  serial(5, 6, 4, 7, 6);
  serial(5, 7, 6, 6, 6);
  serial(6, 10, 8, 7, 5);
  const lan = (n: number, area: number, members: Readonly<Record<number, number>>): void =>
    void c.lan(
      `n${n}`,
      net(n, area),
      of(area),
      Object.entries(members).map(([r, cost]) => [`rt${r}`, { cost }]),
    );
  lan(1, 1, { 1: 3 });
  lan(2, 1, { 2: 3 });
  lan(3, 1, { 1: 1, 2: 1, 3: 1, 4: 1 });
  lan(4, 1, { 3: 2 });
  lan(6, 2, { 7: 1, 8: 1, 10: 1 });
  lan(7, 2, { 8: 4 });
  lan(8, 2, { 10: 3, 11: 2 });
  lan(9, 3, { 9: 1, 11: 1, 12: 1 });
  lan(10, 3, { 12: 2 });
  lan(11, 3, { 9: 3 });
  c.port('rt12', 'h1', host, of(3), { passive: true, cost: 10 });
  for (const n of ['n12', 'n13', 'n14'] as const) c.static('rt5', outside[n], 'blackhole');
  c.static('rt7', outside.n12, 'blackhole').port('rt7', 'n15', '203.0.113.129/26', null);
  if (!areas) return c;
  const far = (id: number): object => ({ 'virtual-links': { 'virtual-link': [{ 'transit-area-id': '0.0.0.2', 'router-id': `10.96.0.${id}` }] } });
  return c
    .area('rt10', 0, far(11) as Record<string, unknown>)
    .area('rt11', 0, far(10) as Record<string, unknown>)
    .area('rt11', 3, { ranges: { range: [{ prefix: '10.100.0.0/16' }] } });
}

/** First hop of a router's route, as the name of the router there. */
const via = (words: string): string => /to-(rt\d+)/.exec(words)?.[1] ?? '';

test('what RT6 computes while all is one area: tables 2 and 3 of RFC 2328', () => {
  const p = system(false).predict();
  const inside = [
    [net(1, 1), 'rt3', 10],
    [net(2, 1), 'rt3', 10],
    [net(3, 1), 'rt3', 7],
    [net(4, 1), 'rt3', 8],
    [net(6, 2), 'rt10', 8],
    [net(7, 2), 'rt10', 12],
    [net(8, 2), 'rt10', 10],
    [net(9, 3), 'rt10', 11],
    [net(10, 3), 'rt10', 13],
    [net(11, 3), 'rt10', 14],
    [host, 'rt10', 21],
  ] as const;
  for (const [prefix, hop, cost] of inside) {
    const words = routeTo(p, 'rt6', prefix);
    expect([prefix, words.split(' ').slice(0, 2).join(' '), via(words)]).toEqual([prefix, `intra-area ${cost}`, hop]);
  }
  const beyond = [
    [outside.n12, 'rt10', 10],
    [outside.n13, 'rt5', 14],
    [outside.n14, 'rt5', 14],
    [outside.n15, 'rt10', 17],
  ] as const;
  for (const [prefix, hop, cost] of beyond) {
    const words = routeTo(p, 'rt6', prefix);
    expect([prefix, words.split(' ').slice(0, 2).join(' '), via(words)]).toEqual([prefix, `external-1 ${cost}`, hop]);
  }
  const rt6 = p.speakersOf(p.routerIndex('rt6'))[0];
  const rt5 = rt6 && p.routing.boundary(rt6).get(p.adjacencies.speakers.find((s) => s.router.name === 'rt5')?.routerId ?? 0);
  expect(rt5?.map((w) => w.cost)).toEqual([6]);
});

/** Summaries of one border router in a router's database, as `type id metric`. */
const told = (lines: readonly string[], by: number): string[] =>
  lines.flatMap((l) => {
    const [type, id, adv, metric] = l.split(' ');
    return adv === `10.96.0.${by}` ? [`${type} ${id} ${metric}`] : [];
  });

test('what RT3 and RT4 tell the backbone of area 1: table 4', () => {
  const heard = databaseOf(system(true).predict(), 'rt6', [3]);
  expect(told(heard, 3)).toEqual(['3 10.98.1.0 4', '3 10.98.2.0 4', '3 10.98.3.0 1', '3 10.98.4.0 2']);
  expect(told(heard, 4)).toEqual(['3 10.98.1.0 4', '3 10.98.2.0 4', '3 10.98.3.0 1', '3 10.98.4.0 3']);
});

test('what RT3 and RT4 tell area 1 of all else, over the virtual link and with one route for area 3: table 6', () => {
  const heard = databaseOf(system(true).predict(), 'rt1', [3, 4]);
  const rest = (by: number): string[] => told(heard, by).filter((l) => !l.includes(' 10.96.1.'));
  expect(rest(3)).toEqual(['3 10.100.0.0 29', '3 10.99.6.0 16', '3 10.99.7.0 20', '3 10.99.8.0 18', '4 10.96.0.5 14', '4 10.96.0.7 20']);
  expect(rest(4)).toEqual(['3 10.100.0.0 36', '3 10.99.6.0 15', '3 10.99.7.0 19', '3 10.99.8.0 18', '4 10.96.0.5 8', '4 10.96.0.7 14']);
  // Without the virtual link area 3 hangs on nothing (§3.1).
  const cut = system(true).area('rt10', 0, { 'virtual-links': {} }).predict();
  expect(databaseOf(cut, 'rt1', [3]).filter((l) => l.includes(' 10.100.'))).toEqual([]);
});
