'use client';

import type { LineChange } from '@gentle-compass/core/compare/document-changes';
import type { Expectation } from '@gentle-compass/core/design/settings';
import type { ExpectationResult } from '@gentle-compass/core/reach/expectations';
import { useMemo, useState } from 'react';
import { shortPath } from '../changes/line-list';
import { expectationValues, formKinds } from '../forms/form-kinds';
import { goToStep, enterLine } from '../model/history';
import { openEntry, openForm } from '../model/panes';
import { setFailures } from '../model/failing';
import { lookAt } from '../model/families';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { backwards } from '../model/stored';
import { LineTable } from '../parts/line-table';
import { Panel, Section, Tag } from '../parts/panel';
import { RouterLink } from '../parts/router-link';
import { TableOut } from '../parts/table-out';
import { useAnswer } from '../parts/use-answer';
import { count } from '../parts/words';
import { workbench } from '../worker/client';
import type { BrokenSince } from '../worker/desks/reach-desk';
import { RoutesHead } from './routes-head';
import { stateOf, underWords, whenWords } from './expected-words';
import { expectThis, traceTo } from './steps';

type Kept = 'all' | 'broken' | 'holds';

/** What the network is for: each expectation with its state, and of a broken one the counterexample. */
export function ExpectedPage() {
  const view = useStore((s) => s.view);
  const failure = useStore((s) => s.failure);
  const [chosen, setChosen] = useState<string | undefined>(undefined);
  const [text, setText] = useState('');
  const [kept, setKept] = useState<Kept>('all');
  const results = useAnswer(() => workbench().reach.expected(), [view]);
  const broken = useMemo(() => new Map(failure?.broken.map((e) => [e.name, e.message])), [failure]);
  const rows = useMemo(
    () =>
      (view?.expectations ?? []).map((e) => {
        const all = (results ?? []).filter((r) => r.name === e.name);
        return { e, worst: all.find((r) => !r.holds) ?? all[0], families: all.length, down: broken.get(e.name) };
      }),
    [view, results, broken],
  );
  type Row = (typeof rows)[number];
  const holds = (r: Row): boolean => r.e.holds && r.down === undefined;
  const shown = rows.filter(
    (r) =>
      (kept === 'all' || holds(r) === (kept === 'holds')) &&
      `${r.e.name} ${r.worst?.kind ?? ''} ${r.e.under} ${r.e.message}`.toLowerCase().includes(text.trim().toLowerCase()),
  );
  if (!view) return null;
  const row = rows.find((r) => r.e.name === chosen) ?? rows.find((r) => !holds(r));
  const lost = rows.filter((r) => !holds(r)).length;
  return (
    <div className="stage">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <RoutesHead />
        <div className="flex flex-wrap items-center gap-2 px-4 pb-2">
          <input
            className="field w-40"
            aria-label="Narrow the expectations"
            placeholder="name, kind, failure"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <span className="flex gap-1" role="group" aria-label="Which expectations">
            {(['all', 'broken', 'holds'] as const).map((k) => (
              <button key={k} type="button" className="control" aria-pressed={kept === k} onClick={() => setKept(k)}>
                {k === 'all' ? `All ${rows.length}` : k === 'broken' ? `Broken: ${lost}` : `Hold: ${rows.length - lost}`}
              </button>
            ))}
          </span>
          <button type="button" className="control" onClick={() => expectThis({})}>
            Expect more
          </button>
          <button type="button" className="control" onClick={() => openEntry('group ')}>
            New group
          </button>
          <TableOut
            name="expectations"
            lines={() => [
              ['name', 'kind', 'under', 'state', 'found'],
              ...shown.map((r) => [r.e.name, r.worst?.kind ?? '', r.e.under, holds(r) ? 'holds' : 'broken', r.down ?? r.e.message]),
            ]}
          />
        </div>
        <div className="flex min-h-0 flex-1 flex-col px-4 pb-3">
          <LineTable
            label="Expectations"
            columns={[
              { name: 'what is expected', width: 'minmax(0,1.5fr)' },
              { name: 'kind', width: '88px', kind: 'quiet' },
              { name: 'also', width: '112px', kind: 'quiet' },
              { name: 'state', width: '88px' },
              { name: 'found', width: 'minmax(0,1fr)', kind: 'quiet' },
            ]}
            rows={shown}
            keyOf={(r) => r.e.name}
            at={shown.findIndex((r) => r.e.name === row?.e.name)}
            onChoose={(r) => setChosen(r.e.name)}
            cells={(r) => [
              { shown: r.e.name, title: r.e.name },
              r.worst?.kind ?? '',
              underWords(r.e.under),
              <span key="state" className={holds(r) ? 'text-settled' : 'text-accent'}>
                {holds(r) ? (r.e.untried ? '✓ so far' : '✓ holds') : '× broken'}
              </span>,
              { shown: r.down ?? r.e.message, title: r.down ?? r.e.message },
            ]}
            nothing={
              rows.length === 0
                ? 'Nothing is expected yet. Say what the network is for: “Expect this” stands beside every trace, cell and line.'
                : 'None of that kind.'
            }
          />
        </div>
      </div>
      <Panel label="About what is expected">
        {row ? (
          <Detail key={row.e.name} name={row.e.name} result={row.worst} families={row.families} down={row.down} />
        ) : (
          <Empty any={rows.length > 0} />
        )}
      </Panel>
    </div>
  );
}

function Empty({ any }: { readonly any: boolean }) {
  return any ? (
    <>
      <h2 className="text-xl">All of it holds</h2>
      <p className="text-ink2">Choose one to see what was tried, to change it or to end it.</p>
    </>
  ) : (
    <>
      <h2 className="text-xl">What is the network for</h2>
      <p className="text-ink2">
        State it once: what must reach what, over which way, under which failures. Every edit is held against it, and what breaks it is named.
      </p>
    </>
  );
}

/** Lines that a step changed, in the narrow room of a panel. */
function Lines({ lines }: { readonly lines: readonly LineChange[] }) {
  return (
    <details className="mt-0.5" open={lines.length < 4}>
      <summary className="cursor-pointer text-ink2">{count(lines.length, 'line')} changed</summary>
      <ul>
        {lines.slice(0, 12).map((l) => (
          <li key={`${l.file} ${l.path}`} className="border-b border-fine py-0.5">
            <span className="text-ink2">{l.router}</span> {shortPath(l.path)}
            <span className="block truncate font-mono text-xs" title={`${l.from ?? 'not written'} → ${l.to ?? 'not written'}`}>
              {l.from !== undefined && <s className="text-ink2">{l.from}</s>} {l.to}
            </span>
          </li>
        ))}
        {lines.length > 12 && <li className="text-ink2">and {lines.length - 12} more</li>}
      </ul>
    </details>
  );
}

/** One expectation: its state, the counterexample with the packet and the failure that show it, and the edit that broke it. */
function Detail({
  name,
  result,
  families,
  down,
}: {
  readonly name: string;
  readonly result: ExpectationResult | undefined;
  readonly families: number;
  readonly down: string | undefined;
}) {
  const view = useStore((s) => s.view);
  const history = useStore((s) => s.design?.history);
  const position = useStore((s) => s.design?.position ?? 0);
  const written = useAnswer<Expectation | null>(() => workbench().layout.expectation(name), [name, view]);
  const isBroken = result !== undefined && !result.holds;
  const since = useAnswer<BrokenSince | null>(() => {
    if (!isBroken) return Promise.resolve(null);
    const steps = (history ?? [])
      .slice(0, position)
      .reverse()
      .slice(0, 60)
      .map((s) => ({ title: s.title, edits: backwards(s.edits) }));
    return workbench().reach.brokenSince(name, steps);
  }, [name, isBroken, view, position]);
  const by = (result?.['broken-by'] ?? []).filter((f) => f !== '');
  const pair = result?.breach?.pair;
  const state = stateOf(result, down);
  return (
    <>
      <Tag kind={state.kind}>{state.words}</Tag>
      <h2 className="mt-1 text-xl">{name}</h2>
      <p className="text-ink2">
        {result ? whenWords(result.under) : ''}
        {families > 1 ? ', in IPv4 and IPv6' : ''}
        {result?.family === 6 && families === 1 ? ', in IPv6' : ''}
      </p>
      {down !== undefined && (
        <Section title="With what is down">
          <p>{down}.</p>
        </Section>
      )}
      {result && isBroken && (
        <Section title="What shows it">
          <p>{result.message}.</p>
          <div className="mt-1.5 flex flex-wrap gap-1.5">
            {pair && (
              <button
                type="button"
                className="control"
                onClick={() => {
                  void lookAt(pair.from.includes(':') ? 6 : 4)
                    .then(() => setFailures(by[0] === undefined ? [] : [by[0]]))
                    .then(() => traceTo(pair.from, pair.to));
                }}
              >
                See the packet
              </button>
            )}
            {by[0] !== undefined && (
              <button type="button" className="control" onClick={() => go({ stage: 'failures', fail: [by[0] ?? ''] })}>
                See the failure
              </button>
            )}
          </div>
        </Section>
      )}
      {isBroken && since !== undefined && since !== null && (
        <Section title="Broken by">
          {typeof since === 'string' ? (
            <p className="text-ink2">
              {since === 'stated'
                ? 'It did not hold when it was stated.'
                : 'No edit that is remembered: it was broken when the design was opened, or before.'}
            </p>
          ) : (
            <>
              <p data-testid="broken-since">“{since.title}”</p>
              <Lines lines={since.lines} />
              <button type="button" className="control mt-1" onClick={() => void goToStep(position - since.back)}>
                {since.back === 1 ? 'Undo it' : `Go back before it (${count(since.back, 'step')})`}
              </button>
            </>
          )}
        </Section>
      )}
      {by.length > 0 && (
        <Section title={`${count(by.length, 'failure breaks', 'failures break')} it, of ${result?.tried ?? 0} tried`}>
          <ul>
            {by.slice(0, 40).map((f) => (
              <li key={f} className="border-b border-fine py-0.5">
                <button type="button" className="link font-mono text-xs" onClick={() => go({ stage: 'failures', fail: [f] })}>
                  {f}
                </button>
              </li>
            ))}
            {by.length > 40 && <li className="text-ink2">and {by.length - 40} more</li>}
          </ul>
        </Section>
      )}
      {result && result.holds && result.tried > 0 && <p className="mt-2">It holds in each of {count(result.tried, 'failure')} that were tried.</p>}
      {result?.breach && result.breach.routers.length > 0 && (
        <Section title="Routers it is about">
          <p className="flex flex-wrap gap-x-2">
            {[...new Set(result.breach.routers)].slice(0, 12).map((r) => (
              <RouterLink key={r} name={r} />
            ))}
          </p>
        </Section>
      )}
      {written && (
        <Section title="As it is written">
          <p className="rounded border border-fine bg-paper p-2 font-mono text-xs break-words">
            {formKinds.expectation.line(expectationValues(written))}
          </p>
          <div className="mt-1.5 flex gap-1.5">
            <button type="button" className="control" onClick={() => openForm({ name: 'expectation', values: expectationValues(written) })}>
              Change it
            </button>
            <button type="button" className="control" onClick={() => void enterLine(`expect "${name}" off`, [])}>
              Expect it no longer
            </button>
          </div>
        </Section>
      )}
    </>
  );
}
