import type { DocumentValue } from '../../design/edit';
import type { Port } from '../../adjacency/speakers';
import { isDigest } from '../../documents/key-digest';
import type { Family } from '../../design/family';
import { comparePrefixes, formatAddress, formatPrefix, holds, hostLength, networkOf, prefixOf, type Prefix } from '../../prefix/address';
import type { Prediction } from '../../predict';
import type { Segments } from '../../segments/segments';
import type { Check, CheckContext } from '../context';
import type { Draft } from '../finding';

const subnetOf = (p: Port): Prefix | undefined => (p.address === undefined ? undefined : prefixOf(p.address, p.length));

/** An interface with a subnet on it, by places in the design. */
interface Held extends Prefix {
  readonly router: number;
  readonly iface: number;
}

const overlapsIn: Readonly<Record<Family, WeakMap<Segments, readonly (readonly [Held, Held])[]>>> = { 4: new WeakMap(), 6: new WeakMap() };

/** Pairs of interfaces of different wires whose subnets overlap: found once while nobody's wires change. */
function overlaps({ design, segments, family }: Prediction): readonly (readonly [Held, Held])[] {
  const known = overlapsIn[family].get(segments);
  if (known) return known;
  const list = design.routers.flatMap((r, router) =>
    r.interfaces.flatMap((i, iface) =>
      i.boundTo !== undefined || i.kind === 'loopback'
        ? []
        : i.addresses.flatMap((a): Held[] => {
            const bits = networkOf(a.bits, a.length);
            return a.length < hostLength(bits) ? [{ router, iface, bits, length: a.length }] : [];
          }),
    ),
  );
  list.sort(comparePrefixes);
  const out: (readonly [Held, Held])[] = [];
  let wide: Held | undefined;
  for (const s of list) {
    if (!wide || !holds(wide, s.bits)) {
      wide = s;
      continue;
    }
    const [a, b] = [segments.of[wide.router]?.[wide.iface] ?? -1, segments.of[s.router]?.[s.iface] ?? -1];
    const own = wide.router === s.router && wide.iface !== s.iface;
    if ((a === b && a !== -1 && !own) || (wide.router === s.router && wide.iface === s.iface)) continue;
    out.push([wide, s]);
  }
  overlapsIn[family].set(segments, out);
  return out;
}

/** Subnets of interfaces that are not on one wire, and overlap all the same. */
export const overlappingSubnets: Check = {
  rule: 'overlapping-subnets',
  about: 'Subnets of two different wires overlap: addresses of one are looked for on the other.',
  run: (c) =>
    overlaps(c.prediction).flatMap((pair): Draft[] => {
      const [wide, s] = pair.map((x) => {
        const router = c.prediction.design.routers[x.router];
        const i = router?.interfaces[x.iface];
        return router && i && { router, i, prefix: formatPrefix(x), place: c.place(router, i.at, undefined, { interface: i.name }) };
      });
      if (!wide || !s) return [];
      return [
        {
          rule: 'overlapping-subnets',
          severity: wide.router === s.router ? 'error' : 'warning',
          where: [wide.place, s.place],
          message: `${wide.prefix} on ${wide.i.name} of ${wide.router.name} and ${s.prefix} on ${s.i.name} of ${s.router.name} overlap, and are not one wire.`,
          evidence: [wide, s].map((x) => ({ router: x.router.name, what: x.i.name, value: x.prefix, origin: 'written' as const })),
          repairs: [],
          rfc: 'RFC 1812 §2.2.5.2',
        },
      ];
    }),
};

/** Subnets of different length on one wire where the network type does not compare masks. */
export const subnetLengthsDiffer: Check = {
  rule: 'subnet-lengths-differ',
  families: [4],
  about: 'The routers of one wire give its subnet different lengths; the network type does not compare them, and each advertises its own.',
  run: (c) =>
    c.prediction.segments.list.flatMap((s): Draft[] => {
      if (s.subnets.length < 2 || s.byTopology) return [];
      const ports = c.prediction.portsOn(s.index).filter((p) => !p.settings.passive);
      const compares = ports.some((p) => p.type !== 'point-to-point' && p.type !== 'point-to-multipoint');
      if (compares || ports.length < 2) return [];
      return [
        {
          rule: 'subnet-lengths-differ',
          severity: 'warning',
          where: ports.map((p) => c.place(c.routerOf(p), p.iface.at, undefined, { interface: p.iface.name })),
          message: `${ports.map((p) => c.routerName(p.routerIndex)).join(' and ')} give their wire different subnets: ${s.subnets.map(formatPrefix).join(' and ')}.`,
          evidence: ports.flatMap((p) => {
            const own = subnetOf(p);
            return own ? [{ router: c.routerName(p.routerIndex), what: p.iface.name, value: formatPrefix(own), origin: 'written' as const }] : [];
          }),
          repairs: [],
          rfc: 'RFC 2328 §10.5',
        },
      ];
    }),
};

/** Ports that speak and have nobody: no other interface shares their subnet. */
const lonely = (c: CheckContext): Port[] =>
  c.prediction.adjacencies.ports.filter(
    (p) => p.up && !p.loopback && !p.settings.passive && p.address !== undefined && (c.prediction.segments.list[p.segment]?.size ?? 1) < 2,
  );

/** Gives an interface the free address of a small subnet beside another's: of a /31 the other one, of a /30 the other host. */
function moveInto(c: CheckContext, p: Port, beside: Port): Draft['repairs'] {
  if (beside.address === undefined || beside.length < 30 || p.iface.addresses.length !== 1) return [];
  const free = beside.length === 31 ? (beside.address ^ 1) >>> 0 : (beside.address ^ 3) >>> 0;
  const router = c.routerOf(p);
  const { from } = c.edit(router, p.iface.at, ['ietf-ip:ipv4', 'address'], undefined);
  const list = (from as readonly { readonly [leaf: string]: DocumentValue }[]).map((a) => ({
    ...a,
    ip: formatAddress(free),
    'prefix-length': beside.length,
  }));
  return [
    {
      title: `Give ${p.iface.name} of ${router.name} the address ${formatAddress(free)}/${beside.length}`,
      router: router.name,
      edits: [c.edit(router, p.iface.at, ['ietf-ip:ipv4', 'address'], list)],
    },
  ];
}

/** Two interfaces that name each other's router, or whose small subnets lie side by side, and share none. */
export const nearMissSubnet: Check = {
  rule: 'near-miss-subnet',
  families: [4],
  about: 'Two interfaces were probably meant to be one wire: they face nobody, and their subnets only nearly match.',
  run: (c) => {
    const ports = lonely(c);
    return ports.flatMap((p, n): Draft[] =>
      ports.slice(n + 1).flatMap((q): Draft[] => {
        const [a, b] = [subnetOf(p), subnetOf(q)];
        if (!a || !b || p.routerIndex === q.routerIndex) return [];
        const [one, two] = [c.routerName(p.routerIndex), c.routerName(q.routerIndex)];
        const named = p.iface.name.includes(two) && q.iface.name.includes(one);
        const side = a.length === b.length && a.length >= 29 && networkOf(a.bits, a.length - 1) === networkOf(b.bits, b.length - 1);
        if (!named && !side) return [];
        return [
          {
            rule: 'near-miss-subnet',
            severity: 'warning',
            where: [
              c.place(c.routerOf(p), p.iface.at, undefined, { interface: p.iface.name }),
              c.place(c.routerOf(q), q.iface.at, undefined, { interface: q.iface.name }),
            ],
            message: `${p.iface.name} of ${one} (${formatPrefix(a)}) and ${q.iface.name} of ${two} (${formatPrefix(b)}) were probably meant to be one wire: ${named ? 'they name each other' : 'their subnets lie side by side'}, and they share no subnet.`,
            evidence: [p, q].map((x) => ({
              router: c.routerName(x.routerIndex),
              what: x.iface.name,
              value: `${formatAddress(x.address ?? 0)}/${x.length}`,
              origin: 'written' as const,
            })),
            repairs: [...moveInto(c, q, p), ...moveInto(c, p, q)],
            rfc: 'RFC 2328 §10.5',
          },
        ];
      }),
    );
  },
};

/** A cable that both ends treat as passive: no adjacency, and nothing says so. */
export const bothPassive: Check = {
  rule: 'both-passive',
  about: 'Both ends of a cable are passive: no adjacency forms over it.',
  run: (c) =>
    c.prediction.segments.list.flatMap((s): Draft[] => {
      const ports = c.prediction.portsOn(s.index).filter((p) => p.up);
      const [a, b] = ports;
      if (s.kind !== 'cable' || ports.length !== 2 || !a || !b || !a.settings.passive || !b.settings.passive) return [];
      return [
        {
          rule: 'both-passive',
          severity: 'warning',
          where: ports.map((p) => c.portPlace(p, 'passive')),
          message: `Both ends of the cable between ${c.routerName(a.routerIndex)} and ${c.routerName(b.routerIndex)} are passive: it carries no adjacency.`,
          evidence: ports.map((p) => c.setting(p, 'passive', 'passive', 'yes')),
          repairs:
            a.settings.at.length === 0 || b.settings.at.length === 0
              ? []
              : [
                  {
                    title: 'Let both ends send hellos',
                    router: c.routerName(a.routerIndex),
                    edits: [...c.portEdit(a, ['passive'], false), ...c.portEdit(b, ['passive'], false)],
                  },
                ],
          rfc: 'RFC 9129 §2.7',
        },
      ];
    }),
};

/** BFD on one end only: no session, and failures are found by the dead interval. */
export const bfdOneSide: Check = {
  rule: 'bfd-one-side',
  about: 'BFD is on at one end only: no session comes up, and a silent failure is found by the dead interval.',
  run: (c) =>
    c.prediction.adjacencies.pairs.flatMap((pair): Draft[] => {
      const { port: a, peer: b } = pair.a;
      if (a.settings.bfd === b.settings.bfd) return [];
      const off = a.settings.bfd ? b : a;
      return [
        {
          rule: 'bfd-one-side',
          severity: 'warning',
          where: [c.portPlace(a, 'bfd'), c.portPlace(b, 'bfd')],
          message: `BFD is on at ${c.routerName(a.settings.bfd ? a.routerIndex : b.routerIndex)} and not at ${c.routerName(off.routerIndex)}: no session comes up between them.`,
          evidence: [a, b].map((p) => ({
            router: c.routerName(p.routerIndex),
            what: 'BFD',
            value: p.settings.bfd ? 'on' : 'off',
            origin: p.settings.written.has('bfd') ? ('written' as const) : ('standard' as const),
          })),
          repairs:
            off.settings.at.length === 0
              ? []
              : [
                  {
                    title: `Switch BFD on at ${c.routerName(off.routerIndex)}`,
                    router: c.routerName(off.routerIndex),
                    edits: c.portEdit(off, ['bfd', 'enabled'], true),
                  },
                ],
          rfc: 'RFC 5882 §4',
        },
      ];
    }),
};

/** An OSPF interface without an IPv4 address that no topology link makes an unnumbered one, or that is switched off. */
export const interfaceIdle: Check = {
  rule: 'interface-idle',
  about: 'OSPF is set on an interface that is switched off or has no address: it takes no part.',
  run: (c) =>
    c.prediction.adjacencies.ports.flatMap((p): Draft[] => {
      const bare = p.iface.addresses.length === 0 && !p.iface.unnumbered;
      const alone = p.iface.addresses.length === 0 && p.iface.unnumbered && (c.prediction.segments.list[p.segment]?.size ?? 1) < 2;
      if (p.iface.enabled && !bare && !alone) return [];
      const router = c.routerOf(p);
      const why = !p.iface.enabled
        ? 'is switched off'
        : bare
          ? c.family === 6
            ? 'has no IPv6'
            : 'has no IPv4 address'
          : 'has no address of its own, and no link of a topology says whom it faces';
      return [
        {
          rule: 'interface-idle',
          severity: p.iface.enabled ? 'warning' : 'note',
          where: [c.place(router, p.iface.at, p.iface.enabled ? undefined : 'enabled', { interface: p.iface.name })],
          message: `${p.iface.name} of ${router.name} is in OSPF and ${why}.`,
          evidence: [{ router: router.name, what: p.iface.name, value: why, origin: 'written' }],
          repairs: p.iface.enabled
            ? []
            : [{ title: `Switch ${p.iface.name} of ${router.name} on`, router: router.name, edits: [c.edit(router, p.iface.at, ['enabled'], true)] }],
          rfc: 'RFC 2328 §9.1',
        },
      ];
    }),
};

/** A dead interval that no hello can outlive: the pair flaps. */
export const deadWithinHello: Check = {
  rule: 'dead-within-hello',
  about: 'The dead interval is not longer than the hello interval: neighbours are declared dead before their next hello can come.',
  run: (c) =>
    c.prediction.adjacencies.ports.flatMap((p): Draft[] => {
      if (p.settings.dead > p.settings.hello || p.settings.passive) return [];
      const router = c.routerOf(p);
      return [
        {
          rule: 'dead-within-hello',
          severity: 'error',
          where: [c.portPlace(p, 'dead-interval')],
          message: `${p.iface.name} of ${router.name} has a dead interval of ${p.settings.dead} s and sends hellos every ${p.settings.hello} s: every neighbour there flaps.`,
          seen: `The neighbour comes up and goes down every ${p.settings.dead} s.`,
          evidence: [
            c.setting(p, 'hello-interval', 'hello interval', `${p.settings.hello} s`),
            c.setting(p, 'dead-interval', 'dead interval', `${p.settings.dead} s`),
          ],
          repairs:
            p.settings.at.length === 0
              ? []
              : [
                  {
                    title: `Set the dead interval of ${router.name} to ${4 * p.settings.hello} s`,
                    router: router.name,
                    edits: c.portEdit(p, ['dead-interval'], 4 * p.settings.hello),
                  },
                ],
          rfc: 'RFC 2328 C.3',
        },
      ];
    }),
};

/** A key that goes over the wire as it is. */
export const keyInTheClear: Check = {
  rule: 'key-in-the-clear',
  families: [4],
  about: 'Authentication by simple password: the key itself is in every packet.',
  run: (c) =>
    c.prediction.adjacencies.ports.flatMap((p): Draft[] => {
      const keys = p.settings.authentication.keys;
      if (!p.settings.authentication.required || p.settings.passive || keys.length === 0 || keys.some((k) => k.algorithm !== 'none')) return [];
      const shown = keys.some((k) => isDigest(k.secret)) ? 'simple password (known by its digest)' : 'simple password';
      return [
        {
          rule: 'key-in-the-clear',
          severity: 'note',
          where: [c.portPlace(p, 'authentication')],
          message: `${p.iface.name} of ${c.routerName(p.routerIndex)} proves itself by a simple password, which every packet shows.`,
          evidence: [{ router: c.routerName(p.routerIndex), what: 'authentication', value: shown, origin: 'written' }],
          repairs: [],
          rfc: 'RFC 2328 D.2',
        },
      ];
    }),
};
