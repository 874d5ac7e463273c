'use client';

import { timeWords } from '@gentle-compass/core/convergence/chain';
import { slowestFirst } from '@gentle-compass/core/convergence/timed';
import { proxy } from 'comlink';
import { useState } from 'react';
import { setFailures } from '../model/failing';
import { told, useStore } from '../model/state';
import type { TimedView } from '../model/time-view';
import type { DesignView } from '../model/view';
import { LineTable, type LineColumn } from '../parts/line-table';
import { count } from '../parts/words';
import { workbench } from '../worker/client';

interface Progress {
  readonly of: DesignView['routers'];
  readonly profile: unknown;
  readonly done: number;
  readonly all: number;
  readonly timed: readonly TimedView[];
  readonly ended: boolean;
  /** Why nothing can be timed. */
  readonly refusal?: string;
}

const columns: readonly LineColumn[] = [
  { name: 'failure', width: 'minmax(0,1fr)' },
  { name: 'typical', width: '64px', kind: 'number' },
  { name: 'latest', width: '64px', kind: 'number' },
  { name: 'last router', width: '84px' },
  { name: 'most of it is', width: 'minmax(0,2fr)', kind: 'quiet' },
];

/** Every single link and router failure with how long it takes, the slowest first; grows while it works, and can be stopped. */
export function EveryTimed({ view, nameOf }: { readonly view: DesignView; readonly nameOf: (word: string) => string }) {
  const profile = useStore((s) => s.profile);
  const [state, setState] = useState<Progress>();
  const mine = state?.of === view.routers && state.profile === profile ? state : undefined;
  const begin = async (): Promise<void> => {
    const first: Progress = { of: view.routers, profile, done: 0, all: 0, timed: [], ended: false };
    setState(first);
    const timed: TimedView[] = [];
    let said = 0;
    let refusal: string | null = null;
    try {
      refusal = await workbench().timing.each(
        profile,
        proxy((done: number, all: number, latest: TimedView | null) => {
          if (latest) timed.push(latest);
          if (performance.now() - said < 150 && done < all) return;
          said = performance.now();
          setState((now) =>
            now?.of === first.of && now.profile === profile && !now.ended ? { ...first, done, all, timed: timed.toSorted(slowestFirst) } : now,
          );
        }),
      );
    } catch (e) {
      told(e, 'Timing every failure');
    }
    setState((now) =>
      now?.of === first.of && now.profile === profile
        ? { ...now, ended: true, ...(refusal === null ? {} : { refusal }), timed: timed.toSorted(slowestFirst), done: timed.length }
        : now,
    );
  };
  const [word, setWord] = useState<string>();
  const chosen = mine?.timed.find((t) => t.word === word);
  const affected = mine?.timed.filter((t) => t.lastChange).length ?? 0;
  return (
    <div className="flex min-h-0 flex-1 flex-col px-4 pt-3 pb-2" data-testid="every-timed">
      <div className="mb-2 flex items-baseline gap-3">
        <h2 className="text-lg">How long every single failure takes</h2>
        {mine && (
          <p className="text-ink2" role="status">
            {mine.ended && mine.done === mine.all
              ? ''
              : `${mine.done.toLocaleString('en-GB')} of ${mine.all === 0 ? '…' : mine.all.toLocaleString('en-GB')}; `}
            {count(affected, 'failure')} change tables, the slowest first
          </p>
        )}
        <span className="ml-auto">
          {mine && !mine.ended ? (
            <button type="button" className="control" onClick={() => void workbench().timing.stopEach()}>
              Stop
            </button>
          ) : (
            <button type="button" className="control" data-main={mine ? undefined : true} onClick={() => void begin()}>
              {mine ? 'Time them again' : 'Time every failure'}
            </button>
          )}
        </span>
      </div>
      {mine ? (
        <LineTable
          label="Every failure, timed"
          columns={columns}
          rows={mine.timed}
          keyOf={(t) => t.word}
          cells={(t) => [
            nameOf(t.word),
            t.lastChange ? timeWords(t.lastChange.typical) : 'no table changes',
            t.lastChange ? timeWords(t.lastChange.latest) : '',
            t.lastRouter ?? '',
            t.slowest ?? '',
          ]}
          at={mine.timed.findIndex((t) => t.word === word)}
          onChoose={(t) => setWord(t.word)}
          nothing={mine.refusal ?? (mine.ended ? 'There is nothing that could fail.' : 'The first is being timed.')}
        />
      ) : (
        <p className="max-w-[60ch] text-ink2">
          Each link and each router fails by itself, ten runs each with other phases of the timers: until the last table is as it stays. A line then
          shows its failure moment by moment. Or take something down yourself: its course stands here at once.
        </p>
      )}
      {chosen && (
        <p className="mt-2 flex items-baseline gap-3">
          <span className="min-w-0 flex-1">
            <strong className="font-semibold">{nameOf(chosen.word)}</strong>{' '}
            {chosen.lastChange
              ? `fails: ${chosen.slowest ?? ''}${chosen.lastRouter === null ? '' : `; ${chosen.lastRouter} is last`}.`
              : 'fails, and no table changes.'}
          </span>
          <button type="button" className="control" onClick={() => void setFailures([chosen.word])}>
            Show it moment by moment
          </button>
        </p>
      )}
    </div>
  );
}
