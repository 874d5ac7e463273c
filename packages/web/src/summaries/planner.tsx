'use client';

import { formatAddress, hull } from '@gentle-compass/core/prefix/address';
import type { HeardOf } from '@gentle-compass/core/summaries/flaps';
import type { Scope } from '@gentle-compass/core/summaries/laying';
import { useDeferredValue, useRef } from 'react';
import { useStore } from '../model/state';
import type { PlanView } from '../model/summaries-view';
import { Section } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { count } from '../parts/words';
import { workbench } from '../worker/client';
import { around } from './axis';
import { lay, look, prefixAt, wishesText, type PlanWishes } from './laying';
import { addresses, saved, share } from './summary-words';

/** What could be typed: left out, reserved. */
const examples = {
  area: { 4: ['10.97.128.0/24', '10.97.32.0/20'], 6: ['2001:db8:40:1f00::/56', '2001:db8:40:1e00::/60'] },
  outside: { 4: ['198.51.100.128/25', '198.51.102.0/24'], 6: ['2001:db8:f0::/48', '2001:db8:f1::/48'] },
} as const;

/** The planner: what is asked for, and the best summaries, one proposal for each number of them. */
export function Planner({
  scopeKey: key,
  scope,
  wishes,
  onWish,
  wrong,
}: {
  readonly scopeKey: string;
  readonly scope: Scope;
  readonly wishes: PlanWishes;
  readonly onWish: (w: PlanWishes) => void;
  /** What was typed and is no prefix of the family. */
  readonly wrong: readonly string[];
}) {
  const view = useStore((s) => s.view);
  const asked = useDeferredValue(JSON.stringify([key, wishes]));
  const answer = useAnswer(async () => {
    const [, w] = JSON.parse(asked) as [string, PlanWishes];
    return { key, plan: await workbench().summaries.plan(scope, wishesText(w), { atMost: w.atMost, allowForeign: w.allowForeign }) };
  }, [view, asked]);
  const plan = answer?.key === key ? answer.plan : undefined;
  const number = (label: string, name: 'atMost' | 'allowForeign', least: number, most: number) => (
    <label className="flex items-center justify-between gap-2 py-0.5">
      <span className="text-ink2">{label}</span>
      <input
        type="number"
        className="field w-20 py-0.5 text-right font-mono text-xs"
        min={least}
        max={most}
        value={wishes[name]}
        onChange={(e) => onWish({ ...wishes, [name]: Math.max(least, Math.min(most, Math.round(Number(e.target.value) || 0))) })}
      />
    </label>
  );
  const text = (label: string, name: 'leaveOut' | 'reserve', example: string) => (
    <label className="block py-0.5">
      <span className="text-ink2">{label}</span>
      <input
        className="field mt-0.5 w-full py-0.5 font-mono text-xs"
        placeholder={example}
        value={wishes[name]}
        onChange={(e) => onWish({ ...wishes, [name]: e.target.value })}
      />
    </label>
  );
  const six = view?.family === 6;
  return (
    <>
      <h2 className="text-xl">Planner</h2>
      <p className="text-ink2">The best summaries, exactly: fewest prefixes outside, then least foreign, then fewest addresses claimed.</p>
      <div className="mt-2">
        {number('Summaries at most', 'atMost', 1, 64)}
        {number('Foreign prefixes in each', 'allowForeign', 0, 999)}
        {scope.kind === 'area' && (
          <label className="flex items-center justify-between gap-2 py-0.5">
            <span className="text-ink2">Loopbacks are folded too</span>
            <input type="checkbox" checked={wishes.loopbacks} onChange={(e) => onWish({ ...wishes, loopbacks: e.target.checked })} />
          </label>
        )}
        {text('Left out, with all that they hold', 'leaveOut', examples[scope.kind][six ? 6 : 4][0])}
        {text('Reserved for growth', 'reserve', examples[scope.kind][six ? 6 : 4][1])}
        {wrong.length > 0 && (
          <p className="text-accent">
            {wrong.join(', ')}: no prefix of IPv{six ? 6 : 4}; write a network and its length.
          </p>
        )}
      </div>
      {plan && <Proposals scopeKey={key} scope={scope} plan={plan} />}
    </>
  );
}

/** Of how many failures inside the others hear. */
function heardWords({ alone, plans }: HeardOf, n: number): string {
  const plan = plans[n];
  if (!plan) return '';
  const fixed = plan.fixed < plan.following ? `, ${plan.fixed} at fixed costs` : '';
  return `${plan.following} of ${count(alone, 'failure')} inside ${alone === 1 ? 'is' : 'are'} heard${fixed}`;
}

/** A list of proposals, walked by keys; the one that is chosen is laid on the ruler. */
function Proposals({ scopeKey: key, scope, plan }: { readonly scopeKey: string; readonly scope: Scope; readonly plan: PlanView }) {
  const view = useStore((s) => s.view);
  const weighed = useAnswer(
    async () => ({
      plan,
      weighed: await workbench().summaries.weigh(
        scope,
        plan.choices.map((c) => c.summaries),
      ),
    }),
    [view, plan],
  );
  const known = weighed?.plan === plan ? (weighed.weighed ?? undefined) : undefined;
  const effects = known?.effects;
  const list = useRef<HTMLUListElement>(null);
  const walk = (n: number): void => list.current?.querySelectorAll<HTMLButtonElement>('button')[n]?.focus();
  if (plan.parts === 0)
    return (
      <Section title="Proposals">
        <p className="text-ink2">There is no prefix to summarise.</p>
      </Section>
    );
  return (
    <Section title={`Proposals for ${count(plan.parts, 'prefix', 'prefixes')}`}>
      <ul ref={list}>
        {plan.choices.map((c, n) => {
          const effect = effects?.[n];
          const s = saved(effect);
          return (
            <li key={c.summaries.join(' ')} className="border-b border-fine">
              <button
                type="button"
                className="block w-full px-1 py-1.5 text-left hover:bg-paper"
                onClick={() => {
                  lay(
                    key,
                    c.summaries.map((prefix) => ({ prefix, cost: undefined, hidden: false })),
                  );
                  const whole = hull([...c.summaries, ...c.outside].map(prefixAt));
                  if (whole) look(key, around(whole));
                }}
                onKeyDown={(e) => {
                  if (e.key !== 'ArrowDown' && e.key !== 'ArrowUp') return;
                  e.preventDefault();
                  walk(n + (e.key === 'ArrowDown' ? 1 : -1));
                }}
              >
                <span className="flex justify-between gap-2">
                  <strong className="font-semibold">
                    {n === 0 ? `Best: ${count(c.summaries.length, 'summary', 'summaries')}` : count(c.summaries.length, 'summary', 'summaries')}
                  </strong>
                  <span className={c.outside.length === 0 ? 'text-settled' : 'text-caution'}>
                    {c.outside.length === 0 ? 'nothing outside' : `${c.outside.length.toLocaleString('en-GB')} outside`}
                  </span>
                </span>
                <span className="block font-mono text-xs">
                  {c.summaries.slice(0, 6).join(', ') || 'none can be laid'}
                  {c.summaries.length > 6 && ` and ${c.summaries.length - 6} more`}
                </span>
                <span className="block text-xs text-ink2">
                  {addresses(c.claimed)} addresses, {share(c.needed, c.claimed) || 'none'} in use
                  {c.foreign.length > 0 && <span className="text-accent">; {c.foreign.length} foreign</span>}
                </span>
                <span className="block text-xs text-ink2">
                  {!effects
                    ? 'weighing what it saves…'
                    : effect === undefined
                      ? 'nobody could write it'
                      : s.advertisements <= 0 && s.routes <= 0
                        ? 'saves nothing'
                        : `saves ${count(s.advertisements, 'advertisement')}, ${count(s.routes, 'route')} in ${count(s.routers, 'router')}`}
                  {c.foreign[0] &&
                    ` · claims ${c.foreign[0].prefix}${c.foreign[0].area === null ? '' : ` of area ${formatAddress(c.foreign[0].area)}`}`}
                </span>
                {known && known.heard.alone > 0 && <span className="block text-xs text-ink2">{heardWords(known.heard, n)}</span>}
              </button>
            </li>
          );
        })}
      </ul>
      {plan.beyond > 0 && (
        <p className="mt-1 text-caution">
          {count(plan.beyond, 'prefix lies', 'prefixes lie')} outside the pools of the design: no summary is proposed there.
        </p>
      )}
      <p className="mt-1 text-xs text-ink3">
        Choose one to lay it on the ruler. Planned in {plan.milliseconds < 1 ? 'less than a millisecond' : `${Math.round(plan.milliseconds)} ms`};
        savings are against no summary at all.
      </p>
    </Section>
  );
}
