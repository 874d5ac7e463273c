import type { Point } from './shapes';

/** A label that may stand anywhere along a line; half its size. */
export interface LineLabel {
  readonly id: string;
  readonly a: Point;
  readonly b: Point;
  readonly half: Point;
}

const tries = [0.5, 0.44, 0.56, 0.38, 0.62, 0.32, 0.68, 0.25, 0.75, 0.18, 0.82] as const;

/**
 * Places along their lines for labels, near the middle, where they cover neither a plate nor one another as far as
 * that can be. Greedy in the order given, so the same input gives the same picture.
 *
 * @param onlyFree  leaves out a label that would cover something wherever it stood
 */
export function placeLabels(
  labels: readonly LineLabel[],
  plates: readonly { readonly at: Point; readonly half: Point }[],
  onlyFree = false,
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
  for (const l of labels) {
    let best: Point = { x: (l.a.x + l.b.x) / 2, y: (l.a.y + l.b.y) / 2 };
    let least = Infinity;
    for (const t of tries) {
      const p = { x: l.a.x + (l.b.x - l.a.x) * t, y: l.a.y + (l.b.y - l.a.y) * t };
      const covered = coveredBy(p.x, p.y, l.half, least);
      if (covered < least) {
        least = covered;
        best = p;
      }
      if (covered === 0) break;
    }
    if (onlyFree && least > 0) continue;
    taken.push({ at: best, half: l.half });
    out.set(l.id, best);
  }
  return out;
}
