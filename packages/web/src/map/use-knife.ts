'use client';

import { useEffect, useRef, useState, type PointerEvent } from 'react';
import { crossedBy, type Crossed, type Stroke } from './crossing';
import type { Chart } from './fold';
import type { Point } from './shapes';

/** A cut that is dragged over the map: what it crosses is told as it moves, and once more when it is let go. */
export interface Knife {
  readonly onMove: (crossed: readonly Crossed[]) => void;
  readonly onCut: (crossed: readonly Crossed[]) => void;
}

/**
 * Lets a stroke be drawn over the chart while there is a knife. Escape, or a stroke that crosses nothing, cuts nothing.
 *
 * @param onSheet  where on the chart a place of the window is
 */
export function useKnife(knife: Knife | undefined, chart: Pick<Chart, 'lines' | 'bundles'>, onSheet: (x: number, y: number) => Point) {
  const [stroke, setStroke] = useState<Stroke>();
  const from = useRef<Point | undefined>(undefined);
  const ended = useRef(false);
  const crossed = stroke ? crossedBy(stroke, chart) : [];
  useEffect(() => {
    if (!knife) return;
    const move = (e: globalThis.PointerEvent): void => {
      if (!from.current) return;
      const next = { from: from.current, to: onSheet(e.clientX, e.clientY) };
      setStroke(next);
      knife.onMove(crossedBy(next, chart));
    };
    const end =
      (cut: boolean) =>
      (e: globalThis.PointerEvent | globalThis.KeyboardEvent): void => {
        if (!from.current || ('key' in e && e.key !== 'Escape')) return;
        const next = 'clientX' in e ? { from: from.current, to: onSheet(e.clientX, e.clientY) } : undefined;
        from.current = undefined;
        ended.current = true;
        setStroke(undefined);
        knife.onMove([]);
        const all = cut && next ? crossedBy(next, chart) : [];
        if (all.length > 0) knife.onCut(all);
      };
    // A click follows the release: it chooses nothing.
    const click = (e: MouseEvent): void => {
      if (ended.current) e.stopPropagation();
      ended.current = false;
    };
    const [up, off] = [end(true), end(false)];
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', up);
    window.addEventListener('pointercancel', off);
    window.addEventListener('keydown', off);
    window.addEventListener('click', click, true);
    return () => {
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', up);
      window.removeEventListener('pointercancel', off);
      window.removeEventListener('keydown', off);
      window.removeEventListener('click', click, true);
    };
  });
  const begin = (e: PointerEvent): void => {
    if (!knife || e.button !== 0) return;
    e.stopPropagation();
    ended.current = false;
    from.current = onSheet(e.clientX, e.clientY);
  };
  return { stroke, crossed, begin };
}
