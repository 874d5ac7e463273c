import type { Chart } from './fold';
import type { Drawn } from './drawn';
import type { Point } from './shapes';

/** A stroke over the chart. */
export interface Stroke {
  readonly from: Point;
  readonly to: Point;
}

/** What a stroke crosses: a cable, or the way of one router to its LAN. */
export interface Crossed {
  readonly segment: number;
  readonly member: string | undefined;
}

/** On which side of a line a point is: the sign says it, 0 on the line itself. */
const side = (a: Point, b: Point, p: Point): number => (b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x);

/** Whether two strokes cross; two that lie along each other do not. */
export const cross = (s: Stroke, t: Stroke): boolean =>
  side(s.from, s.to, t.from) * side(s.from, s.to, t.to) < 0 && side(t.from, t.to, s.from) * side(t.from, t.to, s.to) < 0;

/** Every line of a chart that a stroke crosses; of a bundle of lines to a folded area all of them. */
export function crossedBy(stroke: Stroke, { lines, bundles }: Pick<Chart, 'lines' | 'bundles'>): Crossed[] {
  const own = (d: Drawn): Crossed => ({ segment: d.segment.index, member: d.member });
  const out = lines.filter((d) => cross(stroke, { from: d.a, to: d.b })).map(own);
  for (const b of bundles)
    if (cross(stroke, { from: b.from, to: b.to })) for (const p of b.pairs) out.push({ segment: p.segment, member: undefined });
  return [...new Map(out.map((c) => [`${c.segment} ${c.member ?? ''}`, c])).values()];
}
