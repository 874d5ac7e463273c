import { formatFailure, type FailureSpec } from '../failures/outage';
import type { Prediction } from '../predict';
import { takenDown } from '../sweep/sweep';
import { loadsOf, type Demands } from '../loads/loads';

/** The most that an interface would carry in any of some cases, Mbit/s, and the first case in which it does. */
export interface WorstLoad {
  readonly mbps: number;
  readonly fail: string;
}

/**
 * What every interface would carry at worst when one thing after another fails by itself: by router and interface,
 * `kelp-1/to-kelp-2`. After each case it gives how many there were.
 */
export function* worstLoads(
  families: readonly Prediction[],
  demands: Demands,
  cases: readonly FailureSpec[],
): Generator<number, ReadonlyMap<string, WorstLoad>> {
  const worst = new Map<string, WorstLoad>();
  let done = 0;
  for (const fail of cases) {
    const { states } = takenDown(families, new Set(), [fail]);
    for (const l of loadsOf(states, demands).links) {
      const key = `${l.router}/${l.iface}`;
      if (l.mbps > (worst.get(key)?.mbps ?? 0)) worst.set(key, { mbps: l.mbps, fail: formatFailure(fail) });
    }
    yield ++done;
  }
  return worst;
}
