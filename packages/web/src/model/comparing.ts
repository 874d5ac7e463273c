import { applyEdits } from '@gentle-compass/core/design/edit';
import { shelf } from '../storage/shelf';
import type { StoredDesign } from '../storage/kept';
import { workbench } from '../worker/client';
import { received } from './received';
import { useStore, type Reference } from './state';
import { backwards } from './stored';

const { setState: set, getState: get } = useStore;

/** Documents of what is compared with. */
async function documentsOf(r: Reference): Promise<StoredDesign['documents'] | undefined> {
  const { design } = get();
  if (r.kind === 'opened') return received.opened;
  if (r.kind === 'design') return (await shelf().design(r.id))?.documents;
  if (r.kind === 'version') return (await shelf().versions.get(r.id))?.documents;
  const step = design?.history[design.position - 1];
  return design && step ? applyEdits(design.documents, backwards(step.edits)) : design?.documents;
}

/** Chooses what "now" is compared with, everywhere. */
export async function refer(reference: Reference | undefined): Promise<void> {
  const documents = reference && (await documentsOf(reference).catch(() => undefined));
  await workbench().changes.compareWith(documents ?? null);
  set({ reference: documents ? reference : undefined, comparison: undefined });
  await layBeside();
}

let besideTurn = 0;

/** Lays now beside what it is compared with; the newest wish wins. */
export async function layBeside(): Promise<void> {
  const turn = ++besideTurn;
  if (!get().reference) return;
  const comparison = await workbench().changes.comparison();
  if (turn === besideTurn && comparison && get().reference) set({ comparison });
}
