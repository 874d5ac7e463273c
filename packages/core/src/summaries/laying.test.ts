import { readLines } from '../entry/lines';
import { applyEdits } from '../design/edit';
import { prefixNumber } from '../documents/leaf-types';
import { designFrom } from '../formats/read-set';
import { formatPrefix, type Prefix } from '../prefix/address';
import { predict } from '../predict';
import { documentsFor, predictFor, prefixFor } from '../testing/mirror';
import { borders } from '../testing/finding-cases';
import { agree, asItStands, layingLines, writersOf, type Laid, type Scope } from './laying';

const prefix = (text: string): Prefix => prefixNumber.read(text) ?? { bits: 0, length: 0 };
const laid = (text: string, cost?: number, hidden = false): Laid => ({ prefix: prefix(text), cost, hidden });
const words = (list: readonly Laid[]): string[] => list.map((l) => `${formatPrefix(l.prefix)} ${l.cost ?? 'follows'}${l.hidden ? ' hidden' : ''}`);
const area1: Scope = { kind: 'area', area: 1 };

test.each([4, 6] as const)('the lines leave exactly what is laid, on all border routers, IPv%i', (family) => {
  const at = (x: string): string => prefixFor(family, x);
  const c = borders();
  c.area('b', 1, { ranges: { range: [{ prefix: '10.97.0.0/16', cost: 7 }, { prefix: '10.97.2.0/24' }] } });
  const documents = documentsFor(family, c.documents());
  const p = predictFor(family, documents);
  const writers = writersOf(p, area1);
  expect(writers.map((w) => w.router)).toEqual(['b', 'c']);
  expect([agree(writers), words(asItStands(writers))]).toEqual([false, [`${at('10.97.0.0/16')} 7`, `${at('10.97.2.0/24')} follows`]]);
  const wanted = [laid(at('10.97.2.0/24')), laid(at('10.97.0.0/24'), 9), laid(at('10.97.128.0/17'), undefined, true)];
  const lines = layingLines(area1, writers, wanted);
  expect(lines).toEqual([
    `range ${at('10.97.0.0/16')} area 1 off`,
    `range ${at('10.97.2.0/24')} area 1`,
    `range ${at('10.97.0.0/24')} area 1 cost 9`,
    `range ${at('10.97.128.0/17')} area 1 hidden`,
  ]);
  const { edits, faults } = readLines(lines, documents);
  expect(faults).toEqual([]);
  const after = writersOf(predict(designFrom(applyEdits(documents, edits)).design, [], { family }), area1);
  expect(after.map((w) => words(w.laid).sort())).toEqual([words(wanted).sort(), words(wanted).sort()]);
  expect(layingLines(area1, after, wanted)).toEqual([]);
});

test('of what comes out of an NSSA all border routers write the summaries; of others the boundary router alone', () => {
  const c = ['b', 'c', 'd'].reduce((x, r) => x.area(r, 1, { 'area-type': 'nssa-area' }), borders());
  c.ospf('d', { redistribution: [{ source: 'static' }] }).static('d', '198.51.100.0/24', 'blackhole');
  c.ospf('a', { redistribution: [{ source: 'static' }] }).static('a', '203.0.113.0/24', 'blackhole');
  const p = c.predict();
  const of = (router: string): string[] => writersOf(p, { kind: 'outside', router }).map((w) => w.router);
  expect([of('c').sort(), of('a'), of('d')]).toEqual([['b', 'c'], ['a'], ['d']]);
  const scope: Scope = { kind: 'outside', router: 'c' };
  expect(layingLines(scope, writersOf(p, scope), [laid('198.51.0.0/16', 5)])).toEqual(['range 198.51.0.0/16 outside on c b metric 5']);
});
