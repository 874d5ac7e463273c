import fc from 'fast-check';
import type { Demand } from '../design/settings';
import { isOver, loadsOf, overCapacity, type Demands } from './loads';
import { parseFailure } from '../failures/outage';
import { formatAddress, parseAddress } from '../prefix/address';
import { predict, predictFamilies, type Prediction } from '../predict';
import { loopbacks } from '../reach/matrix';
import { Forwarding } from '../reach/forwarding';
import { campus } from '../testing/campus';
import { dual } from '../testing/dual';
import { six } from '../testing/mirror';
import { campusOf, plans } from '../testing/random-campus';

const end = (text: string): Demand['from'] => parseAddress(text) ?? text;
const demand = (from: string, to: string, mbps: number): Demand => ({ file: 'd.csv', at: [], from: end(from), to: end(to), mbps });

/** a, b, d and a, c, d of equal cost; behind d a LAN of users with e as a second gateway; a has an exit. */
const net = () =>
  campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .router('d', '10.96.0.4', 0)
    .cable('a', 'b', '10.96.1.0', 0, 10)
    .cable('b', 'd', '10.96.1.2', 0, 10)
    .cable('a', 'c', '10.96.1.4', 0, 10)
    .cable('c', 'd', '10.96.1.6', 0, 10)
    .port('d', 'users', '10.97.7.1/24', 0);

const words = (families: readonly Prediction[], ...demands: Demand[]): string[] =>
  loadsOf(families, demands).links.map((l) => `${l.router}/${l.iface} ${l.mbps}`);

test('counted by hand: equal ways share alike, at every router anew', () => {
  const p = net().predict();
  expect(words([p], demand('10.96.0.1', '10.96.0.4', 100))).toEqual(['a/to-b 50', 'a/to-c 50', 'b/to-d 50', 'c/to-d 50']);
  // A second demand adds up; a host on the last LAN counts on the interface that leads to it.
  expect(words([p], demand('a', 'd', 100), demand('10.96.0.2', '10.97.7.20', 8))).toEqual([
    'a/to-b 50',
    'a/to-c 50',
    'b/to-d 58',
    'c/to-d 50',
    'd/users 8',
  ]);
  // With one way cut all takes the other.
  const cut = p.fail({ kind: 'link', router: 'a', iface: 'to-b' });
  expect(words([cut], demand('a', 'd', 100))).toEqual(['a/to-c 100', 'c/to-d 100']);
  const alone = loadsOf([cut.fail({ kind: 'link', router: 'a', iface: 'to-c' })], [demand('a', 'd', 100)]);
  expect(alone).toEqual({ links: [], asked: 100, lost: 100 });
});

test('a group is shared among its addresses, a LAN of two gateways among both, what leaves counts on its way out', () => {
  const c = net()
    .router('e', '10.96.0.5', 0)
    .port('e', 'users', '10.97.7.2/24', 0)
    .cable('e', 'a', '10.96.1.8', 0, 15)
    .port('a', 'world', '203.0.113.2/30', null)
    .static('a', '198.51.100.0/24', '203.0.113.1')
    .ospf('a', { redistribution: [{ source: 'static' }] })
    .settings({ group: [{ name: 'halves', members: ['10.96.0.2', '10.96.0.3'] }] });
  const p = c.predict();
  expect(words([p], demand('halves', '10.96.0.1', 30))).toEqual(['b/to-a 15', 'c/to-a 15']);
  // A host sends half of it to each gateway; d has two ways of its own.
  expect(words([p], demand('10.97.7.20', '198.51.100.9', 80))).toEqual([
    'a/world 80',
    'b/to-a 20',
    'c/to-a 20',
    'd/to-b 20',
    'd/to-c 20',
    'e/to-a 40',
  ]);
});

test('capacities: over is more than all of it, the fullest first', () => {
  const c = net();
  const { design } = c.read();
  const withMbps = {
    ...design,
    routers: design.routers.map((r) => ({ ...r, interfaces: r.interfaces.map((i) => ({ ...i, bandwidthMbps: i.name === 'to-d' ? 40 : 50 })) })),
  };
  const loads = loadsOf([predict(withMbps)], [demand('a', 'd', 100)]);
  expect(loads.links.filter(isOver).map((l) => l.router)).toEqual(['b', 'c']);
  expect(overCapacity(loads).map((l) => [l.router, l.mbps, l.capacity])).toEqual([
    ['b', 50, 40],
    ['c', 50, 40],
  ]);
});

test('of both families: addresses carry their own, names that have both IPv4', () => {
  const families = predictFamilies(dual(net()).read().design);
  expect(families).toHaveLength(2);
  expect(words(families, demand('a', 'd', 100))).toEqual(['a/to-b 50', 'a/to-c 50', 'b/to-d 50', 'c/to-d 50']);
  expect(words(families, demand(six('10.96.0.1'), six('10.96.0.2'), 7), demand('10.96.0.1', '10.96.0.2', 3))).toEqual(['a/to-b 10']);
});

/** What comes into each router and goes out of it, by the loads alone. */
function balance(p: Prediction, demands: Demands): boolean {
  const { links, asked, lost } = loadsOf([p], demands);
  expect(asked).toBeCloseTo(
    demands.reduce((n, d) => n + d.mbps, 0),
    4,
  );
  const f = Forwarding.quickly(p);
  const net: number[] = p.design.routers.map(() => 0);
  const add = (router: number, mbps: number): void => void (net[router] = (net[router] ?? 0) + mbps);
  let unknown = 0;
  for (const l of links) {
    const r = p.routerIndex(l.router);
    add(r, -l.mbps);
    // Of a cable the other end takes it; of a LAN it is not seen who does.
    const iface = p.design.routers[r]?.interfaces.findIndex((i) => i.name === l.iface) ?? -1;
    const s = p.segments.list[p.segments.of[r]?.[iface] ?? -1];
    const others = s?.members.filter((m) => m.router !== r) ?? [];
    if (s?.kind === 'cable' && others.length === 1) add(others[0]?.router ?? -1, l.mbps);
    else unknown += l.mbps;
  }
  for (const d of demands) {
    for (const r of f.endsOf(Number(d.from))) add(r, d.mbps / f.endsOf(Number(d.from)).length);
    const goals = f.endsOf(Number(d.to));
    if (goals.length === 1) add(goals[0] ?? -1, -d.mbps);
  }
  // What is not lost and crosses no LAN: as much comes to every router as leaves it.
  if (unknown !== 0 || lost !== 0) return false;
  for (const n of net) expect(Math.abs(n)).toBeLessThan(1e-3);
  return true;
}

test('what comes to a router leaves it, or ends there: random networks, whole and with something down', () => {
  let walked = 0;
  fc.assert(
    fc.property(plans, fc.nat(1000), (plan, pick) => {
      const p = campusOf(plan).predict();
      const all = [...new Set(loopbacks(p))];
      const demands = all.map((a, i): Demand => demand(formatAddress(a), formatAddress(all[(i + 1 + (pick % 3)) % all.length] ?? 0), 10 + i));
      const own = demands.filter((d) => d.from !== d.to);
      if (balance(p, own)) walked++;
      const cable = plan.cables[pick % plan.cables.length];
      const word = cable && parseFailure(`router:${plan.routers[cable.a]?.name ?? ''}`);
      if (word && typeof word !== 'string') {
        const after = p.fail(word);
        // What starts or ends there is lost; everything else still balances.
        const name = plan.routers[cable.a]?.id;
        const others = own.filter((d) => ![d.from, d.to].some((x) => x === parseAddress(name ?? '')));
        if (balance(after, others)) walked++;
      }
    }),
    { numRuns: 100, seed: 20_261_130, endOnFailure: true },
  );
  expect(walked).toBeGreaterThan(30);
});
