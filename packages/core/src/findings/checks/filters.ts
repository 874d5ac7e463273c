import { prefixBook, prefixId } from '../../prefix/prefix-book';
import { backbone } from '../../design/design';
import { rangeFor } from '../../lsdb/summary-lsa';
import { applyPolicies } from '../../design/policy';
import { covers, formatAddress, formatPrefix, type Prefix } from '../../prefix/address';
import type { Check } from '../context';
import type { Speaker } from '../../adjacency/speakers';
import type { Draft } from '../finding';
import { hostIn, toldApart } from './range-repairs';
import { coveringRoute } from '../../compare/compare';

const some = (list: readonly string[], most = 4): string =>
  `${list.slice(0, most).join(', ')}${list.length > most ? ` and ${list.length - most} more` : ''}`;

/** What each filter of a border router takes away, and who has no other way then. */
export const filterRemoves: Check = {
  rule: 'filter-removes',
  about: 'A filter at a border router keeps prefixes out of an area or inside it: which, and which routers lose all reach to them.',
  run: (c) => {
    const { routing, adjacencies } = c.prediction;
    return adjacencies.speakers.flatMap((s) => {
      if (!routing.isBorderRouter(s)) return [];
      const table = [...routing.table(s).values()].filter((r) => r.type === 'intra-area' || r.type === 'inter-area');
      return s.instance.areas.flatMap((a) =>
        (['summary-in-policy', 'summary-out-policy'] as const).flatMap((leaf): Draft[] => {
          const inward = leaf === 'summary-in-policy';
          const names = inward ? a.summaryIn : a.summaryOut;
          if (names.length === 0) return [];
          const passing = table.filter((r) =>
            inward ? r.area !== a.id && (a.id === backbone ? r.type === 'intra-area' : true) : r.area === a.id && r.type === 'intra-area',
          );
          const removed = passing.filter(
            (r) => !applyPolicies(s.router.policies, names, { prefix: r, metric: r.metric, metricType: 'type-1', tag: r.tag }).accepted,
          );
          if (removed.length === 0) return [];
          const losers = adjacencies.speakers.filter((o) => {
            const there = routing.areasOf(o);
            if (inward ? !there.includes(a.id) || there.length > 1 : there.includes(a.id)) return false;
            return removed.some((r) => !coveringRoute(c.prediction.rib(o.routerIndex), r));
          });
          return [
            {
              rule: 'filter-removes',
              severity: losers.length > 0 ? 'warning' : 'note',
              topic: leaf,
              where: [c.place(s.router, a.at, leaf, { area: formatAddress(a.id) })],
              message: `The filter ${names.join(', ')} of ${s.router.name} keeps ${some(removed.map(formatPrefix))} ${inward ? 'out of' : 'inside'} area ${formatAddress(a.id)}${losers.length > 0 ? `: ${some(losers.map((o) => o.router.name))} cannot reach ${removed.length === 1 ? 'it' : 'some of them'} any more` : ''}.`,
              evidence: removed
                .slice(0, 20)
                .map((r) => ({ router: s.router.name, what: 'removed', value: formatPrefix(r), origin: 'computed' as const })),
              repairs: [
                { title: `Take the filter out of ${s.router.name}`, router: s.router.name, edits: [c.edit(s.router, a.at, [leaf], undefined)] },
              ],
              rfc: 'RFC 9067 §4',
            },
          ];
        }),
      );
    });
  },
};

/** A router that keeps a prefix out of its own table while others send traffic for it through this router. */
export const ownTableBlackHole: Check = {
  rule: 'own-table-black-hole',
  about: 'A policy keeps a prefix out of a router’s own table; it floods on all the same, and others still send their traffic through this router.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s): Draft[] => {
      if (s.instance.ribPolicy.length === 0) return [];
      const rib = c.prediction.rib(s.routerIndex);
      const held = new Set(rib.map((r) => r.key));
      const lost = [...c.prediction.routing.table(s).values()].filter((r) => !held.has(r.key) && !r.attached && !coveringRoute(rib, r));
      const addresses = new Set(
        s.router.interfaces.flatMap((i) => [...i.addresses.map((a) => a.bits), ...(i.linkLocal ? [i.linkLocal.address] : [])]),
      );
      const hit = lost.flatMap((r) => {
        const users = c.prediction.adjacencies.speakers.filter(
          (o) =>
            o !== s &&
            c.prediction.rib(o.routerIndex).some((x) => x.key === r.key && x.hops.some((h) => h.address !== undefined && addresses.has(h.address))),
        );
        return users.length > 0 ? [{ prefix: formatPrefix(r), users: users.map((u) => u.router.name) }] : [];
      });
      if (hit.length === 0) return [];
      const users = [...new Set(hit.flatMap((h) => h.users))];
      return [
        {
          rule: 'own-table-black-hole',
          severity: 'error',
          where: [c.place(s.router, s.instance.at, 'rib-policy')],
          message: `${s.router.name} keeps ${some(hit.map((h) => h.prefix))} out of its own table, and ${some(users)} send${users.length === 1 ? 's' : ''} traffic for it through ${s.router.name}, which drops it.`,
          evidence: hit
            .slice(0, 12)
            .map((h) => ({ router: s.router.name, what: h.prefix, value: `used by ${some(h.users)}`, origin: 'computed' as const })),
          repairs: [
            {
              title: `Take the policy out of ${s.router.name}`,
              router: s.router.name,
              edits: [c.edit(s.router, s.instance.at, ['gentle-compass:rib-policy'], undefined)],
            },
          ],
          rfc: 'RFC 9067 §4',
        },
      ];
    }),
};

/** A summary announced by a border router that has lost a part of it inside the area: its discard route drops that traffic. */
export const rangeBlackHole: Check = {
  rule: 'range-black-hole',
  about:
    'A border router announces a summary and does not reach a part of it inside the area: what it draws for that part ends at its discard route.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s) => {
      const { routing, adjacencies } = c.prediction;
      if (!routing.isBorderRouter(s)) return [];
      // Only an area in pieces can have what one of its border routers does not reach.
      const elsewhere = (area: number): boolean => routing.databases.some((db) => db.areaId === area && !db.speakers.includes(s.index));
      if (!s.instance.areas.some((a) => a.ranges.length > 0 && elsewhere(a.id))) return [];
      const table = routing.table(s);
      return [...routing.activeRanges(s, table)].flatMap(([key, range]): Draft[] => {
        if (!range.advertise) return [];
        const prefix = prefixBook.prefix(key);
        const inside = (p: Prefix): boolean => p.length > prefix.length && covers(prefix, p);
        const known = new Map<number, { prefix: Prefix; by: string }>();
        for (const db of routing.databases)
          if (db.areaId === range.area && !db.speakers.includes(s.index))
            for (const i of db.speakers) {
              const o = adjacencies.speakers[i];
              if (!o) continue;
              for (const r of routing.table(o).values())
                if (r.type === 'intra-area' && r.area === range.area && inside(r)) known.set(r.key, { prefix: r, by: o.router.name });
            }
        const holders = (p: Prefix): Speaker[] =>
          (c.borders.get(range.area) ?? []).filter((o) => routing.table(o).get(prefixId(p.bits, p.length))?.type === 'intra-area');
        // What another border router tells by a longer prefix is drawn there.
        const toldLonger = (p: Prefix): boolean =>
          holders(p).some((o) => {
            const fold = rangeFor(routing.areaOf(o, range.area), p);
            return fold === undefined || (fold.advertise && fold.prefix.length > prefix.length);
          });
        const lost = [...known].filter(([k, v]) => !table.has(k) && !toldLonger(v.prefix)).map(([, v]) => v);
        if (lost.length === 0) return [];
        const area = routing.areaOf(s, range.area);
        return [
          {
            rule: 'range-black-hole',
            severity: 'error',
            topic: formatPrefix(prefix),
            where: [c.place(s.router, [...area.at, 'ranges'], undefined, { area: formatAddress(range.area) })],
            message: `${s.router.name} announces ${formatPrefix(prefix)} and does not reach ${some(lost.map((l) => formatPrefix(l.prefix)))} of it: traffic drawn there ends at its discard route.`,
            evidence: lost
              .slice(0, 12)
              .map((l) => ({ router: l.by, what: 'reached only here', value: formatPrefix(l.prefix), origin: 'computed' as const })),
            repairs: lost.every((l) => holders(l.prefix).length > 0)
              ? toldApart(
                  c,
                  range.area,
                  lost.map((l) => l.prefix),
                )
              : [],
            ...(lost[0] ? { example: { from: s.router.name, to: hostIn(lost[0].prefix) } } : {}),
            rfc: 'RFC 2328 §12.4.3',
          },
        ];
      });
    }),
};
