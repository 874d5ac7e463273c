'use client';

import type { Edit } from '@gentle-compass/core/design/edit';
import { formatAddress } from '@gentle-compass/core/prefix/address';
import type { ExampleWay } from '@gentle-compass/core/summaries/example-way';
import type { Scope } from '@gentle-compass/core/summaries/laying';
import type { LaidText, SummaryTrialView } from '../model/summaries-view';
import { useAreaInWords, useAreaWords } from '../parts/area-name';
import { NumberTable } from '../parts/number-table';
import { count, listWords, someOf } from '../parts/words';
import { judgedAlone, type Space } from './laying';
import { effectWords } from './summary-words';

/** Where a packet goes, and where it ends, in a sentence. */
export function wayWords(w: ExampleWay): string {
  const through = someOf(w.through, 6)
    .replace(/ and (?!\d+ more)/, ', ')
    .replaceAll(', ', ' › ');
  const end = w.through.at(-1) ?? '';
  if (w.fate === 'delivered') return `${through}: it arrives.`;
  const what = { dropped: 'is dropped', looping: 'goes round', leaves: 'leaves the campus' }[w.fate] ?? w.fate;
  // A reason that names the router says where it is.
  if (w.reason.startsWith(end)) return `${through}: it ${what}: ${w.reason}.`;
  return `${through}: it ${what} at ${end}${w.reason === '' ? '' : `, ${w.reason}`}.`;
}

/** What the summaries that are laid would do, and the button that writes them. */
export function Trial({
  scope,
  space,
  laid,
  changed,
  trial: t,
  allowed,
  writers,
  onTake,
  onReset,
}: {
  readonly scope: Scope;
  readonly space: Space;
  readonly laid: readonly LaidText[];
  readonly changed: boolean;
  readonly trial: SummaryTrialView | undefined;
  /** Foreign prefixes that each may hold. */
  readonly allowed: number;
  readonly writers: readonly string[];
  readonly onTake: (title: string, edits: readonly Edit[]) => void;
  readonly onReset: () => void;
}) {
  const areaWords = useAreaWords();
  const inWords = useAreaInWords();
  const bad = laid.filter((l, n) => !l.hidden && judgedAlone(space, laid, n).foreign.length > allowed);
  const title =
    scope.kind === 'area'
      ? `${areaWords(formatAddress(scope.area))} summarised as ${
          laid.length === 0
            ? 'nothing'
            : someOf(
                laid.map((l) => l.prefix),
                3,
              )
        }`
      : `What ${scope.router} announces summarised as ${
          laid.length === 0
            ? 'nothing'
            : someOf(
                laid.map((l) => l.prefix),
                3,
              )
        }`;
  const able = t !== undefined && t.edits.length > 0 && bad.length === 0 && t.faults.length === 0 && writers.length > 0;
  const refused = bad.length > 0 ? t?.claim : undefined;
  return (
    <section className="mt-3 rounded border border-rule bg-sheet px-3 py-2.5" aria-label="What it would do" aria-live="polite">
      <div className="flex items-start gap-2">
        <p className="min-w-0 flex-1 py-1">
          {!changed ? (
            <span className="text-ink2">As it stands. Move a bracket, lay a summary, or take a proposal of the planner to see what it would do.</span>
          ) : !t ? (
            <span className="text-ink2">Working out what it would do…</span>
          ) : (
            <span className="font-semibold">{effectWords(t.effect)}</span>
          )}
        </p>
        {changed && (
          <>
            <button type="button" className="control" onClick={onReset}>
              As it stands
            </button>
            <button type="button" className="control" data-main={able ? '' : undefined} disabled={!able} onClick={() => t && onTake(title, t.edits)}>
              Take over on {writers.length === 0 ? 'nobody' : someOf(writers, 3)}
            </button>
          </>
        )}
      </div>
      {t?.faults.map((f) => (
        <p key={f} className="mt-1 text-accent">
          {f}
        </p>
      ))}
      {changed && refused && (
        <div className="mt-1.5 text-accent">
          <p>
            {listWords(bad.map((l) => l.prefix))} {bad.length === 1 ? 'claims' : 'claim'} what is not{' '}
            {scope.kind === 'area' ? 'the area’s' : 'announced here'}: <span className="font-mono text-xs">{refused.prefix}</span>{' '}
            {refused.area === null ? 'comes from elsewhere' : `lies in ${inWords(formatAddress(refused.area))}`}.
            {allowed === 0
              ? ' Make it narrower, or allow foreign prefixes in the planner.'
              : ` No more than ${count(allowed, 'foreign prefix', 'foreign prefixes')} each ${allowed === 1 ? 'is' : 'are'} allowed.`}
          </p>
          {refused.after && (
            <p className="mt-0.5 text-ink">
              <span className="text-ink2">
                From {refused.after.from} to {refused.after.to}, by {refused.after.route}:
              </span>{' '}
              {wayWords(refused.after)}
              {refused.after.fate === 'delivered' && ' The addresses around it that nobody has are drawn here and dropped.'}
            </p>
          )}
        </div>
      )}
      {changed && bad.length === 0 && t?.effect && <Effect trial={t} />}
    </section>
  );
}

/** What changes in databases and, table by table, in routes. */
function Effect({ trial: t }: { readonly trial: SummaryTrialView }) {
  const areaWords = useAreaWords();
  const e = t.effect;
  if (!e) return null;
  return (
    <div className="mt-2 grid grid-cols-[minmax(0,1fr)_minmax(0,1.25fr)] items-start gap-6 max-[1100px]:grid-cols-1">
      {e.advertisements.length > 0 && (
        <NumberTable
          label="Advertisements before and after"
          columns={[
            { name: 'database', kind: 'name' },
            { name: 'type', kind: 'number', width: 40 },
            { name: 'before', kind: 'number', width: 56 },
            { name: 'after', kind: 'number', width: 56 },
            { name: 'routers', kind: 'number', width: 58 },
          ]}
          rows={e.advertisements.map((a) => ({
            key: `${a.area} ${a.type}`,
            cells: [a.area === undefined ? 'everywhere' : areaWords(formatAddress(a.area)), a.type, a.count[0], a.count[1], a.routers],
          }))}
        />
      )}
      {e.tables.length > 0 && (
        <div className="max-h-56 overflow-y-auto" tabIndex={0} role="region" aria-label="Tables that change">
          <NumberTable
            label="Tables before and after"
            columns={[
              { name: 'table of', kind: 'name' },
              { name: 'go', kind: 'number', width: 48 },
              { name: 'come', kind: 'number', width: 48 },
              { name: 'other', kind: 'number', width: 48 },
            ]}
            rows={e.tables.map((r) => ({ key: r.router, cells: [r.router, r.lost, r.gained, r.changed] }))}
          />
        </div>
      )}
      <details className="col-span-full">
        <summary className="cursor-pointer text-ink2">{count(t.lines.length, 'line')} of quick entry</summary>
        <ul className="font-mono text-xs text-ink2">
          {t.lines.map((l) => (
            <li key={l} className="border-b border-fine py-0.5">
              {l}
            </li>
          ))}
        </ul>
      </details>
    </div>
  );
}
