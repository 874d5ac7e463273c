import { addFailure, formatFailure, interfaceUp, noOutage, parseFailure, placeKey } from '../failures/outage';
import { campus, type Campus } from '../testing/campus';
import { findSegments } from './segments';

/** Segments of two or more members as `kind router/iface router/iface`. */
function segmentsOf(c: Campus): string[] {
  const { design } = c.read();
  return findSegments(design)
    .list.filter((s) => s.members.length > 1)
    .map(
      (s) =>
        `${s.kind} ${s.members
          .map((m) => `${design.routers[m.router]?.name ?? ''}/${design.routers[m.router]?.interfaces[m.iface]?.name ?? ''}`)
          .sort()
          .join(' ')}`,
    )
    .sort();
}
const two = (a: string, b: string, options: Record<string, unknown> = {}): Campus =>
  campus().router('a', '10.96.0.1').router('b', '10.96.0.2').port('a', 'x', a, 0, options).port('b', 'x', b, 0);

describe('who shares a wire with whom', () => {
  test('one subnet is one segment; /30 and /31 are cables, point-to-point too, everything else a LAN', () => {
    expect(segmentsOf(two('10.97.1.1/24', '10.97.1.2/24'))).toEqual(['lan a/x b/x']);
    expect(segmentsOf(two('10.97.1.1/24', '10.97.1.2/24', { 'interface-type': 'point-to-point' }))).toEqual(['cable a/x b/x']);
    expect(segmentsOf(two('10.97.1.0/31', '10.97.1.1/31'))).toEqual(['cable a/x b/x']);
    expect(segmentsOf(two('10.97.1.1/24', '10.97.2.2/24'))).toEqual([]);
  });
  test('subnets of different length that overlap are joined, and both are known', () => {
    const c = two('10.97.1.1/24', '10.97.1.2/25');
    expect(segmentsOf(c)).toEqual(['lan a/x b/x']);
    expect(findSegments(c.read().design).list[0]?.subnets.map((s) => s.length)).toEqual([24, 25]);
  });
  test('loopbacks, /32s and interfaces of another table share nothing', () => {
    expect(segmentsOf(two('10.97.1.1/32', '10.97.1.1/32'))).toEqual([]);
    expect(segmentsOf(two('10.97.1.1/24', '10.97.1.2/24', { iface: { 'bind-ni-name': 'guests' } }))).toEqual([]);
    expect(segmentsOf(two('10.97.1.1/24', '10.97.1.2/24', { iface: { type: 'softwareLoopback' } }))).toEqual([]);
  });
  test('a second address joins as well as the first', () => {
    expect(segmentsOf(two('10.98.1.1/24 10.97.1.1/24', '10.97.1.2/24'))).toEqual(['lan a/x b/x']);
  });
  test('the topology overrides the subnets, joins unnumbered links, and makes a LAN of a node without a document', () => {
    const three = (): Campus => two('10.97.1.1/24', '10.97.1.2/24').router('c', '10.96.0.3').port('c', 'x', '10.97.1.3/24', 0);
    expect(segmentsOf(three())).toEqual(['lan a/x b/x c/x']);
    expect(segmentsOf(three().links(['a/x b/x']))).toEqual(['cable a/x b/x']);
    expect(segmentsOf(three().links(['a/x reef', 'b/x reef', 'c/x reef']))).toEqual(['lan a/x b/x c/x']);
    expect(segmentsOf(two('', '').links(['a/x b/x']))).toEqual(['cable a/x b/x']);
    expect(segmentsOf(two('10.97.1.1/24', '10.97.1.2/24').links(['a/x reef', 'b/x reef']))).toEqual(['lan a/x b/x']);
  });
});

describe('what a failure takes down', () => {
  test('words are read and written back; others are told what was expected', () => {
    for (const word of ['link:a/x', 'interface:a/to-b', 'lan:a/x', 'router:a', 'group:duct 7']) {
      const f = parseFailure(word);
      expect(typeof f === 'string' ? f : formatFailure(f)).toBe(word);
    }
    for (const bad of ['', 'a/x', 'link:a', 'link:/x', 'link:a/', 'cable:a/x', 'router:']) expect(typeof parseFailure(bad)).toBe('string');
  });
  const down = (c: Campus, word: string): { ports: string[]; severed: string[]; routers: number } => {
    const { design } = c.read();
    const f = parseFailure(word);
    if (typeof f === 'string' || f.kind === 'leader') throw new Error(word);
    const { outage } = addFailure(design, findSegments(design), noOutage, f);
    const names = (set: ReadonlySet<string>): string[] =>
      [...set]
        .map((p) => {
          const [r, i] = p.split('/').map(Number);
          return `${design.routers[r ?? -1]?.name ?? ''}/${design.routers[r ?? -1]?.interfaces[i ?? -1]?.name ?? ''}`;
        })
        .sort();
    return { ports: names(outage.ports), severed: names(outage.severed), routers: outage.routers.size };
  };
  test('on a cable both ends, on a LAN the one port or all; a router with its cables', () => {
    const cable = (): Campus => two('10.97.1.0/31', '10.97.1.1/31');
    const lan = (): Campus => two('10.97.1.1/24', '10.97.1.2/24');
    expect(down(cable(), 'link:a/x').ports).toEqual(['a/x', 'b/x']);
    expect(down(cable(), 'interface:a/x').ports).toEqual(['a/x', 'b/x']);
    expect(down(cable(), 'router:a')).toEqual({ ports: ['b/x'], severed: [], routers: 1 });
    expect(down(lan(), 'link:a/x').ports).toEqual(['a/x']);
    expect(down(lan(), 'interface:a/x').ports).toEqual(['a/x']);
    expect(down(lan(), 'lan:b/x').ports).toEqual(['a/x', 'b/x']);
    expect(down(lan(), 'router:a')).toEqual({ ports: [], severed: [], routers: 1 });
  });
  test('where the loss of carrier is not seen the far end keeps its port and falls silent', () => {
    const blind = (): Campus => two('10.97.1.0/31', '10.97.1.1/31').links(['a/x b/x'], { 'gentle-compass:carrier-loss-seen': false });
    expect(down(blind(), 'link:a/x')).toEqual({ ports: [], severed: ['a/x', 'b/x'], routers: 0 });
    expect(down(blind(), 'interface:a/x')).toEqual({ ports: ['a/x'], severed: ['b/x'], routers: 0 });
    expect(down(blind(), 'router:a')).toEqual({ ports: [], severed: ['b/x'], routers: 1 });
  });
  test('a virtual interface falls with its last carrier', () => {
    const { design } = campus()
      .router('a', '10.96.0.1')
      .port('a', 'e1', '', null)
      .port('a', 'e2', '', null)
      .port('a', 'vlan', '10.97.1.1/24', 0, { iface: { 'carried-by': ['e1', 'e2'] } })
      .read();
    const up = (...ports: number[]): boolean => interfaceUp(design, { ...noOutage, ports: new Set(ports.map((i) => placeKey(0, i))) }, 0, 2);
    expect([up(), up(0), up(0, 1)]).toEqual([true, true, false]);
  });
  test('carriers that carry each other are down, and do not hang', () => {
    const { design } = campus()
      .router('a', '10.96.0.1')
      .port('a', 'v1', '', null, { iface: { 'carried-by': ['v2'] } })
      .port('a', 'v2', '', null, { iface: { 'carried-by': ['v1'] } })
      .read();
    expect(interfaceUp(design, noOutage, 0, 0)).toBe(false);
  });
});
