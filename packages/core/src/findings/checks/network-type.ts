import type { NetworkType } from '../../design/design';
import type { Check } from '../context';

/** How a type describes its segment: types of one family agree in the tree. */
const family = (t: NetworkType): string => (t === 'broadcast' || t === 'non-broadcast' ? 'transit' : 'point-to-point');

/** Two ends that become neighbours and still lose routes, as each describes the wire in its own way (RFC 2328 §12.4.1). */
export const networkType: Check = {
  rule: 'network-type',
  about: 'The ends of a segment have network types that describe it differently: they may reach Full and still carry nothing.',
  run: (c) =>
    c.prediction.adjacencies.pairs.flatMap((pair) => {
      const { port: a, peer: b, state } = pair.a;
      if (family(a.type) === family(b.type) || state === 'down' || state === 'init') return [];
      const [ra, rb] = [c.routerOf(a), c.routerOf(b)];
      return [
        {
          rule: 'network-type',
          severity: 'error' as const,
          where: [c.portPlace(a, 'interface-type'), c.portPlace(b, 'interface-type')],
          message: `${ra.name} and ${rb.name} reach ${state === 'full' ? 'Full' : state}, but ${ra.name} calls the wire ${a.type} and ${rb.name} ${b.type}: the tree does not pass it both ways.`,
          seen: 'The neighbour looks healthy; routes through it are missing.',
          evidence: [c.setting(a, 'interface-type', 'network type', a.type), c.setting(b, 'interface-type', 'network type', b.type)],
          repairs: [
            {
              title: `Set the network type of ${b.iface.name} in ${rb.name} to ${a.type}`,
              router: rb.name,
              edits: c.portEdit(b, ['interface-type'], a.type),
            },
            {
              title: `Set the network type of ${a.iface.name} in ${ra.name} to ${b.type}`,
              router: ra.name,
              edits: c.portEdit(a, ['interface-type'], b.type),
            },
          ].filter((r) => r.edits.length > 0),
          rfc: 'RFC 2328 §12.4.1',
        },
      ];
    }),
};
