import { lsInfinity } from '../lsdb/lsa';
import { noWay } from './area-rows';
import type { Imports } from './imports';
import type { SummaryRow } from './summary-row';

/** Where what border routers tell an area differs from what they told it before: few prefixes, each with its costs at all of them. */
export interface RowDelta {
  readonly ids: readonly number[];
  /** Cost of `ids[i]` at border router `j` of `rows` is `costs[i * rows.length + j]`, `noWay` where it says nothing. */
  readonly costs: Int32Array;
  readonly rows: readonly SummaryRow[];
}

/** With more prefixes than this it is quicker to begin anew. */
const few = 200;

/** Prefixes in which two rows of one border router differ, by their cost now; `undefined` when there are many. Both are in the same order but for what came or went. */
function rowChanges(old: SummaryRow, now: SummaryRow): Map<number, number> | undefined {
  const out = new Map<number, number>();
  const said = (row: SummaryRow, i: number): number => ((row.cost[i] ?? 0) < lsInfinity ? (row.cost[i] ?? 0) : noWay);
  let j = 0;
  for (let i = 0; i < old.ids.length; i++) {
    const id = old.ids[i] ?? -1;
    if (now.ids[j] === id) {
      if (old.cost[i] !== now.cost[j]) out.set(id, said(now, j));
      j++;
    } else out.set(id, noWay);
    if (out.size > few) return undefined;
  }
  for (; j < now.ids.length; j++) {
    out.set(now.ids[j] ?? -1, said(now, j));
    if (out.size > few) return undefined;
  }
  return out;
}

/**
 * What changed between the imports of an area and the rows that its border routers write now; `undefined` when that is too
 * much, or not the same border routers.
 *
 * @param said  the rows now, of all border routers in the order of those before
 */
export function rowDelta(before: Imports, beforeSaid: readonly SummaryRow[], said: readonly SummaryRow[]): RowDelta | undefined {
  if (beforeSaid.length !== said.length) return undefined;
  const width = before.rows.length;
  const rows: SummaryRow[] = [];
  const changes: (Map<number, number> | undefined)[] = [];
  for (let n = 0; n < said.length; n++) {
    const [old, now] = [beforeSaid[n], said[n]];
    if (!old || !now || old.speaker !== now.speaker || old.vertex !== now.vertex) return undefined;
    if (before.rows[rows.length] !== old) continue; // one that nobody can use
    rows.push(now);
    if (old === now) changes.push(undefined);
    else {
      const moved = rowChanges(old, now);
      if (!moved) return undefined;
      changes.push(moved);
    }
  }
  if (rows.length !== width) return undefined;
  const ids = [...new Set(changes.flatMap((m) => (m ? [...m.keys()] : [])))];
  if (ids.length > few) return undefined;
  const costs = new Int32Array(ids.length * width).fill(noWay);
  ids.forEach((id, i) => {
    const at = before.place[id] ?? -1;
    const k = (before.classOf[at] ?? 0) * width;
    for (let j = 0; j < width; j++) {
      const old = at < 0 ? noWay : (before.costs[k + j] ?? noWay);
      costs[i * width + j] = changes[j]?.get(id) ?? (old < noWay ? old + (before.offset[at] ?? 0) : noWay);
    }
  });
  return { ids, costs, rows };
}

/** The imports after a delta: the same entries and classes, and a class more for each prefix that moved; `undefined` when a prefix is new to the area. */
export function patchedImports(before: Imports, delta: RowDelta): Imports | undefined {
  const width = delta.rows.length;
  const { ids } = delta;
  const classOf = before.classOf.slice();
  const offset = before.offset.slice();
  const costs = new Int32Array(before.costs.length + ids.length * width);
  const counts = new Int32Array(before.classCount + ids.length);
  costs.set(before.costs);
  counts.set(before.counts);
  for (let i = 0; i < ids.length; i++) {
    const at = before.place[ids[i] ?? 0] ?? -1;
    if (at < 0) return undefined;
    const k = before.classCount + i;
    let least = noWay;
    for (let j = 0; j < width; j++) least = Math.min(least, delta.costs[i * width + j] ?? noWay);
    for (let j = 0; j < width; j++) {
      const c = delta.costs[i * width + j] ?? noWay;
      costs[k * width + j] = c < noWay ? c - least : noWay;
    }
    const old = classOf[at] ?? 0;
    counts[old] = (counts[old] ?? 0) - 1;
    counts[k] = 1;
    classOf[at] = k;
    offset[at] = least < noWay ? least : 0;
  }
  return { ...before, rows: delta.rows, classOf, offset, costs, counts, classCount: counts.length, patch: { from: before, ids } };
}

/** A border router's row after some of the prefixes that it tells on moved; the old row when none did, `undefined` when one is new. */
export function patchedRow(old: SummaryRow, ids: readonly number[], costOf: (id: number) => number, told: number): SummaryRow | undefined {
  const cost = old.cost.slice();
  const gone: number[] = [];
  let moved = false;
  for (const id of ids) {
    const at = old.ids.indexOf(id);
    const now = costOf(id);
    if (at < 0) {
      if (now < noWay) return undefined;
      continue;
    }
    if (old.reason[at] !== told) return undefined;
    if (now >= noWay) gone.push(at);
    else if (cost[at] !== now) {
      cost[at] = now;
      moved = true;
    }
  }
  if (gone.length === 0) return moved ? { ...old, cost } : old;
  gone.sort((x, y) => x - y);
  const after = (place: number): number => place - gone.filter((g) => g < place).length;
  return {
    ...old,
    ids: cutOut(old.ids, gone),
    cost: cutOut(cost, gone),
    reason: cutOut(old.reason, gone),
    from: cutOut(old.from, gone),
    parts: new Map([...old.parts].map(([place, p]) => [after(place), p])),
  };
}

interface Numbers<T> {
  readonly length: number;
  slice(): T;
  copyWithin(target: number, start: number, end: number): T;
  subarray(start: number, end: number): T;
}

/** The numbers without some places, which ascend. */
function cutOut<T extends Numbers<T>>(list: T, gone: readonly number[]): T {
  const out = list.slice();
  let at = gone[0] ?? list.length;
  gone.forEach((place, i) => {
    const end = gone[i + 1] ?? list.length;
    out.copyWithin(at, place + 1, end);
    at += end - place - 1;
  });
  return out.subarray(0, at);
}
