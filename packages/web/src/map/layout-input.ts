import type { Point, Size } from './shapes';

/** What the layout is made of. Areas and routers by name; segments as lists of routers. */
export interface LayoutInput {
  readonly routers: readonly { readonly name: string; readonly areas: readonly string[]; readonly size?: Size }[];
  readonly links: readonly { readonly id: number; readonly members: readonly string[]; readonly lan: boolean }[];
  /** Places chosen by hand, from the middle of the chart. */
  readonly places?: Readonly<Record<string, Point>>;
}
export interface AreaGround {
  readonly area: string;
  /** Outline of the ground as an SVG path. */
  readonly path: string;
  /** The corners that the outline is smoothed from, in order; convex. */
  readonly corners: readonly Point[];
  readonly label: Point;
  readonly anchor: 'start' | 'middle' | 'end';
}
export interface MapLayout {
  readonly width: number;
  readonly height: number;
  /** The middle of the backbone: places chosen by hand are counted from it. */
  readonly centre: Point;
  readonly routers: Readonly<Record<string, Point>>;
  /** Bars of LANs with two or more routers, by segment. */
  readonly lans: Readonly<Record<number, Point>>;
  readonly grounds: readonly AreaGround[];
}

/** Id of the backbone. */
export const backbone = '0.0.0.0';
