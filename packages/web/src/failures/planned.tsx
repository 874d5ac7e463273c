'use client';

import type { WorkRefused, WorkStep } from '@gentle-compass/core/planned/planned-work';
import { useState } from 'react';
import { openEntry } from '../model/panes';
import { told, useStore } from '../model/state';
import type { DesignView } from '../model/view';
import type { WorkView } from '../model/what-if-view';
import { NumberTable } from '../parts/number-table';
import { Section } from '../parts/panel';
import { count, listWords } from '../parts/words';
import { workbench } from '../worker/client';
import { wayWords } from './watched';

const stepWords: Readonly<Record<WorkStep['kind'], string>> = {
  drain: 'drain it',
  down: 'take it down',
  back: 'bring it back',
  undrain: 'drain no more',
};

/** What can be worked on: one router, or one link. */
export const isWorkable = (fail: readonly string[]): boolean => fail.length === 1 && /^(router|link):/.test(fail[0] ?? '');

/** The same failure as planned work: drained first, taken down, brought back; against the plain outage. */
export function Planned({ view, word }: { readonly view: DesignView; readonly word: string }) {
  const watch = useStore((s) => s.watch);
  const [state, setState] = useState<{
    readonly of: unknown;
    readonly watch: unknown;
    readonly word: string;
    readonly work: WorkView | WorkRefused;
  }>();
  const work = state?.of === view.routers && state.word === word && state.watch === watch ? state.work : undefined;
  const ask = async (): Promise<void> => {
    try {
      setState({ of: view.routers, watch, word, work: await workbench().whatIf.planned(word, watch) });
    } catch (e) {
      told(e, 'Planning the work');
    }
  };
  return (
    <Section title="As planned work">
      {work === undefined ? (
        <p>
          <button type="button" className="control" onClick={() => void ask()}>
            Drain it first…
          </button>
        </p>
      ) : 'refusal' in work ? (
        <p className="text-accent">{work.refusal}</p>
      ) : (
        <Steps work={work} />
      )}
    </Section>
  );
}

function Steps({ work }: { readonly work: WorkView }) {
  return (
    <div data-testid="planned">
      <p className="mb-1">{verdict(work)}</p>
      <NumberTable
        label="Planned work, step by step"
        columns={[
          { name: 'step', kind: 'name' },
          { name: 'interrupted', kind: 'number' },
          { name: 'cut', kind: 'number' },
          { name: 'routes', kind: 'number' },
        ]}
        rows={[...work.steps, { ...work.outage, plain: true }].map((s, n) => ({
          key: String(n),
          loud: [1, 2],
          cells: ['plain' in s ? 'plain outage' : stepWords[s.kind], s.interrupted, s.cut, s.lost + s.gained + s.changed],
        }))}
      />
      <p className="mt-1 text-xs text-ink2">
        Interrupted: ordered pairs of loopbacks whose packets are on it when it goes. Cut: those that then have no way at all. Routes that become
        other ones.
      </p>
      {brokenBy(work).map(({ name, steps }) => (
        <p key={name} className="mt-1">
          <strong className="font-semibold">{name}</strong> <span className="text-accent">does not hold</span>{' '}
          <span className="text-ink2">while you {listWords(steps)}</span>
        </p>
      ))}
      {work.watched.length > 0 && (
        <ul className="mt-2" aria-label="Ways in each step">
          {work.watched.map((w, n) => (
            <li key={w.word} className="border-b border-fine py-0.5">
              {w.from} → {w.to} <span className="text-ink2">{wayWords(w.before)}</span>
              {moves(work, n).map((m) => (
                <span key={m.step} className="block pl-3">
                  {m.step}: {m.words}
                </span>
              ))}
            </li>
          ))}
        </ul>
      )}
      <ul className="mt-1.5 space-y-1" aria-label="Lines of the work">
        {work.steps
          .flatMap((s) => s.lines)
          .map((line) => (
            <li key={line} className="flex items-baseline gap-2">
              <code className="min-w-0 flex-1 truncate text-xs" title={line}>
                {line}
              </code>
              <button type="button" className="link" onClick={() => openEntry(line)}>
                type it
              </button>
            </li>
          ))}
      </ul>
    </div>
  );
}

/** The steps in which a watched way is another one than in the step before. */
function moves(work: WorkView, n: number): { readonly step: string; readonly words: string }[] {
  let was = work.watched[n] ? wayWords(work.watched[n].before) : '';
  return work.steps.flatMap((s) => {
    const way = s.ways[n];
    const words = way ? wayWords(way) : '';
    if (words === was) return [];
    was = words;
    return [{ step: stepWords[s.kind], words }];
  });
}

/** Expectations that some step breaks, with the steps. */
function brokenBy({ steps }: WorkView): { readonly name: string; readonly steps: string[] }[] {
  const names = [...new Set(steps.flatMap((s) => s.broken))];
  return names.map((name) => ({ name, steps: steps.filter((s) => s.broken.includes(name)).map((s) => stepWords[s.kind]) }));
}

/** What the drain saves, in a sentence. */
function verdict({ steps, outage }: WorkView): string {
  const down = steps.find((s) => s.kind === 'down');
  const left = down?.interrupted ?? 0;
  if (outage.interrupted === 0) return 'Nothing goes over it now: taking it down interrupts nobody, drained or not.';
  const plain = `taken down at once it interrupts ${count(outage.interrupted, 'pair')}`;
  if (left === 0) return `Drained first it interrupts nobody; ${plain}.`;
  return `Even drained it interrupts ${count(left, 'pair')}${left === down?.cut ? ' that have no other way' : ''}; ${plain}.`;
}
