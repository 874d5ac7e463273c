import { formatAddress, formatPrefix } from '../prefix/address';
import type { Prediction } from '../predict';
import { routeTypes } from '../design/terms';

/** Each router's table in words, from the readable rooms. */
export function readableWords(p: Prediction): string[] {
  return p.adjacencies.speakers.flatMap((s) => {
    const { hops } = p.routing.hopList(s);
    return [...p.routing.table(s).values()].map((r) => {
      const ways = r.hops.map((h) => `${hops[h]?.port.iface.name ?? ''}>${hops[h]?.address === undefined ? '' : formatAddress(hops[h].address)}`);
      return `${s.router.name} ${formatPrefix(r)} ${r.type} ${r.metric} ${r.forwardMetric ?? ''} ${ways.sort().join()}`;
    });
  });
}

/** Every advertisement of types 3, 4, 5 and 7 that each router holds, in words. */
export function databaseWords(p: Prediction): string[] {
  return p.adjacencies.speakers.flatMap((s) => {
    const areas = p.routing.areasOf(s).flatMap((a) => {
      const db = p.routing.database(s, a);
      return db ? [...[...db.summaries.values()].flat(), ...db.nssa].map((l) => ({ a, l })) : [];
    });
    return [...areas, ...p.routing.externals(s).map((l) => ({ a: -1, l }))].map(({ a, l }) => {
      const more = l.type === 5 || l.type === 7 ? ` ${l.metricType} ${formatAddress(l.forwarding)} ${l.tag} ${String(l.propagate)}` : '';
      // In version 3 link state ids are counted, in whatever order.
      const id = p.family === 6 ? '' : formatAddress(l.id);
      return `${s.router.name} ${a} ${l.type} ${id} ${formatPrefix(l)} ${formatAddress(l.adv)} ${l.metric}${more}`;
    });
  });
}

/** Tables in words from the arrays of the fast road. */
export function denseWords(p: Prediction): string[] {
  const { rows } = p.fast;
  const table = rows.emptyBuffer();
  return p.adjacencies.speakers.flatMap((s) => {
    const slots = rows.arrays.slotsOf(s);
    rows.fill(table, s);
    return Array.from({ length: table.count }, (_, i) => {
      const ways = slots.places(table.hops[i] ?? 0).map((n) => {
        const address = slots.addressAt(n);
        return `${slots.portAt(n)?.iface.name ?? ''}>${address === undefined ? '' : formatAddress(address)}`;
      });
      const type = routeTypes[table.kind[i] ?? 0] ?? 'intra-area';
      const forward = type === 'external-2' || type === 'nssa-2' ? table.forward[i] : '';
      const prefix = formatPrefix(rows.arrays.prefixes.prefix(table.prefix[i] ?? 0));
      return `${s.router.name} ${prefix} ${type} ${table.metric[i] ?? 0} ${forward ?? ''} ${ways.sort().join()}`;
    });
  });
}
