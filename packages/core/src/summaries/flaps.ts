import type { FailureSpec } from '../failures/outage';
import { linkFailures } from '../failures/single-failures';
import { foldExternal } from '../lsdb/external-lsa';
import { rangeCost } from '../lsdb/summary-lsa';
import { covers, type Prefix } from '../prefix/address';
import { prefixBook, prefixId } from '../prefix/prefix-book';
import type { Prediction } from '../predict';
import { insideCosts, type Costs } from './inside-costs';
import { announcedBy, summarisers, unfolded, type Announced } from './space';

/** What a router tells of a summary before and after a failure: its cost, outside with the metric type; `undefined`: it tells nothing. */
export interface Told {
  readonly router: string;
  readonly before: string | undefined;
  readonly after: string | undefined;
}

/** What the rest of the network hears of a failure. */
export type Heard = 'nothing' | 'cost' | 'lost';

/** One failure inside an area that touches parts of a summary. */
export interface Flap {
  readonly failure: FailureSpec;
  /** Parts that no border router reaches any more. */
  readonly lost: readonly Prefix[];
  /** Parts that some border router reaches at another cost, or no more, and others still do. */
  readonly moved: readonly Prefix[];
  /** Without the summary: each part by itself. */
  readonly alone: Heard;
  /** With it, at the cost of its parts, and at a fixed cost. */
  readonly following: Heard;
  readonly fixed: Heard;
  /** The summary's cost at each border router, following its parts. */
  readonly told: readonly Told[];
}

/** What a summary hides of the failures inside its area, one by one. */
export interface Flaps {
  /** Failures tried: links, LANs and stub LANs of the area. */
  readonly tried: number;
  readonly list: readonly Flap[];
}

/** Every single failure of a wire inside an area: its links, its LANs as a whole and each attachment to them, and LANs of one router. */
export function areaFailures(p: Prediction, area: number): FailureSpec[] {
  const { ports } = p.adjacencies;
  const here = new Set(ports.filter((x) => x.area.id === area && x.up).map((x) => `${x.routerIndex}/${x.ifaceIndex}`));
  const at = (router: string, iface: string): string => {
    const r = p.routerIndex(router);
    return `${r}/${p.design.routers[r]?.interfaces.findIndex((i) => i.name === iface) ?? -1}`;
  };
  const links = linkFailures(p).filter((f) => f.kind === 'link' && here.has(at(f.router, f.iface)));
  const lans = p.segments.list.flatMap((s): FailureSpec[] => {
    const [first] = s.members.filter((m) => here.has(`${m.router}/${m.iface}`));
    const router = first && p.design.routers[first.router];
    const iface = router?.interfaces[first?.iface ?? -1];
    if (!router || !iface || iface.kind === 'loopback' || s.kind === 'cable') return [];
    return [{ kind: s.size > 1 ? 'lan' : 'interface', router: router.name, iface: iface.name }];
  });
  return [...links, ...lans];
}

/** A router that tells of a summary. */
interface Teller {
  readonly router: string;
  /** What it tells of each part by itself, by the number of the prefix. */
  readonly parts: (p: Prediction) => ReadonlyMap<number, string>;
  /** What it tells of a summary of some parts, which are there. */
  readonly summary: (p: Prediction, prefix: Prefix, parts: readonly number[]) => string;
}

/** Border routers, which tell an area's prefixes at what these cost them (RFC 2328 §12.4.3). */
const borderTellers = (p: Prediction, area: number): Teller[] =>
  summarisers(p, area).map((s) => {
    const costs = (x: Prediction): Costs => insideCosts(x, x.adjacencies.speakers[s.index] ?? s, area);
    return {
      router: s.router.name,
      parts: (x) => new Map([...costs(x)].map(([id, cost]) => [id, String(cost)])),
      summary: (x, prefix, parts) => {
        const known = costs(x);
        const range = { prefix, advertise: true, cost: undefined };
        return String(
          rangeCost(
            range,
            parts.map((id) => known.get(id) ?? 0),
            s.instance.rangeCost,
          ),
        );
      },
    };
  });

const typeWord = { 'type-1': 'type 1', 'type-2': 'type 2' } as const;

/** A boundary router or translator, which tells what it announces outside (RFC 2328 §12.4.4, RFC 3101 §3.2). */
function boundaryTeller(router: string): Teller {
  const made = new WeakMap<Prediction, ReadonlyMap<number, Announced>>();
  const announced = (p: Prediction): ReadonlyMap<number, Announced> => {
    let known = made.get(p);
    if (!known) made.set(p, (known = new Map(announcedBy(p, router).map((a) => [prefixId(a.prefix.bits, a.prefix.length), a]))));
    return known;
  };
  return {
    router,
    parts: (p) => new Map([...announced(p)].map(([id, a]) => [id, `${a.metric} ${typeWord[a.metricType]}`])),
    summary: (p, prefix, parts) => {
      const { metric, metricType } = foldedMetric(
        parts.flatMap((id) => announced(p).get(id) ?? []),
        prefix,
      );
      return `${metric} ${typeWord[metricType]}`;
    },
  };
}

/** Metric and type of an external summary of some parts. */
function foldedMetric(parts: readonly Announced[], prefix: Prefix): Pick<Announced, 'metric' | 'metricType'> {
  const items = parts.map((a) => ({
    ...a.prefix,
    key: -1,
    metric: a.metric,
    metricType: a.metricType,
    tag: a.tag,
    nextHop: undefined,
    reason: 'static' as const,
  }));
  const range = { prefix, advertise: true, metric: undefined, metricType: undefined, tag: 0 };
  return (
    foldExternal(
      items,
      [range],
      parts.some((a) => a.translated),
    )[0] ?? { metric: 0, metricType: 'type-2' }
  );
}

/** Every interface of a router that could go down, one by one. */
const interfaceFailures = (p: Prediction, router: string): FailureSpec[] =>
  (p.design.routers[p.routerIndex(router)]?.interfaces ?? []).flatMap((i) =>
    i.kind === 'loopback' ? [] : [{ kind: 'interface', router, iface: i.name }],
  );

/** What is heard where nobody tells of it any more, where somebody tells something else, and where all is as it was. */
function heard(list: readonly Told[]): Heard {
  if (list.every((t) => t.after === undefined) && list.some((t) => t.before !== undefined)) return 'lost';
  return list.some((t) => t.before !== t.after) ? 'cost' : 'nothing';
}

/** The same told at a cost that never changes. */
const atFixedCost = (t: Told): Told => ({ router: t.router, before: t.before && 'fixed', after: t.after && 'fixed' });

/** What one failure does to what some routers tell of each prefix by itself. */
interface Seen {
  readonly failure: FailureSpec;
  readonly after: Prediction;
  /** By teller. */
  readonly before: readonly ReadonlyMap<number, string>[];
  readonly then: readonly ReadonlyMap<number, string>[];
  /** Prefixes of which something else is told, or nothing any more. */
  readonly touched: readonly number[];
}

/** Tries failures one by one. */
function* seeing(p: Prediction, failures: readonly FailureSpec[], tellers: readonly Teller[]): Generator<Seen, undefined> {
  const before = tellers.map((t) => t.parts(p));
  const all = [...new Set(before.flatMap((c) => [...c.keys()]))];
  for (const failure of failures) {
    const after = p.fail(failure);
    const then = tellers.map((t) => t.parts(after));
    yield { failure, after, before, then, touched: all.filter((id) => before.some((c, i) => c.get(id) !== then[i]?.get(id))) };
  }
}

/** Whether a summary takes a prefix: it covers it, and none of some narrower ones does. */
const takes = (prefix: Prefix, narrower: readonly Prefix[], id: number): boolean => {
  const part = prefixBook.prefix(id);
  return covers(prefix, part) && !narrower.some((n) => n.length > prefix.length && covers(n, part));
};

/** What each teller tells of a summary before and after a failure. */
function toldOf(p: Prediction, { after, before, then }: Seen, tellers: readonly Teller[], prefix: Prefix, narrower: readonly Prefix[] = []): Told[] {
  const sum = (t: Teller, x: Prediction, known: ReadonlyMap<number, string> | undefined): string | undefined => {
    const there = [...(known?.keys() ?? [])].filter((id) => takes(prefix, narrower, id));
    return there.length === 0 ? undefined : t.summary(x, prefix, there);
  };
  return tellers.map((t, i): Told => ({ router: t.router, before: sum(t, p, before[i]), after: sum(t, after, then[i]) }));
}

/** What the failures touch of a summary that some routers tell of. Yields after each. */
function* flapsOver(
  p: Prediction,
  failures: readonly FailureSpec[],
  tellers: readonly Teller[],
  prefix: Prefix,
  narrower: readonly Prefix[],
): Generator<undefined, Flaps> {
  const list: Flap[] = [];
  for (const seen of seeing(p, failures, tellers)) {
    yield undefined;
    const touched = seen.touched.filter((id) => takes(prefix, narrower, id));
    if (touched.length === 0) continue;
    const lost = touched.filter((id) => seen.then.every((c) => !c.has(id)));
    const told = toldOf(p, seen, tellers, prefix, narrower);
    list.push({
      failure: seen.failure,
      lost: lost.map((id) => prefixBook.prefix(id)),
      moved: touched.filter((id) => !lost.includes(id)).map((id) => prefixBook.prefix(id)),
      alone: lost.length > 0 ? 'lost' : 'cost',
      following: heard(told),
      fixed: heard(told.map(atFixedCost)),
      told,
    });
  }
  return { tried: failures.length, list };
}

/** Of some failures, how many the others hear of. */
export interface HeardOf {
  readonly tried: number;
  /** Without any summary. */
  readonly alone: number;
  /** With each of some plans, where its costs follow and where they are fixed; what a plan leaves outside is heard as ever. */
  readonly plans: readonly { readonly following: number; readonly fixed: number }[];
}

function* heardOver(
  p: Prediction,
  failures: readonly FailureSpec[],
  tellers: readonly Teller[],
  plans: readonly (readonly Prefix[])[],
): Generator<undefined, HeardOf> {
  let alone = 0;
  const counts = plans.map(() => ({ following: 0, fixed: 0 }));
  for (const seen of seeing(p, failures, tellers)) {
    yield undefined;
    if (seen.touched.length === 0) continue;
    alone++;
    const touched = seen.touched.map((id) => prefixBook.prefix(id));
    plans.forEach((plan, n) => {
      const outside = touched.some((t) => !plan.some((s) => covers(s, t)));
      const told = plan.filter((s) => touched.some((t) => covers(s, t))).map((s) => toldOf(p, seen, tellers, s));
      const count = counts[n];
      if (!count) return;
      if (outside || told.some((t) => heard(t) !== 'nothing')) count.following++;
      if (outside || told.some((t) => heard(t.map(atFixedCost)) !== 'nothing')) count.fixed++;
    });
  }
  return { tried: failures.length, alone, plans: counts };
}

/**
 * What the rest of the network would hear of every single failure inside an area: of the parts one by one, of a summary whose
 * cost follows them (RFC 2328 §12.4.3), and of one with a fixed cost, which is told as long as one part is there. Yields after
 * each failure, so that whoever asks can look up, or stop.
 *
 * @param narrower  summaries inside this one, which take their parts away from it
 */
export const flapsOf = (p: Prediction, area: number, prefix: Prefix, narrower: readonly Prefix[] = []): Generator<undefined, Flaps> =>
  flapsOver(p, areaFailures(p, area), borderTellers(p, area), prefix, narrower);

/** The same of every interface of a boundary router or translator, for a summary of what it announces outside. */
export const outsideFlapsOf = (p: Prediction, router: string, prefix: Prefix, narrower: readonly Prefix[] = []): Generator<undefined, Flaps> =>
  flapsOver(unfolded(p, router), interfaceFailures(p, router), [boundaryTeller(router)], prefix, narrower);

/** How many failures inside an area the others hear of, with each of some plans for its summaries. Yields after each failure. */
export const heardWith = (p: Prediction, area: number, plans: readonly (readonly Prefix[])[]): Generator<undefined, HeardOf> =>
  heardOver(p, areaFailures(p, area), borderTellers(p, area), plans);

/** The same of what a boundary router or translator announces outside. */
export const outsideHeardWith = (p: Prediction, router: string, plans: readonly (readonly Prefix[])[]): Generator<undefined, HeardOf> =>
  heardOver(unfolded(p, router), interfaceFailures(p, router), [boundaryTeller(router)], plans);
