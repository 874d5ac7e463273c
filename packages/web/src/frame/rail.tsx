'use client';

import { useMemo } from 'react';
import { stages, type Stage } from '../model/address';
import { go, goStage } from '../model/moving';
import { useStore } from '../model/state';
import type { DesignView } from '../model/view';
import { causesIn } from '../model/causes';
import { stageOfRule } from '../parts/stage-of-rule';
import { count } from '../parts/words';

const names: Record<Stage, string> = {
  layout: 'Layout',
  neighbours: 'Neighbours',
  areas: 'Areas',
  summaries: 'Summaries',
  routes: 'Routes',
  failures: 'Failures',
  changes: 'Changes',
};

/** Whether what the network is for holds: seen from every stage, with what is down counted in. */
function Expected({ view }: { readonly view: DesignView }) {
  const failure = useStore((s) => s.failure);
  const all = view.expectations.length;
  if (all === 0) return null;
  const down = new Set(failure?.broken.map((e) => e.name));
  const broken = view.expectations.filter((e) => !e.holds || down.has(e.name)).length;
  const untried = view.expectations.some((e) => e.untried);
  return (
    <p>
      <button
        type="button"
        className={`text-left hover:underline ${broken > 0 ? 'text-accent' : ''}`}
        data-testid="expected-state"
        onClick={() => go({ stage: 'routes', look: 'expected' })}
      >
        {broken > 0 ? `× ${broken} of ${all} expected broken` : `✓ all ${all} expected ${all === 1 ? 'holds' : 'hold'}${untried ? ', trying' : ''}`}
      </button>
    </p>
  );
}

/** The course of work, with the open findings of each stage. */
export function Rail() {
  const stage = useStore((s) => s.stage);
  const view = useStore((s) => s.view);
  const down = useStore((s) => s.fail.length);
  // Causes alone are counted: what follows from one goes with it, and a note stands in nobody's way.
  const causes = useMemo(() => causesIn(view?.findings ?? []), [view?.findings]);
  const open = (s: Stage): number => (s === 'failures' ? down : causes.filter((f) => stageOfRule(f.rule) === s).length);
  const errors = causes.filter((f) => f.severity === 'error').length;
  const warnings = causes.length - errors;
  return (
    <nav className="flex min-h-0 flex-col border-r border-rule bg-paper" aria-label="Course of work">
      <ol className="py-3">
        {stages.map((s, i) => (
          <li key={s}>
            <button
              type="button"
              aria-current={s === stage ? 'page' : undefined}
              onClick={() => goStage(s)}
              className={`flex h-8 w-full items-center gap-3 border-l-[3px] px-3.5 text-left ${s === stage ? 'border-ink bg-sheet font-semibold' : 'border-transparent hover:bg-sheet'}`}
            >
              <span className="font-mono text-xs text-ink3">{i + 1}</span>
              <span className="max-[899px]:sr-only">{names[s]}</span>
              {open(s) > 0 && (
                <span className="ml-auto font-mono text-accent">
                  {open(s)}
                  <span className="sr-only">{s === 'failures' ? ' down' : ' findings'}</span>
                </span>
              )}
            </button>
          </li>
        ))}
      </ol>
      {view && (
        <div className="mt-auto max-[899px]:sr-only border-t border-rule px-3.5 py-3 text-ink2">
          <p className="font-semibold text-ink">
            {count(view.routers.length, 'router')}, {count(view.areas.length, 'area')}
          </p>
          {view.routeCount !== null && <p>{view.routeCount.toLocaleString('en-GB')} routes in all tables</p>}
          <Expected view={view} />
          <p>
            {errors > 0 ? <span className="text-accent">{errors === 1 ? '1 error' : `${errors} errors`}</span> : 'no errors'}
            {warnings > 0 && `, ${warnings === 1 ? '1 warning' : `${warnings} warnings`}`}
          </p>
        </div>
      )}
    </nav>
  );
}
