import { backbone } from '../design/design';
import { noWay } from '../dense/area-rows';
import { boundaryCost, emptyWays, findWay, Seat, type BoundaryGround, type BoundaryWays, type Looking } from '../dense/boundary-ways';
import { Offers } from '../dense/offers';
import { lsInfinity } from '../lsdb/lsa';
import type { CutField, Seated } from './cut-field';

/** What one area is told of boundary routers during a cut: the offers of before, at the costs of now. */
interface ToldNow extends BoundaryGround {
  readonly before: Int32Array;
  /** Processes that tell, row by row. */
  readonly speakers: readonly number[];
}

/** Ways to boundary routers during a cut: the same code as before it, over the grounds as they are now. */
export class CutBoundaries {
  readonly count: number;
  /** The ways that `find` looked up, by boundary router. */
  readonly ways: BoundaryWays;
  private readonly told: readonly ToldNow[];
  private readonly looking: (Looking | undefined)[] = [];
  private readonly borders: readonly Seated[];
  private readonly changes: { readonly told: ToldNow; readonly cell: number }[] = [];

  constructor(private readonly field: CutField) {
    const { boundaries } = field.p.fast;
    this.borders = field.seated.filter((s) => s.border);
    this.count = boundaries.ids.length;
    this.ways = emptyWays(this.count);
    this.told = field.arrays.areas.map((_, i): ToldNow => {
      const { vertices, told } = boundaries.ground(i);
      const speakers = boundaries.rowsOf(i).map((r) => r.speaker);
      return { vertices, told: new Offers(told.first, told.vertex, told.cost.slice()), before: told.cost, speakers };
    });
  }

  private isAt(area: number): number {
    return this.field.arrays.areas[area]!.areaId;
  }

  private readonly bitsIn: (Int32Array | undefined)[] = [];

  /**
   * By vertex of an area: a bit for each boundary router that the vertex is, or tells of. Where there are more of them than
   * bits, each stands for all.
   */
  bits(area: number): Int32Array {
    let bits = this.bitsIn[area];
    if (!bits) {
      bits = new Int32Array(this.field.ground(area).size);
      const { vertices, told, before } = this.told[area]!;
      for (let k = 0; k < this.count; k++) {
        const bit = this.count > 31 ? 1 : 1 << k;
        const v = vertices[k]!;
        if (v >= 0) bits[v] = bits[v]! | bit;
        for (let e = told.first[k]!; e < told.first[k + 1]!; e++) if (before[e]! < noWay) bits[told.vertex[e]!] = bits[told.vertex[e]!]! | bit;
      }
      this.bitsIn[area] = bits;
    }
    return bits;
  }

  private readonly lists = new Map<number, readonly number[]>();

  /** The boundary routers of a set of bits. */
  listed(bits: number): readonly number[] {
    if (bits === 0) return [];
    let list = this.lists.get(bits);
    if (!list) {
      list = Array.from({ length: this.count }, (_, k) => k).filter((k) => this.count > 31 || ((bits >>> k) & 1) === 1);
      this.lists.set(bits, list);
    }
    return list;
  }

  /** Finds the way that a router uses to one boundary router now; it stands in `ways` then. */
  find(s: Seated, k: number): void {
    const { field } = this;
    const looking = (this.looking[s.speaker.index] ??= {
      speaker: s.speaker,
      slots: field.arrays.slotsOf(s.speaker),
      seats: s.seats.map((x) => new Seat(field.ground(x.area).rowsNow(x.vertex), this.isAt(x.area), x.reads)),
    });
    findWay(this.ways, looking, this.groundNow, k);
  }

  private readonly groundNow = (index: number): BoundaryGround => this.told[index]!;

  /**
   * What border routers tell during a cut.
   *
   * @param area  the cut one, by index of its database
   * @param near  border routers whose ways to anything that decides here moved, with the boundary routers in question
   * @returns     boundary routers that are told of otherwise, by area
   */
  retell(area: number, near: ReadonlyMap<Seated, readonly number[]>): readonly (ReadonlySet<number> | undefined)[] {
    const moved: (Set<number> | undefined)[] = [];
    // The backbone is told of ways inside other areas, which a cut in it leaves as they are, unless it is their cost that decides.
    const all = this.isAt(area) !== backbone || [...near.keys()].some((s) => s.speaker.instance.rfc1583Compatible);
    if (all) for (const [s, ks] of near) for (const k of ks) this.retellInto(s, k, true, moved);
    for (const [s, ks] of near) for (const k of ks) this.retellInto(s, k, false, moved);
    for (const s of moved.length > 0 ? this.borders : []) {
      const known = near.get(s);
      for (const k of moved[this.field.backboneAt] ?? []) if (!known?.includes(k)) this.retellInto(s, k, false, moved);
    }
    return moved;
  }

  /** Tells the backbone, or all other areas of a border router, of one boundary router. */
  private retellInto(s: Seated, k: number, intoBackbone: boolean, moved: (Set<number> | undefined)[]): void {
    const { domain } = this.field.arrays;
    const areaOf = (index: number) => domain.areaOf(s.speaker, this.isAt(index));
    this.find(s, k);
    for (const { area } of s.seats) {
      const told = this.told[area]!;
      const row = told.speakers.indexOf(s.speaker.index);
      const id = this.isAt(area);
      if (row < 0 || (id === backbone) !== intoBackbone) continue;
      const cell = told.told.first[k]! + row;
      const crosses = this.field.crossing(s.speaker, id);
      const now = boundaryCost({ ways: this.ways, areaOf, crosses }, areaOf(area), k);
      if (now === told.told.cost[cell]) continue;
      told.told.cost[cell] = now;
      this.changes.push({ told, cell });
      (moved[area] ??= new Set()).add(k);
    }
  }

  /** Boundary routers to which a router's way is another one than before, of those asked for; their ways stand in `ways`. */
  movedFor(s: Seated, asked: Iterable<number>, { cost, via, hops }: BoundaryWays, into: number[]): void {
    into.length = 0;
    const now = this.ways;
    for (const k of asked) {
      this.find(s, k);
      if (now.cost[k] !== cost[k] || now.via[k] !== via[k] || now.hops[k] !== hops[k]) into.push(k);
    }
  }

  undo(): void {
    for (const { told, cell } of this.changes) told.told.cost[cell] = told.before[cell]!;
    this.changes.length = 0;
  }

  /** True when a cost is too large to be told: then others decide. */
  get tooFar(): boolean {
    return this.changes.some(({ told: { told }, cell }) => told.cost[cell]! >= lsInfinity && told.cost[cell]! < noWay);
  }
}
