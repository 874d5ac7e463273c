import type { Speaker } from '../adjacency/speakers';
import { backbone } from '../design/design';
import { summaryPasses, rangeFor } from '../lsdb/summary-lsa';
import { covers, formatPrefix, type Prefix } from '../prefix/address';
import { prefixId } from '../prefix/prefix-book';
import type { Prediction } from '../predict';
import { areaWords } from './flooding';
import { heldIn, heldKey, type Held } from './held';
import { metricOf, prefixesOf, routerNamed, typeName, typeOf, typeText } from './lsa-words';

/** One advertisement that tells of a prefix, in one area. */
export interface PrefixForm {
  readonly key: string;
  /** `3`, `0x2003`. */
  readonly type: string;
  readonly name: string;
  readonly router: string;
  readonly prefix: string;
  readonly metric: number | undefined;
  /** The prefix itself; one that holds it; a default. */
  readonly as: 'itself' | 'folded' | 'default';
}

/** What one area knows of a prefix. */
export interface PrefixInArea {
  readonly area: number;
  readonly routers: readonly string[];
  /** The nearest form: of several kinds the longest prefix. */
  readonly forms: readonly PrefixForm[];
  /** Why it is not told here as itself. */
  readonly why: string;
}

const isDefault = (x: Prefix): boolean => x.length === 0;

/** The forms of a prefix among advertisements: those of the longest prefix that holds it. */
function formsIn(p: Prediction, held: readonly Held[], prefix: Prefix): PrefixForm[] {
  let longest = -1;
  let best: { readonly held: Held; readonly at: Prefix }[] = [];
  for (const h of held)
    for (const x of prefixesOf(h.lsa)) {
      if (x.length < longest || !covers(x, prefix)) continue;
      if (x.length > longest) best = [];
      longest = x.length;
      best.push({ held: h, at: x });
    }
  return best.map(({ held: h, at }) => ({
    key: heldKey(h),
    type: typeText(typeOf(h.lsa)),
    name: typeName(typeOf(h.lsa)),
    router: routerNamed(p, h.lsa.adv),
    prefix: formatPrefix(at),
    metric: metricOf(h.lsa),
    as: at.length === prefix.length ? 'itself' : isDefault(at) ? 'default' : 'folded',
  }));
}

const isInside = (f: PrefixForm): boolean => ['1', '2', '0x2001', '0x2002', '0x2009'].includes(f.type);

/** What keeps a prefix of one area out of another: a policy or a range that is not told, a summary, an area that takes none. */
export interface KeptOut {
  readonly kind: 'filtered' | 'folded' | 'stub-area';
  /** The summary; of what is filtered what the router does, in words. */
  readonly by: string;
}

/** What at a border router keeps a prefix of one area out of another. */
export function keptOutAt(p: Prediction, s: Speaker, from: number, into: number, prefix: Prefix): KeptOut | undefined {
  const [source, target] = [p.routing.areaOf(s, from), p.routing.areaOf(s, into)];
  // Ranges fold what lies inside the area, not what came through it (RFC 2328 §12.4.3).
  const own = p.routing.table(s).get(prefixId(prefix.bits, prefix.length));
  const range = own && own.type !== 'intra-area' ? undefined : rangeFor(source, prefix);
  if (range && !range.advertise) return { kind: 'filtered', by: `keeps ${formatPrefix(range.prefix)} back` };
  if (range) return { kind: 'folded', by: formatPrefix(range.prefix) };
  if (target.type !== 'normal' && !target.summary) return { kind: 'stub-area', by: '' };
  if (!summaryPasses(s.router.policies, { ...prefix, metric: 0 }, source.summaryOut, target.summaryIn)) {
    const policies = [...source.summaryOut, ...target.summaryIn];
    return { kind: 'filtered', by: `stops it by the policy ${policies.join(', ')}` };
  }
  return undefined;
}

/** The same in words. */
function keptOutWords(p: Prediction, s: Speaker, from: number, into: number, prefix: Prefix): string | undefined {
  const kept = keptOutAt(p, s, from, into, prefix);
  if (!kept) return undefined;
  const does =
    kept.kind === 'folded' ? `folds it into ${kept.by}` : kept.kind === 'stub-area' ? `lets no summaries into ${areaWords(into)}` : kept.by;
  return `${s.router.name} ${does}`;
}

/**
 * What every area knows of a prefix, and how it changes its form on the way: links and networks where it lies, a summary of
 * itself beyond, folded into a range, or a default in its place, each with the reason (RFC 2328 §3.2, §3.5, §3.6).
 */
export function prefixForms(p: Prediction, prefix: Prefix): PrefixInArea[] {
  const { speakers } = p.adjacencies;
  const areas = p.routing.databases.map((db) => {
    return { db, routers: db.speakers.flatMap((n) => speakers[n] ?? []), forms: formsIn(p, heldIn(p, db), prefix) };
  });
  const home = areas.filter((a) => a.forms.some((f) => f.as === 'itself' && isInside(f))).map((a) => a.db.areaId);
  const known = areas.some((a) => a.forms.some((f) => f.as === 'itself'));
  const rank = (id: number): number => (home.includes(id) ? 0 : id === backbone ? 1 : 2);
  return areas
    .sort((a, b) => rank(a.db.areaId) - rank(b.db.areaId) || a.db.areaId - b.db.areaId)
    .map(({ db, routers, forms }) => ({
      area: db.areaId,
      routers: routers.map((s) => s.router.name),
      forms,
      why: forms.some((f) => f.as === 'itself') ? '' : known ? whyNotItself(p, routers, home, db.areaId, prefix) : nobody(forms),
    }));
}

/** A prefix that no router of the design brings: what holds it holds it for nothing. */
function nobody(forms: readonly PrefixForm[]): string {
  const [first] = forms;
  const empty = first && first.as === 'folded' ? `, ${first.prefix} holds it all the same: it ends where that is summarised` : '';
  return `No router brings it${empty}.`;
}

/** Why an area is not told of a prefix as such: what its border routers do with it. */
function whyNotItself(p: Prediction, routers: readonly Speaker[], home: readonly number[], into: number, prefix: Prefix): string {
  const [any] = routers;
  if (home.length === 0) {
    const type = any ? p.routing.areaOf(any, into).type : 'normal';
    return type === 'normal'
      ? 'No router tells this area of it.'
      : `It comes from outside, and no type 5 enters ${type === 'stub' ? 'a stub area' : 'an NSSA'}.`;
  }
  const borders = routers.filter((s) => p.routing.isBorderRouter(s));
  if (borders.length === 0) return 'No border router leads into this area.';
  const reasons = new Set<string>();
  // On the way: out of its own area into the backbone, and from there into this one.
  for (const from of home) {
    for (const s of p.adjacencies.speakers.filter((x) => p.routing.isBorderRouter(x) && p.routing.areasOf(x).includes(from))) {
      const why = keptOutWords(p, s, from, into === from ? backbone : p.routing.areasOf(s).includes(into) ? into : backbone, prefix);
      if (why !== undefined) reasons.add(why);
    }
  }
  if (into !== backbone)
    for (const s of borders) {
      const why = keptOutWords(p, s, backbone, into, prefix);
      if (why !== undefined) reasons.add(why);
    }
  if (reasons.size === 0) return 'No border router has a route to it that it may tell.';
  const words = [...reasons].slice(0, 4).join('; ');
  return `${words[0]?.toUpperCase() ?? ''}${words.slice(1)}.`;
}
