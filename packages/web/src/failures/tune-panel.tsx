'use client';

import { timeWords } from '@gentle-compass/core/convergence/chain';
import type { SpfSchedule } from '@gentle-compass/core/design/design';
import { proxy } from 'comlink';
import { useEffect, useState, type ReactNode } from 'react';
import { makeChange } from '../model/history';
import { told, useStore } from '../model/state';
import type { TimeView, TunableView, TuneCall, TuneView, WatchView } from '../model/time-view';
import { NumberTable } from '../parts/number-table';
import { Section } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { count } from '../parts/words';
import { workbench } from '../worker/client';

/** What stands in the fields: texts, empty where it stays as it is. */
export interface Fields {
  readonly where: 'around' | 'all' | 'router';
  readonly hello: string;
  readonly dead: string;
  readonly bfd: '' | 'on' | 'off';
  readonly interval: string;
  readonly multiplier: string;
  readonly carrier: '' | 'yes' | 'no';
  readonly spf: '' | SpfSchedule['kind'];
  readonly delays: readonly string[];
  readonly loss: string;
}

/** Nothing is other than it is. */
export const untouched: Fields = {
  where: 'around',
  hello: '',
  dead: '',
  bfd: '',
  interval: '50',
  multiplier: '3',
  carrier: '',
  spf: '',
  delays: [],
  loss: '0.1',
};

const delayNames: Readonly<Record<SpfSchedule['kind'], readonly string[]>> = {
  'back-off': ['initial', 'short', 'long', 'hold-down', 'time to learn'],
  doubling: ['first', 'hold', 'maximum'],
  fixed: ['delay'],
};
const delayPlain: Readonly<Record<SpfSchedule['kind'], readonly number[]>> = {
  'back-off': [10, 100, 1000, 2000, 500],
  doubling: [10, 100, 5000],
  fixed: [10],
};

const whole = (text: string, from: number, to: number): number | undefined => {
  const n = Number(text);
  return /^\d+$/.test(text.trim()) && n >= from && n <= to ? n : undefined;
};

function schedule(kind: SpfSchedule['kind'], [a = 0, b = 0, c = 0, d = 0, e = 0]: readonly number[]): SpfSchedule {
  switch (kind) {
    case 'fixed':
      return { kind, delay: a };
    case 'doubling':
      return { kind, first: a, hold: b, maximum: Math.max(b, c) };
    case 'back-off':
      return { kind, initial: a, short: b, long: c, holdDown: d, timeToLearn: e };
  }
}

/** The wish in the fields; `undefined` while nothing is other than it is; a text says what is wrong with a field. */
export function wishOf(f: Fields, router: string | undefined): TuneCall | string | undefined {
  const hello = f.hello === '' ? undefined : whole(f.hello, 1, 65_535);
  const dead = f.dead === '' ? undefined : whole(f.dead, 1, 65_535);
  if ((f.hello !== '' && hello === undefined) || (f.dead !== '' && dead === undefined))
    return 'Hello and dead intervals are whole seconds from 1 to 65,535.';
  if (hello !== undefined && dead !== undefined && dead <= hello)
    return 'The dead interval is longer than the hello interval, or every hello comes too late.';
  const interval = whole(f.interval, 1, 60_000);
  const multiplier = whole(f.multiplier, 1, 255);
  if (f.bfd === 'on' && (interval === undefined || multiplier === undefined))
    return 'BFD: an interval of 1 to 60,000 ms, and 1 to 255 packets that may be missing.';
  const delays = f.delays.map((d) => whole(d, 0, 600_000));
  if (f.spf !== '' && delays.some((d) => d === undefined)) return 'SPF delays are whole ms, at most 600,000.';
  const loss = Number(f.loss);
  if (!(loss >= 0 && loss < 100)) return 'Packets that get lost: a share from 0 to 100 per cent.';
  if (f.where === 'router' && router === undefined) return 'Choose a router by a click on its name in the strip.';
  if (hello === undefined && dead === undefined && f.bfd === '' && f.carrier === '' && f.spf === '') return undefined;
  return {
    where: f.where === 'router' ? { router: router ?? '' } : f.where,
    hello,
    dead,
    bfd: f.bfd === '' ? undefined : f.bfd === 'off' ? 'off' : { interval: interval ?? 50, multiplier: multiplier ?? 3 },
    carrierSeen: f.carrier === '' ? undefined : f.carrier === 'yes',
    spf:
      f.spf === ''
        ? undefined
        : schedule(
            f.spf,
            delays.map((d) => d ?? 0),
          ),
    loss: loss / 100,
  };
}

/** How often something happens, by its number a day. */
export function oftenWords(aDay: number): string {
  if (aDay < 1 / 365_000) return 'none in 1,000 y';
  if (aDay < 1 / 365) return `1 in ${Math.round(1 / aDay / 365).toLocaleString('en-GB')} years`;
  if (aDay < 1) return `1 in ${Math.round(1 / aDay).toLocaleString('en-GB')} days`;
  return `${aDay < 10 ? aDay.toFixed(1) : Math.round(aDay).toLocaleString('en-GB')} a day`;
}

const rate = (n: number): string => n.toLocaleString('en-GB', { maximumFractionDigits: n < 100 ? 1 : 0 });

/** Asks what other timers would come to; a moment after the last key. */
function useTuned(wish: TuneCall | string | undefined, time: TimeView | undefined): TuneView | undefined {
  const key = typeof wish === 'object' ? JSON.stringify(wish) : undefined;
  const [state, setState] = useState<{ readonly key: string; readonly time: TimeView | undefined; readonly view: TuneView }>();
  useEffect(() => {
    if (key === undefined || !time?.done) return undefined;
    let current = true;
    const take = (view: TuneView): void => {
      if (current) setState({ key, time, view });
    };
    const wait = setTimeout(() => {
      workbench()
        .timing.tune(JSON.parse(key) as TuneCall, proxy(take))
        .then(
          (view) => {
            if (view) take(view);
          },
          (e: unknown) => told(e, 'Trying other timers'),
        );
    }, 120);
    return () => {
      current = false;
      clearTimeout(wait);
    };
  }, [key, time]);
  return key !== undefined && state?.key === key && state.time === time ? state.view : undefined;
}

/** Timers, BFD, SPF delays and carrier sensing tried instead of the configured ones: old against new at once, with price and risk. */
export function TunePanel({ time, onTuned }: { readonly time: TimeView | undefined; readonly onTuned: (view: TuneView | undefined) => void }) {
  const router = useStore((s) => s.router);
  const [fields, setFields] = useState<Fields>(untouched);
  const set = (f: Partial<Fields>): void => setFields({ ...fields, ...f });
  const where = fields.where === 'router' ? { router: router ?? '' } : fields.where;
  const now = useAnswer(() => workbench().timing.tunable({ where }), [JSON.stringify(where), time]) ?? undefined;
  const wish = wishOf(fields, router);
  const tuned = useTuned(wish, time);
  useEffect(() => onTuned(tuned), [tuned, onTuned]);
  useEffect(() => () => onTuned(undefined), [onTuned]);
  return (
    <>
      <h2 className="text-lg">Other timers</h2>
      <TuneFields fields={fields} now={now} router={router} set={set} />
      {typeof wish === 'string' && (
        <p className="mt-2 text-accent" role="alert">
          {wish}
        </p>
      )}
      {wish === undefined ? (
        <p className="mt-2 text-ink2">
          Change a value: what it would come to stands here and in the strip at once, and nothing is changed before you take it over.
        </p>
      ) : (
        typeof wish === 'object' &&
        (tuned && time ? <Tuned time={time} tuned={tuned} onTaken={() => setFields(untouched)} /> : <p className="mt-2 text-ink2">Simulating…</p>)
      )}
    </>
  );
}

function Field({ label, now, children }: { readonly label: string; readonly now: string; readonly children: ReactNode }) {
  return (
    <div className="grid grid-cols-[70px_1fr] gap-x-2 border-b border-fine py-1">
      <span className="pt-1">{label}</span>
      <span>
        <span className="flex flex-wrap items-center gap-1">{children}</span>
        <span className="block text-[11px] text-ink2">{now}</span>
      </span>
    </div>
  );
}

const values = (all: readonly (number | string)[] | undefined, unit = ''): string =>
  !all ? '…' : all.length === 0 ? 'none' : `now ${all.join(' or ')}${unit}`;

function TuneFields({
  fields: f,
  now,
  router,
  set,
}: {
  readonly fields: Fields;
  readonly now: TunableView | undefined;
  readonly router: string | undefined;
  readonly set: (f: Partial<Fields>) => void;
}) {
  const number = (label: string, value: string, to: (text: string) => Partial<Fields>, placeholder = '', width = 'w-14'): ReactNode => (
    <input
      className={`field ${width} text-right font-mono`}
      aria-label={label}
      value={value}
      placeholder={placeholder}
      inputMode="numeric"
      onChange={(e) => set(to(e.target.value))}
    />
  );
  return (
    <div className="mt-1">
      <Field label="where" now={now ? count(now.ends, 'interface') : '…'}>
        <select
          className="field min-w-0 flex-1"
          aria-label="Where"
          value={f.where}
          onChange={(e) => set({ where: e.target.value as Fields['where'] })}
        >
          <option value="around">on the wires that fail</option>
          <option value="all">everywhere</option>
          <option value="router">{router === undefined ? 'on one router' : `on ${router} alone`}</option>
        </select>
      </Field>
      <Field label="hello, dead" now={`${values(now?.hello)} / ${now?.dead.join(' or ') ?? ''} s`}>
        {number('Hello interval, s', f.hello, (hello) => ({ hello }), String(now?.hello[0] ?? ''))}
        {number('Dead interval, s', f.dead, (dead) => ({ dead }), String(now?.dead[0] ?? ''))}
        <span className="text-ink2">s</span>
      </Field>
      <Field label="BFD" now={values(now?.bfd)}>
        <select className="field" aria-label="BFD" value={f.bfd} onChange={(e) => set({ bfd: e.target.value as Fields['bfd'] })}>
          <option value="">as it is</option>
          <option value="on">on</option>
          <option value="off">off</option>
        </select>
        {f.bfd === 'on' && (
          <>
            {number('Packets that may be missing', f.multiplier, (multiplier) => ({ multiplier }), '', 'w-10')}×
            {number('BFD interval, ms', f.interval, (interval) => ({ interval }))}
            <span className="text-ink2">ms</span>
          </>
        )}
      </Field>
      <Field
        label="carrier"
        now={
          now
            ? now.cables === 0
              ? 'no cable here'
              : now.carrierUnseen === 0
                ? 'now seen'
                : `now unseen on ${now.carrierUnseen} of ${now.cables}`
            : '…'
        }
      >
        <select
          className="field"
          aria-label="Carrier loss"
          value={f.carrier}
          disabled={now?.cables === 0}
          onChange={(e) => set({ carrier: e.target.value as Fields['carrier'] })}
        >
          <option value="">as it is</option>
          <option value="yes">seen at both ends</option>
          <option value="no">not seen</option>
        </select>
      </Field>
      <Field label="SPF" now={`${values(now?.spf)}; of all routers`}>
        <select
          className="field"
          aria-label="SPF schedule"
          value={f.spf}
          onChange={(e) => {
            const spf = e.target.value as Fields['spf'];
            set({ spf, delays: spf === '' ? [] : delayPlain[spf].map(String) });
          }}
        >
          <option value="">as it is</option>
          <option value="back-off">RFC 8405</option>
          <option value="doubling">a hold that doubles</option>
          <option value="fixed">a fixed delay</option>
        </select>
        {f.spf !== '' && (
          <span className="grid w-full grid-cols-[1fr_auto] items-center gap-1">
            {delayNames[f.spf].map((name, n) => (
              <label key={name} className="col-span-2 grid grid-cols-subgrid items-center text-ink2">
                {name}, ms
                {number(`SPF ${name}, ms`, f.delays[n] ?? '', (text) => ({ delays: f.delays.map((d, i) => (i === n ? text : d)) }))}
              </label>
            ))}
          </span>
        )}
      </Field>
      <Field label="loss" now="of packets, each by itself: assumed">
        {number('Packets lost, per cent', f.loss, (loss) => ({ loss }))}
        <span className="text-ink2">%</span>
      </Field>
    </div>
  );
}

const watchRows = (was: WatchView, would: WatchView): { readonly key: string; readonly cells: readonly string[] }[] => [
  { key: 'packets', cells: ['packets/s', rate(was.packets), rate(would.packets)] },
  { key: 'busiest', cells: ['busiest wire', rate(was.onBusiest), rate(would.onBusiest)] },
  { key: 'alarms', cells: ['false alarms', oftenWords(was.falseAlarms), oftenWords(would.falseAlarms)] },
  {
    key: 'patience',
    cells: ['silence = loss', ...[was, would].map((w) => (w.patience === null ? 'none' : timeWords(w.patience)))],
  },
];

function Tuned({ time, tuned, onTaken }: { readonly time: TimeView; readonly tuned: TuneView; readonly onTaken: () => void }) {
  const spread = (t: TimeView['lastChange'], of: 'typical' | 'latest'): string => (t ? timeWords(t[of]) : tuned.done ? 'no change' : '…');
  const refused = tuned.parting.length > 0;
  const [first] = tuned.parting;
  return (
    <div data-testid="tuned">
      <Section title="Now against then">
        <NumberTable
          label="Now against other timers"
          columns={[
            { name: '', kind: 'name', width: 92 },
            { name: 'now', kind: 'number' },
            { name: 'then', kind: 'number' },
          ]}
          rows={[
            ...(refused
              ? []
              : [
                  { key: 'typical', cells: ['whole, typical', spread(time.lastChange, 'typical'), spread(tuned.lastChange, 'typical')] },
                  { key: 'latest', cells: ['whole, latest', spread(time.lastChange, 'latest'), spread(tuned.lastChange, 'latest')] },
                ]),
            ...watchRows(tuned.was, tuned.would),
          ]}
        />
        <p className="mt-1 text-ink2">
          Silence of that length{tuned.would.patienceAt === '' ? '' : `, on ${tuned.would.patienceAt} first,`} stands for a failure; a false alarm is
          a neighbour given up by lost packets alone.{tuned.would.busiest === '' ? '' : ` The busiest wire is that of ${tuned.would.busiest}.`}
        </p>
        {tuned.slowest !== null && !refused && <p className="mt-1 text-ink2">Then {tuned.slowest}.</p>}
      </Section>
      {tuned.faults.map((f) => (
        <p key={f} className="mt-2 text-accent" role="alert">
          {f}
        </p>
      ))}
      {refused && first && (
        <p className="mt-2 text-accent" role="alert">
          Refused: {first.a} and {first.b} would part for good ({first.why})
          {tuned.parting.length > 1 && `, and ${count(tuned.parting.length - 1, 'more pair')}`}. Change both ends of each wire: “on the wires that
          fail” or “everywhere”.
        </p>
      )}
      {!refused && <Order tuned={tuned} />}
      {!refused && tuned.edits.length > 0 && (
        <>
          <details className="mt-2">
            <summary className="cursor-pointer text-ink2">the {count(tuned.lines.length, 'line')} of quick entry</summary>
            <pre className="overflow-x-auto font-mono text-xs leading-relaxed" tabIndex={0} aria-label="Lines of quick entry">
              {tuned.lines.join('\n')}
            </pre>
          </details>
          <button
            type="button"
            className="control mt-2 w-full"
            data-main
            disabled={!tuned.done}
            onClick={() => {
              onTaken();
              void makeChange('Timers tuned', tuned.edits);
            }}
          >
            Take over as one change
          </button>
        </>
      )}
      {!refused && tuned.done && tuned.edits.length === 0 && tuned.faults.length === 0 && (
        <p className="mt-2 text-ink2">All of that is so already.</p>
      )}
    </div>
  );
}

/** In which order the real routers are changed, and how soon one end follows the other. */
function Order({ tuned }: { readonly tuned: TuneView }) {
  if (tuned.orders.length === 0) return <Section title="Order of the change">Any: no hello is refused on the way.</Section>;
  return (
    <Section title="Order of the change">
      {tuned.orders.map((o) => (
        <div key={o.from}>
          <p className="text-ink2">
            {count(o.places, 'interface')} from hello/dead {o.from}:
          </p>
          {o.withinS <= 0 ? (
            <p className="text-accent">
              There is no order in which no pair can drop: between two ends that differ, the dead interval may run out at once.
            </p>
          ) : (
            <ol className="list-decimal pl-5">
              {o.steps.map((s) => (
                <li key={s.to}>
                  {s.to}: all ends of a wire within <strong className="font-semibold">{rate(s.withinS)} s</strong>
                </li>
              ))}
            </ol>
          )}
        </div>
      ))}
      <p className="text-ink2">While two ends differ neither takes the other’s hellos (RFC 2328 §10.5); in that time no pair drops.</p>
    </Section>
  );
}
