'use client';

import { useId, useMemo, useState } from 'react';
import type { Consequence, Finding } from '@gentle-compass/core/findings/finding';
import { consequencesOf } from '../model/causes';
import { SideEffects } from './side-effects';
import { meetingOfRule, stageOfRule } from './stage-of-rule';
import { troubleLetters } from '../map/area-map';
import { acceptFinding, makeChange } from '../model/history';
import { lookAt } from '../model/families';
import { go } from '../model/moving';
import { useCost } from '../model/judging';
import { useStore } from '../model/state';
import { count, withAreaNames } from './words';

/** What a finding costs now, in one sentence; empty when nothing. */
export function consequenceWords(c: Consequence): string {
  const parts = [
    c['routes-lost'] > 0 ? `${count(c['routes-lost'], 'route')} missing` : '',
    c['routes-changed'] > 0 ? `${count(c['routes-changed'], 'route')} go another way` : '',
  ].filter(Boolean);
  return parts.length === 0 ? '' : `${parts.join(' and ')} in ${count(c.routers.length, 'router')}.`;
}

/** What a finding costs, once it is known; redrawn by itself. */
export function Cost({ finding, otherwise = '' }: { readonly finding: Finding; readonly otherwise?: string }) {
  const words = consequenceWords(useCost(finding)) || otherwise;
  return words === '' ? null : <p className="text-ink2">{words}</p>;
}

/** Ways to mend a finding, each one action. */
export function Repairs({ finding }: { readonly finding: Finding }) {
  return (
    <div className="mt-1 space-y-1.5">
      {finding.repairs.map((r) => (
        <div key={r.title} className="rounded border border-rule bg-sheet">
          <button type="button" onClick={() => void makeChange(r.title, r.edits)} className="block w-full px-3 py-2 text-left hover:bg-paper">
            <strong className="block font-semibold">{r.title}</strong>
            <span className="text-ink2">
              {count(r.edits.length, 'line')} in {r.router || 'the expectations'}
            </span>
          </button>
          {new Set(r.edits.map((e) => e.router)).size > 1 && <SideEffects repair={r} family={finding.family} />}
        </div>
      ))}
    </div>
  );
}

/** Takes a finding as it is, with a note why; or takes that back. */
export function Acceptance({ finding }: { readonly finding: Finding }) {
  const [asking, setAsking] = useState(false);
  const [note, setNote] = useState('');
  const field = useId();
  if (finding.accepted)
    return (
      <p className="mt-1 text-ink2">
        Accepted: {finding.accepted.note}{' '}
        <button type="button" className="link" onClick={() => void acceptFinding(finding)}>
          Take back
        </button>
      </p>
    );
  if (!asking)
    return (
      <p className="mt-1 text-ink2">
        {finding.returned && `Was accepted (${finding.returned.note}); what it rests on has changed since. `}
        <button type="button" className="link" onClick={() => setAsking(true)}>
          Accept as it is…
        </button>
      </p>
    );
  const done = (): void => {
    if (note.trim() === '') return;
    setAsking(false);
    void acceptFinding(finding, note.trim());
  };
  return (
    <form
      className="mt-1.5"
      onSubmit={(e) => {
        e.preventDefault();
        done();
      }}
    >
      <label htmlFor={field} className="block text-ink2">
        Why is it right as it is?
      </label>
      <input
        id={field}
        autoFocus
        value={note}
        maxLength={500}
        onChange={(e) => setNote(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Escape') setAsking(false);
          e.stopPropagation();
        }}
        className="mt-0.5 w-full rounded border border-rule bg-sheet px-2 py-1"
      />
      <div className="mt-1.5 flex gap-1.5">
        <button type="submit" className="control" disabled={note.trim() === ''}>
          Accept with this note
        </button>
        <button type="button" className="control" onClick={() => setAsking(false)}>
          Leave it open
        </button>
      </div>
    </form>
  );
}

/** Goes to where a finding is worked on. */
async function openFinding(finding: Finding): Promise<void> {
  const { view } = useStore.getState();
  // What a finding is about is shown as its own family has it.
  if (view && view.families.length > 1 && view.family !== (finding.family ?? 4)) await lookAt(finding.family ?? 4);
  const pair = useStore.getState().view?.pairs.find((p) => p.finding === finding.id)?.id;
  const stage = stageOfRule(finding.rule);
  const router = finding.where.find((w) => w.router !== '')?.router;
  const meet = meetingOfRule(finding.rule);
  if (pair !== undefined) go({ stage: 'neighbours', meet: 'pairs', pair });
  else if (stage === 'neighbours' && meet) go({ stage, meet, router });
  else go({ stage: stage === 'neighbours' ? 'layout' : stage, router });
}

/** What explains a finding, with the way there. */
export function Because({ finding }: { readonly finding: Finding }) {
  const cause = useStore((s) => s.view?.findings.find((f) => f.id === finding['caused-by']));
  if (!cause) return null;
  return (
    <p className="text-ink2">
      Follows from:{' '}
      <button type="button" className="link text-left" onClick={() => void openFinding(cause)}>
        {cause.message}
      </button>
    </p>
  );
}

/** The letter under which the map shows what a finding is about. */
const LetterOf = ({ letter }: { readonly letter: string | undefined }) =>
  letter === undefined ? null : <span className="font-semibold text-accent">{letter} · </span>;

/** What follows from a finding, folded: each goes with it. */
export function Beneath({ finding }: { readonly finding: Finding }) {
  const all = useStore((s) => s.view?.findings);
  const view = useStore((s) => s.view);
  const [open, setOpen] = useState(false);
  const follow = useMemo(() => consequencesOf(finding, all ?? []), [finding, all]);
  const letters = useMemo(() => (view && follow.length > 0 ? troubleLetters(view) : new Map<string, string>()), [view, follow]);
  const areas = useStore((s) => s.view?.areas);
  if (follow.length === 0) return null;
  return (
    <details className="mt-0.5" open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer text-ink2">{count(follow.length, 'thing follows', 'things follow')} from it</summary>
      {open && (
        <ul className="mt-1 border-l-2 border-rule pl-2.5">
          {follow.map((f) => (
            <li key={f.id} className="py-0.5">
              <button type="button" className="text-left hover:underline" onClick={() => void openFinding(f)}>
                <LetterOf letter={letters.get(view?.pairs.find((p) => p.finding === f.id)?.id ?? '')} />
                {f.family === 6 && <span className="text-ink2">IPv6 · </span>}
                {withAreaNames(f.message, areas)}
              </button>
            </li>
          ))}
        </ul>
      )}
    </details>
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
  const colour = finding.accepted
    ? 'text-ink2'
    : finding.severity === 'error'
      ? 'text-accent'
      : finding.severity === 'warning'
        ? 'text-caution'
        : 'text-ink2';
  const areas = useStore((s) => s.view?.areas);
  const other = useStore((s) => s.view !== undefined && s.view.families.length > 1 && s.view.family !== (finding.family ?? 4));
  return (
    <article className="border-b border-fine py-2">
      <button type="button" className="block w-full text-left" onClick={() => void openFinding(finding)}>
        <span className={`font-semibold ${colour}`}>
          {letter !== undefined && `${letter} · `}
          {finding.accepted ? 'accepted' : finding.severity}
          {finding.family === 6 ? ' · IPv6' : other && ' · IPv4'}
        </span>{' '}
        <span>{withAreaNames(finding.message, areas)}</span>
      </button>
      <Cost finding={finding} />
      <Because finding={finding} />
      <Beneath finding={finding} />
      {mend && !finding.accepted && finding.repairs.length > 0 && <Repairs finding={finding} />}
      {(mend || finding.accepted || finding.returned) && <Acceptance finding={finding} />}
    </article>
  );
}
