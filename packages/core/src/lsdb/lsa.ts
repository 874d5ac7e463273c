import type { Port } from '../adjacency/speakers';
import type { RouterLsa } from './router-links';
import { isSix, type Address, type Prefix } from '../prefix/address';
import { maskOf, type Ipv4 } from '../prefix/ipv4';

/** Costs from here on mean unreachable (RFC 2328 B, LSInfinity). */
export const lsInfinity = 0xff_ffff;

/** Type 2 (RFC 2328 §12.4.2, RFC 5340 §4.4.3.3). */
export interface NetworkLsa {
  readonly type: 2;
  readonly adv: Ipv4;
  /** Address of the designated router; in version 3 the number of its interface. */
  readonly id: Ipv4;
  /** What links lead to: the address, or `networkKey`. */
  readonly key: number;
  readonly length: number;
  /** Version 3: numbers of the prefixes that its members have there, brought by an intra-area-prefix-LSA. */
  readonly prefixes?: readonly number[];
  readonly routers: readonly Ipv4[];
  readonly port: Port;
}

/** Why a summary stands as it does. */
export type SummaryReason = 'intra-area' | 'inter-area' | 'range' | 'stub-default' | 'boundary-router';

/** Types 3 and 4 (RFC 2328 §12.4.3). For type 4 `bits` is the boundary router's id and `length` 0. */
export interface SummaryLsa extends Prefix {
  readonly type: 3 | 4;
  readonly adv: Ipv4;
  readonly id: Ipv4;
  readonly speaker: number;
  readonly metric: number;
  readonly reason: SummaryReason;
  /** Type 4 of version 3: 0x2004 (RFC 5340 §4.4.3.5). */
  readonly three?: true;
  /** The area the destination comes from. */
  readonly fromArea: number;
  /** Parts folded into a range. */
  readonly parts?: readonly Prefix[];
}

/** Types 5 and 7 (RFC 2328 §12.4.4, RFC 3101 §2). */
export interface ExternalLsa extends Prefix {
  readonly type: 5 | 7;
  readonly adv: Ipv4;
  readonly id: Ipv4;
  readonly speaker: number;
  readonly metric: number;
  readonly metricType: 'type-1' | 'type-2';
  readonly forwarding: Address;
  readonly tag: number;
  /** Type 7 only: may be translated. */
  readonly propagate: boolean;
  readonly reason: 'static' | 'direct' | 'other' | 'default' | 'nssa-default' | 'translated' | 'external-range';
}

/** A prefix as an intra-area-prefix-LSA brings it. */
export interface AttachedPrefix extends Prefix {
  readonly metric: number;
  /** The interface it is on; absent where the members of a network bring it together. */
  readonly port?: Port;
}

/** 0x2009 of version 3 (RFC 5340 §4.4.3.9): the prefixes of a router, or of a network. */
export interface IntraAreaPrefixLsa {
  readonly type: 9;
  readonly adv: Ipv4;
  readonly id: number;
  readonly speaker: number;
  readonly of: RouterLsa | NetworkLsa;
  readonly prefixes: readonly AttachedPrefix[];
}

/** 0x0008 of version 3 (RFC 5340 §4.4.3.8): what a router tells the others on a link. */
export interface LinkLsa {
  readonly type: 8;
  readonly adv: Ipv4;
  readonly id: number;
  readonly priority: number;
  readonly linkLocal: Address;
  readonly prefixes: readonly Prefix[];
}

export type Lsa = RouterLsa | NetworkLsa | SummaryLsa | ExternalLsa | IntraAreaPrefixLsa;

/**
 * Link state ids for networks that one router announces with one type (RFC 2328 appendix E): of two that share an
 * address the longer one sets its host bits. In version 3 they are counted (RFC 5340 §4.4.3.4). Gives the ids in the order of
 * the input.
 */
export function linkStateIds(networks: readonly Prefix[]): Ipv4[] {
  if (networks[0] && isSix(networks[0].bits)) return networks.map((_, n) => n + 1);
  const shortest = new Map<Ipv4, number>();
  for (const n of networks) shortest.set(n.bits, Math.min(shortest.get(n.bits) ?? 33, n.length));
  return networks.map((n) => (n.length === shortest.get(n.bits) ? n.bits : (n.bits | ~maskOf(n.length)) >>> 0));
}
