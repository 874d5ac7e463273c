import { prefixNumber } from '@gentle-compass/core/documents/leaf-types';
import { formatAddress, holds, parseAddress } from '@gentle-compass/core/prefix/address';
import type { DesignView } from '../model/view';
import { areaName, listWords } from '../parts/words';

/** Something that a search of the map found. */
export type Found = { readonly words: string; readonly about: string } & (
  | { readonly kind: 'router'; readonly router: string }
  | { readonly kind: 'segment'; readonly segment: number; readonly routers: readonly string[] }
  | { readonly kind: 'area'; readonly area: string }
);

const lies = (address: number, subnet: string): boolean => {
  const p = prefixNumber.read(subnet);
  return p !== undefined && holds(p, address);
};

/**
 * Routers by name, router id or address, areas by number, links and LANs by name or subnet. A whole address finds who has
 * it, and the subnet that it lies in. At most twelve, names that begin with the text first.
 */
export function findOnMap(view: Pick<DesignView, 'routers' | 'segments' | 'areas'>, text: string): Found[] {
  const t = text.trim().toLowerCase();
  if (t === '') return [];
  const ip = parseAddress(t);
  const area = view.areas.flatMap((a): Found[] =>
    `${areaName(a.id)} ${a.name}`.toLowerCase().includes(t) || a.id === t
      ? [{ kind: 'area', area: a.id, words: areaName(a.id), about: `${a.name === '' ? '' : `${a.name}, `}${a.routers.length} routers` }]
      : [],
  );
  const routers = view.routers.flatMap((r): (Found & { first: boolean })[] => {
    const own = r.interfaces.find((i) => i.addresses.some((a) => (ip === undefined ? a.startsWith(t) : a.split('/')[0] === formatAddress(ip))));
    const name = r.name.toLowerCase();
    if (!name.includes(t) && r.routerId !== t && !(own && /^[\d:]|^[\da-f]+:/.test(t))) return [];
    const about = name.includes(t) ? (r.routerId ?? '') : own ? `${own.name} ${own.addresses[0] ?? ''}` : `router id ${t}`;
    return [{ kind: 'router', router: r.name, words: r.name, about, first: name.startsWith(t) }];
  });
  const segments = view.segments.flatMap((s): Found[] => {
    const names = s.members.map((m) => m.router);
    const lan = s.kind === 'lan' ? (s.members[0]?.iface ?? '') : '';
    const fits = s.subnets.some((p) => p.startsWith(t) || (ip !== undefined && lies(ip, p))) || (lan !== '' && lan.toLowerCase().includes(t));
    return fits
      ? [
          {
            kind: 'segment',
            segment: s.index,
            routers: names,
            words: lan === '' ? names.join(' – ') : `LAN ${lan} of ${listWords(names.slice(0, 3))}`,
            about: s.subnets[0] ?? '',
          },
        ]
      : [];
  });
  return [...area, ...routers.filter((r) => r.first), ...routers.filter((r) => !r.first), ...segments].slice(0, 12);
}
