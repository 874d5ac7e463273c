import { readEntry } from '../entry/entry';
import { applyEdits } from '../design/edit';
import { sample, withoutSix } from '../testing/sample';
import type { SourceDocument } from '../documents/documents';
import { documentChanges } from './document-changes';

const first = sample('saltmarsh-point').documents;
const after = (line: string): readonly SourceDocument[] => applyEdits(first, readEntry(line, first).plan?.edits ?? []);

test('a changed leaf is one line, with the entries on its way by their keys', () => {
  expect(documentChanges(first, after('set cost 77 on kelp-1/to-kelp-3'))).toEqual([
    {
      router: 'kelp-1',
      file: 'kelp-1.json',
      path: 'routing/control-plane-protocols/control-plane-protocol[campus]/ospf/areas/area[0.0.0.10]/interfaces/interface[to-kelp-3]/cost',
      from: '20',
      to: '77',
    },
  ]);
});

test('a link is told at both routers; a router that came or went, whole', () => {
  const linked = documentChanges(first, after('link kelp-1 kelp-2'));
  expect(linked.map((c) => `${c.router} ${c.path.split('/').at(-1) ?? ''}`)).toEqual([
    // The interface, and its place in OSPFv2 and in OSPFv3.
    ...Array<string>(3).fill('kelp-1 interface[to-kelp-2]'),
    ...Array<string>(3).fill('kelp-2 interface[to-kelp-1]'),
  ]);
  expect(documentChanges(first, after('router dulse-1')).map((c) => [c.router, c.from, c.to])).toEqual([
    ['dulse-1', undefined, 'the whole document'],
  ]);
  expect(documentChanges(after('router dulse-1'), first).map((c) => [c.router, c.from, c.to])).toEqual([
    ['dulse-1', 'the whole document', undefined],
  ]);
});

test('a renamed router is the same one with another name; keys are told apart and never shown', () => {
  expect(documentChanges(first, after('rename kelp-5 as dulse-1')).map((c) => [c.from, c.to])).toEqual([['kelp-5', 'dulse-1']]);
  const keyed = (key: string): SourceDocument[] => [{ file: 'a.json', tree: { authentication: { 'ospfv2-key': key } } }];
  expect(documentChanges(keyed('low tide'), keyed('low tide'))).toEqual([]);
  const told = documentChanges(keyed('low tide'), keyed('high tide'));
  expect(told).toHaveLength(1);
  expect(JSON.stringify(told)).not.toContain('tide');
});

test('an address that moved is one line; an area that came tells its interfaces one by one', () => {
  const last = (line: string): string[] =>
    documentChanges(first, after(line)).map((c) => `${c.path.split('/ospf/').at(-1) ?? ''}: ${c.from ?? ''} > ${c.to ?? ''}`);
  expect(last('renumber beacon-1/to-beacon-2 as 10.111.0.6/31').filter((l) => l.includes('ip:'))).toEqual([
    'interfaces/interface[to-beacon-2]/ipv4/address/ip: 10.96.128.0 > 10.111.0.6',
    'interfaces/interface[to-beacon-1]/ipv4/address/ip: 10.96.128.1 > 10.111.0.7',
  ]);
  const moved = documentChanges(first, after('join kelp-3/halls area 77')).filter((c) => c.path.includes('0.0.0.77'));
  expect(moved.map((c) => [c.path.split('/ospf/').at(-1), c.to])).toEqual([
    ['areas/area[0.0.0.77]', 'area-id 0.0.0.77'],
    ['areas/area[0.0.0.77]/interfaces/interface[halls]', 'name halls, passive true, cost 10'],
  ]);
});

test('IPv6 given to a router: its addresses are whole, and its process of version 3 stands beside that of version 2', () => {
  const four = withoutSix(first);
  const both = applyEdits(four, readEntry('ipv6 2001:db8:40::/48', four).plan?.edits ?? []);
  const lines = documentChanges(four, both).filter((l) => l.router === 'beacon-1');
  expect(lines.find((l) => l.path.endsWith('interface[lo]/ipv6'))?.to).toBe('address/ip 2001:db8:40::1, address/prefix-length 128');
  expect(lines.filter((l) => l.from !== undefined)).toEqual([]);
  expect(lines.some((l) => l.path.includes('control-plane-protocol[campus, OSPFv3]'))).toBe(true);
});
