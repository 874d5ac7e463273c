'use client';

import { keepAgain } from '../model/keeping';
import { useStore } from '../model/state';
import { dismissNotice } from '../model/panes';
import { exportDesign } from './export-design';

/** Says when the browser does not keep the design, with the ways out, and what another tab did. */
export function KeepingStrip() {
  const unkept = useStore((s) => s.unkept);
  const notice = useStore((s) => s.notice);
  const name = useStore((s) => s.design?.name ?? 'campus');
  if (unkept !== undefined)
    return (
      <div role="alert" className="flex items-center gap-3 border-t border-accent bg-accentground px-4 py-2 text-accent">
        <span>
          This design is not kept in the browser: {unkept}. Everything still works here, but it is gone when the tab closes. Export it to be safe.
        </span>
        <button type="button" className="control ml-auto" data-main onClick={() => void exportDesign('compass', name, 'digests')}>
          Export it
        </button>
        <button type="button" className="control" onClick={() => void keepAgain()}>
          Keep it again
        </button>
      </div>
    );
  if (notice === undefined) return null;
  return (
    <div role="status" className="flex items-center gap-3 border-t border-rule bg-sheet px-4 py-2" data-testid="notice">
      <span>{notice}</span>
      <button type="button" className="control ml-auto" onClick={dismissNotice}>
        Close
      </button>
    </div>
  );
}
