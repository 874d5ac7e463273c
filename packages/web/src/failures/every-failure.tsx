'use client';

import { sweepKinds, usualKinds, type SweepKind } from '@gentle-compass/core/sweep/cases';
import type { Harm } from '@gentle-compass/core/sweep/sweep';
import dynamic from 'next/dynamic';
import { useMemo, useState, type ReactNode } from 'react';
import { go } from '../model/moving';
import type { CaseView, SweepWish } from '../model/sweep-view';
import type { DesignView } from '../model/view';
import { LineTable, type LineColumn } from '../parts/line-table';
import { Panel, Section, Tag } from '../parts/panel';
import { count, listWords } from '../parts/words';
import { BestLink } from './best-link';
import { caseKey, largest } from './ranked';
import { cutWords, singlePoints } from './single-points';
import { wishKey, type Sweeping, type SweepState } from './use-sweep';

const CostChart = dynamic(() => import('./cost-chart'), { ssr: false });

const kindWords: Readonly<Record<SweepKind, string>> = {
  links: 'links',
  routers: 'routers',
  borders: 'border routers',
  lans: 'whole LANs',
  groups: 'shared risks',
};
const harmWords: Readonly<Record<Harm, string>> = { cut: 'cut', longer: 'make longer', harmless: 'harmless' };
const tags = { cut: 'trouble', longer: 'rests', harmless: 'full' } as const;

const measures = { cutPairs: 'pairs cut', lostRoutes: 'routes lost', longestDetour: 'longest way more' } as const;
type Measure = keyof typeof measures;
const valueOf = (c: CaseView, m: Measure): number => c[m] ?? 0;

/** Bars on the chart; cases beyond cost less than all of them. */
const mostBars = 400;

const columns: readonly LineColumn[] = [
  { name: 'what fails', width: 'minmax(0,1fr)' },
  { name: 'it is', width: '92px' },
  { name: 'breaks', width: '56px', kind: 'number' },
  { name: 'pairs cut', width: '72px', kind: 'number' },
  { name: 'lost', width: '64px', kind: 'number' },
  { name: 'changed', width: '72px', kind: 'number' },
  { name: 'longer by', width: '76px', kind: 'number' },
];

const number = (n: number): string => (n === 0 ? '' : n.toLocaleString('en-GB'));

/** Seconds in words, roughly. */
const secondsWords = (s: number): string => (s < 90 ? `${Math.max(1, Math.round(s))} s` : `${Math.round(s / 60)} min`);

/** Every single failure, and every two together: what each does, the worst first. */
export function EveryFailure({
  head,
  view,
  nameOf,
  sweep: { state, begin, stop },
}: {
  readonly head: ReactNode;
  readonly view: DesignView;
  readonly nameOf: (word: string) => string;
  readonly sweep: Sweeping;
}) {
  const [kinds, setKinds] = useState<readonly SweepKind[]>(usualKinds);
  const [pairs, setPairs] = useState(false);
  const [harm, setHarm] = useState<Harm>();
  const [measure, setMeasure] = useState<Measure>('cutPairs');
  const [chosen, setChosen] = useState<string>();
  const wish: SweepWish = { kinds, pairs };
  const mine = state?.wish === wishKey(wish) ? state : undefined;
  const rows = useMemo(() => (state?.cases ?? []).filter((c) => harm === undefined || c.harm === harm), [state, harm]);
  const caseName = (c: CaseView): string => c.words.map(nameOf).join(' + ');
  const one = rows.find((c) => caseKey(c) === chosen);
  const bars = useMemo(
    () =>
      largest(rows, mostBars, (c) => valueOf(c, measure)).map((c, n) => ({
        place: n + 1,
        name: c.words.map(nameOf).join(' + '),
        value: valueOf(c, measure),
        harm: c.harm,
        key: caseKey(c),
      })),
    [rows, measure, nameOf],
  );
  const turnKind = (k: SweepKind): void => setKinds(sweepKinds.filter((x) => (x === k) !== kinds.includes(x)));
  return (
    <>
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        {head}
        <div className="flex min-h-0 flex-1 flex-col px-4 pt-3 pb-2" data-testid="every-failure">
          <div className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-2">
            <span className="flex gap-3" role="group" aria-label="What fails">
              {sweepKinds.map((k) => (
                <label key={k} className="flex items-baseline gap-1.5">
                  <input type="checkbox" className="translate-y-[1px] accent-(--accent)" checked={kinds.includes(k)} onChange={() => turnKind(k)} />
                  {kindWords[k]}
                </label>
              ))}
              <label className="flex items-baseline gap-1.5 border-l border-rule pl-3">
                <input type="checkbox" className="translate-y-[1px] accent-(--accent)" checked={pairs} onChange={() => setPairs(!pairs)} />
                and every two together
              </label>
            </span>
          </div>
          <div className="mb-2 flex h-[28px] items-center">
            <Progress state={mine} stop={stop} begin={() => begin(wish)} able={kinds.length > 0} />
          </div>
          {state ? (
            <>
              <div className="mb-1 flex items-center gap-2">
                <Harms cases={state.cases} harm={harm} onHarm={setHarm} />
                <span className="ml-auto flex gap-1" role="group" aria-label="What the chart shows">
                  {(Object.keys(measures) as Measure[]).map((m) => (
                    <button key={m} type="button" className="control" aria-pressed={m === measure} onClick={() => setMeasure(m)}>
                      {measures[m]}
                    </button>
                  ))}
                </span>
              </div>
              {bars.some((b) => b.value > 0) && (
                <div role="img" aria-label={`What the cases cost, dearest first: ${measures[measure]}`}>
                  <CostChart bars={bars} what={measures[measure]} onChoose={(n) => setChosen(bars[n]?.key)} />
                </div>
              )}
              <LineTable
                label="Every failure, the worst first"
                columns={columns}
                rows={rows}
                keyOf={caseKey}
                cells={(c) => [
                  { shown: caseName(c), title: c.words.join(' ') },
                  <Tag key="harm" kind={tags[c.harm]}>
                    {c.harm}
                  </Tag>,
                  number(c.broken.length),
                  number(c.cutPairs),
                  number(c.lostRoutes),
                  number(c.changedRoutes),
                  c.longestDetour === null ? '' : number(c.longestDetour),
                ]}
                at={rows.findIndex((c) => caseKey(c) === chosen)}
                onChoose={(c) => setChosen(caseKey(c))}
                nothing={state.running ? 'The first are being tried.' : 'No case is so.'}
              />
            </>
          ) : (
            <p className="max-w-[62ch] text-ink2">
              Each of them fails by itself, in both families: which expectations break, which loopbacks are cut apart, which routes are lost, and how
              much longer a way becomes. With every two together it shows what is harmless alone and cuts together. You can look around, stop, and go
              on where it was.
            </p>
          )}
        </div>
      </div>
      <Panel label="What one failure does">
        {one ? (
          <Case view={view} one={one} name={caseName(one)} singles={state?.cases ?? []} nameOf={nameOf} />
        ) : (
          <Sums state={state} nameOf={nameOf} />
        )}
      </Panel>
    </>
  );
}

/** How far it is, how long the rest takes, and what can be done about it. */
function Progress({
  state,
  begin,
  stop,
  able,
}: {
  readonly state: SweepState | undefined;
  readonly begin: () => void;
  readonly stop: () => void;
  readonly able: boolean;
}) {
  if (state?.running)
    return (
      <span className="flex items-baseline gap-3">
        <span role="status" className="text-ink2">
          <span className="font-mono text-ink">{state.done.toLocaleString('en-GB')}</span> of{' '}
          {state.all === 0 ? '…' : state.all.toLocaleString('en-GB')}
          {state.left !== undefined && state.done < state.all && `, about ${secondsWords(state.left)} more`}
        </span>
        <button type="button" className="control" onClick={stop}>
          Stop
        </button>
      </span>
    );
  const open = state !== undefined && state.done < state.all;
  return (
    <span className="flex items-baseline gap-3">
      {state && (
        <span role="status" className="text-ink2">
          {open ? `stopped after ${state.done.toLocaleString('en-GB')} of ${state.all.toLocaleString('en-GB')}` : `${count(state.all, 'case')} tried`}
        </span>
      )}
      {(open || !state) && (
        <button type="button" className="control" data-main disabled={!able} onClick={begin}>
          {open ? 'Go on' : 'Try every failure'}
        </button>
      )}
    </span>
  );
}

function Harms({
  cases,
  harm,
  onHarm,
}: {
  readonly cases: readonly CaseView[];
  readonly harm: Harm | undefined;
  readonly onHarm: (h: Harm | undefined) => void;
}) {
  const of = (h: Harm): number => cases.filter((c) => c.harm === h).length;
  return (
    <span className="flex gap-1" role="group" aria-label="Which cases">
      {(Object.keys(harmWords) as Harm[]).map((h) => (
        <button key={h} type="button" className="control" aria-pressed={h === harm} onClick={() => onHarm(h === harm ? undefined : h)}>
          {of(h).toLocaleString('en-GB')} {harmWords[h]}
        </button>
      ))}
      <button type="button" className="control" aria-pressed={harm === undefined} onClick={() => onHarm(undefined)}>
        {cases.length.toLocaleString('en-GB')} all
      </button>
    </span>
  );
}

/** The case that is chosen, in words; of two together also what each does alone. */
function Case({
  view,
  one,
  name,
  singles,
  nameOf,
}: {
  readonly view: DesignView;
  readonly one: CaseView;
  readonly name: string;
  readonly singles: readonly CaseView[];
  readonly nameOf: (word: string) => string;
}) {
  const owners = useMemo(
    () => new Map(view.routers.flatMap((r) => r.interfaces.flatMap((i) => i.addresses.map((a) => [a.split('/')[0] ?? '', r.name])))),
    [view],
  );
  const owner = (address: string): string => owners.get(address) ?? address;
  const alone = one.words.length < 2 ? [] : one.words.flatMap((w) => singles.find((c) => c.words.length === 1 && c.words[0] === w) ?? []);
  const onlyTogether = one.harm === 'cut' && alone.length === one.words.length && alone.every((c) => c.harm !== 'cut');
  return (
    <div data-testid="one-failure">
      <h2 className="text-xl">{name}</h2>
      <p className="mt-1 flex items-center gap-2">
        <Tag kind={tags[one.harm]}>{one.harm}</Tag>
        {onlyTogether && <span className="text-ink2">together; neither cuts alone</span>}
      </p>
      <p className="mt-2 text-ink2">
        {count(one.lostRoutes, 'route')} lost, {one.changedRoutes.toLocaleString('en-GB')} changed
        {one.longestDetour === null ? '; no way grows longer.' : `; the longest way costs ${one.longestDetour.toLocaleString('en-GB')} more.`}
      </p>
      {one.broken.length > 0 && (
        <Section title="Expectations that break">
          <p>{listWords(one.broken)}</p>
        </Section>
      )}
      {one.cutPairs > 0 && (
        <Section title={`${count(one.cutPairs, 'pair')} cut apart`}>
          <ul>
            {one.examples.map((e) => (
              <li key={`${e.from} ${e.to}`} className="border-b border-fine py-0.5">
                {owner(e.from)} → {owner(e.to)} <span className="font-mono text-xs text-ink2">{e.to}</span>
              </li>
            ))}
          </ul>
          {one.cutPairs > one.examples.length && (
            <p className="mt-1 text-ink2">and {(one.cutPairs - one.examples.length).toLocaleString('en-GB')} more.</p>
          )}
        </Section>
      )}
      {one.over.length > 0 && (
        <Section title="Would carry more than they can">
          <ul>
            {one.over.slice(0, 12).map((o) => (
              <li key={`${o.router}/${o.iface}`} className="flex border-b border-fine py-0.5">
                <span className="min-w-0 flex-1 truncate">
                  {o.router}/{o.iface}
                </span>
                <span className="font-mono text-[12.5px]">
                  {o.mbps.toLocaleString('en-GB')} of {o.capacity.toLocaleString('en-GB')} Mbit/s
                </span>
              </li>
            ))}
          </ul>
        </Section>
      )}
      {alone.length > 0 && (
        <Section title="Each alone">
          <ul>
            {alone.map((c) => (
              <li key={c.words[0]} className="border-b border-fine py-0.5">
                {c.words.map(nameOf).join('')} <span className="text-ink2">{c.harm}</span>
              </li>
            ))}
          </ul>
        </Section>
      )}
      <p className="mt-4 flex flex-wrap gap-1.5">
        <button type="button" className="control" data-main onClick={() => go({ tell: 'lost', fail: [...one.words] })}>
          Take it down on the map
        </button>
        <button type="button" className="control" onClick={() => go({ tell: 'time', fail: [...one.words], then: [] })}>
          How long does it take?
        </button>
      </p>
      {one.harm === 'cut' && <BestLink view={view} words={one.words} />}
    </div>
  );
}

/** What stands out of the whole: single points of failure, and two that cut only together. */
function Sums({ state, nameOf }: { readonly state: SweepState | undefined; readonly nameOf: (word: string) => string }) {
  const points = singlePoints(state);
  return (
    <>
      <h2 className="text-xl">{state ? `${count(points.length, 'single point')} of failure` : 'The worst that one failure can do'}</h2>
      <p className="mb-2 text-ink2">
        {state
          ? 'What cuts loopbacks apart or breaks an expectation all by itself. A line of the table, or a bar of the chart, says what its case does.'
          : 'Choose what fails, and try it.'}
      </p>
      <ul>
        {points.slice(0, 40).map((c) => (
          <li key={c.words[0]} className="flex border-b border-fine py-0.5">
            <button type="button" className="link min-w-0 flex-1 truncate text-left" onClick={() => go({ tell: 'lost', fail: [...c.words] })}>
              {c.words.map(nameOf).join('')}
            </button>
            <span className="text-ink2">{cutWords(c)}</span>
          </li>
        ))}
      </ul>
      {points.length > 40 && <p className="mt-1 text-ink2">and {(points.length - 40).toLocaleString('en-GB')} more.</p>}
    </>
  );
}
