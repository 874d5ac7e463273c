'use client';

import { timeWords } from '@gentle-compass/core/convergence/chain';
import dynamic from 'next/dynamic';
import type { TimeView } from '../model/time-view';
import { Section } from '../parts/panel';
import { binsOf } from './bins';

const SpreadChart = dynamic(() => import('./spread-chart'), { ssr: false, loading: () => <div className="h-[170px]" /> });

/** What many runs came to, each with other phases of the timers. */
export function SpreadPanel({
  time,
  runs,
  onRuns,
  seed,
  onSeed,
}: {
  readonly time: TimeView | undefined;
  readonly runs: number;
  readonly onRuns: (n: number) => void;
  readonly seed: number;
  readonly onSeed: (n: number) => void;
}) {
  const last = time?.lastChange;
  return (
    <>
      <h2 className="text-lg">{time ? time.runs.toLocaleString('en-GB') : '…'} runs</h2>
      <p className="text-ink2">
        When hellos are due, how long light and packets take: each run draws its own. The strip shows the typical one, whose last change is the lower
        median.
      </p>
      {time && last ? (
        <>
          <div
            className="mt-2"
            role="img"
            aria-label={`Last change of all tables: earliest ${timeWords(last.earliest)}, typical ${timeWords(last.typical)}, latest ${timeWords(last.latest)}`}
          >
            <SpreadChart bins={binsOf(time.lastChanges)} typical={last.typical} />
          </div>
          <dl className="mt-1 grid grid-cols-[1fr_auto] gap-x-2">
            {(['earliest', 'typical', 'latest'] as const).map((k) => (
              <div key={k} className="col-span-2 grid grid-cols-subgrid border-b border-fine py-0.5">
                <dt>{k}</dt>
                <dd className="text-right font-mono text-[12.5px]">{timeWords(last[k])}</dd>
              </div>
            ))}
          </dl>
          <Section title="What the typical run spends its time on">
            <ul>
              {time.shares.map((s) => (
                <li key={s.words} className="border-b border-fine py-0.5">
                  {s.words}
                </li>
              ))}
            </ul>
          </Section>
        </>
      ) : (
        time && <p className="mt-2">No table changes in any of them.</p>
      )}
      <Section title="Other runs">
        <div className="flex flex-wrap items-center gap-1.5">
          {[30, 100, 300].map((n) => (
            <button key={n} type="button" className="control" aria-pressed={runs === n} onClick={() => onRuns(n)}>
              {n}
            </button>
          ))}
          <label className="flex items-center gap-1 text-ink2">
            seed
            <input
              className="field w-16 text-right font-mono text-ink"
              aria-label="Seed of the runs"
              value={seed}
              onChange={(e) => {
                if (/^\d{1,9}$/.test(e.target.value)) onSeed(Number(e.target.value));
              }}
            />
          </label>
        </div>
        <p className="mt-1 text-ink2">One seed gives the same runs every time, here and on the command line.</p>
      </Section>
    </>
  );
}
