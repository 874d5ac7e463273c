import { campus, type Campus } from './campus';

/** What the core brings in, and east brings back. */
export const handedPrefix = '198.51.100.0/24';

/**
 * West and east both stand between OSPF and another protocol, on one wire with the core. The core brings the prefix in as a
 * type 2 of metric 20; west hands it to east, and east tells OSPF of it again as a type 1.
 */
export const twoPoints = (
  o: { readonly over?: Record<string, unknown>; readonly into?: Record<string, unknown>; readonly origin?: boolean } = {},
): Campus => {
  const net = campus()
    .router('core', '10.96.0.1', 0, { redistribution: [{ source: 'static', metric: 20 }] })
    .router('east', '10.96.0.2', 0, {
      'other-routes': [{ prefix: handedPrefix, preference: 90, 'next-hop': '10.96.200.1', 'learnt-from': 'west', ...o.over }],
      redistribution: [{ source: 'other', metric: 5, 'metric-type': 'type-1', ...o.into }],
    })
    .router('west', '10.96.0.3', 0)
    .cable('core', 'west', '10.96.128.0', 0)
    .cable('core', 'east', '10.96.128.2', 0)
    .port('east', 'over', '10.96.200.2/30', null)
    .port('west', 'over', '10.96.200.1/30', null)
    .port('core', 'out', '203.0.113.2/30', null);
  return o.origin === false ? net : net.static('core', handedPrefix, '203.0.113.1');
};

/** A statement of a policy. */
interface Step {
  readonly tags?: readonly number[];
  readonly setTag?: number;
  readonly refuse?: true;
}
/** Policies of a router; whatever no step takes is accepted. */
export const policies = (of: Readonly<Record<string, readonly Step[]>>): Record<string, unknown> => ({
  'ietf-routing-policy:routing-policy': {
    'policy-definitions': {
      'policy-definition': Object.entries(of).map(([name, steps]) => ({
        name,
        statements: {
          statement: [...steps, {}].map((x: Step, n) => ({
            name: String(n),
            conditions: x.tags ? { 'match-tag-set': { 'tag-value': x.tags } } : {},
            actions: { ...(x.setTag === undefined ? {} : { 'set-tag': x.setTag }), 'policy-result': x.refuse ? 'reject-route' : 'accept-route' },
          })),
        },
      })),
    },
  },
});
