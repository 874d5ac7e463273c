import fc from 'fast-check';
import { AreaDatabase } from '../lsdb/area-database';
import { RouterLsa, type RouterLink } from '../lsdb/router-links';
import { campus } from '../testing/campus';
import type { AreaGraph } from '../lsdb/area-graph';
import { HopList, joinHops, shortestPathTree } from './shortest-path-tree';

/** One area of up to seven routers: cables, some of them side by side, and LANs. */
const areas = fc
  .record({
    routers: fc.integer({ min: 2, max: 7 }),
    cables: fc.array(fc.tuple(fc.nat(6), fc.nat(6), fc.integer({ min: 1, max: 4 }), fc.integer({ min: 1, max: 4 })), { maxLength: 12 }),
    lans: fc.array(fc.tuple(fc.uniqueArray(fc.nat(6), { minLength: 2, maxLength: 4 }), fc.integer({ min: 1, max: 4 })), { maxLength: 2 }),
  })
  .map(({ routers, cables, lans }) => {
    const c = campus();
    for (let n = 0; n < routers; n++) c.router(`r${n}`, `10.96.0.${n + 1}`, 0);
    cables.forEach(([a, b, there, back], n) => {
      const [from, to] = [a % routers, b % routers];
      if (from === to) return;
      const port = (r: number, cost: number, last: number): unknown =>
        c.port(`r${r}`, `c${n}`, `10.96.1.${2 * n + last}/31`, 0, { 'interface-type': 'point-to-point', cost });
      port(from, there, 0);
      port(to, back, 1);
    });
    lans.forEach(([members, cost], n) => {
      const on = [...new Set(members.map((m) => m % routers))];
      if (on.length > 1)
        c.lan(
          `lan${n}`,
          `10.97.${n}.0/24`,
          0,
          on.map((m) => `r${m}`),
          { cost },
        );
    });
    return c.predict().routing.databases;
  });

/** Edges of a database as `from to cost`, by the words of RFC 2328 §16.1 (2) (b): where the other end has a link back. */
function edgesByTheBook(db: AreaDatabase): string[] {
  const out: string[] = [];
  for (const r of db.routers.values())
    for (const l of r.links) {
      const peer = db.routers.get(l.id);
      if (l.kind === 'point-to-point' && peer?.links.some((x) => x.kind === 'point-to-point' && x.id === r.adv))
        out.push(`${r.adv} ${l.id} ${l.metric}`);
      const network = db.networks.get(l.id);
      if (l.kind === 'transit' && network?.routers.includes(r.adv)) out.push(`${r.adv} net${l.id} ${l.metric}`, `net${l.id} ${r.adv} 0`);
    }
  return out.sort();
}

const nameOf = (g: AreaGraph, v: number): string =>
  v < g.routers.length ? String(g.routers[v]?.adv) : `net${String(g.networks[v - g.routers.length]?.id)}`;

const edgesOf = (g: AreaGraph): { from: number; to: number; cost: number; detail: number }[] =>
  Array.from({ length: g.first.length - 1 }, (_, v) => v).flatMap((v) =>
    Array.from({ length: (g.first[v + 1] ?? 0) - (g.first[v] ?? 0) }, (_, i) => {
      const e = (g.first[v] ?? 0) + i;
      return { from: v, to: g.to[e] ?? 0, cost: g.metric[e] ?? 0, detail: g.detail[e] ?? 0 };
    }),
  );

const noVirtual = (link: RouterLink): never => {
  throw new Error(`${link.kind} link in a network without any`);
};

/** The database with the last links of one router left out, and the last routers of a LAN: they are named by others and do not name these. */
function withoutLast(db: AreaDatabase, router: number, links: number): AreaDatabase {
  const routers = new Map(db.routers);
  const lsa = [...routers.values()][router % routers.size];
  if (lsa) routers.set(lsa.adv, new RouterLsa(lsa.adv, lsa.speaker, lsa.bits, lsa.columns, lsa.first, Math.max(lsa.first, lsa.end - links)));
  const networks = new Map(
    [...db.networks].map(([id, n]) => [id, { ...n, routers: n.routers.slice(0, Math.max(1, n.routers.length - (links % 3))) }]),
  );
  return new AreaDatabase(db.index, db.areaId, db.speakers, routers, networks);
}

test('the graph holds the links that both ends describe, and no other', () => {
  fc.assert(
    fc.property(areas, fc.nat(6), fc.nat(4), (databases, router, links) => {
      for (const whole of databases) {
        const db = withoutLast(whole, router, links);
        const g = db.graph;
        expect(
          edgesOf(g)
            .map((e) => `${nameOf(g, e.from)} ${nameOf(g, e.to)} ${e.cost}`)
            .sort(),
        ).toEqual(edgesByTheBook(db));
      }
    }),
    { numRuns: 60 },
  );
});

test('distances, parents and first hops of every root are those of walking edge after edge until nothing changes', () => {
  fc.assert(
    fc.property(areas, (databases) => {
      for (const g of databases.map((db) => db.graph)) {
        const edges = edgesOf(g);
        for (let root = 0; root < g.routers.length; root++) {
          const list = new HopList();
          const tree = shortestPathTree(g, root, list, noVirtual);
          const far = new Array<number>(g.first.length - 1).fill(Infinity);
          far[root] = 0;
          for (let round = 0; round < far.length; round++)
            for (const e of edges) far[e.to] = Math.min(far[e.to] ?? Infinity, (far[e.from] ?? Infinity) + e.cost);
          const before = (v: number): typeof edges =>
            edges.filter((e) => e.to === v && v !== root && far[e.from] !== Infinity && (far[e.from] ?? 0) + e.cost === far[v]);
          /** §16.1.1: the root's own interface, and the address of the first router behind it. */
          const first = (v: number): string[] =>
            before(v).flatMap((e) => {
              const link = g.routers[root]?.links[e.detail];
              if (e.from === root) return [`${link?.port?.iface.name ?? ''} ${link?.kind === 'transit' ? '' : String(link?.nextHop)}`];
              return first(e.from).map((h) => (e.from >= g.routers.length && h.endsWith(' ') ? `${h}${e.detail}` : h));
            });
          far.forEach((d, v) => {
            expect(tree.distance[v]).toBe(d);
            expect(new Set(tree.parents(v))).toEqual(new Set(before(v).map((e) => e.from)));
            const hops = tree.hops(v).map((h) => `${list.hops[h]?.port.iface.name ?? ''} ${list.hops[h]?.address ?? ''}`);
            expect([...hops].sort()).toEqual([...new Set(first(v))].sort());
          });
        }
      }
    }),
    { numRuns: 60 },
  );
});

test('joined hop sets hold what either holds, ascending, and the larger one itself where it holds the other', () => {
  const sets = fc.uniqueArray(fc.nat(9), { maxLength: 6 }).map((s) => s.sort((a, b) => a - b));
  fc.assert(
    fc.property(sets, sets, (a, b) => {
      const joined = joinHops(a, b);
      expect(joined).toEqual([...new Set([...a, ...b])].sort((x, y) => x - y));
      if (b.every((h) => a.includes(h)) && a.length > 0) expect(joined).toBe(a);
    }),
  );
});
