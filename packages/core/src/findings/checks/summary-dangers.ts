import type { Speaker } from '../../adjacency/speakers';
import { covers, formatAddress, formatPrefix, type Prefix } from '../../prefix/address';
import { detours, type Detours } from '../../summaries/detours';
import { announcedBy, boundaryTask, summarisers, type Announced } from '../../summaries/space';
import type { Check, CheckContext } from '../context';
import type { Draft, Place } from '../finding';
import { hostIn, toldApart } from './range-repairs';

/** Places of a range in the border routers that have it. */
const placesOf = (c: CheckContext, { area, prefix }: Detours): Place[] =>
  summarisers(c.prediction, area).flatMap((s) => {
    const { ranges, at } = c.prediction.routing.areaOf(s, area);
    const n = ranges.findIndex((r) => r.prefix.bits === prefix.bits && r.prefix.length === prefix.length);
    return n < 0 ? [] : [c.place(s.router, [...at, 'ranges', 'range', n], undefined, { area: formatAddress(area) })];
  });

const some = (list: readonly string[]): string => (list.length > 3 ? `${list.slice(0, 3).join(', ')} and ${list.length - 3} more` : list.join(', '));

/** A summary by whose one cost packets go round: a longer way than the part would have by itself. */
export const summaryDetour: Check = {
  rule: 'summary-detour',
  about:
    'A summary makes ways longer: two border routers tell it at one cost each, and packets go to the one that is farther from their destination.',
  run: (c) =>
    detours(c.prediction).flatMap((d): Draft[] => {
      // Where packets share several equal ways some go round for the sake of sharing: that is no trouble.
      const list = d.list.filter((x) => x.always);
      const [worst] = list;
      if (!worst) return [];
      const texts = (of: (x: (typeof list)[number]) => string): string[] => [...new Set(list.map(of))];
      const [to, from] = [texts((x) => formatPrefix(x.to)), texts((x) => x.from)];
      const more = list.length === 1 ? '' : ` So it is for ${to.length} destination${to.length === 1 ? '' : 's'} from ${some(from)}.`;
      return [
        {
          rule: 'summary-detour',
          severity: 'note',
          topic: formatPrefix(d.prefix),
          where: placesOf(c, d),
          message: `The summary ${formatPrefix(d.prefix)} of area ${formatAddress(d.area)} makes ways longer: from ${worst.from} to ${formatPrefix(worst.to)} packets enter at ${worst.through} and it costs ${worst.cost}; by ${worst.better} it would be ${worst.shortest}.${more}`,
          evidence: list.slice(0, 12).map((x) => ({
            router: x.from,
            what: `to ${formatPrefix(x.to)}`,
            value: `${x.cost} through ${x.through} instead of ${x.shortest} through ${x.better}`,
            origin: 'computed' as const,
          })),
          example: { from: worst.from, to: hostIn(worst.to) },
          repairs: d.apart ? toldApart(c, d.area, d.apart) : [],
          rfc: 'RFC 2328 §12.4.3',
        },
      ];
    }),
};

interface OutsideRange {
  readonly s: Speaker;
  readonly n: number;
  readonly prefix: Prefix;
  readonly advertise: boolean;
  readonly announced: readonly Announced[];
}

/** What a border router of an NSSA would translate if it took over: what the one that does translates (RFC 3101 §3.1). */
function couldTranslate(c: CheckContext, s: Speaker): Announced[] {
  const { routing } = c.prediction;
  const nssas = routing.areasOf(s).filter((a) => routing.isBorderRouter(s) && routing.areaOf(s, a).type === 'nssa');
  const others = new Set(nssas.flatMap((a) => summarisers(c.prediction, a)).filter((o) => o !== s));
  return [...others].flatMap((o) => announcedBy(c.prediction, o.router.name).filter((a) => a.translated));
}

/** External ranges of all routers, with what each announces before they fold it. */
const outsideRanges = (c: CheckContext): OutsideRange[] =>
  c.prediction.adjacencies.speakers.flatMap((s) => {
    const { externalRanges } = s.instance;
    if (externalRanges.length === 0) return [];
    const announced = [...announcedBy(c.prediction, s.router.name), ...couldTranslate(c, s)];
    return externalRanges.map((r, n) => ({ s, n, prefix: r.prefix, advertise: r.advertise, announced }));
  });

const placeOf = (c: CheckContext, { s, n }: OutsideRange): Place => c.place(s.router, [...s.instance.at, 'gentle-compass:external-ranges', n]);

const without = (c: CheckContext, { s, n, prefix }: OutsideRange): Draft['repairs'] => {
  const { from } = c.edit(s.router, s.instance.at, ['gentle-compass:external-ranges'], undefined);
  const kept = (from as readonly unknown[]).filter((_, i) => i !== n);
  const edit = c.edit(s.router, s.instance.at, ['gentle-compass:external-ranges'], kept.length > 0 ? (kept as never) : undefined);
  return [{ title: `Take the external summary ${formatPrefix(prefix)} out of ${s.router.name}`, router: s.router.name, edits: [edit] }];
};

/** A summary of what a router announces outside, into which nothing of that falls. */
export const externalRangeEmpty: Check = {
  rule: 'external-range-empty',
  about: 'Nothing that the router announces or translates falls into its external summary: it is never announced.',
  run: (c) =>
    outsideRanges(c).flatMap((r): Draft[] => {
      if (r.announced.some((a) => covers(r.prefix, a.prefix))) return [];
      const { s } = r;
      const idle = r.announced.length === 0;
      return [
        {
          rule: 'external-range-empty',
          severity: 'warning',
          where: [placeOf(c, r)],
          message: idle
            ? `${s.router.name} announces nothing from outside and translates nothing: its external summary ${formatPrefix(r.prefix)} has no parts.`
            : `Nothing that ${s.router.name} announces falls into its external summary ${formatPrefix(r.prefix)}.`,
          evidence: [
            {
              router: s.router.name,
              what: 'announced',
              value: some(r.announced.map((a) => formatPrefix(a.prefix))) || 'nothing',
              origin: 'computed',
            },
          ],
          repairs: without(c, r),
          rfc: 'RFC 2328 §12.4.4',
        },
      ];
    }),
};

/** A summary of what a router announces outside that also holds what lies inside, or comes from elsewhere. */
export const externalRangeForeign: Check = {
  rule: 'external-range-foreign',
  about: 'An external summary also holds prefixes inside the system, or that others bring: what nobody has there is drawn to this exit.',
  run: (c) =>
    outsideRanges(c).flatMap((r): Draft[] => {
      if (!r.advertise || !r.announced.some((a) => covers(r.prefix, a.prefix))) return [];
      const foreign = boundaryTask(c.prediction, r.announced)
        .foreign.filter((f) => covers(r.prefix, f.prefix))
        .map((f) => `${formatPrefix(f.prefix)} (${f.area === null ? 'from elsewhere' : `area ${formatAddress(f.area)}`})`);
      if (foreign.length === 0) return [];
      return [
        {
          rule: 'external-range-foreign',
          severity: 'warning',
          where: [placeOf(c, r)],
          message: `The external summary ${formatPrefix(r.prefix)} of ${r.s.router.name} also claims ${some(foreign)}.`,
          evidence: foreign.slice(0, 12).map((value) => ({ router: r.s.router.name, what: 'claimed of others', value, origin: 'computed' as const })),
          repairs: without(c, r),
          rfc: 'RFC 2328 §12.4.4',
        },
      ];
    }),
};

/** Border routers of an NSSA that fold differently what they translate, or would translate: whoever takes over tells other prefixes. */
export const translatorsDiffer: Check = {
  rule: 'translators-differ',
  about: 'Border routers of one NSSA fold differently what they translate: when another one takes over, other prefixes are told.',
  run: (c) => {
    const { routing } = c.prediction;
    const areas = [...new Set(routing.databases.map((d) => d.areaId))];
    const text = (s: Speaker): string =>
      s.instance.externalRanges
        .map((r) => `${formatPrefix(r.prefix)}${r.advertise ? '' : ' hidden'}${r.metric === undefined ? '' : ` metric ${r.metric}`}`)
        .sort()
        .join(', ') || 'none';
    return areas.flatMap((area): Draft[] => {
      const borders = summarisers(c.prediction, area).filter((s) => routing.areaOf(s, area).type === 'nssa');
      const [first] = borders;
      const other = borders.find((s) => first && text(s) !== text(first));
      if (!first || !other) return [];
      const copy = (from: Speaker, to: Speaker): Draft['repairs'][number] => {
        const list = c.edit(from.router, from.instance.at, ['gentle-compass:external-ranges'], undefined).from;
        const title =
          from.instance.externalRanges.length === 0
            ? `Take the external summaries out of ${to.router.name}`
            : `Fold in ${to.router.name} as ${from.router.name} does`;
        return { title, router: to.router.name, edits: [c.edit(to.router, to.instance.at, ['gentle-compass:external-ranges'], list)] };
      };
      return [
        {
          rule: 'translators-differ',
          severity: 'warning',
          topic: `area ${formatAddress(area)}`,
          where: [first, other].map((s) => c.place(s.router, s.instance.at, 'external-ranges', { area: formatAddress(area) })),
          message: `${first.router.name} and ${other.router.name} fold differently what they translate for area ${formatAddress(area)}: ${text(first)} against ${text(other)}.`,
          evidence: borders.map((s) => ({ router: s.router.name, what: 'external summaries', value: text(s), origin: 'written' as const })),
          repairs: [copy(first, other), copy(other, first)],
          rfc: 'RFC 3101 §3.2',
        },
      ];
    });
  },
};
