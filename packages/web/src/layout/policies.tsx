'use client';

import type { RouterDetail } from '@gentle-compass/core/evidence/router-detail';
import { openEntry, openForm } from '../model/panes';
import type { OpenForm } from '../model/state';
import { Section } from '../parts/panel';
import { areaName, listWords } from '../parts/words';

const ways = { in: 'summaries into', out: 'summaries out of', table: 'its own table' } as const;

/** Prefix sets, policies and filters of a router: what each takes, where it decides, and the way to change it. */
export function Policies({ router, detail }: { readonly router: string; readonly detail: RouterDetail }) {
  const link = (words: string, line: string): React.ReactNode => (
    <button type="button" className="link" onClick={() => openEntry(line)}>
      {words}
    </button>
  );
  const form = (words: string, name: OpenForm['name'], values: OpenForm['values']): React.ReactNode => (
    <button type="button" className="link" onClick={() => openForm({ name, values: { router, ...values } })}>
      {words}
    </button>
  );
  return (
    <Section title="Policies">
      {detail.policies.map((p) => (
        <div key={p.name} className="border-b border-fine py-1">
          <p className="flex gap-2">
            <span className="font-mono text-[12.5px]">{p.name}</span>
            <span className="ml-auto flex gap-2">
              {form('add a statement', 'policy', { policy: p.name })}
              {link('take away', `policy ${p.name} off on ${router}`)}
            </span>
          </p>
          <ol>
            {p.statements.map((s) => (
              <li key={s.name}>
                <span className="font-mono text-xs text-ink2">{s.name}</span> {s.words}
              </li>
            ))}
          </ol>
          <p className="text-ink2">{p.over.length > 0 ? `decides over ${listWords(p.over)}` : 'nothing uses it'}</p>
        </div>
      ))}
      {detail.prefixSets.map((s) => (
        <div key={s.name} className="border-b border-fine py-1">
          <p className="flex gap-2">
            <span className="font-mono text-[12.5px]">{s.name}</span>
            <span className="ml-auto flex gap-2">
              {form('add a prefix', 'prefixSet', { set: s.name })}
              {link('take away', `prefixes ${s.name} off on ${router}`)}
            </span>
          </p>
          <ul>
            {s.lines.map((l) => (
              <li key={`${l.prefix} ${l.lengths}`} className="font-mono text-xs">
                {l.prefix}
                {l.lengths !== '' && <span className="font-sans text-ink2"> lengths {l.lengths}</span>}
              </li>
            ))}
          </ul>
        </div>
      ))}
      {detail.filters.map((f) => (
        <p key={`${f.way} ${f.area ?? ''}`} className="border-b border-fine py-1">
          {listWords(f.policies)} over {ways[f.way]} {f.area === null ? '' : areaName(f.area)}{' '}
          {link('take away', `filter ${f.way}${f.area === null ? '' : ` area ${f.area.replace(/^0\.0\.0\./, '')}`} on ${router} by off`)}
        </p>
      ))}
      {detail.policies.length + detail.prefixSets.length === 0 && <p className="text-ink2">It has none.</p>}
      <div className="mt-1 flex gap-3">
        {form('prefix set', 'prefixSet', {})}
        {form('policy', 'policy', {})}
        {form('filter', 'filter', {})}
      </div>
    </Section>
  );
}
