import { runsIn } from '@gentle-compass/core/adjacency/speakers';
import { comparePredictions } from '@gentle-compass/core/compare/compare';
import { memberName, valueAt } from '@gentle-compass/core/design/edit';
import type { DocumentPath } from '@gentle-compass/core/design/design';
import { hideKeys } from '@gentle-compass/core/documents/key-digest';
import { Positions } from '@gentle-compass/core/documents/positions';
import { routeEvidence, type Origin } from '@gentle-compass/core/evidence/route-evidence';
import { formatAddress } from '@gentle-compass/core/prefix/address';
import { prefixNumber } from '@gentle-compass/core/documents/leaf-types';
import { prefixId } from '@gentle-compass/core/prefix/prefix-book';
import type { RibRoute } from '@gentle-compass/core/routes/rib';
import type { EvidenceView, RouteRow } from '../../model/view';
import type { Held } from '../held';
import { inOrder, routeRow } from '../views';

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
    const marked = rows.map((row): RouteRow => {
      const c = byKey.get(row.key);
      return c ? { ...row, change: c.change, before: hopWords(c.before) } : row;
    });
    const lost = (changes?.routes ?? [])
      .filter((c) => c.change === 'lost' && c.before)
      .map((c): RouteRow => ({ ...routeRow(base, index, c.before as RibRoute), hops: [], change: 'lost', before: hopWords(c.before) }));
    return inOrder([...marked, ...lost]);
  }

  /** Why a router has a route, with the lines of the documents that it rests on. */
  evidence(router: string, prefix: string, compared: boolean): EvidenceView | null {
    const { now, failed } = this.held;
    const typed = prefixNumber.read(prefix);
    const p = compared ? (failed ?? now) : now;
    const e = typed && routeEvidence(p, p.routerIndex(router), prefixId(typed.bits, typed.length));
    if (!e) return null;
    const lines = e.steps.flatMap((s) => ('origin' in s ? this.linesOf(s.origin) : []));
    return { ...e, lines };
  }

  /** The lines of a router document that an advertisement stands on. */
  private linesOf(origin: Origin): EvidenceView['lines'] {
    const { now, documents } = this.held;
    const router = now.design.routers.find((r) => r.name === origin.router);
    const document = documents.find((d) => d.file === router?.file);
    const instance = router?.instances.find((o) => runsIn(now.design, o));
    const entry = instance?.areas.find((a) => formatAddress(a.id) === origin.area);
    const below = (name: string): DocumentPath | undefined =>
      instance && document ? [...instance.at, memberName(document.tree, instance.at, name)] : undefined;
    const at = {
      interface: instance?.areas.flatMap((a) => a.interfaces).find((i) => i.name === origin.iface)?.at,
      ranges: entry && [...entry.at, 'ranges'],
      area: entry?.at,
      redistribution: below('redistribution'),
      'external-ranges': below('external-ranges'),
      default: below('default-route'),
      none: undefined,
    }[origin.node];
    if (!document || !router || !at || at.length === 0) return [];
    const place = new Positions(document).at(at);
    if (!place) return [];
    const shown = JSON.stringify(valueAt(document.tree, at), (k, v: unknown) => (k === 'interfaces' ? undefined : hideKeys(k, v)), 1).split('\n');
    return [
      {
        router: router.name,
        file: router.file,
        text: shown.length > 14 ? [...shown.slice(0, 13), ' …'].join('\n') : shown.join('\n'),
        line: place.line,
      },
    ];
  }
}
