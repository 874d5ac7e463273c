import type { Speaker } from '../adjacency/speakers';
import type { AreaRange } from '../design/design';
import { noWay } from '../dense/area-rows';
import type { InternalArrays } from '../dense/internal-arrays';
import { lsInfinity } from '../lsdb/lsa';
import { rangeCost, rangeFor } from '../lsdb/summary-lsa';
import type { AreaCut } from './area-cut';
import type { AreaGround } from './area-ground';

/** A border router of an area. */
export interface Border {
  readonly speaker: Speaker;
  readonly vertex: number;
  /** Its vertex in the backbone. */
  readonly inBackbone: number;
}

/** A destination inside an area that border routers tell at another cost than before, or no longer. */
export interface ToldItem {
  /** Its prefix. */
  readonly id: number;
  /** What each border router of the area tells now, in their order: `noWay` where it says nothing of it. */
  readonly cost: readonly number[];
  /** Processes that have it themselves, and do not read it. */
  readonly owners: ReadonlySet<number>;
  readonly isRange: boolean;
}

/** A range in force at one border router. */
interface RangeInForce {
  readonly border: number;
  readonly range: AreaRange;
  readonly id: number;
  /** Networks inside, by place. */
  readonly parts: number[];
  cost: number;
}

/**
 * What the border routers of one area reach inside it, and so tell other areas: networks at their cost, ranges by their
 * parts (RFC 2328 §12.4.3). Made once; then each cut finds what is told otherwise.
 */
export class BorderTelling {
  readonly items: ToldItem[] = [];
  private readonly networks: number;
  private readonly cost: Int32Array;
  /** By border router and network: the range that takes it, -1 without. */
  private readonly rangeAt: Int32Array;
  private readonly ranges: RangeInForce[] = [];
  private readonly ownersOf = new Map<number, ReadonlySet<number>>();
  private readonly everyone: ReadonlySet<number>;
  private readonly looked: Int32Array;
  private readonly changed: Int32Array;
  private readonly now: Int32Array;
  private readonly listed: Int32Array;
  private readonly columns: Int32Array;
  private tick = 1;

  constructor(
    arrays: InternalArrays,
    private readonly ground: AreaGround,
    readonly borders: readonly Border[],
  ) {
    const { ids } = ground.area.networks;
    const n = ids.length;
    this.networks = n;
    this.cost = new Int32Array(borders.length * n);
    this.rangeAt = new Int32Array(borders.length * n).fill(-1);
    this.looked = new Int32Array(borders.length * n);
    this.changed = new Int32Array(borders.length * n);
    this.now = new Int32Array(borders.length * n);
    this.listed = new Int32Array(n);
    this.columns = new Int32Array(ground.size);
    this.everyone = new Set(borders.map((b) => b.speaker.index));
    borders.forEach((b, i) => {
      const area = arrays.domain.areaOf(b.speaker, ground.area.areaId);
      const inForce = new Map<AreaRange, number>();
      for (let place = 0; place < n; place++) {
        const cost = ground.wayBefore(b.vertex, place)?.cost ?? noWay;
        this.cost[i * n + place] = cost;
        const range = cost < noWay && area.ranges.length > 0 ? rangeFor(area, arrays.prefixes.prefix(ids[place]!)) : undefined;
        if (!range) continue;
        let at = inForce.get(range);
        if (at === undefined) {
          at = this.ranges.length;
          inForce.set(range, at);
          this.ranges.push({ border: i, range, id: arrays.prefixes.id(range.prefix.bits, range.prefix.length), parts: [], cost: 0 });
        }
        this.ranges[at]?.parts.push(place);
        this.rangeAt[i * n + place] = at;
      }
    });
    for (const r of this.ranges) {
      r.cost = this.rangeCostNow(r) ?? noWay;
      const owners = this.ranges.flatMap((x) => (x.id === r.id ? [borders[x.border]?.speaker.index ?? -1] : []));
      this.ownersOf.set(r.id, new Set(owners));
    }
  }

  /** Prefixes of the ranges in force, by border router and range. */
  get rangeIds(): readonly number[] {
    return this.ranges.map((r) => r.id);
  }

  /** Finds what is told otherwise during a cut; false where a range ceases to be in force, or a cost becomes too large. */
  find(cut: AreaCut, removed: readonly number[]): boolean {
    const { ground, columns } = this;
    this.items.length = 0;
    this.tick++;
    const places: number[] = [];
    const dirty = new Set<RangeInForce>();
    for (let i = 0; i < this.borders.length; i++) {
      const v = this.borders[i]?.vertex ?? 0;
      const count = cut.columnsOf(v, columns);
      for (let c = 0; c < count; c++) {
        const x = columns[c]!;
        const end = ground.brings.first[x + 1]!;
        for (let k = ground.brings.first[x]!; k < end; k++) if (!this.look(i, v, ground.brings.items[k]!, places, dirty)) return false;
      }
      for (const place of removed) if (!this.look(i, v, place, places, dirty)) return false;
    }
    const { ids } = ground.area.networks;
    for (const place of places)
      this.items.push({
        id: ids[place]!,
        cost: this.borders.map((_, i) => (this.rangeAt[i * this.networks + place] === -1 ? this.costOf(i, place) : noWay)),
        owners: this.everyone,
        isRange: false,
      });
    return dirty.size === 0 || this.findRanges(dirty);
  }

  /** Looks at a network from a border router; false where its cost became too large to be told. */
  private look(i: number, vertex: number, place: number, places: number[], dirty: Set<RangeInForce>): boolean {
    const cell = i * this.networks + place;
    if (this.looked[cell] === this.tick) return true;
    this.looked[cell] = this.tick;
    const now = this.ground.wayNow(vertex, place)?.cost ?? noWay;
    if (now === this.cost[cell]) return true;
    if (now >= lsInfinity && now < noWay) return false;
    this.changed[cell] = this.tick;
    this.now[cell] = now;
    const range = this.ranges[this.rangeAt[cell] ?? -1];
    if (range) dirty.add(range);
    else if (this.listed[place] !== this.tick) {
      this.listed[place] = this.tick;
      places.push(place);
    }
    return true;
  }

  private costOf(i: number, place: number): number {
    const cell = i * this.networks + place;
    return (this.changed[cell] === this.tick ? this.now[cell] : this.cost[cell]) ?? noWay;
  }

  /** What a range costs, `undefined` when nothing of it is reached. */
  private rangeCostNow(r: RangeInForce): number | undefined {
    const costs: number[] = [];
    for (const place of r.parts) {
      const c = this.costOf(r.border, place);
      if (c < noWay) costs.push(c);
    }
    return costs.length === 0 ? undefined : rangeCost(r.range, costs, this.borders[r.border]?.speaker.instance.rangeCost ?? 'largest');
  }

  private findRanges(dirty: ReadonlySet<RangeInForce>): boolean {
    const costs = new Map<RangeInForce, number>();
    const ids = new Set<number>();
    for (const r of dirty) {
      const now = this.rangeCostNow(r);
      if (now === undefined) return false;
      costs.set(r, now);
      if (now !== r.cost && r.range.advertise) ids.add(r.id);
    }
    for (const id of ids) {
      const cost = this.borders.map(() => noWay);
      for (const r of this.ranges) if (r.id === id && r.range.advertise) cost[r.border] = costs.get(r) ?? r.cost;
      this.items.push({ id, cost, owners: this.ownersOf.get(id) ?? this.everyone, isRange: true });
    }
    return true;
  }

  /** What a border router reaches at another cost now, by network: true where it does. */
  movedAt(i: number, id: number): boolean {
    const place = this.ground.area.networks.place[id] ?? -1;
    return place >= 0 && this.changed[i * this.networks + place] === this.tick;
  }
}
