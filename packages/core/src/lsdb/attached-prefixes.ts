import { lengthOfMask, networkOf } from '../prefix/ipv4';
import { prefixBook, type PrefixBook } from '../prefix/prefix-book';
import type { AreaGraph } from './area-graph';
import type { Lsa } from './lsa';
import { stubLink } from './router-links';

/**
 * Takes one prefix that is attached to a vertex of an area.
 *
 * @param vertex  who brings it
 * @param prefix  its number
 * @param cost    from the vertex to it
 * @param link    place of the stub link in the vertex's router-LSA; -1 where the vertex is the transit network itself
 */
export type TakeAttached = (vertex: number, prefix: number, cost: number, link: number) => void;

/**
 * The prefixes that are attached to an area's vertices (RFC 2328 §16.1): transit networks by their masks, then stub links.
 * Transit networks come by descending link state id, so that the first of equal cost is the one that §16.1 (4) takes; one
 * with a host mask is hidden: it carries traffic and brings no route (RFC 6860 §2.2.2).
 */
export function eachAttached(graph: AreaGraph, take: TakeAttached, prefixes: PrefixBook = prefixBook): void {
  const { routers, networks } = graph;
  const order = networks.map((n, i) => ({ n, vertex: routers.length + i })).sort((a, b) => b.n.id - a.n.id);
  for (const { n, vertex } of order) if (n.length < 32) take(vertex, prefixes.id(networkOf(n.id, n.length), n.length), 0, -1);
  routers.forEach(({ first, end, columns }, v) => {
    const { kind, id, data, metric } = columns;
    for (let n = first; n < end; n++)
      if (kind[n] === stubLink) take(v, prefixes.id(id[n] ?? 0, lengthOfMask(data[n] ?? 0) ?? 32), metric[n] ?? 0, n - first);
  });
}

/** The advertisement that a vertex stands for; `undefined` for none of the graph. */
export const originOf = ({ routers, networks }: AreaGraph, vertex: number): Lsa | undefined =>
  vertex < routers.length ? routers[vertex] : networks[vertex - routers.length];
