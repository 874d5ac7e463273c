'use client';

import { useMemo, type KeyboardEvent } from 'react';
import type { DesignView } from '../model/view';
import { breakables } from './breakable';

/** Rows that a page of the walk has. */
const page = 10;

/**
 * Walks over everything that can fail by the arrow keys, drawn on the map or not: what its loss would change is told at every
 * step. Enter takes it down, or brings it back.
 */
export function Walker({
  view,
  at,
  fail,
  onAt,
  onTurn,
}: {
  readonly view: DesignView;
  readonly at: string | undefined;
  readonly fail: readonly string[];
  readonly onAt: (word: string | undefined) => void;
  readonly onTurn: (word: string) => void;
}) {
  const all = useMemo(() => breakables(view), [view]);
  const n = all.findIndex((b) => b.word === at);
  const here = all[n];
  const to = (next: number): void => onAt(all[Math.max(0, Math.min(all.length - 1, next))]?.word);
  const onKey = (e: KeyboardEvent): void => {
    const steps: Record<string, number> = {
      ArrowDown: n + 1,
      ArrowRight: n + 1,
      ArrowUp: n - 1,
      ArrowLeft: n - 1,
      PageDown: n + page,
      PageUp: n - page,
      Home: 0,
      End: all.length - 1,
    };
    const next = steps[e.key];
    if (next !== undefined) to(next);
    else if ((e.key === 'Enter' || e.key === ' ') && here) onTurn(here.word);
    else if (e.key === 'Escape') onAt(undefined);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const words = here ? `${here.name}${here.about === 'router' ? '' : `, ${here.about}`}${fail.includes(here.word) ? ', down' : ''}` : '';
  return (
    <span
      role="spinbutton"
      tabIndex={0}
      aria-label="Walk over what can fail"
      aria-valuemin={1}
      aria-valuemax={Math.max(1, all.length)}
      aria-valuenow={Math.max(1, n + 1)}
      aria-valuetext={words === '' ? 'nothing yet' : words}
      title="Arrow keys walk over all that can fail, Enter takes it down"
      className="control inline-block w-44 cursor-default truncate text-left"
      onKeyDown={onKey}
      onFocus={() => {
        if (n < 0) to(0);
      }}
      onBlur={() => onAt(undefined)}
    >
      {here ? (
        <>
          <span className="text-ink2">{(n + 1).toLocaleString('en-GB')} </span>
          {here.name}
        </>
      ) : (
        <span className="text-ink2">↑↓ walk over all</span>
      )}
    </span>
  );
}
