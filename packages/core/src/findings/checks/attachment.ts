import { backbone } from '../../design/design';
import type { Family } from '../../design/family';
import { formatAddress, hostLength, type Address } from '../../prefix/address';
import type { Prediction } from '../../predict';
import type { Segments } from '../../segments/segments';
import type { Speaker } from '../../adjacency/speakers';
import type { DocumentValue } from '../../design/edit';
import type { Check, CheckContext } from '../context';
import type { Draft } from '../finding';

/** Takes an area out of a router whole, or moves its loopback into the area that the router stands in otherwise. */
function withoutArea(c: CheckContext, s: Speaker, area: number): Draft['repairs'] {
  const n = s.instance.areas.findIndex((a) => a.id === area && a.at.length > 0);
  const entry = s.instance.areas[n];
  if (!entry) return [];
  const edit = c.edit(s.router, s.instance.at, ['areas', 'area'], undefined);
  const list = edit.from as readonly { readonly [member: string]: DocumentValue }[];
  const place = entry.at.at(-1);
  const kept = list.filter((_, i) => i !== place);
  const rest = s.instance.areas.find((a) => a.id !== area && a.interfaces.length > 0 && a.at.length > 0);
  const passive = entry.interfaces.map((i) => ({ name: i.name, passive: true }));
  const target = rest?.at.at(-1);
  const joined = list.map((a, i): DocumentValue => {
    if (i !== target) return a;
    const key = Object.keys(a).find((k) => k.endsWith('interfaces')) ?? 'interfaces';
    const inside = a[key] as { readonly interface?: readonly DocumentValue[] } | undefined;
    return { ...a, [key]: { ...inside, interface: [...(inside?.interface ?? []), ...passive] } };
  });
  return [
    ...(rest
      ? [
          {
            title: `Move ${entry.interfaces.map((i) => i.name).join(', ')} of ${s.router.name} into area ${formatAddress(rest.id)}, passive`,
            router: s.router.name,
            edits: [{ ...edit, to: joined.filter((_, i) => i !== place) }],
          },
        ]
      : []),
    { title: `Take area ${formatAddress(area)} out of ${s.router.name}`, router: s.router.name, edits: [{ ...edit, to: kept }] },
  ];
}

/** An area that a router stands in alone while others hold it elsewhere: left over, or a loopback in the wrong area. */
export const leftoverArea: Check = {
  rule: 'leftover-area',
  about: 'A router stands in an area only with interfaces that face nobody, while the area lives elsewhere: it counts as a border router by mistake.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s) => {
      const areas = c.prediction.routing.areasOf(s);
      if (areas.length < 2) return [];
      return areas.flatMap((area): Draft[] => {
        const ports = s.ports.filter((p) => p.area.id === area);
        const elsewhere = c.prediction.adjacencies.speakers.some((o) => o !== s && o.ports.some((p) => p.area.id === area));
        const faces = ports.some((p) => (c.prediction.adjacencies.views[p.index] ?? []).length > 0);
        if (ports.length === 0 || faces || !elsewhere) return [];
        if (area === backbone && c.prediction.routing.areaOf(s, area).virtualLinks.length > 0) return [];
        const only = ports.every((p) => p.loopback);
        return [
          {
            rule: 'leftover-area',
            severity: 'warning',
            where: ports.map((p) => c.portPlace(p)),
            message: only
              ? `The loopback of ${s.router.name} stands in area ${formatAddress(area)}, where no other router faces ${s.router.name}: its address is cut off from that area.`
              : `${s.router.name} stands in area ${formatAddress(area)} only with ${ports.map((p) => p.iface.name).join(', ')}, where nobody faces it: is the area left over?`,
            evidence: ports.map((p) => ({
              router: s.router.name,
              what: p.iface.name,
              value: `area ${formatAddress(area)}, no neighbour`,
              origin: 'computed' as const,
            })),
            repairs: withoutArea(c, s, area),
            rfc: 'RFC 3509 §2',
          },
        ];
      });
    }),
};

/** One address on two interfaces. */
export const duplicateAddress: Check = {
  rule: 'duplicate-address',
  about: 'One address stands on two interfaces.',
  run: (c) =>
    twins(c.prediction).flatMap(({ bits, at }): Draft[] => {
      const both = at.flatMap(([r, i]) => {
        const router = c.prediction.design.routers[r];
        const iface = router?.interfaces[i];
        return router && iface ? [{ router, iface }] : [];
      });
      const [first, second] = both;
      if (!first || !second) return [];
      return [
        {
          rule: 'duplicate-address',
          severity: 'error',
          where: both.map((x) => c.place(x.router, x.iface.at, undefined, { interface: x.iface.name })),
          message: `${formatAddress(bits)} stands on ${first.iface.name} of ${first.router.name} and on ${second.iface.name} of ${second.router.name}.`,
          evidence: both.map((x) => ({ router: x.router.name, what: x.iface.name, value: formatAddress(bits), origin: 'written' as const })),
          repairs: [],
          rfc: 'RFC 8344',
        },
      ];
    }),
};

/** An address that stands on two interfaces, each by its places in the design. */
interface Twin {
  readonly bits: Address;
  readonly at: readonly (readonly [number, number])[];
}

const twinsIn: Readonly<Record<Family, WeakMap<Segments, readonly Twin[]>>> = { 4: new WeakMap(), 6: new WeakMap() };

/** Addresses that stand on two interfaces: found once while nobody's wires change. */
function twins({ design, segments, family }: Prediction): readonly Twin[] {
  const known = twinsIn[family].get(segments);
  if (known) return known;
  const seen = new Map<Address, readonly [number, number]>();
  const out: Twin[] = [];
  design.routers.forEach((router, r) => {
    router.interfaces.forEach((iface, i) => {
      for (const a of iface.addresses) {
        const first = seen.get(a.bits);
        const other = first && design.routers[first[0]]?.interfaces[first[1]];
        if (!first || !other) {
          seen.set(a.bits, [r, i]);
          continue;
        }
        // Unnumbered links repeat the address of their own loopback on purpose.
        const onPurpose = first[0] === r && (iface.kind === 'loopback' || other.kind === 'loopback' || a.length === hostLength(a.bits));
        if (iface.boundTo === undefined && other.boundTo === undefined && !onPurpose) out.push({ bits: a.bits, at: [first, [r, i]] });
      }
    });
  });
  twinsIn[family].set(segments, out);
  return out;
}

/** Whether both ends of a virtual link have a global address in its transit area. */
const endsNamed = (s: Speaker, peer: Speaker, area: number): boolean =>
  [s, peer].every((end) => end.ports.some((p) => p.area.id === area && p.address !== undefined));

/** A virtual link that does not come up. */
export const virtualLinkDown: Check = {
  rule: 'virtual-link-down',
  about: 'A virtual link is configured and not up: its other end, its timers, its keys or its path through the transit area are missing.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s) =>
      c.prediction.routing.areaOf(s, backbone).virtualLinks.flatMap((l): Draft[] => {
        const { routing, adjacencies } = c.prediction;
        const peer = adjacencies.speakers.find((p) => p.routerId === l.routerId);
        if (routing.virtuals.some((v) => v.speaker === s.index && adjacencies.speakers[v.peer] === peer && v.transitArea === l.transitArea))
          return [];
        const mirror = peer && routing.areaOf(peer, backbone).virtualLinks.find((m) => m.routerId === s.routerId && m.transitArea === l.transitArea);
        const why = !peer
          ? `no router has the id ${formatAddress(l.routerId)}`
          : routing.areaOf(s, l.transitArea).type !== 'normal'
            ? `its transit area ${formatAddress(l.transitArea)} is no normal area`
            : !mirror
              ? `${peer.router.name} does not point back`
              : mirror.hello !== l.hello || mirror.dead !== l.dead
                ? 'hello or dead interval differ'
                : c.family === 6 && !endsNamed(s, peer, l.transitArea)
                  ? `an end has no global address in area ${formatAddress(l.transitArea)} to be sent to (RFC 5340 §4.7)`
                  : 'there is no path through the transit area, or the keys differ';
        return [
          {
            rule: 'virtual-link-down',
            severity: 'error',
            where: [c.place(s.router, [...routing.areaOf(s, backbone).at, 'virtual-links'], undefined, { area: formatAddress(backbone) })],
            message: `The virtual link of ${s.router.name} to ${formatAddress(l.routerId)} through area ${formatAddress(l.transitArea)} is down: ${why}.`,
            evidence: [
              {
                router: s.router.name,
                what: 'virtual link',
                value: `${formatAddress(l.routerId)} through ${formatAddress(l.transitArea)}`,
                origin: 'written',
              },
            ],
            repairs: [],
            rfc: 'RFC 2328 §15',
          },
        ];
      }),
    ),
};
