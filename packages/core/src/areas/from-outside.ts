import type { Speaker } from '../adjacency/speakers';
import { areaKindOf, type AreaKind } from '../design/terms';
import { imports } from '../lsdb/external-lsa';
import type { ExternalLsa } from '../lsdb/lsa';
import { comparePrefixes, everything, formatAddress, formatPrefix } from '../prefix/address';
import { prefixBook, prefixId } from '../prefix/prefix-book';
import type { Prediction } from '../predict';
import type { ExitRule } from '../routes/external';
import { domainDatabase, heldKey, holdersOf, type Held } from './held';
import { routerNamed, typeName, typeOf, typeText } from './lsa-words';

/** One advertisement by which a prefix enters from outside. */
export interface Entrance {
  readonly key: string;
  readonly router: string;
  readonly type: string;
  readonly name: string;
  /** The NSSA that a type 7 stays in; `undefined`: it floods everywhere. */
  readonly area: number | undefined;
  /** What it was brought in from. */
  readonly from: ExternalLsa['reason'];
  readonly metric: number;
  readonly metricType: 'type-1' | 'type-2';
  readonly tag: number;
  /** Address that packets are sent to instead of the boundary router; empty: none. */
  readonly forwarding: string;
  /** Routers that hold it. */
  readonly holders: number;
}

/** A prefix that comes from outside, with all ways in. */
export interface OutsidePrefix {
  readonly prefix: string;
  readonly entrances: readonly Entrance[];
}

const isExternal = (h: Held): h is Held & { readonly lsa: ExternalLsa } => h.lsa.type === 5 || h.lsa.type === 7;

/** Every prefix that enters from outside: where, as what, with which metric, type and tag, and how far it travels (RFC 2328 §12.4.4). */
export function outsidePrefixes(p: Prediction): OutsidePrefix[] {
  const by = new Map<number, Entrance[]>();
  for (const held of domainDatabase(p)) {
    if (!isExternal(held)) continue;
    const { lsa } = held;
    const key = prefixId(lsa.bits, lsa.length);
    const list = by.get(key) ?? [];
    by.set(key, list);
    list.push({
      key: heldKey(held),
      router: routerNamed(p, lsa.adv),
      type: typeText(typeOf(lsa)),
      name: typeName(typeOf(lsa)),
      area: held.area,
      from: lsa.reason,
      metric: lsa.metric,
      metricType: lsa.metricType,
      tag: lsa.tag,
      forwarding: lsa.forwarding === 0 ? '' : formatAddress(lsa.forwarding),
      holders: holdersOf(p, held).length,
    });
  }
  return [...by]
    .map(([key, entrances]) => ({ at: prefixBook.prefix(key), entrances }))
    .sort((a, b) => comparePrefixes(a.at, b.at))
    .map(({ at, entrances }) => ({ prefix: formatPrefix(at), entrances }));
}

/** What a router does with a prefix from outside. */
export interface ExitsAt {
  readonly router: string;
  /** Boundary routers that it sends to; none: see `why`. */
  readonly to: readonly string[];
  /** `external-1`, `nssa-2`; empty where it takes none. */
  readonly type: string;
  readonly metric: number | undefined;
  readonly distance: number | undefined;
  /** Why these and no other: the rule that decided, or what it has instead. */
  readonly why: string;
}

const ruleWords: Readonly<Record<ExitRule, string>> = {
  'type-1-first': 'type 1 goes before type 2',
  'smaller-metric': 'its type 2 metric is smaller',
  'preferred-path': 'the way to it leads through an area other than the backbone (§16.4.1)',
  nearer: 'it is nearer',
  'same-thing': 'both say the same, and one stands back (RFC 3101 §2.5)',
  equal: 'they are equal, both are used',
};

const ownWords = { direct: 'an interface of its own', static: 'its static route', other: 'what another protocol brings' } as const;

/** Which exit wins at a router for a prefix, and by which rule (RFC 2328 §16.4 (6), RFC 3101 §2.5 (6)). */
export function exitsAt(p: Prediction, s: Speaker, key: number): ExitsAt {
  const none = { router: s.router.name, to: [], type: '', metric: undefined, distance: undefined };
  const { routing } = p;
  if (routing.hasInside(s, key)) return { ...none, why: 'It has the prefix from inside: what comes from outside is not looked at.' };
  const line = p.rib(s.routerIndex).find((r) => r.key === key);
  if (line && line.source !== 'ospf' && line.source !== 'ospf-discard')
    return { ...none, why: `Its own table takes ${ownWords[line.source]}, before what OSPF brings.` };
  const exits = routing.exits(s, key);
  const [first] = exits;
  if (!first) {
    if (tells(p, s, key)) return { ...none, why: 'It brings the prefix in itself.' };
    const types = routing.areasOf(s).map((a) => routing.areaOf(s, a).type);
    if (types.includes('normal')) return { ...none, why: 'It reaches none of those that bring it.' };
    const byDefault = routing.table(s).has(prefixId(everything(p.family === 6).bits, 0))
      ? ': a default takes its place'
      : ', and no default takes its place';
    return { ...none, why: `No type 5 enters ${types.includes('nssa') ? 'its NSSA' : 'its stub area'}${byDefault}.` };
  }
  if (!line) return { ...none, why: 'OSPF brings it, and its own table refuses it.' };
  const used = exits.filter((e) => e === first || e.rule === 'equal');
  const others = exits.filter((e) => !used.includes(e));
  const names = (list: typeof exits): string[] => [...new Set(list.map((e) => routerNamed(p, e.lsa.adv)))];
  const parts = others.map((e) => `before ${routerNamed(p, e.lsa.adv)}: ${ruleWords[e.rule ?? 'equal']}`);
  if (used.length > 1) parts.unshift(ruleWords[used[1]?.rule ?? 'equal']);
  return {
    router: s.router.name,
    to: names(used),
    type: first.route.type,
    metric: first.route.metric,
    distance: first.route.forwardMetric,
    why: parts.length === 0 ? 'It is the only one.' : `${[...new Set(parts)].slice(0, 3).join('; ')}.`.replace(/^./, (c) => c.toUpperCase()),
  };
}

/** A border router of an NSSA and its part in translating. */
export interface Translator {
  readonly router: string;
  readonly routerId: string;
  /** It is told to translate, whoever else does. */
  readonly always: boolean;
  readonly translates: boolean;
}

/** One piece of an NSSA and who translates for it. */
export interface NssaTranslators {
  readonly area: number;
  readonly translators: readonly Translator[];
  /** Why these; and who would follow. */
  readonly why: string;
  readonly next: string;
}

/** Who translates for each NSSA, why, and who would follow (RFC 3101 §3.1). */
export function nssaTranslators(p: Prediction): NssaTranslators[] {
  const { speakers } = p.adjacencies;
  return p.routing.databases.flatMap((db): NssaTranslators[] => {
    const own = db.speakers.flatMap((n) => speakers[n] ?? []);
    if (!own.some((s) => p.routing.areaOf(s, db.areaId).type === 'nssa')) return [];
    const translators = own
      .filter((s) => p.routing.isBorderRouter(s))
      .map((s): Translator & { readonly id: number } => ({
        router: s.router.name,
        id: s.routerId,
        routerId: formatAddress(s.routerId),
        always: p.routing.areaOf(s, db.areaId).translatorAlways,
        translates: p.routing.domain.translating.has(s.index),
      }))
      .sort((a, b) => b.id - a.id);
    const now = translators.filter((t) => t.translates);
    const rest = translators.filter((t) => !t.translates);
    const [follows] = rest;
    return [
      {
        area: db.areaId,
        translators: translators.map(({ router, routerId, always, translates }) => ({ router, routerId, always, translates })),
        why:
          now.length === 0
            ? 'No border router leads out: what it brings in stays inside.'
            : now.some((t) => t.always)
              ? 'It is told to translate always.'
              : now.length > 1
                ? 'They do not reach each other inside it: each translates for its own part.'
                : 'It has the largest router id among the border routers that reach each other there.',
        next:
          follows === undefined
            ? now.length > 1 && now.every((t) => t.always)
              ? 'If one fails, the others go on.'
              : 'Nobody would follow.'
            : now.some((t) => t.always)
              ? `${follows.router} would follow once none of these is reached.`
              : `${follows.router} would follow.`,
      },
    ];
  });
}

/** What stands at a border router of a stub area or NSSA in place of what does not come in. */
export interface StubBorder {
  readonly area: number;
  readonly kind: AreaKind;
  readonly router: string;
  readonly says: string;
}

/** What happens at each stub border (RFC 2328 §12.4.3.1, RFC 3101 §2.7). */
export function stubBorders(p: Prediction): StubBorder[] {
  return p.adjacencies.speakers.flatMap((s) => {
    if (!p.routing.isBorderRouter(s)) return [];
    return p.routing.areasOf(s).flatMap((id): StubBorder[] => {
      const a = p.routing.areaOf(s, id);
      if (a.type === 'normal') return [];
      const summaries = a.summary ? 'summaries come in' : 'no summaries come in';
      const told =
        a.type === 'stub' || !a.summary
          ? `a default by type ${typeText(p.family === 6 ? 0x2003 : 3)} at cost ${a.defaultCost}`
          : a.nssaDefault
            ? `a default by type 7 at metric ${a.defaultCost}, ${a.nssaDefaultType}`
            : 'no default: what is outside is not reached by it';
      return [{ area: id, kind: areaKindOf(a.type, a.summary), router: s.router.name, says: `No type 5, ${summaries}; ${told}.` }];
    });
  });
}

/** Routers that are asked to bring something in, whether they have anything to bring or not. */
export const importing = (p: Prediction): string[] => p.adjacencies.speakers.filter(imports).map((s) => s.router.name);

/** Routers that bring in what goes nowhere: they stand in stub areas alone. */
export const silenced = (p: Prediction): string[] =>
  p.adjacencies.speakers.filter((s) => imports(s) && !p.routing.isBoundaryRouter(s)).map((s) => s.router.name);

/** One step of a circle: who tells whom, and how. */
export interface CircleStep {
  readonly from: string;
  readonly to: string;
  readonly by: 'OSPF' | 'the other protocol';
}

/** A way on which a prefix comes back to a router that it went out from. */
export interface Circle {
  readonly prefix: string;
  readonly steps: readonly CircleStep[];
  /** It goes round now; it would if another route went; something ends it. */
  readonly state: 'closed' | 'open' | 'ended';
  readonly why: string;
}

/**
 * Circles that two-point redistribution makes: a router hands a prefix to another one by another protocol, that one tells OSPF
 * of it, and the first one believes it (RFC 2328 §2.3 leaves tags for that).
 */
export function circles(p: Prediction): Circle[] {
  const { speakers } = p.adjacencies;
  return speakers.flatMap((s) =>
    p.routing.localRoutes(s).flatMap((route): Circle[] => {
      const into = s.instance.redistribution.find((r) => r.source === 'other');
      if (!route.handedBy || !into) return [];
      const from = speakers.find((x) => x.router.name === route.handedBy?.router);
      if (!from) return [];
      const prefix = formatPrefix(route);
      const steps: CircleStep[] = [
        { from: from.router.name, to: s.router.name, by: 'the other protocol' },
        { from: s.router.name, to: from.router.name, by: 'OSPF' },
      ];
      const over = p.routing.handing(s, route);
      if (over.is === 'refused')
        return [
          { prefix, steps, state: 'ended', why: `The policy ${route.handedBy.policies.join(', ')} keeps ${from.router.name} from handing it over.` },
        ];
      if (over.is !== 'stands')
        return [{ prefix, steps, state: 'open', why: `${from.router.name} has it from nowhere else now; when it has, this way is open.` }];
      if (!tells(p, s, route.key)) {
        const mine = p.rib(s.routerIndex).some((r) => r.key === route.key && r.source === 'other');
        if (!mine) return [{ prefix, steps, state: 'open', why: `${s.router.name} takes a better route to it, and does not tell OSPF of this one.` }];
        return into.policies.length > 0
          ? [
              {
                prefix,
                steps,
                state: 'ended',
                why: `The policy ${into.policies.join(', ')} of ${s.router.name} refuses it${over.tag === 0 ? '' : `: it comes with tag ${over.tag}`}.`,
              },
            ]
          : [];
      }
      // Where it is not heard, behind a stub area or in another NSSA, nothing goes round.
      if (!p.routing.exits(from, route.key).some((e) => tellerOf(p, e.lsa, route.key) === s)) return [];
      const way = wayBack(p, from, s, route.key);
      if (way) return [{ prefix, steps: [steps[0] ?? { from: '', to: '', by: 'OSPF' }, ...way], state: 'closed', why: closedWords(from, s) }];
      const taken = exitsAt(p, from, route.key);
      const instead =
        taken.to.length > 0
          ? `${from.router.name} takes ${taken.to.join(', ')} instead`
          : `${from.router.name}: ${taken.why.toLowerCase().replace(/\.$/, '')}`;
      return [{ prefix, steps, state: 'open', why: `${instead}. Without that it would believe ${s.router.name}, and the prefix would go round.` }];
    }),
  );
}

/** Whether a router itself tells OSPF of a prefix from outside, by type 5 or in an NSSA. */
const tells = (p: Prediction, s: Speaker, key: number): boolean =>
  [...p.routing.externals(s), ...p.routing.areasOf(s).flatMap((a) => p.routing.database(s, a)?.nssa ?? [])].some(
    (l) => l.speaker === s.index && prefixId(l.bits, l.length) === key,
  );

const closedWords = (from: Speaker, s: Speaker): string =>
  `${from.router.name} believes what ${s.router.name} tells of it, and ${s.router.name} has it from ${from.router.name}: packets go round, and the prefix stays when its origin is gone.`;

/** The router that brought in what an advertisement tells: of a translated one that of its type 7. */
function tellerOf(p: Prediction, lsa: ExternalLsa, key: number): Speaker | undefined {
  const said = p.adjacencies.speakers.find((s) => s.routerId === lsa.adv);
  if (lsa.reason !== 'translated' || !said) return said;
  const [source] = p.routing.table(said).get(key)?.sources ?? [];
  return p.adjacencies.speakers.find((s) => s.routerId === source?.adv) ?? said;
}

/** The steps by which what a router hands over comes back to it: over its own route, and what others hand over in turn. */
function wayBack(p: Prediction, from: Speaker, to: Speaker, key: number): CircleStep[] | undefined {
  const { speakers } = p.adjacencies;
  const steps: CircleStep[] = [];
  let at = from;
  for (let n = 0; n < speakers.length; n++) {
    const [first] = p.routing.exits(at, key);
    const teller = first && tellerOf(p, first.lsa, key);
    if (!first || !teller || p.routing.hasInside(at, key)) return undefined;
    steps.unshift({ from: teller.router.name, to: at.router.name, by: 'OSPF' });
    if (teller === to) return steps;
    const handed = p.routing.localRoutes(teller).find((l) => l.key === key && l.handedBy);
    const next = handed && speakers.find((s) => s.router.name === handed.handedBy?.router);
    if (!next || next === from) return undefined;
    steps.unshift({ from: next.router.name, to: teller.router.name, by: 'the other protocol' });
    at = next;
  }
  return undefined;
}
