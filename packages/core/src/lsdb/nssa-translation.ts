import type { Speaker } from '../adjacency/speakers';
import { prefixKey, type Ipv4 } from '../prefix/ipv4';
import { noWay } from '../dense/area-rows';
import type { AreaGraph } from '../spf/area-graph';
import type { Route } from '../routes/route';
import { foldExternal, type Imported } from './external-lsa';
import { linkStateIds, lsInfinity, type ExternalLsa } from './lsa';

/**
 * Whether a border router translates for an NSSA in which it has an interface that is up (RFC 3101 §3.1). Routers told to
 * translate always do; else, while none of those is reached inside the NSSA, the candidate with the largest router id among
 * the border routers that reach each other there: each half of a split NSSA has its own.
 */
export function translates(
  s: Speaker,
  tree: { readonly graph: AreaGraph; readonly root: number; readonly distance: ArrayLike<number> },
  always: boolean,
): boolean {
  if (always) return true;
  return !tree.graph.routers.some((r, v) => {
    if (v === tree.root || !r.bits.b || (tree.distance[v] ?? noWay) >= noWay) return false;
    return r.bits.nt || r.adv > s.routerId;
  });
}

interface Translatable extends Imported {
  readonly forwarding: Ipv4;
}

/**
 * Types 5 that a translator makes of an NSSA's type 7 (RFC 3101 §3.2): those with the P bit and a forwarding address
 * that its own table uses, folded into its external ranges; not what it announces itself.
 */
export function translatedLsas(
  s: Speaker,
  nssa: readonly ExternalLsa[],
  route: (key: number) => Route | undefined,
  own: ReadonlySet<number>,
): ExternalLsa[] {
  const best = new Map<number, Translatable>();
  for (const l of nssa) {
    const key = prefixKey(l.bits, l.length);
    if (!l.propagate || l.forwarding === 0 || l.metric >= lsInfinity || l.adv === s.routerId || own.has(key)) continue;
    if (!route(key)?.sources.includes(l)) continue;
    if (best.has(key)) continue;
    best.set(key, {
      key,
      bits: l.bits,
      length: l.length,
      metric: l.metric,
      metricType: l.metricType,
      tag: l.tag,
      nextHop: undefined,
      reason: 'translated',
      forwarding: l.forwarding,
    });
  }
  const items = foldExternal([...best.values()], s.instance.externalRanges, true).filter((i) => !own.has(i.key));
  const ids = linkStateIds(items);
  return items.map((i, n) => ({
    type: 5,
    adv: s.routerId,
    id: ids[n] ?? i.bits,
    speaker: s.index,
    bits: i.bits,
    length: i.length,
    metric: i.metric,
    metricType: i.metricType,
    forwarding: 'forwarding' in i ? i.forwarding : 0,
    tag: i.tag,
    propagate: false,
    reason: i.reason,
  }));
}
