import type { Speaker } from '../adjacency/speakers';
import { noWay } from './area-rows';
import type { HopSlots } from './hop-slots';
import type { Imports } from './imports';
import { noRoute, type InternalRows } from './internal-rows';
import { hopsOfNearest, nearest } from './nearest';
import type { TableBuffer } from './table-buffer';
import type { Insider, TableRows } from './table-rows';

/** How many routes of one router are other ones in a second state. */
export interface ChangeCount {
  lost: number;
  gained: number;
  changed: number;
}

/** Classes of two states side by side: entries that are of one class before and of one after, and move by the same amount. */
interface JointClass {
  readonly before: number;
  readonly after: number;
  /** Offset after less offset before. */
  readonly delta: number;
  count: number;
}

/** The imports of one area in two states. */
interface Joint {
  readonly classes: readonly JointClass[];
  /** Prefixes that the area has inside in either state: they are looked at one by one. */
  readonly apart: readonly number[];
}

/**
 * Counts what changed between two states of the same design whose prefixes and hops have the same numbers: the second was
 * computed from the first.
 */
export class Changes {
  private readonly joints: (Joint | undefined)[] = [];
  private readonly before: { readonly buffer: TableBuffer; readonly at: Int32Array };
  private readonly buffer: TableBuffer;

  constructor(
    private readonly old: TableRows,
    private readonly now: TableRows,
  ) {
    const size = now.arrays.prefixes.size;
    this.before = { buffer: old.emptyBuffer(), at: new Int32Array(size).fill(-1) };
    this.buffer = now.emptyBuffer();
  }

  /** What changed in a router's table; both speakers stand for the same process. */
  of(a: Speaker, b: Speaker): ChangeCount {
    const count = { lost: 0, gained: 0, changed: 0 };
    const [x, y] = [this.old.insiderOf(a), this.now.insiderOf(b)];
    const samePaths = this.old.external.pathsOf(a) === this.now.external.pathsOf(b);
    if (x && y) {
      if (x === y && samePaths) return count;
      if (x !== y) this.inside(count, a, b, x, y);
    } else {
      const [r, q] = [this.old.rowsOf(a), this.now.rowsOf(b)];
      if (r === q && samePaths) return count;
      if (r !== q) compareRows(count, r, q, this.now.arrays.slotsOf(b), b.instance.paths);
    }
    if (!samePaths || this.decides(a, b, x, y)) this.outside(count, a, b);
    return count;
  }

  private readonly moved = new Map<Joint, Map<readonly number[], boolean>>();

  /** Whether a route inside the system changed that externals hang on. */
  private decides(a: Speaker, b: Speaker, x: Insider | undefined, y: Insider | undefined): boolean {
    const ids = this.now.external.decisiveFor(b);
    if (ids.length === 0) return false;
    if (x && y && x.root === y.root) {
      // Routers of one area whose distances are the same ask the same question.
      const joint = this.joint(x.root.index, x.imports, y.imports);
      const known = this.moved.get(joint) ?? new Map<readonly number[], boolean>();
      this.moved.set(joint, known);
      let answer = known.get(ids);
      if (answer === undefined) {
        answer = ids.some((id) => joint.apart.includes(id) || entryMoved(x.imports, y.imports, id));
        known.set(ids, answer);
      }
      return answer;
    }
    const [f, g] = [this.old.finderOf(a), this.now.finderOf(b)];
    return ids.some((id) => f.find(id) !== g.find(id) || f.kind !== g.kind || f.cost !== g.cost || f.hops !== g.hops);
  }

  private outside(count: ChangeCount, a: Speaker, b: Speaker): void {
    const { buffer, at } = this.before;
    this.old.fillOutside(buffer, a);
    this.now.fillOutside(this.buffer, b);
    for (let i = 0; i < buffer.count; i++) at[buffer.prefix[i] ?? 0] = i;
    const now = this.buffer;
    for (let i = 0; i < now.count; i++) {
      const id = now.prefix[i] ?? 0;
      const o = at[id] ?? -1;
      at[id] = -1;
      if (o < 0) count.gained++;
      else if (
        buffer.kind[o] !== now.kind[i] ||
        buffer.metric[o] !== now.metric[i] ||
        buffer.forward[o] !== now.forward[i] ||
        buffer.hops[o] !== now.hops[i]
      )
        count.changed++;
    }
    for (let i = 0; i < buffer.count; i++) {
      const id = buffer.prefix[i] ?? 0;
      if ((at[id] ?? -1) < 0) continue;
      count.lost++;
      at[id] = -1;
    }
  }

  private inside(count: ChangeCount, a: Speaker, b: Speaker, x: Insider, y: Insider): void {
    const slots = this.now.arrays.slotsOf(b);
    const limit = b.instance.paths;
    if (x.root !== y.root) this.networks(count, x, y, slots, limit);
    const { classes, apart } = this.joint(x.root.index, x.imports, y.imports);
    for (const c of classes) {
      const from = c.before < 0 ? noWay : (x.choice.cost[c.before] ?? noWay);
      const to = c.after < 0 ? noWay : (y.choice.cost[c.after] ?? noWay);
      if (from >= noWay && to >= noWay) continue;
      if (to >= noWay) count.lost += c.count;
      else if (from >= noWay) count.gained += c.count;
      else if (from !== to + c.delta || x.choice.hops[c.before] !== y.choice.hops[c.after]) count.changed += c.count;
    }
    if (apart.length > 0) this.oneByOne(count, apart, a, b);
  }

  /** Networks inside the area; those that imports bring as well are looked at elsewhere. */
  private networks(count: ChangeCount, x: Insider, y: Insider, slots: HopSlots, limit: number): void {
    const { index } = x.root;
    const [old, now] = [this.old.arrays.areas[index], this.now.arrays.areas[index]];
    if (!old || !now) return;
    const { ids } = old.networks;
    for (let n = 0; n < ids.length; n++) {
      const id = ids[n] ?? 0;
      if ((x.imports.place[id] ?? -1) >= 0 || (y.imports.place[id] ?? -1) >= 0) continue;
      const from = nearest(old.networks, n, x.root, slots, old);
      const before = hopsOfNearest();
      const at = now.networks.place[id] ?? -1;
      const to = at < 0 ? noWay : nearest(now.networks, at, y.root, slots, now);
      if (from >= noWay && to >= noWay) continue;
      if (to >= noWay) count.lost++;
      else if (from >= noWay) count.gained++;
      else if (from !== to || slots.limited(before, limit) !== slots.limited(hopsOfNearest(), limit)) count.changed++;
    }
    for (let n = 0; n < now.networks.ids.length; n++) {
      const id = now.networks.ids[n] ?? 0;
      if ((old.networks.place[id] ?? -1) >= 0 || (y.imports.place[id] ?? -1) >= 0 || (x.imports.place[id] ?? -1) >= 0) continue;
      if (nearest(now.networks, n, y.root, slots, now) < noWay) count.gained++;
    }
  }

  private oneByOne(count: ChangeCount, ids: readonly number[], a: Speaker, b: Speaker): void {
    const [f, g] = [this.old.finderOf(a), this.now.finderOf(b)];
    const slots = this.now.arrays.slotsOf(b);
    const limit = b.instance.paths;
    for (const id of ids) {
      const [had, has] = [f.find(id), g.find(id)];
      if (!had && !has) continue;
      if (!has) count.lost++;
      else if (!had) count.gained++;
      else if (f.kind !== g.kind || f.cost !== g.cost || slots.limited(f.hops, limit) !== slots.limited(g.hops, limit)) count.changed++;
    }
  }

  /** The imports of an area in both states as joint classes, made once. */
  private joint(index: number, x: Imports, y: Imports): Joint {
    let joint = this.joints[index];
    if (!joint) {
      joint = x === y ? this.sameImports(index, x) : y.patch?.from === x ? this.patchedJoint(index, x, y) : this.jointOf(index, x, y);
      this.joints[index] = joint;
    }
    return joint;
  }

  /** Prefixes that are inside an area in either state and imported as well. */
  private apartIn(index: number, x: Imports, y: Imports): Set<number> {
    const apart = new Set<number>();
    for (const rows of [this.old, this.now])
      for (const id of rows.arrays.areas[index]?.networks.ids ?? []) if ((x.place[id] ?? -1) >= 0 || (y.place[id] ?? -1) >= 0) apart.add(id);
    return apart;
  }

  private sameImports(index: number, x: Imports): Joint {
    const apart = this.apartIn(index, x, x);
    const counts = x.counts.slice();
    for (const id of apart) {
      const k = x.classOf[x.place[id] ?? -1];
      if (k !== undefined) counts[k] = (counts[k] ?? 0) - 1;
    }
    return { classes: Array.from(counts, (count, k) => ({ before: k, after: k, delta: 0, count })), apart: [...apart] };
  }

  /** Every class as it was, less the prefixes that moved: each of these by itself. */
  private patchedJoint(index: number, x: Imports, y: Imports): Joint {
    const { classes, apart } = this.sameImports(index, x);
    const out: JointClass[] = classes.map((c) => ({ ...c }));
    for (const id of y.patch?.ids ?? []) {
      const at = x.place[id] ?? -1;
      if (at < 0 || apart.includes(id)) continue;
      const before = x.classOf[at] ?? 0;
      const c = out[before];
      if (c) c.count--;
      out.push({ before, after: y.classOf[at] ?? 0, delta: (y.offset[at] ?? 0) - (x.offset[at] ?? 0), count: 1 });
    }
    return { classes: out, apart };
  }

  private jointOf(index: number, x: Imports, y: Imports): Joint {
    const apart = this.apartIn(index, x, y);
    const known = new Map<number, Map<number, JointClass>>();
    const note = (id: number, i: number, j: number): void => {
      if (apart.has(id)) return;
      const before = i < 0 ? -1 : (x.classOf[i] ?? -1);
      const after = j < 0 ? -1 : (y.classOf[j] ?? -1);
      const delta = i < 0 || j < 0 ? 0 : (y.offset[j] ?? 0) - (x.offset[i] ?? 0);
      const pair = (before + 1) * 65_536 + after + 1;
      let byDelta = known.get(pair);
      if (!byDelta) known.set(pair, (byDelta = new Map<number, JointClass>()));
      const c = byDelta.get(delta);
      if (c) c.count++;
      else byDelta.set(delta, { before, after, delta, count: 1 });
    };
    for (let i = 0; i < x.ids.length; i++) note(x.ids[i] ?? 0, i, y.place[x.ids[i] ?? 0] ?? -1);
    for (let j = 0; j < y.ids.length; j++) if ((x.place[y.ids[j] ?? 0] ?? -1) < 0) note(y.ids[j] ?? 0, -1, j);
    return { classes: [...known.values()].flatMap((m) => [...m.values()]), apart: [...apart] };
  }
}

/** Whether border routers say something else of a prefix. */
function entryMoved(x: Imports, y: Imports, id: number): boolean {
  if (x === y) return false;
  const [i, j] = [x.place[id] ?? -1, y.place[id] ?? -1];
  if (i < 0 || j < 0) return i !== j;
  if (x.offset[i] !== y.offset[j] || x.rows.length !== y.rows.length) return true;
  const width = x.rows.length;
  const [k, l] = [(x.classOf[i] ?? 0) * width, (y.classOf[j] ?? 0) * width];
  for (let n = 0; n < width; n++) if (x.costs[k + n] !== y.costs[l + n]) return true;
  return false;
}

function compareRows(count: ChangeCount, old: InternalRows, now: InternalRows, slots: HopSlots, limit: number): void {
  if (now.patch?.from === old) {
    for (const id of now.patch.ids) {
      const [had, has] = [old.kind[id] ?? noRoute, now.kind[id] ?? noRoute];
      if (had === noRoute && has === noRoute) continue;
      if (has === noRoute) count.lost++;
      else if (had === noRoute) count.gained++;
      else if (had !== has || old.cost[id] !== now.cost[id] || slots.limited(old.hops[id] ?? 0, limit) !== slots.limited(now.hops[id] ?? 0, limit))
        count.changed++;
    }
    return;
  }
  for (let i = 0; i < old.filled; i++) {
    const id = old.touched[i] ?? 0;
    if ((now.kind[id] ?? noRoute) === noRoute) count.lost++;
    else if (
      old.kind[id] !== now.kind[id] ||
      old.cost[id] !== now.cost[id] ||
      (old.hops[id] !== now.hops[id] && slots.limited(old.hops[id] ?? 0, limit) !== slots.limited(now.hops[id] ?? 0, limit))
    )
      count.changed++;
  }
  for (let i = 0; i < now.filled; i++) if ((old.kind[now.touched[i] ?? 0] ?? noRoute) === noRoute) count.gained++;
}
