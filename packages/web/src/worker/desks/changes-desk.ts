import { foldings } from '@gentle-compass/core/compare/folded';
import { comparing, routeCounts } from '@gentle-compass/core/compare/compare';
import { documentChanges } from '@gentle-compass/core/compare/document-changes';
import type { SourceDocument } from '@gentle-compass/core/documents/documents';
import { designFrom } from '@gentle-compass/core/formats/read-set';
import type { Prediction } from '@gentle-compass/core/predict';
import type { ComparisonView } from '../../model/view';
import type { Held } from '../held';
import { missing } from '../summing';
import { areaViews, electionViews } from '../views';

/** "Now" against what it is compared with. */
export class ChangesDesk {
  constructor(private readonly held: Held) {}

  /** What "now" is compared with from here on; `null`: nothing. */
  compareWith(documents: readonly SourceDocument[] | null): void {
    this.held.reference = documents ? { now: this.held.now.edited(designFrom(documents, { clock: Date.now() }).design), documents } : undefined;
  }

  /** Lines, neighbours, areas and routes that differ; `null` without anything to compare with, or when a newer state came. */
  async comparison(): Promise<ComparisonView | null> {
    const { reference, now, documents } = this.held;
    if (!reference) return null;
    const d = await this.held.sliced(comparing(reference.now, now));
    if (!d) return null;
    this.held.check();
    const { quick } = this.held;
    const before = this.held.quickCheck(reference.now, reference.documents).findings;
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
      routers: d.routers
        .filter((r) => r.gone || r.routes.length > 0)
        .map((r) => ({
          router: r.router,
          gone: r.gone,
          ...routeCounts(r),
          folded: foldings(r.routes).reduce((n, f) => n + (f.folded ? f.parts.length : 0), 0),
        })),
      lost: d.lost,
      gained: d.gained,
      changed: d.changed,
      findingsGone: missing(before, quick).map((f) => f.message),
      findingsNew: missing(quick, before).map((f) => f.message),
    };
  }
}
