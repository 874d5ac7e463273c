import fc from 'fast-check';
import { applyEdits } from '../../design/edit';
import type { Design } from '../../design/design';
import type { SourceDocument } from '../../documents/documents';
import { designFrom } from '../../formats/read-set';
import { formatAddress } from '../../prefix/address';
import { predict } from '../../predict';
import { Campus } from '../../testing/campus';
import { richCampusOf, richPlans } from '../../testing/rich-campus';
import { readEntry } from '../entry';

/** What a line makes of a campus, and what it says of it. */
function after(campus: Campus | readonly SourceDocument[], line: string): { design: Design; documents: SourceDocument[]; notes: readonly string[] } {
  const documents = campus instanceof Campus ? campus.documents() : campus;
  const { plan, error } = readEntry(line, documents);
  if (!plan) throw new Error(`${line}: ${error?.message ?? ''}`);
  const now = applyEdits(documents, plan.edits);
  const read = designFrom(now);
  expect(read.problems.filter((p) => p.severity === 'error')).toEqual([]);
  return { design: read.design, documents: now, notes: plan.notes };
}
const refusal = (campus: Campus, line: string): string => readEntry(line, campus.documents()).error?.message ?? 'taken';

/** `name address address` of each interface of a router. */
const ports = (design: Design, router: string): string[] =>
  (design.routers.find((r) => r.name === router)?.interfaces ?? []).map((i) =>
    [i.name, ...i.addresses.map((a) => `${formatAddress(a.bits)}/${a.length}`)].join(' '),
  );
const routerId = (design: Design, router: string): string => {
  const id = design.routers.find((r) => r.name === router)?.instances[0]?.explicitRouterId;
  return id === undefined ? 'none' : formatAddress(id);
};
const full = (design: Design, onlyCables = false): string[] => {
  const { adjacencies, segments } = predict(design);
  return adjacencies.pairs
    .filter((p) => p.a.state === 'full' && p.b.state === 'full' && (!onlyCables || segments.list[p.segment]?.kind === 'cable'))
    .map((p) => [p.a.port, p.b.port].map((port) => design.routers[port.routerIndex]?.name ?? '').join(' '))
    .sort();
};

/** Two tern routers with a loopback for themselves and one for a service; a cable between them. */
const twoLoopbacks = (): Campus =>
  new Campus()
    .router('tern-1', '10.96.0.1', 0)
    .router('tern-2', '10.96.0.2', 0)
    .cable('tern-1', 'tern-2', '10.96.128.0', 0)
    .port('tern-1', 'logs', '10.96.200.1/32', 0, { passive: true, iface: { type: 'softwareLoopback' } })
    .port('tern-2', 'logs', '10.96.200.2/32', 0, { passive: true, iface: { type: 'softwareLoopback' } });

describe('every loopback of a copy comes from where the original had it', () => {
  test('beside its kin, and the router id follows the one that it was taken from', () => {
    const { design } = after(twoLoopbacks(), 'clone tern-1 as tern-3');
    expect(ports(design, 'tern-3')).toEqual(['lo 10.96.0.3/32', 'to-tern-2 10.96.128.2/31', 'logs 10.96.200.3/32']);
    expect(routerId(design, 'tern-3')).toBe('10.96.0.3');
  });

  test('out of the pool that holds it, not out of another one for loopbacks', () => {
    const pooled = twoLoopbacks().settings({
      pool: [
        { prefix: '10.96.0.0/24', purpose: 'loopbacks' },
        { prefix: '10.96.200.0/29', purpose: 'loopbacks' },
        { prefix: '10.96.130.0/24', purpose: 'links' },
      ],
    });
    const { design, notes } = after(pooled, 'clone tern-1 as tern-3');
    expect(ports(design, 'tern-3')).toEqual(['lo 10.96.0.3/32', 'to-tern-2 10.96.130.0/31', 'logs 10.96.200.3/32']);
    expect(notes).toContain('10.96.200.3 is the next free loopback address of the pool 10.96.200.0/29.');
  });

  test('full pools are told; nothing comes from outside them', () => {
    const narrow = twoLoopbacks().settings({
      pool: [
        { prefix: '10.96.200.0/30', purpose: 'loopbacks' },
        { prefix: '10.96.0.0/30', purpose: 'loopbacks' },
      ],
    });
    const one = after(narrow, 'clone tern-1 as tern-3');
    expect(ports(one.design, 'tern-3')).toContain('logs 10.96.200.3/32');
    expect(readEntry('clone tern-1 as tern-4', one.documents).error?.message).toBe(
      'No /32 is left for a loopback like 10.96.0.1/32 in the pools of the design: widen one, or add one with "pool loopbacks PREFIX".',
    );
  });

  test('an address that several routers share is shared by the copy too, and is no router id', () => {
    const shared = twoLoopbacks();
    for (const r of ['tern-1', 'tern-2']) shared.port(r, 'resolver', '10.96.250.53/32', 0, { passive: true, iface: { type: 'softwareLoopback' } });
    const { design, notes } = after(shared, 'clone tern-2 as tern-3');
    expect(ports(design, 'tern-3')).toContain('resolver 10.96.250.53/32');
    expect(notes).toContain('10.96.250.53 on resolver is shared with other routers: the copy has it too.');
    expect(routerId(design, 'tern-3')).toBe('10.96.0.3');
  });

  test('a router id that is no address gives way to the new loopback', () => {
    const odd = twoLoopbacks().ospf('tern-1', { 'explicit-router-id': '0.0.0.71' });
    const { design, notes } = after(odd, 'clone tern-1 as tern-3');
    expect(routerId(design, 'tern-3')).toBe('10.96.0.3');
    expect(notes).toContain('The router id 0.0.0.71 is no address of tern-1: the copy has 10.96.0.3.');
  });
});

describe('cables, LANs and the topology document', () => {
  const unnumbered = (): Campus =>
    new Campus()
      .router('tern-1', '10.96.0.1', 0)
      .router('tern-2', '10.96.0.2', 0)
      .port('tern-1', 'fibre', '10.96.0.1/32', 0, { 'interface-type': 'point-to-point' })
      .port('tern-2', 'to-tern-1', '10.96.0.2/32', 0, { 'interface-type': 'point-to-point' })
      .links(['tern-1/fibre tern-2/to-tern-1'], { 'gentle-compass:carrier-loss-seen': false });

  test('an unnumbered cable borrows the address of the copy, and the topology joins it to a new end', () => {
    const { design } = after(unnumbered(), 'clone tern-1 as tern-3');
    expect(ports(design, 'tern-3')).toEqual(['lo 10.96.0.3/32', 'fibre 10.96.0.3/32']);
    expect(ports(design, 'tern-2')).toEqual(['lo 10.96.0.2/32', 'to-tern-1 10.96.0.2/32', 'to-tern-3 10.96.0.2/32']);
    expect(design.topology.links[1]).toMatchObject({
      from: { node: 'tern-3', point: 'fibre' },
      to: { node: 'tern-2', point: 'to-tern-3' },
      carrierLossSeen: false,
    });
    expect(full(design)).toEqual(['tern-1 tern-2', 'tern-2 tern-3']);
  });

  test('without links joins nothing: neither cables, nor LANs, nor the topology', () => {
    const lan = unnumbered().lan('quay', '10.96.64.0/24', 0, ['tern-1', 'tern-2']).port('tern-1', 'store', '10.96.65.1/24', 0);
    lan.port('tern-1', 'vlan7', '10.96.66.1/24', 0, { iface: { 'gentle-compass:carried-by': ['quay', 'store'] } });
    const { design } = after(lan, 'clone tern-1 as tern-3 without links');
    expect(ports(design, 'tern-3')).toEqual(['lo 10.96.0.3/32', 'store 10.96.67.1/24', 'vlan7 10.96.68.1/24']);
    expect(design.topology.links).toHaveLength(1);
    expect(design.routers.find((r) => r.name === 'tern-3')?.interfaces[2]?.carriedBy).toEqual(['store']);
    expect(ports(design, 'tern-2')).toEqual(ports(lan.read().design, 'tern-2'));
  });

  test('a LAN that the topology names is joined there; the gateway to the outside keeps its address', () => {
    const lan = new Campus()
      .router('tern-1', '10.96.0.1', 0)
      .router('tern-2', '10.96.0.2', 0)
      .lan('quay', '203.0.113.0/29', 0, ['tern-1', 'tern-2'])
      .static('tern-1', '0.0.0.0/0', '203.0.113.3')
      .links(['tern-1/quay pontoon', 'tern-2/quay pontoon']);
    const { design } = after(lan, 'clone tern-1 as tern-3');
    expect(ports(design, 'tern-3')).toContain('quay 203.0.113.4/29');
    expect(full(design)).toEqual(['tern-1 tern-2', 'tern-1 tern-3', 'tern-2 tern-3']);
    expect(design.topology.links.map((l) => `${l.from.node} ${l.to.node}`)).toContain('tern-3 pontoon');
  });

  test('an address from outside the design is not copied, and is told', () => {
    const exit = twoLoopbacks().port('tern-1', 'exit', '203.0.113.2/30', null).static('tern-1', '0.0.0.0/0', '203.0.113.1');
    const { design, notes } = after(exit, 'clone tern-1 as tern-3');
    expect(ports(design, 'tern-3')).toContain('exit');
    expect(notes).toContain('exit has 203.0.113.2/30 from outside the design: the copy has no address there yet.');
  });

  test('a second address gets a subnet of its own too, and the neighbour keeps only what belongs to the cable', () => {
    const two = new Campus()
      .router('tern-1', '10.96.0.1', 0)
      .router('tern-2', '10.96.0.2', 0)
      .port('tern-1', 'fibre', '10.96.128.0/31 10.96.129.1/30', 0, { 'interface-type': 'point-to-point' })
      .port('tern-2', 'far', '10.96.128.1/31 10.96.129.2/30 10.96.140.1/24', 0, { 'interface-type': 'point-to-point' });
    const { design } = after(two, 'clone tern-1 as tern-3');
    expect(ports(design, 'tern-3')[1]).toBe('fibre 10.96.128.2/31 10.96.128.5/30');
    expect(ports(design, 'tern-2').at(-1)).toBe('to-tern-3 10.96.128.3/31 10.96.128.6/30');
    expect(full(design)).toEqual(['tern-1 tern-2', 'tern-2 tern-3']);
  });

  test('whoever lists the original among its static neighbours lists the copy', () => {
    const hub = new Campus().router('tern-hub', '10.96.0.9', 0).router('tern-1', '10.96.0.1', 0);
    const cloud = { 'interface-type': 'non-broadcast' };
    hub.port('tern-hub', 'cloud', '10.96.64.9/24', 0, { ...cloud, 'static-neighbors': { neighbor: [{ identifier: '10.96.64.1', priority: 0 }] } });
    hub.port('tern-1', 'cloud', '10.96.64.1/24', 0, { ...cloud, priority: 0 });
    const spoke = after(hub, 'clone tern-1 as tern-2');
    expect(full(spoke.design)).toEqual(['tern-1 tern-hub', 'tern-2 tern-hub']);
    // A second hub and the first list each other, and both list the spokes.
    expect(full(after(spoke.documents, 'clone tern-hub as tern-relay').design)).toEqual([
      'tern-1 tern-hub',
      'tern-1 tern-relay',
      'tern-2 tern-hub',
      'tern-2 tern-relay',
      'tern-hub tern-relay',
    ]);
  });

  test('what a rule turned on by its address is listed, where the new address is in no rule', () => {
    const ruled = new Campus()
      .router('tern-1', '10.96.0.1', null)
      .router('tern-2', '10.96.0.2', 0)
      .ospf('tern-1', { 'gentle-compass:activation': [{ match: '10.96.128.0/31', 'area-id': '0.0.0.0' }] })
      .port('tern-1', 'fibre', '10.96.128.0/31', null)
      .port('tern-2', 'far', '10.96.128.1/31', 0);
    const { design, notes } = after(ruled, 'clone tern-1 as tern-3');
    expect(full(design)).toEqual(['tern-1 tern-2', 'tern-2 tern-3']);
    expect(notes).toContain('No rule of tern-3 takes fibre: it is listed in its area.');
  });

  test('virtual links stay with the original', () => {
    const far = twoLoopbacks().area('tern-1', 0, {
      'virtual-links': { 'virtual-link': [{ 'transit-area-id': '0.0.0.10', 'router-id': '10.96.0.7' }] },
    });
    const { design, notes } = after(far, 'clone tern-1 as tern-3');
    expect(design.routers.find((r) => r.name === 'tern-3')?.instances[0]?.areas[0]?.virtualLinks).toEqual([]);
    expect(notes).toContain('The virtual links of tern-1 are not copied: they need their other end.');
  });
});

test('random networks: a copy brings no address twice, unsettles no neighbours, and has its own where the original has them', () => {
  let tried = 0;
  let cabled = 0;
  fc.assert(
    fc.property(richPlans, fc.nat(40), (plan, pick) => {
      const { campus, names } = richCampusOf(plan);
      const documents = campus.documents();
      const original = names[pick % names.length] ?? '';
      const reading = readEntry(`clone ${original} as copy-1`, documents);
      if (!reading.plan) {
        expect(reading.error?.message).toMatch(/^No /);
        return;
      }
      tried++;
      const [before, now] = [designFrom(documents).design, designFrom(applyEdits(documents, reading.plan.edits)).design];
      const owners = (d: Design): Map<number, Set<string>> => {
        const out = new Map<number, Set<string>>();
        for (const r of d.routers)
          for (const i of r.interfaces) for (const a of i.addresses) out.set(a.bits, (out.get(a.bits) ?? new Set()).add(r.name));
        return out;
      };
      const known = owners(before);
      for (const [bits, who] of owners(now))
        if (who.size > 1) expect([formatAddress(bits), known.get(bits)?.size ?? 0]).toEqual([formatAddress(bits), who.size]);
      // On a LAN the copy may take the lead; what a cable joins stays joined, and the copy has as many cables that come up.
      const cables = (d: Design): string[] => full(d, true);
      expect(cables(now).filter((x) => !x.includes('copy-1'))).toEqual(cables(before));
      const faced = (d: Design, name: string): number => cables(d).filter((x) => x.split(' ').includes(name)).length;
      if (faced(before, original) > 0) cabled++;
      expect(faced(now, 'copy-1')).toBe(faced(before, original));
    }),
    { numRuns: 80, seed: 20_261_129, endOnFailure: true },
  );
  expect([tried, cabled].every((n) => n > 40)).toBe(true);
});

describe('a link', () => {
  test('unnumbered: both ends borrow their loopbacks, the topology joins them, and they become neighbours', () => {
    const { design } = after(twoLoopbacks(), 'link tern-1 tern-2 unnumbered cost 7');
    expect(ports(design, 'tern-1').at(-1)).toBe('to-tern-2-2 10.96.0.1/32');
    expect(full(design)).toEqual(['tern-1 tern-2', 'tern-1 tern-2']);
    const gone = after(after(twoLoopbacks(), 'link tern-1 tern-2 unnumbered').documents, 'delete interface tern-1/to-tern-2-2');
    expect(gone.design.topology.links).toEqual([]);
  });

  test('unnumbered without a loopback, with a subnet or as a LAN is refused', () => {
    const bare = new Campus().router('tern-1', '10.96.0.1', 0).router('tern-2', '10.96.0.2').port('tern-2', 'quay', '10.96.64.1/24', 0);
    expect(refusal(bare, 'link tern-1 tern-2 unnumbered')).toMatch(
      /tern-2 has no loopback with an address to borrow: add one with "interface tern-2\/lo/,
    );
    expect(refusal(twoLoopbacks(), 'link tern-1 tern-2 unnumbered subnet 10.96.1.0/31')).toMatch(/leave one of the two out/);
    expect(refusal(twoLoopbacks(), 'link tern-1 tern-2 unnumbered type broadcast')).toMatch(/point-to-point/);
  });

  test('leaves the block of the loopbacks alone, also where the area has nothing else yet', () => {
    const bare = new Campus().router('tern-1', '10.96.0.1', 0).router('tern-2', '10.96.0.2', 0);
    const { design } = after(bare, 'link tern-1 tern-2');
    expect(ports(design, 'tern-1')[1]).toBe('to-tern-2 10.96.1.0/31');
    const ranged = bare.router('tern-3', '10.97.0.1', 10).router('tern-4', '10.97.0.2', 10);
    ranged.area('tern-3', 10, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } });
    expect(ports(after(ranged, 'link tern-3 tern-4').design, 'tern-3')[1]).toBe('to-tern-4 10.97.1.0/31');
  });

  test('takes a bandwidth from like links where costs come from bandwidths, and says so', () => {
    const auto = { 'auto-cost': { enabled: true, 'reference-bandwidth': 100_000 } };
    const fast = twoLoopbacks().ospf('tern-1', auto).ospf('tern-2', auto);
    const none = after(fast, 'link tern-1 tern-2');
    expect(none.notes.join()).toContain('come from bandwidths, and no link here has one');
    const known = after(after(fast, 'link tern-1 tern-2 bandwidth 25000').documents, 'link tern-1 tern-2');
    expect(known.notes).toContain('25,000 Mbit/s, as most links of this area have: costs come from it.');
    expect(known.design.routers[0]?.interfaces.at(-1)?.bandwidthMbps).toBe(25_000);
    expect(after(fast, 'link tern-1 tern-2 cost 3').notes.join()).not.toContain('bandwidth');
  });

  test('that joins two areas without the backbone says what does not pass', () => {
    const apart = new Campus().router('tern-1', '10.97.0.1', 10).router('tern-2', '10.98.0.1', 20);
    expect(after(apart, 'link tern-1 tern-2').notes).toContain(
      'tern-2 then stands in area 10 and area 20 without the backbone: it passes nothing from one to the other.',
    );
    expect(after(twoLoopbacks(), 'link tern-1 tern-2').notes.join()).not.toContain('backbone');
  });
});
