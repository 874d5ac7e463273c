'use client';

import { families } from '@gentle-compass/core/design/family';
import { lookAt } from '../model/families';
import { openEntry } from '../model/panes';
import { useStore } from '../model/state';

/** Says which family is looked at, everywhere and always in the same place; where a design speaks one, the way to the other. */
export function FamilySwitch() {
  const shown = useStore((s) => s.view?.family ?? 4);
  const both = useStore((s) => (s.view?.families.length ?? 1) > 1);
  const some = useStore((s) => (s.view?.routers.length ?? 0) > 0);
  if (!both)
    return some ? (
      <button
        type="button"
        className="control"
        title="Give every router IPv6 and OSPFv3 like its OSPFv2: you type the prefix of the site, and see what comes of it first"
        onClick={() => openEntry('ipv6 ')}
      >
        Add IPv6…
      </button>
    ) : null;
  return (
    <div role="group" aria-label="Family that is looked at" className="flex">
      {families.map((f) => (
        <button
          key={f}
          type="button"
          className="control first:rounded-r-none last:-ml-px last:rounded-l-none"
          aria-pressed={f === shown}
          title={
            f === 6
              ? 'Look at IPv6: OSPFv3, its neighbours, tables and failures ( v )'
              : 'Look at IPv4: OSPFv2, its neighbours, tables and failures ( v )'
          }
          onClick={() => void lookAt(f)}
        >
          IPv{f}
        </button>
      ))}
    </div>
  );
}
