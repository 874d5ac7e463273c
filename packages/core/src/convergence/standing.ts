import type { Adjacencies } from '../adjacency/settle';
import type { Speaker } from '../adjacency/speakers';
import { backbone } from '../design/design';
import type { AreaDatabase } from '../lsdb/area-database';
import { Domain } from '../lsdb/domain';
import type { VirtualAdjacency } from '../lsdb/originate';
import { HopList, shortestPathTree } from '../spf/shortest-path-tree';

/** The routing domain as one router sees it at a moment: its own neighbours and its own databases. */
export class Standing extends Domain {
  constructor(
    adjacencies: Adjacencies,
    virtuals: readonly VirtualAdjacency[],
    translating: boolean,
    private readonly self: Speaker,
    private readonly databaseOf: (areaId: number) => AreaDatabase | undefined,
  ) {
    super(adjacencies, virtuals, new Set(translating ? [self.index] : []));
  }

  override database(_s: Speaker, areaId: number): AreaDatabase | undefined {
    return this.databaseOf(areaId);
  }

  /** A router of the area that it reaches there says that a virtual link ends at it (RFC 2328 §16.1, TransitCapability). */
  override isTransit(_s: Speaker, areaId: number): boolean {
    const db = areaId === backbone ? undefined : this.databaseOf(areaId);
    if (!db) return false;
    const { graph } = db;
    if (!graph.routers.some((r) => r.bits.v)) return false;
    const root = graph.vertexOfRouter.get(this.self.routerId);
    if (root === undefined) return false;
    const { distance } = shortestPathTree(graph, root, new HopList(), () => []);
    return graph.routers.some((r, v) => r.bits.v && distance[v] !== Infinity);
  }
}
