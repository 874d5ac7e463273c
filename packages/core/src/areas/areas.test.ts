import * as fc from 'fast-check';
import { applyEdits, type Edit } from '../design/edit';
import { families, hasFamily } from '../design/family';
import type { SourceDocument } from '../documents/documents';
import { readEntry } from '../entry/entry';
import { designFrom } from '../formats/read-set';
import { comparePredictions } from '../compare/compare';
import { prefixNumber } from '../documents/leaf-types';
import { formatPrefix, type Prefix } from '../prefix/address';
import { predict, type Prediction } from '../predict';
import { campus } from '../testing/campus';
import { documentsFor, predictFor, prefixFor } from '../testing/mirror';
import { richCampusOf, richPlans } from '../testing/rich-campus';
import { sample } from '../testing/sample';
import { three } from '../testing/three-areas';
import { compareDatabases } from './databases-differ';
import { floodingReach } from './flooding';
import { areasAtAGlance } from './glance';
import { databaseOf, domainDatabase, heldKey } from './held';
import { lsaFields, originsOf, routesOn } from './lsa-detail';
import { saysWhat, typeText, typeOf } from './lsa-words';
import { prefixForms } from './prefix-forms';
import { tryType } from './type-trial';

const clean = sample('saltmarsh-point');
const looked = (family: 4 | 6): Prediction => predict(clean.design, [], { family });
const prefix = (text: string): Prefix => prefixNumber.read(text) ?? { bits: 0, length: 0 };
const speaker = (p: Prediction, name: string) => {
  const s = p.adjacencies.speakers.find((x) => x.router.name === name);
  if (!s) throw new Error(name);
  return s;
};

const forms = (p: Prediction, text: string): string[] =>
  prefixForms(p, prefix(text)).map(
    (a) => `${a.area}: ${a.forms.map((f) => `${f.type} ${f.prefix} by ${f.router} ${f.as}`).join(', ')}${a.why ? ` | ${a.why}` : ''}`,
  );

describe('how a prefix changes its form on the way', () => {
  test('a LAN of area 1: a stub network there, folded into the range beyond, a default in the totally stubby area', () => {
    expect(forms(three().predict(), '10.97.1.0/24')).toEqual([
      '1: 1 10.97.1.0/24 by one itself',
      '0: 3 10.97.0.0/17 by gate folded | Gate folds it into 10.97.0.0/17.',
      '2: 3 0.0.0.0/0 by gate default | Gate folds it into 10.97.0.0/17; gate lets no summaries into area 2.',
      '3: 3 10.97.0.0/17 by gate folded | Gate folds it into 10.97.0.0/17.',
    ]);
    const six = predictFor(6, documentsFor(6, three().documents()));
    expect(forms(six, prefixFor(6, '10.97.1.0/24'))[0]).toMatch(/^1: 0x2009 .* by one itself$/);
    expect(forms(six, prefixFor(6, '10.97.1.0/24'))[1]).toMatch(/^0: 0x2003 .*\/113 by gate folded \| Gate folds it into/);
  });

  test('a route from outside: type 7 in its NSSA, type 5 beyond, none in the stub area', () => {
    expect(forms(three().predict(), '198.51.100.0/24')).toEqual([
      '0: 5 198.51.100.0/24 by gate itself',
      '1: 5 198.51.100.0/24 by gate itself',
      '2: 3 0.0.0.0/0 by gate default | It comes from outside, and no type 5 enters a stub area.',
      '3: 7 198.51.100.0/24 by three itself',
    ]);
  });

  test('kept back by a hidden range, stopped by a policy, brought by nobody', () => {
    const hidden = three().area('gate', 1, { ranges: { range: [{ prefix: '10.97.0.0/17', advertise: false }] } });
    expect(forms(hidden.predict(), '10.97.1.0/24')[1]).toBe('0:  | Gate keeps 10.97.0.0/17 back.');
    expect(forms(three().predict(), '192.0.2.0/24')[0]).toBe('0:  | No router brings it.');
    expect(forms(three().predict(), '10.97.9.0/24')[0]).toBe(
      '0: 3 10.97.0.0/17 by gate folded | No router brings it, 10.97.0.0/17 holds it all the same: it ends where that is summarised.',
    );
  });
});

describe('how far an advertisement goes', () => {
  const at = (p: Prediction, type: string, says: string): string[] => {
    const held = domainDatabase(p).find((h) => typeText(typeOf(h.lsa)) === type && saysWhat(p, h.lsa).includes(says));
    if (!held) throw new Error(`no ${type} ${says}`);
    const { holders, stops } = floodingReach(p, held);
    return [holders.join(' '), ...stops.map((s) => `${s.router} ${s.area ?? 'piece'}: ${s.why}`)];
  };
  const p = three().predict();

  test('type 1 stays in its area, type 3 in the one that it was made for, type 7 in its NSSA, type 5 out of the stub areas', () => {
    expect(at(p, '3', '10.97.0.0/17, folds')[0]).toBe('core gate');
    expect(at(p, '7', '198.51.100.0/24')).toEqual([
      'gate three',
      ...[0, 1, 2].map((a) => `gate ${a}: Type 7 stays in its NSSA; gate translates: what may leave goes on as type 5.`),
    ]);
    expect(at(p, '5', '198.51.100.0/24')).toEqual([
      'core gate one',
      'gate 2: Area 2 is a stub area: no type 5 enters, a default stands in for it.',
      'gate 3: Area 3 is an NSSA: no type 5 enters, what it brings itself is type 7.',
    ]);
    const one = domainDatabase(p).find((h) => h.lsa.type === 1 && h.area === 1 && saysWhat(p, h.lsa).startsWith('1 link, 3'));
    expect(one && floodingReach(p, one).stops.map((s) => `${s.router} ${s.area ?? ''}`)).toEqual(['gate 0', 'gate 2', 'gate 3']);
  });

  test('a router between two areas without the backbone passes nothing; the other piece of an area hears nothing', () => {
    const apart = campus()
      .router('a', '10.97.0.1', 1)
      .router('b', '10.97.0.2', 1)
      .router('c', '10.98.0.1', 2)
      .router('d', '10.97.0.9', 1)
      .cable('a', 'b', '10.97.128.0', 1)
      .cable('b', 'c', '10.98.128.0', 2)
      .predict();
    const held = domainDatabase(apart).find((h) => h.lsa.type === 1 && h.area === 1 && h.lsa.adv === speaker(apart, 'a').routerId);
    expect(held && floodingReach(apart, held).stops.map((s) => s.why)).toEqual([
      'b has no part in the backbone: it is no border router, and tells area 2 nothing.',
      'Area 1 is in pieces: no full neighbours lead to this one.',
    ]);
  });
});

describe('areas at a glance', () => {
  const seen = (p: Prediction): string[] =>
    areasAtAGlance(p).map(
      (a) =>
        `${a.id} ${a.kinds.map((k) => `${k.kind} ${k.routers.length}`).join('/')} ${a.attached} ${a.pieces.length} ${a.load.map((l) => `${l.type}:${l.count}`).join(' ')}`,
    );

  test('type, way to the backbone, pieces and load, counted by hand', () => {
    // Area 0: routers core and gate; loopbacks are stub networks. Type 3: the range of 1, two of 2 (loopback, cable), two of 3.
    // Type 4: none needed, the translator gate is itself in area 0; 5: the static. Area 1 hears of gate, of what lies in 0, 2, 3.
    expect(seen(three().predict())).toEqual([
      '0 normal 2 backbone 1 1:2 3:6 5:1',
      '1 normal 2 directly 1 1:2 3:7 5:1',
      '2 totally-stubby 2 directly 1 1:2 3:1',
      '3 nssa 2 directly 1 1:2 3:7 7:1',
    ]);
  });

  test('a disagreement on the type, a leftover backbone area, an area without a way to the backbone', () => {
    const odd = three().area('two', 2, { 'area-type': 'normal-area' }).port('one', 'spare', '10.96.200.1/24', 0);
    const glance = areasAtAGlance(odd.predict());
    expect(glance.find((a) => a.id === 2)?.kinds.map((k) => `${k.kind} ${k.routers.join()}`)).toEqual(['totally-stubby gate', 'normal two']);
    const one = glance.find((a) => a.id === 0)?.borders.find((b) => b.router === 'one');
    expect(one).toEqual({ router: 'one', why: 'It has the backbone by spare (nobody answers there), area 1 by lo, to-gate, lab.', leftOver: true });
    expect(glance.find((a) => a.id === 0)?.pieces).toEqual([['core', 'gate'], ['one']]);
    const alone = campus().router('x', '10.97.0.1', 7).router('y', '10.97.0.2', 7).cable('x', 'y', '10.97.128.0', 7);
    expect(areasAtAGlance(alone.predict())[0]?.attached).toBe('not at all');
  });

  test('why a router is a boundary router; a virtual link with its cost', () => {
    const glance = areasAtAGlance(three().predict());
    expect(glance.find((a) => a.id === 3)?.boundaries).toEqual([
      { router: 'gate', why: 'It translates type 7 into type 5.', leftOver: false },
      { router: 'three', why: 'It brings static routes in as type-2, metric 7, all of them.', leftOver: false },
    ]);
    const far = three().router('isle', '10.95.0.1', 9).cable('one', 'isle', '10.95.128.0', 9);
    const link = (id: string) => ({ 'virtual-links': { 'virtual-link': [{ 'transit-area-id': '0.0.0.1', 'router-id': id }] } });
    far.area('gate', 0, link('10.97.0.1')).area('one', 0, link('10.96.0.2'));
    const virtual = areasAtAGlance(far.predict());
    expect(virtual.find((a) => a.id === 1)?.virtualLinks).toEqual([{ ends: ['gate', 'one'], through: 1, cost: 10, path: ['gate', 'one'] }]);
    expect(virtual.find((a) => a.id === 9)?.attached).toBe('by virtual link');
  });

  test('what the design allows at most stands beside what there is', () => {
    const net = three().settings({
      expectation: [
        { name: 'few summaries', kind: 'advertisements', area: 1, type: 3, 'at-most': 6 },
        { name: 'a small table', kind: 'table', router: 'one', 'at-most': 12 },
        { name: 'of IPv6', kind: 'table', router: 'one', 'at-most': 3, family: 6 },
      ],
    });
    const one = areasAtAGlance(net.predict()).find((a) => a.id === 1);
    expect(one?.limits).toEqual([{ type: '3', atMost: 6, name: 'few summaries' }]);
    expect(one?.tables).toEqual([{ router: 'one', atMost: 12, name: 'a small table' }]);
    expect(areasAtAGlance(net.predict()).find((a) => a.id === 2)?.tables).toEqual([]);
    // Of OSPFv3 the same number means the whole LS type, as its load is written.
    const six = areasAtAGlance(predictFor(6, documentsFor(6, net.documents()))).find((a) => a.id === 1);
    expect([...new Set(six?.limits.map((l) => l.type))]).toEqual(['0x2003']);
    expect(six?.load.map((l) => l.type)).toContain('0x2003');
  });

  test('both families of the sample campus have the same areas, border routers and reasons', () => {
    const shape = (p: Prediction) =>
      areasAtAGlance(p).map(({ id, kinds, routers, borders, boundaries, pieces, attached }) => ({
        id,
        kinds,
        routers,
        borders,
        boundaries,
        pieces,
        attached,
      }));
    expect(shape(looked(6))).toEqual(shape(looked(4)));
  });
});

describe('two databases side by side', () => {
  test('another area, a stub area alone, a piece of the same area', () => {
    const p = looked(4);
    const between = (a: string, b: string): Set<string> => new Set(compareDatabases(p, speaker(p, a), speaker(p, b)).map((x) => `${x.by} ${x.why}`));
    expect(between('kelp-3', 'drydock-3')).toEqual(
      new Set([
        'first drydock-3 has no part in area 10.',
        'first drydock-3 stands in a stub area alone: no type 5 comes there.',
        'second kelp-3 has no part in area 20.',
      ]),
    );
    expect(between('kelp-3', 'kelp-4')).toEqual(new Set(['both ']));
  });
});

describe('an advertisement field by field', () => {
  const p = looked(4);
  const of = (type: string, by: string) => {
    const held = domainDatabase(p).find((h) => typeText(typeOf(h.lsa)) === type && h.lsa.adv === speaker(p, by).routerId);
    if (!held) throw new Error(type);
    return held;
  };

  test('its fields have the names of the standard, its lines are those of its originator', () => {
    const range = of('3', 'drydock-1');
    const fields = lsaFields(p, range.lsa).map((f) => `${f.name} ${f.value}`.trim());
    expect(fields.slice(0, 3)).toEqual(['type 3 summary, network', expect.stringMatching(/^lsa-id /), 'adv-router 10.96.0.21 drydock-1']);
    expect(fields.some((f) => f.startsWith('network-mask '))).toBe(true);
    expect(fields.some((f) => f.startsWith('metric '))).toBe(true);
    const lan = of('2', 'drydock-1');
    expect(originsOf(p, lan)).toEqual([{ router: 'drydock-1', iface: 'slipway', area: '0.0.0.20', node: 'interface' }]);
    const router = of('1', 'kelp-3');
    expect(originsOf(p, router).map((o) => o.iface)).toEqual(['lo', 'to-kelp-1', 'to-kelp-4', 'library', 'halls']);
    expect(lsaFields(p, router.lsa).filter((f) => /^link \d/.test(f.name))).toHaveLength(router.lsa.type === 1 ? router.lsa.links.length : 0);
    expect(originsOf(p, of('7', 'petrel-4'))).toEqual([{ router: 'petrel-4', area: '0.0.0.40', node: 'redistribution' }]);
  });

  test('the routes that stand on it', () => {
    const range = domainDatabase(p).find(
      (h) => h.area === 10 && h.lsa.type === 3 && h.lsa.adv === speaker(p, 'kelp-1').routerId && saysWhat(p, h.lsa).startsWith('10.97.64.0/18'),
    );
    expect(range && routesOn(p, speaker(p, 'kelp-3'), range)).toEqual(['10.97.64.0/18']);
    expect(range && routesOn(p, speaker(p, 'beacon-1'), range)).toEqual([]);
  });
});

describe('another type of an area', () => {
  const trial = (area: number, kind: Parameters<typeof tryType>[3], p = looked(4)) => tryType(p, clean.documents, area, kind);

  test('totally stubby: the types 3 and 5 go, one default stands in for them; every router of it is told', () => {
    const t = trial(10, 'totally-stubby');
    expect(t.line).toBe('set area-type totally-stubby on area 10');
    expect(t.load.map((l) => `${l.type}:${l.count}`)).toEqual(['1:5', '3:2']);
    expect(t.told).toEqual(['kelp-1', 'kelp-2', 'kelp-3', 'kelp-4', 'kelp-5']);
    expect(t.outOfReach).toEqual([]);
    expect(t.neighborsLost).toBe(0);
    expect(t.routes.lost).toBeGreaterThan(20);
  });

  test('an area whose router brings routes in cannot be a stub area without losing them', () => {
    const t = trial(40, 'stub');
    expect(t.silenced).toEqual(['petrel-4']);
    expect(t.outOfReach.some((r) => r.prefixes.includes('198.51.100.0/26'))).toBe(true);
    expect(trial(40, 'nssa')).toMatchObject({ now: true, edits: [] });
    expect(trial(0, 'stub').refused).toContain('The backbone can be no stub area');
  });

  test('what was tried is what comes of it, in both families', () => {
    for (const family of families) {
      const p = looked(family);
      const t = trial(10, 'totally-nssa', p);
      const after = predict(designFrom(applyEdits(clean.documents, t.edits)).design, [], { family });
      const d = comparePredictions(p, after);
      expect(t.routes).toMatchObject({ lost: d.lost, gained: d.gained, changed: d.changed });
      expect(areasAtAGlance(after).find((a) => a.id === 10)?.load).toEqual(t.load);
      expect(areasAtAGlance(after).find((a) => a.id === 10)?.kinds).toHaveLength(1);
      const other = family === 4 ? 6 : 4;
      const still = predict(designFrom(applyEdits(clean.documents, t.edits)).design, [], { family: other });
      expect(comparePredictions(looked(other), still)).toMatchObject({ lost: 0, gained: 0, changed: 0 });
    }
  });
});

test('random networks of both families: who holds what, how far it goes, and what each area knows agree with each other', () => {
  let compared = 0;
  fc.assert(
    fc.property(richPlans, fc.constantFrom(...families), (plan, family) => {
      const documents: readonly SourceDocument[] = documentsFor(family, richCampusOf(plan).campus.documents());
      if (!hasFamily(designFrom(documents).design, family)) return;
      const p = predictFor(family, documents);
      const { speakers } = p.adjacencies;
      const holds = new Map(speakers.map((s) => [s, new Set(databaseOf(p, s).map(heldKey))]));
      for (const held of domainDatabase(p)) {
        const key = heldKey(held);
        const { holders, stops } = floodingReach(p, held);
        expect(holders).toEqual(speakers.filter((s) => holds.get(s)?.has(key)).map((s) => s.router.name));
        expect(stops.filter((s) => s.area !== undefined).every((s) => holders.includes(s.router) && s.why !== '')).toBe(true);
      }
      // What stands in a router's table as such is told in one of its areas as such.
      const [first, second] = speakers;
      for (const s of speakers.slice(0, 3))
        for (const r of [...p.routing.tableOnce(s).values()].slice(0, 12)) {
          const known = prefixForms(p, r).filter((a) => a.routers.includes(s.router.name));
          expect([formatPrefix(r), known.some((a) => a.forms.some((f) => f.as === 'itself'))]).toEqual([formatPrefix(r), true]);
        }
      if (!first || !second) return;
      const two = compareDatabases(p, first, second);
      compared += two.length;
      const count = (by: string): number => two.filter((x) => x.by === by).length;
      expect(count('both') + count('first')).toBe(databaseOf(p, first).length);
      expect(count('both') + count('second')).toBe(databaseOf(p, second).length);
      expect(two.every((x) => (x.by === 'both') === (x.why === ''))).toBe(true);
    }),
    { numRuns: 80, seed: 20_261_201, endOnFailure: true },
  );
  expect(compared).toBeGreaterThan(500);
});

test('a line of quick entry and the trial say the same', () => {
  const p = looked(4);
  expect(tryType(p, clean.documents, 20, 'normal').title).toBe(readEntry('set area-type normal on area 20', clean.documents).plan?.title);
});

test('another type in one family leaves the other as it is; in both it is the same there', () => {
  const { documents } = clean;
  const trial = tryType(looked(4), documents, 20, 'totally-stubby');
  const kindsAfter = (edits: readonly Edit[]): string[] =>
    families.map((family) => {
      const p = predict(designFrom(applyEdits(documents, edits)).design, [], { family });
      return (
        areasAtAGlance(p)
          .find((a) => a.id === 20)
          ?.kinds.map((k) => k.kind)
          .join() ?? ''
      );
    });
  expect(kindsAfter(trial.edits)).toEqual(['totally-stubby', 'stub']);
  expect(kindsAfter(trial.both ?? [])).toEqual(['totally-stubby', 'totally-stubby']);
  const there = tryType(looked(6), documents, 20, 'totally-stubby');
  expect(there.line).toBe('v3 set area-type totally-stubby on area 20');
  expect(kindsAfter(there.both ?? [])).toEqual(['totally-stubby', 'totally-stubby']);
  // A design of one family has no other to do it in.
  const net = three();
  expect(tryType(net.predict(), net.documents(), 2, 'nssa').both).toBeUndefined();
});
