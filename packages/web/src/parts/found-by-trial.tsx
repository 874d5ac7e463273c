'use client';

import type { Edit } from '@gentle-compass/core/design/edit';
import type { Trial } from '../model/view';
import { count } from './words';

/**
 * Findings that a change would bring, each with what would mend it in the same step.
 *
 * @param onWith  is given the repair's words and the edits that go after those of the change
 */
export function FoundByTrial({ trial, onWith }: { readonly trial: Trial; readonly onWith: (title: string, edits: readonly Edit[]) => void }) {
  return (
    <ul className="mt-0.5">
      {trial.found.slice(0, 3).map((f) => (
        <li key={f.id}>
          <span className={f.severity === 'error' ? 'text-accent' : 'text-caution'}>{f.severity}</span> {f.message}{' '}
          {f.repairs.slice(0, 2).map((r) => (
            <button
              key={r.title}
              type="button"
              className="link mr-2"
              onMouseDown={(e) => e.preventDefault()}
              onClick={() => onWith(r.title, r.edits)}
            >
              and: {r.title}
            </button>
          ))}
        </li>
      ))}
      {trial.found.length > 3 && <li className="text-ink2">and {count(trial.found.length - 3, 'more')}</li>}
    </ul>
  );
}
