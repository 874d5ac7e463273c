'use client';

import { useState } from 'react';
import type { Finding } from '@gentle-compass/core/findings/finding';
import { useCosts } from '../model/judging';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { useAreaWords } from '../parts/area-name';
import { stageOfRule } from '../parts/stage-of-rule';
import { FindingCard } from '../parts/finding-card';
import { Panel, Section } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { count } from '../parts/words';
import { workbench } from '../worker/client';
import { OwnTable } from './own-table';
import { RouterList } from '../parts/router-list';
import { RouteTable } from './route-table';
import { RoutesHead } from './routes-head';
import { WhyAbsent } from './said';
import { WhyPanel } from './why-panel';

/** Any router's table, and why each line stands in it, or does not. */
export function Tables() {
  const areaWords = useAreaWords();
  const [own, setOwn] = useState(false);
  const view = useStore((s) => s.view);
  const router = useStore((s) => s.router);
  const prefix = useStore((s) => s.prefix);
  const failure = useStore((s) => s.failure);
  const name = view?.routers.find((r) => r.name === router)?.name ?? view?.routers[0]?.name ?? '';
  const reference = useStore((s) => s.reference);
  const comparison = useStore((s) => s.comparison);
  // A failure is held against the network as it is; without one, now against what it is compared with.
  const compared = failure !== undefined || reference !== undefined;
  const rows = useAnswer(() => workbench().routes.table(name, compared), [name, view, failure, reference]);
  const evidence = useAnswer(
    () => (prefix === undefined ? Promise.resolve(null) : workbench().routes.evidence(name, prefix, compared)),
    [name, prefix, view, failure, compared],
  );
  const whyNot = useAnswer(
    () => (prefix === undefined ? Promise.resolve(undefined) : workbench().routes.whyNot(name, prefix)),
    [name, prefix, view, failure],
  );
  if (!view) return null;
  const row = rows?.find((r) => r.prefix === prefix);
  const self = view.routers.find((r) => r.name === name);
  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col">
      <RoutesHead />
      <div className="stage min-h-0 flex-1">
        <div className="stage-list flex min-h-0 w-44 shrink-0 flex-col border-r border-rule">
          <h2 className="heading px-3 pt-4 pb-1">Tables of</h2>
          <RouterList routers={view.routers} chosen={name} changes={(failure ?? comparison)?.routers} />
        </div>
        <div className="flex min-h-0 min-w-0 flex-1 flex-col px-4 pb-3">
          <div className="flex items-baseline gap-3 pb-2">
            <h2 className="text-lg whitespace-nowrap">Routes of {name}</h2>
            <span className="min-w-0 truncate text-ink2">
              {self?.areas.map(areaWords).join('; ')}
              {failure ? `, with ${failure.fail.join(', ')} down` : reference ? `, compared with ${reference.name}` : ''}
            </span>
            <span className="ml-auto flex gap-1" role="group" aria-label="Which lines">
              <button type="button" className="control" aria-pressed={!own} onClick={() => setOwn(false)}>
                The table
              </button>
              <button type="button" className="control" aria-pressed={own} onClick={() => setOwn(true)}>
                Beside OSPF
              </button>
            </span>
          </div>
          {own && <OwnTable router={name} />}
          {rows && !own && (
            <RouteTable
              rows={rows}
              label={`Routes of ${name}`}
              chosen={prefix}
              compared={compared}
              onRow={(chosen) => go({ router: name, prefix: chosen })}
            />
          )}
        </div>
        {row ? (
          <WhyPanel evidence={evidence} row={row} whyNot={whyNot} router={name} />
        ) : prefix !== undefined && rows && whyNot?.absence ? (
          <Panel label="Why it is not there">
            <p className="text-ink2">not in the table of {name}</p>
            <h2 className="font-mono text-lg">{prefix}</h2>
            <Section title="Because">
              <WhyAbsent absence={whyNot.absence} />
            </Section>
            <div className="mt-2 flex flex-wrap gap-1.5">
              <button type="button" className="control" onClick={() => go({ look: 'prefix' })}>
                In all routers
              </button>
              <button type="button" className="control" onClick={() => go({ prefix: undefined })}>
                Leave it
              </button>
            </div>
          </Panel>
        ) : (
          <Panel label="About routes">
            <h2 className="text-xl">Choose a route</h2>
            <p className="text-ink2">to see the advertisements, the path and the lines that it stands on.</p>
            {rows && (
              <Section title="In this table">
                <ul>
                  {[...new Set(rows.map((r) => r.type))].sort().map((t) => (
                    <li key={t} className="flex border-b border-fine py-0.5">
                      {t}
                      <span className="ml-auto font-mono">{rows.filter((r) => r.type === t).length}</span>
                    </li>
                  ))}
                </ul>
              </Section>
            )}
            <RouteFindings router={name} />
          </Panel>
        )}
      </div>
    </div>
  );
}

/** Findings about routes: those that touch the chosen router first. */
function RouteFindings({ router }: { readonly router: string }) {
  const all = useStore((s) => s.view?.findings);
  const findings = (all ?? []).filter((f) => stageOfRule(f.rule) === 'routes');
  // Which of them cost this router something: other costs that come change nothing here.
  const costly = useCosts((s) => findings.flatMap((f) => (s.costs[f.id]?.routers.includes(router) ? [f.id] : [])).join('\n')).split('\n');
  const touches = (f: Finding): boolean => f.where.some((w) => w.router === router) || costly.includes(f.id);
  const lists = [
    { title: `that touch ${router}`, list: findings.filter(touches) },
    { title: 'elsewhere', list: findings.filter((f) => !touches(f)) },
  ];
  return lists.map(({ title, list }) =>
    list.length === 0 ? null : (
      <Section key={title} title={`${count(list.length, 'finding')} ${title}`}>
        {list.map((f) => (
          <FindingCard key={f.id} finding={f} mend />
        ))}
      </Section>
    ),
  );
}
