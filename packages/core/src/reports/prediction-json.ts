import { advertisementsIn } from '../areas/held';
import { interfaceState } from '../adjacency/interface-state';
import type { NeighborView } from '../adjacency/settle';
import type { Port, Speaker } from '../adjacency/speakers';
import { backbone } from '../design/design';
import { linkLsa } from '../lsdb/originate';
import type { LinkLsa, Lsa } from '../lsdb/lsa';
import { lsaBody, lsaKey } from '../lsdb/lsa-body';
import { formatAddress, formatPrefix } from '../prefix/address';
import { prefixBook } from '../prefix/prefix-book';
import type { Prediction } from '../predict';
import type { LocalHop } from '../routes/local-routes';
import type { Route } from '../routes/route';

type Json = Record<string, unknown>;

const hopJson = (iface: string, address: number | undefined): Json =>
  address === undefined ? { 'outgoing-interface': iface } : { 'outgoing-interface': iface, 'next-hop': formatAddress(address) };

const localHopJson = (h: LocalHop): Json => hopJson(h.iface, h.address);

function routeJson(p: Prediction, s: Speaker, r: Route): Json {
  const hopList = p.routing.hopList(s);
  return {
    prefix: formatPrefix(r),
    metric: r.metric,
    'route-type': r.type,
    'route-tag': r.tag,
    ...(r.forwardMetric === undefined ? {} : { 'forward-metric': r.forwardMetric }),
    'next-hops': {
      'next-hop': r.hops.flatMap((h) => {
        const hop = hopList.hops[h];
        return hop ? [hopJson(hop.port.iface.name, hop.address)] : [];
      }),
    },
  };
}

function lsaJson(l: Lsa | LinkLsa, stale = false): Json {
  const { type, id, adv } = lsaKey(l);
  return { type, 'lsa-id': id, 'adv-router': adv, ...(stale ? { stale } : {}), body: lsaBody(l) };
}

/**
 * What a router still holds of originators that it can no longer hear: flooded before the failure, not renewed, kept
 * for up to an hour (RFC 2328 §14, MaxAge). Only reachability decides, so nothing is computed from them.
 */
function staleAdvertisements(p: Prediction, s: Speaker, area: number | undefined): Lsa[] {
  const heard = new Set(advertisementsIn(p, s, area).map((l) => l.adv));
  for (const a of p.routing.areasOf(s))
    for (const r of p.routing.database(s, a)?.routers.values() ?? []) if (area === undefined || a === area) heard.add(r.adv);
  const out = new Map<string, Lsa>();
  for (let before = p.before; before; before = before.before) {
    const then = before.adjacencies.speakers.find((x) => x.routerIndex === s.routerIndex && x.instance.name === s.instance.name);
    for (const l of then ? advertisementsIn(before, then, area) : []) {
      const key = `${l.type} ${l.id} ${l.adv}`;
      if (!heard.has(l.adv) && !out.has(key)) out.set(key, l);
    }
  }
  return [...out.values()];
}

const scopeJson = (p: Prediction, s: Speaker, area: number | undefined): Json[] => [
  ...advertisementsIn(p, s, area).map((l) => lsaJson(l)),
  ...staleAdvertisements(p, s, area).map((l) => lsaJson(l, true)),
];

/** Identity of the finding that explains a neighbour state, where one would wish another. */
export type WhyOf = (v: NeighborView) => string | null;

function neighborJson(v: NeighborView, why: WhyOf): Json {
  return { 'neighbor-router-id': formatAddress(v.peer.routerId), address: formatAddress(v.address), state: v.state, why: why(v) };
}

function interfaceJson(p: Prediction, port: Port, why: WhyOf): Json {
  const leaders = p.adjacencies.leaders[port.index] ?? { dr: 0, bdr: 0 };
  const state = interfaceState(port, leaders);
  const lan = state === 'dr' || state === 'bdr' || state === 'dr-other' || state === 'waiting';
  const id = (x: number): string | null => (lan && x !== 0 ? formatAddress(x) : null);
  const heard = (p.adjacencies.views[port.index] ?? []).filter((v) => v.state !== 'down');
  return {
    name: port.iface.name,
    state,
    cost: port.cost,
    'dr-router-id': id(leaders.dr),
    'bdr-router-id': id(leaders.bdr),
    ...(port.settings.passive ? { passive: true } : {}),
    neighbors: { neighbor: heard.map((v) => neighborJson(v, why)) },
    ...(port.six && port.up && !port.loopback ? { database: { lsa: linkLsas(p, port).map((l) => lsaJson(l)) } } : {}),
  };
}

/** Link-LSAs that a router holds of one of its links: its own, and those of all with whom it exchanged databases (RFC 5340 §4.4.3.8). */
const linkLsas = (p: Prediction, port: Port): LinkLsa[] => [
  linkLsa(port),
  ...(p.adjacencies.views[port.index] ?? []).flatMap((v) => (v.state === 'full' ? [linkLsa(v.peer)] : [])),
];

function virtualLinksJson(p: Prediction, s: Speaker): Json {
  const links = p.routing.areaOf(s, backbone).virtualLinks;
  return {
    'virtual-link': links.map((l) => {
      const up = p.routing.virtuals.find(
        (v) => v.speaker === s.index && p.adjacencies.speakers[v.peer]?.routerId === l.routerId && v.transitArea === l.transitArea,
      );
      const id = formatAddress(l.routerId);
      return {
        'transit-area-id': formatAddress(l.transitArea),
        'router-id': id,
        state: up ? 'point-to-point' : 'down',
        ...(up ? { cost: up.cost } : {}),
        neighbors: { neighbor: up ? [{ 'neighbor-router-id': id, address: formatAddress(up.peerAddress), state: 'full', why: null }] : [] },
      };
    }),
  };
}

/** Names the finding that stands at both ends of a neighbour which rests in another state than one would wish. */
export function whyOf(
  p: Prediction,
  findings: readonly {
    readonly id: string;
    readonly family?: 6;
    readonly where: readonly { readonly router: string; readonly interface?: string }[];
  }[],
): WhyOf {
  const at = (port: Port, f: (typeof findings)[number]): boolean =>
    f.where.some((w) => w.router === p.design.routers[port.routerIndex]?.name && w.interface === port.iface.name);
  const own = findings.filter((f) => (f.family ?? 4) === p.family);
  return (v) => own.find((f) => f.where.length > 1 && at(v.port, f) && at(v.peer, f))?.id ?? null;
}

/** One OSPF process of a router in the shape of RFC 9129's state tree. */
export function speakerJson(p: Prediction, s: Speaker, why: WhyOf): Json {
  const areas = [...new Set([...p.routing.areasOf(s), ...s.ports.map((x) => x.area.id)])].sort((a, b) => a - b);
  const table = [...p.routing.table(s).values()].sort((a, b) => prefixBook.compare(a.key, b.key));
  const virtual = p.routing.areaOf(s, backbone).virtualLinks.length > 0;
  return {
    'is-abr': p.routing.isBorderRouter(s),
    'is-asbr': p.routing.isBoundaryRouter(s),
    'local-rib': { route: table.map((r) => routeJson(p, s, r)) },
    areas: {
      area: areas.map((areaId) => {
        return {
          'area-id': formatAddress(areaId),
          interfaces: { interface: s.ports.filter((x) => x.area.id === areaId).map((x) => interfaceJson(p, x, why)) },
          ...(areaId === backbone && virtual ? { 'virtual-links': virtualLinksJson(p, s) } : {}),
          database: { lsa: scopeJson(p, s, areaId) },
        };
      }),
    },
    database: { 'as-external': scopeJson(p, s, undefined) },
  };
}

/** The processes of one version in a router, by the names of the output: the first by name, and the others. */
function processesJson(p: Prediction, routerIndex: number, why: WhyOf): Json {
  const [first, ...more] = p.speakersOf(routerIndex);
  const key = p.family === 6 ? 'ospfv3' : 'ospfv2';
  return {
    ...(first ? { [key]: speakerJson(p, first, why) } : {}),
    ...(more.length > 0 ? { [`${key}-more`]: more.map((s) => ({ name: s.instance.name, ...speakerJson(p, s, why) })) } : {}),
  };
}

const ribJson = (p: Prediction, routerIndex: number): Json[] =>
  p.rib(routerIndex).map((r) => ({
    prefix: formatPrefix(r),
    source: r.source,
    preference: r.preference,
    'next-hops': r.hops.map(localHopJson),
  }));

/**
 * One router in the shape of `predict --json`.
 *
 * @param predictions  of one design: a family each
 * @param why          names of findings, for each of them
 */
export function routerJson(predictions: readonly Prediction[], routerIndex: number, why: readonly WhyOf[] = []): Json {
  const id = predictions.map((p) => p.speakersOf(routerIndex)[0]?.routerId).find((x) => x !== undefined);
  return {
    ...(id === undefined ? {} : { 'router-id': formatAddress(id) }),
    ...Object.fromEntries(predictions.flatMap((p, i) => Object.entries(processesJson(p, routerIndex, why[i] ?? (() => null))))),
    rib: predictions.flatMap((p) => ribJson(p, routerIndex)),
  };
}
