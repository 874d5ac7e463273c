import { prefixId } from '../prefix/prefix-book';
import { interfaceUp } from '../failures/outage';
import type { Expectation } from '../design/settings';
import { areaKindOf, type AreaKind, type AreaType } from '../design/terms';
import { covers, formatAddress, formatPrefix, holds, isLoopbackAddress } from '../prefix/address';
import type { Ipv4 } from '../prefix/ipv4';
import type { AreaDatabase } from '../lsdb/area-database';
import type { Prediction } from '../predict';
import { addressesOf, endFault } from './ends';
import { fateFrom, fatesTo } from './fates';
import { Forwarding } from './forwarding';
import { costFrom } from './matrix';
import { trace, type Branch, type Walk } from './trace';

/** Why an expectation does not hold. Kinds that people meet have a name of their own. */
export type Breach = {
  readonly routers: readonly string[];
  readonly words: string;
  /** The packet that shows it: its source and its destination. */
  readonly pair?: { readonly from: string; readonly to: string };
} & (
  | { readonly kind: 'broken' }
  /** There it arrives, back it does not. */
  | { readonly kind: 'return-missing' }
  /** The same test from another address of the same router would succeed. */
  | { readonly kind: 'wrong-source'; readonly better: string }
  /** The route is external, and the router stands in stub areas alone. */
  | { readonly kind: 'external-in-stub' }
  /** It holds again, but not as soon as was asked. */
  | { readonly kind: 'too-slow' }
);

export type Reach = Extract<Expectation, { kind: 'reach' | 'no-reach' }>;
export type Path = Extract<Expectation, { kind: 'path' }>;
/** What is expected of a pair of ends, for one of the pairs of addresses that they stand for. */
type Between<E> = Omit<E, 'from' | 'to'> & { readonly from: Ipv4; readonly to: Ipv4 };

const walkWords = (w: Walk): string => w.branches.find((b) => b.fate !== 'delivered')?.reason ?? '';

/** True when all areas of a router are stub areas or NSSAs. */
function inStubsOnly(p: Prediction, router: number): boolean {
  const s = p.speakersOf(router)[0];
  const areas = s ? p.routing.areasOf(s) : [];
  return s !== undefined && areas.length > 0 && areas.every((a) => p.routing.areaOf(s, a).type !== 'normal');
}

/** True when some router holds the address in a route that OSPF learnt as external. */
const isExternal = (p: Prediction, ip: Ipv4): boolean =>
  p.design.routers.some((_, i) => p.ribOnce(i).some((r) => r.length > 0 && (r.route?.type.startsWith('external') ?? false) && holds(r, ip)));

function reachBreach(f: Forwarding, e: Between<Pick<Reach, 'kind' | 'bothWays' | 'from' | 'to'>>): Breach | undefined {
  const p = f.prediction;
  const t = trace(f, e.from, e.to);
  const words = `${formatAddress(e.from)} to ${formatAddress(e.to)}`;
  if (e.kind === 'no-reach') {
    const passes = t.forward.branches.find((b) => b.fate === 'delivered' || b.fate === 'leaves');
    if (!passes) return undefined;
    return {
      kind: 'broken',
      routers: passes.hops.map((h) => h.router),
      words: `${words}: it arrives, by ${passes.hops.map((h) => h.router).join(', ')}`,
    };
  }
  if (t.forward.fate !== 'delivered') {
    const bad = t.forward.branches.find((b) => b.fate !== 'delivered');
    const last = bad?.hops.at(-1)?.router ?? '';
    const stub = bad?.fate === 'dropped' && inStubsOnly(p, p.routerIndex(last)) && isExternal(p, e.to);
    const part = t.forward.fate === 'partly' ? 'on some ways ' : '';
    return stub
      ? {
          kind: 'external-in-stub',
          routers: [last],
          words: `${words}: ${last} stands in stub areas, into which no external route comes, and has no default`,
        }
      : {
          kind: 'broken',
          routers: last === '' ? [] : [last],
          words: `${words}: ${part}${bad?.fate === 'leaves' ? 'it leaves the design' : walkWords(t.forward)}`,
        };
  }
  if (!e.bothWays || t.return.fate === 'delivered') return undefined;
  const last = t.return.branches.find((b) => b.fate !== 'delivered')?.hops.at(-1)?.router ?? '';
  const back = `${words} arrives, the answer does not: ${walkWords(t.return)}`;
  for (const owner of f.owners(e.from)) {
    const router = p.design.routers[owner.router];
    for (const i of router?.interfaces ?? [])
      for (const a of i.addresses)
        if (a.bits !== e.from && trace(f, a.bits, e.to).return.fate === 'delivered' && trace(f, a.bits, e.to).forward.fate === 'delivered')
          return {
            kind: 'wrong-source',
            routers: [router?.name ?? '', last],
            better: formatAddress(a.bits),
            words: `${back}; from ${formatAddress(a.bits)} (${i.name}) it would`,
          };
  }
  return { kind: 'return-missing', routers: [last], words: back };
}

/** Every way is to leave the design by one exit; the answer comes from outside, and is not asked for. */
function exitBreach(f: Forwarding, e: Between<Reach>, exit: { router: string; iface: string }): Breach | undefined {
  const { forward } = trace(f, e.from, e.to);
  const other = forward.branches.find((b) => {
    const last = b.hops.at(-1);
    return b.fate !== 'leaves' || last?.router !== exit.router || last.outInterface !== exit.iface;
  });
  if (!other) return undefined;
  const last = other.hops.at(-1);
  const instead =
    other.fate === 'leaves'
      ? `leaves by ${last?.router ?? ''}/${last?.outInterface ?? ''}`
      : other.fate === 'delivered'
        ? 'ends inside the design'
        : `does not get there: ${other.reason}`;
  const words = `${formatAddress(e.from)} to ${formatAddress(e.to)} is to leave by ${exit.router}/${exit.iface}, and ${instead}`;
  return { kind: 'broken', routers: last ? [last.router] : [], words };
}

const names = (b: Branch): string[] => b.hops.map((h) => h.router);

function pathBreach(f: Forwarding, e: Between<Path>): Breach | undefined {
  const t = trace(f, e.from, e.to);
  const broken = (routers: readonly string[], words: string): Breach => ({
    kind: 'broken',
    routers,
    words: `${formatAddress(e.from)} to ${formatAddress(e.to)}: ${words}`,
  });
  if (t.forward.fate !== 'delivered') return broken([], walkWords(t.forward));
  for (const b of t.forward.branches) {
    const over = names(b);
    const way = over.join(', ');
    const missing = e.through.find((r) => !over.includes(r));
    if (missing !== undefined) return broken([missing], `not by ${missing}, but by ${way}`);
    const met = e.avoids.find((r) => over.includes(r));
    if (met !== undefined) return broken([met], `by ${met}, which is to be avoided: ${way}`);
    if (e.atMostHops !== undefined && over.length - 1 > e.atMostHops)
      return broken(over.slice(0, 1), `${over.length - 1} hops, more than ${e.atMostHops}: ${way}`);
    const cost = e.atMostCost === undefined ? undefined : costFrom(f, [f.prediction.routerIndex(over[0] ?? '')], e.to);
    if (e.atMostCost !== undefined && (cost ?? 0) > e.atMostCost) return broken(over.slice(0, 1), `at cost ${cost ?? 0}, more than ${e.atMostCost}`);
  }
  if (!e.symmetric) return undefined;
  if (t.return.fate !== 'delivered') return broken([], `the answer does not come back: ${walkWords(t.return)}`);
  const there = new Set(t.forward.branches.map((b) => names(b).join(', ')));
  const back = t.return.branches.map((b) => names(b).reverse().join(', '));
  const other = back.find((w) => !there.has(w)) ?? [...there].find((w) => !back.includes(w));
  return other === undefined ? undefined : broken([], `there and back go by other routers: ${other} one way alone`);
}

function tableBreach(p: Prediction, e: Extract<Expectation, { kind: 'table' }>): Breach | undefined {
  const n = p.rib(p.routerIndex(e.router)).length;
  return n <= e.atMost ? undefined : { kind: 'broken', routers: [e.router], words: `${e.router} has ${n} routes, more than ${e.atMost}` };
}

function areaBreach(p: Prediction, e: Extract<Expectation, { kind: 'area' }>): Breach | undefined {
  for (const s of p.adjacencies.speakers) {
    if (!p.routing.areasOf(s).includes(e.area)) continue;
    const area = p.routing.areaOf(s, e.area);
    const kind = areaKindOf(area.type, area.summary || !p.routing.isBorderRouter(s));
    // Whether summaries enter is said by border routers; one inside names the type alone.
    const same = p.routing.isBorderRouter(s) ? kind === e.type : area.type === areaTypeOf(e.type);
    if (!same)
      return { kind: 'broken', routers: [s.router.name], words: `area ${formatAddress(e.area)} is ${kind} in ${s.router.name}, not ${e.type}` };
  }
  return undefined;
}

const areaTypeOf = (kind: AreaKind): AreaType => (kind === 'normal' ? 'normal' : kind.endsWith('nssa') ? 'nssa' : 'stub');

/** Loopback addresses of a router that are up. */
function loopbacksUp(p: Prediction, name: string): readonly Ipv4[] {
  const index = p.routerIndex(name);
  return (p.design.routers[index]?.interfaces ?? []).flatMap((i, n) =>
    i.kind === 'loopback' && interfaceUp(p.design, p.outage, index, n) ? i.addresses.map((a) => a.bits).filter((a) => !isLoopbackAddress(a)) : [],
  );
}

/** The loopbacks of two routers between which a session is to stand; `undefined` where one has none that is up. */
export const sessionEnds = (p: Prediction, e: { readonly from: string; readonly to: string }): readonly [Ipv4 | undefined, Ipv4 | undefined] => [
  loopbacksUp(p, e.from)[0],
  loopbacksUp(p, e.to)[0],
];

/** Two routers whose loopbacks are to reach each other both ways, as a session between them needs. */
function sessionBreach(f: Forwarding, e: Extract<Expectation, { kind: 'session' }>): Breach | undefined {
  const p = f.prediction;
  const [from, to] = sessionEnds(p, e);
  const none = from === undefined ? e.from : to === undefined ? e.to : undefined;
  if (from === undefined || to === undefined) return { kind: 'broken', routers: [none ?? ''], words: `${none ?? ''} has no loopback that is up` };
  const breach = reachBreach(f, { kind: 'reach', from, to, bothWays: true });
  return breach && withPair(breach, from, to);
}

function leaderBreach(p: Prediction, e: Extract<Expectation, { kind: 'leader' }>): Breach | undefined {
  const port = p
    .speakersOf(p.routerIndex(e.router))
    .flatMap((s) => s.ports)
    .find((x) => x.iface.name === e.iface);
  const leaders = port && p.adjacencies.leaders[port.index];
  const now = leaders?.[e.role] ?? 0;
  if (port && now === port.routerId) return undefined;
  const who = p.adjacencies.speakers.find((s) => s.routerId === now)?.router.name;
  const role = e.role === 'dr' ? 'designated router' : 'backup designated router';
  return {
    kind: 'broken',
    routers: [e.router],
    words: `${e.router} is not ${role} on ${e.iface}: ${port ? `${who ?? 'nobody'} is` : 'it is not in OSPF there'}`,
  };
}

function summaryBreach(p: Prediction, e: Extract<Expectation, { kind: 'summary' }>): Breach | undefined {
  const key = prefixId(e.prefix.bits, e.prefix.length);
  const missing: string[] = [];
  const parts: string[] = [];
  for (const s of p.adjacencies.speakers) {
    const table = p.routing.tableOnce(s);
    const inside = [...table.values()].filter((r) => r.key !== key && covers(e.prefix, r));
    // Who holds a part from an area of its own stands where the summary comes from.
    if (inside.some((r) => r.type === 'intra-area')) continue;
    // Where no summary comes in at all, the default stands for it.
    const closed = inStubsOnly(p, s.routerIndex) && ![...table.values()].some((r) => r.type === 'inter-area' && r.length > 0);
    if (!table.has(key) && !(closed && table.has(prefixId(0, 0)))) missing.push(s.router.name);
    if (inside.length > 0) parts.push(`${s.router.name} (${inside.slice(0, 2).map(formatPrefix).join(', ')}${inside.length > 2 ? ', …' : ''})`);
  }
  if (missing.length === 0 && parts.length === 0) return undefined;
  const some = (list: readonly string[]): string => `${list.slice(0, 4).join(', ')}${list.length > 4 ? ` and ${list.length - 4} more` : ''}`;
  return {
    kind: 'broken',
    routers: missing,
    words: `${formatPrefix(e.prefix)}: ${[missing.length > 0 ? `not seen by ${some(missing)}` : '', parts.length > 0 ? `its parts are seen by ${some(parts)}` : ''].filter(Boolean).join('; ')}`,
  };
}

function routeBreach(p: Prediction, e: Extract<Expectation, { kind: 'route' }>): Breach | undefined {
  const index = p.routerIndex(e.router);
  const route = index < 0 ? undefined : p.rib(index).find((r) => r.key === prefixId(e.prefix.bits, e.prefix.length));
  const words = `${e.router} ${formatPrefix(e.prefix)}`;
  if (!e.present) return route ? { kind: 'broken', routers: [e.router], words: `${words}: the route is there (${route.source})` } : undefined;
  if (!route)
    return index >= 0 && inStubsOnly(p, index) && isExternal(p, e.prefix.bits)
      ? {
          kind: 'external-in-stub',
          routers: [e.router],
          words: `${words}: the prefix is external, and ${e.router} stands in stub areas, into which none comes`,
        }
      : { kind: 'broken', routers: [e.router], words: `${words}: there is no such route` };
  if (e.routeType !== undefined && route.route?.type !== e.routeType)
    return {
      kind: 'broken',
      routers: [e.router],
      words: `${words}: the route is ${route.route?.type ?? `${route.source}, not from OSPF`}, not ${e.routeType}`,
    };
  if (e.via === undefined) return undefined;
  const f = new Forwarding(p);
  const over = route.hops.flatMap((h) => (h.address === undefined ? [] : f.owners(h.address).map((o) => p.design.routers[o.router]?.name ?? '')));
  return over.includes(e.via)
    ? undefined
    : { kind: 'broken', routers: [e.router], words: `${words} goes by ${over.join(', ') || 'its own interface'}, not by ${e.via}` };
}

/** Advertisements of one type that the routers of a database hold (RFC 2328 §12.1.1, RFC 3101 for type 7). */
function heldIn(p: Prediction, db: AreaDatabase, type: number): number {
  const member = p.adjacencies.speakers.find((s) => db.speakers.includes(s.index));
  const summaries = [...db.summaries.values()].flat();
  const counts: Readonly<Record<number, number>> = {
    1: db.routers.size,
    2: db.networks.size,
    3: summaries.filter((l) => l.type === 3).length,
    4: summaries.filter((l) => l.type === 4).length,
    5: member && p.routing.areaOf(member, db.areaId).type === 'normal' ? p.routing.externals(member).length : 0,
    7: db.nssa.length,
  };
  return counts[type] ?? 0;
}

/** An expectation about something that the design does not have: it must not pass for holding. */
export function aboutNothing(f: Forwarding, e: Expectation): Breach | undefined {
  const p = f.prediction;
  const broken = (words: string): Breach => ({ kind: 'broken', routers: [], words });
  const named =
    e.kind === 'session'
      ? [e.from, e.to]
      : e.kind === 'path'
        ? [...e.through, ...e.avoids]
        : e.kind === 'reach' && e.leavesBy
          ? [e.leavesBy.router]
          : [];
  const unknown = named.find((name) => p.routerIndex(name) < 0);
  if (unknown !== undefined) return broken(`there is no router ${unknown} in this design`);
  if ('router' in e && p.routerIndex(e.router) < 0) return broken(`there is no router ${e.router} in this design`);
  if ('area' in e && !p.routing.databases.some((d) => d.areaId === e.area)) return broken(`no router stands in area ${formatAddress(e.area)}`);
  if (e.kind === 'reach' || e.kind === 'no-reach' || e.kind === 'path') {
    const fault = endFault(p.design, e.from) ?? endFault(p.design, e.to);
    if (fault !== undefined) return broken(fault);
  }
  if (e.kind === 'no-reach' && typeof e.from === 'number' && f.endsOf(e.from).length === 0)
    return broken(`no router that is up has an interface on the subnet of ${formatAddress(e.from)}`);
  return undefined;
}

export const withPair = (b: Breach, from: Ipv4, to: Ipv4): Breach => ({ ...b, pair: { from: formatAddress(from), to: formatAddress(to) } });

export type Pair = readonly [Ipv4, Ipv4];

/** Every pair of different addresses that the ends of an expectation stand for. */
export function pairsOf(p: Prediction, e: Reach | Path): Pair[] {
  const to = addressesOf(p.design, e.to);
  return addressesOf(p.design, e.from).flatMap((a) => to.flatMap((b): Pair[] => (a === b ? [] : [[a, b]])));
}

/** From so many pairs on, all routers are looked at for each address at once, and only what does not arrive is traced. */
const many = 8;

/** The first of the pairs of an expectation that breaks it, told with how many do. */
function pairsBreach(f: Forwarding, e: Reach | Path, pairs: readonly Pair[]): Breach | undefined {
  const between = (from: Ipv4, to: Ipv4): Breach | undefined =>
    e.kind === 'path'
      ? pathBreach(f, { ...e, from, to })
      : e.leavesBy
        ? exitBreach(f, { ...e, from, to }, e.leavesBy)
        : reachBreach(f, { ...e, from, to });
  const arrives = pairs.length < many || e.kind === 'path' || e.leavesBy ? undefined : arriving(f);
  const holds = ([from, to]: Pair): boolean => {
    if (!arrives || e.kind === 'path') return false;
    const there = arrives(from, to);
    return e.kind === 'no-reach' ? there === 'never' : there === 'always' && (!e.bothWays || arrives(to, from) === 'always');
  };
  let first: Breach | undefined;
  let broken = 0;
  for (const pair of pairs) {
    if (holds(pair)) continue;
    // Of many pairs that are broken, the first is told whole.
    const breach = first && arrives ? first : between(...pair);
    if (!breach) continue;
    broken++;
    first ??= withPair(breach, ...pair);
  }
  return first && (pairs.length > 1 ? { ...first, words: `${first.words} (${broken} of ${pairs.length} pairs)` } : first);
}

/** Whether packets between addresses arrive, from one look at all routers for each destination. */
function arriving(f: Forwarding): (from: Ipv4, to: Ipv4) => 'always' | 'never' | 'partly' {
  const fates = new Map<Ipv4, Uint8Array>();
  const ends = new Map<Ipv4, readonly number[]>();
  return (from, to) => {
    let known = fates.get(to);
    if (!known) fates.set(to, (known = fatesTo(f, to)));
    let starts = ends.get(from);
    if (!starts) ends.set(from, (starts = f.endsOf(from)));
    const fate = fateFrom(known, starts);
    if (fate === 'delivered') return 'always';
    return starts.some((s) => ['delivered', 'leaves', 'partly'].includes(fateFrom(known, [s]))) ? 'partly' : 'never';
  };
}

/** Looks at one expectation in one settled network; `undefined`: it holds. */
export function breachOf(f: Forwarding, e: Expectation, pairs: readonly Pair[]): Breach | undefined {
  const p = f.prediction;
  switch (e.kind) {
    case 'reach':
    case 'no-reach':
    case 'path':
      return pairsBreach(f, e, pairs);
    case 'table':
      return tableBreach(p, e);
    case 'area':
      return areaBreach(p, e);
    case 'session':
      return sessionBreach(f, e);
    case 'leader':
      return leaderBreach(p, e);
    case 'summary':
      return summaryBreach(p, e);
    case 'route':
      return routeBreach(p, e);
    case 'no-external': {
      const inside = p.adjacencies.speakers.find(
        (s) => p.routing.areasOf(s).includes(e.area) && p.routing.areaOf(s, e.area).type === 'normal' && p.routing.externals(s).length > 0,
      );
      const sevens = Math.max(0, ...p.routing.databases.filter((d) => d.areaId === e.area).map((d) => d.nssa.length));
      if (!inside && sevens === 0) return undefined;
      const count = inside ? p.routing.externals(inside).length : sevens;
      return {
        kind: 'broken',
        routers: inside ? [inside.router.name] : [],
        words: `area ${formatAddress(e.area)} holds ${count} external advertisement${count === 1 ? '' : 's'} of type ${inside ? 5 : 7}`,
      };
    }
    case 'neighbours': {
      const index = p.routerIndex(e.router);
      const count = p.adjacencies.views.flat().filter((v) => v.port.routerIndex === index && v.state === e.state).length;
      const neighbours = `neighbour${count === 1 ? '' : 's'}`;
      return count === e.count
        ? undefined
        : {
            kind: 'broken',
            routers: [e.router],
            words: `${e.router} has ${count} ${e.state === 'full' ? `full ${neighbours}` : `${neighbours} in ${e.state}`}, not ${e.count}`,
          };
    }
    case 'advertisements': {
      // Of an area in pieces, the one that holds most.
      const count = Math.max(...p.routing.databases.filter((d) => d.areaId === e.area).map((d) => heldIn(p, d, e.type)));
      return count <= e.atMost
        ? undefined
        : {
            kind: 'broken',
            routers: [],
            words: `area ${formatAddress(e.area)} holds ${count} advertisements of type ${e.type}, more than ${e.atMost}`,
          };
    }
  }
}
