'use client';

import type { ReactNode } from 'react';
import type { Meeting } from '../model/address';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { StageHead } from '../parts/stage-head';

const meetWords: Record<Meeting, string> = {
  pairs: 'Pairs',
  leading: 'Who leads',
  part: 'Who takes part',
  keys: 'Keys',
  alike: 'Alike',
  costs: 'Costs',
};

/** The head of every view of this stage: its name, the way to the others, and what is particular to it. */
export function NeighboursHead({ children }: { readonly children?: ReactNode }) {
  const meet = useStore((s) => s.meet);
  return (
    <StageHead title="Neighbours" label="What of the neighbours" views={meetWords} chosen={meet} onChoose={(to) => go({ meet: to })}>
      {children}
    </StageHead>
  );
}
