import type { Speaker } from '../adjacency/speakers';
import { backbone, type Area, type AreaRange } from '../design/design';
import type { AreaDatabase } from '../lsdb/area-database';
import { linkStateIds, lsInfinity, type SummaryLsa } from '../lsdb/lsa';
import { boundarySummaries, mayEnter, rangeCost, rangeFor, summaryPasses, type SummarySubject } from '../lsdb/summary-lsa';
import type { RouterPath } from '../routes/route';
import type { HopList } from '../spf/shortest-path-tree';
import { noWay } from './area-rows';
import { interArea, intraArea, type InternalArrays, type InternalRows } from './internal-rows';
import { patchedRow } from './row-delta';
import { RowDraft, rowReasons, sameRow, type SummaryRow } from './summary-row';

/** A border router as it writes summaries: where it stands, and what it reads. */
export interface SummaryWriter {
  readonly speaker: Speaker;
  /** Databases of its areas, and of those whose summaries it reads. */
  readonly areas: readonly AreaDatabase[];
  readonly reads: readonly AreaDatabase[];
  readonly hopList: HopList;
  readonly areaOf: (areaId: number) => Area;
  readonly isTransit: (areaId: number) => boolean;
  readonly boundary: () => readonly RouterPath[];
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
  /** Versions of the router's own areas. */
  readonly graphs: string;
  readonly networksFrom: string;
  readonly boundariesFrom: string;
  readonly networks: SummaryRow;
  /** The rows that they were written from. */
  readonly rows: InternalRows | undefined;
  readonly boundaries: readonly SummaryLsa[];
}

const sameBoundaries = (a: readonly SummaryLsa[], b: readonly SummaryLsa[]): boolean =>
  a.length === b.length && a.every((x, i) => x.bits === b[i]?.bits && x.metric === b[i].metric && x.id === b[i].id);

/** The row as advertisements (RFC 2328 §12.4.3), link state ids by appendix E. */
export function rowLsas(arrays: InternalArrays, row: SummaryRow): SummaryLsa[] {
  const networks = Array.from(row.ids, (id) => arrays.prefixes.prefix(id));
  const ids = linkStateIds(networks);
  return networks.map((n, i): SummaryLsa => {
    const lsa = {
      type: 3 as const,
      adv: row.adv,
      id: ids[i] ?? n.bits,
      speaker: row.speaker,
      bits: n.bits,
      length: n.length,
      metric: row.cost[i] ?? 0,
      reason: rowReasons[row.reason[i] ?? 0] ?? 'intra-area',
      fromArea: arrays.areas[row.from[i] ?? 0]?.database.areaId ?? backbone,
    };
    const parts = row.parts.get(i);
    return parts ? { ...lsa, parts: parts.map((p) => arrays.prefixes.prefix(p)) } : lsa;
  });
}

/** What border routers said last into each area, and from what state of their databases; so that only news is written again. */
export class SummaryWriting {
  private readonly versions: readonly Versions[];
  private readonly said: readonly Map<number, Said>[];
  private readonly moved = new Map<AreaDatabase, { networks: boolean; boundaries: boolean }>();
  private readonly before: SummaryWriting | undefined;
  private readonly draft: RowDraft;
  private readonly ranged: Int32Array;
  private readonly backboneIndex: number;
  private readonly rows: InternalRows;
  private insideOf: Speaker | undefined;
  private readonly whole: Map<number, { readonly graphs: string; readonly from: string; readonly rows: InternalRows }>;

  /** @param before  what was said in the state before; only what the touched areas move is written again */
  constructor(
    private readonly arrays: InternalArrays,
    before?: { readonly writing: SummaryWriting; readonly touched: ReadonlySet<number> },
  ) {
    this.before = before?.writing;
    this.versions = arrays.areas.map(({ database: db }) => {
      const v = before?.writing.versions[db.index] ?? { graph: 0, networks: 0, boundaries: 0, bits: 0 };
      return { ...v, graph: v.graph + (before?.touched.has(db.areaId) ? 1 : 0) };
    });
    this.said = arrays.areas.map(({ database: db }) => new Map(before?.writing.said[db.index]));
    this.whole = new Map(before?.writing.whole);
    if (before) for (const { database } of arrays.areas) this.show(database);
    this.rows = arrays.emptyRows();
    this.draft = new RowDraft(arrays.prefixes.size + 1);
    this.ranged = new Int32Array(arrays.prefixes.size);
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
    const graphs = w.areas.map((d) => this.version(d).graph).join();
    const networksFrom = inside ? `inside ${graphs}` : this.readFrom(w);
    const boundariesFrom = `${w.reads.map((d) => this.version(d).boundaries).join()} ${w.areas.map((d) => this.version(d).bits).join()} ${graphs}`;
    const own = this.said[db.index] ?? new Map<number, Said>();
    const before = own.get(w.speaker.index);
    if (before?.networksFrom === networksFrom && before.boundariesFrom === boundariesFrom) return false;
    let networks = before?.networks;
    let rows = before?.rows;
    if (!networks || before?.networksFrom !== networksFrom) {
      rows = into.type === 'normal' || into.summary ? this.rowsFor(w, inside, networksFrom) : undefined;
      networks = this.patchedRow(before, rows, graphs) ?? this.networkRow(w, db, into, rows);
    }
    const source = { speaker: w.speaker.index, routerId: w.speaker.routerId, hopList: w.hopList, areaOf: w.areaOf };
    const boundaries = before?.boundariesFrom === boundariesFrom ? before.boundaries : boundarySummaries(source, into, w.boundary());
    const networksMoved = !before || !sameRow(before.networks, networks);
    const boundariesMoved = !before || !sameBoundaries(before.boundaries, boundaries);
    own.set(w.speaker.index, { graphs, networksFrom, boundariesFrom, networks: networksMoved ? networks : before.networks, rows, boundaries });
    if (networksMoved) this.pending(db).networks = true;
    if (boundariesMoved) this.pending(db).boundaries = true;
    return networksMoved || boundariesMoved;
  }

  private pending(db: AreaDatabase): { networks: boolean; boundaries: boolean } {
    const known = this.moved.get(db) ?? { networks: false, boundaries: false };
    this.moved.set(db, known);
    return known;
  }

  private readFrom(w: SummaryWriter): string {
    return `${w.areas.map((d) => this.version(d).graph).join()} ${w.reads.map((d) => this.version(d).networks).join()}`;
  }

  /** The router's rows for the state of what it reads; a router with several areas fills them once. */
  private rowsFor(w: SummaryWriter, inside: boolean, from: string): InternalRows {
    if (inside) {
      if (this.insideOf !== w.speaker) this.arrays.fill(this.rows, w.speaker, true);
      this.insideOf = w.speaker;
      return this.rows;
    }
    const known = this.whole.get(w.speaker.index);
    if (known?.from === from) return known.rows;
    // Never into rows that are there already: the state before may look at them.
    const graphs = w.areas.map((d) => this.version(d).graph).join();
    // From the state before as it came to rest, not from one on the way here.
    const rested = this.before?.whole.get(w.speaker.index);
    const current = rested?.graphs === graphs && rested.from === this.before?.readFrom(w);
    let rows = rested && current ? this.arrays.patched(rested.rows, w.speaker) : undefined;
    if (!rows) {
      rows = this.arrays.emptyRows();
      this.arrays.fill(rows, w.speaker, false);
    }
    this.whole.set(w.speaker.index, { graphs, from, rows });
    return rows;
  }

  /** A border router's whole rows as things stand. */
  current(w: SummaryWriter): InternalRows {
    return this.rowsFor(w, false, this.readFrom(w));
  }

  /** The row before, where only few prefixes moved that the router was told of by others; `undefined` where that does not do. */
  private patchedRow(before: Said | undefined, rows: InternalRows | undefined, graphs: string): SummaryRow | undefined {
    if (!before || !rows?.patch || before.graphs !== graphs || before.rows !== rows.patch.from) return undefined;
    const told = rowReasons.indexOf('inter-area');
    return patchedRow(before.networks, rows.patch.ids, (id) => (rows.kind[id] === interArea ? (rows.cost[id] ?? noWay) : noWay), told);
  }

  /** The types 3 that a border router writes into one area (RFC 2328 §12.4.3, RFC 3101 §2.7 for NSSAs). */
  private networkRow(w: SummaryWriter, db: AreaDatabase, into: Area, rows: InternalRows | undefined): SummaryRow {
    const { draft, arrays } = this;
    const { prefixes } = arrays;
    draft.clear();
    if (rows) this.networks(w, into, rows);
    const outOf = arrays.areas.map((a) => w.areaOf(a.database.areaId).summaryOut);
    if (into.summaryIn.length > 0 || outOf.some((names) => names.length > 0)) {
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
    const vertex = arrays.areas[db.index]?.graph.vertexOfRouter.get(w.speaker.routerId) ?? -1;
    return draft.row(w.speaker.index, w.speaker.routerId, vertex);
  }

  /** Networks for one area: ranges folded, everything else as it stands. */
  private networks(w: SummaryWriter, into: Area, rows: InternalRows): void {
    const { arrays, draft } = this;
    const folded = new Map<AreaRange, { from: number; costs: number[]; parts: number[] }>();
    const crosses = arrays.slotsOf(w.speaker).crossing((port) => port.area.id === into.id);
    const areas = arrays.areas.map((a) => w.areaOf(a.database.areaId));
    const transit = w.isTransit(into.id);
    // What may enter at all, by database and kind; and where ranges fold. Backbone ranges are not applied into a
    // transit area (RFC 2328 §12.4.3).
    const enters = Uint8Array.from(areas, (a) => (mayEnter(true, a.id, 0, into.id) ? 1 : 0) + (mayEnter(false, a.id, 0, into.id) ? 2 : 0));
    const folds = Uint8Array.from(areas, (a) => (a.ranges.length > 0 && !(a.id === backbone && transit) ? 1 : 0));
    const ranged = this.ranged;
    const count = sift(rows, enters, folds, crosses, draft, ranged);
    for (let i = 0; i < count; i++) {
      const id = ranged[i] ?? 0;
      const db = rows.database[id] ?? 0;
      const from = areas[db];
      const range = from && rangeFor(from, arrays.prefixes.prefix(id));
      const cost = rows.cost[id] ?? 0;
      if (!range) {
        draft.add(id, cost, 0, db);
        continue;
      }
      const f = folded.get(range) ?? { from: db, costs: [], parts: [] };
      f.costs.push(cost);
      f.parts.push(id);
      folded.set(range, f);
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
    this.show(db);
  }

  private show(db: AreaDatabase): void {
    const own = [...(this.said[db.index] ?? [])].sort(([a], [b]) => a - b);
    this.arrays.rows[db.index] = own.map(([, x]) => x.networks);
    db.publish(
      own.map(([speaker, x]) => ({ speaker, made: () => rowLsas(this.arrays, x.networks) })),
      new Map(own.map(([speaker, x]) => [speaker, x.boundaries])),
    );
  }
}

/**
 * Puts what enters an area into the draft, but those that may fall into a range into a list of their own; gives its
 * length. Small, and of steady types: it runs over every prefix for every border router.
 *
 * @param enters  by database: 1 when its inside enters, 2 when what summaries brought does
 */
function sift(
  rows: InternalRows,
  enters: Uint8Array,
  folds: Uint8Array,
  crosses: (code: number) => boolean,
  draft: RowDraft,
  ranged: Int32Array,
): number {
  const { touched, database, kind, hops, cost, filled } = rows;
  let count = 0;
  for (let i = 0; i < filled; i++) {
    const id = touched[i] ?? 0;
    const db = database[id] ?? 0;
    const inside = kind[id] === intraArea ? 1 : 2;
    const c = cost[id] ?? 0;
    if (((enters[db] ?? 0) & inside) === 0 || c >= lsInfinity || crosses(hops[id] ?? 0)) continue;
    if (inside === 1 && folds[db] === 1) ranged[count++] = id;
    else draft.add(id, c, inside - 1, db);
  }
  return count;
}
