'use client';

import type { ReactNode } from 'react';
import type { AreaShow } from '../model/address';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { StageHead } from '../parts/stage-head';

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
    <StageHead title="Areas" label="What of the areas" views={showWords} chosen={show} onChoose={(to) => go({ show: to })}>
      {children}
    </StageHead>
  );
}
