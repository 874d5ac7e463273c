import type { RouteRow } from '../model/view';
import { holdingOf } from './holding';

const row = (prefix: string, change: RouteRow['change'] = ''): RouteRow => ({
  key: 0,
  prefix,
  type: 'intra-area',
  metric: 1,
  area: '0.0.0.0',
  hops: [],
  change,
  before: '',
  folded: '',
});
const rows = [row('0.0.0.0/0'), row('10.98.0.0/16'), row('10.98.8.0/24'), row('10.98.8.20/32', 'lost'), row('10.99.0.0/16')];

test('a host’s address shows the line that it takes, and those that would take it without that', () => {
  const found = holdingOf(rows, ' 10.98.8.20');
  expect(found?.lines.map((r) => r.prefix)).toEqual(['10.98.8.0/24', '10.98.0.0/16', '0.0.0.0/0']);
  expect(found?.words).toBe('the first line takes 10.98.8.20; 2 more hold it');
  expect(holdingOf(rows, '10.99.1.1')?.words).toBe('the first line takes 10.99.1.1; 1 more holds it');
  expect(holdingOf(rows.slice(1), '192.0.2.1')?.words).toBe('no line holds 192.0.2.1: dropped');
});
test('of IPv6 too', () => {
  const six = [row('::/0'), row('2001:db8:40::/48'), row('2001:db8:40:8::/64'), row('2001:db8:41::/48')];
  expect(holdingOf(six, '2001:db8:40:8::20')?.lines.map((r) => r.prefix)).toEqual(['2001:db8:40:8::/64', '2001:db8:40::/48', '::/0']);
  expect(holdingOf(six.slice(1), '2001:db8:42::1')?.words).toBe('no line holds 2001:db8:42::1: dropped');
  expect(holdingOf(six, '2001:db8:40')).toBeUndefined();
});
test('what is no whole address narrows as any text does', () => {
  for (const text of ['', '10.98', '10.98.8.0/24', 'kelp']) expect(holdingOf(rows, text)).toBeUndefined();
});
