'use client';

import { usualKinds } from '@gentle-compass/core/sweep/cases';
import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { AreaMap, type Pointed } from '../map/area-map';
import type { Crossed } from '../map/crossing';
import type { Way } from '../map/map-marks';
import { setFailures } from '../model/failing';
import { tellings } from '../model/address';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import type { DesignView, Glimpse } from '../model/view';
import type { WatchedView } from '../model/what-if-view';
import { Panel } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { count } from '../parts/words';
import { workbench } from '../worker/client';
import { failureWords, linePlaces, namer, risksOnMap } from './breakable';
import { Chooser } from './chooser';
import { EveryFailure } from './every-failure';
import { HowLong } from './how-long';
import { Load } from './load';
import { Lost } from './lost';
import { NothingDown } from './nothing-down';
import { LocalRepair } from './repair';
import { cutWords, singlePoints } from './single-points';
import { useSweep, type SweepState } from './use-sweep';
import { Walker } from './walker';

const tellWords = {
  lost: 'What is lost',
  time: 'How long it takes',
  every: 'Every failure',
  load: 'Load',
  repair: 'Local repair',
} as const;

/** Designs up to so many routers are swept as soon as somebody looks. */
const atOnceUpTo = 150;

/** Designs up to so many routers have their databases laid side by side with every failure. */
const databasesUpTo = 300;

/** Takes a word in or out of the list of failures. */
const turn = (fail: readonly string[], word: string): void =>
  void setFailures(fail.includes(word) ? fail.filter((f) => f !== word) : [...fail, word]);

/** Cut links and take routers down, and see what is lost. */
export function Failures() {
  const view = useStore((s) => s.view);
  const fail = useStore((s) => s.fail);
  const tell = useStore((s) => s.tell);
  const later = useStore((s) => s.then);
  const [glimpse, point] = useGlimpse(view, fail);
  const [walked, walk] = useState<string>();
  const [knife, setKnife] = useState(false);
  const words = useMemo(() => (view ? failureWords(view) : []), [view]);
  const named = useMemo(() => namer(view), [view]);
  const sweep = useSweep(view?.routers);
  // What one failure does in a design of usual size is there before anybody asks.
  const routers = view?.routers;
  const looksAt = tell === 'lost' || tell === 'every';
  const { begin, state: swept } = sweep;
  useEffect(() => {
    if (looksAt && !swept && routers && routers.length > 1 && routers.length <= atOnceUpTo) begin({ kinds: usualKinds, pairs: false });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- for every design once
  }, [routers, looksAt]);
  if (!view) return null;
  const told = glimpse?.words.filter((w) => !fail.includes(w)) ?? [];
  const onMap = tell === 'lost';
  const head = (
    <header className="border-b border-rule bg-sheet px-4 py-2">
      <div className="flex items-center gap-2">
        <span className="flex gap-1" role="group" aria-label="What of the failure">
          {tellings.map((t) => (
            <button key={t} type="button" className="control whitespace-nowrap" aria-pressed={t === tell} onClick={() => go({ tell: t })}>
              {tellWords[t]}
            </button>
          ))}
        </span>
        <span className="flex-1" />
        <Chooser view={view} fail={fail} onTurn={(word) => turn(fail, word)} />
        {fail.length + (tell === 'time' ? later.length : 0) > 0 && (
          <button type="button" className="control whitespace-nowrap" data-main onClick={() => go({ fail: [], then: [] })}>
            Restore all
          </button>
        )}
      </div>
      <div className="mt-1.5 flex items-center gap-3">
        <h1 className="text-lg whitespace-nowrap">{fail.length === 0 ? 'Nothing is down' : 'Down now'}</h1>
        {fail.length > 0 && (
          <ul className="flex min-w-0 gap-1.5 overflow-x-auto" aria-label="What is down">
            {fail.map((f) => (
              <li key={f} className="whitespace-nowrap">
                <button type="button" className="control border-dashed" aria-label={`Bring back: ${named(f)}`} onClick={() => turn(fail, f)}>
                  {named(f)} ×
                </button>
              </li>
            ))}
          </ul>
        )}
        <p className="min-w-0 flex-1 truncate text-ink2" data-testid="glimpse" aria-live="polite">
          {glimpse && told.length > 0 && (
            <>
              <strong className="font-semibold text-ink">{told.length === 1 ? told.map(named) : `${told.length} together`}</strong>{' '}
              {wouldChange(glimpse)}
            </>
          )}
        </p>
        {onMap && (
          <>
            <Walker
              view={view}
              at={walked}
              fail={fail}
              onAt={(word) => {
                walk(word);
                point(word === undefined ? undefined : [word]);
              }}
              onTurn={(word) => turn(fail, word)}
            />
            <button
              type="button"
              className="control whitespace-nowrap"
              aria-pressed={knife}
              title="Drag over the map: every link that the stroke crosses goes down"
              onClick={() => setKnife(!knife)}
            >
              Cut across
            </button>
          </>
        )}
      </div>
    </header>
  );
  return (
    <div className="stage">
      {tell === 'time' ? (
        <HowLong head={head} view={view} breakable={words} nameOf={named} />
      ) : tell === 'every' ? (
        <EveryFailure head={head} view={view} nameOf={named} sweep={sweep} />
      ) : tell === 'load' ? (
        <Load head={head} view={view} nameOf={named} />
      ) : tell === 'repair' ? (
        <LocalRepair head={head} view={view} />
      ) : (
        <OnTheMap head={head} view={view} fail={fail} named={named} sweep={sweep.state} walked={walked} knife={knife} onPoint={point} />
      )}
    </div>
  );
}

/** The campus with what is down, and what follows from it. */
function OnTheMap({
  head,
  view,
  fail,
  named,
  sweep,
  walked,
  knife,
  onPoint,
}: {
  readonly head: ReactNode;
  readonly view: DesignView;
  readonly fail: readonly string[];
  readonly named: (word: string) => string;
  readonly sweep: SweepState | undefined;
  readonly walked: string | undefined;
  readonly knife: boolean;
  readonly onPoint: (words: readonly string[] | undefined) => void;
}) {
  const failure = useStore((s) => s.failure);
  const router = useStore((s) => s.router);
  const watch = useStore((s) => s.watch);
  const [followed, follow] = useState(0);
  const gone = useMemo(() => new Set(failure?.goneRouters), [failure]);
  const down = useMemo(() => new Set(failure?.downPairs), [failure]);
  const leaders = useMemo(() => new Map(failure?.elections.map((e) => [e.segment, e.after])), [failure]);
  const watched = useAnswer(() => (failure ? workbench().whatIf.watched([...watch]) : Promise.resolve(undefined)), [failure, watch]);
  // Of a large campus they are many: laid side by side when somebody wants to know.
  const [wished, wish] = useState<unknown>();
  const asked = failure && !failure.unfinished && (view.routers.length <= databasesUpTo || wished === failure);
  const databases = useAnswer(() => (asked ? workbench().whatIf.databases() : Promise.resolve(undefined)), [failure, asked]);
  const standing = failure && !failure.unfinished ? watched : undefined;
  const at = Math.min(followed, (standing?.pairs.length ?? 1) - 1);
  const pair = standing?.pairs[at];
  const ways = useMemo(() => (pair ? waysOf(pair) : undefined), [pair]);
  // What stands alone is drawn while nothing is down: afterwards it is about another network.
  const alone = useMemo(() => (failure || fail.length > 0 ? [] : singlePoints(sweep)), [failure, fail, sweep]);
  const points = useMemo(() => new Set(alone.flatMap((c) => linePlaces(view, c.words[0] ?? ''))), [alone, view]);
  const marks = useMemo(
    () =>
      new Map([
        ...alone.flatMap((c): [string, string][] => (c.words[0]?.startsWith('router:') ? [[c.words[0].slice(7), cutWords(c)]] : [])),
        ...(failure?.routers ?? []).flatMap((r): [string, string][] => {
          if (r.gone) return [[r.router, 'down']];
          return r.unreachable > 0 ? [[r.router, `${r.unreachable} unreachable`]] : [];
        }),
      ]),
    [failure, alone],
  );
  const risks = useMemo(() => risksOnMap(view), [view]);
  const here = walked === undefined ? [] : linePlaces(view, walked);
  const wordsOf = (crossed: readonly Crossed[]): string[] => [...new Set(crossed.flatMap((c) => wordCrossed(view, c) ?? []))];
  return (
    <>
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        {head}
        <AreaMap
          view={view}
          router={walked?.startsWith('router:') ? walked.slice(7) : router}
          segment={here.length === 0 ? undefined : Number.parseInt(here[0] ?? '', 10)}
          onRouter={(name) => {
            go({ router: name });
            turn(fail, `router:${name}`);
          }}
          onSegment={(index) => {
            const s = view.segments.find((x) => x.index === index);
            if (s) turn(fail, s.fail);
          }}
          onPoint={(p) => {
            if (walked === undefined) onPoint(p && wordOf(view, p));
          }}
          goneRouters={gone}
          leaders={leaders}
          downPairs={down}
          marks={marks}
          points={points}
          risks={risks}
          {...(ways ? { ways } : {})}
          knife={
            knife
              ? {
                  onMove: (crossed) => onPoint(crossed.length === 0 ? undefined : wordsOf(crossed)),
                  onCut: (crossed) => void setFailures([...new Set([...fail, ...wordsOf(crossed)])]),
                }
              : undefined
          }
          hint="Map of the campus. Enter or a click takes a router or a link down, and brings it back."
        />
      </div>
      <Panel label="What is lost">
        {failure ? (
          <Lost
            failure={failure}
            view={view}
            fail={fail}
            name={fail.map(named).join(' + ')}
            watched={standing}
            databases={asked ? databases : undefined}
            onDatabases={asked || failure.unfinished ? undefined : () => wish(failure)}
            at={at}
            onAt={follow}
          />
        ) : (
          <NothingDown view={view} sweep={sweep} nameOf={named} />
        )}
      </Panel>
    </>
  );
}

/** Lines of the way before, of the way now, and of both. */
function waysOf({ before, after }: WatchedView): ReadonlyMap<string, Way> {
  const now = new Set(after.lines);
  return new Map([
    ...before.lines.map((l) => [l, now.has(l) ? 'both' : 'back'] as const),
    ...after.lines.flatMap((l) => (before.lines.includes(l) ? [] : [[l, 'there'] as const])),
  ]);
}

/** The failure of what a cut crosses: a cable, or one attachment to a LAN. */
function wordCrossed(view: DesignView, { segment, member }: Crossed): string | undefined {
  const s = view.segments.find((x) => x.index === segment);
  const m = member === undefined ? undefined : s?.members.find((x) => x.router === member);
  return m ? `link:${m.router}/${m.iface}` : s?.fail;
}

/** The failure that stands for what is pointed at. */
function wordOf(view: DesignView, at: Pointed): string[] | undefined {
  const word = at.router !== undefined ? `router:${at.router}` : view.segments.find((s) => s.index === at.segment)?.fail;
  return word === undefined ? undefined : [word];
}

/** What would change, in words. */
function wouldChange({ routers, lost, changed }: Glimpse): string {
  if (lost + changed === 0) return 'down would change no table';
  const parts = [lost > 0 ? `lose ${count(lost, 'route')}` : '', changed > 0 ? `change ${count(changed, 'route')}` : ''].filter(Boolean);
  return `down would ${parts.join(' and ')} in ${count(routers, 'table')}`;
}

/**
 * What would change if the things pointed at went down too: asked for as the pointer moves, one question at a time, and of
 * those that came meanwhile only the newest.
 */
function useGlimpse(view: DesignView | undefined, fail: readonly string[]): [Glimpse | undefined, (words: readonly string[] | undefined) => void] {
  const [state, setState] = useState<{ readonly of: unknown; readonly fail: readonly string[]; readonly glimpse: Glimpse }>();
  const wanted = useRef<{ readonly words: readonly string[]; readonly of: unknown; readonly fail: readonly string[] } | undefined>(undefined);
  const asking = useRef(false);
  const of = view?.routers;
  const ask = async (): Promise<void> => {
    if (asking.current) return;
    asking.current = true;
    try {
      for (let wish = wanted.current; wish !== undefined;) {
        const glimpse = await workbench().failures.glimpse(wish.words);
        if (wanted.current === wish) {
          if (glimpse) setState({ of: wish.of, fail: wish.fail, glimpse });
          break;
        }
        wish = wanted.current;
      }
    } catch {
      // Whoever asks for something of weight is told that nobody answers.
    } finally {
      asking.current = false;
    }
  };
  const point = (words: readonly string[] | undefined): void => {
    const known = wanted.current;
    if (words === undefined) {
      wanted.current = undefined;
      if (known) setState(undefined);
      return;
    }
    if (known?.of === of && known?.fail === fail && known.words.join(' ') === words.join(' ')) return;
    wanted.current = { words, of, fail };
    void ask();
  };
  return [state?.of === of && state?.fail === fail ? state.glimpse : undefined, point];
}
