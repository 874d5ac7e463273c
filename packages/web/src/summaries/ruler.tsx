'use client';

import { covers, formatPrefix, type Prefix } from '@gentle-compass/core/prefix/address';
import { useEffect, useMemo, useRef, useState, type CSSProperties, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react';
import type { LaidText } from '../model/summaries-view';
import { count } from '../parts/words';
import { addressAt, around, beside, drawnTo, ends, freeRoom, halfOf, movedTo, shifted, ticks, usedBy, widened, zoomed, type Span } from './axis';
import { judgedAlone, prefixAt, type Mark, type Space } from './laying';
import { addresses, share } from './summary-words';

/** A row of marks: those of one area, or of what comes from elsewhere. */
export interface Lane {
  readonly key: string;
  readonly name: string;
  readonly tint: number;
  readonly marks: readonly Mark[];
  /** Summaries that stand there. */
  readonly summaries: readonly { readonly prefix: Prefix; readonly text: string }[];
}

const gutter = 124;
const scaleHeight = 26;
const levelHeight = 30;
const ownHeight = 30;
const laneHeight = 20;
const freeHeight = 20;
/** Pixels of a letter of an address. */
const letter = 7;

const percent = (x: number): string => `${(x * 100).toFixed(4)}%`;

/** Where marks are drawn: those of one pixel are one. */
function drawn(
  list: readonly Mark[],
  span: Span,
  width: number,
): { readonly mark: Mark; readonly from: number; readonly to: number; readonly more: number }[] {
  const out: { mark: Mark; from: number; to: number; more: number }[] = [];
  let last = -1;
  for (const mark of list) {
    const [from, to] = ends(span, mark.prefix);
    if (to <= 0 || from >= 1) continue;
    const pixel = Math.floor(from * width);
    const known = out.at(-1);
    if (known && (to - from) * width < 2 && pixel === last) {
      known.more++;
      continue;
    }
    out.push({ mark, from: Math.max(0, from), to: Math.min(1, to), more: 0 });
    last = (to - from) * width < 2 ? pixel : -1;
  }
  return out;
}

/** A bracket as it stands on the ruler: its ends, and the level on which it has room for its name. */
interface Drawn {
  readonly from: number;
  readonly to: number;
  readonly level: number;
}

/** Levels of brackets: each as low as its name finds room. */
export function levelsOf(list: readonly Prefix[], span: Span, width: number): Drawn[] {
  const taken: (readonly [number, number])[][] = [];
  return list.map((p) => {
    const [from, to] = ends(span, p);
    const half = (formatPrefix(p).length * letter) / 2 + 8;
    const middle = Math.min(width - half, Math.max(half, ((Math.max(0, from) + Math.min(1, to)) / 2) * width));
    const [left, right] = [Math.min(from * width, middle - half), Math.max(to * width, middle + half)];
    let level = 0;
    while (taken[level]?.some(([a, b]) => left < b && right > a)) level++;
    (taken[level] ??= []).push([left, right]);
    return { from, to, level };
  });
}

/** What a summary does, in a sentence that is read out. */
export function bracketWords(space: Space, laid: readonly LaidText[], n: number): string {
  const own = laid[n];
  if (!own) return '';
  const c = judgedAlone(space, laid, n);
  const parts = space.parts.length - c.outside.length;
  const foreign =
    c.foreign.length === 0
      ? 'nothing foreign'
      : `${c.foreign.length} foreign: ${c.foreign
          .slice(0, 2)
          .map((f) => formatPrefix(f.prefix))
          .join(', ')}`;
  return `Summary ${own.prefix}: ${count(parts, 'prefix', 'prefixes')}, ${foreign}, ${share(c.needed, c.claimed) || '0%'} of ${addresses(c.claimed)} addresses in use`;
}

/**
 * The address space as a ruler: what lies where, room that is free, and summaries as brackets over what they cover. Brackets
 * and the ruler itself are moved by pointer and by keys.
 */
export function Ruler({
  space,
  lanes,
  span,
  onLook,
  laid,
  onLay,
  at,
  onChoose,
  onAdd,
}: {
  readonly space: Space;
  /** The own one first. */
  readonly lanes: readonly Lane[];
  readonly span: Span;
  readonly onLook: (span: Span) => void;
  readonly laid: readonly LaidText[];
  /** Puts a prefix in the place of the summary at a place of the list; `undefined` takes it away. */
  readonly onLay: (at: number, prefix: Prefix | undefined) => void;
  readonly at: number;
  readonly onChoose: (at: number) => void;
  readonly onAdd: () => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(700);
  const looking = useRef(span);
  const chosen = useRef(at);
  useEffect(() => {
    looking.current = span;
    chosen.current = at;
  });
  useEffect(() => {
    const el = box.current;
    if (!el) return undefined;
    const measure = (): void => setWidth(Math.max(200, el.clientWidth));
    measure();
    const observer = typeof ResizeObserver === 'undefined' ? undefined : new ResizeObserver(measure);
    observer?.observe(el);
    const wheel = (e: WheelEvent): void => {
      e.preventDefault();
      const rect = el.getBoundingClientRect();
      const place = rect.width > 0 ? (e.clientX - rect.left) / rect.width : 0.5;
      if (e.shiftKey || Math.abs(e.deltaX) > Math.abs(e.deltaY)) onLook(shifted(looking.current, Math.sign(e.deltaX || e.deltaY) / 16));
      else onLook(zoomed(looking.current, place, Math.sign(e.deltaY)));
    };
    el.addEventListener('wheel', wheel, { passive: false });
    return () => {
      observer?.disconnect();
      el.removeEventListener('wheel', wheel);
    };
  }, [onLook]);

  const prefixes = useMemo(() => laid.map((l) => prefixAt(l.prefix)), [laid]);
  const levels = levelsOf(prefixes, span, width);
  const depth = Math.max(1, ...levels.map((l) => l.level + 1));
  const bracketsHeight = depth * levelHeight + 8;
  const own = lanes[0];
  const others = lanes.slice(1);
  const top = scaleHeight + bracketsHeight;
  const height = top + ownHeight + others.length * laneHeight + freeHeight + 14;
  const outside = useMemo(() => {
    const inside = new Set(laid.flatMap((_, n) => (prefixes[n] ? space.parts.filter((m) => covers(prefixes[n] as Prefix, m.prefix)) : [])));
    return space.parts.filter((m) => !inside.has(m));
  }, [laid, prefixes, space]);
  const used = useMemo(() => usedBy(lanes.flatMap((l) => l.marks.map((m) => m.prefix))), [lanes]);
  const six = span.six;
  const labels = Math.max(2, Math.floor(width / (six ? 190 : 112)));

  /** Pans while the pointer is down on the ruler itself. */
  const pan = (e: PointerEvent<HTMLDivElement>): void => {
    if (e.button !== 0) return;
    const el = e.currentTarget;
    el.setPointerCapture(e.pointerId);
    const from = span;
    const x = e.clientX;
    const move = (m: globalThis.PointerEvent): void => onLook(shifted(from, (x - m.clientX) / el.getBoundingClientRect().width));
    const stop = (): void => el.removeEventListener('pointermove', move);
    el.addEventListener('pointermove', move);
    el.addEventListener('pointerup', stop, { once: true });
    el.addEventListener('pointercancel', stop, { once: true });
  };

  /** Moves a bracket, or draws one of its ends; it snaps to prefixes on the way. */
  const drag = (n: number, part: 'first' | 'last' | 'whole') => (e: PointerEvent<HTMLElement>) => {
    const p = prefixes[n];
    const el = box.current;
    if (!p || !el || e.button !== 0) return;
    e.preventDefault();
    e.stopPropagation();
    onChoose(n);
    const rect = el.getBoundingClientRect();
    const grabbed = addressAt(span, (e.clientX - rect.left) / rect.width);
    const first = addressAt(span, levels[n]?.from ?? 0);
    let last = formatPrefix(p);
    const move = (m: globalThis.PointerEvent): void => {
      const there = addressAt(span, (m.clientX - rect.left) / rect.width);
      const next = part === 'whole' ? movedTo(p, there - grabbed + first) : drawnTo(p, part, there);
      const text = formatPrefix(next);
      if (text === last) return;
      last = text;
      // Where a bracket stands in the list may change as it moves: the one that is chosen is the one that is held.
      onLay(chosen.current, next);
    };
    const stop = (): void => window.removeEventListener('pointermove', move);
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', stop, { once: true });
    window.addEventListener('pointercancel', stop, { once: true });
  };

  const onKey = (e: KeyboardEvent<HTMLElement>, n?: number): void => {
    const p = n === undefined ? undefined : prefixes[n];
    const put = (next: Prefix | undefined): void => {
      if (n !== undefined) onLay(n, next);
    };
    const does: Record<string, (() => void) | undefined> = {
      '+': () => onLook(zoomed(span, 0.5, -1)),
      '=': () => onLook(zoomed(span, 0.5, -1)),
      '-': () => onLook(zoomed(span, 0.5, 1)),
      n: onAdd,
      ArrowLeft: p ? () => put(nextTo(p, -1, prefixes)) : () => onLook(shifted(span, -1 / 8)),
      ArrowRight: p ? () => put(nextTo(p, 1, prefixes)) : () => onLook(shifted(span, 1 / 8)),
      ArrowUp: p ? () => put(widened(p)) : () => onLook(zoomed(span, 0.5, 1)),
      ArrowDown: p ? () => put(narrowed(p, space.parts, e.shiftKey)) : () => onLook(zoomed(span, 0.5, -1)),
      Delete: p && (() => put(undefined)),
      Backspace: p && (() => put(undefined)),
      Enter: p && (() => onLook(around(p))),
    };
    const act = e.ctrlKey || e.metaKey || e.altKey ? undefined : does[e.key];
    if (!act) return;
    e.preventDefault();
    e.stopPropagation();
    act();
  };

  const brackets = levels.flatMap((l, n) => {
    const own = laid[n];
    if (!own || l.to <= 0 || l.from >= 1) return [];
    const bad = judgedAlone(space, laid, n).foreign.length > 0 && !own.hidden;
    const tone = bad ? 'border-accent text-accent' : n === at ? 'border-ink text-ink' : 'border-ink2 text-ink2';
    const lineTop = scaleHeight + (depth - l.level) * levelHeight - 4;
    return [{ own, n, from: Math.max(0, l.from), to: Math.min(1, l.to), lineTop, tone }];
  });
  const style = (from: number, to: number): CSSProperties => ({ left: percent(from), width: percent(to - from) });
  return (
    <div
      role="group"
      aria-label="Address ruler: arrows move it, plus and minus zoom, n lays a summary"
      tabIndex={0}
      className="relative rounded border border-rule bg-sheet select-none"
      style={{ height }}
      onKeyDown={(e) => {
        if (e.target === e.currentTarget) onKey(e);
      }}
    >
      {/* Names of the lanes. */}
      <LaneName top={4} height={scaleHeight - 8}>
        <span className="text-ink3">{six ? 'IPv6' : 'IPv4'}</span>
      </LaneName>
      <LaneName top={scaleHeight} height={bracketsHeight}>
        <span className="text-ink2">{laid.length === 0 ? 'no summary' : count(laid.length, 'summary', 'summaries')}</span>
      </LaneName>
      {[own, ...others].map(
        (l, n) =>
          l && (
            <LaneName key={l.key} top={top + (n === 0 ? 0 : ownHeight + (n - 1) * laneHeight)} height={n === 0 ? ownHeight : laneHeight}>
              <span className={n === 0 ? 'font-semibold' : ''} style={{ color: `var(--name-${l.tint})` }} title={l.name}>
                {l.name}
              </span>
            </LaneName>
          ),
      )}
      <LaneName top={top + ownHeight + others.length * laneHeight} height={freeHeight}>
        <span className="text-ink3">free</span>
      </LaneName>
      <div
        ref={box}
        className="absolute inset-y-0 right-0 cursor-grab touch-none overflow-hidden border-l border-fine"
        style={{ left: gutter }}
        onPointerDown={pan}
        onDoubleClick={(e) => {
          const rect = e.currentTarget.getBoundingClientRect();
          onLook(zoomed(span, (e.clientX - rect.left) / rect.width, -2));
        }}
      >
        {ticks(span, labels).map((t) => (
          <div key={t.text} className="absolute inset-y-0 border-l border-fine" style={{ left: percent(t.at) }}>
            <span className="absolute top-1 left-1 font-mono text-[11px] whitespace-nowrap text-ink3">{t.text}</span>
          </div>
        ))}
        {/* What each summary claims, down through all lanes. */}
        {levels.map((l, n) =>
          l.to <= 0 || l.from >= 1 ? null : (
            <div
              key={laid[n]?.prefix}
              className={`absolute ${n === at ? 'bg-cautionground opacity-70' : 'bg-paper'}`}
              style={{ ...style(l.from, l.to), top: scaleHeight + (depth - l.level) * levelHeight - 4, bottom: freeHeight + 10 }}
            />
          ),
        )}
        {own && <Marks top={top} height={ownHeight} lane={own} span={span} width={width} labelled />}
        {drawn(space.left, span, width).map((m) => (
          <div
            key={m.mark.text}
            title={`${m.mark.text}, left out by choice`}
            className="absolute min-w-[2px] border border-dashed border-ink3"
            style={{ ...style(m.from, m.to), top: top + 4, height: ownHeight - 8 }}
          />
        ))}
        {drawn(outside, span, width).map((m) => (
          <span
            key={m.mark.text}
            title={`${m.mark.text} is in no summary`}
            className="absolute text-[10px] leading-none text-accent"
            style={{ left: percent((m.from + m.to) / 2), top: top + ownHeight - 5, transform: 'translateX(-50%)' }}
          >
            ▴
          </span>
        ))}
        {others.map((l, n) => (
          <Marks key={l.key} top={top + ownHeight + n * laneHeight} height={laneHeight} lane={l} span={span} width={width} claimed={prefixes} />
        ))}
        {freeRoom(span, used, 3 / width).map((f) => (
          <div
            key={f.from}
            className="absolute overflow-hidden rounded-sm border border-fine text-center font-mono text-[11px] leading-[14px] whitespace-nowrap text-ink3"
            style={{ ...style(f.from, f.to), bottom: 8, height: freeHeight - 4 }}
            title={`Free; the largest prefix in it is ${formatPrefix(f.largest)}`}
          >
            {(f.to - f.from) * width > formatPrefix(f.largest).length * letter + 8 && formatPrefix(f.largest)}
          </div>
        ))}
        {brackets.map((b) => (
          <div
            key={b.own.prefix}
            className={`pointer-events-none absolute border-x border-t-2 ${b.tone} ${b.own.hidden ? 'border-dashed' : ''}`}
            style={{ ...style(b.from, b.to), top: b.lineTop, height: top - b.lineTop }}
          />
        ))}
        {brackets.map(({ own, n, from, to, lineTop, tone }) => (
          <div key={own.prefix}>
            <button
              type="button"
              aria-label={bracketWords(space, laid, n)}
              aria-pressed={n === at}
              data-summary={own.prefix}
              className={`absolute z-10 cursor-move rounded-sm px-1 font-mono text-xs leading-5 whitespace-nowrap ${tone} ${n === at ? 'bg-cautionground font-semibold' : 'bg-sheet'}`}
              style={{ left: nameAt((from + to) / 2, own.prefix, width), top: lineTop - 21, transform: 'translateX(-50%)' }}
              onFocus={() => onChoose(n)}
              onClick={() => onChoose(n)}
              onPointerDown={drag(n, 'whole')}
              onKeyDown={(e) => onKey(e, n)}
            >
              {own.prefix}
            </button>
            {(['first', 'last'] as const).map((end) => (
              <span
                key={end}
                data-end={end}
                className="absolute max-w-[40%] cursor-ew-resize"
                style={{
                  // Inside its own bracket: what begins where this one ends has its end beside it.
                  width: Math.min(10, ((to - from) * width) / 2),
                  left: end === 'first' ? percent(from) : `calc(${percent(to)} - ${Math.min(10, ((to - from) * width) / 2)}px)`,
                  top: lineTop - 3,
                  height: top - lineTop + 3,
                }}
                onPointerDown={drag(n, end)}
              />
            ))}
          </div>
        ))}
      </div>
    </div>
  );
}

/** Where the middle of a bracket's name stands: over its own, but never beyond the edge. */
function nameAt(middle: number, text: string, width: number): string {
  const half = (text.length * letter) / 2 + 6;
  return `${Math.min(width - half, Math.max(half, middle * width))}px`;
}

/** The next prefix of the same length on one side that no summary has yet. */
function nextTo(p: Prefix, by: -1 | 1, taken: readonly Prefix[]): Prefix {
  for (let next = beside(p, by); ; next = beside(next, by)) {
    if (!taken.some((t) => t.length === next.length && t.bits === next.bits)) return next;
    if (beside(next, by) === next) return p;
  }
}

/** The half of a summary that keeps a part of the own, the lower one before the upper; with Shift the upper one. */
function narrowed(p: Prefix, parts: readonly Mark[], upper: boolean): Prefix {
  const half = halfOf(p, upper);
  if (upper || parts.some((m) => covers(half, m.prefix))) return half;
  return halfOf(p, true);
}

function LaneName({ top, height, children }: { readonly top: number; readonly height: number; readonly children: ReactNode }) {
  return (
    <div className="absolute left-0 flex items-center overflow-hidden px-2.5 text-xs whitespace-nowrap" style={{ top, height, width: gutter }}>
      {children}
    </div>
  );
}

/** Subnets of a lane in its tint; where a summary claims what is not its own they are hatched. */
function Marks({
  top,
  height,
  lane,
  span,
  width,
  labelled = false,
  claimed = [],
}: {
  readonly top: number;
  readonly height: number;
  readonly lane: Lane;
  readonly span: Span;
  readonly width: number;
  readonly labelled?: boolean;
  readonly claimed?: readonly Prefix[];
}) {
  const hatch = `repeating-linear-gradient(135deg, var(--accent) 0 1.5px, transparent 1.5px 5px)`;
  return (
    <>
      {lane.summaries.map((s) => {
        const [from, to] = ends(span, s.prefix);
        if (to <= 0 || from >= 1) return null;
        return (
          <div
            key={s.text}
            className="absolute border-x border-t"
            title={`${lane.name} is summarised as ${s.text}`}
            style={{
              left: percent(Math.max(0, from)),
              width: percent(Math.min(1, to) - Math.max(0, from)),
              top: top + 1,
              height: height - 5,
              borderColor: `var(--coast-${lane.tint})`,
            }}
          />
        );
      })}
      {drawn(lane.marks, span, width).map((m) => {
        const foreign = claimed.some((c) => covers(c, m.mark.prefix));
        const wide = (m.to - m.from) * width;
        return (
          <div
            key={m.mark.text}
            title={`${m.mark.text}${m.mark.place === '' ? '' : `, ${m.mark.place}`}${m.more > 0 ? `, and ${m.more} more beside it` : ''}${foreign ? `: foreign, of ${lane.name}` : ''}`}
            data-foreign={foreign ? '' : undefined}
            className="absolute min-w-[2.5px] overflow-hidden border text-center font-mono text-[11px] whitespace-nowrap"
            style={{
              left: percent(m.from),
              width: percent(m.to - m.from),
              top: top + (labelled ? 4 : 5),
              height: height - (labelled ? 9 : 8),
              lineHeight: `${height - (labelled ? 11 : 10)}px`,
              background: foreign ? hatch : wide < 4 ? `var(--coast-${lane.tint})` : `var(--land-${lane.tint})`,
              borderColor: foreign ? 'var(--accent)' : `var(--coast-${lane.tint})`,
              color: `var(--name-${lane.tint})`,
            }}
          >
            {labelled && wide > m.mark.text.length * letter + 6 && m.mark.text}
          </div>
        );
      })}
    </>
  );
}
