import { authenticationAccepts } from '../adjacency/hello-match';
import type { Speaker } from '../adjacency/speakers';
import { backbone, type Area } from '../design/design';
import type { VirtualAdjacency } from '../lsdb/originate';
import type { Ipv4 } from '../prefix/ipv4';
import type { Tree } from '../spf/shortest-path-tree';

/** What virtual links need to know of the network around them. */
export interface VirtualLinkNetwork {
  readonly speakers: readonly Speaker[];
  areaOf: (s: Speaker, areaId: number) => Area;
  tree: (s: Speaker, areaId: number) => Tree | undefined;
}

/**
 * The ends of virtual links that are up (RFC 2328 §15): both routers point at each other with the same timers and keys,
 * and reach each other inside a transit area that is a normal one. Each end once.
 */
export function reachableVirtualLinks(network: VirtualLinkNetwork): VirtualAdjacency[] {
  const out: VirtualAdjacency[] = [];
  for (const s of network.speakers)
    for (const link of network.areaOf(s, backbone).virtualLinks) {
      const peer = network.speakers.find((p) => p.routerId === link.routerId && p.index !== s.index);
      const mirror = peer && network.areaOf(peer, backbone).virtualLinks.find((l) => l.routerId === s.routerId && l.transitArea === link.transitArea);
      if (!peer || !mirror || link.transitArea === backbone || network.areaOf(s, link.transitArea).type !== 'normal') continue;
      if (link.hello !== mirror.hello || link.dead !== mirror.dead) continue;
      if (!authenticationAccepts(link.authentication, mirror.authentication) || !authenticationAccepts(mirror.authentication, link.authentication))
        continue;
      const there = pathThrough(network, s, peer, link.transitArea);
      const backAgain = pathThrough(network, peer, s, link.transitArea);
      if (there && backAgain)
        out.push({
          speaker: s.index,
          peer: peer.index,
          transitArea: link.transitArea,
          cost: there.cost,
          address: backAgain.far,
          peerAddress: there.far,
        });
    }
  return out;
}

/** Cost of the way through an area, and the far router's address on it (RFC 2328 §15). */
function pathThrough(network: VirtualLinkNetwork, s: Speaker, peer: Speaker, areaId: number): { cost: number; far: Ipv4 } | undefined {
  const tree = network.tree(s, areaId);
  const v = tree?.graph.vertexOfRouter.get(peer.routerId);
  if (!tree || v === undefined) return undefined;
  const cost = tree.distance[v] ?? Infinity;
  if (cost >= 0xffff) return undefined; // §16.7: longer than an interface cost can say
  const before = tree.parents(v)[0];
  const link = tree.graph.routers[v]?.links.find((l) => {
    if (before === undefined) return false;
    const router = tree.graph.routers[before];
    return router
      ? l.kind === 'point-to-point' && l.id === router.adv
      : l.kind === 'transit' && l.id === tree.graph.networkIds[before - tree.graph.routers.length];
  });
  return { cost, far: link?.data ?? peer.routerId };
}
