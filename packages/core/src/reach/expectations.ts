import { prefixId } from '../prefix/prefix-book';
import { addFailure, formatFailure, interfaceUp, parseFailure, type FailureSpec } from '../failures/outage';
import { designOf, families, routesSix, type Family } from '../design/family';
import { familyNamed, type Circumstance, type Expectation } from '../design/settings';
import { areaKindOf, type AreaKind, type AreaType } from '../design/terms';
import { covers, formatAddress, formatPrefix, holds } from '../prefix/address';
import type { Ipv4 } from '../prefix/ipv4';
import type { AreaDatabase } from '../lsdb/area-database';
import type { Design, Router } from '../design/design';
import type { Prediction } from '../predict';
import { groupFailures, linkFailures, routerFailures } from '../failures/single-failures';
import { Forwarding } from './forwarding';
import { trace, type Branch, type Walk } from './trace';

/** Why an expectation does not hold. Kinds that people meet have a name of their own. */
export type Breach =
  | { readonly kind: 'broken'; readonly routers: readonly string[]; readonly words: string }
  /** There it arrives, back it does not. */
  | { readonly kind: 'return-missing'; readonly routers: readonly string[]; readonly words: string }
  /** The same test from another address of the same router would succeed. */
  | { readonly kind: 'wrong-source'; readonly routers: readonly string[]; readonly words: string; readonly better: Ipv4 }
  /** The route is external, and the router stands in stub areas alone. */
  | { readonly kind: 'external-in-stub'; readonly routers: readonly string[]; readonly words: string }
  /** It holds again, but not as soon as was asked. */
  | { readonly kind: 'too-slow'; readonly routers: readonly string[]; readonly words: string };

/** What became of one expectation: in the network as it is, and in each failure that it must outlive. */
export interface ExpectationResult {
  readonly name: string;
  readonly kind: Expectation['kind'];
  readonly under: Expectation['under'];
  readonly holds: boolean;
  /** One line on what was found. */
  readonly message: string;
  /** Failures that break it, as they are typed; the empty text stands for the network as it is. */
  readonly 'broken-by': readonly string[];
  /** How many failures were tried. */
  readonly tried: number;
  readonly breach: Breach | null;
  /** 6: it is about IPv6. */
  readonly family?: 6;
}

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

function reachBreach(f: Forwarding, e: Extract<Expectation, { kind: 'reach' | 'no-reach' }>): Breach | undefined {
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
            better: a.bits,
            words: `${back}; from ${formatAddress(a.bits)} (${i.name}) it would`,
          };
  }
  return { kind: 'return-missing', routers: [last], words: back };
}

/** Every way is to leave the design by one exit; the answer comes from outside, and is not asked for. */
function exitBreach(
  f: Forwarding,
  e: Extract<Expectation, { kind: 'reach' | 'no-reach' }>,
  exit: { router: string; iface: string },
): Breach | undefined {
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

/** The OSPF cost at which the first router of a way has the destination; `undefined` where OSPF does not bring it. */
function costFrom(f: Forwarding, branch: Branch, to: Ipv4): number | undefined {
  const first = f.prediction.routerIndex(branch.hops[0]?.router ?? '');
  return first < 0 ? undefined : f.lookup(first, to)?.route?.metric;
}

function pathBreach(f: Forwarding, e: Extract<Expectation, { kind: 'path' }>): Breach | undefined {
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
    const cost = e.atMostCost === undefined ? undefined : costFrom(f, b, e.to);
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

/** Loopback addresses of a router that are up; of an address given in its place that one. */
function loopbacksOf(p: Prediction, name: string): readonly Ipv4[] {
  const index = p.routerIndex(name);
  return (p.design.routers[index]?.interfaces ?? []).flatMap((i, n) =>
    i.kind === 'loopback' && interfaceUp(p.design, p.outage, index, n) ? i.addresses.map((a) => a.bits) : [],
  );
}

/** Two routers whose loopbacks are to reach each other both ways, as a session between them needs. */
function sessionBreach(f: Forwarding, e: Extract<Expectation, { kind: 'session' }>): Breach | undefined {
  const p = f.prediction;
  const [[from], [to]] = [loopbacksOf(p, e.from), loopbacksOf(p, e.to)];
  const none = from === undefined ? e.from : to === undefined ? e.to : undefined;
  if (from === undefined || to === undefined) return { kind: 'broken', routers: [none ?? ''], words: `${none ?? ''} has no loopback that is up` };
  return reachBreach(f, { ...e, kind: 'reach', from, to, bothWays: true, withinMs: undefined, leavesBy: undefined });
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

/** Routers that an expectation names, or that have a part in the area that it names. */
function routersOf(design: Design, e: Expectation): readonly Router[] {
  if ('area' in e) return design.routers.filter((r) => r.instances.some((o) => o.areas.some((a) => a.id === e.area)));
  const names = e.kind === 'session' ? [e.from, e.to] : 'router' in e ? [e.router] : [];
  return design.routers.filter((r) => names.includes(r.name));
}

/** Whether an expectation is to be judged in this family: that of its addresses, the one that it names, else each that all its routers run. */
export function concerns(e: Expectation, p: Prediction): boolean {
  const named = familyNamed(e);
  if (named !== undefined) return named === p.family;
  const routers = routersOf(designOf(p.design), e);
  const runs = (r: Router, family: Family): boolean =>
    r.instances.some((o) => (family === 6 ? routesSix(o) : o.version === 2) && (!('area' in e) || o.areas.some((a) => a.id === e.area)));
  const able = families.filter((f) => routers.length > 0 && ('area' in e ? routers.some((r) => runs(r, f)) : routers.every((r) => runs(r, f))));
  // What no family can be asked is told once.
  return able.length > 0
    ? able.includes(p.family)
    : p.family === 4 || !designOf(p.design).routers.some((r) => r.instances.some((o) => o.version === 2));
}

/** An expectation about something that the design does not have: it must not pass for holding. */
function aboutNothing(f: Forwarding, e: Expectation): Breach | undefined {
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
  if (e.kind === 'no-reach' && f.endsOf(e.from).length === 0)
    return broken(`no router that is up has an interface on the subnet of ${formatAddress(e.from)}`);
  return undefined;
}

/** Looks at one expectation in one settled network; `undefined`: it holds. */
export function breachOf(f: Forwarding, e: Expectation): Breach | undefined {
  const p = f.prediction;
  switch (e.kind) {
    case 'reach':
    case 'no-reach':
      return e.leavesBy ? exitBreach(f, e, e.leavesBy) : reachBreach(f, e);
    case 'path':
      return pathBreach(f, e);
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
      const full = p.adjacencies.views.flat().filter((v) => p.design.routers[v.port.routerIndex]?.name === e.router && v.state === 'full').length;
      return full === e.count
        ? undefined
        : { kind: 'broken', routers: [e.router], words: `${e.router} has ${full} full neighbour${full === 1 ? '' : 's'}, not ${e.count}` };
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

/** Routers whose own failure makes an expectation meaningless: its ends. */
function ends(f: Forwarding, e: Expectation): ReadonlySet<string> {
  const name = (i: number): string => f.prediction.design.routers[i]?.name ?? '';
  if (e.kind === 'session') return new Set([e.from, e.to]);
  if (e.kind === 'reach' || e.kind === 'no-reach' || e.kind === 'path') {
    const sole = (ip: Ipv4): string[] => {
      const at = f.endsOf(ip);
      return at.length === 1 ? at.map(name) : [];
    };
    return new Set([...sole(e.from), ...sole(e.to)]);
  }
  return new Set('router' in e ? [e.router] : []);
}

/**
 * Who on the usual way hears of a failure only when its dead interval is over: its interface stays up and the neighbour
 * behind it is gone. Earliest and latest in seconds (RFC 2328 §10.5: the last hello came up to one interval before).
 */
function slowest(
  before: Forwarding,
  after: Prediction,
  e: Extract<Expectation, { kind: 'reach' | 'no-reach' }>,
): { router: string; from: number; to: number } | undefined {
  const t = trace(before, e.from, e.to);
  let worst: { router: string; from: number; to: number } | undefined;
  for (const branch of [...t.forward.branches, ...(e.bothWays ? t.return.branches : [])])
    branch.hops.forEach((h, n) => {
      const next = branch.hops[n + 1]?.router;
      const lost = after
        .speakersOf(after.routerIndex(h.router))
        .flatMap((s) => s.ports)
        .find((x) => x.iface.name === h.outInterface && x.up);
      if (!lost || next === undefined || lost.settings.bfd) return;
      const still = after.adjacencies.views
        .flat()
        .some((v) => v.port === lost && v.state === 'full' && after.design.routers[v.peer.routerIndex]?.name === next);
      const earliest = Math.max(0, lost.settings.dead - lost.settings.hello);
      if (!still && (!worst || earliest > worst.from)) worst = { router: h.router, from: earliest, to: lost.settings.dead };
    });
  return worst;
}

/** The failures that an expectation must outlive; in words what is wrong with the one that it names. */
function failuresOf(p: Prediction, under: Circumstance): FailureSpec[] | string {
  if (under === 'normal') return [];
  if (under === 'any-link') return linkFailures(p);
  if (under === 'any-router') return routerFailures(p);
  if (under === 'any-group') return groupFailures(p);
  const spec = parseFailure(under);
  if (typeof spec === 'string') return spec;
  const [problem] = addFailure(p.design, p.segments, p.outage, spec).problems;
  return problem ?? [spec];
}

/**
 * Checks one expectation in the network as it is and in every single failure that it must outlive.
 *
 * @param underFailures  false: only the network as it is
 */
export function checkExpectation(now: Forwarding, e: Expectation, underFailures = true): ExpectationResult {
  const steps = checkingExpectation(now, e, underFailures);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

/** Every expectation of a design, in the order in which they stand, failure by failure. */
export function* judging(now: Forwarding, expectations: readonly Expectation[]): Generator<undefined, ExpectationResult[]> {
  const out: ExpectationResult[] = [];
  for (const e of expectations) out.push(yield* checkingExpectation(now, e));
  return out;
}

/** The same failure by failure, so that whoever asks can look up, or stop. */
export function* checkingExpectation(now: Forwarding, e: Expectation, underFailures = true): Generator<undefined, ExpectationResult> {
  const p = now.prediction;
  const listed = failuresOf(p, e.under);
  let breach = aboutNothing(now, e) ?? breachOf(now, e);
  if (typeof listed === 'string') breach ??= { kind: 'broken', routers: [], words: `it is to outlive ${e.under}: ${listed}` };
  const brokenBy: string[] = breach ? [''] : [];
  let tried = 0;
  const failures: FailureSpec[] = !underFailures || breach || typeof listed === 'string' ? [] : listed;
  const own = ends(now, e);
  for (const failure of failures) {
    if (failure.kind === 'router' && own.has(failure.router) && e.under === 'any-router') continue;
    tried++;
    yield undefined;
    const after = p.fail(failure);
    let found = breachOf(new Forwarding(after), e);
    if (!found && e.kind === 'reach' && e.withinMs !== undefined) {
      const slow = slowest(now, after, e);
      if (slow && slow.from * 1000 > e.withinMs)
        found = {
          kind: 'too-slow',
          routers: [slow.router],
          words: `${formatAddress(e.from)} to ${formatAddress(e.to)}: ${slow.router} keeps its port up and hears of it only when its dead interval ends, ${slow.from} to ${slow.to} s later, not within ${e.withinMs} ms`,
        };
    }
    if (!found) continue;
    breach ??= { ...found, words: `with ${formatFailure(failure)}: ${found.words}` };
    brokenBy.push(formatFailure(failure));
  }
  const told = breach ? breach.words : tried > 0 ? `holds, also in each of ${tried} failures` : 'holds';
  const family = p.family === 6 ? { family: 6 as const } : {};
  return {
    name: e.name,
    kind: e.kind,
    under: e.under,
    ...family,
    holds: !breach,
    message: told,
    'broken-by': brokenBy,
    tried,
    breach: breach ?? null,
  };
}
