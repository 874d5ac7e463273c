import fc from 'fast-check';
import { noWay } from './all-distances';
import { HopSlots } from './hop-slots';
import { chooseNearest, nearestOf, Offers, RootRows } from './offers';

const vertices = 6;
const routers = 4;

/** Offers of a few things by a few vertices, and a router with its distances; a set of next hops is a bit for each neighbour. */
const scenes = fc.record({
  things: fc.array(fc.array(fc.tuple(fc.nat(vertices - 1), fc.integer({ min: -2, max: 4 })), { maxLength: 5 }), { minLength: 1, maxLength: 4 }),
  root: fc.nat(routers - 1),
  distances: fc.array(fc.option(fc.nat(3), { nil: noWay, freq: 4 }), { minLength: vertices, maxLength: vertices }),
  mine: fc.boolean(),
});

function offersOf(things: readonly (readonly (readonly [number, number])[])[], mine: boolean): Offers {
  const all = things.flat();
  const first = Int32Array.from([0, ...things.map((_, i) => things.slice(0, i + 1).flat().length)]);
  const [vertex, cost] = [Int32Array.from(all, ([v]) => v), Int32Array.from(all, ([, c]) => c)];
  return new Offers(first, vertex, cost, mine ? (e) => 1 << (16 + e) : undefined);
}

/** By the book: every offer that is reached, the cheapest of them; of one's own only where it has a way of its own. */
function byTheBook(offers: Offers, i: number, { root, distance, hops }: RootRows): { cost: number; hops: number } | undefined {
  const ways = Array.from(offers.vertex.keys())
    .slice(offers.first[i], offers.first[i + 1])
    .flatMap((e) => {
      const v = offers.vertex[e]!;
      if (distance[v]! >= noWay || (v === root && !offers.own)) return [];
      const through = v === root ? 1 << (16 + e) : hops[v]!;
      return [{ v, cost: distance[v]! + offers.cost[e]!, hops: through }];
    });
  if (ways.length === 0) return undefined;
  const cost = Math.min(...ways.map((w) => w.cost));
  const best = ways.filter((w) => w.cost === cost);
  // A transit network that comes later than an equal way is none (RFC 2328 §16.1 (4)).
  const used = best.filter((w, n) => n === 0 || w.v < routers);
  return { cost, hops: used.reduce((joined, w) => joined | w.hops, 0) };
}

const rowsOf = (root: number, distances: readonly number[]): RootRows =>
  new RootRows(
    0,
    root,
    routers,
    Int32Array.from(distances, (d, v) => (v === root ? 0 : d)),
    Int32Array.from(distances, (d, v) => (d < noWay && v !== root ? 1 << v : 0)),
  );

test('of all who offer a thing the nearest that is reached is chosen, and equal ones together', () => {
  fc.assert(
    fc.property(scenes, ({ things, root, distances, mine }) => {
      const offers = offersOf(things, mine);
      const rows = rowsOf(root, distances);
      const slots = new HopSlots([]);
      const out = { cost: new Int32Array(things.length + 1), hops: new Int32Array(things.length + 1) };
      chooseNearest(offers, 0, things.length, rows, slots, out, 1);
      things.forEach((_, i) => {
        const expected = byTheBook(offers, i, rows);
        const way = nearestOf(offers, i, rows, slots);
        expect(way).toEqual(expected);
        expect(out.cost[i + 1]).toBe(expected?.cost ?? noWay);
        expect(out.hops[i + 1]).toBe(expected?.hops ?? 0);
      });
    }),
    { numRuns: 500 },
  );
});
