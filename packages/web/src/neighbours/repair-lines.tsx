'use client';

import { pathWords } from '@gentle-compass/core/design/edit';
import type { Repair } from '@gentle-compass/core/findings/finding';
import { makeChange } from '../model/history';
import { useStore } from '../model/state';
import { SideEffects } from '../parts/side-effects';

const shown = (name: string, value: unknown): string => `"${name}": ${JSON.stringify(value)}`;

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
      <SideEffects repair={repair} family={family} />
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
