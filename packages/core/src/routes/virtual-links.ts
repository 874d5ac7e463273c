import { authenticationAccepts } from '../adjacency/hello-match';
import type { Speaker } from '../adjacency/speakers';
import { backbone } from '../design/design';
import type { Adjacencies } from '../adjacency/settle';
import { areaDatabases } from '../lsdb/area-database';
import { Domain } from '../lsdb/domain';
import type { VirtualAdjacency } from '../lsdb/originate';
import type { Address } from '../prefix/address';
import { mostRounds } from './rounds';
import { HopList, shortestPathTree, type Tree } from '../spf/shortest-path-tree';

/**
 * The ends of virtual links that are up (RFC 2328 §15): both routers point at each other with the same timers and keys,
 * and reach each other inside a transit area that is a normal one. Each end once.
 */
function reachableVirtualLinks(domain: Domain): VirtualAdjacency[] {
  const trees = new Map<string, Tree | undefined>();
  /** A router's tree through a transit area: over it no virtual link leads. */
  const treeOf = (s: Speaker, areaId: number): Tree | undefined => {
    const key = `${s.index} ${areaId}`;
    if (!trees.has(key)) {
      const db = domain.database(s, areaId);
      const graph = db?.graph;
      const root = graph?.vertexOfRouter.get(s.routerId);
      trees.set(key, graph && root !== undefined ? shortestPathTree(graph, root, new HopList(), () => []) : undefined);
    }
    return trees.get(key);
  };
  const out: VirtualAdjacency[] = [];
  for (const s of domain.speakers)
    for (const { peer, transitArea } of agreedVirtualLinks(domain, s)) {
      const end = virtualEnd(s, peer, transitArea, treeOf(s, transitArea), treeOf(peer, transitArea));
      if (end) out.push(end);
    }
  return out;
}

/** A virtual link that both of its ends agree on, whether or not there is a way. */
export interface AgreedVirtualLink {
  readonly peer: Speaker;
  readonly transitArea: number;
  /** Seconds. */
  readonly hello: number;
  readonly dead: number;
}

/** Virtual links of a router that its far ends point back over with the same timers and keys, through an area that may carry them. */
export function agreedVirtualLinks(domain: Domain, s: Speaker): AgreedVirtualLink[] {
  return domain.areaOf(s, backbone).virtualLinks.flatMap((link): AgreedVirtualLink[] => {
    const { transitArea, hello, dead } = link;
    const peer = domain.speakers.find((p) => p.routerId === link.routerId && p.index !== s.index);
    const mirror = peer && domain.areaOf(peer, backbone).virtualLinks.find((l) => l.routerId === s.routerId && l.transitArea === transitArea);
    if (!peer || !mirror || transitArea === backbone || domain.areaOf(s, transitArea).type !== 'normal') return [];
    if (hello !== mirror.hello || dead !== mirror.dead) return [];
    const accepts = (a: typeof link, b: typeof link): boolean => authenticationAccepts(a.authentication, b.authentication);
    return accepts(link, mirror) && accepts(mirror, link) ? [{ peer, transitArea, hello, dead }] : [];
  });
}

/** One end of a virtual link, where both ends find each other through the transit area (RFC 2328 §15). */
export function virtualEnd(
  s: Speaker,
  peer: Speaker,
  transitArea: number,
  fromHere: Tree | undefined,
  fromThere: Tree | undefined,
): VirtualAdjacency | undefined {
  const there = pathThrough(fromHere, peer, transitArea);
  const backAgain = pathThrough(fromThere, s, transitArea);
  if (!there || !backAgain) return undefined;
  return {
    speaker: s.index,
    peer: peer.index,
    peerId: peer.routerId,
    transitArea,
    cost: there.cost,
    address: backAgain.far,
    peerAddress: there.far,
  };
}

/**
 * A domain with its databases of types 1 and 2, virtual links settled: they come up over paths through their transit areas,
 * and make border routers of those that they reach (RFC 2328 §15).
 *
 * @returns  whether they came to rest
 */
export function settledDomain(adjacencies: Adjacencies): { readonly domain: Domain; readonly settled: boolean } {
  let virtuals: readonly VirtualAdjacency[] = [];
  for (let round = 1; ; round++) {
    const domain = new Domain(adjacencies, virtuals);
    domain.hold(
      areaDatabases(
        adjacencies,
        virtuals,
        (s, a) => domain.bits(s, a),
        (s) => domain.attachedOf(s),
      ),
    );
    const next = reachableVirtualLinks(domain);
    const settled = JSON.stringify(next) === JSON.stringify(virtuals);
    if (settled || round === mostRounds) return { domain, settled };
    virtuals = next;
  }
}

/**
 * Cost of the way through an area, and the far router's address on it (RFC 2328 §15). In version 3 that is a global address of
 * its own in the area, and without one there is no way to send to it (RFC 5340 §4.7).
 */
function pathThrough(tree: Tree | undefined, peer: Speaker, areaId: number): { cost: number; far: Address } | undefined {
  const v = tree?.graph.vertexOfRouter.get(peer.routerId);
  if (!tree || v === undefined) return undefined;
  const cost = tree.distance[v] ?? Infinity;
  if (cost >= 0xffff) return undefined; // §16.7: longer than an interface cost can say
  if (tree.graph.six) {
    const far = peer.ports.find((p) => p.up && p.area.id === areaId && p.address !== undefined)?.address;
    return far === undefined ? undefined : { cost, far };
  }
  const before = tree.parents(v)[0];
  const link = tree.graph.routers[v]?.links.find((l) => {
    if (before === undefined) return false;
    const router = tree.graph.routers[before];
    return router
      ? l.kind === 'point-to-point' && l.id === router.adv
      : l.kind === 'transit' && l.id === tree.graph.networks[before - tree.graph.routers.length]?.id;
  });
  return { cost, far: link?.data ?? peer.routerId };
}
