import { noWay } from '../dense/area-rows';
import type { InternalFinder } from '../dense/exit';
import { interArea, intraArea, noRoute } from '../dense/internal-rows';
import { hopsOfNearest, nearest } from '../dense/nearest';
import type { Seated } from './cut-boundaries';
import type { CutField } from './cut-field';

/** A router's routes inside the system during a cut, prefix by prefix: for forwarding addresses. */
export class CutFinder implements InternalFinder {
  kind = noRoute;
  cost = noWay;
  hops = 0;
  database = 0;
  private s: Seated | undefined;

  constructor(private readonly field: CutField) {}

  lookAt(s: Seated): void {
    this.s = s;
  }

  find(id: number): boolean {
    const { s } = this;
    return s !== undefined && (this.inside(s, id) || this.told(s, id));
  }

  private inside(s: Seated, id: number): boolean {
    const { field } = this;
    let best = noWay;
    for (const seat of s.seats) {
      const area = field.arrays.areas[seat.area];
      const place = area?.networks.place[id] ?? -1;
      if (!area || place < 0) continue;
      const ground = field.ground(seat.area);
      const slots = field.arrays.slotsOf(s.speaker);
      const d = nearest(ground.networks, place, ground.rowsNow(seat.vertex), slots, area);
      if (d >= noWay || d > best) continue;
      this.hops = d < best ? hopsOfNearest() : slots.join(this.hops, hopsOfNearest());
      if (d < best) this.database = seat.area;
      best = d;
    }
    this.kind = intraArea;
    this.cost = best;
    return best < noWay;
  }

  /** The move that a prefix is part of in an area; `undefined` when it is told as before. */
  moveOf(area: number, id: number): number | undefined {
    const { moves, backboneAt } = this.field;
    const own = moves[area];
    const named = own?.named(id);
    if (!own || own.count === 0 || named !== undefined) return named;
    const imports = this.field.imports(area);
    if (!imports.told || imports.standsApart(id)) return undefined;
    const onward = moves[backboneAt]?.named(id);
    if (onward !== undefined) return own.tellingOn(onward);
    const { source } = imports.told;
    return source.find(id) ? own.tellingOnClass(source.foundClass) : undefined;
  }

  private told(s: Seated, id: number): boolean {
    const { field } = this;
    const chooser = field.arrays.choosers.of(s.speaker);
    if (!chooser || chooser.inside?.own.includes(id)) return false;
    const { index, root } = chooser.reads;
    const imports = field.imports(index);
    const { size, distance, hops } = field.ground(index);
    const slots = field.arrays.slotsOf(s.speaker);
    const found = imports.find(id);
    const { foundClass, foundOffset } = imports;
    const offset = found ? foundOffset : 0;
    const move = this.moveOf(index, id);
    const row = root * size;
    if (move !== undefined) {
      const moves = field.moves[index];
      moves?.choose(move, row, distance, hops, slots);
      this.cost = moves && moves.foundCost < noWay ? moves.foundCost + offset : noWay;
      this.hops = moves?.foundHops ?? 0;
    } else {
      this.cost = noWay;
      this.hops = 0;
      const { rows, vectors } = imports;
      for (let e = vectors.first[foundClass] ?? 0; found && e < (vectors.first[foundClass + 1] ?? 0); e++) {
        const r = rows[vectors.row[e] ?? 0];
        if (!r || r.adv === s.speaker.routerId) continue;
        const base = distance[row + r.vertex] ?? noWay;
        const d = base + (vectors.cost[e] ?? 0) + offset;
        if (base >= noWay || d > this.cost) continue;
        const h = hops[row + r.vertex] ?? 0;
        this.hops = d < this.cost ? h : slots.join(this.hops, h);
        this.cost = d;
      }
    }
    this.kind = interArea;
    this.database = index;
    return this.cost < noWay;
  }
}
