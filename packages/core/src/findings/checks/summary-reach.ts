import { backbone } from '../../design/design';
import { covers, formatAddress, formatPrefix, type Prefix } from '../../prefix/address';
import { prefixId } from '../../prefix/prefix-book';
import { insideByArea } from '../../summaries/space';
import type { Check, CheckContext } from '../context';
import type { Draft } from '../finding';
import { exampleTo, removeRange, summarisedAtHome, widened } from './range-repairs';

/** Prefixes by the area in which they lie. */
function byHome(c: CheckContext, prefixes: readonly Prefix[]): ReadonlyMap<number, Prefix[]> {
  const out = new Map<number, Prefix[]>();
  for (const [area, ids] of insideByArea(c.prediction)) {
    const own = area === backbone ? [] : prefixes.filter((p) => ids.has(prefixId(p.bits, p.length)));
    if (own.length > 0) out.set(area, own);
  }
  return out;
}

/** A range for the backbone does not fold what passes through the backbone from other areas. */
export const backboneRange: Check = {
  rule: 'backbone-range',
  about: 'A summary for the backbone also spans prefixes of other areas: it does not fold those, they pass on unchanged.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s) => {
      const area = s.instance.areas.find((a) => a.id === backbone);
      if (!area || !c.prediction.routing.isBorderRouter(s)) return [];
      return area.ranges.flatMap((r, n): Draft[] => {
        const passing = [...c.prediction.routing.table(s).values()].filter(
          (x) => x.type === 'inter-area' && x.area === backbone && covers(r.prefix, x),
        );
        if (passing.length === 0) return [];
        return [
          {
            rule: 'backbone-range',
            severity: 'note',
            where: [c.place(s.router, [...area.at, 'ranges', 'range', n], undefined, { area: formatAddress(backbone) })],
            message: `The summary ${formatPrefix(r.prefix)} for the backbone in ${s.router.name} does not fold ${passing.slice(0, 3).map(formatPrefix).join(', ')}${passing.length > 3 ? ` and ${passing.length - 3} more` : ''}: they come from other areas and pass on unchanged.`,
            evidence: passing
              .slice(0, 12)
              .map((x) => ({ router: s.router.name, what: 'passes on unchanged', value: formatPrefix(x), origin: 'computed' as const })),
            repairs: [...byHome(c, passing)].flatMap(([home, parts]) => summarisedAtHome(c, home, parts)),
            ...(passing[0] ? exampleTo(c, passing[0], [...byHome(c, passing).keys()]) : {}),
            rfc: 'RFC 2328 §12.4.3',
          },
        ];
      });
    }),
};

/** A prefix that is wider than the summary it overlaps: it stays outside. */
export const rangePartial: Check = {
  rule: 'range-partial',
  about: 'A prefix of the area only partly fits the summary: it is wider, stays outside, and is announced by itself.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s) => {
      if (!c.prediction.routing.isBorderRouter(s)) return [];
      return s.instance.areas.flatMap((a) =>
        a.ranges.flatMap((r, n): Draft[] => {
          const wide = c.prediction.routing.insideOf(s, a.id).filter((x) => x.length < r.prefix.length && covers(x, r.prefix));
          if (wide.length === 0) return [];
          return [
            {
              rule: 'range-partial',
              severity: 'warning',
              where: [c.place(s.router, [...a.at, 'ranges', 'range', n], undefined, { area: formatAddress(a.id) })],
              message: `${wide.map(formatPrefix).join(', ')} of area ${formatAddress(a.id)} only partly fits the summary ${formatPrefix(r.prefix)} of ${s.router.name}: it stays outside.`,
              evidence: wide.map((x) => ({ router: s.router.name, what: 'stays outside', value: formatPrefix(x), origin: 'computed' as const })),
              repairs: [...wide.slice(0, 1).flatMap((x) => widened(c, a.id, r.prefix, x)), ...removeRange(c, s, a.id, r.prefix)],
              ...(wide[0] ? exampleTo(c, wide[0], [a.id]) : {}),
              rfc: 'RFC 2328 §12.4.3',
            },
          ];
        }),
      );
    }),
};

/** A policy or prefix set that is named and does not exist: everything is refused. */
export const policyUnknown: Check = {
  rule: 'policy-unknown',
  about: 'A policy or a prefix set is named that the document does not have: what it should let pass is refused.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s): Draft[] => {
      const { policies } = s.router;
      const named = [
        ...s.instance.redistribution.flatMap((r) => r.policies.map((p) => ({ p, at: 'redistribution' }))),
        ...s.instance.otherRoutes.flatMap((r) => r.policies.map((p) => ({ p, at: 'other-routes' }))),
        ...s.instance.ribPolicy.map((p) => ({ p, at: 'rib-policy' })),
        ...s.instance.areas.flatMap((a) => [...a.summaryIn, ...a.summaryOut].map((p) => ({ p, at: `areas/area[${formatAddress(a.id)}]` }))),
      ];
      const draft = (what: string, at: string): Draft => ({
        rule: 'policy-unknown',
        severity: 'error',
        where: [c.place(s.router, s.instance.at, at)],
        message: `${s.router.name} names ${what}, which its document does not have: nothing passes.`,
        evidence: [{ router: s.router.name, what: 'policies', value: [...policies.definitions.keys()].join(', ') || 'none', origin: 'written' }],
        repairs: [],
        rfc: 'RFC 9067 §5',
      });
      const missing = named.filter((n) => !policies.definitions.has(n.p)).map((n) => draft(`the policy "${n.p}"`, n.at));
      const sets = [...policies.definitions.values()].flatMap((d) =>
        d.statements.flatMap((st) =>
          st.matchSet && !policies.sets.has(st.matchSet.name) ? [draft(`the prefix set "${st.matchSet.name}"`, 'redistribution')] : [],
        ),
      );
      return [...missing, ...sets];
    }),
};
