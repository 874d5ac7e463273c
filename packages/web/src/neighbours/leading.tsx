'use client';

import type { PlayStep, Rung, Stand } from '@gentle-compass/core/neighbours/election-play';
import { formatAddress } from '@gentle-compass/core/prefix/address';
import { useState } from 'react';
import { enterLine, makeChange } from '../model/history';
import { go } from '../model/moving';
import type { ElectingView, LadderView, LedChange } from '../model/neighbours-view';
import { useStore } from '../model/state';
import { AreaName } from '../parts/area-name';
import { FindingCard } from '../parts/finding-card';
import { Panel, Section } from '../parts/panel';
import { RovingList } from '../parts/roving-list';
import { useAnswer } from '../parts/use-answer';
import { count, listWords, someOf } from '../parts/words';
import { workbench } from '../worker/client';
import { NeighboursHead } from './neighbours-head';

const stepWords = (s: PlayStep, all: number): string =>
  s.routers.length === all && s.kind === 'start'
    ? 'all start together'
    : `${listWords(s.routers)} ${s.kind === 'start' ? (s.routers.length === 1 ? 'starts' : 'start together') : s.routers.length === 1 ? 'is lost' : 'are lost together'}`;

const roleWords = { dr: 'designated router', bdr: 'backup' } as const;

/** Who leads each segment, who would be next, and a play of starts and losses. */
export function Leading() {
  const view = useStore((s) => s.view);
  const documents = useStore((s) => s.design?.documents);
  const wanted = useStore((s) => s.segment);
  const [text, setText] = useState('');
  const list = useAnswer(() => workbench().neighbours.electing(), [view?.routers, documents]);
  const rows = (list ?? []).filter((e) =>
    `${e.name} ${e.dr} ${e.bdr} ${e.type} ${e.area} ${e.notes.join(' ')}`.toLowerCase().includes(text.toLowerCase()),
  );
  const chosen = rows.find((e) => e.segment === wanted) ?? rows[0];
  const answer = useAnswer(
    async () => (chosen ? { of: chosen.segment, ladder: await workbench().neighbours.ladder(chosen.segment) } : undefined),
    [chosen?.segment, view?.routers, documents],
  );
  const ladder = answer?.of === chosen?.segment ? answer?.ladder : undefined;
  return (
    <div className="stage">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <NeighboursHead>
          <input
            className="field ml-auto w-44"
            placeholder="subnet, leader, type"
            aria-label="Narrow the segments"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
        </NeighboursHead>
        {list && list.length === 0 && (
          <p className="mx-4 rounded border border-rule bg-sheet p-4 text-ink2">
            No segment elects anybody: every link is point-to-point. A LAN of two routers or more appears here.
          </p>
        )}
        <div className="flex min-h-0 flex-1 gap-3 px-4 pb-4">
          {list && list.length > 0 && (
            <RovingList
              count={rows.length}
              rowHeight={62}
              at={chosen ? rows.indexOf(chosen) : -1}
              onMove={(n) => go({ segment: rows[n]?.segment })}
              box={{
                className: 'w-[236px] shrink-0 overflow-y-auto rounded border border-rule bg-sheet',
                role: 'region',
                'aria-label': 'Segments that elect',
              }}
              row={(n, top, focus) => {
                const e = rows[n];
                return e ? (
                  <li key={e.segment} className="absolute w-full border-b border-fine" style={{ top, height: 62 }}>
                    <button
                      type="button"
                      {...focus}
                      aria-pressed={e === chosen}
                      onClick={() => go({ segment: e.segment })}
                      className={`block h-full w-full px-3 py-1 text-left ${e === chosen ? 'bg-paper' : ''}`}
                    >
                      <span className="block truncate font-mono text-xs">{e.name}</span>
                      <span className="block truncate">
                        <strong className="font-semibold">{e.dr || 'nobody'}</strong>{' '}
                        <span className="text-ink2">leads {count(e.routers, 'router')}</span>
                      </span>
                      <span className={`block truncate text-xs ${e.notes.length > 0 ? 'text-caution' : 'text-ink2'}`}>
                        {e.notes[0] ?? (e.bdr ? `${e.bdr} is backup` : 'no backup')}
                      </span>
                    </button>
                  </li>
                ) : null;
              }}
            />
          )}
          {chosen && ladder && <Segment key={chosen.segment} of={chosen} ladder={ladder} />}
        </div>
      </div>
      <Panel label="About the segment">
        {chosen && ladder ? <About of={chosen} ladder={ladder} /> : <p className="text-ink2">Choose a segment.</p>}
      </Panel>
    </div>
  );
}

/** The ladder of a segment and a play upon it. */
function Segment({ of, ladder }: { readonly of: ElectingView; readonly ladder: LadderView }) {
  const [steps, setSteps] = useState<readonly PlayStep[]>([]);
  const [ticked, setTicked] = useState<readonly string[]>([]);
  const routers = useStore((s) => s.view?.routers);
  const answer = useAnswer(
    async () => ({ steps, led: steps.length === 0 ? null : await workbench().neighbours.play(of.segment, steps) }),
    [steps, of.segment, routers],
  );
  const played = answer?.steps === steps ? answer.led : undefined;
  const all = ladder.rungs.map((r) => r.router);
  const now: Stand | undefined = steps.length === 0 ? ladder.together : played?.stands.at(-1);
  // A play begins from the segment as it is where all started together.
  const begun: readonly PlayStep[] = steps.length === 0 ? [{ kind: 'start', routers: all }] : steps;
  const here = now?.present ?? all;
  const able = (kind: PlayStep['kind']): readonly string[] => ticked.filter((r) => here.includes(r) === (kind === 'lose'));
  const add = (kind: PlayStep['kind']): void => {
    setSteps([...begun, { kind, routers: able(kind) }]);
    setTicked([]);
  };
  const role = (r: string): string =>
    now?.dr === r ? 'leads' : now?.bdr === r ? 'backup' : now?.next.bdr === r || now?.next.dr === r ? 'next in line' : '';
  return (
    <div
      className="min-w-0 flex-1 overflow-y-auto rounded border border-rule bg-sheet px-4 py-3"
      tabIndex={0}
      role="region"
      aria-label="Ladder and play"
    >
      <table className="w-full" aria-label="Ladder of candidates">
        <thead className="text-ink2">
          <tr>
            <th className="w-6" aria-label="chosen for the next step" />
            <th className="py-0.5 text-left font-normal">router, best first</th>
            <th className="py-0.5 pl-3 text-right font-normal">priority</th>
            <th className="py-0.5 pl-3 text-right font-normal">router id</th>
            <th className="w-[34%] py-0.5 pl-4 text-left font-normal">
              {steps.length === 0 ? 'all started together' : `after step ${steps.length}`}
            </th>
          </tr>
        </thead>
        <tbody>
          {ladder.rungs.map((r) => (
            <RungRow
              key={`${r.router}/${r.iface}`}
              rung={r}
              here={here.includes(r.router)}
              role={role(r.router)}
              ticked={ticked.includes(r.router)}
              onTick={(on) => setTicked(on ? [...ticked, r.router] : ticked.filter((x) => x !== r.router))}
            />
          ))}
        </tbody>
      </table>
      <div className="mt-2 flex flex-wrap items-center gap-1.5">
        <button type="button" className="control" disabled={able('lose').length === 0} onClick={() => add('lose')}>
          Lose {able('lose').length > 0 ? someOf(able('lose'), 2) : 'the ticked'}
        </button>
        <button type="button" className="control" disabled={able('start').length === 0} onClick={() => add('start')}>
          Start {able('start').length > 0 ? someOf(able('start'), 2) : 'the ticked'}
        </button>
        <span className="mx-1 text-ink3">|</span>
        <button type="button" className="control" onClick={() => setSteps([...all].reverse().map((r) => ({ kind: 'start', routers: [r] })))}>
          One by one, last first
        </button>
        {ladder.together.dr !== undefined && (
          <button
            type="button"
            className="control"
            onClick={() => {
              const leader = ladder.together.dr ?? '';
              setSteps([
                { kind: 'start', routers: all },
                { kind: 'lose', routers: [leader] },
                { kind: 'start', routers: [leader] },
              ]);
            }}
          >
            {ladder.together.dr} lost and back
          </button>
        )}
        {steps.length > 0 && (
          <>
            <button type="button" className="control" onClick={() => setSteps(steps.slice(0, -1))}>
              Take the last back
            </button>
            <button type="button" className="control" onClick={() => setSteps([])}>
              Begin anew
            </button>
          </>
        )}
      </div>
      {steps.length > 0 && played && <Played steps={steps} led={played} all={all.length} />}
      {steps.length === 0 && (
        <p className="mt-3 text-ink2">
          Tick routers and lose or start them, one after the other or together: who leads stays leader, however good the one is that comes later (RFC
          2328 §9.4).
        </p>
      )}
    </div>
  );
}

function RungRow({
  rung: r,
  here,
  role,
  ticked,
  onTick,
}: {
  readonly rung: Rung;
  readonly here: boolean;
  readonly role: string;
  readonly ticked: boolean;
  readonly onTick: (on: boolean) => void;
}) {
  return (
    <tr className="border-t border-fine">
      <td className="py-0.5">
        <input type="checkbox" aria-label={r.router} checked={ticked} onChange={(e) => onTick(e.target.checked)} />
      </td>
      <td className={`py-0.5 ${here ? '' : 'text-ink3 line-through'}`}>
        {r.router} <span className="font-mono text-xs text-ink2">{r.iface}</span>
      </td>
      <td className="py-0.5 pl-3 text-right font-mono text-[12.5px]">{r.priority}</td>
      <td className="py-0.5 pl-3 text-right font-mono text-[12.5px]">{formatAddress(r.routerId)}</td>
      <td className={`py-0.5 pl-4 ${role === 'leads' ? 'font-semibold' : role === '' ? 'text-ink2' : ''}`}>
        {here ? role || r.barred || '' : 'away'}
      </td>
    </tr>
  );
}

function Played({ steps, led, all }: { readonly steps: readonly PlayStep[]; readonly led: LedChange; readonly all: number }) {
  const last = led.stands.at(-1);
  const full = last?.pairs.filter((p) => p.aState === 'full' && p.bState === 'full') ?? [];
  const two = last?.pairs.filter((p) => p.aState === '2-way' && p.bState === '2-way') ?? [];
  const e = led.effect;
  return (
    <>
      <table className="mt-3 w-full" aria-label="The play, step by step">
        <thead className="text-ink2">
          <tr>
            <th className="w-6 py-0.5 text-right font-normal">#</th>
            <th className="py-0.5 pl-3 text-left font-normal">what happens</th>
            <th className="py-0.5 pl-3 text-left font-normal">leads</th>
            <th className="py-0.5 pl-3 text-left font-normal">backup</th>
            <th className="py-0.5 pl-3 text-left font-normal">then would lead</th>
          </tr>
        </thead>
        <tbody>
          {led.stands.map((s, n) => {
            const before = led.stands[n - 1];
            const step = steps[n];
            return (
              <tr key={n} className="border-t border-fine align-top">
                <td className="py-0.5 text-right font-mono text-[12.5px] text-ink2">{n + 1}</td>
                <td className="py-0.5 pl-3">{step && stepWords(step, all)}</td>
                <td className={`py-0.5 pl-3 ${before && before.dr !== s.dr ? 'font-semibold' : ''}`}>{s.dr ?? 'nobody'}</td>
                <td className={`py-0.5 pl-3 ${before && before.bdr !== s.bdr ? 'font-semibold' : ''}`}>{s.bdr ?? 'nobody'}</td>
                <td className="py-0.5 pl-3 text-ink2">{s.next.dr ?? 'nobody'}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {last && last.apart.length > 0 && (
        <p className="mt-2 text-accent">Not all agree: {last.apart.map((x) => `${x.router} sees ${x.dr ?? 'nobody'} lead`).join('; ')}.</p>
      )}
      <p className="mt-2" data-testid="play-pairs">
        {full.length > 0
          ? `Full: ${someOf(
              full.map((p) => `${p.a} with ${p.b}`),
              6,
            )}.`
          : 'No pair is full.'}{' '}
        {two.length > 0 && (
          <span className="text-ink2">
            In 2-Way, rightly:{' '}
            {someOf(
              two.map((p) => `${p.a} with ${p.b}`),
              4,
            )}
            .
          </span>
        )}
      </p>
      {e && (
        <p className="mt-1 text-ink2" data-testid="play-effect">
          Against now:{' '}
          {e.advertisedBy[0] === e.advertisedBy[1]
            ? `${e.advertisedBy[1] || 'nobody'} still advertises the network (type 2)`
            : `the network is advertised by ${e.advertisedBy[1] || 'nobody'} instead of ${e.advertisedBy[0] || 'nobody'} (type 2)`}
          ;{' '}
          {e.lost + e.gained + e.changed === 0
            ? 'no route in any table is another one'
            : `${[e.lost > 0 ? `${count(e.lost, 'route')} lost` : '', e.gained > 0 ? `${count(e.gained, 'route')} gained` : '', e.changed > 0 ? `${count(e.changed, 'route')} changed` : ''].filter(Boolean).join(', ')} in ${count(e.routers.length, 'table')}`}
          .
        </p>
      )}
    </>
  );
}

function About({ of, ladder }: { readonly of: ElectingView; readonly ladder: LadderView }) {
  const [whom, choose] = useState('');
  const view = useStore((s) => s.view);
  const pairIds = new Set(view?.pairs.filter((p) => p.segment === of.segment).map((p) => p.finding));
  const findings = (view?.findings ?? []).filter(
    (f) =>
      (['lan-of-two', 'spoke-can-lead', 'static-neighbor-missing', 'nobody-leads'].includes(f.rule) &&
        f.where.some((w) => ladder.rungs.some((r) => r.router === w.router && r.iface === w.interface))) ||
      pairIds.has(f.id),
  );
  const rung = ladder.rungs.find((r) => r.router === whom) ?? ladder.rungs[0];
  return (
    <>
      <p className="text-ink2">
        {of.type} in <AreaName id={of.area} quiet />
      </p>
      <h2 className="text-xl">{of.dr === '' ? 'Nobody leads' : `${of.dr} leads`}</h2>
      <p className="text-ink2">
        {of.bdr === '' ? 'There is no backup.' : `${of.bdr} is backup.`}{' '}
        {ladder.together.next.dr !== undefined &&
          `Were ${ladder.together.dr ?? ''} lost, ${ladder.together.next.dr} would lead${ladder.together.next.bdr === undefined ? ' alone' : `, and ${ladder.together.next.bdr} back it up`}.`}
      </p>
      {of.notes.length > 0 && <p className="mt-1 text-caution">{of.notes.join('; ')}.</p>}
      <Section title="Who should lead">
        {ladder.wishes.map((w) => (
          <WishCard key={w.name} wish={w} all={ladder.rungs.length} />
        ))}
        {rung && (
          <div className="mt-1.5 flex flex-wrap items-center gap-1.5">
            <select className="field" aria-label="Who is to lead" value={rung.router} onChange={(e) => choose(e.target.value)}>
              {ladder.rungs.map((r) => (
                <option key={r.router}>{r.router}</option>
              ))}
            </select>
            <button
              type="button"
              className="control"
              disabled={ladder.wishes.some((w) => w.wish.router === rung.router && w.wish.role === 'dr')}
              onClick={() => void enterLine(`expect "${rung.router} leads ${of.name}" leader ${rung.router}/${rung.iface}`, [])}
            >
              Expect it to lead
            </button>
          </div>
        )}
      </Section>
      {ladder.circuits.length > 0 && <Circuits list={ladder.circuits} />}
      {findings.length > 0 && (
        <Section title="Findings here">
          {findings.map((f) => (
            <FindingCard key={f.id} finding={f} mend />
          ))}
        </Section>
      )}
      <div className="mt-4 flex flex-wrap gap-1.5">
        <button type="button" className="control" onClick={() => go({ stage: 'layout', segment: of.segment, router: undefined })}>
          Show it on the map
        </button>
      </div>
    </>
  );
}

/** Circuits of a non-broadcast network: who lists whom, and where each pair rests. */
function Circuits({ list }: { readonly list: LadderView['circuits'] }) {
  const most = 60;
  const lists = (c: LadderView['circuits'][number]): string =>
    c.aLists && c.bLists ? 'each lists the other' : c.aLists ? `${c.a} lists ${c.b}` : c.bLists ? `${c.b} lists ${c.a}` : 'neither lists the other';
  return (
    <Section title="Circuits">
      <ul>
        {list.slice(0, most).map((c) => (
          <li key={`${c.a} ${c.b}`} className="border-b border-fine py-0.5">
            {c.a} – {c.b}:{' '}
            {c.there ? (
              <>
                <span className="text-ink2">{lists(c)};</span> {c.aState === c.bState ? c.aState : `${c.aState} and ${c.bState}`}
              </>
            ) : (
              <span className="text-ink2">no circuit</span>
            )}
          </li>
        ))}
      </ul>
      {list.length > most && <p className="text-ink2">…and {count(list.length - most, 'pair')} more.</p>}
    </Section>
  );
}

function WishCard({
  wish: { name, wish, trial, certain, edits, price },
  all,
}: {
  readonly wish: LadderView['wishes'][number];
  readonly all: number;
}) {
  return (
    <div className="border-b border-fine py-1.5" data-wish={name}>
      <p>
        <strong className="font-semibold">{wish.router}</strong> as {roleWords[wish.role]}:{' '}
        {!trial.together ? (
          <span className="text-accent">broken already where all start together: {trial.instead ?? 'nobody'} is.</span>
        ) : trial.breaks ? (
          <span className="text-caution">holds where all start together, and an order of start breaks it.</span>
        ) : (
          <span className="text-settled">
            {trial.all ? 'no order of start, no loss and return breaks it.' : `none of ${trial.tried} orders of start that were tried breaks it.`}
          </span>
        )}
      </p>
      {trial.breaks && trial.together && (
        <p className="text-ink2" data-testid="breaking-order">
          {trial.breaks.map((s) => stepWords(s, all)).join(', then ')}: {trial.instead ?? 'nobody'} is {roleWords[wish.role]}.
        </p>
      )}
      {certain.length > 0 && (
        <>
          <button type="button" className="control mt-1" onClick={() => void makeChange(`${wish.router} leads for certain`, edits)}>
            Make it certain
          </button>
          <p className="mt-0.5 text-xs text-ink2">
            Priorities: {certain.map((c) => `${c.router} ${c.priority}`).join(', ')}. {price}
          </p>
        </>
      )}
      {certain.length === 0 && price !== '' && <p className="text-xs text-ink2">{price}</p>}
    </div>
  );
}
