import { formatAddress, isSix } from '../prefix/address';
import { maskOf } from '../prefix/ipv4';
import { networkKey, type RouterBits, type RouterLsa } from './router-links';
import type { ExternalLsa, LinkLsa, Lsa, NetworkLsa } from './lsa';

/** What names an advertisement within its scope (RFC 2328 §12.1). */
export interface LsaKey {
  readonly type: number;
  readonly id: string;
  readonly adv: string;
}

/** Whole LS types of version 3 (RFC 5340 A.4.2.1): function code, scope, and what to do with an unknown one. */
const wholeTypes = { 1: 0x2001, 2: 0x2002, 3: 0x2003, 4: 0x2004, 5: 0x4005, 7: 0x2007, 8: 0x0008, 9: 0x2009 } as const;

/** Whether an advertisement is one of version 3. */
function isThree(l: Lsa | LinkLsa): boolean {
  switch (l.type) {
    case 1:
      return l.columns.six;
    case 2:
      return l.prefixes !== undefined;
    case 3:
    case 5:
    case 7:
      return isSix(l.bits);
    case 4:
      return l.three === true;
    case 8:
    case 9:
      return true;
  }
}

export const lsaKey = (l: Lsa | LinkLsa): LsaKey => ({
  type: isThree(l) ? wholeTypes[l.type] : l.type,
  id: formatAddress(l.id),
  adv: formatAddress(l.adv),
});

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
export const lsaBody = (l: Lsa | LinkLsa): Record<string, unknown> => (isThree(l) ? bodyOfThree(l) : bodyOfTwo(l));

type Body = Record<string, unknown>;

function bodyOfTwo(l: Lsa | LinkLsa): Body {
  switch (l.type) {
    case 1:
      return {
        router: {
          'router-bits': { 'rtr-lsa-bits': bitWords(l.bits) },
          'num-of-links': l.links.length,
          links: {
            link: l.links.map((k) => ({
              'link-id': formatAddress(k.id),
              'link-data': formatAddress(k.data),
              type: linkWords[k.kind],
              ...topology({ metric: k.metric }),
            })),
          },
        },
      };
    case 2:
      return {
        network: {
          'network-mask': formatAddress(maskOf(l.length)),
          'attached-routers': { 'attached-router': l.routers.map(formatAddress) },
        },
      };
    case 3:
    case 4:
      return { summary: { 'network-mask': formatAddress(l.type === 4 ? 0 : maskOf(l.length)), ...topology({ metric: l.metric }) } };
    case 5:
    case 7:
      return {
        external: {
          'network-mask': formatAddress(maskOf(l.length)),
          ...topology({
            flags: l.metricType === 'type-2' ? ['e-bit'] : [],
            metric: l.metric,
            'forwarding-address': formatAddress(l.forwarding),
            'external-route-tag': l.tag,
          }),
          ...(l.type === 7 ? { 'p-bit': l.propagate } : {}),
        },
      };
    case 8:
    case 9:
      return {};
  }
}

const linkTypes = { 'point-to-point': 'point-to-point-link', transit: 'transit-network-link', virtual: 'virtual-link' } as const;

/** Number of an interface out of two that stand in one field. */
const halves = (data: number): { readonly own: number; readonly peer: number } => ({ own: data >>> 16, peer: data & 0xffff });

/** Links as the router-LSA of version 3 has them: prefixes are none (RFC 5340 A.4.3). */
function linksOfThree(l: RouterLsa): Body[] {
  return l.links.flatMap((k): Body[] => {
    if (k.kind === 'stub') return [];
    const { own, peer } = halves(k.data);
    const transit = k.kind === 'transit';
    const router = transit ? Math.floor(k.id / networkKey(1, 0)) : k.id;
    return [
      {
        'interface-id': own,
        'neighbor-interface-id': transit ? k.id % networkKey(1, 0) : peer,
        'neighbor-router-id': formatAddress(router),
        type: linkTypes[k.kind],
        metric: k.metric,
      },
    ];
  });
}

const reference = (l: RouterLsa | NetworkLsa): Body => ({
  'referenced-ls-type': wholeTypes[l.type],
  'referenced-link-state-id': formatAddress(l.id),
  'referenced-adv-router': formatAddress(l.adv),
});

const prefixText = (p: { readonly bits: number; readonly length: number }): string => `${formatAddress(p.bits)}/${p.length}`;

/** Of version 3: RFC 5340 A.4.3 to A.4.10 in the names of RFC 9129. */
function bodyOfThree(l: Lsa | LinkLsa): Body {
  switch (l.type) {
    case 1:
      return { router: { 'router-bits': { 'rtr-lsa-bits': bitWords(l.bits) }, links: { link: linksOfThree(l) } } };
    case 2:
      return { network: { 'attached-routers': { 'attached-router': l.routers.map(formatAddress) } } };
    case 3:
      return { 'inter-area-prefix': { metric: l.metric, prefix: prefixText(l), 'prefix-options': {} } };
    case 4:
      return { 'inter-area-router': { metric: l.metric, 'destination-router-id': formatAddress(l.bits) } };
    case 5:
      return { 'as-external': externalOfThree(l) };
    case 7:
      return { nssa: { 'lsa-nssa-external': externalOfThree(l), 'p-bit': l.propagate } };
    case 8:
      return {
        link: {
          'rtr-priority': l.priority,
          'link-local-interface-address': formatAddress(l.linkLocal),
          'num-of-prefixes': l.prefixes.length,
          prefixes: { prefix: l.prefixes.map((p) => ({ prefix: prefixText(p) })) },
        },
      };
    case 9:
      return {
        'intra-area-prefix': {
          ...reference(l.of),
          'num-of-prefixes': l.prefixes.length,
          prefixes: {
            prefix: l.prefixes.map((p) => ({
              prefix: prefixText(p),
              'prefix-options': { 'prefix-option-bits': p.length === 128 && p.metric === 0 ? ['la-bit'] : [] },
              metric: p.metric,
            })),
          },
        },
      };
  }
}

function externalOfThree(l: ExternalLsa): Body {
  return {
    metric: l.metric,
    flags: [...(l.metricType === 'type-2' ? ['e-bit'] : []), ...(l.forwarding === 0 ? [] : ['f-bit']), ...(l.tag === 0 ? [] : ['t-bit'])],
    prefix: prefixText(l),
    ...(l.forwarding === 0 ? {} : { 'forwarding-address': formatAddress(l.forwarding) }),
    ...(l.tag === 0 ? {} : { 'external-route-tag': l.tag }),
  };
}
