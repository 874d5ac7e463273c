import type { Speaker } from '../adjacency/speakers';
import type { Origin } from '../evidence/route-evidence';
import type { Lsa } from '../lsdb/lsa';
import { lsaBody, lsaKey } from '../lsdb/lsa-body';
import { formatAddress, formatPrefix } from '../prefix/address';
import type { Prediction } from '../predict';
import type { Held } from './held';
import { routerNamed, typeName, typeText } from './lsa-words';

/** One field of an advertisement, in the names of RFC 9129; lists are numbered. */
export interface LsaField {
  readonly name: string;
  readonly value: string;
  readonly depth: number;
}

/** Nodes of the model that say nothing to a reader. */
const silent = new Set(['topologies', 'topology', 'mt-id', 'links', 'prefixes', 'attached-routers']);

function fieldsOf(node: unknown, name: string, depth: number): LsaField[] {
  if (Array.isArray(node)) {
    if (node.every((x) => typeof x !== 'object')) return [{ name, value: node.length === 0 ? 'none' : node.join(', '), depth }];
    // One topology is all there is: its fields stand where it does.
    if (name === 'topology') return node.flatMap((x) => fieldsOf(x, '', depth));
    return node.flatMap((x, n) => [{ name: `${name} ${n + 1}`, value: '', depth }, ...fieldsOf(x, '', depth + 1)]);
  }
  if (typeof node !== 'object' || node === null) return [{ name, value: String(node), depth }];
  return Object.entries(node).flatMap(([k, v]): LsaField[] => {
    if (k === 'mt-id') return [];
    if (typeof v === 'object' && v !== null && !Array.isArray(v)) {
      const inside = fieldsOf(v, k, silent.has(k) ? depth : depth + 1);
      return inside.length === 0 ? [] : silent.has(k) ? inside : [{ name: k, value: '', depth }, ...inside];
    }
    return fieldsOf(v, k, depth);
  });
}

/** An advertisement field by field: what names it, then its body. */
export function lsaFields(p: Prediction, lsa: Lsa): LsaField[] {
  const { type, id, adv } = lsaKey(lsa);
  const [[, body] = ['', {}]] = Object.entries(lsaBody(lsa));
  return [
    { name: 'type', value: `${typeText(type)} ${typeName(type)}`, depth: 0 },
    { name: 'lsa-id', value: id, depth: 0 },
    { name: 'adv-router', value: `${adv} ${routerNamed(p, lsa.adv) === adv ? '' : routerNamed(p, lsa.adv)}`.trim(), depth: 0 },
    ...fieldsOf(body, '', 0),
  ];
}

/** What of the documents makes an advertisement: the interfaces, ranges, redistributions and areas of its originator. */
export function originsOf(p: Prediction, { lsa, area = 0 }: Held): Origin[] {
  const speaker = lsa.type === 2 ? lsa.port.speaker : lsa.speaker;
  const router = p.adjacencies.speakers[speaker]?.router.name ?? '';
  const at = formatAddress(area);
  const ofInterfaces = (names: readonly (string | undefined)[]): Origin[] =>
    [...new Set(names.filter((n) => n !== undefined))].map((iface) => ({ router, iface, area: at, node: 'interface' as const }));
  switch (lsa.type) {
    case 1:
      return ofInterfaces(lsa.links.map((l) => l.port?.iface.name));
    case 2:
      return ofInterfaces([lsa.port.iface.name]);
    case 9:
      return ofInterfaces(lsa.of.type === 2 ? [lsa.of.port.iface.name] : lsa.prefixes.map((x) => x.port?.iface.name));
    case 3:
    case 4:
      return [
        lsa.reason === 'range'
          ? { router, area: formatAddress(lsa.fromArea), node: 'ranges' }
          : { router, area: at, node: lsa.reason === 'stub-default' ? 'area' : 'none' },
      ];
    case 5:
    case 7: {
      const node =
        lsa.reason === 'default'
          ? 'default'
          : lsa.reason === 'nssa-default'
            ? 'area'
            : lsa.reason === 'translated'
              ? 'none'
              : lsa.reason === 'external-range'
                ? 'external-ranges'
                : 'redistribution';
      return [{ router, area: at, node }];
    }
  }
}

/** Prefixes of a router's routes that stand on an advertisement. */
export function routesOn(p: Prediction, s: Speaker, { lsa, area }: Held): string[] {
  const same = (x: Lsa): boolean => x === lsa || (x.type === lsa.type && x.adv === lsa.adv && x.id === lsa.id);
  return [...p.routing.tableOnce(s).values()]
    .filter((r) => (area === undefined || r.area === area || lsa.type === 5 || lsa.type === 7) && r.sources.some(same))
    .map(formatPrefix);
}
