'use client';

import type { ReactNode } from 'react';
import type { RouteLook } from '../model/address';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { StageHead } from '../parts/stage-head';

const lookWords: Record<RouteLook, string> = {
  tables: 'Tables',
  beside: 'Side by side',
  prefix: 'One prefix',
  tree: 'Tree',
  trace: 'Trace',
  matrix: 'Matrix',
  expected: 'Expected',
};

/** What is down, in the head of a view that tells of the network with it down. */
export function WhatIsDown() {
  const failure = useStore((s) => s.failure);
  return failure ? <span className="min-w-0 truncate text-accent">with {failure.fail.join(', ')} down</span> : null;
}

/** The head of every view of this stage: its name, the way to the others, and what is particular to it. */
export function RoutesHead({ children }: { readonly children?: ReactNode }) {
  const look = useStore((s) => s.look);
  return (
    <StageHead title="Routes" label="What of the routes" views={lookWords} chosen={look} onChoose={(to) => go({ look: to })}>
      {children}
    </StageHead>
  );
}
