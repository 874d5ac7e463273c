/** How time lies along the axis: idle stretches drawn short, evenly, or by its logarithm. */
export const scaleKinds = ['short', 'even', 'log'] as const;
export type ScaleKind = (typeof scaleKinds)[number];

/** A time axis. Times in ms, places as shares of the width from 0 to 1. */
export interface TimeScale {
  readonly end: number;
  place(ms: number): number;
  moment(place: number): number;
  readonly ticks: readonly { readonly ms: number; readonly words: string }[];
  /** Idle stretches that are drawn shorter than they last. */
  readonly folds: readonly { readonly from: number; readonly to: number }[];
}

/** A stretch in which nothing happens is idle when it takes more than this of what is drawn at its length, and that of the whole. */
const idle = 0.22;
const idleOfAll = 0.05;
/** More of them than this are not drawn short. */
const mostFolds = 8;

/** Idle stretches: the longest first, each measured by what is left without those before it. */
function idleIn(at: readonly number[]): { readonly from: number; readonly to: number }[] {
  const gaps = at.slice(1).map((to, n) => ({ from: at[n] ?? 0, to }));
  const folds: typeof gaps = [];
  const all = (at.at(-1) ?? 0) - (at[0] ?? 0);
  let left = all;
  for (const g of gaps.toSorted((a, b) => b.to - b.from - (a.to - a.from)).slice(0, mostFolds)) {
    if (g.to - g.from <= Math.max(idle * left, idleOfAll * all) || folds.length === gaps.length - 1) break;
    folds.push(g);
    left -= g.to - g.from;
  }
  return folds.sort((a, b) => a.from - b.from);
}

/** Ticks stand no nearer to each other than this. */
const apart = 0.075;

const bounded = (x: number): number => Math.min(1, Math.max(0, x));

/** Numbers that people count by, at most so many of them from one to another. */
function steps(from: number, to: number, most: number): number[] {
  const span = to - from;
  if (span <= 0 || most < 1) return [];
  const raw = span / most;
  const ten = 10 ** Math.floor(Math.log10(raw));
  const step = [1, 2, 5, 10].map((n) => n * ten).find((n) => n >= raw) ?? 10 * ten;
  const out: number[] = [];
  for (let x = Math.ceil(from / step) * step; x <= to + step * 1e-9; x += step) out.push(Number(x.toPrecision(12)));
  return out;
}

const words = (ms: number): string => (ms === 0 ? '0' : ms < 1000 ? `${Number(ms.toPrecision(3))} ms` : `${Number((ms / 1000).toPrecision(3))} s`);

/** Ticks where there is room for them. */
function ticksOf(wanted: readonly number[], place: (ms: number) => number): TimeScale['ticks'] {
  let last = -Infinity;
  return wanted.flatMap((ms) => {
    const x = place(ms);
    if (x - last < apart || x > 0.985) return [];
    last = x;
    return [{ ms, words: words(ms) }];
  });
}

/** Straight pieces, one after the other: a time and where it lies. */
function pieces(points: readonly { readonly ms: number; readonly x: number }[]): Pick<TimeScale, 'place' | 'moment'> {
  const along = (v: number, of: 'ms' | 'x', to: 'ms' | 'x'): number => {
    const n = points.findIndex((p, i) => i > 0 && v <= p[of]);
    const [a, b] = n < 0 ? [points.at(-2), points.at(-1)] : [points[n - 1], points[n]];
    if (!a || !b) return 0;
    return b[of] === a[of] ? a[to] : a[to] + ((v - a[of]) / (b[of] - a[of])) * (b[to] - a[to]);
  };
  return { place: (ms) => bounded(along(ms, 'ms', 'x')), moment: (x) => along(bounded(x), 'x', 'ms') };
}

/** What lies behind the last moment: a little room, however long the rest lasts. */
const margin = 0.035;

/** @param moments  at which something happens, in any order @param last  the last of them */
export function timeScale(kind: ScaleKind, moments: readonly number[], last: number): TimeScale {
  const until = Math.max(last, 1);
  const end = until * 1.05;
  const inner = kind === 'log' ? logarithmic(until) : straight(kind, moments, until);
  const room = 1 - margin;
  const place = (ms: number): number => (ms <= until ? inner.place(ms) * room : bounded(room + ((ms - until) / (end - until)) * margin));
  const moment = (x: number): number => (x <= room ? inner.moment(x / room) : until + ((bounded(x) - room) / margin) * (end - until));
  return { end, place, moment, ticks: ticksOf(inner.wanted, place), folds: inner.folds };
}

interface Inner extends Pick<TimeScale, 'place' | 'moment' | 'folds'> {
  /** Moments that a tick would suit. */
  readonly wanted: readonly number[];
}

function logarithmic(end: number): Inner {
  // From a tenth of a millisecond on: what is earlier lies at the beginning.
  const least = Math.max(0.1, end / 1e6);
  const whole = Math.log(end / least);
  const place = (ms: number): number => (ms <= least ? 0 : bounded(Math.log(ms / least) / whole));
  const wanted: number[] = [0];
  const counted = whole > Math.log(1e4) ? [1] : [1, 2, 5];
  for (let t = 10 ** Math.floor(Math.log10(least)); t <= end; t *= 10)
    for (const n of counted) if (n * t <= end && n * t > least) wanted.push(Number((n * t).toPrecision(3)));
  return { place, moment: (x) => (x <= 0 ? 0 : least * Math.exp(bounded(x) * whole)), wanted, folds: [] };
}

function straight(kind: ScaleKind, moments: readonly number[], end: number): Inner {
  const at = [...new Set([0, ...moments.filter((m) => m >= 0 && m < end), end])].sort((a, b) => a - b);
  const folds = kind === 'even' ? [] : idleIn(at);
  if (folds.length === 0) return { place: (ms) => bounded(ms / end), moment: (x) => bounded(x) * end, wanted: steps(0, end, 9), folds };
  const bare = (from: number): number => (folds.some((f) => f.from === from) ? 0 : 1);
  const rest = at.slice(1).reduce((n, to, i) => n + bare(at[i] ?? 0) * (to - (at[i] ?? 0)), 0);
  const foldedTo = Math.min(0.12, 0.5 / folds.length);
  const room = 1 - foldedTo * folds.length;
  const points = [{ ms: 0, x: 0 }];
  const wanted: number[] = [0];
  let x = 0;
  let from = 0;
  for (const f of [...folds, { from: end, to: end }]) {
    if (f.from > from) {
      const wide = ((f.from - from) / rest) * room;
      wanted.push(...steps(from, f.from, Math.max(1, Math.floor(wide / apart) - 1)));
      points.push({ ms: f.from, x: (x += wide) });
    }
    if (f.to > f.from) {
      points.push({ ms: f.to, x: (x += foldedTo) });
      wanted.push(f.to);
    }
    from = f.to;
  }
  return { ...pieces(points), wanted: [...new Set(wanted)].sort((a, b) => a - b), folds };
}
