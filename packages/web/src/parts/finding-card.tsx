'use client';

import type { Finding } from '@gentle-compass/core/findings/finding';
import { stageOfRule } from '../frame/rail';
import { go, makeChange, useStore } from '../model/store';
import { count } from './words';

/** What a finding costs now, in one sentence; empty when nothing. */
export function consequenceWords(f: Finding): string {
  const c = f.consequence;
  const parts = [
    c['routes-lost'] > 0 ? `${count(c['routes-lost'], 'route')} missing` : '',
    c['routes-changed'] > 0 ? `${count(c['routes-changed'], 'route')} go another way` : '',
  ].filter(Boolean);
  return parts.length === 0 ? '' : `${parts.join(' and ')} in ${count(c.routers.length, 'router')}.`;
}

/** Ways to mend a finding, each one action. */
export function Repairs({ finding }: { readonly finding: Finding }) {
  return (
    <div className="mt-1 space-y-1.5">
      {finding.repairs.map((r) => (
        <button
          key={r.title}
          type="button"
          onClick={() => void makeChange(r.title, r.edits)}
          className="block w-full rounded border border-rule bg-sheet px-3 py-2 text-left hover:border-ink3"
        >
          <strong className="block font-semibold">{r.title}</strong>
          <span className="text-ink2">
            {count(r.edits.length, 'line')} in {r.router}
          </span>
        </button>
      ))}
    </div>
  );
}

/** A finding in a list: its sentence, and the way to where it is worked on. */
export function FindingCard({
  finding,
  letter,
  mend = false,
}: {
  readonly finding: Finding;
  readonly letter?: string | undefined;
  readonly mend?: boolean;
}) {
  const pair = useStore((s) => s.view?.pairs.find((p) => p.finding === finding.id)?.id);
  const colour = finding.severity === 'error' ? 'text-accent' : finding.severity === 'warning' ? 'text-caution' : 'text-ink2';
  const first = finding.where[0];
  const open = (): void => {
    const stage = stageOfRule(finding.rule);
    if (pair !== undefined) go({ stage: 'neighbours', pair });
    else go({ stage: stage === 'neighbours' ? 'layout' : stage, router: first?.router });
  };
  return (
    <article className="border-b border-fine py-2">
      <button type="button" className="block w-full text-left" onClick={open}>
        <span className={`font-semibold ${colour}`}>
          {letter !== undefined && `${letter} · `}
          {finding.severity}
        </span>{' '}
        <span>{finding.message}</span>
      </button>
      {consequenceWords(finding) !== '' && <p className="text-ink2">{consequenceWords(finding)}</p>}
      {mend && finding.repairs.length > 0 && <Repairs finding={finding} />}
    </article>
  );
}
