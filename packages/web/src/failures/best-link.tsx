'use client';

import { openEntry } from '../model/panes';
import type { DesignView } from '../model/view';
import type { DamageView, LinkAdviceView } from '../model/what-if-view';
import { Section } from '../parts/panel';
import { count } from '../parts/words';
import { workbench } from '../worker/client';
import { Trying } from './trying';

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
  return (
    <Section title="What would make it harmless">
      <Trying
        of={[view.routers, words.join(' ')]}
        label="Try links that are not there"
        title="Trying links"
        ask={(report) => workbench().whatIf.bestLink([...words], report)}
      >
        {(advice) => <Advice advice={advice} />}
      </Trying>
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
