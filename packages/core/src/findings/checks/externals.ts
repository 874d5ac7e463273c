import { imports } from '../../lsdb/external-lsa';
import { coveringRoute } from '../../compare/compare';
import { formatAddress, formatPrefix } from '../../prefix/address';
import type { Speaker } from '../../adjacency/speakers';
import { memberName, valueAt, type DocumentValue } from '../../design/edit';
import type { LocalRoute } from '../../routes/local-routes';
import type { Check, CheckContext } from '../context';
import type { Draft } from '../finding';

/** Redistribution asked for where no attached area can carry externals (RFC 2328 §3.6). */
export const redistributionInStub: Check = {
  rule: 'redistribution-in-stub',
  about: 'Redistribution or a default is asked for in a router whose areas are all stub areas: nothing is announced.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s) => {
      const areas = c.prediction.routing.areasOf(s);
      if (!imports(s) || areas.length === 0 || areas.some((a) => c.prediction.routing.areaOf(s, a).type !== 'stub')) return [];
      const at = [...s.instance.at, s.instance.redistribution.length > 0 ? 'gentle-compass:redistribution' : 'gentle-compass:default-route'];
      return [
        {
          rule: 'redistribution-in-stub',
          severity: 'error' as const,
          where: [c.place(s.router, at)],
          message: `${s.router.name} imports routes, but stands only in stub areas (${areas.map(formatAddress).join(', ')}): nothing of it is announced.`,
          evidence: areas.map((a) => ({ router: s.router.name, what: `area ${formatAddress(a)}`, value: 'stub', origin: 'written' as const })),
          repairs: [],
          rfc: 'RFC 2328 §3.6',
        },
      ];
    }),
};

/** A default announced "if present" by a router that has none of its own. */
export const defaultMissing: Check = {
  rule: 'default-missing',
  about: 'A default route is to be announced if present, and the router has none that is not from OSPF.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s) => {
      if (s.instance.defaultRoute?.announce !== 'if-present' || c.prediction.routing.localRoutes(s).some((r) => r.length === 0)) return [];
      return [
        {
          rule: 'default-missing',
          severity: 'error' as const,
          where: [c.place(s.router, [...s.instance.at, 'gentle-compass:default-route'])],
          message: `${s.router.name} announces a default only if it has one, and it has none: nobody gets a default from it.`,
          evidence: [{ router: s.router.name, what: 'own default route', value: 'none', origin: 'computed' as const }],
          repairs: [
            {
              title: `Let ${s.router.name} announce the default always`,
              router: s.router.name,
              edits: [c.edit(s.router, s.instance.at, ['gentle-compass:default-route', 'announce'], 'always')],
            },
          ],
          rfc: 'RFC 2328 §12.4.4',
        },
      ];
    }),
};

/** Redistribution without a policy takes everything, later additions too. */
export const redistributionWithoutPolicy: Check = {
  rule: 'redistribution-without-policy',
  about: 'Redistribution has no policy: it takes everything of its source, later additions too.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s) =>
      s.instance.redistribution.flatMap((r, n): Draft[] => {
        if (r.policies.length > 0) return [];
        const kept = s.instance.defaultRoute || r.defaultToo ? undefined : defaultOf(c, s, r.source);
        const words = [
          `${s.router.name} redistributes every ${r.source} route, later additions too: no policy says which.`,
          r.source === 'direct' ? 'For direct prefixes passive interfaces are the better way.' : '',
          kept ? 'Its default route stays out all the same: it is taken only where it is named, and nobody gets it.' : '',
        ];
        const none = { router: s.router.name, what: `policy for ${r.source}`, value: 'none', origin: 'written' as const };
        const stays = { router: s.router.name, what: 'default route', value: `${r.source}, not announced`, origin: 'computed' as const };
        return [
          {
            rule: 'redistribution-without-policy',
            severity: 'warning',
            where: [c.place(s.router, [...s.instance.at, 'gentle-compass:redistribution'])],
            message: words.filter(Boolean).join(' '),
            evidence: kept ? [none, stays] : [none],
            repairs: kept ? mendsForDefault(c, s, n) : [],
            rfc: 'RFC 9067 §5',
          },
        ];
      }),
    ),
};

/** A default route of a source that is in force in a router. */
const defaultOf = (c: CheckContext, s: Speaker, source: LocalRoute['source']): LocalRoute | undefined =>
  c.prediction.routing.localRoutes(s).find((r) => r.length === 0 && r.source === source);

/** Ways to bring a default out: with the others, as an announced default, or by a policy that names it beside everything else. */
function mendsForDefault(c: CheckContext, s: Speaker, n: number): Draft['repairs'] {
  const { router, instance } = s;
  const list = [...instance.at, memberName(c.document(router).tree, instance.at, 'redistribution')];
  const policies = 'ietf-routing-policy:routing-policy';
  const named = (name: string, length: object, prefix: string): DocumentValue => ({
    name,
    prefixes: { 'prefix-list': [{ 'ip-prefix': prefix, ...length }] },
  });
  const policy: DocumentValue = {
    'defined-sets': { 'prefix-sets': { 'prefix-set': [named('the-default', {}, '0.0.0.0/0')] } },
    'policy-definitions': {
      'policy-definition': [
        {
          name: 'default-and-all',
          statements: {
            statement: [
              { name: 'default', conditions: { 'match-prefix-set': { 'prefix-set': 'the-default' } }, actions: { 'policy-result': 'accept-route' } },
              { name: 'all', actions: { 'policy-result': 'accept-route' } },
            ],
          },
        },
      ],
    },
  };
  const title = (words: string): { title: string; router: string } => ({ title: words, router: router.name });
  return [
    { ...title(`Redistribute the default of ${router.name} too`), edits: [c.edit(router, [...list, n], ['default-too'], true)] },
    {
      ...title(`Announce the default from ${router.name} while it has one`),
      edits: [c.edit(router, instance.at, ['gentle-compass:default-route', 'announce'], 'if-present')],
    },
    ...(router.policies.definitions.size === 0 && valueAt(c.document(router).tree, [policies]) === undefined
      ? [
          {
            ...title(`Write a policy in ${router.name} that names the default and takes the rest`),
            edits: [c.edit(router, [], [policies], policy), c.edit(router, [...list, n], ['policy'], ['default-and-all'])],
          },
        ]
      : []),
  ];
}

/** Direct prefixes imported where passive interfaces would make them part of the area. */
export const redistributionDirect: Check = {
  rule: 'redistribution-direct',
  about:
    'Direct prefixes are redistributed: as passive interfaces they would be part of their area, be summarised with it, and take later additions only when asked.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s): Draft[] => {
      const n = s.instance.redistribution.findIndex((r) => r.source === 'direct');
      if (n < 0) return [];
      // What is down or has no address brings no prefix.
      const brings = new Set(c.prediction.routing.localRoutes(s).flatMap((r) => (r.source === 'direct' ? r.hops.map((h) => h.iface) : [])));
      const outside = s.router.interfaces.filter((i) => i.kind !== 'loopback' && brings.has(i.name) && !s.ports.some((p) => p.iface === i));
      return [
        {
          rule: 'redistribution-direct',
          severity: 'note',
          where: [c.place(s.router, s.instance.at, 'redistribution')],
          message: `${s.router.name} redistributes its direct prefixes${outside.length > 0 ? ` (${outside.map((i) => i.name).join(', ')})` : ''}: as passive interfaces they would be part of an area.`,
          evidence: outside.map((i) => ({
            router: s.router.name,
            what: i.name,
            value: i.addresses.map((a) => `${formatAddress(a.bits)}/${a.length}`).join(', ') || 'no address',
            origin: 'written' as const,
          })),
          repairs: [],
          rfc: 'RFC 2328 §12.4.4',
        },
      ];
    }),
};

const handingWords = {
  'unknown-router': 'the design has no such router',
  'not-there': 'its own table does not have it from another source',
  refused: 'the policy refuses it',
} as const;

/** Routes that another router should hand over, and does not: one finding for each of those routers and reasons. */
function notHandedOver(c: CheckContext, s: Speaker): Draft[] {
  const by = new Map<string, { readonly router: string; readonly why: keyof typeof handingWords; readonly prefixes: string[] }>();
  for (const r of c.prediction.routing.localRoutes(s)) {
    const why = c.prediction.routing.handing(s, r).is;
    if (!r.handedBy || why === 'stands') continue;
    const topic = `${r.handedBy.router} ${why}`;
    const entry = by.get(topic) ?? { router: r.handedBy.router, why, prefixes: [] };
    entry.prefixes.push(formatPrefix(r));
    by.set(topic, entry);
  }
  return [...by].map(([topic, { router, why, prefixes }]): Draft => ({
    rule: 'other-route-unresolved',
    severity: why === 'refused' ? 'note' : 'warning',
    topic,
    where: [c.place(s.router, s.instance.at, 'other-routes')],
    message: `${s.router.name} does not get ${prefixes.slice(0, 3).join(', ')}${prefixes.length > 3 ? ` and ${prefixes.length - 3} more` : ''} from ${router} by another protocol: ${handingWords[why]}.`,
    evidence: [{ router: s.router.name, what: 'learnt from', value: router, origin: 'written' }],
    repairs: [],
    rfc: 'RFC 2328 §12.4.4',
  }));
}

/** A route of another protocol that never enters the router's table: nothing leads to its next hop. */
export const otherRouteUnresolved: Check = {
  rule: 'other-route-unresolved',
  about: 'A route of another protocol is not used: no line of the router’s table leads to its next hop, or only one that drops.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s): Draft[] => {
      const handed = notHandedOver(c, s);
      const far = c.prediction.routing
        .localRoutes(s)
        .filter((r) => r.recursive && r.nextHop !== undefined && c.prediction.routing.handing(s, r).is === 'stands');
      if (far.length === 0) return handed;
      const rib = c.prediction.rib(s.routerIndex);
      const used = new Set(rib.filter((r) => r.source === 'other').map((r) => r.key));
      const unused = far.filter((r) => !used.has(r.key) && !rib.some((x) => x.key === r.key && x.source !== 'other'));
      // One finding for all that wait for one next hop.
      return [
        ...handed,
        ...[...new Set(unused.map((r) => r.nextHop ?? 0))].map((hop): Draft => {
          const waiting = unused.filter((r) => r.nextHop === hop);
          const via = coveringRoute(rib, { bits: hop, length: 32 });
          const why = via
            ? `the line that holds it, ${formatPrefix(via)} (${via.source}), ${via.hops.length === 0 ? 'drops packets' : 'is the route itself'}`
            : 'no line of its table holds it';
          return {
            rule: 'other-route-unresolved',
            severity: 'warning',
            topic: formatAddress(hop),
            where: [c.place(s.router, s.instance.at, 'other-routes')],
            message: `${s.router.name} does not use ${waiting.slice(0, 3).map(formatPrefix).join(', ')}${waiting.length > 3 ? ` and ${waiting.length - 3} more` : ''} of another protocol: its next hop is ${formatAddress(hop)}, and ${why}.`,
            evidence: [{ router: s.router.name, what: 'next hop', value: formatAddress(hop), origin: 'written' }],
            repairs: [],
            rfc: 'RFC 4271 §5.1.3',
          };
        }),
      ];
    }),
};

/** Two routers that import from the same other protocol with no tag to tell their own routes by. */
export const importedTwice: Check = {
  rule: 'imported-twice',
  about: 'Two routers import routes of another protocol and mark them with no tag: what one announces the other may hand back, in a circle.',
  run: (c) => {
    const importers = c.prediction.adjacencies.speakers.flatMap((s) => {
      const r = s.instance.redistribution.find((x) => x.source === 'other');
      return r && s.instance.otherRoutes.length > 0 ? [{ s, r }] : [];
    });
    const bare = importers.filter(
      ({ s, r }) =>
        r.tag === 0 &&
        !r.policies.some((p) =>
          s.router.policies.definitions.get(p)?.statements.some((st) => st.matchTags !== undefined || st.actions.tag !== undefined),
        ),
    );
    if (importers.length < 2 || bare.length === 0) return [];
    return [
      {
        rule: 'imported-twice',
        severity: 'warning',
        where: bare.map(({ s }) => c.place(s.router, s.instance.at, 'redistribution')),
        message: `${importers.map((i) => i.s.router.name).join(' and ')} import routes of another protocol; ${bare.map((i) => i.s.router.name).join(' and ')} without a tag: routes may be handed back and forth in a circle.`,
        evidence: importers.map(({ s, r }) => ({
          router: s.router.name,
          what: 'tag',
          value: r.tag === 0 ? 'none' : String(r.tag),
          origin: 'written' as const,
        })),
        repairs: [
          {
            title: `Mark what each imports with a tag of its own`,
            router: bare[0]?.s.router.name ?? '',
            edits: bare.map(({ s, r }, k) => {
              const edit = c.edit(s.router, s.instance.at, ['gentle-compass:redistribution'], undefined);
              const list = edit.from as readonly { readonly [leaf: string]: DocumentValue }[];
              return { ...edit, to: list.map((x) => (x.source === r.source ? { ...x, tag: 100 + k } : x)) };
            }),
          },
        ],
        rfc: 'RFC 2328 A.4.5',
      },
    ];
  },
};
