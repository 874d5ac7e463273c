'use client';

import { pathWords } from '@gentle-compass/core/design/edit';
import type { SideEffects } from '@gentle-compass/core/neighbours/side-effects';
import type { Repair } from '@gentle-compass/core/findings/finding';
import { makeChange } from '../model/history';
import { useStore } from '../model/state';
import { useAnswer } from '../parts/use-answer';
import { count, listWords, someOf } from '../parts/words';
import { workbench } from '../worker/client';

const shown = (name: string, value: unknown): string => `"${name}": ${JSON.stringify(value)}`;

/** Seconds, and how: what of a change has to follow what within them. */
function followWords({ following }: SideEffects): string {
  if (!following) return '';
  const way = following.steps.length > 1 ? ', the hello interval on both first, then the dead interval' : '';
  return `; not lost at all if the last follows within ${following.withinS} s${way}`;
}

/** What a change of several ends breaks on the way, and the order that breaks least; what it takes away in the end. */
function Effects({ repair, family }: { readonly repair: Repair; readonly family: 6 | undefined }) {
  const routers = useStore((s) => s.view?.routers);
  const effects = useAnswer(
    async () => ({ repair, effects: await workbench().neighbours.sideEffects(repair.edits, family) }),
    [repair, routers, family],
  );
  if (effects?.repair !== repair) return null;
  const { steps, after, worst } = effects.effects;
  const onTheWay = steps.slice(0, -1).filter((s) => s.lost.some((x) => !after.lost.includes(x)));
  return (
    <div className="border-t border-rule px-3 py-1.5 text-xs text-ink2" data-testid="side-effects">
      {after.gained.length > 0 && <p>Brings {someOf(after.gained, 3)} together.</p>}
      {after.lost.length > 0 && <p className="text-accent">Takes {someOf(after.lost, 3)} apart.</p>}
      {steps.length > 1 && (
        <p>
          In the order {listWords(steps.map((s) => s.router))}:{' '}
          {onTheWay.length === 0
            ? 'nothing is lost on the way'
            : onTheWay.map((s) => `after ${s.router} alone ${someOf(s.lost, 3)} ${s.lost.length === 1 ? 'is' : 'are'} apart`).join('; ')}
          {followWords(effects.effects)}
          {worst > onTheWay.length ? `; another order takes ${count(worst, 'pair')} apart` : ''}.
        </p>
      )}
      {after.gained.length + after.lost.length === 0 && steps.length < 2 && <p>No other neighbour is touched.</p>}
    </div>
  );
}

/** A repair with the very lines it changes, and what else it does. */
export function RepairLines({ repair, family }: { readonly repair: Repair; readonly family?: 6 | undefined }) {
  const documents = useStore((s) => s.design?.documents);
  return (
    <div className="mb-2 rounded border border-rule">
      <pre className="overflow-x-auto px-3 py-2 font-mono text-xs leading-relaxed" tabIndex={0} aria-label="Lines that change">
        {repair.edits.map((e) => {
          const name = String(e.at.at(-1) ?? '');
          const tree = documents?.find((d) => d.file === e.file)?.tree;
          return (
            <span key={e.at.join('/')} className="block">
              <span className="block text-ink2">{pathWords(tree, e.at.slice(0, -1)).split('/').slice(-2).join(' / ')}</span>
              {e.from !== undefined && <span className="block text-accent">- {shown(name, e.from)}</span>}
              {e.to !== undefined && <span className="block text-settled">+ {shown(name, e.to)}</span>}
            </span>
          );
        })}
      </pre>
      <Effects repair={repair} family={family} />
      <button
        type="button"
        className="block w-full border-t border-rule px-3 py-1.5 text-left font-semibold hover:bg-paper"
        onClick={() => void makeChange(repair.title, repair.edits)}
      >
        {repair.title}
      </button>
    </div>
  );
}
