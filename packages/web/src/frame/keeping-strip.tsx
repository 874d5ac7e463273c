'use client';

import { keepAgain } from '../model/keeping';
import { useStore } from '../model/state';
import { rowsOfDesign } from '../model/kept-designs';
import { dismissDamage, dismissNotice } from '../model/panes';
import { fileName, save } from '../parts/save';
import { exportDesign } from './export-design';

/** Says when the browser does not keep the design, with the ways out, and what another tab did. */
export function KeepingStrip() {
  const unkept = useStore((s) => s.unkept);
  const notice = useStore((s) => s.notice);
  const damaged = useStore((s) => s.damaged);
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
  if (damaged)
    return (
      <div role="alert" className="flex items-start gap-3 border-t border-accent bg-accentground px-4 py-2 text-accent">
        <div className="mr-auto">
          <p>
            “{damaged.name}” is damaged in this browser’s storage. What is whole of it is open as a copy; the damaged one stays on the shelf as it is.
          </p>
          <ul>
            {damaged.words.slice(0, 5).map((w) => (
              <li key={w}>{w}</li>
            ))}
            {damaged.words.length > 5 && <li>and {damaged.words.length - 5} more.</li>}
          </ul>
        </div>
        <button
          type="button"
          className="control"
          data-main
          onClick={() => void rowsOfDesign(damaged.id).then((text) => save(`${fileName(damaged.name)}-as-kept.json`, text, 'application/json'))}
        >
          Export all that is kept of it
        </button>
        <button type="button" className="control" onClick={dismissDamage}>
          Close
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
