import type { Port, Speaker } from '../adjacency/speakers';
import { backbone, type Interface } from '../design/design';
import type { FailureSpec } from '../failures/outage';
import { portsInArea } from '../lsdb/originate';
import { imports } from '../lsdb/external-lsa';
import type { RouterLink } from '../lsdb/router-links';
import { holds, networkOf } from '../prefix/address';
import type { Ipv4 } from '../prefix/ipv4';
import type { Prediction } from '../predict';
import type { Segment } from '../segments/segments';
import type { AreaArrays } from '../dense/area-rows';

/** What a cut takes out of the database of one area. */
export interface Removal {
  /** Index of the database. */
  readonly area: number;
  /** Edges of its graph. */
  readonly edges: readonly number[];
  /** Entries of its networks: who brings what. */
  readonly entries: readonly number[];
}

/**
 * Which advertisements' parts a cut link takes away, where that is all it does. A cut that also changes who is a border
 * router, what is imported or who leads a LAN in another way is left to those who compute everything.
 */
export class Removals {
  private readonly forwarding: readonly Ipv4[];

  constructor(private readonly p: Prediction) {
    this.forwarding = [...p.fast.forwarding];
  }

  /** What a link failure removes; `undefined` where it does more than that. */
  of(failure: FailureSpec): Removal | undefined {
    if (failure.kind !== 'link') return undefined;
    const { design, segments } = this.p;
    const router = this.p.routerIndex(failure.router);
    const iface = design.routers[router]?.interfaces.findIndex((i) => i.name === failure.iface) ?? -1;
    const segment = segments.list[segments.of[router]?.[iface] ?? -1];
    if (!segment?.carrierLossSeen) return undefined;
    const hit = segment.kind === 'cable' ? segment.members : [{ router, iface }];
    const gone: Port[] = [];
    for (const m of hit) {
      if (!this.isPlain(m.router, m.iface)) return undefined;
      const port = this.p.portOf(m.router, m.iface);
      if (port?.up) gone.push(port);
      else if (this.importsWithoutOspf(m.router, m.iface)) return undefined;
    }
    for (const port of gone) if (!this.onlyLinks(port)) return undefined;
    return this.linksOf(gone, segment);
  }

  /** One process in the router, and nothing virtual on the interface. */
  private isPlain(router: number, iface: number): boolean {
    const r = this.p.design.routers[router];
    const name = r?.interfaces[iface]?.name ?? '';
    return this.p.speakersOf(router).length <= 1 && !r?.interfaces.some((i) => i.carriedBy?.includes(name));
  }

  /** Whether the loss of a port changes nothing of its router but its links. */
  private onlyLinks(port: Port): boolean {
    const { adjacencies } = this.p;
    const s = adjacencies.speakers[port.speaker];
    if (!s || port.severed) return false;
    const areaId = port.area.id;
    const others = portsInArea(s, areaId).filter((q) => q.index !== port.index);
    if (others.length === 0) return false;
    const full = (q: Port): boolean => adjacencies.views[q.index]?.some((v) => v.state === 'full') ?? false;
    // A border router that is alone in the backbone reads other summaries.
    if (areaId === backbone && this.p.fast.isBorderRouter(s) && full(port) && !others.some(full)) return false;
    if (imports(s) && this.importsBy(s, port.iface)) return false;
    return !port.iface.addresses.some((a) => this.forwarding.some((f) => networkOf(f, a.length) === networkOf(a.bits, a.length)));
  }

  /** Whether something that a router imports hangs on an interface of it on which OSPF does not speak. */
  private importsWithoutOspf(router: number, iface: number): boolean {
    const at = this.p.design.routers[router]?.interfaces[iface];
    return at !== undefined && this.p.speakersOf(router).some((s) => imports(s) && this.importsBy(s, at));
  }

  /** Whether something that a router imports hangs on one of its interfaces. */
  private importsBy(s: Speaker, iface: Interface): boolean {
    const on = (address: Ipv4 | undefined): boolean =>
      address !== undefined && iface.addresses.some((a) => holds({ bits: networkOf(a.bits, a.length), length: a.length }, address));
    return (
      s.instance.redistribution.some((r) => r.source === 'direct') ||
      s.router.staticRoutes.some((r) => r.nextHops.some((h) => h.iface === iface.name || on(h.address))) ||
      s.instance.otherRoutes.some((r) => on(r.nextHop))
    );
  }

  private linksOf(gone: readonly Port[], segment: Segment): Removal | undefined {
    const [first] = gone;
    if (!first) return { area: -1, edges: [], entries: [] };
    const { fast: routing, adjacencies } = this.p;
    const speaker = adjacencies.speakers[first.speaker];
    const db = speaker && routing.database(speaker, first.area.id);
    const area = db && routing.arrays.areas[db.index];
    if (!area) return undefined;
    const edges: number[] = [];
    const entries: number[] = [];
    for (const port of gone) {
      const s = adjacencies.speakers[port.speaker];
      const v = (s && area.graph.vertexOfRouter.get(s.routerId)) ?? -1;
      const lsa = area.graph.routers[v];
      if (!s || lsa?.speaker !== s.index || port.area.id !== area.areaId) return undefined;
      for (let n = 0; n < lsa.end - lsa.first; n++)
        if (lsa.portOf(n)?.index === port.index && !this.addLink(area, v, n, gone, segment, edges, entries)) return undefined;
    }
    if (segment.kind === 'lan' && !this.leavesLan(area, first, segment, edges)) return undefined;
    return { area: area.index, edges: [...new Set(edges)], entries: [...new Set(entries)] };
  }

  /** Adds one link of a router-LSA; false where it takes more with it than itself. */
  private addLink(area: AreaArrays, v: number, n: number, gone: readonly Port[], segment: Segment, edges: number[], entries: number[]): boolean {
    const { graph, networks } = area;
    const link = graph.routers[v]?.links[n];
    if (link?.kind === 'stub') {
      addEntries(area, v, n, entries);
      return true;
    }
    const edge = edgeOf(area, v, n);
    // A link that only one end describes is no edge, and nobody's.
    if (edge < 0) return true;
    edges.push(edge);
    if (link?.kind !== 'transit') return link?.kind === 'point-to-point';
    const network = graph.to[edge]!;
    const attached: number[] = [];
    for (let e = graph.first[network]!; e < graph.first[network + 1]!; e++) attached.push(graph.to[e]!);
    if (segment.kind === 'lan') {
      for (let e = graph.first[network]!; e < graph.first[network + 1]!; e++) if (graph.to[e] === v) edges.push(e);
      return attached.length >= 2;
    }
    // A cable with a network of its own: the network goes with both ends.
    const ends = gone.map((q) => graph.vertexOfRouter.get(q.routerId));
    if (!attached.every((r) => ends.includes(r))) return false;
    for (let e = graph.first[network]!; e < graph.first[network + 1]!; e++) edges.push(e);
    for (let e = 0; e < networks.vertex.length; e++) if (networks.vertex[e] === network) entries.push(e);
    return true;
  }

  /** What others on a LAN cease to say of a router that leaves it; false where they say other things in its place. */
  private leavesLan(area: AreaArrays, port: Port, segment: Segment, edges: number[]): boolean {
    const { graph } = area;
    const { adjacencies } = this.p;
    const others = this.p.portsOn(segment.index).filter((q) => q.index !== port.index && q.up && !q.settings.passive);
    if (port.settings.passive || others.length === 0) return true;
    const { type } = port;
    if ((type !== 'broadcast' && type !== 'point-to-multipoint') || others.some((q) => q.type !== type || q.area.id !== port.area.id || q.severed))
      return false;
    const self = graph.vertexOfRouter.get(port.routerId) ?? -1;
    if (type === 'point-to-multipoint') {
      for (const q of others) {
        const w = graph.vertexOfRouter.get(q.routerId) ?? -1;
        graph.routers[w]?.links.forEach((l, n) => {
          if (l.port?.index !== q.index || l.id !== port.routerId || l.kind !== 'point-to-point') return;
          const edge = edgeOf(area, w, n);
          if (edge >= 0) edges.push(edge);
        });
      }
      return true;
    }
    const own = edges.map((e) => graph.to[e]!).find((v) => v >= graph.routers.length);
    if (own === undefined) return false;
    const attached = new Set<number>();
    for (let e = graph.first[own]!; e < graph.first[own + 1]!; e++) attached.add(graph.to[e]!);
    if (!others.every((q) => attached.has(graph.vertexOfRouter.get(q.routerId) ?? -1))) return false;
    const leaders = adjacencies.leaders[port.index];
    if (leaders?.dr !== port.routerId) return true;
    // The backup takes over, and says the same of the same routers, where it is full with all of them.
    const next = others.find((q) => q.routerId === leaders.bdr);
    if (!next || next.length !== port.length || next.settings.prefixSuppression !== port.settings.prefixSuppression || self < 0) return false;
    const bringers = this.bringersOf(area, own);
    const full = new Set((adjacencies.views[next.index] ?? []).flatMap((x) => (x.state === 'full' ? [x.peer.index] : [])));
    return bringers <= 1 && others.every((q) => q === next || full.has(q.index));
  }

  /** How many bring the network that a transit vertex stands for. */
  private bringersOf(area: AreaArrays, vertex: number): number {
    const { networks } = area;
    for (let i = 0; i < networks.ids.length; i++)
      for (let e = networks.first[i]!; e < networks.first[i + 1]!; e++)
        if (networks.vertex[e] === vertex) return networks.first[i + 1]! - networks.first[i]!;
    return 0;
  }
}

/** Edge of a router's link, by the place of the link; -1 for one that is no edge. */
function edgeOf(area: AreaArrays, v: number, link: number): number {
  const { first, detail } = area.graph;
  for (let e = first[v]!; e < first[v + 1]!; e++) if (detail[e] === link) return e;
  return -1;
}

/** Network entries that a link of a router makes. */
function addEntries(area: AreaArrays, v: number, link: number, entries: number[]): void {
  const { vertex, link: place } = area.networks;
  const stub: RouterLink | undefined = area.graph.routers[v]?.links[link];
  if (stub?.kind !== 'stub') return;
  for (let e = 0; e < vertex.length; e++) if (vertex[e] === v && place[e] === link) entries.push(e);
}
