'use client';

import type { ReactNode } from 'react';
import { RovingList } from './roving-list';

const rowHeight = 26;
const headHeight = 30;

/** A column of a long table. */
export interface LineColumn {
  readonly name: string;
  /** As a track of the grid: `56px`, `minmax(0,1fr)`. */
  readonly width: string;
  /** Numbers stand right, in figures of one width; codes in figures of one width; quiet words stand back. */
  readonly kind?: 'number' | 'code' | 'quiet';
}

const cellLook = { number: 'text-right font-mono text-[12.5px]', code: 'font-mono text-[12.5px]', quiet: 'text-ink2', words: '' } as const;

/** A table of any length, of which one line is chosen: by a click, by Enter, or by walking over it with the arrow keys. */
export function LineTable<T>({
  label,
  columns,
  rows,
  keyOf,
  cells,
  at,
  onChoose,
  nothing,
  grows = true,
}: {
  readonly label: string;
  readonly columns: readonly LineColumn[];
  readonly rows: readonly T[];
  readonly keyOf: (row: T) => string;
  /** What stands in a line, column by column; what is cut is shown whole by its title. */
  readonly cells: (row: T) => readonly (ReactNode | { readonly shown: ReactNode; readonly title: string })[];
  /** Place of the chosen line; -1: none. */
  readonly at: number;
  readonly onChoose: (row: T) => void;
  /** In the place of lines, when there are none. */
  readonly nothing?: string | undefined;
  /** It takes the room that is left; else as much as its lines take, up to about half of what is there. */
  readonly grows?: boolean;
}) {
  const grid = { gridTemplateColumns: columns.map((c) => c.width).join(' ') };
  const choose = (n: number): void => {
    const row = rows[n];
    if (row !== undefined) onChoose(row);
  };
  return (
    <div
      role="table"
      aria-label={label}
      aria-rowcount={rows.length + 1}
      className={`flex flex-col rounded border border-rule bg-sheet ${grows ? 'min-h-0 flex-1' : 'max-h-[46%] shrink-0'}`}
      style={grows ? undefined : { height: headHeight + (rows.length === 0 ? 38 : Math.min(rows.length, 400) * rowHeight) }}
    >
      <div role="row" className="grid gap-3 border-b border-rule px-3 py-1 text-ink2" style={grid}>
        {columns.map((c) => (
          <span key={c.name} role="columnheader" className={c.kind === 'number' ? 'text-right' : ''}>
            {c.name}
          </span>
        ))}
      </div>
      {rows.length === 0 && nothing !== undefined && <p className="p-3 text-ink2">{nothing}</p>}
      <RovingList
        count={rows.length}
        rowHeight={rowHeight}
        at={at}
        onMove={choose}
        box={{ role: 'rowgroup', className: 'min-h-0 flex-1 overflow-y-auto' }}
        inner={{ as: 'div', role: 'presentation' }}
        row={(index, top, focus) => {
          const row = rows[index];
          if (row === undefined) return null;
          const chosen = index === at;
          return (
            <div
              key={keyOf(row)}
              role="row"
              aria-rowindex={index + 2}
              aria-selected={chosen}
              {...focus}
              className={`absolute left-0 grid w-full cursor-pointer items-center gap-3 border-b border-fine px-3 ${chosen ? 'bg-paper font-semibold' : 'hover:bg-paper'}`}
              style={{ ...grid, height: rowHeight, transform: `translateY(${top}px)` }}
              onClick={() => choose(index)}
              onKeyDown={(e) => {
                if (e.key === 'Enter') choose(index);
              }}
            >
              {cells(row).map((cell, n) => {
                const titled = typeof cell === 'object' && cell !== null && 'shown' in cell ? cell : undefined;
                return (
                  <span key={columns[n]?.name ?? n} role="cell" className={`truncate ${cellLook[columns[n]?.kind ?? 'words']}`} title={titled?.title}>
                    {titled ? titled.shown : (cell as ReactNode)}
                  </span>
                );
              })}
            </div>
          );
        }}
      />
    </div>
  );
}
