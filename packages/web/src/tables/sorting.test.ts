import { sheetColumns, type SheetRow } from '@gentle-compass/core/sheets/sheet';
import { sortRows } from './sorting';

const columns = sheetColumns.interfaces;
const rows = (column: string, values: readonly string[]): SheetRow[] =>
  values.map((v, n) => ({ key: String(n), router: '', cells: columns.map((c) => (c.id === column ? v : '')), given: [] }));
const sorted = (column: string, values: readonly string[], down = false): string[] =>
  sortRows(rows(column, values), columns, { column, down }).map((r) => r.cells[columns.findIndex((c) => c.id === column)] ?? '');

test.each<[string, string[], string[]]>([
  ['cost', ['100', '20', '', '3'], ['3', '20', '100', '']],
  ['address', ['10.96.10.1/24', '10.96.9.1/24', '', '9.1.1.1/8', '10.96.9.1/23'], ['9.1.1.1/8', '10.96.9.1/23', '10.96.9.1/24', '10.96.10.1/24', '']],
  [
    'address',
    ['2001:db8:10::1/64', '2001:db8:9::1/64', '10.96.9.1/24', '2001:db8:9::1/56', ''],
    ['10.96.9.1/24', '2001:db8:9::1/56', '2001:db8:9::1/64', '2001:db8:10::1/64', ''],
  ],
  ['router', ['kelp-10', 'kelp-9', 'beacon-2'], ['beacon-2', 'kelp-9', 'kelp-10']],
])('%s: numbers by size, addresses by their bits, names with their numbers counted; empty cells last', (column, values, wanted) => {
  expect(sorted(column, values)).toEqual(wanted);
  const full = wanted.filter((v) => v !== '');
  expect(sorted(column, values, true)).toEqual([...full.reverse(), ...wanted.filter((v) => v === '')]);
});

test('without a column, and with one that the table does not have, rows stay as they are', () => {
  const some = rows('cost', ['3', '1']);
  expect(sortRows(some, columns, undefined)).toBe(some);
  expect(sortRows(some, columns, { column: 'colour', down: false })).toBe(some);
});
