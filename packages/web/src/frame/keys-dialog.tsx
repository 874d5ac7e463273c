'use client';

import { Dialog } from 'radix-ui';
import { stages } from '../model/address';
import { openKeys } from '../model/panes';
import { useStore } from '../model/state';
import { ReturnFocus } from '../parts/return-focus';

/** Every key, by where it counts. */
const keys: readonly { readonly where: string; readonly list: readonly (readonly [string, string])[] }[] = [
  {
    where: 'Everywhere',
    list: [
      ['/', 'type a change'],
      [`1 … ${stages.length}`, 'go to a stage'],
      ['v', 'look at the other family, where there are two'],
      ['Ctrl Z', 'undo'],
      ['Ctrl Shift Z', 'redo'],
      ['?', 'this list'],
    ],
  },
  {
    where: 'Typing a change',
    list: [
      ['Tab', 'take the word that is offered'],
      ['↑ ↓', 'choose a word; in an empty line earlier lines'],
      ['Enter', 'make the change'],
      ['Esc', 'close'],
    ],
  },
  {
    where: 'On the map',
    list: [
      ['f', 'find a router or an address'],
      ['← ↑ → ↓', 'walk from router to router'],
      ['Shift with arrows', 'move the sheet'],
      ['Alt with arrows', 'move the router'],
      ['+ − 0', 'larger, smaller, fit'],
      ['Enter', 'choose; under Failures take down and bring back'],
    ],
  },
  {
    where: 'On the strip of a reconvergence',
    list: [
      ['← →', 'to the moment before, and to the next one'],
      ['Page Up, Page Down', 'a tenth of the strip on, and back'],
      ['Home, End', 'to the failure, and to the end'],
    ],
  },
  {
    where: 'In tables',
    list: [
      ['arrows, Home, End', 'move; with Shift mark'],
      ['Enter or F2', 'type over a cell'],
      ['Ctrl C, Ctrl V', 'copy, and paste a block'],
      ['Delete', 'clear what is marked'],
    ],
  },
];

/** The list of keys, while it is open. */
export function KeysDialog() {
  const open = useStore((s) => s.keys);
  return (
    <Dialog.Root open={open} onOpenChange={openKeys}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content className="fixed top-16 left-1/2 z-50 max-h-[84vh] w-[680px] max-w-[92vw] -translate-x-1/2 overflow-y-auto rounded border border-rule bg-sheet p-5 shadow-lg">
          <ReturnFocus />
          <Dialog.Title className="text-xl">Keys</Dialog.Title>
          <Dialog.Description className="sr-only">Every key, by where it counts</Dialog.Description>
          <div className="mt-2 grid grid-cols-2 gap-x-8 max-[699px]:grid-cols-1">
            {keys.map(({ where, list }) => (
              <section key={where} className="mt-2">
                <h3 className="heading mb-1">{where}</h3>
                <dl>
                  {list.map(([key, what]) => (
                    <div key={key} className="grid grid-cols-[156px_1fr] gap-2 border-b border-fine py-0.5">
                      <dt className="font-mono text-[12.5px]">{key}</dt>
                      <dd>{what}</dd>
                    </div>
                  ))}
                </dl>
              </section>
            ))}
          </div>
          <Dialog.Close className="control mt-4 ml-auto block" data-main>
            Close
          </Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
