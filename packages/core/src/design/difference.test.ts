import { recordedDocuments } from '../testing/recorded';
import { readSet } from '../formats/read-set';
import { readEntry } from '../entry/entry';
import { campus } from '../testing/campus';
import { predict } from '../predict';
import { readableWords } from '../testing/table-words';
import { applyEdits } from './edit';
import { designFrom } from '../formats/read-set';
import { designDifference, equal, routerDifference } from './difference';
import type { Design, OspfInterface, Router } from './design';

const two = (): Design => campus().router('a', '10.96.0.1', 0).router('b', '10.96.0.2', 0).cable('a', 'b', '10.96.1.0', 0).read().design;
const router = (d: Design): Router => {
  const [r] = d.routers;
  if (!r) throw new RangeError('no router');
  return r;
};
const withPort = (r: Router, change: Partial<OspfInterface>): Router => ({
  ...r,
  instances: r.instances.map((o) => ({ ...o, areas: o.areas.map((a) => ({ ...a, interfaces: a.interfaces.map((i) => ({ ...i, ...change })) })) })),
});

test('values are told apart whatever they are made of', () => {
  expect(equal({ a: [1, 2n, new Set(['x'])] }, { a: [1, 2n, new Set(['x'])] })).toBe(true);
  expect(equal({ a: 2n ** 100n }, { a: 2n ** 100n + 1n })).toBe(false);
  expect(equal(new Map([['k', [1]]]), new Map([['k', [1]]]))).toBe(true);
  expect(equal(new Map([['k', [1]]]), new Map([['k', [2]]]))).toBe(false);
  expect(equal({ a: undefined }, {})).toBe(false);
  expect(equal([1], [1, 2])).toBe(false);
  expect(equal(new Set([1]), new Set([2]))).toBe(false);
});

test('a cost stays with its router, what was written is only shown, an address reaches everything', () => {
  const r = router(two());
  expect(routerDifference(r, router(two()))).toBe('same');
  expect(routerDifference(r, withPort(r, { cost: 77 }))).toBe('own');
  expect(routerDifference(r, withPort(r, { written: new Set(['cost']) }))).toBe('shown');
  expect(routerDifference(r, withPort(r, { type: 'broadcast' }))).toBe('whole');
  expect(routerDifference(r, { ...r, interfaces: r.interfaces.map((i) => ({ ...i, mtu: 9000 })) })).toBe('own');
  expect(routerDifference(r, { ...r, interfaces: r.interfaces.map((i) => ({ ...i, addresses: [] })) })).toBe('whole');
  expect(routerDifference(r, { ...r, interfaces: r.interfaces.slice(1) })).toBe('whole');
  expect(routerDifference(r, { ...r, routerId: 7 })).toBe('whole');
});

test('the default cost of an NSSA is one of the externals, that of a stub area a summary', () => {
  const r = router(two());
  const typed = (type: 'stub' | 'nssa', defaultCost: number): Router => ({
    ...r,
    instances: r.instances.map((o) => ({ ...o, areas: o.areas.map((a) => ({ ...a, type, defaultCost })) })),
  });
  expect(routerDifference(typed('stub', 1), typed('stub', 2))).toBe('own');
  expect(routerDifference(typed('nssa', 1), typed('nssa', 2))).toBe('whole');
});

test('designs: the routers that are other ones, unless something reaches further', () => {
  const d = two();
  const [a, b] = d.routers;
  if (!a || !b) throw new RangeError('two routers');
  expect(designDifference(d, d)).toEqual({ reach: 'own', routers: [] });
  expect(designDifference(d, { ...d, routers: [a, withPort(b, { cost: 3 })] })).toEqual({ reach: 'own', routers: [1] });
  expect(designDifference(d, { ...d, routers: [a] })).toEqual({ reach: 'whole' });
  expect(designDifference(d, { ...d, topology: { ...d.topology, riskGroups: [{ name: 'duct', members: [] }] } })).toEqual({ reach: 'whole' });
});

test('an edit on a router with IPv6 addresses is predicted like any other', () => {
  const { design, documents } = readSet(recordedDocuments('33-dual-stack'));
  const edits = readEntry('set cost 77 on beacon-1/reef', documents).plan?.edits ?? [];
  expect(edits).not.toEqual([]);
  const edited = designFrom(applyEdits(documents, edits)).design;
  expect(readableWords(predict(design).edited(edited)).sort()).toEqual(readableWords(predict(edited)).sort());
});
