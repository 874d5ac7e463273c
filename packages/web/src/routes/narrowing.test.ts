import { narrowing } from './narrowing';

const rows = ['0.0.0.0/0', '10.97.0.0/16', '10.97.8.0/24', '10.97.8.20/32', '10.98.0.0/16', '2001:db8:40::/48'].map((prefix, n) => ({
  prefix,
  words: n % 2 === 0 ? 'intra-area kelp-1' : 'inter-area kelp-2',
}));
const kept = (text: string): string[] => rows.filter(narrowing(text, (r) => `${r.prefix} ${r.words}`)).map((r) => r.prefix);

test('a prefix keeps what lies in it and what holds it; a word before it keeps one of the two', () => {
  expect(kept('10.97.8.0/24')).toEqual(['0.0.0.0/0', '10.97.0.0/16', '10.97.8.0/24', '10.97.8.20/32']);
  expect(kept('inside 10.97.8.0/24')).toEqual(['10.97.8.0/24', '10.97.8.20/32']);
  expect(kept('holding 10.97.8.0/24')).toEqual(['0.0.0.0/0', '10.97.0.0/16', '10.97.8.0/24']);
  expect(kept('inside 2001:db8::/32')).toEqual(['2001:db8:40::/48']);
});
test('every other word must stand somewhere in the line', () => {
  expect(kept('kelp-1 intra')).toEqual(['0.0.0.0/0', '10.97.8.0/24', '10.98.0.0/16']);
  expect(kept('inside 10.97.0.0/16 KELP-2')).toEqual(['10.97.0.0/16', '10.97.8.20/32']);
  expect(kept('10.97')).toEqual(['10.97.0.0/16', '10.97.8.0/24', '10.97.8.20/32']);
  expect(kept('inside')).toHaveLength(6);
  expect(kept('')).toHaveLength(6);
});
