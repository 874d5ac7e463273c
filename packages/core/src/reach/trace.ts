import { formatPrefix } from '../prefix/address';
import type { Ipv4 } from '../prefix/ipv4';
import type { BranchFate, Forwarding } from './forwarding';

export type Fate = BranchFate | 'partly';

/** One router on the way of a packet. */
export interface Hop {
  readonly router: string;
  /** The route that takes it on; `null` where it ends. */
  readonly route: string | null;
  readonly outInterface: string | null;
  readonly nextHop: Ipv4 | null;
}

/** One of the equal ways of a packet, to its end. */
export interface Branch {
  readonly fate: BranchFate;
  readonly reason: string;
  readonly hops: readonly Hop[];
}

/** Every way of a packet from its first routers; `partly` where the ways end differently. `cut`: there are more than are shown. */
export interface Walk {
  readonly fate: Fate;
  readonly branches: readonly Branch[];
  readonly cut: boolean;
}

/** The way there and the way back. */
export interface Trace {
  readonly forward: Walk;
  readonly return: Walk;
}

const most = 64;

const fateOf = (branches: readonly Branch[]): Fate => {
  const fates = new Set(branches.map((b) => b.fate));
  const [only] = fates;
  return fates.size === 1 && only ? only : 'partly';
};

/** Follows a packet for an address from each of the given routers, over every equal way; at most 64 branches are followed. */
export function walk(f: Forwarding, starts: readonly number[], to: Ipv4): Walk {
  const branches: Branch[] = [];
  let cut = false;
  const name = (router: number): string => f.prediction.design.routers[router]?.name ?? '';
  const follow = (router: number, hops: readonly Hop[], seen: ReadonlySet<number>): void => {
    if (branches.length >= most) {
      cut = true;
      return;
    }
    if (seen.has(router)) {
      const here: Hop = { router: name(router), route: null, outInterface: null, nextHop: null };
      branches.push({ fate: 'looping', reason: `the packet comes back to ${name(router)}`, hops: [...hops, here] });
      return;
    }
    const step = f.step(router, to);
    if (step.kind === 'end') {
      const here: Hop = {
        router: name(router),
        route: step.route ? formatPrefix(step.route) : null,
        outInterface: step.iface ?? null,
        nextHop: null,
      };
      branches.push({ fate: step.fate, reason: step.reason, hops: [...hops, here] });
      return;
    }
    const deeper = new Set([...seen, router]);
    for (const w of step.ways) {
      const here: Hop = { router: name(router), route: formatPrefix(w.route), outInterface: w.iface, nextHop: w.nextHop ?? null };
      if (w.to === undefined)
        branches.push({ fate: 'leaves', reason: `its next hop out of ${w.iface} is no router of this design`, hops: [...hops, here] });
      else follow(w.to, [...hops, here], deeper);
    }
  };
  for (const s of starts) follow(s, [], new Set());
  if (branches.length === 0) branches.push({ fate: 'dropped', reason: 'no router that is up has an interface on its subnet', hops: [] });
  return { fate: fateOf(branches), branches, cut };
}

/**
 * Traces from a source address to a destination, and the way back from the destination to that source. A host's packet
 * starts at every router of its LAN.
 *
 * @param at  index of the one router where the packet starts, in place of those of its source
 */
export function trace(f: Forwarding, from: Ipv4, to: Ipv4, at?: number): Trace {
  return { forward: walk(f, at === undefined ? f.endsOf(from) : [at], to), return: walk(f, f.endsOf(to), from) };
}
