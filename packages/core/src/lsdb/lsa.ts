import type { Port } from '../adjacency/speakers';
import type { RouterBits, RouterLsa } from './router-links';
import { formatIpv4, maskOf, type Ipv4, type Ipv4Prefix } from '../prefix/ipv4';

/** Costs from here on mean unreachable (RFC 2328 B, LSInfinity). */
export const lsInfinity = 0xff_ffff;

/** Type 2 (RFC 2328 §12.4.2). */
export interface NetworkLsa {
  readonly type: 2;
  readonly adv: Ipv4;
  readonly id: Ipv4;
  readonly length: number;
  readonly routers: readonly Ipv4[];
  readonly port: Port;
}

/** Why a summary stands as it does. */
export type SummaryReason = 'intra-area' | 'inter-area' | 'range' | 'stub-default' | 'boundary-router';

/** Types 3 and 4 (RFC 2328 §12.4.3). For type 4 `bits` is the boundary router's id and `length` 0. */
export interface SummaryLsa extends Ipv4Prefix {
  readonly type: 3 | 4;
  readonly adv: Ipv4;
  readonly id: Ipv4;
  readonly speaker: number;
  readonly metric: number;
  readonly reason: SummaryReason;
  /** The area the destination comes from. */
  readonly fromArea: number;
  /** Parts folded into a range. */
  readonly parts?: readonly Ipv4Prefix[];
}

/** Types 5 and 7 (RFC 2328 §12.4.4, RFC 3101 §2). */
export interface ExternalLsa extends Ipv4Prefix {
  readonly type: 5 | 7;
  readonly adv: Ipv4;
  readonly id: Ipv4;
  readonly speaker: number;
  readonly metric: number;
  readonly metricType: 'type-1' | 'type-2';
  readonly forwarding: Ipv4;
  readonly tag: number;
  /** Type 7 only: may be translated. */
  readonly propagate: boolean;
  readonly reason: 'static' | 'direct' | 'other' | 'default' | 'nssa-default' | 'translated' | 'external-range';
}

export type Lsa = RouterLsa | NetworkLsa | SummaryLsa | ExternalLsa;

/** What names an advertisement within its scope (RFC 2328 §12.1). */
export interface LsaKey {
  readonly type: number;
  readonly id: string;
  readonly adv: string;
}
export const lsaKey = (l: Lsa): LsaKey => ({ type: l.type, id: formatIpv4(l.id), adv: formatIpv4(l.adv) });

const linkWords = {
  'point-to-point': 'point-to-point-link',
  transit: 'transit-network-link',
  stub: 'stub-network-link',
  virtual: 'virtual-link',
} as const;

const topology = (entry: Record<string, unknown>): Record<string, unknown> => ({ topologies: { topology: [{ 'mt-id': 0, ...entry }] } });

function bitWords(b: RouterBits): string[] {
  return [...(b.b ? ['abr-bit'] : []), ...(b.e ? ['asbr-bit'] : []), ...(b.v ? ['vlink-end-bit'] : []), ...(b.nt ? ['nssa-bit'] : [])];
}

/** The body in the field names of RFC 9129's database tree. */
export function lsaBody(l: Lsa): Record<string, unknown> {
  switch (l.type) {
    case 1:
      return {
        router: {
          'router-bits': { 'rtr-lsa-bits': bitWords(l.bits) },
          'num-of-links': l.links.length,
          links: {
            link: l.links.map((k) => ({
              'link-id': formatIpv4(k.id),
              'link-data': formatIpv4(k.data),
              type: linkWords[k.kind],
              ...topology({ metric: k.metric }),
            })),
          },
        },
      };
    case 2:
      return {
        network: {
          'network-mask': formatIpv4(maskOf(l.length)),
          'attached-routers': { 'attached-router': l.routers.map(formatIpv4) },
        },
      };
    case 3:
    case 4:
      return { summary: { 'network-mask': formatIpv4(l.type === 4 ? 0 : maskOf(l.length)), ...topology({ metric: l.metric }) } };
    case 5:
    case 7:
      return {
        external: {
          'network-mask': formatIpv4(maskOf(l.length)),
          ...topology({
            flags: l.metricType === 'type-2' ? ['e-bit'] : [],
            metric: l.metric,
            'forwarding-address': formatIpv4(l.forwarding),
            'external-route-tag': l.tag,
          }),
          ...(l.type === 7 ? { 'p-bit': l.propagate } : {}),
        },
      };
  }
}

/**
 * Link state ids for networks that one router announces with one type (RFC 2328 appendix E): of two that share an
 * address the longer one sets its host bits. Gives the ids in the order of the input.
 */
export function linkStateIds(networks: readonly Ipv4Prefix[]): Ipv4[] {
  const shortest = new Map<Ipv4, number>();
  for (const n of networks) shortest.set(n.bits, Math.min(shortest.get(n.bits) ?? 33, n.length));
  return networks.map((n) => (n.length === shortest.get(n.bits) ? n.bits : (n.bits | ~maskOf(n.length)) >>> 0));
}
