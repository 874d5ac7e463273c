import { applyEdits, editsBetween, stillFits, type Edit } from '@gentle-compass/core/design/edit';
import { placeEdits, type Placing } from '@gentle-compass/core/design/map-places';
import type { Finding } from '@gentle-compass/core/findings/finding';
import type { SheetName } from '@gentle-compass/core/sheets/sheet-names';
import type { StoredDesign, VersionRow } from '../storage/kept';
import { shelf } from '../storage/shelf';
import { workbench } from '../worker/client';
import { layBeside, refer } from './comparing';
import { setFailures } from './failing';
import { judging } from './judging';
import { keep, summarise } from './keeping';
import { received } from './received';
import { told, useStore } from './state';
import { backwards, notTaken } from './stored';
import type { CellsView, ChangeSummary, EntryView, HistoryStep, TypedCell } from './view';

const { setState: set, getState: get } = useStore;

let changing: Promise<unknown> = Promise.resolve();

/** Changes wait for one another: each stands on the state that the one before it left. */
export function inTurn<T>(work: () => Promise<T>): Promise<T> {
  const done = changing.then(work);
  changing = done.catch(() => undefined);
  return done;
}

/** How a change is made once more, should another tab have been first; false where it does not fit any more. */
type Again = () => Promise<boolean>;
const never: Again = () => Promise.resolve(false);

/** @param step  place of the step that this is, whose effect is to be noted */
async function run(
  edits: readonly Edit[],
  title: string,
  history: readonly HistoryStep[],
  position: number,
  again: Again,
  step?: number,
): Promise<void> {
  const id = get().design?.id;
  if (id === undefined) return;
  const opening = received.openings;
  judging.end();
  try {
    const documents = applyEdits(received.documents, edits);
    const before = new Set(received.documents);
    const changed = documents.filter((d) => !before.has(d));
    const view = received.take(await taken(edits, documents));
    // What the worker took is kept, and nothing else: what is seen is on its way to the storage.
    const kept = keep({ documents, changed, history, position, steps: step === undefined ? [] : [step] }, { opening, title, again });
    await Promise.race([kept, new Promise((go) => setTimeout(go, 40))]);
    const { design } = get();
    // Another design was opened meanwhile: the worker has that one too.
    if (!design || opening !== received.openings) return;
    set({
      view,
      design: { ...design, documents, history, position, updated: Date.now() },
      lastChange: { title },
      failure: undefined,
      notice: undefined,
    });
    const found = workbench().checking.foundText();
    const asked = workbench().editing.change();
    void showFound(found, opening);
    void follows(id, title, kept, asked, step);
  } catch (e) {
    told(e, title);
    void judging.begin();
  }
}

/** Edits as the worker took them; where it could not, the page holds what it held before. The next edit stands on this one at once. */
async function taken(edits: readonly Edit[], documents: StoredDesign['documents']): Promise<string> {
  const was = received.documents;
  received.documents = documents;
  return workbench()
    .editing.editText(edits)
    .catch((e: unknown) => {
      if (received.documents === documents) received.documents = was;
      throw notTaken(e);
    });
}

/** Findings come a moment after the prediction that they are about. */
async function showFound(found: Promise<string>, opening: number): Promise<void> {
  try {
    const patch = await found;
    if (opening === received.openings) set({ view: received.take(patch) });
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

async function change(title: string, edits: readonly Edit[], again: Again): Promise<void> {
  const d = get().design;
  if (!d || edits.length === 0) return;
  const history = [...d.history.slice(0, d.position), { title, edits, made: Date.now() }];
  await run(edits, title, history, history.length, again, history.length - 1);
}

/** Makes edits that were computed on some documents, where they mean the same on those that stand now. */
function changeFrom(base: StoredDesign['documents'], title: string, edits: readonly Edit[]): Promise<boolean> {
  return inTurn(async () => {
    const fits = received.documents === base || stillFits(edits, base, received.documents);
    if (fits) await change(title, edits, () => changeFrom(base, title, edits));
    return fits;
  });
}

/** Makes a change of what is shown; steps that had been undone are given up. */
export async function makeChange(title: string, edits: readonly Edit[]): Promise<void> {
  const made = await changeFrom(get().design?.documents ?? [], title, edits);
  if (!made) set({ notice: `“${title}” does not fit any more: the design was changed meanwhile.` });
}

/** Puts values into cells of a table as one step; what cannot be is told, the rest is done. */
export const enterCells = (name: SheetName, cells: readonly TypedCell[]): Promise<CellsView> =>
  inTurn(async () => {
    try {
      const done = await workbench().editing.cells(name, cells);
      if (done.edits.length > 0) await change(done.title, done.edits, () => enterCells(name, cells).then((c) => c.edits.length > 0));
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
      const reading = await workbench().editing.entry(line, selected);
      if (reading.plan) await change(reading.plan.title, reading.plan.edits, () => enterLine(line, selected).then((r) => r.plan !== undefined));
      return reading;
    } catch (e) {
      told(e, `“${line}”`);
      return { suggestions: [], from: 0 };
    }
  });

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
  await run([...back, ...forth], title, d.history, position, never);
}

/** Goes to the state after so many steps of the history, back or forth. */
export const goToStep = (position: number): Promise<void> => inTurn(() => goTo(() => position));
export const undo = (): Promise<void> => inTurn(() => goTo((now) => now - 1));
export const redo = (): Promise<void> => inTurn(() => goTo((now) => now + 1));

/** Makes the open design what a version was, as one step that can be undone. */
export async function returnTo(version: VersionRow): Promise<void> {
  const { design } = get();
  if (design) await makeChange(`Back to “${version.name}”`, editsBetween(design.documents, version.documents));
}

/** Places plates of the map by hand, or gives such places up; one step. */
export const placeOnMap = (placings: readonly Placing[]): Promise<void> =>
  inTurn(() => {
    const [first] = placings;
    const title = placings.some((p) => !p.at)
      ? `The map places ${placings.length === 1 ? (first?.name ?? '') : `${placings.length} plates`} again`
      : `${first?.name ?? ''} placed on the map`;
    return change(title, placeEdits(received.documents, placings), () => placeOnMap(placings).then(() => true));
  });

/** Accepts a finding with a note, or without one takes its acceptance back. */
export async function acceptFinding(finding: Pick<Finding, 'id' | 'rule'>, note?: string): Promise<void> {
  const edits = await workbench().editing.acceptance(finding.id, note);
  await makeChange(note === undefined ? `No longer accepted: ${finding.rule}` : `Accepted: ${finding.rule}`, edits);
}
