'use client';

import { useEffect, useRef, useState, type PointerEvent } from 'react';
import { endsOf } from './drawn';
import { plateKey, type Chart } from './fold';
import { plate, plateWidth, type Point } from './shapes';

/** A plate that is being moved, and where it is held now. */
export interface Grip {
  readonly key: string;
  readonly at: Point;
}

/** Lets plates be moved by the mouse; what is dropped stays where it was put. */
export function useGrip(onSheet: (x: number, y: number) => Point, drop: (key: string, at: Point) => void) {
  const [grip, setGrip] = useState<Grip | undefined>(undefined);
  const held = useRef<{ key: string; x: number; y: number; moved: boolean } | undefined>(undefined);
  const dropped = useRef(false);
  useEffect(() => {
    const move = (e: globalThis.PointerEvent): void => {
      const h = held.current;
      if (!h || (!h.moved && Math.hypot(e.clientX - h.x, e.clientY - h.y) < 5)) return;
      h.moved = true;
      setGrip({ key: h.key, at: onSheet(e.clientX, e.clientY) });
    };
    const up = (e: globalThis.PointerEvent): void => {
      const h = held.current;
      held.current = undefined;
      setGrip(undefined);
      dropped.current = h?.moved ?? false;
      if (h?.moved) drop(h.key, onSheet(e.clientX, e.clientY));
    };
    // A click follows the release: it chooses nothing when the plate was moved.
    const click = (e: MouseEvent): void => {
      if (dropped.current) e.stopPropagation();
      dropped.current = false;
    };
    const off = (): void => {
      held.current = undefined;
      setGrip(undefined);
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', up);
    window.addEventListener('pointercancel', off);
    window.addEventListener('click', click, true);
    return () => {
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', up);
      window.removeEventListener('pointercancel', off);
      window.removeEventListener('click', click, true);
    };
  });
  const grab = (e: PointerEvent, key: string): void => {
    if (e.button === 0 && e.pointerType !== 'touch') held.current = { key, x: e.clientX, y: e.clientY, moved: false };
  };
  return { grip, grab };
}

/** Lines from what a moved plate is linked to, and its outline under the hand. */
export function Moving({ grip, chart }: { readonly grip: Grip; readonly chart: Chart }) {
  const ends = [
    ...chart.lines.flatMap((d) => {
      const names = endsOf(d);
      if (!names.includes(grip.key)) return [];
      const self = chart.layout.routers[grip.key];
      return [d.from === self ? d.to : d.from];
    }),
    ...chart.bundles.flatMap((b) => (plateKey(b.area) === grip.key ? [b.from] : b.router === grip.key ? [b.to] : [])),
  ];
  const w = plateWidth(grip.key);
  return (
    <g className="pointer-events-none" stroke="var(--accent)" fill="none">
      {ends.map((p, i) => (
        <line key={i} x1={grip.at.x} y1={grip.at.y} x2={p.x} y2={p.y} strokeDasharray="3 3" />
      ))}
      <rect
        x={grip.at.x - w / 2}
        y={grip.at.y - plate.height / 2}
        width={w}
        height={plate.height}
        rx={2}
        fill="var(--accent-ground)"
        strokeWidth={1.6}
      />
    </g>
  );
}
