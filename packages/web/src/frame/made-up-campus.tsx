'use client';

import { Dialog } from 'radix-ui';
import { useState } from 'react';
import { openGenerated } from '../model/session';
import { ReturnFocus } from '../parts/return-focus';

const fields = [
  { id: 'routers', label: 'Routers', hint: 'in all' },
  { id: 'areas', label: 'Areas', hint: 'beside the backbone' },
  { id: 'seed', label: 'Seed', hint: 'same numbers, same campus' },
] as const;

/** Asks for the size of a made-up campus, and opens it. */
export function MadeUpCampus({ open, onDone }: { readonly open: boolean; readonly onDone: () => void }) {
  const [size, setSize] = useState({ routers: '60', areas: '5', seed: '1' });
  const [why, setWhy] = useState<string | undefined>(undefined);
  const bad = fields.find((f) => !/^\d{1,9}$/.test(size[f.id]));
  const make = (): void => {
    if (bad) return;
    void openGenerated({ routers: Number(size.routers), areas: Number(size.areas), seed: Number(size.seed) }).then((reason) => {
      setWhy(reason);
      if (reason === undefined) onDone();
    });
  };
  return (
    <Dialog.Root open={open} onOpenChange={(o) => (o ? undefined : onDone())}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content className="fixed top-24 left-1/2 z-50 w-[460px] max-w-[92vw] -translate-x-1/2 rounded border border-rule bg-sheet p-5 shadow-lg">
          <ReturnFocus />
          <Dialog.Title className="text-xl">A made-up campus</Dialog.Title>
          <Dialog.Description className="mt-1 text-ink2">
            Areas of mixed types with two border routers each, access routers with two uplinks, LANs, summaries and exits.
          </Dialog.Description>
          <form
            className="mt-4"
            onSubmit={(e) => {
              e.preventDefault();
              make();
            }}
          >
            {fields.map((f) => (
              <label key={f.id} className="mt-2 flex items-baseline gap-3">
                <span className="w-20">{f.label}</span>
                <input
                  inputMode="numeric"
                  value={size[f.id]}
                  onChange={(e) => setSize({ ...size, [f.id]: e.target.value.trim() })}
                  onKeyDown={(e) => e.stopPropagation()}
                  className="w-24 rounded border border-rule bg-sheet px-2 py-1 text-right font-mono"
                />
                <span className="text-ink2">{f.hint}</span>
              </label>
            ))}
            <p role="status" className="mt-3 min-h-5 text-accent">
              {bad ? `${bad.label}: write a whole number.` : why}
            </p>
            <div className="mt-2 flex gap-2">
              <button type="submit" className="control" data-main disabled={bad !== undefined}>
                Make and open it
              </button>
              <button type="button" className="control" onClick={onDone}>
                Leave it
              </button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
