'use client';

import type { InterfacePart, RulePart, TurnedOn } from '@gentle-compass/core/neighbours/turning-on';
import { useState } from 'react';
import { makeChange } from '../model/history';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { FindingCard } from '../parts/finding-card';
import { Panel, Section } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { areaName, byName, listWords, someOf } from '../parts/words';
import { workbench } from '../worker/client';
import { RouterList } from '../parts/router-list';
import { NeighboursHead } from './neighbours-head';

const rules: ReadonlySet<string> = new Set([
  'activation-idle',
  'activation-broad',
  'activation-addresses',
  'mask-read-as',
  'interface-not-in-ospf',
  'router-without-ospf',
  'process-does-not-run',
  'passive',
  'both-passive',
  'loopback-not-advertised',
  'leftover-area',
  'forgotten-in-one-family',
]);

/** By which line or rule each interface of a router takes part, and a bench for rules. */
export function TakingPart() {
  const view = useStore((s) => s.view);
  const router = useStore((s) => s.router);
  const documents = useStore((s) => s.design?.documents);
  const first = view ? [...view.routers].sort((a, b) => byName(a.name, b.name))[0]?.name : undefined;
  const name = view?.routers.some((r) => r.name === router) ? router : first;
  const answer = useAnswer(
    async () => (name === undefined ? undefined : { name, parts: await workbench().neighbours.turnedOn(name) }),
    [name, view?.routers, documents],
  );
  const parts = answer?.name === name ? answer?.parts : undefined;
  if (!view) return null;
  const findings = view.findings.filter((f) => rules.has(f.rule) && f.where.some((w) => w.router === name));
  return (
    <div className="stage">
      <div className="stage-list flex w-[188px] shrink-0 flex-col border-r border-rule pt-3">
        <RouterList routers={view.routers} chosen={name ?? ''} changes={undefined} />
      </div>
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <NeighboursHead />
        <div className="min-h-0 flex-1 space-y-3 overflow-y-auto px-4 pb-4" tabIndex={0} role="region" aria-label="Who takes part">
          {name === undefined && <p className="text-ink2">There is no router yet.</p>}
          {parts?.length === 0 && (
            <p className="rounded border border-rule bg-sheet p-4 text-ink2">
              {name} runs no OSPF for this family: none of its interfaces takes part.
            </p>
          )}
          {parts?.map((p) => (
            <Process key={p.process} router={name ?? ''} part={p} />
          ))}
        </div>
      </div>
      <Panel label="About taking part">
        <h2 className="text-xl">{name}</h2>
        <p className="text-ink2">
          An interface listed under its area counts before every rule; of several rules{' '}
          {parts?.[0]?.order === 'longest-match' ? 'the longest match' : 'the first that matches'} decides.
        </p>
        {findings.length > 0 && (
          <Section title="Findings here">
            {findings.map((f) => (
              <FindingCard key={f.id} finding={f} mend />
            ))}
          </Section>
        )}
        {parts?.[0] && <Bench key={name} router={name ?? ''} part={parts[0]} />}
        <div className="mt-4">
          <button type="button" className="control" onClick={() => go({ stage: 'layout', router: name })}>
            Its interfaces on the map
          </button>
        </div>
      </Panel>
    </div>
  );
}

const byWords = (i: InterfacePart, part: TurnedOn): string => {
  if (i.by.kind === 'line') return 'its own line';
  if (i.by.kind === 'bound') return 'bound to another table';
  if (i.by.kind === 'nothing') return 'no line, no rule';
  return `rule ${i.by.rule + 1}: ${part.rules[i.by.rule]?.words ?? ''}`;
};

/** Who speaks comes first, then what is told and never speaks, then what is left out. */
const order: readonly InterfacePart['role'][] = ['speaks', 'advertised, never speaks', 'OSPF off on it', 'down', 'left out'];

function Process({ router, part }: { readonly router: string; readonly part: TurnedOn }) {
  const interfaces = [...part.interfaces].sort((a, b) => order.indexOf(a.role) - order.indexOf(b.role) || byName(a.name, b.name));
  const passive = part.rules.some((r) => r.passive && r.words === 'any');
  const exceptions = part.interfaces.filter((i) => i.area !== undefined && !i.passive).map((i) => i.name);
  return (
    <section className="rounded border border-rule bg-sheet px-4 py-3" aria-label={`Process ${part.process} of ${router}`}>
      <h2 className="text-lg">
        {router} <span className="text-ink2">{part.process}</span>
      </h2>
      {passive && (
        <p className="text-ink2">Passive by default; except {exceptions.length === 0 ? 'none: nobody is spoken to' : someOf(exceptions, 8)}.</p>
      )}
      <table className="mt-1 w-full" aria-label={`Interfaces of ${router}`}>
        <thead className="text-ink2">
          <tr>
            <th className="py-0.5 text-left font-normal">interface</th>
            <th className="py-0.5 pl-3 text-left font-normal">address</th>
            <th className="py-0.5 pl-3 text-left font-normal">area</th>
            <th className="py-0.5 pl-3 text-left font-normal">by</th>
            <th className="py-0.5 pl-3 text-left font-normal">so it</th>
          </tr>
        </thead>
        <tbody>
          {interfaces.map((i) => (
            <tr key={i.name} className="border-t border-fine align-top">
              <td className="py-0.5 font-mono text-xs">{i.name}</td>
              <td className="py-0.5 pl-3 font-mono text-xs text-ink2">{i.addresses.join(', ') || 'none'}</td>
              <td className="py-0.5 pl-3">{i.area === undefined ? <span className="text-ink3">none</span> : areaName(i.area)}</td>
              <td className="py-0.5 pl-3 text-ink2">
                {byWords(i, part)}
                {i.by.kind === 'rule' && i.matched.length > 1 && (
                  <span className="text-xs">
                    {' '}
                    (also fits {listWords(i.matched.filter((n) => i.by.kind !== 'rule' || n !== i.by.rule).map((n) => `rule ${n + 1}`))})
                  </span>
                )}
              </td>
              <td className={`py-0.5 pl-3 ${i.role === 'speaks' ? '' : i.role === 'advertised, never speaks' ? 'text-ink2' : 'text-caution'}`}>
                {i.role === 'left out' && i.by.kind === 'bound' ? 'is not ours' : i.role}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {part.rules.length > 0 && (
        <table className="mt-3 w-full" aria-label={`Rules of ${router}`}>
          <thead className="text-ink2">
            <tr>
              <th className="w-6 py-0.5 text-right font-normal">#</th>
              <th className="py-0.5 pl-3 text-left font-normal">rule</th>
              <th className="py-0.5 pl-3 text-left font-normal">into</th>
              <th className="py-0.5 pl-3 text-left font-normal">takes</th>
              <th className="py-0.5 pl-3 text-left font-normal">and</th>
            </tr>
          </thead>
          <tbody>
            {part.rules.map((r, n) => (
              <tr key={`${n} ${r.words}`} className="border-t border-fine align-top">
                <td className="py-0.5 text-right font-mono text-xs text-ink2">{n + 1}</td>
                <td className="py-0.5 pl-3 font-mono text-xs">
                  {r.words}
                  {r.passive && <span className="font-sans text-ink2"> passive</span>}
                </td>
                <td className="py-0.5 pl-3">{areaName(r.area)}</td>
                <td className="py-0.5 pl-3">{r.takes.length > 0 ? someOf(r.takes, 6) : <span className="text-caution">nothing</span>}</td>
                <td className="py-0.5 pl-3 text-ink2">{ruleNote(r)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

/** What is wrong with a rule: swallowed, without a match, too broad. */
function ruleNote(r: RulePart): string {
  const swallowed = new Map<number, string[]>();
  for (const m of r.misses) if (m.to !== undefined) swallowed.set(m.to, [...(swallowed.get(m.to) ?? []), m.iface]);
  const listed = r.misses.filter((m) => m.to === undefined).map((m) => m.iface);
  return [
    ...(r.takes.length === 0 && r.misses.length === 0 ? ['matches no interface'] : []),
    ...[...swallowed].map(([to, names]) => `rule ${to + 1} decides over ${someOf(names, 3)}`),
    ...(listed.length > 0 ? [`${someOf(listed, 3)} ${listed.length === 1 ? 'has its' : 'have their'} own line`] : []),
    ...(r.broad.length > 0 ? [`too broad: all others on the wire of ${someOf(r.broad, 3)} are in another area`] : []),
  ].join('; ');
}

/** A rule is typed, and what it would catch stands beneath before it is saved. */
function Bench({ router, part }: { readonly router: string; readonly part: TurnedOn }) {
  const [match, setMatch] = useState('');
  const [area, setArea] = useState('0');
  const [passive, setPassive] = useState(false);
  const [at, setAt] = useState(0);
  const documents = useStore((s) => s.design?.documents);
  const typed = { process: part.process, match, area, passive, at };
  const trial = useAnswer(
    async () => (match.trim() === '' ? undefined : { match, trial: await workbench().neighbours.tryRule(router, typed) }),
    [router, match, area, passive, at, documents, part.process],
  )?.trial;
  const shown = match.trim() === '' ? undefined : trial;
  return (
    <Section title="A rule, tried before it stands">
      <div className="grid grid-cols-[1fr_84px] gap-1.5">
        <label className="text-ink2">
          matches
          <input
            className="field mt-0.5 w-full font-mono"
            aria-label="What the rule matches"
            placeholder="10.96.8.0/22, to-*, any"
            value={match}
            onChange={(e) => setMatch(e.target.value)}
          />
        </label>
        <label className="text-ink2">
          area
          <input className="field mt-0.5 w-full font-mono" aria-label="Area of the rule" value={area} onChange={(e) => setArea(e.target.value)} />
        </label>
      </div>
      <div className="mt-1.5 flex items-center gap-3 text-ink2">
        <label className="flex items-center gap-1.5">
          <input type="checkbox" checked={passive} onChange={(e) => setPassive(e.target.checked)} /> passive
        </label>
        <label className="flex items-center gap-1.5">
          as number
          <select className="field" aria-label="Place of the rule" value={at} onChange={(e) => setAt(Number(e.target.value))}>
            {[...part.rules, undefined].map((_, n) => (
              <option key={n} value={n}>
                {n + 1}
              </option>
            ))}
          </select>
        </label>
      </div>
      {shown && (
        <div className="mt-2" data-testid="bench" aria-live="polite">
          {shown.problems.map((p) => (
            <p key={p} className="text-accent">
              {p}
            </p>
          ))}
          {shown.problems.length === 0 && (
            <>
              <p>
                {shown.understood !== undefined && shown.understood !== match.trim() && (
                  <span className="text-ink2">Read as {shown.understood}. </span>
                )}
                {shown.caught.length === 0 ? (
                  <span className="text-caution">It would catch nothing.</span>
                ) : (
                  `It would catch ${shown.caught.length === 1 ? 'one interface' : `${shown.caught.length} interfaces`}:`
                )}
              </p>
              <ul>
                {shown.caught.slice(0, 30).map((c) => (
                  <li key={c.iface} className="border-b border-fine py-0.5">
                    <span className="font-mono text-xs">
                      {c.iface} {c.addresses.join(', ')}
                    </span>
                    <span className="block text-ink2">
                      {c.before} → {c.after}
                    </span>
                  </li>
                ))}
              </ul>
              {shown.missed.length > 0 && (
                <p className="text-ink2">It also fits {someOf(shown.missed, 6)}, over which something before it decides.</p>
              )}
              <button
                type="button"
                className="control mt-1.5"
                data-main={shown.caught.length > 0 ? '' : undefined}
                onClick={() => {
                  void makeChange(`Rule “${match.trim()}” of ${router}`, shown.edits);
                  setMatch('');
                }}
              >
                Save the rule
              </button>
            </>
          )}
        </div>
      )}
    </Section>
  );
}
