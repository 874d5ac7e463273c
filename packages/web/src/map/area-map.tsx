'use client';

import { select } from 'd3-selection';
import { zoom, zoomIdentity, type ZoomBehavior } from 'd3-zoom';
import { useEffect, useMemo, useRef, type KeyboardEvent, useState } from 'react';
import type { DesignView, PairView, SegmentView } from '../model/view';
import { FarName } from './far-name';
import { areaName } from '../parts/words';
import { placeLabels } from './labels';
import { edgeOfPlate, linesOf, type Drawn } from './drawn';
import { FarSheet, inSight, outlinedAbove, type Sight } from './far-sheet';
import { fileName, save } from '../frame/export-design';
import { mapAsSvg } from './export-svg';
import { plate, plateWidth, type Point } from './layout';

export interface AreaMapProps {
  readonly view: DesignView;
  readonly router: string | undefined;
  readonly segment: number | undefined;
  readonly onRouter: (name: string) => void;
  readonly onSegment: (index: number) => void;
  readonly onNothing?: () => void;
  /** Routers that are gone and pairs that are down by a failure. */
  readonly goneRouters?: ReadonlySet<string>;
  readonly downPairs?: ReadonlySet<string>;
  /** Routers whose tables change, with a word to show. */
  readonly marks?: ReadonlyMap<string, string>;
  readonly hint: string;
}

/** Which tint an area has: by its place in the list of areas. */
const tint = (view: DesignView, area: string): number => {
  const n = view.areas.filter((a) => a.id !== '0.0.0.0').findIndex((a) => a.id === area);
  return area === '0.0.0.0' || n < 0 ? 0 : (n % 8) + 1;
};

const letters = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ';

/** Letters of the pairs in trouble, in the order of the findings; the same here and in every list. */
export function troubleLetters(view: DesignView): Map<string, string> {
  const place = new Map(view.findings.map((f, i) => [f.id, i]));
  const rank = (p: PairView): number => place.get(p.finding ?? '') ?? place.size;
  const pairs = view.pairs.filter((p) => p.kind === 'trouble').sort((a, b) => rank(a) - rank(b));
  return new Map(pairs.map((p, i) => [p.id, letters[i] ?? String(i + 1)]));
}

function costLabel(s: SegmentView): string {
  const costs = s.members.map((m) => m.cost);
  const [a, b] = costs;
  if (a === null || a === undefined) return '';
  return a === b || b === null || b === undefined ? String(a) : `${a} | ${b}`;
}

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

/** Zoom below which the names on plates could not be read. */
const farBelow = 0.5;

/** Fits the sheet into the window, and lets it be moved and zoomed. */
function useSheet(width: number, height: number, large: boolean) {
  const svg = useRef<SVGSVGElement>(null);
  const group = useRef<SVGGElement>(null);
  const behaviour = useRef<ZoomBehavior<SVGSVGElement, unknown> | undefined>(undefined);
  const looking = useRef<number | undefined>(undefined);
  const [sight, setSight] = useState<Sight>({ far: true });
  const fit = (): void => {
    const el = svg.current;
    if (!el || !behaviour.current) return;
    const { clientWidth: w, clientHeight: h } = el;
    const k = Math.min(w / width, h / height, 1.35);
    behaviour.current.transform(select(el), zoomIdentity.translate((w - width * k) / 2, (h - height * k) / 2).scale(k));
  };
  const by = (k: number): void => {
    if (svg.current && behaviour.current) behaviour.current.scaleBy(select(svg.current), k);
  };
  useEffect(() => {
    const el = svg.current;
    if (!el) return;
    const b = zoom<SVGSVGElement, unknown>()
      .scaleExtent([0.12, 4])
      .on('zoom', (e: { transform: { k: number; x: number; y: number; toString: () => string } }) => {
        const g = group.current;
        g?.setAttribute('transform', e.transform.toString());
        g?.style.setProperty('--zoom', String(e.transform.k));
        // Too far off to read names: areas are named large instead, with how many routers they hold.
        g?.toggleAttribute('data-far', e.transform.k < farBelow);
        if (!large) return;
        window.clearTimeout(looking.current);
        const { k, x, y } = e.transform;
        // Half a window more on every side, so that little comes late while one moves.
        const [w, h] = [el.clientWidth, el.clientHeight];
        looking.current = window.setTimeout(() => {
          setSight(
            k < farBelow
              ? { far: true }
              : { far: false, from: { x: (-x - w / 2) / k, y: (-y - h / 2) / k }, to: { x: (1.5 * w - x) / k, y: (1.5 * h - y) / k } },
          );
        }, 60);
      });
    behaviour.current = b;
    select(el).call(b).on('dblclick.zoom', null);
    fit();
    const watch = new ResizeObserver(fit);
    watch.observe(el);
    return () => watch.disconnect();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- a new sheet size is a new fit; fit reads only refs and these two
  }, [width, height, large]);
  return { svg, group, fit, by, sight };
}

/** The chart: areas as ground, routers as plates, links and LANs between them. */
export function AreaMap(props: AreaMapProps) {
  const { view, router, segment, onRouter, onSegment, goneRouters, downPairs, marks } = props;
  const { layout } = view;
  const large = view.routers.length > outlinedAbove;
  const { svg, group, fit, by, sight } = useSheet(layout.width, layout.height, large);
  const all = useMemo(() => linesOf(view), [view]);
  const outlined = large && sight.far;
  // Of a large campus only what one looks at is drawn in full.
  const drawn = useMemo(() => (large ? all.filter((d) => inSight(sight, d.from) || inSight(sight, d.to)) : all), [all, large, sight]);
  const labels = useMemo(() => {
    const plates = [
      ...Object.entries(layout.routers).map(([name, at]) => ({ at, half: { x: plateWidth(name) / 2 + 3, y: plate.height / 2 + 3 } })),
      ...Object.values(layout.lans).map((at) => ({ at: { x: at.x, y: at.y + 8 }, half: { x: 56, y: 14 } })),
    ];
    const wanted = drawn.flatMap((d) => {
      const text = d.member === undefined ? costLabel(d.segment) : '';
      return text === ''
        ? []
        : [{ id: String(d.segment.index), a: edgeOfPlate(d.from, d.to), b: edgeOfPlate(d.to, d.from), half: { x: text.length * 3.6 + 6, y: 9 } }];
    });
    return placeLabels(wanted, plates);
  }, [drawn, layout]);
  const trouble = useMemo(() => troubleLetters(view), [view]);
  const focus = (name: string): void => svg.current?.querySelector<SVGGElement>(`[data-router="${CSS.escape(name)}"]`)?.focus();
  const onKey = (e: KeyboardEvent, name: string): void => {
    if (e.key.startsWith('Arrow')) {
      const next = neighbourInDirection(layout.routers, name, e.key);
      e.preventDefault();
      if (next !== undefined) {
        onRouter(next);
        // Of a large campus the next one may not be drawn yet.
        requestAnimationFrame(() => focus(next));
      }
    } else if (e.key === 'Enter' || e.key === ' ') {
      e.preventDefault();
      onRouter(name);
    } else if (e.key === 'Escape') props.onNothing?.();
    else if (e.key === '+' || e.key === '=') by(1.25);
    else if (e.key === '-') by(0.8);
    else if (e.key === '0') fit();
  };
  const tabStop = router !== undefined && layout.routers[router] ? router : Object.keys(layout.routers)[0];
  return (
    <div className="relative min-h-0 flex-1 overflow-hidden bg-water">
      <svg ref={svg} className="h-full w-full touch-none" role="group" aria-label={props.hint} onClick={() => props.onNothing?.()}>
        <Graticule />
        <g ref={group}>
          {layout.grounds.map((g) => {
            const t = tint(view, g.area);
            return (
              <g key={g.area}>
                <path d={g.path} fill={`var(--land-${t})`} stroke={`var(--coast-${t})`} strokeWidth={1.3} />
                <path d={g.path} fill="none" stroke={`var(--coast-${t})`} strokeOpacity={0.18} strokeWidth={6} />
              </g>
            );
          })}
          {drawn.map((d) => (
            <Line
              key={`${d.segment.index} ${d.member ?? ''}`}
              d={d}
              at={labels.get(String(d.segment.index))}
              chosen={segment === d.segment.index}
              letter={trouble.get(d.pair?.id ?? '')}
              down={downPairs}
              gone={goneRouters}
              view={view}
              onSegment={onSegment}
            />
          ))}
          {outlined && <FarSheet layout={layout} drawn={all} down={downPairs} onRouter={onRouter} />}
          {view.segments.map((s) => {
            const bar = layout.lans[s.index];
            return bar && (!large || inSight(sight, bar)) ? (
              <LanBar key={s.index} s={s} at={bar} chosen={segment === s.index} onSegment={onSegment} />
            ) : null;
          })}
          {layout.grounds.map((g) => {
            const a = view.areas.find((x) => x.id === g.area);
            const t = tint(view, g.area);
            return (
              <g key={g.area} className="map-near pointer-events-none" fill={`var(--name-${t})`} textAnchor={g.anchor}>
                <text x={g.label.x} y={g.label.y} className="font-serif italic" fontSize={17}>
                  {areaName(g.area)}
                  {a && a.type !== 'backbone' && a.type !== 'normal' ? ` · ${a.type}` : ''}
                </text>
                {a?.prefix !== '' && (
                  <text x={g.label.x} y={g.label.y + 15} className="font-mono" fontSize={11.5}>
                    {a?.prefix}
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
                mark={marks?.get(r.name)}
                tabIndex={tabStop === r.name ? 0 : -1}
                onPick={() => onRouter(r.name)}
                onKey={(e) => onKey(e, r.name)}
              />
            );
          })}
          {view.areas.map((a) => (
            <FarName key={a.id} area={a} layout={layout} tint={tint(view, a.id)} />
          ))}
        </g>
      </svg>
      <div className="absolute right-3 bottom-3 flex gap-1">
        <button type="button" className="control" aria-label="Zoom in" onClick={() => by(1.25)}>
          +
        </button>
        <button type="button" className="control" aria-label="Zoom out" onClick={() => by(0.8)}>
          −
        </button>
        <button type="button" className="control" onClick={fit}>
          Fit
        </button>
        <button
          type="button"
          className="control"
          aria-label="Export the map as SVG"
          onClick={() => {
            if (svg.current) save(`${fileName(view.name)}-map.svg`, mapAsSvg(svg.current, layout.width, layout.height), 'image/svg+xml');
          }}
        >
          SVG
        </button>
      </div>
    </div>
  );
}

function Graticule() {
  return (
    <>
      <defs>
        <pattern id="graticule" width="94" height="94" patternUnits="userSpaceOnUse">
          <path d="M 94 0 L 0 0 0 94" fill="none" stroke="var(--graticule)" strokeWidth="1" />
        </pattern>
        <pattern id="hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M 0 0 L 0 6" stroke="var(--ink-3)" strokeWidth="1.4" />
        </pattern>
      </defs>
      <rect width="100%" height="100%" fill="url(#graticule)" />
    </>
  );
}

interface LineProps {
  readonly d: Drawn;
  /** Where its label or letter stands. */
  readonly at: Point | undefined;
  readonly chosen: boolean;
  readonly letter: string | undefined;
  readonly down: ReadonlySet<string> | undefined;
  readonly gone: ReadonlySet<string> | undefined;
  readonly view: DesignView;
  readonly onSegment: (index: number) => void;
}

function Line({ d, at, chosen, letter, down, gone, view, onSegment }: LineProps) {
  const a = edgeOfPlate(d.from, d.to);
  const b = d.member === undefined ? edgeOfPlate(d.to, d.from) : d.to;
  const mid = at ?? { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
  const lost = d.pair
    ? (down?.has(d.pair.id) ?? false)
    : (gone?.has(d.member ?? '') ?? false) ||
      (view.pairs.some((p) => p.segment === d.segment.index) &&
        view.pairs
          .filter((p) => p.segment === d.segment.index && (p.a.router === d.member || p.b.router === d.member) && p.kind !== 'trouble')
          .every((p) => down?.has(p.id)) &&
        (down?.size ?? 0) > 0);
  const apart = letter !== undefined;
  const cost = d.member === undefined ? costLabel(d.segment) : '';
  const loud = apart || lost || chosen;
  const words = `${d.segment.kind === 'lan' ? 'LAN' : 'link'} ${d.segment.members.map((m) => m.router).join(' to ')}, ${d.pair?.word ?? ''}${cost ? `, cost ${cost}` : ''}`;
  const half = cost.length * 3.6 + 5;
  return (
    <g
      className="cursor-pointer"
      onClick={(e) => {
        e.stopPropagation();
        onSegment(d.segment.index);
      }}
      data-segment={d.segment.index}
    >
      <title>{words}</title>
      <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke="transparent" strokeWidth={14} />
      <line
        x1={a.x}
        y1={a.y}
        x2={b.x}
        y2={b.y}
        stroke={loud ? 'var(--accent)' : 'var(--ink-2)'}
        strokeWidth={chosen ? 2.6 : apart || lost ? 1.8 : 1.1}
        strokeDasharray={apart || lost ? '6 5' : undefined}
      />
      {lost && (
        <g stroke="var(--accent)" strokeWidth={2.2}>
          <line x1={mid.x - 6} y1={mid.y - 6} x2={mid.x + 6} y2={mid.y + 6} />
          <line x1={mid.x + 6} y1={mid.y - 6} x2={mid.x - 6} y2={mid.y + 6} />
        </g>
      )}
      {!lost && apart && (
        <g>
          <rect
            x={mid.x - 8.5}
            y={mid.y - 8.5}
            width={17}
            height={17}
            transform={`rotate(45 ${mid.x} ${mid.y})`}
            fill="var(--accent-ground)"
            stroke="var(--accent)"
          />
          <text x={mid.x} y={mid.y + 4} textAnchor="middle" fontSize={11.5} fontWeight={600} fill="var(--accent)">
            {letter}
          </text>
        </g>
      )}
      {!lost && !apart && cost !== '' && (
        <g className="map-near">
          <rect x={mid.x - half} y={mid.y - 8} width={half * 2} height={16} rx={2} fill="var(--sheet)" fillOpacity={0.92} />
          <text x={mid.x} y={mid.y + 4} textAnchor="middle" className="font-mono" fontSize={11.5} fill="var(--ink-2)">
            {cost}
          </text>
        </g>
      )}
    </g>
  );
}

function LanBar({
  s,
  at,
  chosen,
  onSegment,
}: {
  readonly s: SegmentView;
  readonly at: Point;
  readonly chosen: boolean;
  readonly onSegment: (i: number) => void;
}) {
  const name = s.members[0]?.iface ?? 'LAN';
  const dr = s.members.find((m) => m.leads === 'DR')?.router;
  return (
    <g
      className="cursor-pointer"
      onClick={(e) => {
        e.stopPropagation();
        onSegment(s.index);
      }}
      data-segment={s.index}
    >
      <title>{`LAN ${s.subnets.join(', ')}${dr ? `, designated router ${dr}` : ''}`}</title>
      <rect x={at.x - 48} y={at.y - 3} width={96} height={6} fill={chosen ? 'var(--accent)' : 'var(--ink)'} />
      <text
        className="map-near"
        x={at.x}
        y={at.y + 17}
        textAnchor="middle"
        fontSize={11.5}
        fill="var(--ink-2)"
        stroke="var(--sheet)"
        strokeWidth={3}
        strokeOpacity={0.75}
        paintOrder="stroke"
      >
        {name}
        {dr ? ` · DR ${dr}` : ''}
      </text>
    </g>
  );
}

interface PlateProps {
  readonly name: string;
  readonly at: Point;
  readonly border: boolean;
  readonly says: string;
  readonly chosen: boolean;
  readonly gone: boolean;
  readonly mark: string | undefined;
  readonly tabIndex: number;
  readonly onPick: () => void;
  readonly onKey: (e: KeyboardEvent) => void;
}

function Plate({ name, at, border, says, chosen, gone, mark, tabIndex, onPick, onKey }: PlateProps) {
  const w = plateWidth(name);
  const [x, y, h] = [at.x - w / 2, at.y - plate.height / 2, plate.height];
  return (
    <g
      role="button"
      aria-label={`${says}${gone ? ', down' : ''}${mark ? `, ${mark}` : ''}`}
      aria-pressed={chosen}
      tabIndex={tabIndex}
      data-router={name}
      className="cursor-pointer outline-offset-4"
      onClick={(e) => {
        e.stopPropagation();
        onPick();
      }}
      onKeyDown={onKey}
    >
      {border && (
        <rect
          x={x - 3}
          y={y - 3}
          width={w + 6}
          height={h + 6}
          rx={3}
          fill="var(--sheet)"
          stroke={chosen ? 'var(--accent)' : 'var(--ink)'}
          strokeWidth={1.2}
        />
      )}
      <rect
        x={x}
        y={y}
        width={w}
        height={h}
        rx={2}
        fill={gone ? 'url(#hatch)' : chosen ? 'var(--accent-ground)' : 'var(--sheet)'}
        stroke={chosen ? 'var(--accent)' : 'var(--ink)'}
        strokeWidth={chosen ? 2 : 1}
        strokeDasharray={gone ? '5 4' : undefined}
      />
      {gone && <rect x={at.x - name.length * 3.6} y={y + 3} width={name.length * 7.2} height={h - 6} fill="var(--sheet)" />}
      <text className="map-near" x={at.x} y={at.y + 4.5} textAnchor="middle" fontSize={12.5} fontWeight={600} fill="var(--ink)">
        {name}
      </text>
      {mark && (
        <text
          x={at.x}
          y={at.y + h / 2 + 15}
          textAnchor="middle"
          fontSize={11.5}
          fill="var(--accent)"
          stroke="var(--sheet)"
          strokeWidth={3}
          paintOrder="stroke"
        >
          {mark}
        </text>
      )}
    </g>
  );
}
