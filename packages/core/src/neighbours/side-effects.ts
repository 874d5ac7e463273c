import { compareNeighbors } from '../compare/compare';
import { countChanges } from '../compare/count-changes';
import { followings, type Following } from '../convergence/tuning';
import { Ground } from '../convergence/ground';
import { applyEdits, type Edit } from '../design/edit';
import { designOf } from '../design/family';
import type { SourceDocument } from '../documents/documents';
import { designFrom } from '../formats/read-set';
import type { Prediction } from '../predict';
import { orders } from './orders';

/** What a step does, against the network as it is: neighbours each once, as `kelp-1 and kelp-4`, and routes that are missing in all tables. */
export interface PairChanges {
  readonly lost: readonly string[];
  readonly gained: readonly string[];
  readonly routesLost: number;
}

/** One router's part of a change, made by itself. */
export interface ChangeStep extends PairChanges {
  readonly router: string;
}

/** What a change does while only a part of it is made, and when all of it is. */
export interface SideEffects {
  /** The order that takes fewest neighbours away on the way, then fewest routes. */
  readonly steps: readonly ChangeStep[];
  /** Neighbours that the worst order would take away on the way, where that is another number. */
  readonly worst: number;
  readonly after: PairChanges;
  /**
   * How the ends may follow each other so that the neighbours which a step takes away are not lost at all: interval by interval,
   * within so many seconds; `undefined`: they are lost at once, or nothing is lost.
   */
  readonly following: Following | undefined;
}

const up: readonly string[] = ['full', '2-way'];

function pairChanges(before: Prediction, after: Prediction): PairChanges {
  const lost = new Set<string>();
  const gained = new Set<string>();
  for (const n of compareNeighbors(before, after)) {
    const pair = [n.router, n.peer].sort().join(' and ');
    if (up.includes(n.before) && !up.includes(n.after)) lost.add(pair);
    else if (!up.includes(n.before) && up.includes(n.after)) gained.add(pair);
    // Between two that stay connected an adjacency may go: that is a leader that changes, and no loss of a neighbour.
  }
  return { lost: [...lost].sort(), gained: [...gained].sort(), routesLost: countChanges(before, after).lost };
}

/** Changes of more routers than this are not tried in every order. */
const everyOrderUpTo = 4;

/**
 * What breaks between the first side's change and the last, by predicting the network after each; and the order that breaks
 * least.
 *
 * @param edits  of one change, of any number of routers
 */
export function sideEffects(p: Prediction, documents: readonly SourceDocument[], edits: readonly Edit[]): SideEffects {
  const routers = [...new Set(edits.map((e) => e.router))];
  const by = new Map(routers.map((r) => [r, edits.filter((e) => e.router === r)]));
  const after = (list: readonly string[]): Prediction =>
    p.edited(
      designFrom(
        applyEdits(
          documents,
          list.flatMap((r) => by.get(r) ?? []),
        ),
        { named: p.design.now },
      ).design,
    );
  const known = new Map<string, PairChanges>();
  const changes = (list: readonly string[]): PairChanges => {
    const key = [...list].sort().join(' ');
    const made = known.get(key) ?? pairChanges(p, after(list));
    known.set(key, made);
    return made;
  };
  const all = changes(routers);
  const ways = routers.length <= everyOrderUpTo ? [...orders(routers)] : [routers];
  // On the way: what the whole of it takes away is not the order's fault.
  const onTheWay = (way: readonly string[]): number =>
    new Set(way.slice(0, -1).flatMap((_, n) => changes(way.slice(0, n + 1)).lost.filter((x) => !all.lost.includes(x)))).size;
  const routes = (way: readonly string[]): number => Math.max(0, ...way.slice(0, -1).map((_, n) => changes(way.slice(0, n + 1)).routesLost));
  const counted = ways.map((way) => ({ way, n: onTheWay(way), routes: routes(way) })).sort((a, b) => a.n - b.n || a.routes - b.routes);
  const best = counted[0]?.way ?? routers;
  return {
    steps: best.map((router, n) => ({ router, ...changes(best.slice(0, n + 1)) })),
    worst: counted.at(-1)?.n ?? 0,
    after: all,
    following: (counted[0]?.n ?? 0) === 0 ? undefined : timeToFollow(p, documents, edits),
  };
}

/** The time in which the last end may follow the first, where intervals are all that changes. */
function timeToFollow(p: Prediction, documents: readonly SourceDocument[], edits: readonly Edit[]): Following | undefined {
  if (!edits.every((e) => /(hello|dead)-interval$/.test(String(e.at.at(-1))))) return undefined;
  const after = designFrom(applyEdits(documents, edits), { named: p.design.now }).design;
  const [least] = followings(new Ground(designOf(p.design), p.family), new Ground(after, p.family))
    .map((f) => f.following)
    .sort((a, b) => a.withinS - b.withinS);
  return least && least.withinS > 0 ? least : undefined;
}
