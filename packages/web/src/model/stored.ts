import { causesIn } from './causes';
import { invertEdit, type Edit } from '@gentle-compass/core/design/edit';
import type { DesignSummary, StoredDesign } from '../storage/kept';
import type { DesignView } from './view';

/** What the shelf tells of a design without opening it. */
export const summaryOf = (view: DesignView): DesignSummary => ({
  routers: view.routers.length,
  areas: view.areas.length,
  routes: view.routeCount,
  errors: causesIn(view.findings).filter((f) => f.severity === 'error').length,
  warnings: causesIn(view.findings).filter((f) => f.severity === 'warning').length,
});

/** A design that nobody keeps yet. */
export const fresh = (stored: { name: string; documents: StoredDesign['documents'] }, variantOf?: string): StoredDesign => ({
  id: crypto.randomUUID(),
  name: stored.name,
  documents: stored.documents,
  history: [],
  position: 0,
  updated: Date.now(),
  revision: 0,
  ...(variantOf === undefined ? {} : { variantOf }),
});

/** An edit that the worker could not take. */
export class NotTaken extends Error {}

/** A fault of ours while an edit was being predicted, with the way to go on. */
export function notTaken(e: unknown): NotTaken {
  const reason = e instanceof Error ? e.message : String(e);
  return new NotTaken(`${reason}. Nothing of it was kept: the design is as it was before; undo and export work, and a reload opens it anew`, {
    cause: e,
  });
}

/** Edits that take edits back. */
export const backwards = (edits: readonly Edit[]): Edit[] => [...edits].reverse().map(invertEdit);
