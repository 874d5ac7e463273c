import type { Point } from './shapes';
import { crossesPlate } from './tidy';

/** Half the length of a LAN's bar. */
export const halfBar = 48;

/** Where the words of a LAN stand: beside its bar. */
export interface LanLabel extends Point {
  readonly anchor: 'start' | 'middle' | 'end';
}

/**
 * The place for a LAN's words that its own lines cross least: below the bar, else above, to the right, to the left.
 *
 * @param at     the middle of the bar
 * @param ends   the routers on it
 * @param width  of the words
 * @param plates  plates that it should not run under, with half their size
 */
export function lanLabel(
  at: Point,
  ends: readonly Point[],
  width: number,
  plates: readonly { readonly at: Point; readonly half: Point }[] = [],
): LanLabel {
  const half = { x: width / 2, y: 8 };
  const below: LanLabel = { x: at.x, y: at.y + 17, anchor: 'middle' };
  const places: readonly LanLabel[] = [
    below,
    { x: at.x, y: at.y - 10, anchor: 'middle' },
    { x: at.x + halfBar + 8, y: at.y + 4, anchor: 'start' },
    { x: at.x - halfBar - 8, y: at.y + 4, anchor: 'end' },
  ];
  const crossings = (p: LanLabel): number => {
    const x = p.anchor === 'middle' ? p.x : p.anchor === 'start' ? p.x + half.x : p.x - half.x;
    const under = plates.filter((q) => Math.abs(q.at.x - x) < q.half.x + half.x && Math.abs(q.at.y - (p.y - 4)) < q.half.y + half.y).length;
    return ends.filter((e) => crossesPlate(at, e, { x, y: p.y - 4 }, half)).length + 2 * under;
  };
  let [best, least] = [below, Infinity];
  for (const p of places) {
    const n = crossings(p);
    if (n < least) [best, least] = [p, n];
  }
  return best;
}
