import { prefixId } from '../prefix/prefix-book';
import type { Speaker } from '../adjacency/speakers';
import { backbone, type Area } from '../design/design';
import type { AreaDatabase } from '../lsdb/area-database';
import type { ExternalLsa } from '../lsdb/lsa';
import type { VirtualAdjacency } from '../lsdb/originate';
import type { RouterLink } from '../lsdb/router-links';
import { rangeFor } from '../lsdb/summary-lsa';
import { compareAddresses } from '../prefix/address';
import { type Ipv4 } from '../prefix/ipv4';
import { HopList, noHops, shortestPathTree, type HopSet, type Tree } from '../spf/shortest-path-tree';
import { externalRoutes, type ExternalContext } from './external';
import { addInterAreaRoutes, boundaryPaths, improveThroughTransitArea } from './inter-area';
import { addIntraAreaRoutes } from './intra-area';
import type { RouterPath, Table } from './route';

/** One area as one router stands in it. */
export interface OwnArea {
  readonly id: number;
  readonly settings: Area;
  readonly database: AreaDatabase;
  /** It reads what border routers say here (RFC 2328 §16.2, RFC 3509 §2.2). */
  readonly readsSummaries: boolean;
  /** Virtual links lead through it, and this is a border router of it (§16.3). */
  readonly isTransit: boolean;
}

/** All that one router stands on when it calculates its table: its settings and the databases of its own areas. */
export interface OwnState {
  readonly speaker: Speaker;
  readonly isBorderRouter: boolean;
  /** By ascending id. */
  readonly areas: readonly OwnArea[];
  /** Its ends of virtual links that are up. */
  readonly virtuals: readonly VirtualAdjacency[];
  /** Types 5 that it holds. */
  readonly external: readonly ExternalLsa[];
}

/** What a router knows inside the system. */
export interface InsideRoutes {
  readonly hopList: HopList;
  /** Shortest-path trees by area. */
  readonly trees: ReadonlyMap<number, Tree>;
  readonly table: Table;
  /** Ways to boundary routers, area by area: which of them is used, §16.4.1 says. */
  readonly boundary: ReadonlyMap<Ipv4, readonly RouterPath[]>;
}

/** A router's whole table. */
export interface RoutingTable extends InsideRoutes {
  /** Every route that OSPF computed, externals among them, with at most so many equal ways as the process uses. */
  readonly routes: Table;
}

/** Calculates one router's routing table from its own databases and settings, and nothing else (RFC 2328 §16). */
export function routingTable(own: OwnState, hopList = new HopList()): RoutingTable {
  const inside = insideRoutes(own, hopList);
  const routes: Table = new Map(inside.table);
  const nssa = own.areas.filter((a) => a.settings.type === 'nssa').map((a) => ({ area: a.id, lsas: a.database.nssa }));
  const external = externalRoutes(
    (key) => inside.table.get(key),
    own.external,
    nssa,
    externalContext(own, hopList, (id) => inside.boundary.get(id) ?? []),
  );
  for (const [key, r] of external) routes.set(key, r);
  return { ...inside, routes: limited(routes, own.speaker.instance.paths, hopList) };
}

/** The same without externals (RFC 2328 §16.1 to §16.3). */
export function insideRoutes(own: OwnState, hopList = new HopList()): InsideRoutes {
  const { routerId } = own.speaker;
  const trees = treesOf(own, hopList);
  const table: Table = new Map();
  for (const tree of trees.values()) addIntraAreaRoutes(table, tree, hopList);
  const ranges = new Set(activeRanges(own, table).keys());
  for (const a of own.areas) {
    const tree = a.readsSummaries ? trees.get(a.id) : undefined;
    if (tree) addInterAreaRoutes(table, tree, a.database, routerId, ranges, takesDefault(own, a));
  }
  for (const a of own.areas) {
    const tree = a.isTransit ? trees.get(a.id) : undefined;
    if (tree) improveThroughTransitArea(table, tree, a.database, routerId);
  }
  return { hopList, trees, table, boundary: boundaryOf(own, trees) };
}

/**
 * The trees through a router's areas (RFC 2328 §16.1). The way over a virtual link is that of the tree of its transit area,
 * which therefore comes before the backbone's.
 */
export function treesOf(own: OwnState, hopList: HopList): ReadonlyMap<number, Tree> {
  const trees = new Map<number, Tree>();
  const viaTransit = (link: RouterLink): HopSet => {
    const end = own.virtuals.find((v) => v.peerId === link.id);
    const tree = end && trees.get(end.transitArea);
    const peer = tree?.graph.vertexOfRouter.get(link.id);
    return tree && peer !== undefined ? tree.hops(peer) : noHops;
  };
  for (const a of [...own.areas.filter((x) => x.id !== backbone), ...own.areas.filter((x) => x.id === backbone)]) {
    const graph = a.database.graph;
    const root = graph.vertexOfRouter.get(own.speaker.routerId);
    if (root !== undefined) trees.set(a.id, shortestPathTree(graph, root, hopList, viaTransit));
  }
  return new Map([...trees].sort(([a], [b]) => a - b));
}

/**
 * Whether a router uses the type 3 default that stands in an area. A border router of a stub area or NSSA does not, also
 * while it reads the area's summaries (RFC 3509 §2.2): its own default there and this one would send packets in a circle.
 */
const takesDefault = (own: OwnState, a: OwnArea): boolean => a.settings.type === 'normal' || !own.isBorderRouter;

/** Own ranges in force: of areas where a part is reached inside; by the key of their prefix (RFC 2328 §12.4.3, §16.2 (3)). */
export function activeRanges(own: Pick<OwnState, 'isBorderRouter' | 'areas'>, table: Table): Map<number, { area: number; advertise: boolean }> {
  const out = new Map<number, { area: number; advertise: boolean }>();
  if (!own.isBorderRouter) return out;
  const settings = new Map(own.areas.map((a) => [a.id, a.settings]));
  for (const r of table.values()) {
    const area = r.type === 'intra-area' ? settings.get(r.area) : undefined;
    const range = area && rangeFor(area, r);
    if (range) out.set(prefixId(range.prefix.bits, range.prefix.length), { area: r.area, advertise: range.advertise });
  }
  return out;
}

function boundaryOf(own: OwnState, trees: ReadonlyMap<number, Tree>): Map<Ipv4, RouterPath[]> {
  const out = new Map<Ipv4, RouterPath[]>();
  for (const a of own.areas) {
    const tree = trees.get(a.id);
    for (const p of tree ? boundaryPaths(tree, a.database, own.speaker.routerId, a.readsSummaries) : []) {
      const list = out.get(p.router);
      if (list) list.push(p);
      else out.set(p.router, [p]);
    }
  }
  return out;
}

/** What the external calculation needs to know of the router. */
export function externalContext(own: OwnState, hopList: HopList, pathsTo: ExternalContext['pathsTo']): ExternalContext {
  return {
    self: own.speaker.routerId,
    rfc1583Compatible: own.speaker.instance.rfc1583Compatible,
    isBorderRouter: own.isBorderRouter,
    hopList,
    pathsTo,
    takesSummaries: (id) => own.areas.some((a) => a.id === id && a.settings.summary),
  };
}

/** Leaves out equal ways beyond a limit; those with the smallest addresses stay, of those without one the first interfaces. */
function limited(table: Table, limit: number, { hops }: HopList): Table {
  for (const [key, r] of table) {
    if (r.hops.length <= limit) continue;
    const port = (h: number): number => hops[h]?.port.index ?? 0;
    const order = [...r.hops].sort((a, b) => compareAddresses(hops[a]?.address ?? 0, hops[b]?.address ?? 0) || port(a) - port(b));
    table.set(key, { ...r, hops: order.slice(0, limit).sort((a, b) => a - b) });
  }
  return table;
}
