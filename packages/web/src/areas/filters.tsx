'use client';

import type { FilterEffect, FilterOutcome, FilterWays } from '@gentle-compass/core/areas/filter-trial';
import type { PolicyFlow } from '@gentle-compass/core/areas/policy-flow';
import { formatAddress } from '@gentle-compass/core/prefix/address';
import { useDeferredValue, useMemo, useState, type ReactNode } from 'react';
import { makeChange } from '../model/history';
import { go } from '../model/moving';
import { openEntry, openForm } from '../model/panes';
import { useStore, type OpenForm } from '../model/state';
import { useAreaWords } from '../parts/area-name';
import { FindingCard } from '../parts/finding-card';
import { Panel, Section } from '../parts/panel';
import { passedWords, PolicyFlowTable } from '../parts/policy-flows';
import { stageOfRule } from '../parts/stage-of-rule';
import { useAnswer } from '../parts/use-answer';
import { byName, count, listWords, someOf } from '../parts/words';
import { workbench } from '../worker/client';
import { AreasHead } from './areas-head';

/** Where policies decide: what each statement takes of the prefixes that are there; and one prefix kept out in two ways, side by side. */
export function Filters() {
  const view = useStore((s) => s.view);
  const chosen = useStore((s) => s.router);
  const names = useMemo(() => (view?.routers ?? []).map((r) => r.name).sort(byName), [view]);
  const router = names.find((n) => n === chosen) ?? names[0];
  const flows = useAnswer(() => (router === undefined ? Promise.resolve([]) : workbench().areas.flows(router)), [view, router]);
  if (!view || router === undefined) return <AreasHead />;
  const form = (words: string, name: OpenForm['name']): ReactNode => (
    <button type="button" className="control" onClick={() => openForm({ name, values: { router } })}>
      {words}
    </button>
  );
  const findings = view.findings.filter((f) => ['filter-removes', 'policy-unknown', 'own-table-black-hole'].includes(f.rule));
  return (
    <div className="stage">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <AreasHead>
          <select className="field ml-auto" aria-label="Policies of" value={router} onChange={(e) => go({ router: e.target.value })}>
            {names.map((n) => (
              <option key={n} value={n}>
                {n}
              </option>
            ))}
          </select>
        </AreasHead>
        <div className="min-h-0 flex-1 overflow-y-auto px-4 pb-4" tabIndex={0} role="region" aria-label="Policies and filters">
          <div className="flex items-center gap-1.5 pb-3">
            <span className="mr-auto text-ink2">
              {flows &&
                (flows.length === 0
                  ? `No policy decides over anything at ${router}.`
                  : `Where policies decide at ${router}, over the prefixes that are there now.`)}
            </span>
            {form('Prefix set…', 'prefixSet')}
            {form('Statement…', 'policy')}
            {form('Filter…', 'filter')}
          </div>
          {flows?.map((f, n) => (
            <Flow key={n} router={router} flow={f} />
          ))}
          <TwoWays receiver={router} />
        </div>
      </div>
      <Panel label="About filters">
        <h2 className="text-xl">What a filter reaches</h2>
        <p className="text-ink2">
          At a border, a prefix never enters the area’s databases: no router of it hears of it. In a router’s own table, the prefix stays in its
          database and floods on: others may still send their packets through it, and lose them there.
        </p>
        {findings.length > 0 && (
          <Section title="Found of filters">
            {findings.map((f) => (
              <FindingCard key={f.id} finding={f} mend={stageOfRule(f.rule) === 'areas'} />
            ))}
          </Section>
        )}
      </Panel>
    </div>
  );
}

/** What a filter does as it stands: what is missing where, and whether anybody's database has less for it. */
function effectWords(e: FilterEffect, router: string): string {
  const { lost, changed, routers } = e.routes;
  if (e.kept === 0 && lost + changed === 0) return 'It changes nothing: what it refuses would not be there without it either.';
  const where =
    e.tables.length > 0
      ? someOf(
          e.tables.map((t) => t.router),
          6,
        )
      : count(routers, 'router');
  const missing =
    lost + changed === 0
      ? 'No table is another one for it'
      : `For it ${listWords([...(lost > 0 ? [`${count(lost, 'route')} ${lost === 1 ? 'is' : 'are'} missing`] : []), ...(changed > 0 ? [`${count(changed, 'route')} ${changed === 1 ? 'goes' : 'go'} another way`] : [])])} in ${where}`;
  const base =
    e.kept === 0
      ? `the databases are untouched, ${router} holds it all and floods it on`
      : `${count(e.kept, 'advertisement')} never ${e.kept === 1 ? 'enters' : 'enter'} a database`;
  const reach =
    e.outOfReach.length === 0
      ? 'nobody loses reach'
      : `${someOf(
          e.outOfReach.map((r) => r.router),
          4,
        )} cannot reach what it keeps out`;
  return `${missing}: ${base}; ${reach}.`;
}

function Flow({ router, flow: f }: { readonly router: string; readonly flow: PolicyFlow }) {
  const view = useStore((s) => s.view);
  const effect = useAnswer(() => (f.off === '' ? Promise.resolve(null) : workbench().areas.effect(router, f.off, f.area)), [view, router, f.off]);
  return (
    <section className="mb-4">
      <h2 className="mb-1 flex items-baseline gap-2 font-sans text-[13px]">
        <span className="font-mono text-[12.5px]">{f.policies.join(', ')}</span>
        <span className="text-ink2">
          over {f.over}; {passedWords(f)}
        </span>
        {f.off !== '' && (
          <button type="button" className="link ml-auto" onClick={() => openEntry(f.off)}>
            take the filter away
          </button>
        )}
      </h2>
      {effect && <p className="mb-1">{effectWords(effect, router)}</p>}
      <PolicyFlowTable flow={f} />
    </section>
  );
}

/** The same prefix kept out at the border of an area, and at one receiver. */
function TwoWays({ receiver }: { readonly receiver: string }) {
  const view = useStore((s) => s.view);
  const areaWords = useAreaWords();
  const at = useStore((s) => s.prefix);
  const wanted = useStore((s) => s.area);
  const [typed, setTyped] = useState<string | undefined>(undefined);
  const text = typed ?? at ?? '';
  const prefix = useDeferredValue(text.trim());
  const areas = useAnswer(() => workbench().areas.glance(), [view]);
  const own = areas?.filter((a) => a.routers.includes(receiver));
  const area = own?.find((a) => a.id === wanted)?.id ?? own?.[0]?.id;
  const ways = useAnswer(
    () => (prefix === '' || area === undefined ? Promise.resolve(undefined) : workbench().areas.ways(prefix, area, receiver)),
    [view, prefix, area, receiver],
  );
  return (
    <section className="border-t border-rule pt-3">
      <div className="flex flex-wrap items-center gap-2 pb-2">
        <h2 className="heading font-sans">One prefix, kept out in two ways</h2>
        <input
          className="field ml-auto w-48 font-mono text-xs"
          aria-label="Prefix to keep out"
          placeholder="10.97.64.0/18"
          value={text}
          onChange={(e) => setTyped(e.target.value)}
        />
        <label className="flex items-center gap-2 text-ink2">
          of
          <select
            className="field text-ink"
            aria-label="Area to keep it out of"
            value={area ?? ''}
            onChange={(e) => go({ area: Number(e.target.value) })}
          >
            {own?.map((a) => (
              <option key={a.id} value={a.id}>
                {areaWords(formatAddress(a.id)).toLowerCase()}
              </option>
            ))}
          </select>
        </label>
        <span className="text-ink2">
          or of the table of <strong className="font-semibold text-ink">{receiver}</strong>
        </span>
      </div>
      {prefix === '' ? (
        <p className="text-ink2">Type a prefix to see what a filter at the border and one at {receiver} alone would each do.</p>
      ) : ways === null ? (
        <p className="text-accent">{prefix} is no prefix: write a network and its length.</p>
      ) : (
        ways && <Compared ways={ways} receiver={receiver} />
      )}
    </section>
  );
}

function Compared({ ways, receiver }: { readonly ways: FilterWays; readonly receiver: string }) {
  const columns: readonly { readonly name: string; readonly o: FilterOutcome }[] = [
    { name: 'At the border', o: ways.border },
    { name: `At ${receiver} alone`, o: ways.receiver },
  ];
  const step = ([before, after]: readonly [number, number]): ReactNode => (
    <>
      <span className="font-mono text-[12.5px]">{before}</span> →{' '}
      <span className={`font-mono text-[12.5px] ${after < before ? 'text-accent' : ''}`}>{after}</span>
    </>
  );
  const row = (name: string, value: (o: FilterOutcome) => ReactNode): ReactNode => (
    <tr>
      <th scope="row" className="border-t border-fine px-3 py-1 text-left align-top font-normal text-ink2">
        {name}
      </th>
      {columns.map((c) => (
        <td key={c.name} className="border-t border-fine px-3 py-1 align-top">
          {c.o.refused === undefined ? value(c.o) : ''}
        </td>
      ))}
    </tr>
  );
  return (
    <table
      className="w-full table-fixed border-separate border-spacing-0 rounded border border-rule bg-sheet"
      aria-label="One prefix, kept out in two ways"
    >
      <thead>
        <tr>
          <td className="w-[210px]" />
          {columns.map((c) => (
            <th key={c.name} scope="col" className="px-3 py-1.5 text-left font-serif text-lg font-normal">
              {c.name}
              {c.o.refused !== undefined && <span className="block font-sans text-[13px] text-accent">{c.o.refused}</span>}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {row('routers that hold it', (o) => step(o.holders))}
        {row('tables that have it', (o) => (o.having ? step(o.having) : 'not counted in a campus of this size'))}
        {row('tables that change', (o) =>
          o.routes.routers === 0
            ? 'none'
            : o.tables.length === 0
              ? count(o.routes.routers, 'table')
              : someOf(
                  o.tables.map((r) => r.router),
                  5,
                ),
        )}
        {row('who loses reach', (o) =>
          o.outOfReach.length === 0 ? (
            'nobody: something else still holds it'
          ) : (
            <ul>
              {o.outOfReach.slice(0, 5).map((r) => (
                <li key={r.router}>
                  <span className="text-accent">{r.router}</span> <span className="font-mono text-xs">{someOf(r.prefixes, 3)}</span>
                </li>
              ))}
              {o.outOfReach.length > 5 && <li className="text-ink2">{count(o.outOfReach.length - 5, 'more')}</li>}
            </ul>
          ),
        )}
        {row('typed as', (o) => (
          <details>
            <summary className="cursor-pointer text-ink2">{count(o.lines.length, 'line')} of quick entry</summary>
            <ul className="font-mono text-xs text-ink2">
              {o.lines.map((l) => (
                <li key={l} className="border-b border-fine py-0.5">
                  {l}
                </li>
              ))}
            </ul>
          </details>
        ))}
        <tr>
          <td className="border-t border-fine" />
          {columns.map((c) => (
            <td key={c.name} className="border-t border-fine px-3 py-2">
              {c.o.edits.length > 0 && (
                <button type="button" className="control" aria-label={`${c.name}: make it so`} onClick={() => void makeChange(c.o.title, c.o.edits)}>
                  Make it so
                </button>
              )}
            </td>
          ))}
        </tr>
      </tbody>
    </table>
  );
}
