import { Draft, listIn, member, setMember } from '../design/draft';
import type { Edit } from '../design/edit';
import type { Demand, End } from '../design/settings';
import type { SourceDocument } from '../documents/documents';
import { formatAddress } from '../prefix/address';

const endText = (e: End): string => (typeof e === 'number' ? formatAddress(e) : e);

/** Edits that keep demands in the settings of a design, one step for all: each in the place of the one with its ends. */
export function demandEdits(documents: readonly SourceDocument[], demands: readonly Demand[]): Edit[] {
  const draft = new Draft(documents);
  const list = listIn(draft.settings(), 'demand');
  const key = (from: unknown, to: unknown): string => JSON.stringify([from, to]);
  const places = new Map(list.map((d, n) => [key(member(d, 'from'), member(d, 'to')), n]));
  for (const d of demands) {
    const [from, to] = [endText(d.from), endText(d.to)];
    const at = places.get(key(from, to));
    places.set(key(from, to), at ?? list.length);
    list[at ?? list.length] = { from, to, mbps: d.mbps };
  }
  return draft.edits();
}

/** Edits after which nothing is said of traffic any more. */
export function withoutDemands(documents: readonly SourceDocument[]): Edit[] {
  const draft = new Draft(documents);
  setMember(draft.settings(), 'demand', undefined);
  return draft.edits();
}
