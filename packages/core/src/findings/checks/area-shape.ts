import type { Speaker } from '../../adjacency/speakers';
import { areaNamesGiven, usualName } from '../../design/area-names';
import { backbone, type Area } from '../../design/design';
import { covers, formatAddress, formatPrefix, hull, type Prefix } from '../../prefix/address';
import type { Check, CheckContext } from '../context';
import type { Draft } from '../finding';

/** An area in pieces that do not reach each other inside it (RFC 2328 §3.7). */
export const areaSplit: Check = {
  rule: 'area-split',
  about: 'An area is in pieces that do not reach each other inside it; for the backbone, whole areas lose each other.',
  run: (c) => {
    const { routing, adjacencies } = c.prediction;
    const pieces = new Map<number, string[][]>();
    for (const db of routing.databases)
      pieces.set(db.areaId, [...(pieces.get(db.areaId) ?? []), db.speakers.flatMap((i) => adjacencies.speakers[i]?.router.name ?? [])]);
    return [...pieces].flatMap(([area, list]): Draft[] => {
      // A border router whose interfaces there face nobody is no piece of the area; a router that stands in it alone is.
      const whole = list.filter(
        (names) =>
          names.length > 1 ||
          adjacencies.speakers.some(
            (s) =>
              s.router.name === names[0] &&
              (routing.areasOf(s).length === 1 || s.ports.some((p) => p.area.id === area && p.up && !p.loopback && !p.settings.passive)),
          ),
      );
      if (whole.length < 2) return [];
      const words = whole.map((names) => (names.length > 4 ? `${names.slice(0, 4).join(', ')} and ${names.length - 4} more` : names.join(', ')));
      const heads = whole.flatMap((names) => adjacencies.speakers.find((s) => s.router.name === names[0]) ?? []);
      return [
        {
          rule: 'area-split',
          severity: area === backbone ? 'error' : 'warning',
          where: heads.map((s) => c.place(s.router, routing.areaOf(s, area).at, undefined, { area: formatAddress(area) })),
          message: `${area === backbone ? 'The backbone' : `Area ${formatAddress(area)}`} is in ${whole.length} pieces: ${words.join(' | ')}.${area === backbone ? ' Areas behind one piece do not reach those behind another.' : ' Each piece is reached only through its own border routers.'}`,
          evidence: whole.map((names, n) => ({
            router: names[0] ?? '',
            what: `piece ${n + 1}`,
            value: names.join(', '),
            origin: 'computed' as const,
          })),
          repairs: [],
          rfc: 'RFC 2328 §3.7',
        },
      ];
    });
  },
};

/** Prefixes that an area brings, as one of its routers computes them. */
function prefixesOf(c: CheckContext, area: number): Prefix[] {
  const db = c.prediction.routing.databases.find((d) => d.areaId === area);
  const s = c.prediction.adjacencies.speakers[db?.speakers[0] ?? -1];
  return s ? c.prediction.routing.insideOf(s, area) : [];
}

/** An area whose prefixes no single summary can cover without claiming those of others. */
export const areaScattered: Check = {
  rule: 'area-scattered',
  about: 'The area cannot be summarised by one prefix: the smallest one that holds it also holds prefixes of other areas.',
  run: (c) => {
    const areas = [...new Set(c.prediction.routing.databases.map((d) => d.areaId))];
    if (areas.length < 2) return [];
    const of = new Map(areas.map((a) => [a, prefixesOf(c, a)]));
    return areas.flatMap((area): Draft[] => {
      const own = of.get(area) ?? [];
      const whole = hull(own);
      if (area === backbone || !whole || own.length < 2) return [];
      const foreign = areas.flatMap((o) =>
        o === area ? [] : (of.get(o) ?? []).filter((p) => covers(whole, p)).map((p) => `${formatPrefix(p)} (area ${formatAddress(o)})`),
      );
      if (foreign.length === 0) return [];
      return [
        {
          rule: 'area-scattered',
          severity: 'note',
          where: [{ router: '', path: `area[${formatAddress(area)}]`, area: formatAddress(area) }],
          message: `Area ${formatAddress(area)} cannot be summarised by one prefix: ${formatPrefix(whole)} would also claim ${foreign.slice(0, 3).join(', ')}${foreign.length > 3 ? ` and ${foreign.length - 3} more` : ''}.`,
          evidence: [
            { router: '', what: 'smallest prefix that holds the area', value: formatPrefix(whole), origin: 'computed' },
            ...foreign.slice(0, 12).map((value) => ({ router: '', what: 'also inside it', value, origin: 'computed' as const })),
          ],
          repairs: [],
          rfc: 'RFC 2328 §3.5',
        },
      ];
    });
  },
};

const bordersOf = (c: CheckContext, area: number): readonly { s: Speaker; a: Area }[] =>
  (c.borders.get(area) ?? []).map((s) => ({ s, a: c.prediction.routing.areaOf(s, area) }));

/** Border routers of one stub area of which some let summaries in and some do not. */
export const stubSummariesDiffer: Check = {
  rule: 'stub-summaries-differ',
  about:
    'One border router of a stub area lets summaries in and another does not: the area sees them all the same, and prefers the exits that tell more.',
  run: (c) =>
    [...new Set(c.prediction.routing.databases.map((d) => d.areaId))].flatMap((area): Draft[] => {
      const borders = bordersOf(c, area).filter((b) => b.a.type !== 'normal');
      const open = borders.filter((b) => b.a.summary);
      const closed = borders.filter((b) => !b.a.summary);
      if (open.length === 0 || closed.length === 0) return [];
      const names = (list: readonly { s: Speaker }[]): string => list.map((b) => b.s.router.name).join(', ');
      return [
        {
          rule: 'stub-summaries-differ',
          severity: 'warning',
          where: [...closed, ...open].map((b) => c.place(b.s.router, b.a.at, 'summary', { area: formatAddress(area) })),
          message: `Into area ${formatAddress(area)}, ${names(open)} let${open.length === 1 ? 's' : ''} summaries in and ${names(closed)} do${closed.length === 1 ? 'es' : ''} not.`,
          evidence: borders.map((b) => ({
            router: b.s.router.name,
            what: 'summaries let in',
            value: b.a.summary ? 'yes' : 'no',
            origin: b.a.written.has('summary') ? ('written' as const) : ('standard' as const),
          })),
          repairs: [
            {
              title: `Keep summaries out at ${names(open)} too`,
              router: open[0]?.s.router.name ?? '',
              edits: open.flatMap((b) => (b.a.at.length > 0 ? [c.edit(b.s.router, b.a.at, ['summary'], false)] : [])),
            },
          ],
          rfc: 'RFC 2328 §12.4.3',
        },
      ];
    }),
};

/** Routers that call one area by different names. */
export const areaNamesDiffer: Check = {
  rule: 'area-names-differ',
  about: 'Routers call one area by different names: a reader takes it for two.',
  run: (c) =>
    [...areaNamesGiven(c.prediction.design)].flatMap(([area, names]): Draft[] => {
      const usual = usualName(names);
      const others = [...names].flatMap(([name, routers]) => (name === usual ? [] : routers.map((router) => ({ name, router }))));
      if (others.length === 0) return [];
      const entries = others.flatMap(({ name, router }) => {
        const r = c.prediction.design.routers.find((x) => x.name === router);
        const a = r?.instances.flatMap((o) => o.areas).find((x) => x.id === area && x.name === name);
        return r && a ? [{ r, a, name }] : [];
      });
      return [
        {
          rule: 'area-names-differ',
          severity: 'note',
          where: entries.map(({ r, a }) => c.place(r, a.at, 'name', { area: formatAddress(area) })),
          message: `Area ${formatAddress(area)} is “${usual}” in most routers, and ${entries.map((x) => `“${x.name}” in ${x.r.name}`).join(', ')}.`,
          evidence: entries.map((x) => ({ router: x.r.name, what: 'name of the area', value: x.name, origin: 'written' as const })),
          repairs: [
            {
              title: `Call it “${usual}” everywhere`,
              router: entries[0]?.r.name ?? '',
              edits: entries.map(({ r, a }) => c.edit(r, a.at, ['gentle-compass:name'], usual)),
            },
          ],
          rfc: 'RFC 2328 §3.1',
        },
      ];
    }),
};

/** `summary false` or a default cost in a router that announces nothing into the area. */
export const summaryWithoutEffect: Check = {
  rule: 'summary-without-effect',
  about: 'Summaries are kept out of a stub area only in routers that are no border routers of it: the line has no effect.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s) =>
      s.instance.areas.flatMap((a): Draft[] => {
        if (a.summary || !a.written.has('summary')) return [];
        // Written in every router of the area it is a habit; in none that could, a mistake.
        if (bordersOf(c, a.id).some((b) => b.s === s || !b.a.summary)) return [];
        return [
          {
            rule: 'summary-without-effect',
            severity: 'warning',
            where: [c.place(s.router, a.at, 'summary', { area: formatAddress(a.id) })],
            message: `${s.router.name} keeps summaries out of area ${formatAddress(a.id)}, and no border router of it does: only they can.`,
            evidence: [
              { router: s.router.name, what: 'areas', value: c.prediction.routing.areasOf(s).map(formatAddress).join(', '), origin: 'computed' },
            ],
            repairs: [
              { title: `Take the line out of ${s.router.name}`, router: s.router.name, edits: [c.edit(s.router, a.at, ['summary'], undefined)] },
            ],
            rfc: 'RFC 2328 §12.4.3',
          },
        ];
      }),
    ),
};
