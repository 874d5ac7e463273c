'use client';

import type { MouseEvent } from 'react';
import type { Drawn } from './drawn';
import type { MapLayout } from './layout';
import { plate, plateWidth, type Point } from './shapes';

/** Campuses with more routers than this are drawn from far off as a few outlines, and in full only where one looks. */
export const outlinedAbove = 400;

/** What of the chart is in sight: a rectangle in its own units, or the whole of it from far off. */
export type Sight = { readonly far: true } | { readonly far: false; readonly from: Point; readonly to: Point };

/** True when a point is in sight, or nearly. */
export const inSight = (sight: Sight, p: Point): boolean =>
  !sight.far && p.x >= sight.from.x && p.x <= sight.to.x && p.y >= sight.from.y && p.y <= sight.to.y;

const n = (x: number): string => x.toFixed(1);
const stroke = ({ a, b }: Drawn): string => `M${n(a.x)} ${n(a.y)}L${n(b.x)} ${n(b.y)}`;

interface Props {
  readonly layout: MapLayout;
  readonly drawn: readonly Drawn[];
  readonly down: ReadonlySet<string> | undefined;
  readonly onRouter: (name: string) => void;
}

/** Links and plates of a large campus from far off: one outline each, whatever their number. */
export function FarSheet({ layout, drawn, down, onRouter }: Props) {
  const apart = (d: Drawn): boolean => d.pair !== undefined && (d.pair.kind === 'trouble' || (down?.has(d.pair.id) ?? false));
  const routers = Object.entries(layout.routers);
  const plates = routers
    .map(([name, p]) => {
      const w = plateWidth(name);
      return `M${n(p.x - w / 2)} ${n(p.y - plate.height / 2)}h${n(w)}v${plate.height}h${n(-w)}z`;
    })
    .join('');
  const pick = (e: MouseEvent<SVGPathElement>): void => {
    const ctm = e.currentTarget.getScreenCTM();
    if (!ctm) return;
    const at = new DOMPoint(e.clientX, e.clientY).matrixTransform(ctm.inverse());
    const hit = routers.find(([name, p]) => Math.abs(p.x - at.x) <= plateWidth(name) / 2 && Math.abs(p.y - at.y) <= plate.height / 2);
    if (!hit) return;
    e.stopPropagation();
    onRouter(hit[0]);
  };
  return (
    <g>
      <path
        d={drawn
          .filter((d) => !apart(d))
          .map(stroke)
          .join('')}
        fill="none"
        stroke="var(--ink-2)"
        strokeWidth={1}
      />
      <path d={drawn.filter(apart).map(stroke).join('')} fill="none" stroke="var(--accent)" strokeWidth={3} strokeDasharray="8 5" />
      <path d={plates} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={1} className="cursor-pointer" onClick={pick} />
    </g>
  );
}
