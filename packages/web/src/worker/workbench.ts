import type { DocumentPath } from '@gentle-compass/core/design/design';
import { comparePredictions, comparing, type Comparison } from '@gentle-compass/core/compare/compare';
import { applyEdits, editsBetween, memberName, valueAt, type Edit } from '@gentle-compass/core/design/edit';
import { sheetOf, type Sheet, type SheetName } from '@gentle-compass/core/sheets/sheet';
import { facingValues, type FacingValue } from '@gentle-compass/core/evidence/neighbor-words';
import { routeEvidence, type Origin } from '@gentle-compass/core/evidence/route-evidence';
import { transfer } from 'comlink';
import {} from '@gentle-compass/core/failures/outage';
import { acceptEdits } from '@gentle-compass/core/findings/acceptance';
import { checkDesign, consequenceOf, mendingAll } from '@gentle-compass/core/findings/catalogue';
import { routerDetail, type RouterDetail } from '@gentle-compass/core/evidence/router-detail';
import { valuesOf, type OriginValue } from '@gentle-compass/core/evidence/origins';
import { tableOf, writeCsv } from '@gentle-compass/core/reports/csv';
import type { CsvTable } from '@gentle-compass/core/reports/csv-tables';
import { worksheet, worksheetOf, type Worksheet } from '@gentle-compass/core/reports/worksheet';
import type { Consequence, Finding } from '@gentle-compass/core/findings/finding';
import { hideKeys, holdsKeys, redactKeys } from '@gentle-compass/core/documents/key-digest';
import { writeCompass } from '@gentle-compass/core/documents/compass-file';
import { zipDocuments, zipTexts } from '@gentle-compass/core/documents/archive';
import { documentText, type InputFile, type SourceDocument } from '@gentle-compass/core/documents/documents';
import { Positions } from '@gentle-compass/core/documents/positions';
import { designFrom, readDocuments, type ReadResult } from '@gentle-compass/core/formats/read-set';
import { generateCampus, type CampusSize } from '@gentle-compass/core/generate/generate-campus';
import { formatIpv4, parseTypedPrefix } from '@gentle-compass/core/prefix/ipv4';
import { prefixId } from '@gentle-compass/core/prefix/prefix-book';
import { predict, type Prediction } from '@gentle-compass/core/predict';
import { Forwarding } from '@gentle-compass/core/reach/forwarding';
import { judging, type ExpectationResult } from '@gentle-compass/core/reach/expectations';
import type { RibRoute } from '@gentle-compass/core/routes/rib';
import { documentChanges } from '@gentle-compass/core/compare/document-changes';
import { firstBlueprint, type Blueprint } from '@gentle-compass/core/blueprint/blueprint';
import { blueprintOf } from '@gentle-compass/core/blueprint/make';
import { readEntry } from '@gentle-compass/core/entry/entry';
import { foldsAbove, wholeInput } from '../map/fold';
import { layoutMap, type LayoutInput, type MapLayout } from '../map/layout';
import { blueprintView } from './blueprint-view';
import { cellsView } from './sheet-view';
import { patchBetween } from '../model/view-patch';
import { Failing, failureView, failuresNamed } from './failing';
import { ViewMaking } from './view-making';
import { areaViews, countedUpTo, electionViews, inOrder, pairIdOf, routeRow } from './views';
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
  Glimpse,
  ImportOutcome,
  RouteRow,
  RouterView,
  SegmentView,
  StoredDocuments,
  Trial,
  TypedCell,
  TypedDocument,
} from '../model/view';

/** Documents, and what they were read and predicted to. */
interface Made {
  readonly documents: readonly SourceDocument[];
  readonly read: ReadResult;
  readonly now: Prediction;
  readonly milliseconds: number;
}

/** Edits that were tried: on which documents, and what is known of what they lead to. */
interface Tried extends Made {
  readonly from: readonly SourceDocument[];
  /** The edits as text. */
  readonly edits: string;
  check?: ReturnType<typeof checkDesign>;
}

/** The checks without what takes long: expectations are looked at in the network as it is, not under every failure. */
const quickCheck = (p: Prediction, documents: readonly SourceDocument[]): ReturnType<typeof checkDesign> =>
  checkDesign(p, documents, { withConsequences: false, underFailures: false });

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
  /** The same before expectations were tried in failures: what states are compared by, of which most were never tried so. */
  private quick: readonly Finding[] = [];
  private expectations: readonly ExpectationResult[] = [];
  private drawn: { readonly key: string; readonly map: MapLayout } | undefined;

  /** @param slice  milliseconds that a long computation takes before it listens again */
  constructor(private readonly slice = 12) {}

  /** Takes a design as it is stored. */
  open(stored: StoredDocuments): DesignView {
    this.name = stored.name;
    this.take(this.made(stored.documents));
    return this.whole();
  }

  /** The same as text: reading a text is much quicker than copying a tree through the door. */
  openText(stored: StoredDocuments): string {
    return JSON.stringify(this.open(stored));
  }

  private readonly making = new ViewMaking();
  private shown: DesignView | undefined;

  /**
   * Applies edits and predicts; what they changed in the view that was given last comes as text, a `ViewPatch`. Whoever
   * asks holds the same documents and applies them too. Findings are those of before, until `foundText` is asked.
   */
  editText(edits: readonly Edit[]): string {
    this.before = { now: this.now, findings: this.quick };
    this.take(this.madeBy(edits));
    return this.patch();
  }

  /** What the checks find in the state that the last edit led to: what that changes in the view, as text. */
  foundText(): string {
    this.check();
    return this.patch();
  }

  /**
   * Tries every expectation in the failures that it must outlive, in slices; what that changes in the view, as text. `null` where
   * nothing is to be tried, or a newer design came meanwhile.
   */
  async judgedText(): Promise<string | null> {
    this.check();
    const { now, documents } = this;
    const { expectations } = now.design.settings;
    if (this.judged === now || expectations.every((e) => e.under === 'normal')) return null;
    const judged = await this.sliced(judging(new Forwarding(now), expectations));
    if (!judged) return null;
    this.judged = now;
    this.findings = checkDesign(now, documents, { withConsequences: false, judged }).findings;
    this.expectations = judged;
    return this.patch();
  }

  /** The state whose expectations were tried in every failure. */
  private judged: Prediction | undefined;

  /** What changed in the view since it was given last. Findings are those of the last check. */
  private patch(): string {
    const before = this.shown ?? this.view(0);
    this.shown = this.view(this.taken);
    return JSON.stringify(patchBetween(before, this.shown));
  }

  /** Reads files that a user brings; the open design is not touched. */
  readFiles(files: readonly InputFile[], name: string): ImportOutcome {
    const { documents, problems, name: inside } = readDocuments(files);
    const read = designFrom(documents, { clock: Date.now() });
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
    this.check();
    this.before = { now: this.now, findings: this.quick };
    this.take(this.madeBy(edits));
    return { view: this.whole(), documents: this.documents };
  }

  /** What the last edit changed in the prediction; `null` when a newer one came while it was worked out. */
  async change(): Promise<ChangeSummary | null> {
    const { before } = this;
    const d = await this.sliced(comparing(before.now, this.now));
    if (!d) return null;
    this.check();
    return summaryOf(d, before.findings, this.quick);
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

  /** Reads documents and predicts, from the state as it is. */
  private made(documents: readonly SourceDocument[]): Made {
    const start = performance.now();
    const read = designFrom(documents, { clock: Date.now() });
    return { documents, read, now: this.now.edited(read.design), milliseconds: performance.now() - start };
  }

  /** The same after edits; what was tried just before is not made again. */
  private madeBy(edits: readonly Edit[]): Made {
    const { tried } = this;
    if (tried?.from === this.documents && tried.edits === JSON.stringify(edits)) return tried;
    return this.made(applyEdits(this.documents, edits));
  }

  /** What was made becomes the design. */
  private take(made: Made): void {
    const { documents, read, now, milliseconds } = made;
    this.designs++;
    // Nothing of an older design is held on to; the checks of what was tried are still asked for.
    if (made !== this.tried) this.tried = undefined;
    this.heard = undefined;
    this.documents = documents;
    this.read = read;
    this.now = now;
    this.failed = undefined;
    this.taken = milliseconds;
  }

  /** What was tried last: mostly it is what comes next. */
  private tried: Tried | undefined;

  /** Milliseconds that reading and predicting took last. */
  private taken = 0;
  private checked: Prediction | undefined;

  /** Runs the checks on the present state, once. */
  private check(): void {
    if (this.checked === this.now) return;
    this.checked = this.now;
    const known = this.tried?.now === this.now ? this.tried.check : undefined;
    const { findings, expectations } = known ?? quickCheck(this.now, this.documents);
    this.findings = this.quick = findings;
    this.expectations = expectations;
  }

  /** The view with its findings. */
  private whole(): DesignView {
    this.check();
    this.shown = this.view(this.taken);
    return this.shown;
  }

  private view(milliseconds: number): DesignView {
    const { findings } = this;
    const p = this.now;
    const routers = this.making.routers(p);
    const { segments } = this.making;
    return {
      name: this.name,
      routers,
      segments,
      pairs: this.making.pairsOf(p, findings),
      areas: areaViews(p),
      findings,
      expectations: this.expectations.map(({ name, under, holds, message }) => ({
        name,
        under,
        holds,
        message,
        untried: holds && under !== 'normal' && this.judged !== p,
      })),
      layout: this.layout(routers, segments),
      places: p.design.settings.places,
      routeCount: routers.length > countedUpTo ? null : routers.reduce((n, r) => n + (r.routes ?? 0), 0),
      milliseconds,
    };
  }

  /** The map, laid out anew only when a router, its areas or a link came or went. */
  private layout(routers: readonly RouterView[], segments: readonly SegmentView[]): MapLayout | null {
    if (routers.length > foldsAbove) return null;
    const { shown, drawn } = this;
    const settled = drawn && shown?.segments === segments && shown.places === this.now.design.settings.places;
    if (settled && routers.every((r, i) => r === shown.routers[i] || r.areas.join() === shown.routers[i]?.areas.join())) return drawn.map;
    const input = wholeInput({ routers, segments, places: this.now.design.settings.places });
    const key = JSON.stringify(input);
    if (this.drawn?.key !== key) this.drawn = { key, map: layoutMap(input) };
    return this.drawn.map;
  }

  /** A chart laid out, whatever is folded on it. */
  chart(input: LayoutInput): MapLayout {
    return layoutMap(input);
  }

  /** Parameters of two facing ends side by side, by the id of their pair. */
  facing(id: string): readonly FacingValue[] {
    const pair = this.now.adjacencies.pairs.find((x) => pairIdOf(this.now, x) === id);
    return pair ? facingValues(pair) : [];
  }

  /** A router's own table; with a failure in force, what it changed is marked and lost routes stand in it. */
  table(router: string, compared: boolean): RouteRow[] {
    const index = this.now.routerIndex(router);
    if (index < 0) return [];
    const p = compared ? (this.failed ?? this.now) : this.now;
    const rows = p.rib(index).map((r) => routeRow(p, r));
    // A failure is held against the network as it is; without one, that against what it is compared with.
    const base = this.failed ? this.now : this.reference?.now;
    if (!compared || !base) return inOrder(rows);
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
    return inOrder([...marked, ...lost]);
  }

  /** What "now" is compared with from here on; `null`: nothing. */
  compareWith(documents: readonly SourceDocument[] | null): void {
    this.reference = documents ? { now: this.now.edited(designFrom(documents, { clock: Date.now() }).design), documents } : undefined;
  }

  /** "Now" against what it is compared with: lines, neighbours, areas and routes; `null` without, or when a newer state came. */
  async comparison(): Promise<ComparisonView | null> {
    const { reference, now, documents } = this;
    if (!reference) return null;
    const d = await this.sliced(comparing(reference.now, now));
    if (!d) return null;
    this.check();
    const before = checkDesign(reference.now, reference.documents, { withConsequences: false, underFailures: false }).findings;
    const of = (p: Prediction): Map<string, string> =>
      new Map(areaViews(p).map((a) => [a.id, `${a.type}, ${a.routers.length} routers${a.prefix ? `, ${a.prefix}` : ''}`]));
    const [old, current] = [of(reference.now), of(now)];
    return {
      lines: documentChanges(reference.documents, documents),
      neighbors: d.neighbors.map(({ router, iface, peer, before: was, after }) => ({ router, iface, peer, before: was, after })),
      elections: electionViews(d),
      routerIds: d.routerIds,
      areas: [...new Set([...old.keys(), ...current.keys()])]
        .map((id) => ({ id, before: old.get(id) ?? 'not there', after: current.get(id) ?? 'not there' }))
        .filter((a) => a.before !== a.after),
      routers: d.routers.filter((r) => r.gone || r.routes.length > 0).map((r) => ({ router: r.router, gone: r.gone, ...routeCounts(r) })),
      lost: d.lost,
      gained: d.gained,
      changed: d.changed,
      findingsGone: missing(before, this.quick).map((f) => f.message),
      findingsNew: missing(this.quick, before).map((f) => f.message),
    };
  }

  private heard: { readonly from: readonly SourceDocument[]; readonly words: string; readonly answer: EntryView } | undefined;

  /** Reads a line of quick entry; nothing is changed. It is read while it is typed, and once more when it is to be done. */
  entry(line: string, selected: readonly string[]): EntryView {
    const words = JSON.stringify([line, ...selected]);
    if (this.heard?.from !== this.documents || this.heard.words !== words)
      this.heard = { from: this.documents, words, answer: this.readLine(line, selected) };
    return this.heard.answer;
  }

  private readLine(line: string, selected: readonly string[]): EntryView {
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
    const tried: Tried = { from: this.documents, edits: JSON.stringify(edits), ...this.madeBy(edits) };
    this.tried = tried;
    const d = await this.sliced(comparing(this.now, tried.now), turn);
    if (!d) return null;
    this.check();
    tried.check = quickCheck(tried.now, tried.documents);
    const { findings } = tried.check;
    return { ...summaryOf(d, this.quick, findings), found: missing(findings, this.quick).slice(0, 5) };
  }

  /** A document as text with the lines that findings point at. */
  documentView(file: string): DocumentView | null {
    const d = this.documents.find((x) => x.file === file);
    if (!d) return null;
    this.check();
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
    const read = designFrom(others, { clock: Date.now() });
    const fresh = read.problems.filter((p) => p.severity === 'error' && !known.has(`${p.file} ${p.path} ${p.message}`));
    if (fresh.length > 0) return { problems: fresh, edits: [] };
    return { problems: [], edits: editsBetween(this.documents, others) };
  }

  /** Why a router has a route, with the lines of the documents that it rests on. */
  evidence(router: string, prefix: string, compared: boolean): EvidenceView | null {
    const typed = parseTypedPrefix(prefix);
    const p = compared ? (this.failed ?? this.now) : this.now;
    const e = typed && routeEvidence(p, p.routerIndex(router), prefixId(typed.bits, typed.length));
    if (!e) return null;
    const lines = e.steps.flatMap((s) => ('origin' in s ? this.linesOf(s.origin) : []));
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
      'external-ranges': below('external-ranges'),
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

  private readonly failing = new Failing();

  /**
   * What a failure does at a glance, for designs whose tables are too many to lay side by side at once: how many routes of
   * which routers are other ones. What cannot be reached any more is counted by `fail`. `null` for small designs.
   */
  glance(words: readonly string[]): FailureView | null {
    return words.length === 0 || this.now.design.routers.length <= countedUpTo ? null : this.failing.glance(this.now, words);
  }

  /** What one more failure would change, in numbers, before it is made; `null` when a newer one was pointed at meanwhile. */
  async glimpse(word: string): Promise<Glimpse | null> {
    const mine = ++this.glimpses;
    await new Promise((go) => setTimeout(go, 0));
    return mine === this.glimpses ? this.failing.glimpse(this.failed ?? this.now, word) : null;
  }

  private glimpses = 0;

  /**
   * Tries every single link, in slices; `report` hears how far it is. `null` when the design changed or `stopCuts` was called.
   * The numbers come as arrays that are handed over, not copied.
   */
  async everyCut(report: (done: number, of: number) => void): Promise<EveryCut | null> {
    const mine = this.designs;
    const cuts = await this.failing.everyCut(this.now, this.slice, report, () => mine === this.designs);
    return cuts && transfer(cuts, [cuts.routers.buffer, cuts.lost.buffer, cuts.changed.buffer]);
  }

  /** Ends a trial of every link. */
  stopCuts(): void {
    this.failing.stop();
  }

  /** Takes things down, in the order given, and says what is lost; `null` when a newer wish came meanwhile. An empty list restores everything. */
  async fail(words: readonly string[]): Promise<FailureView | null> {
    const start = performance.now();
    this.wishes++;
    const { good, problems } = failuresNamed(words);
    const after = this.failing.stateWith(this.now, good);
    this.failed = good.length > 0 ? after : undefined;
    const d = await this.sliced(comparing(this.now, after), () => this.designs + this.wishes);
    return d ? { ...failureView(this.now, after, d), problems: [...problems, ...after.problems], milliseconds: performance.now() - start } : null;
  }

  /** What a finding costs now: by predicting again with its first repair. Asked for one by one, so that nothing waits. */
  consequence(id: string): Consequence | null {
    this.check();
    const finding = this.findings.find((f) => f.id === id);
    const edits = finding && mendingAll(finding, this.findings);
    if (!edits) return null;
    return consequenceOf(this.now, this.documents, edits);
  }

  /** Edits that accept a finding with a note; without a note they take its acceptance back. */
  acceptance(id: string, note?: string): Edit[] {
    this.check();
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
    this.check();
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
    routers: d.routers.filter((r) => r.gone || r.routes.length > 0).length,
    findingsGone: missing(before, after).length,
    findingsNew: missing(after, before).length,
    elections: electionViews(d),
    routerIds: d.routerIds,
  };
}
