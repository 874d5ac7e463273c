import { create } from 'zustand';
import { applyEdits, editsBetween, invertEdit, type Edit } from '@gentle-compass/core/design/edit';
import { placeEdits, type Placing } from '@gentle-compass/core/design/map-places';
import type { Finding } from '@gentle-compass/core/findings/finding';
import type { CampusSize } from '@gentle-compass/core/generate/generate-campus';
import type { InputFile } from '@gentle-compass/core/documents/documents';
import { Overtaken, type Change, type StoredDesign, type VersionRow } from '../storage/kept';
import { announce, hearOthers, shelf } from '../storage/shelf';
import { workbench } from '../worker/client';
import { readAddress, writeAddress, type Address, type Stage } from './address';
import type { SheetName } from '@gentle-compass/core/sheets/sheet-names';
import { Judging } from './judging';
import { fresh, notTaken, summaryOf } from './stored';
import { patched, type ViewPatch } from './view-patch';
import type { CellsView, ChangeSummary, ComparisonView, DesignView, EntryView, FailureView, HistoryStep, ImportOutcome, TypedCell } from './view';

/** What the last edit, undo or redo did: shown until something else happens. */
export interface LastChange {
  readonly title: string;
  /** Absent while it is being worked out. */
  readonly change?: ChangeSummary;
}

/** What "now" is compared with. */
export interface Reference {
  readonly kind: 'version' | 'design' | 'opened' | 'last-change';
  /** Of the version or the design. */
  readonly id: string;
  readonly name: string;
}

export interface State extends Address {
  readonly view: DesignView | undefined;
  readonly design: StoredDesign | undefined;
  readonly failure: FailureView | undefined;
  readonly lastChange: LastChange | undefined;
  readonly outcome: ImportOutcome | undefined;
  /** Something went wrong that the user must know of. */
  readonly trouble: string | undefined;
  /** Why the browser does not keep the design: it is to be exported, or kept again. */
  readonly unkept: string | undefined;
  /** Something happened in another tab that the user should know of. */
  readonly notice: string | undefined;
  readonly reference: Reference | undefined;
  /** Now against that, once it is laid side by side. */
  readonly comparison: ComparisonView | undefined;
  /** The line of quick entry, while it is open. */
  readonly entry: string | undefined;
  /** Whether the list of keys is shown. */
  readonly keys: boolean;
  /** The blueprint is open for changes. */
  readonly blueprinting: boolean;
  /** What to set on the chosen router stands in the place of the map. */
  readonly worksheet: boolean;
  /** The router whose document is open for reading and editing. */
  readonly document: string | undefined;
  /** The line of it to bring into sight. */
  readonly documentLine: number | undefined;
  readonly firstVisit: boolean;
  readonly working: string | undefined;
  /** Areas that the map shows as one plate; `undefined` while nobody has chosen. */
  readonly folded: readonly string[] | undefined;
}

export const useStore = create<State>(() => ({
  stage: 'layout',
  router: undefined,
  segment: undefined,
  pair: undefined,
  prefix: undefined,
  fail: [],
  table: undefined,
  view: undefined,
  design: undefined,
  failure: undefined,
  lastChange: undefined,
  outcome: undefined,
  trouble: undefined,
  unkept: undefined,
  notice: undefined,
  reference: undefined,
  comparison: undefined,
  entry: undefined,
  keys: false,
  blueprinting: false,
  worksheet: false,
  document: undefined,
  documentLine: undefined,
  firstVisit: false,
  working: 'Opening the chart',
  folded: undefined,
}));

const set = useStore.setState;
const get = useStore.getState;

/** The first sample a visitor sees: the campus before its review. */
export const firstSample = { folder: 'saltmarsh-point-before-review', name: 'Saltmarsh Point, before review' } as const;
export const samples = [firstSample, { folder: 'saltmarsh-point', name: 'Saltmarsh Point' }] as const;

/** Tells the user what did not work, and why. */
export function told(error: unknown, doing: string): void {
  const reason = error instanceof Error ? error.message : String(error);
  set({ trouble: `${doing} did not work: ${reason}`, working: undefined });
}

/** Writes wait for one another, so that each stands on the revision that the one before it gave. */
let writing: Promise<void> = Promise.resolve();

/** The design as it stood when it was opened, to compare with. */
let opened: StoredDesign['documents'] = [];

/** Keeps the open design whole, or with `change` only what that writes; what comes of it is told. */
function keep(change?: Change): Promise<void> {
  const id = get().design?.id;
  writing = writing.then(async () => {
    const design = get().design;
    if (!design || design.id !== id) return;
    try {
      // What could not be kept before is written whole.
      const whole = change ? { ...design, documents: change.documents, history: change.history, position: change.position } : design;
      const revision = change && get().unkept === undefined ? await shelf().change(design, change) : await shelf().put(whole);
      const now = get().design;
      if (now?.id === id) set({ design: { ...now, revision }, unkept: undefined });
      announce(design.id);
    } catch (e) {
      if (e instanceof Overtaken && !e.gone) await follow(design.id, 'Another tab changed this design first; your last change was not made.');
      else if (e instanceof Overtaken) standAside();
      else set({ unkept: reasonOf(e) });
    }
  });
  return writing;
}

/** Keeps a design that is not open yet. */
async function keepNew(design: StoredDesign): Promise<{ revision: number; unkept: string | undefined }> {
  try {
    return { revision: await shelf().put(design), unkept: undefined };
  } catch (e) {
    return { revision: design.revision, unkept: reasonOf(e) };
  }
}

const reasonOf = (e: unknown): string => {
  // A library's error carries the browser's own within it.
  if (e instanceof Error && 'inner' in e && e.inner instanceof Error) return reasonOf(e.inner);
  const name = e instanceof Error ? e.name : '';
  const message = e instanceof Error ? e.message : String(e);
  return /quota/i.test(name + message) ? 'its storage is full' : message === '' ? name : message;
};

/** Keeps the design again after it was refused. */
export const keepAgain = (): Promise<void> => keep();

/** The open design was deleted elsewhere: what stands here goes on under an id of its own once it is kept again. */
function standAside(): void {
  const { design } = get();
  if (design) set({ design: { ...design, id: crypto.randomUUID(), revision: 0 }, unkept: 'it was deleted in another tab' });
}

/** Shows the design as another tab has written it. */
async function follow(id: string, notice: string): Promise<void> {
  const d = await shelf().design(id);
  if (get().design?.id !== id) return;
  if (!d) standAside();
  else if (d.revision !== get().design?.revision || d.name !== get().design?.name) {
    const { reference } = get();
    await inTurn(() => show(d, false));
    set({ notice, reference });
    if (reference) await refer(reference);
  }
}

/** Notes the last prediction beside the kept design; nothing is lost when that does not work. */
function summarise(): void {
  const { view, design } = get();
  if (view && design)
    void shelf()
      .summarise(design.id, summaryOf(view))
      .catch(() => undefined);
}

/** The view as the worker gave it last: what it gives next is what changed since. */
let received: DesignView | undefined;

/** The documents as the worker holds them: answers come in the order of the questions. */
let held: StoredDesign['documents'] = [];

const judging = new Judging({ view: () => get().view, show: (view) => set({ view }), take: (patch) => take(patch), told });

/** Counts designs that were opened: a change of an earlier one ends with it. */
let openings = 0;

/**
 * Shows a design that has been read; it becomes the open one.
 *
 * @param keepIt  whether it is to be kept, or why it is not
 */
async function show(design: StoredDesign, keepIt: boolean | string): Promise<void> {
  openings++;
  judging.end();
  // What is seen is kept already: both go on at once.
  const keeping = keepIt === true ? keepNew(design) : Promise.resolve({ revision: design.revision, unkept: keepIt === false ? undefined : keepIt });
  await workbench().compareWith(null);
  const view = JSON.parse(await workbench().openText({ name: design.name, documents: design.documents })) as DesignView;
  received = view;
  const { revision, unkept } = await keeping;
  held = design.documents;
  if (get().design?.id !== design.id) {
    opened = design.documents;
    set({ folded: undefined });
  }
  set({
    view,
    design: { ...design, revision },
    failure: undefined,
    lastChange: undefined,
    working: undefined,
    unkept,
    notice: undefined,
    reference: undefined,
    comparison: undefined,
  });
  if (keepIt === false)
    void shelf()
      .markOpen(design.id)
      .catch(() => undefined);
  summarise();
  const { fail } = get();
  if (fail.length > 0) await setFailures(fail);
  void judging.begin();
}

/** Opens what was open last, or on the first visit the sample with its seeded faults. */
export async function start(): Promise<void> {
  set(readAddress());
  window.addEventListener('popstate', () => {
    const address = readAddress();
    const before = get().fail.join();
    set(address);
    if (address.fail.join() !== before) void setFailures(address.fail, false);
  });
  try {
    hearOthers((id) => {
      if (id === get().design?.id) void writing.then(() => follow(id, 'Changed in another tab.'));
    });
    let unread: string | undefined;
    const last = await shelf()
      .last()
      .catch((e: unknown) => {
        unread = `what it keeps could not be read (${reasonOf(e)})`;
        return undefined;
      });
    if (last) await show(last, false);
    else {
      set({ firstVisit: true });
      await openSample(firstSample, unread);
    }
  } catch (e) {
    told(e, 'Opening the design');
  }
}

/**
 * Fetches a sample campus from this installation and opens it through the importer that a user's files go through.
 *
 * @param unread  why this browser's store could not be read: then the sample does not take the place of what was open
 */
export async function openSample(sample: { readonly folder: string; readonly name: string }, unread?: string): Promise<void> {
  set({ working: `Opening ${sample.name}` });
  try {
    const response = await fetch(`/sample/${sample.folder}`);
    if (!response.ok) throw new Error(`the sample could not be fetched (${response.status})`);
    const { files } = (await response.json()) as { files: InputFile[] };
    const outcome = await workbench().readFiles(files, sample.name);
    if (outcome.design) await show(fresh(outcome.design), unread ?? true);
  } catch (e) {
    told(e, `Opening ${sample.name}`);
  }
}

/** Makes a campus of a size and opens it; gives back in words why it cannot be made. */
export async function openGenerated(size: CampusSize): Promise<string | undefined> {
  set({ working: `Making a campus of ${size.routers} routers` });
  try {
    const made = await workbench().generate(size);
    if (typeof made === 'string') return made;
    go({ router: undefined, segment: undefined, pair: undefined, prefix: undefined, fail: [] });
    set({ firstVisit: false });
    await show(fresh(made), true);
    return undefined;
  } catch (e) {
    told(e, 'Making a campus');
    return undefined;
  } finally {
    set({ working: undefined });
  }
}

/** Opens a design that this browser keeps. */
export async function openKept(id: string): Promise<void> {
  const d = await shelf()
    .design(id)
    .catch(() => undefined);
  if (!d) {
    set({ trouble: 'This design is no longer kept in this browser.' });
    return;
  }
  go({ router: undefined, segment: undefined, pair: undefined, prefix: undefined, fail: [] });
  await show(d, false);
}

/** Opens a design without any router. */
export async function openEmpty(name: string): Promise<void> {
  go({ stage: 'layout', router: undefined, segment: undefined, pair: undefined, prefix: undefined, fail: [] });
  set({ firstVisit: false });
  await show(fresh({ name, documents: [] }), true);
}

/** Opens a copy of the open design, or of a version of it, under another name; the first one stays as it is. */
export async function openVariant(name: string, documents?: StoredDesign['documents']): Promise<void> {
  const { design } = get();
  if (!design) return;
  await writing;
  set({ firstVisit: false });
  await show(fresh({ name, documents: documents ?? design.documents }, design.id), true);
}

/** Gives the open design another name. */
export async function renameDesign(name: string): Promise<void> {
  const { design } = get();
  if (!design || name.trim() === '') return;
  set({ design: { ...design, name: name.trim() } });
  await keep();
}

/** Reads a user's files. The open design stays unless routers were found. */
export async function importFiles(files: readonly File[]): Promise<void> {
  set({ working: `Reading ${files.length === 1 ? (files[0]?.name ?? 'a file') : `${files.length} files`}`, outcome: undefined });
  try {
    const read: InputFile[] = [];
    for (const f of files)
      read.push({ name: f.webkitRelativePath || f.name, content: f.size > 600 * 1024 * 1024 ? '' : new Uint8Array(await f.arrayBuffer()) });
    const single = files.length === 1 ? files[0]?.name.replace(/(\.compass)?\.(json|zip)$/i, '') : undefined;
    const folder = files[0]?.webkitRelativePath.split('/')[0];
    const outcome = await workbench().readFiles(read, single ?? (folder === undefined || folder === '' ? 'Imported campus' : folder));
    if (outcome.design) {
      writeAddress({ ...get(), router: undefined, segment: undefined, pair: undefined, prefix: undefined, fail: [] });
      set({ ...readAddress(), firstVisit: false });
      await show(fresh(outcome.design), true);
    }
    set({ outcome: outcome.design && outcome.problems.length === 0 ? undefined : outcome, working: undefined });
    if (outcome.design && outcome.problems.length === 0) set({ lastChange: undefined });
  } catch (e) {
    told(e, 'Reading the files');
  }
}

let changing: Promise<unknown> = Promise.resolve();

/** Changes wait for one another: each stands on the state that the one before it left. */
function inTurn<T>(work: () => Promise<T>): Promise<T> {
  const done = changing.then(work);
  changing = done.catch(() => undefined);
  return done;
}

/** @param step  place of the step that this is, whose effect is to be noted */
async function run(edits: readonly Edit[], title: string, history: readonly HistoryStep[], position: number, step?: number): Promise<void> {
  const id = get().design?.id;
  if (id === undefined) return;
  const opening = openings;
  judging.end();
  try {
    const documents = applyEdits(held, edits);
    const before = new Set(held);
    const changed = documents.filter((d) => !before.has(d));
    const view = take(await taken(edits, documents));
    // What the worker took is kept, and nothing else: what is seen is on its way to the storage.
    const kept = keep({ documents, changed, history, position, steps: step === undefined ? [] : [step] });
    await Promise.race([kept, new Promise((go) => setTimeout(go, 40))]);
    const { design } = get();
    // Another design was opened meanwhile: the worker has that one too.
    if (!design || opening !== openings) return;
    set({
      view,
      design: { ...design, documents, history, position, updated: Date.now() },
      lastChange: { title },
      failure: undefined,
      notice: undefined,
    });
    const found = workbench().foundText();
    const asked = workbench().change();
    void showFound(found, opening);
    void follows(id, title, kept, asked, step);
  } catch (e) {
    told(e, title);
  }
}

/** Edits as the worker took them; where it could not, the page holds what it held. The next edit stands on this one at once. */
async function taken(edits: readonly Edit[], documents: StoredDesign['documents']): Promise<string> {
  const was = held;
  held = documents;
  return workbench()
    .editText(edits)
    .catch((e: unknown) => {
      if (held === documents) held = was;
      throw notTaken(e);
    });
}

/** Takes what changed in the view; answers come in the order of the questions, and each stands on the one before it. */
function take(patch: string): DesignView | undefined {
  received = received && patched(received, JSON.parse(patch) as ViewPatch);
  return received;
}

/** Findings come a moment after the prediction that they are about. */
async function showFound(found: Promise<string>, opening: number): Promise<void> {
  try {
    const patch = await found;
    if (opening === openings) set({ view: take(patch) });
  } catch (e) {
    told(e, 'Checking the design');
  }
}

/** What a change brings with it, while the next one may come already. */
async function follows(
  id: string,
  title: string,
  kept: Promise<void>,
  asked: Promise<ChangeSummary | null>,
  step: number | undefined,
): Promise<void> {
  try {
    const { fail, reference } = get();
    if (reference?.kind === 'last-change') await refer(reference);
    else void layBeside();
    const effect = await asked;
    await kept;
    // A newer change has its own strip by now.
    if (effect && get().lastChange?.title === title) set({ lastChange: { title, change: effect } });
    if (effect && step !== undefined) noteEffect(id, step, title, effect);
    if (fail.length > 0) await setFailures(fail);
    summarise();
    void judging.begin();
  } catch (e) {
    told(e, title);
  }
}

function noteEffect(id: string, n: number, title: string, effect: ChangeSummary): void {
  const { design } = get();
  if (design?.id !== id || design.history[n]?.title !== title) return;
  set({ design: { ...design, history: design.history.map((s, i) => (i === n ? { ...s, effect } : s)) } });
  void shelf()
    .effect(id, n, title, effect)
    .catch(() => undefined);
}

async function change(title: string, edits: readonly Edit[]): Promise<void> {
  const d = get().design;
  if (!d || edits.length === 0) return;
  const history = [...d.history.slice(0, d.position), { title, edits, made: Date.now() }];
  await run(edits, title, history, history.length, history.length - 1);
}

/** Makes a change; steps that had been undone are given up. */
export const makeChange = (title: string, edits: readonly Edit[]): Promise<void> => inTurn(() => change(title, edits));

/** Puts values into cells of a table as one step; what cannot be is told, the rest is done. */
export const enterCells = (name: SheetName, cells: readonly TypedCell[]): Promise<CellsView> =>
  inTurn(async () => {
    try {
      const done = await workbench().cells(name, cells);
      if (done.edits.length > 0) await change(done.title, done.edits);
      return done;
    } catch (e) {
      told(e, 'Changing the table');
      return { title: '', notes: [], edits: [], faults: [] };
    }
  });

/** Carries out a line of quick entry, read against the state that the change before it leaves; gives what was understood. */
export const enterLine = (line: string, selected: readonly string[]): Promise<EntryView> =>
  inTurn(async () => {
    try {
      const reading = await workbench().entry(line, selected);
      if (reading.plan) await change(reading.plan.title, reading.plan.edits);
      return reading;
    } catch (e) {
      told(e, `“${line}”`);
      return { suggestions: [], from: 0 };
    }
  });

const backwards = (edits: readonly Edit[]): Edit[] => [...edits].reverse().map(invertEdit);

async function goTo(wanted: (now: number) => number): Promise<void> {
  const d = get().design;
  const position = wanted(d?.position ?? 0);
  if (!d || position === d.position || position < 0 || position > d.history.length) return;
  const back = d.history
    .slice(position, d.position)
    .reverse()
    .flatMap((s) => backwards(s.edits));
  const forth = d.history.slice(d.position, position).flatMap((s) => s.edits);
  const steps = Math.abs(position - d.position);
  const last = d.history[position < d.position ? position : position - 1];
  const title = `${position < d.position ? 'Undone' : 'Done again'}: ${steps === 1 ? (last?.title ?? '') : `${steps} steps`}`;
  await run([...back, ...forth], title, d.history, position);
}

/** Goes to the state after so many steps of the history, back or forth. */
export const goToStep = (position: number): Promise<void> => inTurn(() => goTo(() => position));
export const undo = (): Promise<void> => inTurn(() => goTo((now) => now - 1));
export const redo = (): Promise<void> => inTurn(() => goTo((now) => now + 1));

/** Keeps the state as it is under a name. */
export async function saveVersion(name: string, note: string): Promise<void> {
  const { design, view } = get();
  if (!design || !view) return;
  try {
    const row: VersionRow = {
      id: crypto.randomUUID(),
      design: design.id,
      name,
      note,
      made: Date.now(),
      documents: design.documents,
      summary: summaryOf(view),
    };
    await shelf().putVersion(row);
    announce(design.id);
  } catch (e) {
    set({ unkept: reasonOf(e) });
  }
}

/** Makes the open design what a version was, as one step that can be undone. */
export async function returnTo(version: VersionRow): Promise<void> {
  const { design } = get();
  if (design) await makeChange(`Back to “${version.name}”`, editsBetween(design.documents, version.documents));
}

/** Documents of what is compared with. */
async function documentsOf(r: Reference): Promise<StoredDesign['documents'] | undefined> {
  const { design } = get();
  if (r.kind === 'opened') return opened;
  if (r.kind === 'design') return (await shelf().design(r.id))?.documents;
  if (r.kind === 'version') return (await shelf().versions.get(r.id))?.documents;
  const step = design?.history[design.position - 1];
  return design && step ? applyEdits(design.documents, backwards(step.edits)) : design?.documents;
}

/** Chooses what "now" is compared with, everywhere. */
export async function refer(reference: Reference | undefined): Promise<void> {
  const documents = reference && (await documentsOf(reference).catch(() => undefined));
  await workbench().compareWith(documents ?? null);
  set({ reference: documents ? reference : undefined, comparison: undefined });
  await layBeside();
}

let besideTurn = 0;

/** Lays now beside what it is compared with; the newest wish wins. */
async function layBeside(): Promise<void> {
  const turn = ++besideTurn;
  if (!get().reference) return;
  const comparison = await workbench().comparison();
  if (turn === besideTurn && comparison && get().reference) set({ comparison });
}

/** Places plates of the map by hand, or gives such places up; one step. */
export const placeOnMap = (placings: readonly Placing[]): Promise<void> =>
  inTurn(() => {
    const [first] = placings;
    const title = placings.some((p) => !p.at)
      ? `The map places ${placings.length === 1 ? (first?.name ?? '') : `${placings.length} plates`} again`
      : `${first?.name ?? ''} placed on the map`;
    return change(title, placeEdits(held, placings));
  });

/** Accepts a finding with a note, or without one takes its acceptance back. */
export async function acceptFinding(finding: Pick<Finding, 'id' | 'rule'>, note?: string): Promise<void> {
  const edits = await workbench().acceptance(finding.id, note);
  await makeChange(note === undefined ? `No longer accepted: ${finding.rule}` : `Accepted: ${finding.rule}`, edits);
}

let failureTurn = 0;

/** Takes things down in the order given; the newest wish wins. An empty list restores everything. */
export async function setFailures(fail: readonly string[], address = true): Promise<void> {
  const turn = ++failureTurn;
  set({ fail });
  if (address) writeAddress(get());
  try {
    const glance = await workbench().glance(fail);
    if (turn === failureTurn && glance) set({ failure: glance });
    const failure = await workbench().fail(fail);
    if (turn === failureTurn && failure) set({ failure: fail.length > 0 ? failure : undefined });
  } catch (e) {
    told(e, 'Computing the failure');
  }
}

/** Moves to a stage or selects something; the address bar follows, so that the back button works. */
export function go(to: Partial<Address>): void {
  const next: Address = { ...get(), ...to };
  writeAddress(next);
  set({ ...to });
  // The document that is open is that of the chosen router.
  if ('router' in to && get().document !== undefined && to.router !== get().document) set({ document: to.router, documentLine: undefined });
  if (to.fail) void setFailures(to.fail, false);
}

export const goStage = (stage: Stage): void => go({ stage });
