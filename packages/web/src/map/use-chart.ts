import { startTransition, useEffect, useMemo, useReducer, useState } from 'react';
import type { DesignView } from '../model/view';
import { told } from '../model/store';
import { workbench } from '../worker/client';
import { chartOf, planOf, type Chart } from './fold';
import type { LayoutInput, MapLayout } from './layout';

/** The latest charts that the worker has laid out, by what they were made of. */
const known = new Map<string, MapLayout>();
const atMost = 8;

/** Most edits leave the chart as it is, and folds are turned back: it is laid out anew only when nobody has asked for it lately. */
async function laidOut(key: string, input: LayoutInput): Promise<void> {
  const map = await workbench().chart(input);
  known.delete(key);
  known.set(key, map);
  for (const old of known.keys()) if (known.size > atMost) known.delete(old);
}

const nothing: Chart = {
  layout: { routers: {}, lans: {}, grounds: [], width: 1200, height: 800, centre: { x: 600, y: 400 } },
  areas: [],
  lines: [],
  bundles: [],
  placeOf: () => undefined,
  inside: () => undefined,
};

/**
 * The chart with some areas folded. While the worker lays one out the one before stays.
 *
 * @param foldedKey  ids of the folded areas, joined by commas
 */
export function useChart(view: DesignView, foldedKey: string): { readonly chart: Chart; readonly settled: boolean } {
  const { routers, segments, pairs, areas, layout, places } = view;
  const [, again] = useReducer((n: number) => n + 1, 0);
  const [before, setBefore] = useState<Chart | undefined>(undefined);
  const plan = useMemo(() => {
    const mapped = { routers, segments, pairs, areas, layout, places };
    const made = planOf(mapped, foldedKey === '' ? [] : foldedKey.split(','));
    return { ...made, mapped, key: made.input ? JSON.stringify(made.input) : '' };
  }, [routers, segments, pairs, areas, layout, places, foldedKey]);
  const map = plan.input ? known.get(plan.key) : (layout ?? undefined);
  useEffect(() => {
    if (map || !plan.input) return;
    let gone = false;
    void laidOut(plan.key, plan.input)
      .then(() => {
        if (!gone) startTransition(again);
      })
      .catch((e: unknown) => told(e, 'Laying out the map'));
    return () => {
      gone = true;
    };
  }, [map, plan]);
  const chart = useMemo(() => (map ? chartOf(plan.mapped, plan, map) : undefined), [plan, map]);
  if (chart && chart !== before) setBefore(chart);
  return { chart: chart ?? before ?? nothing, settled: chart !== undefined };
}
