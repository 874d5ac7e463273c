'use client';

import { useMemo, useState } from 'react';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import type { BesideRow } from '../model/reach-view';
import { LineTable } from '../parts/line-table';
import { TableOut } from '../parts/table-out';
import { useAnswer } from '../parts/use-answer';
import { byName, count } from '../parts/words';
import { workbench } from '../worker/client';
import { narrowing } from './narrowing';
import { RoutesHead, WhatIsDown } from './routes-head';
import { stepTo } from './steps';

type Cell = BesideRow['cells'][number];

const hopWords = (c: NonNullable<Cell>): string =>
  c.hops.length === 0 ? 'dropped' : [...new Set(c.hops.map((h) => h.router || h.iface))].join(', ');
const cellWords = (c: Cell): string => (c ? `${c.type}${c.metric === null ? '' : ` ${c.metric}`} ${hopWords(c)}` : 'none');

/** At most so many tables stand side by side. */
const most = 4;

/** The tables of up to four routers side by side: what each has, and what differs. */
export function SideBySide() {
  const view = useStore((s) => s.view);
  const router = useStore((s) => s.router);
  const beside = useStore((s) => s.beside);
  const failure = useStore((s) => s.failure);
  const prefix = useStore((s) => s.prefix);
  const [text, setText] = useState('');
  const [onlyDiffering, setOnlyDiffering] = useState(true);
  const [ospf, setOspf] = useState(false);
  const names = useMemo(() => [...(view?.routers ?? [])].map((r) => r.name).sort(byName), [view?.routers]);
  const first = names.find((n) => n === router) ?? names[0] ?? '';
  const others = (beside ?? '').split(',').filter((n) => n !== first && names.includes(n));
  const chosen = [first, ...(others.length > 0 ? others : names.filter((n) => n !== first).slice(0, 1))].slice(0, most);
  const key = chosen.join();
  const rows = useAnswer(() => (ospf ? workbench().routes.besideOspf(chosen) : workbench().routes.beside(chosen)), [key, view, failure, ospf]);
  const shown = useMemo(() => {
    const fits = narrowing<BesideRow>(text, (r) => `${r.prefix} ${r.cells.map(cellWords).join(' ')}`);
    return (rows ?? []).filter((r) => (!onlyDiffering || r.differs) && fits(r));
  }, [rows, text, onlyDiffering]);
  if (!view) return null;
  const put = (n: number, name: string): void => {
    const next = chosen.map((c, i) => (i === n ? name : c)).filter((c) => c !== '');
    go({ router: next[0], beside: next.slice(1).join(',') || undefined });
  };
  const free = names.filter((n) => !chosen.includes(n));
  const table = [['prefix', ...chosen], ...shown.map((r) => [r.prefix, ...r.cells.map(cellWords)])];
  const least = chosen.length > 2 ? 'minmax(150px,1fr)' : 'minmax(200px,1fr)';
  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col">
      <RoutesHead>
        <WhatIsDown />
      </RoutesHead>
      <div className="flex flex-wrap items-center gap-2 px-4 pb-2">
        {chosen.map((name, n) => (
          <span key={name} className="flex items-center gap-1">
            <select className="field" aria-label={n === 0 ? 'Table of' : `Beside it, ${n}`} value={name} onChange={(e) => put(n, e.target.value)}>
              {[name, ...free].sort(byName).map((x) => (
                <option key={x}>{x}</option>
              ))}
            </select>
            {n > 0 && chosen.length > 2 && (
              <button type="button" className="control" aria-label={`Take ${name} away`} onClick={() => put(n, '')}>
                ×
              </button>
            )}
          </span>
        ))}
        {chosen.length < most && free.length > 0 && (
          <button type="button" className="control" onClick={() => go({ router: first, beside: [...chosen.slice(1), free[0]].join(',') })}>
            One more
          </button>
        )}
        <span className="flex gap-1" role="group" aria-label="Which lines">
          <button type="button" className="control" aria-pressed={!ospf} onClick={() => setOspf(false)}>
            What the tables took
          </button>
          <button type="button" className="control" aria-pressed={ospf} onClick={() => setOspf(true)}>
            What OSPF computed
          </button>
        </span>
      </div>
      <div className="flex flex-wrap items-center gap-2 px-4 pb-2">
        <input
          className="field w-64"
          placeholder="inside 10.97.0.0/16, type, next hop"
          aria-label="Narrow the prefixes"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <button type="button" className="control" aria-pressed={onlyDiffering} onClick={() => setOnlyDiffering(!onlyDiffering)}>
          Only what differs
        </button>
        <span className="text-ink2" role="status">
          {rows ? `${count(rows.filter((r) => r.differs).length, 'prefix differs', 'prefixes differ')} of ${rows.length}` : ''}
        </span>
        <TableOut name={`${chosen.join(' ')} routes`} lines={() => table} />
      </div>
      <div className="flex min-h-0 flex-1 flex-col px-4 pb-3">
        <LineTable
          label="Tables side by side"
          columns={[
            { name: 'prefix', width: view.family === 6 ? '240px' : '150px', kind: 'code' },
            { name: '', width: '14px' },
            ...chosen.map((name) => ({ name, width: least })),
          ]}
          rows={shown}
          keyOf={(r) => r.prefix}
          at={shown.findIndex((r) => r.prefix === prefix)}
          onChoose={(r) => go({ prefix: r.prefix })}
          cells={(r) => [
            r.prefix,
            { shown: r.differs ? '≠' : '', title: r.differs ? 'not alike' : '' },
            ...r.cells.map((c, n) =>
              c
                ? {
                    shown: (
                      <button
                        type="button"
                        tabIndex={-1}
                        className="w-full truncate text-left hover:underline"
                        onClick={(e) => {
                          e.stopPropagation();
                          stepTo({ router: chosen[n] ?? '', prefix: r.prefix });
                        }}
                      >
                        <span className="inline-block w-12 text-right font-mono text-[12.5px]">{c.metric ?? ''}</span>{' '}
                        <span className="text-ink2">{c.type}</span> {hopWords(c)}
                      </button>
                    ),
                    title: cellWords(c),
                  }
                : { shown: <span className="pl-14 text-accent">none</span>, title: 'It has no such route' },
            ),
          ]}
          nothing={rows ? (onlyDiffering && text === '' ? 'These tables are alike in kind and cost.' : 'No prefix fits.') : 'Reading the tables…'}
        />
      </div>
    </div>
  );
}
