import type { InternalFinder, InsideRoute } from '../dense/inside-finder';
import { insideRoute } from '../dense/inside-finder';
import { interArea } from '../dense/inside';
import { nearestOf } from '../dense/offers';
import type { CutField, Seated } from './cut-field';

/** The move that a prefix is part of in an area; `undefined` when it is told as before. */
export function moveOf(field: CutField, area: number, id: number): number | undefined {
  const own = field.moves[area]!;
  const named = own.named(id);
  if (own.count === 0 || named !== undefined) return named;
  const imports = field.imports(area);
  if (!imports.told || imports.standsApart(id)) return undefined;
  const onward = field.moves[field.backboneAt]?.named(id);
  if (onward !== undefined) return own.tellingOn(onward);
  const as = imports.told.source.find(id);
  return as && own.tellingOnClass(as.class);
}

/** Finds a router's routes inside the system during a cut, prefix by prefix: for forwarding addresses. */
export function cutFinder(field: CutField, s: Seated): InternalFinder {
  const slots = field.arrays.slotsOf(s.speaker);
  const roots = s.seats.map((x) => field.ground(x.area).rowsNow(x.vertex));
  return (id) => insideRoute(id, roots, slots, (index) => field.ground(index).networks) ?? toldNow(field, s, id);
}

function toldNow(field: CutField, { speaker }: Seated, id: number): InsideRoute | undefined {
  const chooser = field.arrays.choosers.of(speaker);
  if (!chooser || chooser.inside?.own.includes(id)) return undefined;
  const { index, root } = chooser.reads;
  const imports = field.imports(index);
  const as = imports.find(id);
  const move = moveOf(field, index, id);
  if (move === undefined && !as) return undefined;
  const offers = move === undefined ? imports.vectors : field.moves[index]!;
  const way = nearestOf(offers, move ?? as!.class, field.ground(index).rowsNow(root), field.arrays.slotsOf(speaker));
  return way && { kind: interArea, cost: way.cost + (as?.offset ?? 0), hops: way.hops, database: index };
}
