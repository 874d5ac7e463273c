import type { ReadProblem } from '@gentle-compass/core/documents/cursor';

/** One line for a person: severity, file, place, what is wrong, what to do. */
export function problemLine(p: ReadProblem): string {
  const place = p.line === undefined ? '' : `:${p.line}:${p.column ?? 1}`;
  return `${p.severity}: ${p.file}${place}${p.path === '' ? '' : ` ${p.path}`}: ${p.message} ${p.remedy}`;
}
