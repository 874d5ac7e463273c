'use client';

import type { CaseView } from '../model/sweep-view';
import { setFailures } from '../model/failing';
import { Section } from '../parts/panel';
import { count } from '../parts/words';
import type { SweepState } from './use-sweep';

/** Cases of one failure that cut something off all by themselves. */
export const singlePoints = (state: SweepState | undefined): readonly CaseView[] =>
  (state?.cases ?? []).filter((c) => c.words.length === 1 && c.harm === 'cut');

/** How much a case cuts, in a word or two. */
export const cutWords = (c: CaseView): string =>
  c.cutPairs > 0 ? `${count(c.cutPairs, 'pair')} cut` : `${count(c.broken.length, 'expectation')} broken`;

const shown = 12;

/** What stands on one link, router, LAN or shared risk alone, the worst first; the same is drawn on the map. */
export function SinglePoints({ state, nameOf }: { readonly state: SweepState | undefined; readonly nameOf: (word: string) => string }) {
  const points = singlePoints(state);
  if (!state) return null;
  return (
    <Section title={state.running ? 'Single points of failure, so far' : `${count(points.length, 'single point')} of failure`}>
      {points.length === 0 && !state.running && <p className="text-ink2">Whatever one thing fails, nothing is cut apart.</p>}
      <ul aria-label="Single points of failure">
        {points.slice(0, shown).map((c) => (
          <li key={c.words[0]} className="flex border-b border-fine py-0.5">
            <button type="button" className="link min-w-0 flex-1 truncate text-left" onClick={() => void setFailures(c.words)}>
              {c.words.map(nameOf).join('')}
            </button>
            <span className="text-ink2">{cutWords(c)}</span>
          </li>
        ))}
      </ul>
      {points.length > 0 && (
        <p className="mt-1 text-xs text-ink2">
          {points.length > shown ? `And ${(points.length - shown).toLocaleString('en-GB')} more. ` : ''}On the map: links in a red band, routers with
          what they cut.
        </p>
      )}
    </Section>
  );
}
