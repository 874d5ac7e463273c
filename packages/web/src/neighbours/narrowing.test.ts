import type { Finding } from '@gentle-compass/core/findings/finding';
import type { PairView } from '../model/view';
import { allOfOneKind } from './kinds';
import { fits, ordered, pairTexts } from './narrowing';

const side = (router: string, state = 'full'): PairView['a'] => ({ router, iface: 'x', address: '10.96.0.1/31', state, words: '', cost: 10 });
const pair = (id: string, kind: PairView['kind'], segment: number, more: Partial<PairView> = {}): PairView => ({
  id,
  segment,
  area: '0.0.0.10',
  type: 'broadcast',
  a: side(id.split('~')[0] ?? ''),
  b: side(id.split('~')[1] ?? ''),
  word: kind === 'trouble' ? 'apart' : 'full',
  kind,
  values: null,
  finding: null,
  ...more,
});

test('every word that is typed must be found: router, interface, area by number or name, state', () => {
  const text = pairTexts([pair('auk~crake', 'full', 1)], () => 'Kelp labs').get('auk~crake') ?? '';
  expect(['auk', 'auk/x', 'area 10', 'kelp labs', 'crake full', 'broadcast AUK', ''].map((t) => fits(text, t))).toEqual([
    true,
    true,
    true,
    true,
    true,
    true,
    true,
  ]);
  expect(['dunlin', 'auk exstart', 'area 20'].map((t) => fits(text, t))).toEqual([false, false, false]);
});

test('orders: trouble by its letter, segments with trouble first, and by the routes that hang on it', () => {
  const pairs = [
    pair('a~b', 'full', 3),
    pair('c~d', 'trouble', 2, { finding: 'f1' }),
    pair('e~f', 'full', 2),
    pair('g~h', 'trouble', 1, { finding: 'f2' }),
  ];
  const letters = new Map([
    ['c~d', 'B'],
    ['g~h', 'A'],
  ]);
  const costs = { f1: { 'routes-lost': 3, 'routes-changed': 0, routers: [] }, f2: { 'routes-lost': 0, 'routes-changed': 99, routers: [] } };
  const ids = (o: Parameters<typeof ordered>[1]): string[] => ordered(pairs, o, letters, costs).map((p) => p.id);
  expect(ids('trouble')).toEqual(['g~h', 'c~d', 'a~b', 'e~f']);
  expect(ids('segment')).toEqual(['g~h', 'c~d', 'e~f', 'a~b']);
  expect(ids('cost')).toEqual(['c~d', 'g~h', 'a~b', 'e~f']);
});

const finding = (rule: string, at: string, to: unknown, more: Partial<Finding> = {}): Finding => ({
  id: `${rule}:${at}`,
  rule,
  severity: 'error',
  'caused-by': null,
  where: [],
  message: '',
  evidence: [],
  consequence: { 'routes-lost': 0, 'routes-changed': 0, routers: [] },
  repairs: [{ title: '', router: '', edits: [{ router: 'auk', file: 'auk.json', at: [at], from: 1, to: to as number }] }],
  rfc: '',
  digest: '',
  ...more,
});

test('all of one kind are mended together, but for what follows from another, what is accepted, and where two want one line otherwise', () => {
  const [kind, ...more] = allOfOneKind([finding('mtu', 'x', 9000), finding('mtu', 'y', 9000), finding('passive', 'z', false)]);
  expect(more).toEqual([]);
  expect([kind?.title, kind?.edits.length]).toEqual(['Mend all 2: mtu', 2]);
  expect(allOfOneKind([finding('mtu', 'x', 9000), finding('mtu', 'x', 1500, { id: 'other' })])).toEqual([]);
  expect(allOfOneKind([finding('mtu', 'x', 9000), finding('mtu', 'y', 9000, { 'caused-by': 'mtu:x' })])).toEqual([]);
  expect(allOfOneKind([finding('mtu', 'x', 9000), finding('mtu', 'y', 9000, { accepted: { note: 'so' } })])).toEqual([]);
});
