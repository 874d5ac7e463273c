'use client';

import { pasteOver, copyOut } from '@gentle-compass/core/sheets/cells';
import { sheetNames, type SheetName } from '@gentle-compass/core/sheets/sheet-names';
import type { SheetRow } from '@gentle-compass/core/sheets/sheet';
import { useMemo, useState } from 'react';
import { enterCells, enterLine } from '../model/history';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { openEntry } from '../model/panes';
import type { CellsView, TypedCell } from '../model/view';
import { copyText } from '../parts/copy';
import { useAnswer } from '../parts/use-answer';
import { count } from '../parts/words';
import { workbench } from '../worker/client';
import { Grid, type Typing } from './grid';
import { sortRows, type Sorting } from './sorting';
import { TypingBar } from './typing-bar';

const titles: Record<SheetName, string> = {
  routers: 'Routers',
  interfaces: 'Interfaces',
  links: 'Links',
  plan: 'Address plan',
  statics: 'Static routes',
  families: 'Both families',
};
/** The beginning of the line that adds a row. */
const adding: Record<SheetName, readonly { readonly words: string; readonly line: string }[]> = {
  routers: [{ words: 'Add a router', line: 'router ' }],
  interfaces: [
    { words: 'Add an interface', line: 'interface ' },
    { words: 'Add a LAN', line: 'lan ' },
  ],
  links: [{ words: 'Add a link', line: 'link ' }],
  plan: [{ words: 'Add a pool', line: 'pool ' }],
  statics: [{ words: 'Add a static route', line: 'static ' }],
  families: [],
};

/** The tables of the design in the place of the map: sorted, narrowed, typed over, pasted into and copied out. */
export function TablesPage({ name }: { readonly name: SheetName }) {
  const view = useStore((s) => s.view);
  const sheet = useAnswer(() => workbench().layout.sheet(name), [name, view?.routers, view?.segments]);
  const [text, setText] = useState('');
  const [sorting, setSorting] = useState<Sorting | undefined>(undefined);
  const [typing, setTyping] = useState<Typing | undefined>(undefined);
  const [outcome, setOutcome] = useState<CellsView | undefined>(undefined);
  const columns = useMemo(() => sheet?.columns ?? [], [sheet]);
  const rows = useMemo(() => {
    const t = text.trim().toLowerCase();
    const own = (sheet?.rows ?? []).filter((r) => t === '' || r.cells.some((c) => c.toLowerCase().includes(t)));
    return sortRows(own, columns, sorting);
  }, [sheet, columns, text, sorting]);
  const show = (to: SheetName | undefined): void => {
    setText('');
    setSorting(undefined);
    setOutcome(undefined);
    setTyping(undefined);
    go({ table: to });
  };
  const enter = async (cells: readonly TypedCell[], more: readonly string[] = []): Promise<boolean> => {
    const done = await enterCells(name, cells);
    const faults = [...done.faults, ...more.map((message) => ({ what: '', at: undefined, message, instead: [] }))];
    setOutcome(faults.length > 0 ? { ...done, faults } : undefined);
    return done.faults.length === 0;
  };
  const paste = (pasted: string, at: { row: number; column: number }): void => {
    const { changes, faults } = pasteOver(name, rows, pasted, at, sheet?.rows);
    void enter(
      changes.map((c) => ({ key: c.row.key, column: c.column, value: c.value, at: c.at })),
      faults,
    );
  };
  const both = useStore((s) => (s.view?.families.length ?? 1) > 1);
  const copy = (what: readonly SheetRow[]): void => void copyText(copyOut(name, what));
  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col bg-sheet">
      <h1 className="sr-only">{`Tables: ${titles[name]}`}</h1>
      <header className="flex flex-wrap items-center gap-2 border-b border-rule px-4 py-2">
        <button type="button" className="control" onClick={() => show(undefined)}>
          Back to the map
        </button>
        <div role="group" aria-label="Table" className="flex">
          {sheetNames
            .filter((n) => n !== 'families' || both)
            .map((n) => (
              <button key={n} type="button" className="control -ml-px first:ml-0" aria-pressed={n === name} onClick={() => show(n)}>
                {titles[n]}
              </button>
            ))}
        </div>
        <input
          className="field w-36"
          placeholder="Narrow by any value"
          aria-label="Narrow the table"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <span className="text-ink2">
          {sheet ? (rows.length === sheet.rows.length ? count(rows.length, 'row') : `${rows.length} of ${sheet.rows.length} rows`) : ''}
        </span>
        <span className="ml-auto" />
        {adding[name].map((a) => (
          <button key={a.line} type="button" className="control" onClick={() => openEntry(a.line)}>
            {a.words}
          </button>
        ))}
        <button type="button" className="control" onClick={() => copy(rows)}>
          Copy all
        </button>
      </header>
      {sheet && (
        <Grid
          key={name}
          label={titles[name]}
          columns={columns}
          rows={rows}
          sorting={sorting}
          onSort={setSorting}
          onTyping={setTyping}
          onEnter={(key, column, value) => enter([{ key, column, value }])}
          onClear={(cells) => void enter(cells.map((c) => ({ ...c, value: '' })))}
          onPaste={paste}
          copied={(from, to, across) => copyCells(rows, from, to, across)}
        />
      )}
      <TypingBar
        name={name}
        typing={typing}
        outcome={outcome}
        onInstead={(line) => {
          setOutcome(undefined);
          void enterLine(line, []);
        }}
        onClose={() => setOutcome(undefined)}
      />
    </div>
  );
}

/** Cells of a part of the rows, as a spreadsheet takes them. */
function copyCells(rows: readonly SheetRow[], from: number, to: number, [left, right]: readonly [number, number]): string {
  return rows
    .slice(from, to + 1)
    .map((r) => r.cells.slice(left, right + 1).join('\t'))
    .join('\r\n');
}
