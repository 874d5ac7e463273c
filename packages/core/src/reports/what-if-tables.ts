import { alternatesOf } from '../alternates/alternates';
import { loadsOf, type Demands } from '../loads/loads';
import { formatAddress, formatPrefix } from '../prefix/address';
import type { Prediction } from '../predict';
import type { TableRows } from './csv';

/** Tables about what a network would carry, and what it could do at once when a link fails. */
export const whatIfTables = ['loads', 'alternates'] as const;
export type WhatIfTable = (typeof whatIfTables)[number];

/** What every interface would carry of the demands: Mbit/s outwards, of how much, and the share. */
function loadsTable(families: readonly Prediction[], demands: Demands): TableRows {
  return {
    header: ['router', 'interface', 'mbps', 'capacity-mbps', 'share'],
    rows: loadsOf(families, demands).links.map((l) => [
      l.router,
      l.iface,
      l.mbps,
      l.capacity ?? null,
      l.capacity === undefined || l.capacity === 0 ? null : Math.round((l.mbps / l.capacity) * 1e6) / 1e6,
    ]),
  };
}

/** Every next hop of every route inside an area, and the best alternate for it (RFC 5286). */
function alternatesTable(families: readonly Prediction[]): TableRows {
  return {
    header: ['router', 'prefix', 'interface', 'next-hop', 'alternate-interface', 'alternate-next-hop', 'link', 'node', 'downstream'],
    rows: families.flatMap((p) =>
      alternatesOf(p).map(({ router, prefix, primary, alternate: a }) => [
        router,
        formatPrefix(prefix),
        primary.iface,
        formatAddress(primary.address),
        a?.iface ?? null,
        a ? formatAddress(a.address) : null,
        a?.link ?? false,
        a?.node ?? false,
        a?.downstream ?? false,
      ]),
    ),
  };
}

/**
 * One of these tables, over the states of all families of a design.
 *
 * @param routers  only of these routers
 */
export function whatIfTable(table: WhatIfTable, families: readonly Prediction[], demands: Demands, routers?: ReadonlySet<string>): TableRows {
  const { header, rows } = table === 'loads' ? loadsTable(families, demands) : alternatesTable(families);
  return { header, rows: routers ? rows.filter(([router]) => routers.has(String(router))) : rows };
}
