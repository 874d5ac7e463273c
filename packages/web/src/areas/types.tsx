'use client';

import { formatAddress } from '@gentle-compass/core/prefix/address';
import type { AdvertisementWords, TypeTrial } from '@gentle-compass/core/areas/type-trial';
import { useState, type ReactNode } from 'react';
import { makeChange } from '../model/history';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { useAreaWords } from '../parts/area-name';
import { NumberTable } from '../parts/number-table';
import { Panel, Section } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { areaNumbered, count, listWords, someOf } from '../parts/words';
import { workbench } from '../worker/client';
import { kindWords, totalOf } from './area-words';
import { AreasHead } from './areas-head';

/** Lines of a list at once; the others are counted. */
const shown = 60;

/** One area with every type that it could have, side by side; one is taken over in all its routers as one edit. */
export function Types() {
  const areaWords = useAreaWords();
  const view = useStore((s) => s.view);
  const wanted = useStore((s) => s.area);
  const [looked, look] = useState<TypeTrial['kind'] | undefined>(undefined);
  const areas = useAnswer(() => workbench().areas.glance(), [view]);
  const area = areas?.find((a) => a.id === wanted && a.id !== 0)?.id ?? areas?.find((a) => a.id !== 0)?.id;
  const answer = useAnswer(async () => (area === undefined ? undefined : { area, view, trials: await workbench().areas.types(area) }), [area, view]);
  const trials = answer?.area === area && answer?.view === view ? answer?.trials : undefined;
  const open = trials?.find((t) => t.kind === looked) ?? trials?.find((t) => !t.now && t.refused === undefined);
  return (
    <div className="stage">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <AreasHead>
          {area !== undefined && (
            <label className="ml-auto flex items-center gap-2 text-ink2">
              of
              <select className="field" aria-label="Area to try" value={area} onChange={(e) => go({ area: Number(e.target.value) })}>
                {areas
                  ?.filter((a) => a.id !== 0)
                  .map((a) => (
                    <option key={a.id} value={a.id}>
                      {areaWords(formatAddress(a.id))}
                    </option>
                  ))}
              </select>
            </label>
          )}
        </AreasHead>
        <div className="min-h-0 flex-1 overflow-y-auto px-4 pb-4" tabIndex={0} role="region" aria-label="Types side by side">
          {areas && area === undefined && (
            <p className="rounded border border-rule bg-sheet p-4 text-ink2">
              There is the backbone alone: it can be no stub area and no NSSA. Another area appears here as soon as a router has interfaces in it.
            </p>
          )}
          {area !== undefined && !trials && <p className="text-ink2">Trying every type of {areaNumbered(area).toLowerCase()}…</p>}
          {area !== undefined && trials && <TrialTable area={area} trials={trials} open={open?.kind} onOpen={look} />}
        </div>
      </div>
      <Panel label="About the type">{open && area !== undefined && <Trial trial={open} area={area} />}</Panel>
    </div>
  );
}

/** A type in a sentence: what comes in, what it brings itself. */
const meaning: Record<TypeTrial['kind'], string> = {
  normal: 'everything comes in',
  stub: 'no type 5; a default instead',
  'totally-stubby': 'no type 5, no type 3; a default instead',
  nssa: 'no type 5; brings its own as type 7',
  'totally-nssa': 'no type 5, no type 3; a default, and its own as type 7',
};

function TrialTable({
  area,
  trials,
  open,
  onOpen,
}: {
  readonly area: number;
  readonly trials: readonly TypeTrial[];
  readonly open: TypeTrial['kind'] | undefined;
  readonly onOpen: (kind: TypeTrial['kind']) => void;
}) {
  const now = trials.find((t) => t.now);
  const asked = trials.find((t) => t.asked !== undefined)?.asked;
  const types = [...new Map(trials.flatMap((t) => t.load.map((l) => [l.type, l.name] as const)))].sort(([a], [b]) => a.localeCompare(b));
  const of = (t: TypeTrial, type: string): number => t.load.find((l) => l.type === type)?.count ?? 0;
  /** A line of the table; numbers stand in one column, what they differ by from now beside them. */
  const row = (name: ReactNode, key: string, value: (t: TypeTrial) => ReactNode, differs: (t: TypeTrial) => number = () => 0) => (
    <tr key={key}>
      <th scope="row" className="border-t border-fine py-1 pr-2 pl-3 text-left font-normal whitespace-nowrap text-ink2">
        {name}
      </th>
      {trials.map((t) => (
        <td
          key={t.kind}
          className={`border-t border-fine py-1 pl-2 text-right font-mono text-[12.5px] whitespace-nowrap ${t.kind === open ? 'bg-paper' : ''}`}
        >
          {t.refused === undefined && value(t)}
          <span className={`inline-block w-11 pl-1.5 text-left ${differs(t) < 0 ? 'text-settled' : 'text-caution'}`}>
            {differs(t) !== 0 && `${differs(t) < 0 ? '−' : '+'}${Math.abs(differs(t)).toLocaleString('en-GB')}`}
          </span>
        </td>
      ))}
    </tr>
  );
  const plain = (n: number): ReactNode => <span className={n === 0 ? 'text-ink3' : ''}>{n.toLocaleString('en-GB')}</span>;
  const loud = (n: number): ReactNode => <span className={n === 0 ? 'text-ink3' : 'text-accent'}>{n.toLocaleString('en-GB')}</span>;
  const from = (t: TypeTrial, n: number, was: number | undefined): number => (was === undefined || t.refused !== undefined ? 0 : n - was);
  return (
    <table className="w-full border-separate border-spacing-0 rounded border border-rule bg-sheet" aria-label={`Types of ${areaNumbered(area)}`}>
      <thead>
        <tr>
          <td className="w-[230px]" />
          {trials.map((t) => (
            <th key={t.kind} scope="col" className={`pt-2 pr-3 pb-1 pl-2 text-right align-top font-normal ${t.kind === open ? 'bg-paper' : ''}`}>
              <button
                type="button"
                className={`font-serif text-lg leading-tight ${t.kind === open ? 'underline decoration-1 underline-offset-4' : ''}`}
                aria-pressed={t.kind === open}
                onClick={() => onOpen(t.kind)}
              >
                {kindWords[t.kind]}
              </button>
              <span className="block text-xs text-ink2">{t.now ? 'as it is now' : meaning[t.kind]}</span>
              {t.refused !== undefined && <span className="block text-xs text-accent">{t.refused}</span>}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {row(
          'advertisements on each router',
          'all',
          (t) => (
            <strong className="font-semibold">{totalOf(t.load).toLocaleString('en-GB')}</strong>
          ),
          (t) => from(t, totalOf(t.load), now && totalOf(now.load)),
        )}
        {types.map(([type, name]) =>
          row(
            <>
              <span className="inline-block w-12 font-mono text-xs">{type}</span>
              {name}
            </>,
            type,
            (t) => plain(of(t, type)),
            (t) => from(t, of(t, type), now && of(now, type)),
          ),
        )}
        {row('routes that go', 'lost', (t) => loud(t.routes.lost))}
        {row('routes that come', 'gained', (t) => plain(t.routes.gained))}
        {row('other routes', 'changed', (t) => plain(t.routes.changed))}
        {row('routers with another table', 'tables', (t) => plain(t.routes.routers))}
        {row(asked === undefined ? 'routers that lose reach' : `of ${asked} asked, lose reach`, 'reach', (t) => loud(t.outOfReach.length))}
        {row('redistribution to nowhere', 'silenced', (t) => loud(t.silenced.length))}
        {row('routers to be told', 'told', (t) => plain(t.told.length))}
        <tr>
          <td className="border-t border-fine" />
          {trials.map((t) => (
            <td key={t.kind} className={`border-t border-fine py-2 pr-3 pl-2 text-right ${t.kind === open ? 'bg-paper' : ''}`}>
              {t.edits.length > 0 && (
                <button
                  type="button"
                  className="control"
                  data-main={t.kind === open ? '' : undefined}
                  aria-label={`Make ${areaNumbered(area).toLowerCase()} ${kindWords[t.kind]}`}
                  onClick={() => void makeChange(t.title, t.edits)}
                >
                  Make it so
                </button>
              )}
              {t.both && t.kind === open && (
                <button
                  type="button"
                  className="control mt-1"
                  aria-label={`Make ${areaNumbered(area).toLowerCase()} ${kindWords[t.kind]} in both families`}
                  onClick={() => void makeChange(`${t.title}, in both families`, t.both ?? [])}
                >
                  In both families
                </button>
              )}
            </td>
          ))}
        </tr>
      </tbody>
    </table>
  );
}

/** Advertisements in words, a line each. */
function Advertisements({ title, list }: { readonly title: string; readonly list: readonly AdvertisementWords[] }) {
  if (list.length === 0) return null;
  return (
    <Section title={title}>
      <ul>
        {list.slice(0, shown).map((a, n) => (
          <li key={n} className="grid grid-cols-[52px_minmax(0,1fr)_auto] gap-2 border-b border-fine py-0.5">
            <span className="font-mono text-xs">{a.type}</span>
            <span className="truncate" title={a.says}>
              {a.says}
            </span>
            <span className="text-ink2">{a.router}</span>
          </li>
        ))}
        {list.length > shown && <li className="py-0.5 text-ink2">{count(list.length - shown, 'more')}.</li>}
      </ul>
    </Section>
  );
}

/** What one type would do, at length. */
function Trial({ trial: t, area }: { readonly trial: TypeTrial; readonly area: number }) {
  const name = areaNumbered(area).toLowerCase();
  if (t.now)
    return (
      <>
        <h2 className="text-xl">
          {areaNumbered(area)} is {kindWords[t.kind]}
        </h2>
        <p className="text-ink2">in all its routers. Choose another type to see what it would do.</p>
      </>
    );
  if (t.refused !== undefined)
    return (
      <>
        <h2 className="text-xl">It cannot be {kindWords[t.kind]}</h2>
        <p className="text-ink2">{t.refused}</p>
      </>
    );
  return (
    <>
      <h2 className="text-xl">
        {areaNumbered(area)} as {kindWords[t.kind]}
      </h2>
      <p className="font-mono text-xs text-ink2">{t.line}</p>
      {t.outOfReach.length > 0 && (
        <Section title="Who loses reach">
          {t.outOfReach.slice(0, shown).map((r) => (
            <p key={r.router} className="border-b border-fine py-1">
              <strong className="font-semibold text-accent">{r.router}</strong> cannot reach{' '}
              <span className="font-mono text-xs">{someOf(r.prefixes, 6)}</span>
            </p>
          ))}
        </Section>
      )}
      {t.silenced.length > 0 && (
        <Section title="Redistribution that becomes impossible">
          <p>
            {listWords(t.silenced)} {t.silenced.length === 1 ? 'stands' : 'stand'} in stub areas alone: what{' '}
            {t.silenced.length === 1 ? 'it brings' : 'they bring'} in goes nowhere (RFC 2328 §3.6).
          </p>
        </Section>
      )}
      {t.neighborsLost > 0 && (
        <Section title="Neighbours lost">
          <p className="text-accent">{count(t.neighborsLost, 'neighbour')} would be lost.</p>
        </Section>
      )}
      <Section title={`${count(t.told.length, 'router')} to be told`}>
        <p>{someOf(t.told, 12)}.</p>
        <p className="text-ink2">One that is forgotten loses its neighbours in {name}: the area’s options in hellos must agree (RFC 2328 §10.5).</p>
      </Section>
      <Advertisements title={`${count(t.gone.length, 'advertisement')} that ${t.gone.length === 1 ? 'goes' : 'go'}`} list={t.gone} />
      <Advertisements
        title={`${count(t.come.length, 'advertisement')} ${t.come.length > t.gone.length ? 'more' : `in ${t.gone.length === 1 ? 'its' : 'their'} place`}`}
        list={t.come}
      />
      {t.tables.length > 0 && (
        <Section title={`${count(t.tables.length, 'table')} that ${t.tables.length === 1 ? 'changes' : 'change'}`}>
          <NumberTable
            label="Tables that change"
            columns={[
              { name: 'router', kind: 'name' },
              { name: 'lost', kind: 'number', width: 48 },
              { name: 'gained', kind: 'number', width: 56 },
              { name: 'other', kind: 'number', width: 48 },
            ]}
            rows={t.tables.slice(0, 200).map((r) => ({ key: r.router, cells: [r.router, r.lost, r.gained, r.changed] }))}
          />
        </Section>
      )}
    </>
  );
}
