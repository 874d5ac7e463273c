'use client';

import { Dialog } from 'radix-ui';
import { useState } from 'react';
import { refer } from '../model/comparing';
import { deleteDesign, keptDesigns, type DesignRow } from '../model/kept-designs';
import { openKept, openVariant, renameDesign } from '../model/session';
import { useStore } from '../model/state';
import { useAnswer } from '../parts/use-answer';
import { count } from '../parts/words';
import { ReturnFocus } from '../parts/return-focus';

const moment = (ms: number): string => new Date(ms).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });

function Summary({ d }: { readonly d: DesignRow }) {
  const s = d.summary;
  if (!s) return <span className="text-ink2">{count(d.files.length, 'document')}, not predicted yet</span>;
  return (
    <span className="text-ink2">
      {count(s.routers, 'router')}, {count(s.areas, 'area')}
      {s.routes !== null && `, ${count(s.routes, 'route')}`},{' '}
      {s.errors > 0 ? <span className="text-accent">{count(s.errors, 'error')}</span> : 'no errors'}
      {s.warnings > 0 && `, ${count(s.warnings, 'warning')}`}
    </span>
  );
}

/** Everything that this browser keeps, with the last prediction of each: open, compare, rename, duplicate, delete. */
export function ShelfDialog({ open, onDone }: { readonly open: boolean; readonly onDone: () => void }) {
  const id = useStore((s) => s.design?.id);
  const name = useStore((s) => s.design?.name ?? '');
  const [turn, setTurn] = useState(0);
  const [sure, setSure] = useState<string | undefined>(undefined);
  const [title, setTitle] = useState<string | undefined>(undefined);
  const list = useAnswer<readonly DesignRow[]>(() => (open ? keptDesigns() : Promise.resolve([])), [open, turn, id, name]);
  const nameOf = (other: string | undefined): string => list?.find((d) => d.id === other)?.name ?? 'a design that is gone';
  return (
    <Dialog.Root
      open={open}
      onOpenChange={(o) => {
        if (!o) onDone();
      }}
    >
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content className="fixed top-16 left-1/2 z-50 flex max-h-[82vh] w-[760px] max-w-[94vw] -translate-x-1/2 flex-col rounded border border-rule bg-sheet p-5 shadow-lg">
          <ReturnFocus />
          <Dialog.Title className="text-xl">The shelf</Dialog.Title>
          <Dialog.Description className="text-ink2">
            Designs that this browser keeps, the latest first. Nothing leaves the browser unless you export it.
          </Dialog.Description>
          <form
            className="mt-3 flex gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              const wanted = (title ?? '').trim();
              if (wanted === '') return;
              setTitle(undefined);
              void openVariant(wanted).then(onDone);
            }}
          >
            <input
              className="field grow"
              aria-label="Name of the variant"
              placeholder={`A variant of ${name}: its name`}
              value={title ?? ''}
              onChange={(e) => setTitle(e.target.value)}
            />
            <button type="submit" className="control" disabled={(title ?? '').trim() === ''}>
              Duplicate as variant
            </button>
            <button
              type="button"
              className="control"
              disabled={(title ?? '').trim() === ''}
              onClick={() => {
                void renameDesign(title ?? '').then(() => {
                  setTitle(undefined);
                  setTurn(turn + 1);
                });
              }}
            >
              Rename the open one
            </button>
          </form>
          <ul className="mt-3 min-h-0 grow overflow-y-auto border-t border-rule" aria-label="Kept designs">
            {(list ?? []).map((d) => (
              <li key={d.id} className="flex items-start gap-3 border-b border-fine py-2">
                <div className="min-w-0 grow">
                  <p className="truncate font-semibold">{d.name}</p>
                  <p>
                    <Summary d={d} />
                  </p>
                  <p className="text-ink2">
                    changed {moment(d.updated)}
                    {d.variantOf !== undefined && `, a variant of ${nameOf(d.variantOf)}`}
                  </p>
                </div>
                {d.id === id ? (
                  <span className="pt-1 font-semibold">open</span>
                ) : (
                  <span className="flex gap-1.5">
                    <button type="button" className="control" aria-label={`Open ${d.name}`} onClick={() => void openKept(d.id).then(onDone)}>
                      Open
                    </button>
                    <button
                      type="button"
                      className="control"
                      aria-label={`Compare with ${d.name}`}
                      onClick={() => void refer({ kind: 'design', id: d.id, name: d.name }).then(onDone)}
                    >
                      Compare
                    </button>
                    <button
                      type="button"
                      className="control"
                      aria-label={sure === d.id ? `Really delete ${d.name}` : `Delete ${d.name}`}
                      onClick={() => {
                        if (sure !== d.id) setSure(d.id);
                        else void deleteDesign(d.id).then(() => setTurn(turn + 1));
                      }}
                    >
                      {sure === d.id ? 'Really delete' : 'Delete'}
                    </button>
                  </span>
                )}
              </li>
            ))}
          </ul>
          <Dialog.Close className="control mt-3 self-end">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
