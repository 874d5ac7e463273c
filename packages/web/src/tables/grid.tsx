'use client';

import { useVirtualizer } from '@tanstack/react-virtual';
import type { SheetColumn, SheetRow } from '@gentle-compass/core/sheets/sheet';
import { useEffect, useMemo, useRef, useState, type ClipboardEvent, type KeyboardEvent } from 'react';
import type { Sorting } from './sorting';

/** A cell while it is typed over. */
export interface Typing {
  readonly key: string;
  readonly column: string;
  readonly value: string;
  readonly before: string;
}
interface Place {
  readonly row: number;
  readonly column: number;
}

interface Props {
  readonly label: string;
  readonly columns: readonly SheetColumn[];
  readonly rows: readonly SheetRow[];
  readonly sorting: Sorting | undefined;
  readonly onSort: (s: Sorting | undefined) => void;
  readonly onTyping: (t: Typing | undefined) => void;
  /** Puts a value into a cell; false when it cannot stand there. */
  readonly onEnter: (key: string, column: string, value: string) => Promise<boolean>;
  readonly onClear: (cells: readonly { key: string; column: string }[]) => void;
  readonly onPaste: (text: string, at: Place) => void;
  readonly copied: (from: number, to: number, columns: readonly [number, number]) => string;
}

const rowHeight = 26;
const clamp = (x: number, least: number, most: number): number => Math.max(least, Math.min(most, x));

/** Widths that hold what most cells have, in pixels. */
function widthsOf(columns: readonly SheetColumn[], rows: readonly SheetRow[]): number[] {
  return columns.map((c, n) => {
    // A row that leads others is set bold.
    const longest = rows.slice(0, 400).reduce((most, r) => Math.max(most, (r.cells[n]?.length ?? 0) * (r.leads && c.kind === 'text' ? 1.4 : 1)), 0);
    return clamp(Math.max(longest * (c.kind === 'text' ? 6.3 : 7.6), (c.name.length + 1) * 6.2) + 18, 50, 270);
  });
}

/** A table worked like a sheet: arrows move, typing writes over, Enter and Tab go on, Shift marks, copy and paste by cells. */
export function Grid({ label, columns, rows, sorting, onSort, onTyping, onEnter, onClear, onPaste, copied }: Props) {
  const tells = columns.some((c) => c.loud);
  const [at, setAt] = useState<Place>({ row: 0, column: 0 });
  const [mark, setMark] = useState<Place | undefined>(undefined);
  const [text, setText] = useState<string | undefined>(undefined);
  const box = useRef<HTMLDivElement>(null);
  const field = useRef<HTMLInputElement | HTMLSelectElement>(null);
  const wanted = useRef(false);
  const widths = useMemo(() => widthsOf(columns, rows), [columns, rows]);
  const lefts = useMemo(() => widths.map((_, n) => widths.slice(0, n).reduce((a, b) => a + b, 0)), [widths]);
  // eslint-disable-next-line react-hooks/incompatible-library -- the list is not memoised on purpose
  const list = useVirtualizer({ count: rows.length, getScrollElement: () => box.current, estimateSize: () => rowHeight, overscan: 10 });
  const here = { row: clamp(at.row, 0, Math.max(0, rows.length - 1)), column: clamp(at.column, 0, columns.length - 1) };
  const [top, bottom] = mark ? [Math.min(here.row, mark.row), Math.max(here.row, mark.row)] : [here.row, here.row];
  const [left, right] = mark ? [Math.min(here.column, mark.column), Math.max(here.column, mark.column)] : [here.column, here.column];
  const cellAt = (p: Place): { row: SheetRow; column: SheetColumn; value: string } | undefined => {
    const [row, column] = [rows[p.row], columns[p.column]];
    return row && column ? { row, column, value: row.cells[p.column] ?? '' } : undefined;
  };
  useEffect(() => {
    if (!wanted.current) return;
    const to = text === undefined ? box.current?.querySelector<HTMLElement>(`[data-cell="${here.row} ${here.column}"]`) : field.current;
    // A cell far off is drawn once the list has come there: the wish stands until then.
    if (!to) return;
    wanted.current = false;
    to.focus();
  });
  const moveTo = (p: Place, marking = false): void => {
    const to = { row: clamp(p.row, 0, rows.length - 1), column: clamp(p.column, 0, columns.length - 1) };
    setMark(marking ? (mark ?? here) : undefined);
    setAt(to);
    list.scrollToIndex(to.row);
    const [x, w] = [lefts[to.column] ?? 0, widths[to.column] ?? 0];
    const el = box.current;
    if (el && x < el.scrollLeft) el.scrollLeft = x;
    else if (el && x + w > el.scrollLeft + el.clientWidth) el.scrollLeft = x + w - el.clientWidth;
    wanted.current = true;
  };
  const begin = (value: string | undefined): void => {
    const c = cellAt(here);
    if (!c?.column.typed) return;
    const start = value ?? c.value;
    setText(start);
    onTyping({ key: c.row.key, column: c.column.id, value: start, before: c.value });
    wanted.current = true;
  };
  const change = (value: string): void => {
    const c = cellAt(here);
    setText(value);
    if (c) onTyping({ key: c.row.key, column: c.column.id, value, before: c.value });
  };
  const leave = (): void => {
    setText(undefined);
    onTyping(undefined);
    wanted.current = true;
  };
  const commit = async (value: string, to: Place): Promise<void> => {
    const c = cellAt(here);
    if (c && value.trim() !== c.value && !(await onEnter(c.row.key, c.column.id, value))) {
      // It stays to be corrected.
      wanted.current = true;
      setText(value);
      return;
    }
    leave();
    moveTo(to);
  };
  const onKey = (e: KeyboardEvent): void => {
    if (text !== undefined) {
      if (e.key === 'Enter') void commit(text, { ...here, row: here.row + (e.shiftKey ? -1 : 1) });
      else if (e.key === 'Tab') void commit(text, { ...here, column: here.column + (e.shiftKey ? -1 : 1) });
      else if (e.key === 'Escape') leave();
      else return;
      e.preventDefault();
      e.stopPropagation();
      return;
    }
    if (e.ctrlKey || e.metaKey) {
      if (e.key === 'Home') moveTo({ row: 0, column: 0 });
      else if (e.key === 'End') moveTo({ row: rows.length - 1, column: columns.length - 1 });
      else if (e.key === 'a') {
        setMark({ row: 0, column: 0 });
        setAt({ row: rows.length - 1, column: columns.length - 1 });
        wanted.current = true;
      } else return;
      e.preventDefault();
      return;
    }
    const step = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0], PageUp: [-20, 0], PageDown: [20, 0] }[e.key];
    if (step) moveTo({ row: here.row + (step[0] ?? 0), column: here.column + (step[1] ?? 0) }, e.shiftKey);
    else if (e.key === 'Home') moveTo({ row: here.row, column: 0 });
    else if (e.key === 'End') moveTo({ row: here.row, column: columns.length - 1 });
    else if (e.key === 'Enter' || e.key === 'F2') begin(undefined);
    else if (e.key === 'Delete' || e.key === 'Backspace')
      onClear(
        rows.slice(top, bottom + 1).flatMap((r) => columns.slice(left, right + 1).flatMap((c) => (c.typed ? [{ key: r.key, column: c.id }] : []))),
      );
    else if (e.key.length === 1 && !e.altKey && e.key !== ' ' && cellAt(here)?.column.typed && !cellAt(here)?.column.choices) begin(e.key);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const onCopy = (e: ClipboardEvent): void => {
    if (text !== undefined) return;
    e.clipboardData.setData('text/plain', copied(top, bottom, [left, right]));
    e.preventDefault();
  };
  const paste = (e: ClipboardEvent): void => {
    if (text !== undefined) return;
    e.preventDefault();
    onPaste(e.clipboardData.getData('text/plain'), { row: top, column: left });
  };
  const width = widths.reduce((a, b) => a + b, 0);
  return (
    <div
      ref={box}
      role="grid"
      aria-label={label}
      aria-rowcount={rows.length + 1}
      aria-colcount={columns.length}
      aria-multiselectable="true"
      className="min-h-0 flex-1 overflow-auto"
      onKeyDown={onKey}
      onCopy={onCopy}
      onPaste={paste}
    >
      <div
        role="row"
        aria-rowindex={1}
        className="sticky top-0 z-10 flex border-b border-rule bg-paper"
        style={{ width: Math.max(width, 1), minWidth: '100%' }}
      >
        {columns.map((c, n) => (
          <span
            key={c.id}
            role="columnheader"
            aria-sort={sorting?.column === c.id ? (sorting.down ? 'descending' : 'ascending') : 'none'}
            className={`px-2 py-1 text-ink2 ${c.kind === 'number' ? 'text-right' : ''}`}
            style={{ width: widths[n], flex: 'none' }}
          >
            <button
              type="button"
              className="whitespace-nowrap hover:text-ink"
              onClick={() =>
                onSort(sorting?.column !== c.id ? { column: c.id, down: false } : sorting.down ? undefined : { column: c.id, down: true })
              }
            >
              {c.name}
              {sorting?.column === c.id ? (sorting.down ? ' ↓' : ' ↑') : ''}
            </button>
          </span>
        ))}
      </div>
      <div role="presentation" style={{ height: list.getTotalSize(), width, minWidth: '100%', position: 'relative' }}>
        {list.getVirtualItems().map((v) => {
          const r = rows[v.index];
          if (!r) return null;
          return (
            <div
              key={r.key}
              role="row"
              aria-rowindex={v.index + 2}
              className={`absolute left-0 flex border-b border-fine ${r.leads ? 'bg-paper font-semibold' : ''}`}
              style={{ height: rowHeight, width, minWidth: '100%', transform: `translateY(${v.start}px)` }}
            >
              {columns.map((c, n) => {
                const active = v.index === here.row && n === here.column;
                const marked = v.index >= top && v.index <= bottom && n >= left && n <= right;
                const value = r.cells[n] ?? '';
                const look = `${c.kind === 'number' ? 'text-right' : ''} ${c.kind === 'text' ? '' : 'font-mono text-[12.5px]'}`;
                return (
                  <div
                    key={c.id}
                    role="gridcell"
                    aria-colindex={n + 1}
                    aria-selected={marked}
                    aria-readonly={!c.typed}
                    tabIndex={active ? 0 : -1}
                    data-cell={`${v.index} ${n}`}
                    title={value.length > 30 ? value : undefined}
                    className={`truncate px-2 py-[3px] ${look} ${active ? 'outline-2 -outline-offset-2 outline-ink' : ''} ${marked && mark ? 'bg-cautionground' : ''} ${c.typed ? 'cursor-text' : ''} ${r.loud && (tells ? c.loud : n === columns.length - 1) ? 'font-semibold text-accent' : r.given.includes(n) ? 'text-ink3' : c.typed ? '' : 'text-ink2'}`}
                    style={{ width: widths[n], flex: 'none' }}
                    onMouseDown={(e) => {
                      if (active && text !== undefined) return;
                      if (text !== undefined) void commit(text, { row: v.index, column: n });
                      else moveTo({ row: v.index, column: n }, e.shiftKey);
                      wanted.current = true;
                    }}
                    onDoubleClick={() => begin(undefined)}
                  >
                    {active && text !== undefined ? (
                      c.choices ? (
                        <select
                          ref={field as React.RefObject<HTMLSelectElement>}
                          className="-mx-1 w-full bg-sheet outline-none"
                          aria-label={`${c.name} of ${r.key}`}
                          value={text}
                          onChange={(e) => change(e.target.value)}
                        >
                          {[...new Set([value, '', ...c.choices])].map((x) => (
                            <option key={x} value={x}>
                              {x === '' ? 'default' : x}
                            </option>
                          ))}
                        </select>
                      ) : (
                        <input
                          ref={field as React.RefObject<HTMLInputElement>}
                          className={`-mx-1 w-full bg-sheet outline-none ${look}`}
                          aria-label={`${c.name} of ${r.key}`}
                          value={text}
                          onChange={(e) => change(e.target.value)}
                        />
                      )
                    ) : (
                      value
                    )}
                  </div>
                );
              })}
            </div>
          );
        })}
      </div>
      {rows.length === 0 && <p className="px-4 py-3 text-ink2">No row fits. Clear the field above to see all, or add one.</p>}
    </div>
  );
}
