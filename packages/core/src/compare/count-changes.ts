import type { Speaker } from '../adjacency/speakers';
import { Changes, type ChangeCount } from '../dense/changes';
import type { Candidate } from '../dense/exit';
import type { HopSlots } from '../dense/hop-slots';
import { sameWay, type InternalFinder } from '../dense/inside-finder';
import type { TableRows } from '../dense/table-rows';
import type { Prediction } from '../predict';
import type { RibRoute } from '../routes/rib';
import { comparePredictions, tableChanges } from './compare';
import { isOspfAndOwn } from './own-tables';
import { SideBySide } from './route-changes';

/** Lines of all routers' own tables that are other ones in a second state, and the routers in which any is. */
export interface ChangedLines extends ChangeCount {
  /** Host names, ascending. */
  readonly routers: readonly string[];
}

/**
 * Counts what laying two states of one design side by side would list (`comparePredictions`), without listing it: OSPF tables
 * are counted in the arrays, and only routers whose own table takes something else than these are looked at line by line.
 *
 * @param after  best computed from `before`: then only what moved is looked at
 */
export function countChanges(before: Prediction, after: Prediction): ChangedLines {
  const sameRouters =
    before.design.routers.length === after.design.routers.length && before.design.routers.every((r, i) => r.name === after.design.routers[i]?.name);
  const [old, now] = [before.dense, after.dense];
  if (!sameRouters || !old || !now || !sameOutage(before, after)) {
    const d = comparePredictions(before, after);
    return {
      lost: d.lost,
      gained: d.gained,
      changed: d.changed,
      routers: d.routers.flatMap((r) => (r.gone || r.routes.length > 0 ? [r.router] : [])),
    };
  }
  const count = new LineCount(before, after, old.rows, now.rows, old.arrays.lineage === now.arrays.lineage);
  const sum = { lost: 0, gained: 0, changed: 0, routers: [] as string[] };
  after.design.routers.forEach((r, i) => {
    const c = count.of(i);
    if (c.lost + c.gained + c.changed > 0) sum.routers.push(r.name);
    sum.lost += c.lost;
    sum.gained += c.gained;
    sum.changed += c.changed;
  });
  return sum;
}

const nothing: ChangeCount = { lost: 0, gained: 0, changed: 0 };

const sameSet = <T>(a: ReadonlySet<T>, b: ReadonlySet<T>): boolean => a.size === b.size && [...a].every((x) => b.has(x));
const sameOutage = ({ outage: a }: Prediction, { outage: b }: Prediction): boolean =>
  a === b || (sameSet(a.routers, b.routers) && sameSet(a.ports, b.ports) && sameSet(a.severed, b.severed));

class LineCount {
  private readonly changes: Changes | undefined;
  private readonly tables: SideBySide | undefined;
  private readonly outside = new WeakMap<object, ReadonlyMap<number, readonly Candidate[]>>();

  /** @param together  the second state was computed from the first */
  constructor(
    private readonly before: Prediction,
    private readonly after: Prediction,
    private readonly old: TableRows,
    private readonly now: TableRows,
    together: boolean,
  ) {
    if (together) this.changes = new Changes(old, now);
    else this.tables = new SideBySide(old, now);
  }

  of(router: number): ChangeCount {
    const [a, more] = this.before.speakersOf(router);
    const [b, other] = this.after.speakersOf(router);
    const same = this.before.design.routers[router] === this.after.design.routers[router];
    if (same && !a && !b) return nothing;
    if (!same || !a || !b || more || other) return this.lineByLine(router);
    // The same routes, and the same local ones beside them, make the same lines.
    const count = this.changes?.of(a, b);
    if (count && count.lost + count.gained + count.changed === 0) return nothing;
    if (this.standsApart(a) || !this.foldsAlike(a, b)) return this.lineByLine(router);
    const local = new Set(this.before.localRoutes(router).map((r) => r.key));
    return count ? this.without(count, local, a, b) : (this.tables?.of(a, b, local) ?? nothing);
  }

  /** Whether a router's own table takes other things than its OSPF table and local routes that always win. */
  private standsApart(s: Speaker): boolean {
    if (!isOspfAndOwn(this.before, s)) return true;
    const locals = this.before.localRoutes(s.routerIndex);
    const groups = this.outsideOf(s);
    return groups.size > 0 && locals.some((r) => groups.get(r.key)?.some((c) => c.lsa.adv !== s.routerId));
  }

  /** What a router holds of externals, by prefix. */
  private outsideOf(s: Speaker): ReadonlyMap<number, readonly Candidate[]> {
    const groups = this.old.external.candidates(s);
    let byId = this.outside.get(groups);
    if (!byId) this.outside.set(groups, (byId = new Map(groups.map((g) => [g[0]?.id ?? -1, g]))));
    return byId;
  }

  /** Whether the same of a border router's ranges are in force in both states: each brings a line of its own. */
  private foldsAlike(a: Speaker, b: Speaker): boolean {
    const own = ({ arrays }: TableRows, s: Speaker): readonly number[] => (arrays.choosers.of(s) ? arrays.inside(s) : arrays.whole(s)).own;
    if (!this.before.routing.isBorderRouter(a) && !this.after.routing.isBorderRouter(b)) return true;
    const [x, y] = [own(this.old, a), own(this.now, b)];
    return x.length === y.length && x.every((id) => y.includes(id));
  }

  private lineByLine(router: number): ChangeCount {
    const table = (p: Prediction): readonly RibRoute[] => p.ribOnce(router);
    return tableChanges(table(this.before), table(this.after));
  }

  /** Takes out of a count of OSPF routes what local routes stand in front of. */
  private without(count: ChangeCount, local: ReadonlySet<number>, a: Speaker, b: Speaker): ChangeCount {
    const slots = this.now.arrays.slotsOf(b);
    const out = { ...count };
    const [f, g] = [this.old.finderOf(a), this.now.finderOf(b)];
    for (const id of local) {
      const what = fateOf(f, g, id, slots, b.instance.paths);
      if (what !== 'same') out[what]--;
    }
    return out;
  }
}

/** What becomes of a router's route to one prefix inside the system. */
function fateOf(f: InternalFinder, g: InternalFinder, id: number, slots: HopSlots, limit: number): keyof ChangeCount | 'same' {
  const [had, has] = [f(id), g(id)];
  if (!had || !has) return had ? 'lost' : has ? 'gained' : 'same';
  return sameWay({ ...had, hops: slots.limited(had.hops, limit) }, { ...has, hops: slots.limited(has.hops, limit) }) ? 'same' : 'changed';
}
