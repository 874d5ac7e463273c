import type { DocumentPath } from '@gentle-compass/core/design/design';
import { comparePredictions, comparing, type Comparison } from '@gentle-compass/core/compare/compare';
import { applyEdits, editsBetween, memberName, valueAt, type Edit } from '@gentle-compass/core/design/edit';
import { sheetOf, type Sheet, type SheetName } from '@gentle-compass/core/sheets/sheet';
import { routeEvidence, type Origin } from '@gentle-compass/core/evidence/route-evidence';
import { transfer } from 'comlink';
import { routeChanges } from '@gentle-compass/core/compare/route-changes';
import { formatFailure, parseFailure, type FailureSpec } from '@gentle-compass/core/failures/outage';
import { cuttingEach } from '@gentle-compass/core/sweep/every-cut';
import { linkFailures } from '@gentle-compass/core/sweep/single-failures';
import { acceptEdits } from '@gentle-compass/core/findings/acceptance';
import { checkDesign, consequenceFrom, mendedBy } from '@gentle-compass/core/findings/catalogue';
import { routerDetail, type RouterDetail } from '@gentle-compass/core/evidence/router-detail';
import { valuesOf, type OriginValue } from '@gentle-compass/core/evidence/origins';
import { tableOf, writeCsv } from '@gentle-compass/core/formats/csv';
import type { CsvTable } from '@gentle-compass/core/formats/csv-tables';
import { worksheet, worksheetOf, type Worksheet } from '@gentle-compass/core/formats/worksheet';
import type { Consequence, Finding } from '@gentle-compass/core/findings/finding';
import { hideKeys, holdsKeys, redactKeys } from '@gentle-compass/core/formats/key-digest';
import { writeCompass } from '@gentle-compass/core/formats/compass-file';
import { zipDocuments, zipTexts } from '@gentle-compass/core/formats/archive';
import { documentText, type InputFile, type SourceDocument } from '@gentle-compass/core/formats/documents';
import { Positions } from '@gentle-compass/core/formats/positions';
import { designFrom, readDocuments, type ReadResult } from '@gentle-compass/core/formats/read-set';
import { generateCampus, type CampusSize } from '@gentle-compass/core/generate/generate-campus';
import { formatIpv4, formatPrefix, prefixFromKey } from '@gentle-compass/core/prefix/ipv4';
import { predict, type Prediction } from '@gentle-compass/core/predict';
import type { ExpectationResult } from '@gentle-compass/core/reach/expectations';
import type { RibRoute } from '@gentle-compass/core/routes/rib';
import { documentChanges } from '@gentle-compass/core/compare/document-changes';
import { firstBlueprint, type Blueprint } from '@gentle-compass/core/blueprint/blueprint';
import { blueprintOf } from '@gentle-compass/core/blueprint/make';
import { readEntry } from '@gentle-compass/core/entry/entry';
import { layoutMap, type MapLayout } from '../map/layout';
import { blueprintView } from './blueprint-view';
import { cellsView } from './sheet-view';
import { areaViews, countedUpTo, downPairs, lonely, pairView, routerView, routeRow, segmentView } from './views';
import type {
  BlueprintView,
  CellsView,
  ChangeSummary,
  ComparisonView,
  DesignView,
  DocumentView,
  EntryView,
  EveryCut,
  EvidenceView,
  FailureView,
  ImportOutcome,
  RouteRow,
  RouterView,
  SegmentView,
  StoredDocuments,
  Trial,
  TypedCell,
  TypedDocument,
} from '../model/view';

/** The computing side of the page: holds the open design and answers questions about it. Lives in a worker. */
export class Workbench {
  private name = '';
  private documents: readonly SourceDocument[] = [];
  private read: ReadResult = designFrom([]);
  private now: Prediction = predict(this.read.design);
  private before: { readonly now: Prediction; readonly findings: readonly Finding[] } = { now: this.now, findings: [] };
  private reference: { readonly now: Prediction; readonly documents: readonly SourceDocument[] } | undefined;
  private failed: Prediction | undefined;
  private findings: readonly Finding[] = [];
  private expectations: readonly ExpectationResult[] = [];
  private drawn: { readonly key: string; readonly map: MapLayout } | undefined;

  /** @param slice  milliseconds that a long computation takes before it listens again */
  constructor(private readonly slice = 12) {}

  /** Takes a design as it is stored. */
  open(stored: StoredDocuments): DesignView {
    this.name = stored.name;
    return this.take(stored.documents);
  }

  /** The same as text: reading a text is much quicker than copying a tree through the door. */
  openText(stored: StoredDocuments): string {
    return JSON.stringify(this.open(stored));
  }

  /** Applies edits as `edit` does; the view comes as text. Whoever asks holds the same documents and applies them too. */
  editText(edits: readonly Edit[]): string {
    return JSON.stringify(this.edit(edits).view);
  }

  /** Reads files that a user brings; the open design is not touched. */
  readFiles(files: readonly InputFile[], name: string): ImportOutcome {
    const { documents, problems, name: inside } = readDocuments(files);
    const read = designFrom(documents);
    const all = [...problems, ...read.problems];
    const outcome = { problems: all, notUsed: read.notUsed, routers: read.design.routers.length };
    if (read.design.routers.length === 0) return outcome;
    return { ...outcome, design: { name: inside ?? name, documents: read.documents } };
  }

  /** Makes a campus of a size; in words why not, when the numbers do not fit each other. */
  generate(size: CampusSize): StoredDocuments | string {
    try {
      return { name: `Campus of ${size.routers} routers`, documents: designFrom(generateCampus(size)).documents };
    } catch (e) {
      if (e instanceof RangeError) return e.message;
      throw e;
    }
  }

  /** Applies edits. What they changed in the prediction is asked for by `change`. */
  edit(edits: readonly Edit[]): { view: DesignView; documents: readonly SourceDocument[] } {
    this.before = { now: this.now, findings: this.findings };
    const view = this.take(applyEdits(this.documents, edits));
    return { view, documents: this.documents };
  }

  /** What the last edit changed in the prediction; `null` when a newer one came while it was worked out. */
  async change(): Promise<ChangeSummary | null> {
    const { before, findings } = this;
    const d = await this.sliced(comparing(before.now, this.now));
    return d ? summaryOf(d, before.findings, findings) : null;
  }

  /** Counts designs taken, and failures asked for: a long answer to an older one is given up. */
  private designs = 0;
  private wishes = 0;

  /** Works through something long in slices, so that a newer question is heard in between; `undefined` when one came. */
  private async sliced<T>(steps: Generator<undefined, T>, turn: () => number = () => this.designs): Promise<T | undefined> {
    const mine = turn();
    let until = performance.now() + this.slice;
    for (;;) {
      const step = steps.next();
      if (step.done) return step.value;
      if (performance.now() < until) continue;
      await new Promise((go) => setTimeout(go, 0));
      if (mine !== turn()) return undefined;
      until = performance.now() + this.slice;
    }
  }

  private take(documents: readonly SourceDocument[]): DesignView {
    const start = performance.now();
    this.designs++;
    this.documents = documents;
    this.read = designFrom(documents);
    this.now = this.now.edited(this.read.design);
    this.failed = undefined;
    // Expectations are looked at in the network as it is; every failure of each would hold up the page.
    const { findings, expectations } = checkDesign(this.now, documents, { withConsequences: false, underFailures: false });
    this.findings = findings;
    this.expectations = expectations;
    const milliseconds = performance.now() - start;
    return this.view(findings, milliseconds);
  }

  private view(findings: readonly Finding[], milliseconds: number): DesignView {
    const p = this.now;
    const routers = p.design.routers.map((_, i) => routerView(p, i));
    const segments = p.segments.list.filter((s) => s.members.length > 1).map((s) => segmentView(p, s.index));
    return {
      name: this.name,
      routers,
      segments,
      pairs: p.adjacencies.pairs.map((x) => pairView(p, x, findings)),
      areas: areaViews(p),
      findings,
      expectations: this.expectations.map(({ name, under, holds, message }) => ({ name, under, holds, message })),
      layout: this.layout(routers, segments),
      places: p.design.settings.places,
      routeCount: routers.length > countedUpTo ? null : routers.reduce((n, r) => n + (r.routes ?? 0), 0),
      milliseconds,
    };
  }

  /** The map, laid out anew only when a router, its areas or a link came or went. */
  private layout(routers: readonly RouterView[], segments: readonly SegmentView[]): MapLayout {
    const input = {
      routers: routers.map((r) => ({ name: r.name, areas: r.areas })),
      links: segments.map((s) => ({ id: s.index, members: s.members.map((m) => m.router), lan: s.kind === 'lan' })),
      places: Object.fromEntries(this.now.design.settings.places.flatMap((m) => (m.folded ? [] : [[m.name, { x: m.x, y: m.y }]]))),
    };
    const key = JSON.stringify(input);
    if (this.drawn?.key !== key) this.drawn = { key, map: layoutMap(input) };
    return this.drawn.map;
  }

  /** A router's own table; with a failure in force, what it changed is marked and lost routes stand in it. */
  table(router: string, compared: boolean): RouteRow[] {
    const index = this.now.routerIndex(router);
    if (index < 0) return [];
    const p = compared ? (this.failed ?? this.now) : this.now;
    const rows = p.rib(index).map((r) => routeRow(p, r));
    // A failure is held against the network as it is; without one, that against what it is compared with.
    const base = this.failed ? this.now : this.reference?.now;
    if (!compared || !base) return rows;
    const changes = comparePredictions(base, p).routers.find((r) => r.router === router);
    const byKey = new Map(changes?.routes.map((c) => [c.key, c]));
    const hopWords = (r: RibRoute | undefined): string => {
      if (!r) return '';
      const row = routeRow(base, r);
      return `${row.metric ?? ''} via ${row.hops.map((h) => h.router || h.iface).join(', ') || 'nothing'}`;
    };
    const marked = rows.map((row): RouteRow => {
      const c = byKey.get(row.key);
      return c ? { ...row, change: c.change, before: hopWords(c.before) } : row;
    });
    const lost = (changes?.routes ?? [])
      .filter((c) => c.change === 'lost' && c.before)
      .map((c): RouteRow => ({ ...routeRow(base, c.before as RibRoute), hops: [], change: 'lost', before: hopWords(c.before) }));
    return [...marked, ...lost].sort((a, b) => a.key - b.key);
  }

  /** What "now" is compared with from here on; `null`: nothing. */
  compareWith(documents: readonly SourceDocument[] | null): void {
    this.reference = documents ? { now: this.now.edited(designFrom(documents).design), documents } : undefined;
  }

  /** "Now" against what it is compared with: lines, neighbours, areas and routes; `null` without, or when a newer state came. */
  async comparison(): Promise<ComparisonView | null> {
    const { reference, now, documents } = this;
    if (!reference) return null;
    const d = await this.sliced(comparing(reference.now, now));
    if (!d) return null;
    const before = checkDesign(reference.now, reference.documents, { withConsequences: false, underFailures: false }).findings;
    const of = (p: Prediction): Map<string, string> =>
      new Map(areaViews(p).map((a) => [a.id, `${a.type}, ${a.routers.length} routers${a.prefix ? `, ${a.prefix}` : ''}`]));
    const [old, current] = [of(reference.now), of(now)];
    return {
      lines: documentChanges(reference.documents, documents),
      neighbors: d.neighbors.map(({ router, iface, peer, before: was, after }) => ({ router, iface, peer, before: was, after })),
      areas: [...new Set([...old.keys(), ...current.keys()])]
        .map((id) => ({ id, before: old.get(id) ?? 'not there', after: current.get(id) ?? 'not there' }))
        .filter((a) => a.before !== a.after),
      routers: d.routers.map((r) => ({ router: r.router, gone: r.gone, ...routeCounts(r) })),
      lost: d.lost,
      gained: d.gained,
      changed: d.changed,
      findingsGone: missing(before, this.findings).map((f) => f.message),
      findingsNew: missing(this.findings, before).map((f) => f.message),
    };
  }

  /** Reads a line of quick entry; nothing is changed. */
  entry(line: string, selected: readonly string[]): EntryView {
    const { plan, ...rest } = readEntry(line, this.documents, selected);
    if (!plan) return rest;
    return { ...rest, plan: { ...plan, lines: documentChanges(this.documents, applyEdits(this.documents, plan.edits)) } };
  }

  /** The blueprint that the design was made from, without what was given out; without one, a first one. */
  blueprint(): { blueprint: Blueprint; made: boolean } {
    const known = blueprintOf(this.documents);
    if (!known) return { blueprint: firstBlueprint, made: false };
    const { supernet, core, shape, exits, coreCost, uplinkCost, hello, growth, areas } = known;
    return { blueprint: { supernet, core, shape, exits, coreCost, uplinkCost, hello, growth, areas }, made: true };
  }

  /** What a typed blueprint would lay out and change; nothing is changed. */
  planBlueprint(typed: unknown): BlueprintView {
    return blueprintView(typed, this.documents);
  }

  /** A table of the design as it stands. */
  sheet(name: SheetName): Sheet {
    return sheetOf(name, this.now);
  }

  /** What values typed into cells of a table would do; nothing is changed. */
  cells(name: SheetName, cells: readonly TypedCell[]): CellsView {
    return cellsView(name, cells, this.now, this.documents);
  }

  private trials = 0;

  /** What edits would change in the prediction; `null` when another trial or a newer state came meanwhile. */
  async tryEdits(edits: readonly Edit[]): Promise<Trial | null> {
    this.trials++;
    const turn = (): number => this.designs + this.trials;
    const mine = turn();
    await new Promise((go) => setTimeout(go, 0));
    if (mine !== turn()) return null;
    const documents = applyEdits(this.documents, edits);
    const after = this.now.edited(designFrom(documents).design);
    const d = await this.sliced(comparing(this.now, after), turn);
    if (!d) return null;
    const { findings } = checkDesign(after, documents, { withConsequences: false, underFailures: false });
    return { ...summaryOf(d, this.findings, findings), found: missing(findings, this.findings).slice(0, 5) };
  }

  /** A document as text with the lines that findings point at. */
  documentView(file: string): DocumentView | null {
    const d = this.documents.find((x) => x.file === file);
    if (!d) return null;
    const marks = this.findings.flatMap((f) =>
      f.accepted
        ? []
        : f.where.flatMap((w) =>
            w.file === file && w.line !== undefined ? [{ line: w.line, severity: f.severity, message: f.message, finding: f.id }] : [],
          ),
    );
    return { file, text: documentText(d), marks };
  }

  /** Reads a document's text as it was typed: refused with place and reason, or what it would change as edits. */
  typedDocument(file: string, text: string): TypedDocument {
    const { documents: parsed, problems } = readDocuments([{ name: file, content: text }]);
    const typed = parsed[0];
    const faults = problems.filter((p) => p.severity === 'error');
    if (!typed || faults.length > 0) return { problems: faults, edits: [] };
    const others = this.documents.map((d) => (d.file === file ? typed : d));
    const known = new Set(this.read.problems.map((p) => `${p.file} ${p.path} ${p.message}`));
    const read = designFrom(others);
    const fresh = read.problems.filter((p) => p.severity === 'error' && !known.has(`${p.file} ${p.path} ${p.message}`));
    if (fresh.length > 0) return { problems: fresh, edits: [] };
    return { problems: [], edits: editsBetween(this.documents, others) };
  }

  /** Why a router has a route, with the lines of the documents that it rests on. */
  evidence(router: string, key: number, compared: boolean): EvidenceView | null {
    const p = compared ? (this.failed ?? this.now) : this.now;
    const e = routeEvidence(p, p.routerIndex(router), key);
    if (!e) return null;
    const lines = e.steps.flatMap((s) => (s.kind === 'advertisement' ? this.linesOf(s.origin) : []));
    return { ...e, lines };
  }

  /** The lines of a router document that an advertisement stands on. */
  private linesOf(origin: Origin): EvidenceView['lines'] {
    const router = this.now.design.routers.find((r) => r.name === origin.router);
    const document = this.documents.find((d) => d.file === router?.file);
    const instance = router?.instances.find((o) => o.version === 2);
    const entry = instance?.areas.find((a) => formatIpv4(a.id) === origin.area);
    const below = (name: string): DocumentPath | undefined =>
      instance && document ? [...instance.at, memberName(document.tree, instance.at, name)] : undefined;
    const at = {
      interface: instance?.areas.flatMap((a) => a.interfaces).find((i) => i.name === origin.iface)?.at,
      ranges: entry && [...entry.at, 'ranges'],
      area: entry?.at,
      redistribution: below('redistribution'),
      default: below('default-route'),
      none: undefined,
    }[origin.node];
    if (!document || !router || !at || at.length === 0) return [];
    const place = new Positions(document).at(at);
    if (!place) return [];
    const shown = JSON.stringify(valueAt(document.tree, at), (k, v: unknown) => (k === 'interfaces' ? undefined : hideKeys(k, v)), 1).split('\n');
    return [
      {
        router: router.name,
        file: router.file,
        text: shown.length > 14 ? [...shown.slice(0, 13), ' …'].join('\n') : shown.join('\n'),
        line: place.line,
      },
    ];
  }

  /** The network with things down, in the order given: each state is computed from the one before. */
  private stateWith(failures: readonly FailureSpec[]): Prediction {
    const key = failures.map(formatFailure).join(' ');
    if (this.down?.from !== this.now || this.down.key !== key)
      this.down = { from: this.now, key, state: failures.reduce((p, f) => p.fail(f), this.now) };
    return this.down.state;
  }

  private down: { readonly from: Prediction; readonly key: string; readonly state: Prediction } | undefined;

  /**
   * What a failure does at a glance, for designs whose tables are too many to lay side by side at once: how many routes of
   * which routers are other ones. What cannot be reached any more is counted by `fail`. `null` for small designs.
   */
  glance(words: readonly string[]): FailureView | null {
    if (words.length === 0 || this.now.design.routers.length <= countedUpTo) return null;
    const start = performance.now();
    const good = words.map(parseFailure).flatMap((s) => (typeof s === 'string' ? [] : [s]));
    const after = this.stateWith(good);
    const goneRouters = this.now.design.routers.flatMap((r, i) => (after.outage.routers.has(i) && !this.now.outage.routers.has(i) ? [r.name] : []));
    const routers = goneRouters.map((router) => ({ router, gone: true, lost: 0, gained: 0, changed: 0, unreachable: 0 }));
    for (const { speaker, count } of routeChanges(this.now, after))
      if (count.lost + count.gained + count.changed > 0) routers.push({ router: speaker.router.name, gone: false, ...count, unreachable: 0 });
    const sum = (of: 'lost' | 'gained' | 'changed'): number => routers.reduce((n, r) => n + r[of], 0);
    return {
      fail: good.map(formatFailure),
      problems: after.problems,
      neighborsLost: [],
      routers: routers.sort((a, b) => (a.router < b.router ? -1 : 1)),
      lost: sum('lost'),
      gained: sum('gained'),
      changed: sum('changed'),
      unreachable: 0,
      unreachablePrefixes: [],
      vanished: [],
      downPairs: downPairs(this.now, after),
      goneRouters,
      milliseconds: performance.now() - start,
      unfinished: true,
    };
  }

  /**
   * Tries every single link, in slices; `report` hears how far it is. `null` when the design changed or `stopCuts` was called.
   * The numbers come as arrays that are handed over, not copied.
   */
  async everyCut(report: (done: number, of: number) => void): Promise<EveryCut | null> {
    const turn = ++this.cuts;
    const mine = this.designs;
    const of = linkFailures(this.now).length;
    let told = 0;
    const steps = cuttingEach(this.now);
    for (let until = performance.now() + this.slice; ;) {
      const step = steps.next();
      if (step.done) {
        const { failures, routers, lost, changed } = step.value;
        return transfer({ words: failures.map(formatFailure), routers, lost, changed }, [routers.buffer, lost.buffer, changed.buffer]);
      }
      if (performance.now() < until) continue;
      if (performance.now() - told > 100) {
        told = performance.now();
        report(step.value, of);
      }
      await new Promise((go) => setTimeout(go, 0));
      if (turn !== this.cuts || mine !== this.designs) return null;
      until = performance.now() + this.slice;
    }
  }

  private cuts = 0;

  /** Ends a trial of every link. */
  stopCuts(): void {
    this.cuts++;
  }

  /** Takes things down, in the order given, and says what is lost; `null` when a newer wish came meanwhile. An empty list restores everything. */
  async fail(words: readonly string[]): Promise<FailureView | null> {
    const start = performance.now();
    this.wishes++;
    const specs = words.map(parseFailure);
    const good = specs.flatMap((s) => (typeof s === 'string' ? [] : [s]));
    const after = this.stateWith(good);
    this.failed = good.length > 0 ? after : undefined;
    const d = await this.sliced(comparing(this.now, after), () => this.designs + this.wishes);
    if (!d) return null;
    const stood = (s: string): boolean => s === 'full' || s === '2-way';
    return {
      fail: good.map(formatFailure),
      problems: [...specs.flatMap((s) => (typeof s === 'string' ? [s] : [])), ...after.problems],
      neighborsLost: d.neighbors
        .filter((n) => stood(n.before) && !stood(n.after))
        .map(({ router, iface, peer, before, after: now }) => ({ router, iface, peer, before, after: now })),
      routers: d.routers.map((r) => ({
        router: r.router,
        gone: r.gone,
        lost: r.routes.filter((x) => x.change === 'lost').length,
        gained: r.routes.filter((x) => x.change === 'gained').length,
        changed: r.routes.filter((x) => x.change === 'changed').length,
        unreachable: r.routes.filter((x) => x.unreachable).length,
      })),
      lost: d.lost,
      gained: d.gained,
      changed: d.changed,
      unreachable: d.unreachable,
      unreachablePrefixes: lonely(d),
      vanished: [...new Set(d.routers.flatMap((r) => r.routes.flatMap((c) => (c.vanished ? [c.key] : []))))]
        .sort((a, b) => a - b)
        .map((k) => formatPrefix(prefixFromKey(k))),
      downPairs: downPairs(this.now, after),
      goneRouters: d.routers.filter((r) => r.gone).map((r) => r.router),
      milliseconds: performance.now() - start,
    };
  }

  /** What a finding costs now: by predicting again with its first repair. Asked for one by one, so that nothing waits. */
  async consequence(id: string): Promise<Consequence | null> {
    const edits = this.findings.find((f) => f.id === id && f.severity !== 'note')?.repairs[0]?.edits;
    if (!edits) return null;
    const d = await this.sliced(comparing(mendedBy(this.now, this.documents, edits), this.now));
    return d ? consequenceFrom(d) : null;
  }

  /** Edits that accept a finding with a note; without a note they take its acceptance back. */
  acceptance(id: string, note?: string): Edit[] {
    const finding = this.findings.find((f) => f.id === id);
    return finding ? acceptEdits(this.documents, finding, note) : [];
  }

  /** Every value that holds in a router, with its origin. */
  values(router: string): OriginValue[] {
    return valuesOf(this.now, this.now.routerIndex(router));
  }

  /** Who a router is, and what it brings in. */
  routerDetail(router: string): RouterDetail {
    return routerDetail(this.now, this.now.routerIndex(router));
  }

  /** A table as CSV. */
  csv(table: CsvTable): string {
    return writeCsv(tableOf(table, this.now, this.findings));
  }

  /** What to set on one router. */
  worksheetOf(router: string): Worksheet | null {
    return worksheetOf(this.now, this.now.routerIndex(router)) ?? null;
  }

  /** What to set on each router, as an archive of pages. */
  worksheets(): Uint8Array {
    return zipTexts(
      this.now.design.routers.map((r, i) => ({ name: `${r.name.replace(/[^\w.-]/g, '_').replace(/^\.+/, '_')}.md`, text: worksheet(this.now, i) })),
    );
  }

  /** True when an export would show authentication keys. */
  holdsKeys(): boolean {
    return holdsKeys(this.documents);
  }

  /** The router documents as an archive. Keys are left out as digests unless asked for in the clear. */
  exportZip(keys: 'digests' | 'clear', salt: string): Uint8Array {
    return zipDocuments(keys === 'clear' ? this.documents : redactKeys(this.documents, salt));
  }

  exportCompass(keys: 'digests' | 'clear', salt: string): string {
    return writeCompass({ name: this.name, documents: keys === 'clear' ? this.documents : redactKeys(this.documents, salt) });
  }

  /** One router's document as text. */
  documentOf(router: string): string {
    const file = this.read.design.routers.find((r) => r.name === router)?.file;
    const d = this.documents.find((x) => x.file === file);
    return d ? documentText(d) : '';
  }
}

const routeCounts = (r: Comparison['routers'][number]): { lost: number; gained: number; changed: number } => {
  const of = (change: 'lost' | 'gained' | 'changed'): number => r.routes.filter((x) => x.change === change).length;
  return { lost: of('lost'), gained: of('gained'), changed: of('changed') };
};

/** Findings of one list that the other does not have; accepted ones aside. */
function missing(from: readonly Finding[], other: readonly Finding[]): Finding[] {
  const ids = new Set(other.flatMap((f) => (f.accepted ? [] : [f.id])));
  return from.filter((f) => !f.accepted && !ids.has(f.id));
}

/** What lies between two states, in numbers. */
function summaryOf(d: Comparison, before: readonly Finding[], after: readonly Finding[]): ChangeSummary {
  const full = (s: string): boolean => s === 'full' || s === '2-way';
  return {
    neighborsGained: d.neighbors.filter((n) => full(n.after) && !full(n.before)).length,
    neighborsLost: d.neighbors.filter((n) => full(n.before) && !full(n.after)).length,
    gained: d.gained,
    lost: d.lost,
    changed: d.changed,
    routers: d.routers.length,
    findingsGone: missing(before, after).length,
    findingsNew: missing(after, before).length,
  };
}
