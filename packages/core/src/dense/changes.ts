import type { Speaker } from '../adjacency/speakers';
import { noWay, sameOffers, type AreaNetworks } from './area-rows';
import type { Chooser } from './choosers';
import type { HopSlots } from './hop-slots';
import type { Columns, Packed } from './inside';
import { sameWay, type InsideRoute } from './inside-finder';
import { ClassPairs } from './class-pairs';
import { nearestOf, noWayYet, type RootRows, type Way } from './offers';
import type { TableBuffer } from './table-buffer';
import type { TableRows } from './table-rows';
import type { Imports } from './told';

/** How many routes of one router are other ones in a second state. */
export interface ChangeCount {
  lost: number;
  gained: number;
  changed: number;
}

/** The imports of one area in two states. */
interface Joint {
  readonly pairs: ClassPairs;
  /** Prefixes that the area has inside in either state, and imports: they are looked at one by one. */
  readonly apart: ReadonlySet<number>;
}

/**
 * Counts what changed between two states of the same design whose prefixes and hops have the same numbers: the second was
 * computed from the first.
 */
export class Changes {
  private readonly joints: (Joint | undefined)[] = [];
  private readonly before: { readonly buffer: TableBuffer; readonly at: Int32Array };
  private readonly buffer: TableBuffer;
  private readonly was = noWayYet();
  private readonly is = noWayYet();

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
    const [x, y] = [this.old.chooserOf(a), this.now.chooserOf(b)];
    const samePaths = this.old.external.waysOf(a) === this.now.external.waysOf(b);
    if (x && y && (x.inside === undefined) === (y.inside === undefined)) {
      if (x === y && samePaths) return count;
      if (x !== y) this.chosen(count, a, b, x, y);
    } else {
      const [r, q] = [this.old.arrays.whole(a), this.now.arrays.whole(b)];
      if (r === q && samePaths) return count;
      if (r !== q) compareRows(count, r, q, this.now.arrays.slotsOf(b), b.instance.paths);
    }
    if (!samePaths || this.decides(a, b, x, y)) this.outside(count, a, b);
    return count;
  }

  private readonly moved = new Map<Joint, Map<readonly number[], boolean>>();

  /** Whether a route inside the system changed that externals hang on. */
  private decides(a: Speaker, b: Speaker, x: Chooser | undefined, y: Chooser | undefined): boolean {
    const ids = this.now.external.decisiveFor(b);
    if (ids.length === 0) return false;
    if (x && y && x.reads === y.reads && x.inside === y.inside && x.choice === y.choice) {
      // Routers of one area whose distances and choices are the same ask the same question.
      const joint = this.joint(x, y);
      const known = this.moved.get(joint) ?? new Map<readonly number[], boolean>();
      this.moved.set(joint, known);
      let answer = known.get(ids);
      if (answer === undefined) {
        answer = ids.some((id) => joint.apart.has(id) || entryMoved(x.imports, y.imports, id));
        known.set(ids, answer);
      }
      return answer;
    }
    const [f, g] = [this.old.finderOf(a), this.now.finderOf(b)];
    return ids.some((id) => !sameWay(f(id), g(id)));
  }

  private outside(count: ChangeCount, a: Speaker, b: Speaker): void {
    const { buffer, at } = this.before;
    this.old.fillOutside(buffer, a);
    this.now.fillOutside(this.buffer, b);
    for (let i = 0; i < buffer.count; i++) at[buffer.prefix[i]!] = i;
    const now = this.buffer;
    for (let i = 0; i < now.count; i++) {
      const id = now.prefix[i]!;
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
      const id = buffer.prefix[i]!;
      if ((at[id] ?? -1) < 0) continue;
      count.lost++;
      at[id] = -1;
    }
  }

  private chosen(count: ChangeCount, a: Speaker, b: Speaker, x: Chooser, y: Chooser): void {
    const slots = this.now.arrays.slotsOf(b);
    const limit = b.instance.paths;
    const { pairs, apart } = this.joint(x, y);
    const before = { cost: x.choice.cost, hops: x.choice.limited(slots, limit) };
    const after = { cost: y.choice.cost, hops: y.choice.limited(slots, limit) };
    let any = false;
    // Where the choice is the same one, only what changed its class or its cost can be another route.
    const some = x.choice === y.choice ? pairs.moving : undefined;
    const all = some?.length ?? pairs.count;
    for (let i = 0; i < all; i++) {
      const c = some?.[i] ?? i;
      const what = verdict(pairs, c, before, after);
      if (what === 'same') continue;
      count[what] += pairs.entries[c]!;
      any = true;
    }
    if (!any && x.inside && x.inside === y.inside && apart.size === 0) return;
    const own = ownOf(x, y);
    if (!own) {
      if (x.reads !== y.reads) this.networks(count, x, y, apart, slots, limit);
      if (apart.size > 0) this.oneByOne(count, apart, a, b);
      return;
    }
    // What a border router has itself is no matter of classes: it is taken out again, and looked at by itself.
    if (any)
      for (const id of own) {
        const what = verdict(pairs, apart.has(id) ? -1 : pairs.of(id), before, after);
        if (what !== 'same') count[what]--;
      }
    if (x.inside !== y.inside) this.oneByOne(count, new Set([...own, ...apart]), a, b);
    else this.oneByOne(count, new Set([...apart].filter((id) => !own.has(id))), a, b);
  }

  /** Networks inside the area; those that imports bring as well are looked at elsewhere. */
  private networks(count: ChangeCount, x: Chooser, y: Chooser, apart: ReadonlySet<number>, slots: HopSlots, limit: number): void {
    const { index } = x.reads;
    const [old, now] = [this.old.arrays.areas[index], this.now.arrays.areas[index]];
    if (!old || !now) return;
    const { ids, first, vertex } = old.networks;
    const { places, alike } = this.networkPlaces(index, old.networks, now.networks);
    // Where vertices have the same numbers, a network of which no bringer moved is as it was.
    const still = x.reads.root === y.reads.root && x.reads.distance.length === y.reads.distance.length;
    const stirred = still ? this.stirredOf(x.reads, y.reads) : undefined;
    for (let n = 0; n < ids.length; n++) {
      if (stirred && alike[n] === 1) {
        let e = first[n]!;
        const end = first[n + 1]!;
        while (e < end && stirred[vertex[e]!] === 0) e++;
        if (e === end) continue;
      }
      const id = ids[n]!;
      if (apart.has(id)) continue;
      const at = places[n]!;
      const was = nearestOf(old.networks, n, x.reads, slots, this.was);
      const is = at < 0 ? undefined : nearestOf(now.networks, at, y.reads, slots, this.is);
      const what = fate(was, is, slots, limit);
      if (what !== 'same') count[what]++;
    }
    for (let n = 0; n < now.networks.ids.length; n++) {
      const id = now.networks.ids[n]!;
      if ((old.networks.place[id] ?? -1) >= 0 || apart.has(id)) continue;
      if (nearestOf(now.networks, n, y.reads, slots, this.is)) count.gained++;
    }
  }

  private readonly placesKnown: ({ readonly places: Int32Array; readonly alike: Uint8Array } | undefined)[] = [];
  private stirred = new Uint8Array(0);

  /** Where each network of an area is now, -1 where it is gone, and whether the same vertices bring it at the same costs. */
  private networkPlaces(index: number, old: AreaNetworks, now: AreaNetworks): { readonly places: Int32Array; readonly alike: Uint8Array } {
    let known = this.placesKnown[index];
    if (!known) {
      const places = Int32Array.from(old.ids, (id) => now.place[id] ?? -1);
      const alike = Uint8Array.from(old.ids, (_, n) => Number(sameOffers(old, n, now, places[n]!)));
      this.placesKnown[index] = known = { places, alike };
    }
    return known;
  }

  /** 1: a router is at another distance from a vertex, or goes there by other next hops. */
  private stirredOf(x: RootRows, y: RootRows): Uint8Array {
    const size = x.distance.length;
    if (this.stirred.length < size) this.stirred = new Uint8Array(size);
    const { stirred } = this;
    for (let v = 0; v < size; v++) stirred[v] = Number(x.distance[v] !== y.distance[v] || x.hops[v] !== y.hops[v]);
    // What it brings itself is looked at: the way there is one of its own interfaces.
    stirred[x.root] = 1;
    return stirred;
  }

  private oneByOne(count: ChangeCount, ids: ReadonlySet<number>, a: Speaker, b: Speaker): void {
    if (ids.size === 0) return;
    const [f, g] = [this.old.finderOf(a), this.now.finderOf(b)];
    const slots = this.now.arrays.slotsOf(b);
    const limit = b.instance.paths;
    for (const id of ids) {
      const [was, is] = [f(id), g(id)];
      const what =
        was?.kind === is?.kind ? fate(was, is, slots, limit) : fate(was, is, slots, limit) === 'same' ? 'changed' : fate(was, is, slots, limit);
      if (what !== 'same') count[what]++;
    }
  }

  /** The imports of an area in both states side by side, made once. */
  private joint(x: Chooser, y: Chooser): Joint {
    const { index } = x.reads;
    let joint = this.joints[index];
    if (!joint) {
      const apart = this.apartIn(index, x.imports, y.imports);
      const pairs = ClassPairs.between(x.imports, y.imports, this.pairs);
      joint = { apart, pairs: apart.size > 0 ? pairs.without(apart) : pairs };
      this.joints[index] = joint;
    }
    return joint;
  }

  private readonly pairs = new Map<Imports, ClassPairs>();

  /** Prefixes that are inside an area in either state and imported as well. */
  private apartIn(index: number, x: Imports, y: Imports): Set<number> {
    const apart = new Set([...x.insideToo, ...y.insideToo]);
    const [old, now] = [this.old.arrays.areas[index]?.networks, this.now.arrays.areas[index]?.networks];
    if (old !== now) for (const networks of [old, now]) for (const id of networks?.ids ?? []) if (x.find(id) ?? y.find(id)) apart.add(id);
    return apart;
  }
}

interface Chosen {
  readonly cost: Int32Array;
  readonly hops: Int32Array;
}

/** What becomes of the routes to a pair of classes. Small, and of steady types: it runs for every router. */
function verdict(pairs: ClassPairs, c: number, before: Chosen, after: Chosen): keyof ChangeCount | 'same' {
  const k = pairs.before[c] ?? -1;
  const l = pairs.after[c] ?? -1;
  const from = k < 0 ? noWay : before.cost[k]!;
  const to = l < 0 ? noWay : after.cost[l]!;
  if (to >= noWay) return from >= noWay ? 'same' : 'lost';
  if (from >= noWay) return 'gained';
  return from !== to + pairs.delta[c]! || before.hops[k] !== after.hops[l] ? 'changed' : 'same';
}

/** What becomes of a route: cost and next hops within a limit of ways. */
function fate(was: Way | undefined, is: Way | undefined, slots: HopSlots, limit: number): keyof ChangeCount | 'same' {
  if (!was || !is) return was ? 'lost' : is ? 'gained' : 'same';
  if (was.cost !== is.cost) return 'changed';
  return was.hops !== is.hops && slots.limited(was.hops, limit) !== slots.limited(is.hops, limit) ? 'changed' : 'same';
}

/** What a border router has inside its areas or folds into a range, in either state; `undefined` for a router inside an area. */
function ownOf(x: Chooser, y: Chooser): Set<number> | undefined {
  if (!x.inside && !y.inside) return undefined;
  const out = new Set<number>();
  for (const inside of x.inside === y.inside ? [x.inside] : [x.inside, y.inside])
    if (inside) {
      for (const id of inside.list.ids) out.add(id);
      for (const id of inside.own) out.add(id);
    }
  return out;
}

/** Whether border routers say something else of a prefix; the choice for every class is the same. */
function entryMoved(x: Imports, y: Imports, id: number): boolean {
  if (x === y) return false;
  const [had, has] = [x.find(id), y.find(id)];
  return had?.class !== has?.class || had?.offset !== has?.offset;
}

function compareRows(count: ChangeCount, old: Packed, now: Packed, slots: HopSlots, limit: number): void {
  const at = (list: Columns, i: number): InsideRoute => ({ kind: list.kind[i]!, cost: list.cost[i]!, hops: list.hops[i]!, database: 0 });
  old.list.ids.forEach((id, i) => {
    const place = now.placeOf(id);
    const [was, is] = [at(old.list, i), place < 0 ? undefined : at(now.list, place)];
    const what = fate(was, is, slots, limit);
    if (what !== 'same') count[what]++;
    else if (was.kind !== is?.kind) count.changed++;
  });
  for (const id of now.list.ids) if (old.placeOf(id) < 0) count.gained++;
}
