'use client';

import type { ReactNode } from 'react';
import { routeLooks, type RouteLook } from '../model/address';
import { go } from '../model/moving';
import { useStore } from '../model/state';

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
export function RoutesHead({ title = 'Routes', children }: { readonly title?: string; readonly children?: ReactNode }) {
  const look = useStore((s) => s.look);
  return (
    <header className="flex flex-wrap items-center gap-x-3 gap-y-2 px-4 pt-3 pb-2">
      <h1 className="text-xl whitespace-nowrap">{title}</h1>
      <span className="flex flex-wrap gap-1" role="group" aria-label="What of the routes">
        {routeLooks.map((s) => (
          <button key={s} type="button" className="control" aria-pressed={s === look} onClick={() => go({ look: s })}>
            {lookWords[s]}
          </button>
        ))}
      </span>
      {children}
    </header>
  );
}
