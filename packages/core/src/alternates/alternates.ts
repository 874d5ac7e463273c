import type { Speaker } from '../adjacency/speakers';
import { areaNetworks, distancesFrom, noWay, type AreaNetworks } from '../dense/area-rows';
import { maxLinkMetric } from '../lsdb/originate';
import type { AreaGraph } from '../lsdb/area-graph';
import type { AreaDatabase } from '../lsdb/area-database';
import { transitLink, virtualLink } from '../lsdb/router-links';
import type { Address, Prefix } from '../prefix/address';
import { prefixBook } from '../prefix/prefix-book';
import type { Prediction } from '../predict';

/** A way out of a router: its interface and the neighbour's address there. */
export interface WayOut {
  readonly iface: string;
  readonly address: Address;
}

/** A neighbour that packets could be sent to at once when a next hop fails (RFC 5286). */
export interface Alternate extends WayOut {
  /** Host name of the neighbour. */
  readonly neighbor: string;
  /** It does without the link to the next hop. */
  readonly link: boolean;
  /** It does without the next hop itself. */
  readonly node: boolean;
  /** It is nearer to the destination than the router. */
  readonly downstream: boolean;
}

/** One next hop of one route inside an area, and the best alternate for it. */
export interface Covered {
  readonly router: string;
  readonly prefix: Prefix;
  readonly area: number;
  readonly primary: WayOut;
  /** `undefined`: there is no loop-free one. */
  readonly alternate: Alternate | undefined;
}

/** A neighbour of a router in an area: its vertex, the way to it, and the transit network in between. */
interface Beside {
  readonly vertex: number;
  readonly iface: string;
  readonly address: Address;
  readonly cost: number;
  /** Vertex of the transit network that it is reached over; -1 on a point-to-point link. */
  readonly over: number;
}

/** One area, with distances between all that stand in it (RFC 2328 §16.1), and who brings which prefix. */
class AreaView {
  readonly graph: AreaGraph;
  private readonly rows: Int32Array[] = [];
  private readonly networks: AreaNetworks;

  constructor({ graph }: AreaDatabase) {
    this.graph = graph;
    this.networks = areaNetworks(graph, prefixBook);
  }

  distance(from: number, to: number): number {
    return (this.rows[from] ??= distancesFrom(this.graph, from))[to] ?? noWay;
  }

  /** The least cost from a vertex to a prefix, as if the prefix were a node behind all that bring it (RFC 5286 §6.1). */
  toPrefix(from: number, key: number): number {
    const { place, first, vertex, cost } = this.networks;
    const n = place[key] ?? -1;
    let best = noWay;
    if (n >= 0)
      for (let e = first[n]!; e < first[n + 1]!; e++) {
        const d = this.distance(from, vertex[e]!);
        if (d < noWay) best = Math.min(best, d + cost[e]!);
      }
    return best;
  }

  /** Whether every link of a router costs the most that a link can: nothing is to go through it (RFC 6987 §2). */
  private isStub(vertex: number): boolean {
    const { first, metric } = this.graph;
    for (let e = first[vertex]!; e < first[vertex + 1]!; e++) if (metric[e]! < maxLinkMetric) return false;
    return true;
  }

  /** Neighbours that packets could be sent to: not over a virtual link, not by a link that costs the most, not to a stub router (RFC 5286 §3.5). */
  beside(root: number, { stubs }: { readonly stubs: boolean }): Beside[] {
    const { graph } = this;
    const lsa = graph.routers[root];
    if (!lsa) return [];
    const { kind, port, nextHop } = lsa.columns;
    const out: Beside[] = [];
    for (let e = graph.first[root]!; e < graph.first[root + 1]!; e++) {
      const n = lsa.first + graph.detail[e]!;
      const p = port[n];
      const [w, cost] = [graph.to[e]!, graph.metric[e]!];
      if (!p || kind[n] === virtualLink) continue;
      if (kind[n] !== transitLink) out.push({ vertex: w, iface: p.iface.name, address: nextHop[n]!, cost, over: -1 });
      else
        for (let f = graph.first[w]!; f < graph.first[w + 1]!; f++)
          if (graph.to[f] !== root) out.push({ vertex: graph.to[f]!, iface: p.iface.name, address: graph.detail[f]!, cost, over: w });
    }
    return stubs ? out : out.filter((b) => b.cost < maxLinkMetric && !this.isStub(b.vertex));
  }
}

/** How a neighbour would do in the place of a next hop for one prefix; `undefined`: packets could come back (RFC 5286 §3.1). */
function judged(view: AreaView, root: number, key: number, primary: Beside, other: Beside, equal: boolean): Omit<Alternate, 'neighbor'> | undefined {
  const own = view.toPrefix(root, key);
  const from = view.toPrefix(other.vertex, key);
  // Inequality 1: it does not send them back.
  if (from >= noWay || from >= view.distance(other.vertex, root) + own) return undefined;
  const elsewhere = other.iface !== primary.iface;
  // Inequality 4: it does not come back onto the LAN either. Equal ways by another link do without this one in any case.
  const around = primary.over < 0 || equal || from < view.distance(other.vertex, primary.over) + view.toPrefix(primary.over, key);
  // Inequality 3: it does not go through the next hop.
  const node = from < view.distance(other.vertex, primary.vertex) + view.toPrefix(primary.vertex, key);
  // Inequality 2: it is nearer.
  return { iface: other.iface, address: other.address, link: elsewhere && around, node, downstream: from < own };
}

const nameOf = (p: Prediction, s: Speaker | undefined): string => (s ? (p.design.routers[s.routerIndex]?.name ?? '') : '');

/** A process in one of its areas: what its next hops and alternates are chosen from. */
function coveredIn(p: Prediction, s: Speaker, view: AreaView, area: number): Covered[] {
  const root = view.graph.vertexOfRouter.get(s.routerId);
  if (root === undefined || view.graph.routers[root]?.speaker !== s.index) return [];
  const others = view.beside(root, { stubs: false });
  const all = view.beside(root, { stubs: true });
  const { hops } = p.routing.hopList(s);
  const out: Covered[] = [];
  for (const r of p.routing.table(s).values()) {
    if (r.type !== 'intra-area' || r.area !== area) continue;
    const ways = r.hops.flatMap((h): Beside[] => {
      const hop = hops[h];
      return all.filter((b) => hop?.address === b.address && hop.port.iface.name === b.iface).slice(0, 1);
    });
    for (const primary of ways) {
      const best = others
        .filter((o) => o !== primary && (o.iface !== primary.iface || o.address !== primary.address))
        .flatMap((o) => {
          const equal = ways.some((w) => w.iface === o.iface && w.address === o.address);
          const found = judged(view, root, r.key, primary, o, equal);
          return found ? [{ o, found, cost: o.cost + view.toPrefix(o.vertex, r.key) }] : [];
        })
        .sort(
          (a, b) =>
            worthOf(b.found) - worthOf(a.found) ||
            a.cost - b.cost ||
            (a.o.iface < b.o.iface ? -1 : a.o.iface > b.o.iface ? 1 : a.o.address - b.o.address),
        )[0];
      out.push({
        router: nameOf(p, s),
        prefix: { bits: r.bits, length: r.length },
        area,
        primary: { iface: primary.iface, address: primary.address },
        alternate: best && { ...best.found, neighbor: nameOf(p, p.adjacencies.speakers[view.graph.routers[best.o.vertex]?.speaker ?? -1]) },
      });
    }
  }
  return out;
}

/** What is wished for most first: link and next hop, the link alone, the next hop alone; of two alike the one downstream. */
const worthOf = (a: { readonly link: boolean; readonly node: boolean; readonly downstream: boolean }): number =>
  (a.link ? 4 : 0) + (a.node ? 2 : 0) + (a.downstream ? 1 : 0);

/**
 * For every next hop of every route inside an area: the neighbour that packets could be sent to at once if the link or the
 * next hop failed, before anybody computes anew (RFC 5286). It is what routers could do, not what they do. Routes into other
 * areas and out of the system are left out.
 *
 * @param routers  only of these, by index; all without
 */
export function alternatesOf(p: Prediction, routers?: ReadonlySet<number>): Covered[] {
  const views = new Map<AreaDatabase, AreaView>();
  const out: Covered[] = [];
  for (const s of p.adjacencies.speakers) {
    if (routers && !routers.has(s.routerIndex)) continue;
    for (const area of p.routing.areasOf(s)) {
      const db = p.routing.database(s, area);
      if (!db) continue;
      let view = views.get(db);
      if (!view) views.set(db, (view = new AreaView(db)));
      out.push(...coveredIn(p, s, view, area));
    }
  }
  return out;
}

/** How many next hops there are, and for how many of them there is an alternate: at all, and by what it does without. */
export interface Coverage {
  readonly all: number;
  readonly covered: number;
  readonly link: number;
  readonly node: number;
}

/** How well a list is covered. */
export const coverageOf = (list: readonly Covered[]): Coverage => ({
  all: list.length,
  covered: list.filter((c) => c.alternate).length,
  link: list.filter((c) => c.alternate?.link).length,
  node: list.filter((c) => c.alternate?.node).length,
});
