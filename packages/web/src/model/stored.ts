import type { DesignSummary, StoredDesign } from '../storage/kept';
import type { DesignView } from './view';

/** What the shelf tells of a design without opening it. */
export const summaryOf = (view: DesignView): DesignSummary => ({
  routers: view.routers.length,
  areas: view.areas.length,
  routes: view.routeCount,
  errors: view.findings.filter((f) => f.severity === 'error' && !f.accepted).length,
  warnings: view.findings.filter((f) => f.severity === 'warning' && !f.accepted).length,
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
