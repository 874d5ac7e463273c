import { plate, type Point } from './shapes';

const inHull = (corners: readonly Point[], p: Point): boolean =>
  corners.every((a, i) => {
    const b = corners[(i + 1) % corners.length] ?? a;
    return (b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x) >= 0;
  });

/** Where an area's name stands: outside along its shore, on no plate and on nobody else's ground as far as that can be. */
export function labelPlace(
  corners: readonly Point[],
  bottom: boolean,
  middle: number,
  plates: readonly Point[],
  others: readonly (readonly Point[])[],
): Point {
  const [xs, ys] = [corners.map((p) => p.x), corners.map((p) => p.y)];
  const [left, right, top, low] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const sides = bottom ? [low + 24, top - 22] : [top - 22, low + 24];
  let best = { x: middle, y: sides[0] ?? top };
  let least = Infinity;
  sides.forEach((y, side) => {
    for (const k of [undefined, 0.5, 0.35, 0.65, 0.2, 0.8]) {
      const p = { x: k === undefined ? middle : left + (right - left) * k, y };
      // Its box: the name, and the prefix below it.
      const box = [-60, -20, 20, 60].flatMap((dx) => [-14, 4, 18].map((dy) => ({ x: p.x + dx, y: p.y + dy })));
      const covered = plates.filter((q) => Math.abs(q.x - p.x) < 60 + plate.width / 2 && Math.abs(q.y - p.y) < 18 + plate.height).length;
      const foreign = others.reduce((n, o) => n + box.filter((b) => inHull(o, b)).length, 0);
      const score = covered * 40 + foreign * 6 + side * 30 + Math.abs(p.x - middle) * 0.05;
      if (score < least) {
        least = score;
        best = p;
      }
    }
  });
  return best;
}

/** A spot near the middle with no plate and no line on it, for the backbone's name: on its own ground, if there is room. */
export function freeSpot(
  points: readonly Point[],
  plates: readonly { readonly at: Point; readonly half: Point }[],
  centre: Point,
  corners: readonly Point[],
  others: readonly (readonly Point[])[] = [],
): Point {
  let best = centre;
  let score = -Infinity;
  const far = (axis: 'x' | 'y', least: number): number =>
    Math.min(2 * least, Math.max(least, ...corners.map((c) => Math.abs(c[axis] - centre[axis]))));
  const [wide, high] = [far('x', 180), far('y', 150)];
  for (let dx = -wide; dx <= wide; dx += 12)
    for (let dy = -high; dy <= high; dy += 10) {
      const p = { x: centre.x + dx, y: centre.y + dy };
      const clear = Math.min(...points.map((q) => Math.max(Math.abs(q.x - p.x) / 1.9, Math.abs(q.y - p.y))));
      const off = [-52, 52]
        .flatMap((x) => [-16, 8].map((y) => ({ x: p.x + x, y: p.y + y })))
        .filter((q) => !inHull(corners, q) || others.some((o) => inHull(o, q))).length;
      const on = plates.filter((q) => Math.abs(q.at.x - p.x) < q.half.x + 42 && Math.abs(q.at.y - (p.y - 5)) < q.half.y + 10).length;
      const s = Math.min(clear, 40) - Math.hypot(dx, dy) * 0.05 - off * 8 - on * 60;
      if (s > score) {
        score = s;
        best = p;
      }
    }
  return best;
}
