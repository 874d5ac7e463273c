'use client';

import { timeWords } from '@gentle-compass/core/convergence/chain';
import { useState, type ReactNode } from 'react';
import { setFailures } from '../model/failing';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { readThen, thenText, type Then, type TimeView } from '../model/time-view';
import { addThen, dropThen } from '../model/timing';
import { Follow } from './follow';
import { Section } from '../parts/panel';

const kindWords = { fail: 'goes down', restore: 'comes back', line: 'a planned step' } as const;

const words = (t: Then): string => (t.kind === 'line' ? t.what : `${t.what} ${kindWords[t.kind]}`);

function Row({
  at,
  children,
  onDrop,
  label,
}: {
  readonly at: string;
  readonly children: ReactNode;
  readonly onDrop: () => void;
  readonly label: string;
}) {
  return (
    <li className="flex items-baseline gap-2 border-b border-fine py-0.5">
      <span className="w-14 shrink-0 text-right font-mono text-xs">{at}</span>
      <span className="min-w-0 flex-1 break-words">{children}</span>
      <button type="button" className="link px-1" aria-label={label} onClick={onDrop}>
        ×
      </button>
    </li>
  );
}

/** What happens when: failures one after another, returns, flaps and planned steps; and whose packets are followed. */
export function CoursePanel({ time, breakable }: { readonly time: TimeView | undefined; readonly breakable: readonly string[] }) {
  const fail = useStore((s) => s.fail);
  const then = useStore((s) => s.then);
  return (
    <>
      <h2 className="text-lg">What happens when</h2>
      <ul aria-label="What happens when">
        {fail.map((f) => (
          <Row key={f} at="0" onDrop={() => void setFailures(fail.filter((x) => x !== f))} label={`Take out: ${f} goes down`}>
            {f} goes down
          </Row>
        ))}
        {then.map((text, n) => {
          const t = readThen(text);
          return (
            t && (
              <Row key={`${n} ${text}`} at={t.ms === 0 ? '0' : timeWords(t.ms)} onDrop={() => dropThen(n)} label={`Take out: ${words(t)}`}>
                {words(t)}
              </Row>
            )
          );
        })}
      </ul>
      <NextEvent breakable={breakable} fail={fail} />
      {time?.problems.map((p) => (
        <p key={p} className="mt-2 text-accent" role="alert">
          {p}
        </p>
      ))}
      <Followed time={time} />
    </>
  );
}

/** Something more that happens. */
function NextEvent({ breakable, fail }: { readonly breakable: readonly string[]; readonly fail: readonly string[] }) {
  const [kind, setKind] = useState<Then['kind'] | 'flap'>('restore');
  const [what, setWhat] = useState('');
  const [ms, setMs] = useState('1000');
  const [times, setTimes] = useState('3');
  const [fault, setFault] = useState<string>();
  const named = what.trim() === '' && kind !== 'line' ? (fail[0] ?? '') : what.trim();
  const add = (): void => {
    const at = Number(ms);
    if (!/^\d{1,7}$/.test(ms)) setFault('A moment is a whole number of ms, at most 9,999,999.');
    else if (kind === 'line' && named === '') setFault('A planned step is a line as in quick entry, such as: set cost 100 on kelp-1/to-kelp-2.');
    else if (kind !== 'line' && !breakable.includes(named) && !named.startsWith('group:'))
      setFault(named === '' ? 'Choose what it is about.' : `“${named}” is nothing that can fail here; the field completes what can.`);
    else {
      setFault(undefined);
      if (kind !== 'flap') addThen({ ms: at, kind, what: named });
      else {
        const n = Math.min(20, Math.max(1, Number(times) || 1));
        // Down at once where it is not down yet; then up and down in turn, and up at last.
        const down = fail.includes(named);
        const course: Then[] = [];
        for (let i = down ? 1 : 0; i < 2 * n; i++) course.push({ ms: i * at, kind: i % 2 === 0 ? 'fail' : 'restore', what: named });
        go({ then: [...useStore.getState().then, ...course.map(thenText)] });
      }
      setWhat('');
    }
  };
  return (
    <form
      className="mt-2 flex flex-col gap-1.5 rounded border border-rule p-2"
      aria-label="Something more that happens"
      onSubmit={(e) => {
        e.preventDefault();
        add();
      }}
    >
      <div className="flex gap-1.5">
        <select className="field min-w-0 flex-1" aria-label="What happens" value={kind} onChange={(e) => setKind(e.target.value as typeof kind)}>
          <option value="restore">comes back</option>
          <option value="fail">goes down too</option>
          <option value="flap">flaps</option>
          <option value="line">a planned step</option>
        </select>
        <label className="flex items-center gap-1 text-ink2">
          {kind === 'flap' ? 'each' : 'at'}
          <input className="field w-16 text-right font-mono text-ink" aria-label="Moment, ms" value={ms} onChange={(e) => setMs(e.target.value)} />
          ms
        </label>
      </div>
      <input
        className="field w-full"
        list="can-fail"
        aria-label={kind === 'line' ? 'The step, a line of quick entry' : 'What it is about'}
        placeholder={kind === 'line' ? 'set cost 100 on kelp-1/to-kelp-2' : (fail[0] ?? 'link:kelp-1/to-kelp-2')}
        value={what}
        onChange={(e) => setWhat(e.target.value)}
      />
      {kind !== 'line' && (
        <datalist id="can-fail">
          {breakable.slice(0, 3000).map((b) => (
            <option key={b} value={b} />
          ))}
        </datalist>
      )}
      <div className="flex items-center gap-1.5">
        {kind === 'flap' && (
          <label className="flex items-center gap-1 text-ink2">
            times
            <input
              className="field w-12 text-right font-mono text-ink"
              aria-label="How often it goes down"
              value={times}
              onChange={(e) => setTimes(e.target.value)}
            />
          </label>
        )}
        <button type="submit" className="control ml-auto">
          Let it happen
        </button>
      </div>
      {kind === 'restore' && named !== '' && !fail.includes(named) && (
        <p className="text-ink2">It is down, and that settled, before the first moment.</p>
      )}
      {fault !== undefined && (
        <p className="text-accent" role="alert">
          {fault}
        </p>
      )}
    </form>
  );
}

/** Whose packets are followed. */
function Followed({ time }: { readonly time: TimeView | undefined }) {
  const watch = useStore((s) => s.watch);
  return (
    <Section title="Packets that are followed">
      {watch.length === 0 && <p className="text-ink2">Some that it touches; name others to follow those.</p>}
      <ul aria-label="Packets that are followed, by name">
        {watch.map((w) => (
          <Row key={w} at="" onDrop={() => go({ watch: watch.filter((x) => x !== w) })} label={`Follow no more: ${w}`}>
            {w.replace(' ', ' → ')}
          </Row>
        ))}
      </ul>
      <Follow known={watch.length > 0 ? watch : (time?.flows.map((f) => f.word) ?? [])} />
    </Section>
  );
}
