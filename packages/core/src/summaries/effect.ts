import { comparePredictions, routeCounts } from '../compare/compare';
import { countChanges } from '../compare/count-changes';
import { keepsTables } from '../compare/keeps-tables';
import type { Prediction } from '../predict';

/** Something counted before and after. */
export type Step = readonly [before: number, after: number];

/** What an edit of summaries does to databases and tables. */
export interface SummaryEffect {
  /** Types 3 in each area, and types 5 in the domain where these change. */
  readonly advertisements: readonly { readonly area: number | undefined; readonly type: 3 | 5; readonly count: Step; readonly routers: number }[];
  /** Lines of all tables. */
  readonly routes: { readonly lost: number; readonly gained: number; readonly changed: number; readonly routers: number };
  /** Routers whose tables change, with what changes there; of a large design none, they are counted. */
  readonly tables: readonly { readonly router: string; readonly lost: number; readonly gained: number; readonly changed: number }[];
}

function typeThrees(p: Prediction): Map<number, { count: number; routers: number }> {
  const out = new Map<number, { count: number; routers: number }>();
  for (const db of p.routing.databases) {
    let count = 0;
    for (const said of db.networksSaid()) count += said.length;
    const known = out.get(db.areaId) ?? { count: 0, routers: 0 };
    out.set(db.areaId, { count: Math.max(known.count, count), routers: known.routers + db.speakers.length });
  }
  return out;
}

/** Types 5 of the domain, and how many routers hold them. */
function typeFives(p: Prediction): { readonly count: number; readonly routers: number } {
  const lists = p.adjacencies.speakers.map((s) => p.routing.externals(s)).filter((l) => l.length > 0);
  return { count: Math.max(0, ...lists.map((l) => l.length)), routers: lists.length };
}

/**
 * What an edit of summaries would do: advertisements and routes that it saves, in how many routers.
 *
 * @param after  best computed from the first state
 */
export function summaryEffect(p: Prediction, after: Prediction): SummaryEffect {
  const [before, then] = [typeThrees(p), typeThrees(after)];
  const threes = [...before].flatMap(([area, { count, routers }]) => {
    const now = then.get(area)?.count ?? 0;
    return now === count ? [] : [{ area, type: 3 as const, count: [count, now] as const, routers }];
  });
  const [outside, outsideThen] = [typeFives(p), typeFives(after)];
  const fives =
    outside.count === outsideThen.count
      ? []
      : [
          {
            area: undefined,
            type: 5 as const,
            count: [outside.count, outsideThen.count] as const,
            routers: Math.max(outside.routers, outsideThen.routers),
          },
        ];
  const advertisements = [...threes.sort((a, b) => a.area - b.area), ...fives];
  if (!keepsTables(p)) {
    const c = countChanges(p, after);
    return { advertisements, routes: { lost: c.lost, gained: c.gained, changed: c.changed, routers: c.routers.length }, tables: [] };
  }
  const d = comparePredictions(p, after);
  const changed = d.routers.filter((r) => r.routes.length > 0);
  return {
    advertisements,
    routes: { lost: d.lost, gained: d.gained, changed: d.changed, routers: changed.length },
    tables: changed.map((r) => ({ router: r.router, ...routeCounts(r) })),
  };
}
