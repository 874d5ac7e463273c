import type { SourceDocument } from '@gentle-compass/core/documents/documents';
import { readLines } from '@gentle-compass/core/entry/lines';
import type { Prediction } from '@gentle-compass/core/predict';
import { cellWish } from '@gentle-compass/core/sheets/cells';
import { sheetColumns, sheetOf, type SheetName } from '@gentle-compass/core/sheets/sheet';
import type { CellsView, TypedCell } from '../model/view';

const words: Record<SheetName, string> = {
  routers: 'routers',
  interfaces: 'interfaces',
  links: 'links',
  plan: 'the address plan',
  statics: 'static routes',
  families: 'both families',
};

/** What typing values into cells of a sheet would do together; each that cannot be is told by its place. Nothing is changed. */
export function cellsView(name: SheetName, cells: readonly TypedCell[], p: Prediction, documents: readonly SourceDocument[]): CellsView {
  const rows = new Map(sheetOf(name, p).rows.map((r) => [r.key, r]));
  const faults: { cell: TypedCell; message: string; instead: CellsView['faults'][number]['instead'] }[] = [];
  const lines: string[] = [];
  const cellOf: TypedCell[] = [];
  for (const cell of cells) {
    const row = rows.get(cell.key);
    const wish = row ? cellWish(name, p, row, cell.column, cell.value) : { refused: 'This row is no longer there.' };
    if ('refused' in wish) faults.push({ cell, message: wish.refused, instead: [] });
    else
      for (const line of wish.lines) {
        lines.push(line);
        cellOf.push(cell);
      }
  }
  const read = readLines(lines, documents);
  for (const f of read.faults) {
    const cell = cellOf[f.n];
    if (cell && !faults.some((x) => x.cell === cell)) faults.push({ cell, message: f.message, instead: f.instead });
  }
  const done = read.titles.length;
  const what = (c: TypedCell): string => `${c.key}, ${sheetColumns[name].find((x) => x.id === c.column)?.name ?? c.column}`;
  return {
    title: done === 0 ? '' : cells.length === 1 ? (read.titles[0] ?? '') : `${cells.length - faults.length} cells of ${words[name]}`,
    notes: [...new Set(read.notes)],
    edits: read.edits,
    faults: faults.map(({ cell, ...rest }) => ({ ...rest, what: what(cell), at: cell.at })),
  };
}
