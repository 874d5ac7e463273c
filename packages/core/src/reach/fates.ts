import type { Ipv4 } from '../prefix/ipv4';
import type { Fate } from './trace';
import type { Forwarding } from './forwarding';

const bit = { delivered: 1, dropped: 2, leaves: 4, looping: 8 } as const;

/**
 * What becomes of packets for one address from every router at once: bits of delivered 1, dropped 2, leaves 4, looping 8.
 * Ways that lead into a circle of routers loop; everything else follows from the routers behind.
 *
 * @param outside  key of a network outside the design that the address lies in: what leaves by its own line is delivered,
 *                 what leaves by another one (a default) is not
 */
export function fatesTo(f: Forwarding, to: Ipv4, outside?: number): Uint8Array {
  const n = f.prediction.design.routers.length;
  const fates = new Uint8Array(n);
  const next: number[][] = [];
  const before: number[][] = Array.from({ length: n }, () => []);
  for (let r = 0; r < n; r++) {
    const step = f.step(r, to);
    const on: number[] = [];
    if (step.kind === 'end') fates[r] = bit[step.fate];
    else
      for (const w of step.ways)
        if (w.to === undefined) fates[r] = (fates[r] ?? 0) | (w.route.key === outside ? bit.delivered : bit.leaves);
        else on.push(w.to);
    next.push(on);
    for (const o of on) before[o]?.push(r);
  }
  // Routers from which every way comes to an end are taken off one by one; what stays leads into a circle.
  const open = next.map((o) => o.length);
  const done = open.flatMap((o, r) => (o === 0 ? [r] : []));
  for (let i = 0; i < done.length; i++) {
    const r = done[i] ?? 0;
    for (const b of before[r] ?? []) {
      fates[b] = (fates[b] ?? 0) | (fates[r] ?? 0);
      open[b] = (open[b] ?? 0) - 1;
      if (open[b] === 0) done.push(b);
    }
  }
  const stuck = open.flatMap((o, r) => (o > 0 ? [r] : []));
  for (const r of stuck) fates[r] = (fates[r] ?? 0) | bit.looping;
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
  return fates;
}

/** Whether any packet from a router arrives. */
export const isDelivered = (fates: Uint8Array, router: number): boolean => ((fates[router] ?? 0) & bit.delivered) !== 0;

/** The fate that a set of bits stands for. */
export function fateOfBits(bits: number): Fate {
  for (const [fate, b] of Object.entries(bit)) if (bits === b) return fate as keyof typeof bit;
  return 'partly';
}

/** The fate of packets that start at any of some routers; no router at all: dropped. */
export const fateFrom = (fates: Uint8Array, starts: readonly number[]): Fate =>
  starts.length === 0 ? 'dropped' : fateOfBits(starts.reduce((all, s) => all | (fates[s] ?? 0), 0));
