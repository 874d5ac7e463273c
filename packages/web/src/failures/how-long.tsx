'use client';

import { timeWords } from '@gentle-compass/core/convergence/chain';
import { useMemo, useState, type ReactNode } from 'react';
import { AreaMap } from '../map/area-map';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import type { MomentView, TimeView, TuneView } from '../model/time-view';
import type { DesignView } from '../model/view';
import { Panel } from '../parts/panel';
import { count } from '../parts/words';
import { workbench } from '../worker/client';
import { CoursePanel } from './course-panel';
import { EveryTimed } from './every-timed';
import { MomentPanel } from './moment-panel';
import { SpreadPanel } from './spread-panel';
import { scaleKinds, timeScale, type ScaleKind, type TimeScale } from './time-scale';
import { loopWords, stopsOf, StripLegend, TimeStrip } from './time-strip';
import { TimesPanel } from './times-panel';
import { TunePanel } from './tune-panel';
import { useMoment, usePlaying, useTime } from './use-time';

const scaleWords: Readonly<Record<ScaleKind, string>> = { short: 'idle time short', even: 'even', log: 'logarithmic' };

const parts = { moment: 'Moment', course: 'Events', tune: 'Tune', spread: 'Runs', times: 'Times' } as const;
type Part = keyof typeof parts;

/** How fast a handle that moves by itself goes: so many ms of the clock for the whole strip, or so many for one of the network. */
const speeds = [
  { key: 'strip 6', words: 'strip in 6 s', strip: 6000 },
  { key: 'strip 20', words: 'strip in 20 s', strip: 20_000 },
  { key: 'true', words: 'as it is', slower: 1 },
  { key: 'slow 10', words: '10 times slower', slower: 10 },
  { key: 'slow 100', words: '100 times slower', slower: 100 },
] as const;

function playedTo(speed: (typeof speeds)[number], scale: TimeScale, end: number, ms: number, clock: number): number | undefined {
  if (ms >= end) return undefined;
  const to = 'strip' in speed ? scale.moment(scale.place(ms) + clock / speed.strip) : ms + clock / speed.slower;
  return Math.min(end, to);
}

/** What has failed as time: how long until all is whole again, why so long, and what would make it shorter. */
export function HowLong({
  head,
  view,
  breakable,
  nameOf,
}: {
  readonly head: ReactNode;
  readonly view: DesignView;
  readonly breakable: readonly string[];
  readonly nameOf: (word: string) => string;
}) {
  const happens = useStore((s) => s.fail.length + s.then.length > 0);
  const [runs, setRuns] = useState(30);
  const [seed, setSeed] = useState(1);
  const [part, setPart] = useState<Part>('moment');
  const [tuned, setTuned] = useState<TuneView | undefined>();
  const [flow, setFlow] = useState(0);
  const [ms, setMs] = useState<number>();
  const router = useStore((s) => s.router);
  const { time, standing } = useTime(runs, seed);
  // Where nobody has moved the handle, it stands where the first packets are lost or go round.
  const first = time ? Math.min(firstTrouble(time), time.endMs) : 0;
  const at = Math.min(ms ?? first, time?.endMs ?? 0);
  const moment = useMoment(at, router, time, standing);
  const shown: Part = happens ? part : part === 'course' ? 'course' : 'times';
  return (
    <>
      <div className="stage-strip flex min-h-0 min-w-0 flex-1 flex-col bg-sheet">
        {head}
        {!happens ? (
          <EveryTimed view={view} nameOf={nameOf} />
        ) : time ? (
          <Course
            view={view}
            time={time}
            standing={standing}
            at={at}
            onMoment={setMs}
            moment={moment}
            flow={Math.min(flow, time.flows.length - 1)}
            onFlow={setFlow}
            tuned={part === 'tune' ? tuned : undefined}
          />
        ) : (
          <p className="p-4 text-ink2">Simulating…</p>
        )}
      </div>
      <Panel label="Reconvergence">
        <div className="-mx-1 mb-3 flex flex-wrap gap-1" role="group" aria-label="What the panel shows">
          {(Object.keys(parts) as Part[])
            .filter((p) => happens || p === 'times' || p === 'course')
            .map((p) => (
              <button key={p} type="button" className="control px-2" aria-pressed={p === shown} onClick={() => setPart(p)}>
                {parts[p]}
              </button>
            ))}
        </div>
        {shown === 'moment' && time && <MomentPanel time={time} moment={moment} flow={Math.min(flow, time.flows.length - 1)} />}
        {shown === 'course' && <CoursePanel time={time} breakable={breakable} />}
        {shown === 'tune' && <TunePanel time={time} onTuned={setTuned} />}
        {shown === 'spread' && <SpreadPanel time={time} runs={runs} onRuns={setRuns} seed={seed} onSeed={setSeed} />}
        {shown === 'times' && <TimesPanel />}
      </Panel>
    </>
  );
}

/** When packets first are in trouble. */
function firstTrouble(time: TimeView): number {
  const all = time.flows.flatMap((f) => f.spans.filter((s) => s.fate !== 'carried' && s.toMs > s.fromMs).map((s) => (s.fromMs + s.toMs) / 2));
  return all.length > 0 ? Math.min(...all) : 0;
}

/** The sentence over the strip. */
function Verdict({ time }: { readonly time: TimeView }) {
  const t = time.lastChange;
  const [loop] = time.loops;
  // What came last may follow from something that happened later than the first failure.
  const since = (time.rows.find((r) => r.router === time.lastRouter)?.lastChange ?? 0) - time.shares.reduce((n, s) => n + s.ms, 0);
  const lost = time.flows.filter((f) => f.healedLatest === null).length;
  return (
    <p className="min-w-0 flex-1" data-testid="verdict">
      {t ? (
        <>
          The last table is new after <strong className="font-semibold">{timeWords(t.typical)}</strong> ({timeWords(t.earliest)} to{' '}
          {timeWords(t.latest)}).
        </>
      ) : (
        time.done && 'No table changes.'
      )}{' '}
      {time.other && (
        <>
          IPv{time.other.family}: {time.other.lastChange ? timeWords(time.other.lastChange.typical) : 'no table changes'}.{' '}
        </>
      )}
      {time.slowest !== null && (
        <>
          {time.slowest}
          {since > 1 && `, counted from ${timeWords(since)}`}.{' '}
        </>
      )}
      {loop && (
        <span className="text-accent">
          {time.loops.length === 1 ? 'A loop: ' : `${count(time.loops.length, 'loop')}, the first: `}
          {loopWords(loop)}.{' '}
        </span>
      )}
      {lost > 0 && (
        <span className="text-accent">{lost === 1 ? 'One pair that is followed stays apart' : `${lost} pairs that are followed stay apart`}. </span>
      )}
      {time.problems.map((p) => (
        <span key={p} className="text-accent">
          {p}{' '}
        </span>
      ))}
    </p>
  );
}

function Course({
  view,
  time,
  standing,
  at,
  onMoment,
  moment,
  flow,
  onFlow,
  tuned,
}: {
  readonly view: DesignView;
  readonly time: TimeView;
  readonly standing: boolean;
  readonly at: number;
  readonly onMoment: (ms: number) => void;
  readonly moment: MomentView | undefined;
  readonly flow: number;
  readonly onFlow: (n: number) => void;
  readonly tuned: TuneView | undefined;
}) {
  const router = useStore((s) => s.router);
  const [kind, setKind] = useState<ScaleKind>('short');
  const [look, setLook] = useState<'strip' | 'map'>('strip');
  const [speed, setSpeed] = useState<string>('strip 6');
  const scale = useMemo(() => timeScale(kind, stopsOf(time), time.endMs), [kind, time]);
  const pace = speeds.find((s) => s.key === speed) ?? speeds[0];
  const { playing, play } = usePlaying(at, (from, clock) => playedTo(pace, scale, time.endMs, from, clock), onMoment);
  return (
    <>
      <div className="flex items-baseline gap-3 px-3.5 pt-2.5 pb-1.5">
        <Verdict time={time} />
        {!standing && (
          <span className="late flex items-baseline gap-2 text-ink2" role="status">
            {time.runs.toLocaleString('en-GB')} of {time.of.toLocaleString('en-GB')} runs
            <button type="button" className="control" onClick={() => void workbench().timing.stop()}>
              Stop
            </button>
          </span>
        )}
      </div>
      <div className="flex flex-wrap items-center gap-x-2 gap-y-1 border-b border-rule px-3.5 pb-2">
        <span className="flex gap-1" role="group" aria-label="Strip or map">
          {(['strip', 'map'] as const).map((l) => (
            <button key={l} type="button" className="control" aria-pressed={l === look} onClick={() => setLook(l)}>
              {l === 'strip' ? 'Strip' : 'Map then'}
            </button>
          ))}
        </span>
        <button
          type="button"
          className="control w-16"
          onClick={() => {
            if (!playing && at >= time.endMs) onMoment(0);
            play(!playing);
          }}
        >
          {playing ? 'Hold' : 'Play'}
        </button>
        <select className="field" aria-label="Speed" value={speed} onChange={(e) => setSpeed(e.target.value)}>
          {speeds.map((s) => (
            <option key={s.key} value={s.key}>
              {s.words}
            </option>
          ))}
        </select>
        <select className="field" aria-label="Time axis" value={kind} onChange={(e) => setKind(e.target.value as ScaleKind)}>
          {scaleKinds.map((k) => (
            <option key={k} value={k}>
              {scaleWords[k]}
            </option>
          ))}
        </select>
        {look === 'strip' && <StripLegend rows={time.rows} tuned={tuned !== undefined} />}
      </div>
      <TimeStrip
        time={time}
        scale={scale}
        ms={at}
        onMoment={(to) => {
          // Whoever takes the handle, holds it.
          play(false);
          onMoment(to);
        }}
        router={router}
        onRouter={(name) => go({ router: name })}
        flow={flow}
        onFlow={onFlow}
        tuned={tuned?.routers}
        instead={look === 'map' ? <MapThen view={view} time={time} moment={moment} at={at} flow={flow} /> : undefined}
      />
      {look === 'strip' && time.silent > 0 && (
        <p className="px-3.5 pb-1.5 text-xs text-ink2">
          {count(time.silent, 'router')} never {time.silent === 1 ? 'hears' : 'hear'} of it.
        </p>
      )}
    </>
  );
}

/** The map as it is at a moment: what is off, who has lost whom, whose table is new, and the way of the packets that are followed. */
function MapThen({
  view,
  time,
  moment,
  at,
  flow,
}: {
  readonly view: DesignView;
  readonly time: TimeView;
  readonly moment: MomentView | undefined;
  readonly at: number;
  readonly flow: number;
}) {
  const router = useStore((s) => s.router);
  const apart = moment?.apart;
  const down = useMemo(() => {
    const either = new Set(apart?.flatMap((id) => [id, id.split('~').reverse().join('~')]));
    return new Set(view.pairs.flatMap((p) => (either.has(p.id) ? [p.id] : [])));
  }, [apart, view]);
  const off = moment?.off;
  const gone = useMemo(() => new Set(off), [off]);
  const marks = useMemo(
    () =>
      new Map(
        time.rows.flatMap((r): [string, string][] => {
          if (off?.includes(r.router)) return [[r.router, 'off']];
          if (r.knew > at) return [];
          if (r.lastChange !== null && r.lastChange <= at) return [[r.router, 'table new']];
          return r.lastChange === null ? [] : [[r.router, r.firstChange !== null && r.firstChange <= at ? 'table in part' : 'knows']];
        }),
      ),
    [time, off, at],
  );
  const lines = moment?.flows[flow]?.lines;
  const ways = useMemo(() => new Map((lines ?? []).map((l) => [l, 'there' as const])), [lines]);
  return (
    <div className="flex min-h-0 flex-1 flex-col" data-testid="map-then">
      <AreaMap
        view={view}
        router={router}
        segment={undefined}
        onRouter={(name) => go({ router: name })}
        onSegment={() => undefined}
        goneRouters={gone}
        downPairs={down}
        marks={marks}
        calm={(r) => !gone.has(r)}
        litWords="have a new table"
        ways={ways}
        hint="Map of the campus at the moment under the handle. Enter or a click chooses a router."
      />
    </div>
  );
}
