import type { AddressGroup } from '../design/settings';
import { prefixNumber } from '../documents/leaf-types';
import { formatAddress } from '../prefix/address';
import { campus } from '../testing/campus';
import { addressesOf, endFault, groupAddresses } from './ends';

const base = () =>
  campus()
    .router('a-1', '10.96.0.1', 0)
    .router('a-2', '10.96.0.2', 20)
    .router('b-1', '10.96.0.3', null)
    .port('a-1', 'lab', '10.97.1.1/24', 0)
    .port('a-2', 'lab', '10.97.1.128/24', 0)
    .port('a-1', 'wire', '10.97.2.0/31', 0)
    .port('a-2', 'wire', '10.97.2.1/31', 0)
    .port('a-1', 'pair', '10.97.2.5/30', 0)
    .port('a-2', 'pair', '10.97.2.6/30', 0)
    .port('b-1', 'tight', '10.97.2.9/29', null);

const members = (...list: AddressGroup['members']): string[] =>
  groupAddresses(base().predict().design, { name: 'g', file: '', at: [], members: list }).map(formatAddress);
const prefix = (text: string) => ({ kind: 'prefix' as const, prefix: prefixNumber.read(text) ?? { bits: 0, length: 0 } });

test.each<[string, AddressGroup['members'][number], string[]]>([
  ['a subnet stands for a host that no router has', prefix('10.97.1.0/24'), ['10.97.1.129']],
  ['a part of it too, by its first host', prefix('10.97.1.64/26'), ['10.97.1.65']],
  ['where all are given out, for one of its routers', prefix('10.97.2.4/30'), ['10.97.2.5']],
  ['a cable for one of its ends', prefix('10.97.2.0/31'), ['10.97.2.0']],
  [
    'a wide one for each subnet and loopback in it',
    prefix('10.96.0.0/15'),
    ['10.96.0.1', '10.96.0.2', '10.97.1.129', '10.97.2.0', '10.97.2.5', '10.97.2.12'],
  ],
  ['one of which the design has nothing for its first host', prefix('198.51.100.0/24'), ['198.51.100.1']],
  ['of the other family it stands for nothing', prefix('2001:db8::/64'), []],
  ['routers by a part of their names', { kind: 'routers', pattern: 'a-*' }, ['10.96.0.1', '10.96.0.2']],
  ['an area stands for its routers', { kind: 'area', area: 20 }, ['10.96.0.2']],
])('%s', (_, member, addresses) => {
  expect(members(member)).toEqual(addresses);
});

test('what a router keeps to itself is nobody’s goal', () => {
  const p = campus()
    .router('a', '10.96.0.1', 0)
    .port('a', 'self', '127.0.0.1/8', null, { iface: { type: 'softwareLoopback' } })
    .predict();
  expect(p.design.routers[0]?.interfaces.map((i) => i.kind)).toEqual(['loopback', 'loopback']);
  expect(addressesOf(p.design, 'a').map(formatAddress)).toEqual(['10.96.0.1']);
});

test('each address stands once; a name is a group before it is a router; what stands for nothing is told', () => {
  const p = base()
    .settings({
      group: [
        { name: 'all', members: ['a-*', '10.96.0.1'] },
        { name: 'none', members: ['2001:db8::1'] },
      ],
    })
    .predict();
  expect(addressesOf(p.design, 'all').map(formatAddress)).toEqual(['10.96.0.1', '10.96.0.2']);
  expect(addressesOf(p.design, 'a-2').map(formatAddress)).toEqual(['10.96.0.2']);
  expect(endFault(p.design, 'none')).toBe('nothing of IPv4 belongs to the group “none”');
  expect(endFault(p.design, 'b-1')).toBe('b-1 has no loopback with an IPv4 address');
  expect(endFault(p.design, 'x')).toBe('there is no router and no group “x” in this design');
  expect(endFault(p.design, 'all')).toBeUndefined();
});
