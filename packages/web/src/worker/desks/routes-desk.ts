import { comparePredictions, type RouteChange } from '@gentle-compass/core/compare/compare';
import { foldings } from '@gentle-compass/core/compare/folded';
import { formatPrefix } from '@gentle-compass/core/prefix/address';
import { routeEvidence } from '@gentle-compass/core/evidence/route-evidence';
import { prefixNumber } from '@gentle-compass/core/documents/leaf-types';
import { prefixId } from '@gentle-compass/core/prefix/prefix-book';
import type { RibRoute } from '@gentle-compass/core/routes/rib';
import type { EvidenceView, RouteRow } from '../../model/view';
import type { Held } from '../held';
import { linesOf } from '../origin-lines';
import { inOrder, routeRow } from '../views';

/** What the lines of a table have to do with summaries that came or went, by the key of the line. */
function foldedIn(changes: readonly RouteChange[]): ReadonlyMap<number, string> {
  const out = new Map<number, string>();
  for (const f of foldings(changes)) {
    out.set(f.whole.key, f.folded ? `stands for ${f.parts.length}` : `${f.parts.length} in its place`);
    for (const p of f.parts) out.set(p.key, f.folded ? `in ${formatPrefix(f.whole)} now` : `was in ${formatPrefix(f.whole)}`);
  }
  return out;
}

/** Tables of routers, and why they are as they are. */
export class RoutesDesk {
  constructor(private readonly held: Held) {}

  /** A router's own table; with a failure in force, what it changed is marked and lost routes stand in it. */
  table(router: string, compared: boolean): RouteRow[] {
    const { now, failed, reference } = this.held;
    const index = now.routerIndex(router);
    if (index < 0) return [];
    const p = compared ? (failed ?? now) : now;
    const rows = p.rib(index).map((r) => routeRow(p, index, r));
    // A failure is held against the network as it is; without one, that against what it is compared with.
    const base = failed ? now : reference?.now;
    if (!compared || !base) return inOrder(rows);
    const changes = comparePredictions(base, p).routers.find((r) => r.router === router);
    const byKey = new Map(changes?.routes.map((c) => [c.key, c]));
    const hopWords = (r: RibRoute | undefined): string => {
      if (!r) return '';
      const row = routeRow(base, index, r);
      return `${row.metric ?? ''} via ${row.hops.map((h) => h.router || h.iface).join(', ') || 'nothing'}`;
    };
    const foldedWords = foldedIn(changes?.routes ?? []);
    const folded = (key: number): string => foldedWords.get(key) ?? '';
    const marked = rows.map((row): RouteRow => {
      const c = byKey.get(row.key);
      return c ? { ...row, change: c.change, before: hopWords(c.before), folded: folded(row.key) } : row;
    });
    const lost = (changes?.routes ?? [])
      .filter((c) => c.change === 'lost' && c.before)
      .map((c): RouteRow => ({
        ...routeRow(base, index, c.before as RibRoute),
        hops: [],
        change: 'lost',
        before: hopWords(c.before),
        folded: folded(c.key),
      }));
    return inOrder([...marked, ...lost]);
  }

  /** Why a router has a route, with the lines of the documents that it rests on. */
  evidence(router: string, prefix: string, compared: boolean): EvidenceView | null {
    const { now, failed } = this.held;
    const typed = prefixNumber.read(prefix);
    const p = compared ? (failed ?? now) : now;
    const e = typed && routeEvidence(p, p.routerIndex(router), prefixId(typed.bits, typed.length));
    if (!e) return null;
    const lines = e.steps.flatMap((s) => ('origin' in s ? linesOf(this.held, s.origin) : []));
    return { ...e, lines };
  }
}
