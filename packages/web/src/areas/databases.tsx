'use client';

import { formatAddress } from '@gentle-compass/core/prefix/address';
import { useDeferredValue, useMemo, useState } from 'react';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { useAreaWords } from '../parts/area-name';
import type { AdvertisementRow } from '../model/view';
import { LineTable, type LineColumn } from '../parts/line-table';
import { useAnswer } from '../parts/use-answer';
import { areaNumbered, byName, count } from '../parts/words';
import { workbench } from '../worker/client';
import { AdvertisementPanel } from './advertisement-panel';
import { AreasHead } from './areas-head';
import { countByType, everything, narrowed, type Narrowing } from './narrowing';

const columns: readonly LineColumn[] = [
  { name: 'type', width: '56px', kind: 'code' },
  { name: 'area', width: '84px', kind: 'quiet' },
  { name: 'originator', width: '104px' },
  { name: 'what it says', width: 'minmax(0,1fr)' },
];
const alone: readonly LineColumn[] = [
  { name: 'link state id', width: '116px', kind: 'code' },
  { name: 'metric', width: '56px', kind: 'number' },
];
const besideColumn: LineColumn = { name: 'who holds it, and why', width: 'minmax(0,1.7fr)' };
const where = (area: number | null): string => (area === null ? 'everywhere' : areaNumbered(area).toLowerCase());

/** The database of one router, of two side by side, or of the whole domain, narrowed by type, area, originator and prefix. */
export function Databases() {
  const areaWords = useAreaWords();
  const view = useStore((s) => s.view);
  const chosen = useStore((s) => s.router);
  const besides = useStore((s) => s.beside);
  const area = useStore((s) => s.area);
  const key = useStore((s) => s.lsa);
  const names = useMemo(() => (view?.routers ?? []).map((r) => r.name).sort(byName), [view]);
  const router = names.find((n) => n === chosen);
  const beside = router === undefined ? undefined : names.find((n) => n === besides && n !== router);
  const [own, narrow] = useState<Omit<Narrowing, 'area'>>(everything);
  const rows = useAnswer(() => workbench().areas.database(router, beside), [view, router, beside]);
  const areas = useMemo(() => [...new Set(rows?.map((r) => r.area))].sort((a, b) => (a ?? -1) - (b ?? -1)), [rows]);
  // An area that this router has no part in narrows nothing.
  const inArea = area !== undefined && areas.includes(area) ? area : undefined;
  const [everywhere, setEverywhere] = useState(false);
  const wanted = useDeferredValue(own);
  const narrowing: Narrowing = { ...wanted, area: everywhere ? null : inArea, by: beside === undefined ? undefined : wanted.by };
  const { text, type, by } = narrowing;
  const shown = useMemo(() => (rows ? narrowed(rows, { text, type, by, area: narrowing.area }) : []), [rows, text, type, by, narrowing.area]);
  const types = useMemo(
    () => countByType(rows ? narrowed(rows, { text, by, type: undefined, area: narrowing.area }) : []),
    [rows, text, by, narrowing.area],
  );
  if (!view) return null;
  return (
    <div className="stage">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <AreasHead />
        <div className="flex min-h-0 flex-1 flex-col px-4 pb-3">
          <div className="flex flex-wrap items-center gap-2 pb-2 text-ink2">
            of
            <RouterChoice label="Database of" names={names} none="the whole domain" value={router} onChoose={(name) => go({ router: name })} />
            {router !== undefined && (
              <>
                beside
                <RouterChoice
                  label="Beside the database of"
                  names={names.filter((n) => n !== router)}
                  none="no other"
                  value={beside}
                  onChoose={(name) => go({ beside: name })}
                />
              </>
            )}
            <input
              className="field ml-auto w-52 text-ink"
              placeholder="originator, prefix, host, words"
              aria-label="Narrow the advertisements"
              value={own.text}
              onChange={(e) => narrow({ ...own, text: e.target.value })}
            />
            <select
              className="field text-ink"
              aria-label="Area of the advertisements"
              value={everywhere ? 'everywhere' : (inArea ?? '')}
              onChange={(e) => {
                setEverywhere(e.target.value === 'everywhere');
                go({ area: e.target.value === 'everywhere' || e.target.value === '' ? undefined : Number(e.target.value) });
              }}
            >
              <option value="">all areas</option>
              {areas.map((a) => (
                <option key={String(a)} value={a ?? 'everywhere'}>
                  {a === null ? 'everywhere' : areaWords(formatAddress(a))}
                </option>
              ))}
            </select>
            <span className="flex basis-full flex-wrap gap-1 text-ink" role="group" aria-label="Type of the advertisements">
              {types.map((t) => (
                <button
                  key={t.type}
                  type="button"
                  className="control px-1.5"
                  title={t.name}
                  aria-label={`Type ${t.type}, ${t.name}: ${t.count}`}
                  aria-pressed={own.type === t.type}
                  onClick={() => narrow({ ...own, type: own.type === t.type ? undefined : t.type })}
                >
                  type <span className="font-mono text-xs">{t.type}</span> <span className="text-ink2">{t.count.toLocaleString('en-GB')}</span>
                </button>
              ))}
            </span>
          </div>
          {beside !== undefined && router !== undefined && rows && (
            <BesideChoice rows={rows} router={router} beside={beside} by={own.by} onChoose={(to) => narrow({ ...own, by: to })} />
          )}
          <List rows={shown} all={rows?.length} chosen={key} beside={beside} router={router} />
        </div>
      </div>
      <AdvertisementPanel router={router} beside={beside} rows={shown} />
    </div>
  );
}

/** A router, or none, from the list of all. */
function RouterChoice({
  label,
  names,
  none,
  value,
  onChoose,
}: {
  readonly label: string;
  readonly names: readonly string[];
  readonly none: string;
  readonly value: string | undefined;
  readonly onChoose: (name: string | undefined) => void;
}) {
  return (
    <select
      className="field text-ink"
      aria-label={label}
      value={value ?? ''}
      onChange={(e) => onChoose(e.target.value === '' ? undefined : e.target.value)}
    >
      <option value="">{none}</option>
      {names.map((n) => (
        <option key={n} value={n}>
          {n}
        </option>
      ))}
    </select>
  );
}

/** What both hold, and each alone, to narrow by. */
function BesideChoice({
  rows,
  router,
  beside,
  by,
  onChoose,
}: {
  readonly rows: readonly AdvertisementRow[];
  readonly router: string;
  readonly beside: string;
  readonly by: AdvertisementRow['by'];
  readonly onChoose: (by: AdvertisementRow['by']) => void;
}) {
  const counts = { both: 0, first: 0, second: 0 };
  for (const r of rows) if (r.by) counts[r.by]++;
  const choices = [
    { by: 'first', words: `${router} alone` },
    { by: 'both', words: 'both' },
    { by: 'second', words: `${beside} alone` },
  ] as const;
  return (
    <p className="flex gap-1 pb-2" role="group" aria-label="Who holds it">
      {choices.map((c) => (
        <button key={c.by} type="button" className="control" aria-pressed={by === c.by} onClick={() => onChoose(by === c.by ? undefined : c.by)}>
          {counts[c.by].toLocaleString('en-GB')} {c.words}
        </button>
      ))}
    </p>
  );
}

function List({
  rows,
  all,
  chosen,
  router,
  beside,
}: {
  readonly rows: readonly AdvertisementRow[];
  readonly all: number | undefined;
  readonly chosen: string | undefined;
  readonly router: string | undefined;
  readonly beside: string | undefined;
}) {
  const holder = (by: AdvertisementRow['by']): string => (by === 'both' ? 'both hold it' : `${(by === 'first' ? router : beside) ?? ''} alone`);
  return (
    <>
      <p className="pb-1 text-ink2" role="status">
        {all === undefined
          ? ''
          : rows.length === all
            ? count(all, 'advertisement')
            : `${rows.length.toLocaleString('en-GB')} of ${count(all, 'advertisement')}`}
      </p>
      <LineTable
        label="Advertisements"
        columns={[...columns, ...(beside === undefined ? alone : [besideColumn])]}
        rows={rows}
        keyOf={(r) => r.key}
        at={rows.findIndex((r) => r.key === chosen)}
        onChoose={(r) => go({ lsa: r.key })}
        cells={(r) => [
          { shown: r.type, title: r.name },
          where(r.area),
          r.router,
          { shown: r.says, title: r.says },
          ...(beside === undefined
            ? [r.id, r.metric ?? '']
            : [
                {
                  shown: <span className={r.by === 'both' ? 'text-ink2' : ''}>{r.by === 'both' || r.why === undefined ? holder(r.by) : r.why}</span>,
                  title: r.why ?? '',
                },
              ]),
        ]}
        nothing={
          all === undefined
            ? undefined
            : all === 0
              ? 'It holds nothing: it runs no OSPF of this family.'
              : `No advertisement fits. Clear the field to see all ${all}.`
        }
      />
    </>
  );
}
