import type { Speaker } from '../adjacency/speakers';
import { backbone, type Area, type AreaRange } from '../design/design';
import type { AreaDatabase } from '../lsdb/area-database';
import type { Domain } from '../lsdb/domain';
import { linkStateIds, lsInfinity, type SummaryLsa } from '../lsdb/lsa';
import { getsDefault, mayEnter, rangeCost, summaryPasses, type SummarySubject } from '../lsdb/summary-lsa';
import { everything } from '../prefix/address';
import { noWay, type Part } from './area-rows';
import type { Boundaries } from './boundaries';
import type { Chooser } from './choosers';
import { intraArea, sameBut, type Columns, type Packed } from './inside';
import type { InternalArrays } from './internal-arrays';
import { RowDraft, sameRow } from './summary-row';
import { rowReasons, writtenOut, type Onward, type RowEntries, type SummaryRow } from './told';

/** A row with what its own entries were written from. */
interface Said {
  readonly speaker: Speaker;
  readonly row: SummaryRow;
  /** What the router has inside its areas, or all that it knows. */
  readonly from: Packed | undefined;
}

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
      metric: entries.cost[i]!,
      reason: rowReasons[entries.reason[i]!] ?? 'intra-area',
      fromArea: arrays.areas[entries.from[i]!]?.areaId ?? backbone,
    };
    const parts = entries.parts.get(i);
    return parts ? { ...lsa, parts: parts.map((p) => arrays.prefixes.prefix(p)) } : lsa;
  });
}

/** What border routers say into each area: types 3 as rows, types 4 as costs. Of a state before only what moved is written again. */
export class SummaryWriting {
  /** By database, then speaker. */
  private readonly said: Map<number, Said>[];
  private readonly domain: Domain;
  private readonly draft: RowDraft;
  private readonly ranged: Int32Array;
  private readonly enters: Uint8Array;
  private readonly folds: Uint8Array;
  private readonly backboneIndex: number;

  constructor(
    private readonly arrays: InternalArrays,
    private readonly boundaries: Boundaries,
    before?: SummaryWriting,
  ) {
    this.domain = arrays.domain;
    this.said = arrays.areas.map((_, i) => new Map(before?.said[i]));
    // One after the other writes into the same draft, whatever the state.
    const size = arrays.prefixes.size + 1;
    const spare = before && before.draft.ids.length >= size ? before : undefined;
    this.draft = spare?.draft ?? new RowDraft(size);
    this.ranged = spare?.ranged ?? new Int32Array(size);
    this.enters = new Uint8Array(arrays.areas.length);
    this.folds = new Uint8Array(arrays.areas.length);
    this.backboneIndex = arrays.areas.findIndex((a) => a.areaId === backbone);
    for (const db of this.domain.databases) this.show(db);
  }

  /** Writes what all border routers say into some areas, from what stands now; true when anything is new. */
  write(into: (areaId: number) => boolean): boolean {
    const news = this.domain.databases.map(() => false);
    const tellers: Speaker[][] = this.domain.databases.map(() => []);
    for (const s of this.domain.borderRouters)
      for (const a of this.domain.areasOf(s)) {
        const db = into(a) ? this.domain.database(s, a) : undefined;
        if (!db) continue;
        tellers[db.index]!.push(s);
        if (this.writeOne(s, db)) news[db.index] = true;
      }
    // All read what stood before: nothing is put in before everybody has written.
    const costs = tellers.map((list, index) => list.map((s) => this.boundaries.write(s, index)));
    let any = false;
    tellers.forEach((list, index) => {
      if (list.length === 0) return;
      if (news[index]) this.arrays.rows[index] = list.flatMap((s) => this.said[index]!.get(s.index)?.row ?? []);
      const moved = this.boundaries.publish(index, costs[index]!);
      if (news[index] || moved) this.show(this.domain.databases[index]!);
      any ||= news[index]! || moved;
    });
    return any;
  }

  /** Writes one border router's types 3 for one area; true when it says something new. */
  private writeOne(s: Speaker, db: AreaDatabase): boolean {
    const before = this.said[db.index]!.get(s.index);
    const now = this.rowOf(s, db, before);
    if (now === before) return false;
    const same = before !== undefined && sameRow(before.row, now.row);
    this.said[db.index]!.set(s.index, same ? { ...now, row: before.row } : now);
    return !same;
  }

  /** The types 3 that a border router writes into one area (RFC 2328 §12.4.3, RFC 3101 §2.7 for NSSAs). */
  private rowOf(s: Speaker, db: AreaDatabase, before: Said | undefined): Said {
    const { arrays } = this;
    const into = this.domain.areaOf(s, db.areaId);
    const vertex = arrays.areas[db.index]!.graph.vertexOfRouter.get(s.routerId) ?? -1;
    const said = (from: Packed | undefined, onward?: Onward): Said => {
      if (before?.speaker === s && before.from === from && before.row.onward === onward && before.row.vertex === vertex) return before;
      const outOf = this.policiesOf(s, into);
      // What is inside of the other areas is the same, and so is what is written of it.
      const again = before?.speaker === s && (from && before.from ? sameBut(before.from, from, db.index) : from === before.from);
      const own = again ? before.row.own : this.ownEntries(s, into, from, outOf);
      const row = { speaker: s.index, adv: s.routerId, vertex, own };
      return { speaker: s, row: onward ? { ...row, onward } : row, from };
    };
    if (into.type !== 'normal' && !into.summary) return said(undefined);
    // Into the backbone go only prefixes from inside of areas (RFC 2328 §12.4.3): no summary has a part in them.
    if (db.areaId === backbone) return said(arrays.inside(s));
    const chooser = arrays.choosers.of(s);
    const told =
      chooser?.inside && this.policiesOf(s, into).length === 0 ? this.onward(into, chooser, chooser.inside, before?.row.onward) : undefined;
    return told ? said(arrays.inside(s), told) : said(arrays.whole(s));
  }

  /** Policies on the way out of each area, where there are any on the way into another. */
  private policiesOf(s: Speaker, into: Area): (readonly string[])[] {
    if (into.summaryIn.length === 0 && s.instance.areas.every((a) => a.summaryOut.length === 0)) return noPolicies;
    return this.arrays.areas.map((a) => this.domain.areaOf(s, a.areaId).summaryOut);
  }

  /**
   * What a border router tells on of the backbone as classes. `undefined` where it has to be looked at one by one: where a
   * cost may come to the largest.
   */
  private onward(into: Area, { imports, choice, reads }: Chooser, inside: Packed, before: Onward | undefined): Onward | undefined {
    if (this.arrays.areas[reads.index]!.areaId !== backbone || into.id === backbone) return undefined;
    const except = inside.taken;
    if (before?.source === imports && before.cost === choice.cost && before.except === except) return before;
    let dearest = 0;
    for (const c of choice.cost) if (c < noWay && c > dearest) dearest = c;
    if (dearest + imports.dearestOffset >= lsInfinity) return undefined;
    return { source: imports, from: reads.index, cost: choice.cost, except };
  }

  /** What stands in a row one by one, of what a border router knows. */
  private ownEntries(s: Speaker, into: Area, rows: Packed | undefined, outOf: readonly (readonly string[])[]): RowEntries {
    const { draft, arrays } = this;
    const { prefixes } = arrays;
    draft.clear();
    if (rows) this.networks(s, into, rows);
    if (outOf.length > 0) {
      const { policies } = s.router;
      const subject = (i: number): SummarySubject => ({ ...prefixes.prefix(draft.ids[i]!), metric: draft.cost[i]! });
      draft.keep((i) => summaryPasses(policies, subject(i), outOf[draft.from[i]!] ?? [], into.summaryIn));
    }
    if (getsDefault(into)) {
      const id = prefixes.id(everything(this.domain.six).bits, 0);
      draft.keep((i) => draft.ids[i] !== id);
      draft.add(id, into.defaultCost, rowReasons.indexOf('stub-default'), this.backboneIndex);
    }
    return draft.entries(arrays.pool);
  }

  /** Networks for one area: ranges folded, everything else as it stands. */
  private networks(s: Speaker, into: Area, rows: Packed): void {
    const { arrays, draft, enters, folds, ranged } = this;
    const folded = new Map<AreaRange, { from: number; costs: number[]; parts: number[] }>();
    const crosses = arrays.slotsOf(s).crossing((port) => port.area.id === into.id);
    const transit = this.domain.isTransit(s, into.id);
    const settings = arrays.areas.map((a) => this.domain.areaOf(s, a.areaId));
    // What may enter at all, by database and kind; and where ranges fold. Backbone ranges are not applied into a
    // transit area (RFC 2328 §12.4.3).
    settings.forEach(({ id, ranges }, db) => {
      enters[db] = (mayEnter(true, id, 0, into.id) ? 1 : 0) + (mayEnter(false, id, 0, into.id) ? 2 : 0);
      folds[db] = ranges.length > 0 && !(id === backbone && transit) ? 1 : 0;
    });
    const fold = (db: number, place: number, id: number, cost: number): void => {
      const range = settings[db]!.ranges[place];
      if (!range) return;
      const f = folded.get(range) ?? { from: db, costs: [], parts: [] };
      f.costs.push(cost);
      f.parts.push(id);
      folded.set(range, f);
    };
    for (const p of rows.parts ?? []) {
      const db = p.root.index;
      if ((enters[db]! & 1) === 0) continue;
      const count = siftPart(p, db, folds[db] === 1 && p.range.length > 0, crosses, draft, ranged);
      for (let i = 0; i < count; i++) fold(db, p.range[ranged[i]!]!, p.ids[ranged[i]!]!, p.cost[ranged[i]!]!);
    }
    if (!rows.parts) {
      const { list } = rows;
      const count = sift(list, enters, folds, crosses, draft, ranged);
      for (let i = 0; i < count; i++) fold(list.database[ranged[i]!]!, list.range[ranged[i]!]!, list.ids[ranged[i]!]!, list.cost[ranged[i]!]!);
    }
    if (folded.size > 0) this.addRanges(s, folded);
  }

  /** Ranges that are announced take the place of a network of the same prefix; of two equal ranges the first stays. */
  private addRanges(s: Speaker, folded: ReadonlyMap<AreaRange, { from: number; costs: number[]; parts: number[] }>): void {
    const { draft } = this;
    const asRange = rowReasons.indexOf('range');
    for (const [range, f] of folded) {
      if (!range.advertise) continue;
      const id = this.arrays.prefixes.id(range.prefix.bits, range.prefix.length);
      const cost = rangeCost(range, f.costs, s.instance.rangeCost);
      let place = draft.ids.subarray(0, draft.count).indexOf(id);
      if (place < 0) place = draft.add(id, cost, asRange, f.from);
      else if (draft.reason[place] === asRange) continue;
      else draft.set(place, id, cost, asRange, f.from);
      draft.parts.set(place, f.parts);
    }
  }

  /** Puts what is said into a database, where all can read it; it is written out when somebody looks at it. */
  private show(db: AreaDatabase): void {
    const rows = this.arrays.rows[db.index]!;
    const costs = this.boundaries.rowsOf(db.index);
    db.publish(() => ({
      networks: rows.map((r) => ({ speaker: r.speaker, made: () => rowLsas(this.arrays, r) })),
      boundaries: new Map(costs.map((r) => [r.speaker, this.boundaries.lsas(r)])),
    }));
  }
}

const noPolicies: (readonly string[])[] = [];

/**
 * Puts what enters an area into the draft, but those that fall into a range into a list of their own, by place; gives
 * its length. Small, and of steady types: it runs over every prefix for every border router.
 *
 * @param enters  by database: 1 when its inside enters, 2 when what summaries brought does
 */
function sift(rows: Columns, enters: Uint8Array, folds: Uint8Array, crosses: (code: number) => boolean, draft: RowDraft, ranged: Int32Array): number {
  const { ids, database, kind, hops, cost, range } = rows;
  let count = 0;
  for (let i = 0; i < ids.length; i++) {
    const db = database[i]!;
    const inside = kind[i] === intraArea ? 1 : 2;
    const c = cost[i]!;
    if ((enters[db]! & inside) === 0 || c >= lsInfinity || crosses(hops[i]!)) continue;
    if (folds[db] === 1 && (range[i] ?? -1) >= 0) ranged[count++] = i;
    else draft.add(ids[i]!, c, inside - 1, db);
  }
  return count;
}

/** The same for what a router has inside one area, which enters. */
function siftPart(part: Part, db: number, folds: boolean, crosses: (code: number) => boolean, draft: RowDraft, ranged: Int32Array): number {
  const { ids, cost, hops, range } = part;
  let count = 0;
  for (let i = 0; i < ids.length; i++) {
    const c = cost[i]!;
    if (c >= lsInfinity || crosses(hops[i]!)) continue;
    if (folds && (range[i] ?? -1) >= 0) ranged[count++] = i;
    else draft.add(ids[i]!, c, 0, db);
  }
  return count;
}
