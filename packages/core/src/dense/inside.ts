import type { Speaker } from '../adjacency/speakers';
import type { Area } from '../design/design';
import { rangeFor } from '../lsdb/summary-lsa';
import type { InsideRoutes } from '../routes/routing-table';
import { noWay, type Part } from './area-rows';
import type { DenseAreas } from './dense-areas';
import type { HopCode } from './hop-slots';
import { chooseNearest, type RootRows } from './offers';

/** Kinds of an entry in a router's rows. */
export const intraArea = 1;
export const interArea = 2;

/** Routes of a router one after the other: entry `i` is prefix `ids[i]`. */
export interface Columns {
  readonly ids: Int32Array;
  readonly kind: Uint8Array;
  readonly cost: Int32Array;
  readonly hops: Int32Array;
  /** Index of the database it came through. */
  readonly database: Int32Array;
  /** Place of the range that takes it, in its area's settings; -1 without. */
  readonly range: Int32Array;
}

/** Routes of a router as a list, whatever they are put together from. */
export class Packed {
  private written: Columns | undefined;
  private places: Map<number, number> | undefined;

  constructor(
    /** Prefixes of own ranges in force. */
    readonly own: readonly number[],
    private readonly write: () => Columns,
    /** What it is put together from, an area each, when no prefix stands in two of them. */
    readonly parts?: readonly Part[],
  ) {}

  private lists: readonly Int32Array[] | undefined;

  /** Every prefix of it, list by list, and those of own ranges in force: what others say of these the router does not use. */
  get taken(): readonly Int32Array[] {
    this.lists ??= [...(this.parts?.map((p) => p.ids) ?? [this.list.ids]), ...(this.own.length > 0 ? [Int32Array.from(this.own)] : [])];
    return this.lists;
  }

  get list(): Columns {
    return (this.written ??= this.write());
  }

  /** Place of a prefix in the list; -1 without. */
  placeOf(id: number): number {
    this.places ??= new Map(Array.from(this.list.ids, (x, i) => [x, i]));
    return this.places.get(id) ?? -1;
  }
}

/** True when two lists of what a router has inside differ at most in one area, by index of its database. */
export function sameBut(a: Packed, b: Packed, index: number): boolean {
  if (a === b) return true;
  if (!a.parts || a.parts.length !== b.parts?.length) return false;
  return a.parts.every((p, i) => p === b.parts?.[i] || (p.root.index === index && b.parts?.[i]?.root.index === index));
}

const noIds = new Int32Array(0);
const knownApart = new WeakMap<Int32Array, WeakMap<Int32Array, boolean>>();

/** Place of the range of an area that takes a prefix, -1 without. */
function rangePlace({ prefixes }: DenseAreas, area: Area, id: number): number {
  const range = area.ranges.length === 0 ? undefined : rangeFor(area, prefixes.prefix(id));
  return range ? area.ranges.indexOf(range) : -1;
}

/** Which ranges of an area take some prefixes. */
function rangesOf(areas: DenseAreas, area: Area, ids: Int32Array): Pick<Part, 'range' | 'own'> {
  if (area.ranges.length === 0) return { range: noIds, own: [] };
  const range = areas.pool.take(ids.length);
  const own = new Set<number>();
  for (let i = 0; i < ids.length; i++) {
    range[i] = rangePlace(areas, area, ids[i]!);
    const r = area.ranges[range[i]!];
    if (r) own.add(areas.prefixes.id(r.prefix.bits, r.prefix.length));
  }
  return { range, own: [...own] };
}

/** What a router reaches inside one area; for rows that several states share made once. */
export function partOf(areas: DenseAreas, s: Speaker, root: RootRows): Part {
  const { networks, areaId, parts } = areas.areas[root.index]!;
  const known = parts[root.root];
  if (known?.root === root) return known;
  const size = networks.ids.length;
  const all = { cost: areas.pool.take(size), hops: areas.pool.take(size) };
  chooseNearest(networks, 0, size, root, areas.slotsOf(s), all, 0);
  const way = (_: number, place: number): boolean => all.cost[place] !== noWay;
  const reached = all.cost.includes(noWay)
    ? { ids: networks.ids.filter(way), cost: all.cost.filter(way), hops: all.hops.filter(way) }
    : { ids: networks.ids, ...all };
  const part = { root, ...reached, ...rangesOf(areas, areas.ground.domain.areaOf(s, areaId), reached.ids) };
  return (parts[root.root] = part);
}

/** What a router reaches inside its areas. */
export function insideOf(areas: DenseAreas, s: Speaker): Packed {
  const parts = areas.rootsOf(s).map((root) => partOf(areas, s, root));
  const border = areas.ground.domain.isBorderRouter(s);
  const own = border ? [...new Set(parts.flatMap((p) => p.own))] : [];
  const twice = parts.some((p, i) => parts.some((q, k) => k < i && !apart(p.ids, q.ids)));
  if (!twice) return new Packed(own, () => written(parts), parts);
  const list = nearestOfAreas(areas, s, written(parts));
  return new Packed(border ? ownRanges(areas, s, list) : [], () => list);
}

/** Whether no prefix stands in two lists: of the networks of two areas asked for every one of their border routers. */
function apart(a: Int32Array, b: Int32Array): boolean {
  let of = knownApart.get(a);
  if (!of) knownApart.set(a, (of = new WeakMap()));
  let answer = of.get(b);
  if (answer === undefined) {
    const there = new Set(a);
    answer = !b.some((id) => there.has(id));
    of.set(b, answer);
  }
  return answer;
}

/** Parts one behind the other. */
function written(parts: readonly Part[]): Columns {
  const size = parts.reduce((n, p) => n + p.ids.length, 0);
  const [ids, cost, hops, database] = [new Int32Array(size), new Int32Array(size), new Int32Array(size), new Int32Array(size)];
  const range = new Int32Array(size).fill(-1);
  let n = 0;
  for (const p of parts) {
    ids.set(p.ids, n);
    cost.set(p.cost, n);
    hops.set(p.hops, n);
    range.set(p.range, n);
    database.fill(p.root.index, n, n + p.ids.length);
    n += p.ids.length;
  }
  return { ids, kind: new Uint8Array(size).fill(intraArea), cost, hops, database, range };
}

/** Of a prefix that stands in several areas the nearest way stays; equal ones are used together, as of the first area. */
function nearestOfAreas(areas: DenseAreas, s: Speaker, list: Columns): Columns {
  const slots = areas.slotsOf(s);
  const best = new Map<number, number>();
  for (let i = 0; i < list.ids.length; i++) {
    const at = best.get(list.ids[i]!);
    if (at === undefined || list.cost[i]! < list.cost[at]!) best.set(list.ids[i]!, i);
    else if (list.cost[i] === list.cost[at]) list.hops[at] = slots.join(list.hops[at]!, list.hops[i]!);
  }
  const places = Int32Array.from(best.values());
  const chosen = (column: Int32Array): Int32Array => places.map((i) => column[i]!);
  return {
    ids: chosen(list.ids),
    kind: new Uint8Array(places.length).fill(intraArea),
    cost: chosen(list.cost),
    hops: chosen(list.hops),
    database: chosen(list.database),
    range: chosen(list.range),
  };
}

/** Prefixes of a border router's ranges in force: of areas where a part is reachable inside (RFC 2328 §12.4.3). */
function ownRanges(areas: DenseAreas, s: Speaker, list: Columns): readonly number[] {
  const out = new Set<number>();
  for (let i = 0; i < list.ids.length; i++) {
    const r = areas.ground.domain.areaOf(s, areas.areas[list.database[i]!]!.areaId).ranges[list.range[i]!];
    if (r && list.kind[i] === intraArea) out.add(areas.prefixes.id(r.prefix.bits, r.prefix.length));
  }
  return [...out];
}

/** All that a router knows inside the system, from its readable table: for those who read several areas, or transit areas. */
export function wholeOf(areas: DenseAreas, s: Speaker, { table, hopList }: InsideRoutes): Packed {
  const slots = areas.slotsOf(s);
  const { domain } = areas.ground;
  const codes = new Map<readonly number[], HopCode>();
  const codeOf = (set: readonly number[]): HopCode => {
    let code = codes.get(set);
    if (code === undefined) {
      code = set.reduce<HopCode>((joined, h) => {
        const hop = hopList.hops[h]!;
        return slots.join(joined, slots.single(slots.place(hop.port, hop.address)));
      }, 0);
      codes.set(set, code);
    }
    return code;
  };
  const routes = [...table.values()];
  const column = (of: (r: (typeof routes)[number]) => number): Int32Array => Int32Array.from(routes, of);
  const list: Columns = {
    ids: column((r) => r.key),
    kind: Uint8Array.from(routes, (r) => (r.type === 'intra-area' ? intraArea : interArea)),
    cost: column((r) => r.metric),
    hops: column((r) => codeOf(r.hops)),
    database: column((r) => domain.database(s, r.area)?.index ?? -1),
    range: column((r) => (r.type === 'intra-area' ? rangePlace(areas, domain.areaOf(s, r.area), r.key) : -1)),
  };
  return new Packed(domain.isBorderRouter(s) ? ownRanges(areas, s, list) : [], () => list);
}
