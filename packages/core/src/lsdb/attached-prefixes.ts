import { networkOf } from '../prefix/address';
import { lengthOfMask } from '../prefix/ipv4';
import { prefixBook, type PrefixBook } from '../prefix/prefix-book';
import type { AreaGraph } from './area-graph';
import type { AttachedPrefix, IntraAreaPrefixLsa, Lsa, NetworkLsa } from './lsa';
import { stubLink, type RouterLsa } from './router-links';

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
 * with a host mask is hidden: it carries traffic and brings no route (RFC 6860 §2.2.2). In version 3 intra-area-prefix-LSAs bring
 * them to the same vertices, and of those of networks all of equal cost are taken (RFC 5340 §4.8.1).
 */
export function eachAttached(graph: AreaGraph, take: TakeAttached, prefixes: PrefixBook = prefixBook): void {
  const { routers, networks } = graph;
  if (graph.six) {
    eachAttachedOfThree(graph, take);
    return;
  }
  const order = networks.map((n, i) => ({ n, vertex: routers.length + i })).sort((a, b) => b.n.id - a.n.id);
  for (const { n, vertex } of order) if (n.length < 32) take(vertex, prefixes.id(networkOf(n.id, n.length), n.length), 0, -1);
  routers.forEach(({ first, end, columns }, v) => {
    const { kind, id, data, metric } = columns;
    for (let n = first; n < end; n++)
      if (kind[n] === stubLink) take(v, prefixes.id(id[n] ?? 0, lengthOfMask(data[n] ?? 0) ?? 32), metric[n] ?? 0, n - first);
  });
}

function eachAttachedOfThree({ routers, networks }: AreaGraph, take: TakeAttached): void {
  networks.forEach((n, i) => {
    for (const id of n.prefixes ?? []) take(routers.length + i, id, 0, -1);
  });
  routers.forEach(({ first, end, columns: { kind, id, metric } }, v) => {
    for (let n = first; n < end; n++) if (kind[n] === stubLink) take(v, id[n] ?? 0, metric[n] ?? 0, n - first);
  });
}

/** The prefixes that a router or network has in an area of version 3, as it advertises them; `undefined` without any (RFC 5340 §4.4.3.9). */
export function intraAreaPrefixLsa(of: RouterLsa | NetworkLsa): IntraAreaPrefixLsa | undefined {
  const prefixes: AttachedPrefix[] =
    of.type === 1
      ? of.links.flatMap((l) => (l.kind === 'stub' ? [{ ...prefixBook.prefix(l.id), metric: l.metric, ...(l.port && { port: l.port }) }] : []))
      : (of.prefixes ?? []).map((id) => ({ ...prefixBook.prefix(id), metric: 0 }));
  if (prefixes.length === 0) return undefined;
  const speaker = of.type === 1 ? of.speaker : of.port.speaker;
  return { type: 9, adv: of.adv, id: of.id, speaker, of, prefixes };
}

const made = new WeakMap<RouterLsa | NetworkLsa, IntraAreaPrefixLsa | undefined>();

/** The advertisement that brings the prefixes of a vertex; `undefined` for none of the graph. */
export function originOf({ routers, networks, six }: AreaGraph, vertex: number): Lsa | undefined {
  const of = vertex < routers.length ? routers[vertex] : networks[vertex - routers.length];
  if (!six || !of) return of;
  if (!made.has(of)) made.set(of, intraAreaPrefixLsa(of));
  return made.get(of);
}
