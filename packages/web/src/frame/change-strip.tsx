'use client';

import { undo } from '../model/history';
import { useStore } from '../model/state';
import { dismissChange, dismissTrouble } from '../model/panes';
import { changeWords } from '../parts/words';
import { exportDesign } from './export-design';

/** What the last change did to the prediction, with the way back. */
export function ChangeStrip() {
  const last = useStore((s) => s.lastChange);
  const trouble = useStore((s) => s.trouble);
  const fault = useStore((s) => s.fault);
  const name = useStore((s) => s.design?.name ?? 'campus');
  if (trouble !== undefined)
    return (
      <div role="alert" className="flex items-center gap-3 border-t border-accent bg-accentground px-4 py-2 text-accent">
        <span className="mr-auto">{trouble}</span>
        {fault && (
          <>
            <button type="button" className="control" onClick={() => void exportDesign('compass', name, 'digests')}>
              Export it
            </button>
            <button type="button" className="control" onClick={() => window.location.reload()}>
              Reload
            </button>
          </>
        )}
        <button type="button" className="control" onClick={dismissTrouble}>
          Close
        </button>
      </div>
    );
  if (!last) return null;
  return (
    <div role="status" className="flex items-center gap-3 border-t border-rule bg-sheet px-4 py-2" data-testid="change-strip">
      <span className="min-w-0">
        <strong className="font-semibold">{last.title}.</strong>{' '}
        <span className="text-ink2">{last.change ? changeWords(last.change) : 'Working out what it changed…'}</span>
      </span>
      <button type="button" className="control ml-auto" onClick={() => void undo()}>
        Undo
      </button>
      <button type="button" className="control" onClick={dismissChange}>
        Close
      </button>
    </div>
  );
}
