'use client';

import type { Origin } from '@gentle-compass/core/design/defaults';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { Finding } from '@gentle-compass/core/findings/finding';
import { troubleLetters } from '../map/area-map';
import { makeChange } from '../model/history';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { AreaName } from '../parts/area-name';
import type { DesignView, PairView } from '../model/view';
import { Acceptance, Because, Beneath, Cost, FindingCard } from '../parts/finding-card';
import { Panel, Section, Tag } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { byName, count } from '../parts/words';
import { workbench } from '../worker/client';
import { stageOfRule } from '../parts/stage-of-rule';
import { RepairLines } from './repair-lines';

const filters = ['trouble', 'rests', 'full', 'all'] as const;
type Filter = (typeof filters)[number];
const filterWords: Record<Filter, string> = { trouble: 'in trouble', rests: 'rest below Full, rightly', full: 'full', all: 'all' };

const rank = { trouble: 0, down: 1, rests: 2, full: 3 } as const;

/** Facing pages for every pair of routers on one wire, trouble first. */
export function Neighbours() {
  const view = useStore((s) => s.view);
  const chosen = useStore((s) => s.pair);
  const router = useStore((s) => s.router);
  const [filter, setFilter] = useState<Filter>('all');
  const [text, setText] = useState('');
  const [shown, setShown] = useState(200);
  const all = view?.pairs;
  const letters = useMemo(() => (view ? troubleLetters(view) : new Map<string, string>()), [view]);
  // Trouble first, by its letters; sorted once, however it is narrowed.
  const sorted = useMemo(
    () =>
      [...(all ?? [])].sort((a, b) => rank[a.kind] - rank[b.kind] || byName(letters.get(a.id) ?? '', letters.get(b.id) ?? '') || byName(a.id, b.id)),
    [all, letters],
  );
  if (!view) return null;
  const takes = (p: PairView, f: Filter): boolean => f === 'all' || p.kind === f || (f === 'trouble' && p.kind === 'down');
  const named = (p: PairView): boolean =>
    `${p.a.router} ${p.b.router} ${p.a.iface} ${p.b.iface} ${p.area} ${p.a.address} ${p.b.address}`.toLowerCase().includes(text.toLowerCase());
  const pairs = sorted.filter((p) => takes(p, filter) && named(p));
  const open =
    pairs.find((p) => p.id === chosen) ??
    (router === undefined ? undefined : pairs.find((p) => p.kind === 'trouble' && (p.a.router === router || p.b.router === router))) ??
    pairs.find((p) => p.kind === 'trouble');
  // A chosen pair is always among those that are shown.
  const upTo = Math.max(shown, open ? pairs.indexOf(open) + 1 : 0);
  return (
    <div className="stage">
      <div className="flex min-w-0 flex-1 flex-col">
        <header className="flex flex-wrap items-baseline gap-x-3 gap-y-2 px-4 pt-3 pb-2">
          <h1 className="text-xl">Neighbours</h1>
          <span className="text-ink2">
            {count(view.pairs.length, 'pair')} on {count(view.segments.length, 'segment')}
          </span>
          <input
            className="field ml-auto w-40"
            placeholder="router, interface, area"
            aria-label="Narrow the pairs"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <span className="flex gap-1" role="group" aria-label="Which pairs">
            {filters.map((f) => (
              <button key={f} type="button" className="control" aria-pressed={filter === f} onClick={() => setFilter(f)}>
                {view.pairs.filter((p) => takes(p, f)).length.toLocaleString('en-GB')} {filterWords[f]}
              </button>
            ))}
          </span>
        </header>
        <div className="min-h-0 flex-1 overflow-y-auto px-4 pb-4" tabIndex={0} role="region" aria-label="Pairs">
          {pairs.length === 0 && <Empty view={view} filter={filter} />}
          <ul className="grid grid-flow-row-dense gap-2 min-[1700px]:grid-cols-2">
            {pairs.slice(0, upTo).map((p) => (
              <PairPage key={p.id} pair={p} view={view} letter={letters.get(p.id)} open={p === open} />
            ))}
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

/** Says where a value comes from that the router document does not write. */
function OriginMark({ from }: { readonly from: Origin }) {
  if (from === 'written') return null;
  return from === 'profile' ? <span className="ml-1.5 font-sans text-[11px] text-ink2">profile</span> : <span className="sr-only"> (standard)</span>;
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

/** One pair: its two sides, and opened, every parameter side by side. */
function PairPage({
  pair: p,
  view,
  letter,
  open,
}: {
  readonly pair: PairView;
  readonly view: DesignView;
  readonly letter: string | undefined;
  readonly open: boolean;
}) {
  const self = useRef<HTMLLIElement>(null);
  const chosen = useStore((s) => s.pair) === p.id;
  const was = useStore((s) => s.comparison?.neighbors.find((n) => n.router === p.a.router && n.iface === p.a.iface && n.peer === p.b.router)?.before);
  useEffect(() => {
    if (chosen) self.current?.scrollIntoView({ block: 'nearest' });
  }, [chosen]);
  return (
    <li
      ref={self}
      className={`${open ? 'min-[1700px]:col-span-2' : 'long-row'} rounded border bg-sheet ${open ? 'border-ink3' : 'border-rule'}`}
      data-pair={p.id}
    >
      <button
        type="button"
        aria-expanded={open}
        onClick={() => go({ pair: p.id })}
        className="grid w-full grid-cols-[minmax(0,1fr)_190px_minmax(0,1fr)] items-center gap-3 px-4 py-1.5"
      >
        <Side side={p.a} align="right" />
        <span className="text-center">
          <Tag kind={p.kind}>
            {letter !== undefined && `${letter} · `}
            {p.word}
          </Tag>
          <span className="block text-xs text-ink2">
            {p.type}, <AreaName id={p.area} quiet />
            {was !== undefined && <span className="block text-caution">was {was} before</span>}
          </span>
        </span>
        <Side side={p.b} align="left" />
      </button>
      {open && <Facing pair={p} finding={view.findings.find((f) => f.id === p.finding)} />}
    </li>
  );
}

function Side({ side, align }: { readonly side: PairView['a']; readonly align: 'left' | 'right' }) {
  return (
    <span className={align === 'right' ? 'text-right' : 'text-left'}>
      <span className="block font-serif text-lg leading-tight">{side.router}</span>
      <span className="block truncate font-mono text-xs text-ink2">
        {side.iface} {side.address}
      </span>
    </span>
  );
}

function Facing({ pair: p, finding }: { readonly pair: PairView; readonly finding: Finding | undefined }) {
  const asked = useAnswer(async () => p.values ?? (await workbench().neighbours.facing(p.id)), [p]);
  const values = p.values ?? asked ?? [];
  return (
    <div className="border-t border-fine pb-2">
      <p className="px-4 py-2 text-center">
        {finding ? <strong className="font-semibold">{finding.message}</strong> : `${p.a.router} ${p.a.words}; ${p.b.router} ${p.b.words}.`}
      </p>
      <table className="w-full">
        <caption className="sr-only">
          Parameters of {p.a.router} and {p.b.router} side by side
        </caption>
        <thead className="sr-only">
          <tr>
            <th>{p.a.router}</th>
            <th>parameter</th>
            <th>{p.b.router}</th>
          </tr>
        </thead>
        <tbody>
          {values.map((v) => {
            const apart = v.match === 'apart';
            const cell = (from: Origin): string =>
              `py-[3px] font-mono text-[12.5px] ${apart ? 'font-semibold text-accent' : from === 'standard' ? 'text-ink3' : ''}`;
            return (
              <tr key={v.id} className={`border-t border-fine ${apart ? 'bg-accentground' : ''}`}>
                <td className={`${cell(v.aFrom)} w-[calc(50%-76px)] pr-4 text-right`}>
                  {v.a}
                  <OriginMark from={v.aFrom} />
                </td>
                <th
                  scope="row"
                  className={`text-center font-normal whitespace-nowrap ${apart ? 'font-semibold text-accent shadow-[inset_2px_0_var(--accent),inset_-2px_0_var(--accent)]' : 'text-ink2'}`}
                >
                  {apart ? '≠ ' : ''}
                  {v.name}
                  {v.match === 'differs' && <span className="text-caution"> differs</span>}
                </th>
                <td className={`${cell(v.bFrom)} w-[calc(50%-76px)] pl-4`}>
                  {v.b}
                  <OriginMark from={v.bFrom} />
                </td>
              </tr>
            );
          })}
          <tr className="border-t border-rule">
            <td className="py-1 pr-4 text-right font-semibold">{p.a.state}</td>
            <th scope="row" className="text-center font-normal text-ink2">
              rests in
            </th>
            <td className="py-1 pl-4 font-semibold">{p.b.state}</td>
          </tr>
        </tbody>
      </table>
      {values.some((v) => v.aFrom === 'standard' || v.bFrom === 'standard') && (
        <p className="border-t border-fine px-4 pt-1.5 text-center text-xs text-ink2">Grey: nothing is written, the standard’s value holds.</p>
      )}
      {finding && finding.repairs.length > 0 && (
        <div className="grid grid-cols-2 gap-x-6 gap-y-1.5 border-t border-fine px-4 pt-2">
          {[p.a, p.b].map((side) => (
            <div key={side.router} className={`flex flex-col gap-1.5 ${side === p.a ? 'items-end' : 'items-start'}`}>
              {finding.repairs
                .filter((r) => r.router === side.router)
                .map((r, i) => (
                  <button
                    key={r.title}
                    type="button"
                    className="control"
                    data-main={finding.repairs[0] === r && i === 0 ? '' : undefined}
                    onClick={() => void makeChange(r.title, r.edits)}
                  >
                    {r.title}
                  </button>
                ))}
            </div>
          ))}
        </div>
      )}
    </div>
  );
}

function PairPanel({ view, pair: p }: { readonly view: DesignView; readonly pair: PairView }) {
  const finding = view.findings.find((f) => f.id === p.finding);
  const subnets = view.segments.find((s) => s.index === p.segment)?.subnets ?? [];
  return (
    <>
      <p className="text-ink2">
        {subnets.length > 0 ? (
          <>
            pair on <span className="font-mono">{subnets.join(', ')}</span>
          </>
        ) : view.family === 6 ? (
          'pair by link-local addresses alone'
        ) : (
          'pair on an unnumbered link'
        )}
      </p>
      <h2 className="text-xl">
        {p.a.router} and {p.b.router}{' '}
        {p.kind === 'full'
          ? 'are full neighbours'
          : p.kind === 'rests'
            ? 'rest as they should'
            : p.kind === 'down'
              ? 'are down'
              : p.word.startsWith('stuck')
                ? 'are stuck'
                : p.word.startsWith('full')
                  ? 'reach Full for nothing'
                  : 'stay apart'}
      </h2>
      {finding ? (
        <>
          {finding.seen !== undefined && (
            <Section title="Seen on the devices">
              <p>{finding.seen}</p>
            </Section>
          )}
          <Section title="What follows">
            <Cost
              finding={finding}
              otherwise={
                finding.repairs.length > 0
                  ? 'No route in any table depends on it now.'
                  : 'What depends on it is not known: mending it takes more than an edit of a line.'
              }
            />
          </Section>
          <Section title="Mend it">
            {finding.repairs.map((r) => (
              <RepairLines key={r.title} repair={r} />
            ))}
          </Section>
          <Because finding={finding} />
          <Beneath finding={finding} />
          <Acceptance finding={finding} />
          <p className="mt-3 text-xs text-ink2">{finding.rfc}</p>
        </>
      ) : (
        <>
          <Section title="Where each side rests">
            {[p.a, p.b].map((s) => (
              <p key={s.router} className="mb-1">
                <strong className="font-semibold">
                  {s.router}: {s.state}
                </strong>
                , {s.words}.
              </p>
            ))}
          </Section>
          <Section title="Cost">
            <p>
              {p.a.router} to {p.b.router} <span className="font-mono">{p.a.cost}</span>, back <span className="font-mono">{p.b.cost}</span>
            </p>
          </Section>
        </>
      )}
      <div className="mt-4">
        <button type="button" className="control" onClick={() => go({ stage: 'layout', segment: p.segment, router: undefined })}>
          Show it on the map
        </button>
      </div>
      <OtherFindings view={view} except={p.finding} />
    </>
  );
}

/** Beside the pairs while none is opened: where they rest, counted. */
function NoPair({ view }: { readonly view: DesignView }) {
  const words = new Map<string, number>();
  for (const p of view.pairs) words.set(p.word, (words.get(p.word) ?? 0) + 1);
  return (
    <>
      <h2 className="text-xl">Choose a pair</h2>
      <p className="text-ink2">to see where each side rests, and every value on which the two must agree.</p>
      {words.size > 0 && (
        <Section title="Where pairs rest">
          <ul>
            {[...words]
              .sort(([a], [b]) => byName(a, b))
              .map(([word, n]) => (
                <li key={word} className="flex border-b border-fine py-0.5">
                  {word}
                  <span className="ml-auto font-mono">{n.toLocaleString('en-GB')}</span>
                </li>
              ))}
          </ul>
        </Section>
      )}
      <OtherFindings view={view} />
    </>
  );
}

/** Findings of this stage that no pair carries: one end that is not in OSPF, keys. */
function OtherFindings({ view, except }: { readonly view: DesignView; readonly except?: string | null }) {
  const rest = view.findings.filter((f) => stageOfRule(f.rule) === 'neighbours' && f.id !== except && !view.pairs.some((p) => p.finding === f.id));
  if (rest.length === 0) return null;
  return (
    <Section title="Also here">
      {rest.map((f) => (
        <FindingCard key={f.id} finding={f} mend />
      ))}
    </Section>
  );
}
