import type { LeafType, ReadProblem } from '../documents/cursor';
import type { Demand } from '../design/settings';
import { isSix } from '../prefix/address';
import { csvRows } from './csv-rows';
import { end, mbpsNumber } from './read-settings';

const columns = ['from', 'to', 'mbps'] as const;
const note = 'note';

/** A number out of a cell. */
const mbpsCell: LeafType<number> = { read: (x) => mbpsNumber.read(String(x)), expected: mbpsNumber.expected };

/**
 * Traffic from a table with the columns `from`, `to` and `mbps` (RFC 4180): ends as in expectations, an address or a name.
 * What is wrong is told with its row and column; the other rows are taken.
 */
export function readDemands(file: string, text: string): { readonly demands: readonly Demand[]; readonly problems: readonly ReadProblem[] } {
  const problems: ReadProblem[] = [];
  const { header, rows } = csvRows(file, text, problems);
  const missing = columns.filter((c) => !header.includes(c));
  if (missing.length > 0) {
    problems.push({
      severity: 'error',
      file,
      path: 'row 1',
      line: 1,
      message: `This table has no column ${missing.map((c) => `"${c}"`).join(' and no ')}.`,
      remedy: 'Demands have the columns "from", "to" and "mbps".',
    });
    return { demands: [], problems };
  }
  for (const h of header)
    if (h !== '' && h !== note && !columns.some((c) => c === h))
      problems.push({
        severity: 'note',
        file,
        path: `row 1, column ${h}`,
        line: 1,
        message: `The column "${h}" is not used.`,
        remedy: 'Nothing is to be done.',
      });
  const demands = rows.flatMap((row, n): Demand[] => {
    const [from, to, mbps] = [row.need('from', end), row.need('to', end), row.need('mbps', mbpsCell)];
    if (from === undefined || to === undefined || mbps === undefined) return [];
    if (typeof from === 'number' && typeof to === 'number' && isSix(from) !== isSix(to)) {
      row.tell('to', 'The two addresses are of two families.', 'Write two addresses of one family; until then the row is left out.');
      return [];
    }
    return [{ file, at: [n], from, to, mbps }];
  });
  return { demands, problems };
}
