import fc from 'fast-check';
import { linkFailures, routerFailures } from '../failures/single-failures';
import { prefixBook } from '../prefix/prefix-book';
import { Forwarding } from '../reach/forwarding';
import { walk } from '../reach/trace';
import { campus } from '../testing/campus';
import { richCampusOf, richPlans } from '../testing/rich-campus';
import { formatPrefix } from '../prefix/address';
import { comparePredictions, coveringRoute, type Comparison } from './compare';
import { outOfReach } from './out-of-reach';

/** a and b joined twice over, c behind b with a lab; a default from a. */
const net = () =>
  campus()
    .router('a', '10.96.0.1', 0, { 'default-route': { announce: 'always' } })
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .cable('a', 'b', '10.96.1.0', 0)
    .cable('b', 'c', '10.96.1.2', 0)
    .cable('a', 'c', '10.96.1.4', 0, 100)
    .port('c', 'lab', '10.97.8.1/24', 0, { passive: true });
const compare = (...fail: string[]): Comparison => {
  const c = net();
  return comparePredictions(c.predict(), c.predict(fail));
};
const words = (d: Comparison, router: string): string[] =>
  (d.routers.find((r) => r.router === router)?.routes ?? []).map(
    (r) => `${formatPrefix(r)} ${r.change}${r.unreachable ? ' unreachable' : ''}${r.vanished ? ' vanished' : ''}`,
  );

test('a state compared with itself shows nothing', () => {
  expect(compare()).toEqual({ routers: [], neighbors: [], elections: [], routerIds: [], lost: 0, gained: 0, changed: 0, unreachable: 0 });
});
test('a cut with a way round: its own prefix vanishes, the rest changes', () => {
  const d = compare('link:b/to-c');
  expect(words(d, 'a')).toEqual(expect.arrayContaining(['10.97.8.0/24 changed', '10.96.1.2/31 lost vanished']));
  expect(d.unreachable).toBe(0);
  expect(d.neighbors.map((n) => `${n.router} ${n.peer} ${n.before} ${n.after}`).sort()).toEqual(['b c full down', 'c b full down']);
});
test('a router that is gone is told as gone, and what only it had has vanished', () => {
  const d = compare('router:c');
  expect(d.routers.find((r) => r.router === 'c')).toEqual({ router: 'c', gone: true, routes: [], outOfReach: [] });
  expect(words(d, 'a')).toContain('10.97.8.0/24 lost vanished');
});
test('a part that is cut off: what others still reach is out of reach there, also where a default takes the packets', () => {
  const d = compare('link:b/to-c', 'link:a/to-c');
  expect(words(d, 'c')).toContain('10.96.0.1/32 lost unreachable');
  // b keeps the default that a makes: it holds the lab's addresses, and a drops them.
  expect(words(d, 'b')).toContain('10.97.8.0/24 lost unreachable');
  expect(d.unreachable).toBeGreaterThan(0);
});
test('what is gained is told as gained', () => {
  const c = net();
  const d = comparePredictions(c.predict(['interface:c/lab']), c.predict());
  expect(words(d, 'a')).toEqual(['10.97.8.0/24 gained']);
});
test('the longest route that holds a prefix covers it', () => {
  const p = net().predict();
  const covers = (bits: number, length: number): string => {
    const r = coveringRoute(p.rib(p.routerIndex('b')), { bits, length });
    return r ? formatPrefix(r) : 'none';
  };
  expect(covers(0x0a61_0801, 32)).toBe('10.97.8.0/24');
  expect(covers(0xc000_0200, 24)).toBe('0.0.0.0/0');
});

/** a with a default to the outside, b with a stub area in which s stands, and c with a lab behind b. */
const outside = () =>
  campus()
    .router('a', '10.96.0.1', 0, { 'default-route': { announce: 'always' } })
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .router('s', '10.97.0.4', 1)
    .cable('a', 'b', '10.96.1.0', 0)
    .cable('b', 'c', '10.96.1.2', 0)
    .cable('b', 's', '10.97.1.0', 1)
    .port('c', 'lab', '10.98.8.1/24', 0, { passive: true })
    .port('a', 'world', '192.0.2.1/24', null)
    .static('a', '0.0.0.0/0', '192.0.2.254')
    .area('b', 1, { 'area-type': 'stub-area', summary: false })
    .area('s', 1, { 'area-type': 'stub-area', summary: false });

test('packets that leave to the outside by a default do not arrive: the lab is out of reach, also for who never had a line of it', () => {
  const c = outside();
  const d = comparePredictions(c.predict(), c.predict(['link:b/to-c']));
  const text = (router: string): string[] => (d.routers.find((r) => r.router === router)?.outOfReach ?? []).map((k) => prefixBook.text(k));
  for (const r of ['a', 'b', 's']) expect(text(r)).toEqual(['10.96.0.3/32', '10.98.8.0/24']);
  expect(d.routers.find((r) => r.router === 's')?.routes).toEqual([]);
  // c has lost its default as well, and everything behind it.
  expect(text('c')).toContain('10.96.0.1/32');
  // The lab down altogether has vanished, and nobody is told that it is out of reach.
  const gone = comparePredictions(c.predict(), c.predict(['interface:c/lab']));
  expect(gone.unreachable).toBe(0);
});

test('who lost a summary is told of the summary, not of each network in it', () => {
  const c = campus()
    .router('a', '10.96.0.1', 0, { 'default-route': { announce: 'always' } })
    .router('b', '10.96.0.2', 0)
    .router('d', '10.97.0.4', 1)
    .cable('a', 'b', '10.96.1.0', 0)
    .cable('b', 'd', '10.97.1.0', 1)
    .port('d', 'lab', '10.97.8.1/24', 1, { passive: true })
    .area('b', 1, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } });
  const d = comparePredictions(c.predict(), c.predict(['link:a/to-b']));
  const own = d.routers.find((r) => r.router === 'a')?.outOfReach.map((k) => prefixBook.text(k));
  expect(own).toEqual(['10.96.0.2/32', '10.97.0.0/16']);
});

test('who is out of reach is who a walk hop by hop says', () => {
  let [cut, reached] = [0, 0];
  fc.assert(
    fc.property(richPlans, fc.nat(), (plan, pick) => {
      const { campus: c } = richCampusOf(plan);
      const before = c.predict();
      const failures = [...linkFailures(before), ...routerFailures(before)];
      const after = before.fail(failures[pick % failures.length] ?? { kind: 'router', router: 'core-1' });
      const lost = new Set<number>();
      after.design.routers.forEach((_, i) => {
        const now = new Set(after.rib(i).map((r) => r.key));
        for (const r of before.rib(i)) if (!now.has(r.key) && r.hops.length > 0 && !after.outage.routers.has(i)) lost.add(r.key);
      });
      const said = outOfReach(before, after, lost);
      const [f, g] = [new Forwarding(before), new Forwarding(after)];
      const arrives = (of: Forwarding, router: number, to: number): boolean => walk(of, [router], to).branches.some((b) => b.fate === 'delivered');
      after.design.routers.forEach((r, i) => {
        if (after.outage.routers.has(i)) return;
        for (const other of after.design.routers)
          for (const iface of other.interfaces)
            for (const a of iface.kind === 'loopback' ? iface.addresses : []) {
              const key = prefixBook.id(a.bits, 32);
              if (a.length !== 32 || !lost.has(key) || !g.endsOf(a.bits).length) continue;
              const wanted = arrives(f, before.routerIndex(r.name), a.bits) && !arrives(g, i, a.bits);
              expect({ router: r.name, to: prefixBook.text(key), cut: said.get(key)?.includes(i) ?? false }).toEqual({
                router: r.name,
                to: prefixBook.text(key),
                cut: wanted,
              });
              if (wanted) cut++;
              else reached++;
            }
      });
    }),
    { seed: 20_261_137, numRuns: 60, endOnFailure: true },
  );
  expect(Math.min(cut, reached)).toBeGreaterThan(20);
});

describe('networks outside of the design', () => {
  /** Two exits with a default each; a partner's network behind the first, another behind both. */
  const exits = () =>
    campus()
      .router('core', '10.96.0.1', 0)
      .router('east', '10.96.0.2', 0, { 'default-route': { announce: 'always' }, redistribution: [{ source: 'static' }] })
      .router('west', '10.96.0.3', 0, { 'default-route': { announce: 'always' }, redistribution: [{ source: 'static' }] })
      .cable('core', 'east', '10.96.1.0', 0)
      .cable('core', 'west', '10.96.1.2', 0)
      .port('east', 'out', '203.0.113.2/30', null)
      .port('west', 'out', '203.0.113.6/30', null)
      .static('east', '0.0.0.0/0', '203.0.113.1')
      .static('west', '0.0.0.0/0', '203.0.113.5')
      .static('east', '198.51.100.0/26', '203.0.113.1')
      .static('east', '198.51.100.64/26', '203.0.113.1')
      .static('west', '198.51.100.64/26', '203.0.113.5');
  const gone = (fail: string): string[] => {
    const c = exits();
    const d = comparePredictions(c.predict(), c.predict([fail]));
    return d.routers.flatMap((r) => r.outOfReach.map((k) => `${r.router} ${prefixBook.text(k)}`)).sort();
  };

  test('are out of reach once their own line is gone, though a default takes the packets elsewhere', () => {
    expect(gone('interface:east/out')).toEqual(['core 198.51.100.0/26', 'east 198.51.100.0/26', 'west 198.51.100.0/26']);
    expect(gone('router:east')).toEqual(['core 198.51.100.0/26', 'west 198.51.100.0/26']);
  });

  test('are still reached by another exit that knows them; a default that is lost is no network', () => {
    expect(gone('router:west')).toEqual([]);
    expect(gone('link:core/to-east').filter((x) => x.startsWith('core'))).toEqual(['core 10.96.0.2/32', 'core 198.51.100.0/26']);
    expect(gone('link:core/to-east').filter((x) => x.includes('.64/26'))).toEqual([]);
  });
});
