import { announce, shelf } from '../storage/shelf';
import { Overtaken, type Change, type StoredDesign, type VersionRow } from '../storage/kept';
import { received } from './received';
import { useStore } from './state';
import { summaryOf } from './stored';

const { setState: set, getState: get } = useStore;

/** Writes wait for one another, so that each stands on the revision that the one before it gave. */
let writing: Promise<void> = Promise.resolve();

/** Resolves when everything that was to be kept so far has been, or could not be. */
export const allKept = (): Promise<void> => writing;

/** A change, as far as it must be made again where another tab was first. */
export interface Made {
  /** The opening that it was computed in: what another tab wrote begins a new one. */
  readonly opening: number;
  readonly title: string;
  /** Makes it on what stands now; false where it does not fit any more. */
  readonly again: () => Promise<boolean>;
}

type Overtaking = (design: string, made: Made | undefined) => Promise<void>;
let overtaken: Overtaking = () => Promise.resolve();

/** Says what is to be done when another tab was first. */
export function whenOvertaken(then: Overtaking): void {
  overtaken = then;
}

/**
 * Keeps the open design whole, or with `change` only what that writes; what comes of it is told. A change belongs to the state
 * that it was computed on: it is never written over what another tab has written since.
 */
export function keep(change?: Change, made?: Made): Promise<void> {
  const id = get().design?.id;
  writing = writing.then(async () => {
    const design = get().design;
    if (!design || design.id !== id) return;
    const opening = received.openings;
    if (made && made.opening !== opening) {
      await overtaken(id, made);
      return;
    }
    try {
      // What could not be kept before is written whole.
      const whole = change ? { ...design, documents: change.documents, history: change.history, position: change.position } : design;
      const revision = change && get().unkept === undefined ? await shelf().change(design, change) : await shelf().put(whole);
      const now = get().design;
      // What another tab wrote meanwhile has a revision of its own.
      if (now?.id === id && opening === received.openings) set({ design: { ...now, revision }, unkept: undefined });
      announce(design.id);
    } catch (e) {
      if (e instanceof Overtaken && !e.gone) await overtaken(design.id, made);
      else if (e instanceof Overtaken) standAside();
      else set({ unkept: reasonOf(e) });
    }
  });
  return writing;
}

/** Keeps a design that is not open yet. */
export async function keepNew(design: StoredDesign): Promise<{ revision: number; unkept: string | undefined }> {
  try {
    return { revision: await shelf().put(design), unkept: undefined };
  } catch (e) {
    return { revision: design.revision, unkept: reasonOf(e) };
  }
}

/** Why the browser refuses, in words. */
export const reasonOf = (e: unknown): string => {
  // A library's error carries the browser's own within it.
  if (e instanceof Error && 'inner' in e && e.inner instanceof Error) return reasonOf(e.inner);
  const name = e instanceof Error ? e.name : '';
  const message = e instanceof Error ? e.message : String(e);
  return /quota/i.test(name + message) ? 'its storage is full' : message === '' ? name : message;
};

/** Keeps the design again after it was refused. */
export const keepAgain = (): Promise<void> => keep();

/** The open design was deleted elsewhere: what stands here goes on under an id of its own once it is kept again. */
export function standAside(): void {
  const { design } = get();
  if (design) set({ design: { ...design, id: crypto.randomUUID(), revision: 0 }, unkept: 'it was deleted in another tab' });
}

/** Notes the last prediction beside the kept design; nothing is lost when that does not work. */
export function summarise(): void {
  const { view, design } = get();
  if (view && design)
    void shelf()
      .summarise(design.id, summaryOf(view))
      .catch(() => undefined);
}

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
