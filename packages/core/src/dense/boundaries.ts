import type { Speaker } from '../adjacency/speakers';
import { lsInfinity, type SummaryLsa } from '../lsdb/lsa';
import type { Ipv4 } from '../prefix/ipv4';
import type { RouterPath } from '../routes/route';
import { noWay, type AreaArrays } from './area-rows';
import {
  boundaryCost,
  emptyWays,
  findWay,
  throughOf,
  toldOf,
  verticesIn,
  type BoundaryGround,
  type BoundaryRow,
  BoundaryWays,
  Seat,
} from './boundary-ways';
import type { IntPool } from './int-pool';
import type { InternalArrays } from './internal-arrays';
import { nearestOf, type RootRows } from './offers';
import { backbone } from '../design/design';

interface GroundStanding extends BoundaryGround {
  readonly area: AreaArrays;
  readonly rows: readonly BoundaryRow[];
}

/** A row with what it was written from. */
interface RowStanding extends BoundaryRow {
  readonly by: Speaker;
  readonly area: AreaArrays;
  readonly from: BoundaryWays;
}

/** A router's ways with what they stand on. A class, for thousands are made, and live as long as their state and no longer. */
class WaysStanding {
  constructor(
    readonly speaker: Speaker,
    readonly roots: readonly RootRows[],
    readonly seats: readonly Seat[],
    readonly grounds: readonly BoundaryGround[],
    readonly ways: BoundaryWays,
  ) {}
}

const same = (a: readonly unknown[], b: readonly unknown[]): boolean => a === b || (a.length === b.length && a.every((x, i) => x === b[i]));

function sameNumbers(a: Int32Array, b: Int32Array): boolean {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return a.length === b.length;
}

/** Of the same boundary routers. */
const sameWays = (a: BoundaryWays, b: BoundaryWays): boolean =>
  sameNumbers(a.cost, b.cost) && sameNumbers(a.via, b.via) && sameNumbers(a.hops, b.hops);

function copied(ways: BoundaryWays, pool: IntPool): BoundaryWays {
  const n = ways.cost.length;
  const copy = new BoundaryWays(pool.take(n), pool.take(n), pool.take(n));
  copy.cost.set(ways.cost);
  copy.hops.set(ways.hops);
  copy.via.set(ways.via);
  return copy;
}

/** Boundary routers of a state: what areas know of them, and how every router reaches them (RFC 2328 §16.1 (4), §16.2, §16.4 (3)). */
export class Boundaries {
  /** Their router ids, by number. */
  readonly ids: readonly Ipv4[];
  readonly placeOf: ReadonlyMap<Ipv4, number>;
  /** Types 4 by border router, by index of the database. */
  private readonly rows: (readonly RowStanding[])[];
  private readonly grounds: (GroundStanding | undefined)[];
  private readonly known: (WaysStanding | undefined)[];
  private readonly scratch: BoundaryWays;

  /** @param before  those of a state in which the same routers say that they are boundary routers */
  constructor(
    private readonly arrays: InternalArrays,
    before?: Boundaries,
  ) {
    this.ids = before?.ids ?? boundaryIds(arrays);
    this.placeOf = before?.placeOf ?? new Map(this.ids.map((id, k) => [id, k]));
    this.rows = before?.rows.slice() ?? arrays.areas.map(() => []);
    this.grounds = before?.grounds.slice() ?? [];
    this.known = before?.known.slice() ?? [];
    this.scratch = before?.scratch ?? emptyWays(this.ids.length);
  }

  /** What an area knows of boundary routers, by index of its database; the same object while it is the same. */
  ground(index: number): BoundaryGround {
    const area = this.arrays.areas[index]!;
    const rows = this.rows[index]!;
    const known = this.grounds[index];
    if (known?.area === area && same(known.rows, rows)) return known;
    const made = { area, rows, vertices: verticesIn(area, this.ids), told: toldOf(rows, this.ids.length) };
    this.grounds[index] = made;
    return made;
  }

  /** A router in each of its areas. */
  seatsOf(s: Speaker): readonly Seat[] {
    const roots = this.arrays.rootsOf(s);
    const reads = this.arrays.domain.summaryAreas(s);
    const seat = (rows: RootRows): Seat => {
      const { areaId } = this.arrays.areas[rows.index]!;
      return new Seat(rows, areaId, reads.includes(areaId));
    };
    return roots.length === 1 ? Array.of(seat(roots[0]!)) : roots.map(seat);
  }

  /** Ways of a router to every boundary router; the same object as in an earlier state where they are the same. */
  waysOf(s: Speaker): BoundaryWays {
    const old = this.known[s.index];
    const roots = this.arrays.rootsOf(s);
    const stands = old?.speaker === s && same(old.roots, roots);
    if (stands && roots.every((r, i) => this.ground(r.index) === old.grounds[i])) return old.ways;
    const now = this.scratch;
    const seats = stands ? old.seats : this.seatsOf(s);
    const looking = { speaker: s, slots: this.arrays.slotsOf(s), seats };
    for (let k = 0; k < this.ids.length; k++) findWay(now, looking, (i) => this.ground(i), k);
    const ways = old && sameWays(old.ways, now) ? old.ways : copied(now, this.arrays.pool);
    this.known[s.index] = new WaysStanding(
      s,
      roots,
      seats,
      roots.map((r) => this.ground(r.index)),
      ways,
    );
    return ways;
  }

  /** Writes a border router's types 4 for one area; the row that stood there where they are the same. */
  write(s: Speaker, index: number): RowStanding {
    const { domain } = this.arrays;
    const area = this.arrays.areas[index]!;
    const { areaId, graph } = area;
    const known = this.rows[index]!.find((r) => r.speaker === s.index);
    const from = this.waysOf(s);
    if (known?.by === s && known.area === area && known.from === from) return known;
    const into = domain.areaOf(s, areaId);
    const vertex = graph.vertexOfRouter.get(s.routerId) ?? -1;
    const crosses = this.arrays.slotsOf(s).crossing((port) => port.area.id === areaId);
    const teller = { ways: from, areaOf: (i: number) => domain.areaOf(s, this.arrays.areas[i]!.areaId), crosses };
    const cost = from.cost.map((_, k) => boundaryCost(teller, into, k));
    return known?.vertex === vertex && sameNumbers(known.cost, cost) ? known : { speaker: s.index, adv: s.routerId, vertex, cost, by: s, area, from };
  }

  /** Puts in what border routers say now; true when anything is new. */
  publish(index: number, rows: readonly RowStanding[]): boolean {
    if (same(this.rows[index]!, rows)) return false;
    this.rows[index] = rows;
    return true;
  }

  rowsOf(index: number): readonly BoundaryRow[] {
    return this.rows[index]!;
  }

  /** A row as advertisements. */
  lsas(row: BoundaryRow): SummaryLsa[] {
    const { ways } = this.known[row.speaker] ?? {};
    return this.ids.flatMap((id, k): SummaryLsa[] => {
      const metric = row.cost[k]!;
      if (metric >= lsInfinity) return [];
      const fromArea = this.arrays.areas[throughOf(ways?.via[k] ?? -1)]?.areaId ?? backbone;
      const three = this.arrays.domain.six ? { three: true as const } : {};
      return [{ type: 4, adv: row.adv, id, speaker: row.speaker, bits: id, length: 0, metric, reason: 'boundary-router', fromArea, ...three }];
    });
  }

  /** Ways of a router to one boundary router, area by area, as the readable calculation of externals looks at them. */
  pathsTo(s: Speaker, id: Ipv4): RouterPath[] {
    const k = this.placeOf.get(id);
    const slots = this.arrays.slotsOf(s);
    return this.seatsOf(s).flatMap(({ rows, areaId, reads }): RouterPath[] => {
      const { vertices, told } = this.ground(rows.index);
      const v = k === undefined ? -1 : vertices[k]!;
      const base = { router: id, area: areaId, source: undefined };
      if (v >= 0 && v !== rows.root && rows.distance[v]! < noWay)
        return [{ ...base, type: 'intra-area', cost: rows.distance[v]!, hops: this.arrays.listed(s, rows.hops[v]!) }];
      const way = k !== undefined && reads ? nearestOf(told, k, rows, slots) : undefined;
      return way ? [{ ...base, type: 'inter-area', cost: way.cost, hops: this.arrays.listed(s, way.hops) }] : [];
    });
  }
}

/** Routers that say somewhere that they are boundary routers. */
function boundaryIds({ areas }: InternalArrays): readonly Ipv4[] {
  const ids = new Set<Ipv4>();
  for (const { graph } of areas) for (const r of graph.routers) if (r.bits.e) ids.add(r.adv);
  return [...ids];
}
