import { roomFor, type Room } from './apart';
import type { Sector } from './sectors';
import type { Point } from './shapes';

/** The rings stand a little wider than high, as windows are. */
export const stretch: Point = { x: 1.08, y: 0.96 };

/** How far apart two plates must stand along the ring at an angle, so that they do not touch. */
export const stepAt = (angle: number, room: Room): number => Math.min(room.x / Math.abs(Math.sin(angle)), room.y / Math.abs(Math.cos(angle))) * 1.04;
/** How far apart two rings must be. */
const ringAt = (angle: number, room: Room): number =>
  Math.max(room.y, Math.min(room.x, room.x / Math.abs(Math.cos(angle)), room.y / Math.abs(Math.sin(angle))));

/** A part of the chart as seen from its middle: the angle it looks at, and how far it opens to each side. */
export interface Wedge {
  readonly centre: number;
  readonly half: number;
}

/**
 * Fills a wedge with rows of plates from a radius on: a row that is too long for its ring goes on in the next. As every
 * plate stays within the wedge, and a wedge is convex, the grounds of two areas do not cover one another.
 */
export function fillWedge(
  rows: readonly (readonly string[])[],
  wedge: Wedge,
  from: number,
  room: Room,
  put: (id: string, angle: number, r: number) => void,
): void {
  const { centre, half } = wedge;
  const ring = ringAt(centre, room);
  let r = from;
  for (const row of rows) {
    for (let next = 0; next < row.length;) {
      const angles = [0];
      for (let at = -half; next + angles.length < row.length;) {
        at += stepAt(centre + at, room) / r;
        if (at > half) break;
        angles.push(at + half);
      }
      const span = angles.at(-1) ?? 0;
      const wide = span === 0 ? 1 : Math.min((2 * half) / span, 1.9);
      angles.forEach((a, i) => {
        const off = (a - span / 2) * wide;
        // Towards the sides of a wide wedge a ring would run back behind the straight coast: it is bent outward there.
        put(row[next + i] ?? '', centre + off, Math.max(r, from / Math.cos(off)));
      });
      next += angles.length;
      r += next < row.length ? ring : Math.max(ring, 100);
    }
  }
}

/** How the ring around the backbone is divided: its radius, and the angle that each area gets. */
interface Ring {
  readonly radius: number;
  /** Angles that the areas look at from the middle, and how far each opens. */
  readonly wedges: readonly { readonly centre: number; readonly width: number }[];
}

/**
 * Divides the ring so that the border routers of each area fit side by side in front of it, and each area has room by its
 * size. Plates are wider than high: at the sides of the chart an area needs less of the ring than above and below.
 */
export function divideRing(around: readonly Sector[], inner: number, spare: Room, folded: boolean): Ring {
  const least = Math.max(around.length === 0 ? 60 : 190, 60 + 34 * Math.sqrt(inner) * 1.6);
  const total = around.reduce((n, s) => n + s.weight, 0) || 1;
  // By size alone, and then a few times by what is needed where an area has come to lie.
  const [bySize, byNeed] = folded ? [0.1, 0.9] : [0.55, 0.45];
  let widths = around.map((s) => (s.weight / total) * 2 * Math.PI);
  let radius = least;
  for (let round = 0; round < 12; round++) {
    const centres = centresOf(widths);
    const needs = around.map((s, n) => {
      const step = stepAt(centres[n] ?? 0, roomFor(s.borders, spare)) * 1.08;
      return Math.max(1, s.borders.length) * step;
    });
    const all = needs.reduce((a, b) => a + b, 0) || 1;
    widths = around.map((s, n) => 2 * Math.PI * (bySize * (s.weight / total) + byNeed * ((needs[n] ?? 0) / all)));
    radius = Math.max(least, ...needs.map((need, n) => need / Math.min((widths[n] ?? 1) * 1.02, 2.4)));
  }
  const centres = centresOf(widths);
  return { radius, wedges: widths.map((width, n) => ({ width, centre: centres[n] ?? 0 })) };
}

/** Angles of the middles of wedges that follow one another, the first above on the left. */
function centresOf(widths: readonly number[]): number[] {
  let at = -Math.PI * 0.75 - (widths[0] ?? 0) / 2;
  return widths.map((w) => {
    at += w;
    return at - w / 2;
  });
}
