import type { Speaker } from '../adjacency/speakers';
import { backbone, type Area } from '../design/design';
import type { AreaDatabase } from '../lsdb/area-database';
import type { SummaryLsa } from '../lsdb/lsa';
import { boundarySummaries, networkSummaries } from '../lsdb/summary-lsa';
import type { HopList } from '../spf/shortest-path-tree';
import type { RouterPath, Table } from './route';

/** A border router as it writes summaries: where it stands, what it reads, and its tables when they are needed. */
export interface SummaryWriter {
  readonly speaker: Speaker;
  /** Databases of its areas, and of those whose summaries it reads. */
  readonly areas: readonly AreaDatabase[];
  readonly reads: readonly AreaDatabase[];
  readonly hopList: HopList;
  readonly areaOf: (areaId: number) => Area;
  readonly isTransit: (areaId: number) => boolean;
  readonly table: () => Table;
  readonly boundary: () => readonly RouterPath[];
}

/** How often a database changed in each respect. */
interface Versions {
  networks: number;
  boundaries: number;
  bits: number;
}

interface Said {
  readonly networksFrom: string;
  readonly boundariesFrom: string;
  readonly networks: readonly SummaryLsa[];
  readonly boundaries: readonly SummaryLsa[];
}

const same = (a: readonly SummaryLsa[], b: readonly SummaryLsa[]): boolean =>
  a.length === b.length &&
  a.every((x, i) => {
    const y = b[i];
    return y !== undefined && x.bits === y.bits && x.length === y.length && x.metric === y.metric && x.id === y.id;
  });

/** What border routers said last into each area, and from what state of their databases; so that only news is written again. */
export class SummaryWriting {
  private readonly versions = new Map<AreaDatabase, Versions>();
  private readonly said = new Map<AreaDatabase, Map<number, Said>>();
  private tableOf: { readonly speaker: Speaker; readonly from: string; readonly table: Table } | undefined;

  private version(db: AreaDatabase): Versions {
    let v = this.versions.get(db);
    if (!v) {
      v = { networks: 0, boundaries: 0, bits: 0 };
      this.versions.set(db, v);
    }
    return v;
  }

  /** The bits of a router-LSA changed: who is a boundary router there is another question now. */
  bitsMoved(db: AreaDatabase): void {
    this.version(db).bits++;
  }

  /** Writes a border router's summaries for one area, if what it reads has changed; true when it says something new. */
  write(w: SummaryWriter, db: AreaDatabase): boolean {
    const into = w.areaOf(db.areaId);
    const read = w.reads.map((d) => this.version(d).networks).join();
    // Into the backbone go only prefixes from inside of areas (RFC 2328 §12.4.3): no summary has a part in them.
    const networksFrom = db.areaId === backbone ? 'inside' : read;
    const boundariesFrom = `${w.reads.map((d) => this.version(d).boundaries).join()} ${w.areas.map((d) => this.version(d).bits).join()}`;
    const own = this.said.get(db) ?? new Map<number, Said>();
    this.said.set(db, own);
    const before = own.get(w.speaker.index);
    if (before?.networksFrom === networksFrom && before.boundariesFrom === boundariesFrom) return false;
    const source = {
      speaker: w.speaker.index,
      routerId: w.speaker.routerId,
      instance: w.speaker.instance,
      policies: w.speaker.router.policies,
      hopList: w.hopList,
      areaOf: w.areaOf,
    };
    const networks =
      before?.networksFrom === networksFrom
        ? before.networks
        : networkSummaries({ ...source, table: this.table(w, read) }, into, w.isTransit(db.areaId));
    const boundaries = before?.boundariesFrom === boundariesFrom ? before.boundaries : boundarySummaries(source, into, w.boundary());
    const networksMoved = !before || !same(before.networks, networks);
    const boundariesMoved = !before || !same(before.boundaries, boundaries);
    own.set(w.speaker.index, { networksFrom, boundariesFrom, networks: networksMoved ? networks : before.networks, boundaries });
    if (networksMoved) this.pending(db).networks = true;
    if (boundariesMoved) this.pending(db).boundaries = true;
    return networksMoved || boundariesMoved;
  }

  private readonly moved = new Map<AreaDatabase, { networks: boolean; boundaries: boolean }>();

  private pending(db: AreaDatabase): { networks: boolean; boundaries: boolean } {
    const known = this.moved.get(db) ?? { networks: false, boundaries: false };
    this.moved.set(db, known);
    return known;
  }

  /** The router's table for the state of what it reads; a router with several areas makes it once. */
  private table(w: SummaryWriter, from: string): Table {
    if (this.tableOf?.speaker !== w.speaker || this.tableOf.from !== from) this.tableOf = { speaker: w.speaker, from, table: w.table() };
    return this.tableOf.table;
  }

  /** Puts what was said into a database, where all can read it; border routers stand in the order of their host names. */
  publish(db: AreaDatabase): void {
    const v = this.version(db);
    const moved = this.pending(db);
    if (moved.networks) v.networks++;
    if (moved.boundaries) v.boundaries++;
    this.moved.delete(db);
    const own = [...(this.said.get(db) ?? [])].sort(([a], [b]) => a - b);
    db.summaries = new Map(own.map(([speaker, x]) => [speaker, [...x.networks, ...x.boundaries]]));
  }
}
