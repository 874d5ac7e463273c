import { backbone } from '../../design/design';
import { covers, formatAddress, formatPrefix, isSix, type Prefix } from '../../prefix/address';
import { maskOf } from '../../prefix/ipv4';
import type { Check, CheckContext } from '../context';
import type { Draft } from '../finding';
import { exampleTo, movedHome, narrower, removeRange } from './range-repairs';
import type { AreaDatabase } from '../../lsdb/area-database';
import type { AreaGraph } from '../../lsdb/area-graph';
import { eachAttached } from '../../lsdb/attached-prefixes';
import { rangeFor } from '../../lsdb/summary-lsa';
import { prefixBook } from '../../prefix/prefix-book';
import type { Speaker } from '../../adjacency/speakers';
import type { Area, AreaRange } from '../../design/design';

const eachRange = (c: CheckContext, use: (s: Speaker, a: Area, r: AreaRange, n: number) => Draft[]): Draft[] =>
  c.prediction.adjacencies.speakers.flatMap((s) => s.instance.areas.flatMap((a) => a.ranges.flatMap((r, n) => use(s, a, r, n))));

const place = (c: CheckContext, s: Speaker, a: Area, n: number): Draft['where'][number] =>
  c.place(s.router, [...a.at, 'ranges', 'range', n], undefined, { area: formatAddress(a.id) });

/** Prefixes that an area brings inside, as one router's tree shows them. */
const partsOf = (c: CheckContext, s: Speaker, areaId: number): Prefix[] => c.prediction.routing.insideOf(s, areaId);

/** Subnets and hosts that an area's routers describe as their own, as numbers. */
interface Described {
  readonly bits: Float64Array;
  readonly length: Uint8Array;
}
const describedIn = new WeakMap<AreaGraph, Described>();

/** Networks of an area by its types 1 and 2, made once for a graph: an edit elsewhere leaves it as it is. */
function described(db: AreaDatabase): Described {
  const { graph } = db;
  let known = describedIn.get(graph);
  if (!known) {
    const found: number[] = [];
    eachAttached(graph, (v, id, _, link) => {
      if (link < 0 || graph.routers[v]?.portOf(link)) found.push(id);
    });
    known = { bits: Float64Array.from(found, (id) => prefixBook.bitsOf(id)), length: Uint8Array.from(found, (id) => prefixBook.lengthOf(id)) };
    describedIn.set(graph, known);
  }
  return known;
}

/** What of an area's own falls into a prefix. */
function within(prefix: Prefix, { bits, length }: Described): Prefix[] {
  const out: Prefix[] = [];
  if (isSix(prefix.bits)) {
    for (let i = 0; i < bits.length; i++) {
      const part = { bits: bits[i] ?? 0, length: length[i] ?? 0 };
      if (covers(prefix, part)) out.push(part);
    }
    return out;
  }
  const last = prefix.bits + (~maskOf(prefix.length) >>> 0);
  for (let i = 0; i < bits.length; i++) {
    const b = bits[i] ?? 0;
    const l = length[i] ?? 32;
    if (b >= prefix.bits && b <= last && l >= prefix.length) out.push({ bits: b, length: l });
  }
  return out;
}

/** A summary in a router that is no border router, or of an area that it does not stand in (RFC 2328 §12.4.3). */
export const rangeNotAtBorder: Check = {
  rule: 'range-not-at-border',
  about: 'A summary is set in a router that is not a border router of the area that the summary is for.',
  run: (c) =>
    eachRange(c, (s, a, r, n) => {
      const attached = c.prediction.routing.areasOf(s).includes(a.id);
      const border = c.prediction.routing.isBorderRouter(s);
      if (attached && border) return [];
      return [
        {
          rule: 'range-not-at-border',
          severity: 'error',
          where: [place(c, s, a, n)],
          message: attached
            ? `${s.router.name} has the summary ${formatPrefix(r.prefix)} of area ${formatAddress(a.id)}, but it is not an area border router: nothing is summarised.`
            : `${s.router.name} has the summary ${formatPrefix(r.prefix)} of area ${formatAddress(a.id)}, but none of its interfaces is in that area: nothing is summarised.`,
          evidence: [
            { router: s.router.name, what: 'areas', value: c.prediction.routing.areasOf(s).map(formatAddress).join(', '), origin: 'computed' },
          ],
          repairs: removeRange(c, s, a.id, r.prefix),
          ...exampleTo(c, r.prefix, [a.id]),
          rfc: 'RFC 2328 §12.4.3',
        },
      ];
    }),
};

/** A summary that nothing falls into, often set for the area it goes to instead of the one it comes from. */
export const rangeEmpty: Check = {
  rule: 'range-empty',
  about: 'No prefix of the area falls into the summary: it is never announced.',
  run: (c) =>
    eachRange(c, (s, a, r, n) => {
      if (!c.prediction.routing.isBorderRouter(s) || !c.prediction.routing.areasOf(s).includes(a.id)) return [];
      if (partsOf(c, s, a.id).some((p) => covers(r.prefix, p))) return [];
      const home = c.prediction.routing.areasOf(s).find((o) => o !== a.id && partsOf(c, s, o).some((p) => covers(r.prefix, p)));
      return [
        {
          rule: 'range-empty',
          severity: 'warning',
          where: [place(c, s, a, n)],
          message: `Nothing of area ${formatAddress(a.id)} falls into the summary ${formatPrefix(r.prefix)} of ${s.router.name}${home === undefined ? '' : `; its parts come from area ${formatAddress(home)}, and a summary belongs to the area it comes from`}.`,
          evidence: [
            {
              router: s.router.name,
              what: `prefixes of area ${formatAddress(a.id)}`,
              value: partsOf(c, s, a.id).map(formatPrefix).join(', ') || 'none',
              origin: 'computed',
            },
          ],
          repairs: [...(home === undefined ? [] : movedHome(c, s, a.id, home, r.prefix)), ...removeRange(c, s, a.id, r.prefix)],
          ...exampleTo(c, r.prefix, [a.id]),
          rfc: 'RFC 2328 §12.4.3',
        },
      ];
    }),
};

/** A summary whose space also holds subnets of another area. */
export const rangeForeign: Check = {
  rule: 'range-foreign',
  about: 'The summary also covers subnets of another area: it draws their traffic to the wrong border router.',
  run: (c) =>
    eachRange(c, (s, a, r, n) => {
      if (!r.advertise || !c.prediction.routing.isBorderRouter(s)) return [];
      const foreign: string[] = [];
      let first: { readonly prefix: Prefix; readonly area: number } | undefined;
      for (const db of c.prediction.routing.databases) {
        if (db.areaId === a.id || (db.areaId === backbone && a.id === backbone)) continue;
        for (const p of within(r.prefix, described(db))) {
          first ??= { prefix: p, area: db.areaId };
          foreign.push(`${formatPrefix(p)} (area ${formatAddress(db.areaId)})`);
        }
      }
      if (foreign.length === 0) return [];
      const shown = [...new Set(foreign)];
      return [
        {
          rule: 'range-foreign',
          severity: 'error',
          where: [place(c, s, a, n)],
          message: `The summary ${formatPrefix(r.prefix)} of area ${formatAddress(a.id)} in ${s.router.name} also claims ${shown.slice(0, 3).join(', ')}${shown.length > 3 ? ` and ${shown.length - 3} more` : ''}.`,
          evidence: shown
            .slice(0, 12)
            .map((v) => ({ router: s.router.name, what: 'claimed of another area', value: v, origin: 'computed' as const })),
          repairs: [...narrower(c, a.id, r.prefix), ...removeRange(c, s, a.id, r.prefix)],
          ...(first ? exampleTo(c, first.prefix, [a.id, first.area]) : {}),
          rfc: 'RFC 2328 §3.5',
        },
      ];
    }),
};

/** Each side's summaries written at the other. */
const copies = (c: CheckContext, a: { s: Speaker; a: Area }, b: { s: Speaker; a: Area }): Draft['repairs'] =>
  [
    [a, b],
    [b, a],
  ].flatMap(([from, to]) => {
    if (!from || !to || from.a.at.length === 0 || to.a.at.length === 0) return [];
    const list = c.edit(from.s.router, from.a.at, ['ranges', 'range'], undefined).from;
    const title =
      from.a.ranges.length === 0 ? `Take the summaries out of ${to.s.router.name}` : `Summarise in ${to.s.router.name} as ${from.s.router.name} does`;
    return [{ title, router: to.s.router.name, edits: [c.edit(to.s.router, to.a.at, ['ranges', 'range'], list)] }];
  });

/** Two border routers of one area with different summaries. */
export const rangesDiffer: Check = {
  rule: 'ranges-differ',
  about: 'Two border routers of one area summarise it differently.',
  run: (c) => {
    const byArea = new Map<number, { s: Speaker; a: Area }[]>();
    for (const s of c.prediction.adjacencies.speakers)
      if (c.prediction.routing.isBorderRouter(s))
        for (const a of s.instance.areas)
          if (c.prediction.routing.areasOf(s).includes(a.id)) byArea.set(a.id, [...(byArea.get(a.id) ?? []), { s, a }]);
    const text = (a: Area): string =>
      a.ranges
        .map((r) => `${formatPrefix(r.prefix)}${r.advertise ? '' : ' hidden'}${r.cost === undefined ? '' : ` cost ${r.cost}`}`)
        .sort()
        .join(', ') || 'none';
    return [...byArea.values()].flatMap((list): Draft[] => {
      const first = list[0];
      const other = list.find((x) => first && text(x.a) !== text(first.a));
      if (!first || !other) return [];
      const area = first.a.id;
      // What one of them folds and the other does not.
      const folds = (x: Area, p: Prefix): string => text({ ...x, ranges: x.ranges.filter((r) => r === rangeFor(x, p)) });
      const apart = partsOf(c, first.s, area).find((p) => folds(first.a, p) !== folds(other.a, p));
      return [
        {
          rule: 'ranges-differ',
          severity: 'warning',
          where: [
            c.place(first.s.router, [...first.a.at, 'ranges'], undefined, { area: formatAddress(first.a.id) }),
            c.place(other.s.router, [...other.a.at, 'ranges'], undefined, { area: formatAddress(first.a.id) }),
          ],
          message: `${first.s.router.name} and ${other.s.router.name} summarise area ${formatAddress(first.a.id)} differently: ${text(first.a)} against ${text(other.a)}.`,
          evidence: list.map((x) => ({ router: x.s.router.name, what: 'summaries', value: text(x.a), origin: 'written' as const })),
          repairs: copies(c, first, other),
          ...(apart ? exampleTo(c, apart, [area]) : {}),
          rfc: 'RFC 2328 §12.4.3',
        },
      ];
    });
  },
};

/** Border routers of one network that cost their summaries differently. */
export const rangeCostDiffers: Check = {
  rule: 'range-cost-differs',
  about: 'Some border routers cost a summary by its dearest part, some by its cheapest: of two for one area, one attracts the traffic.',
  run: (c) => {
    const borders = c.prediction.adjacencies.speakers.filter(
      (s) => c.prediction.routing.isBorderRouter(s) && s.instance.areas.some((a) => a.ranges.length > 0),
    );
    const small = borders.filter((s) => s.instance.rangeCost === 'smallest');
    if (small.length === 0 || small.length === borders.length) return [];
    const odd = small.length * 2 <= borders.length ? small : borders.filter((s) => s.instance.rangeCost === 'largest');
    const to = odd === small ? 'largest' : 'smallest';
    return [
      {
        rule: 'range-cost-differs',
        severity: 'warning',
        where: odd.map((s) => c.place(s.router, s.instance.at, 'range-cost')),
        message: `${odd.map((s) => s.router.name).join(', ')} cost${odd.length === 1 ? 's' : ''} a summary by its ${to === 'largest' ? 'cheapest' : 'dearest'} part, all other border routers by the ${to === 'largest' ? 'dearest' : 'cheapest'}.`,
        evidence: odd.map((s) => ({
          router: s.router.name,
          what: 'cost of ranges',
          value: s.instance.rangeCost,
          origin: s.instance.written.has('range-cost') ? ('written' as const) : ('standard' as const),
        })),
        repairs: odd.map((s) => ({
          title: `Cost summaries of ${s.router.name} by the ${to === 'largest' ? 'dearest' : 'cheapest'} part`,
          router: s.router.name,
          edits: [c.edit(s.router, s.instance.at, ['gentle-compass:range-cost'], to)],
        })),
        rfc: 'RFC 2328 §12.4.3',
      },
    ];
  },
};
