'use client';

import { readProfile, timingLeaves, type Span, type TimingLeaf } from '@gentle-compass/core/convergence/timing-profile';
import { useRef, useState } from 'react';
import { useStore } from '../model/state';
import { keepProfile } from '../model/timing';
import { save } from '../parts/save';

const spanText = (s: unknown): string => (Array.isArray(s) ? s.join(' to ') : String(s));

/** `8 to 16`, `8-16` or `8`, in ms; a text says what is wrong with it. */
export function readSpan(text: string): Span | string {
  const m = /^\s*(\d+(?:\.\d+)?)\s*(?:(?:to|-|–|,)\s*(\d+(?:\.\d+)?)\s*)?$/.exec(text);
  if (!m) return 'Write a number of ms, or two with “to” between.';
  const least = Number(m[1]);
  const most = m[2] === undefined ? least : Number(m[2]);
  if (most > 3_600_000) return 'At most an hour, 3,600,000 ms.';
  if (most < least) return 'The second is less than the first.';
  return most === least ? least : [least, most];
}

/** What simulations count with that no configuration tells: each time with what it stands on and how to measure one's own. */
export function TimesPanel() {
  const profile = useStore((s) => s.profile);
  const file = useRef<HTMLInputElement>(null);
  const [fault, setFault] = useState<string>();
  const own = Object.keys(profile).length;
  const take = async (f: File | undefined): Promise<void> => {
    if (!f) return;
    let tree: unknown;
    try {
      tree = JSON.parse(await f.text());
    } catch (e) {
      setFault(`${f.name} is no JSON: ${e instanceof Error ? e.message : String(e)}.`);
      return;
    }
    const { problems } = readProfile(tree);
    setFault(problems.length > 0 ? `${f.name}: ${problems.join(' ')}` : undefined);
    if (problems.length === 0) await keepProfile(tree as Record<string, unknown>);
  };
  return (
    <>
      <h2 className="text-lg">Times nobody configures</h2>
      <p className="text-ink2">
        In ms, one or least to most. What is <em>assumed</em> is a guess at a usual router: measure your own, and the strip, Tune and every timed
        failure count with it. Expectations with a time are judged by the assumed ones, as on the command line.
      </p>
      <ul className="mt-1" aria-label="Times">
        {timingLeaves.map((l) => (
          <TimeField
            key={`${l.leaf} ${JSON.stringify(profile[l.leaf])}`}
            leaf={l}
            value={profile[l.leaf]}
            onValue={(v) => void keepProfile({ ...profile, [l.leaf]: v })}
          />
        ))}
      </ul>
      <div className="mt-2 flex flex-wrap gap-1.5">
        <button
          type="button"
          className="control"
          onClick={() =>
            save(
              'timing-profile.json',
              JSON.stringify({ ...Object.fromEntries(timingLeaves.map((l) => [l.leaf, l.plain])), ...profile }, undefined, 2),
              'application/json',
            )
          }
        >
          Export
        </button>
        <button type="button" className="control" onClick={() => file.current?.click()}>
          Import…
        </button>
        <button type="button" className="control" disabled={own === 0} onClick={() => void keepProfile({})}>
          As assumed
        </button>
        <input
          ref={file}
          type="file"
          accept=".json,application/json"
          className="hidden"
          aria-label="Timing profile to open"
          onChange={(e) => {
            void take(e.target.files?.[0]);
            e.target.value = '';
          }}
        />
      </div>
      {fault !== undefined && (
        <p className="mt-1 text-accent" role="alert">
          {fault}
        </p>
      )}
    </>
  );
}

function TimeField({ leaf: l, value, onValue }: { readonly leaf: TimingLeaf; readonly value: unknown; readonly onValue: (v: Span) => void }) {
  const [text, setText] = useState(spanText(value ?? l.plain));
  const span = readSpan(text);
  const keep = (): void => {
    if (typeof span !== 'string' && JSON.stringify(span) !== JSON.stringify(value ?? l.plain)) onValue(span);
  };
  return (
    <li className="border-b border-fine py-1">
      <label className="flex items-baseline gap-2">
        <span className="min-w-0 flex-1">{l.words}</span>
        <input
          className={`field w-[108px] shrink-0 text-right font-mono text-xs ${typeof span === 'string' ? 'border-accent' : ''}`}
          aria-label={`${l.leaf}, ms`}
          value={text}
          onChange={(e) => setText(e.target.value)}
          onBlur={keep}
          onKeyDown={(e) => {
            if (e.key === 'Enter') keep();
          }}
        />
      </label>
      {typeof span === 'string' && (
        <p className="text-xs text-accent" role="alert">
          {span}
        </p>
      )}
      <details className="text-xs text-ink2">
        <summary className="cursor-pointer">
          {value === undefined
            ? l.from === 'standard'
              ? 'by the standard'
              : 'assumed'
            : `your own; ${l.from === 'standard' ? 'the standard says' : 'assumed were'} ${spanText(l.plain)}`}
          , how to measure it
        </summary>
        {l.measure}
      </details>
    </li>
  );
}
