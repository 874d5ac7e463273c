import { applyEdits, editsBetween, type Edit } from '../design/edit';
import type { SourceDocument } from '../documents/documents';
import { readEntry, type OtherLine } from './entry';

/** A line that could not be carried out, by its place in the list. */
export interface LineFault {
  readonly n: number;
  readonly line: string;
  readonly message: string;
  readonly instead: readonly OtherLine[];
}

/** What several lines would do together. */
export interface LinesReading {
  readonly edits: readonly Edit[];
  readonly titles: readonly string[];
  readonly notes: readonly string[];
  readonly faults: readonly LineFault[];
}

/**
 * Reads lines of quick entry one after the other, each against what those before it leave; all that can be carried out
 * come together as edits of one step. A line that changes nothing is no fault.
 */
export function readLines(lines: readonly string[], documents: readonly SourceDocument[], selected: readonly string[] = []): LinesReading {
  const titles: string[] = [];
  const notes: string[] = [];
  const faults: LineFault[] = [];
  let now = documents;
  lines.forEach((line, n) => {
    const { plan, error, instead } = readEntry(line, now, selected);
    if (plan?.down) {
      faults.push({ n, line, message: 'What fails is no part of the design: the line stands alone, or is kept by "scenario".', instead: [] });
    } else if (plan) {
      now = applyEdits(now, plan.edits);
      titles.push(plan.title);
      notes.push(...plan.notes);
    } else if (error && !error.message.startsWith('Nothing changes')) faults.push({ n, line, message: error.message, instead: instead ?? [] });
  });
  return { edits: titles.length === 0 ? [] : editsBetween(documents, now), titles, notes, faults };
}
