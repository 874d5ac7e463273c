import { elects } from '../../adjacency/speakers';
import { formatAddress } from '../../prefix/address';
import type { Check } from '../context';
import type { Draft } from '../finding';

/** A non-broadcast pair where neither lists the other: no hello is ever sent (RFC 2328 §9.5.1). */
export const staticNeighborMissing: Check = {
  rule: 'static-neighbor-missing',
  about: 'Two routers on a non-broadcast network do not list each other as static neighbours: neither speaks first.',
  run: (c) =>
    c.prediction.adjacencies.pairs.flatMap((pair): Draft[] => {
      const silent = [...pair.a.refused, ...pair.b.refused].some((r) => r.kind === 'no-static-neighbor');
      const { port: a, peer: b } = pair.a;
      // Between two spokes silence is right: neither may lead.
      if (!silent || (a.settings.priority === 0 && b.settings.priority === 0)) return [];
      const [hub, spoke] = a.settings.priority >= b.settings.priority ? [a, b] : [b, a];
      const list = hub.settings.staticNeighbors.map((n) => ({ identifier: formatAddress(n.address) }));
      const name = c.routerName(hub.routerIndex);
      return [
        {
          rule: 'static-neighbor-missing',
          severity: 'error',
          where: [c.portPlace(hub, 'static-neighbors'), c.portPlace(spoke, 'static-neighbors')],
          message: `${name} does not list ${c.routerName(spoke.routerIndex)} as a static neighbour on ${hub.iface.name}, nor the other way round: neither speaks first.`,
          seen: 'No neighbour is listed on either side.',
          evidence: [{ router: name, what: 'static neighbours', value: list.map((n) => n.identifier).join(', ') || 'none', origin: 'written' }],
          repairs:
            spoke.helloFrom === undefined || hub.settings.at.length === 0
              ? []
              : [
                  {
                    title: `List ${formatAddress(spoke.helloFrom)} as a static neighbour in ${name}`,
                    router: name,
                    edits: c.portEdit(hub, ['static-neighbors', 'neighbor'], [...list, { identifier: formatAddress(spoke.helloFrom) }]),
                  },
                ],
          rfc: 'RFC 2328 §9.5.1',
        },
      ];
    }),
};

/** A segment on which nobody may be elected: all rest in 2-Way and nothing is carried. */
export const nobodyLeads: Check = {
  rule: 'nobody-leads',
  about: 'Every router of a segment has priority 0: there is no designated router, all rest in 2-Way, and nothing is carried.',
  run: (c) =>
    c.prediction.segments.list.flatMap((segment): Draft[] => {
      const ports = c.prediction.portsOn(segment.index).filter((p) => p.up && !p.settings.passive && elects(p.type));
      const first = ports[0];
      if (ports.length < 2 || !first || ports.some((p) => p.settings.priority > 0)) return [];
      return [
        {
          rule: 'nobody-leads',
          severity: 'error',
          where: ports.map((p) => c.portPlace(p, 'priority')),
          message: `Nobody can lead the segment of ${ports.map((p) => c.routerName(p.routerIndex)).join(', ')}: all have priority 0, so they rest in 2-Way and carry nothing.`,
          seen: 'Every neighbour stays in 2-Way.',
          evidence: ports.map((p) => c.setting(p, 'priority', 'priority', p.settings.priority)),
          repairs: ports.slice(0, 2).map((p) => ({
            title: `Set the priority of ${c.routerName(p.routerIndex)} to 1`,
            router: c.routerName(p.routerIndex),
            edits: c.portEdit(p, ['priority'], 1),
          })),
          rfc: 'RFC 2328 §9.4',
        },
      ];
    }),
};

/** Two routers alone on a segment that elects: point-to-point would save the election and the type 2. */
export const lanOfTwo: Check = {
  rule: 'lan-of-two',
  about: 'Two routers alone on a cable elect a designated router: as point-to-point they would need no election and no type 2.',
  run: (c) =>
    c.prediction.adjacencies.pairs.flatMap((pair): Draft[] => {
      const segment = c.prediction.segments.list[pair.segment];
      const { port: a, peer: b } = pair.a;
      if (segment?.kind !== 'cable' || segment.size !== 2 || a.type !== 'broadcast' || b.type !== 'broadcast' || pair.a.state !== 'full') return [];
      return [
        {
          rule: 'lan-of-two',
          severity: 'note',
          where: [c.portPlace(a, 'interface-type'), c.portPlace(b, 'interface-type')],
          message: `${c.routerName(a.routerIndex)} and ${c.routerName(b.routerIndex)} are alone on their cable and elect a designated router; as point-to-point they would not need to.`,
          evidence: [c.setting(a, 'interface-type', 'network type', a.type), c.setting(b, 'interface-type', 'network type', b.type)],
          repairs: [
            {
              title: `Make both ends point-to-point`,
              router: c.routerName(a.routerIndex),
              edits: [...c.portEdit(a, ['interface-type'], 'point-to-point'), ...c.portEdit(b, ['interface-type'], 'point-to-point')],
            },
          ],
          rfc: 'RFC 2328 §9.1',
        },
      ];
    }),
};
