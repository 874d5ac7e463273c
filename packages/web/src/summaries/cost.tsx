'use client';

import { formatAddress } from '@gentle-compass/core/prefix/address';
import type { Heard } from '@gentle-compass/core/summaries/flaps';
import type { Scope } from '@gentle-compass/core/summaries/laying';
import { useMemo, useState, type ReactNode } from 'react';
import { go } from '../model/moving';
import { openEntry } from '../model/panes';
import { useStore } from '../model/state';
import type { FlapsView } from '../model/summaries-view';
import { useAreaWords } from '../parts/area-name';
import { areaTint } from '../parts/area-tint';
import { LineTable, type LineColumn } from '../parts/line-table';
import { Panel, Section } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { count, listWords, someOf } from '../parts/words';
import { workbench } from '../worker/client';
import { BracketPicture } from './bracket-picture';
import { firstWishes, scopeKey, spaceOf, useLayings, wishesText } from './laying';
import { SummariesHead } from './summaries-head';
import { useScopes } from './use-scope';

const columns: readonly LineColumn[] = [
  { name: 'failure', width: 'minmax(0,1.5fr)' },
  { name: 'takes along', width: 'minmax(0,1.3fr)', kind: 'code' },
  { name: 'without a summary', width: '128px' },
  { name: 'cost follows', width: '110px' },
  { name: 'cost fixed', width: '100px' },
];

type Flap = FlapsView['list'][number];

const heardWords: Record<Heard, string> = { nothing: 'nothing', cost: 'another cost', lost: 'lost' };
const heardTone: Record<Heard, string> = { nothing: 'text-settled', cost: 'text-caution', lost: 'text-accent' };

/** What a summary hides of failures inside: whether its cost follows its parts or is fixed, failure by failure. */
export function Cost() {
  const areaWords = useAreaWords();
  const view = useStore((s) => s.view);
  const design = useStore((s) => s.design?.id ?? '');
  const area = useStore((s) => s.area);
  const router = useStore((s) => s.router);
  const prefix = useStore((s) => s.prefix);
  const scopes = useScopes();
  const [kind, setKind] = useState<'area' | 'outside'>('area');
  const scope = useMemo((): Scope | undefined => {
    const areas = scopes?.areas.filter((a) => a.writers.length > 0) ?? [];
    const at = areas.find((a) => a.area === area) ?? areas.find((a) => a.area !== 0) ?? areas[0];
    const out = scopes?.routers.find((r) => r.router === router) ?? scopes?.routers[0];
    if (kind === 'outside') return out && { kind: 'outside', router: out.router };
    return at && { kind: 'area', area: at.area };
  }, [scopes, area, router, kind]);
  const key = scope ? scopeKey(design, view?.family ?? 4, scope) : '';
  const answer = useAnswer(
    async () => (scope ? { key, space: await workbench().summaries.space(scope, wishesText(firstWishes)) } : undefined),
    [view, key],
  );
  const found = answer?.key === key ? answer.space : undefined;
  const draft = useLayings((s) => s.laid[key]);
  const list = draft ?? found?.stands ?? [];
  const laid = list.map((l) => l.prefix);
  const chosen = laid.includes(prefix ?? '') ? prefix : laid[0];
  const asked = `${key} ${chosen ?? ''} ${laid.join(' ')}`;
  const flapsAnswer = useAnswer(
    async () => (scope && chosen !== undefined ? { asked, view, flaps: await workbench().summaries.flaps(scope, chosen, laid) } : undefined),
    [view, asked],
  );
  const flaps = flapsAnswer?.asked === asked && flapsAnswer.view === view ? flapsAnswer.flaps : undefined;
  return (
    <div className="stage">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <SummariesHead>
          <label className="ml-auto flex items-center gap-2 text-ink2">
            of
            <select
              className="field w-40 text-ink"
              aria-label="Whose summary"
              value={scope ? (scope.kind === 'area' ? `area ${scope.area}` : `outside ${scope.router}`) : ''}
              onChange={(e) => {
                const [k, at = ''] = e.target.value.split(/ (.*)/);
                setKind(k === 'outside' ? 'outside' : 'area');
                go(k === 'outside' ? { router: at } : { area: Number(at) });
              }}
            >
              {scopes?.areas
                .filter((a) => a.writers.length > 0)
                .map((a) => (
                  <option key={a.area} value={`area ${a.area}`}>
                    {areaWords(formatAddress(a.area))}
                  </option>
                ))}
              {scopes?.routers.map((r) => (
                <option key={r.router} value={`outside ${r.router}`}>
                  announced by {r.router}
                </option>
              ))}
            </select>
          </label>
          {laid.length > 0 && (
            <select className="field font-mono text-xs" aria-label="Summary" value={chosen ?? ''} onChange={(e) => go({ prefix: e.target.value })}>
              {laid.map((l) => (
                <option key={l} value={l}>
                  {l}
                </option>
              ))}
            </select>
          )}
        </SummariesHead>
        <div className="flex min-h-0 flex-1 flex-col px-4 pb-4">
          {scopes && !scope && (
            <p className="rounded border border-rule bg-sheet p-4 text-ink2">
              Nothing can be summarised here: there is no border router and nothing from outside.
            </p>
          )}
          {found && chosen === undefined && (
            <p className="rounded border border-rule bg-sheet p-4 text-ink2">
              No summary is laid here: every failure inside is heard everywhere.{' '}
              <button type="button" className="link" onClick={() => go({ part: kind === 'area' ? 'ruler' : 'outside' })}>
                Lay one on the ruler
              </button>{' '}
              to see what it would hide.
            </p>
          )}
          {chosen !== undefined && !flaps && <p className="text-ink2">Trying every failure inside…</p>}
          {scope && found && chosen !== undefined && flaps && (
            <Hidden
              key={asked}
              scope={scope}
              summary={chosen}
              fixed={list.find((l) => l.prefix === chosen)?.cost}
              flaps={flaps}
              space={spaceOf(found)}
              tint={scope.kind === 'area' ? areaTint(view?.areas ?? [], formatAddress(scope.area)) : 0}
              asked={asked}
            />
          )}
        </div>
      </div>
      <Panel label="About the cost of a summary">
        <h2 className="text-xl">What the others hear</h2>
        <p className="text-ink2">
          A failure inside takes prefixes along, or makes ways to them longer. Without a summary every router of the campus hears of each. A summary
          is told as long as one of its parts is there: at the cost of its dearest part, which moves, or at a fixed cost, which does not.
        </p>
        <Section title="What it costs">
          <p className="text-ink2">
            At a fixed cost the others cannot tell which border router is nearer to a part: see the longer ways under Dangers. A part that is gone is
            dropped at the border router’s discard route, not at its source.
          </p>
        </Section>
      </Panel>
    </div>
  );
}

function Hidden({
  scope,
  summary,
  fixed,
  flaps,
  space,
  tint,
}: {
  readonly scope: Scope;
  readonly summary: string;
  /** Its cost as it is laid; `undefined`: it follows. */
  readonly fixed: number | undefined;
  readonly flaps: FlapsView;
  readonly space: ReturnType<typeof spaceOf>;
  readonly tint: number;
  readonly asked: string;
}) {
  const [at, choose] = useState(0);
  const flap = flaps.list[Math.min(at, flaps.list.length - 1)];
  const heard = (way: 'alone' | 'following' | 'fixed'): number => flaps.list.filter((f) => f[way] !== 'nothing').length;
  const dearest = Math.max(0, ...flaps.list.flatMap((f) => f.told.map((t) => Number(t.before?.split(' ')[0] ?? 0))));
  const costWord = scope.kind === 'area' ? 'cost' : 'metric';
  const where =
    scope.kind === 'area'
      ? `area ${scope.area < 256 ? scope.area : formatAddress(scope.area)}`
      : `outside on ${space.view.writers.map((w) => w.router).join(' ')}`;
  const line = `range ${summary} ${where}${fixed === undefined ? ` ${costWord} ${dearest}` : ''}`;
  const big = (n: number, words: string, now = false): ReactNode => (
    <div className={now ? 'border-b-2 border-ink' : 'border-b-2 border-transparent'}>
      <span className={`font-serif text-[26px] leading-none ${n === 0 ? 'text-settled' : ''}`}>{n}</span>
      <span className="block text-xs text-ink2">{words}</span>
    </div>
  );
  return (
    <>
      <div className="flex flex-wrap items-end gap-x-6 gap-y-2 pt-1 pb-3">
        {big(flaps.tried, 'failures tried inside')}
        {big(heard('alone'), 'heard without a summary')}
        {big(heard('following'), `heard when its ${costWord} follows${fixed === undefined ? ', as now' : ''}`, fixed === undefined)}
        {big(heard('fixed'), `heard when its ${costWord} is fixed${fixed === undefined ? '' : `, as now at ${fixed}`}`, fixed !== undefined)}
        {(fixed !== undefined || heard('following') > heard('fixed')) && (
          <button type="button" className="control ml-auto" onClick={() => openEntry(line)}>
            {fixed === undefined ? `Fix the ${costWord} at ${dearest}…` : `Let the ${costWord} follow…`}
          </button>
        )}
      </div>
      {flap && <Picture flap={flap} summary={summary} space={space} tint={tint} />}
      <LineTable
        grows
        label="Failures inside, and what the others hear"
        columns={columns}
        rows={flaps.list}
        keyOf={(f: Flap) => f.failure}
        at={at}
        onChoose={(f: Flap) => choose(flaps.list.indexOf(f))}
        nothing="No failure inside touches any part of this summary."
        cells={(f: Flap) => [
          f.words,
          f.lost.length > 0 ? someOf(f.lost, 2) : '',
          <span key="a" className={heardTone[f.alone]}>
            {f.alone === 'lost' ? count(f.lost.length, 'prefix', 'prefixes') + ' lost' : `${f.moved.length} at another cost`}
          </span>,
          <span key="b" className={heardTone[f.following]}>
            {heardWords[f.following]}
          </span>,
          <span key="c" className={heardTone[f.fixed]}>
            {heardWords[f.fixed]}
          </span>,
        ]}
      />
    </>
  );
}

/** One failure: the parts under their bracket, and beneath it what is heard in each of three ways. */
function Picture({
  flap: f,
  summary,
  space,
  tint,
}: {
  readonly flap: Flap;
  readonly summary: string;
  readonly space: ReturnType<typeof spaceOf>;
  readonly tint: number;
}) {
  const told = (t: Flap['told'][number]): string =>
    t.before === t.after ? `${t.router} ${t.before ?? 'nothing'}` : `${t.router} ${t.before ?? 'nothing'} → ${t.after ?? 'nothing'}`;
  const row = (name: string, heard: Heard, words: string): ReactNode => (
    <tr>
      <th scope="row" className="border-t border-fine py-1 pr-3 text-left font-normal whitespace-nowrap text-ink2">
        {name}
      </th>
      <td className={`border-t border-fine py-1 pr-3 font-semibold whitespace-nowrap ${heardTone[heard]}`}>{heardWords[heard]}</td>
      <td className="w-full border-t border-fine py-1">{words}</td>
    </tr>
  );
  const changes = f.told.filter((t) => t.before !== t.after);
  return (
    <section className="mb-3 rounded border border-rule bg-sheet px-3 pt-2 pb-1" aria-label={`When ${f.words} fails`}>
      <h2 className="font-sans text-[13px] font-semibold">When {f.words} fails</h2>
      <BracketPicture summary={summary} space={space} tint={tint} lost={f.lost} moved={f.moved} />
      <table className="mt-1 w-full border-separate border-spacing-0">
        <tbody>
          {row(
            'without a summary',
            f.alone,
            listWords([
              ...(f.lost.length > 0 ? [`${someOf(f.lost, 3)} ${f.lost.length === 1 ? 'is' : 'are'} taken out of every table`] : []),
              ...(f.moved.length > 0 ? [`${count(f.moved.length, 'prefix', 'prefixes')} cost something else`] : []),
            ]) + '.',
          )}
          {row(
            'its cost follows',
            f.following,
            changes.length === 0 ? `Told as before: ${listWords(f.told.map(told))}.` : `Told anew: ${listWords(f.told.map(told))}.`,
          )}
          {row(
            'its cost is fixed',
            f.fixed,
            f.fixed === 'nothing'
              ? 'Told as before; packets for what is gone end at the discard route.'
              : `${listWords(changes.map((t) => t.router))} ${changes.length === 1 ? 'tells' : 'tell'} it no more.`,
          )}
        </tbody>
      </table>
    </section>
  );
}
