'use client';

import { useId, useState } from 'react';
import { go } from '../model/moving';
import { useStore } from '../model/state';

/** Subnets that are offered while one types. */
const offered = 400;

/** The prefix that is looked at, to be typed; Enter looks at another one. */
export function PrefixField({ word, label, prefix }: { readonly word: string; readonly label: string; readonly prefix: string | undefined }) {
  const id = useId();
  const segments = useStore((s) => s.view?.segments);
  const [text, setText] = useState(prefix ?? '');
  return (
    <form
      className="flex items-center gap-2 text-ink2"
      onSubmit={(e) => {
        e.preventDefault();
        go({ prefix: text.trim() === '' ? undefined : text.trim(), lsa: undefined });
      }}
    >
      <label className="flex items-center gap-2">
        {word}
        <input
          className="field w-40 font-mono text-xs text-ink"
          aria-label={label}
          list={id}
          placeholder="prefix, then Enter"
          autoComplete="off"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      </label>
      <datalist id={id}>
        {[...new Set((segments ?? []).flatMap((s) => s.subnets))].slice(0, offered).map((s) => (
          <option key={s} value={s} />
        ))}
      </datalist>
    </form>
  );
}
