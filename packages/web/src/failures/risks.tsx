'use client';

import { setFailures } from '../model/failing';
import { openEntry } from '../model/panes';
import type { DesignView } from '../model/view';
import { useAnswer } from '../parts/use-answer';
import { Section } from '../parts/panel';
import { workbench } from '../worker/client';

/** What fails together: as it stands, as a line to change it, and what likely does and is not said to. */
export function Risks({ view, nameOf }: { readonly view: DesignView; readonly nameOf: (word: string) => string }) {
  const { routers, risks } = view;
  const proposed = useAnswer(() => workbench().whatIf.risks(), [routers, risks]) ?? [];
  return (
    <Section title="Shared risks">
      <ul aria-label="Shared risks">
        {risks.map((r, n) => (
          <li key={r.name} className="border-b border-fine py-0.5">
            <span className="flex items-baseline gap-2">
              <span className="rounded-full border border-dashed border-ink px-1.5 font-mono text-[11px]">{n + 1}</span>
              <button type="button" className="link min-w-0 flex-1 truncate text-left" onClick={() => void setFailures([`group:${r.name}`])}>
                {r.name}
              </button>
              <button
                type="button"
                className="link"
                aria-label={`Change the shared risk ${r.name}`}
                onClick={() => openEntry(`shared-risk "${r.name}" of ${r.words.join(' ')}`)}
              >
                change
              </button>
            </span>
            <span className="block text-ink2">{r.words.map(nameOf).join(', ')}</span>
          </li>
        ))}
      </ul>
      {risks.length === 0 && proposed.length === 0 && <p className="text-ink2">None is said to be: what shares a duct, a power feed, a line card.</p>}
      {proposed.length > 0 && (
        <ul className="mt-1" aria-label="Proposed shared risks">
          {proposed.slice(0, 6).map((r) => (
            <li key={r.line} className="flex items-baseline gap-2 border-b border-fine py-0.5">
              <span className="min-w-0 flex-1">
                {r.name} <span className="text-ink2">have {r.members.length} cables between them: one duct?</span>
              </span>
              <button type="button" className="link" onClick={() => openEntry(r.line)}>
                say so
              </button>
            </li>
          ))}
        </ul>
      )}
      <p className="mt-1">
        <button type="button" className="link" onClick={() => openEntry('shared-risk ')}>
          Add one…
        </button>
      </p>
    </Section>
  );
}
