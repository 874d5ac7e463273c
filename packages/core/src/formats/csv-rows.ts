import Papa from 'papaparse';
import type { LeafType, ReadProblem } from '../documents/cursor';

/** One row of a table: each cell by the name of its column; a wrong one is told and left out. */
export class Row {
  constructor(
    private readonly file: string,
    private readonly line: number,
    private readonly cells: ReadonlyMap<string, { readonly text: string; readonly column: number }>,
    private readonly problems: ReadProblem[],
  ) {}

  /** The value of a cell; `undefined` when it is empty or wrong. */
  read<T>(column: string, type: LeafType<T>): T | undefined {
    const cell = this.cells.get(column);
    if (!cell || cell.text === '') return undefined;
    const value = type.read(cell.text);
    if (value === undefined) this.tell(column, `"${cell.text}" is not ${type.expected}.`, 'Correct the cell; until then it counts as empty.');
    return value;
  }

  /** The same of a cell that must not be empty. */
  need<T>(column: string, type: LeafType<T>): T | undefined {
    const value = this.read(column, type);
    if (value === undefined && (this.cells.get(column)?.text ?? '') === '')
      this.tell(column, `The cell "${column}" is empty.`, 'Fill it in; until then the row is left out.');
    return value;
  }

  tell(column: string, message: string, remedy: string): void {
    const at = this.cells.get(column)?.column ?? 1;
    this.problems.push({
      severity: 'error',
      file: this.file,
      path: `row ${this.line}, column ${column}`,
      line: this.line,
      column: at,
      message,
      remedy,
    });
  }
}

/** The header of a table, its names in small letters with hyphens, and its rows (RFC 4180; semicolons and tabs do as well). Quotes that are never closed are told. */
export function csvRows(file: string, text: string, problems: ReadProblem[]): { readonly header: readonly string[]; readonly rows: readonly Row[] } {
  const parsed = Papa.parse<string[]>(text.replace(/^\ufeff/, ''), { skipEmptyLines: false, delimitersToGuess: [',', ';', '\t'] });
  for (const e of parsed.errors.filter((x) => x.type === 'Quotes'))
    problems.push({
      severity: 'error',
      file,
      path: `row ${(e.row ?? 0) + 1}`,
      line: (e.row ?? 0) + 1,
      message: `${e.message}.`,
      remedy: 'Close the quote, or double a quote inside of one.',
    });
  const header = (parsed.data[0] ?? []).map((h) => h.trim().toLowerCase().replace(/[ _]+/g, '-'));
  const rows = parsed.data.slice(1).flatMap((cells, n): Row[] => {
    if (cells.every((c) => c.trim() === '')) return [];
    // An apostrophe before a formula is a spreadsheet's, not the value's.
    const by = new Map(header.map((h, i) => [h, { text: (cells[i] ?? '').trim().replace(/^'(?=[=+\-@])/, ''), column: i + 1 }]));
    return [new Row(file, n + 2, by, problems)];
  });
  return { header, rows };
}
