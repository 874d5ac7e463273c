'use client';

import { workbench } from '../worker/client';
import { copyText } from './copy';
import { fileName, save } from './save';

/** What takes a table away: as text with tabs, or as a file of comma-separated values. */
export function TableOut({ name, lines }: { readonly name: string; readonly lines: () => readonly (readonly (string | number)[])[] }) {
  return (
    <span className="ml-auto flex gap-1">
      <button
        type="button"
        className="control whitespace-nowrap"
        onClick={() =>
          void copyText(
            lines()
              .map((l) => l.join('\t'))
              .join('\n'),
          )
        }
      >
        Copy as text
      </button>
      <button
        type="button"
        className="control"
        aria-label="Save as CSV"
        onClick={() =>
          void workbench()
            .files.asCsv(lines().map((l) => l.map(String)))
            .then((text) => save(`${fileName(name)}.csv`, text, 'text/csv'))
        }
      >
        CSV
      </button>
    </span>
  );
}
