import type { Absence } from '@gentle-compass/core/areas/absence';
import type { LostWay } from '@gentle-compass/core/evidence/lost-ways';
import type { TreeMove, TreeRouter } from '@gentle-compass/core/evidence/tree';
import type { MatrixOf } from '@gentle-compass/core/reach/matrix-cells';
import type { Fate } from '@gentle-compass/core/reach/trace';
import type { RouteRow, ChangeSummary } from './view';

/** A line of the tables of several routers, or of two moments, side by side: a cell for each. */
export interface BesideRow {
  /** Place in the order of prefixes. */
  readonly key: number;
  readonly prefix: string;
  readonly cells: readonly (Pick<RouteRow, 'type' | 'metric' | 'hops'> | null)[];
  /** Not all have it, or not in the same way: kind and cost, where the tables are of several routers. */
  readonly differs: boolean;
}

/** What OSPF computed beside what the table took. */
export interface OwnRow {
  readonly key: number;
  readonly prefix: string;
  /** OSPF's own; `null`: it has none. */
  readonly ospf: Pick<RouteRow, 'type' | 'metric' | 'hops' | 'area'> | null;
  /** What the table took; empty: nothing. */
  readonly took: string;
  readonly preference: number | null;
  /** Why it is not OSPF's, in words; empty where it is. */
  readonly why: string;
}

/** A router and what it has of a prefix. */
export interface HolderRow {
  readonly router: string;
  readonly row: Pick<RouteRow, 'type' | 'metric' | 'hops' | 'area'> | null;
  /** Routers on the way to it, the first of equal ways; empty where it is attached or not there. */
  readonly way: readonly string[];
  /** Why it has none. */
  readonly absence: Absence | null;
}

/** Why a line is as it is: besides what brings it, the ways that lost; or why it is not there. */
export interface WhyNotView {
  readonly lost: readonly LostWay[];
  readonly absence: Absence | null;
}

/** One router on the way of a packet. */
export interface HopView {
  readonly router: string;
  readonly route: string;
  /** `intra-area 20`, `static`. */
  readonly by: string;
  readonly iface: string;
  readonly nextHop: string;
}
export interface BranchView {
  readonly fate: Fate;
  readonly reason: string;
  readonly hops: readonly HopView[];
}
export interface WalkView {
  readonly fate: Fate;
  readonly cut: boolean;
  readonly branches: readonly BranchView[];
  /** Lines of the map that it passes: a cable by its segment, the way to a LAN by its router too. */
  readonly lines: readonly string[];
}

/** A packet and its answer. */
export interface TraceView {
  readonly from: string;
  readonly to: string;
  /** Routers at which it begins, and at which the answer does. */
  readonly starts: readonly string[];
  readonly goals: readonly string[];
  /** Whose address the source is; empty: a host’s. */
  readonly source: string;
  /** How the source came to be: taken by the router itself, or typed. */
  readonly chosen: boolean;
  readonly there: WalkView;
  readonly back: WalkView;
  /** The source's router’s other addresses, with what becomes of their answers. */
  readonly sources: readonly { readonly address: string; readonly iface: string; readonly chosen: boolean; readonly back: Fate }[];
  /** Why the packet, or where that arrives its answer, ends where it is dropped: the missing route. */
  readonly missing: Absence | null;
  /** The least cost of OSPF at the start. */
  readonly cost: number | null;
  readonly hops: number | null;
}
/** What stands in the way of a trace. */
export interface NoTrace {
  readonly fault: string;
}

/** A matrix as it comes to the page: its numbers are handed over, not copied. */
export type MatrixView = MatrixOf<MatrixEnd>;
/** A row or column of a matrix. */
export interface MatrixEnd {
  readonly address: string;
  /** The router whose address it is; of a host its first gateway. */
  readonly router: string;
  /** Its area: where it stands inside, else the backbone. */
  readonly area: string;
  /** The name of its site: that of the router without its number. */
  readonly site: string;
}

export interface TreeView {
  readonly areas: readonly string[];
  readonly area: string;
  readonly tree: readonly TreeRouter[];
  /** Lines of the map in the tree. */
  readonly lines: readonly string[];
}

/** What another cost would do, before it is made. */
export interface CostTrial extends ChangeSummary {
  readonly line: string;
  readonly title: string;
  readonly moves: readonly TreeMove[];
}
