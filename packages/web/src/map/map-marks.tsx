'use client';

import { halfBar, lanLabel } from './lan-label';
import type { KeyboardEvent, PointerEvent } from 'react';
import type { DesignView, SegmentView } from '../model/view';
import type { Drawn } from './drawn';
import { costWords } from './map-words';
import { foldedSize, type Bundle, type FoldedArea } from './fold';
import { plate, plateWidth, type Point } from './shapes';

export function Graticule() {
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

/** Which way packets take a line. */
export type Way = 'there' | 'back' | 'both';

interface LineProps {
  readonly d: Drawn;
  /** Where its label or letter stands. */
  readonly at: Point | undefined;
  readonly chosen: boolean;
  /** Its loss alone cuts something off. */
  readonly single: boolean;
  /** Numbers of the shared risks that it is part of. */
  readonly risks: string | undefined;
  /** What is written on it. */
  readonly label: string;
  /** Drawn faintly, so that trouble stands out. */
  readonly quiet: boolean;
  readonly letter: string | undefined;
  readonly down: ReadonlySet<string> | undefined;
  readonly gone: ReadonlySet<string> | undefined;
  readonly way?: Way | undefined;
  readonly view: DesignView;
  readonly onSegment: (index: number) => void;
}

export function Line({ d, at, chosen, single, risks, label, quiet, letter, down, gone, way, view, onSegment }: LineProps) {
  const { a, b } = d;
  const mid = at ?? { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
  const lost = d.pair
    ? (down?.has(d.pair.id) ?? false)
    : (gone?.has(d.member ?? '') ?? false) ||
      (view.pairs.some((p) => p.segment === d.segment.index) &&
        view.pairs
          .filter((p) => p.segment === d.segment.index && (p.a.router === d.member || p.b.router === d.member) && p.kind !== 'trouble')
          .every((p) => down?.has(p.id)) &&
        (down?.size ?? 0) > 0);
  const apart = letter !== undefined || d.alike;
  const loud = apart || lost || chosen;
  const words = `${d.segment.kind === 'lan' ? 'LAN' : 'link'} ${d.segment.members.map((m) => m.router).join(' to ')}, ${d.pair?.word ?? ''}${[
    ...d.segment.subnets,
    costWords(d.segment),
  ]
    .filter(Boolean)
    .map((w, n, all) => `, ${n === all.length - 1 && costWords(d.segment) !== '' ? 'cost ' : ''}${w}`)
    .join('')}${single ? ', a single point of failure' : ''}`;
  const half = label.length * 3.6 + 5;
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
      {single && !lost && (
        <line data-single x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke="var(--accent)" strokeOpacity={0.28} strokeWidth={9} strokeLinecap="round" />
      )}
      {way !== undefined && (
        <line
          data-way={way}
          x1={a.x}
          y1={a.y}
          x2={b.x}
          y2={b.y}
          stroke="var(--ink)"
          strokeOpacity={way === 'back' ? 0.75 : 0.9}
          strokeWidth={way === 'back' ? 3.4 : 4.2}
          strokeLinecap="round"
          strokeDasharray={way === 'back' ? '1 8' : undefined}
        />
      )}
      <line
        x1={a.x}
        y1={a.y}
        x2={b.x}
        y2={b.y}
        stroke={loud ? 'var(--accent)' : quiet ? 'var(--rule)' : 'var(--ink-2)'}
        strokeWidth={chosen ? 2.6 : apart || lost ? 1.8 : 1.1}
        strokeDasharray={apart || lost ? '6 5' : undefined}
      />
      {lost && (
        <g stroke="var(--accent)" strokeWidth={2.2}>
          <line x1={mid.x - 6} y1={mid.y - 6} x2={mid.x + 6} y2={mid.y + 6} />
          <line x1={mid.x + 6} y1={mid.y - 6} x2={mid.x - 6} y2={mid.y + 6} />
        </g>
      )}
      {risks !== undefined && <RiskMark at={{ x: a.x + (b.x - a.x) * 0.24, y: a.y + (b.y - a.y) * 0.24 }} text={risks} />}
      {!lost && letter !== undefined && (
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
      {!lost && !apart && label !== '' && (
        <g className="map-near">
          <rect x={mid.x - half} y={mid.y - 8} width={half * 2} height={16} rx={2} fill="var(--sheet)" fillOpacity={0.92} />
          <text x={mid.x} y={mid.y + 4} textAnchor="middle" className="font-mono" fontSize={11.5} fill="var(--ink-2)">
            {label}
          </text>
        </g>
      )}
    </g>
  );
}

/** A shared risk by its number, as the list has it. */
function RiskMark({ at, text }: { readonly at: Point; readonly text: string }) {
  const half = Math.max(8, text.length * 3.4 + 4);
  return (
    <g data-risk={text}>
      <rect x={at.x - half} y={at.y - 8} width={half * 2} height={16} rx={8} fill="var(--sheet)" stroke="var(--ink)" strokeDasharray="2.5 2" />
      <text x={at.x} y={at.y + 4} textAnchor="middle" className="font-mono" fontSize={11} fill="var(--ink)">
        {text}
      </text>
    </g>
  );
}

export function LanBar({
  s,
  at,
  chosen,
  words,
  leader,
  ends,
  plates,
  onSegment,
}: {
  readonly s: SegmentView;
  /** Written below it instead of its name and who leads. */
  readonly words?: string | undefined;
  /** Who leads in what is shown, where it is somebody else. */
  readonly leader?: string | undefined;
  readonly at: Point;
  /** Everything that its words should not run under. */
  readonly plates: readonly { readonly at: Point; readonly half: Point }[];
  /** Where its routers stand. */
  readonly ends: readonly Point[];
  readonly chosen: boolean;
  readonly onSegment: (i: number) => void;
}) {
  const name = s.members[0]?.iface ?? 'LAN';
  const leading = s.members.filter((m) => m.leads === 'DR').map((m) => m.router);
  const both = leading.length > 1 ? `${leading.join(' and ')} both` : undefined;
  const dr = leader ?? both ?? leading[0];
  // Two that both lead are named in full by the panel: on the map there is no room.
  const said = words ?? (dr === undefined ? name : dr === both ? `${name} · ${leading.length} lead` : `${name} · DR ${dr}`);
  const label = lanLabel(at, ends, said.length * 6.2, plates);
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
      <rect x={at.x - halfBar} y={at.y - 3} width={2 * halfBar} height={6} fill={chosen ? 'var(--accent)' : 'var(--ink)'} />
      <text
        className="map-near"
        x={label.x}
        y={label.y}
        textAnchor={label.anchor}
        fontSize={11.5}
        fill="var(--ink-2)"
        stroke="var(--sheet)"
        strokeWidth={3}
        strokeOpacity={0.75}
        paintOrder="stroke"
      >
        {said}
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
  /** Numbers of the shared risks that it is part of. */
  readonly risks: string | undefined;
  /** Drawn back, so that others stand out. */
  readonly faint?: boolean;
  readonly mark: string | undefined;
  /** The mark is no alarm. */
  readonly calm: boolean;
  /** A second line below the plate: an address. */
  readonly under: string | undefined;
  readonly tabIndex: number;
  readonly onPick: () => void;
  readonly onKey: (e: KeyboardEvent) => void;
  readonly onGrab: (e: PointerEvent) => void;
}

export function Plate({
  name,
  at,
  border,
  says,
  chosen,
  gone,
  risks,
  faint = false,
  mark,
  calm,
  under,
  tabIndex,
  onPick,
  onKey,
  onGrab,
}: PlateProps) {
  const w = plateWidth(name);
  const [x, y, h] = [at.x - w / 2, at.y - plate.height / 2, plate.height];
  return (
    <g
      role="button"
      aria-label={`${says}${gone ? ', down' : ''}${mark ? `, ${mark}` : ''}`}
      aria-pressed={chosen}
      tabIndex={tabIndex}
      data-router={name}
      data-plate={name}
      className="cursor-pointer outline-offset-4"
      onPointerDown={onGrab}
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
          stroke={chosen ? 'var(--accent)' : faint ? 'var(--rule)' : 'var(--ink)'}
          strokeWidth={1.2}
        />
      )}
      <rect
        x={x}
        y={y}
        width={w}
        height={h}
        rx={2}
        fill={gone ? 'url(#hatch)' : chosen ? 'var(--accent-ground)' : faint ? 'var(--paper)' : 'var(--sheet)'}
        stroke={chosen ? 'var(--accent)' : faint ? 'var(--rule)' : 'var(--ink)'}
        strokeWidth={chosen ? 2 : 1}
        strokeDasharray={gone ? '5 4' : undefined}
      />
      {gone && <rect x={at.x - name.length * 3.6} y={y + 3} width={name.length * 7.2} height={h - 6} fill="var(--sheet)" />}
      <text
        className="map-near"
        x={at.x}
        y={at.y + 4.5}
        textAnchor="middle"
        fontSize={12.5}
        fontWeight={faint ? 400 : 600}
        fill={faint ? 'var(--ink-3)' : 'var(--ink)'}
      >
        {name}
      </text>
      {risks !== undefined && <RiskMark at={{ x: at.x + w / 2, y: at.y - h / 2 - 2 }} text={risks} />}
      {under !== undefined && under !== '' && (
        <text
          className="map-near font-mono"
          x={at.x}
          y={at.y + h / 2 + 13.5}
          textAnchor="middle"
          fontSize={11}
          fill="var(--ink-2)"
          stroke="var(--sheet)"
          strokeWidth={3}
          paintOrder="stroke"
        >
          {under}
        </text>
      )}
      {mark && (
        <text
          x={at.x}
          y={at.y + h / 2 + (under ? 27 : 15)}
          textAnchor="middle"
          fontSize={11.5}
          fill={calm ? 'var(--ink-2)' : 'var(--accent)'}
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

interface AreaPlateProps {
  readonly folded: FoldedArea;
  readonly at: Point;
  readonly name: string;
  readonly tint: number;
  /** The chosen router, when it is inside. */
  readonly chosen: string | undefined;
  readonly down: number;
  readonly mark: string | undefined;
  readonly letters: readonly string[];
  readonly tabIndex: number;
  readonly onUnfold: () => void;
  readonly onKey: (e: KeyboardEvent) => void;
  readonly onGrab: (e: PointerEvent) => void;
}

/** A folded area: one plate with what it is and how much it holds. */
export function AreaPlate({ folded: f, at, name, tint, chosen, down, mark, letters, tabIndex, onUnfold, onKey, onGrab }: AreaPlateProps) {
  const { width: w, height: h } = foldedSize;
  const [x, y] = [at.x - w / 2, at.y - h / 2];
  const type = f.type === 'normal' ? '' : ` · ${f.type}`;
  const loud = f.trouble.length > 0 || down > 0;
  const last =
    down > 0
      ? `${down} down`
      : (mark ?? (letters.length > 0 ? `${letters.slice(0, 6).join(', ')}${letters.length > 6 ? '…' : ''} in trouble` : (chosen ?? '')));
  return (
    <g
      role="button"
      aria-label={`${name}${type}, folded: ${f.routers.length} routers, ${f.networks} networks, ${f.trouble.length} pairs in trouble${chosen === undefined ? '' : `, ${chosen} is inside`}. Enter unfolds it.`}
      tabIndex={tabIndex}
      data-area={f.area}
      data-plate={`area ${f.area}`}
      className="cursor-pointer outline-offset-4"
      onPointerDown={onGrab}
      onClick={(e) => {
        e.stopPropagation();
        onUnfold();
      }}
      onKeyDown={onKey}
    >
      <rect x={x + 4} y={y - 4} width={w} height={h} rx={3} fill="var(--sheet)" stroke={`var(--coast-${tint})`} />
      <rect
        x={x}
        y={y}
        width={w}
        height={h}
        rx={3}
        fill={chosen === undefined ? 'var(--sheet)' : 'var(--accent-ground)'}
        stroke={loud || chosen !== undefined ? 'var(--accent)' : 'var(--ink)'}
        strokeWidth={chosen === undefined ? 1 : 2}
      />
      <g className="map-near">
        <text x={at.x} y={y + 18} textAnchor="middle" className="font-serif italic" fontSize={16} fill={`var(--name-${tint})`}>
          {name}
          {type}
        </text>
        <text x={at.x} y={y + 33} textAnchor="middle" className="font-mono" fontSize={11.5} fill="var(--ink-2)">
          {f.prefix === '' ? `${f.routers.length} routers, ${f.networks} networks` : f.prefix}
        </text>
        <text
          x={at.x}
          y={y + 50}
          textAnchor="middle"
          fontSize={12}
          fill={last === '' || (!loud && mark === undefined) ? 'var(--ink)' : 'var(--accent)'}
        >
          {last === '' ? (f.prefix === '' ? '' : `${f.routers.length} routers, ${f.networks} networks`) : last}
        </text>
      </g>
      <g className="map-small">
        <text
          x={at.x}
          y={y + 29}
          textAnchor="middle"
          className="font-serif italic"
          fontSize={name.length > 11 ? 20 : 28}
          fill={`var(--name-${tint})`}
        >
          {name}
        </text>
        <text x={at.x} y={y + 52} textAnchor="middle" fontSize={21} fill={loud || chosen !== undefined ? 'var(--accent)' : 'var(--ink)'}>
          {down > 0
            ? `${down} down`
            : f.trouble.length > 0
              ? `${f.trouble.length} in trouble`
              : (chosen ?? (f.type === 'normal' ? `${f.routers.length} routers` : f.type))}
        </text>
      </g>
    </g>
  );
}

interface BundleLineProps {
  readonly b: Bundle;
  /** Where its label stands. */
  readonly at: Point | undefined;
  readonly letters: readonly string[];
  readonly down: number;
}

/** All links between a border router and a folded area. */
export function BundleLine({ b, at, letters, down }: BundleLineProps) {
  const { from } = b;
  const mid = at ?? { x: (from.x + b.to.x) / 2, y: (from.y + b.to.y) / 2 };
  const loud = letters.length > 0 || down > 0;
  const text = down > 0 ? `${down} of ${b.count} down` : letters.length > 0 ? letters.slice(0, 3).join(' ') : `×${b.count}`;
  const half = text.length * 3.6 + 5;
  return (
    <g className="pointer-events-none">
      <title>{`${b.count} links of ${b.router}`}</title>
      <line
        x1={from.x}
        y1={from.y}
        x2={b.to.x}
        y2={b.to.y}
        stroke={loud ? 'var(--accent)' : 'var(--ink-2)'}
        strokeWidth={b.count > 1 ? 2.4 : 1.1}
        strokeDasharray={down === b.count ? '6 5' : undefined}
      />
      <g className={loud ? undefined : 'map-near'}>
        <rect x={mid.x - half} y={mid.y - 8} width={half * 2} height={16} rx={2} fill="var(--sheet)" fillOpacity={0.92} />
        <text x={mid.x} y={mid.y + 4} textAnchor="middle" className="font-mono" fontSize={11.5} fill={loud ? 'var(--accent)' : 'var(--ink-2)'}>
          {text}
        </text>
      </g>
    </g>
  );
}
