'use client';

import type { ReactNode } from 'react';
import { areaShows, type AreaShow } from '../model/address';
import { go } from '../model/moving';
import { useStore } from '../model/state';

const showWords: Record<AreaShow, string> = {
  glance: 'At a glance',
  types: 'Another type',
  databases: 'Databases',
  reach: 'How far it goes',
  outside: 'From outside',
  filters: 'Filters',
};

/** The head of every view of this stage: its name, the way to the others, and what is particular to it. */
export function AreasHead({ children }: { readonly children?: ReactNode }) {
  const show = useStore((s) => s.show);
  return (
    <header className="flex flex-wrap items-center gap-x-3 gap-y-2 px-4 pt-3 pb-2">
      <h1 className="text-xl">Areas</h1>
      <span className="flex gap-1" role="group" aria-label="What of the areas">
        {areaShows.map((s) => (
          <button key={s} type="button" className="control" aria-pressed={s === show} onClick={() => go({ show: s })}>
            {showWords[s]}
          </button>
        ))}
      </span>
      {children}
    </header>
  );
}
