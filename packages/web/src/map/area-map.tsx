'use client';

import { areaTint } from '../parts/area-tint';
import { useDeferredValue, useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { fileName, save } from '../parts/save';
import { placeOnMap } from '../model/history';
import { useStore } from '../model/state';
import { fold } from '../model/panes';
import type { DesignView, PairView } from '../model/view';
import { endsOf, type Drawn } from './drawn';
import { focusWhenDrawn } from '../parts/focus';
import { areaName } from '../parts/words';
import { mapAsSvg } from './export-svg';
import { FarName } from './far-name';
import { FarSheet, inSight, outlinedAbove } from './far-sheet';
import { foldedAtFirst, foldedSize, plateKey } from './fold';
import { useChart } from './use-chart';
import { placeLabels } from './labels';
import { plate, plateWidth, type Point } from './shapes';
import { lineWords, underPlate, type Shows } from './map-words';
import { AreaPlate, BundleLine, Graticule, LanBar, Line, Plate, type Way } from './map-marks';
import { MapTools, type Found } from './map-tools';
import { Moving, useGrip } from './use-grip';
import { useKnife, type Knife } from './use-knife';
import { useSheet } from './use-sheet';

export interface AreaMapProps {
  readonly view: DesignView;
  readonly router: string | undefined;
  readonly segment: number | undefined;
  readonly onRouter: (name: string) => void;
  readonly onSegment: (index: number) => void;
  readonly onNothing?: () => void;
  /** What the mouse points at, or the keyboard stands on. */
  readonly onPoint?: (at: Pointed | undefined) => void;
  /** A router or segment that was searched for, where finding it is choosing it. */
  readonly onFound?: (found: Found) => void;
  /** Routers that are gone and pairs that are down by a failure. */
  readonly goneRouters?: ReadonlySet<string>;
  readonly downPairs?: ReadonlySet<string>;
  /** Segments that others lead than the design says, in words. */
  readonly leaders?: ReadonlyMap<number, string>;
  /** Routers whose tables change, with a word to show. */
  readonly marks?: ReadonlyMap<string, string>;
  /** Whether the mark of a router says what is so, and is no alarm. */
  readonly calm?: (router: string) => boolean;
  /** What those that stand out do, where an area is folded. */
  readonly litWords?: string;
  /** Routers that stand out; all others are drawn faintly. */
  readonly lit?: ReadonlySet<string>;
  /** Lines that a way takes: there, back, or both; a cable by its segment, the way to a LAN by its router too. */
  readonly ways?: ReadonlyMap<string, Way>;
  /** Lines and LANs that are single points of failure, keyed as ways are; a whole LAN by its segment. */
  readonly points?: ReadonlySet<string>;
  /** Numbers of shared risks on lines, keyed as ways are, and on routers by name. */
  readonly risks?: ReadonlyMap<string, string>;
  /** A drag cuts what it crosses, instead of moving the sheet. */
  readonly knife?: Knife | undefined;
  readonly onTables?: () => void;
  readonly hint: string;
}

/** A link, LAN or router that is pointed at. */
export interface Pointed {
  readonly segment?: number;
  readonly router?: string;
}

/** What an element of the map stands for. */
function pointedAt(target: EventTarget): Pointed | undefined {
  const { segment, router } = target instanceof Element ? (target.closest<SVGElement>('[data-segment], [data-router]')?.dataset ?? {}) : {};
  return segment !== undefined ? { segment: Number(segment) } : router !== undefined ? { router } : undefined;
}

const tint = (view: DesignView, area: string): number => areaTint(view.areas, area);

const letters = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ';

/** Letters of the pairs in trouble, in the order of the findings; the same here and in every list. */
export function troubleLetters(view: DesignView): Map<string, string> {
  const place = new Map(view.findings.map((f, i) => [f.id, i]));
  const rank = (p: PairView): number => place.get(p.finding ?? '') ?? place.size;
  const pairs = view.pairs.filter((p) => p.kind === 'trouble').sort((a, b) => rank(a) - rank(b));
  return new Map(pairs.map((p, i) => [p.id, letters[i] ?? String(i + 1)]));
}

/** A line of the chart: a cable by its segment, the way to a LAN by its router too. */
const lineKey = (d: Drawn): string => (d.member === undefined ? String(d.segment.index) : `${d.segment.index} ${d.member}`);

/** One letter, and a mark where there are more. */
const letterOn = (all: readonly string[]): string | undefined => (all.length > 1 ? `${all[0] ?? ''}+` : all[0]);

/** The router next to another in a direction, for moving over the map by arrow keys. */
function neighbourInDirection(points: Readonly<Record<string, Point>>, from: string, key: string): string | undefined {
  const at = points[from];
  if (!at) return undefined;
  const [ux, uy] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[key] ?? [0, 0];
  let best: string | undefined;
  let score = Infinity;
  for (const [name, p] of Object.entries(points)) {
    const [dx, dy] = [p.x - at.x, p.y - at.y];
    const along = dx * (ux ?? 0) + dy * (uy ?? 0);
    if (name === from || along <= 4) continue;
    const across = Math.abs(dx * (uy ?? 0)) + Math.abs(dy * (ux ?? 0));
    const s = along + across * 2.2;
    if (s < score) {
      score = s;
      best = name;
    }
  }
  return best;
}

/** How many routers of a folded area stand out; that none holds an advertisement is worth a word, that none is on a way is not. */
const litMark = (n: number, of: number, words: string | undefined): string | undefined =>
  words === undefined ? `${n} of ${of} hold it` : n > 0 ? `${n} of ${of} ${words}` : undefined;

/** The corners of what is found on the chart, with room around it. */
function around(points: readonly Point[], room: number): [Point, Point] {
  const of = (axis: 'x' | 'y'): number[] => points.map((p) => p[axis]);
  return [
    { x: Math.min(...of('x')) - room, y: Math.min(...of('y')) - room },
    { x: Math.max(...of('x')) + room, y: Math.max(...of('y')) + room },
  ];
}

/** The chart: areas as ground, routers as plates, links and LANs between them. */
export function AreaMap(props: AreaMapProps) {
  const { view, router, segment, onRouter, onSegment, goneRouters, downPairs, marks, lit } = props;
  const chosenFolds = useStore((s) => s.folded);
  const [showing, setShowing] = useState<Shows>('costs');
  const folded = chosenFolds ?? foldedAtFirst(view);
  // A fold is laid out behind what one sees.
  const chosenKey = folded.join();
  const foldedKey = useDeferredValue(chosenKey);
  const { chart, settled } = useChart(view, foldedKey);
  const { layout } = chart;
  const isFolded = chart.areas.length > 0;
  const large = Object.keys(layout.routers).length > outlinedAbove;
  const sheet = useSheet(layout.width, layout.height, large, props.knife !== undefined);
  const knife = useKnife(props.knife, chart, sheet.onSheet);
  const underKnife = new Set(knife.crossed.map((c) => (c.member === undefined ? String(c.segment) : `${c.segment} ${c.member}`)));
  const { svg, group, steady, sight } = sheet;
  const outlined = large && sight.far;
  const all = chart.lines;
  // Of a large campus only what one looks at is drawn in full.
  const drawn = useMemo(() => (large ? all.filter((d) => inSight(sight, d.from) || inSight(sight, d.to)) : all), [all, large, sight]);
  const plates = useMemo(
    () =>
      Object.entries(layout.routers).map(([name, at]) => ({
        at,
        half: name.startsWith('area ')
          ? { x: foldedSize.width / 2, y: foldedSize.height / 2 }
          : { x: plateWidth(name) / 2 + 3, y: plate.height / 2 + 3 },
      })),
    [layout],
  );
  const labels = useMemo(() => {
    const taken = [
      ...plates,
      // Router ids stand below the plates.
      ...(showing === 'addresses' ? Object.values(layout.routers).map((at) => ({ at: { x: at.x, y: at.y + 20 }, half: { x: 36, y: 8 } })) : []),
      ...Object.values(layout.lans).map((at) => ({ at: { x: at.x, y: at.y + 8 }, half: { x: 56, y: 14 } })),
    ];
    const wanted = drawn.flatMap((d) => {
      const text = lineWords(d, showing);
      return text === '' ? [] : [{ id: lineKey(d), a: d.a, b: d.b, half: { x: text.length * 3.6 + 6, y: 9 } }];
    });
    const bundles = chart.bundles.map((b) => ({ id: `${b.router} ${b.area}`, a: b.from, b: b.to, half: { x: 22, y: 9 } }));
    // Addresses are long: what has no room is left out, and told.
    return placeLabels([...bundles, ...wanted], taken, showing === 'addresses', [...bundles, ...drawn]);
  }, [drawn, chart.bundles, layout, plates, showing]);
  const trouble = useMemo(() => troubleLetters(view), [view]);
  const under = useMemo(() => underPlate(view, showing), [view, showing]);
  const drop = (key: string, p: Point): void =>
    void placeOnMap([{ name: key, folded: isFolded, at: { x: p.x - layout.centre.x, y: p.y - layout.centre.y } }]);
  const { grip, grab } = useGrip(sheet.onSheet, drop);
  // What the sheet has just come to may be drawn a moment later.
  const focus = (key: string): void => focusWhenDrawn(() => svg.current?.querySelector<SVGGElement>(`[data-plate="${CSS.escape(key)}"]`));
  const [wanted, setWanted] = useState<{ names: readonly string[]; focus: string | undefined; whole: boolean } | undefined>(undefined);
  const unfold = (area: string): void => {
    fold(folded.filter((a) => a !== area));
    // The area that was laid open is brought near enough to read; its first plate takes the focus.
    const names = chart.areas.find((a) => a.area === area)?.routers ?? [];
    setWanted({ names, focus: names[0], whole: true });
  };
  const onKey = (e: KeyboardEvent, key: string): void => {
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    const at = layout.routers[key];
    if (step && e.shiftKey) sheet.pan((step[0] ?? 0) * -60, (step[1] ?? 0) * -60);
    else if (step && e.altKey) {
      if (at) drop(key, { x: at.x + (step[0] ?? 0) * 16, y: at.y + (step[1] ?? 0) * 16 });
    } else if (step) {
      const next = neighbourInDirection(layout.routers, key, e.key);
      if (next !== undefined) {
        // Where a router is taken down by choosing it, walking past it must not.
        if (props.onFound && !next.startsWith('area ')) onRouter(next);
        focus(next);
      }
    } else if (e.key === 'Enter' || e.key === ' ') {
      if (key.startsWith('area ')) unfold(key.slice(5));
      else onRouter(key);
    } else if (e.key === 'Escape') props.onNothing?.();
    else if (e.key === '+' || e.key === '=') sheet.by(1.25);
    else if (e.key === '-') sheet.by(0.8);
    else if (e.key === '0') sheet.fit();
    else return;
    e.preventDefault();
  };
  const found = (f: Found): void => {
    if (f.kind === 'area') {
      const ground = layout.grounds.find((g) => g.area === f.area);
      if (ground) sheet.zoomOver(...around(ground.corners, 40));
      return;
    }
    const names = f.kind === 'router' ? [f.router] : f.routers;
    // What stands inside a folded area is unfolded to be seen.
    const hidden = new Set(names.flatMap((n) => chart.inside(n) ?? []));
    if (hidden.size > 0) fold(folded.filter((a) => !hidden.has(a)));
    props.onFound?.(f);
    setWanted({ names, focus: f.kind === 'router' ? f.router : undefined, whole: false });
  };
  const met = useRef<object | undefined>(undefined);
  useEffect(() => {
    const points = (wanted?.names ?? []).flatMap((n) => layout.routers[n] ?? []);
    if (!wanted || met.current === wanted || points.length === 0 || !settled || chosenKey !== foldedKey) return;
    met.current = wanted;
    const [from, to] = around(points, 0);
    if (wanted.whole) sheet.zoomOver(...around(points, 130));
    else sheet.zoomTo({ x: (from.x + to.x) / 2, y: (from.y + to.y) / 2 });
    if (wanted.focus !== undefined) focus(wanted.focus);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- a wish is met once, on the chart that holds it
  }, [wanted, layout, settled, chosenKey === foldedKey]);
  const keys = Object.keys(layout.routers);
  const tabStop = router !== undefined && layout.routers[router] ? router : keys[0];
  const countDown = (list: readonly PairView[]): number => list.filter((p) => downPairs?.has(p.id)).length;
  const lettersOf = (list: readonly PairView[]): string[] => list.flatMap((p) => trouble.get(p.id) ?? []).sort();
  return (
    <div className="relative min-h-0 flex-1 overflow-hidden bg-water">
      <svg
        ref={svg}
        className={`map-sheet absolute top-0 left-0 h-full w-full touch-none select-none ${props.knife ? 'cursor-crosshair' : ''}`}
        role="group"
        aria-label={props.hint}
        onClick={() => props.onNothing?.()}
        onPointerDownCapture={knife.begin}
        onPointerOver={(e) => props.onPoint?.(pointedAt(e.target))}
        onPointerLeave={() => props.onPoint?.(undefined)}
        onFocus={(e) => props.onPoint?.(pointedAt(e.target))}
      >
        <Graticule />
        <g ref={group}>
          {sheet.ready && (
            <>
              {layout.grounds.map((g) => {
                const t = tint(view, g.area);
                return (
                  <g key={g.area}>
                    <path d={g.path} fill={`var(--land-${t})`} stroke={`var(--coast-${t})`} strokeWidth={1.3} />
                    <path d={g.path} fill="none" stroke={`var(--coast-${t})`} strokeOpacity={0.18} strokeWidth={6} />
                  </g>
                );
              })}
              {chart.bundles.map((b) => (
                <BundleLine
                  key={`${b.router} ${b.area}`}
                  b={b}
                  at={labels.get(`${b.router} ${b.area}`)}
                  letters={lettersOf(b.pairs.filter((p) => p.kind === 'trouble'))}
                  down={countDown(b.pairs)}
                />
              ))}
              {drawn.map((d) => (
                <Line
                  key={lineKey(d)}
                  d={d}
                  at={labels.get(lineKey(d))}
                  chosen={segment === d.segment.index || underKnife.has(lineKey(d))}
                  single={props.points?.has(lineKey(d)) ?? false}
                  risks={props.risks?.get(lineKey(d))}
                  label={showing === 'addresses' && !labels.has(lineKey(d)) ? '' : lineWords(d, showing)}
                  quiet={
                    showing === 'trouble' ||
                    (props.ways !== undefined && !props.ways.has(lineKey(d))) ||
                    (lit !== undefined && !endsOf(d).every((r) => lit.has(r)))
                  }
                  letter={letterOn(lettersOf(d.trouble))}
                  down={downPairs}
                  gone={goneRouters}
                  way={props.ways?.get(lineKey(d))}
                  view={view}
                  onSegment={onSegment}
                />
              ))}
              {outlined && <FarSheet layout={layout} drawn={all} down={downPairs} onRouter={onRouter} />}
              {view.segments.map((s) => {
                const bar = layout.lans[s.index];
                return bar && (!large || inSight(sight, bar)) ? (
                  <LanBar
                    key={s.index}
                    s={s}
                    at={bar}
                    plates={plates}
                    ends={s.members.flatMap((m) => layout.routers[m.router] ?? [])}
                    chosen={segment === s.index || (props.points?.has(String(s.index)) ?? false)}
                    words={showing === 'addresses' ? s.subnets[0] : undefined}
                    leader={props.leaders?.get(s.index)}
                    onSegment={onSegment}
                  />
                ) : null;
              })}
              {layout.grounds.map((g) => {
                const a = view.areas.find((x) => x.id === g.area);
                const t = tint(view, g.area);
                if (chart.areas.some((x) => x.area === g.area)) return null;
                return (
                  <g key={g.area} className="map-near pointer-events-none" fill={`var(--name-${t})`} textAnchor={g.anchor}>
                    <text x={g.label.x} y={g.label.y} className="font-serif italic" fontSize={17}>
                      {areaName(g.area)}
                      {a && a.type !== 'backbone' && a.type !== 'normal' ? ` · ${a.type}` : ''}
                    </text>
                    {a && (a.name !== '' || a.prefix !== '') && (
                      <text x={g.label.x} y={g.label.y + 15} fontSize={11.5}>
                        {a.name}
                        <tspan className="font-mono" dx={a.name === '' ? 0 : 7}>
                          {a.prefix}
                        </tspan>
                      </text>
                    )}
                  </g>
                );
              })}
              {view.routers.map((r) => {
                const at = layout.routers[r.name];
                if (!at || (large && !inSight(sight, at) && r.name !== router && r.name !== tabStop)) return null;
                return (
                  <Plate
                    key={r.name}
                    name={r.name}
                    at={at}
                    border={r.border}
                    says={`${r.name}${r.border ? ', border router' : ''}, ${r.areas.map(areaName).join(' and ') || 'no OSPF'}`}
                    chosen={router === r.name}
                    gone={goneRouters?.has(r.name) ?? false}
                    risks={props.risks?.get(r.name)}
                    calm={props.calm?.(r.name) ?? false}
                    faint={lit !== undefined && !lit.has(r.name)}
                    mark={marks?.get(r.name) ?? (showing === 'trouble' ? under.get(r.name) : undefined)}
                    under={showing === 'addresses' ? under.get(r.name) : undefined}
                    tabIndex={tabStop === r.name ? 0 : -1}
                    onPick={() => onRouter(r.name)}
                    onKey={(e) => onKey(e, r.name)}
                    onGrab={(e) => grab(e, r.name)}
                  />
                );
              })}
              {chart.areas.map((f) => {
                const at = layout.routers[plateKey(f.area)];
                if (!at) return null;
                const changed = f.routers.filter((r) => marks?.has(r) && !goneRouters?.has(r)).length;
                return (
                  <AreaPlate
                    key={f.area}
                    folded={f}
                    at={at}
                    name={areaName(f.area)}
                    tint={tint(view, f.area)}
                    chosen={router !== undefined && f.routers.includes(router) ? router : undefined}
                    down={f.routers.filter((r) => goneRouters?.has(r)).length}
                    mark={
                      lit
                        ? litMark(f.routers.filter((r) => lit.has(r)).length, f.routers.length, props.litWords)
                        : changed > 0
                          ? `${changed} marked`
                          : undefined
                    }
                    letters={lettersOf(f.trouble)}
                    tabIndex={tabStop === plateKey(f.area) ? 0 : -1}
                    onUnfold={() => unfold(f.area)}
                    onKey={(e) => onKey(e, plateKey(f.area))}
                    onGrab={(e) => grab(e, plateKey(f.area))}
                  />
                );
              })}
            </>
          )}
          <g ref={steady}>
            {sheet.ready && !isFolded && view.areas.map((a) => <FarName key={a.id} area={a} layout={layout} tint={tint(view, a.id)} />)}
          </g>
          {grip && <Moving grip={grip} chart={chart} />}
          {knife.stroke && (
            <line
              className="pointer-events-none"
              data-knife
              x1={knife.stroke.from.x}
              y1={knife.stroke.from.y}
              x2={knife.stroke.to.x}
              y2={knife.stroke.to.y}
              stroke="var(--accent)"
              strokeWidth={2}
              strokeDasharray="2 5"
              strokeLinecap="round"
            />
          )}
        </g>
      </svg>
      <MapTools
        view={view}
        folded={folded}
        showing={showing}
        onShow={setShowing}
        onFound={found}
        onBy={sheet.by}
        onFit={sheet.fit}
        drawn={sheet.ready && settled}
        onSvg={() => {
          if (svg.current) save(`${fileName(view.name)}-map.svg`, mapAsSvg(svg.current, layout.width, layout.height, !outlined), 'image/svg+xml');
        }}
        onTables={props.onTables}
        leftOut={showing === 'addresses' ? drawn.filter((d) => lineWords(d, showing) !== '' && !labels.has(lineKey(d))).length : 0}
        moved={view.places.filter((p) => p.folded === isFolded).map((p) => p.name)}
        onPlaceAgain={() => void placeOnMap(view.places.filter((p) => p.folded === isFolded).map((p) => ({ name: p.name, folded: p.folded })))}
      />
    </div>
  );
}
