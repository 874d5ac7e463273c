'use client';

import { useMemo, useState } from 'react';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import type { HolderRow } from '../model/reach-view';
import { LineTable } from '../parts/line-table';
import { Panel, Section } from '../parts/panel';
import { PrefixField } from '../parts/prefix-field';
import { TableOut } from '../parts/table-out';
import { useAnswer } from '../parts/use-answer';
import { workbench } from '../worker/client';
import { hostWord, reasonWords } from './reason-words';
import { RoutesHead, WhatIsDown } from './routes-head';
import { WhyAbsent } from './said';
import { expectThis, stepTo, traceTo } from './steps';

const wayWords = (r: HolderRow): string =>
  r.row === null
    ? ''
    : r.way.length > 0
      ? r.way.join(', ')
      : r.row.hops.length === 0
        ? 'dropped here'
        : r.row.hops.some((h) => h.address !== '')
          ? 'out of the design'
          : 'attached';

/** Packets to it are dropped: nothing else takes them on. */
const isLost = (r: HolderRow): boolean => !r.absence?.instead || r.absence.instead.source === 'ospf-discard';
const absentWords = (r: HolderRow): string => (r.absence?.reasons[0]?.kind === 'folded' && !isLost(r) ? 'folded' : 'not there');

type Kept = 'all' | 'has' | 'lacks';

/** One prefix across all routers: who has it, by which way and at which cost, who has not and why. */
export function PrefixPage() {
  const view = useStore((s) => s.view);
  const prefix = useStore((s) => s.prefix);
  const router = useStore((s) => s.router);
  const failure = useStore((s) => s.failure);
  const [text, setText] = useState('');
  const [kept, setKept] = useState<Kept>('all');
  const asked = prefix ?? view?.segments[0]?.subnets[0] ?? '';
  const rows = useAnswer(() => (asked === '' ? Promise.resolve([]) : workbench().routes.everywhere(asked)), [asked, view, failure]);
  const shown = useMemo(
    () =>
      (rows ?? []).filter(
        (r) =>
          (kept === 'all' || (r.row !== null) === (kept === 'has')) &&
          `${r.router} ${r.row?.type ?? ''} ${wayWords(r)} ${reasonWords(r.absence)}`.toLowerCase().includes(text.trim().toLowerCase()),
      ),
    [rows, kept, text],
  );
  if (!view) return null;
  const chosen = rows?.find((r) => r.router === router);
  const has = rows?.filter((r) => r.row !== null).length ?? 0;
  return (
    <div className="stage">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <RoutesHead>
          <WhatIsDown />
        </RoutesHead>
        <div className="flex flex-wrap items-center gap-2 px-4 pb-2">
          <PrefixField key={asked} word="Prefix" label="Prefix to look for" prefix={asked} />
          {rows && (
            <span className="flex gap-1" role="group" aria-label="Which routers">
              {(['all', 'has', 'lacks'] as const).map((k) => (
                <button key={k} type="button" className="control" aria-pressed={kept === k} onClick={() => setKept(k)}>
                  {k === 'all' ? `All ${rows.length}` : k === 'has' ? `Have it: ${has}` : `Have it not: ${rows.length - has}`}
                </button>
              ))}
            </span>
          )}
          <input
            className="field w-32"
            aria-label="Narrow the routers"
            placeholder="router, type, reason"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <TableOut
            name={`${asked} everywhere`}
            lines={() => [
              ['router', 'type', 'cost', 'way', 'why not'],
              ...shown.map((r) => [r.router, r.row?.type ?? '', r.row?.metric ?? '', wayWords(r), reasonWords(r.absence)]),
            ]}
          />
        </div>
        <div className="flex min-h-0 flex-1 flex-col px-4 pb-3">
          <LineTable
            label={`${asked} in all routers`}
            columns={[
              { name: 'router', width: '120px' },
              { name: 'type', width: '84px' },
              { name: 'cost', width: '52px', kind: 'number' },
              { name: 'by way of, or why not', width: 'minmax(0,1fr)' },
            ]}
            rows={shown}
            keyOf={(r) => r.router}
            at={shown.findIndex((r) => r.router === router)}
            onChoose={(r) => go({ router: r.router })}
            cells={(r) => [
              r.router,
              r.row ? r.row.type : <span className={isLost(r) ? 'text-accent' : 'text-ink2'}>{absentWords(r)}</span>,
              r.row?.metric ?? '',
              r.row ? wayWords(r) : { shown: <span className="text-ink2">{reasonWords(r.absence)}</span>, title: reasonWords(r.absence) },
            ]}
            nothing={
              asked === ''
                ? 'Type a prefix above, or choose one in a table.'
                : rows === null
                  ? `“${asked}” is no prefix such as 10.97.64.0/24.`
                  : rows
                    ? 'No router fits.'
                    : 'Looking at every table…'
            }
          />
        </div>
      </div>
      <Panel label="What this router has of it">
        {chosen ? (
          <>
            <p className="text-ink2">
              {chosen.router} <span className="font-mono text-xs">{asked}</span>
            </p>
            <h2 className="text-xl">
              {chosen.row
                ? `${chosen.row.type}${chosen.row.metric === null ? '' : `, cost ${chosen.row.metric}`}`
                : absentWords(chosen) === 'folded'
                  ? `Folded: it has ${chosen.absence?.instead?.prefix ?? ''}`
                  : 'It has no such route'}
            </h2>
            {chosen.row ? (
              <>
                <p>{wayWords(chosen) === 'attached' ? 'It stands on it.' : `By way of ${wayWords(chosen)}.`}</p>
                <div className="mt-2 flex flex-wrap gap-1.5">
                  <button type="button" className="control" onClick={() => stepTo({ router: chosen.router, prefix: asked })}>
                    Why
                  </button>
                  <button type="button" className="control" onClick={() => traceTo(chosen.router, hostWord(asked))}>
                    Trace
                  </button>
                  <button
                    type="button"
                    className="control"
                    onClick={() =>
                      expectThis({ name: `${chosen.router} has ${asked}`, kind: 'route', router: chosen.router, prefix: asked, type: typeOf(chosen) })
                    }
                  >
                    Expect this
                  </button>
                </div>
              </>
            ) : (
              chosen.absence && (
                <Section title="Because">
                  <WhyAbsent absence={chosen.absence} />
                </Section>
              )
            )}
          </>
        ) : (
          <>
            <h2 className="text-xl">Choose a router</h2>
            <p className="text-ink2">
              to see why it has {asked === '' ? 'a prefix' : <span className="font-mono text-xs">{asked}</span>}, or why it has not.
            </p>
          </>
        )}
      </Panel>
    </div>
  );
}

/** A kind of route that can be expected; others are not said. */
const typeOf = (r: HolderRow): string => (/^(intra|inter|external|nssa)/.test(r.row?.type ?? '') ? (r.row?.type ?? '') : '');
