import type { Speaker } from '../adjacency/speakers';
import { backbone } from '../design/design';
import { noWay } from '../dense/area-rows';
import type { BoundaryPaths } from '../dense/exit';
import type { ExternalArrays } from '../dense/external-rows';
import type { InternalArrays } from '../dense/internal-rows';
import { lsInfinity } from '../lsdb/lsa';
import { mayEnter } from '../lsdb/summary-lsa';
import type { CutField } from './cut-field';

/** A process in one of its areas. */
export interface Seat {
  /** Index of the database. */
  readonly area: number;
  readonly vertex: number;
  /** Whether it reads summaries there. */
  readonly reads: boolean;
}

/** A process with its areas, by ascending id. */
export interface Seated {
  readonly speaker: Speaker;
  readonly seats: readonly Seat[];
  readonly border: boolean;
}

/** Border routers of one area that may tell of boundary routers, and the costs that they tell: a row of all of them each. */
interface Told {
  readonly vertex: number[];
  readonly speaker: number[];
  readonly before: Int32Array;
  readonly now: Int32Array;
}

const nobody: Told = { vertex: [], speaker: [], before: new Int32Array(0), now: new Int32Array(0) };

/**
 * Ways to boundary routers during a cut: what border routers tell of them (types 4), and what each router uses. The same
 * decisions as in `ExternalArrays` (RFC 2328 §16.2, §16.4 (3), §12.4.3).
 */
export class CutBoundaries {
  readonly count: number;
  /** The way found last. */
  cost = noWay;
  rank = 2;
  hops = 0;
  private area = -1;
  private within = false;
  private readonly told: readonly Told[];
  private readonly vertices: readonly Int32Array[];
  private readonly normal: readonly boolean[];
  private readonly changes: { readonly told: Told; readonly cell: number }[] = [];

  private readonly arrays: InternalArrays;
  private readonly external: ExternalArrays;
  private readonly borders: readonly Seated[];

  constructor(private readonly field: CutField) {
    const { arrays, seated, p } = field;
    const { external } = p.fast.rows;
    this.arrays = arrays;
    this.external = external;
    this.borders = seated.filter((s) => s.border);
    const n = external.boundaries.length;
    this.count = n;
    this.normal = arrays.areas.map(({ database }) => {
      const one = database.speakers.map((s) => arrays.network.speakers[s]).find((s) => s !== undefined);
      return one !== undefined && arrays.network.areaOf(one, database.areaId).type === 'normal';
    });
    this.vertices = arrays.areas.map((_, i) => external.verticesIn(i));
    const borders = arrays.areas.map((_, i) => (this.normal[i] && n > 0 ? seated.filter((s) => s.border && s.seats.some((x) => x.area === i)) : []));
    this.told = borders.map((list, i): Told =>
      list.length === 0
        ? nobody
        : {
            vertex: list.map((s) => s.seats.find((x) => x.area === i)?.vertex ?? 0),
            speaker: list.map((s) => s.speaker.index),
            before: new Int32Array(list.length * n).fill(noWay),
            now: new Int32Array(list.length * n).fill(noWay),
          },
    );
    // Into the backbone first, from which the others are told.
    for (const first of [true, false])
      arrays.areas.forEach(({ database }, i) => {
        if ((database.areaId === backbone) !== first) return;
        borders[i]?.forEach((s, row) => {
          const told = this.told[i] ?? nobody;
          for (let k = 0; k < n; k++) told.before[row * n + k] = told.now[row * n + k] = this.tells(s, k, i);
        });
      });
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
      const { vertex, before } = this.told[area] ?? nobody;
      for (let k = 0; k < this.count; k++) {
        const bit = this.count > 31 ? 1 : 1 << k;
        const v = this.vertices[area]?.[k] ?? -1;
        if (v >= 0) bits[v] = (bits[v] ?? 0) | bit;
        for (let j = 0; j < vertex.length; j++) {
          const at = vertex[j] ?? 0;
          if ((before[j * this.count + k] ?? noWay) < noWay) bits[at] = (bits[at] ?? 0) | bit;
        }
      }
      this.bitsIn[area] = bits;
    }
    return bits;
  }

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

  private readonly lists = new Map<number, readonly number[]>();

  /** Whether what is told is what the databases say; of boundary routers that announce nothing nobody asks. */
  get holds(): boolean {
    const n = this.count;
    return this.arrays.areas.every((_, i) => {
      const rows = this.external.boundaryRows(i);
      const { vertex, before } = this.told[i] ?? nobody;
      return (
        vertex.every((v, row) => {
          const said = rows.find((r) => r.vertex === v)?.cost;
          for (let k = 0; k < n; k++) if ((said?.[k] ?? noWay) !== before[row * n + k]) return false;
          return true;
        }) && rows.every((r) => vertex.includes(r.vertex) || r.cost.every((c) => c >= noWay))
      );
    });
  }

  private isAt(area: number): number {
    return this.arrays.areas[area]?.database.areaId ?? backbone;
  }

  /** Finds the way that a router uses to a boundary router; it stands in the fields then. */
  find(s: Seated, k: number): void {
    const { instance, index } = s.speaker;
    this.cost = noWay;
    this.rank = 2;
    this.hops = 0;
    this.area = -1;
    this.within = false;
    for (const seat of s.seats) {
      const ground = this.field.ground(seat.area);
      const row = seat.vertex * ground.size;
      const v = this.vertices[seat.area]?.[k] ?? -1;
      let best = v >= 0 && v !== seat.vertex ? (ground.distance[row + v] ?? noWay) : noWay;
      let through = best < noWay ? (ground.hops[row + v] ?? 0) : 0;
      const within = best < noWay;
      if (!within) {
        if (!seat.reads) continue;
        const { vertex, speaker, now } = this.told[seat.area] ?? nobody;
        const slots = ground.slots[seat.vertex];
        for (let j = 0; j < vertex.length; j++) {
          if (speaker[j] === index) continue;
          const at = row + (vertex[j] ?? 0);
          const d = (ground.distance[at] ?? noWay) + (now[j * this.count + k] ?? noWay);
          if (d >= noWay || d > best) continue;
          const h = ground.hops[at] ?? 0;
          through = d < best || !slots ? h : slots.join(through, h);
          best = d;
        }
        if (best >= noWay) continue;
      }
      const rank = instance.rfc1583Compatible || (within && this.isAt(seat.area) !== backbone) ? 0 : 1;
      if (rank < this.rank || (rank === this.rank && best <= this.cost)) {
        this.cost = best;
        this.rank = rank;
        this.hops = through;
        this.area = seat.area;
        this.within = within;
      }
    }
  }

  /** What a border router tells one area of a boundary router: `noWay` where it tells nothing. */
  private tells(s: Seated, k: number, into: number): number {
    this.find(s, k);
    const { cost, area } = this;
    if (cost >= noWay || !this.normal[into] || !this.normal[area]) return noWay;
    return mayEnter(this.within, this.isAt(area), cost, this.isAt(into)) ? cost : noWay;
  }

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
      for (const k of moved[this.backboneOf(s)] ?? []) if (!known?.includes(k)) this.retellInto(s, k, false, moved);
    }
    return moved;
  }

  /** Tells the backbone, or all other areas of a border router, of one boundary router. */
  private retellInto(s: Seated, k: number, intoBackbone: boolean, moved: (Set<number> | undefined)[]): void {
    for (const { area } of s.seats) {
      const told = this.told[area];
      const row = told?.speaker.indexOf(s.speaker.index) ?? -1;
      if (!told || row < 0 || (this.isAt(area) === backbone) !== intoBackbone) continue;
      const cell = row * this.count + k;
      const now = this.tells(s, k, area);
      if (now === told.now[cell]) continue;
      told.now[cell] = now;
      this.changes.push({ told, cell });
      (moved[area] ??= new Set()).add(k);
    }
  }

  private backboneOf(s: Seated): number {
    return s.seats.find((x) => this.isAt(x.area) === backbone)?.area ?? -1;
  }

  /** Boundary routers to which a router's way is another one than before, of those asked for. */
  movedFor(s: Seated, asked: Iterable<number>, before: BoundaryPaths, into: number[]): void {
    into.length = 0;
    const { cost, rank, hops } = before;
    const [seat] = s.seats;
    const one = seat?.reads && s.seats.length === 1 ? seat : undefined;
    if (one) this.lookFrom(s, one);
    const across = s.speaker.instance.rfc1583Compatible ? 0 : 1;
    for (const k of asked) {
      // The usual case at one glance: one area, and the boundary router outside of it.
      if (one && rank[k] === across && this.isTold(one, k) && this.cost === cost[k] && this.hops === hops[k]) continue;
      this.find(s, k);
      if (this.cost !== cost[k] || this.rank !== rank[k] || this.hops !== hops[k]) into.push(k);
    }
  }

  private readonly nearCost: number[] = [];
  private readonly nearHops: number[] = [];

  /** Notes how far a router is from those who tell its area. */
  private lookFrom(s: Seated, seat: Seat): void {
    const { size, distance, hops } = this.field.ground(seat.area);
    const { vertex, speaker } = this.told[seat.area] ?? nobody;
    for (let j = 0; j < vertex.length; j++) {
      const at = seat.vertex * size + (vertex[j] ?? 0);
      const own = speaker[j] === s.speaker.index;
      this.nearCost[j] = own ? noWay : (distance[at] ?? noWay);
      this.nearHops[j] = own ? 0 : (hops[at] ?? 0);
    }
  }

  /** Finds the way to a boundary router of another area from where `lookFrom` looked; false where there is none, or it is inside. */
  private isTold(seat: Seat, k: number): boolean {
    if ((this.vertices[seat.area]?.[k] ?? -1) >= 0) return false;
    const { vertex, now } = this.told[seat.area] ?? nobody;
    const slots = this.field.ground(seat.area).slots[seat.vertex];
    let best = noWay;
    let through = 0;
    for (let j = 0; j < vertex.length; j++) {
      const d = (this.nearCost[j] ?? noWay) + (now[j * this.count + k] ?? noWay);
      if (d >= noWay || d > best) continue;
      const h = this.nearHops[j] ?? 0;
      through = d < best || !slots ? h : slots.join(through, h);
      best = d;
    }
    this.cost = best;
    this.hops = through;
    return best < noWay;
  }

  undo(): void {
    for (const { told, cell } of this.changes) told.now[cell] = told.before[cell] ?? noWay;
    this.changes.length = 0;
  }

  /** True when a cost is too large to be told: then others decide. */
  get tooFar(): boolean {
    return this.changes.some(({ told, cell }) => (told.now[cell] ?? 0) >= lsInfinity && (told.now[cell] ?? 0) < noWay);
  }
}
