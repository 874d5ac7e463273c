import { campus } from '../testing/campus';
import { formatPrefix } from '../prefix/ipv4';
import { comparePredictions, coveringRoute, type Comparison } from './compare';

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
  expect(compare()).toEqual({ routers: [], neighbors: [], lost: 0, gained: 0, changed: 0, unreachable: 0 });
});
test('a cut with a way round: its own prefix vanishes, the rest changes', () => {
  const d = compare('link:b/to-c');
  expect(words(d, 'a')).toEqual(expect.arrayContaining(['10.97.8.0/24 changed', '10.96.1.2/31 lost vanished']));
  expect(d.unreachable).toBe(0);
  expect(d.neighbors.map((n) => `${n.router} ${n.peer} ${n.before} ${n.after}`).sort()).toEqual(['b c full down', 'c b full down']);
});
test('a router that is gone is told as gone, and what only it had has vanished', () => {
  const d = compare('router:c');
  expect(d.routers.find((r) => r.router === 'c')).toEqual({ router: 'c', gone: true, routes: [] });
  expect(words(d, 'a')).toContain('10.97.8.0/24 lost vanished');
});
test('a part that is cut off: what others still reach is out of reach there, unless a default covers it', () => {
  const d = compare('link:b/to-c', 'link:a/to-c');
  expect(words(d, 'c')).toContain('10.96.0.1/32 lost unreachable');
  // a still has the default of its own making; b keeps it from a, so the lab is covered and dropped further on.
  expect(words(d, 'b')).toContain('10.97.8.0/24 lost');
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
