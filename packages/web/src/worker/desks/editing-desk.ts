import { firstBlueprint, type Blueprint } from '@gentle-compass/core/blueprint/blueprint';
import { blueprintOf } from '@gentle-compass/core/blueprint/make';
import { comparing } from '@gentle-compass/core/compare/compare';
import { documentChanges } from '@gentle-compass/core/compare/document-changes';
import { applyEdits, editsBetween, type Edit } from '@gentle-compass/core/design/edit';
import type { Family } from '@gentle-compass/core/design/family';
import type { SourceDocument } from '@gentle-compass/core/documents/documents';
import { readEntry } from '@gentle-compass/core/entry/entry';
import type { Prediction } from '@gentle-compass/core/predict';
import { acceptEdits } from '@gentle-compass/core/findings/acceptance';
import { designFrom, readDocuments } from '@gentle-compass/core/formats/read-set';
import type { SheetName } from '@gentle-compass/core/sheets/sheet';
import type {
  BlueprintView,
  CellsView,
  ChangeSummary,
  DesignView,
  EntryView,
  StoredDocuments,
  Trial,
  TypedCell,
  TypedDocument,
} from '../../model/view';
import { blueprintView } from '../blueprint-view';
import type { Held } from '../held';
import { cellsView } from '../sheet-view';
import type { Showing } from '../showing';
import { countedUpTo } from '../views';
import { missing, summaryOf, whileDown } from '../summing';

/** Takes designs and changes, and says beforehand what a wish would do, however it is put: as a line, in a table, as text, as a blueprint. */
export class EditingDesk {
  private trials = 0;
  private heard: { readonly from: readonly SourceDocument[]; readonly words: string; readonly answer: EntryView } | undefined;

  constructor(
    private readonly held: Held,
    private readonly showing: Showing,
  ) {}

  /** Takes a design as it is stored. */
  open(stored: StoredDocuments): DesignView {
    this.heard = undefined;
    this.held.name = stored.name;
    this.held.take(this.held.made(stored.documents));
    return this.showing.whole();
  }

  /** Looks at a family from here on: the view of it, as text. */
  lookAt(family: Family): string {
    this.held.lookAt(family);
    return JSON.stringify(this.showing.whole());
  }

  /** The same as text: reading a text is much quicker than copying a tree through the door. */
  openText(stored: StoredDocuments): string {
    return JSON.stringify(this.open(stored));
  }

  /** Applies edits. What they changed in the prediction is asked for by `change`. */
  edit(edits: readonly Edit[]): { view: DesignView; documents: readonly SourceDocument[] } {
    this.held.check();
    return this.held.edit(edits, () => ({ view: this.showing.whole(), documents: this.held.documents }));
  }

  /**
   * Applies edits and predicts; what they changed in the view that was given last comes as text, a `ViewPatch`. Whoever
   * asks holds the same documents and applies them too. Findings are those of before, until they are asked for.
   */
  editText(edits: readonly Edit[]): string {
    this.heard = undefined;
    return this.held.edit(edits, () => this.showing.patch());
  }

  /** What the last edit changed in the prediction; `null` when a newer one came while it was worked out. */
  async change(): Promise<ChangeSummary | null> {
    const { held } = this;
    const { before } = held;
    const d = await held.sliced(comparing(before.now, held.now));
    if (!d) return null;
    held.check();
    return { ...summaryOf(d, before.findings, held.quick), ...downToo(before.failed, before.now, held.now) };
  }

  /** What edits would change in the prediction; `null` when another trial or a newer state came meanwhile. */
  async tryEdits(edits: readonly Edit[]): Promise<Trial | null> {
    const { held } = this;
    this.trials++;
    const turn = (): number => held.designs + this.trials;
    const mine = turn();
    await new Promise((go) => setTimeout(go, 0));
    if (mine !== turn()) return null;
    const tried = held.tryOut(edits);
    const d = await held.sliced(comparing(held.now, tried.now), turn);
    if (!d) return null;
    held.check();
    tried.check = held.quickCheck(tried.now, tried.documents);
    const { findings } = tried.check;
    return {
      ...summaryOf(d, held.quick, findings),
      ...downToo(held.failed, held.now, tried.now),
      found: missing(findings, held.quick).slice(0, 5),
    };
  }

  /** Reads a line of quick entry; nothing is changed. It is read while it is typed, and once more when it is to be done. */
  entry(line: string, selected: readonly string[]): EntryView {
    const words = JSON.stringify([line, ...selected]);
    if (this.heard?.from !== this.held.documents || this.heard.words !== words)
      this.heard = { from: this.held.documents, words, answer: this.readLine(line, selected) };
    return this.heard.answer;
  }

  private readLine(line: string, selected: readonly string[]): EntryView {
    const { documents } = this.held;
    const { plan, ...rest } = readEntry(line, documents, selected);
    if (!plan) return rest;
    return { ...rest, plan: { ...plan, lines: documentChanges(documents, applyEdits(documents, plan.edits)) } };
  }

  /** What values typed into cells of a table would do; nothing is changed. */
  cells(name: SheetName, cells: readonly TypedCell[]): CellsView {
    return cellsView(name, cells, this.held.now, this.held.documents);
  }

  /** Reads a document's text as it was typed: refused with place and reason, or what it would change as edits. */
  typedDocument(file: string, text: string): TypedDocument {
    const { held } = this;
    const { documents: parsed, problems } = readDocuments([{ name: file, content: text }]);
    const typed = parsed[0];
    const faults = problems.filter((p) => p.severity === 'error');
    if (!typed || faults.length > 0) return { problems: faults, edits: [] };
    const others = held.documents.map((d) => (d.file === file ? typed : d));
    const known = new Set(held.read.problems.map((p) => `${p.file} ${p.path} ${p.message}`));
    const read = designFrom(others, { clock: Date.now() });
    const fresh = read.problems.filter((p) => p.severity === 'error' && !known.has(`${p.file} ${p.path} ${p.message}`));
    if (fresh.length > 0) return { problems: fresh, edits: [] };
    return { problems: [], edits: editsBetween(held.documents, others) };
  }

  /** The blueprint that the design was made from, without what was given out; without one, a first one. */
  blueprint(): { blueprint: Blueprint; made: boolean } {
    const known = blueprintOf(this.held.documents);
    if (!known) return { blueprint: firstBlueprint, made: false };
    const { supernet, core, shape, exits, coreCost, uplinkCost, hello, growth, areas, ipv6, ipv6Links } = known;
    const six = ipv6 ? { ipv6, ipv6Links: ipv6Links ?? 'link-local' } : {};
    return { blueprint: { supernet, core, shape, exits, coreCost, uplinkCost, hello, growth, areas, ...six }, made: true };
  }

  /** What a typed blueprint would lay out and change; nothing is changed. */
  planBlueprint(typed: unknown): BlueprintView {
    return blueprintView(typed, this.held.documents);
  }

  /** Edits that accept a finding with a note; without a note they take its acceptance back. */
  acceptance(id: string, note?: string): Edit[] {
    const finding = this.held.finding(id);
    return finding ? acceptEdits(this.held.documents, finding, note) : [];
  }
}

/** What an edit does while something is down, where anything is: in designs of the usual size, somebody only types. */
function downToo(failed: Prediction | undefined, before: Prediction, now: Prediction): Pick<ChangeSummary, 'whileDown'> {
  const routers = (p: Prediction): string => p.design.routers.map((r) => r.name).join(' ');
  const alike = failed?.family === now.family && now.design.routers.length <= countedUpTo && routers(before) === routers(now);
  return failed && alike ? { whileDown: whileDown(failed, before, now) } : {};
}
