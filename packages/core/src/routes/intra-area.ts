import { prefixId } from '../prefix/prefix-book';
import { lengthOfMask, networkOf } from '../prefix/ipv4';
import { joinHops, type HopList, type HopSet, type Tree } from '../spf/shortest-path-tree';
import type { Lsa } from '../lsdb/lsa';
import type { Route, Table } from './route';

/**
 * Adds the intra-area routes of one area to a table: transit networks, then stub networks (RFC 2328 §16.1, both stages).
 * A network that two areas bring goes to the nearer; at equal cost both paths are kept.
 */
export function addIntraAreaRoutes(table: Table, tree: Tree, hopList: HopList): void {
  const { graph } = tree;
  const area = graph.areaId;
  const found = new Map<number, Route>();
  const routerCount = graph.routers.length;
  graph.networks.forEach((lsa, i) => {
    const { id } = lsa;
    const v = routerCount + i;
    const d = tree.distance[v] ?? Infinity;
    // RFC 6860 §2.2.2: a host mask says that the network is hidden; it carries traffic and brings no route.
    if (d === Infinity || lsa.length === 32) return;
    const bits = networkOf(id, lsa.length);
    const key = prefixId(bits, lsa.length);
    const old = found.get(key);
    // §16.1 (4): of two network-LSAs for one network the shorter path stays, at equal cost the larger link state id.
    if (old && (old.metric < d || (old.metric === d && (old.sources[0]?.id ?? 0) > id))) return;
    const hops = tree.hops(v);
    found.set(
      key,
      make(
        key,
        bits,
        lsa.length,
        d,
        hops,
        area,
        lsa,
        hops.some((h) => hopList.hops[h]?.address === undefined),
      ),
    );
  });
  graph.routers.forEach((router, v) => {
    const base = tree.distance[v] ?? Infinity;
    if (base === Infinity) return;
    for (const link of router.links) {
      if (link.kind !== 'stub') continue;
      const length = lengthOfMask(link.data) ?? 32;
      const key = prefixId(link.id, length);
      const d = base + link.metric;
      const old = found.get(key);
      if (old && old.metric < d) continue;
      const own = v === tree.root;
      const hops: HopSet = own && link.port ? [hopList.place(link.port, undefined)] : tree.hops(v);
      if (old?.metric === d)
        found.set(key, { ...old, hops: joinHops(old.hops, hops), sources: [...old.sources, router], attached: old.attached || own });
      else found.set(key, make(key, link.id, length, d, hops, area, router, own));
    }
  });
  for (const [key, route] of found) {
    const old = table.get(key);
    if (!old || route.metric < old.metric) table.set(key, route);
    else if (route.metric === old.metric)
      table.set(key, { ...old, hops: joinHops(old.hops, route.hops), sources: [...old.sources, ...route.sources] });
  }
}

function make(key: number, bits: number, length: number, metric: number, hops: HopSet, area: number, source: Lsa, attached: boolean): Route {
  return {
    key,
    bits,
    length,
    type: 'intra-area',
    metric,
    forwardMetric: undefined,
    tag: 0,
    hops,
    area,
    sources: [source],
    rule: 'RFC 2328 §16.1',
    attached,
  };
}
