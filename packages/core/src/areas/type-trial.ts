import { comparePredictions } from '../compare/compare';
import { applyEdits, type Edit } from '../design/edit';
import { backbone } from '../design/design';
import { areaKinds, type AreaKind } from '../design/terms';
import type { SourceDocument } from '../documents/documents';
import { readEntry } from '../entry/entry';
import { designFrom } from '../formats/read-set';
import { imports } from '../lsdb/external-lsa';
import type { Prediction } from '../predict';
import { prefixBook } from '../prefix/prefix-book';
import { areasAtAGlance, areaText, type TypeLoad } from './glance';

/** What another type of an area would do. */
export interface TypeTrial {
  readonly kind: AreaKind;
  /** It is of this type already, in all its routers. */
  readonly now: boolean;
  /** The line of quick entry that makes it so. */
  readonly line: string;
  readonly title: string;
  readonly edits: readonly Edit[];
  /** Routers whose documents change: one that was forgotten would lose its neighbours there (RFC 2328 §10.5). */
  readonly told: readonly string[];
  /** Advertisements that each of its routers would hold, by type. */
  readonly load: readonly TypeLoad[];
  readonly routes: { readonly lost: number; readonly gained: number; readonly changed: number; readonly routers: number };
  /** Who cannot reach what any more. */
  readonly outOfReach: readonly { readonly router: string; readonly prefixes: readonly string[] }[];
  /** Neighbours that would be lost. */
  readonly neighborsLost: number;
  /** Routers whose redistribution would go nowhere: they stand in stub areas alone. */
  readonly silenced: readonly string[];
  /** Why it cannot be; the other fields then say nothing. */
  readonly refused?: string;
}

const nothing = {
  now: false,
  title: '',
  edits: [],
  told: [],
  load: [],
  routes: { lost: 0, gained: 0, changed: 0, routers: 0 },
  outOfReach: [],
  neighborsLost: 0,
  silenced: [],
} satisfies Partial<TypeTrial>;

/** Tries one type of an area in all its routers, without changing anything. */
export function tryType(p: Prediction, documents: readonly SourceDocument[], area: number, kind: AreaKind): TypeTrial {
  const line = `${p.family === 6 ? 'v3 ' : ''}set area-type ${kind} on area ${areaText(area)}`;
  if (area === backbone && kind !== 'normal')
    return { ...nothing, kind, line, refused: 'The backbone can be no stub area and no NSSA (RFC 2328 §3.6).' };
  const glance = (x: Prediction) => areasAtAGlance(x).find((a) => a.id === area);
  const { plan, error } = readEntry(line, documents);
  if (!plan) {
    const kinds = glance(p)?.kinds ?? [];
    if (error?.message.startsWith('Nothing changes')) return { ...nothing, kind, line, now: true, load: glance(p)?.load ?? [] };
    return { ...nothing, kind, line, now: kinds.length === 1 && kinds[0]?.kind === kind, refused: error?.message ?? '' };
  }
  const after = p.edited(designFrom(applyEdits(documents, plan.edits)).design);
  const d = comparePredictions(p, after);
  const silenced = (x: Prediction): string[] =>
    x.adjacencies.speakers
      .filter((s) => imports(s) && !x.routing.isBoundaryRouter(s) && x.routing.areasOf(s).includes(area))
      .map((s) => s.router.name);
  const was = new Set(silenced(p));
  return {
    kind,
    now: false,
    line,
    title: plan.title,
    edits: plan.edits,
    told: [...new Set(plan.edits.map((e) => e.router))],
    load: glance(after)?.load ?? [],
    routes: { lost: d.lost, gained: d.gained, changed: d.changed, routers: d.routers.filter((r) => r.routes.length > 0).length },
    outOfReach: d.routers
      .filter((r) => r.outOfReach.length > 0)
      .map((r) => ({ router: r.router, prefixes: r.outOfReach.map((k) => prefixBook.text(k)) })),
    neighborsLost: d.neighbors.filter((n) => n.before === 'full' && n.after !== 'full').length,
    silenced: silenced(after).filter((n) => !was.has(n)),
  };
}

/** Every type side by side, one after the other, so that whoever asks can look up, or stop. */
export function* tryingTypes(p: Prediction, documents: readonly SourceDocument[], area: number): Generator<undefined, TypeTrial[]> {
  const out: TypeTrial[] = [];
  for (const kind of areaKinds) {
    out.push(tryType(p, documents, area, kind));
    yield undefined;
  }
  return out;
}
