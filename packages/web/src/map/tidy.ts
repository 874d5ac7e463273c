import type { Point } from './layout';

/** A line between two named places. */
export interface Edge {
  readonly a: string;
  readonly b: string;
}

const cross = (o: Point, a: Point, b: Point): number => (a.x - o.x) * (b.y - o.y) - (a.y - o.y) * (b.x - o.x);

/** True when two lines cross between their ends. */
export function linesCross(a: Point, b: Point, c: Point, d: Point): boolean {
  return cross(a, b, c) * cross(a, b, d) < 0 && cross(c, d, a) * cross(c, d, b) < 0;
}

/** True when a line passes through a plate of the given half size. */
export function crossesPlate(a: Point, b: Point, at: Point, half: Point): boolean {
  let [t0, t1] = [0, 1];
  for (const axis of ['x', 'y'] as const) {
    const d = b[axis] - a[axis];
    const [low, high] = [at[axis] - half[axis] - a[axis], at[axis] + half[axis] - a[axis]];
    if (d === 0) {
      if (low > 0 || high < 0) return false;
      continue;
    }
    const [u, v] = d > 0 ? [low / d, high / d] : [high / d, low / d];
    t0 = Math.max(t0, u);
    t1 = Math.min(t1, v);
    if (t0 > t1) return false;
  }
  return true;
}

const middle = (a: Point, b: Point): Point => ({ x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 });

/** How untidy the picture is around one place: lines behind plates, crossings, labels on labels, long lines. */
function untidiness(id: string, places: ReadonlyMap<string, Point>, edges: readonly Edge[], half: Point): number {
  const self = places.get(id);
  if (!self) return 0;
  let score = 0;
  for (const [other, p] of places) {
    if (other === id) continue;
    const [ox, oy] = [2 * half.x + 16 - Math.abs(p.x - self.x), 2 * half.y + 30 - Math.abs(p.y - self.y)];
    if (ox > 0 && oy > 0) score += 600 + Math.min(ox, oy) * 10;
  }
  const lines = edges.flatMap((e) => {
    const [a, b] = [places.get(e.a), places.get(e.b)];
    return a && b ? [{ e, a, b, mid: middle(a, b) }] : [];
  });
  const own = lines.filter((l) => l.e.a === id || l.e.b === id);
  for (const l of lines) if (l.e.a !== id && l.e.b !== id && crossesPlate(l.a, l.b, self, { x: half.x + 14, y: half.y + 6 })) score += 400;
  for (const l of own) {
    score += Math.hypot(l.a.x - l.b.x, l.a.y - l.b.y) * 0.22;
    for (const [other, p] of places) {
      if (other === l.e.a || other === l.e.b) {
        if (Math.abs(p.x - l.mid.x) < half.x + 20 && Math.abs(p.y - l.mid.y) < half.y + 9) score += 160;
        continue;
      }
      if (crossesPlate(l.a, l.b, p, { x: half.x + 14, y: half.y + 5 })) score += 400;
      if (Math.abs(p.x - l.mid.x) < half.x + 12 && Math.abs(p.y - l.mid.y) < half.y + 10) score += 90;
    }
    for (const m of lines) {
      if (m === l) continue;
      if (linesCross(l.a, l.b, m.a, m.b)) score += 45;
      if (Math.abs(m.mid.x - l.mid.x) < 26 && Math.abs(m.mid.y - l.mid.y) < 18) score += 260;
    }
  }
  return score;
}

/**
 * Moves some places about inside an ellipse until lines run free of plates, labels and each other as far as they can.
 * The same input always gives the same result.
 */
export function tidyInside(movable: readonly string[], places: Map<string, Point>, edges: readonly Edge[], radius: Point, half: Point): void {
  const steps = movable.length > 16 ? 5 : 9;
  for (let round = 0; round < 4; round++) {
    let moved = false;
    for (const id of movable) {
      const start = places.get(id);
      if (!start) continue;
      let best = start;
      let score = untidiness(id, places, edges, half);
      for (let i = -steps; i <= steps; i++)
        for (let j = -steps; j <= steps; j++) {
          const p = { x: (i / steps) * radius.x, y: (j / steps) * radius.y };
          if (Math.hypot(p.x / radius.x, p.y / radius.y) > 1) continue;
          places.set(id, p);
          const s = untidiness(id, places, edges, half);
          if (s < score - 1e-9) {
            score = s;
            best = p;
          }
        }
      places.set(id, best);
      if (best !== start) moved = true;
    }
    if (!moved) return;
  }
}
