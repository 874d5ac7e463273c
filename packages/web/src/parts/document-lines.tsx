'use client';

import { go } from '../model/moving';
import { openDocument } from '../model/panes';
import type { EvidenceView } from '../model/view';
import { Section } from './panel';
import { count } from './words';

/** Opens the document of a router where something rests on it. */
function openAtLine(router: string, line: number): void {
  go({ stage: 'layout', router, segment: undefined });
  openDocument(router, line);
}

/** The lines of router documents that something stands on, each a way to its document; nothing where there are none. */
export function DocumentLines({ lines }: { readonly lines: EvidenceView['lines'] }) {
  if (lines.length === 0) return null;
  return (
    <Section title={`${count(lines.length, 'place')} in the documents`}>
      {lines.map((l, i) => (
        <figure key={i} className="mb-2">
          <figcaption className="font-mono text-xs text-ink2">
            <button type="button" className="link" onClick={() => openAtLine(l.router, l.line)}>
              {l.file}, line {l.line}
            </button>
          </figcaption>
          <pre className="overflow-x-auto rounded border border-fine bg-paper p-2 font-mono text-xs" tabIndex={0} aria-label={`Lines of ${l.file}`}>
            {l.text}
          </pre>
        </figure>
      ))}
    </Section>
  );
}
