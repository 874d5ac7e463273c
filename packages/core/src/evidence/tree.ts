import type { Speaker } from '../adjacency/speakers';
import { formatAddress } from '../prefix/address';
import type { Prediction } from '../predict';
import type { Tree } from '../spf/shortest-path-tree';

/** The last step of a way to a router in a tree: from which router, out of which interface, at which cost. */
export interface TreeEdge {
  readonly from: string;
  /** Empty for a virtual link. */
  readonly iface: string;
  readonly cost: number;
  /** Index of the wire; -1 for a virtual link. */
  readonly segment: number;
  /** Over the LAN that this address leads. */
  readonly lan?: string;
}

/** One router in the tree of another. */
export interface TreeRouter {
  readonly router: string;
  readonly distance: number;
  /** Equal last steps; none for the root. */
  readonly edges: readonly TreeEdge[];
}

const nameOf = (p: Prediction, tree: Tree, vertex: number): string =>
  p.adjacencies.speakers[tree.graph.routers[vertex]?.speaker ?? -1]?.router.name ?? '';

/** Steps from a router to the vertex that its links of a kind lead to, of all equal links side by side. */
function steps(p: Prediction, tree: Tree, from: number, kinds: readonly string[], id: number, cost: number): TreeEdge[] {
  const links = tree.graph.routers[from]?.links.filter((l) => kinds.includes(l.kind) && l.id === id && l.metric === cost) ?? [];
  return links.map((l) => ({ from: nameOf(p, tree, from), iface: l.port?.iface.name ?? '', cost, segment: l.port?.segment ?? -1 }));
}

/**
 * The tree of a router through one of its areas: every router that it reaches there, nearest first, with each equal last step
 * on the way (RFC 2328 §16.1). `undefined`: it has no part in that area.
 */
export function treeOf(p: Prediction, s: Speaker, area: number): TreeRouter[] | undefined {
  const tree = p.routing.tree(s, area);
  if (!tree) return undefined;
  const { graph, distance } = tree;
  const far = (v: number): number => distance[v] ?? Infinity;
  const out: TreeRouter[] = [];
  graph.routers.forEach((r, v) => {
    if (far(v) === Infinity) return;
    const edges = tree.parents(v).flatMap((u): TreeEdge[] => {
      if (u < graph.routers.length) return steps(p, tree, u, ['point-to-point', 'virtual'], r.adv, far(v) - far(u));
      const network = graph.networks[u - graph.routers.length];
      if (!network) return [];
      const lan = formatAddress(network.port.address ?? network.id);
      return tree.parents(u).flatMap((w) => steps(p, tree, w, ['transit'], network.key, far(u) - far(w)).map((e) => ({ ...e, lan })));
    });
    out.push({ router: nameOf(p, tree, v), distance: far(v), edges });
  });
  return out.sort((a, b) => a.distance - b.distance || (a.router < b.router ? -1 : 1));
}

/** A router whose place in a tree is another one: how far it is, and over which routers the last step leads. */
export interface TreeMove {
  readonly router: string;
  readonly before: number | null;
  readonly after: number | null;
  readonly overBefore: readonly string[];
  readonly overAfter: readonly string[];
}

/** What is another one in a tree after a change. */
export function treeMoves(before: readonly TreeRouter[], after: readonly TreeRouter[]): TreeMove[] {
  const now = new Map(after.map((t) => [t.router, t]));
  const was = new Map(before.map((t) => [t.router, t]));
  const over = (t: TreeRouter | undefined): string[] => [...new Set(t?.edges.map((e) => e.from) ?? [])].sort();
  return [...new Set([...was.keys(), ...now.keys()])].flatMap((router): TreeMove[] => {
    const [x, y] = [was.get(router), now.get(router)];
    const move = { router, before: x?.distance ?? null, after: y?.distance ?? null, overBefore: over(x), overAfter: over(y) };
    return move.before === move.after && move.overBefore.join() === move.overAfter.join() ? [] : [move];
  });
}
