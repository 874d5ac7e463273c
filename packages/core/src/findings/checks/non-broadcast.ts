import type { Check } from '../context';

/** On a non-broadcast segment with a hub, a spoke that may be elected (RFC 2328 §9.4, §9.5.1). */
export const spokeCanLead: Check = {
  rule: 'spoke-can-lead',
  about: 'On a non-broadcast hub and spoke segment a spoke has a priority above 0 and can become designated router.',
  run: (c) =>
    c.prediction.segments.list.flatMap((segment) => {
      const ports = c.prediction.portsOn(segment.index).filter((p) => p.type === 'non-broadcast' && p.up);
      const hubs = ports.filter((p) => p.settings.staticNeighbors.length > 1);
      const hub = hubs[0];
      if (ports.length < 3 || hubs.length !== 1 || !hub) return [];
      return ports
        .filter((p) => p !== hub && p.settings.priority > 0)
        .map((p) => ({
          rule: 'spoke-can-lead',
          severity: 'error' as const,
          where: [c.portPlace(p, 'priority')],
          message: `${c.routerName(p.routerIndex)} is a spoke of ${c.routerName(hub.routerIndex)} and can be elected: its priority is ${p.settings.priority}, but only the hub reaches everyone.`,
          evidence: [c.setting(p, 'priority', 'priority', p.settings.priority)],
          repairs: [
            {
              title: `Set the priority of ${c.routerName(p.routerIndex)} to 0`,
              router: c.routerName(p.routerIndex),
              edits: c.portEdit(p, ['priority'], 0),
            },
          ],
          rfc: 'RFC 2328 §9.4',
        }));
    }),
};
