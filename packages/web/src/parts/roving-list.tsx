'use client';

import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type HTMLAttributes, type KeyboardEvent, type ReactNode } from 'react';
import { focusWhenDrawn } from './focus';

/** What a row puts on the element that takes the focus. */
export interface RovingProps {
  readonly 'data-row': number;
  readonly tabIndex: 0 | -1;
}

/**
 * A list of any length of which only rows in sight are drawn, and of which one row takes the focus: Tab comes to it once,
 * arrow keys, Home, End and the page keys go from row to row, also to rows that are not drawn yet.
 */
export function RovingList({
  count,
  rowHeight,
  at,
  onMove,
  row,
  box,
  inner,
  page = 20,
}: {
  readonly count: number;
  /** Pixels. */
  readonly rowHeight: number;
  /** The row that is chosen; -1 for none: then the first takes the focus. */
  readonly at: number;
  /** The keys went to a row. */
  readonly onMove: (index: number) => void;
  /** Draws a row at its place, in pixels from the top; `focus` goes on the element of it that can have the focus. */
  readonly row: (index: number, top: number, focus: RovingProps) => ReactNode;
  readonly box?: HTMLAttributes<HTMLDivElement>;
  readonly inner?: HTMLAttributes<HTMLElement> & { readonly as?: 'ul' | 'div' };
  /** Rows that a page key goes over. */
  readonly page?: number;
}) {
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- the list is not memoised on purpose
  const list = useVirtualizer({ count, getScrollElement: () => scroller.current, estimateSize: () => rowHeight, overscan: 12 });
  useEffect(() => {
    if (at >= 0) list.scrollToIndex(at, { align: 'auto' });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the list goes where another row was chosen, and nowhere else
  }, [at]);
  // A row that the keys went to and that is still to be drawn: the next key goes on from there, however fast they come.
  const wished = useRef<number | undefined>(undefined);
  const keys = (e: KeyboardEvent): void => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const held = e.target instanceof Element ? e.target.closest('[data-row]')?.getAttribute('data-row') : undefined;
    const from = wished.current ?? (held === undefined || held === null ? at : Number(held));
    const next = { ArrowDown: from + 1, ArrowUp: from - 1, PageDown: from + page, PageUp: from - page, Home: 0, End: count - 1 }[e.key];
    if (next === undefined || count === 0) return;
    e.preventDefault();
    const to = Math.max(0, Math.min(count - 1, next));
    if (to === from) return;
    wished.current = to;
    list.scrollToIndex(to, { align: 'auto' });
    onMove(to);
    // The row may only now come into sight.
    focusWhenDrawn(() => scroller.current?.querySelector<HTMLElement>(`[data-row="${to}"]`));
  };
  const { as: Inner = 'ul', className = '', ...rest } = inner ?? {};
  const stop = at >= 0 && at < count ? at : 0;
  return (
    <div ref={scroller} {...box} onKeyDown={keys} onFocus={() => (wished.current = undefined)}>
      <Inner {...rest} className={`relative ${className}`} style={{ height: list.getTotalSize() }}>
        {list.getVirtualItems().map((v) => row(v.index, v.start, { 'data-row': v.index, tabIndex: v.index === stop ? 0 : -1 }))}
      </Inner>
    </div>
  );
}
