'use client';

import { useState } from 'react';
import { go } from '../model/moving';
import { workbench } from '../worker/client';

/** Names two ends whose packets are followed. */
export function Follow({ known }: { readonly known: readonly string[] }) {
  const [from, setFrom] = useState('');
  const [to, setTo] = useState('');
  const [fault, setFault] = useState<string>();
  const add = async (): Promise<void> => {
    const ends = [from.trim(), to.trim()];
    const said = await Promise.all(ends.map((e) => workbench().timing.end(e)));
    const wrong = said.find((s) => 'fault' in s);
    setFault(wrong && 'fault' in wrong ? wrong.fault : undefined);
    if (wrong) return;
    go({ watch: [...new Set([...known, ends.join(' ')])] });
    setFrom('');
    setTo('');
  };
  return (
    <>
      <form
        className="mt-1.5 flex gap-1.5"
        onSubmit={(e) => {
          e.preventDefault();
          void add();
        }}
      >
        <input
          className="field w-0 min-w-0 flex-1"
          aria-label="Follow packets from"
          placeholder="from"
          value={from}
          onChange={(e) => setFrom(e.target.value)}
        />
        <input
          className="field w-0 min-w-0 flex-1"
          aria-label="Follow packets to"
          placeholder="to"
          value={to}
          onChange={(e) => setTo(e.target.value)}
        />
        <button type="submit" className="control" disabled={from.trim() === '' || to.trim() === ''}>
          Follow
        </button>
      </form>
      {fault !== undefined && (
        <p className="mt-1 text-accent" role="alert">
          {fault}
        </p>
      )}
    </>
  );
}
