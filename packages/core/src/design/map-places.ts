import { documentKind, type SourceDocument } from '../documents/documents';
import { Draft, listIn, container, member, setMember, type Json } from './draft';
import type { Edit } from './edit';

/** A place on the map that is chosen by hand, or with `at` left out one that the map chooses itself again. */
export interface Placing {
  readonly name: string;
  readonly folded: boolean;
  /** Units of the chart from the middle of the backbone, right and down; rounded to whole ones. */
  readonly at?: { readonly x: number; readonly y: number };
}

/**
 * Edits that keep places chosen by hand in the design's settings, one step for all of them; a settings document is made
 * when there is none.
 */
export function placeEdits(documents: readonly SourceDocument[], placings: readonly Placing[]): Edit[] {
  if (placings.every((p) => !p.at) && !documents.some((d) => documentKind(d.tree) === 'settings')) return [];
  const draft = new Draft(documents);
  const settings = draft.settings();
  const map = container(settings, 'map');
  const list = listIn(map, 'place');
  const same = (p: Placing) => (x: Json) => member(x, 'name') === p.name && (member(x, 'folded') === true) === p.folded;
  for (const p of placings) {
    const n = list.findIndex(same(p));
    const place = p.at && { name: p.name, x: Math.round(p.at.x), y: Math.round(p.at.y), ...(p.folded ? { folded: true } : {}) };
    if (place && n >= 0) list[n] = { ...list[n], ...place };
    else if (place) list.push(place);
    else if (n >= 0) list.splice(n, 1);
  }
  if (list.length === 0) setMember(map, 'place', undefined);
  if (Object.keys(map).length === 0) setMember(settings, 'map', undefined);
  return draft.edits();
}
