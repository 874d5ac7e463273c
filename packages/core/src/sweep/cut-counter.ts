import type { Speaker } from '../adjacency/speakers';
import { noWay } from '../dense/area-rows';
import { chooseNearest } from '../dense/offers';
import type { Imports } from '../dense/told';
import type { FailureSpec } from '../failures/outage';
import type { Prediction } from '../predict';
import { AreaCut } from './area-cut';
import type { AreaGround } from './area-ground';
import type { BorderTelling } from './border-telling';
import { CutBoundaries } from './cut-boundaries';
import { CutExternals } from './cut-externals';
import { CutField, type Seated } from './cut-field';
import { otherHops, type Tally } from './moves';
import { Removals, type Removal } from './removal';
import { TellingOn } from './telling-on';

/** What one cut changes in the OSPF routes of all routers. */
export interface CutCount {
  /** Routers with at least one other route. */
  readonly routers: number;
  readonly lost: number;
  /** Routes that are other ones, or new. */
  readonly changed: number;
}

/** Routes of all routers that are other ones, while a cut is looked at. */
class Totals implements Tally {
  private readonly stamp: Int32Array;
  private clock = 0;
  lost = 0;
  changed = 0;
  readonly hit: number[] = [];

  constructor(speakers: number) {
    this.stamp = new Int32Array(speakers);
  }

  clear(): void {
    this.clock++;
    this.lost = this.changed = this.hit.length = 0;
  }

  add(speaker: number, lost: number, changed: number): void {
    if (lost + changed === 0) return;
    this.lost += lost;
    this.changed += changed;
    if (this.stamp[speaker] === this.clock) return;
    this.stamp[speaker] = this.clock;
    this.hit.push(speaker);
  }
}

/**
 * Counts what a single cut changes in every table without computing the state after it: distances of the cut area are
 * patched, what its border routers tell is compared, and only what moved travels on. Gives the same numbers as laying two
 * whole predictions side by side; where a cut does more than move distances it says nothing, and others compute.
 */
export class CutCounter {
  private readonly removals: Removals;
  private readonly totals: Totals;
  private readonly cuts: (AreaCut | undefined)[] = [];
  private readonly tellingOn: TellingOn;
  private readonly externals: CutExternals;
  /** By prefix: in how many areas it stands, the ranges of an area counted as one more. */
  private readonly owned: Uint8Array;
  private readonly columns: Int32Array;
  private looked = new Int32Array(0);
  private clock = 0;

  private constructor(
    private readonly field: CutField,
    boundaries: CutBoundaries,
  ) {
    const { arrays, p, seated } = field;
    this.removals = new Removals(p);
    this.totals = new Totals(seated.length);
    this.tellingOn = new TellingOn(field);
    this.columns = new Int32Array(Math.max(0, ...arrays.areas.map((a) => a.distances.size)));
    this.owned = new Uint8Array(arrays.prefixes.size);
    for (const { networks } of arrays.areas) for (const id of networks.ids) this.own(id);
    for (const ids of rangesByArea(field).values()) for (const id of ids) this.own(id);
    const insideToo = (id: number): boolean => this.owned[id]! > 0 || arrays.areas.some((_, i) => field.imports(i).find(id) !== undefined);
    this.externals = new CutExternals(field, boundaries, insideToo);
  }

  private own(id: number): void {
    this.owned[id] = Math.min(255, this.owned[id]! + 1);
  }

  /** A counter for the cuts of a state; `undefined` where something in it looks back, so that a cut may move more than distances. */
  static over(p: Prediction): CutCounter | undefined {
    const field = CutField.over(p);
    return field && new CutCounter(field, new CutBoundaries(field));
  }

  /** What a link failure changes; `undefined` where it does more than move distances. */
  count(failure: FailureSpec): CutCount | undefined {
    const removal = this.removals.of(failure);
    if (!removal) return undefined;
    this.totals.clear();
    if (removal.area >= 0 && !this.look(removal)) return undefined;
    const { hit, lost, changed } = this.totals;
    return { routers: hit.length, lost, changed };
  }

  private look(removal: Removal): boolean {
    const { area } = removal;
    const ground = this.field.ground(area);
    const cut = (this.cuts[area] ??= new AreaCut(ground));
    const { cost } = ground.networks;
    try {
      cut.run(removal.edges);
      for (const e of removal.entries) cost[e] = noWay;
      return this.lookAt(area, cut, ground.losing(removal.entries));
    } finally {
      cut.undo();
      for (const e of removal.entries) cost[e] = ground.area.networks.cost[e]!;
      for (const m of this.field.moves) m.clear();
      this.externals.undo();
    }
  }

  private lookAt(area: number, cut: AreaCut, removed: readonly number[]): boolean {
    const { field, externals } = this;
    const telling = field.telling(area);
    const { ids } = field.arrays.areas[area]?.networks ?? { ids: new Int32Array(0) };
    if (field.imports(area).insideToo.length > 0 || !this.staysWhole(area, cut, telling)) return false;
    if (removed.some((n) => this.isOdd(ids[n] ?? -1)) || !telling.find(cut, removed)) return false;
    if (telling.items.some((i) => this.isOdd(i.id))) return false;
    const inBackbone = area === field.backboneAt;
    if (inBackbone) {
      const choices = new Map<number, Int32Array>();
      this.countClasses(area, cut, choices);
      if (!this.tellingOn.fromBackbone(telling, choices)) return false;
    } else if (!this.tellingOn.fromArea(area, telling)) return false;
    else this.countClasses(area, cut);
    this.countNetworks(area, cut, removed);
    for (let t = 0; t < field.moves.length; t++) {
      const moves = field.moves[t];
      if (!moves || moves.count === 0) continue;
      if (field.imports(t).insideToo.length > 0) return false;
      const { size, distance, hops } = field.ground(t);
      moves.tallyFor(field.readers(t), size, distance, hops, this.totals);
    }
    return externals.count(area, cut, this.totals);
  }

  /** A prefix that stands in several places, or that externals announce as well. */
  private isOdd(id: number): boolean {
    return this.owned[id]! !== 1 || this.externals.alsoInside.has(id);
  }

  /** Whether the border routers of a cut area still reach one another, and whoever is cut off holds nothing that others decide by. */
  private staysWhole(area: number, cut: AreaCut, telling: BorderTelling): boolean {
    const ground = this.field.ground(area);
    const { size, distance, before } = ground;
    const from = telling.borders[0]?.vertex ?? 0;
    const apart = (v: number): boolean => distance[v * size + from]! >= noWay && before[v * size + from]! < noWay;
    if (!cut.touched.some(apart)) return true;
    if (telling.borders.some((b) => apart(b.vertex))) return false;
    const someone = ground.speakers.find((s) => s !== undefined);
    const { areaId } = ground.area;
    return someone !== undefined && this.field.p.fast.areaOf(someone, areaId).type !== 'nssa' && this.externals.alsoInside.size === 0;
  }

  /** Networks inside the cut area. */
  private countNetworks(area: number, cut: AreaCut, removed: readonly number[]): void {
    const ground = this.field.ground(area);
    const { networks } = ground.area;
    const goneAlone = removed.flatMap((n) => {
      const first = networks.first[n]!;
      return networks.first[n + 1]! - first === 1 ? [networks.vertex[first]!] : [];
    });
    if (this.looked.length < networks.ids.length) this.looked = new Int32Array(networks.ids.length);
    for (const r of cut.touched) this.countBeside(ground, cut, r, removed, goneAlone);
    for (const net of removed)
      for (let r = 0; r < ground.routers; r++) {
        const s = ground.speakers[r];
        const what = s ? this.networkAt(ground, r, net, s) : 'same';
        if (s && what !== 'same') this.totals.add(s.index, what === 'lost' ? 1 : 0, what === 'lost' ? 0 : 1);
      }
  }

  /** Networks of the vertices to which a router's ways moved, but for those that lost one who brings them. */
  private countBeside(ground: AreaGround, cut: AreaCut, r: number, gone: readonly number[], goneAlone: readonly number[]): void {
    const { size, distance, hops, before, hopsBefore, alone, shares, other, ownCost, otherCost } = ground;
    const [s, slots] = [ground.speakers[r], ground.slots[r]];
    if (!s || !slots) return;
    const limit = s.instance.paths;
    const row = r * size;
    let lost = 0;
    let changed = 0;
    this.clock++;
    const n = cut.columnsOf(r, this.columns);
    for (let c = 0; c < n; c++) {
      const x = this.columns[c]!;
      const end = shares.first[x + 1]!;
      for (let k = shares.first[x]!; k < end; k++) {
        const net = shares.items[k]!;
        if (this.looked[net] === this.clock || gone.includes(net)) continue;
        this.looked[net] = this.clock;
        const y = other[k] ?? -1;
        if (y >= 0 && y !== r && !slots.wide) {
          // The usual case, a cable between two others, at one glance.
          const [cx, cy] = [ownCost[k]!, otherCost[k]!];
          const [a, b] = [before[row + x]! + cx, before[row + y]! + cy];
          const [c, d] = [distance[row + x]! + cx, distance[row + y]! + cy];
          const had = a < b ? a : b;
          const has = c < d ? c : d;
          if (has >= noWay) {
            if (had < noWay) lost++;
            continue;
          }
          const old = (a === had ? hopsBefore[row + x]! : 0) | (b === had ? hopsBefore[row + y]! : 0);
          const now = (c === has ? hops[row + x]! : 0) | (d === has ? hops[row + y]! : 0);
          if (had !== has || (old !== now && otherHops(slots, limit, old, now))) changed++;
          continue;
        }
        const what = this.networkAt(ground, r, net, s);
        if (what === 'lost') lost++;
        else if (what === 'changed') changed++;
      }
      let own = alone[x]!;
      for (const v of goneAlone) if (v === x) own--;
      if (own === 0) continue;
      const cell = row + x;
      if (distance[cell]! >= noWay) lost += own;
      else if (distance[cell] !== before[cell] || otherHops(slots, limit, hopsBefore[cell]!, hops[cell]!)) changed += own;
    }
    this.totals.add(s.index, lost, changed);
  }

  /** What becomes of a router's route to one network of the cut area. */
  private networkAt(ground: AreaGround, router: number, network: number, s: Speaker): 'lost' | 'changed' | 'same' {
    const slots = ground.slots[router];
    if (!slots) return 'same';
    const [had, has] = [ground.wayBefore(router, network), ground.wayNow(router, network)];
    if (!has) return had ? 'lost' : 'same';
    return had?.cost !== has.cost || otherHops(slots, s.instance.paths, had.hops, has.hops) ? 'changed' : 'same';
  }

  /**
   * What routers of the cut area choose otherwise of what they are told as before.
   *
   * @param choices  is filled with the costs that border routers choose now, by process, where any is another one
   */
  private countClasses(area: number, cut: AreaCut, choices?: Map<number, Int32Array>): void {
    const { field } = this;
    const imports = field.imports(area);
    if (imports.classCount === 0) return;
    const ground = field.ground(area);
    const tells = new Uint8Array(ground.size);
    for (const r of imports.rows) tells[r.vertex] = 1;
    const counts = this.unmoved(area, imports);
    const now = { cost: new Int32Array(imports.classCount), hops: new Int32Array(imports.classCount) };
    for (const { speaker, vertex, choice, slots, limit } of field.readers(area).list) {
      const s = field.seated[speaker];
      if (!s || !cut.movesTo(vertex, tells, 1)) continue;
      chooseNearest(imports.vectors, 0, imports.classCount, ground.rowsNow(vertex), slots, now, 0);
      const own = s.border ? this.ownClasses(s, imports) : undefined;
      let [lost, changed, dearer] = [0, 0, false];
      for (let k = 0; k < imports.classCount; k++) {
        const had = choice.cost[k]!;
        if (had >= noWay) continue;
        const n = counts[k]! - (own?.[k] ?? 0);
        const has = now.cost[k]!;
        dearer ||= has !== had;
        if (has >= noWay) lost += n;
        else if (had !== has || otherHops(slots, limit, choice.hops[k]!, now.hops[k]!)) changed += n;
      }
      if (dearer && s.border) choices?.set(speaker, now.cost.slice());
      this.totals.add(speaker, lost, changed);
    }
  }

  /** Entries of each class that are told as before. */
  private unmoved(area: number, imports: Imports): Int32Array {
    const moves = this.field.moves[area];
    if (!moves || moves.count === 0) return imports.counts;
    const counts = imports.counts.slice();
    for (let m = 0; m < moves.count; m++) {
      const k = moves.classOf[m] ?? -1;
      if (k >= 0) counts[k] = counts[k]! - moves.entries[m]!;
    }
    return counts;
  }

  private readonly owns: (Int32Array | undefined)[] = [];

  /** How many prefixes of each class a border router does not read, since it has them itself. */
  private ownClasses(s: Seated, imports: Imports): Int32Array {
    let own = this.owns[s.speaker.index];
    if (!own) {
      own = new Int32Array(imports.classCount);
      const inside = this.field.arrays.choosers.of(s.speaker)?.inside;
      for (const id of new Set([...(inside?.list.ids ?? []), ...(inside?.own ?? [])])) {
        const as = imports.find(id);
        if (as) own[as.class] = own[as.class]! + 1;
      }
      this.owns[s.speaker.index] = own;
    }
    return own;
  }
}

/** Prefixes of the ranges that border routers have for each area. */
function rangesByArea({ seated, arrays }: CutField): Map<number, Set<number>> {
  const out = new Map<number, Set<number>>();
  for (const { speaker, border } of seated)
    for (const a of border ? speaker.instance.areas : []) {
      const ids = out.get(a.id) ?? new Set<number>();
      out.set(a.id, ids);
      for (const r of a.ranges) ids.add(arrays.prefixes.id(r.prefix.bits, r.prefix.length));
    }
  return out;
}
