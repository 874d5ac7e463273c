import { applyEdits } from '../design/edit';
import { designFrom } from '../formats/read-set';
import { formatAddress, parseAddress } from '../prefix/address';
import { predict } from '../predict';
import { Forwarding } from '../reach/forwarding';
import { ownSource, sourcesOf } from '../reach/sources';
import { trace } from '../reach/trace';
import { campus, type Campus } from '../testing/campus';
import { documentsFor, six } from '../testing/mirror';
import { mendingReturn } from './return-route';

const ip = (text: string): number => parseAddress(text) ?? 0;

/** a has a lab that OSPF does not tell; h runs no OSPF and leads everything to a; c is far away. */
const base = (): Campus =>
  campus()
    .router('a', '10.96.0.1', 10)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .router('h', '10.96.0.4', null)
    .cable('a', 'b', '10.96.1.0', 10)
    .cable('b', 'c', '10.96.1.2', 0)
    .port('a', 'lab', '10.97.1.1/24', null)
    .port('a', 'to-h', '10.98.1.0/31', null)
    .port('h', 'to-a', '10.98.1.1/31', null)
    .port('h', 'desk', '10.98.2.1/24', null)
    .static('h', '0.0.0.0/0', '10.98.1.0')
    .static('a', '10.98.2.0/24', '10.98.1.1');

const tried = (family: 4 | 6, from: string, to: string): string[] => {
  const documents = documentsFor(family, base().documents());
  const p = predict(designFrom(documents).design, [], { family });
  const steps = mendingReturn(p, documents, ip(from), ip(to));
  let step = steps.next();
  while (!step.done) step = steps.next();
  const mends = step.value;
  for (const m of mends) {
    const after = predict(designFrom(applyEdits(documents, m.edits)).design, [], { family });
    const t = trace(new Forwarding(after), ip(from), ip(to));
    expect([m.title, t.forward.fate, t.return.fate]).toEqual([m.title, 'delivered', 'delivered']);
  }
  return mends.map((m) => m.lines.join('; '));
};

test('a subnet that OSPF does not tell: told there, or brought in, or led back', () => {
  expect(tried(4, '10.97.1.1', '10.96.0.3')).toEqual(['join a/lab area 10 passive', 'bring direct on a']);
  expect(tried(6, six('10.97.1.1'), six('10.96.0.3'))).toEqual(['v3 join a/lab area 10 passive', 'v3 bring direct on a']);
});

test('of a router without OSPF its neighbour tells the others', () => {
  expect(tried(4, '10.98.2.1', '10.96.0.3')).toEqual(['static 10.98.2.0/24 on a via 10.98.1.1; bring static on a']);
});

test('the other router on the subnet tells it where the one that has the address runs no OSPF', () => {
  // h takes its address on the wire to a by itself.
  expect(tried(4, '10.98.1.1', '10.96.0.3')).toEqual(['join a/to-h area 10 passive', 'bring direct on a']);
});

test('one router away a static route is enough; where nothing is missing nothing is offered', () => {
  expect(tried(4, '10.98.1.1', '10.96.0.2')).toContain('static 10.98.1.0/31 on b via 10.96.1.0');
  expect(tried(4, '10.96.0.1', '10.96.0.3')).toEqual([]);
  // The packet itself does not arrive.
  expect(tried(4, '10.96.0.1', '192.0.2.1')).toEqual([]);
});

test('the address that a router takes by itself, and its others with what becomes of the answers', () => {
  const f = new Forwarding(base().predict());
  const of = (router: string, to: string): string => formatAddress(ownSource(f, f.prediction.routerIndex(router), ip(to)) ?? 0);
  expect(of('a', '10.96.0.3')).toBe('10.96.1.0');
  expect(of('a', '10.97.1.50')).toBe('10.97.1.1');
  expect(of('a', '10.96.0.1')).toBe('10.96.0.1');
  expect(of('h', '10.96.0.3')).toBe('10.98.1.1');
  // Nothing leads there: a loopback, where there is one.
  expect(of('a', '192.0.2.1')).toBe('10.96.0.1');
  const told = sourcesOf(f, 0, ip('10.96.0.3')).map((s) => `${s.iface} ${s.chosen ? 'chosen ' : ''}${s.there} ${s.back}`);
  expect(told).toEqual(['lo delivered delivered', 'to-b chosen delivered delivered', 'lab delivered dropped', 'to-h delivered dropped']);
});
