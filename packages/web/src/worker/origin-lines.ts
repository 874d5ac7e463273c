import { runsIn } from '@gentle-compass/core/adjacency/speakers';
import type { DocumentPath } from '@gentle-compass/core/design/design';
import { memberName, valueAt } from '@gentle-compass/core/design/edit';
import { hideKeys } from '@gentle-compass/core/documents/key-digest';
import { Positions } from '@gentle-compass/core/documents/positions';
import type { Origin } from '@gentle-compass/core/evidence/route-evidence';
import { formatAddress } from '@gentle-compass/core/prefix/address';
import type { EvidenceView } from '../model/view';
import type { Held } from './held';

/** The lines of a router document that an advertisement stands on. */
export function linesOf({ now, documents }: Held, origin: Origin): EvidenceView['lines'] {
  const router = now.design.routers.find((r) => r.name === origin.router);
  const document = documents.find((d) => d.file === router?.file);
  const instance = router?.instances.find((o) => runsIn(now.design, o));
  const entry = instance?.areas.find((a) => formatAddress(a.id) === origin.area);
  const below = (name: string): DocumentPath | undefined =>
    instance && document ? [...instance.at, memberName(document.tree, instance.at, name)] : undefined;
  const at = {
    interface: instance?.areas.flatMap((a) => a.interfaces).find((i) => i.name === origin.iface)?.at,
    ranges: entry && [...entry.at, 'ranges'],
    area: entry?.at,
    redistribution: below('redistribution'),
    'external-ranges': below('external-ranges'),
    default: below('default-route'),
    none: undefined,
  }[origin.node];
  if (!document || !router || !at || at.length === 0) return [];
  const place = new Positions(document).at(at);
  if (!place) return [];
  const shown = JSON.stringify(valueAt(document.tree, at), (k, v: unknown) => (k === 'interfaces' ? undefined : hideKeys(k, v)), 1).split('\n');
  return [
    {
      router: router.name,
      file: router.file,
      text: shown.length > 14 ? [...shown.slice(0, 13), ' …'].join('\n') : shown.join('\n'),
      line: place.line,
    },
  ];
}
