import { comparePredictions, coveringRoute, routeCounts } from '../compare/compare';
import { countChanges } from '../compare/count-changes';
import { keepsTables } from '../compare/keeps-tables';
import type { Prediction } from '../predict';
import { prefixBook } from '../prefix/prefix-book';

/** Lines of a table that are lost, gained, and other ones. */
export interface Counted {
  readonly lost: number;
  readonly gained: number;
  readonly changed: number;
}

/** What an edit that is tried does to tables and reach. */
export interface TrialDifference {
  readonly routes: Counted & { readonly routers: number };
  /** Routers with another table; of a large design none, they are counted. */
  readonly tables: readonly (Counted & { readonly router: string })[];
  /** Who cannot reach what any more. */
  readonly outOfReach: readonly { readonly router: string; readonly prefixes: readonly string[] }[];
  /** How many routers were asked who loses reach; `undefined`: all. */
  readonly asked: number | undefined;
}

/** Routers of an area that are asked for their reach in a large design: making a table for each of thousands takes minutes. */
const askedAtMost = 20;

/** Of some routers, which prefixes no line of their tables holds any more that leads on. */
function cutOff(p: Prediction, after: Prediction, routers: readonly string[]): TrialDifference['outOfReach'] {
  return routers.flatMap((router) => {
    const [a, b] = [p.routerIndex(router), after.routerIndex(router)];
    const now = after.ribOnce(b);
    const prefixes = p
      .ribOnce(a)
      .filter((r) => r.hops.length > 0 && (coveringRoute(now, r)?.hops.length ?? 0) === 0)
      .map((r) => prefixBook.text(r.key));
    return prefixes.length === 0 ? [] : [{ router, prefixes }];
  });
}

/** What changes in tables, and who loses reach. Of a large design lines are counted and not listed, and some of the area's routers are asked. */
export function trialDifference(p: Prediction, after: Prediction, area: number): TrialDifference {
  if (!keepsTables(p)) {
    const c = countChanges(p, after);
    const own = p.adjacencies.speakers.filter((s) => p.routing.areasOf(s).includes(area)).map((s) => s.router.name);
    const step = Math.max(1, own.length / askedAtMost);
    const some = Array.from({ length: Math.min(askedAtMost, own.length) }, (_, n) => own[Math.floor(n * step)] ?? '');
    return {
      tables: [],
      routes: { lost: c.lost, gained: c.gained, changed: c.changed, routers: c.routers.length },
      outOfReach: cutOff(p, after, some),
      asked: some.length,
    };
  }
  const d = comparePredictions(p, after);
  const changed = d.routers.filter((r) => r.routes.length > 0);
  return {
    tables: changed.map((r) => ({ router: r.router, ...routeCounts(r) })),
    routes: { lost: d.lost, gained: d.gained, changed: d.changed, routers: changed.length },
    outOfReach: d.routers
      .filter((r) => r.outOfReach.length > 0)
      .map((r) => ({ router: r.router, prefixes: r.outOfReach.map((k) => prefixBook.text(k)) })),
    asked: undefined,
  };
}
