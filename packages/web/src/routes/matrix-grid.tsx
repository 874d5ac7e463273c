'use client';

import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type KeyboardEvent } from 'react';
import type { MatrixEnd, MatrixView } from '../model/reach-view';
import { areaName } from '../parts/words';
import { cellOf, cellText, kindWords, type CellKind, type MatrixOrder } from './matrix-cells';

const cell = { width: 44, height: 22 } as const;
const headWidth = 158;
const headHeight = 104;

/** Looks of a cell; each has its own sign as well. */
const looks: Readonly<Record<CellKind, string>> = {
  both: 'text-ink',
  lopsided: 'text-ink bg-paper',
  oneway: 'text-caution bg-cautionground font-semibold',
  partly: 'text-caution bg-cautionground font-semibold',
  leaves: 'text-ink2 bg-paper',
  dropped: 'text-accent bg-accentground font-semibold',
  looping: 'text-accent bg-accentground font-semibold',
};

const nameOf = (e: MatrixEnd | undefined): string => (e === undefined ? '' : e.router === '' ? e.address : e.router);

/** Two ends of one router are told apart by their addresses. */
function namesOf(ends: readonly MatrixEnd[]): (n: number) => string {
  const times = new Map<string, number>();
  for (const e of ends) times.set(nameOf(e), (times.get(nameOf(e)) ?? 0) + 1);
  return (n) => ((times.get(nameOf(ends[n])) ?? 0) > 1 ? (ends[n]?.address ?? '') : nameOf(ends[n]));
}

/** The matrix: only cells in sight are drawn; one has the mark, which arrow keys move. */
export function MatrixGrid({
  matrix,
  order,
  at,
  shown,
  onAt,
  onOpen,
}: {
  readonly matrix: MatrixView;
  readonly order: MatrixOrder;
  /** The marked cell, by its place in the order. */
  readonly at: readonly [number, number] | undefined;
  /** Cells of this kind stand out. */
  readonly shown: CellKind | undefined;
  readonly onAt: (at: readonly [number, number]) => void;
  /** Opens a cell, by its row and column in the matrix. */
  readonly onOpen: (row: number, column: number) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- the grid is not memoised on purpose
  const rows = useVirtualizer({
    count: order.rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => cell.height,
    overscan: 6,
    scrollMargin: headHeight,
  });
  const columns = useVirtualizer({
    count: order.columns.length,
    horizontal: true,
    getScrollElement: () => box.current,
    estimateSize: () => cell.width,
    overscan: 4,
    scrollMargin: headWidth,
  });
  const [r, c] = at ?? [-1, -1];
  useEffect(() => {
    const el = box.current;
    if (r < 0 || !el) return;
    // The heads stand over the first cells: what is marked must not lie under them.
    const [left, top] = [c * cell.width, r * cell.height];
    if (left < el.scrollLeft) el.scrollLeft = left;
    else if (left + cell.width > el.scrollLeft + el.clientWidth - headWidth) el.scrollLeft = left + cell.width - el.clientWidth + headWidth;
    if (top < el.scrollTop) el.scrollTop = top;
    else if (top + cell.height > el.scrollTop + el.clientHeight - headHeight) el.scrollTop = top + cell.height - el.clientHeight + headHeight;
  }, [r, c]);
  const keys = (e: KeyboardEvent): void => {
    const step = { ArrowRight: [0, 1], ArrowLeft: [0, -1], ArrowDown: [1, 0], ArrowUp: [-1, 0], PageDown: [20, 0], PageUp: [-20, 0] }[e.key];
    const limit = (n: number, of: number): number => Math.max(0, Math.min(of - 1, n));
    const open = e.key === 'Enter' && r >= 0;
    const to = step
      ? ([
          limit(Math.max(r, 0) + (r < 0 ? 0 : (step[0] ?? 0)), order.rows.length),
          limit(Math.max(c, 0) + (c < 0 ? 0 : (step[1] ?? 0)), order.columns.length),
        ] as const)
      : e.key === 'Home'
        ? ([Math.max(r, 0), 0] as const)
        : e.key === 'End'
          ? ([Math.max(r, 0), order.columns.length - 1] as const)
          : undefined;
    if (!open && !to) return;
    e.preventDefault();
    if (open) onOpen(order.rows[r] ?? -1, order.columns[c] ?? -1);
    else if (to) onAt(to);
  };
  const rowName = namesOf(matrix.rows);
  const columnName = namesOf(matrix.columns);
  const begins = (groups: readonly string[], n: number): boolean => n > 0 && groups[n] !== groups[n - 1];
  const group = (g: string | undefined): string => (g === undefined || g === '' ? '' : /^\d+\.\d+\.\d+\.\d+$/.test(g) ? areaName(g) : g);
  const id = (row: number, column: number): string => `matrix-${row}-${column}`;
  return (
    <div
      ref={box}
      role="grid"
      aria-label="Who reaches whom"
      aria-rowcount={order.rows.length + 1}
      aria-colcount={order.columns.length + 1}
      aria-activedescendant={r >= 0 ? id(r, c) : undefined}
      tabIndex={0}
      onKeyDown={keys}
      className="relative mx-4 mb-3 min-h-0 flex-1 overflow-auto rounded border border-rule bg-sheet focus-visible:outline-2 focus-visible:outline-accent"
    >
      <div role="presentation" style={{ width: headWidth + columns.getTotalSize(), height: headHeight + rows.getTotalSize() }} className="relative">
        <div
          role="row"
          aria-rowindex={1}
          className="sticky top-0 z-20 border-b border-rule bg-sheet"
          style={{ height: headHeight, width: headWidth + columns.getTotalSize() }}
        >
          <span
            role="columnheader"
            className="sticky left-0 z-30 flex flex-col justify-end border-r border-rule bg-sheet px-2 pb-1 text-ink2"
            style={{ width: headWidth, height: headHeight }}
          >
            from ↓ to →
          </span>
          {columns.getVirtualItems().map((x) => (
            <span
              key={x.key}
              role="columnheader"
              aria-colindex={x.index + 2}
              title={`${matrix.columns[order.columns[x.index] ?? -1]?.address ?? ''} ${group(order.columnGroups[x.index])}`}
              className={`absolute bottom-0 overflow-hidden ${begins(order.columnGroups, x.index) ? 'border-l border-ink3' : ''} ${x.index === c ? 'bg-paper font-semibold' : ''}`}
              style={{ left: x.start, width: cell.width, height: headHeight }}
            >
              <span className="absolute bottom-1.5 left-1/2 block w-[96px] origin-left -rotate-90 truncate text-[12.5px]">
                {columnName(order.columns[x.index] ?? -1)}
              </span>
            </span>
          ))}
        </div>
        {rows.getVirtualItems().map((y) => (
          <div
            key={y.key}
            role="row"
            aria-rowindex={y.index + 2}
            className="absolute left-0"
            style={{ top: y.start, height: cell.height, width: headWidth + columns.getTotalSize() }}
          >
            <span
              role="rowheader"
              title={`${matrix.rows[order.rows[y.index] ?? -1]?.address ?? ''} ${group(order.rowGroups[y.index])}`}
              className={`sticky left-0 z-10 flex items-baseline gap-1 border-r border-rule bg-sheet px-2 leading-[22px] ${begins(order.rowGroups, y.index) ? 'border-t border-t-ink3' : ''} ${y.index === r ? 'bg-paper font-semibold' : ''}`}
              style={{ width: headWidth, height: cell.height }}
            >
              <span className="min-w-0 truncate">{rowName(order.rows[y.index] ?? -1)}</span>
              {(y.index === 0 || begins(order.rowGroups, y.index)) && (
                <span className="ml-auto text-xs whitespace-nowrap text-ink3">{group(order.rowGroups[y.index])}</span>
              )}
            </span>
            {columns.getVirtualItems().map((x) => {
              const [row, column] = [order.rows[y.index] ?? -1, order.columns[x.index] ?? -1];
              const { kind } = cellOf(matrix, row, column);
              const text = cellText(matrix, row, column);
              const marked = y.index === r && x.index === c;
              const faint = shown !== undefined && shown !== kind;
              return (
                <span
                  key={x.key}
                  id={id(y.index, x.index)}
                  role="gridcell"
                  aria-colindex={x.index + 2}
                  aria-selected={marked}
                  aria-label={text === '·' ? 'itself' : `${rowName(row)} to ${columnName(column)}: ${kindWords[kind].title}, ${text}`}
                  onClick={() => onAt([y.index, x.index])}
                  onDoubleClick={() => onOpen(row, column)}
                  className={`absolute top-0 cursor-pointer border-b border-fine pr-1 text-right font-mono text-[12px] leading-[21px] ${text === '·' ? 'text-ink3' : looks[kind]} ${begins(order.columnGroups, x.index) ? 'border-l border-l-ink3' : ''} ${begins(order.rowGroups, y.index) ? 'border-t border-t-ink3' : ''} ${faint ? 'opacity-25' : ''} ${marked ? 'outline-2 -outline-offset-2 outline-ink' : ''}`}
                  style={{ left: x.start, width: cell.width, height: cell.height }}
                >
                  {text}
                </span>
              );
            })}
          </div>
        ))}
      </div>
    </div>
  );
}
