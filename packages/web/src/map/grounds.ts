import { plate, type Point } from './shapes';

/** Convex hull, counter-clockwise (Andrew's monotone chain). */
export function convexHull(points: readonly Point[]): Point[] {
  const ps = [...points].sort((a, b) => a.x - b.x || a.y - b.y);
  if (ps.length < 3) return ps;
  const cross = (o: Point, a: Point, b: Point): number => (a.x - o.x) * (b.y - o.y) - (a.y - o.y) * (b.x - o.x);
  const half = (list: readonly Point[]): Point[] => {
    const out: Point[] = [];
    for (const p of list) {
      for (;;) {
        const [a, b] = [out.at(-2), out.at(-1)];
        if (!a || !b || cross(a, b, p) > 0) break;
        out.pop();
      }
      out.push(p);
    }
    out.pop();
    return out;
  };
  return [...half(ps), ...half([...ps].reverse())];
}

/** A closed smooth line through points (quadratic curves between the middles of the sides). */
function smooth(points: readonly Point[]): string {
  const n = points.length;
  const mid = (i: number): Point => {
    const a = points[i % n] ?? { x: 0, y: 0 };
    const b = points[(i + 1) % n] ?? a;
    return { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
  };
  const f = (p: Point): string => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`;
  let out = `M ${f(mid(n - 1))}`;
  points.forEach((p, i) => (out += ` Q ${f(p)} ${f(mid(i))}`));
  return `${out} Z`;
}

/** A place on a ground: `half` is how far the ground reaches beyond it to each side. */
export interface Footing {
  readonly at: Point;
  readonly half: Point;
}

/** Routers of the inside stand well within the shore; the coast runs through the plates of border routers. */
export const inland: Point = { x: plate.width / 2 + 22, y: plate.height / 2 + 22 };
export const onCoast: Point = { x: plate.width * 0.36, y: plate.height * 0.62 };

/** Ground that holds its footings. */
export function groundAround(footings: readonly Footing[]): { path: string; corners: Point[] } {
  const all = footings.flatMap(({ at: p, half: { x: w, y: h } }) => [
    { x: p.x - w, y: p.y - h * 0.55 },
    { x: p.x - w * 0.6, y: p.y - h },
    { x: p.x + w * 0.6, y: p.y - h },
    { x: p.x + w, y: p.y - h * 0.55 },
    { x: p.x + w, y: p.y + h * 0.55 },
    { x: p.x + w * 0.6, y: p.y + h },
    { x: p.x - w * 0.6, y: p.y + h },
    { x: p.x - w, y: p.y + h * 0.55 },
  ]);
  const hull = convexHull(all);
  return { path: smooth(hull), corners: hull };
}
