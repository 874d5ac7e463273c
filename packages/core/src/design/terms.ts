/** Kinds of OSPF network, RFC 2328 §1.2 and RFC 6845 (`hybrid`). */
export const networkTypes = ['broadcast', 'non-broadcast', 'point-to-multipoint', 'point-to-point', 'hybrid'] as const;
export type NetworkType = (typeof networkTypes)[number];

export const areaTypes = ['normal', 'stub', 'nssa'] as const;
export type AreaType = (typeof areaTypes)[number];

/** Types of an external metric (RFC 2328 §2.3). */
export type MetricType = 'type-1' | 'type-2';

export type InterfaceKind = 'loopback' | 'ethernet' | 'other';

/** What a process may choose where the standards leave it open, or name a value. */
export interface ProcessChoices {
  readonly routerIdRule: 'highest-loopback' | 'lowest-loopback';
  readonly autoCost: boolean;
  /** Mbit/s. */
  readonly referenceBandwidth: number;
  /** Equal ways used at most. */
  readonly paths: number;
  readonly activationOrder: 'first-match' | 'longest-match';
  readonly rfc1583Compatible: boolean;
  readonly rangeCost: 'largest' | 'smallest';
  readonly borderModel: 'rfc3509' | 'rfc2328';
  readonly countsEmptyAreas: boolean;
}

/** Neighbour states of RFC 2328 §10.1, in their order. */
export const neighborStates = ['down', 'attempt', 'init', '2-way', 'exstart', 'exchange', 'loading', 'full'] as const;
export type NeighborState = (typeof neighborStates)[number];

/** Kinds of OSPF route, best first where kinds decide (RFC 2328 §11). */
export const routeTypes = ['intra-area', 'inter-area', 'external-1', 'external-2', 'nssa-1', 'nssa-2'] as const;
export type RouteType = (typeof routeTypes)[number];

export const backbone = 0;

/** Types of an area as people name them: with or without summaries from outside. */
export const areaKinds = ['normal', 'stub', 'totally-stubby', 'nssa', 'totally-nssa'] as const;
export type AreaKind = (typeof areaKinds)[number];

export const areaKindOf = (type: AreaType, summary: boolean): AreaKind =>
  type === 'normal' || summary ? type : type === 'stub' ? 'totally-stubby' : 'totally-nssa';
