import type { DesignView } from '../model/view';
import { areaName } from '../parts/words';
import type { MapLayout } from './layout';

/** Name of an area in letters of one size on the screen, in the middle of its routers; shown from far off only. */
export function FarName({
  area,
  layout,
  tint,
}: {
  readonly area: DesignView['areas'][number];
  readonly layout: MapLayout;
  readonly tint: string | number;
}) {
  const own = area.id === '0.0.0.0' ? [] : area.routers.flatMap((r) => layout.routers[r] ?? []);
  const middle = (of: (p: { x: number; y: number }) => number): number => own.reduce((n, p) => n + of(p), 0) / own.length;
  const at = own.length === 0 ? { x: layout.width / 2, y: layout.height / 2 } : { x: middle((p) => p.x), y: middle((p) => p.y) };
  return (
    <g
      className="map-far pointer-events-none"
      transform={`translate(${at.x} ${at.y})`}
      fill={`var(--name-${tint})`}
      textAnchor="middle"
      aria-hidden="true"
    >
      <text className="font-serif italic" data-size="name">
        {area.name || areaName(area.id)}
      </text>
      <text className="font-mono" data-size="count">
        {area.name === '' ? '' : `${areaName(area.id).toLowerCase()}, `}
        {area.routers.length} routers
      </text>
    </g>
  );
}
