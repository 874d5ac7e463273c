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
  /** Pairs in trouble that are shown on this line: of a cable its own, of a LAN those that are this member's. */
  readonly trouble: readonly PairView[];
  /** Of a LAN of two whose pair is in trouble: the other end of it, drawn alike and without a letter. */
  readonly alike: boolean;
}

/** Which member of a LAN a pair in trouble is shown at: the one that has more of it, else the first. */
function troubleAt(member: string, pairs: readonly PairView[]): PairView[] {
  const count = (name: string): number => pairs.filter((p) => p.a.router === name || p.b.router === name).length;
  return pairs.filter((p) => member === (count(p.b.router) > count(p.a.router) ? p.b.router : p.a.router));
}

/** Lines between the same two plates lie side by side. */
const sideBySide = 7;

/** The same line some units to the side. */
function aside(a: Point, b: Point, by: number): [Point, Point] {
  const length = Math.hypot(b.x - a.x, b.y - a.y) || 1;
  const [x, y] = [(-(b.y - a.y) / length) * by, ((b.x - a.x) / length) * by];
  return [
    { x: a.x + x, y: a.y + y },
    { x: b.x + x, y: b.y + y },
  ];
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
  const troubleOn = new Map<number, PairView[]>();
  for (const p of view.pairs) {
    if (!pairOn.has(p.segment)) pairOn.set(p.segment, p);
    if (p.kind === 'trouble') troubleOn.set(p.segment, [...(troubleOn.get(p.segment) ?? []), p]);
  }
  const between = new Map<string, number[]>();
  const endsOf = (s: SegmentView): string =>
    s.members
      .map((m) => m.router)
      .sort()
      .join(' ');
  for (const s of view.segments) if (!lans[s.index] && s.members.length === 2) between.set(endsOf(s), [...(between.get(endsOf(s)) ?? []), s.index]);
  const leaves = (name: string, from: Point, to: Point): Point => edgeOfPlate(from, to, plateWidth(name) / 2);
  return view.segments.flatMap((s): Drawn[] => {
    const bar = lans[s.index];
    if (bar) {
      return s.members.flatMap((m) => {
        const from = routers[m.router];
        if (!from) return [];
        const to = { x: Math.max(bar.x - 40, Math.min(bar.x + 40, from.x)), y: bar.y };
        const all = troubleOn.get(s.index) ?? [];
        const trouble = all.length === 0 ? [] : troubleAt(m.router, all);
        const alike = trouble.length === 0 && s.members.length === 2 && all.length > 0;
        return [{ segment: s, from, to, a: leaves(m.router, from, to), b: to, pair: undefined, member: m.router, trouble, alike }];
      });
    }
    const [a, b] = s.members;
    if (!a || !b) return [];
    const [from, to] = [routers[a.router], routers[b.router]];
    if (!from || !to) return [];
    const beside = between.get(endsOf(s)) ?? [];
    const by = beside.length < 2 ? 0 : (beside.indexOf(s.index) - (beside.length - 1) / 2) * sideBySide * (a.router < b.router ? 1 : -1);
    const [x, y] = aside(leaves(a.router, from, to), leaves(b.router, to, from), by);
    return [{ segment: s, from, to, a: x, b: y, pair: pairOn.get(s.index), member: undefined, trouble: troubleOn.get(s.index) ?? [], alike: false }];
  });
}

/** The routers that a line ends at; of the way to a LAN the one that it belongs to. */
export const endsOf = (d: Drawn): readonly string[] => (d.member === undefined ? d.segment.members.map((m) => m.router) : [d.member]);
