import { formatFailure } from '@gentle-compass/core/failures/outage';
import { segmentFailure } from '@gentle-compass/core/failures/single-failures';
import { areaNames } from '@gentle-compass/core/design/area-names';
import type { Interface } from '@gentle-compass/core/design/design';
import { leadingWords } from '@gentle-compass/core/compare/leading';
import { interfaceState } from '@gentle-compass/core/adjacency/interface-state';
import type { Pairing } from '@gentle-compass/core/adjacency/settle';
import type { Comparison } from '@gentle-compass/core/compare/compare';
import { facingValues, pairWord, viewWords } from '@gentle-compass/core/evidence/neighbor-words';
import { formatAddress, formatPrefix } from '@gentle-compass/core/prefix/address';
import type { Ipv4 } from '@gentle-compass/core/prefix/ipv4';
import { prefixBook } from '@gentle-compass/core/prefix/prefix-book';
import type { Prediction } from '@gentle-compass/core/predict';
import type { RibRoute } from '@gentle-compass/core/routes/rib';
import type { AreaView, FailureView, PairView, RouteRow, RouterView, SegmentView, ElectionView } from '../model/view';

const areaTypeWords = { normal: 'normal', stub: 'stub', nssa: 'NSSA' } as const;

/** Designs up to this many routers have all their tables made when they are shown; of larger ones only those that are looked at. */
export const countedUpTo = 150;

/** A link-local address, with a mark where no document gives it. */
const linkLocalWords = ({ linkLocal }: Interface): string[] =>
  linkLocal ? [`${formatAddress(linkLocal.address)}${linkLocal.derived ? ' (derived)' : ''}`] : [];

/** A router as the page shows it. */
export function routerView(p: Prediction, index: number): RouterView {
  const router = p.design.routers[index];
  const s = p.speakersOf(index)[0];
  const from = s?.routerIdSource;
  return {
    name: router?.name ?? '',
    file: router?.file ?? '',
    routerId: s ? formatAddress(s.routerId) : null,
    profile: router?.defaults.profile ?? null,
    routerIdFrom: !from
      ? 'runs no OSPF'
      : from.from === 'explicit'
        ? 'written in the document'
        : from.from === 'routing'
          ? 'from the routing tree'
          : `from ${from.name}`,
    areas: s ? p.routing.areasOf(s).map(formatAddress) : [],
    border: s ? p.routing.isBorderRouter(s) : false,
    boundary: s ? p.routing.isBoundaryRouter(s) : false,
    routes: p.design.routers.length > countedUpTo ? null : p.rib(index).length,
    interfaces: (router?.interfaces ?? []).map((i, n) => {
      const port = p.portOf(index, n);
      return {
        name: i.name,
        kind: i.kind,
        addresses: [...i.addresses.map((a) => `${formatAddress(a.bits)}/${a.length}`), ...linkLocalWords(i)],
        area: port ? formatAddress(port.area.id) : null,
        state: port ? interfaceState(port, p.adjacencies.leaders[port.index] ?? { dr: 0, bdr: 0 }) : 'not in OSPF',
        cost: port?.cost ?? null,
        costFrom: port?.costFrom ?? '',
        segment: p.segments.of[index]?.[n] ?? -1,
      };
    }),
  };
}

/** A wire or LAN as the page shows it. */
export function segmentView(p: Prediction, index: number): SegmentView {
  const s = p.segments.list[index];
  if (!s) throw new RangeError(`no segment ${index}`);
  const ports = p.portsOn(index);
  return {
    index,
    kind: s.kind,
    subnets: p.subnetsOn(index).map(formatPrefix),
    area: ports[0] ? formatAddress(ports[0].area.id) : null,
    fail: formatFailure(segmentFailure(p.design, s)),
    members: s.members.map((m) => {
      const port = ports.find((x) => x.routerIndex === m.router && x.ifaceIndex === m.iface);
      const leaders = port && p.adjacencies.leaders[port.index];
      const i = p.design.routers[m.router]?.interfaces[m.iface];
      return {
        router: p.design.routers[m.router]?.name ?? '',
        iface: i?.name ?? '',
        address: i?.addresses[0] ? formatAddress(i.addresses[0].bits) : i?.linkLocal ? formatAddress(i.linkLocal.address) : 'unnumbered',
        cost: port?.cost ?? null,
        leads: !port || !leaders || port.settings.passive ? '' : leaders.dr === port.routerId ? 'DR' : leaders.bdr === port.routerId ? 'BDR' : '',
      };
    }),
  };
}

/** Two facing ends as the page shows them, but for what was found there. */
export function pairView(p: Prediction, pair: Pairing): Omit<PairView, 'finding'> {
  const side = (v: Pairing['a']): PairView['a'] => ({
    router: p.design.routers[v.port.routerIndex]?.name ?? '',
    iface: v.port.iface.name,
    address: v.port.six
      ? formatAddress(v.port.helloFrom ?? 0)
      : v.port.address === undefined
        ? 'unnumbered'
        : `${formatAddress(v.port.address)}/${v.port.length}`,
    state: v.state,
    words: viewWords(v),
    cost: v.port.cost,
  });
  const [a, b] = [side(pair.a), side(pair.b)];
  return {
    id: pairId(a, b),
    segment: pair.segment,
    area: formatAddress(pair.a.port.area.id),
    type: pair.a.port.type,
    a,
    b,
    ...pairWord(pair),
    values: p.design.routers.length > countedUpTo ? null : facingValues(pair),
  };
}

/** Every area with its type, its summary and its routers. */
export function areaViews(p: Prediction): AreaView[] {
  const out = new Map<number, { routers: Set<string>; type: string; prefix: string }>();
  for (const s of p.adjacencies.speakers)
    for (const a of p.routing.areasOf(s)) {
      const area = p.routing.areaOf(s, a);
      const type =
        a === 0
          ? 'backbone'
          : area.type === 'stub' && !area.summary
            ? 'totally stubby'
            : area.type === 'nssa' && !area.summary
              ? 'totally NSSA'
              : areaTypeWords[area.type];
      const entry = out.get(a) ?? { routers: new Set<string>(), type, prefix: '' };
      entry.routers.add(s.router.name);
      if (entry.type === 'normal' || (type.startsWith('totally') && p.routing.isBorderRouter(s))) entry.type = type;
      const range = area.ranges[0];
      if (range) entry.prefix ||= formatPrefix(range.prefix);
      out.set(a, entry);
    }
  const names = areaNames(p.design);
  return [...out]
    .sort(([a], [b]) => a - b)
    .map(([id, e]) => ({ id: formatAddress(id), name: names.get(id) ?? '', type: e.type, prefix: e.prefix, routers: [...e.routers] }));
}

const ownersIn = new WeakMap<Prediction['design'], ReadonlyMap<number, readonly string[]>>();

/** Host names by their addresses; of a link-local one several, each on its own wire. */
function ownersOf({ design }: Prediction): ReadonlyMap<number, readonly string[]> {
  let known = ownersIn.get(design);
  if (!known) {
    const out = new Map<number, string[]>();
    const note = (address: number, name: string): void => {
      const list = out.get(address);
      if (!list) out.set(address, [name]);
      else if (!list.includes(name)) list.push(name);
    };
    for (const r of design.routers)
      for (const i of r.interfaces) {
        for (const a of i.addresses) note(a.bits, r.name);
        if (i.linkLocal) note(i.linkLocal.address, r.name);
      }
    ownersIn.set(design, (known = out));
  }
  return known;
}

/** Host name of the router that owns an address on the wire of an interface; empty without. */
function routerAt(p: Prediction, router: number, iface: string, address: Ipv4): string {
  const names = ownersOf(p).get(address) ?? [];
  if (names.length < 2) return names[0] ?? '';
  const at = p.design.routers[router]?.interfaces.findIndex((i) => i.name === iface) ?? -1;
  const there = p.segments.list[p.segments.of[router]?.[at] ?? -1]?.members.map((m) => p.design.routers[m.router]?.name ?? '') ?? [];
  return names.find((n) => there.includes(n)) ?? names[0] ?? '';
}

/** A route as a line of a table. */
export function routeRow(p: Prediction, router: number, r: RibRoute): RouteRow {
  return {
    key: r.key,
    prefix: formatPrefix(r),
    type: r.route?.type ?? (r.source === 'ospf-discard' ? 'discard' : r.source),
    metric: r.route?.metric ?? null,
    hops: r.hops.map((h) => ({
      iface: h.iface,
      address: h.address === undefined ? '' : formatAddress(h.address),
      router: h.address === undefined ? '' : routerAt(p, router, h.iface, h.address),
    })),
    area: r.route ? formatAddress(r.route.area) : '',
    change: '',
    before: '',
    folded: '',
  };
}

/** Rows in the order of their prefixes, numbered so. */
export const inOrder = (rows: readonly RouteRow[]): RouteRow[] =>
  [...rows].sort((a, b) => prefixBook.compare(a.key, b.key)).map((r, key) => ({ ...r, key }));

const pairId = (a: { router: string; iface: string }, b: { router: string; iface: string }): string =>
  `${a.router}/${a.iface}~${b.router}/${b.iface}`;

/** The id of a pair of ends. */
export function pairIdOf(p: Prediction, x: Pairing): string {
  const side = (v: Pairing['a']): { router: string; iface: string } => ({
    router: p.design.routers[v.port.routerIndex]?.name ?? '',
    iface: v.port.iface.name,
  });
  return pairId(side(x.a), side(x.b));
}

/** Pairs that stood before and do not any more. */
export function downPairs(before: Prediction, after: Prediction): string[] {
  const stood = (x: Pairing): boolean => x.a.state === 'full' || x.a.state === '2-way';
  const standing = new Set(after.adjacencies.pairs.flatMap((x) => (stood(x) ? [pairIdOf(after, x)] : [])));
  return before.adjacencies.pairs.flatMap((x) => {
    const id = stood(x) ? pairIdOf(before, x) : undefined;
    return id === undefined || standing.has(id) ? [] : [id];
  });
}

/** Prefixes that routers cannot reach any more, those with the most routers first. */
export function lonely(d: Comparison): FailureView['unreachablePrefixes'] {
  const by = new Map<number, string[]>();
  for (const r of d.routers) for (const key of r.outOfReach) by.set(key, [...(by.get(key) ?? []), r.router]);
  return [...by]
    .sort((a, b) => b[1].length - a[1].length || prefixBook.compare(a[0], b[0]))
    .map(([key, routers]) => ({ prefix: prefixBook.text(key), routers }));
}

/** Segments on which others lead, in words. */
export const electionViews = (d: Comparison): ElectionView[] =>
  d.elections.map(({ segment, name, before, after }) => ({ segment, name, before: leadingWords(before), after: leadingWords(after) }));

/** Prefixes that no router has any more; a network outside, which still stands there, is told as out of reach. */
export function vanished(d: Comparison): readonly string[] {
  const cut = new Set(d.routers.flatMap((r) => r.outOfReach));
  const keys = new Set(d.routers.flatMap((r) => r.routes.flatMap((c) => (c.vanished && !cut.has(c.key) ? [c.key] : []))));
  return [...keys].sort((a, b) => prefixBook.compare(a, b)).map((k) => prefixBook.text(k));
}
