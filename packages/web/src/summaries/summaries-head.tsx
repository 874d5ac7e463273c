'use client';

import type { ReactNode } from 'react';
import type { SummaryPart } from '../model/address';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { StageHead } from '../parts/stage-head';

const partWords: Record<SummaryPart, string> = {
  ruler: 'Areas',
  outside: 'Outside',
  cost: 'What they hide',
  dangers: 'Dangers',
};

/** The head of every view of this stage: its name, the way to the others, and what is particular to it. */
export function SummariesHead({ children }: { readonly children?: ReactNode }) {
  const part = useStore((s) => s.part);
  return (
    <StageHead title="Summaries" label="What of the summaries" views={partWords} chosen={part} onChoose={(to) => go({ part: to })}>
      {children}
    </StageHead>
  );
}
