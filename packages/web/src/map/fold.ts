import type { DesignView, PairView, SegmentView } from '../model/view';
import { edgeOfPlate, linesOf, type Drawn } from './drawn';
import type { LayoutInput, MapLayout } from './layout';
import { plateWidth, type Point, type Size } from './shapes';

/** Campuses with more routers than this open with every area but the backbone folded into one plate. */
export const foldsAbove = 48;
export const foldedSize: Size = { width: 168, height: 62 };

/** Name under which the plate of a folded area has its place; no host name has a space. */
export const plateKey = (area: string): string => `area ${area}`;

/** An area that is folded: what its one plate says. */
export interface FoldedArea {
  readonly area: string;
  readonly type: string;
  readonly prefix: string;
  /** Routers inside, border routers not counted. */
  readonly routers: readonly string[];
  readonly networks: number;
  /** Pairs of neighbours inside that are in trouble. */
  readonly trouble: readonly PairView[];
}

/** All links between a border router and a folded area, drawn as one line. */
export interface Bundle {
  readonly router: string;
  readonly area: string;
  readonly from: Point;
  readonly to: Point;
  readonly pairs: readonly PairView[];
  readonly count: number;
}

/** The chart as it is drawn: where everything stands, and which areas are folded. */
export interface Chart {
  readonly layout: MapLayout;
  readonly areas: readonly FoldedArea[];
  readonly lines: readonly Drawn[];
  readonly bundles: readonly Bundle[];
  /** Where a router stands: its own plate, or that of its folded area. */
  readonly placeOf: (router: string) => Point | undefined;
  /** The folded area that a router is inside of. */
  readonly inside: (router: string) => string | undefined;
}

export type Mapped = Pick<DesignView, 'routers' | 'segments' | 'pairs' | 'areas' | 'layout' | 'places'>;

const sameList = <T>(a: readonly T[], b: readonly T[], same: (x: T, y: T) => boolean): boolean => {
  if (a === b) return true;
  if (a.length !== b.length) return false;
  for (const [i, x] of a.entries()) {
    const y = b[i];
    if (x !== y && (y === undefined || !same(x, y))) return false;
  }
  return true;
};

/** True when two views have the same plan: the same routers in the same areas, joined by the same wires, and placed alike. */
export const samePlaces = (a: Mapped, b: Mapped): boolean =>
  a === b ||
  (a.layout === b.layout &&
    a.places === b.places &&
    sameList(a.routers, b.routers, (x, y) => x.name === y.name && x.areas.join() === y.areas.join()) &&
    sameList(
      a.segments,
      b.segments,
      (x, y) => x.index === y.index && x.kind === y.kind && x.area === y.area && sameList(x.members, y.members, (m, n) => m.router === n.router),
    ));

/** Areas that are folded when nobody has chosen: none of a small campus, all but the backbone of a large one. */
export const foldedAtFirst = (view: Pick<DesignView, 'routers' | 'areas'>): string[] =>
  view.routers.length > foldsAbove ? view.areas.flatMap((a) => (a.id === '0.0.0.0' || a.routers.length < 2 ? [] : [a.id])) : [];

/**
 * True for a segment that stands inside one folded area with all of its members, as most of a large campus do: nothing is
 * drawn of it.
 */
function isWithin(s: SegmentView, inside: (router: string) => string | undefined): boolean {
  const home = inside(s.members[0]?.router ?? '');
  if (home === undefined || (s.area !== null && s.area !== home)) return false;
  for (const m of s.members) if (inside(m.router) !== home) return false;
  return true;
}

/** What the layout is made of when areas are folded: each is one large plate, linked to its border routers. */
export function foldInput(view: Mapped, inside: (router: string) => string | undefined, folded: readonly string[]): LayoutInput {
  const stand = view.routers.filter((r) => inside(r.name) === undefined);
  const inhabited = new Set(view.routers.map((r) => inside(r.name)));
  const links: { id: number; members: string[]; lan: boolean }[] = [];
  const bundled = new Set<string>();
  for (const s of view.segments) {
    if (isWithin(s, inside)) continue;
    const members = s.members.map((m) => m.router);
    // What belongs to a folded area is folded with it, be it a LAN of border routers alone.
    const within = s.area !== null && folded.includes(s.area) ? [plateKey(s.area)] : [];
    const keys = [...new Set([...members.map((m) => (inside(m) === undefined ? m : plateKey(inside(m) ?? ''))), ...within])];
    if (within.length > 0)
      for (const a of keys) {
        const [b = ''] = within;
        if (a === b || bundled.has(`${a} ${b}`)) continue;
        bundled.add(`${a} ${b}`);
        links.push({ id: -1 - links.length, members: [a, b], lan: false });
      }
    else if (keys.length === members.length) links.push({ id: s.index, members, lan: s.kind === 'lan' });
    else
      for (const [i, a] of keys.entries())
        for (const b of keys.slice(i + 1)) {
          if (bundled.has(`${a} ${b}`)) continue;
          bundled.add(`${a} ${b}`);
          links.push({ id: -1 - links.length, members: [a, b], lan: false });
        }
  }
  return {
    routers: [
      ...stand.map((r) => ({ name: r.name, areas: r.areas })),
      ...folded.flatMap((a) => (inhabited.has(a) ? [{ name: plateKey(a), areas: [a], size: foldedSize }] : [])),
    ],
    links,
  };
}

function bundlesOf(view: Mapped, layout: MapLayout, inside: (router: string) => string | undefined, fold: ReadonlySet<string>): Bundle[] {
  const bundled = view.segments.filter((s) => !isWithin(s, inside));
  const pairOn = new Map(bundled.map((s): [number, PairView[]] => [s.index, []]));
  for (const p of view.pairs) pairOn.get(p.segment)?.push(p);
  const out = new Map<string, { router: string; area: string; pairs: PairView[]; count: number }>();
  const add = (s: SegmentView, router: string, area: string): void => {
    const key = `${router} ${area}`;
    const b = out.get(key) ?? { router, area, pairs: [], count: 0 };
    b.count++;
    b.pairs.push(...(pairOn.get(s.index) ?? []).filter((p) => p.a.router === router || p.b.router === router));
    out.set(key, b);
  };
  for (const s of bundled) {
    const areas = new Set([...s.members.flatMap((m) => inside(m.router) ?? []), ...(s.area !== null && fold.has(s.area) ? [s.area] : [])]);
    for (const m of s.members) if (inside(m.router) === undefined) for (const a of areas) add(s, m.router, a);
  }
  return [...out.values()].flatMap((b) => {
    const [from, to] = [layout.routers[b.router], layout.routers[plateKey(b.area)]];
    return from && to
      ? [{ ...b, from: edgeOfPlate(from, to, plateWidth(b.router) / 2), to: edgeOfPlate(to, from, foldedSize.width / 2, foldedSize.height / 2) }]
      : [];
  });
}

type Contents = { routers: string[]; networks: number; trouble: PairView[] };

/** What stands inside each folded area, in one pass over the whole campus. */
function contentsOf(view: Mapped, home: ReadonlyMap<string, string>, fold: ReadonlySet<string>): Map<string, Contents> {
  const out = new Map([...fold].map((area): [string, Contents] => [area, { routers: [], networks: 0, trouble: [] }]));
  for (const [router, area] of home) out.get(area)?.routers.push(router);
  const inside = (router: string): string | undefined => home.get(router);
  for (const s of view.segments) {
    if (isWithin(s, inside)) {
      const own = out.get(inside(s.members[0]?.router ?? '') ?? '');
      if (own) own.networks++;
      continue;
    }
    const touched = new Set(s.members.map((m) => home.get(m.router)));
    touched.add(s.area ?? undefined);
    for (const area of touched) {
      const own = area === undefined ? undefined : out.get(area);
      if (own) own.networks++;
    }
  }
  for (const p of view.pairs)
    if (p.kind === 'trouble')
      for (const area of new Set([home.get(p.a.router), home.get(p.b.router)])) if (area !== undefined) out.get(area)?.trouble.push(p);
  return out;
}

/** What is to be laid out for a chart. */
export interface ChartPlan {
  readonly fold: ReadonlySet<string>;
  /** The folded area that each router inside of one belongs to. */
  readonly home: ReadonlyMap<string, string>;
  /** `undefined` when the view brings its layout with it. */
  readonly input: LayoutInput | undefined;
}

/** What the layout of a whole campus is made of. */
export const wholeInput = (view: Pick<Mapped, 'routers' | 'segments' | 'places'>): LayoutInput => ({
  routers: view.routers.map((r) => ({ name: r.name, areas: r.areas })),
  links: view.segments.map((s) => ({ id: s.index, members: s.members.map((m) => m.router), lan: s.kind === 'lan' })),
  places: Object.fromEntries(view.places.flatMap((p) => (p.folded ? [] : [[p.name, { x: p.x, y: p.y }]]))),
});

/**
 * Plans the chart with some areas folded.
 *
 * @param folded  ids of areas; the backbone never folds
 */
export function planOf(view: Mapped, folded: readonly string[]): ChartPlan {
  const fold = new Set(folded.filter((a) => a !== '0.0.0.0'));
  const home = new Map(
    view.routers.flatMap((r) => (r.areas.length === 1 && fold.has(r.areas[0] ?? '') ? [[r.name, r.areas[0] ?? ''] as const] : [])),
  );
  if (home.size === 0) return { fold, home, input: view.layout ? undefined : wholeInput(view) };
  const places = Object.fromEntries(view.places.flatMap((p) => (p.folded ? [[p.name, { x: p.x, y: p.y }]] : [])));
  return { fold, home, input: { ...foldInput(view, (router) => home.get(router), [...fold]), places } };
}

/** The chart as planned, on its layout. */
export function chartOf(view: Mapped, { fold, home }: ChartPlan, layout: MapLayout): Chart {
  const inside = (router: string): string | undefined => home.get(router);
  const contents = home.size === 0 ? new Map<string, Contents>() : contentsOf(view, home, fold);
  const areas = [...fold].flatMap((area): FoldedArea[] => {
    const own = contents.get(area);
    if (!own || own.routers.length === 0) return [];
    const known = view.areas.find((a) => a.id === area);
    return [{ area, type: known?.type ?? 'normal', prefix: known?.prefix ?? '', ...own }];
  });
  return {
    layout,
    areas,
    lines: linesOf({ pairs: view.pairs, segments: view.segments.filter((s) => s.area === null || !fold.has(s.area)) }, layout),
    bundles: home.size === 0 ? [] : bundlesOf(view, layout, inside, fold),
    placeOf: (router) => layout.routers[inside(router) === undefined ? router : plateKey(inside(router) ?? '')],
    inside,
  };
}
