import type { Speaker } from '../adjacency/speakers';
import { backbone, type Area, type AreaRange } from '../design/design';
import type { AreaDatabase } from '../lsdb/area-database';
import { linkStateIds, lsInfinity, type SummaryLsa } from '../lsdb/lsa';
import { boundarySummaries, mayEnter, rangeCost, summaryPasses, type SummarySubject } from '../lsdb/summary-lsa';
import type { RouterPath } from '../routes/route';
import type { HopList } from '../spf/shortest-path-tree';
import { noWay } from './area-rows';
import type { Chooser } from './choosers';
import { intraArea, type InternalArrays } from './internal-rows';
import { sameBut, type Packed, type Part } from './row-filling';
import { RowDraft, rowReasons, sameRow, writtenOut, type Onward, type RowEntries, type SummaryRow } from './summary-row';

/** A border router as it writes summaries: where it stands, and what it reads. */
export interface SummaryWriter {
  readonly speaker: Speaker;
  /** Databases of its areas, and of those whose summaries it reads. */
  readonly areas: readonly AreaDatabase[];
  readonly reads: readonly AreaDatabase[];
  readonly hopList: HopList;
  areaOf(areaId: number): Area;
  isTransit(areaId: number): boolean;
  boundary(): readonly RouterPath[];
}

/** How often a database changed in each respect. */
interface Versions {
  /** Types 1 and 2. */
  graph: number;
  networks: number;
  boundaries: number;
  bits: number;
}

interface Said {
  /** Sums of the versions that it was written from: these only grow. */
  readonly networksFrom: number;
  readonly boundariesFrom: number;
  readonly networks: SummaryRow;
  readonly speaker: Speaker;
  /** What the router has inside its areas, from which the row's own entries were written; `undefined` when they came from more. */
  readonly inside: Packed | undefined;
  readonly boundaries: readonly SummaryLsa[];
}

const sameBoundaries = (a: readonly SummaryLsa[], b: readonly SummaryLsa[]): boolean =>
  a.length === b.length && a.every((x, i) => x.bits === b[i]?.bits && x.metric === b[i].metric && x.id === b[i].id);

/** The row as advertisements (RFC 2328 §12.4.3), link state ids by appendix E. */
export function rowLsas(arrays: InternalArrays, row: SummaryRow): SummaryLsa[] {
  const entries = writtenOut(row);
  const networks = Array.from(entries.ids, (id) => arrays.prefixes.prefix(id));
  const ids = linkStateIds(networks);
  return networks.map((n, i): SummaryLsa => {
    const lsa = {
      type: 3 as const,
      adv: row.adv,
      id: ids[i] ?? n.bits,
      speaker: row.speaker,
      bits: n.bits,
      length: n.length,
      metric: entries.cost[i] ?? 0,
      reason: rowReasons[entries.reason[i] ?? 0] ?? 'intra-area',
      fromArea: arrays.areas[entries.from[i] ?? 0]?.database.areaId ?? backbone,
    };
    const parts = entries.parts.get(i);
    return parts ? { ...lsa, parts: parts.map((p) => arrays.prefixes.prefix(p)) } : lsa;
  });
}

/** What border routers said last into each area, and from what state of their databases; so that only news is written again. */
export class SummaryWriting {
  private readonly versions: readonly Versions[];
  /** By database, then speaker. What a state has in common with the one before is copied when it changes. */
  private readonly said: Map<number, Said>[];
  private readonly copied: Uint8Array;
  /** What all can read, in the order of the speakers. */
  private readonly published: (readonly Said[])[];
  private readonly moved = new Map<AreaDatabase, { networks: boolean; boundaries: boolean }>();
  private readonly draft: RowDraft;
  private readonly ranged: Int32Array;
  private readonly enters: Uint8Array;
  private readonly folds: Uint8Array;
  private readonly backboneIndex: number;
  /** Ways of border routers to boundary routers, by the sum of versions that they were found from. */
  private readonly boundaries = new Map<number, { readonly from: number; readonly ways: readonly RouterPath[] }>();
  /** Whole rows of border routers that read several areas, from what state they were filled. */
  private readonly whole = new Map<number, { readonly from: number; readonly rows: Packed }>();

  /** @param before  what was said in the state before; only what the touched areas move is written again */
  constructor(
    private readonly arrays: InternalArrays,
    before?: { readonly writing: SummaryWriting; readonly touched: ReadonlySet<number> },
  ) {
    this.versions = arrays.areas.map(({ database: db }) => {
      const v = before?.writing.versions[db.index] ?? { graph: 0, networks: 0, boundaries: 0, bits: 0 };
      return { ...v, graph: v.graph + (before?.touched.has(db.areaId) ? 1 : 0) };
    });
    this.said = arrays.areas.map(({ database: db }) => before?.writing.said[db.index] ?? new Map<number, Said>());
    this.copied = new Uint8Array(arrays.areas.length).fill(before ? 0 : 1);
    this.published = before?.writing.published.slice() ?? [];
    if (before) for (const { database } of arrays.areas) this.show(database);
    // One after the other writes into the same draft, whatever the state.
    const size = arrays.prefixes.size + 1;
    const spare = before && before.writing.draft.ids.length >= size ? before.writing : undefined;
    this.draft = spare?.draft ?? new RowDraft(size);
    this.ranged = spare?.ranged ?? new Int32Array(size);
    this.enters = new Uint8Array(arrays.areas.length);
    this.folds = new Uint8Array(arrays.areas.length);
    this.backboneIndex = arrays.areas.findIndex((a) => a.database.areaId === backbone);
  }

  private version(db: AreaDatabase): Versions {
    return this.versions[db.index] ?? { graph: 0, networks: 0, boundaries: 0, bits: 0 };
  }

  /** The bits of a router-LSA changed: who is a boundary router there is another question now. */
  bitsMoved(db: AreaDatabase): void {
    this.version(db).bits++;
  }

  /** Writes a border router's summaries for one area, if what it reads has changed; true when it says something new. */
  write(w: SummaryWriter, db: AreaDatabase): boolean {
    const into = w.areaOf(db.areaId);
    // Into the backbone go only prefixes from inside of areas (RFC 2328 §12.4.3): no summary has a part in them.
    const inside = db.areaId === backbone;
    let networksFrom = 0;
    let boundariesFrom = 0;
    for (const d of w.areas) {
      const v = this.version(d);
      networksFrom += v.graph;
      boundariesFrom += v.graph + v.bits;
    }
    for (const d of w.reads) {
      const v = this.version(d);
      if (!inside) networksFrom += v.networks;
      boundariesFrom += v.boundaries;
    }
    const before = this.said[db.index]?.get(w.speaker.index);
    if (before?.networksFrom === networksFrom && before.boundariesFrom === boundariesFrom) return false;
    const networks = before?.networksFrom === networksFrom ? before : this.networkRow(w, db, before, inside, networksFrom);
    const source = {
      speaker: w.speaker.index,
      routerId: w.speaker.routerId,
      areaOf: (a: number) => w.areaOf(a),
      leadsInto: (hops: readonly number[], a: number) => hops.some((h) => w.hopList.hops[h]?.port.area.id === a),
    };
    const boundaries =
      before?.boundariesFrom === boundariesFrom ? before.boundaries : boundarySummaries(source, into, this.waysOut(w, into, boundariesFrom));
    const networksMoved = !before || !sameRow(before.networks, networks.networks);
    const boundariesMoved = !before || !sameBoundaries(before.boundaries, boundaries);
    const row = networksMoved ? networks.networks : before.networks;
    this.ownSaid(db.index).set(w.speaker.index, {
      speaker: w.speaker,
      networksFrom,
      boundariesFrom,
      networks: row,
      inside: networks.inside,
      boundaries,
    });
    if (networksMoved) this.pending(db).networks = true;
    if (boundariesMoved) this.pending(db).boundaries = true;
    return networksMoved || boundariesMoved;
  }

  private ownSaid(index: number): Map<number, Said> {
    let own = this.said[index];
    if (own && this.copied[index] === 1) return own;
    own = new Map(own);
    this.said[index] = own;
    this.copied[index] = 1;
    return own;
  }

  private pending(db: AreaDatabase): { networks: boolean; boundaries: boolean } {
    const known = this.moved.get(db) ?? { networks: false, boundaries: false };
    this.moved.set(db, known);
    return known;
  }

  /** Ways of a border router to boundary routers, found once for all areas into which it writes in the same state; none where types 4 do not go. */
  private waysOut(w: SummaryWriter, into: Area, from: number): readonly RouterPath[] {
    if (into.type !== 'normal') return [];
    const known = this.boundaries.get(w.speaker.index);
    if (known?.from === from) return known.ways;
    const ways = w.boundary();
    this.boundaries.set(w.speaker.index, { from, ways });
    return ways;
  }

  /** All that a border router knows, where it is not a matter of classes. */
  private wholeRows(w: SummaryWriter, from: number): Packed {
    const known = this.whole.get(w.speaker.index);
    if (known?.from === from) return known.rows;
    const rows = this.arrays.filling.packed(w.speaker, false);
    this.whole.set(w.speaker.index, { from, rows });
    return rows;
  }

  /** The types 3 that a border router writes into one area (RFC 2328 §12.4.3, RFC 3101 §2.7 for NSSAs). */
  private networkRow(
    w: SummaryWriter,
    db: AreaDatabase,
    before: Said | undefined,
    insideOnly: boolean,
    from: number,
  ): { readonly networks: SummaryRow; readonly inside: Packed | undefined } {
    const into = w.areaOf(db.areaId);
    const vertex = this.arrays.areas[db.index]?.graph.vertexOfRouter.get(w.speaker.routerId) ?? -1;
    const row = (own: RowEntries, onward?: Onward): SummaryRow => {
      const made = { speaker: w.speaker.index, adv: w.speaker.routerId, vertex, own };
      return onward ? { ...made, onward } : made;
    };
    if (into.type !== 'normal' && !into.summary) return { networks: row(this.ownEntries(w, into, undefined, [])), inside: undefined };
    const outOf = this.policiesOf(w, into);
    const chooser = insideOnly ? undefined : this.arrays.choosers.of(w.speaker);
    const told = chooser?.inside && outOf.length === 0 ? this.onward(into, chooser, chooser.inside) : undefined;
    if (!insideOnly && !told) return { networks: row(this.ownEntries(w, into, this.wholeRows(w, from), outOf)), inside: undefined };
    const inside = this.arrays.choosers.inside(w.speaker);
    // What is inside of the other areas is the same, and so is what is written of it.
    const own =
      before?.inside && before.speaker === w.speaker && sameBut(before.inside, inside, db.index)
        ? before.networks.own
        : this.ownEntries(w, into, inside, outOf);
    return { networks: row(own, told), inside };
  }

  /** Policies on the way out of each area, where there are any on the way into another. */
  private policiesOf(w: SummaryWriter, into: Area): (readonly string[])[] {
    const plain = (db: AreaDatabase): boolean => w.areaOf(db.areaId).summaryOut.length === 0;
    if (into.summaryIn.length === 0 && w.areas.every(plain) && w.reads.every(plain)) return noPolicies;
    return this.arrays.areas.map((a) => w.areaOf(a.database.areaId).summaryOut);
  }

  /**
   * What a border router tells on of the backbone as classes. `undefined` where it has to be looked at one by one: where a
   * cost may come to the largest.
   */
  private onward(into: Area, chooser: Chooser, inside: Packed): Onward | undefined {
    const { imports, choice, reads } = chooser;
    const from = this.arrays.areas[reads.index]?.database.areaId;
    if (from !== backbone || into.id === backbone) return undefined;
    let dearest = 0;
    for (const c of choice.cost) if (c < noWay && c > dearest) dearest = c;
    if (dearest + imports.dearestOffset >= lsInfinity) return undefined;
    return { source: imports, from: reads.index, cost: choice.cost, except: exceptOf(inside) };
  }

  /** What stands in a row one by one, of what a border router knows. */
  private ownEntries(w: SummaryWriter, into: Area, rows: Packed | undefined, outOf: readonly (readonly string[])[]): RowEntries {
    const { draft, arrays } = this;
    const { prefixes } = arrays;
    draft.clear();
    if (rows) this.networks(w, into, rows);
    if (outOf.length > 0) {
      const { policies } = w.speaker.router;
      const subject = (i: number): SummarySubject => ({ ...prefixes.prefix(draft.ids[i] ?? 0), metric: draft.cost[i] ?? 0 });
      draft.keep((i) => summaryPasses(policies, subject(i), outOf[draft.from[i] ?? 0] ?? [], into.summaryIn));
    }
    // A default for those who get no externals: always into a stub area, into an NSSA only when it gets no summaries.
    if (into.type === 'stub' || (into.type === 'nssa' && !into.summary)) {
      const id = prefixes.id(0, 0);
      draft.keep((i) => draft.ids[i] !== id);
      draft.add(id, into.defaultCost, rowReasons.indexOf('stub-default'), this.backboneIndex);
    }
    return draft.entries(arrays.pool);
  }

  /** Networks for one area: ranges folded, everything else as it stands. */
  private networks(w: SummaryWriter, into: Area, rows: Packed): void {
    const { arrays, draft } = this;
    const folded = new Map<AreaRange, { from: number; costs: number[]; parts: number[] }>();
    const crosses = arrays.slotsOf(w.speaker).crossing((port) => port.area.id === into.id);
    const transit = w.isTransit(into.id);
    // What may enter at all, by database and kind; and where ranges fold. Backbone ranges are not applied into a
    // transit area (RFC 2328 §12.4.3).
    const { enters, folds, ranged } = this;
    for (let db = 0; db < enters.length; db++) {
      const id = arrays.areas[db]?.database.areaId ?? backbone;
      enters[db] = (mayEnter(true, id, 0, into.id) ? 1 : 0) + (mayEnter(false, id, 0, into.id) ? 2 : 0);
      folds[db] = w.areaOf(id).ranges.length > 0 && !(id === backbone && transit) ? 1 : 0;
    }
    const fold = (db: number, place: number, id: number, cost: number): void => {
      const range = w.areaOf(arrays.areas[db]?.database.areaId ?? backbone).ranges[place];
      if (!range) return;
      const f = folded.get(range) ?? { from: db, costs: [], parts: [] };
      f.costs.push(cost);
      f.parts.push(id);
      folded.set(range, f);
    };
    if (rows.parts) {
      for (const p of rows.parts) {
        const db = p.root.index;
        if (((enters[db] ?? 0) & 1) === 0) continue;
        const count = siftPart(p, db, folds[db] === 1 && p.range.length > 0, crosses, draft, ranged);
        for (let i = 0; i < count; i++) {
          const at = ranged[i] ?? 0;
          fold(db, p.range[at] ?? -1, p.ids[at] ?? 0, p.cost[at] ?? 0);
        }
      }
    } else {
      const count = sift(rows, enters, folds, crosses, draft, ranged);
      for (let i = 0; i < count; i++) {
        const at = ranged[i] ?? 0;
        fold(rows.database[at] ?? 0, rows.range[at] ?? -1, rows.ids[at] ?? 0, rows.cost[at] ?? 0);
      }
    }
    if (folded.size > 0) this.addRanges(w, folded);
  }

  /** Ranges that are announced take the place of a network of the same prefix; of two equal ranges the first stays. */
  private addRanges(w: SummaryWriter, folded: ReadonlyMap<AreaRange, { from: number; costs: number[]; parts: number[] }>): void {
    const { draft } = this;
    const asRange = rowReasons.indexOf('range');
    for (const [range, f] of folded) {
      if (!range.advertise) continue;
      const id = this.arrays.prefixes.id(range.prefix.bits, range.prefix.length);
      const cost = rangeCost(range, f.costs, w.speaker.instance.rangeCost);
      let place = draft.ids.subarray(0, draft.count).indexOf(id);
      if (place < 0) place = draft.add(id, cost, asRange, f.from);
      else if (draft.reason[place] === asRange) continue;
      else draft.set(place, id, cost, asRange, f.from);
      draft.parts.set(place, f.parts);
    }
  }

  /** Puts what was said into a database, where all can read it; border routers stand in the order of their host names. */
  publish(db: AreaDatabase): void {
    const v = this.version(db);
    const moved = this.pending(db);
    if (moved.networks) v.networks++;
    if (moved.boundaries) v.boundaries++;
    this.moved.delete(db);
    const own = [...(this.said[db.index]?.values() ?? [])].sort((a, b) => a.speaker.index - b.speaker.index);
    this.published[db.index] = own;
    this.arrays.rows[db.index] = own.map((x) => x.networks);
    this.show(db);
  }

  private show(db: AreaDatabase): void {
    const own = this.published[db.index] ?? [];
    db.publish(() => ({
      networks: own.map((x) => ({ speaker: x.speaker.index, made: () => rowLsas(this.arrays, x.networks) })),
      boundaries: new Map(own.map((x) => [x.speaker.index, x.boundaries])),
    }));
  }
}

const noPolicies: (readonly string[])[] = [];
const exceptions = new WeakMap<Packed, readonly Int32Array[]>();

/** Prefixes that a border router does not tell on, since it has them itself, or a range in force in their place. */
function exceptOf(inside: Packed): readonly Int32Array[] {
  let out = exceptions.get(inside);
  if (!out) {
    const lists = inside.parts?.map((p) => p.ids) ?? [inside.ids];
    out = inside.own.length > 0 ? [...lists, Int32Array.from(inside.own)] : lists;
    exceptions.set(inside, out);
  }
  return out;
}

/**
 * Puts what enters an area into the draft, but those that fall into a range into a list of their own, by place; gives
 * its length. Small, and of steady types: it runs over every prefix for every border router.
 *
 * @param enters  by database: 1 when its inside enters, 2 when what summaries brought does
 */
function sift(rows: Packed, enters: Uint8Array, folds: Uint8Array, crosses: (code: number) => boolean, draft: RowDraft, ranged: Int32Array): number {
  const { ids, database, kind, hops, cost, range } = rows;
  let count = 0;
  for (let i = 0; i < ids.length; i++) {
    const db = database[i] ?? 0;
    const inside = kind[i] === intraArea ? 1 : 2;
    const c = cost[i] ?? 0;
    if (((enters[db] ?? 0) & inside) === 0 || c >= lsInfinity || crosses(hops[i] ?? 0)) continue;
    if (folds[db] === 1 && (range[i] ?? -1) >= 0) ranged[count++] = i;
    else draft.add(ids[i] ?? 0, c, inside - 1, db);
  }
  return count;
}

/** The same for what a router has inside one area, which enters. */
function siftPart(part: Part, db: number, folds: boolean, crosses: (code: number) => boolean, draft: RowDraft, ranged: Int32Array): number {
  const { ids, cost, hops, range } = part;
  let count = 0;
  for (let i = 0; i < ids.length; i++) {
    const c = cost[i] ?? 0;
    if (c >= lsInfinity || crosses(hops[i] ?? 0)) continue;
    if (folds && (range[i] ?? -1) >= 0) ranged[count++] = i;
    else draft.add(ids[i] ?? 0, c, 0, db);
  }
  return count;
}
