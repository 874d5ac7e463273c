import type { DesignView, PairView, SegmentView } from '../model/view';
import { plate, type Point } from './layout';

/** One line of the chart. */
export interface Drawn {
  readonly segment: SegmentView;
  readonly from: Point;
  readonly to: Point;
  readonly pair: PairView | undefined;
  /** Member of a LAN that this line leads to. */
  readonly member: string | undefined;
}

/** Where a line from the middle of a plate leaves it. */
export function edgeOfPlate(from: Point, to: Point, w = plate.width / 2, h = plate.height / 2): Point {
  const [dx, dy] = [to.x - from.x, to.y - from.y];
  if (dx === 0 && dy === 0) return from;
  const k = Math.min(Math.abs(w / (dx || 1e-9)), Math.abs(h / (dy || 1e-9)));
  return { x: from.x + dx * k, y: from.y + dy * k };
}

/** Every line of the chart: a cable, or the way from a router to its LAN. */
export function linesOf(view: DesignView): Drawn[] {
  const pairOn = new Map<number, PairView>();
  for (const p of view.pairs) if (!pairOn.has(p.segment)) pairOn.set(p.segment, p);
  const { routers, lans } = view.layout;
  return view.segments.flatMap((s): Drawn[] => {
    const bar = lans[s.index];
    if (bar) {
      return s.members.flatMap((m) => {
        const p = routers[m.router];
        return p
          ? [{ segment: s, from: p, to: { x: Math.max(bar.x - 40, Math.min(bar.x + 40, p.x)), y: bar.y }, pair: undefined, member: m.router }]
          : [];
      });
    }
    const [a, b] = s.members;
    const [pa, pb] = [routers[a?.router ?? ''], routers[b?.router ?? '']];
    return pa && pb ? [{ segment: s, from: pa, to: pb, pair: pairOn.get(s.index), member: undefined }] : [];
  });
}
