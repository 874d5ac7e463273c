import { parseIpv4 } from '@gentle-compass/core/prefix/ipv4';
import type { SheetColumn, SheetRow } from '@gentle-compass/core/sheets/sheet';

export interface Sorting {
  readonly column: string;
  readonly down: boolean;
}

/** An address or prefix as a number to sort by; `undefined` when a text is neither. */
function addressRank(text: string): number | undefined {
  const [address = '', length = '32'] = text.split(/[/ ]/);
  const bits = parseIpv4(address);
  return bits === undefined ? undefined : bits * 64 + Number(length);
}

/** Rows in the order of a column: numbers by size, addresses by their bits, names with their numbers counted; empty cells last. */
export function sortRows(rows: readonly SheetRow[], columns: readonly SheetColumn[], sorting: Sorting | undefined): readonly SheetRow[] {
  const n = columns.findIndex((c) => c.id === sorting?.column);
  const column = columns[n];
  if (!column || !sorting) return rows;
  const words = new Intl.Collator('en', { numeric: true });
  const compare = (a: string, b: string): number => {
    if (column.kind === 'number') return Number(a) - Number(b);
    if (column.kind === 'address') {
      const [x, y] = [addressRank(a), addressRank(b)];
      if (x !== undefined && y !== undefined) return x - y;
    }
    return words.compare(a, b);
  };
  return [...rows].sort((a, b) => {
    const [x, y] = [a.cells[n] ?? '', b.cells[n] ?? ''];
    if (x === '' || y === '') return x === y ? 0 : x === '' ? 1 : -1;
    return compare(x, y) * (sorting.down ? -1 : 1);
  });
}
