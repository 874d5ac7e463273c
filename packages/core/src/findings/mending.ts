import type { Edit } from '../design/edit';
import type { Draft, Finding } from './finding';

/** The two interfaces that a finding stands between; `undefined` for one that is about something else. */
export function pairOf({ where }: Pick<Finding, 'where'>): string | undefined {
  const ends = where.flatMap((w) => (w.interface === undefined ? [] : [`${w.router}/${w.interface}`]));
  return ends.length === 2 && where.length === 2 ? ends.sort().join(' ') : undefined;
}

/**
 * Edits whose outcome says what a finding costs: those of its first repair, and where more is wrong between the same two
 * interfaces in the same family those of all of it, for while one thing is left the pair stays as it is. `undefined` where nothing is mended by an
 * edit, and for a note, which costs nothing by itself.
 *
 * @param all  every finding of the network
 */
export function mendingAll(f: Draft, all: readonly Draft[]): readonly Edit[] | undefined {
  const own = f.severity === 'note' ? undefined : f.repairs[0]?.edits;
  const pair = own && pairOf(f);
  // What moves an interface to another area moves the lines that others would change.
  if (!own || pair === undefined || f.rule === 'area') return own;
  const out = [...own];
  for (const other of all)
    if (other !== f && other.rule !== 'area' && other.severity !== 'note' && other.family === f.family && pairOf(other) === pair)
      for (const e of other.repairs[0]?.edits ?? []) if (!out.some((x) => x.file === e.file && x.at.join('/') === e.at.join('/'))) out.push(e);
  return out;
}
