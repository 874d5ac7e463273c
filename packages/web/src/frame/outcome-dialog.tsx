'use client';

import { Dialog } from 'radix-ui';
import { useStore } from '../model/state';
import { dismissOutcome } from '../model/panes';
import { count } from '../parts/words';
import { ReturnFocus } from '../parts/return-focus';

/** What an import could not take: file, place, what is wrong, what to do. */
export function OutcomeDialog() {
  const outcome = useStore((s) => s.outcome);
  const kept = outcome && !outcome.design;
  return (
    <Dialog.Root open={outcome !== undefined} onOpenChange={(o) => (o ? undefined : dismissOutcome())}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content className="fixed top-16 left-1/2 z-50 flex max-h-[80vh] w-[720px] max-w-[92vw] -translate-x-1/2 flex-col rounded border border-rule bg-sheet p-5 shadow-lg">
          <ReturnFocus />
          <Dialog.Title className="text-xl">
            {kept ? 'Nothing could be imported' : `${count(outcome?.routers ?? 0, 'router')} imported, some things were left out`}
          </Dialog.Title>
          <Dialog.Description className="mt-1 text-ink2">
            {kept ? 'The open design is as it was.' : 'Everything readable is open now; the design before it is kept.'}{' '}
            {outcome &&
              outcome.problems.length === 0 &&
              'No router document was found in what you brought: a folder or archive must hold .json files.'}
          </Dialog.Description>
          <ul className="mt-3 min-h-0 overflow-y-auto border-t border-fine" aria-label="Problems">
            {outcome?.problems.slice(0, 200).map((p, i) => (
              <li key={i} className="border-b border-fine py-2">
                <p>
                  <span className="font-mono text-xs text-ink2">
                    {p.file}
                    {p.line !== undefined && `, line ${p.line}, column ${p.column ?? 1}`}
                    {p.path !== '' && ` · ${p.path}`}
                  </span>
                </p>
                <p className={p.severity === 'error' ? 'text-accent' : ''}>{p.message}</p>
                <p className="text-ink2">{p.remedy}</p>
              </li>
            ))}
            {outcome && outcome.problems.length > 200 && <li className="py-2 text-ink2">and {outcome.problems.length - 200} more</li>}
          </ul>
          <Dialog.Close className="control mt-4 self-end" data-main>
            Go on
          </Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
