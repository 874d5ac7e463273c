import type { Lsa } from '../lsdb/lsa';
import { lsaKey } from '../lsdb/lsa-body';
import { formatAddress, formatPrefix, prefixOf, type Prefix } from '../prefix/address';
import { lengthOfMask } from '../prefix/ipv4';
import { prefixBook } from '../prefix/prefix-book';
import type { Prediction } from '../predict';

const ofTwo: Readonly<Record<number, string>> = {
  1: 'router',
  2: 'network',
  3: 'summary, network',
  4: 'summary, boundary router',
  5: 'AS-external',
  7: 'NSSA',
};
const ofThree: Readonly<Record<number, string>> = {
  0x2001: 'router',
  0x2002: 'network',
  0x2003: 'inter-area-prefix',
  0x2004: 'inter-area-router',
  0x4005: 'AS-external',
  0x2007: 'NSSA',
  0x2009: 'intra-area-prefix',
};

/** How an advertisement's type is written: a number of RFC 2328, or the whole LS type of RFC 5340 in hexadecimal. */
export const typeText = (type: number): string => (type > 11 ? `0x${type.toString(16).padStart(4, '0')}` : String(type));

/** The name of an LS type in the words of RFC 2328 A.4, RFC 3101 and RFC 5340 A.4. */
export const typeName = (type: number): string => (type > 11 ? ofThree : ofTwo)[type] ?? 'unknown';

/** Prefixes that an advertisement brings or describes; none where it is about links or routers alone. */
export function prefixesOf(lsa: Lsa): readonly Prefix[] {
  switch (lsa.type) {
    case 1:
      if (lsa.columns.six) return [];
      return lsa.links.flatMap((l) => (l.kind === 'stub' ? [{ bits: l.id, length: lengthOfMask(l.data) ?? 32 }] : []));
    case 2:
      return lsa.prefixes !== undefined ? [] : [prefixOf(lsa.id, lsa.length)];
    case 4:
      return [];
    case 3:
    case 5:
    case 7:
      return [{ bits: lsa.bits, length: lsa.length }];
    case 9:
      return lsa.prefixes;
  }
}

const plural = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`;

/** Host name of the router with an id; the id itself where no router of the design has it. */
export function routerNamed(p: Prediction, id: number): string {
  return p.adjacencies.speakers.find((s) => s.routerId === id)?.router.name ?? formatAddress(id);
}

/** What an advertisement says, in one line. */
export function saysWhat(p: Prediction, lsa: Lsa): string {
  switch (lsa.type) {
    case 1: {
      const stubs = lsa.columns.six ? 0 : lsa.links.filter((l) => l.kind === 'stub').length;
      const links = lsa.links.filter((l) => l.kind !== 'stub').length;
      const roles = [lsa.bits.b ? 'border router' : '', lsa.bits.e ? 'boundary router' : '', lsa.bits.v ? 'end of a virtual link' : ''].filter(
        Boolean,
      );
      return [plural(links, 'link'), ...(lsa.columns.six ? [] : [plural(stubs, 'stub network')]), ...roles].join(', ');
    }
    case 2: {
      const on = lsa.prefixes === undefined ? formatPrefix(prefixOf(lsa.id, lsa.length)) : lsa.prefixes.map((x) => prefixBook.text(x)).join(', ');
      return `${on === '' ? lsa.port.iface.name : on}, ${plural(lsa.routers.length, 'router')} on it`;
    }
    case 3:
      return `${formatPrefix(lsa)}${lsa.parts ? `, folds ${lsa.parts.length}` : ''}`;
    case 4:
      return `the way to ${routerNamed(p, lsa.bits)}`;
    case 5:
    case 7:
      return `${formatPrefix(lsa)}, ${lsa.metricType}${lsa.tag > 0 ? `, tag ${lsa.tag}` : ''}`;
    case 9: {
      const [first, ...more] = lsa.prefixes;
      return `${first ? formatPrefix(first) : 'none'}${more.length > 0 ? ` and ${more.length} more` : ''}`;
    }
  }
}

/** The metric that it carries, where it carries one. */
export const metricOf = (lsa: Lsa): number | undefined =>
  lsa.type === 3 || lsa.type === 4 || lsa.type === 5 || lsa.type === 7 ? lsa.metric : undefined;

/** The same for its whole type. */
export const typeOf = (lsa: Lsa): number => lsaKey(lsa).type;
