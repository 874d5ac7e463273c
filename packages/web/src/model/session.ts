import type { ReadProblem } from '@gentle-compass/core/documents/cursor';
import type { InputFile } from '@gentle-compass/core/documents/documents';
import type { CampusSize } from '@gentle-compass/core/generate/generate-campus';
import type { StoredDesign } from '../storage/kept';
import type { Opened } from '../storage/sound';
import { takeUpProfile } from './timing';
import { hearOthers, shelf } from '../storage/shelf';
import { workbench } from '../worker/client';
import { readApart, Stopped } from '../worker/reading';
import { readAddress, writeAddress } from './address';
import { followFamily } from './families';
import { refer } from './comparing';
import { setFailures } from './failing';
import { inTurn } from './history';
import { judging } from './judging';
import { allKept, keep, keepNew, reasonOf, standAside, summarise, whenOvertaken } from './keeping';
import { go } from './moving';
import { received } from './received';
import { told, useStore } from './state';
import { fresh } from './stored';

const { setState: set, getState: get } = useStore;

/** The first sample a visitor sees: the campus before its review. */
export const firstSample = { folder: 'saltmarsh-point-before-review', name: 'Saltmarsh Point, before review' } as const;
export const samples = [firstSample, { folder: 'saltmarsh-point', name: 'Saltmarsh Point' }] as const;

/** Shows the design as another tab has written it. */
async function follow(id: string, notice: string): Promise<void> {
  // Read in its turn: what was read earlier is never shown after what was read later.
  const shown = await inTurn(async () => {
    if (get().design?.id !== id) return undefined;
    const opened = await shelf().opened(id);
    const d = opened?.design;
    const now = get().design;
    if (!d) standAside();
    if (!d || (d.revision === now?.revision && d.name === now.name)) return undefined;
    const { reference } = get();
    await showKept(opened);
    set({ notice, reference });
    return { reference };
  });
  if (shown?.reference) await refer(shown.reference);
}

/** Another tab was first: its state is shown, and what was made here is made again on it, where it still fits. */
whenOvertaken(async (id, made) => {
  const first = 'Another tab changed this design first';
  await follow(id, `${first}.`);
  if (!made || get().design?.id !== id) return;
  // Not waited for: it is kept in its turn.
  void made
    .again()
    .then((done) =>
      set({ notice: `${first}: “${made.title}” ${done ? 'was made again on what it is now' : 'does not fit any more and was not made'}.` }),
    );
});

/**
 * Shows a design that has been read; it becomes the open one.
 *
 * @param keepIt  whether it is to be kept, or why it is not
 */
async function show(design: StoredDesign, keepIt: boolean | string): Promise<void> {
  received.openings++;
  judging.end();
  // What is seen is kept already: both go on at once.
  const keeping = keepIt === true ? keepNew(design) : Promise.resolve({ revision: design.revision, unkept: keepIt === false ? undefined : keepIt });
  await workbench().changes.compareWith(null);
  const view = received.whole(await workbench().editing.openText({ name: design.name, documents: design.documents }));
  const { revision, unkept } = await keeping;
  received.documents = design.documents;
  if (get().design?.id !== design.id) {
    received.opened = design.documents;
    set({ folded: undefined });
  }
  set({
    view,
    design: { ...design, revision },
    failure: undefined,
    lastChange: undefined,
    working: undefined,
    unkept,
    damaged: undefined,
    notice: undefined,
    reference: undefined,
    comparison: undefined,
  });
  await followFamily();
  if (keepIt === false)
    void shelf()
      .markOpen(design.id)
      .catch(() => undefined);
  summarise();
  const { fail } = get();
  if (fail.length > 0) await setFailures(fail);
  void judging.begin();
}

/** Shows a design out of the store. Of a damaged one what is whole is opened as a copy; the damaged one stays as it is. */
async function showKept({ design, damage }: Opened): Promise<void> {
  if (damage.length === 0) {
    await show(design, false);
    return;
  }
  await show(fresh({ name: `${design.name}, what is whole`, documents: design.documents }), true);
  set({ damaged: { id: design.id, name: design.name, words: damage } });
}

/** Opens what was open last, or on the first visit the sample with its seeded faults. */
export async function start(): Promise<void> {
  set(readAddress());
  void takeUpProfile();
  window.addEventListener('popstate', () => {
    const address = readAddress();
    const before = get().fail.join();
    set(address);
    void followFamily();
    if (address.fail.join() !== before) void setFailures(address.fail, false);
  });
  try {
    const hears = hearOthers((id) => {
      if (id === get().design?.id) void allKept().then(() => follow(id, 'Changed in another tab.'));
    });
    const deaf = hears ? undefined : 'This browser does not let tabs speak with each other: what another tab changes is told when both write.';
    let unread: string | undefined;
    const last = await shelf()
      .last()
      .catch((e: unknown) => {
        unread = `what it keeps could not be read (${reasonOf(e)})`;
        return undefined;
      });
    if (last) await showKept(last);
    else {
      set({ firstVisit: true });
      await openSample(firstSample, unread);
    }
    if (deaf !== undefined) set({ notice: deaf });
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
    const outcome = await workbench().files.readFiles(files, sample.name);
    if (outcome.design) await show(fresh(outcome.design), unread ?? true);
  } catch (e) {
    told(e, `Opening ${sample.name}`);
  }
}

/** Makes a campus of a size and opens it; gives back in words why it cannot be made. */
export async function openGenerated(size: CampusSize): Promise<string | undefined> {
  set({ working: `Making a campus of ${size.routers} routers` });
  try {
    const made = await workbench().files.generate(size);
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
    .opened(id)
    .catch(() => undefined);
  if (!d) {
    set({ trouble: 'This design is no longer kept in this browser.' });
    return;
  }
  go({ router: undefined, segment: undefined, pair: undefined, prefix: undefined, fail: [] });
  await showKept(d);
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
  await allKept();
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

/** A user's files as octets; one that the browser cannot read is told, the rest is read. */
async function octetsOf(files: readonly File[]): Promise<{ read: InputFile[]; problems: ReadProblem[] }> {
  const [read, problems]: [InputFile[], ReadProblem[]] = [[], []];
  for (const f of files) {
    const name = f.webkitRelativePath || f.name;
    try {
      read.push({ name, content: f.size > 600 * 1024 * 1024 ? '' : new Uint8Array(await f.arrayBuffer()) });
    } catch (e) {
      const message = `The browser cannot read this file (${reasonOf(e)}).`;
      problems.push({ severity: 'error', file: name, path: '', message, remedy: 'Check that it is still there and may be read; it is left out.' });
    }
  }
  return { read, problems };
}

/** Reads a user's files; that can be stopped. The open design stays unless routers were found. */
export async function importFiles(files: readonly File[]): Promise<void> {
  get().reading?.stop();
  const words = `Reading ${files.length === 1 ? (files[0]?.name ?? 'a file') : `${files.length} files`}`;
  set({ working: words, outcome: undefined });
  try {
    const { read, problems } = await octetsOf(files);
    const single = files.length === 1 ? files[0]?.name.replace(/(\.compass)?\.(json|zip)$/i, '') : undefined;
    const folder = files[0]?.webkitRelativePath.split('/')[0];
    const reading = readApart(read, single ?? (folder === undefined || folder === '' ? 'Imported campus' : folder));
    set({ reading: { words, stop: reading.stop } });
    const found = await reading.outcome;
    const outcome = { ...found, problems: [...problems, ...found.problems] };
    set({ reading: undefined });
    if (outcome.design) {
      writeAddress({ ...get(), router: undefined, segment: undefined, pair: undefined, prefix: undefined, fail: [] });
      set({ ...readAddress(), firstVisit: false });
      await show(fresh(outcome.design), true);
    }
    set({ outcome: outcome.design && outcome.problems.length === 0 ? undefined : outcome, working: undefined });
    if (outcome.design && outcome.problems.length === 0) set({ lastChange: undefined });
  } catch (e) {
    if (e instanceof Stopped) set({ notice: `${words}: stopped. The open design is as it was.`, working: undefined, reading: undefined });
    else {
      set({ reading: undefined });
      told(e, 'Reading the files');
    }
  }
}
