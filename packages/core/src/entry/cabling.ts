import { localName } from '../documents/shape';
import { container, listIn, member, setMember, type Json } from '../design/draft';
import type { TopologyLink } from '../design/design';
import type { End, Site } from './site';

const isObject = (x: unknown): x is Json => typeof x === 'object' && x !== null && !Array.isArray(x);

/** Links of the topology that end at an interface, each with its other end; a LAN's node has no router behind it. */
export function topologyLinksAt(site: Site, { router, iface }: End): { readonly link: TopologyLink; readonly far: TopologyLink['from'] }[] {
  return site.whole.topology.links.flatMap((link) => {
    if (link.from.node === router && link.from.point === iface) return [{ link, far: link.to }];
    if (link.to.node === router && link.to.point === iface) return [{ link, far: link.from }];
    return [];
  });
}

/** The first network of the topology, made when the design has none. */
function networkOf(site: Site): Json {
  const list = listIn(container(site.draft.openTopology(), 'ietf-network:networks'), 'network');
  const known = list.find(isObject);
  if (known) return known;
  const made: Json = { 'network-id': 'campus' };
  list.push(made);
  return made;
}

/** The lists of shared risks in the topology, opened for change; one is made when there is none. */
export function riskGroupsOf(site: Site): Json[][] {
  const network = networkOf(site);
  const holders = [network, ...[site.draft.topology() ?? {}]];
  const known = holders.flatMap((h) => {
    const list = member(h, 'risk-groups');
    return Array.isArray(list) ? [list as Json[]] : [];
  });
  return known.length > 0 ? known : [listIn(network, 'gentle-compass:risk-groups')];
}

/** Writes an end into the list of nodes, where the network keeps one: a router is a node, its interface a termination point. */
function listEnd(network: Json, { router, iface }: End): void {
  const nodes = member(network, 'node');
  if (!Array.isArray(nodes)) return;
  let node = (nodes as unknown[]).filter(isObject).find((n) => member(n, 'node-id') === router);
  if (!node) {
    node = { 'node-id': router };
    nodes.push(node);
  }
  const points = listIn(node, 'ietf-network-topology:termination-point');
  if (!points.some((p) => isObject(p) && member(p, 'tp-id') === iface)) points.push({ 'tp-id': iface });
}

/**
 * Joins an interface to another one, or to a LAN's node, in the topology document (RFC 8345).
 *
 * @param like  a link whose other leaves the new one takes over
 */
export function joinInTopology(site: Site, from: End, to: { readonly node: string; readonly point: string }, like?: TopologyLink): void {
  const network = networkOf(site);
  const links = listIn(network, 'ietf-network-topology:link');
  const taken = new Set(links.filter(isObject).map((l) => String(member(l, 'link-id'))));
  const wanted = `${from.router}/${from.iface} ${to.node}${to.point === '' ? '' : `/${to.point}`}`;
  let id = wanted;
  for (let n = 2; taken.has(id); n++) id = `${wanted} ${n}`;
  const model = like && links.find((l) => isObject(l) && member(l, 'link-id') === like.id);
  const made: Json = model ? structuredClone(model) : {};
  for (const k of Object.keys(made))
    if (['link-id', 'source', 'destination', 'supporting-link'].includes(localName(k))) Reflect.deleteProperty(made, k);
  links.push({
    'link-id': id,
    source: { 'source-node': from.router, 'source-tp': from.iface },
    destination: { 'dest-node': to.node, ...(to.point === '' ? {} : { 'dest-tp': to.point }) },
    ...made,
  });
  listEnd(network, from);
  if (site.design.routers.some((r) => r.name === to.node)) listEnd(network, { router: to.node, iface: to.point });
}

/** Takes the links of interfaces that go out of the topology document. */
export function cutInTopology(site: Site, ends: readonly End[]): void {
  const gone = new Set(ends.flatMap((e) => topologyLinksAt(site, e).map(({ link }) => link)));
  if (gone.size === 0) return;
  const ids = new Set([...gone].map((l) => l.id));
  const isEnd = (link: Json, side: string, node: string, point: string): boolean => {
    const end = container(link, side);
    return ends.some((e) => member(end, node) === e.router && member(end, point) === e.iface);
  };
  const goes = (l: Json): boolean =>
    ids.has(String(member(l, 'link-id'))) && (isEnd(l, 'source', 'source-node', 'source-tp') || isEnd(l, 'destination', 'dest-node', 'dest-tp'));
  for (const network of listIn(container(site.draft.openTopology(), 'ietf-network:networks'), 'network')) {
    const links = listIn(network, 'ietf-network-topology:link');
    setMember(
      network,
      'ietf-network-topology:link',
      links.filter((l) => !isObject(l) || !goes(l)),
    );
  }
}

/** Writes a leaf on the cables that interfaces are on; cables that the topology does not name are named, where the value is not the plain one. */
export function writeOnCables(site: Site, ends: readonly End[], path: readonly string[], value: unknown): void {
  const [leaf = ''] = path;
  const done = new Set<string>();
  for (const end of ends) {
    const both = site.endsOn(end);
    const key = both
      .map((e) => `${e.router}/${e.iface}`)
      .sort()
      .join(' ');
    if (done.has(key)) continue;
    done.add(key);
    const known = new Set(both.flatMap((e) => topologyLinksAt(site, e).map(({ link }) => link.id)));
    const far = both.find((e) => e.router !== end.router || e.iface !== end.iface);
    if (known.size === 0 && value === false && far) {
      joinInTopology(site, end, { node: far.router, point: far.iface });
      const made = listIn(networkOf(site), 'ietf-network-topology:link').at(-1);
      if (isObject(made)) setMember(made, leaf, value);
    }
    if (known.size === 0) continue;
    for (const network of listIn(container(site.draft.openTopology(), 'ietf-network:networks'), 'network'))
      for (const link of listIn(network, 'ietf-network-topology:link'))
        if (isObject(link) && known.has(String(member(link, 'link-id')))) setMember(link, leaf, value);
  }
}
