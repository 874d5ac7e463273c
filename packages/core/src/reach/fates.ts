import type { Ipv4 } from '../prefix/ipv4';
import type { Fate } from './trace';
import type { Forwarding, Way } from './forwarding';

const bit = { delivered: 1, dropped: 2, leaves: 4, looping: 8 } as const;

/** Where packets for one address go from every router at once, by index of the router. */
export interface Flow {
  /** Bits of what becomes of them: delivered 1, dropped 2, leaves 4, looping 8. */
  readonly fates: Uint8Array;
  /** Routers that take them next; none where they end or leave. */
  readonly next: readonly (readonly number[])[];
  /** Routers after this one on the longest way; -1 where a way leads into a circle. */
  readonly longest: Int16Array;
}

const none: readonly number[] = [];

/** The routers that equal ways lead to, each once: one list for all packets that the same line takes. */
function nextOf(ways: readonly Way[], known: Map<readonly Way[], readonly number[]>): readonly number[] {
  let next = known.get(ways);
  if (!next) {
    next = [...new Set(ways.flatMap((w) => w.to ?? []))];
    known.set(ways, next);
  }
  return next;
}

/**
 * Where packets for one address go from every router. Ways that lead into a circle of routers loop; everything else
 * follows from the routers behind.
 *
 * @param outside  key of a network outside the design that the address lies in: what leaves by its own line is delivered,
 *                 what leaves by another one (a default) is not
 * @param known    lists of routers that were made for other addresses
 */
export function flowTo(f: Forwarding, to: Ipv4, outside?: number, known = new Map<readonly Way[], readonly number[]>()): Flow {
  const n = f.prediction.design.routers.length;
  const fates = new Uint8Array(n);
  const longest = new Int16Array(n);
  const next: (readonly number[])[] = [];
  // Steps by where they lead: the last one of a router, and the one before each.
  const last = new Int32Array(n).fill(-1);
  const before: number[] = [];
  const from: number[] = [];
  for (let r = 0; r < n; r++) {
    const step = f.step(r, to);
    let on = none;
    if (step.kind === 'end') fates[r] = bit[step.fate];
    else {
      for (const w of step.ways) if (w.to === undefined) fates[r] = (fates[r] ?? 0) | (w.route.key === outside ? bit.delivered : bit.leaves);
      on = nextOf(step.ways, known);
    }
    next.push(on);
    for (const o of on) {
      before.push(last[o] ?? -1);
      last[o] = from.push(r) - 1;
    }
  }
  // Routers from which every way comes to an end are taken off one by one; what stays leads into a circle.
  const open = next.map((o) => o.length);
  const done = open.flatMap((o, r) => (o === 0 ? [r] : []));
  for (let i = 0; i < done.length; i++) {
    const r = done[i] ?? 0;
    for (let e = last[r] ?? -1; e >= 0; e = before[e] ?? -1) {
      const b = from[e] ?? 0;
      fates[b] = (fates[b] ?? 0) | (fates[r] ?? 0);
      longest[b] = Math.max(longest[b] ?? 0, (longest[r] ?? 0) + 1);
      open[b] = (open[b] ?? 0) - 1;
      if (open[b] === 0) done.push(b);
    }
  }
  const stuck = open.flatMap((o, r) => (o > 0 ? [r] : []));
  for (const r of stuck) {
    fates[r] = (fates[r] ?? 0) | bit.looping;
    longest[r] = -1;
  }
  for (let moved = true; moved;) {
    moved = false;
    for (const r of stuck)
      for (const o of next[r] ?? []) {
        const joined = (fates[r] ?? 0) | (fates[o] ?? 0);
        if (joined !== fates[r]) {
          fates[r] = joined;
          moved = true;
        }
      }
  }
  return { fates, next, longest };
}

/** What becomes of packets for one address from every router at once, as `flowTo` tells it. */
export const fatesTo = (f: Forwarding, to: Ipv4, outside?: number): Uint8Array => flowTo(f, to, outside).fates;

/** Whether any packet from a router arrives. */
export const isDelivered = (fates: Uint8Array, router: number): boolean => ((fates[router] ?? 0) & bit.delivered) !== 0;

/** The fate that a set of bits stands for. */
export const fateOfBits = (bits: number): Fate => fatesByBits[bits] ?? 'partly';

const fatesByBits: readonly (Fate | undefined)[] = [
  undefined,
  'delivered',
  'dropped',
  undefined,
  'leaves',
  undefined,
  undefined,
  undefined,
  'looping',
];

/** The fate of packets that start at any of some routers; no router at all: dropped. */
export const fateFrom = (fates: Uint8Array, starts: readonly number[]): Fate =>
  starts.length === 0 ? 'dropped' : fateOfBits(starts.reduce((all, s) => all | (fates[s] ?? 0), 0));
