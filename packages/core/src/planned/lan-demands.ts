import type { Demand } from '../design/settings';
import { formatPrefix, hostLength, prefixOf, type Address, type Prefix } from '../prefix/address';
import type { Prediction } from '../predict';
import { addressesOf, guestOf } from '../reach/ends';
import { Forwarding } from '../reach/forwarding';
import { costFrom } from '../reach/matrix';
import { walk } from '../reach/trace';

/** Routers through which traffic leaves, and whether they say so by a default route. */
export interface Exits {
  readonly routers: readonly string[];
  readonly byDefault: boolean;
}

/**
 * Routers that tell OSPF of a default route, else all that tell of anything outside (RFC 2328 §3.3). A border router that
 * translates what an NSSA hears (RFC 3101 §3.2), or gives it its default, is no exit by that.
 */
export function exitsOf(p: Prediction): Exits {
  const told = p.adjacencies.speakers.flatMap((s) => {
    const nssa = p.routing.areasOf(s).flatMap((a) => p.routing.database(s, a)?.nssa ?? []);
    const inside = new Set(nssa.flatMap((l) => (l.speaker === s.index ? [] : [`${l.bits}/${l.length}`])));
    const border = p.routing.isBorderRouter(s);
    const own = [
      ...p.routing.externals(s).filter((l) => l.speaker === s.index && !(border && inside.has(`${l.bits}/${l.length}`))),
      ...nssa.filter((l) => l.speaker === s.index && !(border && l.length === 0)),
    ];
    return own.length === 0 ? [] : [{ name: s.router.name, byDefault: own.some((l) => l.length === 0) }];
  });
  const byDefault = told.some((t) => t.byDefault);
  const routers = told.flatMap((t) => (t.byDefault || !byDefault ? [t.name] : []));
  return { routers: [...new Set(routers)].sort(), byDefault };
}

/** Subnets of OSPF on which hosts stand: no other router is met there. */
export function hostSubnets(p: Prediction): Prefix[] {
  const out = new Map<string, Prefix>();
  for (const port of p.adjacencies.ports) {
    const meets = p.portsOn(port.segment).filter((x) => !x.settings.passive).length > 1;
    if (port.iface.kind === 'loopback' || meets) continue;
    for (const a of port.iface.addresses) {
      const subnet = prefixOf(a.bits, a.length);
      if (a.length < hostLength(a.bits) - 1) out.set(formatPrefix(subnet), subnet);
    }
  }
  return [...out.values()];
}

/**
 * So much traffic for each LAN of hosts, from a host on it to the exit that is nearest to its gateways.
 *
 * @param mbps  Mbit/s for each LAN
 * @returns     `left`: LANs that reach no exit; `exits` is empty where nothing leaves the design
 */
export function lanDemands(
  p: Prediction,
  mbps: number,
): { readonly demands: readonly Demand[]; readonly left: number; readonly exits: readonly string[] } {
  const f = Forwarding.quickly(p);
  const exits = exitsOf(p).routers;
  const goals = exits.flatMap((name): [string, Address][] =>
    addressesOf(p.design, name)
      .slice(0, 1)
      .map((a) => [name, a]),
  );
  const taken = new Set(p.design.routers.flatMap((r) => r.interfaces.flatMap((i) => i.addresses.map((a) => a.bits))));
  let left = 0;
  const demands = hostSubnets(p).flatMap((subnet): Demand[] => {
    const host = guestOf(subnet, taken);
    const gateways = f.endsOf(host);
    const at = new Set(gateways.map((g) => p.design.routers[g]?.name));
    const own = goals.find(([name]) => at.has(name));
    // What stands at an exit crosses no link of the design.
    if (own) return [];
    const [nearest] = goals
      .flatMap(([name, a]): [string, number][] => {
        // A route alone is no way: behind a summary the packet may end.
        const cost = walk(f, gateways, a).fate === 'delivered' ? costFrom(f, gateways, a) : undefined;
        return cost === undefined ? [] : [[name, cost]];
      })
      .sort((a, b) => a[1] - b[1] || (a[0] < b[0] ? -1 : 1));
    if (nearest) return [{ file: '', at: [], from: host, to: nearest[0], mbps }];
    left++;
    return [];
  });
  return { demands, left, exits };
}
