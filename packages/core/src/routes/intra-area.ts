import { eachAttached, originOf } from '../lsdb/attached-prefixes';
import type { Lsa } from '../lsdb/lsa';
import { prefixBook } from '../prefix/prefix-book';
import { joinHops, type HopList, type HopSet, type Tree } from '../spf/shortest-path-tree';
import type { Route, Table } from './route';

/**
 * Adds the intra-area routes of one area to a table: transit networks, then stub networks (RFC 2328 §16.1, both stages).
 * A network that two areas bring goes to the nearer; at equal cost both paths are kept.
 */
export function addIntraAreaRoutes(table: Table, tree: Tree, hopList: HopList): void {
  const { graph } = tree;
  const area = graph.areaId;
  const found = new Map<number, Route>();
  eachAttached(graph, (v, key, cost, link) => {
    const d = (tree.distance[v] ?? Infinity) + cost;
    const old = found.get(key);
    // §16.1 (4): of two network-LSAs for one network the shorter path stays, at equal cost the first, of the larger link state id;
    // version 3 knows no such rule.
    const source = originOf(graph, v);
    if (!source || d === Infinity || (old && (old.metric < d || (old.metric === d && link < 0 && !graph.six)))) return;
    const own = link >= 0 && v === tree.root;
    const port = own ? graph.routers[v]?.portOf(link) : undefined;
    const hops: HopSet = port ? [hopList.place(port, undefined)] : tree.hops(v);
    const attached = link < 0 ? hops.some((h) => hopList.hops[h]?.address === undefined) : own;
    if (old?.metric === d)
      found.set(key, { ...old, hops: joinHops(old.hops, hops), sources: [...old.sources, source], attached: old.attached || attached });
    else found.set(key, make(key, d, hops, area, source, attached));
  });
  for (const [key, route] of found) {
    const old = table.get(key);
    if (!old || route.metric < old.metric) table.set(key, route);
    else if (route.metric === old.metric)
      table.set(key, { ...old, hops: joinHops(old.hops, route.hops), sources: [...old.sources, ...route.sources] });
  }
}

function make(key: number, metric: number, hops: HopSet, area: number, source: Lsa, attached: boolean): Route {
  return {
    key,
    ...prefixBook.prefix(key),
    type: 'intra-area',
    metric,
    forwardMetric: undefined,
    tag: 0,
    hops,
    area,
    sources: [source],
    rule: source.type === 9 ? 'RFC 5340 §4.8.1' : 'RFC 2328 §16.1',
    attached,
  };
}
