import { compareAddresses, hostLength, parseAddress, type Address } from '@gentle-compass/core/prefix/address';
import type { SheetColumn, SheetRow } from '@gentle-compass/core/sheets/sheet';

export interface Sorting {
  readonly column: string;
  readonly down: boolean;
}

/** An address or prefix of either family, to sort by; `undefined` when a text is neither. */
function placeOf(text: string): { readonly address: Address; readonly length: number } | undefined {
  const [written = '', length] = text.split(/[/ ]/);
  const address = parseAddress(written);
  return address === undefined ? undefined : { address, length: length === undefined ? hostLength(address) : Number(length) };
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
      const [x, y] = [placeOf(a), placeOf(b)];
      if (x && y) return compareAddresses(x.address, y.address) || x.length - y.length;
    }
    return words.compare(a, b);
  };
  return [...rows].sort((a, b) => {
    const [x, y] = [a.cells[n] ?? '', b.cells[n] ?? ''];
    if (x === '' || y === '') return x === y ? 0 : x === '' ? 1 : -1;
    return compare(x, y) * (sorting.down ? -1 : 1);
  });
}
