import type { Ipv4 } from '../prefix/ipv4';

/** A router on a segment as the one that calculates sees it: itself, or a neighbour in 2-Way or more. */
export interface Candidate {
  readonly routerId: Ipv4;
  readonly priority: number;
  /** Router id that its hello names as designated router, 0 for none. */
  readonly dr: Ipv4;
  readonly bdr: Ipv4;
}

/** Designated router and backup by router id; 0 for none. */
export interface Leaders {
  readonly dr: Ipv4;
  readonly bdr: Ipv4;
}

const better = (a: Candidate, b: Candidate | undefined): boolean =>
  b === undefined || a.priority > b.priority || (a.priority === b.priority && a.routerId > b.routerId);

/** Steps 2 and 3 of RFC 2328 §9.4 among a router and its neighbours. */
function calculate(self: Candidate, others: readonly Candidate[]): Leaders {
  let dr: Candidate | undefined;
  let declaredBackup: Candidate | undefined;
  let notDr: Candidate | undefined;
  for (let i = -1; i < others.length; i++) {
    const c = i < 0 ? self : others[i];
    if (!c || c.priority === 0) continue;
    if (c.dr === c.routerId) {
      if (better(c, dr)) dr = c;
      continue;
    }
    if (better(c, notDr)) notDr = c;
    if (c.bdr === c.routerId && better(c, declaredBackup)) declaredBackup = c;
  }
  const bdr = declaredBackup ?? notDr;
  return { dr: (dr ?? bdr)?.routerId ?? 0, bdr: bdr?.routerId ?? 0 };
}

/**
 * What one router makes of its segment (RFC 2328 §9.4, steps 1 to 4). `self` carries its present view;
 * a router that becomes or ceases to be leader repeats the calculation with its new claim.
 */
export function electLeaders(self: Candidate, others: readonly Candidate[]): Leaders {
  const first = calculate(self, others);
  const changed = (first.dr === self.routerId) !== (self.dr === self.routerId) || (first.bdr === self.routerId) !== (self.bdr === self.routerId);
  if (!changed) return first;
  return calculate({ ...self, ...first }, others);
}
