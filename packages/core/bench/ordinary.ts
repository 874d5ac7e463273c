import { settleAdjacencies } from '../src/adjacency/settle';
import type { Design } from '../src/design/design';
import { noOutage } from '../src/failures/outage';
import { PlainRouting } from '../src/plain/plain-routing';
import type { Table } from '../src/routes/route';
import type { Routing } from '../src/routes/routing';
import { findSegments } from '../src/segments/segments';

/**
 * The whole prediction as one would write it first, every table written out: an object for every route of every router and
 * for every advertisement, a tree from each router by a priority queue, sets of next hops as lists, tables as maps.
 */
export function ordinaryTables(design: Design): { readonly tables: readonly Table[]; readonly readable: Routing } {
  const adjacencies = settleAdjacencies(design, findSegments(design), noOutage);
  const readable = new PlainRouting(design, noOutage, adjacencies);
  return { tables: adjacencies.speakers.map((s) => readable.table(s)), readable };
}
