'use client';

import { timeWords } from '@gentle-compass/core/convergence/chain';
import type { ChainKind } from '@gentle-compass/core/convergence/run-state';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef, type CSSProperties, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react';
import type { FlowSpan, FlowView, LoopView, TimeRow, TimeView } from '../model/time-view';
import { count, listWords } from '../parts/words';
import type { TimeScale } from './time-scale';

/** What a stretch of time looks like, and what it is called under the strip. */
const looks: Readonly<Record<ChainKind, { readonly look: string; readonly words: string }>> = {
  carrier: { look: 'notice', words: 'waiting to notice' },
  'dead-interval': { look: 'notice', words: 'waiting to notice' },
  bfd: { look: 'notice', words: 'waiting to notice' },
  hellos: { look: 'notice', words: 'waiting to notice' },
  'wait-timer': { look: 'notice', words: 'waiting to notice' },
  exchange: { look: 'exchange', words: 'exchanging databases' },
  'ls-interval': { look: 'held', words: 'held back by MinLSInterval' },
  'virtual-link': { look: 'exchange', words: 'exchanging databases' },
  flooding: { look: 'flood', words: 'flooding' },
  retransmission: { look: 'again', words: 'flooding, sent again' },
  'spf-delay': { look: 'wait', words: 'waiting to calculate' },
  calculation: { look: 'calculate', words: 'calculating' },
  installation: { look: 'install', words: 'writing the table' },
};

/** What the kinds of stretches that a strip shows look like. */
export function StripLegend({ rows, tuned }: { readonly rows: readonly TimeRow[]; readonly tuned: boolean }) {
  const there = new Set(rows.flatMap((r) => r.bars.map((b) => looks[b.kind].look)));
  const shown = [...new Map(Object.values(looks).map((l) => [l.look, l.words]))].filter(([look]) => there.has(look));
  return (
    <ul className="flex min-w-0 flex-wrap gap-x-3 text-xs text-ink2" aria-label="What the bars are">
      {shown.map(([look, words]) => (
        <li key={look} className="flex items-center gap-1.5 whitespace-nowrap">
          <span className="strip-bar inline-block" data-look={look} style={{ position: 'static', width: 16 }} aria-hidden="true" />
          {words}
        </li>
      ))}
      <li className="flex items-center gap-1.5 whitespace-nowrap">
        <span className="strip-new inline-block" style={{ position: 'static', transform: 'none' }} aria-hidden="true" />
        table new
      </li>
      {tuned && (
        <li className="flex items-center gap-1.5 whitespace-nowrap">
          <span className="strip-tuned inline-block" style={{ position: 'static', transform: 'none', height: 12 }} aria-hidden="true" />
          table new with the other timers
        </li>
      )}
    </ul>
  );
}

const percent = (x: number): string => `${(x * 100).toFixed(3)}%`;
const spanStyle = (s: TimeScale, from: number, to: number): CSSProperties => {
  const left = s.place(from);
  return { left: percent(left), width: `max(${percent(s.place(to) - left)}, 2px)` };
};

/** Moments at which something changes, in order: where the arrow keys go. */
export function stopsOf(time: TimeView): readonly number[] {
  const all = [
    0,
    ...time.happenings.map((h) => h.ms),
    ...time.rows.flatMap((r) => [r.knew, ...r.changes]),
    ...time.flows.flatMap((f) => f.spans.flatMap((s) => [s.fromMs, s.toMs])),
    ...time.loops.flatMap((l) => [l.fromMs, l.toMs]),
  ];
  return [...new Set(all)].filter((ms) => ms <= time.endMs).sort((a, b) => a - b);
}

/** The moment that a key leads to. */
function byKey(key: string, ms: number, stops: readonly number[], scale: TimeScale): number | undefined {
  const last = stops.at(-1) ?? 0;
  switch (key) {
    case 'ArrowRight':
      return stops.find((s) => s > ms + 1e-9) ?? last;
    case 'ArrowLeft':
      return stops.findLast((s) => s < ms - 1e-9) ?? 0;
    case 'PageUp':
      return Math.min(last, scale.moment(scale.place(ms) + 0.1));
    case 'PageDown':
      return Math.max(0, scale.moment(scale.place(ms) - 0.1));
    case 'Home':
      return 0;
    case 'End':
      return last;
    default:
      return undefined;
  }
}

/** What is so at a moment, in a few words. */
function atWords(time: TimeView, ms: number): string {
  const fresh = time.rows.filter((r) => r.lastChange !== null && r.lastChange <= ms).length;
  const of = time.rows.filter((r) => r.lastChange !== null).length;
  return `${timeWords(ms)}: ${fresh} of ${count(of, 'table')} as they stay`;
}

export interface StripProps {
  readonly time: TimeView;
  readonly scale: TimeScale;
  readonly ms: number;
  readonly onMoment: (ms: number) => void;
  readonly router: string | undefined;
  readonly onRouter: (name: string) => void;
  readonly flow: number;
  readonly onFlow: (n: number) => void;
  /** Typical last change of each router with other timers. */
  readonly tuned: Readonly<Record<string, number>> | undefined;
  /** Routers are shown, row by row; else what fills their place. */
  readonly instead?: ReactNode;
}

const rowHeight = 21;

/** Time along the top, a row for each router, the packets that are followed beneath, and a handle to stand at any moment. */
export function TimeStrip({ time, scale, ms, onMoment, router, onRouter, flow, onFlow, tuned, instead }: StripProps) {
  const lane = useRef<HTMLDivElement>(null);
  const list = useRef<HTMLDivElement>(null);
  const stops = stopsOf(time);
  // eslint-disable-next-line react-hooks/incompatible-library -- the list is not memoised on purpose
  const shown = useVirtualizer({ count: time.rows.length, getScrollElement: () => list.current, estimateSize: () => rowHeight, overscan: 8 });
  const move = (x: number): void => {
    const box = lane.current?.getBoundingClientRect();
    if (box && box.width > 0) onMoment(Math.min(time.endMs, Math.max(0, scale.moment((x - box.left) / box.width))));
  };
  const drag = {
    onPointerDown: (e: PointerEvent<HTMLElement>) => {
      if (e.button !== 0) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      move(e.clientX);
    },
    onPointerMove: (e: PointerEvent<HTMLElement>) => {
      if (e.currentTarget.hasPointerCapture(e.pointerId)) move(e.clientX);
    },
  };
  const onKey = (e: KeyboardEvent): void => {
    const to = byKey(e.key, ms, stops, scale);
    if (to === undefined) return;
    e.preventDefault();
    onMoment(to);
  };
  const at = percent(scale.place(ms));
  return (
    <div className="strip" data-testid="strip">
      <div className={`relative flex flex-col border-b border-rule ${instead === undefined ? 'min-h-[150px]' : 'shrink-0'}`}>
        <div className="strip-row h-[30px] shrink-0 border-b border-rule">
          <span />
          <div ref={lane} className="relative cursor-ew-resize touch-none select-none" {...drag}>
            {scale.folds.map((f) => (
              <span
                key={f.from}
                className="strip-fold absolute inset-y-0"
                style={spanStyle(scale, f.from, f.to)}
                title={`${timeWords(f.to - f.from)} drawn short`}
              />
            ))}
            {scale.ticks.map((t) => (
              <span
                key={t.ms}
                className="absolute bottom-0.5 -translate-x-1/2 font-mono text-[11px] whitespace-nowrap text-ink2"
                style={{ left: percent(scale.place(t.ms)) }}
              >
                {t.words}
              </span>
            ))}
            {time.happenings
              .filter((h) => h.ms > 0)
              .map((h) => (
                <span
                  key={`${h.ms} ${h.words}`}
                  className="strip-flag"
                  style={{ left: percent(scale.place(h.ms)) }}
                  title={`${timeWords(h.ms)}: ${h.words}`}
                />
              ))}
            <div
              role="slider"
              tabIndex={0}
              aria-label="Moment"
              aria-valuemin={0}
              aria-valuemax={Math.round(time.endMs)}
              aria-valuenow={Math.round(ms)}
              aria-valuetext={atWords(time, ms)}
              className="strip-handle"
              style={{ left: at }}
              onKeyDown={onKey}
            >
              {timeWords(ms)}
            </div>
          </div>
          <span className="self-end pb-0.5 text-right text-[11px] text-ink2">table new, latest</span>
        </div>
        {instead === undefined && (
          <div ref={list} className="min-h-[42px] shrink overflow-y-auto" style={{ flexBasis: shown.getTotalSize() }} tabIndex={-1}>
            <ul className="relative" aria-label="Routers, the first that knew first" style={{ height: shown.getTotalSize() }}>
              {shown.getVirtualItems().map((v) => {
                const row = time.rows[v.index];
                return (
                  row && (
                    <li
                      key={row.router}
                      className="strip-row absolute inset-x-0"
                      style={{ top: v.start, height: rowHeight }}
                      data-chosen={row.router === router || undefined}
                    >
                      <button type="button" className="truncate text-left font-semibold" title={rowWords(row)} onClick={() => onRouter(row.router)}>
                        {row.router}
                      </button>
                      <div className="relative" {...drag}>
                        <Bars row={row} scale={scale} />
                        {tuned?.[row.router] !== undefined && (
                          <span
                            className="strip-tuned"
                            style={{ left: percent(scale.place(tuned[row.router] ?? 0)) }}
                            title={`with the other timers ${timeWords(tuned[row.router] ?? 0)}`}
                          />
                        )}
                      </div>
                      <span className="text-right font-mono text-[11px] whitespace-nowrap">
                        {row.spread ? (
                          <>
                            {timeWords(row.spread.typical)} <span className="text-ink2">{timeWords(row.spread.latest)}</span>
                          </>
                        ) : (
                          <span className="font-sans text-ink2">stays</span>
                        )}
                      </span>
                    </li>
                  )
                );
              })}
            </ul>
          </div>
        )}
        <ul className={`shrink-0 ${instead === undefined ? 'border-t border-rule' : ''}`} aria-label="Packets that are followed">
          {time.flows.map((f, n) => (
            <li key={f.word} className="strip-row" style={{ height: rowHeight + 1 }} data-chosen={n === flow || undefined}>
              <button type="button" className="truncate text-left" title={flowWords(f)} aria-pressed={n === flow} onClick={() => onFlow(n)}>
                {f.fromName} → {f.toName}
              </button>
              <div className="relative" {...drag}>
                {f.spans.map((s) => (
                  <span
                    key={s.fromMs}
                    className="strip-flow"
                    data-fate={s.fate}
                    style={spanStyle(scale, s.fromMs, s === f.spans.at(-1) ? scale.end : s.toMs)}
                    title={fateWords(s)}
                  >
                    {scale.place(s === f.spans.at(-1) ? scale.end : s.toMs) - scale.place(s.fromMs) > 0.1 ? shortFate(s) : ''}
                  </span>
                ))}
              </div>
              <span className="text-right font-mono text-[11px] whitespace-nowrap">
                {f.healedLatest === null ? (
                  <span className="font-sans text-accent">not healed</span>
                ) : f.healedLatest === 0 ? (
                  <span className="font-sans text-ink2">untouched</span>
                ) : (
                  timeWords(f.healedLatest)
                )}
              </span>
            </li>
          ))}
          {time.loops.length > 0 && (
            <li className="strip-row" style={{ height: rowHeight + 1 }}>
              <span className="truncate text-ink2">any two loopbacks</span>
              <div className="relative" {...drag}>
                {time.loops.map((l) => (
                  <span
                    key={loopWords(l)}
                    className="strip-flow"
                    data-fate="looping"
                    style={spanStyle(scale, l.fromMs, l.toMs)}
                    title={loopWords(l)}
                  />
                ))}
              </div>
              <span className="text-right text-[11px] text-accent">{count(time.loops.length, 'loop')}</span>
            </li>
          )}
        </ul>
        <div className="strip-row pointer-events-none absolute inset-0" aria-hidden="true">
          <span />
          <div className="relative">
            <span className="strip-line" style={{ left: at }} />
          </div>
          <span />
        </div>
      </div>
      {instead ?? <Below time={time} />}
    </div>
  );
}

/** What fits beneath, where routers are few: what the time went into, and every loop. */
function Below({ time }: { readonly time: TimeView }) {
  return (
    <div className="strip-below">
      <div>
        <section>
          <h3 className="heading mb-0.5">What the time goes into</h3>
          <ul>
            {time.shares.slice(0, 6).map((s) => (
              <li key={s.words}>{s.words}</li>
            ))}
          </ul>
        </section>
        {time.loops.length > 0 && (
          <section>
            <h3 className="heading mb-0.5">What goes round</h3>
            <ul>
              {time.loops.slice(0, 6).map((l) => (
                <li key={loopWords(l)} className="text-accent">
                  {loopWords(l)}
                </li>
              ))}
              {time.loops.length > 6 && <li className="text-ink2">and {count(time.loops.length - 6, 'more loop')}</li>}
            </ul>
          </section>
        )}
      </div>
    </div>
  );
}

function Bars({ row, scale }: { readonly row: TimeRow; readonly scale: TimeScale }) {
  return (
    <>
      {row.bars.map((b) => (
        <span
          key={`${b.kind} ${b.from} ${b.to}`}
          className="strip-bar"
          data-look={looks[b.kind].look}
          style={spanStyle(scale, b.from, b.to)}
          title={`${looks[b.kind].words}, ${b.where}: ${timeWords(b.to - b.from)}`}
        />
      ))}
      {row.changes.map((ms) => (
        <span key={ms} className="strip-new" style={{ left: percent(scale.place(ms)) }} title={`table new at ${timeWords(ms)}`} />
      ))}
    </>
  );
}

/** How a router came to know, in words. */
export function knewWords(r: TimeRow): string {
  const heard = r.noticed === null || r.knew < r.noticed ? `hears of it after ${timeWords(r.knew)}` : '';
  const noticed = r.noticed === null ? '' : `notices it${r.cause === null ? '' : ` by ${r.cause}`} after ${timeWords(r.noticed)}`;
  return [heard, noticed].filter(Boolean).join(', ');
}

const rowWords = (r: TimeRow): string =>
  `${r.router} ${knewWords(r)}${r.lastChange === null ? ', its table stays' : `, its table is as it stays after ${timeWords(r.lastChange)}`}`;

const shortFate = (s: FlowSpan): string =>
  s.fate === 'carried' ? 'carried' : s.fate === 'dropped' ? `dropped${s.at.length > 0 ? ` at ${s.at[0] ?? ''}` : ''}` : `loops: ${s.at.join(' ⇄ ')}`;

/** What becomes of packets in a stretch of time. */
export const fateWords = (s: Pick<FlowSpan, 'fate' | 'at' | 'why' | 'path'> & Partial<Pick<FlowSpan, 'fromMs' | 'toMs'>>): string => {
  const long = s.fromMs !== undefined && s.toMs !== undefined && s.toMs > s.fromMs ? `, for ${timeWords(s.toMs - s.fromMs)}` : '';
  if (s.fate === 'carried') return `carried${long}: ${s.path.join(', ')}`;
  if (s.fate === 'dropped') return `dropped${long}: ${s.why ?? ''}`;
  return `looping between ${listWords(s.at)}${long}`;
};

const flowWords = (f: FlowView): string => `${f.from} to ${f.to}: ${f.spans.map(fateWords).join('; ')}`;

/** A loop in words. */
export const loopWords = (l: LoopView): string =>
  `${l.routers.join(' ⇄ ')}, ${timeWords(l.toMs - l.fromMs)} (from ${timeWords(l.fromMs)}); ${l.pairs === 1 ? l.example : `${count(l.pairs, 'pair')} of loopbacks, such as ${l.example}`}`;
