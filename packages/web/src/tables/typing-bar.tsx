'use client';

import type { SheetName } from '@gentle-compass/core/sheets/sheet-names';
import { useEffect, useState } from 'react';
import { makeChange } from '../model/history';
import type { CellsView, Trial } from '../model/view';
import { FoundByTrial } from '../parts/found-by-trial';
import { changeWords } from '../parts/words';
import { workbench } from '../worker/client';
import type { Typing } from './grid';

const wait = (ms: number): Promise<void> => new Promise((go) => setTimeout(go, ms));

interface Props {
  readonly name: SheetName;
  readonly typing: Typing | undefined;
  /** What the last entry could not do. */
  readonly outcome: CellsView | undefined;
  readonly onInstead: (line: string) => void;
  readonly onClose: () => void;
}

/** Below a table: what the value being typed would do, or why it cannot stand and what could. */
export function TypingBar({ name, typing, outcome, onInstead, onClose }: Props) {
  const [reading, setReading] = useState<{ of: Typing; cells: CellsView } | undefined>(undefined);
  const [trial, setTrial] = useState<{ of: Typing; trial: Trial } | undefined>(undefined);
  useEffect(() => {
    const turn = { over: false };
    const stale = (): boolean => turn.over;
    const ask = async (): Promise<void> => {
      await wait(80);
      if (stale() || !typing || typing.value === typing.before) return;
      const cells = await workbench().editing.cells(name, [{ key: typing.key, column: typing.column, value: typing.value }]);
      if (stale()) return;
      setReading({ of: typing, cells });
      if (cells.edits.length === 0) return;
      const tried = await workbench().editing.tryEdits(cells.edits);
      if (!stale() && tried) setTrial({ of: typing, trial: tried });
    };
    void ask();
    return () => {
      turn.over = true;
    };
  }, [name, typing]);
  const now = typing && reading?.of === typing ? reading.cells : undefined;
  const tried = typing && trial?.of === typing ? trial.trial : undefined;
  const fault = now?.faults[0];
  const instead = (lines: CellsView['faults'][number]['instead']): React.ReactNode =>
    lines.map((o) => (
      <button
        key={o.line}
        type="button"
        className="control font-mono text-xs"
        title={o.help}
        onMouseDown={(e) => e.preventDefault()}
        onClick={() => onInstead(o.line)}
      >
        {o.line}
      </button>
    ));
  return (
    <div className="min-h-[58px] border-t border-rule bg-paper px-4 py-2" role="status" data-testid="typing-bar">
      {typing && fault && (
        <div className="flex flex-wrap items-center gap-2 text-accent">
          {fault.message} {instead(fault.instead)}
        </div>
      )}
      {typing && now && !fault && (
        <div>
          <span className="font-semibold">{now.title === '' ? 'Nothing changes.' : `${now.title}.`}</span>{' '}
          <span className="text-ink2">{tried ? changeWords(tried) : ''}</span>
          {now.notes.slice(0, 2).map((n) => (
            <p key={n} className="text-ink2">
              {n}
            </p>
          ))}
          {tried && tried.found.length > 0 && (
            <FoundByTrial trial={tried} onWith={(title, edits) => void makeChange(`${now.title}; ${title}`, [...now.edits, ...edits])} />
          )}
        </div>
      )}
      {(!typing || !now) && outcome && (
        <div className="flex items-start gap-3">
          <ul className="max-h-[120px] min-w-0 flex-1 overflow-y-auto" aria-label="What could not be taken over">
            {outcome.faults.map((f, n) => (
              <li key={`${f.what} ${n}`} className="flex flex-wrap items-center gap-2 text-accent">
                {f.at && (
                  <span className="font-mono text-xs">
                    line {f.at.row}, column {f.at.column}
                  </span>
                )}
                {f.what !== '' && <span className="text-ink">{f.what}:</span>} {f.message} {instead(f.instead)}
              </li>
            ))}
          </ul>
          <button type="button" className="control" onClick={onClose}>
            Close
          </button>
        </div>
      )}
      {(!typing || !now) && !outcome && (
        <p className="text-ink2">
          {name === 'families' ? (
            'A value that both versions share stands once; else OSPFv2 stands before the bar and OSPFv3 behind it. Red: the two differ, or a neighbour is in trouble.'
          ) : (
            <>
              Type over a cell and press Enter; an empty one lets its default hold. Copy and paste cells as in a spreadsheet: with the header line,
              rows are found by name. Grey values were written by nobody.
            </>
          )}
        </p>
      )}
    </div>
  );
}
