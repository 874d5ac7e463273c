'use client';

import type { Finding } from '@gentle-compass/core/findings/finding';
import { useDeferredValue, useMemo, useState } from 'react';
import { troubleLetters } from '../map/area-map';
import { makeChange } from '../model/history';
import { useCosts } from '../model/judging';
import { useStore } from '../model/state';
import type { DesignView, PairView } from '../model/view';
import { Panel } from '../parts/panel';
import { count } from '../parts/words';
import { PairPage } from './facing';
import { allOfOneKind } from './kinds';
import { fits, ordered, pairOrders, pairTexts, type PairOrder } from './narrowing';
import { NeighboursHead } from './neighbours-head';
import { NoPair, PairPanel } from './pair-panel';

const filters = ['trouble', 'rests', 'full', 'all'] as const;
type Filter = (typeof filters)[number];
const filterWords: Record<Filter, string> = { trouble: 'in trouble', rests: 'rest below Full, rightly', full: 'full', all: 'all' };
const orderWords: Record<PairOrder, string> = { trouble: 'trouble first', segment: 'by segment', cost: 'what hangs on it' };

/** Rows at first; more are shown on request. */
const shownAtFirst = 200;

const takes = (p: PairView, f: Filter): boolean => f === 'all' || p.kind === f || (f === 'trouble' && p.kind === 'down');

/** Facing pages for every pair of routers on one wire, trouble first. */
export function Pairs() {
  const view = useStore((s) => s.view);
  const chosen = useStore((s) => s.pair);
  const router = useStore((s) => s.router);
  const [filter, setFilter] = useState<Filter>('all');
  const [order, setOrder] = useState<PairOrder>('trouble');
  const [text, setText] = useState('');
  const [shown, setShown] = useState(shownAtFirst);
  // Costs come one by one: only an order by them looks at them.
  const costs = useCosts((s) => (order === 'cost' ? s.costs : none));
  const all = view?.pairs;
  const letters = useMemo(() => (view ? troubleLetters(view) : new Map<string, string>()), [view]);
  const sorted = useMemo(() => ordered(all ?? [], order, letters, costs), [all, order, letters, costs]);
  const areas = view?.areas;
  const texts = useMemo(() => pairTexts(all ?? [], (id) => areas?.find((a) => a.id === id)?.name ?? ''), [all, areas]);
  const counts = useMemo(() => filters.map((f) => (all ?? []).filter((p) => takes(p, f)).length), [all]);
  // What is typed stands in the field at once; a long list follows it.
  const typed = useDeferredValue(text);
  const pairs = useMemo(() => sorted.filter((p) => takes(p, filter) && fits(texts.get(p.id) ?? '', typed)), [sorted, filter, texts, typed]);
  if (!view) return null;
  const open =
    pairs.find((p) => p.id === chosen) ??
    (router === undefined ? undefined : pairs.find((p) => p.kind === 'trouble' && (p.a.router === router || p.b.router === router))) ??
    pairs.find((p) => p.kind === 'trouble');
  // A chosen pair is always among those that are shown.
  const upTo = Math.max(shown, open ? pairs.indexOf(open) + 1 : 0);
  const rows = pairs.slice(0, upTo);
  return (
    <div className="stage">
      <div className="flex min-w-0 flex-1 flex-col">
        <NeighboursHead>
          <span className="ml-auto text-ink2">
            {count(view.pairs.length, 'pair')} on {count(view.segments.length, 'segment')}
          </span>
        </NeighboursHead>
        <div className="flex flex-wrap items-center gap-x-3 gap-y-2 px-4 pb-2">
          <span className="flex gap-1" role="group" aria-label="Which pairs">
            {filters.map((f, n) => (
              <button key={f} type="button" className="control" aria-pressed={filter === f} onClick={() => setFilter(f)}>
                {(counts[n] ?? 0).toLocaleString('en-GB')} {filterWords[f]}
              </button>
            ))}
          </span>
          <input
            className="field ml-auto w-56"
            placeholder="router, interface, area, state"
            aria-label="Narrow the pairs"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <select className="field" aria-label="Order of the pairs" value={order} onChange={(e) => setOrder(e.target.value as PairOrder)}>
            {pairOrders.map((o) => (
              <option key={o} value={o}>
                {orderWords[o]}
              </option>
            ))}
          </select>
        </div>
        <div className="min-h-0 flex-1 overflow-y-auto px-4 pb-4" tabIndex={0} role="region" aria-label="Pairs" data-narrowed={typed}>
          <AllOfOneKind findings={view.findings} />
          {pairs.length === 0 && <Empty view={view} filter={filter} />}
          <ul className="grid grid-flow-row-dense gap-2 min-[1700px]:grid-cols-2">
            {rows.flatMap((p, n) => [
              ...(order === 'segment' && p.segment !== rows[n - 1]?.segment
                ? [<SegmentHeading key={`s${p.segment}`} view={view} pairs={pairs} of={p} />]
                : []),
              <PairPage key={p.id} pair={p} view={view} letter={letters.get(p.id)} open={p === open} />,
            ])}
          </ul>
          {pairs.length > upTo && (
            <p className="mt-3 text-ink2">
              {count(pairs.length - upTo, 'more pair')}: narrow them by a name, or{' '}
              <button type="button" className="link" onClick={() => setShown(upTo + 200)}>
                show 200 more
              </button>
              .
            </p>
          )}
        </div>
      </div>
      <Panel label="About the pair">{open ? <PairPanel view={view} pair={open} /> : <NoPair view={view} />}</Panel>
    </div>
  );
}

const none = {};

/** Over the pairs of a segment: what it is, who leads, how many of them rest where they should. */
function SegmentHeading({ view, pairs, of }: { readonly view: DesignView; readonly pairs: readonly PairView[]; readonly of: PairView }) {
  const segment = view.segments.find((s) => s.index === of.segment);
  const here = pairs.filter((p) => p.segment === of.segment);
  const trouble = here.filter((p) => p.kind === 'trouble').length;
  const leader = segment?.members.find((m) => m.leads === 'DR')?.router;
  return (
    <li className="heading mt-2 min-[1700px]:col-span-2">
      {segment?.kind === 'lan' ? 'LAN' : 'link'} {segment?.subnets.join(', ')} · {count(here.length, 'pair')}
      {trouble > 0 && <span className="text-accent">, {trouble} in trouble</span>}
      {leader !== undefined && segment?.kind === 'lan' && ` · ${leader} leads`}
    </li>
  );
}

/** Several troubles of one kind, mended as one change. */
function AllOfOneKind({ findings }: { readonly findings: readonly Finding[] }) {
  const kinds = useMemo(() => allOfOneKind(findings), [findings]);
  if (kinds.length === 0) return null;
  return (
    <p className="mb-2 flex flex-wrap items-center gap-1.5 text-ink2">
      Of one kind:
      {kinds.map((k) => (
        <button key={k.rule} type="button" className="control" onClick={() => void makeChange(k.title, k.edits)}>
          {k.title}
        </button>
      ))}
    </p>
  );
}

function Empty({ view, filter }: { readonly view: DesignView; readonly filter: Filter }) {
  return (
    <p className="rounded border border-rule bg-sheet p-4 text-ink2">
      {view.pairs.length === 0
        ? 'No two routers share a wire yet. Open a campus with at least two routers on one subnet.'
        : filter === 'trouble'
          ? 'Every pair rests where it should.'
          : 'No pair fits what you typed.'}
    </p>
  );
}
