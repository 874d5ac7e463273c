'use client';

import { useState } from 'react';
import { makeChange } from '../model/history';
import { useStore } from '../model/state';
import type { AlikeGroupView } from '../model/neighbours-view';
import { Panel, Section } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { count, listWords } from '../parts/words';
import { workbench } from '../worker/client';
import { NeighboursHead } from './neighbours-head';

/** Routers meant to be alike, line by line; those that look as if they were are proposed. */
export function Alike() {
  const view = useStore((s) => s.view);
  const documents = useStore((s) => s.design?.documents);
  const [chosen, choose] = useState<string | undefined>(undefined);
  const [all, showAll] = useState(false);
  const answer = useAnswer(() => workbench().neighbours.alike(), [view?.routers, documents]);
  const group =
    answer?.groups.find((g) => g.name === chosen) ?? answer?.groups.find((g) => g.rows.some((r) => r.odd.length > 0)) ?? answer?.groups[0];
  return (
    <div className="stage">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <NeighboursHead>
          {group && (
            <label className="ml-auto flex items-center gap-1.5 text-ink2">
              <input type="checkbox" checked={all} onChange={(e) => showAll(e.target.checked)} /> what is the same too
            </label>
          )}
        </NeighboursHead>
        <div className="min-h-0 flex-1 overflow-y-auto px-4 pb-4" tabIndex={0} role="region" aria-label="Side by side">
          {answer && !group && (
            <p className="rounded border border-rule bg-sheet p-4 text-ink2">
              No routers are said to be alike yet.{' '}
              {answer.proposals.length > 0
                ? 'Take one of the proposals beside, and they are compared here line by line.'
                : 'Pairs of border routers or gateways appear as proposals as soon as there are any.'}
            </p>
          )}
          {group && <GroupTable group={group} all={all} />}
        </div>
      </div>
      <Panel label="Groups">
        <h2 className="text-xl">Meant to be alike</h2>
        <p className="text-ink2">
          Compared in everything but who they are: names, addresses, router ids and priorities are left out; policies by what they say.
        </p>
        {(answer?.groups.length ?? 0) > 0 && (
          <Section title="Groups">
            <ul>
              {answer?.groups.map((g) => {
                const odd = g.rows.filter((r) => r.odd.length > 0).length;
                return (
                  <li key={g.name} className="border-b border-fine py-1">
                    <button
                      type="button"
                      className={`w-full text-left ${g === group ? 'font-semibold' : ''}`}
                      aria-pressed={g === group}
                      onClick={() => choose(g.name)}
                    >
                      {g.name} <span className={`float-right ${odd > 0 ? 'text-caution' : 'text-settled'}`}>{odd > 0 ? `${odd} ≠` : 'alike'}</span>
                      <span className="block text-ink2">{listWords(g.routers)}</span>
                    </button>
                  </li>
                );
              })}
            </ul>
          </Section>
        )}
        {(answer?.proposals.length ?? 0) > 0 && (
          <Section title="Looks as if they were">
            <ul>
              {answer?.proposals.slice(0, 30).map((p) => (
                <li key={p.routers.join()} className="border-b border-fine py-1.5">
                  <strong className="font-semibold">{listWords(p.routers)}</strong>
                  <span className="block text-ink2">{p.why}</span>
                  <button
                    type="button"
                    className="control mt-1"
                    onClick={() => {
                      const name = p.routers.join(' and ');
                      choose(name);
                      void workbench()
                        .neighbours.alikeEdits(name, p.routers)
                        .then((edits) => makeChange(`${name} are meant to be alike`, edits));
                    }}
                  >
                    They are to be alike
                  </button>
                </li>
              ))}
            </ul>
            {(answer?.proposals.length ?? 0) > 30 && (
              <p className="text-ink2">…and {count((answer?.proposals.length ?? 0) - 30, 'more proposal')}.</p>
            )}
          </Section>
        )}
      </Panel>
    </div>
  );
}

function GroupTable({ group, all }: { readonly group: AlikeGroupView; readonly all: boolean }) {
  const odd = group.rows.filter((r) => r.odd.length > 0);
  const rows = all ? [...odd, ...group.rows.filter((r) => r.odd.length === 0)] : odd;
  const repairs = odd.flatMap((r) => r.repairs);
  return (
    <div className="rounded border border-rule bg-sheet px-4 py-3">
      <div className="flex items-baseline gap-3">
        <h2 className="text-lg">{group.name}</h2>
        <span className="text-ink2">
          {odd.length === 0
            ? `alike in all ${group.rows.length} settings`
            : `${count(odd.length, 'setting')} of ${group.rows.length} ${odd.length === 1 ? 'differs' : 'differ'}`}
        </span>
        {repairs.length > 1 && (
          <button
            type="button"
            className="control ml-auto"
            onClick={() =>
              void makeChange(
                `${listWords(group.routers)} made alike`,
                repairs.flatMap((r) => r.edits),
              )
            }
          >
            Make all {repairs.length} as most have them
          </button>
        )}
      </div>
      {rows.length > 0 && (
        <table className="mt-2 w-full" aria-label={`${group.name}, line by line`}>
          <thead className="text-ink2">
            <tr>
              <th className="py-0.5 text-left font-normal">setting</th>
              {group.routers.map((r) => (
                <th key={r} className="py-0.5 pl-3 text-left font-normal">
                  {r}
                </th>
              ))}
              <th aria-label="repair" />
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.what} className="border-t border-fine align-top">
                <th scope="row" className="py-1 text-left font-normal">
                  {r.odd.length > 0 && <span className="text-caution">≠ </span>}
                  {r.what}
                </th>
                {r.values.map((v, n) => (
                  <td key={group.routers[n]} className={`py-1 pl-3 font-mono text-xs ${r.odd.includes(n) ? 'font-semibold text-caution' : ''}`}>
                    {v}
                  </td>
                ))}
                <td className="py-1 pl-3 text-right">
                  {r.repairs.map((x) => (
                    <button key={x.title} type="button" className="link text-left" onClick={() => void makeChange(x.title, x.edits)}>
                      {x.title}
                    </button>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
