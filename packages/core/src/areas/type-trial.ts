import { compareNeighbors } from '../compare/compare';
import { applyEdits, type Edit } from '../design/edit';
import { backbone } from '../design/design';
import { areaKinds, type AreaKind } from '../design/terms';
import type { SourceDocument } from '../documents/documents';
import { readEntry } from '../entry/entry';
import { designFrom } from '../formats/read-set';
import { imports } from '../lsdb/external-lsa';
import type { Lsa } from '../lsdb/lsa';
import { lsaKey } from '../lsdb/lsa-body';
import type { Prediction } from '../predict';
import { trialDifference, type TrialDifference } from './trial-difference';
import { areasAtAGlance, areaText, type TypeLoad } from './glance';
import { heldIn } from './held';
import { routerNamed, saysWhat, typeName, typeOf, typeText } from './lsa-words';

/** An advertisement in words. */
export interface AdvertisementWords {
  readonly type: string;
  readonly name: string;
  readonly router: string;
  readonly says: string;
}

/** What another type of an area would do. */
export interface TypeTrial extends TrialDifference {
  readonly kind: AreaKind;
  /** It is of this type already, in all its routers. */
  readonly now: boolean;
  /** The line of quick entry that makes it so. */
  readonly line: string;
  readonly title: string;
  readonly edits: readonly Edit[];
  /** The same in both families; `undefined` where the other one has no such area, or has it so already. */
  readonly both: readonly Edit[] | undefined;
  /** Routers whose documents change: one that was forgotten would lose its neighbours there (RFC 2328 §10.5). */
  readonly told: readonly string[];
  /** Advertisements that each of its routers would hold, by type. */
  readonly load: readonly TypeLoad[];
  /** What its routers hold no more, and what stands in for it. */
  readonly gone: readonly AdvertisementWords[];
  readonly come: readonly AdvertisementWords[];
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
  both: undefined,
  told: [],
  load: [],
  gone: [],
  come: [],
  tables: [],
  routes: { lost: 0, gained: 0, changed: 0, routers: 0 },
  outOfReach: [],
  asked: undefined,
  neighborsLost: 0,
  silenced: [],
} satisfies Partial<TypeTrial>;

/** Advertisements that routers of an area hold, each once, by what names them. */
function heldInArea(p: Prediction, area: number): Map<string, Lsa> {
  const out = new Map<string, Lsa>();
  for (const db of p.routing.databases.filter((d) => d.areaId === area))
    for (const { lsa } of heldIn(p, db)) {
      const { type, id, adv } = lsaKey(lsa);
      out.set(`${type} ${id} ${adv}`, lsa);
    }
  return out;
}

/** Those of the first state that are not in the second one, by type, as the first state tells them. */
function lacking(p: Prediction, first: ReadonlyMap<string, Lsa>, second: ReadonlyMap<string, Lsa>): AdvertisementWords[] {
  return [...first]
    .filter(([key]) => !second.has(key))
    .map(([, lsa]) => lsa)
    .sort((a, b) => typeOf(a) - typeOf(b))
    .map((lsa) => ({ type: typeText(typeOf(lsa)), name: typeName(typeOf(lsa)), router: routerNamed(p, lsa.adv), says: saysWhat(p, lsa) }));
}

/** Edits of one family, and after them those that a line makes in the other one. */
function inBoth(line: string, edits: readonly Edit[], documents: readonly SourceDocument[]): readonly Edit[] | undefined {
  const { plan } = readEntry(line, applyEdits(documents, edits));
  return plan && [...edits, ...plan.edits];
}

/** Tries one type of an area in all its routers, without changing anything. */
export function tryType(p: Prediction, documents: readonly SourceDocument[], area: number, kind: AreaKind): TypeTrial {
  const line = `${p.family === 6 ? 'v3 ' : ''}set area-type ${kind} on area ${areaText(area)}`;
  if (area === backbone && kind !== 'normal')
    return { ...nothing, kind, line, refused: 'The backbone can be no stub area and no NSSA (RFC 2328 §3.6).' };
  const glance = (x: Prediction) => areasAtAGlance(x).find((a) => a.id === area);
  const { kinds = [], load = [] } = glance(p) ?? {};
  if (kinds.length === 1 && kinds[0]?.kind === kind) return { ...nothing, kind, line, now: true, load };
  const { plan, error } = readEntry(line, documents);
  if (!plan) return { ...nothing, kind, line, refused: error?.message ?? '' };
  const after = p.edited(designFrom(applyEdits(documents, plan.edits)).design);
  const d = trialDifference(p, after, area);
  const silenced = (x: Prediction): string[] =>
    x.adjacencies.speakers
      .filter((s) => imports(s) && !x.routing.isBoundaryRouter(s) && x.routing.areasOf(s).includes(area))
      .map((s) => s.router.name);
  const was = new Set(silenced(p));
  const [before, then] = [heldInArea(p, area), heldInArea(after, area)];
  return {
    kind,
    now: false,
    line,
    title: plan.title,
    edits: plan.edits,
    both: inBoth(p.family === 6 ? line.slice('v3 '.length) : `v3 ${line}`, plan.edits, documents),
    told: [...new Set(plan.edits.map((e) => e.router))],
    load: glance(after)?.load ?? [],
    gone: lacking(p, before, then),
    come: lacking(after, then, before),
    tables: d.tables,
    routes: d.routes,
    outOfReach: d.outOfReach,
    asked: d.asked,
    neighborsLost: compareNeighbors(p, after).filter((n) => n.before === 'full' && n.after !== 'full').length,
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
