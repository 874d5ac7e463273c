import { backbone } from '../design/design';
import type { HopCode } from '../dense/hop-slots';
import type { InternalArrays } from '../dense/internal-arrays';
import type { Imports } from '../dense/told';
import type { Prediction } from '../predict';
import { AreaGround } from './area-ground';
import { BorderTelling, type Border } from './border-telling';
import type { Speaker } from '../adjacency/speakers';
import { Moves, ReaderTable, type Reader } from './moves';

/** A process in one of its areas. */
export interface Place {
  /** Index of the database. */
  readonly area: number;
  readonly vertex: number;
  /** Whether it reads summaries there. */
  readonly reads: boolean;
}

/** A process with its areas, by ascending id. */
export interface Seated {
  readonly speaker: Speaker;
  readonly seats: readonly Place[];
  readonly border: boolean;
}

/** Areas with more vertices are left to those who compute everything. */
const largest = 1500;

/** A border router's row among those that tell an area. */
export interface Teller {
  readonly speaker: number;
  readonly vertex: number;
  readonly inBackbone: number;
  /** Whether it tells on what the backbone brings. */
  readonly tellsOn: boolean;
}

/** A state as the ground on which its cuts are looked at: each piece is made when it is first asked for. */
export class CutField {
  readonly arrays: InternalArrays;
  /** Index of the backbone's database, -1 without one. */
  readonly backboneAt: number;
  /** What each area is told otherwise during a cut. */
  readonly moves: readonly Moves[];
  /** Prefixes whose moves are asked for by name: those that hold forwarding addresses. */
  readonly asked = new Set<number>();
  private readonly grounds: (AreaGround | undefined)[] = [];
  private readonly tellings: (BorderTelling | undefined)[] = [];
  private readonly tellersOf: (readonly Teller[] | undefined)[] = [];
  private readonly readersOf: (ReaderTable | undefined)[] = [];

  private constructor(
    readonly p: Prediction,
    /** By index of the process. */
    readonly seated: readonly Seated[],
  ) {
    this.arrays = p.fast.arrays;
    this.backboneAt = this.arrays.areas.findIndex((a) => a.areaId === backbone);
    this.moves = this.arrays.areas.map(() => new Moves());
  }

  /** The ground of a state; `undefined` where something in it looks back, so that a cut may move more than distances. */
  static over(p: Prediction): CutField | undefined {
    const routing = p.dense;
    if (!routing?.looksAheadOnly) return undefined;
    const { arrays, domain } = routing;
    if (arrays.areas.filter((a) => a.areaId === backbone).length > 1) return undefined;
    if (arrays.areas.some(({ distances }) => distances.hasFreeEdge || distances.size > largest)) return undefined;
    if (routing.databases.some((db) => db.routers.size !== db.speakers.length)) return undefined;
    const seated: Seated[] = [];
    for (const s of domain.speakers) {
      const chooser = arrays.choosers.of(s);
      const roots = arrays.rootsOf(s);
      if ((roots.length > 0 && !chooser) || (chooser?.inside && !chooser.inside.parts)) return undefined;
      if (s.instance.areas.some((a) => a.summaryIn.length > 0 || a.summaryOut.length > 0)) return undefined;
      const reads = domain.summaryAreas(s);
      const seats = roots.map((r) => ({ area: r.index, vertex: r.root, reads: reads.includes(arrays.areas[r.index]!.areaId) }));
      seated.push({ speaker: s, seats, border: routing.isBorderRouter(s) });
    }
    const field = new CutField(p, seated);
    return field.isToldInClasses() ? field : undefined;
  }

  /** What border routers tell an area. */
  imports(area: number): Imports {
    return this.arrays.imports(area);
  }

  /** An area as a ground for cuts. */
  ground(area: number): AreaGround {
    const known = this.grounds[area];
    if (known) return known;
    const arrays = this.arrays.areas[area];
    if (!arrays) throw new RangeError(`no database ${area}`);
    return (this.grounds[area] = new AreaGround(this.arrays, arrays));
  }

  private readonly crossings = new Map<Speaker, Map<number, (hops: HopCode) => boolean>>();

  /** Whether sets of next hops of a router lead into an area; asked for by area id. */
  crossing(s: Speaker, areaId: number): (hops: HopCode) => boolean {
    let of = this.crossings.get(s);
    if (!of) this.crossings.set(s, (of = new Map<number, (hops: HopCode) => boolean>()));
    let crosses = of.get(areaId);
    if (!crosses) of.set(areaId, (crosses = this.arrays.slotsOf(s).crossing((port) => port.area.id === areaId)));
    return crosses;
  }

  /** Vertex of a process in an area, -1 where it is not there. */
  seatIn(s: Seated, area: number): number {
    for (const x of s.seats) if (x.area === area) return x.vertex;
    return -1;
  }

  /** What the border routers of an area reach inside it. */
  telling(area: number): BorderTelling {
    let known = this.tellings[area];
    if (!known) {
      const borders = this.seated.flatMap((s): Border[] => {
        const vertex = s.border ? this.seatIn(s, area) : -1;
        return vertex < 0 ? [] : [{ speaker: s.speaker, vertex, inBackbone: this.seatIn(s, this.backboneAt) }];
      });
      known = new BorderTelling(this.arrays, this.ground(area), borders);
      this.tellings[area] = known;
    }
    return known;
  }

  /** Border routers by the rows that tell an area. */
  tellers(area: number): readonly Teller[] {
    return (this.tellersOf[area] ??= this.imports(area).rows.map((r) => {
      const s = this.seated[r.speaker];
      return { speaker: r.speaker, vertex: r.vertex, inBackbone: s ? this.seatIn(s, this.backboneAt) : -1, tellsOn: r.onward !== undefined };
    }));
  }

  /** Routers that read what an area is told. */
  readers(area: number): ReaderTable {
    return (this.readersOf[area] ??= new ReaderTable(
      this.seated.flatMap(({ speaker: s }): Reader[] => {
        const chooser = this.arrays.choosers.of(s);
        if (chooser?.reads.index !== area) return [];
        const slots = this.arrays.slotsOf(s);
        return [{ speaker: s.index, vertex: chooser.reads.root, choice: chooser.choice, slots, wide: slots.wide, limit: s.instance.paths }];
      }),
      this.imports(area).classCount,
    ));
  }

  /** Whether every area is told of the backbone class by class, or of nothing but a default. */
  private isToldInClasses(): boolean {
    return this.arrays.areas.every((_, i) => {
      const { rows, told } = this.imports(i);
      return i === this.backboneAt ? !told : told !== undefined || rows.every((r) => !r.onward && r.own.ids.length <= 1);
    });
  }
}
