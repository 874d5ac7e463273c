import { covers } from '../prefix/address';
import type { RouteChange } from './compare';

/** Lines of one table that are told as one line since, or one line that is told as many. */
export interface Folding {
  /** The line that holds the others. */
  readonly whole: RouteChange;
  readonly parts: readonly RouteChange[];
  /** The parts went and the whole came; otherwise the whole went and the parts came. */
  readonly folded: boolean;
}

/** The narrowest line that holds another one; a default holds everything and sums up nothing. */
function holderOf(part: RouteChange, wholes: readonly RouteChange[]): RouteChange | undefined {
  let best: RouteChange | undefined;
  for (const w of wholes) if (w.length > 0 && w.length < part.length && covers(w, part) && (!best || w.length > best.length)) best = w;
  return best;
}

/** What of a table's changes is a summary that came in the place of its parts, or parts that came in the place of their summary. */
export function foldings(changes: readonly RouteChange[]): Folding[] {
  const lost = changes.filter((c) => c.change === 'lost');
  const gained = changes.filter((c) => c.change === 'gained');
  const pair = (wholes: readonly RouteChange[], parts: readonly RouteChange[], folded: boolean): Folding[] => {
    const by = new Map<RouteChange, RouteChange[]>();
    for (const p of parts) {
      const whole = holderOf(p, wholes);
      if (whole) by.set(whole, [...(by.get(whole) ?? []), p]);
    }
    return [...by].map(([whole, list]) => ({ whole, parts: list, folded }));
  };
  return [...pair(gained, lost, true), ...pair(lost, gained, false)];
}
