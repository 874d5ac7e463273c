'use client';

import { families } from '@gentle-compass/core/design/family';
import { lookAt } from '../model/families';
import { useStore } from '../model/state';

/** Says which family is looked at, everywhere and always in the same place; there where a design speaks both. */
export function FamilySwitch() {
  const shown = useStore((s) => s.view?.family ?? 4);
  const both = useStore((s) => (s.view?.families.length ?? 1) > 1);
  if (!both) return null;
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
