'use client';

import { changeSheet } from '@gentle-compass/core/reports/change-sheet';
import { useState, type ReactNode } from 'react';
import { fileName, save } from '../parts/save';
import { refer } from '../model/comparing';
import { goToStep, returnTo } from '../model/history';
import { saveVersion } from '../model/keeping';
import { deleteVersion, versionsOf, type VersionRow } from '../model/kept-designs';
import { go } from '../model/moving';
import { openVariant } from '../model/session';
import { useStore } from '../model/state';
import { openEntry } from '../model/panes';
import type { ComparisonView } from '../model/view';
import { Elections } from '../parts/elections';
import { NumberTable } from '../parts/number-table';
import { Panel, Section } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { areaName, changeWords, count, listWords } from '../parts/words';
import { LineList } from './line-list';

const moment = (ms: number): string => new Date(ms).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });

/** One part of the comparison under its heading; says so when nothing differs. */
function Part({ title, n, none, children }: { readonly title: string; readonly n: number; readonly none: string; readonly children: ReactNode }) {
  return (
    <section className="mt-5">
      <h3 className="heading mb-1">
        {title}
        {n > 0 && ` (${n.toLocaleString('en-GB')})`}
      </h3>
      {n === 0 ? <p className="text-ink2">{none}</p> : children}
    </section>
  );
}

function Neighbours({ list }: { readonly list: ComparisonView['neighbors'] }) {
  return (
    <NumberTable
      label="Neighbour states that differ"
      columns={[
        { name: 'router', kind: 'name' },
        { name: 'interface', kind: 'code' },
        { name: 'towards', kind: 'words' },
        { name: 'before', kind: 'words' },
        { name: 'now', kind: 'words' },
      ]}
      rows={list.slice(0, 60).map((n) => ({
        key: `${n.router} ${n.iface} ${n.peer}`,
        cells: [
          n.router,
          n.iface,
          n.peer,
          <span key="before" className="text-ink2">
            {n.before}
          </span>,
          <span key="now" className={n.after === 'full' || n.after === '2-way' ? '' : 'text-accent'}>
            {n.after}
          </span>,
        ],
      }))}
    />
  );
}

function Routes({ list }: { readonly list: ComparisonView['routers'] }) {
  const sum = (r: (typeof list)[number]): number => r.lost + r.gained + r.changed;
  return (
    <NumberTable
      label="Routes that differ"
      columns={[
        { name: 'router', kind: 'name' },
        { name: 'lost', kind: 'number', width: 90 },
        { name: 'gained', kind: 'number', width: 90 },
        { name: 'changed', kind: 'number', width: 90 },
        { name: 'in a summary now', kind: 'number', width: 140 },
      ]}
      rows={[...list]
        .sort((a, b) => sum(b) - sum(a))
        .slice(0, 80)
        .map((r) => ({
          key: r.router,
          cells: [
            r.gone ? (
              `${r.router}, not there any more`
            ) : (
              <button key="name" type="button" className="link" onClick={() => go({ stage: 'routes', router: r.router, prefix: undefined })}>
                {r.router}
              </button>
            ),
            r.lost,
            r.gained,
            r.changed,
            r.folded,
          ],
        }))}
    />
  );
}

function Comparison({ name, c }: { readonly name: string; readonly c: ComparisonView }) {
  const design = useStore((s) => s.design?.name ?? 'campus');
  return (
    <>
      <div className="flex items-baseline gap-3">
        <h2 className="text-xl">Now, compared with {name}</h2>
        <button
          type="button"
          className="control ml-auto"
          disabled={c.lines.length === 0}
          onClick={() =>
            save(`${fileName(design)}-what-to-alter.md`, changeSheet(`${design}: what to alter, from ${name}`, c.lines), 'text/markdown')
          }
        >
          Worksheet of what to alter
        </button>
      </div>
      <p className="text-ink2">
        {count(c.lines.length, 'line')} {c.lines.length === 1 ? 'differs' : 'differ'}; {count(c.neighbors.length, 'neighbour state')},{' '}
        {count(c.areas.length, 'area')} and {count(c.lost + c.gained + c.changed, 'route')} {c.lost + c.gained + c.changed === 1 ? 'is' : 'are'} other
        ones.
      </p>
      {c.findingsGone.length + c.findingsNew.length > 0 && (
        <Part title="Findings" n={c.findingsGone.length + c.findingsNew.length} none="">
          <ul>
            {c.findingsNew.map((m) => (
              <li key={`new ${m}`} className="border-b border-fine py-0.5">
                <span className="font-semibold text-accent">new</span> {m}
              </li>
            ))}
            {c.findingsGone.map((m) => (
              <li key={`gone ${m}`} className="border-b border-fine py-0.5">
                <span className="font-semibold text-settled">settled</span> <span className="text-ink2">{m}</span>
              </li>
            ))}
          </ul>
        </Part>
      )}
      <Part title="Configuration lines" n={c.lines.length} none="Every document is the same.">
        <LineList lines={c.lines} atMost={200} />
      </Part>
      <Part title="Neighbours" n={c.neighbors.length} none="Every neighbour rests in the state it had.">
        <Neighbours list={c.neighbors} />
      </Part>
      <Part title="Who leads" n={c.elections.length} none="Every segment is led by those who led it.">
        <Elections list={c.elections} />
      </Part>
      {c.routerIds.length > 0 && (
        <Part title="Router ids" n={c.routerIds.length} none="">
          <ul>
            {c.routerIds.map((x) => (
              <li key={`${x.router} ${x.process}`} className="border-b border-fine py-0.5">
                {x.router}: <span className="font-mono text-xs text-ink2">{x.before}</span> → <span className="font-mono text-xs">{x.after}</span>{' '}
                <span className="text-ink2">{x.noticed.length === 0 ? 'nobody notices' : `noticed by ${listWords(x.noticed)}`}</span>
              </li>
            ))}
          </ul>
        </Part>
      )}
      <Part title="Areas" n={c.areas.length} none="The same areas, of the same types.">
        <ul>
          {c.areas.map((a) => (
            <li key={a.id} className="border-b border-fine py-0.5">
              {areaName(a.id)}: <span className="text-ink2">{a.before}</span> → {a.after}
            </li>
          ))}
        </ul>
      </Part>
      <Part title="Routes by router" n={c.routers.length} none="Every table is the same.">
        <Routes list={c.routers} />
      </Part>
    </>
  );
}

/** The history of the design: every step in words and in what it did; each can be gone back to. */
function History() {
  const history = useStore((s) => s.design?.history);
  const position = useStore((s) => s.design?.position ?? 0);
  if (!history) return null;
  return (
    <ol className="text-[12.5px]" aria-label="Steps">
      {history
        .map((s, n) => (
          <li key={n} className={`border-b border-fine py-1 ${n >= position ? 'text-ink3' : ''}`}>
            <div className="flex gap-2">
              <span className="min-w-0 grow break-words">{s.title}</span>
              {n !== position - 1 ? (
                <button
                  type="button"
                  className="link shrink-0"
                  onClick={() => void goToStep(n + 1)}
                  aria-label={`${n >= position ? 'redo to here' : 'back to here'}: ${s.title}`}
                >
                  {n >= position ? 'redo to here' : 'back to here'}
                </button>
              ) : (
                <span className="shrink-0 font-semibold">now</span>
              )}
            </div>
            {s.effect && <p className="text-ink2">{changeWords(s.effect)}</p>}
          </li>
        ))
        .reverse()}
      <li className="flex py-1">
        <span className="grow text-ink2">The beginning</span>
        {position === 0 ? (
          <span className="font-semibold">now</span>
        ) : (
          <button type="button" className="link" onClick={() => void goToStep(0)}>
            back to here
          </button>
        )}
      </li>
    </ol>
  );
}

function Versions() {
  const id = useStore((s) => s.design?.id);
  const [turn, setTurn] = useState(0);
  const [name, setName] = useState('');
  const [note, setNote] = useState('');
  const versions = useAnswer<readonly VersionRow[]>(() => (id === undefined ? Promise.resolve([]) : versionsOf(id)), [id, turn]);
  const save = (): void => {
    void saveVersion(name.trim(), note.trim()).then(() => {
      setName('');
      setNote('');
      setTurn(turn + 1);
    });
  };
  return (
    <>
      <form
        className="grid gap-1.5"
        onSubmit={(e) => {
          e.preventDefault();
          if (name.trim() !== '') save();
        }}
      >
        <input
          className="field"
          placeholder="Name of this version"
          aria-label="Name of this version"
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <input className="field" placeholder="Note, if wanted" aria-label="Note" value={note} onChange={(e) => setNote(e.target.value)} />
        <button type="submit" className="control justify-self-start" disabled={name.trim() === ''}>
          Keep this state
        </button>
      </form>
      <ul className="mt-2" aria-label="Versions">
        {[...(versions ?? [])].reverse().map((v) => (
          <li key={v.id} className="border-t border-fine py-1">
            <p className="font-semibold">{v.name}</p>
            <p className="text-ink2">
              {moment(v.made)}
              {v.summary && `, ${count(v.summary.routers, 'router')}, ${count(v.summary.errors, 'error')}`}
            </p>
            {v.note !== '' && <p>{v.note}</p>}
            <p className="flex gap-3">
              <button type="button" className="link" onClick={() => void refer({ kind: 'version', id: v.id, name: v.name })}>
                compare
              </button>
              <button type="button" className="link" onClick={() => void returnTo(v)}>
                go back to it
              </button>
              <button type="button" className="link" onClick={() => void openVariant(v.name, v.documents)}>
                open as variant
              </button>
              <button type="button" className="link text-ink2" onClick={() => void deleteVersion(v.id).then(() => setTurn(turn + 1))}>
                delete
              </button>
            </p>
          </li>
        ))}
      </ul>
    </>
  );
}

/** The stage of changes: now against something, the steps that led here, and versions to come back to. */
export function Changes() {
  const reference = useStore((s) => s.reference);
  const steps = useStore((s) => s.design?.position ?? 0);
  const comparison = useStore((s) => s.comparison);
  return (
    <div className="flex min-h-0 grow max-[899px]:flex-col">
      <h1 className="sr-only">Changes</h1>
      <div className="min-w-0 grow overflow-y-auto px-6 py-5" tabIndex={0} role="region" aria-label="Comparison">
        {reference && comparison ? (
          <Comparison name={reference.name} c={comparison} />
        ) : reference ? (
          <p className="text-ink2">Laying the two states side by side…</p>
        ) : (
          <>
            <h2 className="text-xl">Nothing is compared yet</h2>
            <p className="mt-1 max-w-[560px] text-ink2">
              Choose what “now” is compared with: lines, neighbours, areas and routes stand here then, and the table under Routes marks what changed.
              The same choice is in the bar above in every stage.
            </p>
            <div className="mt-3 flex flex-wrap gap-2">
              <button
                type="button"
                className="control"
                disabled={steps === 0}
                onClick={() => void refer({ kind: 'last-change', id: 'last-change', name: 'the state before the last change' })}
              >
                Before the last change
              </button>
              <button
                type="button"
                className="control"
                onClick={() => void refer({ kind: 'opened', id: 'opened', name: 'the state it was opened in' })}
              >
                As it was opened
              </button>
              <button type="button" className="control" onClick={() => openEntry()}>
                Make a change ( / )
              </button>
            </div>
          </>
        )}
      </div>
      <Panel label="Steps and versions">
        <h2 className="text-xl">{steps === 0 ? 'No change yet' : count(steps, 'change')}</h2>
        <History />
        <Section title="Versions">
          <Versions />
        </Section>
      </Panel>
    </div>
  );
}
