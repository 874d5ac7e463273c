'use client';

import { Popover } from 'radix-ui';
import { useEffect, useMemo, useRef, useState } from 'react';
import { fold } from '../model/panes';
import type { DesignView } from '../model/view';
import { Combobox } from '../parts/combobox';
import { typing } from '../parts/typing';
import { areaName, count } from '../parts/words';
import { findOnMap, type Found } from './find';
import { shows, type Shows } from './map-words';

export type { Found } from './find';

/** Finds routers, areas and subnets on the map by name or address. */
function Finder({ view, onFound }: { readonly view: DesignView; readonly onFound: (f: Found) => void }) {
  const [text, setText] = useState('');
  const field = useRef<HTMLInputElement>(null);
  const hits = useMemo(() => findOnMap(view, text), [view, text]);
  useEffect(() => {
    const onKey = (e: globalThis.KeyboardEvent): void => {
      if (e.key !== 'f' || e.ctrlKey || e.metaKey || e.altKey || typing(e.target)) return;
      e.preventDefault();
      field.current?.focus();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
  const take = (n: number): void => {
    const hit = hits[n];
    if (!hit) return;
    setText('');
    field.current?.blur();
    onFound(hit);
  };
  return (
    <div className="relative">
      <Combobox
        label="Find on the map"
        listLabel="Found"
        text={text}
        choices={hits.map((h) => ({ key: `${h.kind} ${h.words}`, words: h.words, about: h.about }))}
        begin="first"
        onText={setText}
        onTake={take}
        onKey={(e) => {
          if (e.key !== 'Escape') return false;
          setText('');
          field.current?.blur();
          return true;
        }}
        field={field}
        look={{
          field: 'field w-[196px]',
          list: 'absolute top-full left-0 z-20 mt-1 w-[300px] rounded border border-rule bg-sheet px-3 py-1 shadow-lg',
          words: 'min-w-0 flex-1 truncate',
          placeholder: 'Find: name, address (f)',
          nothing: 'Nothing on the map has that name or address.',
        }}
      />
    </div>
  );
}

interface AreasProps {
  readonly view: DesignView;
  readonly folded: readonly string[];
  readonly onFound: (f: Found) => void;
}

/** Areas that can be folded: every one but the backbone. */
const foldable = (view: DesignView): string[] => view.areas.flatMap((a) => (a.id === '0.0.0.0' ? [] : [a.id]));

/** Areas, each folded into one plate or laid open. */
function Areas({ view, folded, onFound }: AreasProps) {
  if (foldable(view).length === 0) return null;
  return (
    <Popover.Root>
      <Popover.Trigger className="control">{folded.length === 0 ? 'Areas ▾' : `Areas: ${folded.length} folded ▾`}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          className="z-40 max-h-[70vh] w-72 overflow-y-auto rounded border border-rule bg-sheet p-2 shadow-lg"
        >
          <AreaList view={view} folded={folded} onFound={onFound} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** What the menu of areas holds: made while it is open only. */
function AreaList({ view, folded, onFound }: AreasProps) {
  const turn = (id: string): void => fold(folded.includes(id) ? folded.filter((a) => a !== id) : [...folded, id]);
  return (
    <>
      <div className="flex gap-1.5 border-b border-fine pb-2">
        <button type="button" className="control" onClick={() => fold(foldable(view))}>
          Fold all
        </button>
        <button type="button" className="control" onClick={() => fold([])}>
          Unfold all
        </button>
      </div>
      <ul>
        {view.areas.map((a) =>
          a.id === '0.0.0.0' ? null : (
            <li key={a.id} className="flex items-baseline gap-2 py-[3px]">
              <label className="flex min-w-0 flex-1 cursor-pointer items-baseline gap-2">
                <input type="checkbox" checked={folded.includes(a.id)} onChange={() => turn(a.id)} />
                <span className="truncate">
                  {areaName(a.id)} folded{a.name === '' ? '' : `, ${a.name}`}
                </span>
              </label>
              <button
                type="button"
                className="link text-ink2"
                onClick={() => onFound({ kind: 'area', area: a.id, words: areaName(a.id), about: '' })}
              >
                show
              </button>
              <span className="w-20 text-right text-ink2">{count(a.routers.length, 'router')}</span>
            </li>
          ),
        )}
      </ul>
    </>
  );
}

interface Props {
  readonly view: DesignView;
  readonly folded: readonly string[];
  readonly showing: Shows;
  readonly onShow: (s: Shows) => void;
  readonly onFound: (f: Found) => void;
  readonly onBy: (k: number) => void;
  readonly onFit: () => void;
  /** False until the map is filled: an empty sheet is nothing to save. */
  readonly drawn: boolean;
  readonly onSvg: () => void;
  /** Labels that have no room on the chart. */
  readonly leftOut: number;
  /** What was placed by hand on the chart as it is. */
  readonly moved: readonly string[];
  readonly onPlaceAgain: () => void;
  /** Opens the tables of the design in the place of the map. */
  readonly onTables?: (() => void) | undefined;
}

/** What is at hand over the map: search, what is written on it, folding, zoom. */
export function MapTools({ view, folded, showing, onShow, onFound, onBy, onFit, drawn, onSvg, leftOut, moved, onPlaceAgain, onTables }: Props) {
  return (
    <>
      <div className="absolute top-3 left-3 flex flex-wrap gap-1.5">
        <Finder view={view} onFound={onFound} />
        <div role="group" aria-label="What the map shows" className="flex">
          {shows.map((s) => (
            <button key={s} type="button" className="control -ml-px first:ml-0" aria-pressed={showing === s} onClick={() => onShow(s)}>
              {s}
            </button>
          ))}
        </div>
        <Areas view={view} folded={folded} onFound={onFound} />
        {onTables && (
          <button type="button" className="control" onClick={onTables}>
            Tables
          </button>
        )}
      </div>
      {leftOut > 0 && (
        <p className="absolute bottom-3 left-3 rounded bg-sheet/90 px-2 py-1 text-ink2">
          {count(leftOut, 'address', 'addresses')} without room: point at a link to read its own
        </p>
      )}
      <div className="absolute right-3 bottom-3 flex gap-1">
        {moved.length > 0 && (
          <button type="button" className="control" onClick={onPlaceAgain} title={`Placed by hand: ${moved.join(', ')}`}>
            Give up {count(moved.length, 'place')} chosen by hand
          </button>
        )}
        <button type="button" className="control" aria-label="Zoom in" onClick={() => onBy(1.25)}>
          +
        </button>
        <button type="button" className="control" aria-label="Zoom out" onClick={() => onBy(0.8)}>
          −
        </button>
        <button type="button" className="control" onClick={onFit}>
          Fit
        </button>
        <button type="button" className="control" aria-label="Export the map as SVG" disabled={!drawn} onClick={onSvg}>
          SVG
        </button>
      </div>
    </>
  );
}
