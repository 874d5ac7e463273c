import fc from 'fast-check';
import { formatAddress, formatPrefix, networkOf } from '../prefix/address';
import type { AreaDatabase } from '../lsdb/area-database';
import type { Prediction } from '../predict';
import { prefixId } from '../prefix/prefix-book';
import { lengthOfMask } from '../prefix/ipv4';
import { campus } from '../testing/campus';
import { campusOf, plans } from '../testing/random-campus';
import { alternatesOf, coverageOf, type Covered } from './alternates';

/** One area by its advertisements alone: every distance by trying every vertex in between (Floyd and Warshall). */
class Plainly {
  readonly names: string[] = [];
  private readonly d: number[][];
  private readonly brings: { at: number; key: number; cost: number }[] = [];
  private readonly out: { from: number; to: number; cost: number; own: number; address: number }[] = [];

  constructor(db: AreaDatabase) {
    const routers = [...db.routers.values()];
    const networks = [...db.networks.values()];
    this.names = [...routers.map((r) => formatAddress(r.adv)), ...networks.map((n) => `net ${formatAddress(n.id)}`)];
    const router = (id: number): number => routers.findIndex((r) => r.adv === id);
    const network = (id: number): number => networks.findIndex((n) => n.id === id);
    const size = this.names.length;
    this.d = Array.from({ length: size }, (_, i) => Array.from({ length: size }, (_x, j) => (i === j ? 0 : Infinity)));
    const edge = (from: number, to: number, cost: number, own: number, address: number): void => {
      this.out.push({ from, to, cost, own, address });
      const row = this.d[from] as number[];
      row[to] = Math.min(row[to] ?? Infinity, cost);
    };
    routers.forEach((r, v) => {
      for (const l of r.links) {
        if (l.kind === 'stub') this.brings.push({ at: v, key: prefixId(l.id, lengthOfMask(l.data) ?? 0), cost: l.metric });
        if (l.kind === 'point-to-point') {
          const w = router(l.id);
          const both = w >= 0 && routers[w]?.links.some((x) => x.kind === 'point-to-point' && x.id === r.adv);
          if (both) edge(v, w, l.metric, l.data, l.nextHop ?? 0);
        }
        if (l.kind === 'transit') {
          const n = network(l.id);
          if (n < 0 || !networks[n]?.routers.includes(r.adv)) continue;
          edge(v, routers.length + n, l.metric, l.data, 0);
          edge(routers.length + n, v, 0, 0, l.data);
        }
      }
    });
    networks.forEach((n, i) => this.brings.push({ at: routers.length + i, key: prefixId(networkOf(n.id, n.length), n.length), cost: 0 }));
    for (let k = 0; k < size; k++)
      for (let i = 0; i < size; i++)
        for (let j = 0; j < size; j++) {
          const way = (this.d[i]?.[k] ?? Infinity) + (this.d[k]?.[j] ?? Infinity);
          if (way < (this.d[i]?.[j] ?? Infinity)) (this.d[i] as number[])[j] = way;
        }
  }

  dist = (a: number, b: number): number => this.d[a]?.[b] ?? Infinity;
  to = (a: number, key: number): number => Math.min(Infinity, ...this.brings.filter((x) => x.key === key).map((x) => this.dist(a, x.at) + x.cost));

  /** Neighbours of a router: vertex, own address on the wire, theirs, and the network in between. */
  beside(s: number): { n: number; own: number; address: number; over: number }[] {
    return this.out
      .filter((e) => e.from === s)
      .flatMap((e) =>
        this.names[e.to]?.startsWith('net')
          ? this.out.filter((f) => f.from === e.to && f.to !== s).map((f) => ({ n: f.to, own: e.own, address: f.address, over: e.to }))
          : [{ n: e.to, own: e.own, address: e.address, over: -1 }],
      );
  }
}

/** What RFC 5286 says of every neighbour of a router for one next hop, inequality by inequality; the best of them as flags. */
function plainly(p: Prediction, c: Covered, view: Plainly, equals: ReadonlySet<number>): string {
  const router = p.routerIndex(c.router);
  const s = view.names.indexOf(formatAddress(p.speakersOf(router)[0]?.routerId ?? 0));
  const key = prefixId(c.prefix.bits, c.prefix.length);
  const all = view.beside(s);
  const e = all.find((x) => x.address === c.primary.address);
  if (!e) return 'no such next hop';
  const found = all
    .filter((x) => x.address !== c.primary.address)
    .filter(({ n }) => view.to(n, key) < view.dist(n, s) + view.to(s, key))
    .map((x) => {
      const passesBy = x.over >= 0 && x.over === e.over ? false : x.own !== e.own;
      const clear = e.over < 0 || equals.has(x.address) || view.to(x.n, key) < view.dist(x.n, e.over) + view.to(e.over, key);
      const node = view.to(x.n, key) < view.dist(x.n, e.n) + view.to(e.n, key);
      return (passesBy && clear ? 4 : 0) + (node ? 2 : 0) + (view.to(x.n, key) < view.to(s, key) ? 1 : 0);
    });
  return found.length === 0 ? 'none' : String(Math.max(...found));
}

const flags = (c: Covered): string =>
  c.alternate ? String((c.alternate.link ? 4 : 0) + (c.alternate.node ? 2 : 0) + (c.alternate.downstream ? 1 : 0)) : 'none';

/** Follows a packet by the tables as they were, prefix by prefix: routers on all of its ways, and the wires that it crosses. */
function passes(p: Prediction, start: number, key: number): { routers: Set<number>; wires: Set<number>; arrives: boolean } {
  const out = { routers: new Set<number>(), wires: new Set<number>(), arrives: true };
  const open = [start];
  for (let r = open.pop(); r !== undefined; r = open.pop()) {
    if (out.routers.has(r)) continue;
    out.routers.add(r);
    const s = p.speakersOf(r)[0];
    const route = s && p.routing.table(s).get(key);
    if (!s || !route) {
      out.arrives = false;
      continue;
    }
    for (const h of route.hops) {
      const hop = p.routing.hopList(s).hops[h];
      if (!hop || hop.address === undefined) continue;
      out.wires.add(hop.port.segment);
      const next = p.adjacencies.ports.find((x) => x.segment === hop.port.segment && x.address === hop.address);
      if (next) open.push(next.routerIndex);
      else out.arrives = false;
    }
  }
  return out;
}

test('alternates are those that a plain reading of the inequalities gives, and packets by the old tables keep clear of what failed', () => {
  const met = { none: 0, link: 0, node: 0, only: 0, walked: 0 };
  fc.assert(
    fc.property(plans, (plan) => {
      const p = campusOf(plan).predict();
      const views = new Map(p.routing.databases.map((db) => [db.areaId, db]));
      const plain = new Map([...views].map(([area, db]) => [area, new Plainly(db)]));
      // Where an area is in pieces the plain reading would mix them.
      if (views.size < p.routing.databases.length) return;
      const list = alternatesOf(p);
      for (const c of list) {
        const equals = new Set(
          list.filter((x) => x.router === c.router && formatPrefix(x.prefix) === formatPrefix(c.prefix)).map((x) => x.primary.address),
        );
        const view = plain.get(c.area) as Plainly;
        expect(`${c.router} ${formatPrefix(c.prefix)} ${c.primary.iface}: ${flags(c)}`).toBe(
          `${c.router} ${formatPrefix(c.prefix)} ${c.primary.iface}: ${plainly(p, c, view, equals)}`,
        );
        if (!c.alternate) met.none++;
        else if (c.alternate.link && c.alternate.node) met.node++;
        else if (c.alternate.link) met.link++;
        else met.only++;
        if (!c.alternate) continue;
        const [self, n] = [p.routerIndex(c.router), p.routerIndex(c.alternate.neighbor)];
        const key = prefixId(c.prefix.bits, c.prefix.length);
        const s = p.speakersOf(n)[0];
        const route = s && p.routing.table(s).get(key);
        if (route?.type !== 'intra-area' || route.area !== c.area) continue;
        const way = passes(p, n, key);
        met.walked++;
        expect(way.arrives).toBe(true);
        expect(way.routers.has(self)).toBe(false);
        const port = p.speakersOf(self)[0]?.ports.find((x) => x.iface.name === c.primary.iface);
        const next = p.adjacencies.ports.find((x) => x.segment === port?.segment && x.address === c.primary.address);
        if (c.alternate.node) expect(way.routers.has(next?.routerIndex ?? -1)).toBe(false);
        const isEqual = equals.has(c.alternate.address);
        // Point-to-multipoint is as many links as pairs: others may still be used.
        if (c.alternate.link && !isEqual && port?.type !== 'point-to-multipoint') expect(way.wires.has(port?.segment ?? -1)).toBe(false);
      }
    }),
    { numRuns: 150, seed: 20_261_130, endOnFailure: true },
  );
  expect(Object.entries(met).filter(([, n]) => n < 20)).toEqual([]);
});

/** A square a, b, d, c with d's loopback; b and c join a and d. */
const square = (ac: number, cd = 10) =>
  campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .router('d', '10.96.0.4', 0)
    .cable('a', 'b', '10.96.1.0', 0, 10)
    .cable('b', 'd', '10.96.1.2', 0, 10)
    .cable('a', 'c', '10.96.1.4', 0, ac)
    .cable('c', 'd', '10.96.1.6', 0, cd);

const of = (list: readonly Covered[], router: string, prefix: string): string[] =>
  list
    .filter((c) => c.router === router && formatPrefix(c.prefix) === prefix)
    .map((c) => `${c.primary.iface} ${c.alternate ? `${c.alternate.iface} ${flags(c)}` : 'none'}`);

test('counted by hand: a square', () => {
  // From a to d by b: 20. c is 10 away from d, and 30 by a: it does without the link and without b, and is nearer.
  expect(of(alternatesOf(square(20).predict()), 'a', '10.96.0.4/32')).toEqual(['to-b to-c 7']);
  // c is 50 away from d and 20 + 20 by a: it would send packets back.
  expect(of(alternatesOf(square(20, 50).predict()), 'a', '10.96.0.4/32')).toEqual(['to-b none']);
  // Both ways cost 20: each stands in for the other.
  expect(of(alternatesOf(square(10).predict()), 'a', '10.96.0.4/32')).toEqual(['to-b to-c 7', 'to-c to-b 7']);
  // With a to c at 30, of a alone. To b: c is 20 away from it by d, and by a it were 40; but no nearer than a, and what ends at b
  // cannot do without b. To c both ways cost 30. The cable of b and d is 20 from c as from a.
  const own = alternatesOf(square(30).predict(), new Set([0]));
  expect(own.map((c) => `${formatPrefix(c.prefix)} ${c.primary.iface} ${flags(c)}`).sort()).toEqual([
    '10.96.0.2/32 to-b 4',
    '10.96.0.3/32 to-b 7',
    '10.96.0.3/32 to-c 5',
    '10.96.0.4/32 to-b 7',
    '10.96.1.2/31 to-b 6',
    '10.96.1.6/31 to-b 7',
  ]);
  expect(coverageOf(own)).toEqual({ all: 6, covered: 6, link: 6, node: 4 });
  // At 50 between c and d, c would send everything back by a; only that cable itself is as far by c as by b and d (70), each for the other.
  expect(coverageOf(alternatesOf(square(20, 50).predict(), new Set([0])))).toEqual({ all: 6, covered: 2, link: 2, node: 2 });
});

test('a stub router stands in for nobody', () => {
  const c = square(20)
    .router('e', '10.96.0.5', 0, { 'stub-router': { always: {} } })
    .cable('a', 'e', '10.96.1.8', 0, 10)
    .cable('e', 'd', '10.96.1.10', 0, 10);
  const list = alternatesOf(c.predict());
  expect(list.some((x) => x.alternate?.neighbor === 'e')).toBe(false);
});
