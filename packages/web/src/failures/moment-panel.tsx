'use client';

import { timeWords } from '@gentle-compass/core/convergence/chain';
import { useState } from 'react';
import { go } from '../model/moving';
import type { MomentView, TimeView } from '../model/time-view';
import { useStore } from '../model/state';
import { Section } from '../parts/panel';
import { areaName, count, listWords } from '../parts/words';
import { fateWords, knewWords } from './time-strip';

/** Lines that are as they were, at once. */
const shownWhole = 2000;

const TheRest = ({ n, where }: { readonly n: number; readonly where: string }) => (
  <p className="mt-1 text-ink2">
    and {count(n, 'more', 'more')}: {where}.
  </p>
);

const stood = (s: string): boolean => s === 'full' || s === '2-way';

/** Who has lost whom at a moment, in sentences: both sides, or one that the other still counts on. */
function pairWords(m: MomentView): string[] {
  const seen = new Set<string>();
  return m.pairs.flatMap((p) => {
    const gone = stood(p.before) && !stood(p.state);
    const key = [p.router, p.peer].sort().join(' ');
    if (!gone)
      return stood(p.before) === stood(p.state)
        ? [`${p.router} and ${p.peer}: ${p.before}, now ${p.state}`]
        : [`${p.router} has ${p.peer} anew, ${p.state}`];
    if (seen.has(key)) return [];
    seen.add(key);
    const other = m.pairs.some((q) => q.router === p.peer && q.peer === p.router && stood(q.before) && !stood(q.state));
    if (m.off.includes(p.router))
      return other ? [`${p.peer} has lost ${p.router}, which is off`] : [`${p.peer} still counts on ${p.router}, which is off`];
    return other ? [`${p.router} and ${p.peer} have lost each other`] : [`${p.router} has lost ${p.peer}; ${p.peer} still counts on ${p.router}`];
  });
}

/** The network at the moment under the handle: what becomes of packets, who has lost whom, and one router's table and databases. */
export function MomentPanel({ time, moment, flow }: { readonly time: TimeView; readonly moment: MomentView | undefined; readonly flow: number }) {
  const router = useStore((s) => s.router);
  const routers = useStore((s) => s.view?.routers);
  const [shows, setShows] = useState<'table' | 'database'>('table');
  if (!moment) return <p className="text-ink2">Simulating…</p>;
  const followed = time.flows[flow];
  const now = moment.flows[flow];
  const last = followed?.spans.at(-1);
  const pairs = [...new Set(pairWords(moment))];
  const row = time.rows.find((r) => r.router === router);
  return (
    <div data-testid="moment">
      <p className="text-ink2">at {timeWords(moment.ms)}</p>
      {followed && now && (
        <>
          <h2 className="text-lg">
            {followed.fromName} → {followed.toName}{' '}
            <span className={now.fate === 'carried' ? 'text-settled' : 'text-accent'}>
              {now.fate === 'carried' ? 'is carried' : now.fate === 'dropped' ? 'is dropped' : 'loops'}
            </span>
          </h2>
          <p className="text-ink2">{fateWords(now)}.</p>
          <dl className="mt-1 grid grid-cols-[52px_1fr] gap-x-2 text-xs">
            <dt className="text-ink2">before</dt>
            <dd>{followed.before.join(', ')}</dd>
            <dt className="text-ink2">now</dt>
            <dd className={now.fate === 'carried' ? '' : 'text-accent'}>
              {now.path.join(', ')}
              {now.fate === 'looping' ? ` and back to ${now.at[0] ?? ''}` : ''}
            </dd>
            <dt className="text-ink2">at last</dt>
            <dd>{last?.fate === 'carried' ? last.path.join(', ') : 'nobody carries it'}</dd>
          </dl>
        </>
      )}
      <Story moment={moment} />
      <Section title="Neighbours">
        {pairs.length === 0 ? (
          <p className="text-ink2">All as before.</p>
        ) : (
          <ul>
            {pairs.slice(0, 12).map((w) => (
              <li key={w} className="border-b border-fine py-0.5">
                {w}
              </li>
            ))}
            {pairs.length > 12 && <li className="py-0.5 text-ink2">and {count(pairs.length - 12, 'more')}</li>}
          </ul>
        )}
      </Section>
      <Section title="One router">
        <div className="flex items-center gap-1.5">
          <select
            className="field min-w-0 flex-1"
            aria-label="Router to look into"
            value={router ?? ''}
            onChange={(e) => go({ router: e.target.value === '' ? undefined : e.target.value })}
          >
            <option value="">choose a router</option>
            {routers?.map((r) => (
              <option key={r.name} value={r.name}>
                {r.name}
              </option>
            ))}
          </select>
          {(['table', 'database'] as const).map((s) => (
            <button key={s} type="button" className="control" aria-pressed={shows === s} onClick={() => setShows(s)}>
              {s}
            </button>
          ))}
        </div>
        {row && (
          <p className="mt-1 text-ink2">
            {knewWords(row)}
            {row.lastChange === null ? '; its table stays.' : `; its table is as it stays after ${timeWords(row.lastChange)}.`}
          </p>
        )}
        {router === undefined ? (
          <p className="mt-1 text-ink2">A click on a name in the strip shows its table as it is at this moment.</p>
        ) : shows === 'table' ? (
          <TableThen moment={moment} router={router} />
        ) : (
          <DatabaseThen moment={moment} router={router} />
        )}
      </Section>
    </div>
  );
}

/** What led to it. */
function Story({ moment }: { readonly moment: MomentView }) {
  const { lines, earlier } = moment.story;
  return (
    <Section title="Until now">
      {earlier > 0 && <p className="text-ink2">After {count(earlier, 'other step')}:</p>}
      <ol aria-label="What led to this moment">
        {lines.map((l, n) => (
          <li key={`${n} ${l.ms} ${l.words}`} className="grid grid-cols-[58px_1fr] gap-x-2 border-b border-fine py-0.5 text-xs">
            <span className="text-right font-mono text-ink2">{l.ms === 0 ? '0' : timeWords(l.ms)}</span>
            <span>
              {l.words}
              {l.why !== null && <em className="block text-caution not-italic">{l.why}.</em>}
            </span>
          </li>
        ))}
      </ol>
    </Section>
  );
}

function TableThen({ moment, router }: { readonly moment: MomentView; readonly router: string }) {
  const [whole, setWhole] = useState(false);
  if (!moment.table) return <p className="mt-1">{moment.off.includes(router) ? `${router} is off.` : `${router} has no table here.`}</p>;
  const moved = moment.table.filter((l) => l.moved);
  const same = moment.table.filter((l) => !l.moved);
  return (
    <>
      <p className="mt-1">
        {moved.length === 0
          ? 'Every line is as it was before.'
          : `${count(moved.length, 'line')} other than before, ${same.length.toLocaleString('en-GB')} the same.`}
      </p>
      <ul aria-label={`Table of ${router} at this moment`}>
        {moved.map((l) => (
          <li key={l.prefix} className="border-b border-fine py-0.5 text-xs">
            <span className="font-mono">{l.prefix}</span>
            {l.before !== '' && <span className="block pl-3 text-ink2 line-through decoration-ink3">{l.before}</span>}
            <span className={`block pl-3 ${l.now === '' ? 'text-accent' : ''}`}>{l.now === '' ? 'no route' : l.now}</span>
          </li>
        ))}
        {(whole ? same.slice(0, shownWhole) : []).map((l) => (
          <li key={l.prefix} className="long-row border-b border-fine py-0.5 text-xs text-ink2">
            <span className="font-mono">{l.prefix}</span> {l.now}
          </li>
        ))}
      </ul>
      {whole && same.length > shownWhole && <TheRest n={same.length - shownWhole} where="the whole table stands under Routes" />}
      {same.length > 0 && (
        <button type="button" className="link mt-1 text-ink2" onClick={() => setWhole(!whole)}>
          {whole ? 'only what differs' : `and the ${same.length.toLocaleString('en-GB')} that are the same`}
        </button>
      )}
    </>
  );
}

function DatabaseThen({ moment, router }: { readonly moment: MomentView; readonly router: string }) {
  const [whole, setWhole] = useState(false);
  if (!moment.database) return <p className="mt-1">{moment.off.includes(router) ? `${router} is off.` : `${router} holds nothing here.`}</p>;
  const news = moment.database.filter((h) => h.state !== 'as before');
  const old = moment.database.filter((h) => h.state === 'as before');
  const areas = listWords([...new Set(moment.database.map((h) => (h.area === '' ? 'what goes everywhere' : areaName(h.area))))]);
  return (
    <>
      <p className="mt-1">
        {news.length === 0
          ? `Nothing new in ${areas} yet.`
          : `${count(news.length, 'advertisement')} came since, ${old.length.toLocaleString('en-GB')} as before.`}
      </p>
      <ul aria-label={`Databases of ${router} at this moment`}>
        {[...news, ...(whole ? old.slice(0, shownWhole) : [])].map((h) => (
          <li key={`${h.area} ${h.words}`} className="long-row border-b border-fine py-0.5 text-xs">
            <span className="font-mono text-ink2">{h.type}</span> {h.words}{' '}
            {h.state !== 'as before' && (
              <span className={h.state === 'withdrawn' ? 'text-accent' : 'text-settled'}>
                {h.state}
                {h.since !== null && ` at ${timeWords(h.since)}`}
              </span>
            )}
          </li>
        ))}
      </ul>
      {whole && old.length > shownWhole && <TheRest n={old.length - shownWhole} where="whole databases stand under Areas" />}
      {old.length > 0 && (
        <button type="button" className="link mt-1 text-ink2" onClick={() => setWhole(!whole)}>
          {whole ? 'only what came since' : `and the ${old.length.toLocaleString('en-GB')} as before`}
        </button>
      )}
    </>
  );
}
