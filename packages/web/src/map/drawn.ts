import type { DesignView, PairView, SegmentView } from '../model/view';
import type { MapLayout } from './layout';
import { plate, plateWidth, type Point } from './shapes';

/** One line of the chart. */
export interface Drawn {
  readonly segment: SegmentView;
  /** Middles of what it joins. */
  readonly from: Point;
  readonly to: Point;
  /** Where it leaves their plates. */
  readonly a: Point;
  readonly b: Point;
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

/** Every line of the chart: a cable, or the way from a router to its LAN. What stands inside a folded area has none. */
export function linesOf(view: Pick<DesignView, 'pairs' | 'segments'>, { routers, lans }: MapLayout): Drawn[] {
  const pairOn = new Map<number, PairView>();
  for (const p of view.pairs) if (!pairOn.has(p.segment)) pairOn.set(p.segment, p);
  const leaves = (name: string, from: Point, to: Point): Point => edgeOfPlate(from, to, plateWidth(name) / 2);
  return view.segments.flatMap((s): Drawn[] => {
    const bar = lans[s.index];
    if (bar) {
      return s.members.flatMap((m) => {
        const from = routers[m.router];
        if (!from) return [];
        const to = { x: Math.max(bar.x - 40, Math.min(bar.x + 40, from.x)), y: bar.y };
        return [{ segment: s, from, to, a: leaves(m.router, from, to), b: to, pair: undefined, member: m.router }];
      });
    }
    const [a, b] = s.members;
    if (!a || !b) return [];
    const [from, to] = [routers[a.router], routers[b.router]];
    if (!from || !to) return [];
    return [{ segment: s, from, to, a: leaves(a.router, from, to), b: leaves(b.router, to, from), pair: pairOn.get(s.index), member: undefined }];
  });
}
