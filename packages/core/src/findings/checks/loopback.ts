import { configuredUp } from '../../design/router-id';
import { formatAddress, formatPrefix, isLoopbackAddress, prefixOf } from '../../prefix/address';
import type { Check } from '../context';

/** A loopback that OSPF does not advertise, though the router speaks it. */
export const loopbackNotAdvertised: Check = {
  rule: 'loopback-not-advertised',
  about: 'A loopback address is up and not advertised by OSPF: nobody else can reach it.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s) =>
      s.router.interfaces.flatMap((i) => {
        const first = i.addresses[0];
        if (i.kind !== 'loopback' || !first || isLoopbackAddress(first.bits) || !configuredUp(s.router, i)) return [];
        if (s.ports.some((p) => p.iface === i)) return [];
        if (s.instance.redistribution.some((r) => r.source === 'direct')) return [];
        const area = s.instance.areas.find((a) => a.at.length > 0 && a.interfaces.length > 0);
        return [
          {
            rule: 'loopback-not-advertised',
            severity: 'warning' as const,
            where: [c.place(s.router, i.at, undefined, { interface: i.name })],
            message: `The loopback ${formatPrefix(prefixOf(first.bits, first.length))} of ${s.router.name} is not in OSPF: no other router learns it.`,
            evidence: [{ router: s.router.name, what: 'OSPF', value: 'no line and no rule takes this interface', origin: 'computed' as const }],
            repairs: area
              ? [
                  {
                    title: `Advertise ${i.name} of ${s.router.name} in area ${formatAddress(area.id)}`,
                    router: s.router.name,
                    edits: [
                      {
                        ...c.edit(s.router, area.at, ['interfaces', 'interface'], undefined),
                        at: [...c.edit(s.router, area.at, ['interfaces', 'interface'], undefined).at, area.interfaces.length],
                        from: undefined,
                        to: { name: i.name, passive: true },
                      },
                    ],
                  },
                ]
              : [],
            rfc: 'RFC 2328 §9.1',
          },
        ];
      }),
    ),
};
