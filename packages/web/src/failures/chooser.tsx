'use client';

import { Popover } from 'radix-ui';
import { useMemo, useState } from 'react';
import type { DesignView } from '../model/view';
import { count } from '../parts/words';
import { breakables } from './breakable';

/** Names in the list at once; all others are found by typing. */
const shownNames = 300;

/** Finds what can fail by a few letters, and takes it down or brings it back. */
export function Chooser({
  view,
  fail,
  onTurn,
}: {
  readonly view: DesignView;
  readonly fail: readonly string[];
  readonly onTurn: (word: string) => void;
}) {
  const [text, setText] = useState('');
  const all = useMemo(() => breakables(view), [view]);
  const shown = all.filter((b) => `${b.name} ${b.about}`.toLowerCase().includes(text.toLowerCase()));
  return (
    <Popover.Root>
      <Popover.Trigger className="control">Take down… ▾</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={4} className="z-40 flex max-h-[70vh] w-80 flex-col rounded border border-rule bg-sheet shadow-lg">
          <div className="p-2">
            <input
              className="field w-full"
              placeholder="link, LAN, leader, router, shared risk"
              aria-label="Narrow what can fail"
              value={text}
              onChange={(e) => setText(e.target.value)}
            />
          </div>
          <ul className="min-h-0 flex-1 overflow-y-auto border-t border-fine py-1" aria-label="What can fail">
            {shown.slice(0, shownNames).map((b) => (
              <li key={b.word}>
                <label className="flex cursor-pointer items-baseline gap-2 px-3 py-[3px] hover:bg-paper">
                  <input
                    type="checkbox"
                    className="translate-y-[2px] accent-(--accent)"
                    checked={fail.includes(b.word)}
                    onChange={() => onTurn(b.word)}
                  />
                  <span className="min-w-0 flex-1 truncate" title={b.name}>
                    {b.name}
                  </span>
                  <span className="max-w-[50%] truncate font-mono text-xs text-ink2" title={b.about}>
                    {b.about}
                  </span>
                </label>
              </li>
            ))}
            {shown.length > shownNames && (
              <li className="px-3 py-1 text-ink2">and {count(shown.length - shownNames, 'more')}: type a part of the name.</li>
            )}
            {shown.length === 0 && <li className="px-3 py-1 text-ink2">Nothing has that in its name.</li>}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
