import type { Scope } from '@gentle-compass/core/summaries/laying';
import { useStore } from '../model/state';
import type { SummaryScopes } from '../model/summaries-view';
import { useAnswer } from '../parts/use-answer';
import { workbench } from '../worker/client';

/** Everything that can be summarised, once it is known. */
export function useScopes(): SummaryScopes | undefined {
  const view = useStore((s) => s.view);
  return useAnswer(() => workbench().summaries.scopes(), [view]);
}

/** The area that is chosen, else the first that border routers could summarise. */
export function useAreaScope(scopes: SummaryScopes | undefined): Scope | undefined {
  const wanted = useStore((s) => s.area);
  const found = scopes?.areas.find((a) => a.area === wanted) ?? scopes?.areas.find((a) => a.area !== 0 && a.writers.length > 0) ?? scopes?.areas[0];
  return found && { kind: 'area', area: found.area };
}

/** The boundary router that is chosen, else the first that announces most. */
export function useOutsideScope(scopes: SummaryScopes | undefined): Scope | undefined {
  const wanted = useStore((s) => s.router);
  const most = [...(scopes?.routers ?? [])].sort((a, b) => b.announced - a.announced)[0];
  const found = scopes?.routers.find((r) => r.router === wanted) ?? most;
  return found && { kind: 'outside', router: found.router };
}
