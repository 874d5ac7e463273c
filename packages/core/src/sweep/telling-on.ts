import { noWay } from '../dense/area-rows';
import { lsInfinity } from '../lsdb/lsa';
import type { BorderTelling, ToldItem } from './border-telling';
import { nearestOf, noWayYet } from '../dense/offers';
import type { CutField } from './cut-field';
import type { Moves } from './moves';

/** A prefix, and by border router what it says of it by itself: `noWay` for nothing, `toldOn` for what the backbone says. */
interface Mixed {
  readonly id: number;
  readonly from: readonly number[];
}
const toldOn = -1;

/**
 * What areas are told otherwise after a cut in one of them (RFC 2328 §12.4.3): it stands in the field's `moves`. Each way
 * gives false where it cannot tell, and everything is to be computed.
 */
export class TellingOn {
  private readonly way = noWayYet();

  constructor(private readonly field: CutField) {}

  /** Into the backbone, and from there into all other areas. */
  fromArea(area: number, telling: BorderTelling): boolean {
    if (this.field.backboneAt < 0 || telling.borders.length === 0) return true;
    const into = this.field.moves[this.field.backboneAt];
    const imports = this.field.imports(this.field.backboneAt);
    if (!into) return false;
    for (const item of telling.items) {
      const as = imports.find(item.id);
      if (!as) return false;
      telling.borders.forEach((b, i) => {
        const c = item.cost[i]!;
        if (c < noWay) into.tell(b.inBackbone, c - as.offset);
      });
      this.close(into, as.class, item.id, item.owners);
    }
    if (into.count === 0) return true;
    for (let t = 0; t < this.field.moves.length; t++) {
      if (t === this.field.backboneAt) continue;
      const shared = t === area || this.field.tellers(t).some((x) => telling.borders.some((b) => b.speaker.index === x.speaker));
      if (shared ? !this.tellItems(t, area, telling) : !this.tellMoves(t, into)) return false;
    }
    return true;
  }

  /** What the backbone is told otherwise, told on into an area whose border routers have no part in it. */
  private tellMoves(t: number, from: Moves): boolean {
    const { told, rows } = this.field.imports(t);
    const into = this.field.moves[t];
    if (!told || !into) return true;
    const ground = this.field.ground(this.field.backboneAt);
    const { slots } = ground;
    const tellers = this.field.tellers(t);
    for (let m = 0; m < from.count; m++) {
      const q = from.classOf[m] ?? -1;
      const k = told.classOf[q] ?? -1;
      const offset = told.offset[q]!;
      let any = false;
      for (let j = 0; j < tellers.length; j++) {
        const one = tellers[j]!;
        const way = slots[one.inBackbone];
        if (!one.tellsOn || !way) continue;
        const c = nearestOf(from, m, ground.rowsNow(one.inBackbone), way, this.way)?.cost ?? noWay;
        if (c !== (rows[j]?.onward?.cost[q] ?? noWay)) any = true;
        if (c >= noWay) continue;
        if (c + this.field.imports(this.field.backboneAt).dearestOffset >= lsInfinity) return false;
        into.tell(one.vertex, c - offset);
      }
      if (any && k < 0) return false;
      if (any) into.tellsOn(m, into.close(k, from.entries[m]!));
      else into.drop();
    }
    return true;
  }

  /** The same, destination by destination, into an area that has border routers in common with the cut one. */
  private tellItems(t: number, area: number, telling: BorderTelling): boolean {
    const imports = this.field.imports(t);
    const into = this.field.moves[t];
    if (!imports.told || !into) return true;
    const { size, distance } = this.field.ground(this.field.backboneAt);
    const places = new Map(telling.borders.map((b, i) => [b.speaker.index, i]));
    for (const item of telling.items) {
      if (t === area && !item.isRange) continue;
      const as = imports.find(item.id);
      for (const one of this.field.tellers(t)) {
        if (!one.tellsOn) continue;
        const own = places.get(one.speaker);
        let c = noWay;
        if (own !== undefined && item.owners.has(one.speaker)) c = t === area ? noWay : item.cost[own]!;
        else
          telling.borders.forEach((b, i) => {
            const base = distance[one.inBackbone * size + b.inBackbone]!;
            const d = base + item.cost[i]!;
            if (base < noWay && d < c) c = d;
          });
        if (c >= noWay) continue;
        if (c >= lsInfinity) return false;
        into.tell(one.vertex, c - (as?.offset ?? 0));
      }
      this.close(into, as?.class ?? -1, item.id);
    }
    return true;
  }

  /**
   * What border routers tell on of the backbone after a cut in it.
   *
   * @param choices  what border routers choose now for the classes of the backbone, by process, where it is another cost
   */
  fromBackbone(telling: BorderTelling, choices: ReadonlyMap<number, Int32Array>): boolean {
    const area = this.field.backboneAt;
    if (telling.rangeIds.length > 0) return false;
    const imports = this.field.imports(area);
    const places = new Map(telling.borders.map((b, i) => [b.speaker.index, i]));
    const dearest = imports.dearestOffset;
    for (let t = 0; t < this.field.moves.length; t++) {
      const into = this.field.moves[t];
      const { told } = this.field.imports(t);
      if (t === area || !told || !into) continue;
      const tellers = this.field.tellers(t);
      if (tellers.some((x) => choices.has(x.speaker)) && !(this.tellClasses(t, choices, dearest) && this.tellMixed(t, choices))) return false;
      for (const item of telling.items) if (!this.tellNetwork(t, item, telling, places)) return false;
    }
    return true;
  }

  /** Classes of the backbone that some border router tells on at another cost. */
  private tellClasses(t: number, choices: ReadonlyMap<number, Int32Array>, dearest: number): boolean {
    const { told, rows } = this.field.imports(t);
    const into = this.field.moves[t];
    if (!told || !into) return true;
    const tellers = this.field.tellers(t);
    const counts = this.toldCounts(t);
    for (let q = 0; q < counts.length; q++) {
      let any = false;
      for (let j = 0; j < tellers.length; j++) {
        const one = tellers[j];
        const was = rows[j]?.onward?.cost[q] ?? noWay;
        const now = one?.tellsOn ? (choices.get(one.speaker)?.[q] ?? was) : noWay;
        if (now !== was) any = true;
        if (!one || now >= noWay) continue;
        if (now + dearest >= lsInfinity) return false;
        into.tell(one.vertex, now - told.offset[q]!);
      }
      const k = told.classOf[q] ?? -1;
      if (!any || counts[q] === 0) into.drop();
      else if (k < 0) return false;
      else into.tellsOnClass(q, into.close(k, counts[q]!));
    }
    return true;
  }

  /** Ends the move of one prefix, by name where somebody will ask for it. */
  private close(into: Moves | undefined, classOf: number, id: number, owners?: ReadonlySet<number>): void {
    const m = into?.close(classOf, 1, owners);
    if (m !== undefined && this.field.asked.has(id)) into?.name(id, m);
  }

  private readonly mixedIn: (readonly Mixed[] | undefined)[] = [];

  /** Prefixes of an area that some of its border routers tell on from the backbone and others do not: they stand apart from the classes. */
  private mixed(t: number): readonly Mixed[] {
    let known = this.mixedIn[t];
    if (!known) {
      const { own, told, rows } = this.field.imports(t);
      const places = rows.map((r) => new Map(Array.from(r.own.ids, (id, i) => [id, r.own.cost[i]!])));
      const except = rows.map((r) => new Set(r.onward?.except.flatMap((list) => Array.from(list)) ?? []));
      known = Array.from(own.ids).flatMap((id): Mixed[] => {
        if (!told?.source.find(id)) return [];
        const from = rows.map((r, j) => places[j]?.get(id) ?? (r.onward && !except[j]?.has(id) ? toldOn : noWay));
        return from.includes(toldOn) ? [{ id, from }] : [];
      });
      this.mixedIn[t] = known;
    }
    return known;
  }

  private tellMixed(t: number, choices: ReadonlyMap<number, Int32Array>): boolean {
    const imports = this.field.imports(t);
    const { told, rows } = imports;
    const into = this.field.moves[t];
    const tellers = this.field.tellers(t);
    for (const { id, from } of this.mixed(t)) {
      const [there, here] = [told?.source.find(id), imports.find(id)];
      if (!there || !here) return false;
      let any = false;
      for (let j = 0; j < from.length; j++) {
        const own = from[j]!;
        const [one, was] = [tellers[j], rows[j]?.onward?.cost[there.class] ?? noWay];
        const now = one && own === toldOn ? (choices.get(one.speaker)?.[there.class] ?? was) : own;
        if (own === toldOn && now !== was) any = true;
        if (one && now < noWay) into?.tell(one.vertex, now + (own === toldOn ? there.offset : 0) - here.offset);
      }
      if (any) this.close(into, here.class, id);
      else into?.drop();
    }
    return true;
  }

  /** A network of the backbone itself that some border router reaches at another cost. */
  private tellNetwork(t: number, item: ToldItem, telling: BorderTelling, places: ReadonlyMap<number, number>): boolean {
    const tellers = this.field.tellers(t);
    const moved = tellers.some((x) => telling.movedAt(places.get(x.speaker) ?? -1, item.id));
    const imports = this.field.imports(t);
    const into = this.field.moves[t];
    if (!moved || !into) return true;
    const as = imports.find(item.id);
    if (!as) return false;
    for (const one of tellers) {
      const c = one.tellsOn ? (item.cost[places.get(one.speaker) ?? -1] ?? noWay) : noWay;
      if (c < noWay) into.tell(one.vertex, c - as.offset);
    }
    this.close(into, as.class, item.id);
    return true;
  }

  private readonly counted: (Int32Array | undefined)[] = [];

  /** How many prefixes of each class of the backbone an area is told of as such. */
  private toldCounts(t: number): Int32Array {
    let counts = this.counted[t];
    if (!counts) {
      const imports = this.field.imports(t);
      const { told } = imports;
      counts = told ? told.source.counts.slice() : new Int32Array(0);
      for (const id of imports.setApart()) {
        const as = told?.source.find(id);
        if (as) counts[as.class] = counts[as.class]! - 1;
      }
      this.counted[t] = counts;
    }
    return counts;
  }
}
