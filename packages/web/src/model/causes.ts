import type { Finding } from '@gentle-compass/core/findings/finding';

/** What follows from a finding, of those that are known. */
export const consequencesOf = (finding: Finding, all: readonly Finding[]): readonly Finding[] => all.filter((f) => f['caused-by'] === finding.id);

/** Whether a finding stands for itself: nothing else that is known explains it. */
export const standsAlone = (finding: Finding, all: readonly Finding[]): boolean =>
  finding['caused-by'] === null || !all.some((f) => f.id === finding['caused-by']);

/** Findings that stand in somebody's way by themselves: open, no notes, and not what follows from another. */
export function causesIn(all: readonly Finding[]): readonly Finding[] {
  const open = all.filter((f) => !f.accepted);
  const ids = new Set(open.map((f) => f.id));
  return open.filter((f) => f.severity !== 'note' && (f['caused-by'] === null || !ids.has(f['caused-by'])));
}
