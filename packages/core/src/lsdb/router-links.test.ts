import fc from 'fast-check';
import { LinkColumns, linkKinds, routerBits, RouterLsa, type RouterLink } from './router-links';
import { Port } from '../adjacency/speakers';

/** A port of which nothing but its number counts. */
const port = (index: number): Port => Object.assign(Object.create(Port.prototype) as Port, { index });
const ports = Array.from({ length: 9 }, (_, n) => port(n));

const links: fc.Arbitrary<RouterLink[]> = fc.array(
  fc
    .record({
      kind: fc.constantFrom(...linkKinds),
      id: fc.nat(0xffff_ffff),
      data: fc.nat(0xffff_ffff),
      metric: fc.nat(0xffff),
      port: fc.nat(8),
      hop: fc.nat(0xffff_ffff),
    })
    .map(({ kind, id, data, metric, port: n, hop }): RouterLink => {
      const own = ports[n];
      const plain = { kind, id, data, metric };
      if (kind === 'virtual') return { ...plain, nextHop: hop };
      return { ...plain, ...(own && { port: own }), ...(kind === 'point-to-point' && { nextHop: hop }) };
    }),
  { maxLength: 40 },
);

test('what several routers say stands in columns and reads back as it was said, whatever the room', () => {
  fc.assert(
    fc.property(fc.array(links, { maxLength: 5 }), fc.nat(20), (said, room) => {
      const columns = new LinkColumns(room);
      const lsas = said.map((list, n) => {
        const first = columns.count;
        for (const l of list) columns.add(linkKinds.indexOf(l.kind), l.id, l.data, l.metric, l.port, l.nextHop);
        return new RouterLsa(100 + n, n, routerBits(false, false, false, false), columns, first, columns.count);
      });
      for (const [n, lsa] of lsas.entries()) {
        const list = said[n] ?? [];
        expect(lsa.links).toEqual(list);
        expect(list.map((_, i) => lsa.portOf(i)?.index)).toEqual(list.map((l) => l.port?.index));
        const led = (id: number): boolean => list.some((l) => (l.kind === 'point-to-point' || l.kind === 'virtual') && l.id === id);
        for (const { id } of said.flat()) expect(lsa.pointsTo(id)).toBe(led(id));
      }
    }),
  );
});

test.each([0, 5, 10, 15])('bits of a router-LSA, number %i', (n) => {
  const [b, e, v, nt] = [(n & 1) > 0, (n & 2) > 0, (n & 4) > 0, (n & 8) > 0];
  expect(routerBits(b, e, v, nt)).toEqual({ b, e, v, nt });
});
