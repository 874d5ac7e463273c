import type { AreaDatabase } from '../lsdb/area-database';
import type { RouterLink, RouterLsa } from '../lsdb/lsa';
import type { Ipv4 } from '../prefix/ipv4';

/**
 * An area's types 1 and 2 as a graph with dense ids: the boundary between readable advertisements and the hot path.
 * Vertices 0 to `routers.length - 1` are routers, the rest transit networks. Only links that both ends describe are
 * edges (RFC 2328 §16.1 (2) (b)).
 */
export interface AreaGraph {
  readonly database: AreaDatabase;
  readonly routers: readonly RouterLsa[];
  readonly networkIds: readonly Ipv4[];
  readonly vertexOfRouter: ReadonlyMap<Ipv4, number>;
  readonly vertexOfNetwork: ReadonlyMap<Ipv4, number>;
  /** Edges leaving vertex v: places `first[v]` to `first[v + 1] - 1` of `to`, `metric`. */
  readonly first: Int32Array;
  readonly to: Int32Array;
  readonly metric: Int32Array;
  /** Edge from a router: the place of its link in the router-LSA. From a network: the attached router's address there. */
  readonly detail: Float64Array;
}

const back = (w: RouterLsa | undefined, v: Ipv4): boolean =>
  w?.links.some((l) => (l.kind === 'point-to-point' || l.kind === 'virtual') && l.id === v) ?? false;

/** Builds the graph of one area database. */
export function areaGraph(database: AreaDatabase): AreaGraph {
  const routers = [...database.routers.values()];
  const networks = [...database.networks.values()];
  const vertexOfRouter = new Map(routers.map((r, i) => [r.adv, i]));
  const vertexOfNetwork = new Map(networks.map((n, i) => [n.id, routers.length + i]));
  const first = new Int32Array(routers.length + networks.length + 1);
  const to: number[] = [];
  const metric: number[] = [];
  const detail: number[] = [];
  const edge = (w: number, cost: number, what: number): void => {
    to.push(w);
    metric.push(cost);
    detail.push(what);
  };
  const transitLinks = new Map<Ipv4, { router: number; link: RouterLink }[]>();
  routers.forEach((r, i) => {
    first[i] = to.length;
    r.links.forEach((l, place) => {
      if (l.kind === 'point-to-point' || l.kind === 'virtual') {
        const w = vertexOfRouter.get(l.id);
        if (w !== undefined && w !== i && back(routers[w], r.adv)) edge(w, l.metric, place);
      } else if (l.kind === 'transit') {
        const w = vertexOfNetwork.get(l.id);
        if (w === undefined || !database.networks.get(l.id)?.routers.includes(r.adv)) return;
        edge(w, l.metric, place);
        const list = transitLinks.get(l.id);
        if (list) list.push({ router: i, link: l });
        else transitLinks.set(l.id, [{ router: i, link: l }]);
      }
    });
  });
  networks.forEach((n, i) => {
    first[routers.length + i] = to.length;
    for (const { router, link } of transitLinks.get(n.id) ?? []) edge(router, 0, link.data);
  });
  first[routers.length + networks.length] = to.length;
  return {
    database,
    routers,
    networkIds: networks.map((n) => n.id),
    vertexOfRouter,
    vertexOfNetwork,
    first,
    to: Int32Array.from(to),
    metric: Int32Array.from(metric),
    detail: Float64Array.from(detail),
  };
}
