'use client';

import type { Absence, Said as SaidPart } from '@gentle-compass/core/areas/absence';
import { formatAddress } from '@gentle-compass/core/prefix/address';
import { go } from '../model/moving';
import { useAreaInWords } from '../parts/area-name';
import { stepTo } from './steps';

/** A sentence with each value in it a link. */
export function Said({ said }: { readonly said: readonly SaidPart[] }) {
  const area = useAreaInWords();
  return said.map((x, n) => {
    if (typeof x === 'string') return <span key={n}>{x}</span>;
    if ('iface' in x)
      return (
        <button key={n} type="button" className="link" onClick={() => go({ stage: 'layout', router: x.router, segment: undefined })}>
          {x.router}/{x.iface}
        </button>
      );
    if ('prefix' in x)
      return (
        <button key={n} type="button" className="link font-mono text-xs" onClick={() => stepTo({ router: x.at, prefix: x.prefix })}>
          {x.prefix}
        </button>
      );
    if ('area' in x)
      return (
        <button key={n} type="button" className="link" onClick={() => go({ stage: 'areas', show: 'glance', area: x.area })}>
          {area(formatAddress(x.area))}
        </button>
      );
    return (
      <button key={n} type="button" className="link" onClick={() => go({ look: 'tables', stage: 'routes', router: x.router, prefix: undefined })}>
        {x.router}
      </button>
    );
  });
}

/** Why a router has no route, reason by reason, and what takes packets in its place. */
export function WhyAbsent({ absence }: { readonly absence: Absence }) {
  return (
    <>
      <ul className="space-y-1.5">
        {absence.reasons.map((r, n) => (
          <li key={n}>
            <Said said={r.said} /> {r.rfc !== '' && <span className="whitespace-nowrap text-ink2">{r.rfc}</span>}
          </li>
        ))}
      </ul>
      <p className="mt-1.5 text-ink2">
        {absence.instead ? (
          <>
            Packets to it take{' '}
            <button
              type="button"
              className="link font-mono text-xs"
              onClick={() => stepTo({ router: absence.router, prefix: absence.instead?.prefix })}
            >
              {absence.instead.prefix}
            </button>{' '}
            ({absence.instead.source === 'ospf-discard' ? 'a discard route: dropped' : absence.instead.source}) instead.
          </>
        ) : (
          'No other line holds it: packets to it are dropped.'
        )}
      </p>
    </>
  );
}
