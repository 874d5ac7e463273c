import { interfaceUp } from '../../failures/outage';
import { formatAddress } from '../../prefix/address';
import type { Check } from '../context';

/** An interface that shares a wire with OSPF routers, in a router that speaks OSPF, and takes no part itself. */
export const interfaceNotInOspf: Check = {
  rule: 'interface-not-in-ospf',
  about: 'An interface faces an OSPF interface of another router but is not in OSPF itself.',
  run: (c) => {
    const { prediction: p } = c;
    return p.segments.list.flatMap((segment) => {
      const all = p.portsOn(segment.index);
      // Where each member has a port nobody stands aside.
      if (all.length === 0 || segment.members.every((m) => all.some((x) => x.routerIndex === m.router && x.ifaceIndex === m.iface))) return [];
      const ports = all.filter((x) => x.up && !x.settings.passive);
      return segment.members.flatMap((m) => {
        const router = p.design.routers[m.router];
        const iface = router?.interfaces[m.iface];
        const instance = router && c.processesOf(router)[0];
        const facing = ports.filter((x) => x.routerIndex !== m.router);
        const first = facing[0];
        if (!router || !iface || !instance || !first) return [];
        // A process that does not run at all is told by a check of its own.
        if (p.speakersOf(m.router).length === 0) return [];
        if (p.portOf(m.router, m.iface)) return [];
        if (!interfaceUp(p.design, p.outage, m.router, m.iface)) return [];
        // Without IPv6 on it nothing of version 3 can pass.
        if (c.family === 6 && !iface.six) return [];
        const area = instance.areas.find((a) => a.id === first.area.id);
        const leaf = area && { name: iface.name, 'interface-type': first.type };
        return [
          {
            rule: 'interface-not-in-ospf',
            severity: 'error' as const,
            where: [c.place(router, iface.at, undefined, { interface: iface.name }), ...facing.map((x) => c.portPlace(x))],
            message: `${iface.name} of ${router.name} faces ${facing.map((x) => c.routerName(x.routerIndex)).join(', ')} in area ${formatAddress(first.area.id)}, but is not in OSPF.`,
            seen: `${facing.map((x) => c.routerName(x.routerIndex)).join(', ')} send${facing.length === 1 ? 's' : ''} hellos and hear${facing.length === 1 ? 's' : ''} none.`,
            evidence: [
              { router: router.name, what: 'OSPF', value: 'no line and no rule takes this interface', origin: 'computed' as const },
              c.setting(first, 'interface-type', 'OSPF at the other end', `area ${formatAddress(first.area.id)}, ${first.type}`),
            ],
            repairs:
              area && leaf && area.at.length > 0
                ? [
                    {
                      title: `Put ${iface.name} of ${router.name} into area ${formatAddress(area.id)}`,
                      router: router.name,
                      edits: [c.edit(router, area.at, ['interfaces', 'interface', String(area.interfaces.length)], leaf)].map((e) => ({
                        ...e,
                        at: [...e.at.slice(0, -1), area.interfaces.length],
                        from: undefined,
                      })),
                    },
                  ]
                : [],
            rfc: 'RFC 2328 §9.1',
          },
        ];
      });
    });
  },
};

/**
 * A router without any OSPF that shares wires with several OSPF routers: it stands where they would be neighbours of it. One
 * that faces a single router is somebody's own affair (a host, a customer behind static routes).
 */
export const routerWithoutOspf: Check = {
  rule: 'router-without-ospf',
  about: 'A router that runs no OSPF stands between routers that wait for a neighbour there: what is behind it is cut off.',
  run: (c) => {
    const { prediction: p } = c;
    return p.design.routers.flatMap((router, index) => {
      if ((router.asWritten ?? router).instances.length > 0 || p.outage.routers.has(index)) return [];
      const facing = router.interfaces.flatMap((_, i) => {
        if (!interfaceUp(p.design, p.outage, index, i)) return [];
        const waiting = p.portsOn(p.segments.of[index]?.[i] ?? -1).filter((x) => x.up && !x.settings.passive);
        // Where others on the wire are neighbours of each other it is a host among them.
        return waiting.filter((x) => (p.adjacencies.views[x.index] ?? []).length === 0);
      });
      const names = [...new Set(facing.map((x) => c.routerName(x.routerIndex)))];
      if (names.length < 2) return [];
      return [
        {
          rule: 'router-without-ospf',
          severity: 'warning' as const,
          where: [c.place(router, []), ...facing.map((x) => c.portPlace(x))],
          message: `${router.name} runs no OSPF and stands between ${names.join(', ')}: none of them finds a neighbour there.`,
          seen: `${names.join(', ')} send hellos and hear none.`,
          evidence: [
            { router: router.name, what: 'OSPF', value: 'no process is written', origin: 'computed' as const },
            ...facing.map((x) => c.setting(x, 'interface-type', `OSPF on ${x.iface.name}`, `area ${formatAddress(x.area.id)}, ${x.type}`)),
          ],
          repairs: [],
          rfc: 'RFC 2328 §9.1',
        },
      ];
    });
  },
};
