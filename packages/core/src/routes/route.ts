import type { RouteType } from '../design/terms';
import type { Lsa } from '../lsdb/lsa';
import type { Ipv4, Ipv4Prefix } from '../prefix/ipv4';
import type { HopSet } from '../spf/shortest-path-tree';

/** One route that OSPF computed in one router. Hops are places in the router's hop list. */
export interface Route extends Ipv4Prefix {
  readonly key: number;
  readonly type: RouteType;
  /** The OSPF distance; for type 2 the external metric. */
  readonly metric: number;
  /** For type 2: distance to the boundary router or forwarding address. */
  readonly forwardMetric: number | undefined;
  readonly tag: number;
  readonly hops: HopSet;
  /** The area whose tree it came through; for externals that of the path to the boundary router. */
  readonly area: number;
  /** The advertisements it stands on. */
  readonly sources: readonly Lsa[];
  /** The rule that made or preferred it. */
  readonly rule: string;
  /** An own interface is on the prefix. */
  readonly attached: boolean;
}

export type Table = Map<number, Route>;

/** A way to a border or boundary router, through one area. */
export interface RouterPath {
  readonly router: Ipv4;
  readonly type: 'intra-area' | 'inter-area';
  readonly area: number;
  readonly cost: number;
  readonly hops: HopSet;
  readonly source: Lsa | undefined;
}
