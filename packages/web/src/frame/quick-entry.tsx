'use client';

import type { Edit } from '@gentle-compass/core/design/edit';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import { enterLine, makeChange } from '../model/history';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { closeEntry, openKeys } from '../model/panes';
import { LineHistory } from './line-history';
import type { EntryView, Trial } from '../model/view';
import { Combobox } from '../parts/combobox';
import { FoundByTrial } from '../parts/found-by-trial';
import { useReading } from '../parts/use-reading';
import { changeWords, count } from '../parts/words';
import { LineList } from '../changes/line-list';

interface Word {
  readonly text: string;
  readonly help: string;
  readonly hint?: boolean;
  /** It takes the place of the whole line. */
  readonly whole?: boolean;
}

/** What a line would do, or why it does nothing. */
function Preview({
  reading,
  effect,
  line,
  refused,
  onWith,
}: {
  readonly reading: EntryView;
  readonly effect: Trial | undefined;
  readonly line: string;
  /** It was to be carried out as it stands, and could not be. */
  readonly refused: boolean;
  readonly onWith: (title: string, edits: readonly Edit[]) => void;
}) {
  const { plan, error } = reading;
  if (plan)
    return (
      <div className="px-4 py-2.5" data-testid="entry-preview">
        <p>
          <span className="font-semibold">{plan.title}.</span>{' '}
          <span className="text-ink2">
            {plan.down ? 'The design stays as it is.' : effect ? changeWords(effect) : 'Working out what that changes…'}
          </span>
        </p>
        {plan.notes.length > 0 && (
          <ul className="mt-1 text-ink2">
            {plan.notes.slice(0, 6).map((n) => (
              <li key={n}>{n}</li>
            ))}
            {plan.notes.length > 6 && <li>and {count(plan.notes.length - 6, 'more note')}</li>}
          </ul>
        )}
        {effect && effect.found.length > 0 && (
          <FoundByTrial trial={effect} onWith={(title, edits) => onWith(`${plan.title}; ${title}`, [...plan.edits, ...edits])} />
        )}
        {!plan.down && (
          <div className="mt-1.5 max-h-[186px] overflow-y-auto border-t border-fine pt-1">
            <LineList lines={plan.lines} atMost={12} />
          </div>
        )}
      </div>
    );
  if (!error || line === '') return null;
  // While the last word is being typed nobody is accused.
  const early = error.unfinished || (!refused && error.end >= line.length && !line.endsWith(' '));
  return (
    <p className={`px-4 py-2.5 ${early ? 'text-ink2' : 'text-accent'}`} data-testid="entry-error">
      {!early && error.end > error.at && error.end - error.at < line.length && (
        <span className="mr-2 rounded border border-accent bg-accentground px-1 font-mono">{line.slice(error.at, error.end)}</span>
      )}
      {error.message}
    </p>
  );
}

const lines = new LineHistory();

/** The one-line field that changes the design: completion while typing, what it would do before Enter. */
function EntryField({ first }: { readonly first: string }) {
  const router = useStore((s) => s.router);
  const [line, setLine] = useState(first);
  const { reading, effect } = useReading(line, router);
  const [done, setDone] = useState<string | undefined>(undefined);
  const [refused, setRefused] = useState<string | undefined>(undefined);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const before = document.activeElement;
    field.current?.focus();
    // Where it came from the focus goes again, if that still stands.
    return () => {
      if (before instanceof HTMLElement && before.isConnected) before.focus();
    };
  }, []);
  // Once a line can be carried out, a mere description of what could be typed is in the way.
  const words: readonly Word[] = [
    ...(reading?.instead ?? []).map((o) => ({ text: o.line, help: o.help, whole: true })),
    ...(reading?.suggestions ?? []).filter((w) => w.hint !== true || !reading?.plan),
  ];
  const take = (n: number): void => {
    const w = words[n];
    if (!w || w.hint === true || !reading) return;
    setLine(w.whole === true ? w.text : `${line.slice(0, reading.from)}${w.text}${w.text.endsWith('/') ? '' : ' '}`);
  };
  const act = async (): Promise<void> => {
    // The field is free for the next line at once; a line that cannot be carried out comes back.
    const sent = line;
    setLine('');
    const now = await enterLine(sent, router === undefined ? [] : [router]);
    if (!now.plan) {
      setLine((typed) => (typed === '' ? sent : typed));
      setRefused(sent);
      return;
    }
    lines.add(sent);
    setDone(now.plan.title);
    if (now.plan.down) go({ stage: 'failures', tell: 'lost', fail: [...now.plan.down] });
  };
  /** The line, and what mends what it would bring, as one step. */
  const actWith = async (title: string, edits: readonly Edit[]): Promise<void> => {
    setLine('');
    await makeChange(title, edits);
    setDone(title);
  };
  const onKey = (e: KeyboardEvent, marked: number): boolean => {
    if (e.key === 'Escape') closeEntry();
    else if (e.key === 'Enter' && marked < 0) {
      if (line.trim() !== '') void act();
    } else if (e.key === 'Tab' && !e.shiftKey && words.some((w) => w.hint !== true))
      take(
        Math.max(
          marked,
          words.findIndex((w) => w.hint !== true),
        ),
      );
    else if (e.key === '?' && line === '') openKeys(true);
    else if (e.key === 'ArrowDown' || (e.key === 'ArrowUp' && marked < 0 && (line === '' || lines.walking))) {
      const other = e.key === 'ArrowDown' ? lines.later() : lines.earlier(line);
      if (other === undefined) return lines.walking;
      setLine(other);
    } else return false;
    return true;
  };
  return (
    <div
      className="fixed top-[52px] left-1/2 z-40 w-[780px] max-w-[94vw] -translate-x-1/2 rounded border border-rule bg-sheet shadow-lg"
      role="dialog"
      aria-label="Quick entry"
    >
      <Combobox
        label="A line that changes the design"
        listLabel="What can stand here"
        text={line}
        choices={words.map((w) => ({ key: w.text, words: w.text, about: w.help, hint: w.hint === true }))}
        begin="none"
        onText={(typed) => {
          lines.leave();
          setLine(typed);
        }}
        onTake={take}
        onKey={onKey}
        field={field}
        look={{
          field: 'w-full bg-transparent font-mono text-[14px] outline-none placeholder:text-ink3',
          row: 'flex items-center gap-3 border-b border-fine px-4 py-2',
          list: 'max-h-[236px] overflow-y-auto border-t border-fine px-4 py-1',
          words: 'min-w-[170px] font-mono text-[12.5px]',
          placeholder: 'link kelp-1 drydock-2 cost 20',
          describedBy: 'entry-keys',
          beside: (
            <button type="button" className="control" onClick={closeEntry}>
              Close
            </button>
          ),
          between: (
            <>
              {reading?.form !== undefined && <p className="border-b border-fine px-4 py-1 font-mono text-xs text-ink2">{reading.form}</p>}
              {reading && (
                <Preview
                  reading={reading}
                  effect={effect}
                  line={line}
                  refused={refused === line}
                  onWith={(title, edits) => void actWith(title, edits)}
                />
              )}
            </>
          ),
        }}
      />
      <p id="entry-keys" className="flex border-t border-fine px-4 py-1.5 text-xs text-ink2">
        <span>
          {line === '' && done !== undefined ? `Done: ${done}. ` : ''}Tab takes a word, Enter makes the change, ↑ brings earlier lines, ? lists all
          keys.
        </span>
        <span className="ml-auto">Undo takes it back.</span>
      </p>
    </div>
  );
}

/** Quick entry, while it is open. */
export function QuickEntry() {
  const entry = useStore((s) => s.entry);
  return entry === undefined ? null : <EntryField first={entry} />;
}
