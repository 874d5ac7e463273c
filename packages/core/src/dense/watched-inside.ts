import type { Speaker } from '../adjacency/speakers';
import { sameOffers, type AreaNetworks } from './area-rows';
import { sameWay } from './inside-finder';
import type { RootRows } from './offers';
import type { TableRows } from './table-rows';
import type { Imports } from './told';

/** Lists of prefixes by a number. */
type ByNumber = readonly (readonly number[] | undefined)[];

const none: readonly number[] = [];

/** Prefixes that are brought by other vertices, or at other costs, than before. */
function movedOffers(a: AreaNetworks, b: AreaNetworks, ids: readonly number[]): readonly number[] {
  if (a === b) return none;
  return ids.filter((id) => {
    const [x, y] = [a.place[id] ?? -1, b.place[id] ?? -1];
    if (x < 0 || y < 0) return x >= 0 || y >= 0;
    return !sameOffers(a, x, b, y);
  });
}

/** Prefixes that are told of as another class, or at another offset, than before. */
function movedTellings(a: Imports, b: Imports, ids: readonly number[]): readonly number[] {
  if (a === b) return none;
  return ids.filter((id) => {
    const [x, y] = [a.find(id), b.find(id)];
    return x?.class !== y?.class || x?.offset !== y?.offset;
  });
}

/**
 * Some prefixes inside the system in one state, watched: of which of them a router has another route in a later state is
 * seen from the distances and choices that moved, without asking for each.
 */
export class WatchedInside {
  private readonly atVertex: (ByNumber | undefined)[] = [];
  private readonly ofClass = new Map<Imports, ByNumber>();

  /** @param ids  the prefixes, by their numbers */
  constructor(
    readonly old: TableRows,
    readonly ids: readonly number[],
  ) {}

  /** The prefixes that a vertex of an area brings. */
  at(index: number): ByNumber {
    let known = this.atVertex[index];
    if (!known) {
      const { networks } = this.old.arrays.areas[index]!;
      const out: number[][] = [];
      for (const id of this.ids) {
        const n = networks.place[id] ?? -1;
        if (n >= 0) for (let e = networks.first[n]!; e < networks.first[n + 1]!; e++) (out[networks.vertex[e]!] ??= []).push(id);
      }
      this.atVertex[index] = known = out;
    }
    return known;
  }

  /** The prefixes of a class of what an area is told. */
  classes(imports: Imports): ByNumber {
    let known = this.ofClass.get(imports);
    if (!known) {
      const out: number[][] = [];
      for (const id of this.ids) {
        const k = imports.classAt(id);
        if (k >= 0) (out[k] ??= []).push(id);
      }
      this.ofClass.set(imports, (known = out));
    }
    return known;
  }
}

/** What is watched, laid beside a later state whose prefixes and hops have the same numbers. */
export class WatchedSince {
  private readonly networks: (readonly number[] | undefined)[] = [];
  private readonly told = new Map<Imports, Map<Imports, readonly number[]>>();

  constructor(
    private readonly watched: WatchedInside,
    private readonly now: TableRows,
  ) {}

  /** Watched prefixes to which a router may have another route now, some of them more than once; `undefined`: that cannot be told. */
  moved(a: Speaker, b: Speaker): readonly number[] | undefined {
    const { old, ids } = this.watched;
    const { now } = this;
    const [x, y] = [old.chooserOf(a), now.chooserOf(b)];
    if (!x || !y) {
      if (x || y) return undefined;
      const [before, then] = [old.arrays.whole(a), now.arrays.whole(b)];
      if (before === then) return none;
      if (!sameList(before.own, then.own)) return undefined;
      const [f, g] = [old.finderOf(a), now.finderOf(b)];
      return ids.filter((id) => !sameWay(f(id), g(id)));
    }
    if (x === y) return none;
    if (x.roots.length !== y.roots.length || x.reads.index !== y.reads.index || !sameList(x.inside?.own, y.inside?.own)) return undefined;
    let out: number[] | undefined;
    const add = (list: readonly number[] | undefined): void => {
      if (list && list.length > 0) (out ??= []).push(...list);
    };
    for (const [i, r] of x.roots.entries()) {
      const q = y.roots[i]!;
      if (r.index !== q.index || r.root !== q.root || r.distance.length !== q.distance.length) return undefined;
      if (r !== q) this.addMovedVertices(r, q, add);
      add(this.movedNetworks(r.index));
    }
    if (x.imports !== y.imports) add(this.movedTold(x.imports, y.imports));
    if (x.choice !== y.choice) {
      const classes = this.watched.classes(x.imports);
      const [c, d] = [x.choice, y.choice];
      const n = Math.min(c.cost.length, d.cost.length);
      for (let k = 0; k < n; k++) if (c.cost[k] !== d.cost[k] || c.hops[k] !== d.hops[k]) add(classes[k]);
    }
    return out ?? none;
  }

  private addMovedVertices(r: RootRows, q: RootRows, add: (list: readonly number[] | undefined) => void): void {
    const at = this.watched.at(r.index);
    const { distance, hops } = r;
    for (let v = 0; v < distance.length; v++) if (distance[v] !== q.distance[v] || hops[v] !== q.hops[v]) add(at[v]);
  }

  private movedNetworks(index: number): readonly number[] {
    const [a, b] = [this.watched.old.arrays.areas[index]!.networks, this.now.arrays.areas[index]!.networks];
    return (this.networks[index] ??= movedOffers(a, b, this.watched.ids));
  }

  private movedTold(a: Imports, b: Imports): readonly number[] {
    let known = this.told.get(a);
    if (!known) this.told.set(a, (known = new Map<Imports, readonly number[]>()));
    let list = known.get(b);
    if (list === undefined) known.set(b, (list = movedTellings(a, b, this.watched.ids)));
    return list;
  }
}

const sameList = (a: readonly number[] | undefined, b: readonly number[] | undefined): boolean =>
  a === b || (a?.length === b?.length && (a?.every((x, i) => x === b?.[i]) ?? false));
