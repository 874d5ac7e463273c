import type { Speaker } from '../adjacency/speakers';
import { backbone } from '../design/design';
import { lsInfinity, type ExternalLsa } from '../lsdb/lsa';
import { noWay } from './area-rows';
import type { HopCode, HopSlots } from './hop-slots';
import { isInside, rankOf, throughOf, type BoundaryWays } from './boundary-ways';
import { intraArea } from './inside';
import type { InternalFinder } from './inside-finder';
import type { InternalArrays } from './internal-arrays';
import type { RootRows } from './offers';

/** An advertisement with all of its names turned into numbers. */
export interface Candidate {
  readonly lsa: ExternalLsa;
  readonly id: number;
  readonly kind: number;
  /** Database of the NSSA that a type 7 is in; -1 for a type 5. */
  readonly database: number;
  readonly boundary: number;
  /** Prefixes that hold the forwarding address, longest first. */
  readonly holders: readonly number[];
}

/** Where a router stands in its areas, by index of the database. */
export interface ExitGround {
  /** Boundary routers as vertices of an area, -1 where they are none there. */
  verticesIn(database: number): Int32Array;
  rootIn(s: Speaker, database: number): RootRows | undefined;
}

/** The choice of one router among the exits of one prefix. */
export class Exit {
  bestKind = 0;
  bestOutside = 0;
  bestTotal = 0;
  bestHops: HopCode = 0;
  private bestRank = 0;
  private cost = 0;
  private rank = 0;
  private hops: HopCode = 0;
  private readonly border: boolean;
  private readonly slots: HopSlots;

  constructor(
    private readonly arrays: InternalArrays,
    private readonly s: Speaker,
    private readonly ways: BoundaryWays,
    private readonly find: InternalFinder,
    private readonly ground: ExitGround,
  ) {
    this.slots = arrays.slotsOf(s);
    this.border = arrays.domain.isBorderRouter(s);
  }

  /** Looks at every exit; false when none can be used. Of equal ones all are used, but of two that say the same only one. */
  choose(group: readonly Candidate[]): boolean {
    const [only] = group;
    if (only && group.length === 1) {
      if (!this.reach(only)) return false;
      this.take(only);
      this.bestHops = this.hops;
      return true;
    }
    let found = false;
    let used: { c: Candidate; hops: HopCode }[] = [];
    for (const c of group) {
      if (!this.reach(c)) continue;
      const d = found ? this.compare(c) : -1;
      if (d > 0) continue;
      if (d < 0) {
        found = true;
        this.take(c);
        used = [{ c, hops: this.hops }];
        continue;
      }
      const twin = used.findIndex((u) => saysTheSame(u.c.lsa, c.lsa));
      const other = used[twin];
      if (!other) used.push({ c, hops: this.hops });
      else if (tieRank(c.lsa) < tieRank(other.c.lsa) || (tieRank(c.lsa) === tieRank(other.c.lsa) && c.lsa.adv > other.c.lsa.adv))
        used[twin] = { c, hops: this.hops };
    }
    this.bestHops = 0;
    used.forEach(({ c, hops }, i) => {
      if (i === 0) this.bestKind = c.kind;
      this.bestHops = this.slots.join(this.bestHops, hops);
    });
    return found;
  }

  private take(c: Candidate): void {
    this.bestKind = c.kind;
    this.bestOutside = c.kind % 2 === 0 ? 0 : c.lsa.metric;
    this.bestRank = this.rank;
    this.bestTotal = c.kind % 2 === 0 ? this.cost + c.lsa.metric : this.cost;
  }

  /** Negative: better than the best so far (RFC 2328 §16.4 (6) (b) to (d), RFC 3101 §2.5 (6)). */
  private compare(c: Candidate): number {
    const outside = c.kind % 2 === 0 ? 0 : c.lsa.metric;
    const total = c.kind % 2 === 0 ? this.cost + c.lsa.metric : this.cost;
    return (c.kind % 2) - (this.bestKind % 2) || outside - this.bestOutside || this.rank - this.bestRank || total - this.bestTotal;
  }

  /** Distance, rank and hops to where an advertisement sends its traffic (RFC 2328 §16.4 (3), RFC 3101 §2.5 (3)). */
  private reach(c: Candidate): boolean {
    const { lsa } = c;
    if (lsa.metric >= lsInfinity || lsa.adv === this.s.routerId || c.boundary < 0) return false;
    const inNssa = c.database >= 0;
    if (inNssa && lsa.length === 0 && this.border) {
      const area = this.arrays.areas[c.database]!.areaId;
      if (!lsa.propagate || !this.arrays.domain.areaOf(this.s, area).summary) return false;
    }
    if (inNssa ? !this.reachInside(c) : this.ways.cost[c.boundary]! >= noWay) return false;
    if (!inNssa) {
      this.cost = this.ways.cost[c.boundary]!;
      const via = this.ways.via[c.boundary]!;
      this.rank = rankOf(this.s, isInside(via), this.areaAt(throughOf(via)));
      this.hops = this.ways.hops[c.boundary]!;
    }
    return lsa.forwarding === 0 || this.forwardedTo(c);
  }

  /** The way to a boundary router inside an NSSA. */
  private reachInside(c: Candidate): boolean {
    const area = this.arrays.areas[c.database];
    const root = this.ground.rootIn(this.s, c.database);
    const v = this.ground.verticesIn(c.database)[c.boundary] ?? -1;
    if (!area || !root || v < 0 || v === root.root) return false;
    this.cost = root.distance[v]!;
    this.rank = rankOf(this.s, true, area.areaId);
    this.hops = root.hops[v]!;
    return this.cost < noWay;
  }

  private areaAt(database: number): number {
    return this.arrays.areas[database]?.areaId ?? backbone;
  }

  /** The way to a forwarding address: the route of the longest prefix that holds it. */
  private forwardedTo(c: Candidate): boolean {
    let way;
    for (let i = 0; !way && i < c.holders.length; i++) way = this.find(c.holders[i]!);
    if (!way) return false;
    const inside = way.kind === intraArea;
    if (c.database >= 0 && (!inside || way.database !== c.database)) return false;
    this.cost = way.cost;
    this.rank = rankOf(this.s, inside, this.areaAt(way.database));
    this.hops = this.slots.attached(way.hops) ? this.slots.addressed(way.hops, c.lsa.forwarding) : way.hops;
    return true;
  }
}

/** RFC 3101 §2.5 (6) (e): a type 5 and a type 7 with the same forwarding address. */
const saysTheSame = (a: ExternalLsa, b: ExternalLsa): boolean => a.forwarding !== 0 && a.forwarding === b.forwarding && a.type !== b.type;

const tieRank = (l: ExternalLsa): number => (l.type === 7 ? (l.propagate ? 0 : 2) : 1);
