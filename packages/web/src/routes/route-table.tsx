'use client';

import { useMemo, useState, type ReactNode } from 'react';
import type { RouteRow } from '../model/view';
import { RovingList } from '../parts/roving-list';
import { TableOut } from '../parts/table-out';
import { useWide } from '../parts/use-wide';
import { areaName } from '../parts/words';
import { holdingOf } from './holding';
import { narrowing } from './narrowing';

const columns = [
  { id: 'prefix', name: 'prefix', width: '150px' },
  { id: 'type', name: 'type', width: '92px' },
  { id: 'metric', name: 'cost', width: '60px' },
  { id: 'hops', name: 'next hops', width: 'minmax(0,1fr)' },
] as const;
/** On a wide window also the interface that packets leave by, and the area that told the route. */
const further = [
  { id: 'iface', name: 'out by', width: 'minmax(0,0.5fr)' },
  { id: 'area', name: 'area', width: '110px' },
] as const;
type Column = (typeof columns)[number]['id'] | (typeof further)[number]['id'];

/** Several next hops with long addresses: all names first, so that none of them is cut. */
function byName(r: RouteRow): ReactNode {
  return (
    <>
      {r.hops.map((h) => (h.router === '' ? `attached, ${h.iface}` : h.router)).join(', ')}{' '}
      <span className="font-mono text-xs text-ink2">
        {r.hops
          .map((h) => h.address)
          .filter(Boolean)
          .join(', ')}
      </span>
    </>
  );
}

/** Interfaces that a route leaves by. */
const outBy = (r: RouteRow): string => [...new Set(r.hops.map((h) => h.iface))].join(', ');

/** True when a row has the text in its prefix, type, area, next hop or change. */
const saidIn = (r: RouteRow): string =>
  `${r.prefix} ${r.type} ${r.area} ${r.area === '' ? '' : areaName(r.area)} ${r.change} ${r.folded} ${r.hops.map((h) => `${h.iface} ${h.address} ${h.router}`).join(' ')}`;
export const rowHas = (r: RouteRow, text: string): boolean => narrowing(text, saidIn)(r);

/** Rows in the order of a column; equal ones by prefix. */
export function sortRows(rows: readonly RouteRow[], by: Column, down: boolean): RouteRow[] {
  const value = (r: RouteRow): string | number =>
    by === 'prefix'
      ? r.key
      : by === 'metric'
        ? (r.metric ?? -1)
        : by === 'hops'
          ? r.hops.map((h) => h.router || h.iface).join()
          : by === 'iface'
            ? outBy(r)
            : r[by];
  return [...rows].sort((a, b) => {
    const [x, y] = [value(a), value(b)];
    const d = x < y ? -1 : x > y ? 1 : a.key - b.key;
    return down ? -d : d;
  });
}

const hopText = (r: RouteRow): string =>
  r.hops.length === 0
    ? r.change === 'lost'
      ? 'lost'
      : 'dropped here'
    : r.hops.map((h) => (h.router === '' ? `attached, ${h.iface}` : `${h.router} (${h.address})`)).join(', ');

const changeColour = { '': '', lost: 'text-accent', gained: 'text-settled', changed: 'text-caution' } as const;

/** A route table: sorted, filtered, copied as text, fast at any length. */
export function RouteTable({
  rows,
  label,
  chosen,
  onRow,
  compared,
}: {
  readonly rows: readonly RouteRow[];
  readonly label: string;
  readonly chosen: string | undefined;
  readonly onRow: (prefix: string) => void;
  readonly compared: boolean;
}) {
  const [text, setText] = useState('');
  const [sort, setSort] = useState<{ by: Column; down: boolean }>({ by: 'prefix', down: false });
  const [onlyChanged, setOnlyChanged] = useState(false);
  const holding = useMemo(() => holdingOf(rows, text), [rows, text]);
  const fits = useMemo(() => narrowing(text, saidIn), [text]);
  const shown = useMemo(
    () =>
      holding?.lines ??
      sortRows(
        rows.filter((r) => fits(r) && (!compared || !onlyChanged || r.change !== '')),
        sort.by,
        sort.down,
      ),
    [rows, fits, sort, compared, onlyChanged, holding],
  );
  const wide = useWide(1600) && !compared;
  const own = wide ? [...columns, ...further] : columns;
  // As wide as the longest prefix of the table, each sign 7.9 pixels: those of IPv6 are long.
  const longest = useMemo(() => Math.ceil(7.9 * Math.max(0, ...rows.map((r) => r.prefix.length))), [rows]);
  const prefix = (least: number): string => `${Math.max(least, longest)}px`;
  const grid = {
    gridTemplateColumns: compared
      ? `${prefix(132)} 84px 44px minmax(110px, 1fr) minmax(110px, 190px)`
      : own.map((c) => (c.id === 'prefix' ? prefix(parseInt(c.width)) : c.width)).join(' '),
  };
  const lines = (): (string | number)[][] => [
    ['prefix', 'type', 'cost', 'next hops', ...(compared ? ['change', 'folded', 'before'] : [])],
    ...shown.map((r) => [r.prefix, r.type, r.metric ?? '', hopText(r), ...(compared ? [r.change, r.folded, r.before] : [])]),
  ];
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="flex items-center gap-2 pb-2">
        <input
          className="field w-64"
          placeholder="inside 10.97.0.0/16, host, type, next hop"
          aria-label="Narrow the routes"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        {compared && (
          <button type="button" className="control" aria-pressed={onlyChanged} onClick={() => setOnlyChanged(!onlyChanged)}>
            Only what changed
          </button>
        )}
        <span className="text-ink2" role="status">
          {holding ? holding.words : shown.length === rows.length ? `${rows.length} routes` : `${shown.length} of ${rows.length} routes`}
        </span>
        <TableOut name={label} lines={lines} />
      </div>
      <div
        role="table"
        aria-label={label}
        aria-rowcount={shown.length + 1}
        className="flex min-h-0 flex-1 flex-col rounded border border-rule bg-sheet"
      >
        <div role="row" className="grid gap-3 border-b border-rule px-3 py-1 text-ink2" style={grid}>
          {own.map((c) => (
            <span
              key={c.id}
              role="columnheader"
              aria-sort={sort.by === c.id ? (sort.down ? 'descending' : 'ascending') : 'none'}
              className={c.id === 'metric' ? 'text-right' : ''}
            >
              <button type="button" className="hover:text-ink" onClick={() => setSort({ by: c.id, down: sort.by === c.id && !sort.down })}>
                {c.name}
                {sort.by === c.id ? (sort.down ? ' ↓' : ' ↑') : ''}
              </button>
            </span>
          ))}
          {compared && <span role="columnheader">against before</span>}
        </div>
        <RovingList
          count={shown.length}
          rowHeight={26}
          at={shown.findIndex((r) => r.prefix === chosen)}
          onMove={() => undefined}
          box={{ role: 'rowgroup', className: 'min-h-0 flex-1 overflow-y-auto' }}
          inner={{ as: 'div', role: 'presentation' }}
          row={(index, top, focus) => {
            const r = shown[index];
            if (!r) return null;
            return (
              <div
                key={r.prefix}
                role="row"
                aria-rowindex={index + 2}
                aria-selected={chosen === r.prefix}
                {...focus}
                className={`absolute left-0 grid w-full cursor-pointer items-center gap-3 border-b border-fine px-3 ${chosen === r.prefix ? 'bg-paper font-semibold' : 'hover:bg-paper'}`}
                style={{ ...grid, height: 26, transform: `translateY(${top}px)` }}
                onClick={() => onRow(r.prefix)}
                onKeyDown={(e) => {
                  if (e.key === 'Enter') onRow(r.prefix);
                }}
              >
                <span role="cell" className={`font-mono text-[12.5px] ${r.change === 'lost' ? 'line-through' : ''}`}>
                  {r.prefix}
                </span>
                <span role="cell">{r.type}</span>
                <span role="cell" className="text-right font-mono text-[12.5px]">
                  {r.metric ?? ''}
                </span>
                <span role="cell" className={`truncate ${r.hops.length === 0 ? 'text-accent' : ''}`} title={hopText(r)}>
                  {r.hops.length === 0
                    ? hopText(r)
                    : r.hops.length > 1 && r.hops.some((h) => h.address.includes(':'))
                      ? byName(r)
                      : r.hops.map((h, i) => (
                          <span key={`${h.iface} ${h.address}`}>
                            {i > 0 && ', '}
                            {h.router === '' ? <span className="text-ink2">attached, {h.iface}</span> : <>{h.router} </>}
                            {h.address !== '' && <span className="font-mono text-xs text-ink2">{h.address}</span>}
                          </span>
                        ))}
                </span>
                {wide && (
                  <>
                    <span role="cell" className="truncate font-mono text-xs text-ink2">
                      {outBy(r)}
                    </span>
                    <span role="cell">{r.area === '' ? '' : areaName(r.area)}</span>
                  </>
                )}
                {compared && (
                  <span
                    role="cell"
                    className={`truncate ${r.folded === '' ? changeColour[r.change] : 'text-ink2'}`}
                    title={[r.change, r.folded, r.before === '' ? '' : `was ${r.before}`].filter(Boolean).join(', ')}
                  >
                    {r.folded === '' ? `${r.change}${r.before === '' ? '' : `, was ${r.before}`}` : `${r.change}, ${r.folded}`}
                  </span>
                )}
              </div>
            );
          }}
        />
        {shown.length === 0 && <p className="p-3 text-ink2">No route fits. Clear the field to see all {rows.length}.</p>}
      </div>
    </div>
  );
}
