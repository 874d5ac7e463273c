'use client';

import { timeWords } from '@gentle-compass/core/convergence/chain';
import { neighborStateNames } from '@gentle-compass/core/evidence/neighbor-words';
import type { Beginning, ComingUp, Shown } from '@gentle-compass/core/neighbours/coming-up';
import type { SequenceStep } from '@gentle-compass/core/neighbours/sequence';
import { useState } from 'react';
import { useStore } from '../model/state';
import type { PairView } from '../model/view';
import { useAnswer } from '../parts/use-answer';
import { count } from '../parts/words';
import { workbench } from '../worker/client';

/** How a pair comes up: packets between two lifelines, the step at which it sticks, and how long whoever waits has to wait. */
export function ComingUpPage({ pair }: { readonly pair: PairView }) {
  const [beginning, begin] = useState<Beginning>('together');
  const profile = useStore((s) => s.profile);
  const routers = useStore((s) => s.view?.routers);
  const answer = useAnswer(
    async () => ({ id: pair.id, course: await workbench().neighbours.comingUp(pair.id, beginning, profile) }),
    [pair.id, beginning, profile, routers],
  );
  const course = answer?.id === pair.id ? answer.course : undefined;
  const words: Record<Beginning, string> = {
    together: 'All begin together',
    a: `${pair.a.router} comes to the others`,
    b: `${pair.b.router} comes to the others`,
  };
  return (
    <section aria-label="Coming up, step by step" className="border-t border-fine px-4 pt-2">
      <div className="flex flex-wrap items-center gap-1.5">
        {(Object.keys(words) as Beginning[]).map((b) => (
          <button key={b} type="button" className="control" aria-pressed={b === beginning} onClick={() => begin(b)}>
            {words[b]}
          </button>
        ))}
      </div>
      {course === null && <p className="py-3 text-ink2">This pair cannot be played: one of its ends is not there while nothing has failed.</p>}
      {course === undefined && <p className="py-3 text-ink2">Playing it…</p>}
      {course && <Course course={course} pair={pair} />}
    </section>
  );
}

function Course({ course, pair }: { readonly course: ComingUp; readonly pair: PairView }) {
  const stuck = course.steps.find((s) => s.sticks);
  return (
    <>
      <p className="mt-2" data-testid="patience">
        <strong className="font-semibold">Patience: </strong>
        {course.seen}
        {course.patience && <span className="text-ink2"> In {count(course.runs, 'simulated start')}.</span>}
      </p>
      <dl className="mt-1 grid grid-cols-[max-content_1fr] gap-x-3 text-ink2" aria-label="What each device shows">
        <dt>{pair.a.router} shows</dt>
        <dd>
          <OverTime shown={course.shown.a} />
        </dd>
        <dt>{pair.b.router} shows</dt>
        <dd>
          <OverTime shown={course.shown.b} />
        </dd>
      </dl>
      <table className="mt-2 w-full border-separate border-spacing-0" aria-label="Packets, one after the other">
        <thead>
          <tr className="text-ink2">
            <th className="w-[58px] text-right font-normal">after</th>
            <th className="w-[92px] pr-2 text-right font-serif text-base text-ink">{pair.a.router}</th>
            <th aria-label="between them" />
            <th className="w-[92px] pl-2 text-left font-serif text-base text-ink">{pair.b.router}</th>
          </tr>
        </thead>
        <tbody>
          {course.steps.map((s, n) => (
            <Row key={n} step={s} before={course.steps[n - 1]} />
          ))}
        </tbody>
      </table>
      {stuck && <p className="mt-1.5 text-xs text-ink2">It sticks at the marked step: {stuck.rfc}.</p>}
    </>
  );
}

/** States one after the other, each with how long it stands. */
function OverTime({ shown }: { readonly shown: readonly Shown[] }) {
  const seen = shown.filter((s) => s.toMs === undefined || s.toMs - s.fromMs >= 1);
  const most = 7;
  return (
    <>
      {seen.slice(0, most).map((s, n) => (
        <span key={n}>
          {n > 0 && ' → '}
          <span className="text-ink">{neighborStateNames[s.state]}</span> {s.toMs === undefined ? 'from then on' : `until ${timeWords(s.toMs)}`}
        </span>
      ))}
      {seen.length > most && ' → and so on'}
    </>
  );
}

function Row({ step: s, before }: { readonly step: SequenceStep; readonly before: SequenceStep | undefined }) {
  const tint = s.sticks || s.refused ? 'text-accent' : '';
  const state = (side: 'a' | 'b'): string => (before?.[side] === s[side] && !s.sticks ? 'text-ink3' : 'font-semibold');
  return (
    <tr className={s.sticks ? 'bg-accentground' : ''} data-step={s.sticks ? 'sticks' : s.from}>
      <td className="py-[3px] text-right align-top font-mono text-xs text-ink2">{timeWords(s.ms)}</td>
      <td className={`border-r-2 border-ink3 py-[3px] pr-2 text-right align-top ${state('a')}`}>{neighborStateNames[s.a]}</td>
      <td className="px-0 py-[3px] align-top">
        {s.from === 'none' ? (
          <p className={`px-3 text-center ${s.sticks ? 'font-semibold text-accent' : 'text-ink2 italic'}`}>
            {s.sticks && '× '}
            {s.what}
          </p>
        ) : (
          <div className={`px-1 ${tint}`}>
            <p className="text-center leading-tight">
              <span className="font-semibold">{s.what}</span>
              {s.times > 1 && <span className="text-ink2"> {s.times} times</span>}
            </p>
            <Arrow to={s.from === 'a' ? 'right' : 'left'} broken={s.refused !== undefined} />
            <p className="flex flex-wrap justify-center gap-x-3 px-3 font-mono text-[11px] leading-snug text-ink2">
              {s.fields.map(([name, value]) => (
                <span key={name} className="whitespace-nowrap">
                  {name} <span className="text-ink">{value}</span>
                </span>
              ))}
            </p>
            {s.refused !== undefined && <p className="px-3 text-center text-xs leading-snug">× not taken: {s.refused}</p>}
          </div>
        )}
      </td>
      <td className={`border-l-2 border-ink3 py-[3px] pl-2 align-top ${state('b')}`}>{neighborStateNames[s.b]}</td>
    </tr>
  );
}

/** A packet's way from one lifeline to the other; one that is not taken ends short of it. */
function Arrow({ to, broken }: { readonly to: 'left' | 'right'; readonly broken: boolean }) {
  return (
    <svg className="block h-[7px] w-full" viewBox="0 0 100 7" preserveAspectRatio="none" aria-hidden="true">
      <g transform={to === 'left' ? 'translate(100 0) scale(-1 1)' : undefined}>
        <line
          x1="0"
          y1="3.5"
          x2={broken ? 86 : 98.6}
          y2="3.5"
          stroke="currentColor"
          strokeWidth="1"
          vectorEffect="non-scaling-stroke"
          strokeDasharray={broken ? '4 3' : undefined}
        />
        {broken ? (
          <path d="M85.2 1 L86.8 6 M86.8 1 L85.2 6" stroke="currentColor" strokeWidth="1.2" vectorEffect="non-scaling-stroke" />
        ) : (
          <path d="M98.2 0.5 L99.8 3.5 L98.2 6.5 Z" fill="currentColor" />
        )}
      </g>
    </svg>
  );
}
