import { formatIpv4, formatPrefix } from '../prefix/ipv4';
import type { Prediction } from '../predict';
import { routeTypes } from '../routes/route';

/** Each router's table in words, from the readable rooms. */
export function readableWords(p: Prediction): string[] {
  return p.adjacencies.speakers.flatMap((s) => {
    const { hops } = p.routing.hopList(s);
    return [...p.routing.table(s).values()].map((r) => {
      const ways = r.hops.map((h) => `${hops[h]?.port.iface.name ?? ''}>${hops[h]?.address === undefined ? '' : formatIpv4(hops[h].address)}`);
      return `${s.router.name} ${formatPrefix(r)} ${r.type} ${r.metric} ${r.forwardMetric ?? ''} ${ways.sort().join()}`;
    });
  });
}

/** The same from the arrays. */
export function denseWords(p: Prediction): string[] {
  const { rows } = p.routing;
  return p.adjacencies.speakers.flatMap((s) => {
    const slots = rows.arrays.slotsOf(s);
    const out: string[] = [];
    rows.each(s, (id, kind, metric, forward, hops) => {
      const ways = slots.places(hops).map((n) => {
        const address = slots.addresses[n];
        return `${slots.ports[n]?.iface.name ?? ''}>${address === undefined ? '' : formatIpv4(address)}`;
      });
      const type = routeTypes[kind] ?? 'intra-area';
      const type2 = type === 'external-2' || type === 'nssa-2';
      out.push(`${s.router.name} ${formatPrefix(rows.arrays.prefixes.prefix(id))} ${type} ${metric} ${type2 ? forward : ''} ${ways.sort().join()}`);
    });
    return out;
  });
}
