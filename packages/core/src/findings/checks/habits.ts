import { valueAt } from '../../design/edit';
import { formatIpv4, formatPrefix, parseTypedPrefix } from '../../prefix/ipv4';
import type { Check } from '../context';
import type { Draft } from '../finding';

/** A rule for turning OSPF on that takes an interface whose neighbours are all in another area. */
export const activationBroad: Check = {
  rule: 'activation-broad',
  about: 'An activation rule is too broad: it takes an interface into an area in which none of the neighbours on its wire are.',
  run: (c) =>
    c.prediction.adjacencies.ports.flatMap((p): Draft[] => {
      const s = c.prediction.adjacencies.speakers[p.speaker];
      const rule = p.byRule === undefined ? undefined : s?.instance.activation[p.byRule];
      const others = c.prediction.adjacencies.ports.filter(
        (q) => q.segment === p.segment && q.segment !== -1 && q.routerIndex !== p.routerIndex && q.up,
      );
      if (!s || !rule || p.byRule === undefined || others.length === 0 || others.some((q) => q.area.id === p.area.id)) return [];
      const match = rule.match.kind === 'any' ? 'any' : rule.match.kind === 'name' ? rule.match.pattern : formatPrefix(rule.match.prefix);
      const there = [...new Set(others.map((q) => formatIpv4(q.area.id)))];
      const to = there.length === 1 ? others[0]?.area.id : undefined;
      const list = [...s.instance.at, 'gentle-compass:activation'];
      const now = (valueAt(c.document(s.router).tree, list) ?? valueAt(c.document(s.router).tree, [...s.instance.at, 'activation'])) as
        readonly object[] | undefined;
      return [
        {
          rule: 'activation-broad',
          severity: 'warning',
          where: [c.place(s.router, [...list, p.byRule], undefined, { interface: p.iface.name })],
          message: `The rule "${match}" of ${s.router.name} takes ${p.iface.name} into area ${formatIpv4(p.area.id)}, while ${others.map((q) => c.routerName(q.routerIndex)).join(', ')} on its wire ${others.length === 1 ? 'is' : 'are'} in area ${there.join(', ')}.`,
          evidence: [p, ...others].map((q) => ({
            router: c.routerName(q.routerIndex),
            what: q.iface.name,
            value: `area ${formatIpv4(q.area.id)}`,
            origin: q.byRule === undefined ? ('written' as const) : ('computed' as const),
          })),
          repairs:
            to === undefined || !Array.isArray(now)
              ? []
              : [
                  {
                    title: `Put a rule for ${p.iface.name} into area ${formatIpv4(to)} before it`,
                    router: s.router.name,
                    edits: [
                      c.edit(
                        s.router,
                        s.instance.at,
                        ['gentle-compass:activation'],
                        [{ match: p.iface.name, 'area-id': formatIpv4(to) }, ...(now as never[])],
                      ),
                    ],
                  },
                ],
          rfc: 'RFC 9129 §2.9',
        },
      ];
    }),
};

/** How a rule's mask was read, where it was typed as one. */
export const maskReadAs: Check = {
  rule: 'mask-read-as',
  about: 'An activation rule was typed with a mask or with host bits: how it was read.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s) =>
      s.instance.activation.flatMap((rule, n): Draft[] => {
        if (rule.match.kind !== 'prefix') return [];
        const list = [...s.instance.at, 'gentle-compass:activation'];
        const tree = c.document(s.router).tree;
        const at = valueAt(tree, list) === undefined ? [...s.instance.at, 'activation', n] : [...list, n];
        const raw = valueAt(tree, [...at, 'match']);
        const typed = typeof raw === 'string' ? parseTypedPrefix(raw) : undefined;
        if (!typed || (typed.notation === 'length' && !typed.hostBits) || typed.notation === 'address') return [];
        const how = { length: 'a prefix length', mask: 'a mask', 'inverted-mask': 'an inverted mask', address: 'an address' }[typed.notation];
        return [
          {
            rule: 'mask-read-as',
            severity: 'note',
            topic: formatPrefix(rule.match.prefix),
            where: [c.place(s.router, at, 'match')],
            message: `The rule "${String(raw)}" of ${s.router.name} was read with ${how}: it takes ${formatPrefix(rule.match.prefix)}${typed.hostBits ? ', its host bits left out' : ''}.`,
            evidence: [{ router: s.router.name, what: 'match', value: String(raw), origin: 'written' }],
            repairs: [
              {
                title: `Write it as ${formatPrefix(rule.match.prefix)}`,
                router: s.router.name,
                edits: [c.edit(s.router, at, ['match'], formatPrefix(rule.match.prefix))],
              },
            ],
            rfc: 'RFC 4632 §3.1',
          },
        ];
      }),
    ),
};

/** Direct prefixes imported where passive interfaces would make them part of the area. */
export const redistributionDirect: Check = {
  rule: 'redistribution-direct',
  about:
    'Direct prefixes are redistributed: as passive interfaces they would be part of their area, be summarised with it, and take later additions only when asked.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s): Draft[] => {
      const n = s.instance.redistribution.findIndex((r) => r.source === 'direct');
      if (n < 0) return [];
      const outside = s.router.interfaces.filter((i) => i.kind !== 'loopback' && i.boundTo === undefined && !s.ports.some((p) => p.iface === i));
      return [
        {
          rule: 'redistribution-direct',
          severity: 'note',
          where: [c.place(s.router, s.instance.at, 'redistribution')],
          message: `${s.router.name} redistributes its direct prefixes${outside.length > 0 ? ` (${outside.map((i) => i.name).join(', ')})` : ''}: as passive interfaces they would be part of an area.`,
          evidence: outside.map((i) => ({
            router: s.router.name,
            what: i.name,
            value: i.addresses.map((a) => `${formatIpv4(a.bits)}/${a.length}`).join(', ') || 'no address',
            origin: 'written' as const,
          })),
          repairs: [],
          rfc: 'RFC 2328 §12.4.4',
        },
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
        repairs: [],
        rfc: 'RFC 2328 A.4.5',
      },
    ];
  },
};

/** A router that asks the others not to send traffic through it (RFC 6987). */
export const stubRouterOn: Check = {
  rule: 'stub-router-on',
  about: 'A router announces itself as stub router: nothing passes through it while another way is left.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s): Draft[] =>
      s.instance.stubRouter
        ? [
            {
              rule: 'stub-router-on',
              severity: 'note',
              where: [c.place(s.router, s.instance.at, 'stub-router')],
              message: `${s.router.name} announces its links at the highest cost: traffic passes through it only where no other way is left.`,
              evidence: [{ router: s.router.name, what: 'stub router', value: 'always', origin: 'written' }],
              repairs: [
                {
                  title: `Let ${s.router.name} carry traffic again`,
                  router: s.router.name,
                  edits: [c.edit(s.router, s.instance.at, ['stub-router'], undefined)],
                },
              ],
              rfc: 'RFC 6987 §2',
            },
          ]
        : [],
    ),
};

/** A router id that comes from an address, with what would change it. */
export const routerIdDerived: Check = {
  rule: 'router-id-derived',
  about: 'The router id is not written: it comes from an address, and another address would change it.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s): Draft[] => {
      const from = s.routerIdSource;
      if (from.from === 'explicit' || from.from === 'routing') return [];
      const highest = s.instance.routerIdRule === 'highest-loopback';
      const loose = from.from === 'interface';
      return [
        {
          rule: 'router-id-derived',
          severity: loose ? 'warning' : 'note',
          where: [c.place(s.router, s.instance.at)],
          message: `${s.router.name} takes its router id ${formatIpv4(s.routerId)} from ${from.name}: ${loose ? 'any loopback' : `a ${highest ? 'higher' : 'lower'} loopback address`}, in OSPF or not, would change it at the next start, and all its neighbours would lose it.`,
          evidence: [
            {
              router: s.router.name,
              what: 'router id',
              value: `${formatIpv4(s.routerId)}, by the rule ${s.instance.routerIdRule}`,
              origin: 'computed',
            },
          ],
          repairs: [
            {
              title: `Write the router id ${formatIpv4(s.routerId)} in ${s.router.name}`,
              router: s.router.name,
              edits: [c.edit(s.router, s.instance.at, ['explicit-router-id'], formatIpv4(s.routerId))],
            },
          ],
          rfc: 'RFC 2328 C.1',
        },
      ];
    }),
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

/** OSPFv3 in a document: kept, and not predicted. */
export const versionThreeNotPredicted: Check = {
  rule: 'version-3-not-predicted',
  about: 'The document configures OSPFv3: it is read and kept, and its routes are not predicted.',
  run: (c) =>
    c.prediction.design.routers.flatMap((router): Draft[] => {
      const three = router.instances.find((o) => o.version === 3);
      if (!three) return [];
      return [
        {
          rule: 'version-3-not-predicted',
          severity: 'note',
          where: [c.place(router, three.at)],
          message: `${router.name} runs OSPFv3 "${three.name}": it is read and kept, but not predicted here.`,
          evidence: [{ router: router.name, what: 'process', value: three.name, origin: 'written' }],
          repairs: [],
          rfc: 'RFC 5340',
        },
      ];
    }),
};
