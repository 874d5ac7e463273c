'use client';

import { proxy } from 'comlink';
import { useState } from 'react';
import { openEntry } from '../model/panes';
import { told } from '../model/state';
import type { DesignView } from '../model/view';
import type { DamageView, LinkAdviceView } from '../model/what-if-view';
import { Section } from '../parts/panel';
import { count } from '../parts/words';
import { workbench } from '../worker/client';

/** What a failure does, short. */
function damageWords({ cutPairs, broken, longestDetour }: DamageView): string {
  const parts = [
    ...(cutPairs > 0 ? [`${count(cutPairs, 'pair')} cut`] : []),
    ...(broken.length > 0 ? [`${count(broken.length, 'expectation')} broken`] : []),
  ];
  const longer =
    longestDetour === null ? '' : `${parts.length === 0 ? 'nothing cut' : ''}, the longest way ${longestDetour.toLocaleString('en-GB')} more`;
  return parts.length + longer.length === 0 ? 'nothing is cut, and no way grows longer' : `${parts.join(', ')}${longer}`;
}

/** Which one link between two routers would make a failure do least, by trying. */
export function BestLink({ view, words }: { readonly view: DesignView; readonly words: readonly string[] }) {
  const [state, setState] = useState<{
    readonly of: unknown;
    readonly key: string;
    readonly tried: number;
    readonly advice?: LinkAdviceView | undefined;
  }>();
  const key = words.join(' ');
  const mine = state?.of === view.routers && state.key === key ? state : undefined;
  const begin = async (): Promise<void> => {
    const of = view.routers;
    setState({ of, key, tried: 0 });
    try {
      const advice = await workbench().whatIf.bestLink(
        [...words],
        proxy((tried: number) => setState((s) => (s?.advice ? s : { of, key, tried }))),
      );
      setState(advice ? { of, key, tried: advice.tried, advice } : undefined);
    } catch (e) {
      told(e, 'Trying links');
      setState(undefined);
    }
  };
  return (
    <Section title="What would make it harmless">
      {!mine ? (
        <p>
          <button type="button" className="control" onClick={() => void begin()}>
            Try links that are not there
          </button>
        </p>
      ) : !mine.advice ? (
        <p className="flex items-baseline gap-2 text-ink2" role="status">
          <span className="font-mono text-ink">{mine.tried.toLocaleString('en-GB')}</span> tried
          <button type="button" className="control ml-auto" onClick={() => void workbench().whatIf.stop()}>
            Stop
          </button>
        </p>
      ) : (
        <Advice advice={mine.advice} />
      )}
    </Section>
  );
}

function Advice({ advice: { best, tried, possible, now } }: { readonly advice: LinkAdviceView }) {
  const of = `${tried.toLocaleString('en-GB')} of ${count(possible, 'possible link')} tried`;
  if (possible === 0)
    return <p className="text-ink2">No link between two routers that stand would help: none joins parts of an area that are apart.</p>;
  if (!best) return <p className="text-ink2">None of them saves anything; {of}.</p>;
  return (
    <div data-testid="best-link">
      <p>
        <strong className="font-semibold">{best.routers.join(' – ')}</strong> would save most: {damageWords(best)}{' '}
        <span className="text-ink2">
          (without it {damageWords(now)}; {of}).
        </span>
      </p>
      <p className="mt-1">
        <button type="button" className="link" onClick={() => openEntry(best.line)}>
          Add it: <code className="text-xs">{best.line}</code>
        </button>
      </p>
    </div>
  );
}
