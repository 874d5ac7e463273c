import type { NetworkLsa } from './lsa';
import { stubLink, transitLink, type RouterLsa } from './router-links';
import type { Ipv4 } from '../prefix/ipv4';
import { wider } from '../segments/number-lists';

/**
 * An area's types 1 and 2 as a graph with dense ids: the boundary between readable advertisements and the hot path.
 * Vertices 0 to `routers.length - 1` are routers, the rest transit networks. Only links that both ends describe are
 * edges (RFC 2328 §16.1 (2) (b)).
 */
export interface AreaGraph {
  readonly areaId: number;
  /** Of version 3. */
  readonly six: boolean;
  readonly routers: readonly RouterLsa[];
  readonly networks: readonly NetworkLsa[];
  readonly vertexOfRouter: ReadonlyMap<Ipv4, number>;
  /** By the key of the network. */
  readonly vertexOfNetwork: ReadonlyMap<number, number>;
  /** Edges leaving vertex v: places `first[v]` to `first[v + 1] - 1` of `to`, `metric`. */
  readonly first: Int32Array;
  readonly to: Int32Array;
  readonly metric: Int32Array;
  /** Edge from a router: the place of its link in the router-LSA. From a network: the attached router's address there. */
  readonly detail: Float64Array;
}

/** Edges while they are found, vertex by vertex. */
class EdgeList {
  private readonly first: Int32Array;
  private to = new Int32Array(512);
  private metric = new Int32Array(512);
  private detail = new Float64Array(512);
  private count = 0;

  constructor(vertices: number) {
    this.first = new Int32Array(vertices + 1);
  }

  /** From now on edges leave this vertex. */
  begin(vertex: number): void {
    this.first[vertex] = this.count;
  }

  add(to: number, metric: number, detail: number): void {
    const e = this.count++;
    if (e === this.to.length) {
      this.to = wider(this.to);
      this.metric = wider(this.metric);
      this.detail = wider(this.detail);
    }
    this.to[e] = to;
    this.metric[e] = metric;
    this.detail[e] = detail;
  }

  end(): Pick<AreaGraph, 'first' | 'to' | 'metric' | 'detail'> {
    this.first[this.first.length - 1] = this.count;
    return {
      first: this.first,
      to: this.to.slice(0, this.count),
      metric: this.metric.slice(0, this.count),
      detail: this.detail.slice(0, this.count),
    };
  }
}

/** Builds the graph of the types 1 and 2 of one area. */
export function areaGraph(areaId: number, lsas: Iterable<RouterLsa>, networkLsas: Iterable<NetworkLsa>): AreaGraph {
  const routers = [...lsas];
  const networks = [...networkLsas];
  const vertexOfRouter = new Map<Ipv4, number>();
  const vertexOfNetwork = new Map<number, number>();
  for (let v = 0; v < routers.length; v++) vertexOfRouter.set(routers[v]?.adv ?? 0, v);
  for (let n = 0; n < networks.length; n++) vertexOfNetwork.set(networks[n]?.key ?? 0, routers.length + n);
  const edges = new EdgeList(routers.length + networks.length);
  // Who describes a network: router and own address, one after the other.
  const attached: number[][] = networks.map(() => []);
  for (let v = 0; v < routers.length; v++) {
    const lsa = routers[v];
    edges.begin(v);
    if (!lsa) continue;
    const { kind, id, metric, nextHop } = lsa.columns;
    for (let n = lsa.first; n < lsa.end; n++) {
      const to = id[n] ?? 0;
      if (kind[n] === stubLink) continue;
      if (kind[n] === transitLink) {
        const w = vertexOfNetwork.get(to);
        if (w === undefined || !networks[w - routers.length]?.routers.includes(lsa.adv)) continue;
        edges.add(w, metric[n] ?? 0, n - lsa.first);
        attached[w - routers.length]?.push(v, nextHop[n] ?? 0);
      } else {
        const w = vertexOfRouter.get(to);
        if (w !== undefined && w !== v && routers[w]?.pointsTo(lsa.adv)) edges.add(w, metric[n] ?? 0, n - lsa.first);
      }
    }
  }
  attached.forEach((list, n) => {
    edges.begin(routers.length + n);
    for (let i = 0; i < list.length; i += 2) edges.add(list[i] ?? 0, 0, list[i + 1] ?? 0);
  });
  const { first, to, metric, detail } = edges.end();
  return {
    areaId,
    six: routers[0]?.columns.six ?? false,
    routers,
    networks,
    vertexOfRouter,
    vertexOfNetwork,
    first,
    to,
    metric,
    detail,
  };
}
