'use client';

import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import { refer } from '../model/comparing';
import { useStore, type Reference } from '../model/state';
import { keptDesigns, versionsOf, type DesignRow, type VersionRow } from '../model/kept-designs';

const item = 'cursor-pointer rounded px-3 py-1.5 outline-none data-[highlighted]:bg-paper';

/** Picks what "now" is compared with, in every stage: the one control for it, always in the same place. */
export function CompareControl() {
  const reference = useStore((s) => s.reference);
  const id = useStore((s) => s.design?.id);
  const parent = useStore((s) => s.design?.variantOf);
  const steps = useStore((s) => s.design?.position ?? 0);
  const [versions, setVersions] = useState<readonly VersionRow[]>([]);
  const [designs, setDesigns] = useState<readonly DesignRow[]>([]);
  const look = (opening: boolean): void => {
    if (!opening || id === undefined) return;
    const own = [id, ...(parent === undefined ? [] : [parent])];
    void Promise.all(own.map(versionsOf)).then((lists) => setVersions(lists.flat()));
    void keptDesigns().then((list) => setDesigns(list.filter((d) => d.id !== id).slice(0, 12)));
  };
  const choose = (r: Reference | undefined) => (): void => void refer(r);
  return (
    <DropdownMenu.Root modal={false} onOpenChange={look}>
      <DropdownMenu.Trigger
        className={`control max-w-[310px] ${reference ? 'border-ink' : ''}`}
        aria-label="Compared with"
        title="What “now” is compared with"
      >
        <span className="block truncate">{reference ? `Compared with ${reference.name}` : 'Compare with…'}</span>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-40 max-h-[80vh] w-72 overflow-y-auto rounded border border-rule bg-sheet p-1 shadow-lg"
        >
          <DropdownMenu.Item className={item} onSelect={choose(undefined)}>
            Nothing
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className={`${item} data-[disabled]:text-ink3`}
            disabled={steps === 0}
            onSelect={choose({ kind: 'last-change', id: 'last-change', name: 'the state before the last change' })}
          >
            Before the last change
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={choose({ kind: 'opened', id: 'opened', name: 'the state it was opened in' })}>
            As it was opened
          </DropdownMenu.Item>
          {versions.length > 0 && (
            <>
              <DropdownMenu.Separator className="my-1 h-px bg-fine" />
              <DropdownMenu.Label className="heading px-3 pt-1.5 pb-0.5">Versions</DropdownMenu.Label>
              {versions.map((v) => (
                <DropdownMenu.Item key={v.id} className={item} onSelect={choose({ kind: 'version', id: v.id, name: v.name })}>
                  {v.name}
                </DropdownMenu.Item>
              ))}
            </>
          )}
          {designs.length > 0 && (
            <>
              <DropdownMenu.Separator className="my-1 h-px bg-fine" />
              <DropdownMenu.Label className="heading px-3 pt-1.5 pb-0.5">Other designs</DropdownMenu.Label>
              {designs.map((d) => (
                <DropdownMenu.Item key={d.id} className={item} onSelect={choose({ kind: 'design', id: d.id, name: d.name })}>
                  {d.name}
                </DropdownMenu.Item>
              ))}
            </>
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
