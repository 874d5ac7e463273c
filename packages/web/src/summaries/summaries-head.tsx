'use client';

import type { ReactNode } from 'react';
import { summaryParts, type SummaryPart } from '../model/address';
import { go } from '../model/moving';
import { useStore } from '../model/state';

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
    <header className="flex flex-wrap items-center gap-x-3 gap-y-2 px-4 pt-3 pb-2">
      <h1 className="text-xl">Summaries</h1>
      <span className="flex gap-1" role="group" aria-label="What of the summaries">
        {summaryParts.map((s) => (
          <button key={s} type="button" className="control" aria-pressed={s === part} onClick={() => go({ part: s })}>
            {partWords[s]}
          </button>
        ))}
      </span>
      {children}
    </header>
  );
}
