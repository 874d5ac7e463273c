import { startTransition, useEffect, useMemo, useReducer, useState } from 'react';
import type { DesignView } from '../model/view';
import { told } from '../model/state';
import { workbench } from '../worker/client';
import { chartOf, planOf, samePlaces, type Chart, type ChartPlan, type Mapped } from './fold';
import type { LayoutInput, MapLayout } from './layout';

/** The latest charts that the worker has laid out, by what they were made of. */
const known = new Map<string, MapLayout>();
const atMost = 8;

/** Most edits leave the chart as it is, and folds are turned back: it is laid out anew only when nobody has asked for it lately. */
async function laidOut(key: string, input: LayoutInput): Promise<void> {
  const map = await workbench().layout.chart(input);
  known.delete(key);
  known.set(key, map);
  for (const old of known.keys()) if (known.size > atMost) known.delete(old);
}

interface Planned extends ChartPlan {
  /** What is to be laid out, as text; empty when the view brings its layout with it. */
  readonly key: string;
}

let lastPlan: { readonly mapped: Mapped; readonly foldedKey: string; readonly plan: Planned } | undefined;

/**
 * The plan of a view. The last one holds while the same stands beside the same: after most edits of a large campus, and in
 * the renderings that are begun and given up while one types.
 */
function planned(mapped: Mapped, foldedKey: string): Planned {
  if (lastPlan?.foldedKey === foldedKey && samePlaces(lastPlan.mapped, mapped)) return lastPlan.plan;
  const made = planOf(mapped, foldedKey === '' ? [] : foldedKey.split(','));
  const plan = { ...made, key: made.input ? JSON.stringify(made.input) : '' };
  lastPlan = { mapped, foldedKey, plan };
  return plan;
}

let lastChart: { readonly mapped: Mapped; readonly plan: Planned; readonly map: MapLayout; readonly chart: Chart } | undefined;

/** The chart of a plan; the last one again where it was made of the same. */
function charted(mapped: Mapped, plan: Planned, map: MapLayout): Chart {
  const same =
    lastChart?.plan === plan &&
    lastChart.map === map &&
    lastChart.mapped.segments === mapped.segments &&
    lastChart.mapped.pairs === mapped.pairs &&
    lastChart.mapped.areas === mapped.areas;
  if (lastChart && same) return lastChart.chart;
  const chart = chartOf(mapped, plan, map);
  lastChart = { mapped, plan, map, chart };
  return chart;
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
  const mapped = useMemo(() => ({ routers, segments, pairs, areas, layout, places }), [routers, segments, pairs, areas, layout, places]);
  const plan = planned(mapped, foldedKey);
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
  const chart = useMemo(() => (map ? charted(mapped, plan, map) : undefined), [mapped, plan, map]);
  if (chart && chart !== before) setBefore(chart);
  return { chart: chart ?? before ?? nothing, settled: chart !== undefined };
}
