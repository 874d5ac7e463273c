import { spreadOver } from '@gentle-compass/core/planned/spread-over';
import { formatAddress, type Address } from '@gentle-compass/core/prefix/address';
import type { Prediction } from '@gentle-compass/core/predict';
import { Forwarding } from '@gentle-compass/core/reach/forwarding';
import { costFrom, loopbacks } from '@gentle-compass/core/reach/matrix';
import { walk } from '@gentle-compass/core/reach/trace';
import type { WatchedView, WatchedViews, WayView } from '../model/what-if-view';
import { linesPassed } from './reach-making';
import { watchedOf, type Watched } from './timing-making';

/** Pairs that are looked at when nobody names any, and loopbacks among which they are looked for. */
const mostPairs = 4;
const lookedAmong = 18;

/** The way of a packet in one state. */
export function wayOf(f: Forwarding, { from, to }: Watched): WayView {
  const starts = f.endsOf(from);
  const w = walk(f, starts, to);
  const [first] = w.branches;
  return {
    fate: w.fate,
    reason: w.fate === 'delivered' ? '' : (w.branches.find((b) => b.fate !== 'delivered')?.reason ?? ''),
    path: first?.hops.map((h) => h.router) ?? [],
    equal: w.branches.length,
    cost: costFrom(f, starts, to) ?? null,
    lines: linesPassed(f.prediction, w.branches),
  };
}

const sameWay = (a: WayView, b: WayView): boolean => a.fate === b.fate && a.cost === b.cost && a.lines.join() === b.lines.join();

/** Pairs of loopbacks whose way is another one in a state, those that are cut first; of few ends not all. */
function touched(now: Prediction, after: Prediction): Watched[] {
  const f = Forwarding.quickly(now);
  const g = Forwarding.quickly(after);
  const gone = (a: Address): boolean => f.owners(a).some((o) => after.outage.routers.has(o.router));
  const all = [...new Set(loopbacks(now))].filter((a) => !gone(a));
  const state = new Map(after.adjacencies.pairs.map((x) => [`${x.a.port.index} ${x.b.port.index}`, x.a.state]));
  const hit = new Set(
    now.adjacencies.pairs.flatMap((x) =>
      x.a.state === state.get(`${x.a.port.index} ${x.b.port.index}`) ? [] : [x.a.port.routerIndex, x.b.port.routerIndex],
    ),
  );
  const near = all.filter((a) => f.owners(a).some((o) => hit.has(o.router)));
  const ends = [...new Set([...near.slice(0, lookedAmong / 2), ...spreadOver(all, lookedAmong)])];
  const name = (a: Address): string => now.design.routers[f.owners(a)[0]?.router ?? -1]?.name ?? formatAddress(a);
  const found: { readonly w: Watched; readonly weight: number }[] = [];
  const moved = (from: Address, to: Address): boolean => {
    const w: Watched = { word: `${name(from)} ${name(to)}`, from, to };
    const [a, b] = [wayOf(f, w), wayOf(g, w)];
    if (a.fate !== 'delivered' || sameWay(a, b)) return false;
    found.push({ w, weight: b.fate === 'delivered' ? (b.cost ?? 0) - (a.cost ?? 0) : 1e9 });
    return true;
  };
  // Of the two directions the other one where the first stays: costs may differ.
  for (const [n, from] of ends.entries()) for (const to of ends.slice(n + 1)) if (!moved(from, to)) moved(to, from);
  return spreadOver(
    found.sort((x, y) => y.weight - x.weight).map((x) => x.w),
    mostPairs,
  );
}

/** The pairs that are watched: those that are named, else some whose way is another one in a state. */
export function pairsWatched(now: Prediction, after: Prediction, words: readonly string[]): ReturnType<typeof watchedOf> {
  return words.length > 0 ? watchedOf(now, words) : { watched: touched(now, after), problems: [] };
}

/** The pairs that are watched before and after something fails. */
export function watchedWays(now: Prediction, after: Prediction, words: readonly string[]): WatchedViews {
  const { watched, problems } = pairsWatched(now, after, words);
  const [f, g] = [Forwarding.quickly(now), Forwarding.quickly(after)];
  return {
    pairs: watched.map((w): WatchedView => ({ word: w.word, ...endNames(w), before: wayOf(f, w), after: wayOf(g, w) })),
    problems,
  };
}

/** The two ends of a pair, as they were asked for. */
export function endNames({ word }: Watched): { readonly from: string; readonly to: string } {
  const [from = '', to = ''] = word.split(' ');
  return { from, to };
}
