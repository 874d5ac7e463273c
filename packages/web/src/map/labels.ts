import type { Point } from './shapes';
import { crossesPlate } from './tidy';

/** Something drawn from one point to another. */
export interface Stroke {
  readonly a: Point;
  readonly b: Point;
}

/** A label that may stand anywhere along a line; half its size. */
export interface LineLabel extends Stroke {
  readonly id: string;
  readonly half: Point;
}

const tries = [0.5, 0.44, 0.56, 0.38, 0.62, 0.32, 0.68, 0.25, 0.75, 0.18, 0.82] as const;
/** What it costs a label to lie on somebody else's line, in covered square units: less than to touch a plate or another label. */
const onALine = 6;

/**
 * Places along their lines for labels, near the middle, where they cover neither a plate nor one another nor lie on another
 * line, as far as that can be. Greedy in the order given, so the same input gives the same picture.
 *
 * @param lines  everything that is drawn as a line; a label's own is known by its ends
 * @param onlyFree  leaves out a label that would cover something wherever it stood
 */
export function placeLabels(
  labels: readonly LineLabel[],
  plates: readonly { readonly at: Point; readonly half: Point }[],
  onlyFree = false,
  lines: readonly Stroke[] = [],
): Map<string, Point> {
  const out = new Map<string, Point>();
  const taken = [...plates];
  /** How much of what is taken a label would cover, as far as that is less than the least so far. */
  const coveredBy = (x: number, y: number, half: Point, least: number): number => {
    let sum = 0;
    for (let i = 0; i < taken.length && sum < least; i++) {
      const o = taken[i];
      if (!o) continue;
      const over = o.half.x + half.x - Math.abs(o.at.x - x);
      if (over <= 0) continue;
      const under = o.half.y + half.y - Math.abs(o.at.y - y);
      if (under > 0) sum += over * under;
    }
    return sum;
  };
  const own = (s: Stroke, l: Stroke): boolean => s.a.x === l.a.x && s.a.y === l.a.y && s.b.x === l.b.x && s.b.y === l.b.y;
  for (const l of labels) {
    const others = lines.filter((s) => !own(s, l));
    let best: Point = { x: (l.a.x + l.b.x) / 2, y: (l.a.y + l.b.y) / 2 };
    let least = Infinity;
    let free = false;
    for (const t of tries) {
      const p = { x: l.a.x + (l.b.x - l.a.x) * t, y: l.a.y + (l.b.y - l.a.y) * t };
      const covered = coveredBy(p.x, p.y, l.half, least);
      free ||= covered === 0;
      let badness = covered;
      for (let i = 0; i < others.length && badness < least; i++)
        if (others[i] && crossesPlate((others[i] as Stroke).a, (others[i] as Stroke).b, p, l.half)) badness += onALine;
      if (badness < least) {
        least = badness;
        best = p;
      }
      if (badness === 0) break;
    }
    if (onlyFree && !free) continue;
    taken.push({ at: best, half: l.half });
    out.set(l.id, best);
  }
  return out;
}
