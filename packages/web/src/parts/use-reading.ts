'use client';

import { useEffect, useState } from 'react';
import { useStore } from '../model/state';
import type { EntryView, Trial } from '../model/view';
import { workbench } from '../worker/client';

const wait = (ms: number): Promise<void> => new Promise((go) => setTimeout(go, ms));

/** What a line would do, while it is typed: how it is understood, and a moment later what it would change. */
export interface Reading {
  /** Of the last line that was read. */
  readonly reading: EntryView | undefined;
  readonly effect: Trial | undefined;
}

/**
 * Reads a line of quick entry against the design as it stands, without changing anything. Where another network comes, it
 * is read again.
 *
 * @param line  `undefined`: nothing is asked
 */
export function useReading(line: string | undefined, router: string | undefined): Reading {
  const routers = useStore((s) => s.view?.routers);
  const [reading, setReading] = useState<EntryView | undefined>(undefined);
  const [effect, setEffect] = useState<Trial | undefined>(undefined);
  useEffect(() => {
    const turn = { over: false };
    const stale = (): boolean => turn.over;
    const ask = async (): Promise<void> => {
      if (line === undefined) return;
      const answer = await workbench().editing.entry(line, router === undefined ? [] : [router]);
      if (stale()) return;
      setReading(answer);
      setEffect(undefined);
      if (!answer.plan || answer.plan.down) return;
      await wait(60);
      if (stale()) return;
      const change = await workbench().editing.tryEdits(answer.plan.edits);
      if (!stale() && change) setEffect(change);
    };
    void ask();
    return () => {
      turn.over = true;
    };
    // What findings cost is filled in later and changes nothing here: only another network asks again.
  }, [line, router, routers]);
  return line === undefined ? { reading: undefined, effect: undefined } : { reading, effect };
}
