'use client';

import type { Repair } from '@gentle-compass/core/findings/finding';
import type { SideEffects as Effects } from '@gentle-compass/core/neighbours/side-effects';
import { useStore } from '../model/state';
import { workbench } from '../worker/client';
import { useAnswer } from './use-answer';
import { count, listWords, someOf } from './words';

/** Seconds, and how: what of a change has to follow what within them. */
function followWords({ following }: Effects): string {
  if (!following) return '';
  const way = following.steps.length > 1 ? ', the hello interval on both first, then the dead interval' : '';
  return `; not lost at all if the last follows within ${following.withinS} s${way}`;
}

/** What a change of several ends breaks on the way, and the order that breaks least; what it takes away in the end. */
export function SideEffects({ repair, family }: { readonly repair: Repair; readonly family: 6 | undefined }) {
  const routers = useStore((s) => s.view?.routers);
  const effects = useAnswer(
    async () => ({ repair, effects: await workbench().neighbours.sideEffects(repair.edits, family) }),
    [repair, routers, family],
  );
  if (effects?.repair !== repair) return null;
  const { steps, after, worst } = effects.effects;
  // What the whole of it takes away is not the order's fault.
  const onTheWay = steps.slice(0, -1).flatMap((s) => {
    const lost = s.lost.filter((x) => !after.lost.includes(x));
    const routes = s.routesLost - after.routesLost;
    const parts = [
      ...(lost.length > 0 ? [`${someOf(lost, 3)} ${lost.length === 1 ? 'is' : 'are'} apart`] : []),
      ...(routes > 0 ? [`${count(routes, 'route')} ${routes === 1 ? 'is' : 'are'} missing`] : []),
    ];
    return parts.length > 0 ? [`after ${s.router} alone ${listWords(parts)}`] : [];
  });
  return (
    <div className="border-t border-rule px-3 py-1.5 text-xs text-ink2" data-testid="side-effects">
      {after.gained.length > 0 && <p>Brings {someOf(after.gained, 3)} together.</p>}
      {after.lost.length > 0 && <p className="text-accent">Takes {someOf(after.lost, 3)} apart.</p>}
      {steps.length > 1 && (
        <p>
          In the order {listWords(steps.map((s) => s.router))}: {onTheWay.length === 0 ? 'nothing is lost on the way' : onTheWay.join('; ')}
          {followWords(effects.effects)}
          {worst > Math.max(0, ...steps.slice(0, -1).map((s) => s.lost.length)) ? `; another order takes ${count(worst, 'pair')} apart` : ''}.
        </p>
      )}
      {after.gained.length + after.lost.length === 0 && steps.length < 2 && <p>No other neighbour is touched.</p>}
    </div>
  );
}
