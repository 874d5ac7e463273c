'use client';

import { proxy } from 'comlink';
import { useState } from 'react';
import { setFailures } from '../model/failing';
import type { DesignView, EveryCut } from '../model/view';
import { NumberTable } from '../parts/number-table';
import { Section } from '../parts/panel';
import { count } from '../parts/words';
import { workbench } from '../worker/client';
import { linkName } from './breakable';

/** Tries every single link and shows those that move most, with how far it is and a way to stop. */
export function EveryCutPanel({ view }: { readonly view: DesignView }) {
  const [state, setState] = useState<{
    readonly of: DesignView['routers'];
    readonly done: number;
    readonly all: number;
    readonly result?: EveryCut;
  }>();
  const of = view.routers; // stays while findings are filled in, and is another one after every edit
  const mine = state?.of === of ? state : undefined;
  const begin = async (): Promise<void> => {
    setState({ of, done: 0, all: 0 });
    const result = await workbench().failures.everyCut(proxy((done: number, all: number) => setState({ of, done, all })));
    setState(result ? { of, done: result.words.length, all: result.words.length, result } : undefined);
  };
  return (
    <Section title="Every single cut">
      {mine === undefined ? (
        <>
          <p className="mb-1 text-ink2">Cuts each link by itself and counts what changes in all tables.</p>
          <button type="button" className="control" onClick={() => void begin()}>
            Try every link
          </button>
        </>
      ) : mine.result === undefined ? (
        <p className="flex items-baseline gap-2" role="status">
          <span className="font-mono">
            {mine.done.toLocaleString('en-GB')} of {mine.all === 0 ? '…' : mine.all.toLocaleString('en-GB')}
          </span>
          <span className="text-ink2">tried</span>
          <button
            type="button"
            className="control ml-auto"
            onClick={() => {
              void workbench().failures.stopCuts();
              setState(undefined);
            }}
          >
            Stop
          </button>
        </p>
      ) : (
        <Dearest view={view} cuts={mine.result} />
      )}
    </Section>
  );
}

/** The links whose loss moves most, dearest first: routes lost, then routes that are other ones. */
function Dearest({ view, cuts }: { readonly view: DesignView; readonly cuts: EveryCut }) {
  const order = cuts.words
    .map((_, i) => i)
    .sort((a, b) => (cuts.lost[b] ?? 0) - (cuts.lost[a] ?? 0) || (cuts.changed[b] ?? 0) - (cuts.changed[a] ?? 0));
  return (
    <>
      <p className="mb-1 text-ink2">{count(cuts.words.length, 'link')} tried, each by itself; those that take most with them first.</p>
      <NumberTable
        label="What each cut does"
        columns={[
          { name: 'link', kind: 'name' },
          { name: 'tables', kind: 'number' },
          { name: 'lost', kind: 'number' },
          { name: 'changed', kind: 'number' },
        ]}
        rows={order.slice(0, 20).map((i) => ({
          key: cuts.words[i] ?? '',
          cells: [
            <button key="link" type="button" className="link text-left" onClick={() => void setFailures([cuts.words[i] ?? ''])}>
              {linkName(view, cuts.words[i] ?? '')}
            </button>,
            cuts.routers[i] ?? null,
            cuts.lost[i] ?? null,
            cuts.changed[i] ?? null,
          ],
        }))}
      />
    </>
  );
}
