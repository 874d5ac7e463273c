'use client';

import { useMemo, useState, type KeyboardEvent } from 'react';
import { go } from '../model/moving';
import type { ComparisonView, DesignView } from '../model/view';
import { RovingList } from './roving-list';
import { byName } from './words';

type Change = Omit<ComparisonView['routers'][number], 'folded'>;

const rowHeight = 26;
/** Lists longer than this can be searched. */
const searchedAbove = 24;

/** What stands beside a router: how many routes it has, or what became of them. */
const figure = (routes: number | null, change: Change | undefined): string =>
  change ? (change.gone ? 'down' : `±${change.lost + change.gained + change.changed}`) : String(routes ?? '');

/** Every router, to choose one by name, by arrow keys or by what stands beside it. Only rows in sight are drawn. */
export function RouterList({
  routers,
  chosen,
  changes,
}: {
  readonly routers: DesignView['routers'];
  readonly chosen: string;
  readonly changes: readonly Change[] | undefined;
}) {
  const [text, setText] = useState('');
  const changeOf = useMemo(() => new Map(changes?.map((x) => [x.router, x])), [changes]);
  const ordered = useMemo(() => [...routers].sort((a, b) => byName(a.name, b.name)), [routers]);
  const shown = useMemo(() => {
    const wanted = text.trim().toLowerCase();
    return wanted === '' ? ordered : ordered.filter((r) => r.name.toLowerCase().includes(wanted));
  }, [ordered, text]);
  const at = shown.findIndex((r) => r.name === chosen);
  const move = (n: number): void => {
    const router = shown[n];
    if (router) go({ router: router.name });
  };
  const first = (e: KeyboardEvent): void => {
    const next = { Enter: 0, ArrowDown: at + 1, ArrowUp: at - 1 }[e.key];
    if (next === undefined) return;
    e.preventDefault();
    move(next);
  };
  return (
    <>
      {routers.length > searchedAbove && (
        <input
          className="field mx-3 mb-1 w-auto"
          aria-label="Find a router in the list"
          placeholder="Find a router"
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={first}
        />
      )}
      {shown.length === 0 && <p className="px-3 text-ink2">No router has that in its name.</p>}
      <RovingList
        count={shown.length}
        rowHeight={rowHeight}
        at={at}
        onMove={move}
        box={{ className: 'min-h-0 flex-1 overflow-y-auto pb-3' }}
        inner={{ 'aria-label': 'Routers' }}
        row={(index, top, focus) => {
          const r = shown[index];
          if (!r) return null;
          const change = changeOf.get(r.name);
          return (
            <li key={r.name} className="absolute inset-x-0" style={{ top, height: rowHeight }} aria-setsize={shown.length} aria-posinset={index + 1}>
              <button
                type="button"
                {...focus}
                aria-current={r.name === chosen}
                onClick={() => go({ router: r.name })}
                className={`flex w-full items-baseline px-3 py-0.5 text-left ${r.name === chosen ? 'bg-sheet font-semibold' : 'hover:bg-sheet'}`}
              >
                <span className="truncate">{r.name}</span>
                <span className={`ml-auto font-mono text-xs ${change ? 'text-accent' : 'text-ink2'}`}>{figure(r.routes, change)}</span>
              </button>
            </li>
          );
        }}
      />
    </>
  );
}
