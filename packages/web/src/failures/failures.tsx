'use client';

import { Popover } from 'radix-ui';
import { useMemo, useRef, useState } from 'react';
import { AreaMap, type Pointed } from '../map/area-map';
import { setFailures } from '../model/failing';
import { tellings } from '../model/address';
import { openEntry } from '../model/panes';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import type { DesignView, FailureView, Glimpse } from '../model/view';
import { workbench } from '../worker/client';
import { Elections } from '../parts/elections';
import { breakables, failureWords, namer } from './breakable';
import { EveryCutPanel } from './every-cut';
import { EveryFailure } from './every-failure';
import { HowLong } from './how-long';
import { NumberTable } from '../parts/number-table';
import { Panel, Section } from '../parts/panel';
import { count, listWords } from '../parts/words';

const tellWords = { lost: 'What is lost', time: 'How long it takes', every: 'Every failure' } as const;

/** Rows of the list of tables; of a large campus nearly all tables change. */
const shownTables = 200;

/** Names in the list at once; all others are found by typing. */
const shownNames = 300;

/** Takes a word in or out of the list of failures. */
const turn = (fail: readonly string[], word: string): void =>
  void setFailures(fail.includes(word) ? fail.filter((f) => f !== word) : [...fail, word]);

/** Cut links and take routers down, and see what is lost. */
export function Failures() {
  const view = useStore((s) => s.view);
  const fail = useStore((s) => s.fail);
  const failure = useStore((s) => s.failure);
  const router = useStore((s) => s.router);
  const tell = useStore((s) => s.tell);
  const later = useStore((s) => s.then);
  const [glimpse, point] = useGlimpse(view, fail);
  const gone = useMemo(() => new Set(failure?.goneRouters), [failure]);
  const down = useMemo(() => new Set(failure?.downPairs), [failure]);
  const leaders = useMemo(() => new Map(failure?.elections.map((e) => [e.segment, e.after])), [failure]);
  const marks = useMemo(
    () =>
      new Map(
        (failure?.routers ?? []).flatMap((r): [string, string][] => {
          if (r.gone) return [[r.router, 'down']];
          return r.unreachable > 0 ? [[r.router, `${r.unreachable} unreachable`]] : [];
        }),
      ),
    [failure],
  );
  const words = useMemo(() => (view ? failureWords(view) : []), [view]);
  const named = useMemo(() => namer(view), [view]);
  if (!view) return null;
  const pointed = (
    <p className="min-w-0 flex-1 truncate text-ink2" data-testid="glimpse">
      {glimpse && !fail.includes(glimpse.word) && (
        <>
          <strong className="font-semibold text-ink">{named(glimpse.word)}</strong> {wouldChange(glimpse)}
        </>
      )}
    </p>
  );
  const head = (
    <header className="border-b border-rule bg-sheet px-4 py-2">
      <div className="flex items-center gap-2">
        <h1 className="text-lg whitespace-nowrap">{fail.length === 0 ? 'Nothing is down' : 'Down now'}</h1>
        <span className="flex gap-1" role="group" aria-label="What of the failure">
          {tellings.map((t) => (
            <button key={t} type="button" className="control" aria-pressed={t === tell} onClick={() => go({ tell: t })}>
              {tellWords[t]}
            </button>
          ))}
        </span>
        {fail.length === 0 ? pointed : <span className="flex-1" />}
        <Chooser view={view} fail={fail} />
        {fail.length + (tell === 'time' ? later.length : 0) > 0 && (
          <button type="button" className="control" data-main onClick={() => go({ fail: [], then: [] })}>
            Restore all
          </button>
        )}
      </div>
      <div className={fail.length === 0 ? '' : 'mt-1.5 flex items-center gap-3'}>
        <ul className="flex min-w-0 gap-1.5 overflow-x-auto" aria-label="What is down">
          {fail.map((f) => (
            <li key={f} className="whitespace-nowrap">
              <button type="button" className="control border-dashed" aria-label={`Bring back: ${named(f)}`} onClick={() => turn(fail, f)}>
                {named(f)} ×
              </button>
            </li>
          ))}
        </ul>
        {fail.length > 0 && pointed}
      </div>
    </header>
  );
  return (
    <div className="stage">
      {tell === 'time' ? (
        <HowLong head={head} view={view} breakable={words} nameOf={named} />
      ) : tell === 'every' ? (
        <EveryFailure head={head} view={view} nameOf={named} />
      ) : (
        <>
          <div className="flex min-h-0 min-w-0 flex-1 flex-col">
            {head}
            <AreaMap
              view={view}
              router={router}
              segment={undefined}
              onRouter={(name) => {
                go({ router: name });
                turn(fail, `router:${name}`);
              }}
              onSegment={(index) => {
                const s = view.segments.find((x) => x.index === index);
                if (s) turn(fail, s.fail);
              }}
              onPoint={(at) => point(at && wordOf(view, at))}
              goneRouters={gone}
              leaders={leaders}
              downPairs={down}
              marks={marks}
              hint="Map of the campus. Enter or a click takes a router or a link down, and brings it back."
            />
          </div>
          <Panel label="What is lost">
            {failure ? <Lost failure={failure} view={view} fail={fail} name={fail.map(named).join(' + ')} /> : <Nothing view={view} />}
          </Panel>
        </>
      )}
    </div>
  );
}

/** The failure that stands for what is pointed at. */
const wordOf = (view: DesignView, at: Pointed): string | undefined =>
  at.router !== undefined ? `router:${at.router}` : view.segments.find((s) => s.index === at.segment)?.fail;

/** What would change, in words. */
function wouldChange({ routers, lost, changed }: Glimpse): string {
  if (lost + changed === 0) return 'down would change no table';
  const parts = [lost > 0 ? `lose ${count(lost, 'route')}` : '', changed > 0 ? `change ${count(changed, 'route')}` : ''].filter(Boolean);
  return `down would ${parts.join(' and ')} in ${count(routers, 'table')}`;
}

/** What would change if the thing pointed at went down too: asked for as the pointer moves, the newest wish wins. */
function useGlimpse(view: DesignView | undefined, fail: readonly string[]): [Glimpse | undefined, (word: string | undefined) => void] {
  const [state, setState] = useState<{ readonly of: unknown; readonly fail: readonly string[]; readonly glimpse: Glimpse }>();
  const wanted = useRef<string | undefined>(undefined);
  const of = view?.routers;
  const point = (word: string | undefined): void => {
    if (word === wanted.current) return;
    wanted.current = word;
    if (word === undefined) setState(undefined);
    else
      void workbench()
        .failures.glimpse(word)
        .then((glimpse) => {
          if (glimpse && wanted.current === word) setState({ of, fail, glimpse });
        });
  };
  return [state?.of === of && state?.fail === fail ? state.glimpse : undefined, point];
}

/** Finds what can fail by a few letters, and takes it down or brings it back. */
function Chooser({ view, fail }: { readonly view: DesignView; readonly fail: readonly string[] }) {
  const [text, setText] = useState('');
  const all = useMemo(() => breakables(view), [view]);
  const shown = all.filter((b) => `${b.name} ${b.about}`.toLowerCase().includes(text.toLowerCase()));
  return (
    <Popover.Root>
      <Popover.Trigger className="control">Take down… ▾</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={4} className="z-40 flex max-h-[70vh] w-80 flex-col rounded border border-rule bg-sheet shadow-lg">
          <div className="p-2">
            <input
              className="field w-full"
              placeholder="link, LAN, leader, router, shared risk"
              aria-label="Narrow what can fail"
              value={text}
              onChange={(e) => setText(e.target.value)}
            />
          </div>
          <ul className="min-h-0 flex-1 overflow-y-auto border-t border-fine py-1" aria-label="What can fail">
            {shown.slice(0, shownNames).map((b) => (
              <li key={b.word}>
                <label className="flex cursor-pointer items-baseline gap-2 px-3 py-[3px] hover:bg-paper">
                  <input
                    type="checkbox"
                    className="translate-y-[2px] accent-(--accent)"
                    checked={fail.includes(b.word)}
                    onChange={() => turn(fail, b.word)}
                  />
                  <span className="min-w-0 flex-1 truncate" title={b.name}>
                    {b.name}
                  </span>
                  <span className="max-w-[50%] truncate font-mono text-xs text-ink2" title={b.about}>
                    {b.about}
                  </span>
                </label>
              </li>
            ))}
            {shown.length > shownNames && (
              <li className="px-3 py-1 text-ink2">and {count(shown.length - shownNames, 'more')}: type a part of the name.</li>
            )}
            {shown.length === 0 && <li className="px-3 py-1 text-ink2">Nothing has that in its name.</li>}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Nothing({ view }: { readonly view: DesignView }) {
  return (
    <>
      <h2 className="text-xl">What if…</h2>
      <p className="text-ink2">
        Point at a link or a router on the map to see what its loss would change. A click takes it down; so does its name under “Take down”. Several
        are taken in the order you choose.
      </p>
      <Scenarios view={view} />
      <EveryCutPanel view={view} />
      <Section title="Up now">
        <p>
          {count(view.pairs.filter((p) => p.kind === 'full').length, 'pair')} full
          {view.routeCount !== null && `, ${count(view.routeCount, 'route')} in ${count(view.routers.length, 'table')}`}.
        </p>
      </Section>
    </>
  );
}

/** Failures that are kept under a name: one click tries them on the design as it is now. */
function Scenarios({ view }: { readonly view: DesignView }) {
  if (view.scenarios.length === 0) return null;
  return (
    <Section title="Kept failures">
      <ul aria-label="Kept failures">
        {view.scenarios.map((s) => (
          <li key={s.name} className="border-b border-fine py-0.5">
            <button type="button" className="link text-left" onClick={() => void setFailures(s.fail)}>
              {s.name}
            </button>{' '}
            <span className="text-ink2">{s.note === '' ? s.fail.join(', ') : s.note}</span>
          </li>
        ))}
      </ul>
    </Section>
  );
}

/** Under which name what is down is kept, or a way to keep it. */
function Keeping({ view, fail, name }: { readonly view: DesignView; readonly fail: readonly string[]; readonly name: string }) {
  const known = view.scenarios.find((s) => s.fail.join(' ') === fail.join(' '));
  return known ? (
    <p className="text-ink2">
      Kept as <strong className="font-semibold text-ink">{known.name}</strong>
      {known.note === '' ? '' : `: ${known.note}`}.
    </p>
  ) : (
    <p className="mt-1">
      <button type="button" className="link" onClick={() => openEntry(`scenario "${name}" fails ${fail.join(' ')}`)}>
        Keep it under a name…
      </button>
    </p>
  );
}

function Lost({
  failure: f,
  view,
  fail,
  name,
}: {
  readonly failure: FailureView;
  readonly view: DesignView;
  readonly fail: readonly string[];
  readonly name: string;
}) {
  const affected = f.routers.filter((r) => !r.gone);
  return (
    <div data-testid="what-is-lost">
      <h2 className="text-xl">
        {f.unfinished
          ? 'Counting what is out of reach…'
          : f.unreachable > 0
            ? `${count(f.unreachablePrefixes.length, 'prefix', 'prefixes')} out of reach`
            : f.broken.length > 0
              ? `${count(f.broken.length, 'expectation')} broken`
              : f.lost + f.changed + f.gained > 0
                ? 'Everything still reaches'
                : 'Nothing changes'}
      </h2>
      <p className="text-ink2">
        {count(f.lost, 'route')} lost, {f.changed.toLocaleString('en-GB')} changed, {f.gained.toLocaleString('en-GB')} gained in{' '}
        {count(affected.length, 'table')}; answered in {f.milliseconds < 10 ? f.milliseconds.toFixed(1) : Math.round(f.milliseconds)} ms.
      </p>
      <Keeping view={view} fail={fail} name={name} />
      {f.problems.map((p) => (
        <p key={p} className="mt-1 text-accent">
          {p}
        </p>
      ))}
      {f.broken.length > 0 && (
        <Section title="Expectations that break">
          <ul>
            {f.broken.map((e) => (
              <li key={e.name} className="border-b border-fine py-0.5">
                <strong className="font-semibold">{e.name}</strong> <span className="text-ink2">{e.message}</span>
              </li>
            ))}
          </ul>
        </Section>
      )}
      {f.unreachablePrefixes.length > 0 && (
        <Section title="Cannot be reached any more">
          <ul>
            {f.unreachablePrefixes.slice(0, 40).map((u) => (
              <li key={u.prefix} className="border-b border-fine py-0.5">
                <span className="font-mono text-[12.5px]">{u.prefix}</span>{' '}
                <span className="text-ink2">from {u.routers.length > 3 ? count(u.routers.length, 'router') : listWords(u.routers)}</span>
              </li>
            ))}
          </ul>
        </Section>
      )}
      {f.vanished.length > 0 && (
        <Section title="Went down with it">
          <p className="font-mono text-xs leading-relaxed">
            {f.vanished.slice(0, 12).join(', ')}
            {f.vanished.length > 12 ? `, and ${f.vanished.length - 12} more` : ''}
          </p>
        </Section>
      )}
      <Section title={f.unfinished ? `${count(f.downPairs.length, 'pair')} down` : `${count(f.neighborsLost.length, 'neighbour state')} lost`}>
        <ul>
          {f.neighborsLost.map((n) => (
            <li key={`${n.router}${n.iface}${n.peer}`} className="border-b border-fine py-0.5">
              {n.router} <span className="text-ink2">loses</span> {n.peer}{' '}
              <span className="text-ink2">
                ({n.before} → {n.after})
              </span>
            </li>
          ))}
        </ul>
      </Section>
      {f.elections.length > 0 && (
        <Section title="Led by others">
          <Elections list={f.elections} />
        </Section>
      )}
      <Section title="Tables, before against after">
        <NumberTable
          label="Tables, before against after"
          columns={[
            { name: 'router', kind: 'name' },
            { name: 'lost', kind: 'number' },
            { name: 'changed', kind: 'number' },
            { name: 'gained', kind: 'number' },
          ]}
          rows={f.routers.slice(0, shownTables).map((r) => ({
            key: r.router,
            loud: [1],
            cells: r.gone
              ? [
                  <span key="name" className="text-ink2">
                    {r.router}, down
                  </span>,
                ]
              : [
                  <button key="name" type="button" className="link" onClick={() => go({ stage: 'routes', router: r.router, prefix: undefined })}>
                    {r.router}
                  </button>,
                  r.lost,
                  r.changed,
                  r.gained,
                ],
          }))}
        />
        {f.routers.length > shownTables && <p className="mt-1 text-ink2">…and {count(f.routers.length - shownTables, 'table')} more.</p>}
      </Section>
    </div>
  );
}
