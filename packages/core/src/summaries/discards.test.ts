import { formatPrefix } from '../prefix/address';
import { borders } from '../testing/finding-cases';
import { discards } from './discards';

test('an address that nobody has ends where its summary is made; a summary whose parts a narrower one takes, one without any, and a hidden one have no such packet', () => {
  const ranges = [{ prefix: '10.97.0.0/16' }, { prefix: '10.97.2.0/24' }, { prefix: '10.99.0.0/16' }, { prefix: '10.97.0.0/24', advertise: false }];
  const found = discards(['b', 'c'].reduce((x, r) => x.area(r, 1, { ranges: { range: ranges } }), borders()).predict());
  expect(found.map((d) => [d.area, formatPrefix(d.summary), d.way.from, d.way.fate])).toEqual([[1, '10.97.2.0/24', 'a', 'dropped']]);
  for (const d of found) expect(d.way.reason).toContain(`summarises ${formatPrefix(d.summary)} and has nothing more exact inside it`);
});
