'use client';

import { select } from 'd3-selection';
import { zoom, zoomIdentity, zoomTransform, type ZoomBehavior } from 'd3-zoom';
import { startTransition, useEffect, useRef, useState } from 'react';
import type { Sight } from './far-sheet';
import type { Point } from './shapes';

/** Zoom below which the names on plates could not be read. */
const farBelow = 0.5;

/** Pixels at the top of the window that the tools of the map take. */
const toolsAbove = 36;

/**
 * Fits the sheet into the window, and lets it be moved and zoomed.
 *
 * @param held  a drag does not move it: it does something else
 */
export function useSheet(width: number, height: number, large: boolean, held = false) {
  const svg = useRef<SVGSVGElement>(null);
  const group = useRef<SVGGElement>(null);
  /** What is written in letters of one size, however near one is. */
  const steady = useRef<SVGGElement>(null);
  // Kept, since asking the page for it would have all that is drawn laid out on the spot.
  const room = useRef({ w: 0, h: 0 });
  const behaviour = useRef<ZoomBehavior<SVGSVGElement, unknown> | undefined>(undefined);
  const looking = useRef<number | undefined>(undefined);
  const still = useRef(held);
  useEffect(() => {
    still.current = held;
  }, [held]);
  const [sight, setSight] = useState<Sight>({ far: true });
  // The sheet is fitted while it is empty: what comes onto it is styled and laid out once, at the size it is seen in.
  const [ready, setReady] = useState(false);
  const fit = (): void => {
    const el = svg.current;
    if (!el || !behaviour.current) return;
    const { w, h } = room.current;
    const k = Math.min(w / width, (h - toolsAbove) / height, 1.35);
    behaviour.current.transform(select(el), zoomIdentity.translate((w - width * k) / 2, toolsAbove + (h - toolsAbove - height * k) / 2).scale(k));
  };
  /** Brings a place into the middle of the window, near enough to read it. */
  const zoomTo = (p: Point, least = 1): void => {
    const el = svg.current;
    if (!el || !behaviour.current) return;
    const k = Math.max(zoomTransform(el).k, least);
    behaviour.current.transform(select(el), zoomIdentity.translate(room.current.w / 2 - p.x * k, room.current.h / 2 - p.y * k).scale(k));
  };
  /** Shows a part of the sheet as large as it fits. */
  const zoomOver = (from: Point, to: Point): void => {
    const el = svg.current;
    if (!el || !behaviour.current) return;
    const k = Math.min(room.current.w / (to.x - from.x), room.current.h / (to.y - from.y), 1.35);
    const middle = { x: (from.x + to.x) / 2, y: (from.y + to.y) / 2 };
    behaviour.current.transform(select(el), zoomIdentity.translate(room.current.w / 2 - middle.x * k, room.current.h / 2 - middle.y * k).scale(k));
  };
  /** Moves the sheet under the window, in pixels of the window. */
  const pan = (x: number, y: number): void => {
    const el = svg.current;
    if (el && behaviour.current) behaviour.current.translateBy(select(el), x / zoomTransform(el).k, y / zoomTransform(el).k);
  };
  /** Where on the sheet a place of the window is. */
  const onSheet = (x: number, y: number): Point => {
    const ctm = group.current?.getScreenCTM();
    return ctm ? new DOMPoint(x, y).matrixTransform(ctm.inverse()) : { x: 0, y: 0 };
  };
  const by = (k: number): void => {
    if (svg.current && behaviour.current) behaviour.current.scaleBy(select(svg.current), k);
  };
  useEffect(() => {
    const el = svg.current;
    if (!el) return;
    const b = zoom<SVGSVGElement, unknown>()
      .scaleExtent([0.12, 4])
      // A plate that is dragged moves itself, not the sheet.
      .filter(
        (e: MouseEvent) =>
          (!e.ctrlKey || e.type === 'wheel') &&
          !e.button &&
          !(e.type !== 'wheel' && (still.current || (e.target as Element).closest('[data-plate]'))),
      )
      .on('zoom', (e: { transform: { k: number; x: number; y: number; toString: () => string } }) => {
        const g = group.current;
        g?.setAttribute('transform', e.transform.toString());
        steady.current?.style.setProperty('--zoom', String(e.transform.k));
        // Too far off to read names: areas are named large instead, with how many routers they hold.
        g?.toggleAttribute('data-far', e.transform.k < farBelow);
        if (!large) return;
        window.clearTimeout(looking.current);
        const { k, x, y } = e.transform;
        looking.current = window.setTimeout(() => {
          // Half a window more on every side, so that little comes late while one moves.
          const { w, h } = room.current;
          setSight(
            k < farBelow
              ? { far: true }
              : { far: false, from: { x: (-x - w / 2) / k, y: (-y - h / 2) / k }, to: { x: (1.5 * w - x) / k, y: (1.5 * h - y) / k } },
          );
        }, 60);
      });
    behaviour.current = b;
    select(el).call(b).on('dblclick.zoom', null);
    // A size in percent would have all that is drawn laid out anew whenever a word changes anywhere on the page.
    const around = el.parentElement;
    const takeRoom = (): boolean => {
      const [w, h] = [around?.clientWidth ?? el.clientWidth, around?.clientHeight ?? el.clientHeight];
      const same = w === room.current.w && h === room.current.h;
      room.current = { w, h };
      el.style.width = `${w}px`;
      el.style.height = `${h}px`;
      return same;
    };
    takeRoom();
    fit();
    startTransition(() => setReady(true));
    // An observer speaks once at first, too: only another size is a new fit, or it would undo where one has gone meanwhile.
    const watch = new ResizeObserver(() => {
      if (!takeRoom()) fit();
    });
    watch.observe(around ?? el);
    return () => watch.disconnect();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- a new sheet size is a new fit; fit reads only refs and these two
  }, [width, height, large]);
  return { svg, group, steady, fit, by, pan, zoomTo, zoomOver, onSheet, sight, ready };
}
