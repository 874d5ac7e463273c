import { backbone } from '../../design/design';
import { formatAddress } from '../../prefix/address';
import type { Speaker } from '../../adjacency/speakers';
import type { Check, CheckContext } from '../context';
import type { Draft } from '../finding';

/** Sets a router id to the router's own loopback, where that is another address and nobody's id. */
export function ownId(c: CheckContext, s: Speaker): Draft['repairs'] {
  const ids = new Set(c.prediction.adjacencies.speakers.map((o) => o.routerId));
  const own = (s.router.asWritten ?? s.router).interfaces
    .filter((i) => i.kind === 'loopback')
    .flatMap((i) => i.addresses.map((a) => a.bits))
    .find((a) => !ids.has(a));
  if (own === undefined) return [];
  return [
    {
      title: `Set the router id of ${s.router.name} to its loopback ${formatAddress(own)}`,
      router: s.router.name,
      edits: [c.edit(s.router, s.instance.at, ['explicit-router-id'], formatAddress(own))],
    },
  ];
}

/** Two routers with one id in an area (RFC 2328 C.1); on one segment the refused hello tells already. */
export const duplicateRouterId: Check = {
  rule: 'duplicate-router-id',
  about: 'Two routers have one router id: inside an area they advertise as one.',
  run: (c) => {
    const seen = new Map<number, string>();
    return c.prediction.adjacencies.speakers.flatMap((s): Draft[] => {
      const other = seen.get(s.routerId);
      seen.set(s.routerId, other ?? s.router.name);
      if (other === undefined || other === s.router.name) return [];
      const twin = c.prediction.design.routers.find((r) => r.name === other);
      const instance = twin && c.processesOf(twin)[0];
      if (!twin || !instance) return [];
      return [
        {
          rule: 'duplicate-router-id',
          severity: 'error',
          where: [c.place(twin, instance.at, 'explicit-router-id'), c.place(s.router, s.instance.at, 'explicit-router-id')],
          message: `${other} and ${s.router.name} share the router id ${formatAddress(s.routerId)}: they overwrite each other's advertisements, and routes come and go.`,
          evidence: [other, s.router.name].map((router) => ({
            router,
            what: 'router id',
            value: formatAddress(s.routerId),
            origin: 'computed' as const,
          })),
          repairs: [...ownId(c, s), ...c.prediction.adjacencies.speakers.filter((o) => o.router === twin).flatMap((o) => ownId(c, o))],
          rfc: 'RFC 2328 C.1',
        },
      ];
    });
  },
};

/** An area with no border router to the backbone. */
export const areaDetached: Check = {
  rule: 'area-detached',
  about: 'An area has no border router that reaches the backbone: it is cut off from all others.',
  run: (c) => {
    const { routing, adjacencies } = c.prediction;
    if (routing.databases.length < 2) return [];
    return routing.databases.flatMap((db): Draft[] => {
      const members = db.speakers.flatMap((i) => adjacencies.speakers[i] ?? []);
      const first = members[0];
      // A border router whose last interface there is down stands in the area alone: nobody is cut off.
      if (db.areaId === backbone || !first || members.some((s) => routing.isBorderRouter(s) && routing.areasOf(s).includes(backbone))) return [];
      return [
        {
          rule: 'area-detached',
          severity: 'error',
          where: members.map((s) => ({
            router: s.router.name,
            path: `ospf/areas/area[${formatAddress(db.areaId)}]`,
            area: formatAddress(db.areaId),
          })),
          message: `Area ${formatAddress(db.areaId)} (${members.map((s) => s.router.name).join(', ')}) has no way to the backbone: its routers see no route of another area.`,
          evidence: members.map((s) => ({
            router: s.router.name,
            what: 'areas',
            value: routing.areasOf(s).map(formatAddress).join(', '),
            origin: 'computed' as const,
          })),
          repairs: [],
          rfc: 'RFC 2328 §3',
        },
      ];
    });
  },
};

/** Reference bandwidths that differ: the same link costs differently at each router. */
export const referenceBandwidth: Check = {
  rule: 'reference-bandwidth',
  about: 'The reference bandwidth is not the same in all routers that derive costs from it.',
  run: (c) => {
    const using = c.prediction.adjacencies.speakers.filter((s) => s.instance.autoCost);
    const count = new Map<number, number>();
    for (const s of using) count.set(s.instance.referenceBandwidth, (count.get(s.instance.referenceBandwidth) ?? 0) + 1);
    const usual = [...count].sort((a, b) => b[1] - a[1])[0]?.[0];
    if (usual === undefined || count.size < 2) return [];
    return using
      .filter((s) => s.instance.referenceBandwidth !== usual)
      .map((s) => ({
        rule: 'reference-bandwidth',
        severity: 'warning' as const,
        where: [c.place(s.router, s.instance.at, 'auto-cost/reference-bandwidth')],
        message: `${s.router.name} derives costs from ${s.instance.referenceBandwidth} Mbit/s, most others from ${usual} Mbit/s: the two directions of its links cost differently.`,
        evidence: [
          { router: s.router.name, what: 'reference bandwidth', value: `${s.instance.referenceBandwidth} Mbit/s`, origin: 'written' as const },
        ],
        repairs: [
          {
            title: `Set the reference bandwidth of ${s.router.name} to ${usual} Mbit/s`,
            router: s.router.name,
            edits: [c.edit(s.router, s.instance.at, ['auto-cost', 'reference-bandwidth'], usual)],
          },
        ],
        rfc: 'RFC 9129 §2.8',
      }));
  },
};

/** RFC 1583 compatibility set on some routers only: externals may loop. */
export const rfc1583Differs: Check = {
  rule: 'rfc1583-differs',
  about: 'RFC 1583 compatibility is set on some routers only: routes to boundary routers may loop.',
  run: (c) => {
    const all = c.prediction.adjacencies.speakers;
    const on = all.filter((s) => s.instance.rfc1583Compatible);
    if (on.length === 0 || on.length === all.length) return [];
    const odd = on.length * 2 <= all.length ? on : all.filter((s) => !s.instance.rfc1583Compatible);
    const to = odd !== on;
    return [
      {
        rule: 'rfc1583-differs',
        severity: 'error' as const,
        where: odd.map((s) => c.place(s.router, s.instance.at, 'rfc1583-compatible')),
        message: `RFC 1583 compatibility is ${to ? 'off' : 'on'} in ${odd.map((s) => s.router.name).join(', ')} and ${to ? 'on' : 'off'} in all others: external routes may loop.`,
        evidence: odd.map((s) => ({ router: s.router.name, what: 'RFC 1583 compatible', value: String(!to), origin: 'written' as const })),
        repairs: odd.map((s) => ({
          title: `Set RFC 1583 compatibility of ${s.router.name} ${to ? 'on' : 'off'}`,
          router: s.router.name,
          edits: [c.edit(s.router, s.instance.at, ['gentle-compass:rfc1583-compatible'], to ? true : undefined)],
        })),
        rfc: 'RFC 2328 §16.4.1',
      },
    ];
  },
};

/** A router id that is not an address of the router's loopback, where others have it so. */
export const routerIdNotLoopback: Check = {
  rule: 'router-id-not-loopback',
  families: [4],
  about: 'Router ids that are none of their routers’ loopback addresses: told once for the design, and only a note where they are written so.',
  run: (c) => {
    const odd = c.prediction.adjacencies.speakers.flatMap((s) => {
      const loopbacks = s.router.interfaces.filter((i) => i.kind === 'loopback' && i.enabled).flatMap((i) => i.addresses.map((a) => a.bits));
      const [first] = loopbacks;
      return first === undefined || loopbacks.includes(s.routerId) ? [] : [{ s, first }];
    });
    if (odd.length === 0) return [];
    const written = odd.every(({ s }) => s.routerIdSource.from === 'explicit' || s.routerIdSource.from === 'routing');
    const words = odd.slice(0, 3).map(({ s, first }) => `${s.router.name} (${formatAddress(s.routerId)}, loopback ${formatAddress(first)})`);
    const names = odd.length > 3 ? `${words.join(', ')} and ${odd.length - 3} more` : words.join(', ');
    return [
      {
        rule: 'router-id-not-loopback',
        severity: written ? 'note' : 'warning',
        where: odd.map(({ s }) => c.place(s.router, s.instance.at, 'explicit-router-id')),
        message: `${odd.length === 1 ? 'A router has an id that is' : `${odd.length} routers have ids that are`} none of their loopback addresses: ${names}.`,
        evidence: odd.map(({ s }) => ({
          router: s.router.name,
          what: 'router id',
          value: formatAddress(s.routerId),
          origin: s.routerIdSource.from === 'explicit' ? ('written' as const) : ('computed' as const),
        })),
        repairs: [
          {
            title:
              odd.length === 1
                ? `Set the router id of ${names.replace(/ .*/, '')} to its loopback`
                : `Set all ${odd.length} router ids to the loopbacks`,
            router: odd.length === 1 ? (odd[0]?.s.router.name ?? '') : `${odd.length} routers`,
            edits: odd.map(({ s, first }) => c.edit(s.router, s.instance.at, ['explicit-router-id'], formatAddress(first))),
          },
        ],
        rfc: 'RFC 2328 C.1',
      },
    ];
  },
};

/** Something that looked back and did not come to rest. */
export const unsettled: Check = {
  rule: 'unsettled',
  about: 'A part of the computation that depends on its own result did not come to rest.',
  run: (c) => {
    const what = {
      'virtual-links': 'virtual links',
      summaries: 'summaries of border routers',
      externals: 'imported routes that depend on OSPF routes',
    };
    const out = c.prediction.routing.unsettled.map((u): Draft => ({
      rule: 'unsettled',
      severity: 'error',
      where: [{ router: '', path: u }],
      message: `The ${what[u]} do not settle: each change undoes the one before.`,
      evidence: [],
      repairs: [],
      rfc: 'RFC 2328 §16',
    }));
    for (const index of c.prediction.adjacencies.unsettled) {
      const ports = c.prediction.portsOn(index).filter((p) => p.up);
      out.push({
        rule: 'unsettled',
        severity: 'error',
        where: ports.map((p) => c.portPlace(p, 'priority')),
        message: `The election between ${ports.map((p) => c.routerName(p.routerIndex)).join(', ')} does not settle.`,
        evidence: ports.map((p) => c.setting(p, 'priority', 'priority', p.settings.priority)),
        repairs: [],
        rfc: 'RFC 2328 §9.4',
      });
    }
    return out;
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
          message: `${s.router.name} takes its router id ${formatAddress(s.routerId)} from ${from.name}: ${loose ? 'any loopback' : `a ${highest ? 'higher' : 'lower'} loopback address`}, in OSPF or not, would change it at the next start, and all its neighbours would lose it.`,
          evidence: [
            {
              router: s.router.name,
              what: 'router id',
              value: `${formatAddress(s.routerId)}, by the rule ${s.instance.routerIdRule}`,
              origin: 'computed',
            },
          ],
          repairs: [
            {
              title: `Write the router id ${formatAddress(s.routerId)} in ${s.router.name}`,
              router: s.router.name,
              edits: [c.edit(s.router, s.instance.at, ['explicit-router-id'], formatAddress(s.routerId))],
            },
          ],
          rfc: 'RFC 2328 C.1',
        },
      ];
    }),
};

/** A router id that no host could have as its address: it works, and every tool that takes it for one is misled. */
export const routerIdUnusual: Check = {
  rule: 'router-id-unusual',
  about: 'The router id is a multicast, reserved or broadcast address: any 32 bits will do, but nobody can reach the router by it.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s): Draft[] => {
      if (s.routerId < 0xe000_0000) return [];
      const kind = s.routerId === 0xffff_ffff ? 'the broadcast address' : s.routerId < 0xf000_0000 ? 'a multicast address' : 'a reserved address';
      return [
        {
          rule: 'router-id-unusual',
          severity: 'warning',
          where: [c.place(s.router, s.instance.at, 'explicit-router-id')],
          message: `The router id ${formatAddress(s.routerId)} of ${s.router.name} is ${kind}.`,
          evidence: [{ router: s.router.name, what: 'router id', value: formatAddress(s.routerId), origin: 'written' }],
          repairs: [],
          rfc: 'RFC 2328 C.1',
        },
      ];
    }),
};
