import type { Point } from './shapes';

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

/** What stands and runs around one place while that is moved. */
interface Surroundings {
  /** Other places that it has no line to; and those that it has. */
  readonly apart: readonly Point[];
  readonly linked: readonly Point[];
  /** Lines that do not move, with their middles. */
  readonly lines: readonly { readonly a: Point; readonly b: Point; readonly mid: Point }[];
}

function surroundings(id: string, places: ReadonlyMap<string, Point>, edges: readonly Edge[]): Surroundings {
  const ends = edges.flatMap((e) => (e.a === id ? [e.b] : e.b === id ? [e.a] : [])).filter((n) => n !== id && places.has(n));
  const near = new Set(ends);
  const at = (names: readonly string[]): Point[] => names.flatMap((n) => places.get(n) ?? []);
  return {
    apart: at([...places.keys()].filter((n) => n !== id && !near.has(n))),
    linked: at(ends),
    lines: edges.flatMap((e) => {
      const [a, b] = [places.get(e.a), places.get(e.b)];
      return a && b && e.a !== id && e.b !== id ? [{ a, b, mid: middle(a, b) }] : [];
    }),
  };
}

/** How untidy the picture is with one place at a point: lines behind plates, crossings, labels on labels, long lines. */
function untidiness(self: Point, { apart, linked, lines }: Surroundings, half: Point, atMost: number): number {
  let score = 0;
  const onPlate = (p: Point): void => {
    const [ox, oy] = [2 * half.x + 16 - Math.abs(p.x - self.x), 2 * half.y + 30 - Math.abs(p.y - self.y)];
    if (ox > 0 && oy > 0) score += 600 + Math.min(ox, oy) * 10;
  };
  for (const p of apart) onPlate(p);
  for (const p of linked) onPlate(p);
  const wide = { x: half.x + 14, y: half.y + 6 };
  for (const l of lines) {
    if (score > atMost) return score;
    if (crossesPlate(l.a, l.b, self, wide)) score += 400;
  }
  const narrow = { x: half.x + 14, y: half.y + 5 };
  linked.forEach((end, n) => {
    if (score > atMost) return;
    const mid = middle(self, end);
    const over = (p: Point, x: number, y: number): boolean => Math.abs(p.x - mid.x) < x && Math.abs(p.y - mid.y) < y;
    score += Math.hypot(self.x - end.x, self.y - end.y) * 0.22;
    for (const p of [self, end]) if (over(p, half.x + 20, half.y + 9)) score += 160;
    for (const p of apart) {
      if (crossesPlate(self, end, p, narrow)) score += 400;
      if (over(p, half.x + 12, half.y + 10)) score += 90;
    }
    linked.forEach((p, m) => {
      if (m === n || p === end) return;
      if (crossesPlate(self, end, p, narrow)) score += 400;
      if (over(p, half.x + 12, half.y + 10)) score += 90;
      if (over(middle(self, p), 26, 18)) score += 260;
    });
    for (const l of lines) {
      if (linesCross(self, end, l.a, l.b)) score += 45;
      if (over(l.mid, 26, 18)) score += 260;
    }
  });
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
      const around = surroundings(id, places, edges);
      let best = start;
      let score = untidiness(start, around, half, Infinity);
      for (let i = -steps; i <= steps; i++)
        for (let j = -steps; j <= steps; j++) {
          const p = { x: (i / steps) * radius.x, y: (j / steps) * radius.y };
          if (Math.hypot(i / steps, j / steps) > 1) continue;
          const s = untidiness(p, around, half, score);
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
