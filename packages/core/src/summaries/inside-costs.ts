import type { Speaker } from '../adjacency/speakers';
import { distancesFrom, noWay } from '../dense/area-rows';
import type { AreaGraph } from '../lsdb/area-graph';
import { eachAttached } from '../lsdb/attached-prefixes';
import type { Prediction } from '../predict';

/** Costs by the number of the prefix. */
export type Costs = ReadonlyMap<number, number>;

const none: Costs = new Map();
const known = new WeakMap<AreaGraph, Map<number, Costs>>();

/** What each prefix of an area costs a router inside it, of those that it reaches (RFC 2328 §16.1); made once for a graph. */
export function insideCosts(p: Prediction, s: Speaker, area: number): Costs {
  const graph = p.routing.database(s, area)?.graph;
  const vertex = graph?.vertexOfRouter.get(s.routerId);
  if (!graph || vertex === undefined) return none;
  let byVertex = known.get(graph);
  if (!byVertex) known.set(graph, (byVertex = new Map<number, Costs>()));
  let costs = byVertex.get(vertex);
  if (!costs) byVertex.set(vertex, (costs = costsFrom(graph, vertex)));
  return costs;
}

function costsFrom(graph: AreaGraph, vertex: number): Costs {
  const distance = distancesFrom(graph, vertex);
  const out = new Map<number, number>();
  eachAttached(graph, (v, id, cost) => {
    const way = distance[v] ?? noWay;
    if (way >= noWay) return;
    const old = out.get(id);
    if (old === undefined || way + cost < old) out.set(id, way + cost);
  });
  return out;
}
