import fc from 'fast-check';
import { applyEdits } from '../../design/edit';
import { familyView } from '../../design/family';
import type { SourceDocument } from '../../documents/documents';
import { checkFamilies } from '../../findings/catalogue';
import { designFrom } from '../../formats/read-set';
import { formatAddress } from '../../prefix/address';
import { predict, predictFamilies } from '../../predict';
import { campus, Campus, routesOf, routeTo, statesOf } from '../../testing/campus';
import { campusOf, plans } from '../../testing/random-campus';
import { readEntry } from '../entry';

interface After {
  readonly documents: readonly SourceDocument[];
  readonly notes: readonly string[];
  readonly title: string;
}
/** What lines make of documents, one after the other; notes and title are those of the last. */
function after(documents: readonly SourceDocument[], ...lines: readonly string[]): After {
  return lines.reduce<After>(
    (was, line) => {
      const { plan, error } = readEntry(line, was.documents);
      if (!plan) throw new Error(`${line}: ${error?.message ?? ''}`);
      const now = applyEdits(was.documents, plan.edits);
      expect(designFrom(now).problems.filter((p) => p.severity === 'error')).toEqual([]);
      return { documents: now, notes: plan.notes, title: plan.title };
    },
    { documents, notes: [], title: '' },
  );
}
const refusal = (documents: readonly SourceDocument[], line: string): string => readEntry(line, documents).error?.message ?? 'taken';

/** `name address address` of each interface of a router, as one family looks at it. */
const ports = (documents: readonly SourceDocument[], router: string, family: 4 | 6): string[] =>
  (familyView(designFrom(documents).design, family).routers.find((r) => r.name === router)?.interfaces ?? []).map((i) =>
    [i.name, ...i.addresses.map((a) => `${formatAddress(a.bits)}/${a.length}`)].join(' '),
  );
const table = (documents: readonly SourceDocument[], router: string, family: 4 | 6): string[] =>
  routesOf(predict(designFrom(documents).design, [], { family }), router);
const states = (documents: readonly SourceDocument[], router: string, family: 4 | 6): string[] =>
  statesOf(predict(designFrom(documents).design, [], { family }), router);

/** Three routers with both families: the backbone by a cable, area 10 behind the gate by a cable and a LAN. */
const base = (numbered = ''): readonly SourceDocument[] =>
  after(
    campus()
      .router('core', '10.96.0.1', 0)
      .router('gate', '10.96.0.2', 0)
      .router('in', '10.97.0.3', 10)
      .cable('core', 'gate', '10.96.128.0', 0, [3, 4])
      .cable('gate', 'in', '10.97.1.0', 10, 7)
      .lan('lab', '10.97.2.0/24', 10, ['gate', 'in'], { cost: 5 })
      .area('gate', 10, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } })
      .documents(),
    `ipv6 2001:db8:40::/48 ${numbered}`,
  ).documents;
/** The same design with OSPFv3 alone. */
const sixOnly = (): readonly SourceDocument[] =>
  new Campus(3).router('tern-1', '10.96.0.1', 0).router('tern-2', '10.96.0.2', 0).wire('tern-1', 'tern-2', 0).documents();

describe('what is made is made in both families, where its routers run both', () => {
  test('a router: a loopback of each, one id, both processes', () => {
    const { documents, title } = after(base(), 'router shed area 10');
    expect(title).toBe('Router shed with loopback 10.97.0.1 and 2001:db8:40:1000::2 in area 10');
    expect([ports(documents, 'shed', 4), ports(documents, 'shed', 6)]).toEqual([['lo 10.97.0.1/32'], ['lo 2001:db8:40:1000::2/128']]);
    expect(
      designFrom(documents)
        .design.routers.find((r) => r.name === 'shed')
        ?.instances.map((o) => o.explicitRouterId),
    ).toEqual([0x0a61_0001, 0x0a61_0001]);
    expect(after(base(), 'router shed area 10 loopback 2001:db8:40:1000::99').title).toMatch(/10\.97\.0\.1 and 2001:db8:40:1000::99/);
  });

  test('a link: of IPv6 link-local alone where the others are so, with a /127 where they have one', () => {
    const alone = after(base(), 'router shed area 10', 'link shed in cost 6');
    expect(alone.title).toBe('Link shed and in by 10.97.1.2/31 in area 10 and by link-local addresses in area 10, cost 6');
    expect(ports(alone.documents, 'shed', 6)).toContain('to-in');
    expect(states(alone.documents, 'shed', 6)).toEqual(states(alone.documents, 'shed', 4));
    expect(routeTo(predict(designFrom(alone.documents).design, [], { family: 6 }), 'shed', '2001:db8:40::1/128')).toMatch(
      /^inter-area 15 via to-in fe80::/,
    );
    const numbered = after(base('numbered'), 'router shed area 10', 'link shed in');
    expect(ports(numbered.documents, 'shed', 6)).toContain('to-in 2001:db8:40:1001::2/127');
    const typed = after(base(), 'router shed area 10', 'link shed in subnet 2001:db8:40:1001::20/127');
    expect(ports(typed.documents, 'in', 6).at(-1)).toBe('to-shed 2001:db8:40:1001::21/127');
    expect(ports(typed.documents, 'in', 4).at(-1)).toBe('to-shed 10.97.1.3/31');
  });

  test('a LAN, a loopback', () => {
    const lan = after(base(), 'lan store on in gate area 10 passive');
    expect(lan.title).toBe('LAN store, 10.97.3.0/24 in area 10 and 2001:db8:40:1003::/64 in area 10, with in, gate');
    expect(ports(lan.documents, 'gate', 6).at(-1)).toBe('store 2001:db8:40:1003::2/64');
    const loop = after(base(), 'interface in/logs loopback area 10');
    expect([ports(loop.documents, 'in', 4).at(-1), ports(loop.documents, 'in', 6).at(-1)]).toEqual([
      'logs 10.97.0.1/32',
      'logs 2001:db8:40:1000::2/128',
    ]);
    const one = after(base(), 'interface in/tank as 2001:db8:40:10ff::1/64 area 10 passive');
    expect([ports(one.documents, 'in', 4).at(-1), ports(one.documents, 'in', 6).at(-1)]).toEqual(['tank', 'tank 2001:db8:40:10ff::1/64']);
    expect(one.notes.join()).toContain('OSPFv2 has no part on it');
  });

  test('a router that runs one of them gets that one, and it is said', () => {
    const { documents, notes } = after(base(), 'v3 leave in/lo', 'v3 leave in/lab', 'v3 leave in/to-gate');
    expect(notes).toEqual([]);
    const old = after([...documents, ...campus().router('old', '10.97.0.9', 10).documents()], 'link old in cost 9');
    expect(old.notes).toContain('old runs no OSPFv3: there is no IPv6 on it yet.');
    expect(ports(old.documents, 'old', 6)).toEqual(['lo', 'to-in']);
  });

  test('a design of OSPFv3 alone stays one', () => {
    const { documents, title } = after(sixOnly(), 'router tern-3 area 0', 'v3 set router-id 10.96.0.3 on tern-3', 'link tern-2 tern-3');
    expect(title).toMatch(/^Link tern-2 and tern-3 by /);
    expect(designFrom(documents).design.routers.map((r) => r.instances.map((o) => o.version))).toEqual([[3], [3], [3]]);
    expect(states(documents, 'tern-3', 6)).toEqual(['tern-2 full']);
  });
});

describe('a copy', () => {
  test('has addresses of its own in both families, and neighbours in both', () => {
    const { documents } = after(base('numbered'), 'clone in as by');
    expect(ports(documents, 'by', 4)).toEqual(['lo 10.97.0.1/32', 'to-gate 10.97.1.3/31', 'lab 10.97.2.3/24']);
    expect(ports(documents, 'by', 6)).toEqual(['lo 2001:db8:40:1000::2/128', 'to-gate 2001:db8:40:1001::3/127', 'lab 2001:db8:40:1002::3/64']);
    expect(ports(documents, 'gate', 6)).toContain('to-by 2001:db8:40:1001::2/127');
    expect(states(documents, 'by', 6)).toEqual(states(documents, 'by', 4));
    expect(states(documents, 'by', 6)).toHaveLength(3);
  });

  test('a link-local address that was written stays with the original on a LAN', () => {
    const written = after(base(), 'address in/lab as fe80::1/64').documents;
    const { documents, notes } = after(written, 'clone in as by');
    expect(notes).toContain('fe80::1 on lab stays with in: the copy has a link-local address of its own making.');
    const links = familyView(designFrom(documents).design, 6).routers.map((r) => r.interfaces.find((i) => i.name === 'lab')?.linkLocal?.derived);
    expect(links).toEqual([true, undefined, true, false]);
    expect(
      checkFamilies(predictFamilies(designFrom(documents).design), documents, { withConsequences: false }).findings.map((f) => f.rule),
    ).not.toContain('equal-link-local');
  });
});

describe('lines about addresses of IPv6', () => {
  test.each([
    ['address in/lab as 2001:db8:40:1002::77/64', 'lab 2001:db8:40:1002::77/64'],
    ['address in/lab and 2001:db8:40:10fe::1/64', 'lab 2001:db8:40:1002::2/64 2001:db8:40:10fe::1/64'],
    ['v3 address in/lab off', 'lab'],
    ['renumber in/lab as 2001:db8:40:1080::/64', 'lab 2001:db8:40:1080::2/64'],
    ['v3 renumber in/lab', 'lab 2001:db8:40:1003::2/64'],
    ['v3 renumber in/lo', 'lo 2001:db8:40:1000::2/128'],
  ])('%s', (line, port) => {
    const { documents } = after(base(), line);
    expect(ports(documents, 'in', 6)).toContain(port);
    expect(ports(documents, 'in', 4)).toEqual(ports(base(), 'in', 4));
  });

  test('every end of a wire goes along, and what names the old address', () => {
    const route = after(base(), 'static 2001:db8:99::/48 on gate via 2001:db8:40:1002::2').documents;
    const { documents } = after(route, 'renumber in/lab as 2001:db8:40:1080::/64');
    expect(ports(documents, 'gate', 6)).toContain('lab 2001:db8:40:1080::1/64');
    const gate = familyView(designFrom(documents).design, 6).routers.find((r) => r.name === 'gate');
    expect(gate?.staticRoutes.flatMap((r) => r.nextHops.map((h) => formatAddress(h.address ?? 0)))).toEqual(['2001:db8:40:1080::2']);
  });

  test.each([
    ['address in/lab as 2001:db8:40:1002::/64', '2001:db8:40:1002:: is the address of every router of 2001:db8:40:1002::/64, not an address in it.'],
    ['address in/lab as 2001:db8:40:1002::1/64', '2001:db8:40:1002::1 stands on gate/lab already.'],
    ['address in/lo as 2001:db8:40:1002::9/128', '2001:db8:40:1002::9/128 overlaps 2001:db8:40:1002::/64 of gate/lab.'],
    ['link core in subnet 2001:db8:40:1002::/127 area 10', '2001:db8:40:1002::/127 overlaps 2001:db8:40:1002::/64 of gate/lab.'],
    ['static 2001:db8:99::/48 on gate via 10.96.0.1', 'This is of IPv4, and the line is about IPv6: write a line for each.'],
    ['v3 range 10.97.0.0/16 area 10', 'This is of IPv4, and the line is about IPv6: write a line for each.'],
    ['static 2001:db8:99::/48 on gate via fe80::1', 'fe80::1 stands on every wire: say the interface, with "out".'],
    ['v3 key 1 md5 x on in/lab', 'OSPFv3 has no md5: its authentication trailer (RFC 7166) takes hmac-sha-1 to hmac-sha-512.'],
    ['address in/lab as 2001:db8:40:1002::9/129', 'Expected address such as 2001:db8:40::/48, not "2001:db8:40:1002::9/129".'],
  ])('%s: refused in words', (line, words) => expect(refusal(base(), line)).toBe(words));

  test('two ends of a wire have two link-local addresses', () => {
    const one = after(base(), 'address in/lab as fe80::1/64').documents;
    expect(refusal(one, 'address gate/lab as fe80::1/64')).toBe(
      'fe80::1 stands on in/lab, on the same wire: two ends need two link-local addresses.',
    );
    expect(after(one, 'address in/lab as fe80::7/64').title).toBe('in/lab speaks from fe80::7 instead of fe80::1');
    expect(ports(one, 'in', 6)).toContain('lab 2001:db8:40:1002::2/64');
  });
});

describe('what belongs to one version is changed in it', () => {
  test('a summary by its prefix; taken away again', () => {
    const ranged = after(base(), 'range 2001:db8:40:1000::/56 area 10 cost 44');
    expect(ranged.title).toBe('Area 10 summarised as 2001:db8:40:1000::/56 on gate, cost 44');
    expect(table(ranged.documents, 'core', 6)).toContainEqual(expect.stringMatching(/^2001:db8:40:1000::\/56 inter-area 47 /));
    expect(table(ranged.documents, 'core', 4)).toEqual(table(base(), 'core', 4));
    const off = after(base(), 'range 2001:db8:40:1000::/52 area 10 off');
    expect(table(off.documents, 'core', 6)).toContainEqual(expect.stringMatching(/^2001:db8:40:1002::\/64 inter-area 8 /));
  });

  test('interfaces join, leave and move in one version; where the line does for IPv4 only, the like is offered', () => {
    const left = readEntry('leave in/lab', base());
    expect(left.plan?.notes).toContain('OSPFv3 stays as it is.');
    expect(left.instead).toEqual([{ line: 'v3 leave in/lab', help: 'the same for OSPFv3' }]);
    const { documents } = after(base(), 'v3 leave in/lab');
    expect(states(documents, 'in', 6)).toEqual(['gate full']);
    expect(states(documents, 'in', 4)).toHaveLength(2);
    // Once both are alike there is nothing more to offer.
    expect(readEntry('leave in/lab', documents).instead).toBeUndefined();
    expect(states(after(documents, 'v3 join in/lab area 10').documents, 'in', 6)).toEqual(states(base(), 'in', 6));
  });

  test('a router moves in both families while they lie alike, and in one where they do not', () => {
    const both = after(base(), 'move in to 20');
    expect(both.notes).toContain('OSPFv3 goes the same way.');
    const areas = (documents: readonly SourceDocument[]): string[] =>
      (designFrom(documents).design.routers.find((r) => r.name === 'in')?.instances ?? []).map((o) => o.areas.map((a) => a.id).join());
    expect(areas(both.documents)).toEqual(['20', '20']);
    const apart = after(base(), 'v3 move in to 20');
    expect(areas(apart.documents)).toEqual(['10', '20']);
    const again = after(apart.documents, 'move in to 30');
    expect(again.notes).toContain('OSPFv3 stays where it is: its areas are others.');
    expect(areas(again.documents)).toEqual(['30', '20']);
  });

  test('area types, redistribution, the default, keys, prefix sets', () => {
    const { documents } = after(
      base(),
      'v3 set area-type totally-stubby on area 10',
      'static 2001:db8:99::/48 on core discard',
      'v3 bring static on core metric 30 type type-1',
      'v3 announce default on core always metric 5',
      'v3 key 700 hmac-sha-256 "low tide" on in/to-gate gate/to-in',
      'prefixes outside 2001:db8:99::/48 on core to 64',
    );
    expect(routeTo(predict(designFrom(documents).design, [], { family: 6 }), 'gate', '2001:db8:99::/48')).toMatch(/^external-1 34 /);
    expect(routeTo(predict(designFrom(documents).design, [], { family: 6 }), 'gate', '::/0')).toMatch(/^external-2 5\+4 /);
    expect(table(documents, 'in', 6).filter((r) => r.includes('inter-area') || r.includes('external'))).toEqual([
      expect.stringMatching(/^::\/0 inter-area 6 via lab fe80::/),
    ]);
    expect(table(documents, 'in', 4)).toEqual(table(base(), 'in', 4));
    const core = designFrom(documents).design.routers.find((r) => r.name === 'core');
    expect(core?.policies.sets.get('outside')?.lines6).toMatchObject([{ from: 48, to: 64 }]);
    expect(states(documents, 'in', 6)).toEqual(states(base(), 'in', 6));
    // A key at one end alone parts the two, in this family only.
    const parted = after(base(), 'v3 key 1 hmac-sha-256 x on in/to-gate').documents;
    expect(states(parted, 'in', 6)).toEqual(['gate full']);
    expect(states(parted, 'in', 4)).toEqual(states(base(), 'in', 4));
  });

  test('a virtual link through area 10', () => {
    const far = after(base(), 'router isle area 20', 'link isle in area 20').documents;
    expect(states(far, 'isle', 6)).toEqual(states(far, 'isle', 4));
    const core = (documents: readonly SourceDocument[]): string =>
      routeTo(predict(designFrom(documents).design, [], { family: 6 }), 'core', '2001:db8:40:2000::1/128');
    expect(core(far)).toBe('');
    expect(core(after(far, 'v3 virtual-link gate in through 10').documents)).toMatch(/^inter-area /);
  });

  test('free subnets come from pools of their family', () => {
    const pooled = after(base(), 'pool lans 2001:db8:40:1800::/56 area 10', 'pool loopbacks 2001:db8:40:17ff::/64 area 10');
    const { documents, notes } = after(pooled.documents, 'router shed area 10', 'lan store on shed area 10');
    expect(ports(documents, 'shed', 6)).toEqual(['lo 2001:db8:40:17ff::1/128', 'store 2001:db8:40:1800::1/64']);
    expect(notes).toContain('2001:db8:40:1800::/64 is the next free LAN subnet of the pool 2001:db8:40:1800::/56.');
    expect(ports(documents, 'shed', 4)[0]).toBe('lo 10.97.0.1/32');
  });
});

test('an area that has nothing yet gets a block as wide as the others’', () => {
  const { documents } = after(base(), 'router reef area 20', 'lan quay on reef area 20', 'router reef-2 area 20');
  expect([ports(documents, 'reef', 6), ports(documents, 'reef-2', 6)]).toEqual([
    ['lo 2001:db8:40:2000::1/128', 'quay 2001:db8:40:2001::1/64'],
    ['lo 2001:db8:40:2000::2/128'],
  ]);
});

test('random networks: whatever is made, copied, moved or deleted, the two families stay alike', () => {
  const turns = fc.array(fc.tuple(fc.constantFrom('router', 'link', 'lan', 'clone', 'move', 'delete', 'rename'), fc.nat(30), fc.nat(30)), {
    minLength: 1,
    maxLength: 5,
  });
  let made = 0;
  fc.assert(
    fc.property(plans, fc.boolean(), turns, (plan, numbered, todo) => {
      let documents: readonly SourceDocument[] = after(campusOf(plan).documents(), `ipv6 2001:db8:40::/44${numbered ? ' numbered' : ''}`).documents;
      todo.forEach(([verb, x, y], n) => {
        const names = designFrom(documents).design.routers.map((r) => r.name);
        const a = names[x % names.length] ?? '';
        const b = names[y % names.length] ?? '';
        const line = {
          router: `router new-${n} area ${y % 3}`,
          link: `link ${a} ${b}`,
          lan: `lan lan-${n} on ${a} ${b}`,
          clone: `clone ${a} as new-${n}`,
          move: `move ${a} to ${y % 4}`,
          delete: `delete router ${a}`,
          rename: `rename ${a} as new-${n}`,
        }[verb];
        const { plan: done } = readEntry(line, documents);
        if (!done || names.length < 2) return;
        made++;
        documents = applyEdits(documents, done.edits);
      });
      const read = designFrom(documents);
      expect(read.problems.filter((p) => p.severity === 'error')).toEqual([]);
      const [four, six] = predictFamilies(read.design);
      if (!four || !six) throw new Error('a family is missing');
      for (const r of read.design.routers) {
        expect(statesOf(six, r.name)).toEqual(statesOf(four, r.name));
        expect(
          r.instances.map((o) =>
            o.areas
              .map(
                (k) =>
                  `${k.id} ${k.interfaces
                    .map((i) => i.name)
                    .sort()
                    .join(' ')}`,
              )
              .sort(),
          ),
        ).toEqual(
          Array(2).fill(
            r.instances[0]?.areas
              .map(
                (k) =>
                  `${k.id} ${k.interfaces
                    .map((i) => i.name)
                    .sort()
                    .join(' ')}`,
              )
              .sort(),
          ),
        );
      }
      const all = six.design.routers.flatMap((r) => r.interfaces.flatMap((i) => i.addresses.map((k) => k.bits)));
      expect(new Set(all).size).toBe(all.length);
    }),
    { numRuns: 120, seed: 20_261_130, endOnFailure: true },
  );
  expect(made).toBeGreaterThan(150);
});
