import { prefixId } from '../prefix/prefix-book';
import type { Speaker } from '../adjacency/speakers';
import type { Address } from '../prefix/address';
import { foldExternal, type Imported } from './external-lsa';
import { linkStateIds, lsInfinity, type ExternalLsa } from './lsa';
import type { RouterLsa } from './router-links';

/**
 * Whether a border router translates for an NSSA in which it has an interface that is up (RFC 3101 §3.1). Routers told to
 * translate always do; else, while none of those is reached inside the NSSA, the candidate with the largest router id among
 * the border routers that reach each other there: each half of a split NSSA has its own.
 *
 * @param reached  other routers that it reaches inside the NSSA
 */
export function translates(s: Speaker, reached: Iterable<RouterLsa>, always: boolean): boolean {
  if (always) return true;
  for (const r of reached) if (r.bits.b && (r.bits.nt || r.adv > s.routerId)) return false;
  return true;
}

interface Translatable extends Imported {
  readonly forwarding: Address;
}

/**
 * Types 5 that a translator makes of an NSSA's type 7 (RFC 3101 §3.2): those with the P bit and a forwarding address
 * that its own table uses, folded into its external ranges; not what it announces itself.
 *
 * @param uses  whether the table stands on an advertisement
 * @param own   keys of prefixes that it announces itself
 */
export function translatedLsas(s: Speaker, nssa: readonly ExternalLsa[], uses: (l: ExternalLsa) => boolean, own: ReadonlySet<number>): ExternalLsa[] {
  const best = new Map<number, Translatable>();
  for (const l of nssa) {
    const key = prefixId(l.bits, l.length);
    if (!l.propagate || l.forwarding === 0 || l.metric >= lsInfinity || l.adv === s.routerId || own.has(key)) continue;
    if (best.has(key) || !uses(l)) continue;
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
