'use client';

import { proxy } from 'comlink';
import { useState, type ReactNode } from 'react';
import { told } from '../model/state';
import { workbench } from '../worker/client';

/**
 * Something that is found by trying, when somebody asks: how many were tried meanwhile, a way to stop, and what was found.
 *
 * @param of    what it is about: of something else nothing is known yet
 * @param ask   tries; `null` when it was stopped
 */
export function Trying<T>({
  of,
  label,
  title,
  ask,
  children,
}: {
  readonly of: readonly unknown[];
  /** On the button that begins it. */
  readonly label: string;
  /** What is being done, where it fails. */
  readonly title: string;
  readonly ask: (report: (tried: number) => void) => Promise<T | null>;
  readonly children: (found: T) => ReactNode;
}) {
  const [state, setState] = useState<{ readonly of: readonly unknown[]; readonly tried: number; readonly found?: T }>();
  const mine = state?.of.length === of.length && state.of.every((x, n) => x === of[n]) ? state : undefined;
  const begin = async (): Promise<void> => {
    setState({ of, tried: 0 });
    try {
      // A word of how far it is may come after what was found.
      const found = await ask(proxy((tried: number) => setState((s) => (s?.found === undefined ? { of, tried } : s))));
      setState(found === null ? undefined : { of, tried: 0, found });
    } catch (e) {
      told(e, title);
      setState(undefined);
    }
  };
  if (!mine)
    return (
      <p>
        <button type="button" className="control" onClick={() => void begin()}>
          {label}
        </button>
      </p>
    );
  if (mine.found !== undefined) return children(mine.found);
  return (
    <p className="flex items-baseline gap-2 text-ink2" role="status">
      <span className="font-mono text-ink">{mine.tried.toLocaleString('en-GB')}</span> tried
      <button type="button" className="control ml-auto" onClick={() => void workbench().whatIf.stop()}>
        Stop
      </button>
    </p>
  );
}
