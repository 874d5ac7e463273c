import { create } from 'zustand';
import { invertEdit, type Edit } from '@gentle-compass/core/design/edit';
import type { Consequence, Finding } from '@gentle-compass/core/findings/finding';
import type { CampusSize } from '@gentle-compass/core/generate/generate-campus';
import type { InputFile } from '@gentle-compass/core/formats/documents';
import { keepDesign, keptDesign, lastDesign, type StoredDesign } from '../storage/shelf';
import { workbench } from '../worker/client';
import { readAddress, writeAddress, type Address, type Stage } from './address';
import type { ChangeSummary, DesignView, FailureView, HistoryStep, ImportOutcome } from './view';

/** What the last edit, undo or redo did: shown until something else happens. */
export interface LastChange {
  readonly title: string;
  /** Absent while it is being worked out. */
  readonly change?: ChangeSummary;
}

export interface State extends Address {
  readonly view: DesignView | undefined;
  readonly design: StoredDesign | undefined;
  readonly failure: FailureView | undefined;
  readonly lastChange: LastChange | undefined;
  readonly outcome: ImportOutcome | undefined;
  /** Something went wrong that the user must know of. */
  readonly trouble: string | undefined;
  readonly firstVisit: boolean;
  readonly working: string | undefined;
}

export const useStore = create<State>(() => ({
  stage: 'layout',
  router: undefined,
  segment: undefined,
  pair: undefined,
  prefix: undefined,
  fail: [],
  view: undefined,
  design: undefined,
  failure: undefined,
  lastChange: undefined,
  outcome: undefined,
  trouble: undefined,
  firstVisit: false,
  working: 'Opening the chart',
}));

const set = useStore.setState;
const get = useStore.getState;

/** The first sample a visitor sees: the campus before its review. */
export const firstSample = { folder: 'saltmarsh-point-before-review', name: 'Saltmarsh Point, before review' } as const;
export const samples = [firstSample, { folder: 'saltmarsh-point', name: 'Saltmarsh Point' }] as const;

function told(error: unknown, doing: string): void {
  const reason = error instanceof Error ? error.message : String(error);
  set({ trouble: `${doing} did not work: ${reason}`, working: undefined });
}

async function keep(design: StoredDesign): Promise<void> {
  set({ design });
  try {
    await keepDesign(design);
  } catch (e) {
    told(e, 'Keeping the design in this browser (export it to be safe)');
  }
}

const fresh = (stored: { name: string; documents: StoredDesign['documents'] }): StoredDesign => ({
  id: crypto.randomUUID(),
  name: stored.name,
  documents: stored.documents,
  history: [],
  position: 0,
  updated: Date.now(),
});

/** The documents as the worker holds them: answers come in the order of the questions. */
let held: StoredDesign['documents'] = [];

let consequenceTurn = 0;

/** Fills in what each finding costs, one after the other, while the page goes on; a newer state ends it. */
async function fillConsequences(): Promise<void> {
  const turn = ++consequenceTurn;
  const { view } = get();
  const found = new Map<string, Consequence>();
  for (const f of view?.findings ?? []) {
    if (f.repairs.length === 0) continue;
    const c = await workbench().consequence(f.id);
    if (turn !== consequenceTurn) return;
    if (c) found.set(f.id, c);
    const now = get().view;
    if (now) set({ view: { ...now, findings: now.findings.map((x) => ({ ...x, consequence: found.get(x.id) ?? x.consequence })) } });
  }
}

/** Shows a design that has been read; it becomes the open one. */
async function show(design: StoredDesign, keepIt: boolean): Promise<void> {
  consequenceTurn++;
  const view = JSON.parse(await workbench().openText({ name: design.name, documents: design.documents })) as DesignView;
  held = design.documents;
  set({ view, design, failure: undefined, lastChange: undefined, working: undefined });
  if (keepIt) await keep(design);
  const { fail } = get();
  if (fail.length > 0) await setFailures(fail);
  void fillConsequences();
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
    const last = await lastDesign().catch(() => undefined);
    if (last) await show(last, false);
    else {
      set({ firstVisit: true });
      await openSample(firstSample);
    }
  } catch (e) {
    told(e, 'Opening the design');
  }
}

/** Fetches a sample campus from this installation and opens it through the importer that a user's files go through. */
export async function openSample(sample: { readonly folder: string; readonly name: string }): Promise<void> {
  set({ working: `Opening ${sample.name}` });
  try {
    const response = await fetch(`/sample/${sample.folder}`);
    if (!response.ok) throw new Error(`the sample could not be fetched (${response.status})`);
    const { files } = (await response.json()) as { files: InputFile[] };
    const outcome = await workbench().readFiles(files, sample.name);
    if (outcome.design) await show(fresh(outcome.design), true);
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
  const d = await keptDesign(id).catch(() => undefined);
  if (!d) {
    set({ trouble: 'This design is no longer kept in this browser.' });
    return;
  }
  go({ router: undefined, segment: undefined, pair: undefined, prefix: undefined, fail: [] });
  await show(d, true);
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

async function run(edits: readonly Edit[], title: string, history: readonly HistoryStep[], position: number): Promise<void> {
  const { design, fail } = get();
  if (!design) return;
  consequenceTurn++; // a new state makes the filling-in of the old one pointless
  try {
    const answer = await workbench().editText(edits);
    const before = held;
    const documents = answer.documents.flatMap((d) => (typeof d === 'number' ? (before[d] ?? []) : d));
    held = documents;
    const view = JSON.parse(answer.view) as DesignView;
    set({ view, lastChange: { title }, failure: undefined });
    const asked = workbench().change();
    await keep({ ...design, documents, history, position, updated: Date.now() });
    const change = await asked;
    // A newer change has its own strip by now.
    if (change && get().lastChange?.title === title) set({ lastChange: { title, change } });
    if (fail.length > 0) await setFailures(fail);
    void fillConsequences();
  } catch (e) {
    told(e, title);
  }
}

/** Makes a change; steps that had been undone are given up. */
export async function makeChange(title: string, edits: readonly Edit[]): Promise<void> {
  const d = get().design;
  if (!d || edits.length === 0) return;
  const history = [...d.history.slice(0, d.position), { title, edits }];
  await run(edits, title, history, history.length);
}

export async function undo(): Promise<void> {
  const d = get().design;
  const step = d?.history[d.position - 1];
  if (d && step) await run([...step.edits].reverse().map(invertEdit), `Undone: ${step.title}`, d.history, d.position - 1);
}

export async function redo(): Promise<void> {
  const d = get().design;
  const step = d?.history[d.position];
  if (d && step) await run(step.edits, `Done again: ${step.title}`, d.history, d.position + 1);
}

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
  if (to.fail) void setFailures(to.fail, false);
}

export const goStage = (stage: Stage): void => go({ stage });
export const dismissOutcome = (): void => set({ outcome: undefined });
export const dismissTrouble = (): void => set({ trouble: undefined });
export const dismissChange = (): void => set({ lastChange: undefined });
export const endFirstVisit = (): void => set({ firstVisit: false });
